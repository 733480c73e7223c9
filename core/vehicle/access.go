package vehicle

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/wrench"
)

// Access is what a joint of a sheet took to reach, as somebody says it for whoever comes next.
type Access struct {
	Sheet, Joint string
	Socket       string // 18 mm; empty where it is not said
	Drive        string // of the head, a key of Heads
	Extension    string // 125 mm, wobble
	Blocked      string // what is in the way, and what helps
	By           string
	At           time.Time
}

// Heads are what a fastener may be turned by.
var Heads = []string{"hexagon", "twelve-point", "multi-point", "inner"}

// Bounds of what is said of a way to a joint.
const (
	maxExtension = 40
	maxBlocked   = 160
)

// Check refuses what helps nobody. Its fault names the field.
func (a *Access) Check() error {
	a.Socket, a.Extension = strings.TrimSpace(a.Socket), strings.TrimSpace(a.Extension)
	a.Blocked = strings.TrimSpace(a.Blocked)
	switch {
	case a.Socket == "" && a.Extension == "" && a.Blocked == "":
		return fault.New(fault.Missing, "blocked", "Nothing is said.",
			"Say what it took: a size, an extension, what was in the way.")
	case a.Socket != "" && !wrench.Made(a.Socket):
		return fault.New(fault.BadChoice, "socket", "No socket “"+a.Socket+"” is made.", "Write it as 18 mm or 3/4 in.")
	case a.Drive != "" && !slices.Contains(Heads, a.Drive):
		return fault.New(fault.BadChoice, "drive", "That is no head of a fastener.", "Choose one of the list.")
	case len([]rune(a.Extension)) > maxExtension || len([]rune(a.Blocked)) > maxBlocked:
		return fault.New(fault.TooLong, "blocked", "That is too long to read with a bar in hand.", "Say it in a line.")
	}
	return nil
}

// Says is what was said, in a line.
func (a Access) Says() string {
	var said []string
	if a.Socket != "" {
		said = append(said, strings.TrimSpace(a.Socket+" "+headWords[a.Drive]))
	}
	if a.Extension != "" {
		said = append(said, "extension "+a.Extension)
	}
	says := strings.Join(said, ", ")
	if a.Blocked != "" && says != "" {
		says += ": "
	}
	return fmt.Sprint(says, a.Blocked)
}

var headWords = map[string]string{"twelve-point": "twelve-point", "multi-point": "multi-point", "inner": "key"}

// Reached is a pattern whose joints are turned by what somebody said they are, where the sheet is silent.
func (p Pattern) Reached(all []Access) Pattern {
	spec := map[string]Spec{}
	for joint, s := range p.Spec {
		spec[joint] = s
	}
	for _, a := range all { // the last one counts
		s, said := spec[a.Joint]
		if a.Socket == "" || p.Spec[a.Joint].Socket != "" || !said && !p.Open {
			continue
		}
		s.Socket = a.Socket
		if a.Drive != "" {
			s.Drive = a.Drive
		}
		spec[a.Joint] = s
	}
	p.Spec = spec
	return p
}
