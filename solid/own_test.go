package solid

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"math"
	"strings"
	"testing"
)

// tetrahedron is a file of one: corners at 0 and 0.1 m along each axis, 16-bit indices, with what else its node
// says and more nodes.
func tetrahedron(node, more, top string) []byte {
	var nums bytes.Buffer
	_ = binary.Write(&nums, binary.LittleEndian, []float32{0, 0, 0, 0.1, 0, 0, 0, 0.1, 0, 0, 0, 0.1})
	_ = binary.Write(&nums, binary.LittleEndian, []uint16{0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3})
	text := fmt.Sprintf(`{"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],"nodes":[{"mesh":0%s}%s],`+
		`"meshes":[{"primitives":[{"attributes":{"POSITION":0},"indices":1}]}],`+
		`"accessors":[{"bufferView":0,"componentType":5126,"count":4,"type":"VEC3"},`+
		`{"bufferView":1,"componentType":5123,"count":12,"type":"SCALAR"}],`+
		`"bufferViews":[{"buffer":0,"byteLength":48},{"buffer":0,"byteOffset":48,"byteLength":24}],`+
		`"buffers":[{"byteLength":72}]%s}`, node, more, top)
	return glbOf(text, nums.Bytes())
}

func glbOf(text string, nums []byte) []byte {
	for len(text)%4 != 0 {
		text += " "
	}
	var out bytes.Buffer
	out.WriteString("glTF")
	_ = binary.Write(&out, binary.LittleEndian, []uint32{
		2, uint32(28 + len(text) + len(nums)), uint32(len(text)), uint32(glbJSON),
	})
	out.WriteString(text)
	_ = binary.Write(&out, binary.LittleEndian, []uint32{uint32(len(nums)), uint32(glbBin)})
	out.Write(nums)
	return out.Bytes()
}

// What another program exports in metres, Y up, stands here in millimetres, Z up, whichever way its node is
// placed, with its faces outward; a node without a mesh is a place.
func TestReadOwn(t *testing.T) {
	for _, c := range []struct {
		name, node, more string
		far              Vec // where the corner on glTF's Y axis, 0.1 m up, comes to stand
	}{
		{"as it is", "", "", Vec{0, 0, 100}},
		{"moved", `,"translation":[1,0,0]`, "", Vec{1000, 0, 100}},
		{"turned a quarter about X", `,"rotation":[0.70710678,0,0,0.70710678]`, "", Vec{0, -100, 0}},
		{"twice as high", `,"scale":[1,2,1]`, "", Vec{0, 0, 200}},
		{"mirrored", `,"scale":[-1,1,1]`, "", Vec{0, 0, 100}},
		{"by a matrix", `,"matrix":[1,0,0,0, 0,1,0,0, 0,0,1,0, 0,0,-2,1]`, "", Vec{0, 2000, 100}},
		{"of rubber, with a place", `,"extras":{"stuff":"rubber"},"children":[1]`,
			`,{"name":"head","translation":[0.05,0,0]}`,
			Vec{0, 0, 100}},
	} {
		p, err := ReadOwn("own", tetrahedron(c.node, c.more, ""))
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		if got := p.mesh.Points[2]; got.Sub(c.far).Len() > 0.001 {
			t.Errorf("%s: it stands at %v", c.name, got)
		}
		want := 1e6 / 6 // of a corner of a cube of 100 mm
		if strings.Contains(c.node, "scale\":[1,2") {
			want *= 2
		}
		if v := p.mesh.volume(); math.Abs(v-want) > 1 {
			t.Errorf("%s: it holds %.0f mm³ of %.0f", c.name, v, want)
		}
		if c.more == "" {
			continue
		}
		if f := p.Frames["head"]; p.Stuff != "rubber" || f.At.Sub(Vec{50, 0, 0}).Len() > 0.001 ||
			f.Axis.Sub(Vec{1, 0, 0}).Len() > 0.001 || f.Up.Sub(Vec{0, 0, 1}).Len() > 0.001 {
			t.Errorf("%s: %s, %+v", c.name, p.Stuff, f)
		}
	}
}

// What is not read is refused, and it is said why.
func TestReadOwnRefuses(t *testing.T) {
	good := tetrahedron("", "", "")
	change := func(old, with string) []byte { // of the same length
		return bytes.Replace(bytes.Clone(good), []byte(old), []byte(with), 1)
	}
	far := bytes.Clone(good)
	at := bytes.Index(far, []byte("BIN\x00")) + 4
	nan := bytes.Clone(good)
	binary.LittleEndian.PutUint32(far[at+12:], math.Float32bits(11))
	binary.LittleEndian.PutUint32(nan[at+12:], math.Float32bits(float32(math.NaN())))
	corner := bytes.Clone(good)
	binary.LittleEndian.PutUint16(corner[at+48:], 9)
	for _, c := range []struct {
		name string
		b    []byte
		says string
	}{
		{"nothing", nil, "no binary glTF"},
		{"text", []byte(`{"asset":{"version":"2.0"}, "a file of text": 1}`), "no binary glTF"},
		{"half", good[:len(good)-40], "ends before"},
		{"a head alone", good[:24], "ends before"},
		{"too large", append(bytes.Clone(good), make([]byte, MostOwnBytes)...), "8 are read"},
		{"packed", tetrahedron("", "", `,"extensionsRequired":["X_packed"]`), "needs X_packed"},
		{"elsewhere", change(`"byteLength":72}]`, `"uri":"numbr.b"}]`), "another file"},
		{"no tree", tetrahedron(`,"children":[0]`, "", ""), "not a tree"},
		{"no node", tetrahedron(`,"children":[7]`, "", ""), "not a tree"},
		{"a short matrix", tetrahedron(`,"matrix":[1,0,0]`, "", ""), "3 numbers instead of 16"},
		{"far away", far, "farther than 10 m"},
		{"no number", nan, "farther than 10 m"},
		{"a wild corner", corner, "point 9 of 4"},
		{"beyond", change(`"count":12`, `"count":99`), "beyond the file"},
		{"less than none", change(`"count":12`, `"count":-1`), "more than"},
		{"not even", change(`"count":12`, `"count":11`), "no triangles"},
		{"doubles", change(`5126`, `5130`), "no list of VEC3"},
		{"whole numbers", change(`5126`, `5125`), "no 32-bit floats"},
		{"empty", change(`"mesh":0`, `"skin":0`), "no triangles"},
		{"no mesh", change(`"mesh":0`, `"mesh":5`), "no mesh 5"},
		{
			"lines", tetrahedron("", "", `,"meshes":[{"primitives":[{"attributes":{"POSITION":0},"mode":1}]}]`),
			"only triangles",
		},
	} {
		if _, err := ReadOwn("own", c.b); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v", c.name, err)
		}
	}
}

// Whatever is in a file, reading it ends, soon and without a panic.
func FuzzReadOwn(f *testing.F) {
	f.Add(tetrahedron("", "", ""))
	f.Add(tetrahedron(`,"children":[1]`, `,{"name":"head"}`, ""))
	f.Fuzz(func(t *testing.T, b []byte) {
		if p, err := ReadOwn("own", b); err == nil && (len(p.mesh.Corners) == 0 || len(p.mesh.Corners)/3 > mostOwnFaces) {
			t.Errorf("%d corners", len(p.mesh.Corners))
		}
	})
}
