package job

import (
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/schedule"
	"lugtak/core/vehicle"
)

// rods is a plan with two tie rods whose turns are counted, a part that is compared
// and hardware that is renewed, on both sides.
func rods(t *testing.T) plan.Plan {
	t.Helper()
	op := operation.Operation{ID: "rod", Title: "Rod", Family: "tests", Version: 1, Axle: "front",
		Joints: []operation.Joint{
			{Key: "lock", Spec: "steering.front.locknut", Title: "lock nut", One: "lock nut",
				System: plan.Steering, Points: "flat face outward"},
		},
		Parts: []operation.Part{{Key: "end", Title: "rod end", Count: 1, Kind: "tie rod", Sided: true}},
		Steps: []operation.Step{
			{ID: "crack", Verb: operation.Crack, Joint: "lock", Title: "lock nut loose, {side}", Minutes: 2, Tool: "24 mm"},
			{ID: "off", Verb: operation.Act, Counts: "out", Title: "end off, {side}", Minutes: 3,
				Needs: []operation.StepID{"crack"}},
			{ID: "out", Verb: operation.Remove, Joint: "lock", Title: "lock nut off, {side}", Minutes: 1,
				Needs: []operation.StepID{"off"}},
			{ID: "compare", Verb: operation.Compare, Part: "end", Title: "new beside old, {side}", Minutes: 3,
				Needs: []operation.StepID{"off"}},
			{ID: "start", Verb: operation.Start, Joint: "lock", Title: "lock nut on, {side}", Minutes: 1,
				Needs: []operation.StepID{"out", "compare"}},
			{ID: "on", Verb: operation.Act, Counts: "in", Title: "end on, {side}", Minutes: 3,
				Needs: []operation.StepID{"start"}},
			{ID: "tight", Verb: operation.Tighten, Joint: "lock", Title: "lock nut tight, {side}", Minutes: 2,
				Needs: []operation.StepID{"on"}},
			{ID: "sweep", Verb: operation.Act, Shared: true, Title: "sweep", Minutes: 8},
		}}
	pat := vehicle.Pattern{
		ID:         "p",
		Name:       "P",
		Operations: []string{"rod"},
		Outline:    vehicle.Outline{Arm: 140, Rim: 406},
		Spec: map[string]vehicle.Spec{
			"steering.front.locknut": {
				Recipe:   "70 Nm",
				Thread:   "M16x1.5",
				Class:    "8.8",
				Renew:    true,
				Hardware: "lock nut",
				Socket:   "24 mm",
				Source:   "invented",
			}},
	}
	know := plan.Knowledge{Operations: []operation.Operation{op}}
	made, err := plan.Compile(plan.Order{
		Tasks:     []plan.Task{{Operation: "rod", Corner: "FL"}, {Operation: "rod", Corner: "FR"}},
		Pattern:   pat,
		Knowledge: &know,
	})
	if err != nil {
		t.Fatal(err)
	}
	return made
}

// rescues are what a sheared bolt puts in.
var rescues = []operation.Rescue{
	{Trouble: "sheared", Way: "extractor", Title: "Extract the sheared {one}", Minutes: 25},
	{Trouble: "sheared", Way: "insert", Title: "Stub of the {one} drilled out", Tool: "drill", Minutes: 45},
	{Trouble: "part_missing", Way: "none", Title: "of another trouble"},
}

func beginRods(t *testing.T) *bench {
	b := &bench{t: t, s: Replay(nil), by: "technician A"}
	b.must(
		Start{
			Job:        "j",
			Vehicle:    vehicle.Vehicle{ID: "v", Fleet: "Q-14"},
			Complaint:  "wander",
			OdometerKM: 1,
			Plan:       rods(t),
		},
	)
	return b
}

