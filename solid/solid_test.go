package solid

import (
	"bytes"
	"compress/gzip"
	"encoding/binary"
	"io"
	"math"
	"slices"
	"strings"
	"testing"
)

// Clockwise for one who looks at the head tightens a right-hand thread, on either side of the vehicle; which way
// that is follows from the axis (ISO 1891 for what right-hand means).
func TestSenseOfTurning(t *testing.T) {
	for name, c := range map[string]struct {
		says            string
		axis, arm, want Vec // who looks at a head that points outboard right has forward to his right
	}{
		"right side, at three o'clock":   {"tighten", Vec{1, 0, 0}, Vec{0, 1, 0}, Vec{0, 0, -1}},
		"right side, at twelve":          {"tighten", Vec{1, 0, 0}, Vec{0, 0, 1}, Vec{0, 1, 0}},
		"left side, at three o'clock":    {"tighten", Vec{-1, 0, 0}, Vec{0, -1, 0}, Vec{0, 0, -1}},
		"head inboard":                   {"tighten", Vec{-1, 0, 0}, Vec{0, 1, 0}, Vec{0, 0, 1}},
		"loosened":                       {"loosen", Vec{1, 0, 0}, Vec{0, 1, 0}, Vec{0, 0, 1}},
		"left-hand thread":               {"tighten left", Vec{1, 0, 0}, Vec{0, 1, 0}, Vec{0, 0, 1}},
		"left-hand thread, loosened":     {"loosen left", Vec{1, 0, 0}, Vec{0, 1, 0}, Vec{0, 0, -1}},
		"what of the arm lies along it":  {"tighten", Vec{1, 0, 0}, Vec{30, 2, 0}, Vec{0, 0, -1}},
		"from below, the bar to outside": {"tighten", Vec{0, 0, -1}, Vec{1, 0, 0}, Vec{0, 1, 0}},
	} {
		if got := sense(c.says, c.axis, c.arm); got.Sub(c.want).Len() > 1e-9 {
			t.Errorf("%s: %v, not %v", name, got, c.want)
		}
	}
}

// Where one stands: outboard forward is to the right, from in front outboard is to the left of the right side.
func TestLook(t *testing.T) {
	for name, c := range map[string]struct {
		azimuth, elevation float64
		right              Vec
	}{
		"outboard": {0, 0, Vec{0, 1, 0}}, "in front": {90, 0, Vec{-1, 0, 0}}, "inboard": {180, 20, Vec{0, -1, 0}},
	} {
		cam := Look(c.azimuth, c.elevation)
		if cam.Right.Sub(c.right).Len() > 1e-9 || math.Abs(cam.Up.Dot(cam.Along)) > 1e-9 || cam.Up[2] <= 0 {
			t.Errorf("%s: right is %v, up %v", name, cam.Right, cam.Up)
		}
	}
}

// cube is one of a side of 2·half about a middle.
func cube(half float64, at Vec) *Mesh {
	m := &Mesh{}
	for i := range 8 {
		m.Points = append(m.Points, at.Add(Vec{
			half * float64(2*(i&1)-1), half * float64(i&2-1), half * float64(i&4/2-1),
		}))
	}
	for _, q := range [][4]uint32{{0, 4, 6, 2}, {1, 3, 7, 5}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 2, 3, 1}, {4, 5, 7, 6}} {
		m.Corners = append(m.Corners, q[0], q[1], q[2], q[0], q[2], q[3])
	}
	m.smooth()
	return m
}

func TestMesh(t *testing.T) {
	m := cube(10, Vec{5, 0, 0})
	if v := m.volume(); math.Abs(v-8000) > 1e-6 {
		t.Errorf("a cube of 20 mm holds %v mm³", v)
	}
	n := m.mirrored()
	if v := n.volume(); math.Abs(v-8000) > 1e-6 || n.Points[0] != m.Points[0].mirrored() {
		t.Errorf("mirrored it holds %v", v)
	}
	for i, n := range m.Normals { // its faces are flat, each of one tone
		v := n.vec()
		if math.Abs(v.Len()-1) > 1e-9 || math.Abs(math.Abs(v[0])+math.Abs(v[1])+math.Abs(v[2])-1) > 1e-9 {
			t.Fatalf("corner %d: %v", i, v)
		}
	}
	path := []Vec{{0, 0, 0}, {50, 0, 0}, {100, 0, 0}}
	if v := band(path, []Vec{{0, 0, 1}, {0, 0, 1}, {0, 0, 1}}, 10, 3, 30).volume(); v <= 0 {
		t.Errorf("an arrow holds %v", v)
	}
}

