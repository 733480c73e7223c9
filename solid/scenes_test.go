package solid

import (
	"bytes"
	"os"
	"strings"
	"testing"

	"github.com/goccy/go-yaml"
)

// album is the library's, with the parts there are.
func album(t *testing.T) (*Album, map[string]*Part) {
	t.Helper()
	parts, err := Parts()
	if err != nil {
		t.Fatal(err)
	}
	text, err := os.ReadFile("../library/scenes.yaml")
	if err != nil {
		t.Fatal(err)
	}
	var a Album
	if err := yaml.UnmarshalWithOptions(text, &a, yaml.Strict()); err != nil {
		t.Fatal(err)
	}
	return &a, parts
}

const (
	leastSeen  = 0.25 // of what is in hand, tools aside
	mostBytes  = 50_000
	mostLabels = 7
	longest    = 16 // letters of a line of a label
	nearTouch  = 30 // px a cross may lie beside the part it forbids, at its edge
)

// Each scene of the library says what it should, on both sides: every label has room and is about what is seen, what is
// in hand is seen, crosses lie on what they forbid, and a picture is small.
func TestScenes(t *testing.T) {
	a, parts := album(t)
	for i := range a.Scenes {
		s := &a.Scenes[i]
		for _, left := range []bool{false, true} {
			name := s.Key + map[bool]string{true: ", left", false: ", right"}[left]
			pic, err := drawAt(1, *s, parts, a, left)
			if err != nil {
				t.Errorf("%s: %v", name, err)
				continue
			}
			for _, lack := range pic.Lacks {
				t.Errorf("%s: %s", name, lack)
			}
			for _, v := range pic.shown {
				v.check(t, name)
			}
			if left {
				continue
			}
			if b, err := pic.PNG(Light); err != nil || len(b) > mostBytes {
				t.Errorf("%s: %d bytes, %v", name, len(b), err)
			}
		}
	}
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
			if share, pixels := v.stage.seen(it.Name, v.cam, v.scene.Cuts); share < leastSeen {
				t.Errorf("%s: %.0f %% of %d pixels of %s are seen", name, 100*share, pixels, it.Name)
			}
		}
		if _, _, seen := v.nearest(i, 0, 0); !seen && (it.Role == Hand || it.Role == Arrow || it.Role == Tool) {
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

// Drawn twice a scene is the same to the byte, whatever runs beside it; on the other side it is another.
func TestDrawnAlike(t *testing.T) {
	a, parts := album(t)
	s := a.Scenes[0]
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
	again, twice := file(false)
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
	a.Scenes = a.Scenes[:1]
	dir := t.TempDir()
	shelf := NewShelf(a, dir)
	name, over, err := shelf.Over(&a.Scenes[0], false)
	if err != nil || !strings.Contains(over, "hub unit") {
		t.Fatalf("%q, %v", over, err)
	}
	for _, theme := range []string{"day", "night"} {
		b, err := shelf.PNG(name + "-" + theme + ".png")
		if err != nil || !bytes.HasPrefix(b, []byte("\x89PNG")) {
			t.Errorf("%s: %d bytes, %v", theme, len(b), err)
		}
	}
	for _, none := range []string{"", "x.png", name + ".png", name + "-day", name + "-noon.png", "../" + name + "-day.png"} {
		if b, err := shelf.PNG(none); b != nil || err != nil {
			t.Errorf("%q: %d bytes, %v", none, len(b), err)
		}
	}
	if err := os.WriteFile(dir+"/"+name+".svg", []byte("kept"), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, over, _ := NewShelf(a, dir).Over(&a.Scenes[0], false); over != "kept" {
		t.Error("what is on the shelf is drawn anew")
	}
	shut := NewShelf(a, dir+"/"+name+".svg/none")
	if _, over, err := shut.Over(&a.Scenes[0], false); err != nil || over == "" || len(shut.held) != 3 {
		t.Errorf("where no folder takes it, %d files are held: %v", len(shut.held), err)
	}
	if b, err := shut.PNG(name + "-day.png"); err != nil || len(b) < 1000 {
		t.Errorf("%d bytes, %v", len(b), err)
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
		if got := a.Find(c.act, c.step, c.built); got != c.want {
			t.Errorf("%s at %s, %v: %+v", c.act, c.step, c.built, got)
		}
	}
}

func BenchmarkScene(b *testing.B) {
	parts, err := Parts()
	if err != nil {
		b.Fatal(err)
	}
	text, err := os.ReadFile("../library/scenes.yaml")
	if err != nil {
		b.Fatal(err)
	}
	var a Album
	if err := yaml.Unmarshal(text, &a); err != nil {
		b.Fatal(err)
	}
	b.ReportAllocs()
	for b.Loop() {
		if _, err := Draw(a.Scenes[0], parts, &a, false); err != nil {
			b.Fatal(err)
		}
	}
}
