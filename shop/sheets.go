package shop

import (
	"context"
	"slices"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/library"
)

// BeginSheet takes in a model with nothing known but how it is built. A model of that name is one already.
func (s *Shop) BeginSheet(ctx context.Context, id record.EventID, x vehicle.Sheet) error {
	if err := s.mayBegin(ctx, &x); err != nil {
		return err
	}
	return s.Store.BeginSheet(ctx, id, x)
}

// TakeIn takes in a vehicle with the model that begins with it.
func (s *Shop) TakeIn(
	ctx context.Context, id record.EventID, x vehicle.Sheet, v vehicle.Vehicle,
) (vehicle.Vehicle, error) {
	if err := s.mayBegin(ctx, &x); err != nil {
		return v, err
	}
	return s.Store.TakeIn(ctx, id, x, v)
}

func (s *Shop) mayBegin(ctx context.Context, x *vehicle.Sheet) error {
	if err := x.Check(); err != nil {
		return err
	}
	if err := s.Library().Answered(x.Built); err != nil {
		return err
	}
	all, err := s.Sheets(ctx)
	if err != nil {
		return err
	}
	for _, o := range all {
		if o.ID != x.ID && unit.Fold(o.Name) == unit.Fold(x.Name) {
			return fault.New(fault.Exists, "name", "The shop has a sheet of that name.",
				"Take it as the same model, or add what tells them apart.")
		}
	}
	return nil
}

// Sheet finds a model the shop itself took in.
func (s *Shop) Sheet(ctx context.Context, id string) (x vehicle.Sheet, own bool, err error) {
	all, err := s.Sheets(ctx)
	if i := slices.IndexFunc(all, func(x vehicle.Sheet) bool { return x.ID == id }); i >= 0 {
		return all[i], true, err
	}
	return x, false, err
}

// Pattern is a sheet with what the shop has read, seen and corrected of its figures.
func (s *Shop) Pattern(ctx context.Context, id string) (vehicle.Pattern, error) {
	read, seen, err := s.Learnt(ctx, id)
	if err != nil {
		return vehicle.Pattern{}, err
	}
	return s.sheetAs(ctx, id, read, seen)
}

func (s *Shop) sheetAs(
	ctx context.Context, id string, read []vehicle.Reading, seen []vehicle.Seen,
) (vehicle.Pattern, error) {
	x, own, err := s.Sheet(ctx, id)
	if err != nil {
		return vehicle.Pattern{}, err
	}
	lib := s.Library()
	p, ok := lib.Pattern(id)
	if own {
		p, ok = lib.Grown(x), true
	}
	if !ok {
		return p, fault.New(fault.NotFound, "pattern", "There is no pattern “"+id+"”.", "Choose one of the Shelf.")
	}
	done, err := s.Corrections(ctx, id)
	return p.Learnt(read, seen).With(done), err
}

// again is how long somebody who is alone in the shop leaves a figure alone before they read it once more.
const again = 30 * time.Minute

// ReadFigure keeps the figure of a joint as one person read it. Who reads it again without seeing the first is a
// second reader: another person, or the same one half an hour and another bolt later, where nobody else works in
// the shop. Faults name the field.
func (s *Shop) ReadFigure(ctx context.Context, id record.EventID, r vehicle.Reading) error {
	done, err := s.Acted(ctx, id)
	if err != nil {
		return err
	}
	if done { // a repeat is answered by the journal
		if err := r.Check(); err != nil {
			return err
		}
		return s.Store.ReadFigure(ctx, id, r)
	}
	if err := s.mayRead(ctx, &r); err != nil {
		return err
	}
	jobs, err := s.following(ctx, r)
	if err != nil {
		return err
	}
	if err := s.Store.ReadFigure(ctx, id, r); err != nil {
		return err
	}
	for _, st := range jobs {
		m := job.Meta{ID: record.EventID("follow:" + string(id) + ":" + st.ID), By: r.By, Role: job.Technician, At: r.At}
		err := s.planAs(ctx, st.ID, m, library.AskOf(st.Plan), nil, "the figure of "+r.Joint+" was read")
		if fault.As(err) == nil && err != nil {
			return err
		}
	}
	return nil
}

