package practice

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
	"strings"

	"lugtak/core/diagnose"
	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/part"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/release"
	"lugtak/core/unit"
)

// Knowledge is what the car behaves by beside its plan.
type Knowledge struct {
	Consequences []Consequence
	Release      *release.Knowledge
	Signs        *diagnose.Knowledge
}

// What a person does with the car.
const (
	DoStep = "step" // the step itself
	Look   = "look" // at what the step is about; costs a minute
	Judge  = "part" // Choice accept or refuse
	Bar    = "bar"  // pulls on a fastener that may sit fast, to Let N·m
	Free   = "free" // Choice is a rung
	Pull   = "pull" // one stage of one fastener, with its reading
	After  = "then" // a pull that was not good: Choice on, renew or keep
	Test   = "test" // Choice is the key of a sign or test
	Name   = "name" // Choice is the suspect
	Leave  = "leave"
)

// Choices of an act.
const (
	Accept   = "accept"
	RefuseIt = "refuse"
	PullOn   = "on"
	RenewIt  = "renew"
	KeepSo   = "keep"
)

// Act is one thing done.
type Act struct {
	Do      string           `json:"do"`
	Step    operation.StepID `json:"step,omitempty"`
	Letter  string           `json:"letter,omitempty"`
	Choice  string           `json:"choice,omitempty"`
	Let     float64          `json:"let,omitempty"` // where the hand let go: N·m, or degrees of an angle stage
	Reading *Reading         `json:"reading,omitempty"`
}

// Reading is what the simulated wrench read, as the judge of real pulls judged it.
type Reading struct {
	PeakNm    float64        `json:"peak_nm"`
	TurnDeg   float64        `json:"turn_deg"`
	Verdict   pull.Verdict   `json:"verdict"`
	Signature pull.Signature `json:"signature"`
	Says      string         `json:"says"`
}

// Miss is a consequence that was met, and when.
type Miss struct {
	Consequence
	Minute float64
	Act    int // its number, from 0
	Where  string
}

// Run is one go at an exercise.
type Run struct {
	*Exercise
	Truth
	Plan    plan.Plan
	Seed    uint64
	Acts    []Act
	Minutes float64
	Misses  []Miss
	Found   []string // of what was hidden, as it came out
	Said    string   // what the last act showed
	Blocked int      // acts that would not come
	Ended   bool
	Named   string

	Bad     *Act // a pull that was not good, until it is said what is done about it
	Answers []diagnose.Answer
	know    *Knowledge
	now     fact.State
	done    map[operation.StepID]bool
	stages  map[string]int      // paid, by joint and letter
	freed   map[string]bool     // of what sits fast
	tried   map[string][]string // rungs, by joint and letter
	settled map[string]string   // accept or refuse, by part
	checked map[string]bool     // figures held against the second source
	rng     *rand.Rand
}

// maxActs bounds a run.
const maxActs = 400

// Begin is a run at its first act: what the plan has before the exercise is done.
func Begin(x *Exercise, p plan.Plan, know *Knowledge, seed uint64) *Run {
	r := &Run{
		Exercise: x,
		Truth:    x.Truth(seed),
		Plan:     p,
		Seed:     seed,
		know:     know,
		now:      fact.State{},
		done:     map[operation.StepID]bool{},
		stages:   map[string]int{},
		freed:    map[string]bool{},
		tried:    map[string][]string{},
		settled:  map[string]string{},
		checked:  map[string]bool{},
		rng:      rand.New(rand.NewPCG(seed, 0x72756e)),
	}
	if x.Find != nil {
		for _, key := range x.Find.Known {
			r.answer(key)
		}
		return r
	}
	for i := range p.Steps {
		s := &p.Steps[i]
		if x.From == "" || s.ID == x.From {
			break
		}
		r.keep(s)
	}
	return r
}

