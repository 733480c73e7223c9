package library

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
)

// shopFloor is a vehicle in plain words, apart from facts and their names: what it knows
// it reads from verbs, joints, positions and supports, and it says what would hurt.
type shopFloor struct {
	pos      plan.Position
	joints   map[string]string // rest, loose, out, hand, tight
	systems  map[string]plan.Joint
	supports map[string]int
	driven   bool
}

func (f *shopFloor) work(s plan.Step) string {
	j := f.systems[s.Joint]
	is := f.joints[s.Joint]
	switch s.Verb {
	case operation.Crack:
		if is != "" {
			return "broken loose twice"
		}
		f.joints[s.Joint] = "loose"
	case operation.Remove:
		if is == "out" || is == "tight" {
			return "taken out of nowhere"
		}
		f.joints[s.Joint] = "out"
	case operation.Start:
		if is == "tight" || is == "hand" {
			return "started twice"
		}
		f.joints[s.Joint] = "hand"
	case operation.Tighten:
		if is != "hand" && is != "tight" && is != "part" {
			return "tightened before it was started"
		}
		if s.AfterDrive != f.driven {
			return "the round after the drive before it, or the other way"
		}
		f.joints[s.Joint] = "tight"
		if len(s.Stages) == 2 && s.Stages[1] < len(j.Read()) {
			f.joints[s.Joint] = "part"
		}
	case operation.Drive:
		f.driven = true
		for id, is := range f.joints {
			if is != "tight" {
				return "on the road with " + id + " " + is
			}
		}
		if f.supports["ramp"]+f.supports["axle stand"]+f.supports["wheel chock"] > 0 {
			return "on the road with supports in"
		}
	}
	if open := f.open(s.Corner); open != "" {
		if strings.Contains(s.Title, "back in every clip") {
			return "the lead goes home with " + open
		}
		if len(s.Takes) > 0 && strings.HasPrefix(s.Takes[0], "knuckle strap") {
			return "the strap goes with " + open
		}
	}
	for _, x := range s.Puts {
		f.supports[x]++
	}
	for _, x := range s.Takes {
		f.supports[x]--
	}
	if s.Position != "" && !f.pos.Stands(s.Position) && f.pos != plan.RideHigh && s.Position != plan.RideHigh {
		return fmt.Sprintf("done %s while it is %s", s.Position, f.pos)
	}
	if to := s.MovesTo; to != "" && to != f.pos {
		down := to == plan.Touching || to == plan.Ground || to == plan.RideHigh && f.pos == plan.Ground
		for id, is := range f.joints {
			loose := is == "loose" || is == "out"
			carries := !slices.Contains([]string{"driveline", "body"}, f.systems[id].System)
			if down && f.pos == plan.Raised && loose && carries {
				return "let down on " + id + " " + is
			}
			if down && f.systems[id].Bears && is == "hand" && f.systems[id].Condition != vehicle.OnGround {
				return "weight on a bearing that is not set"
			}
		}
		for what, n := range f.supports {
			sided := slices.ContainsFunc([]string{"arm jack", "knuckle strap", "shaft strap", "caliper hook"},
				func(name string) bool { return strings.HasPrefix(what, name) })
			if down && to == plan.Touching && n > 0 && sided {
				return "let down with a " + what + " in"
			}
		}
		f.pos = to
	}
	return ""
}

// open is a joint of the corner that leaves its knuckle or hub hanging loose, if any.
func (f *shopFloor) open(c vehicle.Corner) string {
	for id, is := range f.joints {
		j := f.systems[id]
		holds := j.Stops == "arm" || j.Stops == "knuckle" || j.System == "steering" || j.System == "hub" && !j.Bears
		if j.Corner == c && holds && is == "out" {
			return id + " out"
		}
	}
	return ""
}

// What is compiled and proved is carried out by a model of the vehicle written apart; so
// is every order a move by hand makes of it and the proof takes.
func TestProvedPlansOnTheShopFloor(t *testing.T) {
	l := whole(t)
	rng := rand.New(rand.NewPCG(9, 26))
	carry := func(made plan.Plan) string {
		f := shopFloor{
			pos:      plan.Ground,
			joints:   map[string]string{},
			systems:  map[string]plan.Joint{},
			supports: map[string]int{},
		}
		for _, j := range made.Joints {
			f.systems[j.ID] = j
		}
		for _, s := range made.Steps {
			if bad := f.work(s); bad != "" {
				return string(s.ID) + ": " + bad
			}
		}
		return ""
	}
	moved, refused := 0, 0
	for _, p := range l.Patterns {
		for _, task := range l.Offers(p) {
			made := l.ordered(t, p, nil, task)
			if bad := carry(made); bad != "" {
				t.Errorf("%s %v: %s", p.ID, task, bad)
				continue
			}
			for range 40 {
				q := made
				q.Steps = slices.Clone(made.Steps)
				i, k := rng.IntN(len(q.Steps)), rng.IntN(len(q.Steps))
				q.Steps[i], q.Steps[k] = q.Steps[k], q.Steps[i]
				err := q.Sound()
				if err != nil {
					refused++
					continue
				}
				moved++
				if bad := carry(q); bad != "" {
					t.Errorf("%s %v with %s and %s exchanged is proved, and: %s",
						p.ID, task, made.Steps[i].ID, made.Steps[k].ID, bad)
				}
			}
		}
	}
	if moved < 100 || refused < 500 {
		t.Errorf("%d orders proved, %d refused", moved, refused)
	}
}
