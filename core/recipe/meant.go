package recipe

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/unit"
)

// What a text that is refused may mean, each reading as it would have to be written.

// readable keeps the readings that are recipes, each once, as they are kept.
func readable(readings []string) []string {
	var out []string
	for _, text := range readings {
		r, err := parse(text)
		if err != nil {
			continue
		}
		if s := r.String(); !slices.Contains(out, s) {
			out = append(out, s)
		}
	}
	return out
}

// saidAgain takes a torque that stands twice with only a blank between, in two units
// that agree.
func (p *parser) saidAgain() bool {
	mark := p.pos
	n := len(p.out)
	if n > 0 && p.out[n-1].Kind == Torque {
		other, angle, err := p.figure(false)
		if err == nil && !angle && system(other.Unit) != system(p.out[n-1].Unit) && same(p.out[n-1], other) {
			return true
		}
	}
	p.pos = mark
	return false
}

// joined is what the text may mean with a sign between its stages, or with an upper
// bound behind its figure.
func (p *parser) joined() []string {
	head := strings.TrimSpace(string(p.src[:p.pos]))
	tail := strings.TrimSpace(string(p.src[p.pos:]))
	out := []string{head + " + " + tail, head + "; " + tail}
	n := len(p.out)
	if n == 0 || p.out[n-1].Kind != Torque || !p.ceiling() {
		return out
	}
	high, ok, err := p.number()
	last := p.out[n-1]
	if err != nil || !ok || high <= last.A {
		return out
	}
	return []string{p.with(p.begins[len(p.begins)-1], len(p.src), plain(last.A)+"–"+plain(high)+" "+last.Unit), head}
}

// fromLoose refuses a turn that starts from a fastener that is loose.
func (p *parser) fromLoose(start int, what string) error {
	f := p.fault(
		start,
		fault.TwoReadings,
		"After a full back-off there is nothing to turn from: "+what+" from where it is snug, or a torque is missing "+
			"between.",
		"Write the torque before it, or snug.",
	)
	before := strings.TrimRight(string(p.src[:start]), " ,;+")
	rest := strings.TrimLeft(string(p.src[start:]), " ,;")
	f.Readings = []string{before + "; snug; " + rest}
	for _, s := range p.out {
		if s.Kind == Torque {
			f.Readings = append(f.Readings, before+"; "+s.amount()+"; "+rest)
			break
		}
	}
	return f
}

// leastBare is the least number that reads as degrees without a sign: below it turns,
// flats and degrees are alike likely.
const leastBare = 10

// torn refuses a fraction that may be two figures, and a small number behind + or back
// off that may be turns, flats or degrees.
func (p *parser) torn(col int, v float64, bare bool, u spelled, has, bareDegrees bool) error {
	end := p.pos
	switch {
	case has && bare && !u.angle && p.over[0] > 0:
		over, under := plain(p.over[0]), plain(p.over[1])
		name := u.name
		f := p.fault(
			col,
			fault.TwoReadings,
			fmt.Sprintf("“%s/%s” reads as a range, as one figure after another, or as a fraction: %s %s.", over,
				under, plain(round9(v)), name),
			"Write the one that is meant: "+over+"–"+under+" "+name+", or the stages one by one.",
		)
		lower := math.Min(p.over[0], p.over[1])
		upper := math.Max(p.over[0], p.over[1])
		f.Readings = []string{
			p.with(col, end, plain(lower)+"–"+plain(upper)+" "+name),
			p.with(col, end, over+" "+name+"; "+under+" "+name),
		}
		return f
	case has && u.angle && p.lost:
		over, under := plain(p.over[0]), plain(p.over[1])
		f := p.fault(col, fault.TwoReadings, "“"+over+"/"+under+"” may have lost the blank behind its whole.",
			"Write the whole apart, as in 1 1/2 turns, or degrees.")
		if n := len(over); n > 1 {
			name := "°"
			switch {
			case u.turns && u.degrees < 360:
				name = " flats"
			case u.turns:
				name = " turns"
			}
			f.Readings = append(f.Readings, p.with(col, end, over[:n-1]+" "+over[n-1:]+"/"+under+name))
		}
		f.Readings = append(f.Readings, p.with(col, end, plain(round9(v*u.degrees))+"°"))
		return f
	case !has && p.lost:
		return p.lostBlank(col)
	case !has && bareDegrees:
		return p.tornPoint(v, "°")
	}
	return nil
}

// lostBlank refuses a fraction such as 13/4.
func (p *parser) lostBlank(col int) error {
	return p.fault(col, fault.TwoReadings, "This fraction may have lost the blank behind its whole.",
		"Write it as a decimal.")
}

