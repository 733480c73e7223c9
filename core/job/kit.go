package job

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"lugtak/core/fault"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/thread"
	"lugtak/core/vehicle"
)

// Kit is hardware of a kit that took the place of what the sheet names.
type Kit struct {
	record.Kitted
	Seq int       // of the event that put it there
	At  time.Time // of that event
}

// Bounds of what a kit is called.
const (
	maxSocket   = 40
	maxHardware = 120
)

// decideKit takes a kit's figure, or that it is read in the leaflet once more.
func (s *State) decideKit(m Meta, b FitKit) (record.Body, error) {
	j := s.Plan.Joint(b.Joint)
	if j == nil {
		return nil, refuse(fault.Missing, "joint", "The plan has no such joint.", "Choose one from the plan.")
	}
	r, err := recipe.Parse(b.Recipe)
	if err != nil {
		return nil, err
	}
	if was, fitted := s.Kits[j.ID]; fitted && was.Recipe == r.String() {
		reads, err := was.readsAgain(m, b)
		if err != nil {
			return nil, err
		}
		if reads {
			again := was.Kitted
			again.Readers = append(slices.Clone(was.Readers), m.By)
			return again, nil
		}
	}
	if err := s.notTightened(m, j, "joint", "the sheet's figure"); err != nil {
		return nil, err
	}
	b.Socket = trimmed(b.Socket)
	b.Hardware = trimmed(b.Hardware)
	if err := reason("source", &b.Source); err != nil {
		return nil, err
	}
	if b.Treatment != "" {
		if _, err := thread.Friction(thread.Treatment(b.Treatment)); err != nil {
			return nil, err
		}
	}
	if len(b.Socket) > maxSocket || len(b.Hardware) > maxHardware {
		return nil, refuse(fault.TooLong, "hardware", "That is too long.", "Name it in a few words.")
	}
	return record.Kitted{
		Joint:     b.Joint,
		Recipe:    r.String(),
		Socket:    b.Socket,
		Treatment: b.Treatment,
		Hardware:  b.Hardware,
		Source:    b.Source,
		Stages:    toStages(r.Stages),
		Readers:   []string{m.By},
	}, nil
}

// readsAgain says that the kit that is fitted was read a second time; whoever is alone in the shop may, but not at
// once.
func (k Kit) readsAgain(m Meta, b FitKit) (bool, error) {
	if !slices.Contains(k.Readers, m.By) {
		return true, nil
	}
	other := func(said, was string) bool { return trimmed(said) != "" && trimmed(said) != was }
	if !b.Alone || len(k.Readers) > 1 ||
		other(b.Socket, k.Socket) || other(b.Treatment, k.Treatment) || other(b.Hardware, k.Hardware) {
		return false, nil
	}
	if next := k.At.Add(vehicle.ReadAgain); m.At.Before(next) {
		return false, refuse(fault.TooSoon, "recipe", "It is too fresh in your mind to be a second reading.",
			fmt.Sprintf("Enter it again at %s, from the leaflet.", next.In(m.At.Location()).Format("15:04")))
	}
	return true, nil
}

func (s *State) applyKitted(e Event, b record.Kitted) {
	if len(b.Readers) > 1 { // the one that is fitted, read again
		was := s.Kits[b.Joint]
		s.Kits[b.Joint] = Kit{b, was.Seq, was.At}
		return
	}
	b.Readers = []string{e.By}
	delete(s.Treated, b.Joint) // it was reckoned for the figure before
	s.fitKit(b, e.By, e.Seq)
	s.Kits[b.Joint] = Kit{b, e.Seq, e.At}
}

// fitKit puts a kit's hardware at its joint; what the sheet said stays readable, who read it does not speak of this.
func (s *State) fitKit(b record.Kitted, by string, seq int) {
	s.respec(b.Joint, seq, func(j *plan.Joint) {
		old := vehicle.Struck{Recipe: j.Recipe, By: by, Why: "the kit's own hardware: " + b.Source}
		j.Struck = append(slices.Clip(j.Struck), old)
		j.Figured(b.Recipe, fromStages(b.Stages), b.Source)
		j.Variants = nil
		j.Readers, j.Differs, j.ByBolt = nil, nil, false
		j.Socket = cmp.Or(b.Socket, j.Socket)
		j.Treatment = cmp.Or(b.Treatment, j.Treatment)
		j.Hardware = cmp.Or(b.Hardware, j.Hardware)
	})
}

// kits asks for a second reader of the leaflet where a life hangs on a kit's own figure.
func kits(s *State) []Gate {
	var out []Gate
	for i := range s.Plan.Joints {
		j := &s.Plan.Joints[i]
		k, fitted := s.Kits[j.ID]
		if !fitted || !s.Critical(j) {
			continue
		}
		g := Gate{
			Key:   gateKit.Key(j.ID),
			Title: fmt.Sprintf("The kit's figure of the %s, %s, was %s", j.Title, k.Recipe, readTwice(k.Readers)),
			Since: k.Seq,
			Met:   len(k.Readers) > 1,
		}
		if !g.Met {
			g.Title = fmt.Sprintf("The kit's figure of the %s, %s, was read by %s alone", j.Title, k.Recipe, k.Readers[0])
			g.Remedy = "A colleague enters it from the leaflet too, on the plan's page; alone in the shop, " +
				"you again half an hour later. Or two sign for it."
			g.Passable, g.Second = true, true
		}
		out = append(out, g)
	}
	return out
}