// Turn counts are kept by side, with the toe they imply (150 mm arm and so on are in
// core/inspect): one turn of 1.5 mm on an arm of 140 mm is 0.61°, 4.35 mm at 406 mm.
func TestTurnsBySide(t *testing.T) {
	b := beginRods(t)
	for _, side := range []operation.StepID{"FL", "FR"} {
		b.must(Handle{Step: "rod.crack." + side})
		b.refused(KeepStep{Step: "rod.off." + side}, "missing", "not counted")
	}
	b.must(KeepStep{Step: "rod.off.FL", Turns: 18.5})
	b.must(KeepStep{Step: "rod.off.FR", Turns: 23})
	for _, side := range []operation.StepID{"FL", "FR"} {
		b.must(Handle{Step: "rod.out." + side})
		b.refused(KeepStep{Step: "rod.compare." + side}, fault.Missing, "What decides was not measured")
		b.must(alike("rod.compare."+side, "tie rod"))
		b.must(KeepStep{Step: "rod.compare." + side})
		b.must(Handle{Step: "rod.start." + side, Renewed: true})
	}
	if tr := b.s.Trays(); len(tr) != 2 || tr[0].Name != "FL 1" || tr[1].Name != "FR 1" || tr[0].Out != 1 ||
		tr[0].In != 1 ||
		tr[0].Standing {
		t.Errorf("trays %+v", tr)
	}
	b.refused(KeepStep{Step: "rod.on.FL", Turns: 23}, "other_side", "this is the left")
	b.must(KeepStep{Step: "rod.on.FL", Turns: 19.5})
	got := b.s.Turns()
	if len(got) != 2 || got[0].Corner != "FL" || got[0].Out != 18.5 || got[0].In != 19.5 || !got[0].Known ||
		fmt.Sprintf("%.2f %.2f", got[0].ToeDeg, got[0].ToeMM) != "0.61 4.35" ||
		got[1].In != 0 ||
		got[1].Known {
		t.Errorf("%+v", got)
	}
}

// A refused part stops its step and leaves a mark on the plan; the right one, or the
// same with a note, goes on.
func TestNewAgainstOld(t *testing.T) {
	b := beginRods(t)
	b.must(Handle{Step: "rod.crack.FL"})
	b.must(KeepStep{Step: "rod.off.FL", Turns: 18})
	old := map[string]float64{"thread_mm": 14, "pitch_mm": 1.5, "hand": 0, "length_mm": 96, "taper_mm": 16}
	with := func(length, hand float64) map[string]float64 {
		return map[string]float64{"thread_mm": 14, "pitch_mm": 1.5, "hand": hand, "length_mm": length, "taper_mm": 16}
	}
	b.refused(Compare{Step: "rod.crack.FL", Old: old, New: old}, "bad_choice", "Nothing is compared")
	b.refused(Compare{Step: "rod.compare.FL", Old: old, New: map[string]float64{"thread_mm": 14}, Accept: true},
		"missing", "Not all that decides")
	b.refused(Compare{Step: "rod.compare.FL", Old: old, New: with(96, 1), Accept: true}, "missing", "refused")
	b.must(Compare{Step: "rod.compare.FL", Old: old, New: with(96, 1)})
	b.refused(KeepStep{Step: "rod.compare.FL"}, "refused_part", "the other way")
	if b.s.Parts["end.FL"] != "missing" || b.s.Parts["end.FR"] != "" {
		t.Errorf("parts %v", b.s.Parts)
	}
	b.refused(Compare{Step: "rod.compare.FL", Old: old, New: with(99, 0), Accept: true}, "missing", "differ")
	noted := Compare{Step: "rod.compare.FL", Old: old, New: with(99, 0), Accept: true}
	noted.Note = strings.Repeat("x", maxText+1)
	b.refused(noted, fault.TooLong, "too long")
	noted.Note = strings.Repeat("x", maxText)
	if _, err := Decide(b.s, b.meta(), noted); err != nil {
		t.Errorf("a note as long as may be: %v", err)
	}
	if _, err := Decide(b.s, b.meta(), Compare{Step: "rod.compare.FL", Old: old, New: old, Accept: true}); err != nil {
		t.Errorf("alike, and a note is asked for: %v", err)
	}
	noted.Note = "start two turns further in"
	b.must(noted)
	b.must(KeepStep{Step: "rod.compare.FL"})
	if off, start := b.s.StartTurns("FL"); off != 18 || start != 20 { // 3 mm on a pitch of 1.5
		t.Errorf("%v turns came off, and it starts at %v", off, start)
	}
	// 3 mm on an arm of 140 mm, 406 mm rim: 1.23°, 8.7 mm (core/inspect.Toe).
	if m := b.s.Match("end.FL"); m != nil &&
		(!strings.Contains(m.Differences[0].Effect, "1.23°") || !strings.Contains(m.Differences[0].Effect, "8.7 mm")) {
		t.Errorf("%s", m.Differences[0].Effect)
	}
	if m := b.s.Match("end.FL"); m == nil || !m.Accept || len(m.Differences) != 1 || b.s.Parts["end.FL"] != "have" {
		t.Errorf("%+v %v", m, b.s.Parts)
	}
}

