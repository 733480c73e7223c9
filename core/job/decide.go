package job

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/unit"
	"lugtak/core/wrench"
)

// Meta goes with every command.
type Meta struct {
	ID     string // made by the client; the first event carries it
	By     string
	Role   string
	At     time.Time
	Seq    int    // what the client had seen; 0 asks for no check
	Second string // a second person, proved by their PIN
}

// Roles.
const (
	Technician = "technician"
	Foreman    = "foreman"
	Reader     = "reader"
)

// Command is what somebody wants to do to a job.
type Command interface{}

// Commands that are more than the event they ask for. All others are asked for
// by their event's body.
type (
	// Pull records one tightening.
	Pull struct {
		Step, Joint, Letter string
		Tool                wrench.Tool
		Adapter             wrench.Adapter // between tool and fastener
		SetNm               float64
		Reading             float64 // of a click wrench or by eye, N·m or degrees
		Trace               []pull.Sample
		Keep                bool
	}
)

// Codes of refusals the pages react to.
const (
	CodeStale     = "stale"
	CodeCondition = "condition"
	CodeOrder     = "order"
	CodeSigned    = "signed"
	CodeGate      = "gate"
	CodeRole      = "role"
	CodeVariant   = "variant"
	CodeOdometer  = "odometer_back"
)

func refuse(code, field, detail, remedy string) error { return fault.New(code, field, detail, remedy) }

// Decide turns a command into events, or refuses it with the reason and the
// remedy. A command whose id is known already gives no events and no error.
func Decide(s *State, m Meta, cmd Command) ([]Event, error) {
	if s.seen[m.ID] {
		return nil, nil
	}
	if m.Role == Reader || m.Role == "" {
		return nil, refuse(CodeRole, "", "You may read here, not write.", "Ask a technician or the foreman.")
	}
	if m.ID == "" || m.By == "" || m.At.IsZero() {
		return nil, refuse("missing", "id", "The record lacks its id, name or time.", "Reload the page and try again.")
	}
	if b, ok := cmd.(Started); ok {
		return decideStart(s, m, b)
	}
	if s.Plan == nil {
		return nil, refuse("missing", "job", "There is no such job.", "Go back to the bays.")
	}
	if r, ok := cmd.(Reopened); ok {
		return s.decideReopen(m, r)
	}
	if s.Signature != nil {
		return nil, refuse(CodeSigned, "", "This job was signed by "+s.Signature.By+" and is closed.", "A foreman can reopen it with a reason.")
	}
	if b, ok := cmd.(Signed); ok {
		return s.decideSign(m, b)
	}
	body, err := s.decide(m, cmd)
	if err != nil || body == nil {
		return nil, err
	}
	return s.emit(m, body), nil
}

func (s *State) emit(m Meta, b Body) []Event {
	return []Event{{ID: m.ID, Job: s.ID, Seq: s.Seq + 1, At: m.At, By: m.By, Kind: b.kind(), Body: b}}
}

func decideStart(s *State, m Meta, b Started) ([]Event, error) {
	switch {
	case s.Plan != nil:
		return nil, refuse("exists", "job", "This job was started before.", "Open it from the bays.")
	case strings.TrimSpace(b.Complaint) == "":
		return nil, refuse("missing", "complaint", "The complaint is empty.", "Write what the driver says, in a few words.")
	case len(b.Complaint) > 500:
		return nil, refuse("too_long", "complaint", "The complaint is too long.", "Keep it under 500 characters.")
	case b.OdometerKM < 0 || b.OdometerKM > 3_000_000:
		return nil, refuse("out_of_range", "odometer", "That is no odometer reading.", "Read it again, in km.")
	case b.OdometerKM < b.LastKM && strings.TrimSpace(b.WhyBack) == "":
		return nil, refuse(CodeOdometer, "odometer", fmt.Sprintf("It stood at %d km on the last job: an odometer does not run backwards.", b.LastKM), "Read it again, or say why, as for a new panel.")
	case len(b.WhyBack) > 200:
		return nil, refuse("too_long", "why_back", "That is too long.", "Say it in a few words.")
	}
	job, ok := strings.CutPrefix(m.ID, "start:")
	if !ok || job == "" {
		return nil, refuse("missing", "id", "The job has no number.", "Reload the page and try again.")
	}
	return (&State{ID: job}).emit(m, b), nil
}

