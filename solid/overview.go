package solid

import (
	"encoding/json"
	"maps"
	"math"
	"slices"
	"strings"
)

// Places are what an overview can show: where fasteners sit, and where what is ordered is touched.
type Places struct {
	Seats   []Seat `json:"seats"`
	Touches []Seat `json:"touches"` // in the first pane, where the part is seen
}

// Seat is one place in an overview, px: of a joint's specification, which of its fasteners, or of an operation's key.
type Seat struct {
	Of string  `json:"of"`
	K  int     `json:"k,omitempty"` // from 0
	X  float64 `json:"x"`
	Y  float64 `json:"y"`
}

// seatNear is how far round its frame a fastener is looked for, px.
const seatNear = 22

// The keys of scenes that are of a place, not of an act: all of it, and where on the vehicle it is.
const (
	wholeOf = "at."
	whereIs = "where."
)

// OfPlace says that a scene's key is a place's.
func OfPlace(key string) bool {
	return strings.HasPrefix(key, wholeOf) || strings.HasPrefix(key, whereIs)
}

// Where is the scene of the vehicle with a place told; nil where there is none.
func (a *Album) Where(place string) *Scene { return a.Find(whereIs+place, "", Answers{}) }

// Overview is the scene of a place, with all that is fastened there, on a vehicle that is built so; nil where
// there is none.
func (a *Album) Overview(place string, built Answers) *Scene {
	return a.Find(wholeOf+place, "", built)
}

// Overview is the picture of a place by its name, and what it can show.
func (s *Shelf) Overview(scene *Scene, left bool) (name string, places Places, err error) {
	name, text, err := s.Over(scene, left)
	if err == nil {
		err = json.Unmarshal([]byte(text), &places)
	}
	return name, places, err
}

// places are those of a vehicle: of a part it has not there is none.
func (p *Picture) places(a *Album) Places {
	out := Places{Seats: []Seat{}, Touches: []Seat{}}
	for _, joint := range slices.Sorted(maps.Keys(a.Seats)) {
		for k, names := range a.Seats[joint] {
			if x, y, ok := p.seat(names); ok {
				out.Seats = append(out.Seats, Seat{Of: joint, K: k, X: math.Round(x), Y: math.Round(y)})
			}
		}
	}
	for _, op := range slices.Sorted(maps.Keys(a.Touch)) {
		v := p.shown[0]
		part, f, ok := v.stage.first(a.Touch[op])
		if !ok {
			continue
		}
		x, y := v.cam.At(f.At)
		if nx, ny, seen := v.nearest(v.stage.placed[part], x, y); seen {
			x, y = nx, ny
		}
		out.Touches = append(out.Touches, Seat{Of: op, X: math.Round(x), Y: math.Round(y)})
	}
	return out
}

// seat is where a fastener sits, in the pane that shows most of it, or which its head faces.
func (p *Picture) seat(names string) (x, y float64, ok bool) {
	most := math.Inf(-1)
	for _, v := range p.shown {
		part, f, there := v.stage.first(names)
		if !there {
			continue
		}
		px, py := v.cam.At(f.At)
		worth := float64(v.near(v.stage.placed[part], px, py)) - f.Axis.Unit().Dot(v.cam.Along)
		if worth > most {
			most, x, y, ok = worth, px+float64(v.x0), py, true
		}
	}
	return x, y, ok
}

// first is the first of several frames that the stage has, a stroke between their names, and the part it is of.
func (st *stage) first(names string) (part string, f Frame, ok bool) {
	for name := range strings.SplitSeq(names, " | ") {
		part, _, _ = strings.Cut(name, ".")
		if f, err := st.frame(name); err == nil {
			return part, f, true
		}
	}
	return "", Frame{}, false
}

// near is how many pixels show an item round a place.
func (v shown) near(item int, x, y float64) int {
	n, b := 0, v.buf
	for py := int(y) - seatNear; py <= int(y)+seatNear; py++ {
		for px := int(x) - seatNear; px <= int(x)+seatNear; px++ {
			sx, sy := px*b.Samples, py*b.Samples
			if sx >= 0 && sy >= 0 && sx < b.W && sy < b.H && int(b.Item[sy*b.W+sx]) == item+1 {
				n++
			}
		}
	}
	return n
}
