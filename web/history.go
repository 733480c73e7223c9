package web

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/diagnose"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
	"lugtak/web/kit"
)

// historyView is everything that was done to a vehicle.
type historyView struct {
	Vehicle  vehicle.Vehicle
	Jobs     []pastJob
	Due      []listing.FollowUp
	Wears    []wearView
	Often    []againView
	Distance int // on the odometer when it was here last
	Find     string
	Count    int // of the jobs in this shop
	Outside  []outsideRow
	Parts    []diagnose.Suspect // that may have been renewed elsewhere
	Chain    bool               // other shops can be asked

	Page, Last, Prev, Next int // of the jobs; 0 where there is none
	Fault                  *fault.Fault
	Typed                  map[string]string
}

// outsideRow is work of another shop, with the part that was renewed in words.
type outsideRow struct {
	listing.Outside
	Part string
}

// pastJob is a job in a few lines, the newest first.
type pastJob struct {
	ID, Title string
	At        time.Time
	KM        int
	By        string // who signed, empty where nobody has
	Lines     []string
}

// wearView is a measure over the distance, with where it reaches its limit.
type wearView struct {
	Name, At, Says string
	Taken          []string
}

// againView is work that was done more than once, with how far it lasted.
type againView struct{ Title, Says string }

// mostJobs of a vehicle are listed for its history and historyTaken of its measures read; the
// jobs of one page are read whole.
const (
	mostJobs     = 200
	historyPage  = 12
	historyTaken = 300
)

func (s *Server) vehicleHistory(c fiber.Ctx) error { return s.showHistory(c, 200, nil) }

// outside keeps work that another shop did.
func (s *Server) outside(c fiber.Ctx) error {
	in := kit.Read[struct {
		Day        string    `form:"day"`
		Odometer   kit.Whole `form:"odometer"`
		What       string    `form:"what"`
		Where      string    `form:"where"`
		Part       string    `form:"part"`
		SecondHand kit.Tick  `form:"used"`
	}](c)
	o := vehicle.Outside{
		Day:        in.Day,
		OdometerKM: in.Odometer.Value,
		What:       in.What,
		Where:      in.Where,
		Suspect:    in.Part,
		SecondHand: bool(in.SecondHand),
	}
	_, err := o.Check(s.Shop.Now())
	if in.Odometer.Text != "" && in.Odometer.Text != "0" && in.Odometer.Value == 0 {
		err = fault.New("bad_number", "odometer", "The odometer is no whole number.",
			"Write the km in digits, or leave it out.")
	}
	if known := func(x diagnose.Suspect) bool { return x.Key == o.Suspect }; o.Suspect != "" &&
		!slices.ContainsFunc(s.Shop.Library().Signs.Suspects, known) {
		err = fault.New("bad_choice", "part", "That part is not known.", "Choose one of the list, or none.")
	}
	if err == nil {
		err = s.Shop.AddOutside(c.Context(), kit.Meta(c, s.Shop.Now()).ID, listing.Outside{
			WorkedElsewhere: record.WorkedElsewhere{
				Vehicle:    c.Params("vehicle"),
				Day:        o.Day,
				OdometerKM: o.OdometerKM,
				What:       o.What,
				Where:      o.Where,
				Suspect:    o.Suspect,
				SecondHand: o.SecondHand,
			},
			By: kit.Session(c).Person.Name,
			At: s.Shop.Now(),
		})
	}
	if f := fault.As(err); f != nil {
		return s.showHistory(c, kit.Status(f), f)
	} else if err != nil {
		return err
	}
	return kit.See(c, "/vehicles/"+c.Params("vehicle"))
}

