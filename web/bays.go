package web

import (
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/google/uuid"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/draw"
	"lugtak/web/kit"
)

type bayView struct {
	Vehicle vehicle.Vehicle
	Outline draw.OutlineView
	Jobs    []bayJob
}

type bayJob struct {
	ID, Title string
	Corners   map[vehicle.Corner]int // owed, at each corner that is worked on
	Owed      []owedJoint
	Here      []string // who has it open now
	Waits     string
	For       string // what it waits for, as bays are chosen by it
	Who       string
	When      time.Time
	Soak      time.Duration
	SoakEnd   time.Time
	Open      string // the page it goes on with
	Fresh     bool   // nothing done yet
}

// owedJoint is what is owed of one kind of joint.
type owedJoint struct {
	Title string
	Signs []draw.Sign
}

type baysView struct {
	Broken []listing.Job // jobs whose record is not the one that was sealed
	Bays   []bayView
	Idle   []bayView
	Signed []listing.Job
	Due    []dueRow
	Empty  bool

	Choice     bayChoice
	Many       bool // so many that they are chosen from
	Open       int  // vehicles with a job open
	Chosen     int  // of them
	Page, Last int
	Prev, Next int // 0 where there is none
	MoreIdle   int // vehicles without a job that are not shown here
	Fors, Bys  []choice
}

// owed is what a bay's jobs owe together.
func (b bayView) owed() int {
	n := 0
	for _, j := range b.Jobs {
		for _, owed := range j.Corners {
			n += owed
		}
	}
	return n
}

// touched is when somebody did something to any of its jobs last.
func (b bayView) touched() time.Time {
	var last time.Time
	for _, j := range b.Jobs {
		if j.When.After(last) {
			last = j.When
		}
	}
	return last
}

func (s *Server) bays(c fiber.Ctx) error {
	ctx := c.Context()
	fleet, err := s.Shop.Vehicles(ctx)
	if err != nil {
		return err
	}
	open, err := s.Shop.OpenJobs(ctx)
	if err != nil {
		return err
	}
	jobs := map[string][]bayJob{}
	var broken []listing.Job
	for _, r := range open {
		st, err := s.Shop.Job(ctx, r.ID)
		if err != nil {
			return err
		}
		if r.Broken != "" || st.Broken != "" {
			broken = append(broken, listing.Job{ID: r.ID, Title: r.Title, Broken: st.Broken})
			continue
		}
		jobs[r.Vehicle] = append(jobs[r.Vehicle], s.bayJob(st))
	}
	v := baysView{Empty: len(fleet) == 0, Broken: broken, Choice: kit.Read[bayChoice](c), Fors: bayFors, Bys: bayBys}
	var idle []bayView
	for _, veh := range fleet {
		p, _ := s.Shop.Library().Pattern(veh.Pattern)
		b := bayView{Vehicle: veh, Jobs: jobs[veh.ID]}
		if len(b.Jobs) > 0 || len(idle) < idleMost {
			b.Outline = draw.Outline(p.Outline, worked(b.Jobs))
		}
		if len(b.Jobs) > 0 {
			v.Bays = append(v.Bays, b)
		} else {
			idle = append(idle, b)
		}
	}
	v.show(v.Choice.choose(v.Bays))
	v.Idle = idle[:min(len(idle), idleMost)]
	v.MoreIdle = len(idle) - len(v.Idle)
	if v.Signed, err = s.Shop.SignedJobs(ctx, 8); err != nil {
		return err
	}
	if v.Due, err = s.dues(c); err != nil {
		return err
	}
	return s.render(c, 200, "bays", "Bays", v)
}

// show puts a page of the chosen bays in the place of all.
func (v *baysView) show(chosen []bayView) {
	v.Open, v.Chosen = len(v.Bays), len(chosen)
	v.Many = v.Open > manyBays
	v.Page, v.Last, v.Prev, v.Next = pageOf(v.Choice.At.Value, v.Chosen, baysPage)
	from := (v.Page - 1) * baysPage
	v.Bays = chosen[from:min(len(chosen), from+baysPage)]
}

// worked is what each job owes at each corner.
func worked(jobs []bayJob) []map[vehicle.Corner]int {
	var out []map[vehicle.Corner]int
	for _, j := range jobs {
		out = append(out, j.Corners)
	}
	return out
}

func (s *Server) bayJob(st *job.State) bayJob {
	b := bayJob{
		ID:      st.ID,
		Title:   st.Title(),
		Open:    "bench",
		Corners: map[vehicle.Corner]int{},
		Who:     st.LastBy,
		When:    st.Last,
		Fresh:   st.HasPlan() && !st.Begun(),
	}
	for _, c := range st.Plan.Corners() {
		b.Corners[c] = 0
	}
	for _, f := range st.Owed() {
		j := st.Plan.Joint(f.Joint)
		b.owe(j.Title, draw.Sign{Drive: j.Drive, Mark: f.Sign()})
		b.Corners[j.Corner]++
	}
	b.Here = s.presence.at(st.ID)
	for _, k := range st.Soaking() {
		if left := k.End.Sub(s.Shop.Now()); left > b.Soak {
			b.Soak, b.SoakEnd = left, k.End
		}
	}
	switch next := st.Plan.Step(st.Next()); {
	case !st.HasPlan():
		b.Open, b.Waits, b.For = "walk", "the walk-round: "+st.Complaint, waitsWalk
	case len(st.OpenTroubles()) > 0:
		b.Waits, b.For = "a trouble to be cleared: "+st.OpenTroubles()[0].What, waitsTrouble
	case missing(st) != "":
		b.Waits, b.For = "a part: "+missing(st), waitsPart
	case next == nil:
		b.Waits, b.For = "signature", waitsSign
	default:
		b.Waits, b.For = next.Title, waitsHands
	}
	if b.Fresh {
		b.Open = "plan"
	}
	return b
}

