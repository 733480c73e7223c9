package draw

import (
	"cmp"
	"fmt"
	"html/template"
	"math"
	"slices"
	"strings"

	"lugtak/solid"
)

// Seated is a fastener where it sits in the picture of its corner, px.
type Seated struct {
	Sign
	X, Y  float64
	Name  string
	Link  template.HTMLAttr // by which it is chosen; none: it is not
	Here  bool              // in hand
	Faint bool              // it rests
}

// The signs of an overview, px of the picture.
const (
	seatR     = 26.0
	seatRing  = 36.0
	seatGap   = 4.0
	seatMoved = 8.0 // from how far on a line leads to where it sits
)

// apartTries is how often signs are moved at most.
const apartTries = 60

// Overview is the picture of a corner from solids with a sign at each fastener; signs that would lie on one
// another are moved apart.
func Overview(picture, says string, all []Seated, turns bool) template.HTML {
	at := make([][2]float64, len(all))
	for i, x := range all {
		at[i] = [2]float64{x.X, x.Y}
	}
	Apart(at, 2*seatR+seatGap, seatRing)
	order := make([]int, len(all)) // the one in hand last, over the others
	for i := range order {
		order[i] = i
	}
	rank := func(i int) int {
		switch {
		case all[i].Here:
			return 2
		case all[i].Faint:
			return 0
		}
		return 1
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(rank(a), rank(b)) })
	var over strings.Builder
	for _, i := range order {
		if x := all[i]; math.Hypot(at[i][0]-x.X, at[i][1]-x.Y) > seatMoved {
			fmt.Fprintf(&over,
				`<path class="o-lead" d="M%.0f %.0fL%.0f %.0f"/><circle class="o-dot" cx="%.0f" cy="%.0f" r="5"/>`,
				at[i][0], at[i][1], x.X, x.Y, x.X, x.Y)
		}
	}
	for _, i := range order {
		x := all[i]
		open, shut := `<g class="seat">`, `</g>`
		switch {
		case x.Link != "":
			open = fmt.Sprintf(`<a class="seat" %s aria-label="%s">`, x.Link, template.HTMLEscapeString(x.Name))
			shut = `</a>`
		case x.Faint:
			open = `<g class="seat faint">`
		}
		over.WriteString(open)
		if x.Here {
			fmt.Fprintf(&over, `<circle class="here" cx="%.0f" cy="%.0f" r="%.0f"/>`, at[i][0], at[i][1], seatRing)
		}
		fmt.Fprintf(&over, `<circle class="under" cx="%.0f" cy="%.0f" r="%.0f"/>`, at[i][0], at[i][1], seatR)
		fmt.Fprintf(&over, `<use href="#%s" x="%.0f" y="%.0f" width="%.0f" height="%.0f"/>`, SymbolID(x.Drive, x.Mark),
			at[i][0]-seatR, at[i][1]-seatR, 2*seatR, 2*seatR)
		over.WriteString(shut)
	}
	return solids(picture, "", `role="group" aria-label="`+template.HTMLEscapeString(says)+`"`, over.String(), turns)
}

// Apart moves middles so far off one another, px of a picture, and inside its rim.
func Apart(at [][2]float64, far, rim float64) {
	for range apartTries {
		still := true
		for i := range at {
			for j := range i {
				dx, dy := at[i][0]-at[j][0], at[i][1]-at[j][1]
				is := math.Hypot(dx, dy)
				lack := far - is
				if lack <= 0.5 {
					continue
				}
				still = false
				if is < 1 {
					sin, cos := math.Sincos(float64(i))
					dx, dy, is = cos, sin, 1
				}
				for k, d := range [2]float64{dx / is, dy / is} {
					at[i][k] += d * lack / 2
					at[j][k] -= d * lack / 2
				}
			}
		}
		for i := range at {
			at[i][0] = math.Max(rim, math.Min(at[i][0], solid.Width-rim))
			at[i][1] = math.Max(rim, math.Min(at[i][1], solid.Height-rim))
		}
		if still {
			break
		}
	}
}

// Bare is a picture from solids with nothing over it.
func Bare(picture string) template.HTML { return template.HTML(themes(picture)) }

// Thumb is a picture from solids without words, small beside words that say the same.
func Thumb(picture, class string) template.HTML {
	return template.HTML(`<div class="solid thumb ` + class + `" aria-hidden="true">` + themes(picture) + `</div>`)
}
