package diagnose

import (
	"cmp"
	"math"
	"slices"

	"lugtak/core/forecast"
	"lugtak/core/vehicle"
)

// Suspect is a possible cause.
type Suspect struct {
	Key        string   `yaml:"key"`
	Name       string   `yaml:"name"`
	System     string   `yaml:"system"`
	Prior      float64  `yaml:"prior"`      // chance on a vehicle that comes with a complaint
	Wears      string   `yaml:"wears"`      // distance, age, salt: what makes it likelier
	Sided      bool     `yaml:"sided"`      // sits at a corner
	Operations []string `yaml:"operations"` // that replace it; the first a vehicle has
	Safety     bool     `yaml:"safety"`     // not to be driven on for long
	Along      []string `yaml:"along"`      // must come along
	While      []string `yaml:"while"`      // may be done while it is open
	SavesMin   float64  `yaml:"saves_min"`

	Fits   vehicle.Built `yaml:"fits"`    // how a vehicle must be built to have it
	DoneBy string        `yaml:"done_by"` // who does it, where no operation does
}

// prior is a suspect's chance before any answer: raised by what wears it, lowered by a renewal not long ago, moved by
// the shop's own cases. What is not known changes nothing.
func (s Suspect) prior(h History) float64 {
	odds := s.Prior / (1 - s.Prior)
	switch s.Wears {
	case "distance":
		if h.KM > 0 {
			odds *= math.Min(2.5, math.Max(0.4, h.KM/120_000))
		}
	case "age":
		if h.AgeYears > 0 {
			odds *= math.Min(2.5, math.Max(0.4, h.AgeYears/8))
		}
	}
	if s.Wears == "salt" && h.Salt {
		odds *= 2
	}
	if r, ok := h.Renewed[s.Key]; ok {
		switch {
		case r.Failed: // a new part bad or badly fitted: one in twenty (common practice)
			odds *= 0.05
		case r.SecondHand:
			odds *= 1.5
		case r.Years < 1:
			odds *= 0.2
		case r.Years < 3:
			odds *= 0.5
		}
	}
	return forecast.Moved(odds/(1+odds), h.Past[s.Key].Shift())
}

// At is where the suspect sits, as far as the answers tell: a side alone says so.
func (w Weight) At() string {
	if w.Where == "left" || w.Where == "right" {
		return w.Where + ", front or rear not known"
	}
	return w.Where
}

// Of is what is known of a vehicle built so: its suspects are parts it has.
func (k *Knowledge) Of(built map[string]string) Knowledge {
	out := Knowledge{Evidence: k.Evidence}
	for _, s := range k.Suspects {
		if s.Fits.Allows(built) {
			out.Suspects = append(out.Suspects, s)
		}
	}
	return out
}

// Has says that a suspect is one of these.
func (k *Knowledge) Has(suspect string) bool {
	return slices.ContainsFunc(k.Suspects, func(s Suspect) bool { return s.Key == suspect })
}

// Suspect finds a suspect by its key.
func (k *Knowledge) Suspect(key string) (Suspect, bool) {
	i := slices.IndexFunc(k.Suspects, func(s Suspect) bool { return s.Key == key })
	if i < 0 {
		return Suspect{}, false
	}
	return k.Suspects[i], true
}

// Found is a fault that was seen itself, and where.
type Found struct {
	Suspect string
	Sign    string
	Says    string
	Corner  Corner
}

// Found lists what the answers found, each part once at each corner.
func (k *Knowledge) Found(answers []Answer) []Found {
	var out []Found
	for _, a := range answers {
		i := slices.IndexFunc(k.Evidence, func(e Evidence) bool { return e.Key == a.Key })
		if i < 0 || !a.Yes || k.Evidence[i].Finds == "" || !k.Has(k.Evidence[i].Finds) {
			continue
		}
		f := Found{k.Evidence[i].Finds, a.Key, k.Evidence[i].Reason, a.Corner}
		same := func(o Found) bool { return o.Suspect == f.Suspect && o.Corner == f.Corner }
		if !slices.ContainsFunc(out, same) {
			out = append(out, f)
		}
	}
	return out
}

// Proposal is work the walk-round proposes: for a suspect that is likely enough, or that was seen itself.
type Proposal struct {
	Weight
	Seen   []Found
	Points string // where it is, as far as anything tells: seen there, weighed there, or said by the driver
}

// Proposals are those of what was weighed, and those decided already.
func (w *Weighed) Proposals(decided func(suspect string) bool) []Proposal {
	found := w.Know.Found(w.Answers)
	var out []Proposal
	for _, x := range w.Report.Suspects {
		p := Proposal{Weight: x, Points: cmp.Or(x.Where, w.Report.Said)}
		for _, f := range found {
			if f.Suspect == x.Key {
				p.Seen = append(p.Seen, f)
				p.Points = cmp.Or(string(f.Corner), p.Points)
			}
		}
		if len(p.Seen) > 0 || x.Chance >= Likely || decided(x.Key) {
			out = append(out, p)
		}
	}
	return out
}
