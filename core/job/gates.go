package job

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// Gate is a rule that blocks the signature until it is met.
type Gate struct {
	Key       string
	Title     string
	Remedy    string
	Step      operation.StepID // where it is met
	Met       bool
	Passable  bool // a deviation may pass it over
	Second    bool // that deviation needs a second person
	Deviation *Deviation
	// Since is the event after which a deviation still speaks of how it stands.
	Since int
	// Bolts turned by angle go in once more only so long; as many lengths are measured.
	LongestMM float64
	Lengths   int
}

// Paper is the page of the job on which the gate is met, where no step meets it; empty where neither does.
func (g Gate) Paper() string {
	switch kind, _ := ParseGateKey(g.Key); kind {
	case gateReading, gateByBolt:
		return "figures"
	case gateKit:
		return "plan"
	case gateFree:
		return "free"
	}
	return ""
}

// Closed says that the gate stands in nobody's way.
func (g Gate) Closed() bool { return g.Met || g.Deviation != nil }

// gates are asked in this order; each says nothing, or what still stands. A new gate
// is one function, one line here, one test.
var gates = []func(*State) []Gate{
	planned,       // there is something to sign
	debts,         // every fastener opened is tight by its recipe
	hardware,      // what is used once was renewed
	sources,       // no figure without a source
	byBolt,        // what was tightened by the bolt is signed for
	readings,      // what a life hangs on was read by two
	kits,          // a kit's own figure too
	checks,        // a second quantity where the shop asks for one
	unmeasured,    // nothing a life hangs on is left without a figure
	undriven,      // every manoeuvre was driven
	limits,        // nothing was left beyond its limit
	figures,       // what was struck on the sheet meanwhile is answered
	troubles,      // none is open
	bledAfter,     // a brake that came apart was bled
	provedBySteps, // the pedal, the drive, alignment, tools
	supports,      // what was put in for the work is out
	everyStep,     // nothing was passed over
	freely,        // free work says what it was
	backAtRest,    // what was brought about once more is brought back
}

// Gates lists every gate of the job, the open ones first. Those of a signed job are
// as they were seen when it was signed.
func (s *State) Gates() []Gate {
	if s.Signature != nil && s.Signature.Gates != nil {
		return each(s.Signature.Gates, func(g record.Gate) Gate {
			return Gate{Key: g.Key, Title: g.Title, Met: g.Met, Deviation: s.Deviation(g.Key)}
		})
	}
	var open, closed []Gate
	for _, ask := range gates {
		for _, g := range ask(s) {
			if d := s.Deviation(g.Key); d != nil && d.Seq >= g.Since {
				g.Deviation = d
			}
			if g.Closed() {
				closed = append(closed, g)
			} else {
				open = append(open, g)
			}
		}
	}
	return append(open, closed...)
}

// GateKind is what a gate asks for; there is one of it, or one for each thing it is asked of.
type GateKind string

// The kinds that belong to a fastener or a joint, and those that are named elsewhere.
const (
	GateDebt       GateKind = "debt"
	GateUnmeasured GateKind = "unmeasured"
	GateCheck      GateKind = "check"
	gateRenew      GateKind = "renew"
	gateSource     GateKind = "source"
	gateLimit      GateKind = "limit"
	gateFigure     GateKind = "figure"
	gateReading    GateKind = "reading"
	gateByBolt     GateKind = "by_bolt"
	gateKit        GateKind = "kit"
	gateTrouble    GateKind = "trouble"
	gateBled       GateKind = "bled"
	gateUndriven   GateKind = "undriven"
	gateDrive      GateKind = "drive"
	gateFree       GateKind = "free"
)

// Key is the gate's, of one thing.
func (k GateKind) Key(of string) string { return string(k) + ":" + of }

// ParseGateKey reads what Key writes; a gate that there is one of is its kind alone.
func ParseGateKey(key string) (kind GateKind, of string) {
	text, of, _ := strings.Cut(key, ":")
	return GateKind(text), of
}

// Fastener is the one a gate is about; ok is false for gates about anything else.
func (g Gate) Fastener() (id FastenerID, ok bool) {
	kind, of := ParseGateKey(g.Key)
	if kind != GateDebt && kind != GateUnmeasured && kind != GateCheck {
		return FastenerID{}, false
	}
	id, err := ParseFastenerID(of)
	return id, err == nil
}

func renewGate(joint string) string { return gateRenew.Key(joint) }

func planned(s *State) []Gate {
	if s.HasPlan() {
		return nil
	}
	return []Gate{{
		Key:      "plan",
		Title:    "Nothing is planned",
		Remedy:   "Finish the walk-round and plan the work, or say why nothing is done.",
		Passable: true,
	}}
}

