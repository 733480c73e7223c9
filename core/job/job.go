// Package job is the plan being carried out: a journal of events, the state they add
// up to, and the gates that block a step or the signature.
//
// Decide and Apply are pure: every time comes in with the command. The state is made
// of parts that stand in files of their own; each decides the commands that concern
// it and applies the events that follow.
package job

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/record"
	"lugtak/core/unit"
)

// Event is one line of the journal. It is never changed.
type Event = record.Event

// State is what a job's events add up to.
type State struct {
	ID     string
	Seq    int
	Last   time.Time
	LastBy string
	seen   map[record.EventID]seen

	authors []string // of the events, from the first

	// Late is how many records were kept without network and came later.
	Late int
	// Broken is why nobody goes on from here, as a sentence without its end: the store found that
	// the journal is not the one that was sealed, or cannot be read. It comes from no event.
	Broken string

	Intake
	Walk Walk
	Planning
	Progress
	Fastening
	Mishaps
	Closing
}

// seen is a command that became an event.
type seen struct {
	ask, by string
	seq     int
	kind    record.Kind
}

// Role is what a person may do.
type Role string

// Roles.
const (
	Technician Role = "technician"
	Foreman    Role = "foreman"
	Reader     Role = "reader"
)

// Meta goes with every command.
type Meta struct {
	ID     record.EventID // made by the client; the event carries it
	By     string
	Role   Role
	At     time.Time
	Seq    int    // what the client had seen; 0 asks for no check
	Second string // a second person, proved by their PIN

	// Sent is when it came, where it was kept on a tablet without network first: what the
	// same person did before it does not make it stale. Zero for all others.
	Sent time.Time
}

// Command is what somebody wants to do to a job: one of the types in commands. What
// the server adds to it is left out of its JSON, so that the JSON is what was asked.
type Command any

func refuse(code fault.Code, field, detail, remedy string) error {
	return fault.New(code, field, detail, remedy)
}

// decider decides the commands of one type; ok is false for those of others.
type decider func(*State, Meta, Command) (bodies []record.Body, err error, ok bool)

// on makes the decider of one type of command, which becomes one event or none.
func on[C Command](decide func(*State, Meta, C) (record.Body, error)) decider {
	return onEach(func(s *State, m Meta, c C) ([]record.Body, error) { return one(decide(s, m, c)) })
}

// onEach makes the decider of a command that becomes an event for each thing it says.
func onEach[C Command](decide func(*State, Meta, C) ([]record.Body, error)) decider {
	return func(s *State, m Meta, cmd Command) ([]record.Body, error, bool) {
		c, ok := cmd.(C)
		if !ok {
			return nil, nil, false
		}
		bodies, err := decide(s, m, c)
		return bodies, err, true
	}
}

// one is what a command that becomes one event or none came to.
func one(body record.Body, err error) ([]record.Body, error) {
	if body == nil || err != nil {
		return nil, err
	}
	return []record.Body{body}, nil
}

// commands lists what can be done to an open job.
var commands = []decider{
	on((*State).decideAnswer),
	on((*State).decideMeasure),
	on((*State).decideDrive),
	on((*State).decideProposal),
	on((*State).decidePlan),
	on((*State).decideKeep),
	on((*State).decideUndo),
	on((*State).decidePostpone),
	on((*State).decideHandle),
	on((*State).decideHardware),
	on((*State).decideSetWrench),
	on((*State).decideClick),
	onEach((*State).decideRound),
	on((*State).decideTrace),
	on((*State).decideTurn),
	on((*State).decideUnmeasured),
	on((*State).decideStrikePull),
	on((*State).decideSlacken),
	on((*State).decideTrouble),
	on((*State).decideClear),
	on((*State).decideRelease),
	on((*State).decideStock),
	on((*State).decideCompare),
	on((*State).decideKit),
	on((*State).decideMove),
	on((*State).decideReplan),
	on((*State).decideRework),
	on((*State).decideChooseRescue),
	on((*State).decideTellOwner),
	on((*State).decideHandOver),
	on((*State).decidePromise),
	on((*State).decideRoadTest),
	on((*State).decideBookFluid),
	on((*State).decideTreat),
	on((*State).decideStrikeFigure),
	on((*State).decideTakeFigure),
	on((*State).decideLackFigure),
	on((*State).decideAnswerFigure),
	on((*State).decideDeviate),
	on((*State).decideFind),
	on((*State).decidePhotograph),
	on((*State).decideSign),
}

