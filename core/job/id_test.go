package job

import (
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/record"
)

func TestFastenerID(t *testing.T) {
	id, err := ParseFastenerID("hub.FL.knuckle#A")
	if err != nil || id != (FastenerID{"hub.FL.knuckle", "A"}) || id.String() != "hub.FL.knuckle#A" {
		t.Errorf("%+v, %v", id, err)
	}
	if text, _ := id.MarshalText(); string(text) != "hub.FL.knuckle#A" {
		t.Errorf("%s", text)
	}
	for _, bad := range []string{"", "#", "#A", "hub#", "hub"} {
		if _, err := ParseFastenerID(bad); fault.As(err) == nil {
			t.Errorf("%q names a fastener", bad)
		}
	}
}

func TestGoodID(t *testing.T) {
	for id, good := range map[string]bool{
		"demo-half-done": true, "A.b_9": true, "": false, "../../x": false, ".x": false, "a b": false, "ä": false,
		strings.Repeat("x", record.LongestID): true, strings.Repeat("x", record.LongestID+1): false,
	} {
		if GoodID(id) != good {
			t.Errorf("%q: %v", id, !good)
		}
	}
}

// The same id stands for one thing.
func TestAnIDIsBoundToItsContent(t *testing.T) {
	b := begin(t)
	m := b.meta()
	if err := b.do(m, Find{Text: "one"}); err != nil {
		t.Fatal(err)
	}
	before := b.s
	if err := b.do(m, Find{Text: "one"}); err != nil || b.s != before {
		t.Errorf("a repeat: %v", err)
	}
	for name, c := range map[string]Command{"another text": Find{Text: "two"}, "another act": Postpone{Step: "raise"}} {
		if f := fault.As(b.do(m, c)); f == nil || f.Code != fault.Conflict || !strings.Contains(f.Detail, "found") {
			t.Errorf("%s: %v", name, f)
		}
	}
	m.By = "technician B"
	if f := fault.As(b.do(m, Find{Text: "one"})); f == nil || f.Code != fault.Conflict {
		t.Errorf("another hand: %v", f)
	}
	old := &State{seen: map[record.EventID]seen{"x": {}}}
	if _, err := Decide(old, Meta{ID: "x"}, Find{Text: "whatever"}); err != nil {
		t.Errorf("an event that does not say what was asked: %v", err)
	}
	for field, m := range map[fault.Code]Meta{
		fault.Missing: {By: "a", Role: Technician, At: morning},
		fault.BadID:   {ID: record.EventID(strings.Repeat("x", record.LongestID+1)), By: "a", Role: Technician, At: morning},
		fault.Role:    {ID: "y", By: "a", At: morning},
	} {
		if f := fault.As(b.do(m, Find{Text: "x"})); f == nil || f.Code != field {
			t.Errorf("%+v: %v", m, f)
		}
	}
	for _, m := range []Meta{{ID: "y", Role: Technician, At: morning}, {ID: "y", By: "a", Role: Technician}} {
		if f := fault.As(b.do(m, Find{Text: "x"})); f == nil || f.Code != fault.Missing {
			t.Errorf("%+v: %v", m, f)
		}
	}
	if f := fault.As(b.do(b.meta(), struct{}{})); f == nil || f.Code != fault.BadChoice {
		t.Errorf("nobody knows this command: %v", f)
	}
	b.s = b.s.clone()
	b.s.Broken = "event 2 does not match its seal"
	if f := fault.As(b.do(b.meta(), Find{Text: "x"})); f == nil || f.Code != fault.Broken {
		t.Errorf("%v", f)
	}
}

// Every kind of event does something, and every command is decided.
func TestListsAreWhole(t *testing.T) {
	for kind := range record.Kinds() {
		if events[kind] == nil {
			t.Errorf("event %s does nothing", kind)
		}
	}
	if len(commands) != 42 {
		t.Errorf("%d commands", len(commands))
	}
	for _, c := range TroubleCodes() {
		if c.Words() == "" {
			t.Errorf("trouble %s has no words", c)
		}
	}
	for _, m := range []Mark{Rest, Loose, Out, InHand, SnugMark, Between, Proved, Excused, InTrouble, Clicked, Turned,
		Unmeasured} {
		if m.Words() == "" {
			t.Errorf("mark %s has no words", m)
		}
	}
}
