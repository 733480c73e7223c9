package job

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/record"
)

func stagesOf(t *testing.T, text string) []recipe.Stage {
	t.Helper()
	r, err := recipe.Parse(text)
	if err != nil {
		t.Fatal(err)
	}
	return r.Stages
}

// Each fastener that was touched has one grade, the worst that is true of it.
func TestGradeOfAFastener(t *testing.T) {
	tight := Fastener{FastenerID: FastenerID{knuckle, "A"}, Phase: InHand, Stages: 2, Done: 2}
	for name, c := range map[string]struct {
		change func(*Fastener)
		want   Grade
	}{
		"untouched":                     {func(f *Fastener) { *f = Fastener{Phase: Rest, Stages: 2} }, ""},
		"untouched and in trouble":      {func(f *Fastener) { *f = Fastener{Phase: Rest, Stages: 2, Trouble: "t"} }, ""},
		"loose":                         {func(f *Fastener) { f.Phase, f.Done = Loose, 0 }, GradeOwed},
		"between stages":                {func(f *Fastener) { f.Done, f.Evidence = 1, pull.Traced }, GradeOwed},
		"tight and in trouble":          {func(f *Fastener) { f.Trouble, f.Evidence = "t", pull.Traced }, GradeOwed},
		"signed for as it is":           {func(f *Fastener) { f.Done, f.Waived = 1, true }, GradeDeviating},
		"traced":                        {func(f *Fastener) { f.Evidence = pull.Traced }, GradeTraced},
		"clicked":                       {func(f *Fastener) { f.Evidence = pull.Clicked }, GradeClicked},
		"turned by a mark":              {func(f *Fastener) { f.Evidence = pull.Marked }, GradeMarked},
		"by a file that was brought":    {func(f *Fastener) { f.Evidence = pull.Stated }, GradeStated},
		"left not measured":             {func(f *Fastener) { f.Evidence = pull.NotMeasured }, GradeNotMeasured},
		"by nobody knows what":          {func(f *Fastener) {}, GradeNotMeasured},
		"by evidence of a later day":    {func(f *Fastener) { f.Evidence = "foreseen" }, GradeNotMeasured},
		"a recipe that names no figure": {func(f *Fastener) { f.Evidence, f.Joint = pull.Marked, bracket }, GradeByHand},
	} {
		t.Run(name, func(t *testing.T) {
			b := begin(t)
			s := b.own()
			s.stages[bracket] = stagesOf(t, "snug")
			f := tight
			c.change(&f)
			if f.Joint == "" {
				f.FastenerID = tight.FastenerID
			}
			for id := range s.Fasteners {
				s.Fasteners[id].Phase = Rest
			}
			s.Fasteners[f.FastenerID] = &f
			a := s.Account()
			if c.want == "" && f.Trouble != "" { // met with trouble is touched
				if a.Opened() != 1 {
					t.Errorf("%+v", a)
				}
				return
			}
			if got := a.Grade(f.FastenerID); got != c.want {
				t.Errorf("%s, want %s", got, c.want)
			}
			if a.Opened() != a.Count(Grades()...) {
				t.Errorf("%d opened, %d graded", a.Opened(), a.Count(Grades()...))
			}
		})
	}
	if len(Grades()) != len(gradeWords) {
		t.Error("a grade without words, or out of the list")
	}
}