func (s *Server) showHistory(c fiber.Ctx, code int, f *fault.Fault) error {
	is, err := s.Shop.Vehicle(c.Context(), c.Params("vehicle"))
	if err != nil {
		return err
	}
	v := historyView{Vehicle: is, Chain: s.Chain != nil}
	all, err := s.Shop.JobsOf(c.Context(), v.Vehicle.ID, "", mostJobs)
	if err != nil {
		return err
	}
	v.Count = len(all)
	for _, r := range all {
		v.Distance = max(v.Distance, r.KM)
	}
	v.Often = again(all)
	if err := s.pastJobs(c, &v, all); err != nil {
		return err
	}
	if v.Due, err = s.Shop.FollowUps(c.Context(), v.Vehicle.ID); err != nil {
		return err
	}
	outside, err := s.Shop.OutsideOf(c.Context(), v.Vehicle.ID)
	if err != nil {
		return err
	}
	v.Parts = s.Shop.Library().Signs.Suspects
	for _, o := range outside {
		row := outsideRow{Outside: o}
		for _, p := range v.Parts {
			if p.Key == o.Suspect {
				row.Part = p.Name
			}
		}
		v.Outside = append(v.Outside, row)
	}
	if f != nil {
		v.Fault, v.Typed = f, kit.Typed(c)
	}
	taken, err := s.Shop.Taken(c.Context(), v.Vehicle.ID, historyTaken)
	if err != nil {
		return err
	}
	v.Wears = wears(taken)
	return s.render(c, code, "history", "History of "+v.Vehicle.Fleet, v)
}

// pastJobs reads one page of a vehicle's jobs, of those that speak of what is looked for.
func (s *Server) pastJobs(c fiber.Ctx, v *historyView, rows []listing.Job) error {
	in := kit.Read[struct {
		Find string    `form:"q"`
		Page kit.Whole `form:"page"`
	}](c)
	v.Find = strings.TrimSpace(in.Find)
	if v.Find != "" {
		var err error
		if rows, err = s.Shop.JobsOf(c.Context(), v.Vehicle.ID, v.Find, mostJobs); err != nil {
			return err
		}
	}
	v.Page, v.Last, v.Prev, v.Next = pageOf(in.Page.Value, len(rows), historyPage)
	from := (v.Page - 1) * historyPage
	for _, r := range rows[from:min(len(rows), from+historyPage)] {
		st, err := s.Shop.Job(c.Context(), r.ID)
		if err != nil {
			return err
		}
		if r.Broken == "" && st.Plan != nil {
			v.Jobs = append(v.Jobs, past(st))
		}
	}
	return nil
}

// past is a job in a few lines: what was done, by whom, and what stayed open of it.
func past(st *job.State) pastJob {
	p := pastJob{ID: st.ID, Title: st.Title(), At: st.Started, KM: st.OdometerKM}
	if st.Signature != nil {
		p.By = st.Signature.By
	}
	add := func(format string, args ...any) { p.Lines = append(p.Lines, fmt.Sprintf(format, args...)) }
	if st.Complaint != "" {
		add("complaint: “%s”", st.Complaint)
	}
	treated := map[string]bool{}
	for _, j := range st.Plan.Joints {
		if f := st.Fastener(j.ID, j.Letters[0]); f != nil && f.Phase != job.Rest && j.Treatment != "dry" &&
			j.Treatment != "" {
			treated[j.Title+" "+j.Treatment] = true
		}
	}
	for _, t := range st.Troubles {
		add("trouble: %s", t.What)
	}
	for _, d := range st.Deviations {
		add("deviation: %s (%s)", d.Reason, d.By)
	}
	for _, f := range st.Findings {
		add("seen: %s", f.Says())
	}
	for _, f := range st.Fluids {
		add("%s: %s in, %s", f.Fluid, unit.Volume(f.InMl), f.Spec)
	}
	for _, what := range slices.Sorted(maps.Keys(treated)) {
		add("%s", what)
	}
	tools := map[string]bool{}
	for _, x := range st.Pulls {
		if x.Counts() && x.Tool != "" {
			tools[x.Tool] = true
		}
	}
	if len(tools) > 0 {
		add("tightened with %s", strings.Join(slices.Sorted(maps.Keys(tools)), ", "))
	}
	return p
}

