package kit

import (
	"embed"
	"fmt"
	"slices"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

//go:embed own/*.html
var own embed.FS

var ownPages = NewSet(own, nil)

// Refused is what a page of its own shows of a refusal that no other has shown.
type Refused struct {
	Fault *fault.Fault
	Code  int               // of HTTP
	Asked string            // the number that was asked for, where nothing is known by it
	Near  []vehicle.Vehicle // by numbers like it
	Who   []string          // who may, where whoever asked may not
	Back  string            // the page they came from; empty where that is not known
	Away  bool              // the shop does not answer
}

// Refusal is its page: what happened, why, and ways on.
func Refusal(r Refused) Page { return ownPages.Page("error", r.Title(), r) }

// NoNetwork is the page a tablet shows in place of one it has not seen. It knows nobody, and nothing of the shop.
func NoNetwork() Page {
	return Refusal(Refused{Away: true, Fault: &fault.Fault{
		Detail: "The shop does not answer, and this tablet has not seen that page before.",
		Remedy: "What was recorded is kept here, and sent when it answers.",
	}})
}

// Title says what happened.
func (r Refused) Title() string {
	switch {
	case r.Away:
		return "No network"
	case r.Asked != "":
		return "No " + r.Asked + " hangs here"
	case r.Code == 404:
		return "Nothing hangs here"
	case len(r.Who) > 0:
		return "Not yours to do"
	case r.Code >= 500:
		return "Something broke in here"
	}
	return "Not done"
}

// Sign is what the drawing of the empty bay says.
func (r Refused) Sign() string {
	switch {
	case r.Away:
		return "no line"
	case r.Asked != "":
		return r.Asked
	case len(r.Who) > 0:
		return "not yours"
	case r.Code >= 500:
		return "stopped"
	}
	return fmt.Sprint(r.Code)
}

// mostNear is how many numbers like the one asked for are named.
const mostNear = 3

// AskedFor is the number of a vehicle or job in the path of a page; empty where it is of none.
func AskedFor(path string) string {
	parts := strings.Split(strings.Trim(path, "/"), "/")
	if len(parts) < 2 || parts[0] != "jobs" && parts[0] != "vehicles" || len(parts[1]) > 12 {
		return ""
	}
	return strings.ToUpper(parts[1])
}

// NearTo are vehicles whose number is like one: of the same signs in another order first, then those that begin
// alike.
func NearTo(asked string, all []vehicle.Vehicle) []vehicle.Vehicle {
	plain := func(text string) string {
		return strings.Map(func(r rune) rune {
			if strings.ContainsRune(" -.", r) {
				return -1
			}
			return r
		}, unit.Fold(text))
	}
	mixed := func(text string) string {
		signs := []rune(text)
		slices.Sort(signs)
		return string(signs)
	}
	want := plain(asked)
	var same, alike []vehicle.Vehicle
	for _, v := range all {
		switch is := plain(v.Fleet); {
		case want == "" || is == "":
		case mixed(is) == mixed(want):
			same = append(same, v)
		case is[0] == want[0]:
			alike = append(alike, v)
		}
	}
	near := append(same, alike...)
	return near[:min(len(near), mostNear)]
}