// decide checks one command against the rules and gives the event it becomes.
func (s *State) decide(m Meta, cmd Command) (Body, error) {
	switch b := cmd.(type) {
	case Answered, Measure, Recorded, Chosen, Planned:
		return s.decideWalk(m, b)
	case Compare, Kitted, Moved, Replan:
		return s.decidePlan(m, b)
	case StepDone:
		return s.decideStep(m, b)
	case StepUndone:
		return s.decideUndo(m, b)
	case Postponed:
		if _, err := s.openStep(m, b.Step); err != nil {
			return nil, err
		}
		return b, nil
	case Worked:
		return s.decideWork(m, b)
	case Pull:
		return s.decidePull(m, b)
	case Kept:
		p := s.Pulls[b.Pull]
		switch {
		case p == nil:
			return nil, refuse("missing", "pull", "There is no such pull.", "Pull again.")
		case p.StruckWhy != "":
			return nil, refuse(CodeOrder, "pull", "That pull was struck.", "Pull again.")
		case p.Kept:
			return nil, nil
		}
		return b, s.fresh(m, s.Fasteners[p.Joint+"#"+p.Letter].Seq, p.Seq)
	case Struck:
		p := s.Pulls[b.Pull]
		if p == nil {
			return nil, refuse("missing", "pull", "There is no such pull.", "Choose one from the ledger.")
		}
		if p.StruckWhy != "" {
			return nil, refuse(CodeOrder, "pull", "That pull was struck before.", "Nothing more to do.")
		}
		err := reason("reason", &b.Reason)
		return b, err
	case Slackened:
		if _, err := s.fastener(m, b.Joint, b.Letter); err != nil {
			return nil, err
		}
		err := reason("reason", &b.Reason)
		return b, err
	case Troubled:
		return s.decideTrouble(m, b)
	case Cleared:
		for _, t := range s.Troubles {
			if t.ID == b.Trouble && t.Cleared == nil {
				err := reason("how", &b.How)
				return b, err
			}
		}
		return nil, refuse("missing", "trouble", "That trouble is not open.", "Look at the step again.")
	case Chose:
		return s.decideVariant(m, b)
	case Stocked:
		if !slices.Contains([]string{"have", "ordered", "missing"}, b.Status) {
			return nil, refuse("bad_choice", "status", "A part is there, ordered or missing.", "Choose one of the three.")
		}
		if !slices.ContainsFunc(s.Plan.Parts, func(p operation.Part) bool { return p.Key == b.Part }) {
			return nil, refuse("missing", "part", "The plan has no such part.", "Choose one from the plan.")
		}
		return b, nil
	case Deviated:
		return s.decideDeviation(m, b)
	case Found:
		if len(b.Photo) > maxPhoto {
			return nil, refuse("too_long", "photo", "The picture is too large.", "Take a smaller one.")
		}
		err := reason("text", &b.Text)
		return b, err
	}
	return nil, refuse("bad_choice", "", fmt.Sprintf("Nothing is known of %T.", cmd), "Reload the page.")
}

// maxTurns is more than any tie rod's thread has.
const maxTurns = 60

// maxPhoto bounds a photograph in the journal, after it was shrunk.
const maxPhoto = 1 << 20

// reason trims a text and refuses an empty or endless one.
func reason(field string, s *string) error {
	*s = strings.TrimSpace(*s)
	switch {
	case *s == "":
		return refuse("missing", field, "This needs a few words.", "Write why, so that a reader understands it next year.")
	case len(*s) > 1000:
		return refuse("too_long", field, "That is too long.", "Keep it under 1000 characters.")
	}
	return nil
}

