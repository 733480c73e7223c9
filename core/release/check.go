package release

import (
	"fmt"
	"math"
	"slices"

	"lugtak/core/fault"
)

// wholeShare is by how much shares that make a whole may miss it.
const wholeShare = 0.001

// Check lists what is wrong in the knowledge beyond the type of its fields: a name that
// is nowhere, shares that make no whole, chances that exceed one. Fields are JSON paths.
func (k *Knowledge) Check() []*fault.Fault {
	var out []*fault.Fault
	say := func(field, detail, remedy string) {
		out = append(out, fault.New(fault.BadRelease, field, detail, remedy))
	}
	thing := func(field, name string) {
		if name != "" && !slices.Contains(k.ThingNames(), name) {
			say(field, "“"+name+"” is not among the things.", "Name one of them, or add it there.")
		}
	}
	for i, r := range k.Rungs {
		for n, x := range r.Never {
			at := fmt.Sprintf("$.rungs[%d].never[%d]", i, n)
			thing(at, x.Near)
			thing(at, x.Keep)
		}
		for n, x := range r.Wary {
			at := fmt.Sprintf("$.rungs[%d].wary[%d]", i, n)
			thing(at, x.Near)
			thing(at, x.Keep)
		}
	}
	for i, u := range k.Usual {
		at := fmt.Sprintf("$.usual[%d]", i)
		for _, name := range append(slices.Clone(u.Near), u.Keep...) {
			thing(at, name)
		}
		for _, name := range u.Kinds {
			if _, err := k.Kind(name); err != nil {
				say(at, "“"+name+"” is no kind.", "Name one of the kinds.")
			}
		}
	}
	for i, kind := range k.Kinds {
		at := fmt.Sprintf("$.kinds[%d]", i)
		sum := 0.0
		for _, share := range kind.Held {
			sum += share
		}
		if math.Abs(sum-1) > wholeShare {
			say(at+".held", "The shares of “"+kind.Name+"” do not make a whole.", "Let them add up to 1.")
		}
		for _, name := range kind.Near {
			thing(at+".near", name)
		}
		for n, t := range kind.Rungs {
			here := fmt.Sprintf("%s.rungs[%d]", at, n)
			if r, _ := k.Rung(t.Rung); t.GivesUp && r.Minutes+kind.GiveUp > kind.BreakMin {
				say(at+".break_min", "To break it costs less than to give it up.", "Nobody would be told to stop: raise it.")
			}
			if !slices.ContainsFunc(k.Rungs, func(r Rung) bool { return r.Key == t.Rung }) {
				say(here+".rung", "“"+t.Rung+"” is no rung.", "Name one of the rungs by its key.")
			}
			for g := range t.Frees {
				if t.Frees[g]+t.Harms[g] > 1 {
					say(here, "It frees and harms more often than it is tried.", "Let both stay below 1 together.")
				}
			}
		}
	}
	return out
}
