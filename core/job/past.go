package job

import (
	"maps"
	"slices"
	"time"

	"lugtak/core/inspect"
	"lugtak/core/pull"
	"lugtak/core/record"
)

// Tightened is how many fasteners of one kind of joint a tool has tightened.
type Tightened struct {
	Title string
	Count int
}

// TightenedWith are the fasteners a tool, by its name, has tightened since it was last known
// to be good, by kind of joint: what is looked at again where it has failed since. What was
// struck or left without a figure does not hang on the tool.
func (s *State) TightenedWith(tool string, since time.Time) []Tightened {
	by := map[string]map[FastenerID]bool{}
	for _, p := range s.Pulls {
		figure := p.Counts() && p.Evidence != pull.NotMeasured
		if p.Tool != tool || p.At.Before(since) || !figure {
			continue
		}
		title := s.Plan.Joint(p.Fastener.Joint).Title
		if by[title] == nil {
			by[title] = map[FastenerID]bool{}
		}
		by[title][p.Fastener] = true
	}
	var out []Tightened
	for _, title := range slices.Sorted(maps.Keys(by)) {
		out = append(out, Tightened{title, len(by[title])})
	}
	return out
}

// Wear is one measure at one place of a vehicle over its jobs.
type Wear struct {
	Last   record.Measured
	Points []inspect.Point // in order of distance
}

// Limit is what it was held against last.
func (w Wear) Limit() inspect.Limit {
	return inspect.Limit{Value: w.Last.Limit, Least: w.Last.Least, Floor: w.Last.Floor, Gauge: w.Last.Gauge}
}

// Taken is a measure of a vehicle, and how far it had gone.
type Taken struct {
	record.Measured
	KM int
}

// Taken are the measures of a job. What a stand-in showed is of no vehicle.
func (s *State) Taken() []Taken {
	var out []Taken
	for _, m := range s.Walk.Measured {
		if !m.Simulated {
			out = append(out, Taken{m.Measured, s.OdometerKM})
		}
	}
	return out
}

// Wears brings together what was measured on one vehicle, oldest first.
func Wears(all []Taken) []Wear {
	var out []Wear
	at := map[[2]string]int{}
	for _, m := range all {
		key := [2]string{m.Key, m.Corner}
		i, ok := at[key]
		if !ok {
			i = len(out)
			at[key] = i
			out = append(out, Wear{})
		}
		out[i].Last = m.Measured
		out[i].Points = append(out[i].Points, inspect.Point{KM: float64(m.KM), Value: m.Value})
	}
	return out
}

// Simulated says that a stand-in made some of the record: a pull, a measure or a road test.
func (s *State) Simulated() bool {
	for _, p := range s.Pulls {
		if p.Simulated {
			return true
		}
	}
	return slices.ContainsFunc(s.Walk.Measured, func(m Measurement) bool { return m.Simulated }) ||
		slices.ContainsFunc(s.Walk.Drives, func(d Drive) bool { return d.Simulated })
}
