package web

import (
	"bytes"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/device"
	"lugtak/pages/plan"
	"lugtak/report"
	"lugtak/shop"
	"lugtak/web/kit"
)

// wanted are the parts that nobody has, as a supplier is asked for them.
func wanted(st *job.State) []device.Item {
	var out []device.Item
	for _, p := range st.Plan.Parts {
		if s := st.Parts[p.Key]; s == job.Have || s == job.Ordered {
			continue
		}
		out = append(out, device.Item{Key: p.Key, Title: p.Title, Pattern: st.Vehicle.Pattern, Count: p.Count})
	}
	return out
}

func (s planRoom) partsPage(c fiber.Ctx) error { return s.showParts(c, 200, nil) }

// showParts shows the list with what the supplier offers. One that does not answer is said beside the list, which is of
// use without it.
func (s planRoom) showParts(c fiber.Ctx, code int, f *fault.Fault) error {
	st, err := s.jobOf(c)
	if err != nil {
		return err
	}
	if !st.HasPlan() {
		return fault.New(fault.NotFound, "", "Nothing is planned yet, so no parts are known.", "Plan the work first.")
	}
	v := plan.Parts{Job: st, Fault: f}
	var offers []device.Offer
	if items := wanted(st); s.Parts != nil && len(items) > 0 {
		v.Supplier, v.Simulated = s.Parts.Name(), s.Parts.Simulated()
		if offers, err = s.Parts.Offers(c.Context(), items); err != nil {
			s.Shop.Log.Warn("supplier", "error", err)
			v.Asked = fault.New(fault.Supplier, "", v.Supplier+" gives no answer.", "Print the list and call, or try again.")
		}
	}
	return s.show(c, code, v.With(offers))
}

// orderParts orders what is ticked of what can be had, and keeps what the supplier says of it.
func (s planRoom) orderParts(c fiber.Ctx, st *job.State) error {
	if s.Parts == nil {
		return s.showParts(c, 422,
			fault.New(fault.Supplier, "", "No supplier is connected.", "Print the list, or take it along as CSV."))
	}
	ticked := map[string]bool{}
	for _, key := range kit.Values(c)["part"] {
		ticked[key] = true
	}
	// What is ticked twice, or came meanwhile, is ordered once or not at all.
	var items []device.Item
	for _, i := range wanted(st) {
		if ticked[i.Key] {
			items = append(items, i)
		}
	}
	if len(items) == 0 {
		return s.showParts(c, 422,
			fault.New(fault.Missing, "part", "No part is ticked that is still to be ordered.", "Tick what is to come."))
	}
	m := kit.Meta(c, s.Shop.Now())
	offers, err := s.Parts.Order(c.Context(), string(m.ID), items) // by the form's id: sent again, it is the same order
	if err != nil {
		s.Shop.Log.Warn("supplier", "error", err)
		return s.showParts(
			c,
			422,
			fault.New(fault.Supplier, "", s.Parts.Name()+" gives no answer: nothing is known to be ordered.",
				"Send it again: a repeat orders nothing twice. Else print the list and call."),
		)
	}
	for i, o := range offers {
		if !o.Available {
			continue
		}
		k := m
		if k.ID = m.ID.And(o.Key); i > 0 {
			k.Seq = 0 // the first has moved the job on from what the page knew
		}
		_, err := s.recordAs(c, k, job.StockPart{Part: o.Key, Status: job.Ordered, From: &job.Supplied{
			Supplier:  s.Parts.Name(),
			Price:     o.Price,
			Currency:  o.Currency,
			WaitMin:   o.Minutes,
			Simulated: s.Parts.Simulated(),
		}})
		if f := fault.As(err); f != nil {
			return s.showParts(c, kit.Status(f), f)
		} else if err != nil {
			return err
		}
	}
	return kit.See(c, "/jobs/"+st.ID+"/parts")
}

// partsCSV is the list as a file (RFC 4180).
func (s planRoom) partsCSV(c fiber.Ctx) error {
	return s.file(c, "csv", "text/csv; charset=utf-8", func(st *job.State, _ *shop.JobFile) ([]byte, error) {
		var b bytes.Buffer
		err := report.PartsCSV(&b, st)
		return b.Bytes(), err
	})
}