// A deviation speaks of how it stood when it was signed: what was loosened since is owed anew.
func TestADeviationDoesNotOutliveWhatItWasFor(t *testing.T) {
	b := begin(t)
	b.step("crack", "raise", "off")
	debt := GateDebt.Key(wheel + "#1")
	b.must(Deviate{Gate: debt, Reason: "its stud is short"})
	if g := b.gate(debt); g.Deviation == nil || b.s.Account().Grade(FastenerID{wheel, "1"}) != GradeDeviating {
		t.Errorf("%+v", g)
	}
	b.step(toTheWheel[3:8]...)
	b.step("boltin", "bolt1", "bolt2", "bracketin", "bracket1", "nutin", "pedal", "hold", "nut1", "wheelin")
	if !b.s.StepDone("wheelin") || b.s.Fastener(wheel, "1").Phase == InHand {
		t.Error("what stays out by a deviation is started with the others, or waited for")
	}
	b.must(Handle{Step: "wheelin", Letters: []string{"1"}}) // and goes in after all
	if g := b.gate(debt); g.Closed() || !b.s.Fastener(wheel, "1").Owed() {
		t.Errorf("started again, and still waived: %+v", g)
	}

	c := atTheBolts(t)
	c.own().House.Critical = []string{"brake"}
	left := GateUnmeasured.Key(bracket + "#A")
	sign := func() {
		t.Helper()
		m := c.meta()
		m.Second = "technician B"
		if err := c.do(m, Deviate{Gate: left, Reason: "looked at by both"}); err != nil {
			t.Fatal(err)
		}
	}
	c.must(LeaveUnmeasured{Step: "bracket1", Joint: bracket, Letter: "A", Cause: NoRoom})
	c.refused(Deviate{Gate: left, Reason: "alone"}, fault.Missing, "second")
	if g := c.gate(left); g.Step != "bracket1" {
		t.Errorf("the gate does not lead to where it can be measured: %+v", g)
	}
	sign()
	c.must(Slacken{Joint: bracket, Letter: "A", Reason: "room was made"})
	c.must(LeaveUnmeasured{Step: "bracket1", Joint: bracket, Letter: "A", Cause: OpenSpanner})
	if g := c.gate(left); g.Closed() {
		t.Errorf("signed for once, left for another reason: %+v", g)
	}
	sign()
	if g := c.gate(left); !g.Closed() || c.s.Account().Grade(FastenerID{bracket, "A"}) != GradeNotMeasured {
		t.Errorf("signed for, it is still not measured: %+v", g)
	}
}

// What is left not measured in any stage is not measured, whatever the other stages came to.
func TestNotMeasuredInOneStage(t *testing.T) {
	b := begin(t)
	s := b.own()
	s.stages[knuckle] = stagesOf(t, "60 Nm; back off 90°") // and a back-off names no figure that is measured
	b.step("boltout", "boltin", "bolt1")
	b.must(LeaveUnmeasured{Step: "bolt2", Joint: knuckle, Letter: "A", Cause: NoRoom})
	if f := b.s.Fastener(knuckle, "A"); !f.LeftUnmeasured() || f.Sign() != Unmeasured {
		t.Errorf("%+v", f)
	}
}

// A bolt that sheared before it was out is out once it is extracted: the plan asks for it no
// more, and a new one goes in its place, said by whoever holds it.
func TestAnExtractedBoltIsOut(t *testing.T) {
	b := begin(t)
	b.step("crack", "raise", "off")
	b.must(ReportTrouble{Step: "bracketout", Letter: "A", Code: Sheared})
	b.must(Replan{Rescues: rescues, Technicians: 1})
	step := operation.StepID("extract." + bracket + ".A")
	b.must(KeepStep{Step: step})
	f := b.s.Fastener(bracket, "A")
	if f.Phase != Out || !f.GoesInNew || f.Trouble != "" || !b.s.StepDone("bracketout") {
		t.Fatalf("%+v, taken out: %v", f, b.s.StepDone("bracketout"))
	}
	b.refused(UndoStep{Step: step, Reason: "by mistake"}, fault.Order, "is free")
	b.refused(Handle{Step: "bracketin"}, fault.Gate, "a new one goes in")
	b.must(Handle{Step: "bracketin", Letters: []string{"A"}, Renewed: true})
	if f := b.s.Fastener(bracket, "A"); !f.Renewed || f.GoesInNew || f.Phase != InHand {
		t.Errorf("%+v", f)
	}
	if got := readBack(t, b.journal); len(got) != len(b.journal) || Replay(got).Account().Says() != b.s.Account().Says() {
		t.Errorf("read back: %s, %s", Replay(got).Account().Says(), b.s.Account().Says())
	}
	// A journal of before says nothing of what came out: it means what it meant.
	old := slices.Clone(b.journal)
	for i, e := range old {
		if k, ok := e.Body.(record.StepKept); ok {
			k.Freed = ""
			old[i].Body = k
			if was := Replay(old[:i+1]).Fastener(bracket, "A"); was.Phase == Out {
				t.Errorf("an event of before got another meaning: %+v", was)
			}
		}
	}
}

