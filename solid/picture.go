package solid

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"
)

// Picture is a drawn scene: pixels that a palette colours, and SVG to lie above them.
type Picture struct {
	Over  string   // SVG, in a frame of Width by Height; of an overview its Places, as JSON
	Lacks []string // labels without room, or about what is not seen: none in a scene that holds

	sheet *sheet
	shown []shown
}

// PNG is the picture in a palette.
func (p *Picture) PNG(in Palette) ([]byte, error) { return p.sheet.png(in) }

// shown is one pane as it was drawn.
type shown struct {
	scene Scene
	stage *stage
	cam   Camera
	buf   *Buffer
	x0    int
}

const samples = 2 // to a pixel's side

// Draw draws a scene with the parts of a corner, for the right side of a vehicle or for its left.
func Draw(s Scene, parts map[string]*Part, a *Album, left bool) (*Picture, error) {
	return drawAt(samples, s, parts, a, left)
}

func drawAt(samples int, s Scene, parts map[string]*Part, a *Album, left bool) (*Picture, error) {
	if left {
		s = s.mirrored()
	}
	pic := &Picture{sheet: newSheet(Width, Height)}
	panes := s.panes()
	over := newPage()
	most := math.Inf(1) // px to a mm
	for _, p := range panes {
		if s.ToScale {
			v, err := stand(p, parts, a, left, Width/len(panes))
			if err != nil {
				return nil, fmt.Errorf("scene %s: %w", s.Key, err)
			}
			most = math.Min(most, v.cam.Scale)
		}
	}
	for i, p := range panes {
		v, err := drawPane(samples, p, parts, a, left, Width/len(panes), i, most)
		if err != nil {
			return nil, fmt.Errorf("scene %s: %w", s.Key, err)
		}
		pic.sheet.lay(v.buf.ink(v.stage.items, v.cam.Scale, 1), v.buf.W, samples, v.x0, 0, false)
		over.weigh(v.buf, v.stage.items, v.x0)
		pic.shown = append(pic.shown, v)
		if i > 0 {
			fmt.Fprintf(&over.svg, `<path class="o-part" d="M%d 20V%d"/>`, v.x0, Height-20)
			over.taken = append(over.taken, box{float64(v.x0) - 4, 0, 8, Height})
		}
	}
	over.sealed()
	for _, v := range pic.shown {
		if v.scene.Sign != "" {
			over.sign(v.scene.Sign == "good", float64(v.x0)+60, 60)
		}
	}
	for i, v := range pic.shown {
		if err := v.signs(over); err != nil {
			return nil, fmt.Errorf("scene %s: %w", s.Key, err)
		}
		if i == 0 && s.Where != "" {
			pic.onCar(s.Where, left, parts, over)
		}
		for _, l := range v.scene.Lenses {
			if err := pic.lens(v, l, parts, a, left, over); err != nil {
				return nil, fmt.Errorf("scene %s: %w", s.Key, err)
			}
		}
	}
	for _, v := range pic.shown {
		if err := v.fasteners(over); err != nil {
			return nil, fmt.Errorf("scene %s: %w", s.Key, err)
		}
		for _, l := range v.scene.Labels {
			f, err := v.stage.frame(l.At)
			if err != nil {
				return nil, fmt.Errorf("scene %s: %w", s.Key, err)
			}
			x, y := v.cam.At(f.At.Add(l.Off))
			name, _, _ := strings.Cut(l.At, ".")
			nx, ny, seen := v.nearest(v.stage.placed[name], x, y)
			if !seen {
				over.lacks = append(over.lacks, "nothing of “"+name+"” is seen, for “"+l.Says+"”")
				continue
			}
			over.words(l, nx+float64(v.x0), ny)
		}
	}
	pic.Over, pic.Lacks = over.svg.String(), over.lacks
	if s.Overview {
		places, err := json.Marshal(pic.places(a))
		if err != nil {
			return nil, err
		}
		pic.Over = string(places)
	}
	return pic, nil
}

// stand sets a pane up and looks at it.
func stand(p Scene, parts map[string]*Part, a *Album, left bool, w int) (shown, error) {
	st, err := set(p, parts, a, left)
	if err != nil {
		return shown{}, err
	}
	p.From = st.stand(p)
	return shown{scene: p, stage: st, cam: st.fit(Look(p.From[0], p.From[1]), w, Height, p)}, nil
}

