package library

import (
	"errors"
	"maps"
	"slices"
	"strings"

	"lugtak/core/diagnose"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/schedule"
	"lugtak/core/vehicle"
)

// Ask is what somebody wants planned.
type Ask struct {
	Tasks       []plan.Task
	Ways        map[string]string    // way by school, where it is not the shop's
	Built       map[string]string    // how this very vehicle is built, over its pattern
	Technicians int                  // one, unless said
	Timed       map[string][]float64 // minutes the shop's own jobs took, by owner.step
	Opened      map[string][2]int    // how often joints were opened in the shop, and stuck

	OdometerKM int // for what is renewed by distance

	Free *operation.Draft // what is done that no operation knows; a task of its id stands for it

	Done  []plan.Step // already, in their order, where the job is under way
	Begun []operation.StepID
}

// AskOf is what a plan was made from.
func AskOf(p *plan.Plan) Ask {
	a := Ask{
		Tasks:       p.Tasks,
		Ways:        map[string]string{},
		Built:       map[string]string{},
		Technicians: max(1, p.Technicians),
		Free:        p.Free,
	}
	for _, s := range p.Schools {
		a.Ways[s.Key] = s.Way
	}
	for _, b := range p.Builds {
		if b.Known {
			a.Built[b.Key] = b.Is
		}
	}
	return a
}

// Keeping is what is asked, with the free work a job has already: nobody who orders something beside it takes it back.
func (a Ask) Keeping(p *plan.Plan) Ask {
	if p == nil || p.Free == nil || a.Free != nil {
		return a
	}
	a.Free = p.Free
	for _, t := range p.Tasks {
		if operation.IsFree(t.Operation) && !slices.Contains(a.Tasks, t) {
			a.Tasks = append(slices.Clip(a.Tasks), t)
		}
	}
	return a
}

// Plan compiles what is asked for a pattern, in the best order found.
func (l *Library) Plan(pattern string, ask Ask) (plan.Plan, error) {
	p, ok := l.Pattern(pattern)
	if !ok {
		return plan.Plan{}, fault.New(fault.Missing, "vehicle", "The library has no pattern “"+pattern+"”.",
			"Add its file to the library folder.")
	}
	return l.Compile(p, ask)
}

// Compile is Plan for a pattern whose sheet the shop has corrected.
func (l *Library) Compile(p vehicle.Pattern, ask Ask) (plan.Plan, error) {
	made, err := plan.Compile(l.order(p, ask))
	if err != nil {
		return made, err
	}
	made.Free = ask.Free
	made, _, err = made.InOrder(l.Costs(), max(1, ask.Technicians))
	return made, err
}

func (l *Library) order(p vehicle.Pattern, ask Ask) plan.Order {
	know := &l.Knowledge
	if ask.Free != nil {
		with := l.Knowledge
		know = &with
		know.Operations = append(slices.Clip(know.Operations), ask.Free.Operation())
		p.Operations = append(slices.Clip(p.Operations), ask.Free.ID())
	}
	return plan.Order{
		Tasks:      ask.Tasks,
		Pattern:    p,
		Knowledge:  know,
		Ways:       ask.Ways,
		Built:      ask.Built,
		Timed:      ask.Timed,
		Done:       ask.Done,
		OdometerKM: ask.OdometerKM,
		Begun:      ask.Begun,
	}
}

// Costs are what a change of tool or side takes in this shop.
func (l *Library) Costs() schedule.Costs {
	return schedule.Costs{Tool: l.Shop.ToolChangeMin, Walk: l.Shop.WalkMin}
}

// Offers lists what can be ordered for a pattern: each of its operations at every
// place its sheet has the joints for.
func (l *Library) Offers(p vehicle.Pattern) []plan.Task {
	var out []plan.Task
	for _, op := range l.Operations {
		if !slices.Contains(p.Operations, op.ID) {
			continue
		}
		for _, c := range []vehicle.Corner{"FL", "FR", "RL", "RR", ""} {
			if (c == "") != (op.Axle == operation.Under) {
				continue
			}
			t := plan.Task{Operation: op.ID, Corner: c}
			if _, err := plan.Compile(l.order(p, Ask{Tasks: []plan.Task{t}})); err == nil {
				out = append(out, t)
			}
		}
	}
	return out
}

// Grown is the pattern of a sheet the shop itself began: what can be done to it follows from how it is built.
func (l *Library) Grown(s vehicle.Sheet) vehicle.Pattern {
	p := s.Pattern()
	if p.Traits == nil {
		p.Traits = map[string]string{}
	}
	p.Traits["rear-corner"] = "rear-corner" // there is one picture of it
	for _, op := range l.Operations {
		if op.Fits.Allows(p.Traits) {
			p.Operations = append(p.Operations, op.ID)
		}
	}
	return p
}

// Answered refuses answers to how a vehicle is built that nobody asks for. Its fault names the field.
func (l *Library) Answered(built map[string]string) error { return plan.Answered(l.Builds, built) }

// Knows says that some operation or way opens such a joint of a sheet.
func (l *Library) Knows(sheetKey string) bool { _, ok := l.JointOf(sheetKey); return ok }

// JointOf finds what an operation or a way says of a joint of a sheet.
func (l *Library) JointOf(sheetKey string) (operation.Joint, bool) {
	if beside, more := vehicle.BesideOf(sheetKey); more {
		sheetKey = beside
	}
	if title, system, own := vehicle.OwnTitle(sheetKey); own {
		return operation.Joint{Spec: sheetKey, Title: title, One: title, System: system}, true
	}
	var found *operation.Joint
	for _, joints := range l.joints() {
		for i, j := range joints {
			for _, axle := range []string{"front", "rear"} {
				if strings.ReplaceAll(j.Spec, "{axle}", axle) != sheetKey {
					continue
				}
				if j.Opening == "" {
					return j, true
				}
				found = &joints[i] // one of two openings, unless another has the plain name
			}
		}
	}
	if found == nil {
		return operation.Joint{}, false
	}
	return *found, true
}

