package draw

import (
	"fmt"
	"html/template"
	"strconv"
	"strings"

	"lugtak/core/job"
	"lugtak/sign"
)

// SymbolID names the sign of a head in a state within the sprite.
func SymbolID(drive string, m job.Mark) string {
	if drive == "" {
		drive = "hexagon"
	}
	return "s-" + drive + "-" + string(m)
}

// Sprite draws every sign once; pages use it by reference.
func Sprite() template.HTML {
	var b strings.Builder
	b.WriteString(`<svg class="sprite" aria-hidden="true">`)
	for _, d := range sign.Drives {
		for _, m := range sign.Marks {
			fmt.Fprintf(&b, `<symbol id="%s" viewBox="-34 -34 68 68">`, SymbolID(d, m))
			for _, s := range sign.Shapes(d, m) {
				b.WriteString(shapeSVG(s, m == job.Rest, sign.Dark(m)))
			}
			b.WriteString(`</symbol>`)
		}
	}
	b.WriteString(`</svg>`)
	return template.HTML(b.String())
}

func shapeSVG(s sign.Shape, rest, dark bool) string {
	class := "f-" + s.Role
	if rest {
		class += " f-rest"
	}
	if dark && s.Role == "head" {
		class += " f-dark"
	}
	switch s.Kind {
	case "circle":
		return fmt.Sprintf(`<circle class="%s" r="%s"/>`, class, px(s.Radius))
	case "polygon":
		return fmt.Sprintf(`<polygon class="%s" points="%s"/>`, class, points(s.Points))
	case "wedge":
		large := 0
		if s.Deg > 180 {
			large = 1
		}
		x, y := PieEnd(s.Radius, s.Deg)
		return fmt.Sprintf(
			`<path class="%s" d="M0,0V-%s A%s,%s 0 %d 1 %s,%sZ"/>`,
			class,
			px(s.Radius),
			px(s.Radius),
			px(s.Radius),
			large,
			px(x),
			px(y),
		)
	}
	return fmt.Sprintf(`<polyline class="%s" points="%s"/>`, class, points(s.Points))
}

func px(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

func points(p [][2]float64) string {
	var b strings.Builder
	for i, x := range p {
		if i > 0 {
			b.WriteByte(' ')
		}
		b.WriteString(px(x[0]) + "," + px(x[1]))
	}
	return b.String()
}