// One that sheared under the wrench is renewed where it is tightened; the others are not.
func TestShearedUnderTheWrench(t *testing.T) {
	b := atTheBolts(t)
	b.must(ReportTrouble{Step: "bracket1", Letter: "A", Code: Sheared})
	b.must(Replan{Rescues: rescues, Technicians: 1})
	b.must(KeepStep{Step: operation.StepID("extract." + bracket + ".A")})
	b.refused(b.set("bracket1", 0), fault.Blocked, "fit new hardware")
	b.refused(Slacken{Joint: bracket, Letter: "A", Reason: "extracted"}, fault.Blocked, "new hardware")
	b.must(Slacken{Joint: bracket, Letter: "A", Reason: "extracted", Renewed: true})
	b.step("bracket1")
	if f := b.s.Fastener(bracket, "A"); f.Owed() || !f.Renewed {
		t.Errorf("%+v", f)
	}
}

// One act starts those that go in again; each new one is said by itself.
func TestNewOnesAreSaidAlone(t *testing.T) {
	b := begin(t)
	b.step("crack", "raise")
	b.must(ReportTrouble{Step: "off", Letter: "2", Code: Sheared})
	b.must(Replan{Rescues: rescues, Technicians: 1})
	b.must(KeepStep{Step: operation.StepID("extract." + wheel + ".2")})
	b.step("off", "nutcrack", "nutout", "boltout", "bracketout", "boltin", "bolt1", "bolt2")
	b.step("bracketin", "bracket1", "nutin", "pedal", "hold", "nut1")
	st := b.s.Plan.Step("wheelin")
	if got := b.s.Together(st, b.s.Plan.Joint(wheel)); !slices.Equal(got, []string{"1", "3", "4"}) {
		t.Errorf("one act starts %v", got)
	}
	b.refused(Handle{Step: "wheelin", Letters: []string{"1", "2"}, Renewed: true}, fault.Gate, "piece by piece")
	b.must(Handle{Step: "wheelin"})
	b.must(Handle{Step: "wheelin", Letters: []string{"2"}, Renewed: true})
	a := b.s.Account().Of(func(id FastenerID) bool { return id.Joint == wheel })
	if a.Renewed() != 1 || !b.s.StepDone("wheelin") {
		t.Errorf("%+v", a)
	}
}

// Not driven is not proved: two people sign for it, or it is driven.
func TestNotDrivenIsADeviationOfTwo(t *testing.T) {
	b := atTheDrive(t)
	b.must(felt2("left_out: no time", "left_out: no time"))
	b.step("again")
	g := b.gate("undriven")
	if g == nil || g.Closed() || !g.Second || g.Step != "drive" || !strings.Contains(g.Title, "2 manoeuvres") {
		t.Fatalf("%+v", g)
	}
	b.refused(Deviate{Gate: "undriven", Reason: "no time"}, fault.Missing, "second")
	b.refused(Sign{}, fault.Gate, "not driven")
	m := b.meta()
	m.Second = "technician B"
	if err := b.do(m, Deviate{Gate: "undriven", Reason: "the road is iced over"}); err != nil {
		t.Fatal(err)
	}
	if !b.gate("undriven").Closed() {
		t.Error("signed for by two, and still open")
	}
	b.must(felt2("sound", "left_out: no empty road")) // driven after all, what was tightened since stays
	if g := b.gate("undriven"); g.Closed() || !strings.Contains(g.Title, "stop hard") {
		t.Errorf("another drive, another deviation: %+v", g)
	}
	b.must(felt2("sound", "wrong: pulls left"))
	if b.s.StepDone("drive") || b.gate("drive").Met || !b.s.StepDone("again") {
		t.Error("a drive that failed leaves its step kept")
	}
	b.must(felt2("sound", "sound: hose untwisted"))
	b.refused(felt2("sound", "sound"), fault.Order, "on record")
	b.must(Sign{})
}

