package office

import (
	"lugtak/core/fault"
	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/pages/kit"
	"strings"
	"time"
)

// Scripts is who comes in by a token, and who is told of events.
type Scripts struct {
	Scripts []listing.Script
	Hooks   []listing.Hook
	Last    int    // the newest event
	Secret  string // of what was made just now, shown once
	Address string // of a calendar that was made just now, shown once
	For     string // what it is for
	Tries   bool   // a hook may be tried
	Took    string // the address of a hook that was tried just now, and took it
	Typed   map[string]string
	Of      string // the form the fault is about
	Fault   *fault.Fault
}

// act is one act with its time.
type act struct {
	record.Act
	When time.Time
}

// Acts is a page of what was done in the shop beside its jobs.
type Acts struct {
	Acts   []act
	Before int // where older ones begin; 0 where there are none
}

// Scopes are what a token may let a script do.
func (Scripts) Scopes() []listing.Scope { return listing.Scopes }

// Page is for the foreman, who lets scripts in.
func (v Scripts) Page() kit.Page { return pages.Page("scripts", "Scripts", v) }

// ActsPage is how many acts one page lists.
const ActsPage = 50

// Done is what was done in the shop beside its jobs, the newest first: one act more than a page has tells that
// there are older ones.
func Done(list []record.Act) (kit.Page, error) {
	v := Acts{}
	if len(list) > ActsPage {
		list = list[:ActsPage]
		v.Before = list[ActsPage-1].N
	}
	for _, a := range list {
		at, err := time.Parse(time.RFC3339Nano, a.At)
		if err != nil {
			return kit.Page{}, err
		}
		v.Acts = append(v.Acts, act{a, at})
	}
	return pages.Page("acts", "Done in the shop", v), nil
}

// Notices is what others have made that is part of this program, with its licences.
func Notices(text string) kit.Page {
	var all []notice
	for _, part := range strings.Split(text, strings.Repeat("=", noticeRule))[1:] {
		name, licence, _ := strings.Cut(strings.TrimSpace(part), "\n")
		licence = strings.TrimSpace(licence)
		kind, _, _ := strings.Cut(licence, "\n")
		all = append(all, notice{name, strings.TrimSpace(kind), licence})
	}
	return pages.Page("notices", "What others made", all)
}

// noticeRule is the length of the rule between two notices.
const noticeRule = 80

// notice is something that others made, how its licence begins, and the whole of it.
type notice struct{ Name, Kind, Text string }
