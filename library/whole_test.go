package library

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/part"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/thread"
	"lugtak/core/vehicle"
	"lugtak/demo/files"
)

// whole is the shipped library, which has no fault.
func whole(t *testing.T) *Library {
	t.Helper()
	l, err := Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range l.Faults {
		t.Error(f)
	}
	if t.Failed() {
		t.FailNow()
	}
	return l
}

// ordered compiles without putting in the best order, which takes longer and
// changes nothing that these tests look at.
func (l *Library) ordered(t *testing.T, p vehicle.Pattern, ways map[string]string, tasks ...plan.Task) plan.Plan {
	t.Helper()
	made, err := plan.Compile(l.order(p, Ask{Tasks: tasks, Ways: ways}))
	if err != nil {
		t.Errorf("%s %v %v: %v", p.ID, tasks, ways, err)
	}
	return made
}

// built compiles for a vehicle built otherwise than its pattern says. Where its sheet
// lacks a joint of that build, it says so; any other refusal is a fault.
func (l *Library) built(t *testing.T, p vehicle.Pattern, built map[string]string, tasks ...plan.Task) {
	t.Helper()
	made, err := plan.Compile(l.order(p, Ask{Tasks: tasks, Built: built}))
	switch f := fault.As(err); {
	case err == nil:
		check(t, p, made)
	case f.Code != "no_sheet":
		t.Errorf("%s %v built %v: %v", p.ID, tasks, built, err)
	}
}

// Every operation of a pattern's list can be ordered somewhere, alone, by every
// way of every school, and together with every other one.
func TestEveryOperationAndEveryPair(t *testing.T) {
	l := whole(t)
	families := map[string]bool{}
	for _, p := range l.Patterns {
		offers := l.Offers(p)
		for _, op := range p.Operations {
			if !slices.ContainsFunc(offers, func(x plan.Task) bool { return x.Operation == op }) {
				o, ok := l.Operation(op)
				if !ok {
					t.Errorf("%s names %s, which is no operation", p.ID, op)
					continue
				}
				corner := map[string]vehicle.Corner{"front": "FL", "rear": "RL", "any": "FL"}[o.Axle]
				l.ordered(t, p, nil, plan.Task{Operation: op, Corner: corner})
			}
		}
		var alone []plan.Plan
		for _, a := range offers {
			op, _ := l.Operation(a.Operation)
			families[op.Family] = true
			alone = append(alone, l.ordered(t, p, nil, a))
		}
		for i, a := range offers {
			check(t, p, alone[i])
			for _, s := range l.Schools {
				if i > 0 && !slices.ContainsFunc(alone[i].Schools, func(x plan.SchoolUsed) bool { return x.Key == s.Key }) {
					continue // it does not touch this work; with the first all are worked
				}
				for _, w := range s.Ways {
					check(t, p, l.ordered(t, p, map[string]string{s.Key: w.Key}, a))
				}
			}
			for _, b := range l.Builds {
				if i > 0 && !slices.ContainsFunc(alone[i].Builds, func(x plan.BuildUsed) bool { return x.Key == b.Key }) {
					continue
				}
				for _, x := range b.Answers {
					l.built(t, p, map[string]string{b.Key: x.Key}, a)
				}
			}
			for k, b := range offers[i+1:] {
				both, other := l.ordered(t, p, nil, a, b), alone[i+1+k]
				check(t, p, both)
				if len(both.Steps) >= len(alone[i].Steps)+len(other.Steps) {
					t.Errorf("%s %v %v: %d steps, alone %d and %d: nothing is shared", p.ID, a, b,
						len(both.Steps), len(alone[i].Steps), len(other.Steps))
				}
			}
		}
		all := l.ordered(t, p, nil, offers...)
		check(t, p, all)
		if n := count(all, "ground.raise"); n != 1 {
			t.Errorf("%s: raised %d times", p.ID, n)
		}
	}
	titles := map[string]string{}
	for _, op := range l.Operations {
		for _, p := range op.Parts {
			if was, ok := titles[p.Key]; ok && was != p.Title {
				t.Errorf("the part %s is a %s and a %s", p.Key, was, p.Title)
			}
			titles[p.Key] = p.Title
		}
		for _, s := range op.Steps {
			if s.Part != "" &&
				!slices.ContainsFunc(op.Parts,
					func(p operation.Part) bool { return p.Key == s.Part && slices.Contains(part.Kinds(), p.Kind) }) {
				t.Errorf("%s: step %s compares %s, which is no part with a kind", op.ID, s.ID, s.Part)
			}
			gauged := slices.Contains([]string{"micrometer", "dial gauge", "rule"}, s.Tool)
			if s.Verb == operation.Act && gauged && len(s.Measures) == 0 {
				t.Errorf("%s: step %s takes the %s and asks for no measure", op.ID, s.ID, s.Tool)
			}
			if s.Verb == operation.Compare && s.Part == "" {
				t.Errorf("%s: step %s names no part", op.ID, s.ID)
			}
		}
	}
	if len(families) < 15 {
		t.Errorf("%d families: %v", len(families), families)
	}
}

