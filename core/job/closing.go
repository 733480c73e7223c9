package job

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/record"
	"lugtak/core/unit"
)

// Closing is what stands between the work and the signature, and the signature.
type Closing struct {
	Deviations []Deviation
	Findings   []Finding
	Photos     []Photo // how things were before they were opened
	Signature  *Signature
	ClosedDues []ClosedDue
	Reopenings []Reopening
}

// Reopening is a signature that was taken off again, with why.
type Reopening struct {
	Reason   string
	By       string
	At       time.Time
	SignedBy string
	SignedAt time.Time
}

// Deviation is a gate passed over.
type Deviation struct {
	record.Deviated
	By  string
	At  time.Time
	Seq int
}

// Finding is something for the owner.
type Finding struct {
	ID    string
	Text  string
	Photo bool   // the journal has it
	Place string // where it was seen
	By    string
	At    time.Time
}

// Says is the finding with its place.
func (f Finding) Says() string {
	if f.Place == "" {
		return f.Text
	}
	return f.Text + " (" + f.Place + ")"
}

// Signature ends a job. Since the second release it holds the gates, what is owed
// after it leaves, and the versions of what it rests on, as they were seen.
type Signature struct {
	By        string
	Role      Role
	At        time.Time
	Note      string
	Gates     []record.Gate
	FollowUps []record.FollowUp
	Versions  []string
}

// The commands that close a job.
type (
	// Deviate passes a gate over, by name.
	Deviate struct {
		Gate, Reason string
		LengthsMM    []float64 // of bolts that go in once more, where their sheet has a limit
	}
	// Find notes a finding outside the job, for the owner to decide.
	Find struct {
		Text  string
		Photo []byte // JPEG
		Place string // where it was seen
	}
	// Sign freezes the job.
	Sign struct{ Note string }
	// Reopen thaws it.
	Reopen struct{ Reason string }
)

func (c Closing) clone() Closing {
	c.Deviations = slices.Clip(c.Deviations)
	c.Findings = slices.Clip(c.Findings)
	c.Photos = slices.Clip(c.Photos)
	return c
}

// Deviation finds the last deviation signed for a gate.
func (c *Closing) Deviation(gate string) *Deviation {
	for i := len(c.Deviations) - 1; i >= 0; i-- {
		if c.Deviations[i].Gate == gate {
			return &c.Deviations[i]
		}
	}
	return nil
}

// FollowUps lists what is owed after the vehicle has left: as it was signed for, or as
// it stands now.
func (s *State) FollowUps() []record.FollowUp {
	if s.Signature != nil && s.Signature.Gates != nil {
		return s.Signature.FollowUps
	}
	var out []record.FollowUp
	for i := range s.Plan.Joints {
		j := &s.Plan.Joints[i]
		if (j.AfterDrive || j.FollowUp) && s.House.FollowUpKM > 0 && s.opens(j.ID) {
			out = append(out, record.FollowUp{
				Kind:  "wheel",
				Title: unit.Capital(j.Title) + " again",
				KM:    s.House.FollowUpKM,
				Joint: j.ID,
			})
		}
	}
	for i := range s.Plan.Joints {
		if j := &s.Plan.Joints[i]; j.ByBolt {
			out = append(out, record.FollowUp{
				Kind:  "figure",
				Title: "The maker's figure of the " + j.Title + ": they are tight by the bolt alone",
				Days:  s.House.FollowUpDays,
				Joint: j.ID,
			})
		}
	}
	for j, f := range s.all() {
		if !f.LeftUnmeasured() {
			continue
		}
		out = append(out, record.FollowUp{
			Kind:   "not_measured",
			Title:  fmt.Sprintf("%s %s was not measured: look at it, see its mark unbroken", unit.Capital(j.One), f.Letter),
			KM:     s.House.FollowUpKM,
			Joint:  j.ID,
			Letter: f.Letter,
		})
	}
	for _, st := range s.Plan.Steps {
		for _, a := range st.Answers {
			if a.Opens != "" && s.Steps[st.ID].Done && s.Steps[st.ID].Choice == a.Key {
				out = append(out, record.FollowUp{Kind: a.Opens, Title: unit.Capital(a.Opens) + ": " + a.Title})
			}
		}
	}
	for _, p := range s.DeclinedSafety() {
		out = append(out, record.FollowUp{Kind: "advice", Title: p.Name + " declined: unsafe"})
	}
	if n := len(s.Trials); n > 0 {
		for _, f := range s.Trials[n-1].Felt {
			if f.Found != FeltSound {
				out = append(out, record.FollowUp{Kind: "advice", Title: "On the road test, " + f.Do + ": " + f.Note})
			}
		}
	}
	out = append(out, s.darkFluids()...)
	for i := range out {
		out[i].Days = s.House.FollowUpDays
	}
	return out
}

// maxPhoto bounds a photograph in the journal, after it was shrunk.
const maxPhoto = 1 << 20

func (s *State) decideFind(_ Meta, b Find) (record.Body, error) {
	if len(b.Photo) > maxPhoto {
		return nil, refuse(fault.TooLong, "photo", "The picture is too large.", "Take a smaller one.")
	}
	if err := reason("text", &b.Text); err != nil {
		return nil, err
	}
	return record.Found(b), nil
}

func (s *State) applyFound(e Event, b record.Found) {
	f := Finding{ID: string(e.ID), Text: b.Text, Photo: len(b.Photo) > 0, Place: b.Place, By: e.By, At: e.At}
	s.Findings = append(s.Findings, f)
}

