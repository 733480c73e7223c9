package demo

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
	"lugtak/demo/files"
	"lugtak/library"
)

// freely adds free work to what is asked, or puts it in its place.
func freely(rng *rand.Rand, ask library.Ask) library.Ask {
	corners := []vehicle.Corner{"FL", "FR", "RL", "RR", ""}
	at := corners[rng.IntN(len(corners))]
	from := operation.Stances()[rng.IntN(3)]
	if at == "" && from == operation.FromWheelOff {
		from = operation.FromRaised
	}
	if rng.IntN(2) == 0 || from == operation.FromGround {
		ask.Tasks = nil
	}
	ask.Free = &operation.Draft{Title: "Rear leaf spring", Under: at == "", From: from, Sets: rng.IntN(3) == 0}
	ask.Tasks = append(ask.Tasks, plan.Task{Operation: ask.Free.ID(), Corner: at})
	return ask
}

// says has the technician say one more act of free work: mostly when everything said is open, now and then before.
func (w *walker) says(step *plan.Step) bool {
	free := w.st.Plan.Free
	if free == nil || len(free.Acts) >= 7 || w.rng.IntN(3) > 0 {
		return false
	}
	at := step != nil && free.IsWork(step.ID)
	if !at && w.rng.IntN(12) > 0 || w.st.FreeClosing() {
		return false
	}
	n := len(free.Acts)
	a := operation.DraftAct{
		Do:     []operation.Deed{"open", "open", "loosen", "off", "carry"}[w.rng.IntN(5)],
		Title:  fmt.Sprint("bolt of Träger ", n),
		System: operation.Systems()[w.rng.IntN(len(operation.Systems()))],
		Count:  1 + w.rng.IntN(5),
		New:    w.rng.IntN(2) == 0,
	}
	if a.Do == operation.DeedCarry {
		a.Title = operation.Carried()[n]
	}
	d := *free
	d.Acts = append(slices.Clip(d.Acts), a)
	if err := d.Check(); err != nil {
		w.t.Fatal(err)
	}
	ask := library.AskOf(w.st.Plan)
	ask.Free = &d
	ask.Done, ask.Begun = w.st.DoneSteps()
	made, err := w.lib.Compile(w.pattern, ask)
	if err == nil && !w.st.Begun() {
		err = w.do(job.PlanWork{Tasks: ask.Tasks, Plan: made, House: w.lib.House()})
	} else if err == nil {
		err = w.do(job.Rework{Plan: made, Why: "free work: " + a.Title})
	}
	if f := fault.As(err); f != nil { // something of the rest is to be closed first
		w.seen["free work refused"]++
		return false
	} else if err != nil {
		w.t.Fatalf("%s %v, %s %s: %v", w.pattern.ID, ask.Tasks, a.Do, a.Title, err)
	}
	w.seen[string(a.Do)]++
	return true
}

// Seeded jobs of work no operation knows, said act by act while it is done: no dead end, no debt lost, nothing proved
// without a figure, and read back the same.
func TestSeededFreeWork(t *testing.T) {
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	seen := map[string]int{}
	for seed := range uint64(*walks) {
		rng := rand.New(rand.NewPCG(seed, 27))
		walkOn(t, lib, 12000+seed, begun(lib, rng, fmt.Sprint("free-", seed)), true, seen)
	}
	met(t, seen, "open", "loosen", "off", "carry", "read", "by the bolt")
	if said := seen["open"] + seen["loosen"] + seen["off"] + seen["carry"]; seen["free work refused"]*5 > said {
		t.Errorf("of %d acts %d were refused", said+seen["free work refused"], seen["free work refused"])
	}
}