// A kit's own hardware overrides the sheet's figure, which stays readable.
func TestKitHardware(t *testing.T) {
	b := beginRods(t)
	joint := "steering.FL.locknut"
	b.refused(FitKit{Joint: joint, Recipe: "60", Source: "kit"}, "no_unit", "")
	b.refused(FitKit{Joint: joint, Recipe: "60 Nm"}, "missing", "few words")
	b.refused(FitKit{Joint: joint, Recipe: "60 Nm", Source: "kit", Treatment: "butter"}, "bad_treatment", "not known")
	b.refused(FitKit{Joint: "nowhere", Recipe: "60 Nm", Source: "kit"}, "missing", "no such joint")
	b.must(FitKit{Joint: joint, Recipe: "60Nm + 1/12 turn", Socket: "22 mm", Source: "leaflet of the kit"})
	j := b.s.Plan.Joint(joint)
	if j.Recipe != "60 Nm + 30°" || j.Socket != "22 mm" || j.Source != "leaflet of the kit" || len(j.Struck) != 1 ||
		j.Struck[0].Recipe != "70 Nm" ||
		b.s.Fastener(joint, "A").Stages != 2 {
		t.Errorf("%+v", j)
	}
	if other := b.s.Plan.Joint("steering.FR.locknut"); other.Recipe != "70 Nm" {
		t.Errorf("the other side has %s", other.Recipe)
	}
}

// A plan made anew before work begins keeps the kit in hand; a fastener met with
// trouble is work begun.
func TestPlannedAnew(t *testing.T) {
	b := beginRods(t)
	joint := "steering.FL.locknut"
	b.must(FitKit{Joint: joint, Recipe: "60 Nm", Source: "leaflet of the kit"})
	b.must(PlanWork{Plan: rods(t)})
	if j := b.s.Plan.Joint(joint); j.Recipe != "60 Nm" || j.Source != "leaflet of the kit" || len(j.Struck) != 1 ||
		b.s.Kits[joint].Recipe != "60 Nm" {
		t.Errorf("%+v", j)
	}
	other := rods(t)
	other.Joints = other.Joints[1:]
	other.Steps = slices.DeleteFunc(other.Steps, func(s plan.Step) bool { return s.Joint == joint })
	b.must(PlanWork{Plan: other})
	if len(b.s.Kits) != 0 {
		t.Errorf("a kit for a joint that is not there: %v", b.s.Kits)
	}
	two := func() plan.Plan {
		p := rods(t)
		p.Joint(joint).Variants = []vehicle.Variant{
			{Key: "old", Sees: "old", Recipe: "70 Nm"},
			{Key: "new", Sees: "new", Recipe: "55 Nm"},
		}
		return p
	}
	b.must(PlanWork{Plan: two()})
	b.must(SeeHardware{Joint: joint, Variant: "new"})
	b.must(PlanWork{Plan: two()})
	if j := b.s.Plan.Joint(joint); j.Recipe != "55 Nm" || b.s.AsksVariant(j) {
		t.Errorf("the bolt seen is forgotten: %s", j.Recipe)
	}
	b.must(ReportTrouble{Step: "rod.crack.FR", Letter: "A", Code: Rounded})
	b.refused(PlanWork{Plan: rods(t)}, "exists", "has begun")
}

func at(p *plan.Plan, id operation.StepID) int {
	return slices.IndexFunc(p.Steps, func(s plan.Step) bool { return s.ID == id })
}

