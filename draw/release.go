package draw

import (
	"fmt"
	"html/template"
	"math"

	"lugtak/core/release"
	"lugtak/core/unit"
)

// PullRisk draws what a pull on a bar does: sprung, then strained, then shorn. Force is told at the end of a bar of
// that length, mm. Nothing of it is called safe.
func PullRisk(p release.Pull, barMM float64) template.HTML {
	yields := unit.Torque(math.Floor(p.Yields))
	shears := unit.Torque(math.Round(p.Shears))
	c := newCanvas(560, 94, fmt.Sprintf("it yields near %s and shears near %s", yields, shears))
	top := math.Max(p.Shears, p.Yields) * 1.12
	x := func(m float64) float64 { return 10 + 540*m/top }
	c.rect("b-sprung", x(0), 8, x(p.Yields)-x(0), 22)
	c.rect("b-strain", x(p.Yields), 8, x(p.Shears)-x(p.Yields), 22)
	c.rect("b-shear", x(p.Shears), 8, x(top)-x(p.Shears), 22)
	force := math.Round(p.Yields / barMM * 1000)
	c.text("b-words", 10, 56, "start", "yields near %s: %s N on %s mm", yields.Both(), Plain(force), Plain(barMM))
	c.text("b-words bad", 550, 86, "end", "shears near %s", shears.Both())
	return c.as("pull")
}
