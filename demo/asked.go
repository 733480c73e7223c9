package demo

import (
	"context"
	"math/rand/v2"
	"slices"

	"lugtak/core/diagnose"
	"lugtak/core/job"
)

// mostAsked is how many signs and tests a visit of the past is asked for before its work is decided, and speaking the
// chance of a yes from which one is worth asking.
const (
	mostAsked = 5
	speaking  = 0.4
)

// asked goes round a vehicle that has come in: signs and tests of the suspect its work renews, each answered by the
// chance the library gives, until it is likely enough to be proposed. Now and then it was not the fault, as often as
// its chance leaves; the drive after the work shows it.
func (h *Hand) asked(ctx context.Context, id string, x visit, rng *rand.Rand) error {
	st, err := h.Shop.Job(ctx, id)
	if err != nil {
		return err
	}
	w, err := h.Shop.Weigh(ctx, st)
	if err != nil {
		return err
	}
	task := x.tasks[0]
	of := slices.IndexFunc(w.Know.Suspects, func(s diagnose.Suspect) bool {
		return slices.Contains(s.Operations, task.Operation)
	})
	if of < 0 {
		return nil
	}
	suspect, asked := w.Know.Suspects[of], 0
	for _, e := range w.Know.Evidence {
		if e.Speaks[suspect.Key] < speaking || e.After != "" || e.Finds != "" || asked == mostAsked {
			continue
		}
		asked++
		a := job.Answer{Sign: e.Key, Ask: e.Ask, Position: e.Position, Yes: rng.Float64() < e.Speaks[suspect.Key]}
		if e.Corner && a.Yes {
			a.Corner = string(task.Corner)
		}
		if err := h.Do(ctx, id, a); err != nil {
			return err
		}
	}
	if st, err = h.Shop.Job(ctx, id); err != nil {
		return err
	}
	take := []job.TakeProposal{{Suspect: suspect.Key, Name: suspect.Name, Accept: true, Safety: suspect.Safety}}
	if err := h.Shop.Propose(ctx, st, take); err != nil || take[0].Chance < diagnose.Likely {
		return err
	}
	h.missed = rng.Float64() > take[0].Chance
	return h.Do(ctx, id, take[0])
}
