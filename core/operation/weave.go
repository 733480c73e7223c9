package operation

import (
	"fmt"
	"slices"
	"sort"
	"strings"

	"lugtak/core/fault"
)

// weave turns what the steps say of one another into plain needs.
func (c *compiler) weave() error {
	for i := range c.steps {
		s := &c.steps[i]
		var needs []StepID
		for _, n := range s.Needs {
			found, err := c.resolve(n, s.ID, 0)
			if err != nil {
				return err
			}
			needs = append(needs, found...)
		}
		s.Needs = nil
		c.need(i, needs...)
	}
	for _, b := range c.before {
		found, err := c.resolve(StepID(b[1]+"?"), StepID(b[0]), 0)
		if err != nil {
			return err
		}
		for _, f := range found {
			c.need(c.at[f], StepID(b[0]))
		}
	}
	for i := range c.steps {
		s := &c.steps[i]
		if s.Verb != Crack || s.Position == Ground {
			continue
		}
		k := slices.IndexFunc(c.plan.Joints, func(j PlanJoint) bool { return j.ID == s.Joint })
		if c.plan.Joints[k].Seizes {
			found, err := c.resolve(StepID(soakAccess+".wait").at(s.Corner), s.ID, 0)
			if err != nil {
				return err
			}
			c.need(i, found...)
		}
	}
	return c.close()
}

func (c *compiler) need(i int, ids ...StepID) {
	for _, id := range ids {
		if !slices.Contains(c.steps[i].Needs, id) && c.steps[i].ID != id {
			c.steps[i].Needs = append(c.steps[i].Needs, id)
		}
	}
}

// resolve finds the steps a need names: at its own corner, or at every corner
// where a step of the whole vehicle asks. A step that was dropped passes on what
// it needed; a need that ends in ? holds only where the plan has the step.
func (c *compiler) resolve(need, by StepID, depth int) ([]StepID, error) {
	n, corner, _ := strings.Cut(string(need), "|")
	maybe := strings.HasSuffix(n, "?") || strings.HasSuffix(corner, "?")
	n, corner = strings.TrimSuffix(n, "?"), strings.TrimSuffix(corner, "?")
	var found []StepID
	ids := []StepID{StepID(n)}
	if corner != "" {
		ids = append(ids, StepID(n+"."+corner))
	} else {
		for _, w := range []string{".FL", ".FR", ".RL", ".RR"} {
			ids = append(ids, StepID(n+w))
		}
	}
	known := false
	for _, id := range ids {
		if _, ok := c.at[id]; ok {
			found, known = append(found, id), true
			continue
		}
		past, ok := c.dropped[id]
		if !ok {
			continue
		}
		known = true
		if depth > len(c.dropped) {
			return nil, badStep(id, "needs",
				fmt.Sprintf("These steps wait for one another in a ring: %s.", id), "Take one of their needs away.")
		}
		for _, p := range past {
			more, err := c.resolve(StepID(p), by, depth+1)
			if err != nil {
				return nil, err
			}
			found = append(found, more...)
		}
	}
	if !known && !maybe {
		return nil, badStep(by, "needs",
			fmt.Sprintf("Step %s needs %s, which is no step.", by, n), "Name a step of this operation, or access.step of one it uses.")
	}
	return found, nil
}

// close makes every closing step wait for all that is done behind the access it
// closes. What was opened last is closed first.
func (c *compiler) close() error {
	closers := map[string][]int{} // by access and corner
	opener := map[int]int{}
	var order []int
	for i, s := range c.steps {
		open, ok := c.closes[s.ID]
		if !ok {
			continue
		}
		found, err := c.resolve(open.at(s.Corner), s.ID, 0)
		if err != nil {
			return err
		}
		if len(found) != 1 {
			continue // this vehicle has nothing to open there
		}
		opener[i] = c.at[found[0]]
		closers[s.Owner+"|"+string(s.Corner)] = append(closers[s.Owner+"|"+string(s.Corner)], i)
		order = append(order, i)
	}
	for _, u := range c.uses {
		for _, inner := range closers[u.ID+"|"+string(u.corner)] {
			for _, out := range u.Uses {
				for _, key := range []string{out + "|" + string(u.corner), out + "|"} {
					for _, outer := range closers[key] {
						if inner != outer && !c.after(outer)[inner] {
							c.need(outer, c.steps[inner].ID)
						}
					}
				}
			}
		}
	}
	slices.Reverse(order)
	for _, i := range order {
		behind, mine := c.after(opener[i]), c.after(i)
		inside := func(k int) bool { return behind[k] && !mine[k] && k != i }
		// Only those that nothing else inside rests on: the others come before them.
		last := make([]bool, len(c.steps))
		for k := range c.steps {
			last[k] = inside(k)
		}
		for k, s := range c.steps {
			for _, n := range s.Needs {
				if inside(k) {
					last[c.at[n]] = false
				}
			}
		}
		for k, is := range last {
			if is {
				c.need(i, c.steps[k].ID)
			}
		}
	}
	return nil
}