// applier applies the events of one kind.
type applier func(*State, Event)

// of makes the applier of one kind of event.
func of[B record.Body](apply func(*State, Event, B)) applier {
	return func(s *State, e Event) { apply(s, e, e.Body.(B)) }
}

// events lists what each kind of event does to the state.
var events = map[record.Kind]applier{
	record.Started{}.Kind():        of((*State).applyStarted),
	record.Answered{}.Kind():       of((*State).applyAnswered),
	record.Measured{}.Kind():       of((*State).applyMeasured),
	record.Driven{}.Kind():         of((*State).applyDriven),
	record.ProposalTaken{}.Kind():  of((*State).applyProposal),
	record.Planned{}.Kind():        of((*State).applyPlanned),
	record.StepKept{}.Kind():       of((*State).applyKept),
	record.StepUndone{}.Kind():     of((*State).applyUndone),
	record.Postponed{}.Kind():      of((*State).applyPostponed),
	record.Handled{}.Kind():        of((*State).applyHandled),
	record.HardwareSeen{}.Kind():   of((*State).applyHardware),
	record.WrenchSet{}.Kind():      of((*State).applySet),
	record.Pulled{}.Kind():         of((*State).applyPulled),
	record.PullKept{}.Kind():       of((*State).applyPullKept),
	record.PullStruck{}.Kind():     of((*State).applyPullStruck),
	record.Slackened{}.Kind():      of((*State).applySlackened),
	record.Troubled{}.Kind():       of((*State).applyTroubled),
	record.TroubleCleared{}.Kind(): of((*State).applyCleared),
	record.ReleaseTried{}.Kind():   of((*State).applyReleaseTried),
	record.PartStocked{}.Kind():    of((*State).applyStocked),
	record.Matched{}.Kind():        of((*State).applyMatched),
	record.Kitted{}.Kind():         of((*State).applyKitted),
	record.Moved{}.Kind():          of((*State).applyMoved),
	record.Replanned{}.Kind():      of((*State).applyReplanned),
	record.Reworked{}.Kind():       of((*State).applyReworked),
	record.RescueChosen{}.Kind():   of((*State).applyRescueChosen),
	record.OwnerTold{}.Kind():      of((*State).applyOwnerTold),
	record.RoadTested{}.Kind():     of((*State).applyRoadTested),
	record.FluidBooked{}.Kind():    of((*State).applyFluidBooked),
	record.FollowUpClosed{}.Kind(): of((*State).applyFollowUpClosed),
	record.HandedOver{}.Kind():     of((*State).applyHandedOver),
	record.Promised{}.Kind():       of((*State).applyPromised),
	record.Treated{}.Kind():        of((*State).applyTreated),
	record.FigureStruck{}.Kind():   of((*State).applyFigureStruck),
	record.FigureTaken{}.Kind():    of((*State).applyFigureTaken),
	record.FigureLacking{}.Kind():  of((*State).applyFigureLacking),
	record.FigureAnswered{}.Kind(): of((*State).applyFigureAnswered),
	record.Deviated{}.Kind():       of((*State).applyDeviated),
	record.Found{}.Kind():          of((*State).applyFound),
	record.Photographed{}.Kind():   of((*State).applyPhotographed),
	record.Signed{}.Kind():         of((*State).applySigned),
	record.Reopened{}.Kind():       of((*State).applyReopened),
}

// Ask is the digest of a command as somebody asked for it, by which a repeat of an id
// is told from another use of it.
func Ask(by string, cmd Command) string {
	text, err := json.Marshal([]any{by, fmt.Sprintf("%T", cmd), cmd})
	if err != nil {
		return "" // no command is made of what JSON cannot say
	}
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:16])
}

// Recorded says that a command of that id became an event of the job.
func (s *State) Recorded(id record.EventID) bool {
	_, known := s.seen[id]
	return known
}

