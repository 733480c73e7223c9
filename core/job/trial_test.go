package job

import (
	"fmt"
	"reflect"
	"strings"
	"testing"
	"time"

	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// atTheDrive is a job whose next step is the road test, with two manoeuvres.
func atTheDrive(t *testing.T) *bench {
	t.Helper()
	return toTheDrive(begin(t))
}

func toTheDrive(b *bench) *bench {
	for n := b.s.Next(); n != "drive"; n = b.s.Next() {
		b.step(n)
	}
	b.own().Plan.Drive = []operation.Manoeuvre{{Do: "weave"}, {Do: "stop hard"}}
	return b
}

func felt2(weave, stop string) RoadTest {
	all := RoadTest{Step: "drive"}
	for do, says := range map[string]string{"weave": weave, "stop hard": stop} {
		found, note, _ := strings.Cut(says, ": ")
		if found != "" {
			all.Felt = append(all.Felt, record.Felt{Do: do, Found: found, Note: note})
		}
	}
	return all
}

// A drive proves nothing until each manoeuvre is answered; what is wrong fails the whole, and
// what is watched goes to the owner.
func TestRoadTest(t *testing.T) {
	b := atTheDrive(t)
	b.refused(KeepStep{Step: "drive"}, fault.Missing, "not said what was felt")
	b.refused(RoadTest{Step: "drive"}, fault.Missing, "weave")
	b.refused(felt2("sound", ""), fault.Missing, "stop hard")
	b.refused(felt2("sound", "fine"), fault.Missing, "stop hard")
	b.refused(felt2("sound", "wrong"), fault.Missing, "not said what was felt")
	b.refused(felt2("sound", "left_out"), fault.Missing, "not said what was felt")
	b.refused(RoadTest{Step: "pedal"}, fault.BadChoice, "no road test")

	owed := len(b.s.Owed())
	b.must(felt2("sound", "wrong: pulls left"))
	if b.s.StepDone("drive") || b.gate("drive").Met || b.s.Failed() == nil || b.s.Failed().Felt[0].Do == "" {
		t.Errorf("a failed drive is kept: %+v", b.s.Trials)
	}
	if len(b.s.Owed()) != owed {
		t.Errorf("a drive changed what is owed from %d to %d", owed, len(b.s.Owed()))
	}
	b.must(felt2("sound", "watch: a little play in the pedal"))
	if !b.s.StepDone("drive") || !b.gate("drive").Met || b.s.Failed() != nil || b.s.Trials[1].Result != TrialAdvise {
		t.Errorf("driven again: %+v", b.s.Trials)
	}
	advice := b.s.FollowUps()[len(b.s.FollowUps())-1]
	if advice.Kind != "advice" || !strings.Contains(advice.Title, "a little play in the pedal") {
		t.Errorf("the owner is told %+v", b.s.FollowUps())
	}
	b.refused(felt2("sound", "sound"), fault.Order, "on record")
	b.must(UndoStep{Step: "drive", Reason: "driven without load"})
	b.must(felt2("sound", "sound"))
	if got := b.s.Trials[2].Result; got != TrialPass {
		t.Errorf("all sound is %s", got)
	}
}

// The strokes a pedal took are counted before it proves anything.
func TestPedalIsCounted(t *testing.T) {
	b := begin(t)
	for n := b.s.Next(); n != "pedal"; n = b.s.Next() {
		b.step(n)
	}
	for _, strokes := range []int{0, -1, maxStrokes + 1} {
		b.refused(KeepStep{Step: "pedal", Strokes: strokes}, fault.Missing, "not counted")
	}
	b.must(KeepStep{Step: "pedal", Strokes: 4})
	if got := b.s.Steps["pedal"].Strokes; got != 4 {
		t.Errorf("kept as %d", got)
	}
}

// What left is back before the step is kept, and a stream with bubbles is bled on.
func TestFluidAccount(t *testing.T) {
	b := begin(t)
	const bleed = "soak"
	b.own().Plan.Step(bleed).Books = "brake fluid"
	book := func(change func(*record.FluidBooked)) BookFluid {
		f := record.FluidBooked{Step: bleed, Spec: "DOT 4", OutMl: 120, InMl: 130, Colour: "amber"}
		change(&f)
		return BookFluid{f}
	}
	b.refused(KeepStep{Step: bleed}, fault.Missing, "not written down")
	for _, c := range []struct {
		change func(*record.FluidBooked)
		code   fault.Code
		says   string
	}{
		{func(f *record.FluidBooked) { f.InMl = 90 }, fault.Order, "only 90 ml"},
		{func(f *record.FluidBooked) { f.OutMl = -1 }, "bad_number", "not come out"},
		{func(f *record.FluidBooked) { f.InMl = 30_000 }, "bad_number", "not go in"},
		{func(f *record.FluidBooked) { f.Spec = " " }, fault.Missing, "what went in"},
		{func(f *record.FluidBooked) { f.Colour = "pink" }, fault.Missing, "how it looked"},
		{func(f *record.FluidBooked) { f.Step = "pedal" }, fault.BadChoice, "No fluid leaves"},
	} {
		b.refused(book(c.change), c.code, c.says)
	}
	b.must(book(func(f *record.FluidBooked) { f.Air = true }))
	b.refused(KeepStep{Step: bleed}, fault.Order, "bubbles")
	b.must(book(func(f *record.FluidBooked) { f.Colour = "dark" }))
	b.must(KeepStep{Step: bleed})
	if f := b.s.FluidAt(bleed); f == nil || f.Air || f.Fluid != "brake fluid" || len(b.s.Fluids) != 2 {
		t.Errorf("%+v", b.s.Fluids)
	}
	if due := b.s.FollowUps(); due[len(due)-1].Title != "Brake fluid was dark: change it all" {
		t.Errorf("dark fluid is owed: %+v", due)
	}
}

// What is owed after the signature has its day and its distance, and closes with a record of
// its own while the job stays signed.
func TestDuesAreClosed(t *testing.T) {
	b := begin(t)
	b.own().House = House{FollowUpKM: 100, FollowUpDays: 14}
	b.refused(CloseFollowUp{No: 1, Found: "x"}, fault.Missing, "owed")
	for n := b.s.Next(); n != ""; n = b.s.Next() {
		b.step(n)
	}
	b.must(Sign{})
	dues := b.s.Dues()
	if len(dues) == 0 || dues[0].Kind != "wheel" || dues[0].AtKM != b.s.OdometerKM+dues[0].KM ||
		!dues[0].At.Equal(b.s.Signature.At.AddDate(0, 0, 14)) {
		t.Fatalf("%+v", dues)
	}
	day := dues[0].At
	if Overdue(day, day.AddDate(0, 0, -1)) || !Overdue(day, day) || Overdue(time.Time{}, day) {
		t.Error("its day is not told from the day before")
	}
	km := b.s.OdometerKM
	b.refused(CloseFollowUp{No: 1, OdometerKM: km + 90}, fault.Missing, "")
	b.refused(CloseFollowUp{No: 1, OdometerKM: km - 1, Found: "none moved"}, "out_of_range", "less than")
	b.refused(CloseFollowUp{No: 99, OdometerKM: km, Found: "none moved"}, fault.Missing, "owed")
	b.must(CloseFollowUp{No: 1, OdometerKM: km + 90, Found: " 130 N·m, none moved "})
	b.refused(CloseFollowUp{No: 1, OdometerKM: km + 95, Found: "again"}, fault.Order, "already")
	got := b.s.Dues()[0]
	if got.Closed == nil || got.Closed.Found != "130 N·m, none moved" || b.s.Signature == nil {
		t.Errorf("%+v", got)
	}
	if again := Replay(readBack(t, b.journal)); !reflect.DeepEqual(again.ClosedDues, b.s.ClosedDues) {
		t.Errorf("read back as %+v", again.ClosedDues)
	}
	m := b.meta()
	m.Role = Foreman
	if err := b.do(m, Reopen{Reason: "wrong nut"}); err != nil {
		t.Fatal(err)
	}
	if r := b.s.Reopenings; len(r) != 1 || r[0].Reason != "wrong nut" || r[0].SignedBy == "" || len(b.s.Dues()) != 0 {
		t.Errorf("reopening leaves no trace: %+v", r)
	}
}

// What was wrong is sound on the next drive only with a word on what was done about it; one
// manoeuvre has one answer.
func TestAFailedDriveIsNotTickedAway(t *testing.T) {
	b := atTheDrive(t)
	b.must(felt2("sound", "wrong: pulls left"))
	b.refused(felt2("sound", "sound"), fault.Missing, "what was done")
	b.must(felt2("sound", "sound: hose was twisted, turned back"))
	if got := b.s.Trials[1].Result; got != TrialPass || !b.s.StepDone("drive") {
		t.Errorf("driven again with a word: %s", got)
	}
	twice := felt2("sound", "sound")
	twice.Felt = append(twice.Felt, record.Felt{Do: "weave", Found: FeltWrong, Note: "and knocks"})
	other := atTheDrive(t)
	other.refused(twice, fault.BadChoice, "twice")
}

// What was felt on the road before is driven once more, and is as little left out as the
// rest. What was found standing is not.
func TestTheComplaintIsDrivenAgain(t *testing.T) {
	b := begin(t)
	b.must(Answer{Sign: "hum", Ask: "Hum with speed?", Yes: true, Position: OnTheRoad})
	b.must(Answer{Sign: "knock", Ask: "Knock over bumps?", Position: OnTheRoad}) // no
	b.must(Answer{Sign: "play", Ask: "Play at 12 and 6?", Yes: true, Position: "raised"})
	for n := b.s.Next(); n != "drive"; n = b.s.Next() {
		b.step(n)
	}
	b.own().Plan.Drive = []operation.Manoeuvre{{Do: "weave"}, {Do: "stop hard"}}
	all := b.s.Manoeuvres()
	if len(all) != 3 || !strings.Contains(all[2].Do, "Hum with speed?") {
		t.Fatalf("%+v", all)
	}
	b.refused(felt2("sound", "sound"), fault.Missing, "Hum with speed?")
	drive := felt2("sound", "sound")
	drive.Felt = append(drive.Felt, record.Felt{Do: all[2].Do, Found: FeltSound})
	b.must(drive)
}

// A drive of minutes that was said within seconds stands marked, as any step does.
func TestADriveNobodyDroveIsMarked(t *testing.T) {
	b := atTheDrive(t)
	was := len(b.s.Hasty)
	m := b.meta()
	m.At = b.s.Last.Add(2 * guard)
	b.own().Plan.Step("drive").Minutes = 12
	if err := b.do(m, felt2("sound", "sound")); err != nil {
		t.Fatal(err)
	}
	if len(b.s.Hasty) != was+1 || b.s.Hasty[was].Step != "drive" {
		t.Errorf("%+v", b.s.Hasty)
	}
}

// An account is not written before its step, twice over, of nothing, or kept for work that was
// taken back.
func TestTheAccountIsOfTheWork(t *testing.T) {
	b := begin(t)
	const last = "again"
	b.own().Plan.Step(last).Books = "brake fluid"
	book := func(step string, out float64) BookFluid {
		return BookFluid{record.FluidBooked{Step: step, Spec: "DOT 4", OutMl: out, InMl: 130, Colour: "amber"}}
	}
	b.refused(book(last, 120), fault.Order, "Before this")

	const bleed = "soak"
	b.own().Plan.Step(bleed).Books = "brake fluid"
	b.refused(book(bleed, 0), "bad_number", "Nothing came out")
	b.must(book(bleed, 120))
	b.must(KeepStep{Step: bleed})
	b.refused(book(bleed, 10), fault.Order, "kept")
	b.must(UndoStep{Step: bleed, Reason: "wrong wheel"})
	b.refused(KeepStep{Step: bleed}, fault.Missing, "not written down")
	b.must(book(bleed, 140))
	b.must(KeepStep{Step: bleed})
}

// Dark fluid is told once, however many bleeders it came out of.
func TestDarkFluidIsToldOnce(t *testing.T) {
	s := (&State{}).clone()
	for _, step := range []string{"bled.FL", "bled.FR"} {
		s.Fluids = append(s.Fluids, Booked{FluidBooked: record.FluidBooked{Step: step, Fluid: "brake fluid", Colour: "dark"}})
	}
	if due := s.darkFluids(); len(due) != 1 {
		t.Errorf("%+v", due)
	}
}

// What is owed for a distance is closed by a figure, and not before the vehicle has gone some
// of it.
func TestADueIsNotTickedAway(t *testing.T) {
	b := begin(t)
	b.own().House = House{FollowUpKM: 100, FollowUpDays: 14}
	for n := b.s.Next(); n != ""; n = b.s.Next() {
		b.step(n)
	}
	b.must(Sign{})
	km := b.s.OdometerKM
	b.refused(CloseFollowUp{No: 1, OdometerKM: km, Found: "130 N·m"}, fault.Order, "not gone")
	b.refused(CloseFollowUp{No: 1, OdometerKM: km + 49, Found: "130 N·m"}, fault.Order, "not gone")
	b.refused(CloseFollowUp{No: 1, OdometerKM: km + 80, Found: "all fine"}, fault.Missing, "figure")
	b.must(CloseFollowUp{No: 1, OdometerKM: km + 50, Found: "130 N·m, none moved"})
}

// The axles whose pads are new are told by what the steps make, whatever else is done.
func TestNewPadsAreToldByTheirAxle(t *testing.T) {
	pads := func(c vehicle.Corner) plan.Step {
		return plan.Step{
			Step:   operation.Step{ID: operation.StepID("pads." + c)},
			Corner: c,
			Makes:  []fact.Make{{Fact: fact.Fact{Subject: "pads", Place: string(c)}, Value: "in"}},
		}
	}
	for want, steps := range map[string][]plan.Step{
		"[]":           {{Corner: "FL"}},
		"[rear]":       {{Corner: "FL"}, pads("RL"), pads("RR")}, // struts in front beside it
		"[front rear]": {pads("RL"), pads("FL"), pads("FR")},
	} {
		s := (&State{}).clone()
		s.Plan = &plan.Plan{Steps: steps}
		if got := fmt.Sprint(s.NewPads()); got != want {
			t.Errorf("%s, want %s", got, want)
		}
	}
}

// A gearbox level that counts at a temperature only is not read outside it; a vehicle without a
// window asks for none.
func TestTheLevelIsReadInItsWindow(t *testing.T) {
	step := &plan.Step{Step: operation.Step{ID: "gear-oil.level", Proves: "oil-level"}}
	for _, c := range []struct {
		window vehicle.Window
		temp   float64
		code   fault.Code
	}{
		{vehicle.Window{}, 0, ""},
		{vehicle.Window{LowC: 35, HighC: 50}, 0, fault.Missing},
		{vehicle.Window{LowC: 35, HighC: 50}, 34.9, fault.Order},
		{vehicle.Window{LowC: 35, HighC: 50}, 35, ""},
		{vehicle.Window{LowC: 35, HighC: 50}, 50, ""},
		{vehicle.Window{LowC: 35, HighC: 50}, 50.1, fault.Order},
	} {
		s := &State{}
		s.Plan = &plan.Plan{GearOil: c.window}
		f := fault.As(s.inWindow(step, c.temp))
		if (f == nil) != (c.code == "") || f != nil && (f.Code != c.code || f.Field != "temp") {
			t.Errorf("%+v at %g: %v", c.window, c.temp, f)
		}
	}
}

// An answer at any corner answers a sign that is asked without one; one from before the drive does
// not, and one at another corner is another's.
func TestAnsweredSinceADrive(t *testing.T) {
	b := atTheDrive(t)
	b.must(Answer{Sign: "play-12-6", Ask: "play?", Yes: true, Corner: "FL"})
	b.must(felt2("sound", "wrong: pulls left"))
	drive := b.s.Failed()
	if strings.TrimSpace(drive.Showed()) != "pulls left" {
		t.Errorf("it showed %q", drive.Showed())
	}
	if b.s.AnsweredSince("play-12-6", drive) {
		t.Error("what was answered before the drive counts as since")
	}
	b.must(Answer{Sign: "play-12-6", Ask: "play?", Yes: true, Corner: "FR"})
	for key, since := range map[string]bool{
		"play-12-6":                  true,
		AnswerKey("play-12-6", "FR"): true,
		AnswerKey("play-12-6", "FL"): false,
		"play-3-9":                   false,
	} {
		if is := b.s.AnsweredSince(key, drive); is != since {
			t.Errorf("%s answered since: %v", key, is)
		}
	}
}