// Replay is a run with all its acts. An act that its own rules refuse is passed over: the
// exercise may have been edited since.
func Replay(x *Exercise, p plan.Plan, know *Knowledge, seed uint64, acts []Act) *Run {
	r := Begin(x, p, know, seed)
	for _, a := range acts {
		_ = r.Do(a)
	}
	return r
}

func (r *Run) keep(s *plan.Step) {
	for _, m := range s.Makes {
		r.now[m.Fact] = m.Value
	}
	r.done[s.ID] = true
}

// Is is how a fact of the car stands.
func (r *Run) Is(f fact.Fact) fact.Value { return r.Plan.World.Is(r.now, f) }

// Done says that a step is behind one.
func (r *Run) Done(id operation.StepID) bool { return r.done[id] }

// against lists all that speaks against a step as the car stands, each fact once.
func (r *Run) against(s *plan.Step) []*fact.Breach {
	w := &r.Plan.World
	var out []*fact.Breach
	take := func(b *fact.Breach) {
		if b != nil && !slices.ContainsFunc(out, func(o *fact.Breach) bool { return o.Fact == b.Fact }) {
			out = append(out, b)
		}
	}
	for _, x := range s.Wants {
		take(w.Lacks(r.now, &fact.Step{ID: string(s.ID), Wants: []fact.Want{x}}))
	}
	step := s.Proof()
	for _, l := range w.Laws {
		for _, must := range l.Must {
			l.Must = []fact.Want{must}
			one := fact.World{Rest: w.Rest, Laws: []fact.Law{l}}
			take(one.Breaks(r.now, &step))
		}
	}
	return out
}

// meets is the consequence of a breach; nil where hands cannot do it at all.
func (r *Run) meets(s *plan.Step, b *fact.Breach) *Consequence {
	return r.find(func(c *Consequence) bool {
		system := ""
		if j := r.Plan.Joint(b.Fact.Place); b.Fact.Subject == fact.Fastener && j != nil {
			system = j.System
		}
		return c.Fact != "" && c.Fact == b.Fact.Subject &&
			(c.Value == "" || b.Wants.Has(c.Value)) &&
			(c.Verb == "" || s != nil && c.Verb == s.Verb) &&
			(c.Makes == "" || s != nil && s.MakesOf(c.Makes)) &&
			(len(c.Systems) == 0 || slices.Contains(c.Systems, system))
	})
}

func (r *Run) find(fits func(*Consequence) bool) *Consequence {
	for i := range r.know.Consequences {
		if fits(&r.know.Consequences[i]) {
			return &r.know.Consequences[i]
		}
	}
	return nil
}

func (r *Run) happens(what string) *Consequence {
	return r.find(func(c *Consequence) bool { return c.Happens == what })
}

// miss keeps a consequence, once for each place.
func (r *Run) miss(c *Consequence, where string) {
	same := func(m Miss) bool { return m.ID == c.ID && m.Where == where }
	if c == nil || slices.ContainsFunc(r.Misses, same) {
		return
	}
	r.Misses = append(r.Misses, Miss{*c, r.Minutes, len(r.Acts), where})
}

func refuse(field, detail, remedy string) error {
	return fault.New(fault.BadAct, field, detail, remedy)
}

// Do carries an act out. What hands cannot do is said and costs a minute; an error is an act
// that is none.
func (r *Run) Do(a Act) error {
	switch {
	case r.Ended:
		return refuse("act", "This run has ended.", "Begin another.")
	case len(r.Acts) >= maxActs:
		return refuse("act", "That is more than any exercise takes.", "Let it leave, and begin another.")
	}
	r.Said = ""
	if err := r.act(a); err != nil {
		return err
	}
	r.Acts = append(r.Acts, a)
	return nil
}

