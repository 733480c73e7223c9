package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/notices"
)

// notices shows what others have made that is part of this program, with its licences.
func (s *Server) notices(c fiber.Ctx) error {
	return s.render(c, 200, "notices", "What others made", notices.Text())
}
