package pages_test

import (
	"testing"

	"lugtak/core/diagnose"
	"lugtak/core/fault"
	"lugtak/core/forecast"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/plan"
	"lugtak/core/practice"
	"lugtak/device"
	"lugtak/library"
	"lugtak/pages/bench"
	"lugtak/pages/office"
	bay "lugtak/pages/practice"
	"lugtak/pages/walk"
)

// walked lays the walk-round at its places.
func walked(t *testing.T, seen laid, h *hand) {
	t.Helper()
	w := diagnose.Weighed{Know: h.lib.Signs}
	var err error
	w.Answers = []diagnose.Answer{{Key: "hum-with-speed", Yes: true}, {Key: "play-12-6", Yes: true, Corner: "FL"}}
	if w.Report, err = h.lib.Signs.Weigh(w.Answers, w.History); err != nil {
		t.Fatal(err)
	}
	for _, place := range []string{"", "FL", "hub", "brake", "road"} {
		for _, measure := range []string{"", h.lib.Limits.Measures[0].Key} {
			page, err := walk.Page(walk.Shown{
				Job: h.st, Library: h.lib, Weighed: w, Place: place, Measure: measure, At: "raised", Plays: []string{"hum"},
			})
			if err != nil {
				t.Fatal(err)
			}
			seen.lay(t, page)
		}
	}
}

// stuck lays the ladder of a fastener that sits fast, and a part that is laid beside the old one.
func stuck(t *testing.T, seen laid, h *hand) {
	t.Helper()
	var compared *plan.Step
	for i := range h.st.Plan.Steps {
		step := &h.st.Plan.Steps[i]
		if _, ok := h.st.Plan.Compared(step); ok {
			compared = step
		}
	}
	for _, typed := range []map[string]string{nil, {"old-bore_mm": "40", "new-bore_mm": "about"}} {
		page, err := bench.Beside(h.lib, h.st, compared, typed, nil)
		if err != nil {
			t.Fatal(err)
		}
		seen.lay(t, page)
	}
	if _, err := bench.Beside(h.lib, h.st, nil, nil, nil); fault.As(err) == nil {
		t.Error("nothing is laid beside nothing")
	}
	for h.st.Plan.Step(h.st.Next()).Joint == "" {
		for _, c := range h.Next(h.st, h.st.Plan.Step(h.st.Next())) {
			h.do(c)
		}
	}
	step := h.st.Plan.Step(h.st.Next())
	h.do(job.ReportTrouble{Step: step.ID, Letter: h.st.Current(step), Code: job.Stuck})
	for _, said := range []bench.Said{{}, {Said: true, Near: []string{"rubber"}, Broke: true}} {
		page, err := bench.ReleasePage(bench.Stuck{
			Job: h.st, Library: h.lib, Trouble: &h.st.Troubles[0], Now: h.Now, Case: said,
		})
		if err != nil {
			t.Fatal(err)
		}
		seen.lay(t, page)
	}
	seen.lay(t, bench.Page(h.bench("")))
}

// practised lays every exercise at its beginning, and one that has ended.
func practised(t *testing.T, seen laid, lib *library.Library) {
	t.Helper()
	missed := listing.Score{Skills: map[string]bool{"Order": false}}
	past := []listing.Run{{ID: "r", Exercise: lib.Exercises[0].ID, Score: missed}}
	seen.lay(t, bay.Bay(lib, past))
	for i := range lib.Exercises {
		x := &lib.Exercises[i]
		made, err := lib.PracticePlan(x)
		if err != nil {
			t.Fatal(err)
		}
		shown := bay.Shown{
			Run:     practice.Replay(x, made, lib.PracticeRules(x), 7, nil),
			Kept:    past[0],
			Library: lib,
			Swing: func(*plan.Step) []device.Reading {
				return []device.Reading{{Angle: 1, Torque: 2}, {Angle: 3, Torque: 9}}
			},
		}
		for _, step := range append(shown.Run.Offer(), nil) {
			shown.Step = ""
			if step != nil {
				shown.Step = step.ID
			}
			page, err := bay.Practising(shown)
			if err != nil {
				t.Fatal(err)
			}
			seen.lay(t, page)
		}
		seen.lay(t, bay.Practised(lib, shown, past))
	}
}

// said lays what was said against what happened: nothing yet, and cases of two bands.
func said(t *testing.T, seen laid) {
	t.Helper()
	none := office.Kept{}
	tried := office.Kept{
		Said: []forecast.Said{
			{Kind: "rusted thread", Of: "heat", Band: 3, Tally: forecast.Tally{N: 30, Happened: 12, Said: 20, Spread: 6.5}},
			{Kind: "rusted thread", Of: "heat", Band: 4, Tally: forecast.Tally{N: 2, Happened: 2, Said: 1.7, Spread: 0.2}},
		},
		Past: func(string, string) forecast.Tally { return forecast.Tally{N: 32, Happened: 14, Said: 21, Spread: 6.7} },
		Name: func(of string) string { return of },
	}
	seen.lay(t, office.Said(none, none))
	seen.lay(t, office.Said(tried, none))
}