// fresh refuses a command made on an old view of what it touches. Others may
// have gone on elsewhere in the job meanwhile.
func (s *State) fresh(m Meta, touched int, own ...int) error {
	if m.Seq > 0 && touched > m.Seq && !slices.Contains(own, touched) {
		return refuse(CodeStale, "seq", s.LastBy+" has gone on here meanwhile.", "The page shows how it stands now: look, then do it again if it is still to do.")
	}
	return nil
}

func (s *State) fastener(m Meta, joint, letter string) (*Fastener, error) {
	f := s.Fasteners[joint+"#"+letter]
	if f == nil {
		return nil, refuse("missing", "fastener", "The plan has no such fastener.", "Touch one in the picture.")
	}
	return f, s.fresh(m, f.Seq)
}

// openStep finds a step whose needs are met.
func (s *State) openStep(m Meta, id string) (*operation.Step, error) {
	st := s.Plan.Step(id)
	if st == nil {
		return nil, refuse("missing", "step", "The plan has no such step.", "Go back to the bench.")
	}
	return st, s.fresh(m, s.Steps[id].Seq)
}

// Ready says whether a step may be done now, and if not why.
func (s *State) Ready(st *operation.Step) error {
	var before []string
	for _, n := range st.Needs {
		if !s.StepDone(n) {
			before = append(before, "“"+s.Plan.Step(n).Title+"”")
		}
	}
	if len(before) > 0 {
		return refuse(CodeOrder, "step", strings.TrimSpace("Before this: "+strings.Join(before, ", ")+". "+st.Because), "Do that first, or take up another step.")
	}
	if st.Position != "" && !s.Position.Stands(st.Position) {
		return refuse(CodeCondition, "position", fmt.Sprintf("The vehicle is %s; this is done with it %s.", s.Position, st.Position), s.wayTo(st.Position))
	}
	if st.MovesTo == operation.Touching || st.MovesTo == operation.Ground || st.MovesTo == operation.RideHigh && s.Position != operation.Raised { // a jack under the arm leaves the wheel free
		for i := range s.Plan.Joints {
			j := &s.Plan.Joints[i]
			if !j.Bears {
				continue
			}
			for _, l := range j.Letters {
				f := s.Fasteners[j.ID+"#"+l]
				snug := st.MovesTo == operation.Touching && j.Condition == onGround && f.Done > 0
				if f.Owed() && !snug {
					return refuse(CodeCondition, "position", "The "+j.One+" is not set: no weight may roll on a bearing whose "+j.One+" is loose.",
						"Tighten it first, with the rotation held. Then lower.")
				}
			}
		}
	}
	for _, t := range s.OpenTroubles() {
		if t.Step == st.ID && t.Letter == "" {
			return refuse("trouble", "step", "There is trouble here: "+t.What+".", "Clear it first.")
		}
	}
	return nil
}

// wayTo names the step that brings the vehicle there.
func (s *State) wayTo(p operation.Position) string {
	for i, st := range s.Plan.Steps {
		if st.MovesTo == p && !s.Steps[st.ID].Done {
			return fmt.Sprintf("Step %d brings it there: “%s”.", i+1, st.Title)
		}
	}
	return "Bring it there first."
}

