package diagnose_test

import (
	"slices"
	"testing"

	"lugtak/core/diagnose"
)

// A driver's words point somewhere, or nowhere where they point both ways (common practice).
func TestPlaceOfAComplaint(t *testing.T) {
	for text, want := range map[string]string{
		"knock from the front left over bumps": "FL",
		"Rear right wheel hums":                "RR",
		"hum on the left":                      "left",
		"something rattles at the rear":        "rear",
		"knocks left and right":                "",
		"front and rear left":                  "left",
		"it shakes":                            "",
		"RL drags":                             "RL",
		"louder in left-hand bends":            "",
		"growls in right bends, front left":    "FL",
		"noise on the left hand side":          "left",
		"it pulls to the left":                 "",
		"clicks at full left lock":             "",
	} {
		if got := diagnose.Place(text); got != want {
			t.Errorf("%q points to %q, not %q", text, got, want)
		}
	}
}

// Where a driver points weighs, and a test that was done weighs more.
func TestWhereADriverPoints(t *testing.T) {
	k := knowledge(t)
	growls := []diagnose.Answer{{Key: "hum-with-speed", Yes: true}, {Key: "growl-at-knuckle", Yes: true}}
	for _, c := range []struct {
		said  string
		also  diagnose.Answer
		where string
	}{
		{where: ""},
		{said: "growls, front right", where: ""}, // a word alone names nothing
		{"growls, front right", diagnose.Answer{Key: "growl-at-knuckle", Yes: true, Corner: "RL"}, "RL"},
		{"", diagnose.Answer{Key: "hum-louder-left-bend", Yes: true}, "right"}, // a left bend loads the right
	} {
		answers := growls
		if c.also.Key != "" {
			answers = append(slices.Clone(growls), c.also)
		}
		r, err := k.Weigh(answers, diagnose.History{Said: c.said})
		if err != nil {
			t.Fatal(err)
		}
		if r.Suspects[0].Key != "hub-bearing" || r.Suspects[0].Where != c.where {
			t.Errorf("%q, %v: %s at %q, not %q", c.said, c.also, r.Suspects[0].Key, r.Suspects[0].Where, c.where)
		}
	}
	if w := (diagnose.Weight{Where: "right"}); w.At() != "right, front or rear not known" {
		t.Errorf("a side alone reads %q", w.At())
	}
}

// A suspect is a part this vehicle has, and what was seen is found whatever it weighs.
func TestSuspectsOfAVehicle(t *testing.T) {
	k := knowledge(t)
	drums := k.Of(map[string]string{"rear-brake": "drum", "driven": "front"})
	discs := k.Of(map[string]string{"rear-brake": "disc", "driven": "rear"})
	for key, on := range map[string][2]bool{
		"shoes-worn": {true, false}, "cross-joint": {false, true}, "outer-joint": {true, false}, "hub-bearing": {true, true},
	} {
		if got := [2]bool{drums.Has(key), discs.Has(key)}; got != on {
			t.Errorf("%s: %v on drums and driven front, discs and driven rear; want %v", key, got, on)
		}
	}
	answers := []diagnose.Answer{{Key: "shoes-thin", Yes: true, Corner: "RL"}, {Key: "damper-wet", Corner: "FL"}}
	if got := drums.Found(answers); len(got) != 1 || got[0].Suspect != "shoes-worn" || got[0].Corner != "RL" {
		t.Errorf("found %v", got)
	}
	if got := discs.Found(answers); len(got) != 0 {
		t.Errorf("a vehicle without drums has %v", got)
	}
	r, err := drums.Weigh(answers, diagnose.History{})
	if err != nil || r.Chance("cross-joint") != 0 {
		t.Errorf("%v, a shaft it has not is suspected by %v", err, r.Chance("cross-joint"))
	}
}

