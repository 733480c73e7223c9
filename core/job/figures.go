package job

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// What becomes of a job's figures where the sheet has another one meanwhile.

// Figure is a figure of the job that was struck on the sheet.
type Figure struct {
	record.FigureStruck
	By       string
	At       time.Time
	Answered *record.FigureAnswered
}

// Uses lists the joints of the plan whose figure comes from a joint of a sheet and
// has not been replaced in the job.
func (p *Planning) Uses(sheet string) []string {
	var out []string
	for _, j := range p.Plan.Joints {
		_, kit := p.Kits[j.ID]
		if j.Sheet == sheet && !kit {
			out = append(out, j.ID)
		}
	}
	return out
}

// Figure finds what was struck last at a joint, of the hardware in hand; nil where nothing was.
func (p *Planning) Figure(joint string) *Figure {
	for i := len(p.Figures) - 1; i >= 0; i-- {
		f := &p.Figures[i]
		if f.Joint == joint && (f.Variant == "" || f.Variant == p.Variants[joint]) {
			return f
		}
	}
	return nil
}

// StruckFigure is what was struck at a joint and waits for an answer; nil where nothing does.
func (s *State) StruckFigure(joint string) *Figure {
	f := s.Figure(joint)
	if f == nil || f.Answered != nil || s.Plan.Joint(joint) == nil {
		return nil
	}
	return f
}

func (s *State) decideStrikeFigure(_ Meta, b StrikeFigure) (record.Body, error) {
	j := s.Plan.Joint(b.Joint)
	if j == nil {
		return nil, refuse(fault.Missing, "joint", "The plan has no such joint.", "Choose one from the plan.")
	}
	c := b.Correction
	r, err := recipe.Parse(c.Recipe)
	if err != nil {
		return nil, err
	}
	was := s.written(j)
	_, treated := s.Treated[j.ID]
	if c.Variant != "" && c.Variant != s.Variants[j.ID] {
		i := slices.IndexFunc(j.Variants, func(v vehicle.Variant) bool { return v.Key == c.Variant })
		if i < 0 {
			return nil, nil // this vehicle carries no such hardware
		}
		was = vehicle.Figure{Recipe: j.Variants[i].Recipe, Source: j.Variants[i].Source}
	}
	if r.String() == was.Recipe && (treated || c.Source == was.Source) {
		return nil, nil
	}
	return record.FigureStruck{
		Joint:   j.ID,
		Was:     was.Recipe,
		Recipe:  r.String(),
		Stages:  toStages(r.Stages),
		Source:  c.Source,
		Why:     c.Why,
		Act:     b.Act,
		Variant: c.Variant,
	}, nil
}

// written is the figure that stands written of a joint. Where its threads are treated otherwise it is the one the
// clamp was reckoned from; where that stood is not kept.
func (s *State) written(j *plan.Joint) vehicle.Figure {
	if t, treated := s.Treated[j.ID]; treated {
		return vehicle.Figure{Recipe: t.WasRecipe}
	}
	return vehicle.Figure{Recipe: j.Recipe, Source: j.Source}
}

func (s *State) applyFigureStruck(e Event, b record.FigureStruck) {
	s.Figures = append(s.Figures, Figure{FigureStruck: b, By: e.By, At: e.At})
}

func (s *State) decideAnswerFigure(_ Meta, b AnswerFigure) (record.Body, error) {
	if s.StruckFigure(b.Joint) == nil {
		return nil, refuse(fault.Order, "joint", "No figure of this joint waits for an answer.", "Nothing to do.")
	}
	if !b.Take {
		if err := reason("reason", &b.Reason); err != nil {
			return nil, err
		}
	}
	return record.FigureAnswered(b), nil
}

