package solid

import (
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"strings"
)

// What a file of an owner's own may hold: it is drawn on a machine that others wait for.
const (
	MostOwnBytes = 8 << 20
	mostOwnText  = 1 << 20
	mostOwnFaces = 100_000
	mostOwnNodes = 500
	deepestNode  = 32
	farthestMM   = 10_000.0
)

// fromGLTF lays glTF's metres, Y up and front toward +Z, into this package's millimetres, Y forward and Z up.
var fromGLTF = Pose{X: Vec{1000, 0, 0}, Y: Vec{0, 0, 1000}, Z: Vec{0, -1000, 0}}

// ownFile is what is read of a glTF 2.0 file (Khronos glTF 2.0, section 5).
type ownFile struct {
	Asset              struct{ Version string }
	ExtensionsRequired []string
	Scene              int
	Scenes             []struct{ Nodes []int }
	Nodes              []struct {
		Name                         string
		Mesh                         *int
		Children                     []int
		Matrix                       []float64
		Translation, Rotation, Scale []float64
		Extras                       struct{ Stuff string }
	}
	Meshes []struct {
		Primitives []struct {
			Attributes map[string]int
			Indices    *int
			Mode       *int
		}
	}
	Accessors []struct {
		BufferView    *int
		ByteOffset    int
		ComponentType int
		Count         int
		Type          string
		Sparse        any
	}
	BufferViews []struct{ Buffer, ByteOffset, ByteLength, ByteStride int }
	Buffers     []struct {
		URI        string
		ByteLength int
	}
}

// own is such a file being read.
type own struct {
	ownFile
	numbers []byte
	part    *Part
	nodes   int
}

// ReadOwn reads a part or tool of an owner's own from binary glTF 2.0: metres, Y up. All its meshes are one
// solid; a node without a mesh is a place of its name, whose X axis leaves the work and whose Y axis is up. It
// is metal where no node's extras name another stuff. The error says why a file is refused.
func ReadOwn(name string, b []byte) (*Part, error) {
	f := own{part: &Part{Name: name, Stuff: "metal", Frames: map[string]Frame{}, mesh: &Mesh{}}}
	if err := f.open(b); err != nil {
		return nil, err
	}
	for _, i := range f.Scenes[f.Scene].Nodes {
		if err := f.node(i, fromGLTF, 0); err != nil {
			return nil, err
		}
	}
	if len(f.part.mesh.Corners) == 0 {
		return nil, errors.New("it has no triangles")
	}
	if f.part.mesh.volume() < 0 {
		f.part.mesh.turnOut()
	}
	return f.part, nil
}

// turnOut turns all faces round.
func (m *Mesh) turnOut() {
	for t := 0; t < len(m.Corners); t += 3 {
		m.Corners[t+1], m.Corners[t+2] = m.Corners[t+2], m.Corners[t+1]
	}
}

// open reads the two chunks of the file, and says what it needs that is not read here.
func (f *own) open(b []byte) error {
	if len(b) > MostOwnBytes {
		return fmt.Errorf("it has %.1f MB, and %d are read", float64(len(b))/(1<<20), MostOwnBytes>>20)
	}
	if len(b) < glbHeader+chunkHeader || string(b[:4]) != "glTF" || binary.LittleEndian.Uint32(b[4:]) != 2 {
		return errors.New("it is no binary glTF 2.0 file (.glb)")
	}
	text := uint64(binary.LittleEndian.Uint32(b[glbHeader:]))
	from := glbHeader + chunkHeader + text
	if text > mostOwnText || from+chunkHeader > uint64(len(b)) {
		return errors.New("it ends before its numbers, or says more about itself than is read")
	}
	if err := json.Unmarshal(b[glbHeader+chunkHeader:from], &f.ownFile); err != nil {
		return fmt.Errorf("what it says about itself is not read: %w", err)
	}
	size := uint64(binary.LittleEndian.Uint32(b[from:]))
	f.numbers = b[from+chunkHeader:]
	switch {
	case size > uint64(len(f.numbers)):
		return errors.New("it ends before its numbers do")
	case len(f.ExtensionsRequired) > 0:
		return fmt.Errorf("it needs %s", strings.Join(f.ExtensionsRequired, ", "))
	case len(f.Buffers) != 1 || f.Buffers[0].URI != "":
		return errors.New("its numbers lie in another file")
	case f.Scene < 0 || f.Scene >= len(f.Scenes):
		return errors.New("it has no scene")
	}
	f.numbers = f.numbers[:size]
	return nil
}

// node takes a node in, and all below it.
func (f *own) node(i int, above Pose, deep int) error {
	f.nodes++
	if i < 0 || i >= len(f.Nodes) || deep > deepestNode || f.nodes > mostOwnNodes {
		return fmt.Errorf("its nodes are not a tree of at most %d", mostOwnNodes)
	}
	n := f.Nodes[i]
	local, err := placed(n.Matrix, n.Translation, n.Rotation, n.Scale)
	if err != nil {
		return fmt.Errorf("node %d: %w", i, err)
	}
	at := above.Of(local)
	if s := n.Extras.Stuff; s != "" {
		f.part.Stuff = s
	}
	switch {
	case n.Mesh != nil:
		if err := f.mesh(*n.Mesh, at); err != nil {
			return fmt.Errorf("node %d: %w", i, err)
		}
	case n.Name != "" && len(n.Children) == 0:
		f.part.Frames[n.Name] = Frame{At: at.At, Axis: at.X.Unit(), Up: at.Y.Unit()}
	}
	for _, c := range n.Children {
		if err := f.node(c, at, deep+1); err != nil {
			return err
		}
	}
	return nil
}