// What is left is put in order anew when a bolt shears, a part is missing, a step
// takes longer or a second technician joins; what is done stays where it was.
func TestReplan(t *testing.T) {
	b := beginRods(t)
	b.must(Handle{Step: "rod.crack.FL"})
	b.must(StockPart{Part: "steering.front.locknut", Status: "missing"})
	b.must(ReportTrouble{Step: "rod.crack.FR", Letter: "A", Code: Sheared})
	b.refused(Replan{Technicians: 1, Slow: "rod.crack.FL", Minutes: 9}, "missing", "not open")
	b.refused(Replan{Technicians: 1, Slow: "sweep", Minutes: 9}, "missing", "not open")
	b.refused(Replan{Technicians: 1, Slow: "rod.sweep", Minutes: -1}, "out_of_range", "no length")
	for minutes, ok := range map[float64]bool{0: false, 0.5: true, longestStep: true, longestStep + 1: false} {
		_, err := Decide(b.s, b.meta(), Replan{Technicians: 1, Slow: "rod.sweep", Minutes: minutes})
		if (err == nil) != ok {
			t.Errorf("a step of %v minutes: %v", minutes, err)
		}
	}
	before := len(b.s.Plan.Steps)
	b.must(Replan{Costs: schedule.Costs{Tool: 1}, Rescues: rescues, Technicians: 2, Slow: "rod.sweep", Minutes: 30})
	p := b.s.Plan
	why := b.s.Replans[0].Why
	for _, want := range []string{"takes 30 minutes", "Extract the sheared lock nut FR A", "lock nut is missing",
		"2 at work"} {
		if !strings.Contains(why, want) {
			t.Errorf("%q does not say %q", why, want)
		}
	}
	if c := b.s.Replans[0].Change; c.Done != 1 || len(c.New) != 1 || len(c.Gone) != 0 || c.Now <= c.Was {
		t.Errorf("what it changed: %+v", c)
	}
	x := operation.StepID("extract.steering.FR.locknut.A")
	if len(p.Steps) != before+1 || at(p, "rod.crack.FL") != 0 || p.Technicians != 2 ||
		p.Step("rod.sweep").Minutes != 30 ||
		b.s.Steps[x] == nil {
		t.Errorf("%d steps, first %s, %d technicians, sweep %v min", len(p.Steps), p.Steps[0].ID, p.Technicians,
			p.Step("rod.sweep").Minutes)
	}
	if !slices.Contains(p.Step("rod.tight.FR").Needs, x) || slices.Contains(p.Step("rod.tight.FL").Needs, x) {
		t.Errorf("tightened round the hole: %v", p.Step("rod.tight.FR").Needs)
	}
	// What the journal keeps gives the same plan again.
	again := Replay(readBack(t, b.journal))
	if !reflect.DeepEqual(again.Plan, p) || !reflect.DeepEqual(again.Steps, b.s.Steps) {
		t.Error("read back from its journal the plan is another")
	}
	// The nuts are missing, so what starts them comes last.
	if at(p, x) > at(p, "rod.start.FR") || at(p, "rod.sweep") > at(p, "rod.start.FL") ||
		at(p, "rod.compare.FL") > at(p, "rod.start.FL") {
		t.Error(p.StepIDs())
	}
	b.refused(Handle{Step: "rod.start.FR", Renewed: true}, fault.Order, "Extract the sheared")
	if !slices.ContainsFunc(p.Parts, func(o operation.Part) bool { return o.Key == string(x) }) {
		t.Error("the sheared bolt is not ordered")
	}
	b.refused(Replan{Technicians: 3}, "bad_choice", "or two")
	b.must(Replan{Rescues: rescues, Technicians: 1}) // nothing new: the extraction is not put in twice
	if len(b.s.Plan.Steps) != before+1 || b.s.Plan.Technicians != 1 {
		t.Errorf("%d steps", len(b.s.Plan.Steps))
	}
	if _, err := Decide(Replay(nil), Meta{ID: "x", By: "a", Role: Technician, At: morning}, Replan{}); fault.As(
		err) == nil {
		t.Error("a job that is not there was re-planned")
	}
}

