package solid

import (
	"bytes"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"testing"

	"github.com/goccy/go-yaml"
)

// readAlbum reads the library's scenes as the library does.
func readAlbum() (*Album, error) {
	var a Album
	read := func(file string, into any) error {
		text, err := os.ReadFile(file)
		if err != nil {
			return err
		}
		return yaml.UnmarshalWithOptions(text, into, yaml.Strict())
	}
	if err := read("../library/scenes.yaml", &a); err != nil {
		return nil, err
	}
	files, err := filepath.Glob("../library/scenes/*.yaml")
	for _, f := range files {
		var rows []Scene
		if err = read(f, &rows); err != nil {
			break
		}
		a.Scenes = append(a.Scenes, rows...)
	}
	return &a, err
}

// album is the library's, with the parts there are.
func album(t *testing.T) (*Album, map[string]*Part) {
	t.Helper()
	parts, err := Parts()
	if err != nil {
		t.Fatal(err)
	}
	a, err := readAlbum()
	if err != nil {
		t.Fatal(err)
	}
	return a, parts
}

const (
	leastSeen  = 0.25 // of what is in hand, tools aside
	mostBytes  = 50_000
	mostLabels = 7
	longest    = 16 // letters of a line of a label
	alikeCell  = 20 // px
	leastOther = 60 // of 2520 cells, by which two pictures differ
	nearTouch  = 30 // px a cross may lie beside the part it forbids, at its edge
)

// first is a scene on the first vehicle it is drawn on.
func first(t *testing.T, a *Album, i int) *Scene {
	t.Helper()
	s, ok := a.Any(&a.Scenes[i])
	if !ok {
		t.Fatalf("%s is drawn on no vehicle", a.Scenes[i].Key)
	}
	return s
}

// tried are the scenes of the library as a test draws them: on each vehicle that shows other parts, and of a
// joint each fastener tightened, and one taken out.
func tried(t *testing.T, a *Album) []Scene {
	t.Helper()
	var out []Scene
	for i := range a.Scenes {
		drawn := map[string]bool{}
		for _, built := range a.Vehicles(&a.Scenes[i]) {
			s, ok := a.On(&a.Scenes[i], built)
			if !ok || drawn[shows(s)] {
				continue
			}
			first := len(drawn) == 0
			drawn[shows(s)] = true
			if len(s.Bolts) == 0 {
				out = append(out, *s)
			}
			for k := range s.Bolts {
				if first || k == 0 {
					out = append(out, s.Fastened(k, Tightened, false)) // the head is hidden most
				}
				if first && k == 0 {
					out = append(out, s.Fastened(k, TakenOut, false))
				}
			}
		}
		if len(drawn) == 0 {
			t.Errorf("%s is drawn on no vehicle", a.Scenes[i].Key)
		}
	}
	return out
}

// shows tells vehicles apart by the parts of their corner that a scene does not leave out.
func shows(s *Scene) string {
	var out []string
	for _, p := range s.panes() {
		for _, part := range s.Parts {
			if role, there := p.role(nameOf(part), ""); there {
				out = append(out, fmt.Sprint(part, role))
			}
		}
	}
	return strings.Join(out, " ")
}

// Each scene of the library says what it should, on both sides: every label has room and is about what is seen,
// what is in hand is seen, crosses lie on what they forbid, a tool is at its fastener, and a picture is small.
func TestScenes(t *testing.T) {
	a, parts := album(t)
	seen := map[string][]byte{} // of each scene, without its words
	for _, s := range tried(t, a) {
		key := s.Key + " " + strings.Join(s.Hand, " ") + fmt.Sprint(len(s.Moves))
		_, again := seen[key] // on another vehicle
		for _, left := range []bool{false, true} {
			if again && !left {
				continue
			}
			name := key + map[bool]string{true: ", left, of ", false: ", right, of "}[left] + strings.Join(s.Parts, " ")
			pic, err := drawAt(1, s, parts, a, left)
			if err != nil {
				t.Errorf("%s: %v", name, err)
				continue
			}
			for _, lack := range pic.Lacks {
				t.Errorf("%s: %s", name, lack)
			}
			for _, v := range pic.shown {
				v.check(t, name)
				v.clear(t, name)
			}
			if left {
				continue
			}
			small := pic.small()
			for other, o := range seen {
				if n := differing(small, o); n < leastOther && !strings.HasPrefix(other, s.Key+" ") {
					t.Errorf("%s and %s differ in %d cells", key, other, n)
				}
			}
			seen[key] = small
			if b, err := pic.PNG(Light); err != nil || len(b) > mostBytes {
				t.Errorf("%s: %d bytes, %v", name, len(b), err)
			}
		}
	}
}

