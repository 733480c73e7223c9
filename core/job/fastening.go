package job

import (
	"fmt"
	"iter"
	"slices"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/thread"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// Fastening is how far the fasteners are, and what was pulled on them.
type Fastening struct {
	Fasteners map[FastenerID]*Fastener
	Pulls     map[string]*Pull // by event id
	PullOrder []string
	Settings  map[string]Setting // by person: what they stated last
}

// FastenerID names one bolt or nut of a job.
type FastenerID struct {
	Joint  string // "hub.FL.knuckle"
	Letter string
}

// String writes hub.FL.knuckle#A.
func (id FastenerID) String() string { return id.Joint + "#" + id.Letter }

// MarshalText lets it stand where a text does.
func (id FastenerID) MarshalText() ([]byte, error) { return []byte(id.String()), nil }

// UnmarshalText reads what MarshalText writes.
func (id *FastenerID) UnmarshalText(text []byte) (err error) {
	*id, err = ParseFastenerID(string(text))
	return err
}

// ParseFastenerID reads what String writes.
func ParseFastenerID(text string) (FastenerID, error) {
	i := strings.LastIndexByte(text, '#')
	if i < 1 || i == len(text)-1 {
		return FastenerID{}, fault.New(fault.Missing, "fastener", "“"+text+"” names no fastener.",
			"Write it as hub.FL.knuckle#A.")
	}
	return FastenerID{Joint: text[:i], Letter: text[i+1:]}, nil
}

// Mark is how far a fastener is.
type Mark string

// The marks, which are also the forms of the fastener sign.
const (
	Rest      Mark = "rest"
	Loose     Mark = "loose"
	Out       Mark = "out"
	InHand    Mark = "hand"
	SnugMark  Mark = "snug"
	Between   Mark = "stage"
	Proved    Mark = "proved"
	Excused   Mark = "deviation"
	InTrouble Mark = "problem"

	// How a proved fastener is known, where no trace proves it.
	Clicked    Mark = "clicked"
	Turned     Mark = "turned"
	Played     Mark = "played"
	Said       Mark = "stated"
	Unmeasured Mark = "unmeasured"
)

var markWords = map[Mark]string{
	Rest:      "not touched",
	Loose:     "broken loose",
	Out:       "out, in its tray",
	InHand:    "started by hand",
	SnugMark:  "snug",
	Between:   "between stages",
	Proved:    "proved, marked",
	Excused:   "signed deviation",
	InTrouble: "trouble",

	Clicked:    "proved, clicked",
	Turned:     "proved, turned by a mark",
	Played:     "proved by play",
	Said:       "stated, by a file that was brought",
	Unmeasured: "not measured",
}

// Words says a mark in the words of the bay.
func (m Mark) Words() string { return markWords[m] }

// Fastener is one bolt or nut.
type Fastener struct {
	FastenerID
	Phase    Mark // rest, loose, out or hand; what follows is in Done
	Done     int  // stages paid
	Stages   int
	Renewed  bool
	Waived   bool   // a deviation was signed for it
	Trouble  string // id of its trouble
	Pulls    []string
	Evidence pull.Evidence // the weakest of what counted
	Cause    Cause         // why it was not measured
	Blocks   pull.Needs    // what must come before the next pull

	ByBolt    bool // its figure is of its bolt, not of the maker: its stripe stays broken for ever
	Gauged    bool // its play was found inside since it was last pulled
	GoesInNew bool // it broke and came out: the next to be started is a new one
	Anew      bool // it was opened once more since: what is owed of it is owed there

	Seq   int // of the last event that touched it
	Since int // event at which it was last started or slackened
}

// Mark is the sign it carries.
func (f *Fastener) Mark() Mark {
	switch {
	case f.Trouble != "":
		return InTrouble
	case f.Phase == Rest:
		return Rest
	case f.Waived, f.ByBolt && f.Done >= f.Stages:
		return Excused
	case f.Done >= f.Stages:
		return Proved
	case f.Done == 0:
		return f.Phase
	case f.Done == 1 && f.Stages > 2:
		return SnugMark
	}
	return Between
}

// Sign is its mark with how it is known: the form of its sign.
func (f *Fastener) Sign() Mark {
	m := f.Mark()
	switch {
	case m != Proved:
		return m
	case f.Gauged:
		return Played
	}
	switch f.Evidence {
	case pull.Clicked:
		return Clicked
	case pull.Marked:
		return Turned
	case pull.Stated:
		return Said
	case pull.Traced:
		return Proved
	}
	return Unmeasured
}

// Owed says that the fastener was disturbed and is not yet tight by its recipe.
func (f *Fastener) Owed() bool {
	return f.Phase != Rest && !f.Waived && (f.Done < f.Stages && !f.Anew || f.Trouble != "")
}

// LeftUnmeasured says that it was left not measured, which shows for ever.
func (f *Fastener) LeftUnmeasured() bool {
	return f.Evidence == pull.NotMeasured && f.Phase != Rest && f.Done >= f.Stages && !f.Waived && !f.Gauged
}

// Says is how far it is and how that is known, in words.
func (f *Fastener) Says() string {
	switch {
	case f.ByBolt && f.Mark() == Excused && !f.Waived:
		return Excused.Words() + ", by the bolt"
	case f.Mark() != Proved:
		return f.Mark().Words()
	case f.Gauged:
		return Played.Words()
	case f.LeftUnmeasured():
		return "not measured: " + f.Cause.Words()
	case f.Evidence == "":
		return Unmeasured.Words()
	case f.Evidence == pull.Stated:
		return Said.Words()
	}
	return "proved, " + f.Evidence.Words()
}

// begin is a fastener at the beginning of its stages.
func (f *Fastener) begin(seq int) {
	if f.Anew {
		return
	}
	f.Done = 0
	f.Waived = false
	f.Evidence = ""
	f.Cause = ""
	f.Blocks = pull.Nothing
	f.Since = seq
}

// unpaid takes back what was paid of its stages.
func (f *Fastener) unpaid(seq int) {
	if f.Done > 0 || f.Waived {
		f.begin(seq)
	}
}

func (f Fastening) clone() Fastening {
	f.Fasteners = clonePointers(f.Fasteners)
	f.Pulls = cloneMap(f.Pulls)
	f.PullOrder = slices.Clip(f.PullOrder)
	f.Settings = cloneMap(f.Settings)
	return f
}

// Fastener finds one bolt or nut, nil where the plan has none such.
func (f *Fastening) Fastener(joint, letter string) *Fastener {
	return f.Fasteners[FastenerID{joint, letter}]
}

// touch finds a fastener nobody else has touched since the client looked.
func (s *State) touch(m Meta, id FastenerID) (*Fastener, error) {
	f := s.Fasteners[id]
	if f == nil {
		return nil, refuse(fault.Missing, "fastener", "The plan has no such fastener.", "Touch one in the picture.")
	}
	return f, s.fresh(m, f.Seq)
}

// all goes through the fasteners with their joints, in the order of the plan.
func (s *State) all() iter.Seq2[*plan.Joint, *Fastener] {
	return func(yield func(*plan.Joint, *Fastener) bool) {
		for i := range s.Plan.Joints {
			j := &s.Plan.Joints[i]
			for _, l := range j.Letters {
				if !yield(j, s.Fastener(j.ID, l)) {
					return
				}
			}
		}
	}
}

// Owed lists the fasteners owed, in the order of the plan.
func (s *State) Owed() []*Fastener {
	var out []*Fastener
	for _, f := range s.all() {
		if f.Owed() {
			out = append(out, f)
		}
	}
	return out
}

// Span is the first and last stage a tightening step does, from 0.
func (s *State) Span(st *plan.Step) (from, to int) {
	n := len(s.stages[st.Joint])
	j := s.Plan.Joint(st.Joint)
	switch {
	case st.AfterDrive:
		return n - 1, n - 1
	case len(st.Stages) == 2:
		return st.Stages[0] - 1, min(st.Stages[1], n) - 1
	case j.AfterDrive:
		return 0, n - 2
	}
	return 0, n - 1
}

// Current is the letter of the exact fastener a step is at, empty where it has none or
// all that are left are in trouble.
func (s *State) Current(st *plan.Step) string {
	j := s.Plan.Joint(st.Joint)
	if j == nil {
		return ""
	}
	if st.Verb != operation.Tighten {
		if left := s.LeftAt(st, j); len(left) > 0 {
			return left[0]
		}
		return ""
	}
	from, to := s.Span(st)
	for stage := from; stage <= to; stage++ {
		for _, k := range j.Order {
			f := s.Fastener(j.ID, j.Letters[k])
			if f.Done <= stage && f.Trouble == "" && !f.Waived {
				return f.Letter
			}
		}
	}
	return ""
}

// stageNext says which stage of its joint a fastener is at, and why a pull on it is
// refused now.
func (s *State) stageNext(st *plan.Step, j *plan.Joint, f *Fastener) (int, error) {
	from, to := s.Span(st)
	name := j.One + " " + f.Letter
	switch {
	case f.Phase != InHand:
		return 0, refuse(fault.Order, "fastener",
			fmt.Sprintf("%s is %s, not started by hand.", name, f.Phase.Words()),
			"Start it by hand first, four or five turns.")
	case f.Trouble != "":
		return 0, refuse(fault.Trouble, "fastener", "There is trouble at "+name+".", "Clear it first.")
	case f.Done > to:
		return 0, refuse(fault.Order, "fastener", name+" has this stage already.", "Go on with the next.")
	case f.Done < from:
		return 0, refuse(fault.Order, "fastener", name+" lacks the stage before this one.", "Do that stage first.")
	case f.Blocks == pull.Renew:
		return 0, refuse(fault.Blocked, "fastener", "The last pull hurt "+name+": it is not tightened again.",
			"Slacken it, take it out and fit new hardware; say so, then begin again.")
	case f.Blocks == pull.Slacken:
		return 0, refuse(fault.Blocked, "fastener", "The last pull on "+name+" was rejected.",
			"Slacken it first, say so, then begin again.")
	}
	for _, l := range j.Letters { // round and round: nobody runs ahead
		o := s.Fastener(j.ID, l)
		if o.Done < f.Done && !o.Waived && o.Trouble == "" {
			return 0, refuse(fault.Order, "fastener",
				fmt.Sprintf("%s %s still lacks round %d.", j.One, l, o.Done+1),
				"Go round evenly: that one first.")
		}
	}
	return f.Done, nil
}

// CanPull says whether the step's fastener may be pulled on now, and if not why: its
// turn in the pattern, the vehicle's position, the rotation held.
func (s *State) CanPull(st *plan.Step, letter string) error {
	j := s.Plan.Joint(st.Joint)
	f := s.Fastener(st.Joint, letter)
	if j == nil || f == nil {
		return nil
	}
	stage, err := s.stageNext(st, j, f)
	if err != nil {
		return err
	}
	if err := s.conditionMet(st, j, stage); err != nil {
		return err
	}
	return s.Ready(st)
}

// asked is how the vehicle must stand for a condition, and how each is said.
var asked = map[vehicle.Condition]plan.Position{
	vehicle.Hanging:      plan.Raised,
	vehicle.OnGround:     plan.Touching,
	vehicle.AtRideHeight: plan.RideHigh,
}

var standsNow = map[plan.Position]string{
	plan.Raised:   "The wheel still hangs",
	plan.Ground:   "The vehicle stands on its wheels",
	plan.Touching: "The tyre touches",
	plan.RideHigh: "The vehicle is at ride height",
}

var shouldStand = map[plan.Position]string{
	plan.Raised:   "wheel hanging",
	plan.Touching: "wheel on the ground",
	plan.RideHigh: "weight on the springs",
}

// conditionMet checks what the sheet says must hold while a joint is tightened.
func (s *State) conditionMet(st *plan.Step, j *plan.Joint, stage int) error {
	if s.AsksVariant(j) {
		return refuse(fault.Variant, "variant",
			"This joint may carry more than one kind of "+j.One+", and the figure follows the one in hand.",
			"Look at it and say which it is.")
	}
	if err := s.unread(j); err != nil {
		return err
	}
	if f := s.StruckFigure(j.ID); f != nil {
		return refuse(fault.FigureStruck, "figure",
			fmt.Sprintf("The figure of the %s was struck: %s, now %s from %s.", j.Title, f.Was, f.Recipe, f.Source),
			"Take the new figure into this job, or refuse it with the reason.")
	}
	if j.Held && !s.Held[j.Corner] && !s.Plan.TyreHolds(s.Facts, j.Corner) {
		return refuse(fault.Condition, "held",
			"The rotation is not held: the "+j.One+" would turn with the hub.", s.wayToHold(j.Corner))
	}
	if want := s.stanceLacked(j, stage); want != "" && !s.cornered(st) {
		return refuse(fault.Condition, "position",
			standsNow[s.Position]+"; the "+j.Title+" are tightened with the "+shouldStand[want]+".", s.wayTo(want))
	}
	return nil
}

// stanceLacked is how the vehicle should stand while a joint's stage is tightened, and does not;
// empty where it does.
func (s *State) stanceLacked(j *plan.Joint, stage int) plan.Position {
	setInTheAir := j.Bears && stage == 0 && j.Condition == vehicle.OnGround // snug, before any weight
	want, asks := asked[j.Condition]
	if setInTheAir || !asks || s.stands(want) {
		return ""
	}
	return want
}

// stanceFor is how the vehicle should stand for the fastener a step is at, and does not.
func (s *State) stanceFor(st *plan.Step) plan.Position {
	f := s.Fastener(st.Joint, s.Current(st))
	if st.Verb != operation.Tighten || f == nil {
		return ""
	}
	return s.stanceLacked(s.Plan.Joint(st.Joint), f.Done)
}

func (s *State) wayToHold(corner vehicle.Corner) string {
	for i, st := range s.Plan.Steps {
		if st.Holds && st.Corner == corner {
			return fmt.Sprintf("Step %d: “%s”.", i+1, st.Title)
		}
	}
	return "Have someone on the brake, or bar the hub, and keep that step."
}

// Peak is the highest torque a joint is sure to see from a stage on while one wrench
// stays on it, which is to the next torque stage. What an angle stage adds is reckoned
// at the low end of its band: a tool is not refused on a guess.
func (s *State) Peak(j *plan.Joint, stage int) unit.Torque {
	stages := s.stages[j.ID][stage:]
	for i := 1; i < len(stages); i++ {
		if stages[i].Kind == recipe.Torque {
			stages = stages[:i]
		}
	}
	r := recipe.Recipe{Stages: stages}
	peak := r.Peak()
	f, ok := j.Fastener()
	if !ok || !r.ReachesAngle() {
		return peak
	}
	mu, err := thread.Friction(f.Treatment)
	if err != nil {
		return peak
	}
	l, err := recipe.Reckon(r, f)
	if err != nil {
		return peak
	}
	return max(peak, unit.Torque(l.AfterAngle.Low*f.Thread.TorquePerForce(mu.High)))
}

// expect is what the judge may compare a pull of this joint with: the joint, and its siblings.
func (s *State) expect(j *plan.Joint, stage int) pull.Expect {
	ex := j.Expect(s.stages[j.ID], stage)
	for _, id := range s.PullOrder {
		p := s.Pulls[id]
		if p.Fastener.Joint == j.ID && p.Stage == stage && p.Counts() && p.Traced {
			ex.Siblings = append(ex.Siblings, pull.Feature{
				Slope: p.Result.SlopeNmD,
				Turn:  p.Result.TurnDeg,
				Peak:  p.Result.PeakNm,
			})
		}
	}
	return ex
}

// ceiling is the torque in N·m at which a bolt of the joint twists off, and yields the
// one that brings it to yield at the low end of its friction; 0 where the sheet does
// not tell what it is.
func ceiling(j *plan.Joint) (twistsOff, yields float64) {
	f, ok := j.Fastener()
	if !ok || f.Class.Name == "" {
		return 0, 0
	}
	twistsOff, _ = f.Thread.TwistOff(f.Class)
	if mu, err := thread.Friction(f.Treatment); err == nil {
		_, yields = f.Thread.Tightening(f.Class, mu.Low, 1)
	}
	return twistsOff, yields
}

// possible refuses a torque no bolt of the joint can have borne.
func possible(j *plan.Joint, field string, torqueNm float64) error {
	limit, _ := ceiling(j)
	if limit == 0 || torqueNm <= limit {
		return nil
	}
	return refuse(fault.Impossible, field,
		fmt.Sprintf("%s is impossible: %s %s twists off at %s.",
			unit.Torque(torqueNm), j.Thread, j.Class, unit.Torque(limit)),
		"What happened? A figure misread or the wrong unit: enter it again. Another bolt: look which. "+
			"If it broke: Trouble, sheared.")
}
