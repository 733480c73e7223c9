package web

import (
	"cmp"
	"fmt"
	"html/template"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"

	"github.com/gofiber/fiber/v3"

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
	"lugtak/draw"
	"lugtak/web/kit"
)

// barMM is the bar that is swung in the practice bay, mm (common practice).
const barMM = 600

// practiceView is the list of exercises with how one has fared.
type practiceView struct {
	Exercises []exerciseRow
	Weak      []practice.Skilled
	Repeat    *exerciseRow // what trains the weakest skill
}

type exerciseRow struct {
	*practice.Exercise
	Last *listing.Run
}

// Stars are the levels there are, up to the exercise's own.
func (x exerciseRow) Stars() []bool { return []bool{true, x.Level > 1, x.Level > 2} }

// GoodSays is the time a good technician takes.
func (x exerciseRow) GoodSays() string { return unit.HoursMinutes(x.GoodMin) }

// practiceRun is a run at its act, for its owner.
type practiceRun struct {
	*practice.Run
	Kept    listing.Run
	Step    *plan.Step
	Joint   *plan.Joint
	Offers  []*plan.Step
	Asks    string
	Ladder  *release.Ladder // of what sits fast, where the rungs are looked at
	Tally   []tallyGroup
	Facts   string
	Picture draw.CornerPicture
	Act     template.HTML
	Swing   *swingView
	Dangers []string
	Advice  []string
	Weighed *diagnose.Report
	Names   []suspectKey
	Fault   *fault.Fault
	Typed   map[string]string
	Then    int  // looked back to this act; the run itself is further on
	Back    bool // looked back at
}