func (r *Run) act(a Act) error {
	switch {
	case a.Do == Leave:
		r.leave()
		return nil
	case r.Find != nil:
		return r.search(a)
	case r.Bad != nil && a.Do != After:
		return refuse("then", "The last pull was not good.", "Say first what is done about it.")
	}
	s := r.Plan.Step(a.Step)
	if s == nil || !slices.Contains(r.window(), s) || r.done[s.ID] {
		return refuse("step", "That is no act of this exercise, or it is done.", "Choose one that is laid out.")
	}
	switch a.Do {
	case Look:
		r.look(s)
		return nil
	case After:
		return r.then(s, a)
	}
	if !r.may(s) {
		return nil
	}
	asks := r.Asks(s)
	switch {
	case a.Do == DoStep && asks == "":
		r.finish(s)
		return nil
	case a.Do == Judge && asks == Judge:
		return r.judge(s, a.Choice)
	case a.Do == Bar && asks == Bar:
		return r.bar(s, a.Let)
	case a.Do == Free && asks == Bar:
		return r.free(s, a.Choice)
	case a.Do == Pull && asks == Pull:
		return r.pulled(s, a)
	}
	return refuse("act", "The step asks for something else.", "Do what its card asks for.")
}

// InTheWay is what keeps hands from a step as the car stands; nil where nothing does.
func (r *Run) InTheWay(s *plan.Step) *fact.Breach {
	for _, b := range r.against(s) {
		if r.meets(s, b) == nil {
			return b
		}
	}
	return nil
}

// may lets an act come where hands could do it, and keeps what it would cost; else it says
// what is in the way.
func (r *Run) may(s *plan.Step) bool {
	if b := r.InTheWay(s); b != nil {
		r.Blocked++
		r.Minutes++
		r.Said = "It will not come: " + r.named(b.Fact) + " is " + string(b.Is) + ", not " + b.Wants.String() + "."
		return false
	}
	for _, b := range r.against(s) {
		r.miss(r.meets(s, b), r.named(b.Fact))
	}
	return true
}

// named is a fact as one says it.
func (r *Run) named(f fact.Fact) string {
	if j := r.Plan.Joint(f.Place); f.Subject == fact.Fastener && j != nil {
		return "the " + j.Title
	}
	if f.Place == "" {
		return "the " + f.Subject
	}
	return "the " + strings.ReplaceAll(f.Subject, "-", " ") + " " + f.Place
}

// soakPace is how many times quicker a soak runs here than in life.
const soakPace = 5

func (r *Run) finish(s *plan.Step) {
	took := s.Minutes
	if s.Verb == operation.Soak {
		took /= soakPace
	}
	r.Minutes += took
	r.keep(s)
}

// look says what eyes and gauge find at a step.
func (r *Run) look(s *plan.Step) {
	r.Minutes++
	j := r.Plan.Joint(s.Joint)
	switch {
	case r.Box(s.Part) != nil && s.Verb == operation.Compare:
		r.Said = r.beside(r.Box(s.Part))
	case s.Verb == operation.Crack && r.Stuck(s) != nil:
		r.Said = "Rust up to the head, the thread end brown: it may sit fast."
	case s.Verb == operation.Crack:
		r.Said = "Clean enough: nothing speaks against it."
	case s.Verb == operation.Tighten && j != nil:
		r.Said = r.held(j)
	default:
		r.Said = r.stands(s)
	}
}

// held holds a figure against the second source and against what the bolt bears.
func (r *Run) held(j *plan.Joint) string {
	was := r.Recipe(j)
	r.checked[j.ID] = true
	says := "The second source says the same: " + j.Recipe + "."
	if was != j.Recipe {
		says = "The second source says " + j.Recipe + ", the sheet in the bay " + was + ": copied wrong, and struck."
		r.finds("the figure of the " + j.Title + " was copied wrong")
	}
	for _, w := range r.Plan.Step(r.stepOf(j)).Wants {
		if w.Fact.Subject == "springs" {
			says += " The arm " + map[bool]string{true: "stands at ride height.",
				false: "hangs below its ride-height mark."}[w.Values.Has(r.Is(w.Fact))]
		}
	}
	return says
}

