package job

import (
	"encoding/json"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"sort"
	"strings"
	"testing"
	"time"

	"lugtak/core/fact"
	"lugtak/core/record"
)

// Journals of every release mean what they meant: what they add up to stands beside
// them in words. (In those of the first release the words for evidence are today's.)
func TestGoldenJournalsKeepTheirMeaning(t *testing.T) {
	// release is that of a journal's name: 10 of v10-promised.
	release := func(name string) int {
		var n int
		_, _ = fmt.Sscanf(name, "v%d-", &n)
		return n
	}
	files, err := filepath.Glob("../record/testdata/*.json")
	if err != nil || len(files) == 0 {
		t.Fatal("no golden journals", err)
	}
	for _, file := range files {
		name := strings.TrimSuffix(filepath.Base(file), ".json")
		data, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		want, err := os.ReadFile("testdata/" + name + ".txt")
		if err != nil {
			t.Fatal(err)
		}
		var f struct{ Events []record.Line }
		if err := json.Unmarshal(data, &f); err != nil {
			t.Fatal(err)
		}
		var journal []Event
		for _, l := range f.Events {
			e, err := l.Event()
			if err != nil {
				t.Fatal(err)
			}
			journal = append(journal, e)
		}
		st := Replay(journal)
		says := meaning(st)
		for i, since := range []func(*State) string{
			since2, since3, since4, since5, since6, since7, since8, since9, since10, since11, since12,
			since13,
		} {
			if release(name) >= i+2 {
				says += since(st)
			}
		}
		got := strings.Split(says, "\n")
		for i, line := range strings.Split(string(want), "\n") {
			if i >= len(got) || got[i] != line {
				t.Errorf("%s line %d: %q, want %q", name, i+1, got[min(i, len(got)-1)], line)
			}
		}
	}
}

