package job

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/unit"
)

// Walk is what the walk-round has brought together before the work is planned.
type Walk struct {
	Answers   map[string]bool // by sign or test, and its corner: see AnswerKey
	Asked     []string        // in the order they were answered
	Given     map[string]Given
	Struck    []Given // answers taken back
	Measured  []Measurement
	Drives    []Drive
	Proposals []Proposal
}

// Given is an answer as it was given: by whom, and when.
type Given struct {
	Sign, Ask, Corner string
	Position          string // how the vehicle stood; empty in a journal of old
	Yes               bool
	By                string
	At                time.Time
}

// OnTheRoad is the position of what is felt in driving.
const OnTheRoad = "drive"

// Measurement is a measured value with its verdict.
type Measurement struct {
	ID string
	record.Measured
	By string
	At time.Time
}

// Drive is a recorded road test.
type Drive struct {
	ID        string
	Tyre      string
	AxleRatio float64
	Step      float64   // orders from one line to the next
	Amplitude []float64 // m/s² by order
	Falls     []inspect.Fall
	Peaks     []inspect.Peak
	Signs     map[string]bool // what it answered
	Simulated bool
	By        string
	At        time.Time
}

// Proposal is work the walk-round proposed, accepted or declined.
type Proposal struct {
	record.ProposalTaken
	By    string
	At    time.Time
	begun bool // it was decided with the work begun: what is said by then may be what was seen
}

// The commands of a walk-round.
type (
	// Answer answers a sign or test; Open takes the answer back.
	Answer struct {
		Sign, Ask string
		Yes, Open bool
		Corner    string // FL, FR, RL or RR where it was looked at corner by corner
		Position  string // how the vehicle stood, as the library asks for it
	}
	// Measure holds a value, or several, against a limit.
	Measure struct {
		Limit    inspect.Limit
		Value    float64
		Readings []float64
		Gauge    float64
		Judged   *inspect.Finding // where more than the limit decides, as on a rotor

		Step      operation.StepID // of the plan, where it is taken at the bench
		Corner    string
		Simulated bool
	}
	// RecordDrive takes a recorded road test with what stood out of it.
	RecordDrive struct {
		Tyre      string
		AxleRatio float64
		Step      float64
		Amplitude []float64
		Falls     []inspect.Fall
		Peaks     []inspect.Peak
		Signs     map[string]bool
		Simulated bool
	}
	// TakeProposal accepts or declines what the walk-round proposes.
	TakeProposal struct {
		Suspect, Name  string
		Accept, Safety bool
		Side           string
		Both           bool
		Reason         string

		Chance float64  // that it is at fault, as it was said, 0 to 1; 0 where nothing was
		Plain  float64  // the same by the library alone, without the shop's own cases
		Work   []string // operations that renew it
	}
	// PlanWork freezes the plan into the job.
	PlanWork struct {
		Tasks []plan.Task       // what was ordered,
		Ways  map[string]string // and by which schools
		Plan  plan.Plan         `json:"-"`
		House House             `json:"-"`
	}
)

// maxSign bounds the key of a sign.
const maxSign = 60

func (s *State) decideAnswer(_ Meta, b Answer) (record.Body, error) {
	if b.Sign == "" || len(b.Sign) > maxSign {
		return nil, refuse(fault.Missing, "sign", "No sign is named.", "Choose one of the walk-round.")
	}
	if b.Corner != "" && !slices.Contains(corners, b.Corner) {
		return nil, refuse(fault.BadChoice, "corner", "That is no corner of a vehicle.", "Choose FL, FR, RL or RR.")
	}
	was, answered := s.Walk.Answers[AnswerKey(b.Sign, b.Corner)]
	nothingToTakeBack := b.Open && !answered
	same := !b.Open && answered && was == b.Yes
	if nothingToTakeBack || same {
		return nil, nil
	}
	return record.Answered(b), nil
}

// corners are those a test may be done at.
var corners = []string{"FL", "FR", "RL", "RR"}

// AnswerKey is what an answer goes by: its sign, and the corner it was looked at.
func AnswerKey(sign, corner string) string {
	if corner == "" {
		return sign
	}
	return sign + "@" + corner
}

// AnswerOf is the sign and the corner an answer goes by.
func AnswerOf(key string) (sign, corner string) {
	sign, corner, _ = strings.Cut(key, "@")
	return sign, corner
}

