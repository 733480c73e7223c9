package vehicle

import (
	"maps"
	"slices"
	"strings"
)

// Built is how a vehicle is built: answers by question, of which one must hold.
type Built map[string][]string

// Allows says that nothing known of a vehicle speaks against it.
func (b Built) Allows(known map[string]string) bool {
	for key, answers := range b {
		if is, said := known[key]; said && !slices.Contains(answers, is) {
			return false
		}
	}
	return true
}

// At is how a vehicle must be built at a corner: a question that begins with its axle is that of its axle.
func (b Built) At(axle string) Built {
	out := Built{}
	for key, answers := range b {
		out[strings.ReplaceAll(key, "{axle}", axle)] = answers
	}
	return out
}

// As is the pattern of a vehicle on which somebody saw how it is built: what was seen stands over the sheet.
func (p Pattern) As(seen map[string]string) Pattern {
	traits := make(map[string]string, len(p.Traits)+len(seen))
	maps.Copy(traits, p.Traits)
	maps.Copy(traits, seen)
	p.Traits = traits
	return p
}
