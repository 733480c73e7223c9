package job

import (
	"fmt"
	"math"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
)

func TestWholeJob(t *testing.T) {
	b := begin(t)
	b.step(toTheWheel...)
	b.step("lower", "wheel1", "drive", "again")
	if n := len(b.s.Owed()); n != 0 {
		t.Fatalf("%d owed", n)
	}
	b.must(Sign{})
	b.refused(KeepStep{Step: "pedal"}, fault.Signed, "closed")
	b.refused(Reopen{Reason: "x"}, fault.Role, "foreman")
	m := b.meta()
	m.Role = Foreman
	if err := b.do(m, Reopen{Reason: "the owner came back"}); err != nil || b.s.Signature != nil {
		t.Errorf("reopening: %v", err)
	}
}

// A touched fastener is a debt until it is proved.
func TestDebt(t *testing.T) {
	b := begin(t)
	if len(b.s.Owed()) != 0 {
		t.Error("a debt before anything was touched")
	}
	b.must(Handle{Step: "crack", Letters: []string{"2"}})
	if o := b.s.Owed(); len(o) != 1 || o[0].String() != "hub.FL.wheel#2" || o[0].Mark() != Loose {
		t.Errorf("owed %v", o)
	}
}

func TestWrongConditionIsRefused(t *testing.T) {
	b := begin(t)
	b.step("crack", "raise", "off", "nutcrack", "nutout", "nutin", "wheelin")
	b.refused(b.set("wheel1", 0), fault.Condition, "still hangs")
	b.refused(b.set("nut1", 0), fault.Condition, "hold the hub")
	b.refused(KeepStep{Step: "lower"}, fault.Condition, "no weight may roll")
	b.step("hold", "nut1", "lower", "wheel1")
}

func TestLowerRefusalSaysWhy(t *testing.T) {
	b := begin(t)
	b.step("crack", "raise", "off", "wheelin")
	b.step("lower") // the nut was never touched: the bearing is as it was
	if b.s.Position != plan.Touching {
		t.Errorf("position %q", b.s.Position)
	}
}

func TestRoundAndRound(t *testing.T) {
	b := begin(t)
	b.step("boltout", "boltin")
	var went []string
	for _, step := range []operation.StepID{"bolt1", "bolt2"} {
		st := b.s.Plan.Step(step)
		for !b.s.StepDone(step) {
			l := b.s.Current(st)
			went = append(went, l)
			b.tighten(step, 0)
		}
	}
	if got := strings.Join(went, ""); got != "ABCABC" {
		t.Errorf("went round %s", got)
	}
	b = begin(t)
	b.step("boltout", "boltin")
	b.tighten("bolt1", 0)
	p := b.set("bolt2", 0)
	p.Letter = "A"
	b.refused(p, fault.Order, "knuckle bolt B still lacks round 1")
}

func TestStarOrder(t *testing.T) {
	b := begin(t)
	b.step("crack", "raise", "off", "wheelin", "lower")
	var went []string
	for st := b.s.Plan.Step("wheel1"); !b.s.StepDone("wheel1"); {
		went = append(went, b.s.Current(st))
		b.tighten("wheel1", 0)
	}
	if got := strings.Join(went, ""); got != "13241324" {
		t.Errorf("star order %s", got)
	}
	if f := b.s.Fastener("hub.FL.wheel", "1"); !f.Owed() || f.Mark() != Between {
		t.Errorf("before the drive the wheel nut is %s", f.Mark())
	}
}

func TestBadPullIsRecordedAndPaysNothing(t *testing.T) {
	b := begin(t)
	b.step("boltout", "boltin")
	b.tighten("bolt1", -0.2)
	f := b.s.Fastener("hub.FL.knuckle", "A")
	if f.Done != 0 || len(f.Pulls) != 1 || b.s.Pulls[f.Pulls[0]].Result.Signature != pull.Low {
		t.Errorf("%+v", f)
	}
	b.tighten("bolt1", 0)
	if f := b.s.Fastener("hub.FL.knuckle", "A"); f.Done != 1 || len(f.Pulls) != 2 {
		t.Errorf("%+v", f)
	}
}

