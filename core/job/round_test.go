package job

import (
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/pull"
	"lugtak/core/record"
	"lugtak/core/wrench"
)

// atTheWheel is a job at its wheel nuts, with the wrench set a while ago.
func atTheWheel(t *testing.T) (*bench, ClickRound) {
	b := begin(t)
	b.step(toTheWheel...)
	b.step("lower")
	b.must(b.set("wheel1", 0))
	on := b.claims(big.ID, "hub.FL.wheel", "")
	on.At = on.At.Add(time.Minute)
	return b, ClickRound{Step: "wheel1", Joint: "hub.FL.wheel", Tool: big, Claim: on}
}

// after is the meta of a command so long after the last.
func (b *bench) after(d time.Duration) Meta {
	m := b.meta()
	m.At = b.s.Last.Add(d)
	return m
}

func TestARoundIsClickedTogether(t *testing.T) {
	b, round := atTheWheel(t)
	if got := b.s.Round(b.s.Plan.Step("wheel1")); !slices.Equal(got, []string{"1", "3", "2", "4"}) {
		t.Fatalf("across each time, not %v", got)
	}
	m := b.after(4 * clickTakes)
	if err := b.do(m, round); err != nil {
		t.Fatal(err)
	}
	said := b.journal[len(b.journal)-4:]
	for i, e := range said {
		p := e.Body.(record.Pulled)
		if want := []string{"1", "3", "2", "4"}[i]; p.Letter != want || !p.Together || p.Evidence != string(pull.Clicked) ||
			p.SetNm != 130 || !e.At.Equal(m.At) {
			t.Errorf("event %d: %+v", i, p)
		}
	}
	ids := map[record.EventID]bool{}
	for _, e := range said {
		ids[e.ID] = true
		if _, err := record.ParseEventID(string(e.ID)); err != nil {
			t.Error(err)
		}
	}
	if len(ids) != 4 || said[0].ID != m.ID {
		t.Errorf("%v", ids)
	}
	seq := b.s.Seq
	if err := b.do(m, round); err != nil || b.s.Seq != seq { // a repeat of the same
		t.Errorf("said twice: %v, %d events more", err, b.s.Seq-seq)
	}
	if len(b.s.Hasty) != 0 {
		t.Errorf("held for haste: %+v", b.s.Hasty)
	}
	for _, l := range []string{"1", "2", "3", "4"} {
		if f := b.s.Fastener("hub.FL.wheel", l); f.Done != 1 {
			t.Errorf("nut %s stands at round %d", l, f.Done)
		}
	}
}

func TestARoundIsRefused(t *testing.T) {
	tracing := big
	tracing.Kind = wrench.KindTraces
	for _, c := range []struct {
		name  string
		after time.Duration
		ask   func(*ClickRound)
		code  fault.Code
	}{
		{"sooner than hands are", 4*clickTakes - time.Millisecond, nil, fault.TooQuick},
		{"with another tool than the one in hand", time.Hour, func(c *ClickRound) { c.Tool.ID = "other" }, fault.Claim},
		{"with a tool that sends", time.Hour, func(c *ClickRound) { c.Tool = tracing }, fault.Tool},
		{"in another step", time.Hour, func(c *ClickRound) { c.Step = "bracket1" }, fault.BadChoice},
		{"in a step that is none", time.Hour, func(c *ClickRound) { c.Step = "none" }, fault.BadChoice},
		{"with nothing in hand", 4 * clickTakes, func(c *ClickRound) { c.Claim = claim.Claim{} }, fault.Claim},
	} {
		b, round := atTheWheel(t)
		if c.ask != nil {
			c.ask(&round)
		}
		before := b.s
		if err := b.do(b.after(c.after), round); fault.As(err) == nil || fault.As(err).Code != c.code {
			t.Errorf("%s: %v", c.name, err)
		}
		if b.s != before {
			t.Errorf("%s: a refusal left a trace", c.name)
		}
	}
}

// One that was clicked by itself, or is in trouble, is not stated again with the others; where one of them may not
// be pulled on, none is stated.
func TestARoundOfTheRest(t *testing.T) {
	b, round := atTheWheel(t)
	b.must(b.turned("wheel1"))
	b.must(ReportTrouble{Step: "wheel1", Letter: "2", Code: OtherTrouble, Note: "its cone is bent"})
	if got := strings.Join(b.s.Round(b.s.Plan.Step("wheel1")), " "); got != "3 4" {
		t.Fatalf("left are %s", got)
	}
	round.Claim.At = b.s.Last
	if err := b.do(b.after(2*clickTakes), round); err != nil {
		t.Fatal(err)
	}
	if n := len(b.s.Fastener("hub.FL.wheel", "1").Pulls) + len(b.s.Fastener("hub.FL.wheel", "2").Pulls); n != 1 {
		t.Errorf("%d pulls on nuts 1 and 2", n)
	}
}

// Only a wheel is gone round by ear: of other fasteners in a star each click is said for itself.
func TestARoundIsOfAWheel(t *testing.T) {
	b, round := atTheWheel(t)
	p := *b.s.Plan
	p.Joints = slices.Clone(p.Joints)
	for i := range p.Joints {
		if p.Joints[i].ID == round.Joint {
			p.Joints[i].System = "suspension"
		}
	}
	b.s.Plan = &p
	if got := b.s.Round(b.s.Plan.Step("wheel1")); got != nil {
		t.Errorf("%v", got)
	}
	if err := b.do(b.after(time.Hour), round); fault.As(err) == nil || fault.As(err).Code != fault.BadChoice {
		t.Errorf("%v", err)
	}
}

// An id that follows from a round's own may stand for something else already: nothing is written twice under it.
func TestIDsOfARound(t *testing.T) {
	b, round := atTheWheel(t)
	m := b.after(time.Hour)
	m.ID = "x/2"
	if err := b.do(m, Find{Text: "something else"}); err != nil {
		t.Fatal(err)
	}
	m = b.after(time.Hour)
	m.ID = "x"
	round.Claim.At = m.At
	if err := b.do(m, round); fault.As(err) == nil || fault.As(err).Code != fault.Conflict {
		t.Errorf("%v", err)
	}
}