// AnsweredSince says that an answer was given after a drive, by word, by a measurement or by a
// recording: at its corner, or of a sign without one anywhere.
func (s *State) AnsweredSince(key string, drive *Trial) bool {
	sign, corner := AnswerOf(key)
	for _, g := range s.Walk.Given {
		if g.Sign == sign && (corner == "" || g.Corner == corner) && g.At.After(drive.At) {
			return true
		}
	}
	measured := func(m Measurement) bool { return m.Sign == sign && m.Step == "" && m.At.After(drive.At) }
	recorded := func(d Drive) bool {
		_, says := d.Signs[sign]
		return says && d.At.After(drive.At)
	}
	return slices.ContainsFunc(s.Walk.Measured, measured) || slices.ContainsFunc(s.Walk.Drives, recorded)
}

// maxMeasured is beyond any gauge of a workshop, in any unit.
const maxMeasured = 1e5

func (s *State) decideMeasure(_ Meta, b Measure) (record.Body, error) {
	l := b.Limit
	if err := s.measuredAt(&b); err != nil {
		return nil, err
	}
	if l = s.LimitAt(l, b.Corner); l.Beside != "" && l.Value == 0 {
		return nil, refuse(fault.Missing, l.Beside, "The "+inspect.MeasureName(l.Beside)+" it is held beside is not "+
			"measured.",
			"Measure that first, at the same corner.")
	}
	if l.Value == 0 || trimmed(l.Source) == "" {
		return nil, refuse(fault.Missing, "limit", "No limit is known for this.",
			"Look it up with the maker, and enter it with its source.")
	}
	if l.Floor > 0 && l.Value <= l.Floor {
		return nil, refuse(fault.OutOfRange, "limit",
			fmt.Sprintf("Up to %s %s it has no play at all.", unit.Number(l.Value, 3), l.Unit),
			fmt.Sprintf("Give what it may have at most, over %s. One that its maker preloads is not proved by play.",
				unit.Number(l.Floor, 3)))
	}
	if !(b.Value >= 0 && b.Value < maxMeasured) {
		return nil, refuse(fault.BadNumber, "value", "That is no measurement.",
			"Enter what the gauge shows, in "+l.Unit+".")
	}
	if b.Gauge <= 0 {
		b.Gauge = l.Gauge
	}
	f := l.Judge(b.Value, b.Gauge)
	if b.Judged != nil {
		f = *b.Judged
	}
	e := record.Measured{
		Key:          l.Key,
		Name:         l.Name,
		Place:        l.Place,
		Unit:         l.Unit,
		Value:        b.Value,
		Readings:     b.Readings,
		Limit:        l.Value,
		Least:        l.Least,
		Floor:        l.Floor,
		Gauge:        b.Gauge,
		Source:       l.Source,
		Jurisdiction: l.Jurisdiction,
		Verdict:      string(f.Verdict),
		Says:         f.Says,
		Step:         string(b.Step),
		Corner:       b.Corner,
		Simulated:    b.Simulated,
		Advise:       f.Advise,
	}
	if l.Sign != "" && f.Verdict != inspect.MeasureAgain {
		e.Sign = l.Sign
		e.Yes = f.Verdict != inspect.OK
	}
	return e, nil
}

func (s *State) decideDrive(_ Meta, b RecordDrive) (record.Body, error) {
	if len(b.Amplitude) == 0 {
		return nil, refuse(fault.Missing, "csv", "Nothing was recorded.", "Choose the logger's file.")
	}
	return record.Driven{
		Tyre:      b.Tyre,
		AxleRatio: b.AxleRatio,
		Step:      b.Step,
		Amplitude: b.Amplitude,
		Falls:     each(b.Falls, toFall),
		Peaks:     each(b.Peaks, toPeak),
		Signs:     b.Signs,
		Simulated: b.Simulated,
	}, nil
}

func (s *State) decideProposal(_ Meta, b TakeProposal) (record.Body, error) {
	b.Reason = trimmed(b.Reason)
	if b.Suspect == "" {
		return nil, refuse(fault.Missing, "suspect", "Nothing is named.", "Choose one of the proposals.")
	}
	if !(b.Chance >= 0 && b.Chance <= 1 && b.Plain >= 0 && b.Plain <= 1) {
		return nil, refuse(fault.OutOfRange, "chance", "That is no chance.", "Give it from 0 to 1.")
	}
	if !b.Accept {
		if err := reason("reason", &b.Reason); err != nil {
			return nil, err
		}
	}
	return record.ProposalTaken{
		Suspect: b.Suspect,
		Name:    b.Name,
		Accept:  b.Accept,
		Safety:  b.Safety,
		Side:    b.Side,
		Both:    b.Both,
		Reason:  b.Reason,
		Chance:  math.Round(1000*b.Chance) / 1000,
		Plain:   math.Round(1000*b.Plain) / 1000,
		Work:    b.Work,
	}, nil
}