func TestRepeatedIDIsHarmless(t *testing.T) {
	b := begin(t)
	b.step("boltout", "boltin")
	b.must(b.set("bolt1", 0))
	m, p := b.meta(), b.turned("bolt1")
	for range 3 {
		if err := b.do(m, p); err != nil {
			t.Fatal(err)
		}
	}
	if n := len(b.s.PullOrder); n != 1 {
		t.Errorf("%d pulls recorded", n)
	}
}

func TestTwoTablets(t *testing.T) {
	b := begin(t)
	b.step("boltout", "boltin", "bracketout", "bracketin")
	old := b.s.Seq
	b.tighten("bolt1", 0)
	m := b.meta()
	m.Seq = old
	p := b.set("bolt1", 0)
	p.Letter = "A"
	if f := fault.As(b.do(m, p)); f == nil || f.Code != fault.Stale {
		t.Errorf("a setting on an old view: %v", f)
	}
	m = b.meta()
	m.Seq = old // elsewhere in the job the old view is good enough
	if err := b.do(m, b.set("bracket1", 0)); err != nil {
		t.Errorf("the second tablet at another joint: %v", err)
	}
	m = b.meta()
	m.Seq = old
	if f := fault.As(b.do(m, Sign{})); f == nil || f.Code != fault.Stale {
		t.Errorf("signing on an old view: %v", f)
	}
}

func TestStrikeOpensTheDebtAgain(t *testing.T) {
	b := begin(t)
	b.step(toTheWheel...)
	b.step("lower", "wheel1", "drive", "again")
	f := b.s.Fastener("brake.FL.bracket", "A")
	b.refused(StrikePull{Pull: f.Pulls[0]}, "missing", "few words")
	b.must(StrikePull{Pull: f.Pulls[0], Reason: "read 115 off the wrong wrench"})
	if !b.s.Fastener("brake.FL.bracket", "A").Owed() || b.s.StepDone("bracket1") {
		t.Error("a struck pull still pays")
	}
	if p := b.s.Pulls[f.Pulls[0]]; p.StruckWhy == "" || p.Result.PeakNm == 0 {
		t.Error("a struck pull is no longer readable")
	}
	b.refused(Sign{}, fault.Gate, "owed")
	b.step("bracket1")
	b.must(Sign{})
}

