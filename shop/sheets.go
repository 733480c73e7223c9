package shop

import (
	"context"
	"slices"
	"strings"

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
		if p, ok, err = s.left(ctx, id); err != nil {
			return p, err
		}
	}
	if !ok {
		return p, fault.New(fault.NotFound, "pattern", "There is no pattern “"+id+"”.", "Choose one of the Shelf.")
	}
	done, err := s.Corrections(ctx, id)
	if err != nil {
		return p, err
	}
	access, err := s.Access(ctx, id)
	return p.Learnt(read, seen).With(done).Reached(access), err
}

// left is what is left of a sheet of the demo in a file of old that worked by it: its jobs can be read, and nothing is
// planned by it any more.
func (s *Shop) left(ctx context.Context, id string) (p vehicle.Pattern, ok bool, err error) {
	all, err := s.Vehicles(ctx)
	i := slices.IndexFunc(all, func(v vehicle.Vehicle) bool { return v.Pattern == id })
	if i < 0 {
		return p, false, err
	}
	return vehicle.Pattern{ID: id, Name: all[i].Name, Invented: true, Spec: map[string]vehicle.Spec{}}, true, err
}

// mostRead is how many figures are compared with a page at once: who compares more looks no longer.
const mostRead = 6

// ReadFigure keeps the figure of a joint as one person read it. Who reads it again without seeing the first is a
// second reader: another person, or the same one half an hour and another bolt later, where nobody else works in
// the shop. Faults name the field.
func (s *Shop) ReadFigure(ctx context.Context, id record.EventID, r vehicle.Reading) error {
	return s.ReadFigures(ctx, id, []vehicle.Reading{r})
}

// ReadFigures keeps the figures of up to six joints of a sheet as one person read them, all or none.
func (s *Shop) ReadFigures(ctx context.Context, id record.EventID, list []vehicle.Reading) error {
	s.learning.Lock()
	defer s.learning.Unlock()
	done, err := s.Acted(ctx, id)
	if err != nil {
		return err
	}
	if len(list) == 0 || len(list) > mostRead {
		return fault.New(fault.OutOfRange, "of", "From one to six figures are compared at a time.",
			"Say of which joints they are; paste the rest afterwards.")
	}
	p, err := s.Pattern(ctx, list[0].Sheet)
	if err != nil {
		return err
	}
	for i := range list {
		if done { // a repeat is answered by the journal
			err = list[i].Check()
		} else {
			err = s.mayRead(ctx, p, &list[i], list[:i])
		}
		if err != nil {
			return err
		}
	}
	if done {
		return s.Store.ReadFigures(ctx, id, list)
	}
	jobs, err := s.following(ctx, list)
	if err != nil {
		return err
	}
	if err := s.Store.ReadFigures(ctx, id, list); err != nil {
		return err
	}
	by, at := list[0].By, list[0].At
	for _, st := range jobs {
		m := job.Meta{ID: record.EventID("follow:" + string(id) + ":" + st.ID), By: by, Role: job.Technician, At: at}
		err := s.planAs(ctx, st.ID, m, library.AskOf(st.Plan), nil, s.wasRead(p, list))
		if fault.As(err) == nil && err != nil {
			return err
		}
	}
	return nil
}

func (s *Shop) wasRead(p vehicle.Pattern, list []vehicle.Reading) string {
	var titles []string
	for _, r := range list {
		titles = append(titles, s.Library().TitleOf(p, r.Joint))
	}
	return "the figure was read: " + strings.Join(titles, ", ")
}

// following are the open jobs whose plan may be another one by what was read. A stance by which a joint could not
// be reached in one of them is refused.
func (s *Shop) following(ctx context.Context, list []vehicle.Reading) ([]*job.State, error) {
	sheet := list[0].Sheet
	ids, err := s.OpenOf(ctx, sheet)
	if err != nil {
		return nil, err
	}
	read, seen, err := s.Learnt(ctx, sheet)
	if err != nil {
		return nil, err
	}
	read = append(read, list...)
	p, err := s.sheetAs(ctx, sheet, read, seen)
	if err != nil {
		return nil, err
	}
	stance := slices.ContainsFunc(list, func(r vehicle.Reading) bool { return r.Condition != "" })
	var out []*job.State
	for _, id := range ids {
		st, err := s.Job(ctx, id)
		if err != nil {
			return nil, err
		}
		follows := slices.ContainsFunc(list, func(r vehicle.Reading) bool {
			of := slices.DeleteFunc(slices.Clone(read), func(x vehicle.Reading) bool { return x.Joint != r.Joint })
			now := vehicle.Stand(of)
			return slices.ContainsFunc(st.Uses(r.Joint), func(joint string) bool { return st.Follows(joint, now) })
		})
		if !follows {
			continue
		}
		ask := library.AskOf(st.Plan)
		ask.Done, ask.Begun = st.DoneSteps()
		if _, err := s.Library().Compile(p, ask); err != nil && stance {
			return nil, fault.In("condition", err)
		}
		out = append(out, st)
	}
	return out, nil
}

