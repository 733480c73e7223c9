package job

import (
	"slices"
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

const wheel = "hub.FL.wheel"

// What is owed later follows from the plan, the answers and what was declined.
func TestFollowUpsFollow(t *testing.T) {
	b := begin(t)
	s := b.own()
	kinds := func() string {
		var out []string
		for _, f := range b.s.FollowUps() {
			out = append(out, f.Kind)
		}
		return strings.Join(out, " ")
	}
	if got := kinds(); got != "" {
		t.Errorf("a shop without a follow-up distance owes %s", got)
	}
	s.House.FollowUpKM = 1
	if got := kinds(); got != "wheel" {
		t.Errorf("owed: %s", got)
	}
	s.Plan.Steps = slices.DeleteFunc(s.Plan.Steps, func(st plan.Step) bool { return st.Joint == wheel })
	if got := kinds(); got != "" {
		t.Errorf("a wheel that is never opened: %s", got)
	}
	i := slices.IndexFunc(s.Plan.Steps, func(st plan.Step) bool { return st.ID == "pedal" })
	s.Plan.Steps[i].Answers = []operation.Answer{
		{Key: "yes", Title: "Booked", Opens: "alignment"},
		{Key: "no", Title: "Not needed"},
	}
	state := s.Steps["pedal"]
	state.Choice = "yes"
	if got := kinds(); got != "" {
		t.Errorf("answered, not kept: %s", got)
	}
	state.Done = true
	if got := s.FollowUps(); len(got) != 1 || got[0].Kind != "alignment" || got[0].Title != "Alignment: Booked" {
		t.Errorf("%+v", got)
	}
	state.Choice = "no"
	if got := kinds(); got != "" {
		t.Errorf("answered no: %s", got)
	}
	s.Walk.Proposals = []Proposal{
		{ProposalTaken: record.ProposalTaken{Name: "brake hose", Safety: true}},
		{ProposalTaken: record.ProposalTaken{Name: "trim clip"}},
		{ProposalTaken: record.ProposalTaken{Name: "brake pads", Safety: true, Accept: true}},
	}
	if got := s.FollowUps(); len(got) != 1 || got[0].Kind != "advice" || !strings.Contains(got[0].Title, "brake hose") {
		t.Errorf("%+v", got)
	}
}

func TestFindings(t *testing.T) {
	b := begin(t)
	b.refused(Find{}, fault.Missing, "few words")
	b.refused(Find{Text: strings.Repeat("x", maxText+1)}, fault.TooLong, "too long")
	longest := b.meta()
	longest.ID = record.EventID(strings.Repeat("x", record.LongestID))
	if _, err := Decide(b.s, longest, Find{Text: strings.Repeat("x", maxText)}); err != nil {
		t.Errorf("as long as may be: %v", err)
	}
	b.refused(Find{Text: "x", Photo: make([]byte, maxPhoto+1)}, fault.TooLong, "too large")
	b.must(Find{Text: "boot torn", Photo: make([]byte, maxPhoto)})
	b.must(Find{Text: "tyre worn"})
	if f := b.s.Findings; len(f) != 2 || !f[0].Photo || f[1].Photo || f[1].Text != "tyre worn" || f[1].By != b.by {
		t.Errorf("%+v", f)
	}
}

func TestSigningAndReopening(t *testing.T) {
	b := begin(t)
	b.refused(Reopen{Reason: "x"}, fault.Order, "is open")
	err := fault.As(b.do(b.meta(), Sign{}))
	if err == nil || strings.Count(err.Detail, ";") != namedGates-1 {
		t.Errorf("a refusal names %d gates: %v", namedGates, err)
	}
	b.step(toTheWheel...)
	b.step("lower", "wheel1", "drive", "again")
	b.must(Sign{})
	b.refused(Find{Text: "one thing more"}, fault.Signed, "signed")
	b.refused(Reopen{Reason: "a bolt forgotten"}, fault.Role, "Only a foreman")
	foreman := b.meta()
	foreman.Role = Foreman
	if f := fault.As(b.do(foreman, Reopen{})); f == nil || f.Code != fault.Missing {
		t.Errorf("without a reason: %v", f)
	}
	foreman = b.meta()
	foreman.Role = Foreman
	if err := b.do(foreman, Reopen{Reason: "a bolt forgotten"}); err != nil || b.s.Signature != nil {
		t.Errorf("%v %+v", err, b.s.Signature)
	}
	if g := b.s.Gates(); len(g) < 5 || g[0].Remedy == "" {
		t.Error("a job reopened shows the gates of its old signature")
	}
}

func TestMarksOfAFastener(t *testing.T) {
	for want, f := range map[Mark]Fastener{
		Rest:       {Phase: Rest, Stages: 2},
		InHand:     {Phase: InHand, Stages: 2},
		Out:        {Phase: Out, Stages: 2},
		InTrouble:  {Phase: InHand, Stages: 2, Done: 2, Trouble: "t"},
		Excused:    {Phase: Loose, Stages: 2, Waived: true},
		SnugMark:   {Phase: InHand, Stages: 3, Done: 1},
		Between:    {Phase: InHand, Stages: 2, Done: 1},
		Proved:     {Phase: InHand, Stages: 2, Done: 2, Evidence: pull.Traced},
		Clicked:    {Phase: InHand, Stages: 2, Done: 2, Evidence: pull.Clicked},
		Turned:     {Phase: InHand, Stages: 2, Done: 2, Evidence: pull.Marked},
		Said:       {Phase: InHand, Stages: 2, Done: 2, Evidence: pull.Stated},
		Unmeasured: {Phase: InHand, Stages: 2, Done: 2, Evidence: pull.NotMeasured},
	} {
		if got := f.Sign(); got != want {
			t.Errorf("%+v: %s, want %s", f, got, want)
		}
		owed := want != Rest && f.Done < 2 && !f.Waived || f.Trouble != ""
		if f.Owed() != owed {
			t.Errorf("%s owed: %v", want, f.Owed())
		}
		if f.LeftUnmeasured() != (want == Unmeasured) {
			t.Errorf("%s left unmeasured", want)
		}
		if says := f.Says(); says == "" ||
			want != Proved && want != Clicked && want != Turned && strings.HasPrefix(says, "proved") {
			t.Errorf("%s says %q", want, says)
		}
	}
	third := Fastener{Phase: InHand, Stages: 3, Done: 2}
	plain := Fastener{Phase: InHand, Stages: 1, Done: 1}
	untouched := Fastener{Phase: Rest, Stages: 1, Done: 1, Evidence: pull.NotMeasured}
	if third.Mark() != Between || plain.Says() != "not measured" || plain.Sign() != Unmeasured ||
		untouched.LeftUnmeasured() {
		t.Errorf("%s, %q, %v", third.Mark(), plain.Says(), untouched.LeftUnmeasured())
	}
	if id, err := ParseFastenerID("h#A"); err != nil || id.Joint != "h" {
		t.Errorf("the shortest name: %+v %v", id, err)
	}
}

// Which stages a step does: those it names, else all but what comes after the drive.
func TestSpan(t *testing.T) {
	s := begin(t).s
	for id, want := range map[operation.StepID][2]int{
		"bolt1": {0, 0}, "bolt2": {1, 1}, "wheel1": {0, 1}, "again": {2, 2}, "bracket1": {0, 0}, "nut1": {0, 3},
	} {
		if from, to := s.Span(s.Plan.Step(id)); from != want[0] || to != want[1] {
			t.Errorf("%s does %d to %d, want %v", id, from, to, want)
		}
	}
	long := *s.Plan.Step("bolt2")
	long.Stages = []int{2, 9}
	if from, to := s.Span(&long); from != 1 || to != 1 {
		t.Errorf("beyond the recipe: %d to %d", from, to)
	}
}

// Peak is what one wrench will see: up to the next stage a wrench is set for.
func TestPeak(t *testing.T) {
	s := begin(t).s
	nut := s.Plan.Joint("hub.FL.axle")
	if got := s.Peak(nut, 0); got != 125 {
		t.Errorf("before the nut is backed off: %v", got)
	}
	if got := s.Peak(s.Plan.Joint(wheel), 0); got != 130 {
		t.Errorf("torque alone: %v", got)
	}
	bolt := s.Plan.Joint(knuckle)
	if got := s.Peak(bolt, 0); got <= 60 || got > 200 {
		t.Errorf("60 Nm + 90° at M12x1.5: %v", got)
	}
	bare := *bolt
	bare.Thread = ""
	if got := s.Peak(&bare, 0); got != 60 {
		t.Errorf("of a thread nobody knows: %v", got)
	}
}

// Once round again moves little, and the judge is told so.
func TestExpect(t *testing.T) {
	b := begin(t)
	b.step("boltout", "boltin")
	bolt, nuts := b.s.Plan.Joint(knuckle), b.s.Plan.Joint(wheel)
	if ex := b.s.expect(bolt, 0); ex.Repeat || !(ex.SlopeLow > 0 && ex.SlopeHigh > ex.SlopeLow) || len(ex.Siblings) > 0 {
		t.Errorf("%+v", ex)
	}
	if ex := b.s.expect(bolt, 1); ex.Repeat || ex.SlopeHigh > 0 {
		t.Errorf("an angle: %+v", ex)
	}
	for stage, repeat := range map[int]bool{0: false, 1: true, 2: true} {
		if ex := b.s.expect(nuts, stage); ex.Repeat != repeat {
			t.Errorf("wheel nuts, round %d: %+v", stage+1, ex)
		}
	}
	c := b.traced("bolt1", 60)
	c.Samples = samples(60, 3)
	b.must(c)
	b.must(b.traced("bolt1", 60)) // two figures, no samples: no sibling to go by
	ex := b.s.expect(bolt, 0)
	if len(ex.Siblings) != 1 || ex.Siblings[0].Peak < 55 || ex.Siblings[0].Slope <= 0 || ex.Siblings[0].Turn <= 0 {
		t.Errorf("%+v", ex.Siblings)
	}
	if other := b.s.expect(b.s.Plan.Joint(bracket), 0); len(other.Siblings) > 0 {
		t.Errorf("of another joint: %+v", other.Siblings)
	}
	b.must(StrikePull{Pull: b.s.PullOrder[0], Reason: "wrong bolt"})
	if ex := b.s.expect(bolt, 0); len(ex.Siblings) > 0 {
		t.Errorf("a struck one: %+v", ex.Siblings)
	}
}

// What a pull may not be made on, and why.
func TestWhyAPullIsRefused(t *testing.T) {
	b := begin(t)
	b.step("boltout")
	why := func(step operation.StepID, letter string, code fault.Code, says string) {
		t.Helper()
		f := fault.As(b.s.CanPull(b.s.Plan.Step(step), letter))
		if f == nil || f.Code != code || !strings.Contains(f.Error(), says) {
			t.Errorf("%s %s: %v; want %s saying %q", step, letter, f, code, says)
		}
	}
	if err := b.s.CanPull(b.s.Plan.Step("soak"), "A"); err != nil {
		t.Errorf("of a step without a joint: %v", err)
	}
	if err := b.s.CanPull(b.s.Plan.Step("bolt1"), "Z"); err != nil {
		t.Errorf("of a letter there is not: %v", err)
	}
	why("bolt1", "A", fault.Order, "out, in its tray, not started by hand")
	b.step("boltin")
	why("bolt2", "A", fault.Order, "lacks the stage before")
	b.tighten("bolt1", 0)
	why("bolt1", "A", fault.Order, "has this stage already")
	b.must(ReportTrouble{Step: "bolt1", Letter: "B", Code: ThreadDamaged})
	why("bolt1", "B", fault.Trouble, "There is trouble")
	b.tighten("bolt1", 0)
	why("bolt2", "A", fault.Order, "“round 1”") // B waits for its helicoil
	b.must(ClearTrouble{Trouble: b.s.Troubles[0].ID, How: "thread insert"})
	why("bolt2", "A", fault.Order, "bolt B still lacks round 1")
	s := b.own()
	s.Fastener(knuckle, "B").Waived = true
	if err := s.CanPull(s.Plan.Step("bolt2"), "A"); err != nil {
		t.Errorf("B was signed for: %v", err)
	}
}

// The sheet says how the vehicle stands; the refusal names the step that brings it there.
func TestHowItStands(t *testing.T) {
	b := begin(t)
	b.step(toTheWheel[:3]...)
	nut := b.s.Plan.Joint("hub.FL.axle")
	held := fault.As(b.s.conditionMet(b.s.Plan.Step(b.s.Next()), nut, 0))
	if held == nil || held.Field != "held" || held.Remedy != "Step 16: “hold the hub”." {
		t.Errorf("%+v", held)
	}
	s := b.own()
	s.Held["FL"] = true
	if err := s.conditionMet(s.Plan.Step(s.Next()), nut, 0); err != nil {
		t.Errorf("hanging and held: %v", err)
	}
	onGround := *nut
	onGround.Condition = vehicle.OnGround
	if err := s.conditionMet(s.Plan.Step(s.Next()), &onGround, 0); err != nil {
		t.Errorf("a bearing is set in the air before it bears: %v", err)
	}
	if f := fault.As(s.conditionMet(s.Plan.Step(s.Next()), &onGround, 1)); f == nil ||
		f.Remedy != "Step 19 brings it there: “lower”." {
		t.Errorf("%+v", f)
	}
	bolted := onGround
	bolted.Bears = false
	if f := fault.As(s.conditionMet(s.Plan.Step(s.Next()), &bolted, 0)); f == nil || f.Field != "position" {
		t.Errorf("%v", f)
	}
	s.Steps["lower"].Done = true // and raised again since
	if f := fault.As(s.conditionMet(s.Plan.Step(s.Next()), &bolted, 0)); f == nil || f.Remedy != "Bring it there first." {
		t.Errorf("%+v", f)
	}
	i := slices.IndexFunc(s.Plan.Steps, func(st plan.Step) bool { return st.Holds })
	s.Plan.Steps[i].Corner = "FR"
	s.Held["FL"] = false
	if f := fault.As(s.conditionMet(s.Plan.Step(s.Next()), nut, 0)); f == nil ||
		!strings.Contains(f.Remedy, "on the brake") {
		t.Errorf("%+v", f)
	}
	for p := range standsNow {
		if standsNow[p] == "" {
			t.Errorf("%s is said by nothing", p)
		}
	}
}

// What was left not measured pays its step's stages and no more.
func TestUnmeasuredPaysItsStep(t *testing.T) {
	b := begin(t)
	b.step("crack", "raise", "off", "wheelin", "lower")
	b.must(LeaveUnmeasured{Step: "wheel1", Joint: wheel, Letter: "1", Cause: PowerTool})
	if f := b.s.Fastener(wheel, "1"); f.Done != 2 || f.Cause != PowerTool {
		t.Errorf("%+v", f)
	}
	p := &Pull{Step: "gone", Stage: 1}
	if b.s.lastStage(p) != 1 {
		t.Error("a pull of a step that was planned away pays more than its own stage")
	}
	if weaker("", pull.Traced) != pull.Traced || weaker(pull.Traced, pull.Clicked) != pull.Clicked ||
		weaker(pull.Clicked, pull.Traced) != pull.Clicked {
		t.Error("the weaker of two")
	}
}

// A struck pull takes back what it paid and nothing else; a bad one takes back nothing.
func TestStriking(t *testing.T) {
	b := begin(t)
	b.step("boltout", "boltin", "bolt1", "bolt2")
	b.refused(StrikePull{Pull: "none", Reason: "x"}, fault.Missing, "no such pull")
	first := b.s.PullOrder[0]
	b.refused(StrikePull{Pull: first}, fault.Missing, "few words")
	b.must(StrikePull{Pull: first, Reason: "wrong bolt"})
	b.refused(StrikePull{Pull: first, Reason: "again"}, fault.Order, "struck before")
	a := b.s.Fastener(knuckle, "A")
	if a.Done != 0 || b.s.Fastener(knuckle, "B").Done != 2 || a.Evidence != pull.Marked {
		t.Errorf("%+v", a)
	}
	if p := b.s.Pulls[first]; p.StruckBy != b.by || p.Counts() {
		t.Errorf("%+v", p)
	}
	c := atTheBolts(t)
	c.tighten("bolt1", -0.3)
	low := c.s.Pending(c.s.Fastener(knuckle, "A"))
	if low == nil || low.Result.Signature != pull.Low {
		t.Fatalf("%+v", low)
	}
	c.tighten("bolt1", 0)
	if p := c.s.Pulls[c.s.PullOrder[0]]; c.s.Fastener(knuckle, "A").Since >= p.Seq {
		t.Error("it was started after it was pulled")
	}
	if p := c.s.Pending(c.s.Fastener(knuckle, "A")); p != nil {
		t.Errorf("a stage that is paid waits for %+v", p)
	}
	c.must(StrikePull{Pull: low.ID, Reason: "dropped the wrench"})
	if f := c.s.Fastener(knuckle, "A"); f.Done != 1 || f.Evidence != pull.Clicked {
		t.Errorf("%+v", f)
	}
	if c.s.Pending(c.s.Fastener(knuckle, "B")) != nil {
		t.Error("nothing was pulled on B")
	}
}

// A stage without a figure weakens none that has one.
func TestWeakestOfTheFigures(t *testing.T) {
	b := begin(t)
	b.step("crack", "raise", "off", "nutcrack", "nutout", "nutin", "hold")
	b.tighten("nut1", 0)
	b.tighten("nut1", 0) // backed off, by a mark
	if f := b.s.Fastener("hub.FL.axle", "A"); f.Done != 2 || f.Evidence != pull.Clicked {
		t.Errorf("%+v", f)
	}
	b.tighten("nut1", 0)
	b.tighten("nut1", 0) // 40° by a mark
	if f := b.s.Fastener("hub.FL.axle", "A"); f.Done != 4 || f.Evidence != pull.Marked {
		t.Errorf("%+v", f)
	}
}

func TestSlackening(t *testing.T) {
	b := begin(t)
	b.refused(Slacken{Joint: wheel, Letter: "9", Reason: "x"}, fault.Missing, "no such fastener")
	b.refused(Slacken{Joint: wheel, Letter: "1", Reason: "x"}, fault.Order, "not touched")
	b.step("boltout", "boltin", "bolt1")
	b.refused(Slacken{Joint: knuckle, Letter: "A"}, fault.Missing, "few words")
	b.must(Slacken{Joint: knuckle, Letter: "A", Reason: "dirt under the head"})
	f := b.s.Fastener(knuckle, "A")
	if f.Done != 0 || f.Phase != InHand || f.Renewed || f.Evidence != "" || b.s.Pending(f) != nil {
		t.Errorf("%+v", f)
	}
	b.s.owedAnew(knuckle, false, 99) // A has nothing to open
	if a, c := b.s.Fastener(knuckle, "A"), b.s.Fastener(knuckle, "B"); a.Since == 99 || c.Since != 99 ||
		c.Blocks != pull.Nothing {
		t.Errorf("%+v %+v", a, c)
	}
	if stages := b.s.Stages(knuckle); stages[0].Kind != recipe.Torque {
		t.Errorf("%+v", stages)
	}
	if _, err := Decide(b.s, b.meta(), Slacken{Joint: wheel}); fault.As(err) == nil {
		t.Error("without a letter")
	}
}

// What is owed after the signature, and what the signature freezes.
func TestFollowUpsAndTheFrozenSignature(t *testing.T) {
	b := begin(t)
	b.s = b.s.clone()
	b.s.House = House{Critical: []string{"brake"}, FollowUpKM: 100}
	b.step(slices.DeleteFunc(slices.Clone(toTheWheel), func(id operation.StepID) bool { return id == "bracket1" })...)
	b.must(LeaveUnmeasured{Step: "bracket1", Joint: bracket, Letter: "A", Cause: OpenSpanner})
	b.step("lower", "wheel1", "drive", "again")
	kinds := ""
	for _, f := range b.s.FollowUps() {
		kinds += f.Kind + " "
		if f.KM != 100 || f.Title == "" {
			t.Errorf("%+v", f)
		}
	}
	if kinds != "wheel not_measured " {
		t.Errorf("owed: %s", kinds)
	}
	b.refused(Sign{}, fault.Gate, "not measured")
	m := b.meta()
	m.Second = "technician B"
	if err := b.do(m, Deviate{Gate: string(GateUnmeasured) + ":" + bracket + "#A",
		Reason: "looked at twice"}); err != nil {
		t.Fatal(err)
	}
	b.must(Sign{Note: " all well "})
	sig := b.s.Signature
	if sig.Note != "all well" || len(sig.FollowUps) != 2 || len(sig.Gates) < 5 || len(sig.Versions) == 0 ||
		sig.Role != Technician {
		t.Errorf("%+v", sig)
	}
	passed := 0
	for _, g := range sig.Gates {
		if g.Passed == b.by {
			passed++
		}
	}
	if passed != 1 {
		t.Errorf("%d gates passed by name", passed)
	}
	// What the rules would say today does not matter to what was signed.
	b.s.House = House{FollowUpKM: 5000}
	b.s.Steps["pedal"].Done = false
	for _, g := range b.s.Gates() {
		if !g.Closed() {
			t.Errorf("%s stands open in a signed job", g.Title)
		}
	}
	if got := b.s.FollowUps(); len(got) != 2 || got[0].KM != 100 {
		t.Errorf("%+v", got)
	}
}

// What is struck of other hardware neither stands before this vehicle's figure nor takes the place of what is struck
// of it; it is asked where that hardware turns out to be the one in hand.
func TestStruckFigureOfHardware(t *testing.T) {
	b := atTheBolts(t)
	b.s.Plan.Joint(bracket).Variants = []vehicle.Variant{
		{Key: "flange", Recipe: "115 Nm", Thread: "M12x1.5", Class: "10.9", Source: "book"},
		{Key: "washer", Recipe: "90 Nm", Thread: "M12x1.5", Class: "10.9", Source: "book"},
	}
	strike := func(variant, recipe string) {
		t.Helper()
		c := vehicle.Correction{Variant: variant, Recipe: recipe, Source: "book 2", Why: "misread"}
		b.must(StrikeFigure{Joint: bracket, Correction: c, Act: "act"})
	}
	asks := func(want bool, when string) {
		t.Helper()
		open := slices.ContainsFunc(b.s.Gates(), func(g Gate) bool { return g.Key == "figure:"+bracket && !g.Closed() })
		if waits := b.s.StruckFigure(bracket) != nil; waits != want || open != want {
			t.Errorf("%s: waits %t, stands before the signature %t, want %t", when, waits, open, want)
		}
	}
	b.must(SeeHardware{Joint: bracket, Variant: "flange"})
	strike("washer", "95 Nm")
	asks(false, "struck of the other")
	b.refused(AnswerFigure{Joint: bracket, Take: true}, fault.Order, "waits for an answer")
	strike("flange", "120 Nm")
	strike("washer", "96 Nm")
	asks(true, "struck of this one, and of the other after it")
	b.refused(b.set("bracket1", 0), fault.FigureStruck, "now 120 Nm")
	b.must(AnswerFigure{Joint: bracket, Take: true})
	asks(false, "answered")
	b.must(SeeHardware{Joint: bracket, Variant: "washer"})
	asks(true, "the other is in hand")
	b.must(AnswerFigure{Joint: bracket, Take: true})
	if got := b.s.Plan.Joint(bracket).Recipe; got != "96 Nm" {
		t.Errorf("the other stands at %s", got)
	}
	b.must(SeeHardware{Joint: bracket, Variant: "flange"})
	asks(false, "the first again")
	if got := b.s.Plan.Joint(bracket).Recipe; got != "120 Nm" {
		t.Errorf("the first stands at %s", got)
	}
}

// A figure struck on the sheet stands before the signature until it is answered.
func TestStruckFigure(t *testing.T) {
	strike := func(b *bench, recipe string) {
		b.t.Helper()
		c := vehicle.Correction{Joint: "brake.front.bracket", Recipe: recipe, Source: "book 2", Why: "misread"}
		b.must(StrikeFigure{Joint: bracket, Correction: c, Act: "act-1"})
	}
	b := atTheBolts(t)
	if got := b.s.Uses("brake.front.bracket"); !slices.Equal(got, []string{bracket}) {
		t.Errorf("uses %v", got)
	}
	b.refused(AnswerFigure{Joint: bracket, Take: true}, fault.Order, "waits for an answer")
	b.refused(StrikeFigure{Joint: "nowhere", Correction: vehicle.Correction{Recipe: "10 Nm"}}, fault.Missing,
		"no such joint")
	b.step("bracket1")
	strike(b, "125 Nm")
	open := slices.IndexFunc(b.s.Gates(), func(g Gate) bool {
		return g.Key == "figure:"+bracket && !g.Met && !g.Passable && strings.Contains(g.Title, "was struck")
	})
	if open < 0 {
		t.Error("a struck figure stands before nothing")
	}
	b.refused(AnswerFigure{Joint: bracket}, fault.Missing, "few words")
	b.must(AnswerFigure{Joint: bracket, Take: true})
	j, f := b.s.Plan.Joint(bracket), b.s.Fastener(bracket, "A")
	if j.Recipe != "125 Nm" || j.Source != "book 2" || len(j.Struck) != 1 || j.Struck[0].Recipe != "115 Nm" ||
		!f.Owed() ||
		f.Blocks != pull.Nothing {
		t.Errorf("%+v %+v", j.Spec, f)
	}
	b.step("bracket1") // more of the same torque is pulled on
	if b.s.Fastener(bracket, "A").Owed() {
		t.Error("still owed")
	}
	strike(b, "100 Nm")
	b.must(AnswerFigure{Joint: bracket, Take: true})
	if f := b.s.Fastener(bracket, "A"); f.Blocks != pull.Slacken || f.Done != 0 {
		t.Errorf("less than it has: %+v", f)
	}
	strike(b, "90 Nm")
	b.must(AnswerFigure{Joint: bracket, Reason: "another bolt is fitted here"})
	if j := b.s.Plan.Joint(bracket); j.Recipe != "100 Nm" || b.s.Figure(bracket).Answered == nil {
		t.Errorf("a figure that was refused is taken: %s", j.Recipe)
	}
	kit := atTheBolts(t)
	kit.must(FitKit{Joint: bracket, Recipe: "99 Nm", Source: "leaflet"})
	if got := kit.s.Uses("brake.front.bracket"); len(got) != 0 {
		t.Errorf("a kit's own hardware follows the sheet: %v", got)
	}
	same := atTheBolts(t)
	before := same.s.Seq
	same.must(StrikeFigure{Joint: bracket, Correction: vehicle.Correction{Recipe: "115 Nm", Source: "invented"}})
	if same.s.Seq != before {
		t.Error("the figure that stands there was struck")
	}
}
