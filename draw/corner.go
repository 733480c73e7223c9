package draw

import (
	"fmt"
	"html/template"
	"math"
	"slices"
	"strings"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/unit"
)

// CornerPicture is the corner as one stands before it.
type CornerPicture struct {
	Title  string
	W, H   float64
	Shapes []ShapeView
	Heads  []HeadView
	Labels []LabelView

	VX, VY, VW, VH float64       // the part of it that is shown
	Text           float64       // the size of its words
	Words          []Box         // that stand in it
	Over           template.HTML // what the hand does, over it
	Inset          bool          // the whole is shown small beside the part
	InsetAt        string        // in which corner of it
}

// View is the part shown, as an SVG says it.
func (v CornerPicture) View() string {
	return fmt.Sprintf("%.0f %.0f %.0f %.0f", v.VX, v.VY, v.VW, v.VH)
}

// ShapeView is one outline of a picture.
type ShapeView struct {
	Role, Path string
	Circle     bool
	X, Y, R    float64
}

// HeadView is a fastener where it sits.
type HeadView struct {
	Sign
	X, Y, R   float64
	Letter    string
	LetterY   float64
	Joint     string
	Here      bool
	Faint     bool
	Name      string
	Left, Top float64
	Size      float64
}

// LabelView is a joint's name with its leader line.
type LabelView struct {
	X, Y         float64
	Anchor       string
	Text, Sub    string
	LineX, LineY float64
	FromX, FromY float64
	Trouble      bool
}

// Corner draws the corner with its signs where the joints are. The geometry is
// of the left side; the right is its mirror image. Joints of the step at hand
// are drawn over the others, where several share a place.
func Corner(st *job.State, step *plan.Step, current string) CornerPicture {
	if len(st.Plan.Scenes) == 0 {
		return CornerPicture{}
	}
	p := st.Plan.Scenes[0]
	if step != nil && step.Scene < len(st.Plan.Scenes) {
		p = st.Plan.Scenes[step.Scene]
	}
	v := CornerPicture{W: p.Width, H: p.Height, Title: p.Title, VW: p.Width, VH: p.Height}
	if p.Corner != "" {
		v.Title = p.Corner.Axle() + " " + p.Corner.Side() + ", " + p.Title
	}
	v.Title = unit.Capital(v.Title)
	flip := func(pt operation.Point) (float64, float64) {
		if p.Corner == "" || p.Corner.Left() {
			return pt[0], pt[1]
		}
		return p.Width - pt[0], pt[1]
	}
	v.Shapes = outlines(p.Shapes, flip)
	var here []HeadView
	account := st.Account()
	for i := range st.Plan.Joints {
		j := &st.Plan.Joints[i]
		if !slices.Contains(p.Joints, j.ID) {
			continue
		}
		at := step != nil && step.Joint == j.ID
		var jx, jy float64
		lx, ly := flip(j.Label)
		stuck := ""
		for k, l := range j.Letters {
			if k >= len(j.At) {
				break
			}
			f := st.Fastener(j.ID, l)
			x, y := flip(j.At[k])
			if k == 0 || math.Hypot(x-lx, y-ly) < math.Hypot(jx-lx, jy-ly) {
				jx, jy = x, y
			}
			if f.Trouble != "" {
				for _, t := range st.Troubles {
					if t.ID == f.Trouble {
						stuck = t.What
					}
				}
			}
			h := HeadView{
				Sign:  Sign{j.Drive, f.Sign()},
				X:     x,
				Y:     y,
				R:     1.55 * j.Size,
				Joint: j.ID,
				Here:  at && l == current,
				Faint: !at && f.Sign() == job.Rest,
				Name:  unit.Capital(j.One) + " " + l + ": " + f.Sign().Words(),
			}
			h.Left, h.Top, h.Size = x-h.R, y-h.R, 2*h.R
			if at && len(j.Letters) > 1 {
				h.Letter, h.LetterY = l, y+1.55*j.Size+9
			}
			if at {
				here = append(here, h)
			} else {
				v.Heads = append(v.Heads, h)
			}
		}
		lb := LabelView{Text: j.Title, FromX: jx, FromY: jy, Trouble: stuck != ""}
		lb.X, lb.Y = lx, ly
		paid := account.Of(func(id job.FastenerID) bool { return id.Joint == j.ID })
		owed := paid.Count(job.GradeOwed)
		switch {
		case stuck != "":
			lb.Sub = stuck
		case paid.Count(job.GradeTraced) == len(j.Letters):
			lb.Text += " · proved"
		case owed == 0 && paid.Opened() == len(j.Letters):
			lb.Sub = paid.Says()
		case owed > 0:
			lb.Sub = fmt.Sprintf("%d owed", owed)
			if allOut(st, j) {
				lb.Sub = "out in tray " + j.Tray
			}
		}
		v.Labels = append(v.Labels, lb)
	}
	v.Heads = hideUnder(v.Heads, here)
	v.Heads = append(v.Heads, here...)
	place(v.Labels, p.Width, p.Height)
	return v
}