// LastRead is what was read last for a sheet; it is empty where nothing was.
func (s *Shop) LastRead(ctx context.Context, sheet string) (vehicle.Reading, error) {
	read, _, err := s.Learnt(ctx, sheet)
	if len(read) == 0 {
		return vehicle.Reading{}, err
	}
	return read[len(read)-1], err
}

// mayRead says why a reading would be refused that comes with others.
func (s *Shop) mayRead(ctx context.Context, p vehicle.Pattern, r *vehicle.Reading, with []vehicle.Reading) error {
	if !s.Library().Knows(r.Joint) {
		return fault.New(fault.Missing, "joint", "There is no such joint.", "Choose one of the plan.")
	}
	if slices.ContainsFunc(with, func(o vehicle.Reading) bool { return o.Joint == r.Joint }) {
		return fault.New(fault.BadChoice, "of",
			"Two figures are of the "+s.Library().TitleOf(p, r.Joint)+".", "Choose the one that is.")
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
	if wait := vehicle.ReadAgain - r.At.Sub(since); wait > 0 || !between {
		remedy := "Read another bolt's figure first."
		if wait > 0 {
			remedy = "Come back at " + since.Add(vehicle.ReadAgain).In(s.Now().Location()).Format("15:04") +
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
func (s *Shop) SeeJoint(ctx context.Context, id string, m job.Meta, x vehicle.Seen) error {
	s.learning.Lock()
	defer s.learning.Unlock()
	st, p, err := s.JobAndSheet(ctx, id)
	if err != nil {
		return err
	}
	x.Sheet, x.By, x.At = p.ID, m.By, m.At
	act := record.EventID("seen:" + string(m.ID))
	read, seen, err := s.Learnt(ctx, p.ID)
	if err != nil {
		return err
	}
	before := slices.IndexFunc(seen, func(o vehicle.Seen) bool { return o.Act == string(act) })
	switch {
	case x.Beside == "":
	case before >= 0:
		x.Beside, x.Joint = seen[before].Beside, seen[before].Joint
	default:
		if base, more := vehicle.BesideOf(x.Beside); more {
			x.Beside = base
		}
		x.Joint = vehicle.MoreKey(x.Beside, len(p.More))
	}
	if before < 0 {
		if err := s.maySee(ctx, st, p, &x); err != nil {
			return err
		}
		seen = append(seen, x)
	} else if err := x.Check(); err != nil {
		return err
	}
	now, err := s.sheetAs(ctx, p.ID, read, seen)
	if err != nil {
		return err
	}
	ask := library.AskOf(st.Plan)
	ask.Done, ask.Begun = st.DoneSteps()
	title := s.Library().TitleOf(p, x.Joint)
	made, err := s.Library().Compile(now, ask)
	if f := fault.As(err); f != nil && x.Absent {
		return fault.New(fault.Order, "joint", "Without the "+title+" nobody knows how this work is done: "+f.Detail,
			"Look again. Where the vehicle is built otherwise say so on the plan's page, or plan other work.")
	}
	if err != nil {
		return err
	}
	why := x.Says(title)
	if err := st.CanRework(made, why); err != nil {
		return err
	}
	if err := s.Store.SeeJoint(ctx, act, x); err != nil {
		return err
	}
	return s.planAs(ctx, id, m, library.AskOf(st.Plan), nil, why)
}

func (s *Shop) maySee(ctx context.Context, st *job.State, p vehicle.Pattern, x *vehicle.Seen) error {
	lib := s.Library()
	if !st.HasPlan() || !lib.Knows(x.Joint) {
		return fault.New(fault.Missing, "joint", "There is no such joint.", "Choose one of the plan.")
	}
	fewer := x.Absent
	for _, j := range st.Plan.Joints {
		fewer = fewer || j.Sheet == x.Joint && 0 < x.Count && x.Count < len(j.Letters)
	}
	switch touched := st.Handled(x.Joint); {
	case x.Absent && touched:
		return fault.New(fault.Order, "joint", "It was touched in this job, so it is there.",
			"Take back what was recorded by mistake first.")
	case x.Count > 0 && x.Beside == "" && touched:
		return fault.New(fault.Order, "count", "Some of them were touched already.",
			"Say that there is one more, beside them.")
	case x.Beside != "" && len(p.More) >= vehicle.MaxMore:
		return fault.New(fault.OutOfRange, "title", "The sheet has as many of these as it can.",
			"Note it as a finding, and have the model begun anew.")
	}
	if err := x.Check(); err != nil {
		return err
	}
	if !fewer || !lib.ByTwo(x.Joint) {
		return nil
	}
	if alone, err := s.Alone(ctx, x.By); err != nil || alone {
		return err
	}
	return twoPeople(x.By, x.Second, "A life hangs on the "+lib.TitleOf(p, x.Joint)+": two look before it is left out.")
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
