package web

import (
	"slices"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/web/kit"
)

// handed fills in whose the step is, and to whom it may be handed over: what is in one's own
// hand needs no word.
func (s *Server) handed(c fiber.Ctx, v *benchView) error {
	me := kit.Session(c).Person.Name
	if v.Step != nil {
		if h := v.Job.HandedAt(v.Step); h != nil && (h.To != me || h.Note != "") {
			v.Handed = h
		}
	}
	var err error
	v.Others, err = s.others(c)
	return err
}

// others are those of the shop who may take something over.
func (s *Server) others(c fiber.Ctx) ([]string, error) {
	all, err := s.Store.People(c.Context())
	var out []string
	for _, p := range all {
		if p.Active && p.Role != job.Reader && p.Name != kit.Session(c).Person.Name {
			out = append(out, p.Name)
		}
	}
	return out, err
}

// handOver gives a corner, or the whole job, to somebody else.
func (s *Server) handOver(c fiber.Ctx) error {
	in := kit.Read[struct {
		Corner string `form:"corner"`
		To     string `form:"to"`
		Note   string `form:"note"`
	}](c)
	others, err := s.others(c)
	if err != nil {
		return err
	}
	if !slices.Contains(others, in.To) {
		return s.after(c, fault.New(job.CodeMissing, "to", "It is not said who takes it over.", "Choose one of the shop."))
	}
	_, err = s.record(c, job.HandOver{HandedOver: record.HandedOver{Corner: in.Corner, To: in.To, Note: in.Note}})
	return s.after(c, err)
}
