package office

import (
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/unit"
	"lugtak/library"
	"lugtak/pages/kit"
	"slices"
	"strings"
)

// Demo is one of the invented people with the PIN.
type Demo struct {
	Name string
	Role job.Role
	PIN  string
}

// SignIn is who may sign in.
type SignIn struct {
	People   []Demo
	Names    []string // to choose from, where they are few
	Name     string
	NoPeople bool
	Fault    *fault.Fault
}

// fewNames is how many people are offered as keys; beyond, the name is typed.
const fewNames = 12

// People is everybody of the shop, and where they are signed in.
type People struct {
	People  []listing.Person
	In      []Session
	Name    string
	Role    job.Role
	Roles   []job.Role
	Fault   *fault.Fault
	Changed string // id of the person the fault is about
}

// PIN is one's own PIN being changed.
type PIN struct{ Fault *fault.Fault }

// Session is a session as it is listed, with what tells it apart.
type Session struct {
	listing.Session
	Here bool // it is the one that asks
}

// You is what is one's own: how pages are shown, and where one is signed in.
type You struct {
	Prefers listing.Prefers
	In      []Session
	Fault   *fault.Fault
}

var (
	lookNames = map[string]string{"": "as this device has it", "light": "light", "dark": "dark"}
	unitNames = map[string]string{"": "as the shop has it", "Nm": "N·m", "ft-lb": "ft·lb"}

	voiceNames = map[string]string{"": "silent", listing.VoiceAloud: "next act, setting and verdict aloud"}
	paceNames  = map[string]string{"": "on to the next by itself", listing.PaceWait: "wait for my key"}
)

func choices(values []string, names map[string]string) []kit.Choice {
	var out []kit.Choice
	for _, v := range values {
		out = append(out, kit.Choice{Value: v, Name: names[v]})
	}
	return out
}

// Looks are the ways pages may look.
func (You) Looks() []kit.Choice { return choices(listing.Looks, lookNames) }

// Units are the units that may stand first.
func (You) Units() []kit.Choice { return choices(listing.Units, unitNames) }

// Voices are what the device may say.
func (You) Voices() []kit.Choice { return choices(listing.Voices, voiceNames) }

// Paces are how the bench may go on.
func (You) Paces() []kit.Choice { return choices(listing.Paces, paceNames) }

// Texts are the sizes of letters, per cent.
func (You) Texts() []int { return listing.Texts }

// Page is where one signs in. Of many people the name is typed.
func (v SignIn) Page() kit.Page {
	if len(v.Names) > fewNames {
		v.Names = nil
	}
	return pages.Page("signin", "Sign in", v)
}

// Page is for the foreman, who looks after people.
func (v People) Page() kit.Page {
	v.Roles = []job.Role{job.Technician, job.Foreman, job.Reader}
	return pages.Page("people", "People", v)
}

// Page asks for the old PIN and the new.
func (v PIN) Page() kit.Page { return pages.Page("pin", "Your PIN", v) }

// Page is one's own.
func (v You) Page() kit.Page { return pages.Page("you", "You", v) }

// SessionsOf marks the session that asks among others.
func SessionsOf(rows []listing.Session, here string) (out []Session) {
	for _, r := range rows {
		out = append(out, Session{r, r.ID == here})
	}
	return out
}

// Itself is what the shop decides for itself, as it was typed.
type Itself struct {
	Typed  map[string]string
	Fault  *fault.Fault
	Prices []PriceRow
	For    string // prices, where the fault is about those
}

// PriceRow is what a part costs, as it was typed.
type PriceRow struct{ Key, Title, Price string }

// PriceRows are the parts the library's work asks for, by what they are called.
func PriceRows(lib *library.Library, typed map[string]string) []PriceRow {
	var out []PriceRow
	for key, title := range lib.PartKeys() {
		r := PriceRow{Key: key, Title: unit.Capital(title)}
		if p, known := lib.Shop.Prices[key]; known {
			r.Price = unit.Number(p, 2)
		}
		if text, there := typed["price-"+key]; there {
			r.Price = text
		}
		out = append(out, r)
	}
	slices.SortFunc(out, func(a, b PriceRow) int { return strings.Compare(a.Title+a.Key, b.Title+b.Key) })
	return out
}

// Page is the form for it.
func (v Itself) Page() kit.Page { return pages.Page("itself", "The shop itself", v) }
