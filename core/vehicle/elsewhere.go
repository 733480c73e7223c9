package vehicle

import (
	"slices"
	"strings"
)

// Elsewhere is the figure of a joint as another shop has read it. It is offered, and counts for nothing before
// somebody has read it here.
type Elsewhere struct {
	Joint            string
	Recipe           string
	Thread, Class    string
	Source           string
	Readers          []string // there; one who read it twice stands there twice
	Jobs             int      // there, in which it was tightened by
	Shop, ShopsPrint string   // the shop's name, and the fingerprint of its key
}

// Says is the figure with where it comes from.
func (e Elsewhere) Says() string {
	by := strings.Join(slices.Compact(slices.Clone(e.Readers)), " and ")
	return e.Recipe + ": " + e.Source + ", read by " + by + " at " + e.Shop
}