// TitleOf is what a joint of a sheet is called, on whichever side.
func (l *Library) TitleOf(p vehicle.Pattern, sheetKey string) string {
	for _, m := range p.More {
		if m.Joint == sheetKey {
			return m.Title
		}
	}
	j, _ := l.JointOf(sheetKey)
	return titled(j.Title, strings.Split(sheetKey+".", ".")[1])
}

// titled is the title of a joint on an axle.
func titled(title, axle string) string {
	return strings.ReplaceAll(strings.ReplaceAll(title, "{axle}", axle), ", {side}", "")
}

// JointsOf lists the joints that work on a vehicle of the sheet may open, each by its key there, with those the
// sheet has besides.
func (l *Library) JointsOf(p vehicle.Pattern) []operation.Joint {
	var out []operation.Joint
	add := func(joints []operation.Joint, axles ...string) {
		for _, j := range joints {
			for _, axle := range axles {
				x := j
				x.Spec = strings.ReplaceAll(j.Spec, "{axle}", axle)
				x.Title = titled(j.Title, axle)
				there := func(o operation.Joint) bool { return o.Spec == x.Spec }
				_, said := p.Spec[x.Spec]
				open := p.Open && vehicle.Built(j.When).Allows(p.Traits) && !p.Absent[x.Spec]
				if (said || open) && !slices.ContainsFunc(out, there) {
					out = append(out, x)
				}
			}
		}
	}
	axles := func(of string) []string {
		if of == "front" || of == "rear" {
			return []string{of}
		}
		return []string{"front", "rear"}
	}
	for _, o := range l.Operations {
		if slices.Contains(p.Operations, o.ID) {
			add(o.Joints, axles(o.Axle)...)
		}
	}
	for _, w := range l.Ways {
		if vehicle.Built(w.When).Allows(p.Traits) {
			add(w.Joints, axles(w.Axle)...)
		}
	}
	for key := range p.Spec {
		if j, known := l.JointOf(key); known && vehicle.IsOwn(key) {
			out = append(out, j)
		}
	}
	slices.SortFunc(out, func(a, b operation.Joint) int { return strings.Compare(a.Spec, b.Spec) })
	return out
}

// JointTitles are what the joints of all operations and ways are called, each once.
func (l *Library) JointTitles() []string {
	var out []string
	for _, joints := range l.joints() {
		for _, j := range joints {
			title, _, _ := strings.Cut(j.Title, ", {")
			out = append(out, strings.TrimSpace(strings.ReplaceAll(title, "{axle}", "")))
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

func (l *Library) joints() [][]operation.Joint {
	var out [][]operation.Joint
	for _, o := range l.Operations {
		out = append(out, o.Joints)
	}
	for _, w := range l.Ways {
		out = append(out, w.Joints)
	}
	return out
}

// TaskFor is the work that replaces a suspect at a corner of a vehicle: the first
// of its operations that is offered there, or under the vehicle.
func TaskFor(offers []plan.Task, s diagnose.Suspect, corner vehicle.Corner) (plan.Task, bool) {
	for _, op := range s.Operations {
		for _, c := range []vehicle.Corner{corner, ""} {
			if t := (plan.Task{Operation: op, Corner: c}); slices.Contains(offers, t) {
				return t, true
			}
		}
	}
	return plan.Task{}, false
}

// Alternative is a plan worked another way, with what that takes.
type Alternative struct {
	Question, Way   string
	Key, WayKey     string // empty for a second technician
	Technicians     int
	Minutes         float64
	Changes, Raises int
	Chosen          bool
	Refused         string // why it cannot be worked so
}

// Alternatives reckons the plan's tasks by every way of the schools that matter to
// it, and with one and two technicians, each in the best order found, around what is done
// and begun; the ways it has are clocked as it stands, the others with its own minutes
// where they share a step.
func (l *Library) Alternatives(
	p vehicle.Pattern,
	now plan.Plan,
	done []plan.Step,
	begun []operation.StepID,
) []Alternative {
	ask := AskOf(&now)
	ask.Done, ask.Begun = done, begun
	reckon := func(a Alternative, ask Ask) Alternative {
		q, err := now, error(nil)
		if !a.Chosen {
			if q, err = plan.Compile(l.order(p, ask)); err == nil {
				q.TakeTimes(&now)
				q, _, err = q.InOrder(l.Costs(), ask.Technicians)
			}
		}
		sol, err2 := q.Clock(l.Costs())
		if f := fault.As(errors.Join(err, err2)); f != nil {
			a.Refused = f.Detail
			return a
		}
		a.Minutes, a.Changes, a.Raises = sol.Makespan, sol.ToolChanges, q.Raises()
		return a
	}
	var out []Alternative
	for n, name := range []string{"one technician", "two technicians"} {
		other := ask
		other.Technicians = n + 1
		out = append(out,
			reckon(Alternative{Question: "Hands", Way: name, Technicians: n + 1, Chosen: ask.Technicians == n+1}, other))
	}
	for _, s := range now.Schools {
		for _, w := range s.Ways {
			other := ask
			other.Ways = maps.Clone(ask.Ways)
			other.Ways[s.Key] = w.Key
			out = append(
				out,
				reckon(
					Alternative{
						Question:    s.Question,
						Way:         w.Title,
						Key:         s.Key,
						WayKey:      w.Key,
						Technicians: ask.Technicians,
						Chosen:      w.Key == s.Way,
					},
					other,
				),
			)
		}
	}
	return out
}