// meaning is a state in words.
func meaning(st *State) string {
	var b strings.Builder
	p := func(f string, a ...any) { fmt.Fprintf(&b, f+"\n", a...) }
	at := func(t time.Time) string { return t.UTC().Format(time.RFC3339) }
	p("job %s seq %d started %s by %q vehicle %s %q pattern %s complaint %q km %d back %q", st.ID, st.Seq,
		at(st.Started), st.StartedBy, st.Vehicle.ID, st.Vehicle.Fleet, st.Vehicle.Pattern, st.Complaint,
		st.OdometerKM, st.WhyBack)
	p("title %q position %q second %v next %q", st.Title(), st.Position, st.House.Second, st.Next())
	for _, c := range st.HeldAt() {
		p("held %s", c)
	}
	for _, x := range st.Plan.Steps {
		s := st.Steps[x.ID]
		p("step %s done %v later %v letters %v choice %q note %q turns %g by %q minutes %g needs %v", x.ID,
			st.StepDone(x.ID), s.Postponed, s.Letters, s.Choice, s.Note, s.Turns, s.By, x.Minutes, x.Needs)
	}
	for _, j := range st.Plan.Joints {
		p("joint %s recipe %q treatment %q source %q struck %d", j.ID, j.Recipe, j.Treatment, j.Source, len(j.Struck))
		for _, g := range st.Stages(j.ID) {
			lo, hi := g.Window()
			p("  stage %s %g %g %g", g.Kind, lo, g.Target(), hi)
		}
		for _, l := range j.Letters {
			f := st.Fastener(j.ID, l)
			p("  fastener %s mark %s done %d of %d renewed %v owed %v waived %v trouble %v pulls %d", f,
				f.Mark(), f.Done, f.Stages, f.Renewed, f.Owed(), f.Waived, f.Trouble != "", len(f.Pulls))
		}
	}
	for _, k := range st.Soaks {
		p("soak %s %s to %s", k.Step, at(k.Start), at(k.End))
	}
	for _, t := range st.Troubles {
		p("trouble %s at %s %s %s %q %q by %q cleared %v", t.ID, t.Step, t.Joint, t.Letter, t.What, t.Note,
			t.By, t.Cleared != nil)
	}
	for _, d := range st.Deviations {
		p("deviation %s %q second %q by %q", d.Gate, d.Reason, d.Second, d.By)
	}
	for _, f := range st.Findings {
		p("finding %q photo %v by %q", f.Text, f.Photo, f.By)
	}
	list := func(name string, m map[string]string) {
		var ks []string
		for k := range m {
			ks = append(ks, k)
		}
		sort.Strings(ks)
		for _, k := range ks {
			p("%s %s %s", name, k, m[k])
		}
	}
	parts := map[string]string{}
	for k, v := range st.Parts {
		parts[k] = string(v)
	}
	list("part", parts)
	list("variant", st.Variants)
	for _, k := range st.Walk.Asked {
		p("answer %s %v", k, st.Walk.Answers[k])
	}
	for _, m := range st.Walk.Measured {
		p("measured %s %g of %g %s %q", m.Key, m.Value, m.Limit, m.Verdict, m.Says)
	}
	for _, d := range st.Walk.Drives {
		p("drive %s peaks %d falls %d orders %d", d.Tyre, len(d.Peaks), len(d.Falls), len(d.Amplitude))
	}
	for _, c := range st.Walk.Proposals {
		p("choice %s %v safety %v %q", c.Suspect, c.Accept, c.Safety, c.Reason)
	}
	for _, m := range st.Matches {
		p("match %s %s accept %v differences %d %q", m.Part, m.Verdict, m.Accept, len(m.Differences), m.Why())
	}
	for _, r := range st.Replans {
		p("replan %q", r.Why)
	}
	for _, id := range st.PullOrder {
		r := st.Pulls[id]
		p(
			"pull %s %s#%s stage %d evidence %s tool %q adapter %q set %g peak %g turn %g signature %s verdict %s kept %v "+
				"struck %q by %q",
			id,
			r.Fastener.Joint,
			r.Fastener.Letter,
			r.Stage,
			r.Evidence,
			r.Tool,
			r.Adapter,
			r.SetNm,
			r.Result.PeakNm,
			r.Result.TurnDeg,
			r.Result.Signature,
			r.Result.Verdict,
			r.Kept,
			r.StruckWhy,
			r.By,
		)
	}
	var gs []string
	for _, g := range st.Gates() {
		gs = append(
			gs,
			fmt.Sprintf("gate %s met %v passable %v second %v deviation %v", g.Key, g.Met, g.Passable, g.Second,
				g.Deviation != nil),
		)
	}
	slices.Sort(gs)
	b.WriteString(strings.Join(gs, "\n"))
	p("")
	for _, t := range st.Trays() {
		p("tray %s out %d in %d", t.Name, t.Out, t.In)
	}
	for _, t := range st.Turns() {
		p("turns %s out %g in %g toe %g %v", t.Corner, t.Out, t.In, t.ToeMM, t.Known)
	}
	if st.Signature != nil {
		p("signed by %q as %s %q", st.Signature.By, st.Signature.Role, st.Signature.Note)
	}
	return b.String()
}

// since4 is what a state says beside since tries to free something are recorded.
func since4(st *State) string {
	var b strings.Builder
	p := func(f string, a ...any) { fmt.Fprintf(&b, f+"\n", a...) }
	for _, t := range st.Troubles {
		p("trouble %s %s became %q stops %v", t.ID, t.Code, t.Became, t.Stops())
		for _, x := range t.Tries {
			p("  %s at odds %g: %s %s, near %v, kept %v, works %g, by %s", x.Rung, x.Odds, x.Outcome, x.Became,
				x.Near, x.Keep, x.WaitsMin, x.By)
		}
	}
	for _, f := range st.Findings {
		p("found %s", f.Says())
	}
	for _, x := range st.Plan.Steps {
		if x.Frees != "" {
			p("step %s frees %s", x.ID, x.Frees)
		}
	}
	return b.String()
}

// since8 is what a state says beside since there is one account of its fasteners, a pull may be
// stated, and what came out broken is out.
func since8(st *State) string {
	var b strings.Builder
	p := func(f string, a ...any) { fmt.Fprintf(&b, f+"\n", a...) }
	for _, x := range st.Account().Fasteners {
		p("account %s %s renewed %v", x.Fastener, x.Grade, x.Renewed)
	}
	p("account says %s", st.Account().Says())
	for _, g := range st.Gates() {
		p("gate %s met %v closed %v second %v", g.Key, g.Met, g.Closed(), g.Second)
	}
	return b.String()
}

// since10 is what a state says beside since a vehicle may be promised.
func since10(st *State) string {
	return fmt.Sprintf("promised %s by %q at %s\n", st.Promised.Until.UTC().Format(time.RFC3339), st.Promised.By,
		st.Promised.At.UTC().Format(time.RFC3339))
}

