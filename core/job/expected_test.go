package job

import (
	"testing"
	"time"

	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/wrench"
)

// clicks is a person with one wrench that clicks.
func clicks(b *bench) Hands {
	return Hands{
		By: "technician A",
		Choose: func(st *State, j *plan.Joint, stage int) (wrench.Choice, bool) {
			step := b.s.Plan.Step("wheel1")
			set := b.set(step.ID, 0)
			return wrench.Choice{Tool: set.Tool, SetNm: st.Stages(j.ID)[stage].Target()}, true
		},
	}
}

// What is expected of a step is what the rules take of it, act by act, until the step is
// done: so a page may be drawn ahead.
func TestExpectedIsTaken(t *testing.T) {
	b := begin(t)
	for _, id := range []operation.StepID{"crack", "raise", "off", "wheelin", "lower", "wheel1"} {
		step := b.s.Plan.Step(id)
		for n := 0; !b.s.StepDone(step.ID) && n < 40; n++ {
			act := b.s.Expected(step, clicks(b))
			if act == nil {
				t.Fatalf("%s: nothing is expected", id)
			}
			b.must(act)
		}
		if !b.s.StepDone(step.ID) {
			t.Errorf("%s is not done by what is expected", id)
		}
	}
}

// Where only the person knows, nothing is expected: a count, a measurement, a wrench
// that is not there.
func TestNothingExpected(t *testing.T) {
	b := begin(t)
	none := Hands{Choose: func(*State, *plan.Joint, int) (wrench.Choice, bool) { return wrench.Choice{}, false }}
	b.step("crack", "raise", "off", "wheelin", "lower")
	if act := b.s.Expected(b.s.Plan.Step("wheel1"), none); act != nil {
		t.Errorf("without a wrench %T is expected", act)
	}
	counts := *b.s.Plan.Step("soak")
	counts.Counts = "out"
	if act := b.s.Expected(&counts, none); act != nil {
		t.Errorf("turns that are counted are expected: %T", act)
	}
	measures := *b.s.Plan.Step("soak")
	measures.Measures = []string{"lash"}
	if act := b.s.Expected(&measures, none); act != nil {
		t.Errorf("what is measured is expected: %T", act)
	}
}

// A record kept without network is not stale by what the same person did before it, but by
// what another did.
func TestKeptRecords(t *testing.T) {
	b := begin(t)
	seen := b.s.Seq
	b.must(Handle{Step: "crack", Letters: []string{"1"}})
	later := func(by string, kept bool) error {
		m := b.meta()
		m.By, m.Seq = by, seen
		m.At = m.At.Add(time.Minute)
		if kept {
			m.Sent = m.At.Add(time.Hour)
		}
		_, err := Decide(b.s, m, Handle{Step: "crack", Letters: []string{"2"}})
		return err
	}
	m := b.meta()
	mine := m.By
	m.Sent = m.At.Add(time.Hour)
	if err := b.do(m, Find{Text: "x"}); err != nil || b.s.Late != 1 {
		t.Errorf("%d came later, %v", b.s.Late, err)
	}
	if err := later(mine, true); err != nil {
		t.Errorf("kept by the same person: %v", err)
	}
	if later(mine, false) == nil {
		t.Error("on an old view, not kept: taken")
	}
	if later("technician B", true) == nil {
		t.Error("kept by another, who had not seen it: taken")
	}
}
