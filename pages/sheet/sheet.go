// Package sheet is the pages of what the shop knows: its Shelf, and the sheet of a vehicle with every figure's
// source and doubts.
package sheet

import (
	"cmp"
	"embed"
	"fmt"
	"html/template"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/pages/kit"
	"maps"
	"slices"
	"strings"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, nil)

// Shown is what the page of a sheet is made from.
type Shown struct {
	Library  *library.Library
	Pattern  vehicle.Pattern
	Readings []vehicle.Reading // of its joints, oldest first
	Seen     []vehicle.Seen    // of its vehicles

	Elsewhere []vehicle.Elsewhere // what other shops have read of it
	Chain     bool                // the shop belongs to one
	Offered   bool                // just now, to its other shops
	Jobs      map[string]int      // in which a joint was tightened by its figure
	Joint     string              // the one a fault is about
	Fault     *fault.Fault
	Typed     map[string]string
}

// Page is the sheet of a pattern as the shop has it, with how far each figure is known.
func Page(x Shown) kit.Page {
	p, lib := x.Pattern, x.Library
	v := View{
		Pattern: p, Fault: x.Fault, For: x.Joint, Typed: x.Typed, Chain: x.Chain, Offered: x.Offered,
	}
	for _, e := range x.Elsewhere {
		v.Elsewhere = append(v.Elsewhere, elsewhere{e, unit.Capital(lib.TitleOf(p, e.Joint))})
	}
	names := jointNames(lib)
	for _, m := range p.More {
		names[m.Joint] = m.Title
	}
	for _, d := range vehicle.Doubts(p) {
		sign := cmp.Or(doubtSigns[d.Code], "!")
		d.Message = names.inWords(d.Message, p.Spec)
		v.Doubts = append(v.Doubts, doubt{d, sign, names.at(d.Joint), anchorOf(d.Joint)})
	}
	keys := slices.Collect(maps.Keys(p.Spec))
	for _, j := range lib.JointsOf(p) {
		if !slices.Contains(keys, j.Spec) {
			keys = append(keys, j.Spec)
		}
	}
	slices.Sort(keys)
	v.Joints = len(keys)
	for _, at := range places {
		place := place{Key: at.key, Name: at.name}
		for _, k := range keys {
			if placeOf(k) != at.key {
				continue
			}
			r := rowOf(k, names.of(k), p.Spec[k], v.Doubts)
			r.ByTwo = lib.ByTwo(k)
			r.Jobs = x.Jobs[k]
			r.Absent = p.Absent[k]
			r.history(x)
			if p.Open && r.Unread() && len(r.Readings)+len(r.Seen) == 0 {
				place.Lacks = append(place.Lacks, r.Name)
				v.Unread++
				continue
			}
			place.Rows = append(place.Rows, r)
		}
		if len(place.Rows)+len(place.Lacks) > 0 {
			v.Places = append(v.Places, place)
		}
	}
	v.Corners = corners(lib, p)
	return pages.Page("sheet", p.Name, v)
}

// history fills in who read and who saw what of a joint.
func (r *row) history(x Shown) {
	for _, o := range x.Readings {
		if o.Joint == r.Key {
			r.Readings = append(r.Readings, o)
		}
	}
	for _, o := range x.Seen {
		if o.Joint == r.Key {
			r.Seen = append(r.Seen, o)
		}
	}
	for _, by := range r.Readers {
		r.Initials = append(r.Initials, kit.Initial(by))
	}
}

// View is a spec sheet by its places, each joint with its figure, who read it and what is doubted.
type View struct {
	Pattern vehicle.Pattern
	Places  []place
	Doubts  []doubt
	Corners []corner
	Joints  int
	Unread  int // joints whose figure nobody knows

	Elsewhere []elsewhere
	Chain     bool // the shop belongs to one
	Offered   bool // just now, to its other shops
	Fault     *fault.Fault
	For       string
	Typed     map[string]string
}

// elsewhere is a figure as another shop has read it.
type elsewhere struct {
	vehicle.Elsewhere
	Title string
}

// place is the joints of one place of the vehicle.
type place struct {
	Key, Name string
	Rows      []row
	Lacks     []string // joints nobody has read or seen yet
}

// doubt is something to look at first.
type doubt struct {
	vehicle.Doubt
	Sign string // what kind it is, as one reads it from afar
	Name string
	To   string
}

type row struct {
	Key   string
	Name  string
	Under string // its hardware, what is empty left out
	Where string // its condition
	vehicle.Spec
	Peak     string // of its recipe in both units
	Yield    template.HTML
	Doubts   []vehicle.Doubt
	Variants []kit.Variant
	Sources  []figure // more than one: compared
	ByTwo    bool     // a second person reads a new figure too

	Readings []vehicle.Reading
	Seen     []vehicle.Seen
	Initials []string // of who read the figure that stands
	Jobs     int
	Absent   bool // vehicles of the sheet have none
}

type figure struct {
	Recipe, Source, Peak string
	Preload              string
}

// places are the places of a sheet in the order one goes round.
var places = []struct{ key, name string }{
	{"front", "Front corner"},
	{"rear", "Rear corner"},
	{"under", "Underneath"},
}

// doubtSigns tell the kinds of doubt apart from afar.
var doubtSigns = map[string]string{
	vehicle.NoSource:   "?",
	vehicle.Conflict:   "≠",
	vehicle.SameFigure: "=",
	vehicle.FirstStage: "=",
}

