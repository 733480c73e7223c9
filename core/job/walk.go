package job

import (
	"slices"
	"strings"
	"time"

	"lugtak/core/inspect"
	"lugtak/core/operation"
)

// Walk is what the walk-round has brought together before the work is planned.
type Walk struct {
	Answers  map[string]bool // by sign or test
	Asked    []string        // in the order they were answered
	Measured []Measurement
	Drives   []Drive
	Choices  []Choice
}

// Measurement is a measured value with its verdict.
type Measurement struct {
	ID string
	Measured
	By string
	At time.Time
}

// Drive is a recorded road test.
type Drive struct {
	ID string
	Recorded
	By string
	At time.Time
}

// Choice is a proposal accepted or declined.
type Choice struct {
	Chosen
	By string
	At time.Time
}

// The things that happen on a walk-round.
type (
	// Answered answers a sign or test; Open takes the answer back.
	Answered struct {
		Sign string `json:"sign"`
		Ask  string `json:"ask"`
		Yes  bool   `json:"yes"`
		Open bool   `json:"open,omitempty"`
	}
	// Measured is a measurement held against its limit.
	Measured struct {
		Key          string    `json:"key"`
		Name         string    `json:"name"`
		Place        string    `json:"place"`
		Unit         string    `json:"unit"`
		Value        float64   `json:"value"`
		Readings     []float64 `json:"readings,omitempty"`
		Limit        float64   `json:"limit"`
		Least        bool      `json:"least,omitempty"`
		Gauge        float64   `json:"gauge"`
		Source       string    `json:"source"`
		Jurisdiction string    `json:"jurisdiction"`
		Verdict      string    `json:"verdict"`
		Says         string    `json:"says"`
		Sign         string    `json:"sign,omitempty"` // answered by it
		Yes          bool      `json:"yes,omitempty"`
	}
	// Recorded is a road test with what stood out of it.
	Recorded struct {
		Tyre      string          `json:"tyre"`
		AxleRatio float64         `json:"axle_ratio"`
		Step      float64         `json:"step"`      // orders from one line to the next
		Amplitude []float64       `json:"amplitude"` // m/s² by order
		Falls     []inspect.Fall  `json:"falls"`
		Peaks     []inspect.Peak  `json:"peaks"`
		Signs     map[string]bool `json:"signs"` // answered by it
	}
	// Chosen accepts or declines what the walk-round proposes.
	Chosen struct {
		Suspect string `json:"suspect"`
		Name    string `json:"name"`
		Accept  bool   `json:"accept"`
		Safety  bool   `json:"safety"`
		Side    string `json:"side,omitempty"`
		Both    bool   `json:"both,omitempty"`
		Reason  string `json:"reason,omitempty"`
	}
	// Planned freezes the plan into the job.
	Planned struct {
		Plan   operation.Plan `json:"plan"`
		Second []string       `json:"second"`
	}
)

func (Answered) kind() string { return "answered" }
func (Measured) kind() string { return "measured" }
func (Recorded) kind() string { return "recorded" }
func (Chosen) kind() string   { return "chosen" }
func (Planned) kind() string  { return "planned" }

// Measure is a command: a value, or several, of one limit.
type Measure struct {
	Limit    inspect.Limit
	Value    float64
	Readings []float64
	Gauge    float64
	Judged   *inspect.Finding // where more than the limit decides, as on a rotor
}

func (s *State) decideWalk(m Meta, cmd Command) (Body, error) {
	switch b := cmd.(type) {
	case Answered:
		if b.Sign == "" || len(b.Sign) > 60 {
			return nil, refuse("missing", "sign", "No sign is named.", "Choose one of the walk-round.")
		}
		if was, ok := s.Walk.Answers[b.Sign]; b.Open && !ok || !b.Open && ok && was == b.Yes {
			return nil, nil
		}
		return b, nil
	case Measure:
		return decideMeasure(b)
	case Recorded:
		if len(b.Amplitude) == 0 {
			return nil, refuse("missing", "csv", "Nothing was recorded.", "Choose the logger's file.")
		}
		return b, nil
	case Chosen:
		b.Reason = strings.TrimSpace(b.Reason)
		if b.Suspect == "" {
			return nil, refuse("missing", "suspect", "Nothing is named.", "Choose one of the proposals.")
		}
		if !b.Accept {
			err := reason("reason", &b.Reason)
			return b, err
		}
		return b, nil
	case Planned:
		switch {
		case s.HasPlan() && s.Worked():
			return nil, refuse("exists", "operation", "Work on this plan has begun.", "Re-plan what is left, or start another job for more work.")
		case len(b.Plan.Steps) == 0:
			return nil, refuse("missing", "operation", "The plan is empty.", "Choose what is to be replaced.")
		}
		return b, nil
	}
	return nil, nil
}