// An event says what a rule came to, and the rule is not asked again.
func TestMovedSaysHowTheStepsStand(t *testing.T) {
	b := begin(t)
	b.must(MoveStep{Step: "soak", Behind: "crack"})
	e := b.journal[len(b.journal)-1].Body.(record.Moved)
	if got := texts(b.s.Plan.StepIDs()); !slices.Equal(got, e.Order) || got[0] != "crack" || got[1] != "soak" {
		t.Errorf("%v, the event says %v", got, e.Order)
	}
	s := begin(t).s
	s.applyMoved(Event{}, record.Moved{Step: "nutcrack", Behind: "drive"}) // no rule of today lets it
	if ids := s.Plan.StepIDs(); slices.Index(ids, "nutcrack") != slices.Index(ids, "drive")+1 {
		t.Errorf("an event of before is dropped: %v", ids)
	}
}

// A record kept without network has the time it was made, or says why not.
func TestTimeOfWhatWasKept(t *testing.T) {
	b := begin(t)
	now := b.s.Started.Add(100 * time.Hour)
	for name, c := range map[string]struct {
		at   time.Time
		says string
	}{
		"a moment ago":      {now.Add(-time.Minute), ""},
		"a clock too fast":  {now.Add(clockFast), ""},
		"far too fast":      {now.Add(clockFast + time.Second), "from now"},
		"a weekend":         {now.Add(-keptLongest), ""},
		"longer":            {now.Add(-keptLongest - time.Second), "3 days"},
		"before it began":   {b.s.Started.Add(-time.Second), "before the job began"},
		"no time that is a": {time.Time{}, "lacks its id, name or time"},
	} {
		sent := now
		if name == "before it began" {
			sent = b.s.Started.Add(time.Hour)
		}
		m := Meta{ID: record.EventID(strings.ReplaceAll(name, " ", "-")), By: b.by, Role: Technician, At: c.at, Sent: sent}
		f := fault.As(b.do(m, Find{Text: name}))
		if (f == nil) != (c.says == "") || f != nil && (!strings.Contains(f.Detail, c.says) || f.Remedy == "") {
			t.Errorf("%s: %v", name, f)
		}
	}
}

// An id is the same text in every file, address and header.
func TestIDsAreASCII(t *testing.T) {
	for id, good := range map[string]bool{
		"3f2c-11": true, "start:demo/Technician-Aro/1": true, "a.b_c@d+e=f~g#h": true,
		"": false, "a\xffb": false, "ä": false, "a b": false, "a\nb": false, `a"b`: false, "a%FFb": false, "<a>": false,
	} {
		_, err := record.ParseEventID(id)
		if (err == nil) != good {
			t.Errorf("%q: %v", id, err)
		}
		f := fault.As(begin(t).do(Meta{ID: record.EventID(id), By: "a", Role: Technician, At: morning}, Find{Text: "x"}))
		if good != (f == nil) || f != nil && id != "" && f.Code != fault.BadID {
			t.Errorf("%q: %v", id, f)
		}
	}
}

// A reading counts inside what its tool can read, and a file is what a hand has brought.
func TestWhatAToolCanRead(t *testing.T) {
	b := atTheBolts(t)
	over := b.traced("bolt1", 101)
	over.Tool.MaxNm = 100
	b.must(over)
	p := b.s.Pulls[b.s.PullOrder[0]]
	if p.Counts() || b.s.Fastener(knuckle, "A").Blocks == pull.Nothing ||
		!strings.Contains(p.Result.Reasons[0].Message, "reads to 100 N·m") {
		t.Errorf("%+v", p.Result)
	}
	file := b.traced("bolt1", 0)
	file.Letter = "B"
	file.Claim = b.claims(tracing.ID, knuckle, "B")
	file.Samples = samples(60, b.s.Plan.Joint(knuckle).Slope())
	file.File = true
	b.must(file)
	if f := b.s.Fastener(knuckle, "B"); f.Evidence != pull.Stated || f.Done != 1 {
		t.Errorf("%+v", f)
	}
	if pull.Stated.Weaker(pull.Traced) != true || !pull.Stated.Weaker(pull.Clicked) ||
		!pull.NotMeasured.Weaker(pull.Stated) {
		t.Error("a reading that was brought stands between a mark and nothing")
	}
	for _, set := range []float64{24, 126} {
		c := b.set("bracket1", 0)
		c.Tool.MaxNm = 125
		c.SetNm = set
		b.refused(c, "out_of_range", "it says nothing at")
	}
	late := b.traced("bracket1", 115)
	late.Tool.Calibrated = morning.AddDate(-2, 0, 0)
	b.refused(late, fault.Tool, "calibration")
}