// applyFigureAnswered puts the new figure into the plan. A fastener tightened to the
// old one is owed again; unless the new one only asks for more of the same torque, it
// is slackened first.
func (s *State) applyFigureAnswered(e Event, b record.FigureAnswered) {
	f := s.Figure(b.Joint)
	if f == nil {
		return
	}
	f.Answered = &b
	if !b.Take {
		return
	}
	if f.Variant != "" {
		s.respec(b.Joint, e.Seq, func(j *plan.Joint) {
			j.Variants = slices.Clone(j.Variants)
			for i := range j.Variants {
				if v := &j.Variants[i]; v.Key == f.Variant {
					v.Recipe = f.Recipe
					v.Stages = fromStages(f.Stages)
					v.Source = f.Source
				}
			}
		})
	}
	delete(s.Treated, b.Joint)
	old := s.stages[b.Joint]
	s.respec(b.Joint, e.Seq, func(j *plan.Joint) {
		struck := vehicle.Struck{Recipe: j.Recipe, By: e.By, Why: f.Why}
		j.Struck = append(slices.Clip(j.Struck), struck)
		j.Figured(f.Recipe, fromStages(f.Stages), f.Source)
		j.Readers, j.Differs, j.ByBolt = nil, nil, false
		if f.Variant == "" {
			j.Variants = nil
		}
	})
	s.owedAnew(b.Joint, !risesFrom(old, s.stages[b.Joint]), e.Seq)
}

// risesFrom says that a joint tightened by the old stages can be taken on to the new
// ones: one torque each, and the new one is higher.
func risesFrom(old, next []recipe.Stage) bool {
	single := func(stages []recipe.Stage) bool {
		for _, st := range stages {
			if st.Kind != recipe.Torque || st.Target() != stages[0].Target() {
				return false
			}
		}
		return len(stages) > 0
	}
	return single(old) && single(next) && next[0].Target() > old[0].Target()
}

// keepFigures leaves the job's own figures in a plan made anew where the sheet has another one
// meanwhile: what was tightened to it stays what it was, and whether the job takes the new one
// is asked by its gate, not answered by planning.
func (s *State) keepFigures(next *plan.Plan) {
	next.Joints = slices.Clone(next.Joints)
	for i := range next.Joints {
		j := &next.Joints[i]
		was := s.Plan.Joint(j.ID)
		_, kit := s.Kits[j.ID]
		_, treated := s.Treated[j.ID]
		if kit || treated { // laid over the new plan again
			continue
		}
		if was == nil || was.Recipe == j.Recipe && len(was.Variants) == 0 && !was.ByBolt {
			continue
		}
		asked := slices.ContainsFunc(s.Figures, func(f Figure) bool {
			return f.Joint == j.ID && (f.Answered == nil || !f.Answered.Take)
		})
		begun := slices.ContainsFunc(was.Letters, func(l string) bool { return s.Fastener(j.ID, l).Done > 0 })
		if !asked && !begun && !was.ByBolt {
			continue
		}
		j.ByBolt = was.ByBolt
		j.Figured(was.Recipe, was.Spec.Stages, was.Source)
		j.Note, j.Struck = was.Note, was.Struck
		j.Variants = was.Variants
	}
}

// TakeFigure tells the job what the readings of a joint of its sheet come to now.
type TakeFigure struct {
	Joint    string
	Standing vehicle.Standing
	Act      string // the reading's id in the shop's journal
}

func (s *State) decideTakeFigure(_ Meta, b TakeFigure) (record.Body, error) {
	j := s.Plan.Joint(b.Joint)
	if j == nil {
		return nil, refuse(fault.Missing, "joint", "The plan has no such joint.", "Choose one from the plan.")
	}
	st := b.Standing
	known := slices.Equal(st.Differs, j.Differs)
	if len(st.Differs) == 0 {
		known = known && st.Recipe == s.written(j).Recipe && slices.Equal(st.Readers, j.Readers)
	}
	if known {
		return nil, nil
	}
	e := record.FigureTaken{
		Joint:     j.ID,
		Recipe:    st.Recipe,
		Thread:    st.Thread,
		Class:     st.Class,
		Treatment: st.Treatment,
		Condition: string(st.Condition),
		Renew:     st.Renew,
		Hardware:  st.Hardware,
		Drive:     st.Drive,
		Socket:    st.Socket,
		Readers:   st.Readers,
		Differs:   toFigures(st.Differs),
		Act:       b.Act,
	}
	if st.Recipe == "" {
		return e, nil
	}
	r, err := recipe.Parse(st.Recipe)
	if err != nil {
		return nil, err
	}
	e.Stages = toStages(r.Stages)
	e.Source = st.From()
	e.Note = st.Note
	return e, nil
}