func anchorOf(key string) string { return strings.ReplaceAll(key, ".", "-") }

// placeOf is where a joint of a sheet sits, by its key: system.place.joint.
func placeOf(key string) string {
	parts := strings.Split(key, ".")
	if len(parts) > 1 && (parts[1] == "front" || parts[1] == "rear") {
		return parts[1]
	}
	return "under"
}

func rowOf(key, name string, spec vehicle.Spec, doubts []doubt) row {
	r := row{Key: key, Name: name, Spec: spec, Peak: kit.PeakWords(spec.Recipe)}
	r.Under = hardwareWords(spec)
	r.Where = string(spec.Condition)
	if r.Where == "" {
		r.Where = "any"
	}
	if spec.Held {
		r.Where += ", rotation held"
	}
	for _, d := range doubts {
		if d.Joint == key {
			r.Doubts = append(r.Doubts, d.Doubt)
		}
	}
	r.Variants = kit.Variants(&plan.Joint{Spec: spec})
	r.Yield = yieldOf(spec)
	if len(spec.Others) == 0 {
		return r
	}
	for _, o := range append([]vehicle.Figure{{Recipe: spec.Recipe, Source: spec.Source}}, spec.Others...) {
		other := spec
		other.Recipe = o.Recipe
		r.Sources = append(r.Sources,
			figure{o.Recipe, o.Source, kit.PeakWords(o.Recipe), kit.PreloadWords(other)})
	}
	return r
}

// hardwareWords is the hardware in one line; what is empty is left out.
func hardwareWords(s vehicle.Spec) string {
	words := []string{s.Thread, s.Class, s.Treatment, strings.TrimSpace(s.Socket + " " + s.Drive)}
	words = slices.DeleteFunc(words, func(w string) bool { return w == "" })
	return strings.Join(words, " · ")
}

// yieldOf draws the share of yield a figure makes of its bolt, over the friction band.
func yieldOf(s vehicle.Spec) template.HTML {
	l, ok := s.Load()
	if !ok {
		return ""
	}
	return draw.Yield(l.Utilisation.Low, l.Utilisation.High, l.AngleDeg > 0)
}

// names are what the joints of a sheet are called.
type names map[string]string

func (n names) of(key string) string {
	if name := n[key]; name != "" {
		return unit.Capital(name)
	}
	return unit.Capital(strings.ReplaceAll(key[strings.LastIndexByte(key, '.')+1:], "-", " "))
}

// at is a joint's name with its axle.
func (n names) at(key string) string {
	if place := placeOf(key); place != "under" {
		return n.of(key) + ", " + place
	}
	return n.of(key)
}

// inWords says a message with the joints' names in place of their keys.
func (n names) inWords(message string, spec map[string]vehicle.Spec) string {
	for key := range spec {
		message = strings.ReplaceAll(message, key, "“"+n.at(key)+"”")
	}
	return message
}

// jointNames reads the joints' names from the operations and ways that speak of them.
func jointNames(lib *library.Library) names {
	out := names{}
	take := func(joints []operation.Joint) {
		for _, j := range joints {
			for _, axle := range []string{"front", "rear"} {
				key := strings.ReplaceAll(j.Spec, "{axle}", axle)
				if j.Opening == "" || out[key] == "" { // of two openings the one with the plain name
					out[key] = j.Title
				}
			}
		}
	}
	for _, o := range lib.Operations {
		take(o.Joints)
	}
	for _, w := range lib.Ways {
		take(w.Joints)
	}
	return out
}

// corner is one corner of the vehicle with the joints of its sheet where they sit.
type corner struct {
	Title   string
	Picture template.HTML
}

// corners are the front and the rear left corner of a vehicle that is built as its sheet says.
func corners(lib *library.Library, p vehicle.Pattern) []corner {
	built := kit.Built(lib, p)
	var out []corner
	for _, axle := range []string{"front", "rear"} {
		var all []kit.Seat
		for key, spec := range p.Spec {
			if placeOf(key) != axle || p.Absent[key] {
				continue
			}
			for k := range max(spec.Count, 1) {
				stop := ""
				if k > 0 { // one is enough for the keyboard
					stop = ` tabindex="-1"`
				}
				all = append(all, kit.Seat{Joint: key, K: k, Seated: draw.Seated{
					Sign: draw.Sign{Drive: spec.Drive, Mark: job.Rest},
					Name: unit.Capital(lib.TitleOf(p, key)),
					Link: template.HTMLAttr(fmt.Sprintf(`href="#%s"%s data-joint="%[1]s"`, anchorOf(key), stop)),
				}})
			}
		}
		slices.SortFunc(all, func(a, b kit.Seat) int { return cmp.Or(cmp.Compare(a.Joint, b.Joint), a.K-b.K) })
		if picture := kit.Overview(lib, axle, built, true, true, all); picture != "" {
			out = append(out, corner{unit.Capital(axle) + " left corner", picture})
		}
	}
	return out
}

// CountsSay is how many joints stand without doubt.
func (v View) CountsSay() string {
	doubted := map[string]bool{}
	for _, d := range v.Doubts {
		doubted[d.Joint] = true
	}
	return fmt.Sprintf("%d of %d joints stand without doubt", v.Joints-len(doubted), v.Joints)
}