// following are the open jobs whose plan may be another one by a reading. A stance by which the joint could not
// be reached in one of them is refused.
func (s *Shop) following(ctx context.Context, r vehicle.Reading) ([]*job.State, error) {
	ids, err := s.OpenOf(ctx, r.Sheet)
	if err != nil {
		return nil, err
	}
	read, seen, err := s.Learnt(ctx, r.Sheet)
	if err != nil {
		return nil, err
	}
	read = append(read, r)
	of := slices.DeleteFunc(slices.Clone(read), func(x vehicle.Reading) bool { return x.Joint != r.Joint })
	now := vehicle.Stand(of)
	var out []*job.State
	for _, id := range ids {
		st, err := s.Job(ctx, id)
		if err != nil {
			return nil, err
		}
		if !slices.ContainsFunc(st.Uses(r.Joint), func(joint string) bool { return st.Follows(joint, now) }) {
			continue
		}
		p, err := s.sheetAs(ctx, r.Sheet, read, seen)
		if err != nil {
			return nil, err
		}
		ask := library.AskOf(st.Plan)
		ask.Done, ask.Begun = st.DoneSteps()
		if _, err := s.Library().Compile(p, ask); err != nil && r.Condition != "" {
			return nil, fault.In("condition", err)
		}
		out = append(out, st)
	}
	return out, nil
}

// Tightened counts the jobs of a sheet in which a fastener of each joint was tightened by its figure.
func (s *Shop) Tightened(ctx context.Context, sheet string) (map[string]int, error) {
	ids, err := s.JobsOn(ctx, sheet, jobsCounted)
	out := map[string]int{}
	if err != nil {
		return out, err
	}
	for _, id := range ids {
		st, err := s.Job(ctx, id)
		if err != nil {
			return out, err
		}
		if !st.HasPlan() {
			continue
		}
		seen := map[string]bool{}
		for _, x := range st.Account().Fasteners {
			j := st.Plan.Joint(x.Fastener.Joint)
			if j != nil && !seen[j.Sheet] && x.Grade.Figured() {
				seen[j.Sheet] = true
				out[j.Sheet]++
			}
		}
	}
	return out, nil
}

// jobsCounted is how many jobs of a sheet are looked at, the newest first.
const jobsCounted = 100

// LastRead is what was read last for a sheet; it is empty where nothing was.
func (s *Shop) LastRead(ctx context.Context, sheet string) (vehicle.Reading, error) {
	read, _, err := s.Learnt(ctx, sheet)
	if len(read) == 0 {
		return vehicle.Reading{}, err
	}
	return read[len(read)-1], err
}

// MayRead says why a reading would be refused.
func (s *Shop) MayRead(ctx context.Context, r vehicle.Reading) error {
	if err := s.mayRead(ctx, &r); err != nil {
		return err
	}
	_, err := s.following(ctx, r)
	return err
}

func (s *Shop) mayRead(ctx context.Context, r *vehicle.Reading) error {
	p, err := s.Pattern(ctx, r.Sheet)
	if err != nil {
		return err
	}
	if !s.Library().Knows(r.Joint) {
		return fault.New(fault.Missing, "joint", "There is no such joint.", "Choose one of the plan.")
	}
	was := p.Spec[r.Joint]
	if !was.Unread() && len(was.Readers) == 0 {
		return fault.New(fault.Exists, "recipe", "The figure of this joint came with a file: "+was.Recipe+".",
			"Where it is wrong, correct it, with the reason.")
	}
	done, err := s.Corrections(ctx, r.Sheet)
	if err != nil {
		return err
	}
	if slices.ContainsFunc(done, func(c vehicle.Correction) bool { return c.Joint == r.Joint }) {
		return fault.New(fault.Exists, "recipe", "The figure of this joint was corrected: "+was.Recipe+".",
			"Where it is wrong, correct it again, with the reason.")
	}
	if err := r.Check(); err != nil {
		return err
	}
	all, _, err := s.Learnt(ctx, r.Sheet)
	if err != nil || !r.Hidden {
		return err
	}
	return s.readsAgain(ctx, r, all)
}