// A step that takes half as long again is noticed; a job laid down for the night is not.
func TestOverrun(t *testing.T) {
	b := beginRods(t)
	if st, _ := b.s.Overrun(b.s.Last.Add(time.Hour)); st != nil {
		t.Error("a job not begun is late")
	}
	b.must(Handle{Step: "rod.crack.FL"})
	next := b.s.Plan.Step(b.s.Next())
	for minutes, late := range map[float64]bool{next.Minutes: false, 1.5*next.Minutes + 0.1: true, 300: true, 600: false} {
		st, took := b.s.Overrun(b.s.Last.Add(time.Duration(minutes * float64(time.Minute))))
		if (st != nil) != late || late && (st.ID != next.ID || took < minutes) {
			t.Errorf("%v minutes of %v: %v, %v", minutes, next.Minutes, st, took)
		}
	}
}

func TestMoveByHand(t *testing.T) {
	b := beginRods(t)
	b.must(Handle{Step: "rod.crack.FL"})
	b.must(MoveStep{Step: "rod.sweep", Behind: ""}) // not before what is done
	if at(b.s.Plan, "rod.sweep") != at(b.s.Plan, "rod.crack.FL")+1 {
		t.Error(b.s.Plan.StepIDs())
	}
	b.refused(MoveStep{Step: "rod.tight.FR", Behind: "rod.off.FR"}, "order", "wants the lock nut FR by hand")
	b.refused(MoveStep{Step: "rod.crack.FL", Behind: "rod.sweep"}, fault.Order, "begun")
	b.refused(MoveStep{Step: "nowhere"}, "missing", "no such step")
	b.must(MoveStep{Step: "rod.sweep", Behind: "rod.crack.FR"})
	if at(b.s.Plan, "rod.sweep") != at(b.s.Plan, "rod.crack.FR")+1 {
		t.Error(b.s.Plan.StepIDs())
	}
}

// How long steps took comes from what one person kept one after the other; a break
// of hours is left out.
func TestTook(t *testing.T) {
	b := beginRods(t)
	now := morning
	do := func(minutes float64, c Command) {
		now = now.Add(time.Duration(minutes * float64(time.Minute)))
		ev, err := Decide(b.s, Meta{ID: record.EventID(fmt.Sprint("t", now.Unix())), By: "a", Role: Technician, At: now}, c)
		if err != nil {
			t.Fatal(err)
		}
		for _, e := range ev {
			b.s = Apply(b.s, e)
		}
	}
	do(1, Handle{Step: "rod.crack.FL"})
	do(4, KeepStep{Step: "rod.off.FL", Turns: 18})
	do(3, Handle{Step: "rod.out.FL"})
	do(120, alike("rod.compare.FL", "tie rod"))
	do(120, KeepStep{Step: "rod.compare.FL"})
	do(2, Handle{Step: "rod.start.FL", Renewed: true})
	do(3, KeepStep{Step: "rod.on.FL", Turns: 18})
	at := FastenerID{"steering.FL.locknut", "A"}
	do(4, SetWrench{Step: "rod.tight.FL", Joint: at.Joint, Letter: at.Letter, Tool: big, ToolID: big.ID, SetNm: 70})
	on := claim.Claim{ID: "c", Tool: big.ID, Job: "j", Joint: at.Joint, By: "a", At: now}
	do(1, Click{Step: "rod.tight.FL", Joint: at.Joint, Letter: at.Letter, Claim: on})
	if got := fmt.Sprint(b.s.Took()); got != "map[rod.off:[4] rod.on:[3] rod.out:[3] rod.start:[2] rod.tight:[5]]" {
		t.Error(got)
	}
}

// What is compared, stocked or struck last is what holds.
func TestTheLastHolds(t *testing.T) {
	b := beginRods(t)
	s := b.own()
	s.Matches = []Matching{
		{Matched: record.Matched{Part: "a", Accept: true}},
		{Matched: record.Matched{Part: "b"}},
		{Matched: record.Matched{Part: "a", Note: "again"}},
	}
	if m := s.Match("a"); m == nil || m.Note != "again" {
		t.Errorf("%+v", m)
	}
	if s.Match("c") != nil {
		t.Error("a part nobody compared")
	}
	s.Figures = []Figure{
		{FigureStruck: record.FigureStruck{Joint: "j", Was: "1"}},
		{FigureStruck: record.FigureStruck{Joint: "j", Was: "2"}},
	}
	if f := s.Figure("j"); f == nil || f.Was != "2" {
		t.Errorf("%+v", f)
	}
	b.refused(StockPart{Part: "end.FL", Status: "somewhere"}, fault.BadChoice, "there, ordered or missing")
	b.refused(StockPart{Part: "nothing", Status: Have}, fault.Missing, "no such part")
	for _, status := range []Stock{Have, Ordered, Missing} {
		b.must(StockPart{Part: "end.FL", Status: status})
		if b.s.Parts["end.FL"] != status {
			t.Errorf("%s: %v", status, b.s.Parts)
		}
	}
}

