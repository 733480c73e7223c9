package solid

import (
	"cmp"
	"maps"
	"slices"
	"strings"
)

// Answers are how a vehicle is built, by the keys of what is asked of it, at which axle one works, and how many
// fasteners the joint at hand has.
type Answers map[string]string

// The corner of a scene that is of either axle, and the key under which one is told.
const (
	eitherAxle = "wheel"
	axleKey    = "axle"
)

// Unknown is the answer to what was not asked.
const Unknown = "unknown"

// compose is which parts a corner has on a vehicle built so.
func (a *Album) compose(corner string, built Answers) []string {
	var out []string
	for _, place := range slices.Sorted(maps.Keys(a.Corners[corner])) {
		out = append(out, a.Builds[place][a.Corners[corner][place]]...)
	}
	for _, place := range slices.Sorted(maps.Keys(a.Composed[corner])) {
		for keys, by := range a.Composed[corner][place] {
			var answers []string
			for key := range strings.FieldsSeq(keys) {
				answers = append(answers, cmp.Or(built[key], Unknown))
			}
			out = append(out, a.Builds[place][by[strings.Join(answers, " ")]]...)
		}
	}
	return out
}

// ofCorners are the names of all parts that composed corners may have.
func (a *Album) ofCorners() map[string]bool {
	all := map[string]bool{}
	for corner, places := range a.Composed {
		for place, by := range places {
			for _, answers := range by {
				for _, build := range answers {
					for _, p := range a.Builds[place][build] {
						all[nameOf(p)] = true
					}
				}
			}
		}
		for place, build := range a.Corners[corner] {
			for _, p := range a.Builds[place][build] {
				all[nameOf(p)] = true
			}
		}
	}
	return all
}

// nameOf is what a part is called in scenes: knuckle, of knuckle=knuckle-tall.
func nameOf(part string) string {
	name, _, _ := strings.Cut(part, "=")
	return name
}

// On is a scene for a vehicle that is built so; false where the vehicle has not what the scene names.
func (a *Album) On(s *Scene, built Answers) (*Scene, bool) {
	for key, answers := range s.When {
		if !slices.Contains(answers, built[key]) {
			return nil, false
		}
	}
	out := *s
	if out.Corner == eitherAxle {
		out.Corner = built[axleKey]
	}
	if out.Where == axleKey {
		out.Where = built[axleKey]
	}
	if a.Composed[out.Corner] == nil {
		return &out, s.Corner != eitherAxle
	}
	out.Parts = a.compose(out.Corner, built)
	there := map[string]bool{}
	for _, p := range out.Parts {
		there[nameOf(p)] = true
	}
	every := a.ofCorners()
	for _, name := range s.names() {
		if every[name] && !there[name] {
			return nil, false
		}
	}
	return &out, true
}

// names are the parts a scene speaks of, but for those it only leaves out or thins.
func (s *Scene) names() []string {
	var out []string
	of := func(frames ...string) {
		for _, f := range frames {
			name, _, _ := strings.Cut(f, ".")
			out = append(out, name)
		}
	}
	of(s.Hand...)
	of(s.Bolts...)
	of(s.CutOf...)
	for _, p := range s.Plain {
		if !strings.HasSuffix(p, "*") && !s.Overview { // what an overview adds belongs to no build
			of(p)
		}
	}
	for _, m := range s.Moves {
		of(m.At)
	}
	for _, u := range s.Uses {
		of(u.On)
	}
	for _, m := range s.Marks {
		of(m.Arrow, m.Turn, m.Pull, m.About, m.Blow, m.Never, m.A, m.B)
	}
	for _, l := range s.Labels {
		of(l.At)
	}
	for _, l := range s.Lenses {
		of(l.At)
	}
	for i := range s.Panes {
		out = append(out, s.Panes[i].names()...)
	}
	return out
}

// Vehicles are ways to be built on which a scene is drawn: the first answer to each question of its corner, and each
// other answer in turn.
func (a *Album) Vehicles(s *Scene) []Answers {
	corners := []string{s.Corner}
	if s.Corner == eitherAxle {
		corners = slices.Sorted(maps.Keys(a.Composed))
	}
	var out []Answers
	for _, corner := range corners {
		asked := map[string][]string{axleKey: {corner}}
		for _, by := range a.Composed[corner] {
			for keys, answers := range by {
				for k, key := range strings.Fields(keys) {
					asked[key] = append(asked[key], Unknown)
					for answer := range answers {
						asked[key] = append(asked[key], strings.Fields(answer)[k])
					}
				}
			}
		}
		for key, answers := range s.When {
			asked[key] = slices.Clone(answers)
		}
		first := Answers{}
		for key, answers := range asked {
			slices.Sort(answers)
			asked[key] = slices.Compact(answers)
			first[key] = asked[key][0]
		}
		out = append(out, first)
		for _, key := range slices.Sorted(maps.Keys(asked)) {
			for _, answer := range asked[key][1:] {
				other := maps.Clone(first)
				other[key] = answer
				out = append(out, other)
			}
		}
	}
	return out
}

// Any is a scene on the first vehicle it is drawn on; false where it is on none.
func (a *Album) Any(s *Scene) (*Scene, bool) {
	for _, built := range a.Vehicles(s) {
		if on, ok := a.On(s, built); ok {
			return on, true
		}
	}
	return nil, false
}