// swingView is a pull on the simulated wrench.
type swingView struct {
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
func (v practiceRun) Clock() string { return clockOf(v.Minutes) }

// Good is the time a good technician takes.
func (v practiceRun) Good() string { return clockOf(v.GoodMin) }

// Share is how much of the good time has gone, per cent.
func (v practiceRun) Share() float64 { return math.Min(100, 100*v.Minutes/v.GoodMin) }

func clockOf(minutes float64) string {
	s := int(math.Round(60 * minutes))
	return fmt.Sprintf("%d:%02d", s/60, s%60)
}

// kilometres is a distance with its thousands apart.
func kilometres(km int) string {
	if km < 1000 {
		return fmt.Sprintf("%d km", km)
	}
	return fmt.Sprintf("%d\u202f%03d km", km/1000, km%1000)
}

// Owed counts the fasteners that are not at their figure.
func (v practiceRun) Owed() int {
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
func (v practiceRun) Position() string { return string(v.Is(fact.Fact{Subject: "vehicle"})) }

// practiceBay lists the exercises.
func (s *Server) practiceBay(c fiber.Ctx) error {
	if err := s.practises(); err != nil {
		return err
	}
	past, err := s.Shop.PracticePast(c.Context(), kit.Session(c).Person.ID)
	if err != nil {
		return err
	}
	v := practiceView{Weak: practice.Skills(pastOf(past)), Repeat: s.repeat(past)}
	for i := range s.Shop.Library().Exercises {
		v.Exercises = append(v.Exercises, exerciseAt(&s.Shop.Library().Exercises[i], past))
	}
	return s.render(c, 200, "practice", "Practice bay", v)
}

func (s *Server) practises() error {
	if s.Stand == nil {
		return fault.New("not_found", "", "There is no practice bay here.", "Go back to the bays.")
	}
	return nil
}

func exerciseAt(x *practice.Exercise, past []listing.Run) exerciseRow {
	row := exerciseRow{Exercise: x}
	for i := range past {
		if past[i].Exercise == x.ID {
			row.Last = &past[i]
			break
		}
	}
	return row
}

// pastOf is what somebody has practised, as the rules take it.
func pastOf(runs []listing.Run) []practice.Past {
	var out []practice.Past
	for _, r := range runs {
		out = append(out, practice.Past{Exercise: r.Exercise, Skills: r.Score.Skills})
	}
	return out
}

// repeat is the exercise that trains what is weakest; nil where nothing is.
func (s *Server) repeat(runs []listing.Run) *exerciseRow {
	id := practice.Repeat(pastOf(runs), func(exercise string) (float64, bool) {
		x, ok := s.Shop.Library().Exercise(exercise)
		if !ok {
			return 0, false
		}
		return x.GoodMin, true
	})
	x, ok := s.Shop.Library().Exercise(id)
	if !ok {
		return nil
	}
	row := exerciseAt(x, runs)
	return &row
}

// beginPractice opens a run. What is hidden in it is drawn anew each time, unless a seed is
// asked for.
func (s *Server) beginPractice(c fiber.Ctx) error {
	if err := s.practises(); err != nil {
		return err
	}
	in := kit.Read[struct {
		Exercise string `form:"exercise"`
		Seed     string `form:"seed"`
	}](c)
	if _, ok := s.Shop.Library().Exercise(in.Exercise); !ok {
		return fault.New("not_found", "exercise", "There is no such exercise.", "Choose one of the practice bay.")
	}
	seed, err := strconv.ParseUint(in.Seed, 10, 32)
	if err != nil {
		seed = uint64(rand.Uint32())
	}
	id, err := s.Shop.BeginPractice(c.Context(), kit.Session(c).Person.ID, in.Exercise, seed, s.Shop.Now())
	if err != nil {
		return err
	}
	return kit.Go(c, "/practice/"+id)
}

// running is the run of a request as it stands, or as it stood before one of its acts.
func (s *Server) running(c fiber.Ctx, before int) (practiceRun, error) {
	var v practiceRun
	if err := s.practises(); err != nil {
		return v, err
	}
	var err error
	if v.Kept, err = s.Shop.Practice(c.Context(), c.Params("run"), kit.Session(c).Person.ID); err != nil {
		return v, err
	}
	x, ok := s.Shop.Library().Exercise(v.Kept.Exercise)
	if !ok {
		return v, fault.New("not_found", "", "That exercise is no longer in the library.", "Choose another.")
	}
	p, err := s.Shop.Exercise(x.ID)
	if err != nil {
		return v, err
	}
	acts := v.Kept.Acts
	if before >= 0 && before < len(acts) {
		acts = acts[:before]
		v.Back, v.Then = true, before
	}
	v.Run = practice.Replay(x, p, s.Shop.Library().PracticeRules(), v.Kept.Seed, acts)
	return v, nil
}

func (s *Server) practise(c fiber.Ctx) error { return s.showPractice(c, 200, nil) }

func (s *Server) showPractice(c fiber.Ctx, code int, f *fault.Fault) error {
	before := -1
	if n, err := strconv.Atoi(c.Query("before")); err == nil {
		before = n
	}
	v, err := s.running(c, before)
	if err != nil {
		return err
	}
	v.Fault, v.Typed = f, kit.Typed(c)
	if v.Ended && !v.Back {
		return s.showPractised(c, v)
	}
	if v.Find != nil {
		err = v.seek()
	} else {
		err = s.atStep(c, &v)
	}
	if err != nil {
		return err
	}
	return s.render(c, code, "practising", "Practice: "+v.Title, v)
}

// stepOf is the step a request is about.
func stepOf(c fiber.Ctx) operation.StepID {
	if id := kit.Typed(c)["step"]; id != "" {
		return operation.StepID(id)
	}
	return operation.StepID(c.Query("step"))
}

// atStep fills in what the bench of a run shows.
func (s *Server) atStep(c fiber.Ctx, v *practiceRun) error {
	v.Tally = v.tally()
	v.Offers = v.Offer()
	id := stepOf(c)
	if v.Bad != nil {
		id = v.Bad.Step
	}
	if step := v.Plan.Step(id); step != nil && slices.Contains(v.Offers, step) || v.Bad != nil {
		v.Step = v.Plan.Step(id)
	}
	if v.Step == nil {
		if next := v.Next(); next != nil {
			v.Picture = draw.Corner(v.standing(), next, "")
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
	s.practicePicture(v)
	if v.Asks == practice.Bar && c.Query("free") != "" {
		l, err := v.Run.Ladder(v.Step)
		if err != nil {
			return err
		}
		v.Ladder = &l
		return nil
	}
	if v.Bad == nil && (v.Asks == practice.Pull || v.Asks == practice.Bar) {
		v.Swing = s.swing(v)
	}
	return nil
}

// practicePicture draws the act, or the corner as the facts of the car stand.
func (s *Server) practicePicture(v *practiceRun) {
	acts := &s.Shop.Library().Acts
	if a, ok := acts.For(v.Step.Kind(), v.Step.Tool, v.Step.MakesFacts()); ok && v.Joint == nil {
		v.Act = draw.Act(a, acts, v.Step.Mirrored())
		return
	}
	st := v.standing()
	letter := ""
	if v.Joint != nil && len(v.Joint.Letters) > 0 {
		letter = v.Joint.Letters[0]
	}
	v.Picture = draw.Corner(st, v.Step, letter)
	if v.Joint != nil {
		v.Picture.CloseUp(v.Joint, v.Step.Verb)
	}
}

// standing is the car as the pictures of a job take it.
func (v *practiceRun) standing() *job.State {
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
func (v *practiceRun) mark(j *plan.Joint) job.Mark {
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

func (v *practiceRun) tally() []tallyGroup {
	var out []tallyGroup
	for i := range v.Plan.Joints {
		j := &v.Plan.Joints[i]
		g := tallyGroup{Title: j.Title}
		for _, l := range j.Letters {
			g.Signs = append(g.Signs, tallySign{Sign: draw.Sign{Drive: j.Spec.Drive, Mark: v.mark(j)}, Name: j.One + " " + l})
		}
		out = append(out, g)
	}
	return out
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
func (v practiceRun) Answered() []triedTest {
	var out []triedTest
	for _, a := range slices.Backward(v.Answers) {
		out = append(out, triedTest{a, v.Asked(a.Key)})
	}
	return out
}

// mostNamed are as many suspects as are laid out to be named.
const mostNamed = 6

// seek fills in what a walk-round shows.
func (v *practiceRun) seek() error {
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
func (v practiceRun) Tests() []diagnose.Next {
	out := slices.Clone(v.Weighed.Next[:min(mostTests, len(v.Weighed.Next))])
	slices.SortFunc(out, func(a, b diagnose.Next) int { return cmp.Compare(a.Key, b.Key) })
	return out
}

// practiseAct carries one act out and keeps it.
func (s *Server) practiseAct(c fiber.Ctx) error {
	v, err := s.running(c, -1)
	if err != nil {
		return err
	}
	in := kit.Read[struct {
		Do     string     `form:"do"`
		Step   string     `form:"step"`
		Letter string     `form:"letter"`
		Choice string     `form:"choice"`
		Let    kit.Figure `form:"let"`
	}](c)
	a := practice.Act{Do: in.Do, Step: operation.StepID(in.Step), Letter: in.Letter, Choice: in.Choice, Let: in.Let.Value}
	if a.Do == practice.Pull {
		if a.Reading, err = s.pullFor(&v, a, in.Let); err != nil {
			return s.practiceRefused(c, err)
		}
	}
	if err := v.Do(a); err != nil {
		return s.practiceRefused(c, err)
	}
	kept := v.Kept
	kept.Acts = v.Acts
	if v.Ended {
		kept.Ended = s.Shop.Now()
		sc := v.Score()
		kept.Score = listing.Score{Met: sc.Met, Of: sc.Of, Faults: sc.Faults, Minutes: v.Minutes, Skills: sc.Skills}
	}
	if err := s.Shop.Practised(c.Context(), kept); err != nil {
		return s.practiceRefused(c, err)
	}
	to := "/practice/" + kept.ID
	if a.Step != "" && !v.Done(a.Step) {
		to += "?step=" + in.Step
	}
	return kit.See(c, to)
}

func (s *Server) practiceRefused(c fiber.Ctx, err error) error {
	if f := fault.As(err); f != nil {
		return s.showPractice(c, kit.Status(f), f)
	}
	return err
}

// mostLet is more than any hand pulls, N·m or degrees.
const mostLet = 1000

// pullFor reads the stand for an act.
func (s *Server) pullFor(v *practiceRun, a practice.Act, let kit.Figure) (*practice.Reading, error) {
	v.Step = v.Plan.Step(a.Step)
	switch {
	case v.Step == nil || v.Run.Asks(v.Step) != practice.Pull:
		return nil, fault.New("bad_act", "step", "Nothing is pulled there.", "Choose an act that is laid out.")
	case !let.OK || let.Value <= 0 || let.Value > mostLet:
		return nil, fault.New("out_of_range", "let", "Nobody lets go there.", "Give newton metres, or degrees for an angle.")
	}
	v.Joint = v.Plan.Joint(v.Step.Joint)
	return s.read(v, let.Value)
}

// practisedView is a run that has ended.
type practisedView struct {
	practiceRun
	practice.Score
	Skilled []practice.Skilled
	Repeat  *exerciseRow
}

// Headline is what would have left with the car.
func (v practisedView) Headline() string {
	switch v.Faults {
	case 0:
		return "It would have left sound"
	case 1:
		return "It would have left with one fault"
	}
	return fmt.Sprintf("It would have left with %d faults", v.Faults)
}

func (s *Server) showPractised(c fiber.Ctx, v practiceRun) error {
	past, err := s.Shop.PracticePast(c.Context(), kit.Session(c).Person.ID)
	if err != nil {
		return err
	}
	out := practisedView{
		practiceRun: v,
		Score:       v.Run.Score(),
		Skilled:     practice.Skills(pastOf(past)),
		Repeat:      s.repeat(past),
	}
	return s.render(c, 200, "practised", "Practice: "+v.Title, out)
}
