package web

import (
	"lugtak/pages/fleet"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// Bounds of a page of what was found.
const (
	hitsPage    = 20
	mostVehicle = 12
	foundJobs   = 4 // of each
	mostFind    = 120
)

// search finds vehicles and jobs from one field.
func (s fleetRoom) search(c fiber.Ctx) error {
	v := fleet.Search{Find: strings.TrimSpace(c.Query("q"))}
	if letters := []rune(v.Find); len(letters) > mostFind {
		v.Find = string(letters[:mostFind])
	}
	v.Page, _ = strconv.Atoi(c.Query("page"))
	v.Page = min(max(1, v.Page), 1000)
	if v.Find == "" {
		return s.show(c, 200, v.Result())
	}
	if v.Page == 1 {
		some, of, err := s.Shop.FindVehicles(c.Context(), v.Find, 0, mostVehicle)
		if err != nil {
			return err
		}
		v.MoreVehicles = of - len(some)
		for _, x := range some {
			jobs, err := s.Shop.JobsOf(c.Context(), x.ID, "", foundJobs)
			if err != nil {
				return err
			}
			v.Vehicles = append(v.Vehicles, fleet.Found{Vehicle: x, Jobs: jobs})
		}
	}
	hits, more, err := s.Shop.Search(c.Context(), v.Find, hitsPage*(v.Page-1), hitsPage)
	if err != nil {
		return err
	}
	for _, h := range hits {
		v.Hits = append(v.Hits, fleet.Hit{Hit: h})
	}
	if v.Page > 1 {
		v.Prev = v.Page - 1
	}
	if more {
		v.Next = v.Page + 1
	}
	return s.show(c, 200, v.Result())
}