// wears says of each measure what it was, and where it reaches its limit.
func wears(taken []job.Taken) []wearView {
	var out []wearView
	for _, w := range job.Wears(taken) {
		v := wearView{Name: unit.Capital(w.Last.Name), At: w.Last.Corner}
		for _, p := range w.Points {
			v.Taken = append(v.Taken, fmt.Sprintf("%s %s at %.0f km", unit.Number(p.Value, 3), w.Last.Unit, p.KM))
		}
		if f, ok := w.Limit().Expect(w.Points, 0); ok {
			v.Says = "reaches its limit at some " + thousands(f.LikelyKM)
			if math.IsInf(f.HighKM, 1) {
				v.Says += fmt.Sprintf(", not before %s", thousands(f.LowKM))
			} else {
				v.Says += fmt.Sprintf(" (%s to %s)", thousands(f.LowKM), thousands(f.HighKM))
			}
		}
		out = append(out, v)
	}
	return out
}

// thousands is a distance as a forecast may say it.
func thousands(km float64) string { return fmt.Sprintf("%.0f 000 km", math.Round(km/1000)) }

// again is work that came back, with the distance between, of jobs the newest first.
func again(jobs []listing.Job) []againView {
	at := map[string][]int{}
	for _, r := range slices.Backward(jobs) {
		for _, title := range strings.Split(r.Title, " · ") {
			if r.Signed && r.Broken == "" {
				at[title] = append(at[title], r.KM)
			}
		}
	}
	var out []againView
	for _, title := range slices.Sorted(maps.Keys(at)) {
		kms := at[title]
		if len(kms) < 2 {
			continue
		}
		var lasted []string
		for i := 1; i < len(kms); i++ {
			lasted = append(lasted, fmt.Sprintf("%d km", kms[i]-kms[i-1]))
		}
		out = append(out, againView{title, "lasted " + strings.Join(lasted, ", then ")})
	}
	return out
}

// recallView is what was tightened with a tool since its last good calibration.
type recallView struct {
	Tool  wrench.Tool
	Since time.Time
	Jobs  []recalled

	Page, Prev, Next int // from 1; 0 where there is none
}

// recallPage is how many jobs one page reads again.
const recallPage = 50

// recalled is one job with what was tightened with the tool since.
type recalled struct {
	ID, Vehicle, Title string
	Signed             bool
	Joints             []string
}

// recall lists what to look at again where a tool has failed its calibration: all that was
// tightened with it since it was last good.
func (s *Server) recall(c fiber.Ctx) error {
	t, err := s.Shop.Tool(c.Context(), c.Params("tool"))
	if err != nil {
		return err
	}
	in := kit.Read[struct {
		Page kit.Whole `form:"page"`
	}](c)
	v := recallView{Tool: t, Since: t.Calibrated, Page: min(max(1, in.Page.Value), 1000)}
	jobs, err := s.Shop.JobsWith(c.Context(), t.Name, v.Since, recallPage*(v.Page-1), recallPage+1)
	if err != nil {
		return err
	}
	v.Prev = v.Page - 1
	if len(jobs) > recallPage {
		jobs, v.Next = jobs[:recallPage], v.Page+1
	}
	for _, st := range jobs {
		x := recalled{ID: st.ID, Vehicle: st.Vehicle.Fleet, Title: st.Title(), Signed: st.Signature != nil}
		for _, j := range st.TightenedWith(t.Name, v.Since) {
			x.Joints = append(x.Joints, fmt.Sprintf("%d %s", j.Count, j.Title))
		}
		if len(x.Joints) > 0 {
			v.Jobs = append(v.Jobs, x)
		}
	}
	return s.render(c, 200, "recall", "Tightened with "+t.Name, v)
}
