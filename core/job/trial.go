package job

import (
	"slices"
	"strings"
	"time"

	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
)

// What may be felt at a manoeuvre of a road test.
const (
	FeltSound   = "sound"
	FeltWatch   = "watch" // goes to the owner
	FeltWrong   = "wrong"
	FeltLeftOut = "left_out"
)

// What a road test comes to.
const (
	TrialPass   = "pass"
	TrialAdvise = "advise"
	TrialFail   = "fail"
)

// Trial is a road test that was driven.
type Trial struct {
	record.RoadTested
	By  string
	At  time.Time
	Seq int
}

// RoadTest says what was felt at each manoeuvre. One at which something is wrong fails the
// whole: the step stays open, and what was felt goes back to the walk-round.
type RoadTest struct {
	Step operation.StepID
	Felt []record.Felt
}

// feltBefore begins a manoeuvre that asks for what was felt before the work.
const feltBefore = "As it was felt before: "

// maxFelt bounds the manoeuvres of one drive.
const maxFelt = 40

// Manoeuvres are what is driven to prove the work, and once more what was felt on the road
// before it.
func (s *State) Manoeuvres() []operation.Manoeuvre {
	var all []operation.Manoeuvre
	for _, m := range s.Plan.Drive { // a plan released long ago may say one twice
		all = operation.Drives(all, m)
	}
	for _, key := range s.Walk.Asked {
		if g := s.Walk.Given[key]; g.Yes && g.Position == OnTheRoad {
			all = operation.Drives(all, operation.Manoeuvre{Do: feltBefore + g.Ask, Listen: "gone"})
		}
	}
	return all
}

// WasWrong is what was felt at a manoeuvre of the drive that failed last; empty where it was
// in order, or nothing has failed.
func (s *State) WasWrong(do string) string {
	if t := s.Failed(); t != nil {
		for _, f := range t.Felt {
			if f.Do == do && f.Found == FeltWrong {
				return f.Note
			}
		}
	}
	return ""
}

// NewPads are the axles that get new pads, which are bedded.
func (s *State) NewPads() []string {
	var out []string
	for _, axle := range []string{"front", "rear"} {
		if slices.ContainsFunc(s.Plan.Steps, func(st plan.Step) bool {
			return st.Corner.Axle() == axle && slices.ContainsFunc(st.Makes, func(m fact.Make) bool {
				return m.Fact.Subject == "pads" && m.Value == "in"
			})
		}) {
			out = append(out, axle)
		}
	}
	return out
}

func (s *State) decideRoadTest(m Meta, b RoadTest) (record.Body, error) {
	st, err := s.openStep(m, b.Step)
	if err != nil {
		return nil, err
	}
	switch {
	case st.Verb != operation.Drive:
		return nil, refuse(fault.BadChoice, "step", "That step is no road test.", "Open the road test.")
	case s.Steps[b.Step].Done && len(s.LeftOut()) == 0 && !s.Again(st):
		return nil, refuse(fault.Order, "step", "That drive is on record.",
			"Take the step back with a reason to drive again.")
	case len(b.Felt) > maxFelt:
		return nil, refuse(fault.TooLong, "felt", "That is more than one drive.", "Drive the manoeuvres of this job.")
	}
	if err := s.Ready(st); err != nil {
		return nil, err
	}
	e := record.RoadTested{Step: string(b.Step), Result: TrialPass}
	for _, f := range b.Felt {
		f.Note = trimmed(f.Note)
		if err := felt(f); err != nil {
			return nil, err
		}
		told := func(o record.Felt) bool { return o.Do == f.Do }
		if slices.ContainsFunc(e.Felt, told) {
			return nil, refuse(fault.BadChoice, "felt", "“"+f.Do+"” is answered twice.", "Say one thing of it.")
		}
		if was := s.WasWrong(f.Do); was != "" && f.Found == FeltSound && f.Note == "" {
			return nil, refuse(fault.Missing, "note",
				"“"+f.Do+"” was not right, “"+was+"”: it is not said what was done about it.",
				"Write in a few words what was done since.")
		}
		switch {
		case f.Found == FeltWrong:
			e.Result = TrialFail
		case f.Found != FeltSound && e.Result != TrialFail:
			e.Result = TrialAdvise
		}
		e.Felt = append(e.Felt, f)
	}
	for _, want := range s.Manoeuvres() {
		if !slices.ContainsFunc(e.Felt, func(f record.Felt) bool { return f.Do == want.Do }) {
			return nil, refuse(fault.Missing, "felt", "Nothing is said of “"+want.Do+"”.",
				"Say what was felt at each manoeuvre; one that was left out says why.")
		}
	}
	return e, nil
}

