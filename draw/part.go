package draw

import (
	"html/template"
	"math"
	"strings"
)

// Part draws the old part and the new one side by side, both to one scale,
// from what was measured of them. Round parts are seen from the front, long ones
// from the side, the others as the box their measures span.
func Part(kind string, old, new map[string]float64) template.HTML {
	shape := silhouettes[kind]
	if shape == nil {
		shape = box("length_mm", "thread_mm")
	}
	size := 0.0
	for _, m := range []map[string]float64{old, new} {
		c := newCanvas(1, 1, "")
		w, h := shape(c, m, 0, 0, 1)
		size = math.Max(size, math.Max(w/230, h/190))
	}
	if size == 0 {
		return ""
	}
	c := newCanvas(540, 270, "old and new part side by side, to one scale")
	for i, m := range []map[string]float64{old, new} {
		x := 135 + 270*float64(i)
		c.text("d-text part-name", x, 24, "middle", "%s", []string{"old", "new"}[i])
		if w, h := shape(c, m, x, 130, 1/size); w == 0 && h == 0 {
			c.text("d-text dim", x, 130, "middle", "not measured")
		}
	}
	c.line("d-dim", 20, 240, 20+50/size, 240).text("d-text dim", 28+50/size, 244, "start", "50 mm")
	return c.html()
}

// silhouette draws a part about a centre at so many units for a millimetre and
// gives its extent in millimetres.
type silhouette func(c *canvas, m map[string]float64, x, y, k float64) (w, h float64)

var silhouettes = map[string]silhouette{
	"rotor":          round("diameter_mm", "hole_circle_mm", "bore_mm"),
	"hub unit":       round("bolt_circle_mm", "pilot_mm"),
	"drive axle":     rod("length_mm", "joint_mm", "spline_mm"),
	"tie rod":        rod("length_mm", "taper_mm", "thread_mm"),
	"link":           rod("length_mm", "", "thread_mm"),
	"strut":          telescope,
	"damper":         telescope,
	"control arm":    rod("length_mm", "", "taper_mm"),
	"idler arm":      rod("length_mm", "bolt_circle_mm", "taper_mm"),
	"ball joint":     stud,
	"fastener":       box("length_mm", "flange_mm"),
	"pads":           box("width_mm", "height_mm"),
	"centre support": box("hole_distance_mm", "height_mm"),
	"mount":          box("hole_distance_mm", "height_mm"),

	"shoes":           box("arc_mm", "width_mm"),
	"wheel cylinder":  box("hole_distance_mm", "bore_mm"),
	"caliper":         box("hole_distance_mm", "piston_mm"),
	"hose":            rod("length_mm", "", "thread_mm"),
	"cable":           rod("length_mm", "", "free_mm"),
	"spring":          box("wire_mm", "free_mm"),
	"leaf":            rod("length_mm", "", "width_mm"),
	"stud":            rod("length_mm", "", "knurl_mm"),
	"rack":            box("mount_mm", "thread_mm"),
	"brake motor":     box("hole_distance_mm", ""),
	"steering coil":   round("turns"),
	"centre bolt":     rod("length_mm", "", "head_mm"),
	"cross":           box("span_mm", "cap_mm"),
	"outer joint":     round("joint_mm"),
	"taper bearing":   round("outside_mm", "bore_mm"),
	"pressed bearing": round("outside_mm", "bore_mm"),
	"air spring":      box("diameter_mm", "length_mm"),
}

// round draws the circles of a part seen from the front.
func round(fields ...string) silhouette {
	return func(c *canvas, m map[string]float64, x, y, k float64) (float64, float64) {
		widest := 0.0
		for _, f := range fields {
			d := m[f]
			if d <= 0 {
				continue
			}
			class := "d-part"
			if strings.Contains(f, "circle") {
				class = "d-hole"
				if n := int(m["holes"]); n > 0 && n < 20 {
					for i := range n {
						p := polar(x, y, k*d/2, 360*float64(i)/float64(n))
						c.circle("d-hole", p[0], p[1], math.Max(2, 4*k))
					}
				}
			}
			c.circle(class, x, y, k*d/2)
			widest = math.Max(widest, d)
		}
		return widest, widest
	}
}

// rod draws a long part from the side, its thicker end on the left.
func rod(long, thick, thin string) silhouette {
	return func(c *canvas, m map[string]float64, x, y, k float64) (float64, float64) {
		l := m[long]
		if l <= 0 {
			return 0, 0
		}
		a, b := m[thick], m[thin]
		if b <= 0 {
			b = l / 24
		}
		if a <= 0 {
			a = 2.4 * b
		}
		c.rect("d-part", x-k*l/2+k*a/2, y-k*b/2, k*(l-a/2-b), k*b)
		c.circle("d-part", x-k*l/2+k*a/2, y, k*a/2).circle("d-part", x+k*l/2-k*b, y, k*b)
		return l, math.Max(a, 2*b)
	}
}

// telescope draws a damper from the side: its tube as long as it is compressed, the
// rod beyond, and the seat of a strut's spring.
func telescope(c *canvas, m map[string]float64, x, y, k float64) (float64, float64) {
	l, tube, seat := m["extended_mm"], m["compressed_mm"], m["seat_mm"]
	if l <= 0 {
		return 0, 0
	}
	if tube <= 0 || tube > l {
		tube = 0.65 * l
	}
	wide := math.Max(50, m["eye_width_mm"])
	left := x - k*l/2
	c.rect("d-part", left+k*tube*0.9, y-k*6, k*(l-tube*0.9), k*12).rect("d-part", left, y-k*wide/2, k*tube*0.9, k*wide)
	if seat > 0 {
		c.rect("d-part", left+k*tube*0.6, y-k*seat/2, math.Max(3, 8*k), k*seat)
	}
	if d := m["stud_circle_mm"]; d > 0 {
		c.line("d-hole", left+k*l, y-k*d/2, left+k*l, y+k*d/2)
	}
	return l, math.Max(wide, seat)
}

// stud draws a ball joint's taper, its length and the cross hole.
func stud(c *canvas, m map[string]float64, x, y, k float64) (float64, float64) {
	d, l := m["taper_mm"], m["stud_mm"]
	if d <= 0 {
		return 0, 0
	}
	if l <= 0 {
		l = 2.5 * d
	}
	c.poly(
		"d-part",
		true,
		[2]float64{x - k*d/2, y + k*l/2},
		[2]float64{x + k*d/2, y + k*l/2},
		[2]float64{x + k*d*0.36, y - k*l/2},
		[2]float64{x - k*d*0.36, y - k*l/2},
	)
	if h := m["hole_height_mm"]; h > 0 {
		c.circle("d-hole", x, y+k*l/2-k*h, math.Max(2, 2*k))
	}
	return d, l
}

// box draws the rectangle two measures span.
func box(wide, high string) silhouette {
	return func(c *canvas, m map[string]float64, x, y, k float64) (float64, float64) {
		w, h := m[wide], m[high]
		if w <= 0 {
			return 0, 0
		}
		if h <= 0 {
			h = w / 4
		}
		c.rect("d-part", x-k*w/2, y-k*h/2, k*w, k*h)
		return w, h
	}
}
