package web

import (
	"math"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/web/kit"
)

// rescue takes another way out of what broke.
func (s planRoom) rescue(c fiber.Ctx) error {
	in := kit.Read[struct {
		acted
		Way  string   `form:"way"`
		Said []string `form:"said"`
	}](c)
	_, err := s.record(c, job.ChooseRescue{Step: in.Step, Way: in.Way, Said: in.Said, Rescues: s.Shop.Library().Rescues})
	return s.onPlan(c, err)
}

// tell keeps what the owner was told: the range and the price as the plan stands now.
func (s planRoom) tell(c fiber.Ctx, st *job.State) error {
	if !st.HasPlan() {
		return s.onPlan(c, fault.New(fault.Missing, "plan", "Nothing is planned yet.", "Choose the work first."))
	}
	sol, err := st.Plan.Clock(s.Shop.Library().Costs())
	if err != nil {
		return err
	}
	opened, err := s.Shop.Seized(c.Context())
	if err != nil {
		return err
	}
	span, price := s.Shop.Library().HowLong(st, sol.Makespan, opened)
	in := kit.Read[struct {
		Agreed string `form:"agreed"`
		Said   string `form:"said"`
	}](c)
	_, err = s.record(c, job.TellOwner{OwnerTold: record.OwnerTold{
		LowMin:    math.Round(span.Low),
		LikelyMin: math.Round(span.Likely),
		HighMin:   math.Round(span.High),
		PriceLow:  10 * math.Round(price.Low/10),
		PriceHigh: 10 * math.Round(price.High/10),
		Currency:  price.Currency,
		Agreed:    in.Agreed == "yes",
		Said:      in.Said,
	}})
	return s.onPlan(c, err)
}

// promise keeps when the vehicle is to be back, or takes that back where nothing is typed.
func (s planRoom) promise(c fiber.Ctx, _ *job.State) error {
	in := kit.Read[struct {
		Promised string `form:"promised"`
	}](c)
	until, err := promisedAt(in.Promised)
	if err == nil {
		_, err = s.record(c, job.Promise{Until: until})
	}
	return s.onPlan(c, err)
}