func (s *State) decidePlan(_ Meta, b PlanWork) (record.Body, error) {
	switch {
	case s.HasPlan() && s.Begun():
		return nil, refuse(fault.Exists, "operation", "Work on this plan has begun.",
			"Re-plan what is left, or start another job for more work.")
	case len(b.Plan.Steps) == 0:
		return nil, refuse(fault.Missing, "operation", "The plan is empty.", "Choose what is to be replaced.")
	}
	house := record.House(b.House)
	return record.Planned{Plan: toPlan(b.Plan), Second: b.House.Second, House: &house}, nil
}

func (s *State) applyAnswered(e Event, b record.Answered) {
	key := AnswerKey(b.Sign, b.Corner)
	if b.Open {
		if was, ok := s.Walk.Given[key]; ok {
			s.Walk.Struck = append(slices.Clip(s.Walk.Struck), was)
		}
		s.Walk.forget(key)
		return
	}
	s.Walk.Given[key] = Given{
		Sign:     b.Sign,
		Ask:      b.Ask,
		Corner:   b.Corner,
		Position: b.Position,
		Yes:      b.Yes,
		By:       e.By,
		At:       e.At,
	}
	s.Walk.forgetOrder(key)
	s.Walk.supersede(b)
	s.Walk.answer(key, b.Yes)
}

// supersede takes back what an answer overtakes: found at a corner, it is not nowhere;
// nowhere, it is at no corner.
func (w *Walk) supersede(b record.Answered) {
	if b.Corner != "" {
		if yes, ok := w.Answers[b.Sign]; ok && b.Yes && !yes {
			w.forget(b.Sign)
		}
		return
	}
	for _, c := range corners {
		key := AnswerKey(b.Sign, c)
		if yes, ok := w.Answers[key]; ok && yes != b.Yes {
			w.forget(key)
		}
	}
}

func (s *State) applyMeasured(e Event, b record.Measured) {
	s.Walk.Measured = append(slices.Clip(s.Walk.Measured), Measurement{ID: string(e.ID), Measured: b, By: e.By, At: e.At})
	s.gauged(b)
	if b.Sign != "" && b.Step == "" { // at the bench the part is new, or will be
		s.Walk.answer(b.Sign, b.Yes)
	}
}

func (s *State) applyDriven(e Event, b record.Driven) {
	d := Drive{
		ID:        string(e.ID),
		Tyre:      b.Tyre,
		AxleRatio: b.AxleRatio,
		Step:      b.Step,
		Amplitude: b.Amplitude,
		Falls:     each(b.Falls, fromFall),
		Peaks:     each(b.Peaks, fromPeak),
		Signs:     b.Signs,
		Simulated: b.Simulated,
		By:        e.By,
		At:        e.At,
	}
	s.Walk.Drives = append(slices.Clip(s.Walk.Drives), d)
	for _, k := range slices.Sorted(maps.Keys(b.Signs)) {
		s.Walk.answer(k, b.Signs[k])
	}
}

func (s *State) applyProposal(e Event, b record.ProposalTaken) {
	others := slices.DeleteFunc(slices.Clone(s.Walk.Proposals), func(p Proposal) bool {
		return p.Suspect == b.Suspect
	})
	s.Walk.Proposals = append(others, Proposal{ProposalTaken: b, By: e.By, At: e.At, begun: s.Begun()})
}

func (s *State) applyPlanned(e Event, b record.Planned) {
	s.settle(b.House, b.Second)
	s.setPlan(fromPlan(b.Plan), e.Seq)
}

func (w Walk) clone() Walk {
	w.Answers = cloneMap(w.Answers)
	w.Given = cloneMap(w.Given)
	return w
}

func (w *Walk) answer(sign string, yes bool) {
	w.Answers[sign] = yes
	if !slices.Contains(w.Asked, sign) {
		w.Asked = append(slices.Clip(w.Asked), sign)
	}
}

func (w *Walk) forget(sign string) {
	delete(w.Answers, sign)
	delete(w.Given, sign)
	w.forgetOrder(sign)
}

func (w *Walk) forgetOrder(sign string) {
	w.Asked = slices.DeleteFunc(slices.Clone(w.Asked), func(k string) bool { return k == sign })
}

// DeclinedSafety lists what the owner declined though it is unsafe.
func (s *State) DeclinedSafety() []Proposal {
	return slices.DeleteFunc(slices.Clone(s.Walk.Proposals), func(p Proposal) bool {
		return p.Accept || !p.Safety
	})
}