func count(p plan.Plan, id operation.StepID) int {
	n := 0
	for _, s := range p.Steps {
		if s.ID == id {
			n++
		}
	}
	return n
}

// check holds a plan against what must be true of any.
func check(t *testing.T, p vehicle.Pattern, made plan.Plan) {
	t.Helper()
	name := p.ID + ", " + made.Title
	done, opened := map[operation.StepID]bool{}, map[string]operation.Verb{}
	trays, in := map[string]string{}, map[string]int{}
	titled := map[string]operation.StepID{}
	for _, s := range made.Steps {
		id := operation.StepID(strings.TrimSuffix(string(s.ID), ".2")) // gone twice
		if was, ok := titled[s.Title]; ok && was != id {
			t.Errorf("%s: %s and %s are both “%s”: the title says what decides", name, was, s.ID, s.Title)
		}
		titled[s.Title] = id
		for _, n := range s.Needs {
			if !done[n] {
				t.Errorf("%s: %s stands before %s, which it needs", name, s.ID, n)
			}
		}
		done[s.ID] = true
		if strings.ContainsAny(s.Title+s.How+s.Because+s.Caution+s.Place, "{}") {
			t.Errorf("%s: %s is not filled in: %q %q", name, s.ID, s.Title, s.How)
		}
		if s.Hands() && s.Tool == "" && s.Place == "" {
			t.Errorf("%s: %s has neither tool nor place", name, s.ID)
		}
		for _, x := range s.Puts {
			in[x]++
		}
		for _, x := range s.Takes {
			if in[x]--; in[x] < 0 {
				t.Errorf("%s: %s takes away a %s that is not there", name, s.ID, x)
			}
		}
		if s.Joint != "" {
			opened[s.Joint] = s.Verb
		}
		// Where a step waits for more than what is before it at its own joint, it says why.
		if len(s.Needs) > 0 && s.Because == "" && s.Verb == operation.Crack && s.Position == plan.Ground {
			t.Errorf("%s: %s gives no reason", name, s.ID)
		}
	}
	for _, text := range append([]string{made.Title}, made.Warnings...) {
		if strings.ContainsAny(text, "{}") {
			t.Errorf("%s: %q is not filled in", name, text)
		}
	}
	for _, x := range made.Parts {
		if strings.ContainsAny(x.Title+x.Key, "{}") {
			t.Errorf("%s: the part %q is not filled in", name, x.Title)
		}
	}
	for what, n := range in {
		if n != 0 {
			t.Errorf("%s: %d × %s left in", name, n, what)
		}
	}
	for joint, last := range opened {
		if last != operation.Tighten {
			t.Errorf("%s: %s ends with %s", name, joint, last)
		}
	}
	for _, sc := range made.Scenes {
		if len(sc.Joints) == 0 {
			t.Errorf("%s: the picture of %s is empty", name, sc.Corner)
		}
	}
	for _, j := range made.Joints {
		if was, twice := trays[j.Tray]; twice {
			t.Errorf("%s: %s and %s share tray %s", name, was, j.ID, j.Tray)
		}
		trays[j.Tray] = j.ID
		if j.Corner != "" && !strings.HasPrefix(j.Tray, string(j.Corner)) {
			t.Errorf("%s: tray %s of %s does not name its side", name, j.Tray, j.ID)
		}
	}
}

