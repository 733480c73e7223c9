package practice

import (
	"cmp"
	"html/template"
	"lugtak/core/diagnose"
	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/practice"
	"lugtak/core/pull"
	"lugtak/core/release"
	"lugtak/core/unit"
	"lugtak/device"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/pages/kit"
	"math"
	"slices"
)

// View is a run at its act, for its owner.
type View struct {
	*practice.Run
	Kept    listing.Run
	Step    *plan.Step
	Joint   *plan.Joint
	Offers  []*plan.Step
	Asks    string
	Ladder  *release.Ladder // of what sits fast, where the rungs are looked at
	Tally   []kit.TallyGroup
	Facts   string
	Picture template.HTML // of the corner
	At      string        // which one
	Act     template.HTML
	Swing   *swing
	Dangers []string
	Advice  []string
	Weighed *diagnose.Report
	Names   []suspectKey
	Fault   *fault.Fault
	Typed   map[string]string
	Back    bool // it stands as it was before one of its acts
}

// swing is a pull on the simulated wrench.
type swing struct {
	Letter, Name string
	Torque       bool
	Target       string // both units, or degrees
	Window       string
	Amount       float64
	Curve        string // [[degrees, N·m]…]
	Plot         draw.Plot
	BarMM        float64
	Loose        bool // it is a bar on what may sit fast
}

// Clock is the time of a run as the bay says it.
func (v View) Clock() string { return kit.ClockOf(v.Minutes) }

// Good is the time a good technician takes.
func (v View) Good() string { return kit.ClockOf(v.GoodMin) }

// Share is how much of the good time has gone, per cent.
func (v View) Share() float64 { return math.Min(100, 100*v.Minutes/v.GoodMin) }

// Owed counts the fasteners that are not at their figure.
func (v View) Owed() int {
	n := 0
	for _, g := range v.Tally {
		for _, x := range g.Signs {
			if x.Mark != job.Proved && x.Mark != job.Rest {
				n++
			}
		}
	}
	return n
}

// Position is how the car stands.
func (v View) Position() string { return string(v.Is(fact.Fact{Subject: "vehicle"})) }

func (v *View) tally() []kit.TallyGroup {
	var out []kit.TallyGroup
	for i := range v.Plan.Joints {
		j := &v.Plan.Joints[i]
		g := kit.TallyGroup{Title: j.Title}
		for _, l := range j.Letters {
			g.Signs = append(g.Signs, kit.TallySign{
				Sign: draw.Sign{Drive: j.Spec.Drive, Mark: v.mark(j)},
				Name: j.One + " " + l,
			})
		}
		out = append(out, g)
	}
	return out
}

// standing is the car as the pictures of a job take it.
func (v *View) standing() *job.State {
	st := &job.State{}
	st.Plan = &v.Plan
	st.Fasteners = map[job.FastenerID]*job.Fastener{}
	for i := range v.Plan.Joints {
		j := &v.Plan.Joints[i]
		for _, l := range j.Letters {
			id := job.FastenerID{Joint: j.ID, Letter: l}
			f := &job.Fastener{FastenerID: id, Phase: v.mark(j), Stages: 1, Evidence: pull.Traced}
			if f.Phase == job.Proved {
				f.Phase, f.Done = job.InHand, 1
			}
			st.Fasteners[id] = f
		}
	}
	return st
}

// mark is how a joint's fasteners stand, as its sign tells it.
func (v *View) mark(j *plan.Joint) job.Mark {
	switch is := v.Is(fact.OfJoint(j.ID)); is {
	case fact.Cracked:
		return job.Loose
	case fact.Out:
		return job.Out
	case fact.ByHand, fact.Snug:
		return job.InHand
	case fact.Proved:
		return job.Proved
	default:
		if is.Fast() && is != fact.Tight {
			return job.InHand
		}
		return job.Rest
	}
}

// Shown is what the page of a run is made from.
type Shown struct {
	Run     *practice.Run
	Kept    listing.Run
	Library *library.Library
	Step    operation.StepID                  // that is asked for; empty where none is
	Free    bool                              // the rungs that free it are looked at
	Swing   func(*plan.Step) []device.Reading // what a pull would read
	Back    bool                              // it stands as it was before one of its acts
	Fault   *fault.Fault
	Typed   map[string]string
}