// since9 is what a state says beside since figures are read when they are wanted.
func since9(st *State) string {
	var b strings.Builder
	for _, j := range st.Plan.Joints {
		fmt.Fprintf(&b, "figure %s %q of %q read by %v differ %v stages %d\n", j.ID, j.Says(), j.Source, j.Readers,
			len(j.Differs), len(st.Stages(j.ID)))
	}
	return b.String()
}

// since7 is what a state says beside since parts are ordered, a rotor's verdict changes the
// plan, and an alignment comes with its sheet.
func since7(st *State) string {
	var b strings.Builder
	p := func(f string, a ...any) { fmt.Fprintf(&b, f+"\n", a...) }
	for _, key := range slices.Sorted(maps.Keys(st.Supplied)) {
		x := st.Supplied[key]
		p("ordered %s of %s for %g %s, due %s, simulated %v", key, x.Supplier, x.Price, x.Currency,
			x.Due.UTC().Format(time.RFC3339), x.Simulated)
	}
	for _, m := range st.Walk.Measured {
		if m.Advise != "" {
			p("measured %s at %s: %s", m.Key, m.Corner, m.Advise)
		}
	}
	for _, m := range st.Plan.Drive {
		p("driven %q at most %g km/h on %q, feel %q, watch %q, stop %q", m.Do, m.KMH, m.Surface, m.Feel, m.Watch, m.Stop)
	}
	for _, d := range st.Dues() {
		if d.Closed != nil && len(d.Closed.Sheet) > 0 {
			p("sheet of %d: %v", d.No, d.Closed.Sheet)
			for _, f := range st.ToesFound(d.Closed.Sheet) {
				p("toe %s foretold %.3f ± %.3f, found %.3f", f.Corner, f.Foretold, f.Sure, f.Found)
			}
		}
	}
	return b.String()
}

// since6 is what a state says beside since drives, fluids and what is due are records.
func since6(st *State) string {
	var b strings.Builder
	p := func(f string, a ...any) { fmt.Fprintf(&b, f+"\n", a...) }
	for _, h := range st.Handed {
		p("handed %q to %s by %s: %q", h.Corner, h.To, h.By, h.Note)
	}
	for _, x := range st.Trials {
		p("drive %s of %s by %s: %q", x.Result, x.Step, x.By, x.Felt)
	}
	for _, f := range st.Fluids {
		p("%s at %s: %g ml out, %g in, %q, %s, air %v", f.Fluid, f.Step, f.OutMl, f.InMl, f.Spec, f.Colour, f.Air)
	}
	for _, x := range st.Plan.Steps {
		if n := st.Steps[x.ID].Strokes; n > 0 || x.Books != "" {
			p("step %s strokes %d books %q", x.ID, n, x.Books)
		}
	}
	for _, d := range st.Dues() {
		p("due %d %s at %d km, %s", d.No, d.Title, d.AtKM, d.At.Format(time.DateOnly))
		if c := d.Closed; c != nil {
			p("closed at %d km by %s: %q, dropped %v", c.OdometerKM, c.By, c.Found, c.Dropped)
		}
	}
	for _, r := range st.Reopenings {
		p("reopened by %s: %q, was signed by %s", r.By, r.Reason, r.SignedBy)
	}
	return b.String()
}

// since5 is what a state says beside since the owner is told and ways out are chosen.
func since5(st *State) string {
	var b strings.Builder
	p := func(f string, a ...any) { fmt.Fprintf(&b, f+"\n", a...) }
	for _, t := range st.Told {
		p("told %g %g %g min, %g to %g %s, agreed %v %q by %s", t.LowMin, t.LikelyMin, t.HighMin, t.PriceLow, t.PriceHigh,
			t.Currency, t.Agreed, t.Said, t.By)
	}
	for _, x := range st.Plan.Steps {
		if x.Frees != "" {
			p("step %s %q with %s, how %q, because %q, caution %q", x.ID, x.Title, x.Tool, x.How, x.Because, x.Caution)
		}
	}
	return b.String()
}