// applyFigureTaken puts what was read into the plan. While readings differ the figure stays what it was, and
// nobody pulls by it. A fastener tightened to another figure is owed again.
func (s *State) applyFigureTaken(e Event, b record.FigureTaken) {
	j := s.Plan.Joint(b.Joint)
	if j == nil {
		return
	}
	if len(b.Differs) > 0 {
		s.respec(b.Joint, e.Seq, func(j *plan.Joint) { j.Differs = fromFigures(b.Differs) })
		return
	}
	old := s.stages[b.Joint]
	was := s.written(j).Recipe
	if _, treated := s.Treated[b.Joint]; treated && was == b.Recipe {
		s.respec(b.Joint, e.Seq, func(j *plan.Joint) { j.Readers, j.Differs = b.Readers, nil })
		return
	}
	s.respec(b.Joint, e.Seq, func(j *plan.Joint) {
		read := vehicle.Standing{Readers: b.Readers, Reading: vehicle.Reading{
			Recipe:    b.Recipe,
			Thread:    b.Thread,
			Class:     b.Class,
			Treatment: b.Treatment,
			Condition: vehicle.Condition(b.Condition),
			Renew:     b.Renew,
			Hardware:  b.Hardware,
			Drive:     b.Drive,
			Socket:    b.Socket,
			Source:    b.Source,
			Note:      b.Note,
		}}
		j.Spec = j.Spec.Stands(read)
		j.Spec.Stages = fromStages(b.Stages)
	})
	if was != "" && was != b.Recipe {
		delete(s.Treated, b.Joint)
		s.owedAnew(b.Joint, !risesFrom(old, s.stages[b.Joint]), e.Seq)
	}
}

// Follows says that the plan may be another one by what was read of a joint: where it asks for another stance,
// another number or new hardware, or for fewer stages than its steps are cut into.
func (s *State) Follows(joint string, st vehicle.Standing) bool {
	j := s.Plan.Joint(joint)
	if j == nil || st.Recipe == "" {
		return false
	}
	other := st.Condition != "" && st.Condition != j.Condition
	fewer := st.Count != 0 && st.Count != len(j.Letters) || st.Renew && !j.Renew
	cut := slices.ContainsFunc(s.Plan.Steps, func(x plan.Step) bool { return x.Joint == joint && len(x.Stages) == 2 })
	return other || fewer || j.Unread() && cut
}

// WantsReader says that a life hangs on the joint and nobody has read its figure a second time.
func (s *State) WantsReader(j *plan.Joint) bool {
	return len(j.Readers) == 1 && len(j.Differs) == 0 && s.Critical(j)
}

// readBefore says that the second reading of a joint a life hangs on comes before its first pull: where more
// than a torque is asked, or what goes in goes in once.
func (s *State) readBefore(j *plan.Joint) bool {
	if k, fitted := s.Kits[j.ID]; fitted && len(k.Readers) > 1 || !fitted && !s.WantsReader(j) || !s.Critical(j) {
		return false
	}
	beyond := func(st recipe.Stage) bool { return st.Kind != recipe.Torque && st.Kind != recipe.Snug }
	return j.Renew || slices.ContainsFunc(j.Read(), beyond)
}

// unread refuses a pull by a figure that nobody read, that readings differ on, or that wants a second reader
// first.
func (s *State) unread(j *plan.Joint) error {
	switch {
	case len(j.Differs) > 0:
		return refuse(fault.Differ, "recipe", "Readings of the "+j.Title+" differ: "+Differing(j.Differs)+".",
			"Look at the page together; who misread it reads it again.")
	case j.Unread():
		return refuse(fault.NoFigure, "recipe", "Nobody has read the figure of the "+j.Title+" yet.",
			"Enter what the maker writes, with its source.")
	case s.readBefore(j):
		readers, remedy := j.Readers, "A second person reads it too, before the first pull."
		if k, fitted := s.Kits[j.ID]; fitted {
			readers, remedy = k.Readers, "It is entered from the leaflet a second time, on the plan's page, before the first "+
				"pull."
		}
		return refuse(fault.NoReader, "second",
			fmt.Sprintf("A life hangs on the %s, and only %s has read their figure.", j.Title, readers[0]), remedy)
	}
	return nil
}