// drawPane draws a pane, the at-th, at no more than so many pixels to a millimetre.
func drawPane(samples int, p Scene, parts map[string]*Part, a *Album, left bool, w, at int, most float64) (shown,
	error) {
	v, err := arrange(p, parts, a, left, w, at, most)
	if err != nil {
		return shown{}, err
	}
	v.buf = Solve(v.stage.items, v.cam, v.scene.Cuts, samples)
	return v, nil
}

// arrange is a pane with its tools and arrows where they are seen best, before it is drawn.
func arrange(p Scene, parts map[string]*Part, a *Album, left bool, w, at int, most float64) (shown, error) {
	v, err := stand(p, parts, a, left, w)
	if err != nil {
		return shown{}, err
	}
	v.x0, v.cam.Scale = at*w, math.Min(v.cam.Scale, most)
	trial := v.cam
	trial.W, trial.H, trial.Scale = trialW*w/Width, trialH, v.cam.Scale*trialH/Height
	for _, u := range v.scene.Uses {
		if !u.Aside {
			continue
		}
		if err := v.stage.aside(u, v.scene, trial); err != nil {
			return shown{}, err
		}
	}
	if err := v.stage.arrows(v.scene, v.cam); err != nil {
		return shown{}, err
	}
	return v, nil
}

// at is where a frame comes to lie in the whole picture.
func (v shown) at(name string, off Vec) (x, y float64, err error) {
	f, err := v.stage.frame(name)
	if err != nil {
		return 0, 0, err
	}
	x, y = v.cam.At(f.At.Add(off))
	return x + float64(v.x0), y, nil
}

// signs lays bursts, crosses and dimensions over a pane.
func (v shown) signs(over *page) error {
	for _, m := range v.scene.Marks {
		switch {
		case m.A != "":
			x1, y1, err := v.at(m.A, Vec{})
			if err != nil {
				return err
			}
			x2, y2, err := v.at(m.B, Vec{})
			if err != nil {
				return err
			}
			ox, oy := m.Out.Dot(v.cam.Right)*v.cam.Scale, -m.Out.Dot(v.cam.Up)*v.cam.Scale
			over.dimension(line{x1, y1, x2, y2}, ox, oy, m.Says, float64(v.x0), float64(v.x0+v.cam.W))
		case m.Blow != "":
			x, y, err := v.at(m.Blow, Vec{})
			if err != nil {
				return err
			}
			over.burst(x, y)
		case m.Never != "":
			x, y, err := v.at(m.Never, m.Off)
			if err != nil {
				return err
			}
			over.cross(x, y)
		}
	}
	return nil
}

// nearest is the place nearest to x, y where an item is really seen, a little inside its edge.
func (v shown) nearest(item int, x, y float64) (nx, ny float64, ok bool) {
	b := v.buf
	is := func(px, py int) bool {
		return px >= 0 && py >= 0 && px < b.W && py < b.H && int(b.Item[py*b.W+px]) == item+1
	}
	for in := 5 * b.Samples; in >= b.Samples; in -= 2 * b.Samples {
		best := math.Inf(1)
		for py := in; py < b.H-in; py += b.Samples {
			if math.Abs(float64(py/b.Samples)-y) >= best {
				continue
			}
			for px := in; px < b.W-in; px += b.Samples {
				if int(b.Item[py*b.W+px]) != item+1 || !is(px-in, py) || !is(px+in, py) || !is(px, py-in) || !is(px, py+in) {
					continue
				}
				at := [2]float64{float64(px / b.Samples), float64(py / b.Samples)}
				if d := math.Hypot(at[0]-x, at[1]-y); d < best {
					best, nx, ny = d, at[0], at[1]
				}
			}
		}
		if !math.IsInf(best, 1) {
			return nx, ny, true
		}
	}
	return 0, 0, false
}

// lensRadius is that of a lens which does not say, and lensRoom what stays free round it, px.
const (
	lensRadius = 150.0
	lensRoom   = 8.0
)

