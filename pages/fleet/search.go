package fleet

import (
	"html"
	"html/template"
	"lugtak/core/listing"
	"lugtak/core/vehicle"
	"lugtak/pages/kit"
	"strings"
)

// Search is what was found for some words.
type Search struct {
	Find       string
	Vehicles   []Found
	Hits       []Hit
	Page       int // from 1
	Prev, Next int // 0 where there is none

	MoreVehicles int // that are not shown here
}

// Found is a vehicle that was found, with its newest jobs.
type Found struct {
	vehicle.Vehicle
	Jobs []listing.Job
}

// Hit is a job that was found.
type Hit struct {
	listing.Hit
}

// Marked are the words that were found, between those around them.
func (h Hit) Marked() template.HTML {
	text := html.EscapeString(h.Around)
	return template.HTML(strings.NewReplacer(listing.HitFrom, "<mark>", listing.HitTo, "</mark>").Replace(text))
}

// Result is the page of what was found.
func (v Search) Result() kit.Page { return pages.Page("search", "Search", v) }
