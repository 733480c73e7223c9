package draw

import (
	"fmt"
	"html/template"
	"math"

	"lugtak/core/release"
	"lugtak/core/unit"
)

// SafePull draws how far one may pull on a bar: safe, then strained, then shorn. Force is
// what a bar so long asks for at the safe end.
func SafePull(p release.Pull, barMM float64) template.HTML {
	safe := unit.Torque(math.Floor(p.Safe))
	shears := unit.Torque(math.Round(p.Shears))
	c := newCanvas(560, 94, fmt.Sprintf("pull up to %s; it shears near %s", safe, shears))
	top := math.Max(p.Shears, p.Safe) * 1.12
	x := func(m float64) float64 { return 10 + 540*m/top }
	c.rect("b-safe", x(0), 8, x(p.Safe)-x(0), 22)
	c.rect("b-strain", x(p.Safe), 8, x(p.Shears)-x(p.Safe), 22)
	c.rect("b-shear", x(p.Shears), 8, x(top)-x(p.Shears), 22)
	force := math.Round(p.Safe / barMM * 1000)
	c.text("b-words", 10, 56, "start", "safe to %s: %s N on %s mm", safe.Both(), Plain(force), Plain(barMM))
	c.text("b-words bad", 550, 86, "end", "shears near %s", shears.Both())
	return c.as("pull")
}
