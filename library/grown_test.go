package library

import (
	"maps"
	"math/rand/v2"
	"slices"
	"testing"

	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
)

// sheets are empty sheets of vehicles built every which way: each answer of what is asked when a vehicle
// comes in, and the rest by chance.
func sheets(l *Library, seed uint64) []vehicle.Sheet {
	rnd := rand.New(rand.NewPCG(seed, 1))
	all := []map[string]string{{}}
	for _, b := range l.Builds {
		var next []map[string]string
		for _, built := range all {
			if !b.Intake {
				built[b.Key] = b.Answers[rnd.IntN(len(b.Answers))].Key
				next = append(next, built)
				continue
			}
			for _, a := range b.Answers {
				x := maps.Clone(built)
				x[b.Key] = a.Key
				next = append(next, x)
			}
		}
		all = next
	}
	out := make([]vehicle.Sheet, len(all))
	for i, built := range all {
		out[i] = vehicle.Sheet{ID: "own", Name: "A model nobody entered", Outline: "car", Built: built}
	}
	return out
}

// Whatever vehicle comes in, what is offered for it compiles and is proved with no figure known, and every
// bolt it opens asks for one.
func TestEmptySheetsCompile(t *testing.T) {
	l := shipped()
	for _, s := range sheets(l, 7) {
		p := l.Grown(s)
		offers := l.Offers(p)
		for _, op := range l.Operations {
			offered := slices.ContainsFunc(offers, func(o plan.Task) bool { return o.Operation == op.ID })
			if slices.Contains(p.Operations, op.ID) != offered {
				t.Errorf("%v: %s fits %v, offered %v", s.Built, op.ID, !offered, offered)
			}
		}
		for _, task := range offers {
			made, err := plan.Compile(l.order(p, Ask{Tasks: []plan.Task{task}}))
			if err != nil {
				t.Fatalf("%v: %s: %v", s.Built, task, err)
			}
			if err := made.Prove(); err != nil {
				t.Errorf("%v: %s: %v", s.Built, task, err)
			}
			for _, j := range made.Joints {
				if !j.Unread() || len(j.Stages()) == 0 {
					t.Errorf("%s: %s has a figure nobody read: %q", task, j.ID, j.Recipe)
				}
			}
		}
	}
}

// By the trade: a solid axle has no strut, a front-wheel drive no centre support; a strut no wishbone's joint.
func TestOffersFollowTheBuild(t *testing.T) {
	l := shipped()
	tests := []struct {
		built map[string]string
		has   []string
		not   []string
	}{
		{map[string]string{"driven": "front", "front-corner": "strut-corner", "rear-axle": "beam"},
			[]string{"strut-front", "drive-axle-plugged", "control-arm", "shock-eye", "pads-rotors"},
			[]string{"upper-ball-joint", "centre-support", "solid-axle-hub", "strut-rear"}},
		{map[string]string{"driven": "rear", "front-corner": "wishbone-corner", "rear-axle": "solid"},
			[]string{"upper-ball-joint", "shock-stem", "centre-support", "idler-arm"},
			[]string{"strut-front", "drive-axle-plugged", "rear-hub-unit", "front-hub-unit"}},
		{map[string]string{"driven": "all", "front-corner": "solid-corner", "rear-axle": "solid"},
			[]string{"solid-axle-hub", "tie-rod-outer", "centre-support"},
			[]string{"strut-front", "drive-axle-flanged", "tie-rod-inner"}},
		{nil, []string{"strut-front", "upper-ball-joint", "solid-axle-hub"}, nil}, // nothing seen bars nothing
	}
	for _, x := range tests {
		p := l.Grown(vehicle.Sheet{Outline: "car", Built: x.built})
		for _, op := range x.has {
			if !slices.Contains(p.Operations, op) {
				t.Errorf("%v lacks %s", x.built, op)
			}
		}
		for _, op := range x.not {
			if slices.Contains(p.Operations, op) {
				t.Errorf("%v has %s", x.built, op)
			}
		}
	}
}

// What an operation fits is asked of somebody, with such an answer.
func TestFitsAreAsked(t *testing.T) {
	l := shipped()
	for _, op := range l.Operations {
		for key, answers := range op.Fits {
			i := slices.IndexFunc(l.Builds, func(b operation.Build) bool { return b.Key == key })
			if i < 0 || !l.Builds[i].Intake {
				t.Errorf("%s fits by %s, which nobody asks", op.ID, key)
				continue
			}
			for _, a := range answers {
				if !slices.ContainsFunc(l.Builds[i].Answers, func(x operation.BuildAnswer) bool { return x.Key == a }) {
					t.Errorf("%s: %s is no answer to %s", op.ID, a, key)
				}
			}
		}
	}
}