// lens shows a place of a pane larger, tied to it by a line.
func (p *Picture) lens(v shown, l Lens, parts map[string]*Part, a *Album, left bool, over *page) error {
	s := v.scene
	s.Marks = nil
	if l.Bare {
		s.Uses = nil
	}
	st, err := set(s, parts, a, left)
	if err != nil {
		return err
	}
	f, err := v.stage.frame(l.At)
	if err != nil {
		return err
	}
	r := l.R
	if r == 0 {
		r = lensRadius
	}
	cam := v.cam
	if len(l.From) == 2 {
		cam = Look(l.From[0], l.From[1])
	}
	cam.Scale, cam.Middle, cam.W, cam.H = v.cam.Scale*l.Zoom, f.At, int(2*r), int(2*r)
	buf := Solve(st.items, cam, s.Cuts, v.buf.Samples)
	ax, ay := v.cam.At(f.At)
	ax += float64(v.x0)
	at, ok := box{}, true
	if len(l.Place) == 2 {
		at = box{l.Place[0] - r, l.Place[1] - r, 2 * r, 2 * r}
	} else {
		at, ok = over.place(2*r+lensRoom, 2*r+lensRoom, ax, ay, "", true)
	}
	if !ok {
		over.lacks = append(over.lacks, "no room for a lens at “"+l.At+"”")
		return nil
	}
	x, y := at.x+at.w/2, at.y+at.h/2
	p.sheet.lay(buf.ink(st.items, cam.Scale, 1), buf.W, buf.Samples, int(x-r), int(y-r), true)
	small := math.Max(r/l.Zoom, 18)
	if d := math.Hypot(x-ax, y-ay); d > r+small {
		ux, uy := (x-ax)/d, (y-ay)/d
		tie := line{ax + ux*small, ay + uy*small, x - ux*r, y - uy*r}
		for _, class := range []string{"o-ring under", "o-ring"} {
			fmt.Fprintf(&over.svg,
				`<circle class="%s" cx="%.0f" cy="%.0f" r="%.0f"/><path class="%s" d="M%.0f %.0fL%.0f %.0f"/>`,
				class, ax, ay, small, class, tie.x1, tie.y1, tie.x2, tie.y2)
		}
		over.lines = append(over.lines, tie)
	}
	for _, class := range []string{"o-ring under", "o-ring"} {
		fmt.Fprintf(&over.svg, `<circle class="%s" cx="%.0f" cy="%.0f" r="%.0f"/>`, class, x, y, r)
	}
	over.taken = append(over.taken, box{x - r, y - r, 2 * r, 2 * r}.wider(lensRoom, lensRoom))
	if l.Sign != "" {
		over.sign(l.Sign == "good", x-r*0.72, y-r*0.72)
	}
	return nil
}

// The small car, and from how much of its room being used on it is left out.
const (
	carW, carH = 250, 160
	carFull    = 160.0
	carEl      = 24.0
)

// onCar puts a small car into the emptiest corner, seen as the picture is, and shows where on it one is.
func (p *Picture) onCar(where string, left bool, parts map[string]*Part, over *page) {
	v := p.shown[0]
	wheel := map[string]string{"front": "car-fr", "rear": "car-rr", "under": "car-under"}[where]
	if left {
		wheel = map[string]string{"front": "car-fl", "rear": "car-rl", "under": "car-under"}[where]
	}
	st := &stage{parts: map[string]*Part{}, placed: map[string]int{}}
	for _, n := range []string{"car", "car-fr", "car-fl", "car-rr", "car-rl", "car-under"} {
		if n == "car-under" && where != "under" || parts[n] == nil {
			continue
		}
		role := Rubber
		switch n {
		case wheel:
			role = Hand
		case "car":
			role = Plain
		}
		st.put(parts[n], n, role, Still, Scene{})
		st.items[len(st.items)-1].Over = n == wheel
	}
	el := math.Max(carEl, math.Abs(v.scene.From[1]))
	if v.scene.From[1] < 0 {
		el = -carEl
	}
	cam := st.fit(Look(v.scene.From[0], el), carW, carH, Scene{Zoom: 0.92})
	least, at := math.Inf(1), box{}
	for _, c := range []box{
		{10, 10, carW, carH}, {Width - carW - 10, 10, carW, carH},
		{10, Height - carH - 10, carW, carH}, {Width - carW - 10, Height - carH - 10, carW, carH},
	} {
		if load := over.load(c); load < least-1 && !over.clashes(c, nil) {
			least, at = load, c
		}
	}
	if least > carFull {
		over.lacks = append(over.lacks, "no room for the car")
		return
	}
	buf := Solve(st.items, cam, nil, v.buf.Samples)
	p.sheet.lay(buf.ink(st.items, cam.Scale, 0.6), buf.W, buf.Samples, int(at.x), int(at.y), false)
	over.taken = append(over.taken, at)
}