// tornPoint refuses a point, comma or stroke behind a figure that has no unit, and before a digit:
// with the unit that parts the two, where one is likely.
func (p *parser) tornPoint(v float64, unit string) error {
	sign := p.pointAhead()
	if sign == 0 {
		return nil
	}
	name := map[rune]string{'.': "point", ',': "comma", '/': "stroke"}[sign]
	f := p.fault(p.pos, fault.TwoReadings,
		"The "+name+" behind "+plain(round9(v))+" may belong to the figure or part it from the next.",
		"Write the unit after each figure.")
	if unit != "" {
		f.Readings = []string{p.with(p.pos, p.pos, unit)}
	}
	return f
}

// ofWhat refuses a small number without a unit behind it or behind what belongs to it: turns,
// flats or degrees.
func (p *parser) ofWhat(col, end int, v float64, bare, ends bool) error {
	if !bare && v >= leastBare {
		return nil
	}
	figure := plain(round9(v))
	f := p.fault(col, fault.TwoReadings, fmt.Sprintf("%s of what? %s turn is %s°, %s flat is %s°, or it means %s°.",
		figure, figure, plain(round9(360*v)), figure, plain(round9(60*v)), figure), "Write turn, flat or ° after it.")
	for _, unit := range []string{" turn", " flat", "°"} {
		written := strings.TrimSpace(string(p.src[col:end]))
		to := end
		switch {
		case ends: // the unit stands behind the second
			to = p.pos
			written = strings.TrimSpace(string(p.src[col:to]))
		case unit == "°":
			written = figure
		}
		f.Readings = append(f.Readings, p.with(col, to, written+unit))
	}
	return f
}

// pointAhead is the point, comma or stroke that comes next where a digit is behind it; else 0.
func (p *parser) pointAhead() rune {
	mark := p.pos
	defer func() { p.pos = mark }()
	p.space()
	sign := p.peek(0)
	if !p.sign(".", ",", "/") {
		return 0
	}
	p.space()
	if r := p.peek(0); r < '0' || r > '9' {
		return 0
	}
	return sign
}

// dashed refuses “60 Nm – 90”: a range, or an angle behind a dash.
func (p *parser) dashed(col, end int, from, to float64, u spelled) error {
	f := p.fault(col, fault.TwoReadings, fmt.Sprintf("“%s” reads as the range %s–%s %s, or as %s %s and then %s°.",
		strings.TrimSpace(string(p.src[col:end])), plain(from), plain(to), u.name, plain(from), u.name,
		plain(to)), "Write the one that is meant.")
	for p.sign("°") {
	}
	if to > from {
		f.Readings = append(f.Readings, p.with(col, p.pos, plain(from)+"–"+plain(to)+" "+u.name))
	}
	f.Readings = append(f.Readings, p.with(col, p.pos, plain(from)+" "+u.name+" + "+plain(to)+"°"))
	return f
}

func (p *parser) alternatives() error {
	return p.fault(p.pos, fault.TwoReadings, "Two readings stand here.",
		"Keep the one that belongs to the hardware in hand.")
}

// twoReadings refuses two figures for one: at is where the first of them stands.
func (p *parser) twoReadings(at, col int, a, b Stage) error {
	f := p.fault(col, fault.TwoReadings, "Two readings: "+reading(a)+", or "+reading(b)+".",
		"Find out which is meant and keep that one.")
	for _, s := range []Stage{a, b} {
		f.Readings = append(f.Readings, p.with(at, p.pos, s.amount()))
	}
	return f
}

func reading(s Stage) string {
	if s.Unit == "°" {
		return s.amount()
	}
	return s.amount() + " = " + unit.Torque(s.Target()).Both()
}

// additional refuses a torque "on top": it may be meant as absolute.
func (p *parser) additional(col int, st Stage) error {
	last := 0.0
	for _, s := range p.out {
		if s.Kind == Torque {
			last = s.Target()
		}
	}
	sum := unit.Torque(last + st.Target())
	f := p.fault(col, fault.TwoReadings,
		fmt.Sprintf("Two readings: up to %s in all (%s), or %s on top of the %s before it, %s in all.",
			st.amount(), unit.Torque(st.Target()).Both(), st.amount(), unit.Torque(last), sum.Both()),
		"A wrench cannot add torque: write the figure it shall reach, as in “then 140 ft-lb”, or the angle.")
	head := strings.TrimRight(string(p.src[:col]), " ,;+")
	for _, total := range []string{st.amount(), plain(math.Round(10*sum.Nm())/10) + " Nm"} {
		f.Readings = append(f.Readings, head+"; "+total)
	}
	return f
}
