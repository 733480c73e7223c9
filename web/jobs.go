package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/web/kit"
)

// onJob answers what is asked of a job, as it stands then.
type onJob func(c fiber.Ctx, st *job.State) error

// jobOf is the job of a request. It is found here alone: who may ask, and write, was decided before.
func (s *Server) jobOf(c fiber.Ctx) (*job.State, error) {
	return s.Shop.Job(c.Context(), c.Params("job"))
}

// job finds the job for what answers of it.
func (s *Server) job(answer onJob) fiber.Handler {
	return func(c fiber.Ctx) error {
		st, err := s.jobOf(c)
		if err != nil {
			return err
		}
		return answer(c, st)
	}
}

// planned finds the job for what can only be asked of one that has a plan.
func (s *Server) planned(answer onJob) fiber.Handler {
	return s.job(func(c fiber.Ctx, st *job.State) error {
		if !st.HasPlan() {
			return fault.New(fault.NotFound, "", "Nothing is planned yet.", "Plan the work first.")
		}
		return answer(c, st)
	})
}

// foreman lets nobody else do what is said.
func foreman(what string, answer fiber.Handler) fiber.Handler {
	return func(c fiber.Ctx) error {
		if kit.Session(c).Person.Role != job.Foreman {
			return fault.New(fault.Role, "", "Only a foreman "+what+".", "Ask the foreman.")
		}
		return answer(c)
	}
}
