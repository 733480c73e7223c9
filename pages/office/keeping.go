package office

import (
	"fmt"
	"time"

	"lugtak/core/unit"
	"lugtak/pages/kit"
)

// Keeping is how the shop's file is kept: what is in it, its copies, its room, and what serves it.
type Keeping struct {
	Lines     int    // of the journal
	Words     string // of the shop's key, which stand on its papers
	Version   string
	Chained   bool // it is a shop of a chain
	Reached   bool
	Behind    int       // lines the chain is not known to have
	Unnamed   int       // shops that were heard and nobody has named
	Stuck     string    // what keeps the next from it; empty where nothing does
	Backups   bool      // copies are made by this program
	Copied    time.Time // the last of them; zero where there is none
	Room      uint64    // bytes left where the file lies; 0 where nobody can tell
	CertUntil time.Time // of the certificate; zero where none is named
}

// What is said of the keeping before it fails (common practice).
const (
	CopyLasts = 26 * time.Hour
	LeastRoom = 1 << 30 // bytes
	CertAhead = 30 * 24 * time.Hour
)

// kept is one line of how the shop's file is kept.
type kept struct {
	What, Says string
	Bad        bool
}

// lines are what is told of it at a time, what must be looked after first.
func (k Keeping) lines(now time.Time) []kept {
	var out []kept
	switch {
	case !k.Backups:
		out = append(out, kept{"Copies", "this program makes none: name a folder for them, or copy the file otherwise", true})
	case k.Copied.IsZero():
		out = append(out, kept{"Last copy", "none yet", true})
	default:
		out = append(out, kept{"Last copy", kit.Stamp(k.Copied), now.Sub(k.Copied) > CopyLasts})
	}
	if k.Room > 0 {
		out = append(out, kept{"Room on the disk", fmt.Sprintf("%.1f GB", float64(k.Room)/1e9), k.Room < LeastRoom})
	}
	if !k.CertUntil.IsZero() {
		out = append(out, kept{"Certificate", "good until " + kit.Day(k.CertUntil), k.CertUntil.Sub(now) < CertAhead})
	}
	if k.Chained {
		says := "reached"
		switch {
		case !k.Reached:
			says = "not reached: what is recorded is told later"
		case k.Stuck != "":
			says = fmt.Sprintf("reached, and not told: %d lines wait. %s", k.Behind, unit.Capital(k.Stuck))
		case k.Behind > 0:
			says = fmt.Sprintf("reached; %d lines are on their way", k.Behind)
		}
		if k.Unnamed > 0 {
			says += "; " + kit.Counted(k.Unnamed, "shop") + " heard that nobody has named here"
		}
		out = append(out, kept{"Chain of shops", says, !k.Reached || k.Stuck != "" || k.Unnamed > 0})
	}
	return append(out, kept{"Version", k.Version, false})
}
