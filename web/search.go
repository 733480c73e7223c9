package web

import (
	"html"
	"html/template"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/store"
)

// searchView is what was found for some words.
type searchView struct {
	Find       string
	Vehicles   []vehicle.Vehicle
	Hits       []hitView
	Page       int // from 1
	Prev, Next int // 0 where there is none
}

type hitView struct {
	store.Hit
	Fleet string
}

// Marked are the words that were found, between those around them.
func (h hitView) Marked() template.HTML {
	text := html.EscapeString(h.Around)
	return template.HTML(strings.NewReplacer(store.HitFrom, "<mark>", store.HitTo, "</mark>").Replace(text))
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
	all, err := s.Store.Vehicles(c.Context())
	if err != nil {
		return err
	}
	fleet := map[string]string{}
	for _, x := range all {
		fleet[x.ID] = x.Fleet
		text := strings.Join([]string{x.Fleet, x.Plate, x.VIN, x.Name, x.Bay}, " ")
		if v.Page == 1 && len(v.Vehicles) < mostVehicle && strings.Contains(unit.Fold(text), unit.Fold(v.Find)) {
			v.Vehicles = append(v.Vehicles, x)
		}
	}
	hits, more, err := s.Store.Search(c.Context(), v.Find, hitsPage*(v.Page-1), hitsPage)
	if err != nil {
		return err
	}
	for _, h := range hits {
		v.Hits = append(v.Hits, hitView{h, fleet[h.Vehicle]})
	}
	if v.Page > 1 {
		v.Prev = v.Page - 1
	}
	if more {
		v.Next = v.Page + 1
	}
	return s.render(c, 200, "search", "Search", v)
}