func debts(s *State) []Gate {
	var out []Gate
	for j, f := range s.all() {
		out = append(out, s.debt(j, f))
	}
	return out
}

func (s *State) debt(j *plan.Joint, f *Fastener) Gate {
	disturbed := f.Phase != Rest || !s.opens(j.ID)
	g := Gate{
		Key:      GateDebt.Key(f.String()),
		Since:    f.Since,
		Title:    fmt.Sprintf("%s %s owed: %s", unit.Capital(j.One), f.Letter, f.Mark().Words()),
		Remedy:   "Tighten it to its recipe, " + j.Says() + ".",
		Step:     s.tightenStep(j.ID, false),
		Met:      disturbed && !f.Owed(),
		Passable: f.Trouble == "",
		Second:   s.needsSecond(j),
	}
	if j.Unread() {
		g.Remedy = "Enter what the maker writes for it, then tighten it to that."
	}
	if j.AfterDrive && f.Done == f.Stages-1 {
		g.Title = fmt.Sprintf("%s %s again after the drive", unit.Capital(j.One), f.Letter)
		g.Remedy = "Go round once more at the same figure after the road test."
		g.Step = s.tightenStep(j.ID, true)
	}
	return g
}

func (s *State) needsSecond(j *plan.Joint) bool {
	return slices.Contains(s.House.Second, j.System)
}

// Critical says that a life hangs on the joint. Of one that free work named nobody proved that none does,
// whatever part its technician counts it to.
func (s *State) Critical(j *plan.Joint) bool {
	return slices.Contains(s.House.Critical, j.System) || vehicle.IsOwn(j.Sheet)
}

// opens says that a step of the plan disturbs the joint.
func (s *State) opens(joint string) bool {
	return slices.ContainsFunc(s.Plan.Steps, func(st plan.Step) bool {
		return st.Joint == joint && (st.Verb == operation.Crack || st.Verb == operation.Remove)
	})
}

func (s *State) tightenStep(joint string, afterDrive bool) operation.StepID {
	for _, st := range s.Plan.Steps {
		tightens := st.Joint == joint && st.Verb == operation.Tighten
		if tightens && st.AfterDrive == afterDrive && !s.StepDone(st.ID) {
			return st.ID
		}
	}
	return ""
}

// tightenedAt is the step at which a fastener got its last stage.
func (s *State) tightenedAt(f *Fastener) operation.StepID {
	if n := len(f.Pulls); n > 0 {
		return s.Pulls[f.Pulls[n-1]].Step
	}
	return ""
}

func (s *State) startStep(joint string) operation.StepID {
	for _, st := range s.Plan.Steps {
		if st.Joint == joint && st.Verb == operation.Start {
			return st.ID
		}
	}
	return ""
}

func hardware(s *State) []Gate {
	var out []Gate
	for i := range s.Plan.Joints {
		j := &s.Plan.Joints[i]
		if !j.Renew {
			continue
		}
		touched, renewed := false, true
		for _, l := range j.Letters {
			f := s.Fastener(j.ID, l)
			touched = touched || f.Phase != Rest
			renewed = renewed && (f.Phase == Rest || f.Renewed)
		}
		out = append(out, Gate{
			Key:      renewGate(j.ID),
			Title:    unit.Capital(j.Title) + " renewed",
			Remedy:   "Fit new ones: " + j.Hardware + ".",
			Step:     s.startStep(j.ID),
			Met:      touched && renewed,
			Passable: true,
			Second:   s.needsSecond(j),
			Lengths:  len(j.Letters),
		})
		if (recipe.Recipe{Stages: j.Read()}).ReachesAngle() {
			out[len(out)-1].LongestMM = j.LongestMM
		}
	}
	return out
}

func sources(s *State) []Gate {
	var out []Gate
	for i := range s.Plan.Joints {
		j := &s.Plan.Joints[i]
		if j.Source != "" || s.AsksVariant(j) || j.Unread() {
			continue
		}
		out = append(out, Gate{
			Key:      gateSource.Key(j.ID),
			Title:    "The figure for the " + j.Title + " has no source",
			Remedy:   "Look it up with the maker and correct the sheet.",
			Passable: true,
			Second:   s.needsSecond(j),
		})
	}
	return out
}

// Unchecked says that a critical joint was steered by one quantity and checked by no
// other, which VDI/VDE 2862 asks for where a life hangs on it.
func (s *State) Unchecked(j *plan.Joint, f *Fastener) bool {
	paid := f.Mark() == Proved && f.Evidence != "" && f.Evidence != pull.NotMeasured
	return paid && s.Critical(j) && s.hasFigure(j.ID) && !f.Evidence.Checked()
}

