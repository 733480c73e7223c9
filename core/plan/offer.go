package plan

import (
	"slices"

	"lugtak/core/operation"
)

// OfferedByDistance says that a task nobody ordered is offered at this mileage: the part
// has gone as far as its operation says, and its corner is in hand for what is ordered.
func (t Task) OfferedByDistance(op operation.Operation, ordered []Task, km int) bool {
	if op.ByDistance == nil || km < op.ByDistance.KM || slices.Contains(ordered, t) {
		return false
	}
	return slices.ContainsFunc(ordered, func(o Task) bool { return o.Corner == t.Corner })
}
