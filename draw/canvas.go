package draw

import (
	"fmt"
	"html/template"
	"math"
	"strings"
)

// canvas draws an SVG from figures. Texts are escaped; classes are ours.
type canvas struct {
	w, h  float64
	title string
	b     strings.Builder
}

func newCanvas(w, h float64, title string) *canvas { return &canvas{w: w, h: h, title: title} }

func (c *canvas) line(class string, x1, y1, x2, y2 float64) *canvas {
	fmt.Fprintf(&c.b, `<line class="%s" x1="%.1f" y1="%.1f" x2="%.1f" y2="%.1f"/>`, class, x1, y1, x2, y2)
	return c
}

func (c *canvas) rect(class string, x, y, w, h float64) *canvas {
	fmt.Fprintf(
		&c.b,
		`<rect class="%s" x="%.1f" y="%.1f" width="%.1f" height="%.1f" rx="3"/>`,
		class,
		x,
		y,
		math.Max(0, w),
		math.Max(0, h),
	)
	return c
}

// dot draws whole units without rounding their corners.
func (c *canvas) dot(class string, x, y, w float64) {
	fmt.Fprintf(&c.b, `<rect class="%s" x="%.0f" y="%.0f" width="%.0f" height="1"/>`, class, x, y, w)
}

func (c *canvas) circle(class string, x, y, r float64) *canvas {
	fmt.Fprintf(&c.b, `<circle class="%s" cx="%.1f" cy="%.1f" r="%.1f"/>`, class, x, y, r)
	return c
}

// path draws path data made of figures alone.
func (c *canvas) path(class, d string) *canvas {
	fmt.Fprintf(&c.b, `<path class="%s" d="%s"/>`, class, d)
	return c
}

// poly joins points; closed fills them.
func (c *canvas) poly(class string, closed bool, pts ...[2]float64) *canvas {
	kind := "polyline"
	if closed {
		kind = "polygon"
	}
	fmt.Fprintf(&c.b, `<%s class="%s" points="`, kind, class)
	for i, p := range pts {
		if i > 0 {
			c.b.WriteByte(' ')
		}
		fmt.Fprintf(&c.b, "%.1f,%.1f", p[0], p[1])
	}
	c.b.WriteString(`"/>`)
	return c
}

// arc draws part of a circle, degrees clockwise from the top.
func (c *canvas) arc(class string, x, y, r, from, to float64) *canvas {
	if to-from >= 360 {
		return c.circle(class, x, y, r)
	}
	a, b := polar(x, y, r, from), polar(x, y, r, to)
	large := 0
	if to-from > 180 {
		large = 1
	}
	fmt.Fprintf(
		&c.b,
		`<path class="%s" d="M%.1f,%.1f A%.1f,%.1f 0 %d 1 %.1f,%.1f"/>`,
		class,
		a[0],
		a[1],
		r,
		r,
		large,
		b[0],
		b[1],
	)
	return c
}

// polar is the point at r from x, y, degrees clockwise from the top.
func polar(x, y, r, deg float64) [2]float64 {
	s, k := math.Sincos(deg * math.Pi / 180)
	return [2]float64{x + r*s, y - r*k}
}

func (c *canvas) text(class string, x, y float64, anchor, format string, args ...any) *canvas {
	fmt.Fprintf(
		&c.b,
		`<text class="%s" x="%.1f" y="%.1f" text-anchor="%s">%s</text>`,
		class,
		x,
		y,
		anchor,
		template.HTMLEscapeString(fmt.Sprintf(format, args...)),
	)
	return c
}

func (c *canvas) html() template.HTML { return c.as("drawing") }

// silent is a drawing beside words that say the same.
func (c *canvas) silent(class string) template.HTML {
	return template.HTML(fmt.Sprintf(`<svg class="%s" viewBox="0 0 %.0f %.0f" aria-hidden="true">%s</svg>`,
		class, c.w, c.h, c.b.String()))
}

// as is the drawing under a class.
func (c *canvas) as(class string) template.HTML {
	return template.HTML(
		fmt.Sprintf(
			`<svg class="%s" viewBox="0 0 %.0f %.0f" role="img" aria-label="%s">%s</svg>`,
			class,
			c.w,
			c.h,
			template.HTMLEscapeString(c.title),
			c.b.String(),
		),
	)
}

// axes frames a diagram and maps its values to places.
type axes struct {
	*canvas
	x0, y0, x1, y1         float64 // corners, y0 below
	xmin, xmax, ymin, ymax float64
}

func (c *canvas) axes(xmin, xmax, ymin, ymax float64, xname, yname string) axes {
	a := axes{c, 56, c.h - 40, c.w - 16, 22, xmin, xmax, ymin, ymax}
	for _, v := range ticks(ymin, ymax) {
		c.line("grid", a.x0, a.y(v), a.x1, a.y(v)).text("axis", a.x0-6, a.y(v)+4, "end", "%s", Plain(v))
	}
	for _, v := range ticks(xmin, xmax) {
		c.text("axis", a.x(v), a.y0+16, "middle", "%s", Plain(v))
	}
	c.line("frame", a.x0, a.y0, a.x1, a.y0)
	c.text("axis", a.x1, a.y0+32, "end", "%s", xname).text("axis", a.x0-50, a.y1-8, "start", "%s", yname)
	return a
}

func (a axes) x(v float64) float64 { return a.x0 + (a.x1-a.x0)*(v-a.xmin)/(a.xmax-a.xmin) }
func (a axes) y(v float64) float64 { return a.y0 + (a.y1-a.y0)*(v-a.ymin)/(a.ymax-a.ymin) }
func (a axes) at(x, y float64) [2]float64 {
	return [2]float64{a.x(x), a.y(y)}
}

// ticks are four to eight round values between two ends.
func ticks(lo, hi float64) []float64 {
	span := hi - lo
	if !(span > 0) || math.IsInf(span, 0) {
		return nil
	}
	step := math.Pow(10, math.Floor(math.Log10(span)))
	for _, k := range []float64{0.1, 0.2, 0.25, 0.5, 1, 2, 5} {
		if span/(step*k) <= 8 {
			step *= k
			break
		}
	}
	var out []float64
	for v := math.Ceil(lo/step) * step; v <= hi+step*1e-6; v += step {
		out = append(out, v)
	}
	return out
}

// Plain is a figure with four digits that matter.
func Plain(v float64) string {
	s := fmt.Sprintf("%.4g", v)
	if s == "-0" {
		return "0"
	}
	return s
}