func (s *State) decideDeviate(m Meta, b Deviate) (record.Body, error) {
	if err := reason("reason", &b.Reason); err != nil {
		return nil, err
	}
	i := slices.IndexFunc(s.Gates(), func(g Gate) bool { return g.Key == b.Gate })
	if i < 0 {
		return nil, refuse(fault.Missing, "gate", "There is no such gate.", "Look at the list again.")
	}
	g := s.Gates()[i]
	switch {
	case g.Closed():
		return nil, refuse(fault.Order, "gate", "That gate is not open.", "Nothing to pass over.")
	case !g.Passable:
		return nil, refuse(fault.Gate, "gate", "No signature passes this over: "+g.Title+".", g.Remedy)
	case g.Second && m.Second == "":
		return nil, refuse(fault.Missing, "second", "Here a second person signs too.",
			"Have a colleague enter name and PIN.")
	case g.Second && m.Second == m.By:
		return nil, refuse(fault.BadChoice, "second", "The second person is another person.",
			"Have a colleague enter name and PIN.")
	}
	if g.LongestMM > 0 {
		measured, err := measuredLengths(g, b.LengthsMM)
		if err != nil {
			return nil, err
		}
		b.Reason = measured + b.Reason
	}
	d := record.Deviated{Gate: b.Gate, Reason: b.Reason}
	if g.Second {
		d.Second = m.Second
	}
	return d, nil
}

// measuredLengths says what was measured of bolts that were turned by angle and go in once
// more. It refuses one that is longer than its sheet allows: it has stretched.
func measuredLengths(g Gate, mm []float64) (string, error) {
	limit := unit.Number(g.LongestMM, 2) + " mm"
	if len(mm) != g.Lengths {
		return "", refuse(fault.Missing, "lengths",
			fmt.Sprintf("They go in once more only measured: %d lengths are wanted, %d were given.", g.Lengths, len(mm)),
			"Measure each over all, one figure for each, at most "+limit+".")
	}
	texts := make([]string, len(mm))
	for i, v := range mm {
		texts[i] = unit.Number(v, 2)
		switch {
		case math.IsNaN(v) || v < g.LongestMM/2:
			return "", refuse(fault.BadNumber, "lengths", texts[i]+" mm is no length of this bolt.",
				"Measure it over all, in millimetres; the sheet allows "+limit+".")
		case v > g.LongestMM:
			return "", refuse(fault.Gate, "lengths", texts[i]+" mm is longer than "+limit+": it has stretched.",
				"Fit a new one. No signature makes it shorter.")
		}
	}
	return fmt.Sprintf("measured %s mm, at most %s: ", strings.Join(texts, ", "), limit), nil
}

func (s *State) applyDeviated(e Event, b record.Deviated) {
	s.Deviations = append(s.Deviations, Deviation{Deviated: b, By: e.By, At: e.At, Seq: e.Seq})
	kind, of := ParseGateKey(b.Gate)
	if kind != GateDebt {
		return
	}
	id, err := ParseFastenerID(of)
	if f := s.Fasteners[id]; err == nil && f != nil {
		f.Waived = true
		f.Seq = e.Seq
	}
}

// namedGates is as many as a refusal names.
const namedGates = 3

func (s *State) decideSign(m Meta, b Sign) (record.Body, error) {
	if err := s.fresh(m, s.Seq); err != nil {
		return nil, err
	}
	var open []string
	var seen []record.Gate
	for _, g := range s.Gates() {
		w := record.Gate{Key: g.Key, Title: g.Title, Met: g.Met}
		switch {
		case !g.Closed():
			open = append(open, g.Title)
		case !g.Met:
			w.Passed = g.Deviation.By
		}
		seen = append(seen, w)
	}
	if len(open) > 0 {
		some := strings.Join(open[:min(namedGates, len(open))], "; ")
		return nil, refuse(fault.Gate, "", fmt.Sprintf("%d gates are open: %s.", len(open), some),
			"Meet each of them, or have a deviation signed where that is allowed.")
	}
	return record.Signed{
		Role:      string(m.Role),
		Note:      trimmed(b.Note),
		Gates:     seen,
		FollowUps: s.FollowUps(),
		Versions:  s.Plan.Sources,
		Account:   toAccount(s.Account()),
	}, nil
}

func (s *State) applySigned(e Event, b record.Signed) {
	s.Signature = &Signature{
		By:        e.By,
		Role:      Role(b.Role),
		At:        e.At,
		Note:      b.Note,
		Gates:     b.Gates,
		FollowUps: b.FollowUps,
		Versions:  b.Versions,
	}
}

func (s *State) decideReopen(m Meta, b Reopen) (record.Body, error) {
	switch {
	case s.Signature == nil:
		return nil, refuse(fault.Order, "", "The job is open.", "Nothing to do.")
	case m.Role != Foreman:
		return nil, refuse(fault.Role, "", "Only a foreman reopens a signed job.", "Ask the foreman.")
	}
	if err := reason("reason", &b.Reason); err != nil {
		return nil, err
	}
	return record.Reopened(b), nil
}

func (s *State) applyReopened(e Event, b record.Reopened) {
	r := Reopening{Reason: b.Reason, By: e.By, At: e.At}
	if s.Signature != nil {
		r.SignedBy, r.SignedAt = s.Signature.By, s.Signature.At
	}
	s.Reopenings = append(slices.Clip(s.Reopenings), r)
	s.Signature = nil
	s.ClosedDues = nil // what is owed after the next signature is a list of its own
}
