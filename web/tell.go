package web

import (
	"fmt"
	"math"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/record"
	"lugtak/web/kit"
)

// wayOut is one way of freeing what broke, as the healed plan offers it.
type wayOut struct {
	Step operation.StepID
	operation.Rescue
	InTen int // tries of ten that free it
	Taken bool
}

// waysOut are the ways of freeing what broke where its step is still to do; nothing where
// there is no choice.
func (s *Server) waysOut(st *job.State) []wayOut {
	for i := range st.Plan.Steps {
		step := &st.Plan.Steps[i]
		ways := st.WaysOut(s.Shop.Library().Rescues, step)
		if len(ways) < 2 {
			continue
		}
		var out []wayOut
		for _, r := range ways {
			out = append(out, wayOut{step.ID, r, int(math.Round(10 * r.Odds)), r.Tool == step.Tool})
		}
		return out
	}
	return nil
}

// rescue takes another way out of what broke.
func (s *Server) rescue(c fiber.Ctx) error {
	in := kit.Read[struct {
		acted
		Way string `form:"way"`
	}](c)
	_, err := s.record(c, job.ChooseRescue{Step: in.Step, Way: in.Way, Rescues: s.Shop.Library().Rescues})
	return s.onPlan(c, err)
}

// since is how far the likely end has moved since the owner was told last.
func since(all []job.Told, likely float64) string {
	if len(all) == 0 {
		return ""
	}
	more := math.Round(likely - all[len(all)-1].LikelyMin)
	if more == 0 {
		return ""
	}
	return fmt.Sprintf("%+.0f min since", more)
}

// tell keeps what the owner was told: the range and the price as the plan stands now.
func (s *Server) tell(c fiber.Ctx) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	v := planView{Job: st}
	if st.HasPlan() {
		sol, err := st.Plan.Clock(s.Shop.Library().Costs())
		if err != nil {
			return err
		}
		v.Total = sol.Makespan
		s.howLong(&v)
	}
	in := kit.Read[struct {
		Agreed string `form:"agreed"`
		Said   string `form:"said"`
	}](c)
	_, err = s.record(c, job.TellOwner{OwnerTold: record.OwnerTold{
		LowMin:    math.Round(v.Range.Low),
		LikelyMin: math.Round(v.Range.Likely),
		HighMin:   math.Round(v.Range.High),
		PriceLow:  10 * math.Round(v.Price.Low/10),
		PriceHigh: 10 * math.Round(v.Price.High/10),
		Currency:  v.Price.Currency,
		Agreed:    in.Agreed == "yes",
		Said:      in.Said,
	}})
	return s.onPlan(c, err)
}