// Decide turns a command into events, or refuses it with the reason and the remedy.
// The same command under an id known already gives no events and no error; another
// command under that id is a conflict.
func Decide(s *State, m Meta, cmd Command) ([]Event, error) {
	ask := Ask(m.By, cmd)
	if was, known := s.seen[m.ID]; known {
		return nil, was.repeat(m, ask)
	}
	switch {
	case m.Role == Reader || m.Role == "":
		return nil, refuse(fault.Role, "", "You may read here, not write.", "Ask a technician or the foreman.")
	case m.ID == "" || m.By == "" || m.At.IsZero():
		return nil, refuse(fault.Missing, "id", "The record lacks its id, name or time.",
			"Reload the page and try again.")
	}
	if _, err := record.ParseEventID(string(m.ID)); err != nil {
		return nil, refuse(fault.BadID, "id", "This record has an id nobody could export: "+err.Error()+".",
			"Reload the page and try again; a program makes a UUID.")
	}
	if err := s.kept(m); err != nil {
		return nil, err
	}
	bodies, err := s.decide(m, cmd)
	if err != nil {
		return nil, err
	}
	id := s.ID
	if start, ok := cmd.(Start); ok {
		id = start.Job
	}
	var out []Event
	for i, body := range bodies {
		e := Event{ID: m.ID, Job: id, Seq: s.Seq + 1 + i, At: m.At, By: m.By, Ask: ask, Sent: m.Sent, Body: body}
		if i > 0 {
			e.ID = m.ID.And(i)
			if was, known := s.seen[e.ID]; known {
				return nil, was.taken(m)
			}
		}
		out = append(out, e)
	}
	return out, nil
}

// What is believed of the time of a record that was kept without network: a weekend and a
// tablet's clock that runs a little fast (common practice).
const (
	keptLongest = 72 * time.Hour
	clockFast   = time.Minute
)

// kept refuses a record that was made without network at a time that cannot be. It is never
// put at another time in silence: its person says what is to become of it.
func (s *State) kept(m Meta) error {
	if m.Sent.IsZero() {
		return nil
	}
	waited := m.Sent.Sub(m.At)
	says := ""
	switch {
	case waited < -clockFast:
		says = fmt.Sprintf("By the tablet's clock this was done %s from now.", unit.HoursMinutes(-waited.Minutes()))
	case waited > keptLongest:
		says = fmt.Sprintf("This was kept on the tablet for %d days.", int(waited.Hours()/24))
	case s.Seq > 0 && m.At.Before(s.Started):
		says = "By the tablet's clock this was done before the job began."
	default:
		return nil
	}
	return refuse(fault.BadTime, "kept_at", says+" It was not recorded.",
		"Set the tablet's clock. Then record it as of now, if it still holds, or let it go.")
}

// repeat answers a command whose id is known: nothing to do, or a conflict that tells
// both. Events of the first release do not say what was asked.
func (was seen) repeat(m Meta, ask string) error {
	if was.ask == "" || was.ask == ask {
		return nil
	}
	return was.taken(m)
}

// taken refuses an id that stands for something else.
func (was seen) taken(m Meta) error {
	return refuse(fault.Conflict, "id",
		fmt.Sprintf("This id stands for event %d, “%s” by %s; what %s sends now is something else.",
			was.seq, was.kind, was.by, m.By),
		"Reload the page: what was recorded stands there. Then do again what is still to do.")
}

// decide checks one command against the rules and gives the event it becomes.
func (s *State) decide(m Meta, cmd Command) ([]record.Body, error) {
	if b, ok := cmd.(Start); ok {
		return one(s.decideStart(m, b))
	}
	if s.Plan == nil && s.Broken == "" {
		return nil, refuse(fault.Missing, "job", "There is no such job.", "Go back to the bays.")
	}
	if s.Broken != "" {
		return nil, refuse(fault.Broken, "", s.Broken+".",
			"It can be read, and is written to no more. Put a backup back, or start another job.")
	}
	if r, ok := cmd.(Reopen); ok {
		return one(s.decideReopen(m, r))
	}
	if c, ok := cmd.(CloseFollowUp); ok {
		return one(s.decideCloseFollowUp(m, c))
	}
	if s.Signature != nil {
		return nil, refuse(fault.Signed, "", "This job was signed by "+s.Signature.By+" and is closed.",
			"A foreman can reopen it with a reason.")
	}
	if err := s.pace(m, cmd); err != nil {
		return nil, err
	}
	for _, decide := range commands {
		if bodies, err, ok := decide(s, m, cmd); ok {
			return bodies, err
		}
	}
	return nil, refuse(fault.BadChoice, "", fmt.Sprintf("Nothing is known of %T.", cmd), "Reload the page.")
}

