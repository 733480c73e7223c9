package walk

import (
	"slices"

	"lugtak/core/diagnose"
	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
	"lugtak/library"
)

// suspect is a suspect with where the answer in hand would move it, in per cent.
type suspect struct {
	diagnose.Weight
	Percent, Yes, No int
	Moves            bool     // an answer moves it
	For, Not         []string // what speaks for and against it, the first and shortest said
}

// reasons are the first of what was answered: what a yes means, without the question it was an answer to.
func reasons(all []diagnose.Reason, most int) []string {
	var out []string
	for _, r := range all[:min(most, len(all))] {
		says := r.String()
		if r.Yes {
			says = r.Says
		}
		out = append(out, says)
	}
	return out
}

// leading is how many suspects stand in sight, and moved the change in per cent points from
// which an answer is said to move one.
const (
	leading = 3
	moved   = 2
)

// suspects lays out the leading ones, with where a yes and a no to the test in hand would
// move them.
func (v *View) suspects(k *diagnose.Knowledge, w diagnose.Weighed) error {
	yes, no := v.Report, v.Report
	if v.Ask != nil {
		var err error
		if yes, no, err = k.Ahead(v.Report, v.Ask.Q.Key, w.Answers, w.History); err != nil {
			return err
		}
	}
	percent := func(chance float64) int { return int(100*chance + 0.5) }
	for _, w := range v.Report.Suspects[:min(leading, len(v.Report.Suspects))] {
		x := suspect{Weight: w, Percent: percent(w.Chance)}
		x.Yes, x.No = percent(yes.Chance(w.Key)), percent(no.Chance(w.Key))
		x.For, x.Not = reasons(w.Because, 2), reasons(w.Against, 1)
		x.Moves = v.Ask != nil && max(x.Yes, x.Percent, x.No)-min(x.Yes, x.Percent, x.No) >= moved
		v.Suspects = append(v.Suspects, x)
	}
	return nil
}

// clash is two answers that cannot both be, side by side.
type clash [2]clashing

// clashing is one of two answers that cannot both be.
type clashing struct {
	job.Given
	Position string
}

// Word is the answer in a word.
func (x clashing) Word() string {
	switch {
	case x.Yes && x.Corner != "":
		return "yes, " + x.Corner
	case x.Yes:
		return "yes"
	}
	return "no"
}

// Why is the likely reason that the two do not agree.
func (v clash) Why() string {
	a, b := v[0], v[1]
	switch {
	case a.By != b.By:
		return "Two people looked: look together."
	case a.Position != b.Position:
		return "The vehicle stood otherwise: " + stands(a.Position) + " the first time, " + stands(
			b.Position) + " the second."
	case a.Sign == b.Sign:
		return "Found at a corner, and nowhere: one of them was a slip."
	}
	return "The same hand, the vehicle alike: one of them was a slip."
}

// clashes lays out the answers that cannot both be.
func (v *View) clashes(k *diagnose.Knowledge) {
	side := func(a diagnose.Answer) clashing {
		x := clashing{Given: v.Job.Walk.Given[job.AnswerKey(a.Key, string(a.Corner))]}
		for _, e := range k.Evidence {
			if e.Key == a.Key {
				x.Sign, x.Ask, x.Position = e.Key, e.Ask, e.Position
			}
		}
		x.Yes, x.Corner = a.Yes, string(a.Corner)
		return x
	}
	for _, c := range v.Report.Clashes {
		v.Clashes = append(v.Clashes, clash{side(c.First), side(c.Second)})
	}
	v.Struck = v.Job.Walk.Struck
}

type proposal struct {
	diagnose.Proposal
	Percent int
	Decided *job.Proposal
	CanPlan bool
	Places  []vehicle.Corner // it can be replaced at
	Corner  vehicle.Corner   // of these the one all points to
}

// proposals lays out what the walk-round proposes, with what was decided and what can be planned.
func (v *View) proposals(w *diagnose.Weighed, offers []plan.Task) []proposal {
	st := v.Job
	decided := func(suspect string) *job.Proposal {
		i := slices.IndexFunc(st.Walk.Proposals, func(p job.Proposal) bool { return p.Suspect == suspect })
		if i < 0 {
			return nil
		}
		return &st.Walk.Proposals[i]
	}
	var out []proposal
	for _, p := range w.Proposals(func(suspect string) bool { return decided(suspect) != nil }) {
		x := proposal{Proposal: p, Percent: int(100*p.Chance + 0.5), Decided: decided(p.Key)}
		for _, corner := range diagnose.Corners {
			t, ok := library.TaskFor(offers, p.Suspect, corner)
			if ok && !st.Begun() {
				x.CanPlan = true
				if t.Corner != "" {
					x.Places = append(x.Places, corner)
				}
			}
		}
		x.Corner = pointedAt(x.Places, p.Points)
		out = append(out, x)
	}
	return out
}

// pointedAt is the place all points to, a corner, a side or an axle; else the first.
func pointedAt(places []vehicle.Corner, where string) vehicle.Corner {
	for _, c := range places {
		if string(c) == where || c.Side() == where || c.Axle() == where {
			return c
		}
	}
	if len(places) == 0 {
		return ""
	}
	return places[0]
}

// Open is how many proposals are still to be decided.
func (v View) Open() (n int) {
	for _, p := range v.Proposals {
		if p.Decided == nil {
			n++
		}
	}
	return n
}

// Plans says that something proposed can be planned.
func (v View) Plans() bool {
	return slices.ContainsFunc(v.Proposals, func(p proposal) bool { return p.Decided == nil && p.CanPlan })
}
