package shop

import (
	"fmt"
	"testing"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/record"
)

// An open bleeder has its clock, and nobody turns away from it: what closes it is not put off, and who takes the job
// over stands at it. At its figure it is nobody's care any more.
func TestNobodyLeavesAnOpenBleeder(t *testing.T) {
	s, _ := taken(t, "pads-rotors@FL")
	n := 0
	do := func(cmd job.Command) error {
		n++
		_, _, err := s.Record(t.Context(), "j", job.Meta{
			ID: record.EventID(fmt.Sprint("tend-", n)), By: "Aro", Role: job.Technician,
			At: noon.Add(time.Duration(n) * time.Minute),
		}, cmd)
		return err
	}
	until := func(last operation.StepID) {
		t.Helper()
		for range 80 {
			st := stateOf(t, s)
			if st.StepDone(last) {
				return
			}
			step := st.Plan.Step(st.Next())
			var cmd job.Command = job.KeepStep{Step: step.ID}
			if step.Verb.OnJoint() {
				cmd = job.Handle{Step: step.ID, Letters: st.LeftAt(step, st.Plan.Joint(step.Joint))}
			}
			if do(cmd) != nil {
				if err := do(job.Postpone{Step: step.ID}); err != nil {
					t.Fatalf("%s: %v", step.ID, err)
				}
			}
		}
		t.Fatalf("%s never came", last)
	}
	until("vent.open.FL")
	st := stateOf(t, s)
	open := st.Tendings()
	if len(open) != 1 || st.Says(open[0]) != "the bleeder FL is open for the piston" || open[0].Closes != "vent.tight.FL" {
		t.Fatalf("%+v", open)
	}
	cracked := st.Steps["vent.crack.FL"].At
	if end, limited := open[0].Until(); !limited || !end.Equal(cracked.Add(15*time.Minute)) {
		t.Errorf("since %v, until %v", cracked, end)
	}
	for _, step := range []operation.StepID{"pads-rotors.piston.FL", "vent.shut.FL", "vent.tight.FL"} {
		if got := codeOf(t, do(job.Postpone{Step: step})); got != fault.Attended {
			t.Errorf("%s put off: %q", step, got)
		}
	}
	over := job.HandOver{HandedOver: record.HandedOver{To: "Bel"}}
	if got := codeOf(t, do(over)); got != fault.Attended {
		t.Errorf("left to nobody: %q", got)
	}
	over.Stands = true
	if err := do(over); err != nil {
		t.Errorf("handed to who stands at it: %v", err)
	}
	until("vent.shut.FL")
	if open := stateOf(t, s).Tendings(); len(open) != 1 || open[0].Is != "by hand" {
		t.Errorf("turned down by hand it is open: %+v", open)
	}
}