// after marks every step that rests on step i.
func (c *compiler) after(i int) []bool {
	next := make([][]int, len(c.steps))
	for k, s := range c.steps {
		for _, n := range s.Needs {
			next[c.at[n]] = append(next[c.at[n]], k)
		}
	}
	out := make([]bool, len(c.steps))
	reached := []int{i}
	for len(reached) > 0 {
		k := reached[len(reached)-1]
		reached = reached[:len(reached)-1]
		for _, m := range next[k] {
			if !out[m] {
				out[m] = true
				reached = append(reached, m)
			}
		}
	}
	return out
}

// closed refuses a joint that is opened and not made good again.
func (p *Plan) closed(j *PlanJoint) error {
	has := map[Verb]bool{}
	last := 0
	for _, s := range p.Steps {
		if s.Joint != j.ID {
			continue
		}
		has[s.Verb] = true
		if s.Verb == Tighten {
			if len(s.Stages) == 2 {
				last = max(last, s.Stages[1])
			} else if !s.AfterDrive {
				last = len(j.Stages())
			}
		}
	}
	stages := len(j.Stages())
	if j.AfterDrive {
		stages--
	}
	switch {
	case has[Remove] && !has[Start], (has[Crack] || has[Start]) && last < stages:
		return fault.New("bad_step", "steps", "The joint “"+j.Title+"” ("+j.ID+") is opened, and not started and tightened to the end of its recipe.", "Give it its start and tighten steps.")
	case !has[Tighten]:
		return fault.New("bad_step", "joints", "No step tightens the joint “"+j.Title+"” ("+j.ID+").", "Take the joint away, or add its steps.")
	}
	return nil
}

// positions walks the plan once and refuses a step that comes while the vehicle
// stands otherwise than it asks: two operations that want it both ways.
func (p *Plan) positions() error {
	pos := Ground
	for _, s := range p.Steps {
		if s.Position != "" && !pos.Stands(s.Position) {
			return fault.New("conflict", "operation",
				fmt.Sprintf("“%s” is done with the vehicle %s, and by then it is %s.", s.Title, s.Position, pos),
				fmt.Sprintf("Give the step a need that brings the vehicle there (%s).", s.ID))
		}
		if s.MovesTo != "" {
			pos = s.MovesTo
		}
	}
	return nil
}

// arrange sorts the steps by their needs, keeping the order of the file where
// it is free, with what runs by itself as early as it can be set going.
func arrange(steps []Step) ([]Step, error) {
	at := map[StepID]int{}
	for i, s := range steps {
		if _, twice := at[s.ID]; twice {
			return nil, badStep(s.ID, "id", fmt.Sprintf("Two steps are named %s.", s.ID), "Give each its own name.")
		}
		at[s.ID] = i
	}
	waits := make([]int, len(steps))
	next := make([][]int, len(steps))
	for i, s := range steps {
		for _, n := range s.Needs {
			j, ok := at[n]
			if !ok {
				return nil, badStep(s.ID, "needs",
					fmt.Sprintf("Step %s needs %s, which is no step.", s.ID, n), "Name a step of this operation.")
			}
			waits[i]++
			next[j] = append(next[j], i)
		}
	}
	var ready []int
	for i := range steps {
		if waits[i] == 0 {
			ready = append(ready, i)
		}
	}
	out := make([]Step, 0, len(steps))
	for len(ready) > 0 {
		sort.Slice(ready, func(a, b int) bool {
			x, y := ready[a], ready[b]
			if sx, sy := steps[x].Verb == Soak, steps[y].Verb == Soak; sx != sy {
				return sx
			}
			return x < y
		})
		i := ready[0]
		ready = ready[1:]
		out = append(out, steps[i])
		for _, j := range next[i] {
			if waits[j]--; waits[j] == 0 {
				ready = append(ready, j)
			}
		}
	}
	if len(out) < len(steps) {
		var stuck []string
		for i, s := range steps {
			if waits[i] > 0 {
				stuck = append(stuck, string(s.ID))
			}
		}
		return nil, fault.New("bad_step", "steps", "These steps wait for one another in a ring: "+strings.Join(stuck, ", ")+".", "Take one of their needs away.")
	}
	return out, nil
}