// Every recipe of every sheet passes the fastening core's own check, but for those
// that are there to be doubted.
func TestSheetsArePlausible(t *testing.T) {
	l := whole(t)
	forms := map[string]bool{}
	without, conflict, struck := 0, 0, 0
	for _, p := range l.Patterns {
		for key, s := range p.Spec {
			if s.Source == "" && len(s.Variants) == 0 {
				without++
			}
			conflict += len(s.Others)
			struck += len(s.Struck)
			all := []vehicle.Spec{s}
			for _, v := range s.Variants {
				all = append(all, s.Of(v))
			}
			for _, s := range all {
				r, err := recipe.Parse(s.Recipe)
				if err != nil {
					t.Errorf("%s %s: %v", p.ID, key, err)
					continue
				}
				for _, st := range r.Stages {
					forms[fmt.Sprint(st.Kind)] = true
				}
				if s.Class == "" {
					continue // seals, and clamps nothing
				}
				th, err := thread.Parse(s.Thread)
				if err != nil {
					t.Errorf("%s %s: %v", p.ID, key, err)
					continue
				}
				cl, err := thread.ParseClass(s.Class, th)
				if err != nil {
					t.Errorf("%s %s: %v", p.ID, key, err)
					continue
				}
				doubts, err := recipe.Check(r, recipe.Fastener{Thread: th, Class: cl, Treatment: thread.Treatment(s.Treatment)})
				if err != nil {
					t.Errorf("%s %s: %v", p.ID, key, err)
				}
				for _, d := range doubts {
					if d.Code != "lubricated" {
						t.Errorf("%s %s (%s): %s", p.ID, key, s.Recipe, d.Message)
					}
				}
			}
		}
	}
	if len(forms) < 5 || without == 0 || conflict == 0 || struck == 0 {
		t.Errorf("the sheets show %d kinds of stage, %d figures without source, %d in conflict, %d struck",
			len(forms), without, conflict, struck)
	}
}

// cautioned says that a caution or warning of the plan has one of the words.
func cautioned(p plan.Plan, words string) bool {
	for _, w := range strings.Split(words, "|") {
		if slices.ContainsFunc(p.Steps, func(s plan.Step) bool { return strings.Contains(strings.ToLower(s.Caution), w) }) {
			return true
		}
	}
	return false
}

// Every way beside the plan's own is reckoned with the plan's own minutes, and the
// chosen ones are the plan as it stands.
func TestAlternatives(t *testing.T) {
	l := whole(t)
	p, _ := l.Pattern("norrvik-e3")
	var tasks []plan.Task
	for _, c := range []vehicle.Corner{"FL", "FR"} {
		tasks = append(tasks, plan.Task{Operation: "strut-front", Corner: c})
	}
	made, err := l.Compile(p, Ask{Tasks: tasks})
	if err != nil {
		t.Fatal(err)
	}
	for i := range made.Steps {
		made.Steps[i].Minutes *= 2 // as if the shop were slow
	}
	sol, err := made.Clock(l.Costs())
	if err != nil {
		t.Fatal(err)
	}
	seen := map[string]bool{}
	for _, a := range l.Alternatives(p, made, nil, nil) {
		seen[a.Question] = true
		switch {
		case a.Refused != "":
			t.Errorf("%s, %s: %s", a.Question, a.Way, a.Refused)
		case a.Chosen && a.Minutes != sol.Makespan:
			t.Errorf("%s, %s: %.1f minutes, the plan has %.1f", a.Question, a.Way, a.Minutes, sol.Makespan)
		case a.Technicians == 1 && (a.Minutes < 0.8*sol.Makespan || a.Minutes > 1.2*sol.Makespan):
			t.Errorf("%s, %s: %.1f minutes beside %.1f", a.Question, a.Way, a.Minutes, sol.Makespan)
		case a.Way == "two technicians" && a.Minutes > 0.8*sol.Makespan:
			t.Errorf("two technicians take %.1f of %.1f minutes", a.Minutes, sol.Makespan)
		}
	}
	if !seen["Hands"] || !seen["Both sides"] || !seen["Support at ride height"] {
		t.Errorf("questions %v", seen)
	}
}

// Every manoeuvre says how it is driven, and none is described that no operation drives.
func TestEveryManoeuvreIsDescribed(t *testing.T) {
	l := whole(t)
	driven := map[string]bool{}
	for _, o := range l.Operations {
		for _, m := range o.Drive {
			driven[m.Do] = true
			if !slices.ContainsFunc(l.Driven, func(d operation.Driven) bool { return d.Do == m.Do }) {
				t.Errorf("%s: nothing says how %q is driven", o.ID, m.Do)
			}
		}
	}
	for _, d := range l.Driven {
		if !driven[d.Do] {
			t.Errorf("%q is driven by no operation", d.Do)
		}
	}
}
