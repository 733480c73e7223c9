package web

import (
	"slices"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/web/kit"
)

// hands are those of the shop who may take something over.
func (s *Server) hands(c fiber.Ctx) ([]string, error) {
	all, err := s.Shop.People(c.Context())
	var out []string
	for _, p := range all {
		if p.Active && p.Role != job.Reader {
			out = append(out, p.Name)
		}
	}
	return out, err
}

// handOver gives a corner, or the whole job, to somebody else.
func (s benchRoom) handOver(c fiber.Ctx) error {
	in := kit.Read[struct {
		Corner string   `form:"corner"`
		To     string   `form:"to"`
		Note   string   `form:"note"`
		Stands kit.Tick `form:"stands"`
	}](c)
	hands, err := s.hands(c)
	if err != nil {
		return err
	}
	if !slices.Contains(hands, in.To) {
		return s.after(c, fault.New(fault.Missing, "to", "It is not said who takes it over.", "Choose one of the shop."))
	}
	_, err = s.record(c, job.HandOver{HandedOver: record.HandedOver{
		Corner: in.Corner, To: in.To, Note: in.Note, Stands: bool(in.Stands),
	}})
	return s.after(c, err)
}