func (s *State) decideStep(m Meta, b StepDone) (Body, error) {
	st, err := s.openStep(m, b.Step)
	if err != nil {
		return nil, err
	}
	switch st.Verb {
	case operation.Crack, operation.Remove, operation.Start, operation.Tighten:
		return nil, refuse("bad_choice", "step", "This step is kept fastener by fastener.", "Keep its fasteners.")
	}
	if s.Steps[b.Step].Done {
		return nil, refuse(CodeOrder, "step", "That step is kept already.", "Go on with the next.")
	}
	if err := s.Ready(st); err != nil {
		return nil, err
	}
	if len(st.Choices) > 0 && !slices.ContainsFunc(st.Choices, func(c operation.Choice) bool { return c.Key == b.Choice }) {
		return nil, refuse("missing", "choice", "This step asks for an answer.", "Choose one of them.")
	}
	if len(b.Note) > 1000 {
		return nil, refuse("too_long", "note", "That note is too long.", "Keep it under 1000 characters.")
	}
	if st.Counts == "" {
		b.Turns = 0
	} else if !(b.Turns > 0 && b.Turns <= maxTurns) {
		return nil, refuse("missing", "turns", "The turns are not counted.", "Count whole turns and quarters, as 17.25, and write them down for this side.")
	}
	if st.Counts == "in" {
		for _, t := range s.Turns() {
			mine := math.Abs(b.Turns-s.turnsOut(st.Corner)) < 3
			if t.Corner != st.Corner && t.Out == b.Turns && !mine {
				return nil, refuse("other_side", "turns", fmt.Sprintf("%s turns were counted on the %s; this is the %s.", unit.Number(t.Out, 2), t.Corner.Side(), st.Corner.Side()), "Take the number of this side: left and right are never exchanged.")
			}
		}
	}
	if m := s.Match(st.Part); st.Verb == operation.Compare && m != nil && !m.Accept {
		return nil, refuse("refused_part", "step", "The new "+m.Title+" was refused: "+m.Why()+".", "Get the right one, lay it beside the old and compare again.")
	}
	return b, nil
}

func (s *State) decideUndo(m Meta, b StepUndone) (Body, error) {
	st, err := s.openStep(m, b.Step)
	if err != nil {
		return nil, err
	}
	if st.MovesTo != "" {
		return nil, refuse(CodeOrder, "step", "A vehicle that was moved is not unmoved by a record.", "Move it, and keep the step that does.")
	}
	if st.Verb == operation.Tighten {
		return nil, refuse(CodeOrder, "step", "Pulls are struck one by one.", "Strike the wrong pull in the ledger.")
	}
	if !s.Steps[b.Step].Done {
		return nil, refuse(CodeOrder, "step", "That step is not kept.", "Nothing to take back.")
	}
	for _, other := range s.Plan.Steps {
		if slices.Contains(other.Needs, b.Step) && (s.StepDone(other.ID) || len(s.Steps[other.ID].Letters) > 0) {
			return nil, refuse(CodeOrder, "step", "“"+other.Title+"” was done after it and rests on it.", "Take that back first, or note the correction as a finding.")
		}
	}
	err = reason("reason", &b.Reason)
	return b, err
}

func (s *State) decideWork(m Meta, b Worked) (Body, error) {
	st, err := s.openStep(m, b.Step)
	if err != nil {
		return nil, err
	}
	if st.Joint == "" || st.Verb == operation.Tighten {
		return nil, refuse("bad_choice", "step", "This step has no fasteners to keep.", "Go back to the bench.")
	}
	if err := s.Ready(st); err != nil {
		return nil, err
	}
	b.Verb, b.Joint = st.Verb, st.Joint
	j := s.Plan.Joint(st.Joint)
	want := map[operation.Verb]Mark{operation.Crack: Rest, operation.Remove: Loose, operation.Start: Out}[st.Verb]
	if len(b.Letters) == 0 { // all that are still to do
		for _, l := range j.Letters {
			if f := s.Fasteners[j.ID+"#"+l]; !slices.Contains(s.Steps[b.Step].Letters, l) && f.Trouble == "" {
				b.Letters = append(b.Letters, l)
			}
		}
	}
	if len(b.Letters) == 0 {
		return nil, refuse(CodeOrder, "step", "Nothing is left to do here.", "Clear the trouble, or go on.")
	}
	for _, l := range b.Letters {
		f, err := s.fastener(m, j.ID, l)
		if err != nil {
			return nil, err
		}
		if f.Trouble != "" {
			return nil, refuse("trouble", "fastener", "There is trouble at "+j.One+" "+l+".", "Clear it first.")
		}
		loosePlain := st.Verb == operation.Remove && f.Phase == Rest                               // seen loose by a trouble cleared
		loosePlain = loosePlain || st.Verb == operation.Start && f.Phase == Rest && !s.opens(j.ID) // nothing was there before
		if f.Phase != want && !loosePlain && !(st.Verb == operation.Crack && f.Phase == Loose) {
			return nil, refuse(CodeOrder, "fastener", fmt.Sprintf("%s %s is “%s” already.", j.One, l, markWords[f.Mark()]), "Look at the picture and go on with the next.")
		}
	}
	if st.Verb == operation.Start && j.Renew && !b.Renewed && s.Deviation("renew:"+j.ID) == nil {
		return nil, refuse(CodeGate, "renewed", "These are used once: new ones go in.", "Take new hardware, or have a deviation signed for the old.")
	}
	return b, nil
}