// A cut takes away what lies on its side, and shows the inside of what was solid as a cut face, hatched.
func TestCut(t *testing.T) {
	cam := Look(0, 0)
	cam.W, cam.H, cam.Scale = 60, 60, 1
	items := []Item{{Name: "cube", Mesh: cube(20, Vec{}), Pose: Still, Role: Plain, Cut: true}}
	whole := Solve(items, cam, nil, 1)
	half := Solve(items, cam, []Plane{{Normal: Vec{1, 0, 0}}}, 1)
	middle := 30*60 + 30
	if whole.Item[middle] != 1 || whole.Cap[middle] || whole.Depth[middle] != -20 {
		t.Errorf("whole: item %d at %v", whole.Item[middle], whole.Depth[middle])
	}
	if half.Item[middle] != 1 || !half.Cap[middle] || math.Abs(float64(half.Depth[middle])) > 0.01 {
		t.Errorf("cut: item %d at %v, on its cut face %v", half.Item[middle], half.Depth[middle], half.Cap[middle])
	}
	quarter := Solve(items, cam, []Plane{{Normal: Vec{0, 1, 0}}, {Normal: Vec{0, 0, 1}}}, 1)
	if at := 20*60 + 40; quarter.Item[at] != 0 { // right and above: taken away by both
		t.Errorf("of two cuts the corner that both take is still there: item %d", quarter.Item[at])
	}
	if at := 20*60 + 20; quarter.Item[at] != 1 {
		t.Error("what only one of two cuts takes is gone")
	}
	tones := half.ink(items, cam.Scale, 1)
	lines := 0
	for k, on := range half.Cap {
		if on && tones[k] == uint8(Plain)*tonesOf+lineTone {
			lines++
		}
	}
	if lines < 100 {
		t.Errorf("a cut face has %d samples of hatching", lines)
	}
}

// What is nearer hides what is behind it, whatever is drawn first; only what is over everything does not.
func TestHiding(t *testing.T) {
	cam := Look(0, 0)
	cam.W, cam.H, cam.Scale = 40, 40, 1
	near := Item{Name: "near", Mesh: cube(5, Vec{50, 0, 0}), Pose: Still, Role: Plain}
	far := Item{Name: "far", Mesh: cube(10, Vec{-50, 0, 0}), Pose: Still, Role: Hand}
	middle := 20*40 + 20
	if b := Solve([]Item{near, far}, cam, nil, 1); b.Item[middle] != 1 {
		t.Error("what is behind is seen")
	}
	if b := Solve([]Item{far, near}, cam, nil, 1); b.Item[middle] != 2 {
		t.Error("drawn later, what is near is hidden")
	}
	far.Over = true
	if b := Solve([]Item{near, far}, cam, nil, 1); b.Item[middle] != 2 {
		t.Error("what is over everything is hidden")
	}
	st := &stage{items: []Item{near, far}, placed: map[string]int{"near": 0, "far": 1}}
	far.Over = false
	st.items[1] = far
	if share, _ := st.seen("far", cam, nil); share < 0.6 || share > 0.85 { // 100 of 400 mm² lie behind the near one
		t.Errorf("%.2f of the far one is seen", share)
	}
}

func TestReadParts(t *testing.T) {
	r, err := gzip.NewReader(bytes.NewReader(packed))
	if err != nil {
		t.Fatal(err)
	}
	whole, err := io.ReadAll(r)
	if err != nil {
		t.Fatal(err)
	}
	parts, err := ReadParts(whole)
	if err != nil || len(parts) < 100 {
		t.Fatalf("%d parts, %v", len(parts), err)
	}
	for name, p := range parts {
		if p.mesh.volume() <= 0 {
			t.Errorf("%s holds %.0f mm³: its faces look inward", name, p.mesh.volume())
		}
		for key, f := range p.Frames {
			if f.Axis.Len() < 0.1 {
				t.Errorf("%s: the axis of %s has no length", name, key)
			}
		}
	}
	text := int(binary.LittleEndian.Uint32(whole[12:]))
	with := func(old, instead string) []byte {
		return bytes.Replace(bytes.Clone(whole), []byte(old), []byte(instead), 1)
	}
	long := bytes.Clone(whole)
	binary.LittleEndian.PutUint32(long[12:], uint32(len(whole)))
	for name, b := range map[string][]byte{
		"nothing":                   nil,
		"another file":              []byte(strings.Repeat("PK", 20)),
		"no numbers":                whole[:20+text],
		"half its numbers":          whole[:28+text+1000],
		"a text longer than itself": long,
		"no text of it":             with(`{"asset"`, `["asset"`),
		"a mesh there is not":       with(`"mesh":0`, `"mesh":9999`)[:len(whole)],
	} {
		if parts, err := ReadParts(b); err == nil {
			t.Errorf("%s: %d parts", name, len(parts))
		}
	}
}

