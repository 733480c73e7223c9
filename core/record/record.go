// Package record holds every event of a job as it is written: wire types with a
// version, and nothing else. A file written today is read in twenty years, so what
// stands here is only ever added to. It uses no other package of the program: a
// field renamed elsewhere cannot change what is on the disk.
//
// Lengths are millimetres, torques newton metres, angles degrees, times seconds
// unless a name says otherwise.
package record

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"time"

	fast "github.com/segmentio/encoding/json"
)

// Event is one line of a job's journal. It is never changed.
type Event struct {
	ID  EventID
	Job string
	Seq int // from 1, within the job
	At  time.Time
	By  string
	Ask string // digest of what was asked: it binds the id to its content

	Sent time.Time // when it came, where it was kept without network first; else zero
	Body
}

// Body is what happened.
type Body interface{ Kind() Kind }

// Kind names what happened.
type Kind string

// Line is an event as it stands in a file and in an export. V is the version of its
// kind; lines of the first release carry none, nor an Ask, and are sealed without.
type Line struct {
	ID   string          `json:"id"`
	Job  string          `json:"job"`
	Seq  int             `json:"seq"`
	At   string          `json:"at"`
	By   string          `json:"by"`
	Kind Kind            `json:"kind"`
	V    int             `json:"v,omitempty"`
	Ask  string          `json:"ask,omitempty"`
	Body json.RawMessage `json:"body"`
	Hash string          `json:"hash"`
	Sent string          `json:"sent,omitempty"` // since 2026-11
}

// Stamp writes a time as the journal does.
func Stamp(t time.Time) string { return t.UTC().Format(time.RFC3339Nano) }

// Seal writes an event behind the line whose hash is given.
func Seal(prev string, e Event) (Line, error) {
	body, err := json.Marshal(e.Body)
	if err != nil {
		return Line{}, err
	}
	kind := e.Kind()
	l := Line{
		ID:   string(e.ID),
		Job:  e.Job,
		Seq:  e.Seq,
		At:   Stamp(e.At),
		By:   e.By,
		Kind: kind,
		V:    kinds[kind].version,
		Ask:  e.Ask,
		Body: body,
	}
	if !e.Sent.IsZero() {
		l.Sent = Stamp(e.Sent)
	}
	l.Hash = l.Sum(prev)
	return l, nil
}

// Sum is the SHA-256 of the line's fields behind the hash before it, as hexadecimal
// digits. What is hashed is the JSON array of the fields in their order, byte for byte as
// encoding/json writes it.
func (l Line) Sum(prev string) string {
	fields := []any{prev, l.ID, l.Job, l.Seq, l.At, l.By, l.Kind, string(l.Body)}
	if l.V > 0 {
		fields = append(fields, l.V, l.Ask)
	}
	if l.Sent != "" {
		fields = append(fields, l.Sent)
	}
	room := make([]byte, 0, len(l.Body)*5/4+400)
	text, _ := fast.Append(room, fields, fast.EscapeHTML) // strings and numbers only
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:])
}

// Wire reads the body as it was written, by its own version.
func (l Line) Wire() (Body, error) {
	k, ok := kinds[l.Kind]
	if !ok {
		return nil, fmt.Errorf("event of unknown kind %q", l.Kind)
	}
	if l.V > k.version {
		return nil, fmt.Errorf("event of kind %q is of version %d, known is %d", l.Kind, l.V, k.version)
	}
	body, err := k.read(l.Body)
	if err != nil {
		return nil, fmt.Errorf("event of kind %q: %w", l.Kind, err)
	}
	return body, nil
}

// Event reads the line, lifted to what its kind means today.
func (l Line) Event() (Event, error) {
	body, err := l.Wire()
	if err != nil {
		return Event{}, err
	}
	if lift := kinds[l.Kind].lift; lift != nil && l.V < 2 {
		body = lift(body)
	}
	at, err := time.Parse(time.RFC3339Nano, l.At)
	if err != nil {
		return Event{}, fmt.Errorf("event %d has no time: %w", l.Seq, err)
	}
	e := Event{ID: EventID(l.ID), Job: l.Job, Seq: l.Seq, At: at, By: l.By, Ask: l.Ask, Body: body}
	if l.Sent == "" {
		return e, nil
	}
	if e.Sent, err = time.Parse(time.RFC3339Nano, l.Sent); err != nil {
		return Event{}, fmt.Errorf("event %d does not tell when it came: %w", l.Seq, err)
	}
	return e, nil
}