// readsAgain refuses a second reading that is none: by who has read it, where somebody else could, or too soon.
func (s *Shop) readsAgain(ctx context.Context, r *vehicle.Reading, all []vehicle.Reading) error {
	mine := func(x vehicle.Reading) bool { return x.Joint == r.Joint && x.By == r.By }
	counted := vehicle.Counted(slices.DeleteFunc(slices.Clone(all), func(x vehicle.Reading) bool { return !mine(x) }))
	if len(counted) == 0 || slices.ContainsFunc(counted, func(x vehicle.Reading) bool { return x.Hidden }) {
		return nil // the first, or in place of what they read then
	}
	alone, err := s.Alone(ctx, r.By)
	if err != nil {
		return err
	}
	if !alone {
		return fault.New(fault.NoReader, "second", "You have read it already.",
			"Have a colleague read it, without seeing yours.")
	}
	since := counted[len(counted)-1].At
	between := slices.ContainsFunc(all, func(x vehicle.Reading) bool { return x.Joint != r.Joint && x.At.After(since) })
	if wait := again - r.At.Sub(since); wait > 0 || !between {
		remedy := "Read another bolt's figure first."
		if wait > 0 {
			remedy = "Come back at " + since.Add(again).In(s.Now().Location()).Format("15:04") +
				", with another bolt's figure read between."
		}
		return fault.New(fault.TooSoon, "second", "It is too fresh in your mind to be a second reading.", remedy)
	}
	return nil
}

// Alone says that nobody else of the shop could read a figure or sign for one.
func (s *Shop) Alone(ctx context.Context, person string) (bool, error) {
	people, err := s.People(ctx)
	return !slices.ContainsFunc(people, func(x listing.Person) bool {
		return x.Active && x.Role != job.Reader && x.Name != person
	}), err
}

// SeeJoint keeps what somebody saw of a joint on the vehicle of a job: that it has none, how many fasteners, another
// thread or head, or one that nobody named, beside another. The plan follows at once; where it cannot, nothing is kept.
func (s *Shop) SeeJoint(ctx context.Context, id string, m job.Meta, x vehicle.Seen, why string) error {
	st, p, err := s.JobAndSheet(ctx, id)
	if err != nil {
		return err
	}
	x.Sheet, x.By, x.At = p.ID, m.By, m.At
	act := record.EventID("seen:" + string(m.ID))
	done, err := s.Acted(ctx, act)
	if err != nil {
		return err
	}
	read, seen, err := s.Learnt(ctx, p.ID)
	if err != nil {
		return err
	}
	if x.Beside != "" && !done {
		x.Joint = vehicle.MoreKey(x.Beside, len(p.More))
	}
	if err := s.maySee(st, p, &x); err != nil {
		return err
	}
	if !done {
		seen = append(seen, x)
	}
	now, err := s.sheetAs(ctx, p.ID, read, seen)
	if err != nil {
		return err
	}
	ask := library.AskOf(st.Plan)
	ask.Done, ask.Begun = st.DoneSteps()
	made, err := s.Library().Compile(now, ask)
	if err != nil {
		return err
	}
	if err := st.CanRework(made, why); err != nil {
		return err
	}
	if err := s.Store.SeeJoint(ctx, act, x); err != nil {
		return err
	}
	return s.planAs(ctx, id, m, library.AskOf(st.Plan), nil, why)
}

func (s *Shop) maySee(st *job.State, p vehicle.Pattern, x *vehicle.Seen) error {
	known := s.Library().Knows(x.Joint)
	if !st.HasPlan() || !known {
		return fault.New(fault.Missing, "joint", "There is no such joint.", "Choose one of the plan.")
	}
	if x.Absent && st.Handled(x.Joint) {
		return fault.New(fault.Order, "joint", "It was touched in this job, so it is there.",
			"Take back what was recorded by mistake first.")
	}
	if x.Count > 0 && x.Beside == "" && st.Handled(x.Joint) {
		return fault.New(fault.Order, "count", "Some of them were touched already.",
			"Say that there is one more, beside them.")
	}
	return x.Check()
}

// Models are the sheets a vehicle may belong to: the shop's own, the newest first, then those of its library; what
// is invented belongs to the demo.
func (s *Shop) Models(ctx context.Context) ([]vehicle.Pattern, error) {
	own, err := s.Sheets(ctx)
	if err != nil {
		return nil, err
	}
	lib := s.Library()
	var out []vehicle.Pattern
	for _, x := range slices.Backward(own) {
		out = append(out, lib.Grown(x))
	}
	for _, p := range lib.Patterns {
		if s.Demo || !p.Invented {
			out = append(out, p)
		}
	}
	return out, nil
}

// invented refuses a plan of made-up figures outside the demo.
func (s *Shop) invented(p vehicle.Pattern) error {
	if !p.Invented || s.Demo {
		return nil
	}
	return fault.New(fault.Invented, "vehicle", "Every figure of “"+p.Name+"” is invented: nobody works by them.",
		"Take the vehicle in as a model of its own, and read its figures with the maker.")
}
