package plan

import (
	"slices"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// tasks lays out the steps of what was ordered.
func (c *compiler) tasks() error {
	if len(c.Tasks) == 0 {
		return fault.New(fault.Missing, "operation", "Nothing is ordered.", "Choose what is to be replaced.")
	}
	c.byDistance()
	c.inPairs()
	for i, t := range c.Tasks {
		k := slices.IndexFunc(c.Knowledge.Operations, func(o operation.Operation) bool { return o.ID == t.Operation })
		if k < 0 {
			return fault.New(fault.Missing, "operation", "The library has no operation “"+t.Operation+"”.",
				"Choose one that is listed.")
		}
		op := &c.Knowledge.Operations[k]
		if err := c.orderable(op, i); err != nil {
			return err
		}
		f := &file{
			id: op.ID, title: op.Title, version: op.Version, axle: op.Axle, corner: t.Corner, task: true,
			pairs: op.Pairs, warnings: op.Warnings, sets: op.Sets, joints: op.Joints, parts: op.Parts,
			drive: op.Drive, wants: op.Wants, open: op.Steps, scene: i + 1,
		}
		if err := c.lay(f); err != nil {
			return err
		}
	}
	c.models()
	return nil
}

// models keeps one side whole while the other is apart, where it shows how things lie, unless
// somebody wants both at once.
func (c *compiler) models() {
	if c.Ways[SidesSchool] == together {
		return
	}
	far := slices.ContainsFunc(c.Tasks, func(t Task) bool {
		return slices.ContainsFunc(c.Knowledge.Operations, func(o operation.Operation) bool {
			return o.ID == t.Operation && o.FarFirst
		})
	})
	for i, t := range c.Tasks {
		k := slices.IndexFunc(c.Knowledge.Operations, func(o operation.Operation) bool { return o.ID == t.Operation })
		m := c.Knowledge.Operations[k].Model
		if m == nil {
			continue
		}
		other := Task{t.Operation, t.Corner.Opposite()}
		first := slices.Contains(c.Tasks[i+1:], other)
		if far {
			first = !t.Corner.Left() && slices.Contains(c.Tasks, other)
		}
		for _, until := range m.Until {
			id := t.step(until)
			c.shows[id] = m.Shows
			for _, from := range m.From {
				if first {
					c.after = append(c.after, [2]operation.StepID{id, other.step(from)})
				}
			}
		}
	}
}

// step names a step of the task in a plan.
func (t Task) step(key operation.StepID) operation.StepID {
	return operation.StepID(t.Operation) + "." + key + "." + operation.StepID(t.Corner)
}

// inPairs adds the other side of each task, where the shop always does both.
func (c *compiler) inPairs() {
	if c.ways[pairsSchool] != "both" {
		return
	}
	c.asked[pairsSchool] = true
	for _, t := range slices.Clone(c.Tasks) {
		other := Task{t.Operation, t.Corner.Opposite()}
		if t.Corner != "" && !slices.Contains(c.Tasks, other) {
			c.Tasks = append(slices.Clip(c.Tasks), other)
		}
	}
}

// byDistance adds what has gone as far as it should beside what is ordered, where the shop
// renews so. What the sheet has no joints for is left out.
func (c *compiler) byDistance() {
	ordered := c.Tasks
	for k := range c.Knowledge.Operations {
		op := &c.Knowledge.Operations[k]
		for _, o := range ordered {
			t := Task{op.ID, o.Corner}
			if slices.Contains(c.Tasks, t) || !t.OfferedByDistance(*op, ordered, c.OdometerKM) || !c.onSheet(op, t.Corner) {
				continue
			}
			c.asked[preventiveSchool] = true
			if c.ways[preventiveSchool] == "distance" {
				c.Tasks = append(slices.Clip(c.Tasks), t)
			}
		}
	}
}

// onSheet says that an operation is done on this vehicle at a corner, or in the middle where
// none is named.
func (c *compiler) onSheet(op *operation.Operation, corner vehicle.Corner) bool {
	axle := operation.Under
	if corner != "" {
		axle = corner.Axle()
	}
	fits := op.Axle == axle || op.Axle == "any" && corner != ""
	if !fits || !slices.Contains(c.Pattern.Operations, op.ID) {
		return false
	}
	if c.Pattern.Open {
		return true
	}
	return !slices.ContainsFunc(op.Joints, func(j operation.Joint) bool {
		_, on := c.Pattern.Spec[c.side(j.Spec, corner)]
		return !on && !j.Optional && j.When == nil
	})
}

// orderable refuses a task that is not offered at its place.
func (c *compiler) orderable(op *operation.Operation, i int) error {
	t := c.Tasks[i]
	title := unit.Capital(c.side(op.Title, t.Corner))
	switch {
	case slices.Contains(c.Tasks[:i], t):
		return fault.New(fault.BadChoice, "operation", title+" is ordered twice at the same place.", "Take one away.")
	case op.Axle == operation.Under && t.Corner != "":
		return fault.New(fault.BadCorner, "corner", title+" is done in the middle of the vehicle, at no corner.",
			"Leave the corner out.")
	case op.Axle != operation.Under && t.Corner == "":
		return fault.New(fault.BadCorner, "corner", title+" is done at a corner.",
			"Choose a corner of the "+op.Axle+" axle.")
	case op.Axle != operation.Under && op.Axle != "any" && t.Corner.Axle() != op.Axle:
		return fault.New(fault.BadCorner, "corner", title+" is done on the "+op.Axle+" axle.",
			"Choose a corner of that axle.")
	case !slices.Contains(c.Pattern.Operations, op.ID):
		return fault.New(fault.NoSheet, "operation", c.Pattern.Name+" has no sheet for “"+title+"”.",
			"Add the operation and its joints to the pattern's file.")
	case !op.Fits.At(t.Corner.Axle()).Allows(c.Pattern.As(c.Built).Traits):
		return fault.New(fault.NoSheet, "operation", c.Pattern.Name+" is not built for “"+title+"” there.",
			"Look how it is built, and correct what is said of it where that is wrong.")
	}
	return nil
}

// onBoth says that a file's task is the first of two, one on each side of the axle.
func (c *compiler) onBoth(f *file) bool {
	first := slices.Index(c.Tasks, Task{f.id, f.corner})
	other := slices.Index(c.Tasks, Task{f.id, f.corner.Opposite()})
	return first >= 0 && first < other
}
