package solid

import (
	"bytes"
	"compress/gzip"
	_ "embed" // the parts
	"encoding/binary"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"sync"
)

// Part is a solid by itself: a part of the vehicle where it sits, or a tool at the place it works at.
type Part struct {
	Name   string
	Stuff  string // metal, rubber, lining, fluid, wood, tool or skin
	Frames map[string]Frame

	mesh   *Mesh
	smooth sync.Once

	other *Part // on the other side, made at its first use
	twin  sync.Once
}

// Mesh is its solid, with normals, which are made at its first use.
func (p *Part) Mesh() *Mesh {
	p.smooth.Do(func() {
		if p.mesh.Normals == nil {
			p.mesh.smooth()
		}
	})
	return p.mesh
}

// mirrored is the same part on the other side of the vehicle.
func (p *Part) mirrored() *Part {
	p.twin.Do(func() {
		q := &Part{Name: p.Name, Stuff: p.Stuff, Frames: map[string]Frame{}, mesh: p.Mesh().mirrored()}
		for n, f := range p.Frames {
			q.Frames[n] = Frame{f.At.mirrored(), f.Axis.mirrored(), f.Up.mirrored()}
		}
		p.other = q
	})
	return p.other
}

//go:embed parts.glb.gz
var packed []byte

// Parts are the solids there are, by name.
var Parts = sync.OnceValues(func() (map[string]*Part, error) {
	r, err := gzip.NewReader(bytes.NewReader(packed))
	if err != nil {
		return nil, err
	}
	b, err := io.ReadAll(r)
	if err != nil {
		return nil, err
	}
	return ReadParts(b)
})

// The layout of a binary glTF file (Khronos glTF 2.0, section 4.4): a header, a chunk of JSON, a chunk of numbers.
const (
	glbHeader   = 12
	chunkHeader = 8
	vecBytes    = 12 // three float32
	indexBytes  = 4
)

// gltf is what this reader takes of a file: a mesh a node, its positions and indices, what it is and its frames.
type gltf struct {
	Nodes []struct {
		Name   string
		Mesh   int
		Extras struct {
			Stuff  string
			Frames map[string][]float64 // place, axis, up: three numbers each, the last two where they are not told by heart
		}
	}
	Meshes []struct {
		Primitives []struct {
			Attributes struct {
				Position int `json:"POSITION"`
			}
			Indices int
		}
	}
	Accessors   []struct{ BufferView, Count int }
	BufferViews []struct{ ByteOffset, ByteLength int }
}

// ReadParts reads a binary glTF file as model/glb.mjs writes it: positions as float32, indices as uint32.
func ReadParts(b []byte) (map[string]*Part, error) {
	if len(b) < glbHeader+2*chunkHeader || string(b[:4]) != "glTF" {
		return nil, fmt.Errorf("solid: this is no binary glTF file")
	}
	text := int(binary.LittleEndian.Uint32(b[glbHeader:]))
	from := glbHeader + chunkHeader + text + chunkHeader
	if text < 0 || from > len(b) {
		return nil, fmt.Errorf("solid: the file ends before its numbers")
	}
	var d gltf
	if err := json.Unmarshal(b[glbHeader+chunkHeader:glbHeader+chunkHeader+text], &d); err != nil {
		return nil, fmt.Errorf("solid: %w", err)
	}
	out := map[string]*Part{}
	for _, n := range d.Nodes {
		m, err := d.mesh(n.Mesh, b[from:])
		if err != nil {
			return nil, fmt.Errorf("solid: %s: %w", n.Name, err)
		}
		p := &Part{Name: n.Name, Stuff: n.Extras.Stuff, Frames: map[string]Frame{}, mesh: m}
		for key, f := range n.Extras.Frames {
			if len(f)%3 != 0 || len(f) == 0 || len(f) > 9 {
				return nil, fmt.Errorf("solid: %s: the frame %s has %d numbers", n.Name, key, len(f))
			}
			frame := Frame{At: Vec(f[:3]), Axis: Vec{1, 0, 0}}
			if len(f) > 3 {
				frame.Axis = Vec(f[3:6])
			}
			if len(f) > 6 {
				frame.Up = Vec(f[6:9])
			}
			p.Frames[key] = frame
		}
		out[n.Name] = p
	}
	return out, nil
}

// mesh reads the numbers of a mesh.
func (d *gltf) mesh(at int, b []byte) (*Mesh, error) {
	if at < 0 || at >= len(d.Meshes) || len(d.Meshes[at].Primitives) != 1 {
		return nil, fmt.Errorf("it has no mesh of one piece")
	}
	p := d.Meshes[at].Primitives[0]
	points, n, err := d.numbers(p.Attributes.Position, vecBytes, b)
	if err != nil {
		return nil, err
	}
	corners, k, err := d.numbers(p.Indices, indexBytes, b)
	if err != nil {
		return nil, err
	}
	m := &Mesh{Points: make([]Vec, n), Corners: make([]uint32, k)}
	for i := range m.Points {
		for c := range 3 {
			m.Points[i][c] = float64(math.Float32frombits(binary.LittleEndian.Uint32(points[vecBytes*i+4*c:])))
		}
	}
	for i := range m.Corners {
		m.Corners[i] = binary.LittleEndian.Uint32(corners[indexBytes*i:])
		if int(m.Corners[i]) >= n {
			return nil, fmt.Errorf("corner %d is point %d of %d", i, m.Corners[i], n)
		}
	}
	if k%3 != 0 {
		return nil, fmt.Errorf("%d corners are no triangles", k)
	}
	return m, nil
}

// numbers are the bytes of an accessor, and how many things of a size they hold.
func (d *gltf) numbers(accessor, size int, b []byte) ([]byte, int, error) {
	if accessor < 0 || accessor >= len(d.Accessors) {
		return nil, 0, fmt.Errorf("there is no accessor %d", accessor)
	}
	a := d.Accessors[accessor]
	if a.BufferView < 0 || a.BufferView >= len(d.BufferViews) || a.Count < 0 {
		return nil, 0, fmt.Errorf("accessor %d reads nothing", accessor)
	}
	v := d.BufferViews[a.BufferView]
	if v.ByteOffset < 0 || v.ByteOffset > len(b) || a.Count > (len(b)-v.ByteOffset)/size {
		return nil, 0, fmt.Errorf("accessor %d reads beyond the file", accessor)
	}
	return b[v.ByteOffset:], a.Count, nil
}
