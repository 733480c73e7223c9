package solid

import (
	"encoding/binary"
	"encoding/json"
	"slices"
	"testing"
)

// A scene's solids are told where they stand in its picture, each part once, what is cut said so, and this
// program's own reader takes the file.
func TestGLB(t *testing.T) {
	a, parts := album(t)
	for _, key := range []string{"hub-out", "piston-open", "compare-damper", "hub.front.knuckle"} {
		s := first(t, a, slices.IndexFunc(a.Scenes, func(s Scene) bool { return s.Key == key }))
		if len(s.Bolts) > 0 {
			*s = s.Fastened(1, Tightened, false)
		}
		for _, left := range []bool{false, true} {
			b, err := GLB(*s, parts, a, left)
			if err != nil {
				t.Fatal(err)
			}
			var told struct {
				Extras struct{ View struct{ Cuts []any } }
				Nodes  []struct{ Name string }
			}
			n := binary.LittleEndian.Uint32(b[glbHeader:])
			if err := json.Unmarshal(b[glbHeader+chunkHeader:glbHeader+chunkHeader+n], &told); err != nil {
				t.Fatal(err)
			}
			if got := int(binary.LittleEndian.Uint32(b[8:])); got != len(b) {
				t.Errorf("%s says it has %d bytes of %d", key, got, len(b))
			}
			pic, err := drawAt(1, *s, parts, a, left)
			if err != nil {
				t.Fatal(err)
			}
			items := pic.shown[0].stage.items
			if len(told.Nodes) != len(items) || len(told.Extras.View.Cuts) != len(pic.shown[0].scene.Cuts) {
				t.Errorf("%s: %d parts of %d, %d cuts", key, len(told.Nodes), len(items), len(told.Extras.View.Cuts))
			}
			read, err := ReadParts(b)
			if err != nil {
				t.Fatal(err)
			}
			for _, it := range items {
				if it.Name == "arrow" {
					continue // there may be several
				}
				got := read[it.Name].mesh
				if len(got.Corners) != len(it.Mesh.Corners) || got.Points[0].Sub(it.Pose.Place(it.Mesh.Points[0])).Len() > 0.01 {
					t.Errorf("%s: %s stands elsewhere than in the picture", key, it.Name)
				}
			}
		}
	}
}