// outlines turns the shapes of a place into outlines, each point put where it belongs.
func outlines(shapes []operation.Shape, put func(operation.Point) (x, y float64)) []ShapeView {
	var out []ShapeView
	for _, s := range shapes {
		sv := ShapeView{Role: s.Role}
		pts := make([][2]float64, len(s.Points))
		for i, pt := range s.Points {
			pts[i][0], pts[i][1] = put(pt)
		}
		switch s.Kind {
		case "circle":
			sv.Circle, sv.X, sv.Y, sv.R = true, pts[0][0], pts[0][1], s.Radius
		case "spring":
			sv.Path = spring(pts[0], pts[len(pts)-1], s.Radius)
		case "line":
			sv.Path = "M" + strings.Replace(points(pts), " ", " L", -1)
		default:
			sv.Path = Smooth(pts, s.Kind == "closed")
		}
		out = append(out, sv)
	}
	return out
}

func allOut(st *job.State, j *plan.Joint) bool {
	return !slices.ContainsFunc(j.Letters, func(l string) bool { return st.Fastener(j.ID, l).Mark() != job.Out })
}

// hideUnder drops signs that the signs at hand would cover.
func hideUnder(all, here []HeadView) []HeadView {
	return slices.DeleteFunc(all, func(h HeadView) bool {
		return slices.ContainsFunc(here, func(o HeadView) bool { return math.Hypot(h.X-o.X, h.Y-o.Y) < 0.8*(h.R+o.R)/1.55 })
	})
}

// place keeps labels of one side apart and draws their leader lines.
func place(ls []LabelView, w, h float64) {
	for _, right := range []bool{false, true} {
		var side []*LabelView
		for i := range ls {
			if (ls[i].X > w/2) == right {
				side = append(side, &ls[i])
			}
		}
		slices.SortFunc(side, func(a, b *LabelView) int { return int(a.Y - b.Y) })
		for i, l := range side {
			if i > 0 {
				gap := 30.0
				if side[i-1].Sub != "" {
					gap = 44
				}
				l.Y = math.Max(l.Y, side[i-1].Y+gap)
			}
		}
		foot := h - 24
		if n := len(side); n > 0 && side[n-1].Y > foot {
			up := side[n-1].Y - foot
			for _, l := range side {
				l.Y -= up
			}
		}
		wide := 0.0 // of the side's widest text, at the picture's type size
		for _, l := range side {
			wide = math.Max(wide, 7.4*float64(max(len([]rune(l.Text)), len([]rune(l.Sub)))))
		}
		for _, l := range side {
			l.LineY = l.Y - 5
			if right {
				l.X, l.Anchor = w-6-wide, "start"
				l.LineX = l.X - 5
			} else {
				l.X, l.Anchor = 6+wide, "end"
				l.LineX = l.X + 5
			}
		}
	}
}

// Smooth lays a curve through points (Catmull-Rom as cubic Béziers).
func Smooth(p [][2]float64, closed bool) string {
	n := len(p)
	if n < 2 {
		return ""
	}
	at := func(i int) [2]float64 {
		if closed {
			return p[(i%n+n)%n]
		}
		return p[min(n-1, max(0, i))]
	}
	var b strings.Builder
	fmt.Fprintf(&b, "M%.1f,%.1f", p[0][0], p[0][1])
	last := n - 1
	if closed {
		last = n
	}
	for i := range last {
		a, s, e, z := at(i-1), at(i), at(i+1), at(i+2)
		fmt.Fprintf(
			&b,
			" C%.1f,%.1f %.1f,%.1f %.1f,%.1f",
			s[0]+(e[0]-a[0])/6,
			s[1]+(e[1]-a[1])/6,
			e[0]-(z[0]-s[0])/6,
			e[1]-(z[1]-s[1])/6,
			e[0],
			e[1],
		)
	}
	if closed {
		b.WriteString("Z")
	}
	return b.String()
}

// spring draws a coil between two points.
func spring(a, z [2]float64, r float64) string {
	var b strings.Builder
	n := 5
	fmt.Fprintf(
		&b,
		"M%.1f,%.1f L%.1f,%.1f L%.1f,%.1f L%.1f,%.1fZ",
		a[0]-r,
		a[1],
		a[0]+r,
		a[1],
		z[0]+r*0.86,
		z[1],
		z[0]-r*0.6,
		z[1],
	)
	for i := 1; i < n; i++ {
		t := float64(i) / float64(n)
		x, y := a[0]+(z[0]-a[0])*t, a[1]+(z[1]-a[1])*t
		fmt.Fprintf(&b, " M%.1f,%.1f L%.1f,%.1f", x-r*(1-0.3*t), y-3, x+r*(1-0.1*t), y+3)
	}
	return b.String()
}

// shortest is what a bar can bear of a step's title.
func shortest(st *plan.Step) string {
	words := strings.FieldsFunc(st.Title, func(r rune) bool { return r == ' ' || r == ',' || r == ':' })
	if len(words) > 2 {
		words = words[:2]
	}
	return strings.ToLower(strings.Join(words, " "))
}
