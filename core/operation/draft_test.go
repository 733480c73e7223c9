package operation

import (
	"slices"
	"strings"
	"testing"

	"lugtak/core/fault"
)

// What nobody could work by is refused at its field.
func TestDraftCheck(t *testing.T) {
	good := DraftAct{Do: DeedOpen, Title: "shackle bolt", System: "suspension", Count: 1}
	with := func(change func(*DraftAct)) []DraftAct {
		a := good
		change(&a)
		return []DraftAct{a}
	}
	heap := func(a *DraftAct) { a.Count = maxDraftCount + 1 }
	again := func(a *DraftAct) { a.Title = "Shackle-Bolt" }
	for name, c := range map[string]struct {
		draft Draft
		field string
	}{
		"sound":      {Draft{Title: "spring", From: FromRaised, Acts: []DraftAct{good}}, ""},
		"no name":    {Draft{Title: " ", From: FromRaised}, "title"},
		"signs":      {Draft{Title: "?!", From: FromRaised}, "title"},
		"long":       {Draft{Title: strings.Repeat("x", maxDraftTitle+1), From: FromRaised}, "title"},
		"no stance":  {Draft{Title: "spring"}, "from"},
		"no wheel":   {Draft{Title: "exhaust", Under: true, From: FromWheelOff}, "from"},
		"too many":   {Draft{Title: "spring", From: FromRaised, Acts: make([]DraftAct, maxDraftActs+1)}, "act"},
		"no deed":    {Draft{Title: "x", From: FromRaised, Acts: with(func(a *DraftAct) { a.Do = "hit" })}, "act"},
		"unnamed":    {Draft{Title: "x", From: FromRaised, Acts: with(func(a *DraftAct) { a.Title = "" })}, "what"},
		"filled in":  {Draft{Title: "x", From: FromRaised, Acts: with(func(a *DraftAct) { a.Title = "{tray}" })}, "what"},
		"no system":  {Draft{Title: "x", From: FromRaised, Acts: with(func(a *DraftAct) { a.System = "moon" })}, "system"},
		"none":       {Draft{Title: "x", From: FromRaised, Acts: with(func(a *DraftAct) { a.Count = 0 })}, "count"},
		"a heap":     {Draft{Title: "x", From: FromRaised, Acts: with(heap)}, "count"},
		"twice":      {Draft{Title: "x", From: FromRaised, Acts: append([]DraftAct{good}, with(again)...)}, "what"},
		"carried":    {Draft{Title: "x", From: FromRaised, Acts: []DraftAct{{Do: DeedCarry, Title: "axle"}}}, ""},
		"no carrier": {Draft{Title: "x", From: FromRaised, Acts: []DraftAct{{Do: DeedCarry, Title: "sky"}}}, "what"},
	} {
		err := c.draft.Check()
		f := fault.As(err)
		if (err == nil) != (c.field == "") || f != nil && (f.Field != c.field || f.Remedy == "") {
			t.Errorf("%s: %v, want a word at %q", name, err, c.field)
		}
	}
}

// The id of the same work is the same on another day, and has a place in an address.
func TestDraftID(t *testing.T) {
	for title, want := range map[string]string{
		"Rear leaf spring": "free-rear-leaf-spring", " rear LEAF-spring ": "free-rear-leaf-spring", "яма": "free-work",
	} {
		if got := (Draft{Title: title}).ID(); got != want || !IsFree(got) {
			t.Errorf("%q: %s, want %s", title, got, want)
		}
	}
	d := Draft{Title: "x"}
	if !d.Of("free-x.n1-out.RL", 0) || d.Of("free-x.n11-out.RL", 0) || d.Of("free-x.n1-out.RL", 1) ||
		!d.IsWork("free-x.work.RL") {
		t.Error("whose step it is")
	}
}

// Each support that goes in comes out, and each joint that is opened is started and tightened, once.
func TestDraftClosesWhatItOpens(t *testing.T) {
	d := Draft{Title: "x", From: FromRaised, Acts: []DraftAct{
		{Do: DeedCarry, Title: "axle"},
		{Do: DeedOpen, Title: "a", System: "hub", Count: 2},
		{Do: DeedLoosen, Title: "b", System: "hub", Count: 1},
		{Do: DeedOff, Title: "c"},
		{Do: DeedCarry, Title: "arm"},
	}}
	o := d.Operation()
	if one := o.Joints[0].One; one != "a" {
		t.Errorf("one of them is %s", one)
	}
	verbs := map[string][]string{}
	var puts, takes []string
	for _, s := range o.Steps {
		if s.Joint != "" {
			verbs[s.Joint] = append(verbs[s.Joint], string(s.Verb))
		}
		puts, takes = append(puts, s.Puts...), append(takes, s.Takes...)
	}
	slices.Sort(puts)
	slices.Sort(takes)
	if !slices.Equal(puts, takes) || len(puts) != 2 {
		t.Errorf("put in %v, taken out %v", puts, takes)
	}
	for joint, want := range map[string]string{"n2": "crack remove start tighten", "n3": "crack start tighten"} {
		if got := strings.Join(verbs[joint], " "); got != want {
			t.Errorf("%s: %s, want %s", joint, got, want)
		}
	}
}