// small is the tones of a picture in cells of 20 pixels, over the first pane as the others.
func (p *Picture) small() []byte {
	out := make([]byte, 0, Width/alikeCell*Height/alikeCell)
	for y := alikeCell / 2; y < Height; y += alikeCell {
		for x := alikeCell / 2; x < Width; x += alikeCell {
			m := p.sheet.mixes[p.sheet.pix[y*Width+x]]
			out = append(out, m.a)
		}
	}
	return out
}

func differing(a, b []byte) int {
	n := 0
	for i := range a {
		if a[i] != b[i] {
			n++
		}
	}
	return n
}

// check holds a pane against what it should say.
func (v shown) check(t *testing.T, name string) {
	t.Helper()
	if len(v.scene.Labels) > mostLabels {
		t.Errorf("%s: %d labels", name, len(v.scene.Labels))
	}
	for _, l := range v.scene.Labels {
		for row := range strings.SplitSeq(l.Says, "/") {
			if len([]rune(row)) > longest {
				t.Errorf("%s: %q is %d letters", name, row, len([]rune(row)))
			}
		}
	}
	for i, it := range v.stage.items {
		if it.Role == Hand {
			if share, pixels := v.seen(it.Name); share < leastSeen {
				t.Errorf("%s: %.0f %% of %d pixels of %s are seen", name, 100*share, pixels, it.Name)
			}
		}
		if it.Role != Hand && it.Role != Arrow && it.Role != Tool {
			continue
		}
		if _, _, seen := v.nearest(i, 0, 0); !seen {
			t.Errorf("%s: nothing of %s is on the picture", name, it.Name)
		}
	}
	for _, m := range v.scene.Marks {
		if m.Never == "" {
			continue
		}
		part, _, _ := strings.Cut(m.Never, ".")
		x, y, _ := v.at(m.Never, m.Off)
		nx, ny, ok := v.nearest(v.stage.placed[part], x-float64(v.x0), y)
		if dx, dy := nx+float64(v.x0)-x, ny-y; !ok || dx*dx+dy*dy > nearTouch*nearTouch {
			t.Errorf("%s: the cross at %s lies beside it", name, m.Never)
		}
	}
}

// seen is how much of an item is seen, tools aside: of a fastener its head, since its shank is in its hole.
func (v shown) seen(name string) (share float64, pixels int) {
	share, pixels = v.stage.seen(name, v.cam, v.scene.Cuts)
	if len(v.scene.Bolts) == 0 {
		return share, pixels
	}
	f, _ := v.stage.frame(name)
	own := v.stage.items[v.stage.placed[name]]
	own.Cut = true
	head := Solve([]Item{own}, v.cam, []Plane{{Normal: f.Axis.Mul(-1), At: f.At}}, 1).count(0)
	return share * float64(pixels) / float64(max(1, head)), head
}

// Drawn twice a scene is the same to the byte, whatever runs beside it; on the other side it is another.
func TestDrawnAlike(t *testing.T) {
	a, parts := album(t)
	s := *first(t, a, slices.IndexFunc(a.Scenes, func(s Scene) bool { return s.Key == "hub-out" }))
	file := func(left bool) (string, []byte) {
		pic, err := Draw(s, parts, a, left)
		if err != nil {
			t.Fatal(err)
		}
		b, err := pic.PNG(Light)
		if err != nil {
			t.Fatal(err)
		}
		return pic.Over, b
	}
	over, once := file(false)
	hands := runtime.GOMAXPROCS(1 + runtime.NumCPU()%2) // another number of bands
	again, twice := file(false)
	runtime.GOMAXPROCS(hands)
	if over != again || !bytes.Equal(once, twice) {
		t.Error("drawn twice it is another picture")
	}
	if _, left := file(true); bytes.Equal(once, left) || a.Name(&s, true) == a.Name(&s, false) {
		t.Error("left and right are one picture")
	}
	changed := s
	changed.Zoom = 0.5
	if a.Name(&changed, false) == a.Name(&s, false) {
		t.Error("another scene has the same name")
	}
}