// stepOf is the step that tightens a joint.
func (r *Run) stepOf(j *plan.Joint) operation.StepID {
	for _, s := range r.Plan.Steps {
		if s.Joint == j.ID && s.Verb == operation.Tighten {
			return s.ID
		}
	}
	return ""
}

func (r *Run) finds(what string) {
	if !slices.Contains(r.Found, what) {
		r.Found = append(r.Found, what)
	}
}

// stands says how what a step wants stands: seen, not commented.
func (r *Run) stands(s *plan.Step) string {
	var out []string
	for _, w := range s.Wants {
		if w.Fact.Subject != fact.Fastener && len(out) < 4 {
			out = append(out, r.named(w.Fact)+": "+string(r.Is(w.Fact)))
		}
	}
	if len(out) == 0 {
		return "Nothing to see that would matter here."
	}
	return unit.Capital(strings.Join(out, ", ")) + "."
}

// beside lays the part in the box beside the old one.
func (r *Run) beside(b *Box) string {
	now := b.Right
	if r.Wrong[b.Part] && r.settled[b.Part] == "" {
		now = b.Wrong
	}
	res, err := part.Compare(r.kind(b.Part), b.Old, now)
	if err != nil {
		return err.Error()
	}
	if len(res.Differences) == 0 {
		return "Measured: no difference to the old one."
	}
	var out []string
	for _, d := range res.Differences {
		out = append(out,
			fmt.Sprintf("%s: old %s, new %s. %s", d.Field, unit.Number(d.Old, 2), unit.Number(d.New, 2), d.Effect))
	}
	return strings.Join(out, " ")
}

func (r *Run) kind(key string) string {
	for _, p := range r.Plan.Parts {
		if p.Key == key {
			return p.Kind
		}
	}
	return ""
}

// Stage is the stage whose turn it is at a step, by the sheet in the bay.
func (r *Run) Stage(s *plan.Step) (shown, is recipe.Stage) {
	j := r.Plan.Joint(s.Joint)
	_, n := r.Turn(s)
	is = j.Read()[n]
	shown = is
	if text := r.Recipe(j); text != j.Recipe {
		if read, err := recipe.Parse(text); err == nil && n < len(read.Stages) {
			shown = read.Stages[n]
		}
	}
	return shown, is
}

// leave ends the run: all that stays otherwise than it may is a miss.
func (r *Run) leave() {
	defer func() { r.Ended = true }()
	if r.Find != nil {
		r.miss(r.happens(WrongSuspect), "nothing was named, it was the "+r.worn())
		return
	}
	if r.Bad != nil {
		r.miss(r.happens(BadPull), "left as it was pulled")
	}
	for _, s := range r.window() {
		if r.done[s.ID] {
			continue
		}
		if c := r.find(func(c *Consequence) bool { return c.Undone != "" && c.Undone == s.Kind() }); c != nil {
			r.miss(c, s.Title)
		}
	}
	if r.Next() != nil {
		r.leftOpen()
	}
}

// leftOpen looks at what is not at rest, as the plan would have left it.
func (r *Run) leftOpen() {
	end := fact.State{}
	window := r.window()
	for i := range r.Plan.Steps {
		s := &r.Plan.Steps[i]
		for _, m := range s.Makes {
			end[m.Fact] = m.Value
		}
		if s == window[len(window)-1] {
			break
		}
	}
	for _, f := range slices.SortedFunc(maps.Keys(r.now), fact.Compare) {
		want, made := end[f]
		if !made || r.now[f] == want {
			continue
		}
		b := &fact.Breach{Fact: f, Is: r.now[f], Wants: fact.Values{want}}
		c := r.meets(nil, b)
		if c == nil {
			c = r.happens(LeftOpen)
		}
		r.miss(c, r.named(f)+", left "+string(r.now[f]))
	}
}