// felt refuses an observation that says too little: all but a sound one has its words.
func felt(f record.Felt) error {
	switch {
	case f.Do == "" || len(f.Do) > maxText || len(f.Note) > maxText:
		return refuse(fault.TooLong, "felt", "That is no manoeuvre of this drive.", "Reload the page and say it again.")
	case !slices.Contains([]string{FeltSound, FeltWatch, FeltWrong, FeltLeftOut}, f.Found):
		return refuse(fault.Missing, "felt", "Nothing is said of “"+f.Do+"”.", "As it should be, watch, or not right.")
	case f.Found != FeltSound && f.Note == "":
		return refuse(fault.Missing, "note", "“"+f.Do+"”: it is not said what was felt.",
			"Write it in a few words, as you would tell it.")
	}
	return nil
}

func (s *State) applyRoadTested(e Event, b record.RoadTested) {
	s.Trials = append(slices.Clip(s.Trials), Trial{b, e.By, e.At, e.Seq})
	s.provesSuspicion(b)
	if b.Result != TrialFail {
		s.applyKept(e, record.StepKept{Step: b.Step})
		return
	}
	if st := s.Steps[operation.StepID(b.Step)]; st != nil { // also one that was kept with manoeuvres left out
		*st = StepState{Seq: e.Seq}
	}
}

// LeftOut lists the manoeuvres of the last road test that were not driven.
func (s *State) LeftOut() []string {
	if n := len(s.Trials); n > 0 {
		return s.Trials[n-1].LeftOut()
	}
	return nil
}

// DrivesOn says that what was left out of the road test may still be driven.
func (s *State) DrivesOn() bool { return s.Signature == nil && len(s.LeftOut()) > 0 }

// ToDrive is the road test whose manoeuvres can be told now, for the first time, again after one that failed, or of
// what was left out; nil where there is none.
func (s *State) ToDrive() *plan.Step {
	if !s.HasPlan() {
		return nil
	}
	for i := range s.Plan.Steps {
		step := &s.Plan.Steps[i]
		switch {
		case step.Verb != operation.Drive:
		case s.StepDone(step.ID) && !s.Again(step):
			if s.DrivesOn() {
				return step
			}
		case s.Ready(step) == nil:
			return step
		}
	}
	return nil
}

// Showed is what was felt on the drive, in the words of who drove.
func (t Trial) Showed() string {
	return strings.Join(each(t.Felt, func(f record.Felt) string { return f.Note }), " ")
}

// LeftOut lists the manoeuvres that were not driven.
func (t Trial) LeftOut() []string {
	var out []string
	for _, f := range t.Felt {
		if f.Found == FeltLeftOut {
			out = append(out, f.Do)
		}
	}
	return out
}

// Failed is the last drive, where it failed and has not been driven again; else nil.
func (s *State) Failed() *Trial {
	if n := len(s.Trials); n > 0 && s.Trials[n-1].Result == TrialFail {
		return &s.Trials[n-1]
	}
	return nil
}

// driven asks that what was felt is said: a drive of which nothing is told proves nothing.
func (s *State) driven(st *plan.Step) error {
	if st.Verb != operation.Drive || len(s.Manoeuvres()) == 0 {
		return nil
	}
	return refuse(fault.Missing, "felt", "It is not said what was felt on the drive.",
		"Say it at each manoeuvre, when the vehicle stands again.")
}

// Said is what the owner complained of, or what the drive that failed showed since.
func (s *State) Said() string {
	if f := s.Failed(); f != nil {
		return f.Showed()
	}
	return s.Complaint
}
