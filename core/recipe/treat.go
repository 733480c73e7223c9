package recipe

import (
	"fmt"
	"math"

	"lugtak/core/fault"
	"lugtak/core/thread"
	"lugtak/core/unit"
)

// Treated is a recipe for another treatment of the thread than it was written for: the
// torque that leaves the same clamp, and what either figure would leave.
type Treated struct {
	Recipe Recipe
	Factor float64     // of the torque, at mid friction
	Was    thread.Band // N: the clamp of the figure as it was written
	Same   thread.Band // N: the same figure on the other treatment
	Now    thread.Band // N: the new figure on the other treatment
}

// Treat reckons a recipe for another treatment. Torque scales with 0.16·P + μ·(0.58·d2 +
// D_Km/2) (VDI 2230 part 1) at the middle of both friction bands; angles stay, since they
// turn the same pitch. The band of the new clamp is as wide as friction leaves it.
func Treat(r Recipe, f Fastener, to thread.Treatment) (Treated, error) {
	is, err := thread.ParseTreatment(string(f.Treatment))
	if err != nil {
		return Treated{}, err
	}
	if to, err = thread.ParseTreatment(string(to)); err != nil {
		return Treated{}, err
	}
	if to == thread.Rusted {
		return Treated{}, fault.New(fault.BadChoice, "treatment", "A rusted thread is no treatment.",
			"Clean it or renew it, then choose what goes on it.")
	}
	if is == to {
		return Treated{}, fault.New(fault.BadChoice, "treatment", "That is the treatment the figure was written for.",
			"Choose another, or leave it.")
	}
	from, err := thread.Friction(is)
	if err != nil {
		return Treated{}, err
	}
	mu, err := thread.Friction(to)
	if err != nil {
		return Treated{}, err
	}
	was, err := Reckon(r, f)
	if err != nil {
		return Treated{}, err
	}
	if was.Torque <= 0 {
		return Treated{}, fault.New(fault.NoTorque, "treatment", "This joint has no torque to reckon with.",
			"Leave it as it is.")
	}
	out := Treated{Factor: f.Thread.TorquePerForce(mu.Mid) / f.Thread.TorquePerForce(from.Mid), Was: was.Preload}
	for _, s := range r.Stages {
		if s.Kind == Torque {
			s.A = rounded(s.A * out.Factor)
			s.B = rounded(s.B * out.Factor)
			s.Frozen = false
		}
		out.Recipe.Stages = append(out.Recipe.Stages, s)
	}
	high := highestTorque(out.Recipe)
	if limit, _ := f.Thread.TwistOff(f.Class); high > was.Torque.Nm() && high > strain*limit {
		return Treated{}, fault.New(fault.TooStiff, "treatment",
			fmt.Sprintf("So stiff a thread takes %s for the same clamp, and the bolt twists off at %s.",
				unit.Torque(high), unit.Torque(limit)),
			"Leave the treatment the figure was written for.")
	}
	other := f
	other.Treatment = to
	same, err := Reckon(r, other)
	if err != nil {
		return Treated{}, err
	}
	now, err := Reckon(out.Recipe, other)
	out.Same, out.Now = same.Preload, now.Preload
	return out, err
}

// strain is how near to twisting off a reckoned torque may come (common practice: nine tenths,
// since the reading itself may be some percent off).
const strain = 0.9

// highestTorque is the largest torque any stage asks for, N·m, at the top of its window.
func highestTorque(r Recipe) (high float64) {
	for _, s := range r.Stages {
		if s.Kind == Torque {
			_, top := s.Window()
			high = max(high, top)
		}
	}
	return high
}

// rounded keeps a figure readable: to a tenth below ten, to a half below a hundred, else
// to a whole.
func rounded(v float64) float64 {
	step := 1.0
	switch {
	case v < 10:
		step = 0.1
	case v < 100:
		step = 0.5
	}
	return math.Round(v/step) * step
}
