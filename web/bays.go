package web

import (
	"cmp"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/google/uuid"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/pages/fleet"
	"lugtak/report"
	"lugtak/web/kit"
)

// signedShown is how many signed jobs the bays list.
const signedShown = 8

// standing is how the floor stands: its vehicles and what is open.
func (s fleetRoom) standing(c fiber.Ctx) (x fleet.Standing, err error) {
	ctx := c.Context()
	x = fleet.Standing{Jobs: map[string]*job.State{}, Here: s.presence.at}
	if x.Vehicles, err = s.Shop.Vehicles(ctx); err != nil {
		return x, err
	}
	if len(x.Vehicles) == 0 {
		tools, err := s.Shop.Tools(ctx)
		if err != nil {
			return x, err
		}
		people, err := s.Shop.People(ctx)
		if err != nil {
			return x, err
		}
		x.Tools, x.People = len(tools), len(people)
	}
	if x.Open, err = s.Shop.OpenJobs(ctx); err != nil {
		return x, err
	}
	for _, r := range x.Open {
		if x.Jobs[r.ID], err = s.Shop.Job(ctx, r.ID); err != nil {
			return x, err
		}
	}
	return x, nil
}

// wall shows the floor to whoever looks up.
func (s fleetRoom) wall(c fiber.Ctx) error {
	x, err := s.standing(c)
	if err != nil {
		return err
	}
	return s.show(c, 200, fleet.TheWall(x, s.Shop.Library(), s.Shop.Now(), report.KeyWords(s.Shop.KeyPrint())))
}

func (s fleetRoom) bays(c fiber.Ctx) error {
	ctx := c.Context()
	x, err := s.standing(c)
	if err != nil {
		return err
	}
	if x.Signed, err = s.Shop.SignedJobs(ctx, signedShown); err != nil {
		return err
	}
	if x.Due, err = s.dues(c); err != nil {
		return err
	}
	in := kit.Read[struct {
		Find string    `form:"q"`
		For  string    `form:"for"`
		By   string    `form:"by"`
		Page kit.Whole `form:"page"`
	}](c)
	choice := fleet.Choice{Find: in.Find, For: in.For, By: in.By, Page: in.Page.Value}
	return s.show(c, 200, fleet.TheBays(x, s.Shop.Library(), choice, s.Shop.Now()))
}

// comesIn is a vehicle as it comes in.
type comesIn struct {
	Fleet   string `form:"fleet"`
	Name    string `form:"name"`
	Plate   string `form:"plate"`
	VIN     string `form:"vin"`
	Bay     string `form:"bay"`
	Sheet   string `form:"sheet"` // of the same model
	Outline string `form:"outline"`
	Alike   string `form:"alike"` // a sheet it is only built like
}

func (s fleetRoom) vehiclePage(c fiber.Ctx) error {
	typed := kit.Typed(c)
	if like, own, err := s.Shop.Sheet(c.Context(), c.Query("alike")); err != nil {
		return err
	} else if own {
		typed["outline"] = like.Outline
		for key, is := range like.Built {
			typed["built-"+key] = is
		}
	}
	return s.showComesIn(c, 200, fleet.ComesIn{Typed: typed})
}

// alike offers the models it may be, while it is typed what stands on it.
func (s fleetRoom) alike(c fiber.Ctx) error {
	v, err := s.likely(c, fleet.ComesIn{Typed: kit.Typed(c)})
	if err != nil {
		return err
	}
	return s.show(c, 200, v.Like())
}

func (s fleetRoom) showComesIn(c fiber.Ctx, code int, v fleet.ComesIn) error {
	v, err := s.likely(c, v)
	if err != nil {
		return err
	}
	return s.show(c, code, v.Page(s.Shop.Library()))
}

// likely fills in the models of the shop, the likely ones first.
func (s fleetRoom) likely(c fiber.Ctx, v fleet.ComesIn) (fleet.ComesIn, error) {
	all, err := s.Shop.Models(c.Context())
	if err != nil {
		return v, err
	}
	var models []fleet.Model
	for _, p := range all {
		models = append(models, fleet.Model{ID: p.ID, Name: p.Name, Own: p.Open, Invented: p.Invented})
	}
	same := map[string]bool{}
	if part := vehicle.Describes(v.Typed["vin"]); part != "" {
		vehicles, err := s.Shop.Vehicles(c.Context())
		if err != nil {
			return v, err
		}
		for _, x := range vehicles {
			same[x.Pattern] = same[x.Pattern] || vehicle.Describes(x.VIN) == part
		}
	}
	v.Models = fleet.Likely(models, same, v.Typed["name"])
	for i := range v.Models {
		m := &v.Models[i]
		now, err := s.Shop.Pattern(c.Context(), m.ID)
		if err != nil {
			return v, err
		}
		for _, spec := range now.Spec {
			if !spec.Unread() {
				m.Figures++
			}
		}
	}
	return v, nil
}

