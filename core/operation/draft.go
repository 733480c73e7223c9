package operation

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// Free work is work no operation of the library knows. Whoever does it says what they open, in their order; what
// is closed is its mirror, and the laws of the vehicle hold all the same.

// freeMark begins the id of the operation free work is compiled as.
const freeMark = "free-"

// IsFree says that an operation is somebody's free work.
func IsFree(id string) bool { return strings.HasPrefix(id, freeMark) }

// notPlain is what an id has no place for.
var notPlain = regexp.MustCompile(`[^a-z0-9]+`)

// ID is the operation's: the same for the same work of another day.
func (d Draft) ID() string {
	return freeMark + cmp.Or(strings.Trim(notPlain.ReplaceAllString(strings.ToLower(d.Title), "-"), "-"), "work")
}

// Draft is free work as far as somebody has said it.
type Draft struct {
	Title string
	Under bool // in the middle of the vehicle, not at a corner
	From  Stance
	Sets  bool // the wheels' alignment moves by it
	Acts  []DraftAct
}

// Stance is how the vehicle has to be for free work.
type Stance string

// The stances.
const (
	FromWheelOff Stance = "wheel off"
	FromRaised   Stance = "raised"
	FromGround   Stance = "on its wheels"
)

// Stances lists them.
func Stances() []Stance { return []Stance{FromWheelOff, FromRaised, FromGround} }

// Deed is what an act of free work does.
type Deed string

// The deeds.
const (
	DeedOpen   Deed = "open"   // fasteners out
	DeedLoosen Deed = "loosen" // fasteners slackened, and tightened anew
	DeedOff    Deed = "off"    // a part off
	DeedCarry  Deed = "carry"  // something carried before what holds it leaves
)

// DraftAct is one act of free work.
type DraftAct struct {
	Do     Deed
	Title  string // what is opened, taken off or carried: "shackle bolt"
	System string // of fasteners
	Count  int    // of fasteners
	Spot   *Point // where they sit in the picture of the place; nil where nobody touched it
	New    bool   // another part goes on
}

// Systems a fastener may belong to.
func Systems() []string {
	return []string{"suspension", "steering", "brake", "hub", "driveline", "body"}
}

// Carried is what falls, tips or drops once what holds it is off.
func Carried() []string {
	return []string{
		"wheel", "axle", "arm", "spring", "knuckle", "gearbox", "shaft", "caliper", "exhaust", "stabiliser bar",
		"crossmember", "strut",
	}
}

// Bounds of free work.
const (
	maxDraftTitle = 40
	maxDraftActs  = 60
	maxDraftCount = 24
)

// Check refuses a draft nobody could work by. Its fault names the field.
func (d *Draft) Check() error {
	d.Title = strings.TrimSpace(d.Title)
	switch {
	case badTitle(d.Title):
		return fault.New(fault.Missing, "title", "The work has no name, or one that is too long.",
			"Say in a few words what is done: rear leaf spring.")
	case !slices.Contains(Stances(), d.From):
		return fault.New(fault.BadChoice, "from", "Nobody said how the vehicle stands for it.", "Choose one of the three.")
	case d.From == FromWheelOff && d.Under:
		return fault.New(fault.BadChoice, "from", "No wheel is at the middle of the vehicle.",
			"Choose a corner, or how the vehicle stands.")
	case len(d.Acts) > maxDraftActs:
		return fault.New(fault.TooLong, "act", "That is more than one job of free work.", "Begin another job for the rest.")
	}
	for i := range d.Acts {
		if err := d.Acts[i].check(d.Acts[:i]); err != nil {
			return err
		}
	}
	return nil
}

func badTitle(t string) bool {
	return t == "" || len([]rune(t)) > maxDraftTitle || strings.ContainsAny(t, "{}\n") || vehicle.OwnKey(t) == ""
}