// The signature freezes the account.
func TestTheSignatureHoldsTheAccount(t *testing.T) {
	b := begin(t)
	for n := b.s.Next(); n != ""; n = b.s.Next() {
		b.step(n)
	}
	b.must(Sign{})
	e := b.journal[len(b.journal)-1].Body.(record.Signed)
	if e.Account == nil || e.Account.Opened != 9 || fmt.Sprint(e.Account.Grades) != "map[clicked:5 marked:4]" ||
		e.Account.Renewed != 9 {
		t.Errorf("%+v", e.Account)
	}
}

// A nut that sets a bearing is proved by play: a gauge that reads inside since its last pull, no torque (common
// practice). Pulled again, it is known by its pull until it is gauged again.
func TestProvedByPlay(t *testing.T) {
	f := &Fastener{Phase: InHand, Done: 1, Stages: 1, Evidence: pull.Clicked}
	for _, c := range []struct {
		gauged bool
		sign   Mark
		says   string
	}{{false, Clicked, "proved, clicked"}, {true, Played, "proved by play"}} {
		f.Gauged = c.gauged
		if f.Sign() != c.sign || f.Says() != c.says {
			t.Errorf("gauged %v: %s, %q", c.gauged, f.Sign(), f.Says())
		}
	}
	f.Evidence = pull.NotMeasured
	if f.LeftUnmeasured() {
		t.Error("what a gauge has proved is told as not measured")
	}
	if !GradePlay.Figured() {
		t.Error("its figure is its play")
	}
}

// The fastener that stands worst speaks for the work at a corner.
func TestWorstOfAnAccount(t *testing.T) {
	at := func(letter string, g Grade) Accounted { return Accounted{FastenerID{knuckle, letter}, g, false} }
	for name, c := range map[string]struct {
		of   []Accounted
		want string
	}{
		"none touched":            {nil, ""},
		"one":                     {[]Accounted{at("A", GradeTraced)}, "A"},
		"an owed among proved":    {[]Accounted{at("A", GradeTraced), at("B", GradeOwed), at("C", GradeDeviating)}, "B"},
		"the first of its like":   {[]Accounted{at("A", GradeClicked), at("B", GradeClicked)}, "A"},
		"a click after a tracing": {[]Accounted{at("A", GradeTraced), at("B", GradeClicked)}, "B"},
	} {
		worst, touched := Account{Fasteners: c.of}.Worst()
		if worst.Fastener.Letter != c.want || touched != (c.want != "") {
			t.Errorf("%s: %v, %t", name, worst, touched)
		}
	}
}

func TestRoadTestCanBeTold(t *testing.T) {
	told := func(s *State) operation.StepID {
		if step := s.ToDrive(); step != nil {
			return step.ID
		}
		return ""
	}
	if got := told(&State{}); got != "" {
		t.Errorf("%s, without a plan", got)
	}
	if got := told(begin(t).s); got != "" {
		t.Errorf("%s, with the work before it open", got)
	}
	b := atTheDrive(t)
	for _, c := range []struct {
		after string
		do    Command
		want  operation.StepID
	}{
		{"nothing driven", nil, "drive"},
		{"it failed", felt2("sound", "wrong: pulls left"), "drive"},
		{"one left out", felt2("sound", "left_out: no empty road"), "drive"},
		{"the rest driven", felt2("sound", "sound"), ""},
	} {
		if c.do != nil {
			b.must(c.do)
		}
		if got := told(b.s); got != c.want {
			t.Errorf("%s: %q may be told, want %q", c.after, got, c.want)
		}
	}
	b = atTheDrive(t)
	b.must(felt2("sound", "left_out: no empty road"))
	b.step("again")
	m := b.meta()
	m.Second = "technician B"
	if err := b.do(m, Deviate{Gate: "undriven", Reason: "the road is iced over"}); err != nil {
		t.Fatal(err)
	}
	b.must(Sign{})
	if got := told(b.s); got != "" {
		t.Errorf("%s may be told after the signature", got)
	}
}