// Apply gives the state with one more event. It never refuses: what is in the journal
// happened. The state passed in stays as it was, so readers may share it.
func Apply(s *State, e Event) *State {
	next := s.clone()
	next.apply(e)
	return next
}

// Replay adds up a whole journal.
func Replay(journal []Event) *State {
	s := (&State{}).clone()
	for _, e := range journal {
		s.apply(e)
	}
	return s
}

func (s *State) apply(e Event) {
	s.seen[e.ID] = seen{ask: e.Ask, by: e.By, seq: e.Seq, kind: e.Kind()}
	s.Seq = e.Seq
	s.Last = e.At
	s.LastBy = e.By
	s.authors = append(s.authors, e.By)
	if !e.Sent.IsZero() {
		s.Late++
	}
	if apply := events[e.Kind()]; apply != nil {
		apply(s, e)
	}
	s.factsAfter(s.Touched(e.Body))
	s.acted(e)
}

// Touched is the step an event carries further, empty where it may concern any.
func (s *State) Touched(b record.Body) operation.StepID {
	switch b := b.(type) {
	case record.StepKept:
		if st := s.Plan.Step(operation.StepID(b.Step)); st != nil && st.Frees != "" {
			return "" // the fastener's own steps too
		}
		return operation.StepID(b.Step)
	case record.Handled:
		return operation.StepID(b.Step)
	case record.Pulled:
		return operation.StepID(b.Step)
	case record.WrenchSet:
		return operation.StepID(b.Step)
	}
	return ""
}

func (s *State) clone() *State {
	c := *s
	c.seen = cloneMap(s.seen)
	c.authors = slices.Clip(s.authors)
	c.Walk = s.Walk.clone()
	c.Planning = s.Planning.clone()
	c.Progress = s.Progress.clone()
	c.Fastening = s.Fastening.clone()
	c.Mishaps = s.Mishaps.clone()
	c.Closing = s.Closing.clone()
	return &c
}

func cloneMap[K comparable, V any](m map[K]V) map[K]V {
	c := make(map[K]V, len(m)+1)
	maps.Copy(c, m)
	return c
}

func clonePointers[K comparable, V any](m map[K]*V) map[K]*V {
	c := make(map[K]*V, len(m)+1)
	all := make([]V, 0, len(m)) // one block for all
	for k, v := range m {
		all = append(all, *v)
		c[k] = &all[len(all)-1]
	}
	return c
}

// reason trims a text and refuses an empty or endless one.
func reason(field string, text *string) error {
	*text = trimmed(*text)
	switch {
	case *text == "":
		return refuse(fault.Missing, field, "This needs a few words.",
			"Write why, so that a reader understands it next year.")
	case len(*text) > maxText:
		return refuse(fault.TooLong, field, "That is too long.", "Keep it under 1000 characters.")
	}
	return nil
}

// maxText bounds what is written in a few words.
const maxText = 1000

// fresh refuses a command made on an old view of what it touches. Others may have
// gone on elsewhere in the job meanwhile.
func (s *State) fresh(m Meta, touched int, own ...int) error {
	if m.Seq == 0 || touched <= m.Seq || slices.Contains(own, touched) {
		return nil
	}
	if !m.Sent.IsZero() && touched <= len(s.authors) && s.authors[touched-1] == m.By {
		return nil
	}
	return refuse(fault.Stale, "seq", s.LastBy+" has gone on here meanwhile.",
		"The page shows how it stands now: look, then do it again if it is still to do.")
}