func (a *DraftAct) check(before []DraftAct) error {
	a.Title = strings.TrimSpace(a.Title)
	same := func(o DraftAct) bool {
		return (o.Do == a.Do || o.bolts() && a.bolts()) && vehicle.OwnKey(o.Title) == vehicle.OwnKey(a.Title)
	}
	switch {
	case !slices.Contains([]Deed{DeedOpen, DeedLoosen, DeedOff, DeedCarry}, a.Do):
		return fault.New(fault.BadChoice, "act", "That is no act of free work.", "Touch one of the keys.")
	case badTitle(a.Title):
		return fault.New(fault.Missing, "what", "It has no name, or one that is too long.",
			"Say what people call it: shackle bolt.")
	case a.Do == DeedCarry && !slices.Contains(Carried(), a.Title):
		return fault.New(fault.BadChoice, "what", "That is not on the list of what is carried.", "Choose one of the list.")
	case slices.ContainsFunc(before, same):
		return fault.New(fault.Exists, "what", "“"+a.Title+"” stands there already.", "Give this one a name of its own.")
	case a.bolts() && !slices.Contains(Systems(), a.System):
		return fault.New(fault.BadChoice, "system", "Nobody said what it belongs to.",
			"Choose one: it says what hangs on it.")
	case a.bolts() && (a.Count < 1 || a.Count > maxDraftCount):
		return fault.New(fault.OutOfRange, "count", "From 1 to 24 fasteners are opened at once.", "Count them.")
	}
	return nil
}

// bolts says that the act is about fasteners.
func (a DraftAct) bolts() bool { return a.Do == DeedOpen || a.Do == DeedLoosen }

// spec is the key of its joint on the sheet.
func (a DraftAct) spec() string { return a.System + ".{axle}." + vehicle.OwnKey(a.Title) }

// Operation is the draft as an operation: what is opened in the order it was said, the work itself, and its mirror.
// What nobody knows of, as the order in which the bolts are tightened, is left to the laws and the order found.
func (d Draft) Operation() Operation {
	o := Operation{
		ID:      d.ID(),
		Title:   d.Title,
		Version: 1,
		Axle:    "any",
		Warnings: []string{
			"Free work: no operation of the library knows it. Its order is its technician’s own; " +
				"only the laws of the vehicle hold it.",
		},
		Drive: []Manoeuvre{
			{Do: "slow weave left and right", Listen: "no knock"},
			{Do: "small bumps straight at 30 km/h", Listen: "no knock, no rattle"},
		},
	}
	side := ", {axle} {side}"
	if d.Under {
		o.Axle, side = Under, ""
	}
	if d.From == FromWheelOff {
		o.Wants = append(o.Wants, Want{Fact: "wheel", Value: "off"})
	}
	if d.From == FromGround {
		o.Wants = append(o.Wants, Want{Fact: "vehicle", Value: "on its wheels"})
	} else {
		o.Wants = append(o.Wants, Want{Fact: "vehicle", Value: "raised"})
	}
	opened := slices.ContainsFunc(d.Acts, func(a DraftAct) bool { return a.Do == DeedOpen })
	if d.Sets && opened {
		o.Sets = []Setting{{What: "toe", Cause: d.Title, Sure: true}}
	}
	w := drafting{side: side, under: d.Under, o: &o}
	for i, a := range d.Acts {
		w.opens(i, a)
	}
	w.step(Step{ID: workStep, Verb: Act, Title: "The work itself is done: " + d.Title, Minutes: 10,
		Because: "Whatever else has to be opened is said before this: from here on it is closed."})
	for i, a := range slices.Backward(d.Acts) {
		w.closes(i, a)
	}
	for i, a := range d.Acts {
		w.tightens(i, a)
	}
	for i, a := range slices.Backward(d.Acts) {
		w.letsGo(i, a, d.Acts[i+1:])
	}
	return o
}

// Of says that a step of a plan belongs to an act of the draft, by its place.
func (d Draft) Of(id StepID, act int) bool {
	return strings.HasPrefix(string(id), fmt.Sprintf("%s.n%d-", d.ID(), act+1))
}

// workStep is the work itself: all is opened before it, and closed after it.
const workStep = "work"

// IsWork says that a step of a plan is the draft's work itself.
func (d Draft) IsWork(id StepID) bool { return strings.HasPrefix(string(id), d.ID()+"."+workStep) }

// drafting writes the steps of a draft, each behind the one before.
type drafting struct {
	o     *Operation
	side  string
	under bool
	last  StepID
}

func (w *drafting) step(s Step) {
	s.Title += w.side
	s.Place = "the work"
	if w.last != "" {
		s.Needs = append(s.Needs, w.last)
	}
	w.o.Steps = append(w.o.Steps, s)
	w.last = s.ID
}

