package recipe

import (
	"fmt"
	"math"

	"lugtak/core/thread"
	"lugtak/core/unit"
)

// Fastener is the bolt a recipe is meant for.
type Fastener struct {
	Thread    thread.Thread
	Class     thread.Class
	Treatment thread.Treatment
}

// Warning is a doubt about a recipe, with the figure that would make sense.
type Warning struct {
	Code    string `json:"code"`
	Message string `json:"message"`
}

// Warning codes.
const (
	UnitSlip   = "unit_slip"
	DigitSlip  = "digit_slip"
	TooLow     = "too_low"
	WouldYield = "would_yield"
	Impossible = "impossible"
	Lubricated = "lubricated"
)

// Load is what the highest torque stage leaves in the bolt over the friction
// band of its treatment: force in N, and how much of its yield strength that uses.
type Load struct {
	Torque               unit.Torque
	Preload              thread.Band // N; Low at high friction
	Utilisation          thread.Band // of yield, tension and twist together
	AngleDeg             float64     // turned on after it
	End                  thread.Band // N·m it takes at its end, with what an angle adds; soft and stiff joints reckoned
	AfterAngle           thread.Band // N, zero without an angle
	AfterAngleYieldShare thread.Band
}

// Shares of yield a figure on a sheet usually uses, at the middle of the friction band;
// outside them the figure is doubted (common practice: bolts are tightened to a half to
// nine tenths of yield, taper nuts and soft joints to less). A slip is named where
// another reading lies well inside.
const (
	lowest, highest       = 0.22, 1.0
	likelyFrom, likelyTo  = 0.40, 0.95
	sensible              = 0.80
	lowestBeforeAnAngle   = 0.09
	mostlyLubricatedRatio = 1.15
)

// Reckon computes what the recipe does to the bolt.
func Reckon(r Recipe, f Fastener) (Load, error) {
	mu, err := thread.Friction(f.Treatment)
	if err != nil {
		return Load{}, err
	}
	var l Load
	for _, s := range r.Stages {
		switch {
		case s.Kind == Torque && s.Target() >= l.Torque.Nm():
			l.Torque, l.AngleDeg = unit.Torque(s.Target()), 0
		case s.Kind == Torque:
			l.AngleDeg = 0
			l.Torque = unit.Torque(s.Target())
		case s.Kind == Angle:
			l.AngleDeg += s.Target()
		}
	}
	at := func(m float64) float64 { return f.Thread.Preload(l.Torque.Nm(), m) }
	l.Preload = thread.Band{Low: at(mu.High), Mid: at(mu.Mid), High: at(mu.Low)}
	l.Utilisation = f.Thread.UtilisationBand(f.Class, l.Torque.Nm(), mu)
	l.End = thread.Band{Low: l.Torque.Nm(), Mid: l.Torque.Nm(), High: l.Torque.Nm()}
	if l.AngleDeg > 0 {
		k := f.Thread.Stiffness()
		end := func(stiff float64) float64 {
			_, torque := f.Thread.AfterAngle(f.Class, mu.Mid, l.Preload.Mid, l.AngleDeg, stiff)
			return torque
		}
		l.End = thread.Band{Low: end(k.Low), Mid: end(k.Mid), High: end(k.High)}
		on := func(m, start, stiff float64) float64 {
			v, _ := f.Thread.AfterAngle(f.Class, m, start, l.AngleDeg, stiff)
			return v
		}
		l.AfterAngle = thread.Band{
			Low:  on(mu.High, l.Preload.Low, k.Low),
			Mid:  on(mu.Mid, l.Preload.Mid, k.Mid),
			High: on(mu.Low, l.Preload.High, k.High),
		}
		l.AfterAngleYieldShare = scale(l.AfterAngle, f.Thread.YieldShare(f.Class, 1))
	}
	return l, nil
}

func scale(b thread.Band, k float64) thread.Band {
	return thread.Band{Low: b.Low * k, Mid: b.Mid * k, High: b.High * k}
}