// placed is where a node stands, by its matrix or by its parts.
func placed(matrix, move, turn, scale []float64) (Pose, error) {
	for _, l := range [][2]int{{len(matrix), 16}, {len(move), 3}, {len(turn), 4}, {len(scale), 3}} {
		if l[0] != 0 && l[0] != l[1] {
			return Pose{}, fmt.Errorf("where it stands has %d numbers instead of %d", l[0], l[1])
		}
	}
	if len(matrix) > 0 {
		return Pose{X: Vec(matrix[0:3]), Y: Vec(matrix[4:7]), Z: Vec(matrix[8:11]), At: Vec(matrix[12:15])}, nil
	}
	out := Still
	if len(turn) > 0 { // a unit quaternion x, y, z, w
		axis := Vec(turn[:3])
		out = Turn(axis, 2*math.Atan2(axis.Len(), turn[3])*180/math.Pi)
		if axis.Len() < 1e-12 {
			out = Still
		}
	}
	if len(scale) > 0 {
		out.X, out.Y, out.Z = out.X.Mul(scale[0]), out.Y.Mul(scale[1]), out.Z.Mul(scale[2])
	}
	if len(move) > 0 {
		out.At = Vec(move)
	}
	return out, nil
}

// mesh takes the triangles of a mesh in.
func (f *own) mesh(i int, at Pose) error {
	if i < 0 || i >= len(f.Meshes) {
		return fmt.Errorf("there is no mesh %d", i)
	}
	m := f.part.mesh
	flip := at.X.Cross(at.Y).Dot(at.Z) < 0
	for _, p := range f.Meshes[i].Primitives {
		if p.Mode != nil && *p.Mode != 4 {
			return errors.New("it has lines or strips: only triangles are read")
		}
		first := uint32(len(m.Points))
		position, ok := p.Attributes["POSITION"]
		if !ok {
			return errors.New("a mesh has no positions")
		}
		count := 0
		err := f.each(position, "VEC3", func(raw [][]byte, float bool) error {
			var v Vec
			for k := range v {
				if !float {
					return errors.New("its positions are no 32-bit floats")
				}
				v[k] = float64(math.Float32frombits(binary.LittleEndian.Uint32(raw[k])))
			}
			q := at.Place(v)
			for _, x := range q {
				if !(math.Abs(x) <= farthestMM) { // neither is what is no number
					return fmt.Errorf("it reaches farther than %.0f m: glTF counts in metres", farthestMM/1000)
				}
			}
			m.Points = append(m.Points, q)
			count++
			return nil
		})
		if err != nil {
			return err
		}
		if len(m.Points) > 3*mostOwnFaces {
			return fmt.Errorf("it has more points than %d triangles", mostOwnFaces)
		}
		before := len(m.Corners)
		if p.Indices == nil {
			for k := range count {
				m.Corners = append(m.Corners, first+uint32(k))
			}
		} else if err := f.each(*p.Indices, "SCALAR", func(raw [][]byte, _ bool) error {
			var whole [4]byte
			copy(whole[:], raw[0])
			k := binary.LittleEndian.Uint32(whole[:])
			if int64(k) >= int64(count) {
				return fmt.Errorf("a corner is point %d of %d", k, count)
			}
			m.Corners = append(m.Corners, first+k)
			return nil
		}); err != nil {
			return err
		}
		if n := len(m.Corners); n%3 != 0 || n/3 > mostOwnFaces {
			return fmt.Errorf("%d corners are no triangles, or more than %d of them", n, mostOwnFaces)
		}
		if flip {
			(&Mesh{Corners: m.Corners[before:]}).turnOut()
		}
	}
	return nil
}

// The sizes of the kinds of numbers glTF has, and how many there are to a thing.
var (
	ownSizes = map[int]int{5121: 1, 5123: 2, gltfUint: 4, gltfFloat: 4}
	ownParts = map[string]int{"SCALAR": 1, "VEC3": 3}
)

// each reads the things of an accessor one by one, as the bytes of their numbers.
func (f *own) each(accessor int, kind string, take func(raw [][]byte, float bool) error) error {
	if accessor < 0 || accessor >= len(f.Accessors) {
		return fmt.Errorf("there is no accessor %d", accessor)
	}
	a := f.Accessors[accessor]
	size := ownSizes[a.ComponentType]
	switch {
	case a.Sparse != nil || a.BufferView == nil:
		return errors.New("its numbers are sparse")
	case a.Type != kind || size == 0:
		return fmt.Errorf("accessor %d is no list of %s", accessor, kind)
	case *a.BufferView < 0 || *a.BufferView >= len(f.BufferViews):
		return fmt.Errorf("accessor %d reads nothing", accessor)
	case a.Count < 0 || a.Count > 3*mostOwnFaces:
		return fmt.Errorf("it has more than %d triangles", mostOwnFaces)
	}
	v := f.BufferViews[*a.BufferView]
	parts := ownParts[kind]
	stride := v.ByteStride
	if stride == 0 {
		stride = size * parts
	}
	from, last := v.ByteOffset+a.ByteOffset, v.ByteOffset+a.ByteOffset+stride*(a.Count-1)+size*parts
	if v.ByteOffset < 0 || a.ByteOffset < 0 || stride < size*parts || stride > 255 || from > len(f.numbers) ||
		a.Count > 0 && last > len(f.numbers) {
		return fmt.Errorf("accessor %d reads beyond the file", accessor)
	}
	raw := make([][]byte, parts)
	for i := range a.Count {
		for k := range raw {
			at := from + i*stride + k*size
			raw[k] = f.numbers[at : at+size]
		}
		if err := take(raw, a.ComponentType == gltfFloat); err != nil {
			return err
		}
	}
	return nil
}
