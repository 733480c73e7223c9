package shop

import (
	"fmt"
	"slices"
	"sync"
	"testing"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/library"
)

// taken is a shop with a model nobody entered, a vehicle of it and a job planned on that.
func taken(t *testing.T, task string) (*Shop, *job.State) {
	t.Helper()
	s := begun(t)
	model := vehicle.Sheet{ID: "own", Name: "Yard van", Outline: "van", By: "Cass", At: noon, Built: map[string]string{
		"driven": "front", "front-corner": "strut-corner", "rear-axle": "beam",
	}}
	if err := s.BeginSheet(t.Context(), "sheet-1", model); err != nil {
		t.Fatal(err)
	}
	v, err := s.AddVehicle(t.Context(), vehicle.Vehicle{Fleet: "Q-1", Pattern: "own", Name: model.Name})
	if err != nil {
		t.Fatal(err)
	}
	m := job.Meta{ID: "start", By: "Aro", Role: job.Technician, At: noon}
	start := job.Start{Job: "j", Complaint: "hum", OdometerKM: 10, House: s.Library().House()}
	if _, _, err := s.Begin(t.Context(), m, v.ID, start); err != nil {
		t.Fatal(err)
	}
	asked, err := plan.ParseTask(task)
	if err != nil {
		t.Fatal(err)
	}
	m.ID = "plan"
	if err := s.Plan(t.Context(), "j", m, library.Ask{Tasks: []plan.Task{asked}}); err != nil {
		t.Fatal(err)
	}
	return s, stateOf(t, s)
}

func stateOf(t *testing.T, s *Shop) *job.State {
	t.Helper()
	st, err := s.Job(t.Context(), "j")
	if err != nil {
		t.Fatal(err)
	}
	return st
}

// A vehicle nobody entered is planned without a figure; what is read reaches the open job at once, and a second
// person's reading is counted or, where it differs, stops every pull until one reads again.
func TestFiguresAreReadWhileTheJobIsOpen(t *testing.T) {
	s, st := taken(t, "front-hub-unit@FL")
	const joint, in = "hub.front.knuckle", "hub.FL.knuckle"
	if j := st.Plan.Joint(in); j == nil || !j.Unread() || st.Plan.Invented {
		t.Fatalf("%+v", j)
	}
	n := 0
	read := func(by, text string, more ...func(*vehicle.Reading)) error {
		n++
		r := vehicle.Reading{
			Sheet: "own", Joint: joint, Recipe: text, Source: "maker's book", Page: "p. 12", By: by,
			At: noon.Add(time.Duration(n) * time.Minute),
		}
		for _, f := range more {
			f(&r)
		}
		return s.ReadFigure(t.Context(), record.EventID(fmt.Sprint("read-", n)), r)
	}
	hidden := func(r *vehicle.Reading) { r.Hidden = true }
	for text, c := range map[string]struct {
		err  error
		code fault.Code
	}{
		"a fraction": {read("Aro", "60 Nm + 1/4"), fault.TwoReadings},
		"no source":  {read("Aro", "60 Nm", func(r *vehicle.Reading) { r.Source = " " }), fault.Missing},
		"beyond the bolt": {read("Aro", "400 Nm", func(r *vehicle.Reading) { r.Thread, r.Class = "M8", "8.8" }),
			fault.OutOfRange},
		"another joint": {read("Aro", "60 Nm", func(r *vehicle.Reading) { r.Joint = "hub.front.moon" }), fault.Missing},
	} {
		if got := codeOf(t, c.err); got != c.code {
			t.Errorf("%s: %s", text, got)
		}
	}
	if err := read("Aro", "60 Nm, +90°", func(r *vehicle.Reading) { r.Renew = true }); err != nil {
		t.Fatal(err)
	}
	st = stateOf(t, s)
	j := st.Plan.Joint(in)
	if j.Recipe != "60 Nm + 90°" || !st.WantsReader(j) || !j.Renew || j.Source != "maker's book, p. 12" {
		t.Fatalf("%+v", j.Spec)
	}
	if got := codeOf(t, read("Aro", "60 Nm, +90°", hidden)); got != fault.NoReader { // Cass is there
		t.Errorf("read twice by one: %s", got)
	}
	if err := read("Cass", "66 Nm + 90°", hidden); err != nil {
		t.Fatal(err)
	}
	if j = stateOf(t, s).Plan.Joint(in); len(j.Differs) != 2 {
		t.Fatalf("%+v", j.Spec)
	}
	if err := read("Cass", "60 Nm, 1/4 turn", hidden); err != nil {
		t.Fatal(err)
	}
	st = stateOf(t, s)
	if j = st.Plan.Joint(in); len(j.Differs) != 0 || len(j.Readers) != 2 || st.WantsReader(j) {
		t.Fatalf("%+v", j.Spec)
	}
	p, err := s.Pattern(t.Context(), "own")
	if err != nil || p.Spec[joint].Recipe != "60 Nm + 90°" || len(p.Spec[joint].Readers) != 2 {
		t.Errorf("%v, %+v", err, p.Spec[joint])
	}
}