// Practising is a run at its act.
func Practising(x Shown) (kit.Page, error) {
	v := View{Run: x.Run, Kept: x.Kept, Back: x.Back, Fault: x.Fault, Typed: x.Typed}
	err := v.fill(x)
	return pages.Page("practising", "Practice: "+v.Title, v), err
}

func (v *View) fill(x Shown) error {
	if v.Find != nil {
		return v.seek()
	}
	return v.atStep(x)
}

// atStep fills in what the bench of a run shows.
func (v *View) atStep(x Shown) error {
	v.Tally = v.tally()
	v.Offers = v.Offer()
	id := x.Step
	if v.Bad != nil {
		id = v.Bad.Step
	}
	if step := v.Plan.Step(id); step != nil && slices.Contains(v.Offers, step) || v.Bad != nil {
		v.Step = v.Plan.Step(id)
	}
	if v.Step == nil {
		if next := v.Next(); next != nil {
			v.Picture, v.At = kit.Corner(x.Library, v.standing(), next, "", true, nil)
		}
		return nil
	}
	v.Joint = v.Plan.Joint(v.Step.Joint)
	if v.InTheWay(v.Step) == nil {
		v.Asks = v.Run.Asks(v.Step)
	}
	v.Dangers = v.Run.Dangers(v.Step)
	if v.Level < 3 {
		v.Advice = v.Run.Advice(v.Step)
	}
	if v.Joint != nil {
		v.Facts = unit.Capital(v.Joint.Thread + " · " + v.Joint.Class + " · " + v.Joint.Socket)
	}
	v.picture(x.Library)
	if v.Asks == practice.Bar && x.Free {
		l, err := v.Run.Ladder(v.Step)
		if err != nil {
			return err
		}
		v.Ladder = &l
		return nil
	}
	if v.Bad == nil && (v.Asks == practice.Pull || v.Asks == practice.Bar) {
		v.Swing = v.lay(x.Swing)
	}
	return nil
}

// picture draws the act, or the corner as the facts of the car stand.
func (v *View) picture(l *library.Library) {
	if v.Joint == nil {
		if v.Act = kit.Act(l, &v.Run.Plan, v.Step, v.Step.Kind()).HTML; v.Act != "" {
			return
		}
	}
	st := v.standing()
	letter := ""
	if v.Joint != nil && len(v.Joint.Letters) > 0 {
		letter = v.Joint.Letters[0]
		v.Act = kit.Fastener(l, &v.Run.Plan, v.Step, letter, func(at string) kit.Bolt {
			return kit.Bolt{Sign: draw.Sign{Drive: v.Joint.Drive, Mark: st.Fastener(v.Joint.ID, at).Sign()}}
		}).HTML
		if v.Act != "" {
			return
		}
	}
	v.Picture, v.At = kit.Corner(l, st, v.Step, letter, true, nil)
}

// suspectKey is a suspect with the key that names it.
type suspectKey struct {
	diagnose.Weight
	Letter string
}

// triedTest is what was tried, as it was asked.
type triedTest struct {
	diagnose.Answer
	Ask string
}

// Answered are the tests so far, the newest first.
func (v View) Answered() []triedTest {
	var out []triedTest
	for _, a := range slices.Backward(v.Answers) {
		out = append(out, triedTest{a, v.Asked(a.Key)})
	}
	return out
}

// mostNamed are as many suspects as are laid out to be named.
const mostNamed = 6

// seek fills in what a walk-round shows.
func (v *View) seek() error {
	w, err := v.Weigh()
	if err != nil {
		return err
	}
	v.Weighed = &w
	likely := slices.Clone(w.Suspects[:min(mostNamed, len(w.Suspects))])
	if v.Level > 1 { // in an order that tells nothing
		slices.SortFunc(likely, func(a, b diagnose.Weight) int { return cmp.Compare(a.Name, b.Name) })
	}
	for i, x := range likely {
		v.Names = append(v.Names, suspectKey{x, string(rune('u' + i))})
	}
	return nil
}

// mostTests are as many tests as are laid out.
const mostTests = 5

// Tests are those laid out to be tried: the ones that settle most, in an order that tells
// nothing.
func (v View) Tests() []diagnose.Next {
	out := slices.Clone(v.Weighed.Next[:min(mostTests, len(v.Weighed.Next))])
	slices.SortFunc(out, func(a, b diagnose.Next) int { return cmp.Compare(a.Key, b.Key) })
	return out
}
