package plan

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"lugtak/core/operation"
)

// The exact convolution against 200 000 thrown jobs (general practice: Monte Carlo), and
// by hand where nothing can come between: a normal distribution's 1.645 σ.
func TestReckonAgainstThrownJobs(t *testing.T) {
	p := Plan{
		Steps:  []Step{{Step: operation.Step{ID: "a", Verb: operation.Crack, Joint: "j", Minutes: 100}}},
		Joints: []Joint{{ID: "j", Joint: operation.Joint{One: "bolt", Seizes: true}}},
	}
	plain := p.Reckon(100, Expect{})
	if math.Abs(plain.High-(100+1.645*20)) > 0.1 || math.Abs(plain.Low-(100-1.645*20)) > 0.1 ||
		math.Abs(plain.Likely-100) > 0.1 {
		t.Errorf("%+v", plain)
	}
	e := Expect{SeizedOdds: 0.3, SeizedMin: 35, Late: []Widening{{"part late", 0.1, 50}}}
	got := p.Reckon(100, e)
	if len(got.Widened) != 2 || got.Widened[0].What != "bolt seized" {
		t.Fatalf("%+v", got.Widened)
	}
	rng := rand.New(rand.NewPCG(3, 5))
	thrown := make([]float64, 200_000)
	for i := range thrown {
		thrown[i] = 100 + 20*rng.NormFloat64()
		if rng.Float64() < 0.3 {
			thrown[i] += 35
		}
		if rng.Float64() < 0.1 {
			thrown[i] += 50
		}
	}
	slices.Sort(thrown)
	for share, is := range map[float64]float64{0.05: got.Low, 0.5: got.Likely, 0.95: got.High} {
		if want := thrown[int(share*float64(len(thrown)))]; math.Abs(want-is) > 0.6 {
			t.Errorf("%g of the jobs take %.1f, thrown %.1f", share, is, want)
		}
	}
	// A step this shop has timed is narrower than one nobody has.
	p.Steps[0].Timed, p.Steps[0].Low, p.Steps[0].High = 9, 95, 105
	if timed := p.Reckon(100, Expect{}); timed.Spread >= plain.Spread {
		t.Errorf("timed %g, untimed %g", timed.Spread, plain.Spread)
	}
}

func TestStages(t *testing.T) {
	step := func(v operation.Verb, joint string, pos Position) Step {
		return Step{Step: operation.Step{Verb: v, Joint: joint}, Position: pos}
	}
	up := step(operation.Move, "", Ground)
	up.MovesTo = Raised
	down := step(operation.Move, "", Raised)
	down.MovesTo = Touching
	again := step(operation.Tighten, "wheel", Ground)
	again.AfterDrive = true
	p := Plan{
		Joints: []Joint{
			{ID: "wheel", Joint: operation.Joint{System: "wheel"}},
			{ID: "bolt", Joint: operation.Joint{System: "hub"}},
		},
		Steps: []Step{
			step(operation.Crack, "wheel",
				Ground), up, step(operation.Remove, "wheel", Raised), step(operation.Crack, "bolt", Raised),
			step(
				operation.Remove,
				"bolt",
				Raised,
			), step(operation.Crack, "bolt", Raised), step(operation.Compare, "", ""), step(operation.Start, "bolt", Raised),
			step(operation.Tighten, "bolt",
				Raised), step(operation.Start, "wheel", Raised), down, step(operation.Drive, "", Ground), again,
		},
	}
	var names []string
	at := 0
	for _, s := range p.Stages() {
		if s.From != at || s.To <= s.From {
			t.Errorf("%+v begins at %d", s, at)
		}
		at = s.To
		names = append(names, s.Name)
	}
	if got := strings.Join(names, ", "); got != "open up, free, out, compare, fit, tighten, close, drive, again" ||
		at != len(p.Steps) {
		t.Errorf("%s to %d", got, at)
	}
}

// The odds that a joint is stuck are the shop's own figure, counted as eight openings, moved by what happened here.
func TestSeizedByThePast(t *testing.T) {
	e := Expect{SeizedOdds: 0.125, Opened: map[string][2]int{"often": {8, 7}, "never": {24, 0}}}
	for joint, want := range map[string]float64{"unknown": 0.125, "often": 0.5, "never": 0.03125} {
		if got, _ := e.seized(joint); math.Abs(got-want) > 1e-9 {
			t.Errorf("%s: %f, want %f", joint, got, want)
		}
	}
	if _, says := e.seized("often"); says != " (7 of 8 here)" {
		t.Error(says)
	}
	if odds, _ := (Expect{Opened: e.Opened}).seized("often"); odds != 0 {
		t.Errorf("a shop that reckons with none has %f", odds)
	}
}