// since3 is what a state says beside since plans are made from facts.
func since3(st *State) string {
	var b strings.Builder
	p := func(f string, a ...any) { fmt.Fprintf(&b, f+"\n", a...) }
	for _, f := range slices.SortedFunc(maps.Keys(st.Facts), fact.Compare) {
		p("fact %s %s, at rest %s", f, st.Facts[f], st.Plan.World.Rest[f])
	}
	for _, l := range st.Plan.World.Laws {
		p("law %s on %s %s asks %d", l.ID, l.On, l.Values, len(l.Must))
	}
	for _, x := range st.Plan.Builds {
		p("built %s %s known %v decides %v", x.Key, x.Is, x.Known, x.Decides)
	}
	for _, x := range st.Plan.Steps {
		p("step %s wants %d makes %v uses %v snug %v", x.ID, len(x.Wants), x.Makes, x.Uses, x.Snug)
	}
	for _, j := range slices.Sorted(maps.Keys(st.Treated)) {
		b := st.Treated[j]
		p("treated %s %s for %s, %s for %s: %s", j, b.Treatment, b.Was, b.Recipe, b.WasRecipe, b.Reason)
	}
	p("proved %v", st.Plan.Prove())
	return b.String()
}

// since2 is what a state says beside since the second release.
func since2(st *State) string {
	var b strings.Builder
	p := func(f string, a ...any) { fmt.Fprintf(&b, f+"\n", a...) }
	p("house {%v %v %v %d}", st.House.Second, st.House.Critical, st.House.Demand, st.House.FollowUpKM)
	for _, j := range st.Plan.Joints {
		for _, l := range j.Letters {
			f := st.Fastener(j.ID, l)
			p("evidence %s sign %s evidence %q cause %q blocks %q unchecked %v", f, f.Sign(), f.Evidence,
				f.Cause, f.Blocks, st.Unchecked(&j, f))
		}
	}
	for _, id := range st.PullOrder {
		x := st.Pulls[id]
		p("pull %s counts %v traced %v simulated %v means %q cause %q claim %q", id, x.Counts(), x.Traced,
			x.Simulated, x.Means, x.Cause, x.Claim)
	}
	for _, t := range st.Troubles {
		p("trouble %s code %s", t.ID, t.Code)
	}
	for _, f := range st.Figures {
		p("figure %s was %q now %q answered %v", f.Joint, f.Was, f.Recipe, f.Answered)
	}
	for _, f := range st.FollowUps() {
		p("follow-up {Kind:%s Title:%s KM:%d Joint:%s Letter:%s}", f.Kind, f.Title, f.KM, f.Joint, f.Letter)
	}
	for _, h := range st.Hasty {
		p("hasty %s by %q took %s", h.Step, h.By, h.Took)
	}
	if st.Signature != nil {
		p("signed with %d gates, versions %v", len(st.Signature.Gates), st.Signature.Versions)
		for _, g := range st.Signature.Gates {
			p("frozen %+v", g)
		}
	}
	return b.String()
}

// since11 is what journals of the eleventh hold besides: photographs of how it was, and rounds stated together.
func since11(st *State) string {
	var b strings.Builder
	for _, x := range st.Photos {
		fmt.Fprintf(&b, "photo of %s at step %s by %q at %s\n", x.Place, x.Step, x.By, x.At.UTC().Format(time.RFC3339))
	}
	together := 0
	for _, p := range st.Pulls {
		if p.Together {
			together++
		}
	}
	fmt.Fprintf(&b, "stated together %d\n", together)
	return b.String()
}

// since13 is what a state says beside since chances are kept as they were said.
func since13(st *State) string {
	var b strings.Builder
	for _, t := range st.Troubles {
		for _, x := range t.Tries {
			fmt.Fprintf(&b, "try %s said %g, by the library %g, %s\n", x.Rung, x.Odds, x.ByLibrary(), x.Outcome)
		}
	}
	if s := st.Suspicion; s != nil {
		fmt.Fprintf(&b, "suspected %s said %g, by the library %g, was it %v\n", s.Suspect, s.Chance, s.Plain, s.Was)
	}
	return b.String()
}

// since12 is what journals of the twelfth hold besides: angles with how far off they may be.
func since12(st *State) string {
	var b strings.Builder
	for _, id := range st.PullOrder {
		if p := st.Pulls[id]; p.ErrDeg > 0 {
			fmt.Fprintf(&b, "%s turned by %s, %.1f ± %.1f\n", p.Fastener, p.Means, p.TurnedDeg(), p.ErrDeg)
		}
	}
	return b.String()
}
