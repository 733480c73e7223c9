package job

import (
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// What is written down at the door is bounded, and may be as long as its bound.
func TestStartBounds(t *testing.T) {
	good := Start{Job: "j", Complaint: "hum", OdometerKM: 10}
	for name, c := range map[string]struct {
		change func(*Start)
		code   fault.Code
	}{
		"as it is":                {func(*Start) {}, ""},
		"no complaint":            {func(s *Start) { s.Complaint = " " }, fault.Missing},
		"the longest complaint":   {func(s *Start) { s.Complaint = strings.Repeat("x", maxComplaint) }, ""},
		"a longer one":            {func(s *Start) { s.Complaint = strings.Repeat("x", maxComplaint+1) }, fault.TooLong},
		"a new vehicle":           {func(s *Start) { s.OdometerKM = 0 }, ""},
		"below nothing":           {func(s *Start) { s.OdometerKM = -1 }, "out_of_range"},
		"the furthest":            {func(s *Start) { s.OdometerKM = maxOdometer }, ""},
		"further":                 {func(s *Start) { s.OdometerKM = maxOdometer + 1 }, "out_of_range"},
		"as last time":            {func(s *Start) { s.LastKM = 10 }, ""},
		"backwards":               {func(s *Start) { s.LastKM = 11 }, fault.OdometerBack},
		"backwards, with why":     {func(s *Start) { s.LastKM = 11; s.WhyBack = "new panel" }, ""},
		"why, as long as may be":  {func(s *Start) { s.WhyBack = strings.Repeat("x", maxWhyBack) }, ""},
		"why, longer":             {func(s *Start) { s.WhyBack = strings.Repeat("x", maxWhyBack+1) }, fault.TooLong},
		"a number with a slash":   {func(s *Start) { s.Job = "a/b" }, fault.Missing},
		"a number of every sort":  {func(s *Start) { s.Job = "azAZ09-._" }, ""},
		"a number beyond letters": {func(s *Start) { s.Job = "a{" }, fault.Missing},
	} {
		in := good
		c.change(&in)
		_, err := Decide(Replay(nil), Meta{ID: "s", By: "a", Role: Technician, At: morning}, in)
		f := fault.As(err)
		if c.code == "" && err != nil || c.code != "" && (f == nil || f.Code != c.code) {
			t.Errorf("%s: %v, want %q", name, err, c.code)
		}
	}
	for _, id := range []string{"/", ":", "@", "[", "`", "{"} { // the neighbours of letters and digits
		if GoodID(id) {
			t.Errorf("%q is a good number", id)
		}
	}
}

func TestTroubles(t *testing.T) {
	b := begin(t)
	b.refused(ReportTrouble{Step: "nowhere", Code: Stuck}, fault.Missing, "no such step")
	b.refused(ReportTrouble{Step: "soak", Code: "mood"}, fault.Missing, "what went wrong")
	b.refused(ReportTrouble{Step: "soak", Code: OtherTrouble}, fault.Missing, "it is not said what")
	b.refused(ReportTrouble{Step: "soak", Code: Stuck, Note: strings.Repeat("x", maxText+1)}, fault.TooLong, "too long")
	b.refused(ReportTrouble{Step: "crack", Letter: "Z", Code: Stuck}, fault.Missing, "no such fastener")
	if b.s.Begun() {
		t.Error("begun by refusals")
	}
	b.must(ReportTrouble{Step: "soak", Code: OtherTrouble, Note: strings.Repeat("x", maxText)})
	if !b.s.Begun() {
		t.Error("trouble met with is work begun")
	}
	b.refused(KeepStep{Step: "soak"}, fault.Trouble, "something else")
	b.must(ReportTrouble{Step: "crack", Letter: "2", Code: Rounded})
	b.refused(ReportTrouble{Step: "crack", Letter: "2", Code: Stuck}, fault.Trouble, "trouble at this one already")
	f := b.s.Fastener(wheel, "2")
	if f.Phase != Loose || f.Mark() != InTrouble || !f.Owed() || f.Seq != b.s.Seq {
		t.Errorf("touched is touched: %+v", f)
	}
	b.refused(Handle{Step: "crack", Letters: []string{"2"}}, fault.Trouble, "There is trouble")
	b.must(Handle{Step: "crack"}) // the others
	if b.s.StepDone("crack") || len(b.s.Steps["crack"].Letters) != 3 {
		t.Errorf("%+v", b.s.Steps["crack"])
	}
	b.refused(Handle{Step: "crack"}, fault.Order, "Nothing is left")
	if !b.s.blocked(b.s.Plan.Step("crack")) || b.s.blocked(b.s.Plan.Step("soak")) {
		t.Error("a step whose last fastener is in trouble waits for it; one without fasteners does not")
	}
	id := b.s.Troubles[1].ID
	b.refused(ClearTrouble{Trouble: "none", How: "x"}, fault.Missing, "not open")
	b.refused(ClearTrouble{Trouble: id}, fault.Missing, "few words")
	b.must(ClearTrouble{Trouble: id, How: "socket hammered on", Renewed: true})
	f = b.s.Fastener(wheel, "2")
	if f.Trouble != "" || !f.Renewed || f.Seq != b.s.Seq || len(b.s.OpenTroubles()) != 1 {
		t.Errorf("%+v, open %v", f, b.s.OpenTroubles())
	}
	b.refused(ClearTrouble{Trouble: id, How: "again"}, fault.Missing, "not open")
	b.must(Handle{Step: "crack"}) // loosened by the trouble: taken as cracked
	if !b.s.StepDone("crack") {
		t.Error("cleared and loose, still not cracked")
	}
}

// Keeping, and what keeping changes on the vehicle.
func TestKeeping(t *testing.T) {
	b := begin(t)
	b.refused(KeepStep{Step: "crack"}, fault.BadChoice, "fastener by fastener")
	b.refused(Handle{Step: "soak"}, fault.BadChoice, "no fasteners")
	b.refused(Handle{Step: "bolt1"}, fault.BadChoice, "no fasteners")
	b.refused(KeepStep{Step: "raise"}, fault.Order, "Before this: “crack wheel”.")
	b.refused(Handle{Step: "boltin"}, fault.Order, "Before this: “bolts out”.")
	b.refused(Handle{Step: "off"}, fault.Condition, "done with it raised")
	b.step("crack", "nutcrack", "nutout")
	b.refused(Handle{Step: "nutcrack", Letters: []string{"A"}}, fault.Order, "out, in its tray” already")
	b.refused(KeepStep{Step: "raise", Note: strings.Repeat("x", maxText+1)}, fault.TooLong, "too long")
	b.must(KeepStep{Step: "raise", Note: strings.Repeat("x", maxText)})
	b.refused(KeepStep{Step: "raise"}, fault.Order, "kept already")
	if b.s.Position != plan.Raised {
		t.Errorf("it is %s", b.s.Position)
	}
	b.step("off", "nutin", "hold")
	if got := b.s.HeldAt(); !slices.Equal(got, []vehicle.Corner{"FL"}) {
		t.Errorf("held at %v", got)
	}
	b.must(UndoStep{Step: "hold", Reason: "the pedal slipped"})
	if len(b.s.HeldAt()) != 0 {
		t.Error("held by nobody")
	}
	b.step("hold")
	s := b.own()
	st := *s.Plan.Step("hold")
	s.effects(&plan.Step{LetsGo: true, Corner: st.Corner}, morning)
	if s.Held["FL"] {
		t.Error("let go of, and held")
	}
	s.Held["FL"] = true
	s.effects(&plan.Step{MovesTo: plan.Touching}, morning)
	if len(s.HeldAt()) != 0 || s.Position != plan.Touching {
		t.Error("a vehicle that moved is held still")
	}
	if len(s.Soaks) != 0 {
		t.Errorf("%+v", s.Soaks)
	}
	s.effects(s.Plan.Step("soak"), morning)
	if k := s.Soaks; len(k) != 1 || !k[0].End.Equal(morning.Add(10*time.Minute)) {
		t.Errorf("%+v", k)
	}
	waits := &plan.Step{Needs: []operation.StepID{"soak"}}
	for at, left := range map[time.Duration]time.Duration{
		0: 10 * time.Minute, 9 * time.Minute: time.Minute, 10 * time.Minute: 0,
	} {
		if got := s.SoakLeft(waits, morning.Add(at)); got != left {
			t.Errorf("after %s %s are left", at, got)
		}
	}
	if s.SoakLeft(&plan.Step{}, morning) != 0 {
		t.Error("waits for a soak it does not need")
	}
}

// A choice is asked for where a step has answers, and it is one of them.
func TestAnswersOfAStep(t *testing.T) {
	b := begin(t)
	s := b.own()
	i := slices.IndexFunc(s.Plan.Steps, func(st plan.Step) bool { return st.ID == "soak" })
	s.Plan.Steps[i].Answers = []operation.Answer{{Key: "yes", Title: "Yes"}}
	b.refused(KeepStep{Step: "soak"}, fault.Missing, "asks for an answer")
	b.refused(KeepStep{Step: "soak", Choice: "no"}, fault.Missing, "asks for an answer")
	b.must(KeepStep{Step: "soak", Choice: "yes"})
	if st := b.s.Steps["soak"]; st.Choice != "yes" || !st.Done || st.By != b.by {
		t.Errorf("%+v", st)
	}
}

// Taking back what was kept; what was loosened is as it was.
func TestTakingBack(t *testing.T) {
	b := begin(t)
	b.refused(UndoStep{Step: "soak", Reason: "x"}, fault.Order, "not kept")
	b.refused(UndoStep{Step: "bolt1", Reason: "x"}, fault.Order, "one by one")
	b.step("soak")
	b.refused(UndoStep{Step: "soak"}, fault.Missing, "few words")
	b.must(UndoStep{Step: "soak", Reason: "wrong can"})
	if len(b.s.Soaks) != 0 || b.s.StepDone("soak") {
		t.Errorf("%+v", b.s.Soaks)
	}
	b.step("boltout")
	b.must(UndoStep{Step: "boltout", Reason: "wrong side"})
	for _, l := range []string{"A", "B", "C"} {
		if f := b.s.Fastener(knuckle, l); f.Phase != Loose || f.Seq != b.s.Seq {
			t.Errorf("%+v", f)
		}
	}
	b.step("boltout")
	b.must(Handle{Step: "boltin", Letters: []string{"A"}, Renewed: true})
	b.refused(UndoStep{Step: "boltout", Reason: "x"}, fault.Order, "rests on it") // one is in already
	b.step("boltin")
	b.tighten("bolt1", 0)
	b.must(UndoStep{Step: "boltin", Reason: "old bolts"})
	if a, c := b.s.Fastener(knuckle, "A"), b.s.Fastener(knuckle, "B"); a.Phase != InHand || c.Phase != Out {
		t.Errorf("what is tight is not taken out by a record: %+v %+v", a, c)
	}
}

// No weight rolls on a bearing that is not set.
func TestMayRoll(t *testing.T) {
	b := begin(t)
	b.step("crack", "raise", "off", "nutcrack", "nutout", "nutin")
	s := b.own()
	s.Held["FL"] = true
	to := func(p plan.Position) error { return s.mayRoll(&plan.Step{MovesTo: p}) }
	for _, p := range []plan.Position{plan.Touching, plan.Ground} {
		if f := fault.As(to(p)); f == nil || f.Code != fault.Condition {
			t.Errorf("to %s on a loose nut: %v", p, f)
		}
	}
	for _, p := range []plan.Position{"", plan.Raised, plan.RideHigh} { // a jack under the arm leaves it free
		if err := to(p); err != nil {
			t.Errorf("to %q: %v", p, err)
		}
	}
	s.Position = plan.Ground
	if to(plan.RideHigh) == nil {
		t.Error("from the ground ride height is weight on the wheel")
	}
	s.Position = plan.Raised
	nut := s.Plan.Joint("hub.FL.axle")
	s.Fastener(nut.ID, "A").Done = 1
	if to(plan.Touching) == nil {
		t.Error("snug is enough only where the sheet has the rest done on the ground")
	}
	nut.Condition = vehicle.OnGround
	s.Fastener(nut.ID, "A").Done = 0
	if to(plan.Touching) == nil {
		t.Error("not even snug")
	}
	s.Fastener(nut.ID, "A").Done = 1
	if err := to(plan.Touching); err != nil {
		t.Errorf("set snug in the air: %v", err)
	}
	if to(plan.Ground) == nil {
		t.Error("snug is not set")
	}
	s.Fastener(nut.ID, "A").Done = 4
	if err := to(plan.Ground); err != nil {
		t.Errorf("set: %v", err)
	}
}

// The next step, and those after it.
func TestNextAndChain(t *testing.T) {
	b := begin(t)
	first := b.s.Next()
	chain := b.s.Chain(first, 3)
	if len(chain) != 3 {
		t.Fatalf("%d steps ahead", len(chain))
	}
	for _, x := range chain {
		if x.ID == first || x.Verb == operation.Soak {
			t.Errorf("ahead of %s lies %s", first, x.ID)
		}
	}
	if b.s.StepDone("nowhere") {
		t.Error("what is not there is done")
	}
	b.must(Postpone{Step: first})
	later := atTheBolts(t)
	later.must(Postpone{Step: "bolt1"})
	later.tighten("bolt1", 0)
	if later.s.Steps["bolt1"].Postponed {
		t.Error("pulled on, and still put off")
	}
	if !b.s.Steps[first].Postponed {
		t.Error("put off, and not marked so")
	}
	b.refused(Postpone{Step: "nowhere"}, fault.Missing, "no such step")
	b.step(toTheWheel...)
	b.step("lower", "wheel1", "drive", "again")
	if b.s.Next() != "" || len(b.s.Chain("", 9)) != 0 {
		t.Errorf("all done, and next is %q", b.s.Next())
	}
}

// What was kept quicker than hands are.
func TestHaste(t *testing.T) {
	s := begin(t).own()
	s.lastAct = map[string]time.Time{"a": morning}
	after := func(d time.Duration, body record.Body) int {
		s.Hasty = nil
		s.lastAct["a"] = morning
		s.acted(Event{By: "a", At: morning.Add(d), Body: body})
		return len(s.Hasty)
	}
	one := record.Handled{Step: "crack", Joint: wheel, Letters: []string{"1"}} // a fourth of a minute's step
	all := record.Handled{Step: "crack", Joint: wheel, Letters: []string{"1", "2", "3", "4"}}
	pulled := record.Pulled{Step: "bolt1"}
	for _, c := range []struct {
		name  string
		after time.Duration
		body  record.Body
		hasty int
	}{
		{"one of four", 1199 * time.Millisecond, one, 1},
		{"one of four, in time", 1200 * time.Millisecond, one, 0},
		{"all four", 4799 * time.Millisecond, all, 1},
		{"all four, in time", 4800 * time.Millisecond, all, 0},
		{"a pull", quickestPull - 1, pulled, 1},
		{"a pull, in time", quickestPull, pulled, 0},
		{"a step", 4799 * time.Millisecond, record.StepKept{Step: "pedal"}, 1},
		{"a soak", 0, record.StepKept{Step: "soak"}, 0},
		{"a step there is not", 0, record.StepKept{Step: "gone"}, 0},
		{"of a joint there is not", 4799 * time.Millisecond, record.Handled{Step: "crack", Joint: "gone"}, 1},
		{"a remark", 0, record.Found{}, 0},
		{"before the last", -time.Second, pulled, 0},
	} {
		if got := after(c.after, c.body); got != c.hasty {
			t.Errorf("%s: %d", c.name, got)
		}
	}
	gone := record.Handled{Step: "crack", Joint: "gone", Letters: []string{"1"}}
	if s.shareOf(gone) != 1 || s.shareOf(one) != 0.25 {
		t.Errorf("shares %v and %v", s.shareOf(gone), s.shareOf(one))
	}
	s.acted(Event{By: "b", At: morning, Body: pulled})
	if len(s.Hasty) != 0 || s.lastAct["b"] != morning {
		t.Error("somebody's first act is no haste")
	}
	s.acted(Event{By: "a", At: morning.Add(time.Hour), Body: record.Found{}})
	if s.lastAct["a"] == morning.Add(time.Hour) {
		t.Error("a remark counts as an act of the hands")
	}
}

// A fastener that was never there is started; one that has to come out first is not.
func TestStartingWhatWasNeverThere(t *testing.T) {
	s := begin(t).own()
	st, j := s.Plan.Step("bracketin"), s.Plan.Joint(bracket)
	if s.canHandle(st, j, s.Fastener(bracket, "A")) == nil {
		t.Error("started before it is out")
	}
	s.Plan.Steps = slices.DeleteFunc(s.Plan.Steps, func(x plan.Step) bool { return x.ID == "bracketout" })
	st = s.Plan.Step("bracketin")
	if err := s.canHandle(st, j, s.Fastener(bracket, "A")); err != nil {
		t.Errorf("a new one: %v", err)
	}
	s.Fastener(bracket, "A").Phase = InHand
	if s.canHandle(st, j, s.Fastener(bracket, "A")) == nil {
		t.Error("started twice")
	}
}

// What is left of a step half done, and which steps wait for a part.
func TestWhatIsLeft(t *testing.T) {
	b := beginRods(t)
	s := b.own()
	if got := s.minutesLeft("rod.crack.FL", 4); got != 4 {
		t.Errorf("not begun: %v", got)
	}
	c := begin(t).own()
	c.Steps["boltout"].Letters = []string{"A"}
	if got := c.minutesLeft("boltout", 6); got != 4 {
		t.Errorf("one of three done: %v", got)
	}
	c.Steps["boltout"].Letters = []string{"A", "B", "C"}
	if got := c.minutesLeft("boltout", 6); got != leastLeft {
		t.Errorf("all done: %v", got)
	}
	c.Steps["soak"].Letters = []string{"A"}
	if got := c.minutesLeft("soak", 6); got != 6 {
		t.Errorf("without a joint: %v", got)
	}
	for status, waits := range map[Stock]bool{Have: false, Ordered: true, Missing: true, "": false} {
		s.Parts = map[string]Stock{"end.FL": status}
		got := s.waiting()["end.FL"]
		if waits && !slices.Equal(got, []string{"rod.compare.FL"}) || !waits && len(got) > 0 {
			t.Errorf("%s: %v", status, got)
		}
	}
	s.Steps["rod.compare.FL"].Done = true
	s.Parts = map[string]Stock{"end.FL": Missing}
	if got := s.waiting()["end.FL"]; len(got) != 0 {
		t.Errorf("compared already, and waits: %v", got)
	}
}

// What lies in the trays.
func TestTrays(t *testing.T) {
	b := begin(t)
	tray := func(joint string) Tray {
		i := slices.IndexFunc(b.s.Trays(), func(t Tray) bool { return t.Joint.ID == joint })
		return b.s.Trays()[i]
	}
	if x := tray(knuckle); x.Out != 0 || x.Standing {
		t.Errorf("%+v", x)
	}
	b.step("boltout")
	if x := tray(knuckle); x.Out != 3 || x.In != 0 || !x.Standing {
		t.Errorf("%+v", x)
	}
	b.must(Handle{Step: "boltin", Letters: []string{"A"}, Renewed: true})
	if x := tray(knuckle); x.Out != 3 || x.In != 1 || !x.Standing {
		t.Errorf("%+v", x)
	}
	b.step("boltin")
	if x := tray(knuckle); x.Out != 3 || x.In != 3 || x.Standing {
		t.Errorf("%+v", x)
	}
}

// Before a hand is on the vehicle, the last who answered or measured on the walk-round has it.
func TestLastHand(t *testing.T) {
	at := func(h int) time.Time { return time.Date(2026, 3, 2, h, 0, 0, 0, time.UTC) }
	s := State{}
	s.StartedBy = "began"
	if got := s.LastHand(); got != "began" {
		t.Errorf("%s", got)
	}
	s.Walk.Given = map[string]Given{"a": {By: "answered", At: at(9)}, "b": {By: "before", At: at(8)}}
	if got := s.LastHand(); got != "answered" {
		t.Errorf("%s", got)
	}
	s.Walk.Measured = []Measurement{{By: "measured", At: at(10)}}
	if got := s.LastHand(); got != "measured" {
		t.Errorf("%s", got)
	}
	s.lastAct = map[string]time.Time{"acted": at(7)}
	if got := s.LastHand(); got != "acted" {
		t.Errorf("%s", got)
	}
}