func decideMeasure(b Measure) (Body, error) {
	l := b.Limit
	if l.Value == 0 || strings.TrimSpace(l.Source) == "" {
		return nil, refuse("missing", "limit", "No limit is known for this.", "Look it up with the maker, and enter it with its source.")
	}
	if !(b.Value >= 0 && b.Value < 1e5) {
		return nil, refuse("bad_number", "value", "That is no measurement.", "Enter what the gauge shows, in "+l.Unit+".")
	}
	if b.Gauge <= 0 {
		b.Gauge = l.Gauge
	}
	f := l.Judge(b.Value, b.Gauge)
	if b.Judged != nil {
		f = *b.Judged
	}
	e := Measured{Key: l.Key, Name: l.Name, Place: l.Place, Unit: l.Unit, Value: b.Value, Readings: b.Readings, Limit: l.Value, Least: l.Least, Gauge: b.Gauge,
		Source: l.Source, Jurisdiction: l.Jurisdiction, Verdict: f.Verdict, Says: f.Says}
	if l.Sign != "" && f.Verdict != inspect.MeasureAgain {
		e.Sign, e.Yes = l.Sign, f.Verdict != inspect.OK
	}
	return e, nil
}

func (s *State) applyWalk(e Event) bool {
	w := &s.Walk
	switch b := e.Body.(type) {
	case Answered:
		w.Asked = slices.DeleteFunc(slices.Clone(w.Asked), func(k string) bool { return k == b.Sign })
		if b.Open {
			delete(w.Answers, b.Sign)
		} else {
			s.answer(b.Sign, b.Yes)
		}
	case Measured:
		w.Measured = append(slices.Clip(w.Measured), Measurement{e.ID, b, e.By, e.At})
		if b.Sign != "" {
			s.answer(b.Sign, b.Yes)
		}
	case Recorded:
		w.Drives = append(slices.Clip(w.Drives), Drive{e.ID, b, e.By, e.At})
		for _, k := range sortedKeys(b.Signs) {
			s.answer(k, b.Signs[k])
		}
	case Chosen:
		w.Choices = append(slices.DeleteFunc(slices.Clone(w.Choices), func(c Choice) bool { return c.Suspect == b.Suspect }), Choice{b, e.By, e.At})
	case Planned:
		s.Second = b.Second
		s.setPlan(b.Plan)
	default:
		return false
	}
	return true
}

func (s *State) answer(sign string, yes bool) {
	s.Walk.Answers[sign] = yes
	if !slices.Contains(s.Walk.Asked, sign) {
		s.Walk.Asked = append(slices.Clip(s.Walk.Asked), sign)
	}
}

func sortedKeys(m map[string]bool) []string {
	var out []string
	for k := range m {
		out = append(out, k)
	}
	slices.Sort(out)
	return out
}

// HasPlan says that the work is planned; before that the job is on its walk-round.
func (s *State) HasPlan() bool { return len(s.Plan.Steps) > 0 }

// Title is what the job is called in lists.
func (s *State) Title() string {
	if !s.HasPlan() {
		return "Walk-round"
	}
	return s.Plan.Title
}

// DeclinedSafety lists what the owner declined though it is unsafe.
func (s *State) DeclinedSafety() []Choice {
	return slices.DeleteFunc(slices.Clone(s.Walk.Choices), func(c Choice) bool { return c.Accept || !c.Safety })
}
