package shop

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/library"
)

// Free work begun at the wrong corner is named once more, or taken out, for as long as nothing was said of it; what
// was done at that corner is brought back. Without a word of what was opened it is not signed.
func TestFreeWorkBegunByMistake(t *testing.T) {
	s, _ := taken(t, "stabiliser-link@RL")
	n := 0
	meta := func() job.Meta {
		n++
		return job.Meta{
			ID: record.EventID(fmt.Sprint("slip-", n)), By: "Aro", Role: job.Technician,
			At: noon.Add(time.Duration(n) * time.Minute),
		}
	}
	begin := func(title string, at vehicle.Corner) {
		t.Helper()
		d := operation.Draft{Title: title, From: operation.FromWheelOff}
		if err := s.BeginFree(t.Context(), "j", meta(), d, at); err != nil {
			t.Fatal(err)
		}
	}
	tasks := func() string { return fmt.Sprint(stateOf(t, s).Plan.Tasks) }
	begin("Rear spring", "FL")
	open := func(g job.Gate) bool { return g.Key == "free" && !g.Closed() && g.Passable }
	if !slices.ContainsFunc(stateOf(t, s).Gates(), open) {
		t.Error("free work nobody spoke of may be signed")
	}
	for range 60 { // until the wheel of that corner is off
		st := stateOf(t, s)
		step := st.Plan.Step(st.Next())
		if st.StepDone("wheel.off.FL") {
			break
		}
		var cmd job.Command = job.KeepStep{Step: step.ID}
		if step.Verb.OnJoint() {
			cmd = job.Handle{Step: step.ID, Letters: st.LeftAt(step, st.Plan.Joint(step.Joint))}
		}
		if _, _, err := s.Record(t.Context(), "j", meta(), cmd); err != nil {
			t.Fatalf("%s: %v", step.ID, err)
		}
	}
	if !stateOf(t, s).StepDone("wheel.off.FL") {
		t.Fatal("the wheel is never off")
	}
	begin("Rear leaf spring", "RL")
	if got := tasks(); got != "[stabiliser-link@RL free-rear-leaf-spring@RL]" {
		t.Errorf("named once more: %s", got)
	}
	drop := meta()
	for range 2 {
		if err := s.DropFree(t.Context(), "j", drop); err != nil {
			t.Fatal(err)
		}
	}
	st := stateOf(t, s)
	if got := tasks(); got != "[stabiliser-link@RL]" || st.Plan.Free != nil {
		t.Errorf("taken out: %s", got)
	}
	if st.Plan.Step("wheel.tight.FL") == nil {
		t.Error("the wheel that is off is owed by nobody")
	}
	begin("Spring", "RL")
	if err := s.DropFree(t.Context(), "j", meta()); err != nil {
		t.Fatal(err)
	}
	if got := codeOf(t, s.DropFree(t.Context(), "j", meta())); got != fault.Order {
		t.Errorf("nothing is taken out: %q", got)
	}
}

// Free work is said act by act, each once however often its form is sent, taken back where nothing of it is done, and
// refused once the work itself is. Its figures are read like any other, and stand for the next job of that sheet.
func TestFreeWork(t *testing.T) {
	s, _ := taken(t, "stabiliser-link@RL")
	n := 0
	meta := func() job.Meta {
		n++
		return job.Meta{
			ID: record.EventID(fmt.Sprint("free-", n)), By: "Aro", Role: job.Technician,
			At: noon.Add(time.Duration(n) * time.Minute),
		}
	}
	act := func(m job.Meta, a operation.DraftAct) error { return s.Free(t.Context(), "j", m, a) }
	bolt := operation.DraftAct{Do: operation.DeedOpen, Title: "shackle bolt", System: "suspension", Count: 1}
	if got := codeOf(t, act(meta(), bolt)); got != fault.Order {
		t.Errorf("an act of nothing: %q", got)
	}
	d := operation.Draft{Title: "Rear leaf spring", From: operation.FromWheelOff}
	begin := meta()
	for range 2 {
		if err := s.BeginFree(t.Context(), "j", begin, d, "RL"); err != nil {
			t.Fatal(err)
		}
	}
	first := meta()
	for range 2 {
		if err := act(first, bolt); err != nil {
			t.Fatal(err)
		}
	}
	if got := codeOf(t, s.BeginFree(t.Context(), "j", meta(), d, "RR")); got != fault.Exists {
		t.Errorf("a second free work: %q", got)
	}
	other := bolt
	other.Title = "U-bolt nuts"
	if got := codeOf(t, act(first, other)); got != fault.Conflict {
		t.Errorf("something else under the same id: %q", got)
	}
	if got := codeOf(t, act(meta(), bolt)); got != fault.Exists {
		t.Errorf("the same bolt twice: %q", got)
	}
	if err := act(meta(), other); err != nil {
		t.Fatal(err)
	}
	back := meta()
	for range 2 {
		if err := s.DropFree(t.Context(), "j", back); err != nil {
			t.Fatal(err)
		}
	}
	st := stateOf(t, s)
	if free := st.Plan.Free; free == nil || len(free.Acts) != 1 || len(st.Plan.Tasks) != 2 {
		t.Fatalf("%+v %v", free, st.Plan.Tasks)
	}

	// Who orders something beside it does not take it back.
	beside := library.Ask{Tasks: []plan.Task{{Operation: "stabiliser-link", Corner: "RR"}}}
	if err := s.Plan(t.Context(), "j", meta(), beside); err != nil {
		t.Fatal(err)
	}
	if st = stateOf(t, s); st.Plan.Free == nil || len(st.Plan.Free.Acts) != 1 || len(st.Plan.Tasks) != 2 {
		t.Errorf("ordered beside it: %v", st.Plan.Tasks)
	}

	// The bolt is read on the sheet, and the job follows.
	const joint = "suspension.rear.own_shackle_bolt"
	r := vehicle.Reading{Sheet: "own", Joint: joint, Recipe: "140 Nm", Source: "label", By: "Aro", At: noon}
	if err := s.ReadFigure(t.Context(), "read", r); err != nil {
		t.Fatal(err)
	}
	if j := stateOf(t, s).Plan.Joint("suspension.RL.own_shackle_bolt"); j == nil || j.Recipe != "140 Nm" {
		t.Errorf("%+v", j)
	}

	// What is done is not dropped, and once the work itself is done nothing more is opened.
	done := map[operation.StepID]bool{}
	for range 60 {
		st = stateOf(t, s)
		step := st.Plan.Step(st.Next())
		if st.FreeClosing() {
			break
		}
		if st.Plan.Free.Of(step.ID, 0) {
			done[step.ID] = true
		}
		var cmd job.Command = job.KeepStep{Step: step.ID}
		if step.Verb.OnJoint() {
			cmd = job.Handle{Step: step.ID, Letters: st.LeftAt(step, st.Plan.Joint(step.Joint))}
		}
		if _, _, err := s.Record(t.Context(), "j", meta(), cmd); err != nil {
			if _, _, err := s.Record(t.Context(), "j", meta(), job.Postpone{Step: step.ID}); err != nil {
				t.Fatalf("%s: %v", step.ID, err)
			}
		}
	}
	if !stateOf(t, s).FreeClosing() || len(done) == 0 {
		t.Fatal("the work itself is never done")
	}
	if got := codeOf(t, act(meta(), other)); got != fault.TooLate {
		t.Errorf("opened while it is closed: %q", got)
	}
	if got := codeOf(t, s.DropFree(t.Context(), "j", meta())); got != fault.Order {
		t.Errorf("what is done is dropped: %q", got)
	}
}
