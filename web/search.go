package web

import (
	"html"
	"html/template"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/listing"
	"lugtak/core/vehicle"
)

// searchView is what was found for some words.
type searchView struct {
	Find       string
	Vehicles   []vehicle.Vehicle
	Hits       []hitView
	Page       int // from 1
	Prev, Next int // 0 where there is none

	MoreVehicles int // that are not shown here
}

type hitView struct {
	listing.Hit
}

// Marked are the words that were found, between those around them.
func (h hitView) Marked() template.HTML {
	text := html.EscapeString(h.Around)
	return template.HTML(strings.NewReplacer(listing.HitFrom, "<mark>", listing.HitTo, "</mark>").Replace(text))
}

// Bounds of a page of what was found.
const (
	hitsPage    = 20
	mostVehicle = 12
	mostFind    = 120
)

// search finds vehicles and jobs from one field.
func (s *Server) search(c fiber.Ctx) error {
	v := searchView{Find: strings.TrimSpace(c.Query("q"))}
	v.Find = v.Find[:min(len(v.Find), mostFind)]
	v.Page, _ = strconv.Atoi(c.Query("page"))
	v.Page = min(max(1, v.Page), 1000)
	if v.Find == "" {
		return s.render(c, 200, "search", "Search", v)
	}
	if v.Page == 1 {
		some, of, err := s.Shop.FindVehicles(c.Context(), v.Find, 0, mostVehicle)
		if err != nil {
			return err
		}
		v.Vehicles, v.MoreVehicles = some, of-len(some)
	}
	hits, more, err := s.Shop.Search(c.Context(), v.Find, hitsPage*(v.Page-1), hitsPage)
	if err != nil {
		return err
	}
	for _, h := range hits {
		v.Hits = append(v.Hits, hitView{h})
	}
	if v.Page > 1 {
		v.Prev = v.Page - 1
	}
	if more {
		v.Next = v.Page + 1
	}
	return s.render(c, 200, "search", "Search", v)
}
