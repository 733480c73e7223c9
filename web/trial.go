package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/pages/bench"
	"lugtak/web/kit"
)

// trial says what was felt on the road test. A failed one leads back to the walk-round.
func (s benchRoom) trial(c fiber.Ctx, st *job.State) error {
	cmd := job.RoadTest{Step: kit.Read[acted](c).Step, Felt: bench.Felt(st, kit.Typed(c))}
	events, err := s.record(c, cmd)
	if err == nil && len(events) == 1 {
		if e, ok := events[0].Body.(record.RoadTested); ok && e.Result == job.TrialFail {
			return kit.Go(c, "/jobs/"+st.ID+"/walk")
		}
	}
	return s.after(c, err)
}

// brief is the road test on a card: read before it rolls, written on by the passenger.
func (s benchRoom) brief(c fiber.Ctx, st *job.State) error {
	return s.show(c, 200, bench.Brief(st))
}

// fluid writes down what came out and went in at a step, and keeps the step where that is
// all it asks for.
func (s benchRoom) fluid(c fiber.Ctx) error {
	in := kit.Read[struct {
		acted
		Out    kit.Figure `form:"out"`
		In     kit.Figure `form:"in"`
		Unit   string     `form:"unit"`
		Spec   string     `form:"spec"`
		Colour string     `form:"colour"`
		Air    kit.Tick   `form:"air"`
	}](c)
	ml := map[string]float64{"l": 1000, "qt": unit.Quart}[in.Unit]
	if ml == 0 {
		ml = 1
	}
	asked := func(f kit.Figure) float64 { // what is no figure is refused by its range
		if !f.OK {
			return -1
		}
		return ml * f.Value
	}
	m := kit.Meta(c, s.Shop.Now())
	_, err := s.recordAs(c, m, job.BookFluid{FluidBooked: record.FluidBooked{
		Step:   string(in.Step),
		OutMl:  asked(in.Out),
		InMl:   asked(in.In),
		Spec:   in.Spec,
		Colour: in.Colour,
		Air:    bool(in.Air),
	}})
	if err == nil {
		m.ID, m.Seq = m.ID.And("kept"), 0
		_, err = s.recordAs(c, m, job.KeepStep{Step: in.Step})
	}
	return s.after(c, err)
}