// owe adds a fastener to its joint's.
func (b *bayJob) owe(title string, sign draw.Sign) {
	for i := range b.Owed {
		if b.Owed[i].Title == title {
			b.Owed[i].Signs = append(b.Owed[i].Signs, sign)
			return
		}
	}
	b.Owed = append(b.Owed, owedJoint{title, []draw.Sign{sign}})
}

// OpenSays is what the key says that opens the job where it goes on.
func (b bayJob) OpenSays() string {
	switch b.Open {
	case "plan":
		return "Open the plan"
	case "walk":
		return "To the walk-round"
	}
	return "To the bench"
}

// missing names the first part that is on order or missing.
func missing(st *job.State) string {
	for _, p := range st.Plan.Parts {
		if k := st.Parts[p.Key]; k == job.Ordered || k == job.Missing {
			return p.Title
		}
	}
	return ""
}

type vehicleView struct {
	Vehicle  vehicle.Vehicle
	Patterns []vehicle.Pattern
	Fault    *fault.Fault
}

func (s *Server) vehiclePage(c fiber.Ctx) error {
	return s.render(c, 200, "vehicle", "New vehicle", vehicleView{Patterns: s.Shop.Library().Patterns})
}

func (s *Server) addVehicle(c fiber.Ctx) error {
	in := kit.Read[struct {
		Fleet   string `form:"fleet"`
		Plate   string `form:"plate"`
		VIN     string `form:"vin"`
		Pattern string `form:"pattern"`
		Bay     string `form:"bay"`
	}](c)
	v := vehicle.Vehicle{Fleet: in.Fleet, Plate: in.Plate, VIN: in.VIN, Pattern: in.Pattern, Bay: in.Bay}
	p, ok := s.Shop.Library().Pattern(v.Pattern)
	var err error
	if ok {
		v.Name = p.Name
		_, err = s.Shop.AddVehicle(c.Context(), v)
	} else {
		err = fault.New("missing", "pattern", "No pattern is chosen.", "Choose the model it belongs to.")
	}
	if f := fault.As(err); f != nil {
		return s.render(c, kit.Status(f), "vehicle", "New vehicle", vehicleView{v, s.Shop.Library().Patterns, f})
	} else if err != nil {
		return err
	}
	return kit.See(c, "/")
}

type newJobForm struct {
	ID        string    `form:"id"`
	Vehicle   string    `form:"vehicle"`
	Next      string    `form:"next"` // walk or order: what comes after
	Complaint string    `form:"complaint"`
	Odometer  kit.Whole `form:"odometer"` // km
	WhyBack   string    `form:"why_back"` // why the odometer runs backwards
}

type newJobView struct {
	newJobForm
	Vehicles []vehicle.Vehicle
	Fault    *fault.Fault
}

func (s *Server) newJobPage(c fiber.Ctx) error {
	return s.showNewJob(c, 200, newJobView{newJobForm: newJobForm{ID: uuid.NewString(), Vehicle: c.Query("vehicle")}})
}

func (s *Server) showNewJob(c fiber.Ctx, code int, v newJobView) error {
	fleet, err := s.Shop.Vehicles(c.Context())
	if err != nil {
		return err
	}
	v.Vehicles = fleet
	return s.render(c, code, "newjob", "Start a job", v)
}

func (s *Server) newJob(c fiber.Ctx) error {
	v := newJobView{newJobForm: kit.Read[newJobForm](c)}
	id, err := s.startJob(c, v)
	if f := fault.As(err); f != nil {
		v.Fault = f
		return s.showNewJob(c, kit.Status(f), v)
	} else if err != nil {
		return err
	}
	page := "/walk"
	if v.Next == "order" {
		page = "/order"
	}
	return kit.See(c, "/jobs/"+id+page)
}

func (s *Server) startJob(c fiber.Ctx, v newJobView) (string, error) {
	if _, err := uuid.Parse(v.ID); err != nil {
		return "", fault.New("missing", "", "The form lacks its number.", "Reload the page and fill it in again.")
	}
	if v.Vehicle == "" {
		return "", fault.New("missing", "vehicle", "No vehicle is chosen.", "Choose one of the fleet.")
	}
	if v.Odometer.Value == 0 {
		return "", fault.New(
			"missing",
			"odometer",
			"The odometer reading is missing or no whole number.",
			"Read it off the panel, in km.",
		)
	}
	start := job.Start{
		Job:        v.ID,
		Complaint:  strings.TrimSpace(v.Complaint),
		OdometerKM: v.Odometer.Value,
		House:      s.Shop.Library().House(),
		WhyBack:    v.WhyBack,
	}
	x := kit.Session(c)
	m := job.Meta{ID: record.EventID("start:" + v.ID), By: x.Person.Name, Role: x.Person.Role, At: s.Shop.Now()}
	_, _, err := s.Shop.Begin(c.Context(), m, v.Vehicle, start)
	return v.ID, err
}