// Words never lie on words, and keep to the side they are asked for.
func TestPlacing(t *testing.T) {
	p := newPage()
	p.sealed()
	for _, l := range []Label{
		{Says: "one"}, {Says: "two/lines"}, {Says: "three", Side: "left"}, {Says: "four", Side: "up"},
		{Says: "five", Side: "right"},
	} {
		p.words(l, 600, 420)
	}
	if len(p.lacks) > 0 || len(p.taken) != 5 {
		t.Fatalf("%d places, %v", len(p.taken), p.lacks)
	}
	for i, a := range p.taken {
		if a.x < 0 || a.y < 0 || a.x+a.w > Width || a.y+a.h > Height {
			t.Errorf("%d leaves the picture: %+v", i, a)
		}
		for j, b := range p.taken[:i] {
			if a.hits(b) {
				t.Errorf("%d lies on %d", i, j)
			}
		}
	}
	if p.taken[2].x+p.taken[2].w > 600 || p.taken[3].y+p.taken[3].h > 420 || p.taken[4].x < 600 {
		t.Errorf("not on the side asked for: %+v", p.taken)
	}
	for range 60 {
		p.words(Label{Says: "one more of them"}, 600, 420)
	}
	if len(p.lacks) == 0 {
		t.Error("a full picture has room for ever")
	}
}

// A corner follows from how the vehicle is built; what is not known is left out, and a scene that names what is
// not there is not of that vehicle.
func TestCompose(t *testing.T) {
	a, _ := album(t)
	find := func(key string) *Scene {
		for i := range a.Scenes {
			if a.Scenes[i].Key == key {
				return &a.Scenes[i]
			}
		}
		t.Fatalf("there is no scene %s", key)
		return nil
	}
	for _, c := range []struct {
		key      string
		built    Answers
		has, not string // a part; empty: the scene is not of that vehicle
	}{
		{"rotor-off", Answers{"axle": "front", "front-corner": "strut-corner", "rotor": "over"}, "strut", "upper-arm"},
		{
			"rotor-off", Answers{"axle": "front", "front-corner": "wishbone-corner", "rotor": "over"}, "knuckle=knuckle-tall",
			"strut",
		},
		{"rotor-off", Answers{"axle": "rear", "rear-axle": "beam", "rear-brake": "disc", "rotor": "over"}, "beam", "tie-rod"},
		{"rotor-off", Answers{"axle": "rear", "rear-axle": "beam", "rear-brake": "drum", "rotor": "over"}, "", ""},
		{"rotor-off", Answers{"axle": "front", "front-corner": "strut-corner", "rotor": "captive"}, "", ""},
		{
			"pads-in", Answers{"axle": "rear", "rear-axle": "links", "rear-brake": "disc", "caliper": "bracket"}, "bracket",
			"caliper-fixed",
		},
		{"pads-in", Answers{"axle": "rear", "rear-axle": "links", "rear-brake": "disc", "caliper": "fixed"}, "", ""},
		{"pads-in", Answers{"axle": "rear", "rear-axle": "links", "rear-brake": "drum", "caliper": "bracket"}, "", ""},
		{"pads-in", Answers{"axle": "front", "front-corner": "strut-corner"}, "", ""},
		{"drum-size", Answers{"axle": "rear", "drum-seat": "bearing"}, "rear-hub=spindle", "rear-studs"},
		{"drum-size", Answers{"axle": "rear", "drum-seat": "over"}, "rear-studs", "rear-hub=spindle"},
	} {
		s, ok := a.On(find(c.key), c.built)
		if ok != (c.has != "") {
			t.Errorf("%s on %v: %v", c.key, c.built, ok)
			continue
		}
		if ok && (!slices.Contains(s.Parts, c.has) || slices.Contains(s.Parts, c.not)) {
			t.Errorf("%s on %v has %v", c.key, c.built, s.Parts)
		}
	}
}