var markWords = map[Mark]string{Rest: "not touched", Loose: "broken loose", Out: "out, in its tray", InHand: "started by hand", SnugMark: "snug",
	Between: "between stages", Proved: "proved, marked", Excused: "signed deviation", InTrouble: "trouble"}

// Words says a mark in the words of the bay.
func (m Mark) Words() string { return markWords[m] }

// Sheared is the trouble a re-planning answers with an extraction.
const Sheared = "sheared"

// Troubles are those a page offers; any other may be written.
var Troubles = []string{"stuck", "rounded", Sheared, "thread damaged", "wrong part", "part missing", "something else"}

func (s *State) decideTrouble(m Meta, b Troubled) (Body, error) {
	st, err := s.openStep(m, b.Step)
	if err != nil {
		return nil, err
	}
	if err := reason("what", &b.What); err != nil {
		return nil, err
	}
	if b.Letter == "" {
		b.Joint = ""
		return b, nil
	}
	b.Joint = st.Joint
	f, err := s.fastener(m, b.Joint, b.Letter)
	if err != nil {
		return nil, err
	}
	if f.Trouble != "" {
		return nil, refuse("trouble", "fastener", "There is trouble at this one already.", "Clear that first.")
	}
	return b, nil
}

func (s *State) decideReopen(m Meta, b Reopened) ([]Event, error) {
	switch {
	case s.Signature == nil:
		return nil, refuse(CodeOrder, "", "The job is open.", "Nothing to do.")
	case m.Role != Foreman:
		return nil, refuse(CodeRole, "", "Only a foreman reopens a signed job.", "Ask the foreman.")
	}
	if err := reason("reason", &b.Reason); err != nil {
		return nil, err
	}
	return s.emit(m, b), nil
}

func (s *State) decideSign(m Meta, b Signed) ([]Event, error) {
	if err := s.fresh(m, s.Seq); err != nil {
		return nil, err
	}
	var open []string
	for _, g := range s.Gates() {
		if !g.Met && g.Deviation == nil {
			open = append(open, g.Title)
		}
	}
	if len(open) > 0 {
		return nil, refuse(CodeGate, "", fmt.Sprintf("%d gates are open: %s.", len(open), strings.Join(open[:min(3, len(open))], "; ")), "Meet each of them, or have a deviation signed where that is allowed.")
	}
	b.Role = m.Role
	return s.emit(m, b), nil
}

func (s *State) decideDeviation(m Meta, b Deviated) (Body, error) {
	if err := reason("reason", &b.Reason); err != nil {
		return nil, err
	}
	for _, g := range s.Gates() {
		if g.Key != b.Gate {
			continue
		}
		switch {
		case g.Met || g.Deviation != nil:
			return nil, refuse(CodeOrder, "gate", "That gate is not open.", "Nothing to pass over.")
		case !g.Passable:
			return nil, refuse(CodeGate, "gate", "No signature passes this over: "+g.Title+".", g.Remedy)
		case g.Second && m.Second == "":
			return nil, refuse("missing", "second", "On brakes and steering a second person signs too.", "Have a colleague enter name and PIN.")
		case g.Second && m.Second == m.By:
			return nil, refuse("bad_choice", "second", "The second person is another person.", "Have a colleague enter name and PIN.")
		}
		b.Second = ""
		if g.Second {
			b.Second = m.Second
		}
		return b, nil
	}
	return nil, refuse("missing", "gate", "There is no such gate.", "Look at the list again.")
}