func (s *State) hasFigure(joint string) bool {
	for _, st := range s.stages[joint] {
		if st.HasFigure() {
			return true
		}
	}
	return false
}

func checks(s *State) []Gate {
	var out []Gate
	for j, f := range s.all() {
		if !slices.Contains(s.House.Demand, j.System) || !s.Unchecked(j, f) {
			continue
		}
		out = append(out, Gate{
			Key:      GateCheck.Key(f.String()),
			Since:    f.Since,
			Title:    fmt.Sprintf("%s %s: control without check", unit.Capital(j.One), f.Letter),
			Remedy:   "This shop asks for torque and angle here: slacken it, and pull with a tool that traces.",
			Passable: true,
			Second:   true,
		})
	}
	return out
}

func unmeasured(s *State) []Gate {
	var out []Gate
	for j, f := range s.all() {
		if !f.LeftUnmeasured() || !s.Critical(j) {
			continue
		}
		out = append(out, Gate{
			Key:      GateUnmeasured.Key(f.String()),
			Since:    f.Since,
			Title:    fmt.Sprintf("%s %s not measured: %s", unit.Capital(j.One), f.Letter, f.Cause.Words()),
			Remedy:   "Slacken it and measure by another way, or have two people sign for it as it is.",
			Step:     s.tightenedAt(f),
			Passable: true,
			Second:   true,
		})
	}
	return out
}

// undriven asks for what was left out of the road test: the work was not proved by it.
func undriven(s *State) []Gate {
	out := s.LeftOut()
	if len(out) == 0 {
		return nil
	}
	g := Gate{
		Key:      string(gateUndriven),
		Title:    fmt.Sprintf("Not driven: “%s”", out[0]),
		Remedy:   "Drive it and say what was felt, or have two people sign for it as it is.",
		Step:     s.stepThatProves(operation.ProvesDrive),
		Passable: true,
		Second:   true,
		Since:    s.Trials[len(s.Trials)-1].Seq,
	}
	if len(out) > 1 {
		g.Title = fmt.Sprintf("%d manoeuvres of the road test not driven", len(out))
	}
	return []Gate{g}
}

// limits asks of what the steps measure how it stands now: what was put right is measured again,
// at whichever step. What the gauge cannot tell from its limit has its note at the step.
func limits(s *State) []Gate {
	var out []Gate
	asked := map[string]bool{}
	for i := range s.Plan.Steps {
		st := &s.Plan.Steps[i]
		for _, key := range st.Measures {
			gate := gateLimit.Key(key + ":" + string(st.Corner))
			m, beyond := s.standsAt(key, string(st.Corner))
			if m == nil || asked[gate] {
				continue
			}
			asked[gate] = true
			g := Gate{
				Key:      gate,
				Title:    strings.TrimSuffix(unit.Capital(m.Name)+", "+m.Corner, ", "),
				Remedy:   m.Says + " Put it right and measure again, or have it signed for as it is.",
				Step:     st.ID,
				Met:      !beyond,
				Passable: true,
				Second:   true,
			}
			g.Title += map[bool]string{true: ": not beyond its limit", false: ": beyond its limit"}[g.Met]
			out = append(out, g)
		}
	}
	return out
}

func figures(s *State) []Gate {
	var out []Gate
	for i := range s.Figures {
		f := &s.Figures[i]
		j := s.Plan.Joint(f.Joint)
		if j == nil || s.Figure(f.Joint) != f {
			continue
		}
		out = append(out, Gate{
			Key:    gateFigure.Key(f.Joint),
			Title:  fmt.Sprintf("The figure of the %s was struck: %s, now %s", j.Title, f.Was, f.Recipe),
			Remedy: "Take the new figure into this job, or refuse it with the reason.",
			Met:    f.Answered != nil,
		})
	}
	return out
}

func troubles(s *State) []Gate {
	var out []Gate
	for _, t := range s.Troubles {
		out = append(out, Gate{
			Key:    gateTrouble.Key(t.ID),
			Title:  "Trouble: " + t.What,
			Remedy: "Clear it at its step.",
			Step:   t.Step,
			Met:    t.Cleared != nil || t.Became != "", // the worse one has a gate of its own
		})
	}
	return out
}