func (s fleetRoom) addVehicle(c fiber.Ctx) error {
	v, err := s.takeIn(c)
	if f := fault.As(err); f != nil {
		in := fleet.ComesIn{Typed: kit.Typed(c), Fault: f}
		if f.Field == "fleet" && f.Code == fault.Exists {
			some, _, err := s.Shop.FindVehicles(c.Context(), v.Fleet, 0, 1)
			if err != nil {
				return err
			}
			if len(some) > 0 {
				in.Known = &some[0]
			}
		}
		return s.showComesIn(c, kit.Status(f), in)
	} else if err != nil {
		return err
	}
	return kit.See(c, "/jobs/new?vehicle="+v.ID)
}

// takeIn takes a vehicle in, of a model there is or of one that begins with it.
func (s fleetRoom) takeIn(c fiber.Ctx) (vehicle.Vehicle, error) {
	in := kit.Read[comesIn](c)
	m := kit.Meta(c, s.Shop.Now())
	id := uuid.NewSHA1(uuid.Nil, []byte(m.ID)).String() // a form sent twice takes in one
	v := vehicle.Vehicle{ID: id, Fleet: in.Fleet, Plate: in.Plate, VIN: in.VIN, Pattern: in.Sheet, Bay: in.Bay}
	if in.Sheet != "" {
		p, err := s.Shop.Pattern(c.Context(), in.Sheet)
		if err != nil {
			return v, err
		}
		v.Name = p.Name
		return s.Shop.AddVehicle(c.Context(), v)
	}
	model := vehicle.Sheet{
		ID:      id,
		Name:    cmp.Or(strings.TrimSpace(in.Name), strings.TrimSpace(in.Fleet)),
		Outline: in.Outline,
		Built:   map[string]string{},
		By:      m.By,
		At:      m.At,
	}
	for key, is := range kit.Typed(c) {
		if b, asked := strings.CutPrefix(key, "built-"); asked && is != "" {
			model.Built[b] = is
		}
	}
	return s.Shop.TakeIn(c.Context(), m.ID, model, v)
}

func (s fleetRoom) newJobPage(c fiber.Ctx) error {
	return s.showNewJob(c, 200, fleet.NewJob{ID: uuid.NewString(), Vehicle: c.Query("vehicle")})
}

func (s fleetRoom) showNewJob(c fiber.Ctx, code int, v fleet.NewJob) (err error) {
	if v.Vehicles, err = s.Shop.Vehicles(c.Context()); err != nil {
		return err
	}
	return s.show(c, code, v.Page())
}

// newJobForm is a job as it is begun.
type newJobForm struct {
	ID        string    `form:"id"`
	Vehicle   string    `form:"vehicle"`
	Next      string    `form:"next"`
	Complaint string    `form:"complaint"`
	Odometer  kit.Whole `form:"odometer"`
	WhyBack   string    `form:"why_back"`
	Promised  string    `form:"promised"`
}

// promisedAt reads when a vehicle is to be back, as a form gives day and time; a zero time where nothing is typed.
func promisedAt(text string) (time.Time, error) {
	if text == "" {
		return time.Time{}, nil
	}
	t, err := time.ParseInLocation("2006-01-02T15:04", text, time.Local)
	if err != nil {
		return t, fault.New(fault.BadTime, "promised", "That is no day and time.", "Write it as 2026-12-01T16:30.")
	}
	return t, nil
}

func (s fleetRoom) newJob(c fiber.Ctx) error {
	in := kit.Read[newJobForm](c)
	id, err := s.startJob(c, in)
	if f := fault.As(err); f != nil {
		return s.showNewJob(c, kit.Status(f), fleet.NewJob{
			ID:        in.ID,
			Vehicle:   in.Vehicle,
			Next:      in.Next,
			Complaint: in.Complaint,
			Odometer:  in.Odometer.Text,
			WhyBack:   in.WhyBack,
			Promised:  in.Promised,
			Fault:     f,
		})
	} else if err != nil {
		return err
	}
	page := "/walk"
	if in.Next == "order" {
		page = "/order"
	}
	return kit.See(c, "/jobs/"+id+page)
}

func (s fleetRoom) startJob(c fiber.Ctx, v newJobForm) (string, error) {
	if _, err := uuid.Parse(v.ID); err != nil {
		return "", fault.New(fault.Missing, "", "The form lacks its number.", "Reload the page and fill it in again.")
	}
	if v.Vehicle == "" {
		return "", fault.New(fault.Missing, "vehicle", "No vehicle is chosen.", "Choose one of the fleet.")
	}
	if v.Odometer.Value == 0 {
		return "", fault.New(
			fault.Missing,
			"odometer",
			"The odometer reading is missing or no whole number.",
			"Read it off the panel, in km.",
		)
	}
	until, err := promisedAt(v.Promised)
	promise := job.Promise{Until: until}
	if err == nil && !until.IsZero() {
		err = promise.Check(s.Shop.Now())
	}
	if err != nil {
		return "", err
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
	if _, _, err = s.Shop.Begin(c.Context(), m, v.Vehicle, start); err != nil || until.IsZero() {
		return v.ID, err
	}
	m.ID = record.EventID("promise:" + v.ID)
	_, _, err = s.Shop.Record(c.Context(), v.ID, m, promise)
	return v.ID, err
}