// What is asked first follows the complaint; what contradicts stands before it.
func TestFirstQuestion(t *testing.T) {
	k := knowledge(t)
	for _, c := range []struct {
		said, answered string
		want           string
	}{
		{"hums at speed", "", "hum-with-speed"}, // what was said is confirmed first
		{"hums at speed", "hum-with-speed", "hum-louder-left-bend"},
		{"the pedal is spongy", "pedal-soft", "pedal-rises"},
		{"pedal goes very low", "", "pedal-soft"},
		{"rear left wheel is wet inside", "", "fluid-under-wheel"},
		{"handbrake is weak", "park-brake-weak", "cable-drags"},
	} {
		var answers []diagnose.Answer
		if c.answered != "" {
			answers = append(answers, diagnose.Answer{Key: c.answered, Yes: true})
		}
		r, err := k.Weigh(answers, diagnose.History{Said: c.said})
		if err != nil || r.Next[0].Key != c.want {
			t.Errorf("%q is first asked %s, not %s (%v)", c.said, r.Next[0].Key, c.want, err)
		}
	}
	clash := []diagnose.Answer{
		{Key: "shudder-braking-only", Yes: true}, {Key: "shake-without-brakes", Yes: true}, {Key: "pedal-soft", Yes: true},
	}
	r, err := k.Weigh(clash, diagnose.History{Said: "the pedal is spongy, and it shudders"})
	if err != nil || !slices.Contains(r.Again, r.Next[0].Key) {
		t.Errorf("two answers that cannot both be, and %s is asked before them (%v)", r.Next[0].Key, err)
	}
}

// One sign that was confirmed goes with what it makes suspect, not against a vehicle without a fault.
func TestOneSignIsNotOdd(t *testing.T) {
	k := knowledge(t)
	for _, e := range k.Evidence {
		if e.Kind != "sign" || e.After != "" {
			continue
		}
		r, err := k.Weigh([]diagnose.Answer{{Key: e.Key, Yes: true}}, diagnose.History{})
		if err != nil {
			t.Fatal(err)
		}
		if len(r.Open) > 0 && r.Healthy < 0.5 {
			t.Errorf("%s alone, a sound vehicle at %.2f: %s", e.Key, r.Healthy, r.Open)
		}
	}
}

// Who complains of a hum is asked of it wherever the vehicle stands: nobody need drive for that.
func TestSaidIsAskedAnywhere(t *testing.T) {
	k := knowledge(t)
	for said, want := range map[string]string{"hums at speed": "hum-with-speed", "rattles": "rattle-small-bumps"} {
		r, err := k.Weigh(nil, diagnose.History{Said: said})
		if err != nil {
			t.Fatal(err)
		}
		next := diagnose.Allowed(r.Next, "raised")
		if next[0].Key != want || next[0].Settles != "whether that is what was meant" {
			t.Errorf("%q, raised: first asked %s, which settles %s", said, next[0].Key, next[0].Settles)
		}
		if slices.ContainsFunc(next[1:], func(n diagnose.Next) bool { return n.Position == "drive" && !n.Said }) {
			t.Errorf("%q, raised: a drive is asked for", said)
		}
	}
}

// Work is proposed for what is likely, and for what was seen itself however it weighs, where it was seen.
func TestProposals(t *testing.T) {
	w := diagnose.Weighed{Know: *knowledge(t)}
	w.Answers = []diagnose.Answer{
		{Key: "link-cracked", Yes: true, Corner: "RR"},
		{Key: "hum-with-speed", Yes: true}, {Key: "growl-at-knuckle", Yes: true},
	}
	w.History.Said = "hums at the front left"
	var err error
	if w.Report, err = w.Know.Weigh(w.Answers, w.History); err != nil {
		t.Fatal(err)
	}
	none := func(string) bool { return false }
	points := map[string]string{}
	for _, p := range w.Proposals(none) {
		points[p.Key] = p.Points
		if p.Chance < diagnose.Likely && len(p.Seen) == 0 {
			t.Errorf("%s is proposed at %.2f", p.Key, p.Chance)
		}
	}
	if at, ok := points["stab-link"]; !ok || at != "RR" {
		t.Errorf("a link that was seen cracked at RR is proposed at %q (%v)", at, points)
	}
	if at, ok := points["hub-bearing"]; !ok || at != "FL" {
		t.Errorf("a bearing that was said to hum at FL is proposed at %q (%v)", at, points)
	}
	all := w.Proposals(func(suspect string) bool { return suspect == "fluid-old" })
	if !slices.ContainsFunc(all, func(p diagnose.Proposal) bool { return p.Key == "fluid-old" }) {
		t.Error("what was decided is gone")
	}
}

// Each suspect has work that renews it, or says who does it.
func TestEverySuspectIsSomebodys(t *testing.T) {
	for _, s := range knowledge(t).Suspects {
		if len(s.Operations) == 0 && s.DoneBy == "" {
			t.Errorf("nobody renews %s", s.Name)
		}
	}
}