// Words beside a figure are kept as they were read, on the sheet, in the plan and by the next reader, who wrote none.
func TestWordsBesideAFigureAreKept(t *testing.T) {
	s, _ := taken(t, "front-hub-unit@FL")
	for n, r := range []vehicle.Reading{
		{By: "Aro", Recipe: "60 Nm + 90° (new bolts only)"}, {By: "Cass", Recipe: "60 Nm + 90°", Hidden: true},
	} {
		r.Sheet, r.Joint, r.Source, r.At = "own", "hub.front.knuckle", "maker's book", noon.Add(time.Duration(n)*time.Minute)
		if err := s.ReadFigure(t.Context(), record.EventID(fmt.Sprint("noted-", n)), r); err != nil {
			t.Fatal(err)
		}
		j := stateOf(t, s).Plan.Joint("hub.FL.knuckle")
		p, err := s.Pattern(t.Context(), "own")
		const want = "new bolts only"
		if err != nil || j.Recipe != "60 Nm + 90°" || j.Note != want || p.Spec["hub.front.knuckle"].Note != want {
			t.Errorf("reader %d: %v, %q with %q, the sheet %q", n+1, err, j.Recipe, j.Note, p.Spec["hub.front.knuckle"].Note)
		}
	}
}

// The first reader may be the one who misread: read again, both say the same, and what was pulled by the first
// figure would be owed anew.
func TestTheFirstReaderReadsAgain(t *testing.T) {
	s, _ := taken(t, "tie-rod-outer@FL")
	for i, r := range []vehicle.Reading{
		{By: "Aro", Recipe: "60 Nm"}, {By: "Cass", Recipe: "66 Nm", Hidden: true}, {By: "Aro", Recipe: "66 Nm"},
	} {
		r.Sheet, r.Joint, r.Source, r.At = "own", "steering.front.tierod", "book", noon.Add(time.Duration(i)*time.Minute)
		if err := s.ReadFigure(t.Context(), record.EventID(fmt.Sprint("read-", i)), r); err != nil {
			t.Fatal(err)
		}
	}
	j := stateOf(t, s).Plan.Joint("steering.FL.tierod")
	if len(j.Differs) > 0 || j.Recipe != "66 Nm" || len(j.Readers) != 2 {
		t.Errorf("%+v", j.Spec)
	}
}

// Readings that differ can be settled by two who correct the figure: the job takes it, and no pull is barred any
// more.
func TestACorrectionSettlesWhatDiffers(t *testing.T) {
	s, _ := taken(t, "tie-rod-outer@FL")
	const joint, in = "steering.front.tierod", "steering.FL.tierod"
	for i, r := range []vehicle.Reading{{By: "Aro", Recipe: "60 Nm"}, {By: "Cass", Recipe: "66 Nm", Hidden: true}} {
		r.Sheet, r.Joint, r.Source, r.At = "own", joint, "book", noon.Add(time.Duration(i)*time.Minute)
		if err := s.ReadFigure(t.Context(), record.EventID(fmt.Sprint("read-", i)), r); err != nil {
			t.Fatal(err)
		}
	}
	c := vehicle.Correction{
		Pattern: "own", Joint: joint, Recipe: "62 Nm", Source: "newer book", Why: "both were of another year",
		By: "Aro", Second: "Cass", At: noon.Add(time.Hour),
	}
	if err := s.Correct(t.Context(), "correct-1", []vehicle.Correction{c}); err != nil {
		t.Fatal(err)
	}
	m := job.Meta{ID: "take-1", By: "Aro", Role: job.Technician, At: noon.Add(2 * time.Hour)}
	if _, _, err := s.Record(t.Context(), "j", m, job.AnswerFigure{Joint: in, Take: true}); err != nil {
		t.Fatal(err)
	}
	st := stateOf(t, s)
	if j := st.Plan.Joint(in); j.Recipe != "62 Nm" || st.AsksFigure(j) {
		t.Errorf("%+v", j.Spec)
	}
}