// A rod's length speaks of the toe only on a vehicle whose arm and rim are known.
func TestBesideOnThisVehicle(t *testing.T) {
	s := beginRods(t).own()
	old := map[string]float64{"thread_mm": 14, "pitch_mm": 1.5, "hand": 0, "length_mm": 96, "taper_mm": 16}
	longer := maps.Clone(old)
	longer["length_mm"] = 99
	says := func(arm, rim float64) string {
		plan := *s.Plan
		plan.Outline.Arm = arm
		plan.Outline.Rim = rim
		s.Plan = &plan
		r, err := s.Beside("tie rod", old, longer)
		if err != nil || len(r.Differences) == 0 {
			t.Fatal(r, err)
		}
		return r.Differences[0].Effect
	}
	known := says(140, 406)
	if !strings.Contains(known, "8.7 mm") {
		t.Errorf("%s", known)
	}
	for _, x := range [][2]float64{{0, 406}, {140, 0}} {
		if strings.Contains(says(x[0], x[1]), "8.7 mm") {
			t.Errorf("arm and rim of %v, and toe", x)
		}
	}
	if _, has := longer["arm_mm"]; has {
		t.Error("what was measured was written into")
	}
}

// The bounds of a kit's names, each by itself.
func TestKitBounds(t *testing.T) {
	b := beginRods(t)
	kit := FitKit{Joint: "steering.FL.locknut", Recipe: "60 Nm", Source: "leaflet"}
	for _, c := range []struct {
		socket, hardware int
		ok               bool
	}{{maxSocket, maxHardware, true}, {maxSocket + 1, 1, false}, {1, maxHardware + 1, false}} {
		kit.Socket = strings.Repeat("x", c.socket)
		kit.Hardware = strings.Repeat("x", c.hardware)
		if _, err := Decide(b.s, b.meta(), kit); (err == nil) != c.ok {
			t.Errorf("%d and %d letters: %v", c.socket, c.hardware, err)
		}
	}
}

// Tightened by the old figure a joint is taken on to the new one only where each is
// one torque, and the new one is higher.
func TestRisesFrom(t *testing.T) {
	read := func(text string) []recipe.Stage {
		if text == "" {
			return nil
		}
		r, err := recipe.Parse(text)
		if err != nil {
			t.Fatal(err)
		}
		return r.Stages
	}
	for _, c := range []struct {
		old, next string
		rises     bool
	}{
		{"60 Nm", "80 Nm", true},
		{"60 Nm", "60 Nm", false},
		{"80 Nm", "60 Nm", false},
		{"60 Nm ×2", "80 Nm ×2", true},
		{"60 Nm + 90°", "80 Nm", false},
		{"60 Nm", "80 Nm + 90°", false},
		{"40 Nm; 60 Nm", "80 Nm", false},
		{"", "80 Nm", false},
		{"60 Nm", "", false},
	} {
		if got := risesFrom(read(c.old), read(c.next)); got != c.rises {
			t.Errorf("from %q to %q: %v", c.old, c.next, got)
		}
	}
}

