package claim

import (
	"testing"
	"time"

	"lugtak/core/fault"
)

var noon = time.Date(2026, 11, 24, 12, 0, 0, 0, time.UTC)

func bolt(id, tool, by, letter string) Claim {
	return Claim{ID: id, Tool: tool, Job: "j", Step: "s", Joint: "hub", Letter: letter, By: by, Session: "of " + by}
}

func take(t *testing.T, b *Book, c Claim) []Claim {
	t.Helper()
	ended, err := b.Take(c, noon)
	if err != nil {
		t.Fatal(err)
	}
	return ended
}

func TestEndsOfAClaim(t *testing.T) {
	later := noon.Add(Lasts)
	cases := []struct {
		name string
		end  func(*Book)
		at   time.Time
		on   string // whose claim the tool is under then
	}{
		{"nothing happens", func(*Book) {}, noon.Add(Lasts - time.Second), "aro"},
		{"time", func(*Book) {}, later, ""},
		{"the pull is done", func(b *Book) { b.End("1", "w3") }, noon, ""},
		{"the end of an older claim", func(b *Book) { b.End("0", "w3") }, noon, "aro"},
		{"sign-out", func(b *Book) { b.EndSession("of aro") }, noon, ""},
		{"another's sign-out", func(b *Book) { b.EndSession("of bel") }, noon, "aro"},
		{"lock-out", func(b *Book) { b.EndPerson("aro") }, noon, ""},
		{"another takes the tool", func(b *Book) { b.Take(bolt("2", "w3", "bel", "B"), noon) }, noon, "bel"},
		{"another tool on that bolt", func(b *Book) { b.Take(bolt("2", "w4", "bel", "A"), noon) }, noon, ""},
		{"another tool on another bolt", func(b *Book) { b.Take(bolt("2", "w4", "bel", "B"), noon) }, noon, "aro"},
		{"it goes on", func(b *Book) { b.Again("1", "w3", noon.Add(time.Minute)) }, later, "aro"},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			b := NewBook()
			take(t, b, bolt("1", "w3", "aro", "A"))
			c.end(b)
			got, ok := b.On("w3", c.at)
			if ok != (c.on != "") || got.By != c.on {
				t.Errorf("on %q, want %q", got.By, c.on)
			}
		})
	}
}

func TestTakingTellsWhatEnds(t *testing.T) {
	b := NewBook()
	take(t, b, bolt("1", "w3", "aro", "A"))
	take(t, b, bolt("2", "w2", "aro", "B"))
	if c, ok := b.At("j", "hub", "B", noon); !ok || c.ID != "2" {
		t.Errorf("two tools on two bolts: %+v", c)
	}
	// One that is set for the whole pattern takes the place of both.
	ended := take(t, b, bolt("3", "w6", "bel", ""))
	if len(ended) != 2 || ended[0].By != "aro" || ended[1].By != "aro" {
		t.Errorf("%+v", ended)
	}
	if c, ok := b.At("j", "hub", "C", noon); !ok || c.ID != "3" {
		t.Errorf("the pattern's claim covers C: %+v", c)
	}
	if _, ok := b.At("other job", "hub", "C", noon); ok {
		t.Error("a claim of another job")
	}
	// And one bolt taken out of the pattern ends it.
	if ended := take(t, b, bolt("4", "w3", "aro", "C")); len(ended) != 1 || ended[0].ID != "3" {
		t.Errorf("%+v", ended)
	}
	other := bolt("5", "w2", "bel", "")
	other.Joint = "caliper"
	if ended := take(t, b, other); len(ended) != 0 {
		t.Errorf("another joint: %+v", ended)
	}
}

func TestNobodyTakesAToolThatPulls(t *testing.T) {
	b := NewBook()
	take(t, b, bolt("1", "w3", "aro", "A"))
	if _, err := b.Begin("1", "w3", noon); err != nil {
		t.Fatal(err)
	}
	for _, c := range []Claim{bolt("2", "w3", "bel", "B"), bolt("3", "w4", "bel", "A")} {
		if _, err := b.Take(c, noon); fault.As(err) == nil {
			t.Errorf("%s took it over: %v", c.Tool, err)
		}
	}
	if _, err := b.Begin("0", "w3", noon); fault.As(err) == nil {
		t.Error("a pull under an ended claim")
	}
	if ended, err := b.Take(bolt("4", "w3", "aro", "C"), noon); err != nil || len(ended) != 1 {
		t.Errorf("who pulls may take it to another bolt: %v, %v", ended, err)
	}
	if _, err := b.Begin("4", "w3", noon); err != nil {
		t.Error(err)
	}
	b.End("4", "w3")
	take(t, b, bolt("2", "w3", "bel", "B"))
}