// key is what a joint or part of the draft is called in its file.
func key(i int) string { return fmt.Sprint("n", i+1) }

func step(i int, what string) StepID { return StepID(fmt.Sprintf("n%d-%s", i+1, what)) }

func (w *drafting) opens(i int, a DraftAct) {
	switch a.Do {
	case DeedCarry:
		w.step(Step{ID: step(i, "carry"), Verb: Act, Minutes: 4, Tool: "jack or stand", Puts: []string{support(a)},
			Title:   "The " + a.Title + " carried: jack, stand, strap or hook",
			How:     "By its own place for it, never by a hose, a lead or a boot. It carries before what holds it is opened.",
			Caution: "What is not carried falls, tips or springs out. A spring under tension is let go in its tool alone."})
	case DeedOff:
		w.step(Step{ID: step(i, "off"), Verb: Act, Title: unit.Capital(a.Title) + " off", Minutes: 5,
			How: "Look how it sits, what runs along it and which way round: a photograph helps later."})
		if a.New {
			w.o.Parts = append(w.o.Parts, Part{Key: key(i), Title: a.Title, Count: 1})
			w.step(Step{ID: step(i, "beside"), Verb: Act, Minutes: 2, Part: key(i),
				Title:   "New " + a.Title + " beside the old",
				How:     "Length, seats, bores, threads, left or right.",
				Because: "Before it goes in: what differs is seen on the bench."})
		}
	default:
		w.o.Joints = append(w.o.Joints, w.joint(i, a))
		w.step(Step{ID: step(i, "crack"), Verb: Crack, Joint: key(i), Minutes: 2,
			Title: unit.Capital(a.Title) + " broken loose"})
		if a.Do == DeedOpen {
			w.step(Step{ID: step(i, "out"), Verb: Remove, Joint: key(i), Minutes: 1,
				Title: unit.Capital(a.Title) + " out", How: "Into {tray}."})
		}
	}
}

func (w *drafting) joint(i int, a DraftAct) Joint {
	j := Joint{
		Key: key(i), Spec: a.spec(), Title: a.Title, One: a.one(), System: a.System,
		Star: a.Count > 3, Fasteners: a.Count, Spot: a.Spot,
	}
	if w.under {
		j.Spec = strings.ReplaceAll(j.Spec, "{axle}", Under)
	}
	return j
}

// one is what one of several fasteners is called.
func (a DraftAct) one() string {
	if one := strings.TrimSuffix(a.Title, "s"); a.Count > 1 && !strings.HasSuffix(one, "s") {
		return one
	}
	return a.Title
}

func (w *drafting) closes(i int, a DraftAct) {
	switch a.Do {
	case DeedOff:
		w.step(Step{ID: step(i, "on"), Verb: Act, Title: unit.Capital(a.Title) + " on", Minutes: 5,
			How: "As it sat before: which way round, what runs along it."})
	case DeedOpen, DeedLoosen:
		w.step(Step{ID: step(i, "start"), Verb: Start, Joint: key(i), Snug: true, Minutes: 1,
			Title: unit.Capital(a.Title) + " by hand, then just snug"})
	}
}

// tightens puts no order among the tightenings: stance and laws do.
func (w *drafting) tightens(i int, a DraftAct) {
	if a.bolts() {
		last := w.last
		w.step(Step{ID: step(i, "tight"), Verb: Tighten, Joint: key(i), Minutes: 2,
			Title: unit.Capital(a.Title) + " tight"})
		w.last = last
	}
}

// letsGo takes the support away when what was opened after it is fast.
func (w *drafting) letsGo(i int, a DraftAct, after []DraftAct) {
	if a.Do != DeedCarry {
		return
	}
	s := Step{ID: step(i, "free"), Verb: Act, Minutes: 2, Tool: "jack or stand", Takes: []string{support(a)},
		Title: "Support away from the " + a.Title}
	for k, o := range after {
		if o.bolts() {
			s.Wants = append(s.Wants, Want{Joint: key(i + 1 + k), Value: "fast",
				Because: "what held the " + a.Title + " holds it again"})
		}
	}
	w.step(s)
}

func support(a DraftAct) string { return "support under the " + a.Title }
