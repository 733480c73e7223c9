package diagnose_test

import (
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
	at := func(where string, answers ...diagnose.Answer) string {
		r, err := k.Weigh(append(answers, diagnose.Answer{Key: "hum-with-speed", Yes: true}, diagnose.Answer{Key: "growl-at-knuckle", Yes: true}),
			diagnose.History{Where: where})
		if err != nil {
			t.Fatal(err)
		}
		return r.Suspects[0].Where
	}
	if got := at(""); got != "" {
		t.Errorf("nobody pointed, and it sits %q", got)
	}
	if got := at("FR", diagnose.Answer{Key: "growl-at-knuckle", Yes: true, Corner: "RL"}); got != "RL" {
		t.Errorf("felt at the rear left, told at the front right: %q", got)
	}
	if got := at("", diagnose.Answer{Key: "hum-louder-left-bend", Yes: true}); got != "right" {
		t.Errorf("a left bend loads the right: %q", got)
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

// What is asked first follows the complaint.
func TestFirstQuestion(t *testing.T) {
	k := knowledge(t)
	for text, want := range map[string]string{
		"hums at speed":       "hum-louder-left-bend",
		"the pedal is spongy": "fluid-dark",
		"handbrake is weak":   "cable-drags",
	} {
		signs := k.Complaint(text)
		var answers []diagnose.Answer
		for _, s := range signs {
			answers = append(answers, diagnose.Answer{Key: s, Yes: true})
		}
		r, err := k.Weigh(answers, diagnose.History{})
		if err != nil {
			t.Fatal(err)
		}
		if got := k.First(r.Next, signs); got[0].Key != want {
			t.Errorf("%q is first asked %s, not %s", text, got[0].Key, want)
		}
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