// AsksFigure says that no pull counts on the joint before somebody has read its figure.
func (s *State) AsksFigure(j *plan.Joint) bool { return s.unread(j) != nil }

// Differing says readings that do not agree.
func Differing(all []vehicle.Figure) string {
	says := each(all, func(f vehicle.Figure) string { return f.By + " " + f.Recipe + " (" + f.Source + ")" })
	return strings.Join(says, ", ")
}

// readings asks for a second reader where a life hangs on a joint, and for one figure where readings differ.
func readings(s *State) []Gate {
	var out []Gate
	for i := range s.Plan.Joints {
		j := &s.Plan.Joints[i]
		g := Gate{Key: gateReading.Key(j.ID)}
		switch {
		case len(j.Differs) > 0:
			g.Title = "Readings of the " + j.Title + " differ: " + Differing(j.Differs)
			g.Remedy = "Look at the page together; who misread it reads it again."
		case s.WantsReader(j):
			g.Title = fmt.Sprintf("The figure of the %s was read by %s alone", j.Title, j.Readers[0])
			g.Remedy = "A second person reads it too; alone in the shop, again half an hour and another bolt later."
		case len(j.Readers) > 1 && s.Critical(j):
			g.Title = fmt.Sprintf("The figure of the %s %s", j.Title, readTwice(j.Readers))
			g.Met = true
		default:
			continue
		}
		out = append(out, g)
	}
	return out
}

// readTwice says who read a figure a second time: another person, or who is alone in the shop.
func readTwice(readers []string) string {
	if by := slices.Compact(slices.Clone(readers)); len(by) == 1 {
		return "read twice by " + by[0]
	}
	return "read by two"
}

// Known is how far the figure of a joint is known.
type Known string

// The ways a figure is known.
const (
	FigureUnknown   Known = "unknown"
	FigureRead      Known = "read"       // by one person
	FigureTwice     Known = "read_twice" // or it came with a file, which two read
	FigureConflict  Known = "conflict"
	FigureStruckOut Known = "struck"  // on its sheet, and not answered here yet
	FigureByBolt    Known = "by_bolt" // of its bolt, not of the maker
	FigureOfKit     Known = "kit"     // of a kit's leaflet
)

// Wanted is the figure of a joint of the sheet, with the step that wants it first.
type Wanted struct {
	Joints []*plan.Joint // of this sheet's joint, on one side or both
	Step   *plan.Step
	No     int // of the step, from 1
	Known  Known
}

// WantedFigures lists the figures the job needs, in the order they are needed.
func (s *State) WantedFigures() []Wanted {
	var out []Wanted
	for i := range s.Plan.Steps {
		st := &s.Plan.Steps[i]
		j := s.Plan.Joint(st.Joint)
		if j == nil || st.Verb != operation.Tighten {
			continue
		}
		k := slices.IndexFunc(out, func(w Wanted) bool { return w.Joints[0].Sheet == j.Sheet })
		if k < 0 {
			out = append(out, Wanted{Joints: []*plan.Joint{j}, Step: st, No: i + 1, Known: s.known(j)})
		} else if !slices.Contains(out[k].Joints, j) {
			out[k].Joints = append(out[k].Joints, j)
		}
	}
	return out
}

func (s *State) known(j *plan.Joint) Known {
	if s.StruckFigure(j.ID) != nil {
		return FigureStruckOut
	}
	if _, fitted := s.Kits[j.ID]; fitted {
		return FigureOfKit
	}
	return KnownOf(j.Spec)
}

// KnownOf is how far a figure is known by its sheet.
func KnownOf(s vehicle.Spec) Known {
	switch {
	case len(s.Differs) > 0:
		return FigureConflict
	case s.Unread():
		return FigureUnknown
	case s.ByBolt:
		return FigureByBolt
	case len(s.Readers) == 1:
		return FigureRead
	}
	return FigureTwice
}

// ToRead counts the figures the job needs that nobody has read, or that readings differ on, and those that a second
// person is to read.
func (s *State) ToRead() (unread, again int) {
	for _, w := range s.WantedFigures() {
		switch {
		case w.Known == FigureUnknown || w.Known == FigureConflict:
			unread++
		case s.WantsReader(w.Joints[0]):
			again++
		}
	}
	return unread, again
}