func TestEachGateRefusesTheSignature(t *testing.T) {
	all := append(slices.Clone(toTheWheel), "lower", "wheel1", "drive", "again")
	for _, c := range []struct {
		name string
		skip operation.StepID
		with func(b *bench)
		says string
	}{
		{"a fastener owed", "bracket1", nil, "Bracket bolt A owed"},
		{"pedal not pumped", "pedal", func(b *bench) {}, "pedal"},
		{"wheel nuts not done again", "again", nil, "again after the drive"},
		{"support not counted out", "", func(b *bench) {
			b.s = b.s.clone()
			b.s.Steps["lower"].Done = false
		}, "axle stand"},
		{"trouble open", "", func(b *bench) { b.must(ReportTrouble{Step: "soak", Code: Sheared}) }, "sheared"},
	} {
		b := begin(t)
		for _, id := range all {
			if id == c.skip || (c.skip == "pedal" && (id == "drive" || id == "again")) {
				continue
			}
			b.step(id)
		}
		if c.with != nil {
			c.with(b)
		}
		err := b.do(b.meta(), Sign{})
		f := fault.As(err)
		if f == nil || f.Code != fault.Gate {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		found := false
		for _, g := range b.s.Gates() {
			if !g.Met && strings.Contains(g.Title, c.says) && g.Remedy != "" {
				found = true
			}
		}
		if !found {
			t.Errorf("%s: no open gate says %q", c.name, c.says)
		}
	}
}

func TestDeviation(t *testing.T) {
	b := begin(t)
	b.step("crack")
	debt := "debt:hub.FL.wheel#1"
	b.refused(Deviate{Gate: debt}, "missing", "few words")
	b.must(Deviate{Gate: debt, Reason: "locking nut, key lost, tight by feel"})
	if f := b.s.Fastener("hub.FL.wheel", "1"); f.Mark() != Excused || f.Owed() {
		t.Errorf("mark %s", f.Mark())
	}
	b.refused(Deviate{Gate: "pedal", Reason: "in a hurry"}, fault.Gate, "No signature")
	b.step("bracketout")
	brake := "debt:brake.FL.bracket#A"
	b.refused(Deviate{Gate: brake, Reason: "no room for the wrench"}, "missing", "second person")
	m := b.meta()
	m.Second = b.by
	if f := fault.As(b.do(m, Deviate{Gate: brake, Reason: "no room"})); f == nil ||
		f.Field != "" && f.Field != "second" ||
		f.Code != "bad_choice" {
		t.Errorf("signing twice oneself: %v", f)
	}
	m = b.meta()
	m.Second = "technician B"
	if err := b.do(m, Deviate{Gate: brake, Reason: "no room for the wrench"}); err != nil {
		t.Fatal(err)
	}
	if d := b.s.Deviation(brake); d == nil || d.Second != "technician B" || d.By != b.by {
		t.Errorf("%+v", d)
	}
}

func TestOneTimeHardware(t *testing.T) {
	b := begin(t)
	b.step("boltout")
	b.refused(Handle{Step: "boltin"}, fault.Gate, "new ones")
	b.must(Deviate{Gate: "renew:hub.FL.knuckle", Reason: "none to be had on the island; length measured"})
	b.must(Handle{Step: "boltin"})
}

// Bolts turned by angle go in once more only measured, each no longer than the sheet's limit
// (common practice), and what was measured stands in the signed deviation.
func TestTurnedBoltsGoInOnceMoreByLength(t *testing.T) {
	b := begin(t)
	b.step("boltout")
	b.s.Plan.Joint("hub.FL.knuckle").LongestMM = 46.5
	again := Deviate{Gate: "renew:hub.FL.knuckle", Reason: "none to be had"}
	b.refused(again, fault.Missing, "3 lengths are wanted, 0 were given")
	again.LengthsMM = []float64{46.1, 46.51, 46.2}
	b.refused(again, fault.Gate, "46.51 mm is longer than 46.5 mm: it has stretched")
	again.LengthsMM = []float64{46.1, 4.62, 46.2}
	b.refused(again, "bad_number", "4.62 mm is no length")
	again.LengthsMM = []float64{46.1, math.NaN(), 46.2}
	b.refused(again, "bad_number", "no length")
	again.LengthsMM = []float64{46.1, 46.5, 46.25}
	b.must(again)
	if d := b.s.Deviation(again.Gate); d == nil ||
		d.Reason != "measured 46.1, 46.5, 46.25 mm, at most 46.5 mm: none to be had" {
		t.Errorf("%+v", d)
	}
	b.must(Handle{Step: "boltin"})
}

func TestTroubleAtOneFastener(t *testing.T) {
	b := begin(t)
	b.must(ReportTrouble{Step: "boltout", Letter: "B", Code: Stuck})
	b.must(Handle{Step: "boltout"})
	f := b.s.Fastener("hub.FL.knuckle", "B")
	if f.Mark() != InTrouble || b.s.StepDone("boltout") {
		t.Errorf("mark %s", f.Mark())
	}
	if next := b.s.Next(); next == "boltout" {
		t.Error("a step whose last fastener is stuck comes next")
	}
	b.must(ClearTrouble{Trouble: b.s.Troubles[0].ID, How: "soaked once more, long bar"})
	b.must(Handle{Step: "boltout"})
	if !b.s.StepDone("boltout") {
		t.Error("the step does not end")
	}
}

func TestLaterGoesOn(t *testing.T) {
	b := begin(t)
	first := b.s.Next()
	b.must(Postpone{Step: first})
	if b.s.Next() == first {
		t.Error("a step put off comes next again")
	}
}

func TestUndo(t *testing.T) {
	b := begin(t)
	b.step("crack")
	b.must(UndoStep{Step: "crack", Reason: "wrong wheel"})
	if len(b.s.Owed()) != 0 || b.s.StepDone("crack") {
		t.Error("taking back left a debt")
	}
	b.step("crack", "raise")
	b.refused(UndoStep{Step: "crack", Reason: "x"}, fault.Order, "rests on it")
	b.refused(UndoStep{Step: "raise", Reason: "x"}, fault.Order, "unmoved")
}

func TestOverdueWrench(t *testing.T) {
	b := begin(t)
	b.step("boltout", "boltin")
	p := b.set("bolt1", 0)
	p.Tool.Calibrated = morning.AddDate(-2, 0, 0)
	b.refused(p, fault.Tool, "calibration")
	p = b.set("bolt1", 0)
	p.Tool.MaxNm = 1000
	b.refused(p, fault.Tool, "a fifth")
	p.Tool = wrench.Tool{}
	b.refused(p, fault.Missing, "which wrench")
}

// The torque follows the bolt in hand: it is asked for before the first pull, and
// changed only while nothing is tightened.
func TestVariant(t *testing.T) {
	b := begin(t)
	j := b.s.Plan.Joint("brake.FL.bracket")
	j.Variants = []vehicle.Variant{
		{Key: "flange", Sees: "broad flange", Recipe: "115 Nm", Thread: "M12x1.5", Class: "10.9", Source: "book"},
		{Key: "washer", Sees: "captive washer", Recipe: "60 Nm + 45°", Thread: "M12x1.5", Class: "8.8", Source: "book"},
	}
	b.step("bracketout", "bracketin")
	b.refused(b.set("bracket1", 0), fault.Variant, "more than one kind")
	b.refused(SeeHardware{Joint: j.ID, Variant: "gold"}, "bad_choice", "no such hardware")
	b.must(SeeHardware{Joint: j.ID, Variant: "washer"})
	if got := b.s.Plan.Joint(j.ID); got.Recipe != "60 Nm + 45°" || b.s.Fastener(j.ID, "A").Stages != 2 {
		t.Errorf("%+v", got.Spec)
	}
	b.must(SeeHardware{Joint: j.ID, Variant: "flange"})
	b.tighten("bracket1", 0)
	b.refused(SeeHardware{Joint: j.ID, Variant: "washer"}, fault.Order, "Slacken it first")
}

// A wrench pulled through an adapter with the plain figure set arrives high
// (statics: 60·(500 + 50)/500 = 66 N·m).
func TestPullThroughAnAdapter(t *testing.T) {
	b := begin(t)
	b.step("boltout", "boltin")
	set := b.set("bolt1", 0)
	set.Tool.MaxNm = 250
	set.Adapter = wrench.Adapter{Name: "crow's-foot", LengthMM: 50}
	b.must(set)
	b.must(b.turned("bolt1"))
	rec := b.s.Pulls[b.s.PullOrder[0]]
	if rec.Result.Signature != pull.High || rec.Result.PeakNm != 66 || rec.Adapter != "crow's-foot" {
		t.Errorf("%+v", rec)
	}
	b.must(Slacken{Joint: "hub.FL.knuckle", Letter: "A", Reason: "plain figure set through an adapter"})
	set.SetNm = 60 * 500.0 / 550
	b.must(set)
	b.must(b.turned("bolt1"))
	if f := b.s.Fastener("hub.FL.knuckle", "A"); f.Done != 1 {
		t.Errorf("%+v", f)
	}
}

// The walk-round comes before the plan: answers are taken back, measurements need a
// limit with its source, a proposal is declined with a reason.
func TestWalkRound(t *testing.T) {
	b := &bench{t: t, s: Replay(nil), by: "technician A"}
	b.n++
	if err := b.do(Meta{ID: "start:w", By: b.by, Role: Technician, At: morning},
		Start{Job: "w", Complaint: "hum", OdometerKM: 90, LastKM: 100}); fault.As(
		err,
	) == nil ||
		fault.As(err).Code != fault.OdometerBack {
		t.Fatalf("an odometer runs backwards: %v", err)
	}
	if err := b.do(Meta{ID: "start:w", By: b.by, Role: Technician, At: morning},
		Start{Job: "w", Complaint: "hum", OdometerKM: 90, LastKM: 100, WhyBack: "new panel"}); err != nil {
		t.Fatal(err)
	}
	if b.s.HasPlan() || b.s.Title() != "Walk-round" || b.s.WhyBack != "new panel" {
		t.Errorf("%+v", b.s)
	}
	b.must(Answer{Sign: "hum-with-speed", Ask: "Hum?", Yes: true})
	b.must(Answer{Sign: "hum-with-speed", Ask: "Hum?", Yes: true}) // once more is harmless
	b.must(Answer{Sign: "play-12-6", Ask: "Play?"})
	b.must(Answer{Sign: "hum-with-speed", Open: true})
	if w := b.s.Walk; len(w.Answers) != 1 || len(w.Asked) != 1 || w.Answers["play-12-6"] {
		t.Errorf("%+v", w)
	}
	b.refused(Answer{Sign: "play-12-6", Ask: "Play?", Yes: true, Corner: "XX"}, fault.BadChoice, "no corner")
	b.must(Answer{Sign: "play-12-6", Ask: "Play?", Yes: true, Corner: "FR"})
	if w := b.s.Walk; len(w.Answers) != 1 || !w.Answers[AnswerKey("play-12-6", "FR")] {
		t.Errorf("found at a corner, and nowhere: %+v", w)
	}
	b.must(Answer{Sign: "play-12-6", Ask: "Play?"})
	if w := b.s.Walk; len(w.Answers) != 1 || len(w.Asked) != 1 || w.Answers["play-12-6"] {
		t.Errorf("nowhere, and at a corner: %+v", w)
	}
	l := inspect.Limit{Key: "play", Name: "play", Unit: "mm", Gauge: 0.05, Sign: "play-12-6"}
	b.refused(Measure{Limit: l, Value: 1}, "missing", "No limit is known")
	l.Value, l.Source = 0.5, "maker's sheet"
	b.refused(Measure{Limit: l, Value: -1}, "bad_number", "no measurement")
	b.must(Measure{Limit: l, Value: 0.52})
	if b.s.Walk.Answers["play-12-6"] {
		t.Error("a measurement within the gauge's error answers the test")
	}
	b.must(Measure{Limit: l, Value: 0.9})
	if w := b.s.Walk; !w.Answers["play-12-6"] || len(w.Measured) != 2 || w.Measured[1].Verdict != string(inspect.Over) {
		t.Errorf("%+v", w)
	}
	b.must(RecordDrive{Amplitude: []float64{1}, Signs: map[string]bool{"vib-wheel-1": true, "vib-wheel-2": false}})
	if !b.s.Walk.Answers["vib-wheel-1"] {
		t.Error("a recorded drive answers nothing")
	}
	b.refused(TakeProposal{Suspect: "ball-joint", Name: "ball joint", Safety: true}, "missing", "few words")
	b.must(
		TakeProposal{Suspect: "ball-joint", Name: "ball joint", Safety: true, Reason: " owner has it done elsewhere "})
	if d := b.s.DeclinedSafety(); len(d) != 1 || d[0].Reason != "owner has it done elsewhere" {
		t.Errorf("%+v", d)
	}
	b.refused(Sign{}, fault.Gate, "Nothing is planned")
	b.must(PlanWork{Plan: small(t)})
	b.must(PlanWork{Plan: small(t)}) // nothing is done yet: it may be planned anew
	if !b.s.HasPlan() || len(b.s.Fasteners) == 0 {
		t.Error("planned, and no fasteners")
	}
	b.step("crack")
	b.refused(PlanWork{Plan: small(t)}, "exists", "has begun")
}

// What is measured may be nothing, and is no more than a gauge shows.
func TestMeasuring(t *testing.T) {
	limit := inspect.Limit{Key: "play", Name: "play", Unit: "mm", Value: 2, Gauge: 0.1, Source: "book"}
	b := begin(t)
	for value, ok := range map[float64]bool{0: true, 1.2: true, -0.1: false, maxMeasured: false, maxMeasured - 1: true} {
		_, err := Decide(b.s, b.meta(), Measure{Limit: limit, Value: value})
		if (err == nil) != ok {
			t.Errorf("%v mm: %v", value, err)
		}
	}
	for gauge, want := range map[float64]float64{0: 0.1, -1: 0.1, 0.5: 0.5} {
		ev, err := Decide(b.s, b.meta(), Measure{Limit: limit, Value: 1, Gauge: gauge})
		if err != nil {
			t.Fatal(err)
		}
		if got := ev[0].Body.(record.Measured).Gauge; got != want {
			t.Errorf("a gauge of %v counts as %v", gauge, got)
		}
	}
	for n, ok := range map[int]bool{1: true, maxSign: true, maxSign + 1: false, 0: false} {
		_, err := Decide(b.s, b.meta(), Answer{Sign: strings.Repeat("x", n), Yes: true})
		if (err == nil) != ok {
			t.Errorf("a sign of %d letters: %v", n, err)
		}
	}
}

func TestReaderWritesNothing(t *testing.T) {
	b := begin(t)
	m := b.meta()
	m.Role = Reader
	if f := fault.As(b.do(m, KeepStep{Step: "pedal"})); f == nil || f.Code != fault.Role {
		t.Errorf("%v", f)
	}
}

// Law: a state replayed from the journal's JSON is the state that was.
func TestReplayIsTheState(t *testing.T) {
	var journal []Event
	ev, err := Decide(Replay(nil), Meta{ID: "start:j", By: "a", Role: Technician, At: morning},
		Start{Job: "j", Complaint: "hum", Plan: small(t)})
	if err != nil {
		t.Fatal(err)
	}
	journal = append(journal, ev...)
	s := Replay(journal)
	on := claim.Claim{
		ID:    "c",
		Tool:  big.ID,
		Job:   "j",
		Joint: "hub.FL.knuckle",
		By:    "a",
		At:    morning.Add(10 * time.Second),
	}
	for i, c := range []Command{
		Handle{Step: "crack"},
		Postpone{Step: "raise"},
		KeepStep{Step: "raise"},
		ReportTrouble{Step: "off", Letter: "3", Code: Rounded},
		Find{Text: "a wet connector"},
		StockPart{Part: "hub.front.knuckle", Status: Ordered},
		Handle{Step: "boltout"},
		Handle{Step: "boltin", Letters: []string{"A"}, Renewed: true},
		Handle{Step: "boltin", Letters: []string{"B"}, Renewed: true},
		SetWrench{Step: "bolt1", Joint: "hub.FL.knuckle", Letter: "A", Tool: big, ToolID: big.ID, SetNm: 60},
		Click{Step: "bolt1", Joint: "hub.FL.knuckle", Letter: "A", Claim: on},
	} {
		m := Meta{ID: record.EventID(fmt.Sprint("e", i)), By: "a", Role: Technician,
			At: morning.Add(time.Duration(i) * time.Second)}
		ev, err := Decide(s, m, c)
		if err != nil {
			t.Fatal(err)
		}
		for _, e := range ev {
			s = Apply(s, e)
			journal = append(journal, e)
		}
	}
	if again := Replay(readBack(t, journal)); !reflect.DeepEqual(again, s) {
		t.Error("the replayed state differs")
	}
}

// readBack is a journal as a file gives it back.
func readBack(t *testing.T, journal []Event) []Event {
	t.Helper()
	var out []Event
	prev := ""
	for _, e := range journal {
		l, err := record.Seal(prev, e)
		if err != nil {
			t.Fatal(err)
		}
		back, err := l.Event()
		if err != nil {
			t.Fatal(err)
		}
		prev = l.Hash
		out = append(out, back)
	}
	return out
}