// Check doubts a recipe by what the bolt itself can bear. It finds nothing
// where the recipe has no torque stage.
func Check(r Recipe, f Fastener) ([]Warning, error) {
	l, err := Reckon(r, f)
	if err != nil || l.Torque <= 0 {
		return nil, err
	}
	var out []Warning
	floor := lowest
	if l.AngleDeg > 0 {
		floor = lowestBeforeAnAngle
	}
	share := l.Utilisation.Mid
	if share < floor && r.sets() { // a nut that seats a taper or sets a bearing clamps nothing to speak of
		return nil, nil
	}
	if share < floor || share > highest {
		out = append(out, slips(r, f, l)...)
	}
	bolt := fmt.Sprintf("%s class %s", f.Thread.Name, f.Class.Name)
	about := sensibleTorque(f).Both()
	twist, estimated := f.Thread.TwistOff(f.Class)
	switch {
	case l.Torque.Nm() > twist:
		guess := ""
		if estimated {
			guess = ", an estimate above M10 and for inch threads"
		}
		out = append(out, Warning{Impossible,
			fmt.Sprintf("%s cannot be: %s twists off at %s (ISO 898-7%s). About %s makes sense.",
				l.Torque.Both(), bolt, unit.Torque(math.Round(twist)).Both(), guess, about)})
	case share > highest:
		out = append(out, Warning{WouldYield,
			fmt.Sprintf(
				"%s uses %.0f %% of the yield strength of %s, tension and twist together, and %.0f %% where it rubs least. About "+
					"%s makes sense.",
				l.Torque.Both(),
				100*share,
				bolt,
				100*l.Utilisation.High,
				about,
			)})
	case share < floor:
		out = append(
			out,
			Warning{
				TooLow,
				fmt.Sprintf("%s uses only %.0f %% of the yield strength of %s. A clamped joint usually has about %s.",
					l.Torque.Both(), 100*share, bolt, about),
			},
		)
	}
	if w, ok := lubricated(f, l); ok {
		out = append(out, w)
	}
	return out, nil
}

// sets says that the recipe seats or sets something and does not clamp: it ends by a slot, or by less than half of what
// it was seated with.
func (r Recipe) sets() bool {
	seated, eased := 0.0, false
	for _, s := range r.Stages {
		switch s.Kind {
		case NextSlot:
			return true
		case BackOff:
			eased = true
		case Torque:
			if eased && s.Target() < seated/2 {
				return true
			}
			seated = s.Target()
		}
	}
	last := r.Stages[len(r.Stages)-1]
	return last.Kind == BackOff
}

// sensibleTorque is the torque that uses a usual share of yield.
func sensibleTorque(f Fastener) unit.Torque {
	mu, err := thread.Friction(f.Treatment)
	if err != nil {
		mu = thread.Band{Mid: 0.12}
	}
	_, torque := f.Thread.Tightening(f.Class, mu.Mid, sensible)
	return unit.Torque(math.Round(10*torque) / 10)
}

// slips tries the same number in the other units, and a digit more or less, and
// names of each the reading that lies well inside what the bolt bears. Inch
// pounds and a digit too many are nearly alike: where both fit, both are named.
func slips(r Recipe, f Fastener, l Load) []Warning {
	var written Stage
	for _, s := range r.Stages {
		if s.Kind == Torque && unit.Torque(s.Target()) == l.Torque {
			written = s
		}
	}
	number := written.Target() / torqueUnits[written.Unit].Nm()
	var out []Warning
	nearest := func(code, what string, readings map[string]unit.Torque) {
		best, found := "", math.Inf(1)
		for text, torque := range readings {
			share := l.Utilisation.Mid * float64(torque/l.Torque)
			// The smaller the leap from what stands written, the likelier the slip.
			if leap := math.Abs(math.Log(float64(torque / l.Torque))); share >= likelyFrom && share <= likelyTo &&
				leap < found {
				best, found = text, leap
			}
		}
		if best != "" {
			out = append(out, Warning{code,
				fmt.Sprintf("%s does not suit %s class %s; %s (%s) does. A slip of the %s is likely: look at the sheet again.",
					written.amount(), f.Thread.Name, f.Class.Name, best, readings[best].Both(), what)})
		}
	}
	units, digits := map[string]unit.Torque{}, map[string]unit.Torque{}
	for _, u := range []string{"Nm", "ft-lb", "in-lb", "kgf-m"} {
		if u != written.Unit {
			units[plain(round9(number))+" "+u] = unit.Torque(number) * torqueUnits[u]
		}
	}
	for _, k := range []float64{10, 0.1} {
		digits[plain(round9(number*k))+" "+written.Unit] = unit.Torque(k) * l.Torque
	}
	nearest(DigitSlip, "digit", digits)
	nearest(UnitSlip, "unit", units)
	return out
}

// lubricated warns that grease turns the same torque into more stretch.
func lubricated(f Fastener, l Load) (Warning, bool) {
	mu, err := thread.Friction(f.Treatment)
	ref, _ := thread.Friction(thread.AsDelivered)
	if err != nil {
		return Warning{}, false
	}
	ratio := f.Thread.TorquePerForce(ref.Mid) / f.Thread.TorquePerForce(mu.Mid)
	if ratio < mostlyLubricatedRatio {
		return Warning{}, false
	}
	same := unit.Torque(l.Torque.Nm() / ratio)
	return Warning{
		Lubricated,
		fmt.Sprintf(
			"With %s the same torque stretches the bolt about %.0f %% more: %.1f kN instead of %.1f kN. Unless the figure was "+
				"written for it, %s clamps alike.",
			f.Treatment,
			100*(ratio-1),
			l.Preload.Mid/1000,
			l.Preload.Mid/ratio/1000,
			same.Both(),
		),
	}, true
}
