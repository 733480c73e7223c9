package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/notices"
	"lugtak/pages/office"
)

// notices shows what others have made that is part of this program, with its licences.
func (s officeRoom) notices(c fiber.Ctx) error {
	return s.show(c, 200, office.Notices(notices.Text()))
}