// The sides of a rod: their own count is never taken for a mix-up.
func TestTurnsOfTheOtherSide(t *testing.T) {
	b := beginRods(t)
	s := b.own()
	count := func(id operation.StepID, turns float64) {
		s.Steps[id].Done = true
		s.Steps[id].Turns = turns
	}
	count("rod.off.FL", 18)
	count("rod.off.FR", 20)
	keep := func(turns float64) error {
		return s.countTurns(s.Plan.Step("rod.on.FL"), &KeepStep{Turns: turns})
	}
	for turns, ok := range map[float64]bool{18: true, 20: true, 0: false, maxTurns: true, maxTurns + 0.25: false} {
		if err := keep(turns); (err == nil) != ok {
			t.Errorf("%v turns: %v", turns, err)
		}
	}
	count("rod.off.FR", 18+sameTurns) // no longer near the left one's own
	if f := fault.As(keep(18 + sameTurns)); f == nil || f.Code != "other_side" {
		t.Errorf("%v", f)
	}
	count("rod.off.FL", 24)
	if f := fault.As(keep(18 + sameTurns)); f == nil || f.Code != "other_side" {
		t.Errorf("below its own by as much: %v", f)
	}
	c := KeepStep{Turns: 5}
	if err := s.countTurns(s.Plan.Step("rod.sweep"), &c); err != nil || c.Turns != 0 {
		t.Errorf("a step that counts nothing keeps %v, %v", c.Turns, err)
	}
}

// Another treatment is reckoned, given a reason, kept beside the sheet's figure, and on
// wheel, brake and steering the foreman's; under a tightened fastener nothing changes.
func TestTreatment(t *testing.T) {
	b := begin(t)
	b.refused(Treat{Joint: "nowhere", Treatment: "oiled"}, "missing", "no such joint")
	b.refused(Treat{Joint: "hub.FL.knuckle", Treatment: "butter", Reason: "x"}, fault.BadChoice, "no treatment")
	b.refused(Treat{Joint: "hub.FL.knuckle", Treatment: "anti-seize"}, "missing", "a few words")
	b.refused(Treat{Joint: "brake.FL.bracket", Treatment: "anti-seize", Reason: "rusts"}, "forbidden", "foreman")
	b.must(Treat{Joint: "hub.FL.knuckle", Treatment: "anti-seize", Reason: "rusts in this harbour"})
	j := b.s.Plan.Joint("hub.FL.knuckle")
	kept := b.s.Treated[j.ID]
	if j.Treatment != "anti-seize" || j.Recipe == "60 Nm + 90°" || len(j.Struck) != 1 ||
		!strings.Contains(j.Struck[0].Why, "harbour") ||
		len(b.s.Stages(j.ID)) != 2 {
		t.Errorf("%+v", j)
	}
	if kept.ClampN[1] < 0.98*kept.ClampWasN[1] || kept.ClampN[1] > 1.02*kept.ClampWasN[1] ||
		kept.ClampN[0] >= kept.ClampN[2] {
		t.Errorf("clamp %v, was %v", kept.ClampN, kept.ClampWasN)
	}
	m := b.meta()
	m.Role = Foreman
	if err := b.do(m, Treat{Joint: "brake.FL.bracket", Treatment: "anti-seize", Reason: "rusts"}); err != nil {
		t.Error(err)
	}
}

// What was said last of a joint holds, also in a plan made anew: a treatment after a kit, a
// kit after a treatment.
func TestTreatmentAndKitInTheirOrder(t *testing.T) {
	const joint = "hub.FL.knuckle"
	b := begin(t)
	made := *b.s.Plan
	kit := FitKit{Joint: joint, Recipe: "50 Nm + 60°", Source: "leaflet of the kit (invented)"}
	b.must(kit)
	b.must(Treat{Joint: joint, Treatment: "anti-seize", Reason: "rusts"})
	treated := b.s.Plan.Joint(joint).Recipe
	again := b.s.clone()
	again.setPlan(made, b.s.Seq)
	if got := again.Plan.Joint(joint).Recipe; got != treated || treated == kit.Recipe {
		t.Errorf("made anew it says %s, before %s", got, treated)
	}
	kit.Recipe = "55 Nm + 60°"
	b.must(kit)
	again = b.s.clone()
	again.setPlan(made, b.s.Seq)
	if got := again.Plan.Joint(joint).Recipe; got != kit.Recipe || len(again.Treated) != 0 {
		t.Errorf("made anew it says %s, the kit %s", got, kit.Recipe)
	}
	b.s.Plan.Joint(joint).Variants = []vehicle.Variant{{Key: "broad"}, {Key: "slim"}}
	b.refused(Treat{Joint: joint, Treatment: "oiled", Reason: "rusts"}, fault.Order, "not said yet")
	if _, err := b.s.Treating(joint, "oiled"); err == nil {
		t.Error("a figure is shown for a bolt that is not known")
	}
}