// kind is how one kind of event is read: the version written today and, where an
// older one means otherwise, how it is lifted.
type kind struct {
	version int
	read    func([]byte) (Body, error)
	lift    func(Body) Body
}

// of makes the entry of one kind. Events of version 1 are read by the same type
// wherever fields were only added. Reading is the greater part of a check, and this reader
// is quicker than the one of the standard library.
func of[B Body](version int, lift func(B) B) kind {
	k := kind{version: version}
	k.read = func(data []byte) (Body, error) {
		var b B
		err := fast.Unmarshal(data, &b)
		return b, err
	}
	if lift != nil {
		k.lift = func(b Body) Body { return lift(b.(B)) }
	}
	return k
}

// plain is for kinds that still mean what they always meant.
func plain[B Body]() kind { return of[B](1, nil) }

// kinds lists every kind of event. A new one is its type in events.go, its line
// here, and its line in testdata, without which a test fails.
var kinds = map[Kind]kind{
	Started{}.Kind():        of[Started](2, nil),
	Answered{}.Kind():       plain[Answered](),
	Measured{}.Kind():       plain[Measured](),
	Driven{}.Kind():         of[Driven](2, nil),
	ProposalTaken{}.Kind():  plain[ProposalTaken](),
	Planned{}.Kind():        of[Planned](2, nil),
	StepKept{}.Kind():       plain[StepKept](),
	StepUndone{}.Kind():     plain[StepUndone](),
	Postponed{}.Kind():      plain[Postponed](),
	Handled{}.Kind():        plain[Handled](),
	HardwareSeen{}.Kind():   plain[HardwareSeen](),
	WrenchSet{}.Kind():      plain[WrenchSet](),
	Pulled{}.Kind():         of(2, liftPulled),
	PullKept{}.Kind():       plain[PullKept](),
	PullStruck{}.Kind():     plain[PullStruck](),
	Slackened{}.Kind():      plain[Slackened](),
	Troubled{}.Kind():       of(2, liftTroubled),
	TroubleCleared{}.Kind(): plain[TroubleCleared](),
	ReleaseTried{}.Kind():   plain[ReleaseTried](),
	PartStocked{}.Kind():    plain[PartStocked](),
	Matched{}.Kind():        plain[Matched](),
	Kitted{}.Kind():         of[Kitted](2, nil),
	Moved{}.Kind():          plain[Moved](),
	Replanned{}.Kind():      plain[Replanned](),
	Reworked{}.Kind():       plain[Reworked](),
	RescueChosen{}.Kind():   plain[RescueChosen](),
	OwnerTold{}.Kind():      plain[OwnerTold](),
	HandedOver{}.Kind():     plain[HandedOver](),
	Promised{}.Kind():       plain[Promised](),
	FollowUpClosed{}.Kind(): plain[FollowUpClosed](),
	RoadTested{}.Kind():     plain[RoadTested](),
	FluidBooked{}.Kind():    plain[FluidBooked](),
	Treated{}.Kind():        plain[Treated](),
	FigureStruck{}.Kind():   plain[FigureStruck](),
	FigureTaken{}.Kind():    plain[FigureTaken](),
	FigureLacking{}.Kind():  plain[FigureLacking](),
	FigureAnswered{}.Kind(): plain[FigureAnswered](),
	Deviated{}.Kind():       plain[Deviated](),
	Found{}.Kind():          plain[Found](),
	Photographed{}.Kind():   plain[Photographed](),
	Signed{}.Kind():         of[Signed](2, nil),
	Reopened{}.Kind():       plain[Reopened](),
}

// Blank is an empty body of a kind, as it is written today; ok is false for a kind that is none.
func Blank(of Kind) (b Body, ok bool) {
	k, ok := kinds[of]
	if !ok {
		return nil, false
	}
	b, err := k.read([]byte(`{}`))
	return b, err == nil
}

// Kinds lists the kinds of event, each with the version written today.
func Kinds() map[Kind]int {
	out := make(map[Kind]int, len(kinds))
	for name, k := range kinds {
		out[name] = k.version
	}
	return out
}
