package solid

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"math"
)

// roleNames are the roles as a file of solids names its materials.
var roleNames = [roles]string{"ghost", "plain", "rubber", "hand", "tool", "skin", "arrow", "lining", "fluid"}

// The tone of a role that stands for all of it where a renderer shades by itself.
const middleTone = 1

// GLB is the first pane of a scene as binary glTF 2.0, millimetres, for a renderer that lets it be turned: a
// node for each part where it stands, a material for each role with its colours by day and night, and how the
// picture looks at it. Cuts are told, not cut.
func GLB(s Scene, parts map[string]*Part, a *Album, left bool) ([]byte, error) {
	if left {
		s = s.mirrored()
	}
	wide := Width
	if len(s.Panes) > 0 {
		wide /= len(s.Panes)
		s = s.pane(s.Panes[0])
	}
	v, err := arrange(s, parts, a, left, wide, 0, math.Inf(1))
	if err != nil {
		return nil, fmt.Errorf("scene %s: %w", s.Key, err)
	}
	f := exported{materials: map[[2]int]int{}}
	for _, it := range v.stage.items {
		f.add(it)
	}
	var cuts [][2]Vec
	for _, c := range s.Cuts {
		cuts = append(cuts, [2]Vec{c.Normal, c.At})
	}
	return f.file(map[string]any{
		"along": v.cam.Along, "up": v.cam.Up, "middle": v.cam.Middle, "width": float64(wide) / v.cam.Scale, "cuts": cuts,
	})
}

// exported is a glTF file on its way: its lists, and the numbers they speak of.
type exported struct {
	nodes, meshes, accessors, views, stuffs []any
	materials                               map[[2]int]int // by role, and whether it is cut
	numbers                                 bytes.Buffer
}

// The constants of glTF that are used here (Khronos glTF 2.0, section 5).
const (
	gltfFloat, gltfUint            = 5126, 5125
	gltfVertices, gltfIndices      = 34962, 34963
	glbMagic, glbJSON, glbBin uint = 0x46546C67, 0x4E4F534A, 0x004E4942
)

func (f *exported) add(it Item) {
	if len(it.Mesh.Corners) == 0 {
		return
	}
	lo, hi := Vec{math.Inf(1), math.Inf(1), math.Inf(1)}, Vec{math.Inf(-1), math.Inf(-1), math.Inf(-1)}
	at := f.numbers.Len()
	for _, p := range it.Mesh.Points {
		q := it.Pose.Place(p)
		for k := range q {
			lo[k], hi[k] = math.Min(lo[k], q[k]), math.Max(hi[k], q[k])
		}
		_ = binary.Write(&f.numbers, binary.LittleEndian, [3]float32{float32(q[0]), float32(q[1]), float32(q[2])})
	}
	points := f.accessor(at, gltfVertices, map[string]any{
		"componentType": gltfFloat, "count": len(it.Mesh.Points), "type": "VEC3", "min": lo, "max": hi,
	})
	at = f.numbers.Len()
	_ = binary.Write(&f.numbers, binary.LittleEndian, it.Mesh.Corners)
	corners := f.accessor(at, gltfIndices, map[string]any{
		"componentType": gltfUint, "count": len(it.Mesh.Corners), "type": "SCALAR",
	})
	f.meshes = append(f.meshes, map[string]any{"primitives": []any{map[string]any{
		"attributes": map[string]int{"POSITION": points}, "indices": corners, "material": f.material(it),
	}}})
	f.nodes = append(f.nodes, map[string]any{"name": it.Name, "mesh": len(f.meshes) - 1})
}

func (f *exported) accessor(at, target int, is map[string]any) int {
	f.views = append(f.views, map[string]any{
		"buffer": 0, "byteOffset": at, "byteLength": f.numbers.Len() - at, "target": target,
	})
	is["bufferView"] = len(f.views) - 1
	f.accessors = append(f.accessors, is)
	return len(f.accessors) - 1
}

func (f *exported) material(it Item) int {
	key := [2]int{int(it.Role), 0}
	if it.Cut {
		key[1] = 1
	}
	i, ok := f.materials[key]
	if !ok {
		i = len(f.stuffs)
		f.materials[key] = i
		colours := func(p Palette) [2]string {
			r := p.Roles[it.Role]
			return [2]string{fmt.Sprintf("#%06X", r[middleTone]), fmt.Sprintf("#%06X", r[lineTone])}
		}
		f.stuffs = append(f.stuffs, map[string]any{
			"name":   roleNames[it.Role],
			"extras": map[string]any{"day": colours(Light), "night": colours(Dark), "cut": it.Cut},
		})
	}
	return i
}

// file is all of it, its chunks filled up to four bytes.
func (f *exported) file(view map[string]any) ([]byte, error) {
	all := make([]int, len(f.nodes))
	for i := range all {
		all[i] = i
	}
	text, err := json.Marshal(map[string]any{
		"asset": map[string]string{"version": "2.0"}, "scene": 0,
		"scenes": []any{map[string]any{"nodes": all}}, "extras": map[string]any{"view": view},
		"nodes": f.nodes, "meshes": f.meshes, "accessors": f.accessors, "bufferViews": f.views, "materials": f.stuffs,
		"buffers": []any{map[string]int{"byteLength": f.numbers.Len()}},
	})
	if err != nil {
		return nil, err
	}
	for len(text)%4 != 0 {
		text = append(text, ' ')
	}
	var out bytes.Buffer
	head := []uint{
		glbMagic, 2, uint(glbHeader + 2*chunkHeader + len(text) + f.numbers.Len()), uint(len(text)), glbJSON,
	}
	for _, v := range head {
		_ = binary.Write(&out, binary.LittleEndian, uint32(v))
	}
	out.Write(text)
	_ = binary.Write(&out, binary.LittleEndian, []uint32{uint32(f.numbers.Len()), uint32(glbBin)})
	out.Write(f.numbers.Bytes())
	return out.Bytes(), nil
}