// However often one person reads, and in whatever order it is said to have been hidden, it is one reader.
func TestNobodyReadsForTwo(t *testing.T) {
	s, _ := taken(t, "tie-rod-outer@FL")
	const joint, in = "steering.front.tierod", "steering.FL.tierod"
	for i, hidden := range []bool{true, false, true, true, false, true} {
		r := vehicle.Reading{
			Sheet: "own", Joint: joint, Recipe: "60 Nm", Source: "book", By: "Aro", Hidden: hidden,
			At: noon.Add(time.Duration(i) * time.Hour),
		}
		err := s.ReadFigure(t.Context(), record.EventID(fmt.Sprint("read-", i)), r)
		if code := codeOf(t, err); code != "" && code != fault.NoReader {
			t.Fatal(err)
		}
		if j := stateOf(t, s).Plan.Joint(in); len(j.Readers) != 1 {
			t.Fatalf("after %d readings of one person: %v", i+1, j.Readers)
		}
	}
}

// Who is the whole shop reads twice: half an hour and another bolt later.
func TestOneAloneReadsTwice(t *testing.T) {
	s, _ := taken(t, "front-hub-unit@FL")
	people, err := s.People(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range people {
		if p.Name == "Aro" {
			if err := s.SetActive(t.Context(), p.ID, false, "Cass"); err != nil {
				t.Fatal(err)
			}
		}
	}
	read := func(joint string, after time.Duration, hidden bool) error {
		return s.ReadFigure(t.Context(), record.EventID(fmt.Sprint("read-", int(after.Minutes()))), vehicle.Reading{
			Sheet: "own", Joint: joint, Recipe: "60 Nm", Source: "book", By: "Cass", At: noon.Add(after), Hidden: hidden,
		})
	}
	const hub, wheel = "hub.front.knuckle", "hub.front.wheel"
	for _, x := range []struct {
		joint  string
		after  time.Duration
		hidden bool
		code   fault.Code
	}{
		{hub, 0, false, ""},
		{hub, 10 * time.Minute, true, fault.TooSoon},
		{hub, 40 * time.Minute, true, fault.TooSoon}, // no other bolt between
		{wheel, 41 * time.Minute, false, ""},
		{hub, 42 * time.Minute, true, ""},
	} {
		if got := codeOf(t, read(x.joint, x.after, x.hidden)); got != x.code {
			t.Errorf("%s after %v: %q, want %q", x.joint, x.after, got, x.code)
		}
	}
	st := stateOf(t, s)
	if j := st.Plan.Joint("hub.FL.knuckle"); len(j.Readers) != 2 || j.Readers[1] != "Cass" || st.WantsReader(j) {
		t.Errorf("%+v", j.Readers)
	}
}

// A reading that asks for another stance moves the work; one by which the joint cannot be reached is refused.
func TestThePlanFollowsAReading(t *testing.T) {
	s, _ := taken(t, "control-arm@FL")
	at := func(joint string) plan.Position {
		for _, x := range stateOf(t, s).Plan.Steps {
			if x.Joint == joint && x.Verb == "tighten" {
				return x.Position
			}
		}
		return ""
	}
	if got := at("suspension.FL.armbush"); got != plan.RideHigh {
		t.Fatalf("rubber is clamped %s", got)
	}
	r := vehicle.Reading{
		Sheet: "own", Joint: "suspension.front.armbush", Recipe: "70 Nm", Source: "book", By: "Aro", At: noon,
		Condition: vehicle.Hanging,
	}
	if err := s.ReadFigure(t.Context(), "r1", r); err != nil {
		t.Fatal(err)
	}
	if got := at("suspension.FL.armbush"); got != plan.Raised {
		t.Errorf("the maker says hanging, the plan %s", got)
	}
	s, _ = taken(t, "front-hub-unit@FL")
	r.Joint, r.Condition = "hub.front.axle", vehicle.AtRideHeight // with the wheel on nobody reaches it there
	if got := fault.As(s.ReadFigure(t.Context(), "r2", r)); got == nil || got.Field != "condition" {
		t.Errorf("%v", got)
	}
}

// A list of readings is kept whole or not at all, and once; nobody compares more than a handful with a page.
func TestFiguresAreReadTogether(t *testing.T) {
	joints := []string{"suspension.front.armbush", "suspension.front.armrear", "steering.front.tierod"}
	read := func(text string, of ...string) (all []vehicle.Reading) {
		for _, joint := range of {
			all = append(all, vehicle.Reading{
				Sheet: "own", Joint: joint, Recipe: text, Source: "book", By: "Aro", At: noon,
			})
		}
		return all
	}
	s, _ := taken(t, "control-arm@FL")
	kept := func() int {
		all, _, err := s.Learnt(t.Context(), "own")
		if err != nil {
			t.Fatal(err)
		}
		return len(all)
	}
	for name, c := range map[string]struct {
		list []vehicle.Reading
		code fault.Code
	}{
		"none":            {nil, fault.OutOfRange},
		"too many":        {slices.Repeat(read("70 Nm", joints[0]), 7), fault.OutOfRange},
		"twice the same":  {read("70 Nm", joints[0], joints[1], joints[0]), fault.BadChoice},
		"one is none":     {slices.Concat(read("70 Nm", joints[0]), read("lots", joints[1])), fault.BadRecipe},
		"one is no joint": {read("70 Nm", joints[0], "suspension.front.moon"), fault.Missing},
	} {
		if got := codeOf(t, s.ReadFigures(t.Context(), "list", c.list)); got != c.code || kept() > 0 {
			t.Errorf("%s: %s, %d kept", name, got, kept())
		}
	}
	for range 2 { // sent once more it is the same
		if err := s.ReadFigures(t.Context(), "list", read("70 Nm", joints...)); err != nil || kept() != len(joints) {
			t.Errorf("%v, %d kept", err, kept())
		}
	}
}

// One person who sends two readings at once is no second reader.
func TestNobodyReadsTwiceAtOnce(t *testing.T) {
	s, _ := taken(t, "control-arm@FL")
	const joint = "suspension.front.armrear"
	var all sync.WaitGroup
	for i := range 8 {
		all.Go(func() {
			r := vehicle.Reading{Sheet: "own", Joint: joint, Recipe: "70 Nm", Source: "book", By: "Aro", At: noon}
			r.Hidden = i%2 == 1
			_ = s.ReadFigure(t.Context(), record.EventID(fmt.Sprint("read-", i)), r) // which come first is chance
		})
	}
	all.Wait()
	kept, _, err := s.Learnt(t.Context(), "own")
	open := slices.IndexFunc(kept, func(r vehicle.Reading) bool { return !r.Hidden })
	if err != nil || open < 0 {
		t.Fatal(err, kept)
	}
	if slices.ContainsFunc(kept[open:], func(r vehicle.Reading) bool { return r.Hidden }) {
		t.Error("they read again what they had just read")
	}
}

// No invented figure is worked by outside the demo.
func TestInventedFiguresAreNotPlanned(t *testing.T) {
	s := begun(t)
	v, err := s.AddVehicle(t.Context(), vehicle.Vehicle{Fleet: "Q-1", Pattern: "ostrel-c22", Name: "Ostrel"})
	if err != nil {
		t.Fatal(err)
	}
	m := job.Meta{ID: "start", By: "Aro", Role: job.Technician, At: noon}
	if _, _, err := s.Begin(t.Context(), m, v.ID, job.Start{Job: "j", Complaint: "hum", OdometerKM: 10}); err != nil {
		t.Fatal(err)
	}
	m.ID = "plan"
	err = s.Plan(t.Context(), "j", m, library.Ask{Tasks: []plan.Task{{Operation: "front-hub-unit", Corner: "FL"}}})
	if got := codeOf(t, err); got != fault.Invented {
		t.Errorf("%q", got)
	}
	models, err := s.Models(t.Context())
	if err != nil || len(models) > 0 {
		t.Errorf("%v, %v", models, err)
	}
}

// What is otherwise on the vehicle in hand is in the plan at once and on the sheet for the next; what cannot be
// worked, or would lose what was done, is refused and leaves nothing behind.
func TestTheVehicleDiffers(t *testing.T) {
	s, _ := taken(t, "front-hub-unit@FL")
	n := 0
	see := func(x vehicle.Seen) error {
		n++
		m := job.Meta{ID: record.EventID(fmt.Sprint("see-", n)), By: "Aro", Role: job.Technician, At: noon.Add(time.Hour)}
		return s.SeeJoint(t.Context(), "j", m, x)
	}
	if err := see(vehicle.Seen{Joint: "brake.front.rotor", Absent: true, Second: "Cass"}); err != nil {
		t.Fatal(err)
	}
	if err := see(vehicle.Seen{Joint: "hub.front.wheel", Count: 4, Second: "Cass"}); err != nil {
		t.Fatal(err)
	}
	if err := see(vehicle.Seen{Joint: "hub.front.knuckle", Thread: "m12x1.5", Socket: "18 mm"}); err != nil {
		t.Fatal(err)
	}
	one := vehicle.Seen{Joint: "hub.front.knuckle", Beside: "hub.front.knuckle", Title: "bracket of the lead", Count: 1}
	one.Spot = &vehicle.Place{120, 80}
	for range 2 { // sent once more it is the same one
		if err := see(one); err != nil {
			t.Fatal(err)
		}
		n--
	}
	n++
	st := stateOf(t, s)
	if !slices.Equal(st.Plan.Without, []string{"rotor screw"}) {
		t.Errorf("left out: %q", st.Plan.Without)
	}
	if st.Plan.Joint("brake.FL.rotor") != nil || len(st.Plan.Joint("hub.FL.wheel").Letters) != 4 {
		t.Error("the plan has what is not there")
	}
	if j := st.Plan.Joint("hub.FL.knuckle"); j.Thread != "M12x1.5" || j.Socket != "18 mm" {
		t.Errorf("%+v", j.Spec)
	}
	const more = "hub.FL.knuckle-more-a"
	if j := st.Plan.Joint(more); j == nil || j.Title != "bracket of the lead" || len(j.Letters) != 1 ||
		j.Spot == nil || *j.Spot != [2]float64{120, 80} {
		t.Errorf("%+v", j)
	}
	if p, err := s.Pattern(t.Context(), "own"); err != nil || !p.Absent["brake.front.rotor"] || len(p.More) != 1 {
		t.Errorf("the sheet did not learn it: %v", err)
	}
	for name, c := range map[string]struct {
		x    vehicle.Seen
		code fault.Code
	}{
		"no name":    {vehicle.Seen{Joint: "hub.front.knuckle", Beside: "hub.front.knuckle", Count: 1}, fault.Missing},
		"too many":   {vehicle.Seen{Joint: "hub.front.wheel", Count: 99}, fault.OutOfRange},
		"by one":     {vehicle.Seen{Joint: "brake.front.bracket", Absent: true}, fault.Missing},
		"by one, 3":  {vehicle.Seen{Joint: "hub.front.wheel", Count: 3}, fault.Missing},
		"by one, 2×": {vehicle.Seen{Joint: "hub.front.wheel", Count: 3, Second: "aro"}, fault.BadChoice},
		"no thread":  {vehicle.Seen{Joint: "hub.front.wheel", Thread: "round"}, fault.BadThread},
		"other part": {vehicle.Seen{Joint: "moon.front.wheel", Absent: true}, fault.Missing},
	} {
		if got := codeOf(t, see(c.x)); got != c.code {
			t.Errorf("%s: %q", name, got)
		}
	}
	err := see(vehicle.Seen{Joint: "brake.front.rotor"})
	if err != nil || stateOf(t, s).Plan.Joint("brake.FL.rotor") == nil {
		t.Errorf("what is there after all is not in the plan: %v", err)
	}
	// Work begins: what was touched is there, and no other number of it.
	for i := 0; i < 6; i++ {
		st = stateOf(t, s)
		step := st.Plan.Step(st.Next())
		m := job.Meta{ID: record.EventID(fmt.Sprint("do-", i)), By: "Aro", Role: job.Technician, At: noon.Add(2 * time.Hour)}
		m.At = m.At.Add(time.Duration(i) * time.Minute)
		var cmd job.Command = job.KeepStep{Step: step.ID}
		if step.Verb.OnJoint() {
			cmd = job.Handle{Step: step.ID}
		}
		if _, _, err := s.Record(t.Context(), "j", m, cmd); err != nil {
			t.Fatal(step.ID, err)
		}
	}
	before := stateOf(t, s).Seq
	for _, x := range []vehicle.Seen{{Joint: "hub.front.wheel", Absent: true}, {Joint: "hub.front.wheel", Count: 5}} {
		if got := codeOf(t, see(x)); got != fault.Order {
			t.Errorf("%+v of wheel nuts that are loose: %q", x, got)
		}
	}
	if p, _ := s.Pattern(t.Context(), "own"); p.Absent["hub.front.wheel"] || stateOf(t, s).Seq != before {
		t.Error("what was refused was kept")
	}
}

// What a shop says of itself stands on its papers and plans from then on, also after the file is opened again.
func TestAShopDecidesForItself(t *testing.T) {
	s := begun(t)
	ok := record.ShopSet{Name: "Yard", Contact: "call 1", Unit: "ft-lb", Currency: "EUR", Rate: 96, Salt: true}
	set := func(change func(*record.ShopSet)) fault.Code {
		b := ok
		change(&b)
		return codeOf(t, s.SetShop(t.Context(), record.EventID(fmt.Sprint("set-", b)[:12]), "Cass", job.Foreman, b))
	}
	for name, c := range map[string]struct {
		change func(*record.ShopSet)
		code   fault.Code
	}{
		"no name":           {func(b *record.ShopSet) { b.Name = " " }, fault.Missing},
		"no unit":           {func(b *record.ShopSet) { b.Unit = "stones" }, fault.BadChoice},
		"a bare price":      {func(b *record.ShopSet) { b.Currency = "" }, fault.Missing},
		"a price below all": {func(b *record.ShopSet) { b.Rate = -1 }, fault.OutOfRange},
	} {
		if got := set(c.change); got != c.code {
			t.Errorf("%s: %q", name, got)
		}
	}
	if got := codeOf(t, s.SetShop(t.Context(), "set-a", "Aro", job.Technician, ok)); got != fault.Role {
		t.Errorf("a technician decides: %q", got)
	}
	if err := s.SetShop(t.Context(), "set-b", "Cass", job.Foreman, ok); err != nil {
		t.Fatal(err)
	}
	lib, err := library.Load("")
	if err != nil {
		t.Fatal(err)
	}
	again, err := New(t.Context(), s.Store, lib, Options{})
	if err != nil {
		t.Fatal(err)
	}
	for _, x := range []*Shop{s, again} {
		if got := x.Library().Shop; got.Name != "Yard" || got.FirstUnit != "ft-lb" || got.RatePerHour != 96 {
			t.Errorf("%+v", got)
		}
	}
}

// A file of old that worked by the demo's sheets opens where they are not: what was done can be read, and nothing is
// planned by them.
func TestSheetsOfOldAreRead(t *testing.T) {
	s := begun(t)
	v, err := s.AddVehicle(t.Context(), vehicle.Vehicle{Fleet: "Q-1", Pattern: "ostrel-c22", Name: "Old van"})
	if err != nil {
		t.Fatal(err)
	}
	m := job.Meta{ID: "start", By: "Aro", Role: job.Technician, At: noon}
	start := job.Start{Job: "j", Complaint: "hum", OdometerKM: 10, House: s.Library().House()}
	if _, _, err := s.Begin(t.Context(), m, v.ID, start); err != nil {
		t.Fatal(err)
	}
	lib, err := library.Load("")
	if err != nil {
		t.Fatal(err)
	}
	s.know(lib)
	if _, p, err := s.JobAndSheet(t.Context(), "j"); err != nil || p.Name != "Old van" || !p.Invented {
		t.Errorf("%+v %v", p, err)
	}
	m.ID = "plan"
	err = s.Plan(t.Context(), "j", m, library.Ask{Tasks: []plan.Task{{Operation: "front-hub-unit", Corner: "FL"}}})
	if f := fault.As(err); f == nil || f.Code != fault.Invented {
		t.Errorf("planned by a sheet that is not there: %v", err)
	}
	if _, err := s.Pattern(t.Context(), "nobody-has-it"); err == nil {
		t.Error("a sheet nobody has")
	}
}
