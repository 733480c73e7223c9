package office

import (
	"time"

	"lugtak/core/fault"
	"lugtak/pages/kit"
)

// Shops are the shops of the chain: whose word counts here, and who was heard beside them.
type Shops struct {
	Own     KeyOf // this shop's
	Node    bool  // it gathers what the others record
	Named   []KeyOf
	Unnamed []KeyOf
	Typed   map[string]string
	Fault   *fault.Fault
}

// KeyOf is the key of a shop, as it is compared: its fingerprint, and five words that are read out by telephone.
type KeyOf struct {
	Key, Print, Words string
	Name              string // as it was named here; else what it calls itself
	Jobs              int    // of it, at a node
	Heard             time.Time
}

// Page draws them.
func (s Shops) Page() kit.Page { return pages.Page("shops", "Shops of the chain", s) }