// bledAfter asks for each piston that came out that its wheel was bled since: it drew air, whatever was said of it.
func bledAfter(s *State) []Gate {
	var out []Gate
	for _, t := range s.Troubles {
		at := s.Plan.Step(t.Step)
		if t.Code != PistonOut || at == nil {
			continue
		}
		bled := func(x plan.Step) bool {
			return x.Corner == at.Corner && (x.MakesOf(plan.AirFact) || x.MakesOf(plan.LinesFact)) && s.StepDone(x.ID) &&
				!s.Steps[x.ID].At.Before(t.At)
		}
		out = append(out, Gate{
			Key:    gateBled.Key(t.ID),
			Title:  "Bled since its piston came out, " + at.Corner.Axle() + " " + at.Corner.Side(),
			Remedy: "Order “Brake bled through” there, and do it.",
			Step:   t.Step,
			Met:    slices.ContainsFunc(s.Plan.Steps, bled),
		})
	}
	return out
}

// proofs are gates that one step of the plan meets. A brake without pressure and a
// wheel not looked at again are not passed over.
var proofs = []Gate{
	{
		Key:    string(operation.ProvesPedal),
		Title:  "Brake pedal pumped hard before moving",
		Remedy: "Pump until it is high and firm, and keep that step.",
	},
	{
		Key:    string(operation.ProvesOilLevel),
		Title:  "Gearbox oil level proved at its plug",
		Remedy: "Engine running, level on four points: a thin stream dying to drops. Keep that step.",
	},
	{
		Key:      string(operation.ProvesDrive),
		Title:    "Road test driven",
		Remedy:   "Drive the manoeuvres and keep the step.",
		Passable: true,
		Second:   true,
	},
	{
		Key:      string(operation.ProvesAlignment),
		Title:    "Alignment answered",
		Remedy:   "Answer the step; unanswered means yes.",
		Passable: true,
		Second:   true,
	},
	{
		Key:      "tools",
		Title:    "Tools counted",
		Remedy:   "Count them and keep the step.",
		Passable: true,
	},
}

func provedBySteps(s *State) []Gate {
	var out []Gate
	for _, g := range proofs {
		if g.Step = s.stepThatProves(operation.Proof(g.Key)); g.Step == "" {
			continue
		}
		g.Met = s.Steps[g.Step].Done
		g.Since = s.Steps[g.Step].Seq
		out = append(out, g)
	}
	return out
}

func (s *State) stepThatProves(key operation.Proof) operation.StepID {
	for _, st := range s.Plan.Steps {
		if st.Proves == key {
			return st.ID
		}
	}
	return ""
}

func supports(s *State) []Gate {
	in := s.SupportsIn()
	g := Gate{
		Key:    "supports",
		Title:  "Supports, hooks and wedges counted out",
		Remedy: "Take them out and keep the steps that count them.",
		Met:    len(in) == 0 && s.everySupportPlaced(),
	}
	var what []string
	for k, n := range in {
		what = append(what, fmt.Sprintf("%d × %s", n, k))
	}
	if len(what) > 0 {
		slices.Sort(what)
		g.Title = "Still in: " + strings.Join(what, ", ")
	}
	return []Gate{g}
}

func (s *State) everySupportPlaced() bool {
	for _, st := range s.Plan.Steps {
		if len(st.Puts) > 0 && !s.StepDone(st.ID) {
			return false
		}
	}
	return true
}

func everyStep(s *State) []Gate {
	g := Gate{
		Key:      "steps",
		Title:    "Every step kept",
		Remedy:   "Go back to the bench and keep them, or say why they were not needed.",
		Passable: true,
		Second:   true,
	}
	g.Since = s.stepsSeq
	left := 0
	for _, st := range s.Plan.Steps {
		if !s.StepDone(st.ID) && st.Verb != operation.Tighten {
			left++
			g.Step = cmp.Or(g.Step, st.ID)
		}
	}
	g.Met = left == 0
	if left > 0 {
		g.Title = fmt.Sprintf("%d steps not kept", left)
	}
	return []Gate{g}
}

// freely asks that free work was said: without an act the plan has nothing to prove, and a report says nothing.
func freely(s *State) []Gate {
	d := s.Plan.Free
	if d == nil {
		return nil
	}
	return []Gate{{
		Key:      string(gateFree),
		Title:    "What was opened for: " + d.Title,
		Remedy:   "Say what was opened, loosened or taken off and do it by its steps, or say why nothing was.",
		Met:      slices.ContainsFunc(d.Acts, func(a operation.DraftAct) bool { return a.Do != operation.DeedCarry }),
		Passable: true,
		Second:   true,
	}}
}

// backAtRest asks that the vehicle stands as it leaves, where something was done over.
func backAtRest(s *State) []Gate {
	b := s.leftAway()
	if b == nil {
		return nil
	}
	g := Gate{
		Key:    "rest",
		Title:  fmt.Sprintf("Left %s: %s", b.Is, b.Fact.Subject),
		Remedy: "Bring it back by its own step, and keep that step once more.",
	}
	if st := s.back(); st != nil {
		g.Step = st.ID
	}
	return []Gate{g}
}
