// Package claim says who has which tool on which fastener now. A pull carries the
// claim it was made under, so that it is signed by the one who took the tool and by
// nobody who only looked.
//
// Every time comes in from outside.
package claim

import (
	"time"

	"lugtak/core/fault"
)

// Lasts is how long a tool stays taken without a pull (a shop's coffee break is over
// by then).
const Lasts = 20 * time.Minute

// Claim is one tool taken for one fastener, or for a whole pattern where the letter is
// empty: a click wrench is set once and goes round.
type Claim struct {
	ID      string
	Tool    string
	Job     string
	Step    string
	Joint   string
	Letter  string
	By      string
	Session string // whose end is the end of the claim
	At      time.Time
	Pulling bool // a pull is under way
}

// Live says that the claim still stands at that time.
func (c Claim) Live(now time.Time) bool { return c.ID != "" && now.Sub(c.At) < Lasts }

// covers says that the claim is about a fastener.
func (c Claim) covers(job, joint, letter string) bool {
	return c.Job == job && c.Joint == joint && (c.Letter == letter || c.Letter == "")
}

// clashes says that two claims cannot stand together: the same tool, or two tools on
// one fastener.
func (c Claim) clashes(o Claim) bool {
	sameFastener := c.covers(o.Job, o.Joint, o.Letter) || o.covers(c.Job, c.Joint, c.Letter)
	return c.Tool == o.Tool || sameFastener
}

// Book holds the claims of a shop. It is not safe for use by several at once.
type Book struct {
	byTool map[string]Claim
}

// NewBook gives an empty book.
func NewBook() *Book { return &Book{byTool: map[string]Claim{}} }

// Take gives the tool to somebody. What had it before, and what else was on that
// fastener or its pattern, ends and is told. Nobody takes a tool out of a hand that pulls on it.
func (b *Book) Take(c Claim, now time.Time) (ended []Claim, err error) {
	b.expire(now)
	for _, other := range b.byTool {
		if !c.clashes(other) {
			continue
		}
		if other.Pulling && other.Session != c.Session {
			return nil, fault.New(fault.Claim, "tool", other.By+" is pulling on it right now.", "Wait for the end of that pull.")
		}
		ended = append(ended, other)
	}
	for _, e := range ended {
		delete(b.byTool, e.Tool)
	}
	c.At = now
	b.byTool[c.Tool] = c
	return ended, nil
}

// On is the claim a tool is under; ok is false where it is free.
func (b *Book) On(tool string, now time.Time) (Claim, bool) {
	b.expire(now)
	c, ok := b.byTool[tool]
	return c, ok
}

// At is the claim on a fastener, of whatever tool; ok is false where there is none.
func (b *Book) At(job, joint, letter string, now time.Time) (Claim, bool) {
	b.expire(now)
	for _, c := range b.byTool {
		if c.covers(job, joint, letter) {
			return c, true
		}
	}
	return Claim{}, false
}

// Begin marks that a pull is under way. It is refused when the claim has ended.
func (b *Book) Begin(id, tool string, now time.Time) (Claim, error) {
	c, ok := b.On(tool, now)
	if !ok || c.ID != id {
		return Claim{}, Gone()
	}
	c.Pulling = true
	b.byTool[tool] = c
	return c, nil
}

// Gone is the fault of a pull whose claim has ended.
func Gone() error {
	return fault.New(
		fault.Claim,
		"claim",
		"The tool is not taken for this fastener any more.",
		"Take it on the bench, then pull.",
	)
}

// End ends a claim. One that has ended before is nothing to say.
func (b *Book) End(id, tool string) {
	if b.byTool[tool].ID == id {
		delete(b.byTool, tool)
	}
}

// Again renews the claim of a tool that goes round a pattern.
func (b *Book) Again(id, tool string, now time.Time) {
	if c := b.byTool[tool]; c.ID == id {
		c.At = now
		b.byTool[tool] = c
	}
}

// EndSession ends what a session holds: its person signed out or was locked out.
func (b *Book) EndSession(session string) []Claim {
	return b.end(func(c Claim) bool { return c.Session == session })
}

// EndPerson ends what a person holds in any session.
func (b *Book) EndPerson(by string) []Claim {
	return b.end(func(c Claim) bool { return c.By == by })
}

func (b *Book) expire(now time.Time) { b.end(func(c Claim) bool { return !c.Live(now) }) }

func (b *Book) end(which func(Claim) bool) []Claim {
	var ended []Claim
	for tool, c := range b.byTool {
		if which(c) {
			ended = append(ended, c)
			delete(b.byTool, tool)
		}
	}
	return ended
}