// The shelf draws once, keeps it, and knows no other names.
func TestShelf(t *testing.T) {
	a, _ := album(t)
	scene := first(t, a, slices.IndexFunc(a.Scenes, func(s Scene) bool { return s.Key == "hub-out" }))
	dir := t.TempDir()
	shelf := NewShelf(a, dir)
	name, over, err := shelf.Over(scene, false)
	if err != nil || !strings.Contains(over, "hub unit") {
		t.Fatalf("%q, %v", over, err)
	}
	for _, theme := range []string{"day", "night", "paper"} {
		b := shelf.PNG(name + "-" + theme + ".png")
		if !bytes.HasPrefix(b, []byte("\x89PNG")) {
			t.Errorf("%s: %d bytes, %v", theme, len(b), err)
		}
	}
	none := "-0123456789abcdef-day.png"
	for _, none := range []string{
		"", "x.png", name + ".png", name + "-day", name + "-noon.png", "../" + name + "-day.png", "none" + none,
		"..%2f" + none,
	} {
		if b := shelf.PNG(none); b != nil {
			t.Errorf("%q: %d bytes", none, len(b))
		}
	}
	if err := os.WriteFile(dir+"/"+name+".svg", []byte("kept"), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, over, _ := NewShelf(a, dir).Over(scene, false); over != "kept" {
		t.Error("what is on the shelf is drawn anew")
	}
	shut := NewShelf(a, dir+"/"+name+".svg/none")
	if _, over, err := shut.Over(scene, false); err != nil || over == "" || len(shut.held) != 4 {
		t.Errorf("where no folder takes it, %d files are held: %v", len(shut.held), err)
	}
	if b := shut.PNG(name + "-day.png"); len(b) < 1000 {
		t.Errorf("%d bytes", len(b))
	}
}

// A scene is for how a vehicle is built; what is not known of it is not taken for granted.
func TestFind(t *testing.T) {
	a := &Album{Scenes: []Scene{
		{Key: "off", Steps: []string{"rotor.off"}, When: map[string][]string{"axle": {"front"}, "rotor": {"over"}}},
		{Key: "off", Corner: "other", When: map[string][]string{"axle": {"rear"}}},
	}}
	front := map[string]string{"axle": "front", "rotor": "over"}
	for _, c := range []struct {
		act, step string
		built     map[string]string
		want      *Scene
	}{
		{"off", "rotor.off", front, &a.Scenes[0]},
		{"off", "rotor.other", front, nil},
		{"on", "rotor.off", front, nil},
		{"off", "rotor.off", map[string]string{"axle": "front"}, nil},
		{"off", "rotor.off", map[string]string{"axle": "front", "rotor": "captive"}, nil},
		{"off", "rotor.other", map[string]string{"axle": "rear"}, &a.Scenes[1]},
	} {
		got := a.Find(c.act, c.step, c.built)
		if (got == nil) != (c.want == nil) || got != nil && got.Corner != c.want.Corner {
			t.Errorf("%s at %s, %v: %+v", c.act, c.step, c.built, got)
		}
	}
}

func BenchmarkScene(b *testing.B) {
	parts, err := Parts()
	if err != nil {
		b.Fatal(err)
	}
	a, err := readAlbum()
	if err != nil {
		b.Fatal(err)
	}
	i := slices.IndexFunc(a.Scenes, func(s Scene) bool { return s.Key == "hub-out" })
	s, _ := a.Any(&a.Scenes[i])
	b.ReportAllocs()
	for b.Loop() {
		if _, err := Draw(*s, parts, a, false); err != nil {
			b.Fatal(err)
		}
	}
}

// Whoever looks at the head turns right to tighten, on both sides of the vehicle: on the picture that is
// clockwise where the head faces the eye, and the other way where it faces away; a left-hand thread turns the
// other way round (common practice).
func TestSenseOfTurn(t *testing.T) {
	a, parts := album(t)
	for i := range a.Scenes {
		s := first(t, a, i)
		for k := range s.Bolts {
			for _, done := range []Done{Loosened, Tightened} {
				for _, c := range []struct{ left, leftHand bool }{{false, false}, {true, false}, {false, true}, {true, true}} {
					if c.leftHand && k > 0 {
						continue // one of a joint shows it
					}
					left := c.left
					scene := s.Fastened(k, done, c.leftHand)
					scene.Uses = nil // they do not turn the arrow
					if left {
						scene = scene.mirrored()
					}
					v, err := drawPane(1, scene, parts, a, left, Width, 0, math.Inf(1))
					if err != nil {
						t.Fatal(err)
					}
					f, err := v.stage.frame(s.Bolts[k])
					if err != nil {
						t.Fatal(err)
					}
					facing := -f.Axis.Unit().Dot(v.cam.Along)
					if facing < 0.15 && facing > -0.15 {
						continue // seen from its side
					}
					want := (facing > 0) == (done == Tightened) != c.leftHand
					if got := v.clockwise(t); got != want {
						t.Errorf("%s %s, %s, %+v: clockwise is %v", s.Key, s.Bolts[k], done, c, got)
					}
				}
			}
		}
	}
}

// clockwise says which way the bent arrow of a pane runs on the picture: twice the area its rings' middles
// sweep, y down.
func (v shown) clockwise(t *testing.T) bool {
	t.Helper()
	for _, it := range v.stage.items {
		if it.Name != "arrow" || len(it.Mesh.Points)/4 <= arrowSteps+4 {
			continue
		}
		sum := 0.0
		var before [2]float64
		for i := 0; i+3 < len(it.Mesh.Points); i += 4 {
			var mid Vec
			for j := range 4 {
				mid = mid.Add(it.Mesh.Points[i+j].Mul(0.25))
			}
			x, y := v.cam.At(mid)
			if i > 0 {
				sum += before[0]*y - before[1]*x
			}
			before = [2]float64{x, y}
		}
		// Close the sweep through its beginning.
		var first Vec
		for j := range 4 {
			first = first.Add(it.Mesh.Points[j].Mul(0.25))
		}
		x, y := v.cam.At(first)
		sum += before[0]*y - before[1]*x
		return sum > 0
	}
	t.Fatal("there is no bent arrow")
	return false
}

// On the left a tool is not mirrored, and yet what stands out of it, its handle or a hand's arm, points as on
// the right.
func TestToolsOnTheLeft(t *testing.T) {
	a, parts := album(t)
	for i := range a.Scenes {
		s := *first(t, a, i)
		if len(s.Bolts) > 0 {
			s = s.Fastened(0, Started, false)
		}
		panes := []Scene{s}
		for _, p := range s.Panes {
			panes = append(panes, s.pane(p))
		}
		for _, p := range panes {
			if len(p.Uses) == 0 {
				continue
			}
			right, err := set(p, parts, a, false)
			if err != nil {
				t.Fatal(err)
			}
			left, err := set(p.mirrored(), parts, a, true)
			if err != nil {
				t.Fatal(err)
			}
			for k, it := range right.items {
				if it.Role != Tool && it.Role != Skin {
					continue
				}
				at, size := middleOf(it)
				other, _ := middleOf(left.items[k])
				if off := other.Sub(at.mirrored()).Len(); off > size/4 {
					t.Errorf("%s: on the left %s lies %.0f mm beside, of %.0f", s.Key, it.Name, off, size)
				}
			}
		}
	}
}

// middleOf is the mean of an item's points, and how large it is.
func middleOf(it Item) (at Vec, size float64) {
	lo, hi := Vec{math.Inf(1), math.Inf(1), math.Inf(1)}, Vec{math.Inf(-1), math.Inf(-1), math.Inf(-1)}
	for _, p := range it.Mesh.Points {
		q := it.Pose.Place(p)
		at = at.Add(q.Mul(1 / float64(len(it.Mesh.Points))))
		for k := range q {
			lo[k], hi[k] = math.Min(lo[k], q[k]), math.Max(hi[k], q[k])
		}
	}
	return at, hi.Sub(lo).Len()
}
