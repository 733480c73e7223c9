package web

import (
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/diagnose"
	"lugtak/core/fault"
	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/pages/crib"
	"lugtak/pages/fleet"
	pages "lugtak/pages/kit"
	"lugtak/web/kit"
)

func (s fleetRoom) vehicleHistory(c fiber.Ctx) error { return s.showHistory(c, 200, nil) }

// outside keeps work that another shop did.
func (s fleetRoom) outside(c fiber.Ctx) error {
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
		err = fault.New(fault.BadNumber, "odometer", "The odometer is no whole number.",
			"Write the km in digits, or leave it out.")
	}
	if known := func(x diagnose.Suspect) bool { return x.Key == o.Suspect }; o.Suspect != "" &&
		!slices.ContainsFunc(s.Shop.Library().Signs.Suspects, known) {
		err = fault.New(fault.BadChoice, "part", "That part is not known.", "Choose one of the list, or none.")
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

// showHistory shows what is on record of a vehicle, a page of its jobs at a time: each is added up from its journal,
// which hundreds at once would make slow.
func (s fleetRoom) showHistory(c fiber.Ctx, code int, f *fault.Fault) error {
	ctx := c.Context()
	is, err := s.Shop.Vehicle(ctx, c.Params("vehicle"))
	if err != nil {
		return err
	}
	x := fleet.Kept{Vehicle: is, Chain: s.Chain != nil}
	if x.Rows, err = s.Shop.JobsOf(ctx, is.ID, "", fleet.MostJobs); err != nil {
		return err
	}
	in := kit.Read[struct {
		Find string    `form:"q"`
		Page kit.Whole `form:"page"`
	}](c)
	find, rows := strings.TrimSpace(in.Find), x.Rows
	if find != "" {
		if rows, err = s.Shop.JobsOf(ctx, is.ID, find, fleet.MostJobs); err != nil {
			return err
		}
	}
	paging := pages.PageOf(in.Page.Value, len(rows), fleet.HistoryPage)
	for _, r := range pages.Of(paging, rows, fleet.HistoryPage) {
		st, err := s.Shop.Job(ctx, r.ID)
		if err != nil {
			return err
		}
		if r.Broken == "" && st.Plan != nil { // of a broken record nothing is told as if it were so
			x.Jobs = append(x.Jobs, st)
		}
	}
	if x.Due, err = s.Shop.FollowUps(ctx, is.ID); err != nil {
		return err
	}
	if x.Outside, err = s.Shop.OutsideOf(ctx, is.ID); err != nil {
		return err
	}
	if x.Taken, err = s.Shop.Taken(ctx, is.ID, fleet.HistoryTaken); err != nil {
		return err
	}
	pattern, _ := s.Shop.Library().Pattern(x.Vehicle.Pattern)
	v := fleet.HistoryOf(x, pattern.Outline, s.Shop.Library().Signs.Suspects)
	v.Find, v.Paging = find, paging
	if f != nil {
		v.Fault, v.Typed = f, kit.Typed(c)
	}
	return s.show(c, code, v.Told())
}

// recall lists what to look at again where a tool has failed its calibration: all that was
// tightened with it since it was last good.
func (s shelfRoom) recall(c fiber.Ctx) error {
	t, err := s.Shop.Tool(c.Context(), c.Params("tool"))
	if err != nil {
		return err
	}
	in := kit.Read[struct {
		Page kit.Whole `form:"page"`
	}](c)
	page := min(max(1, in.Page.Value), 1000) // what is typed into an address may be any number
	// one more tells whether more pages follow
	jobs, err := s.Shop.JobsWith(c.Context(), t.Name, t.Calibrated, crib.RecallPage*(page-1), crib.RecallPage+1)
	if err != nil {
		return err
	}
	return s.show(c, 200, crib.Recall(t, jobs, page))
}
