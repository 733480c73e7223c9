package sheet

import (
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/library"
	"lugtak/pages/kit"
	"maps"
	"reflect"
	"slices"
	"strings"
)

// Sent is a file that was sent to the Shelf.
type Sent struct {
	Kind, Text string
	Problems   []library.Fault
	Read       *Read // what it would do; nil where it has problems, or none was sent
	Second     string
	Taken      string // what was taken just now
	Fault      *fault.Fault
}

// shelf is what the shop knows, with what was sent to it.
type shelf struct {
	Sent
	Patterns []pattern
	Families []family
	Faults   []library.Fault
}

// family is the operations of one kind of part, with how many of them each model has.
type family struct {
	Name       string
	Operations []operationRow
	On         []int // of each pattern, in their order
}

// Read is a file that is sound, as the two who take it read it.
type Read struct {
	Title   string
	Instead bool // of one that is on the Shelf
	Beside  bool // it differs from that one in what is no row, too
	Rows    []readRow
}

// readRow is a joint with its figure, or a step, beside what stands on the Shelf. Two that read
// alike may differ in what is not written here.
type readRow struct {
	Name, Is, Source, Was string
	Same                  bool // in everything
}

// ReadOf says what a file would put on the Shelf, what differs first.
func ReadOf(lib, next *library.Library, kind, id string) *Read {
	r := &Read{}
	if kind == "pattern" {
		r.sheet(lib, next, id)
	} else {
		r.operation(lib, next, id)
	}
	slices.SortStableFunc(r.Rows, func(a, b readRow) int {
		switch {
		case a.Same == b.Same:
			return 0
		case b.Same:
			return -1
		}
		return 1
	})
	return r
}

func (r *Read) sheet(lib, next *library.Library, id string) {
	p, _ := next.Pattern(id)
	old, here := lib.Pattern(id)
	r.Title, r.Instead = p.Name, here
	joints := slices.Concat(slices.Collect(maps.Keys(p.Spec)), slices.Collect(maps.Keys(old.Spec)))
	slices.Sort(joints)
	for _, joint := range slices.Compact(joints) {
		is, was := p.Spec[joint], old.Spec[joint]
		r.Rows = append(r.Rows, readRow{joint, figureOf(is), is.Source, figureOf(was), reflect.DeepEqual(is, was)})
	}
	p.Spec, old.Spec = nil, nil
	r.Beside = here && !reflect.DeepEqual(p, old)
}

func (r *Read) operation(lib, next *library.Library, id string) {
	op, _ := next.Operation(id)
	old, here := lib.Operation(id)
	r.Title, r.Instead = op.Title, here
	left := slices.Clone(old.Steps)
	for _, step := range op.Steps {
		row := readRow{Name: string(step.ID), Is: step.Title}
		if i := slices.IndexFunc(left, func(x operation.Step) bool { return x.ID == step.ID }); i >= 0 {
			row.Was, row.Same = left[i].Title, reflect.DeepEqual(step, left[i])
			left = slices.Delete(left, i, i+1) // a step of several ways stands once for each
		}
		r.Rows = append(r.Rows, row)
	}
	for _, step := range left {
		r.Rows = append(r.Rows, readRow{Name: string(step.ID), Was: step.Title})
	}
	op.Steps, old.Steps = nil, nil
	r.Beside = here && !reflect.DeepEqual(op, old)
}

// figureOf is a joint's figure with its hardware, in one line.
func figureOf(s vehicle.Spec) string {
	if s.Thread == "" && s.Recipe == "" {
		return ""
	}
	says := strings.Join(
		slices.DeleteFunc([]string{s.Thread, s.Class, s.Recipe}, func(x string) bool { return x == "" }), ", ")
	for _, v := range s.Variants {
		says += "; " + v.Sees + ": " + v.Recipe
	}
	return says
}

// operationRow is an operation with the patterns that have it.
type operationRow struct {
	operation.Operation
	Name  string
	Wants []string // what must lie open for it
}

// opensFor lists what an operation wants of the vehicle, each once.
func opensFor(op operation.Operation) []string {
	var out []string
	take := func(wants []operation.Want) {
		for _, w := range wants {
			text := strings.TrimSpace(w.Fact + " " + w.Value)
			if w.Fact != "" && w.Value != plan.AnyValue && !slices.Contains(out, text) {
				out = append(out, text)
			}
		}
	}
	take(op.Wants)
	for _, s := range op.Steps {
		if s.Verb == operation.Remove || s.Verb == operation.Crack {
			take(s.Wants)
		}
	}
	return out
}

type pattern struct {
	vehicle.Pattern
	Joints, Doubts int
	Read           int // of a sheet that grows, figures that are known
}

// Shelf is the Shelf of a library; the patterns have the figures the shop has corrected.
func Shelf(lib *library.Library, patterns []vehicle.Pattern, sent Sent) kit.Page {
	v := shelf{Sent: sent, Faults: lib.Faults}
	for _, p := range patterns {
		row := pattern{Pattern: p, Joints: len(p.Spec), Doubts: len(vehicle.Doubts(p))}
		if p.Open {
			row.Joints = len(lib.JointsOf(p))
			for _, s := range p.Spec {
				if !s.Unread() {
					row.Read++
				}
			}
		}
		v.Patterns = append(v.Patterns, row)
	}
	slices.SortStableFunc(v.Patterns, func(a, b pattern) int { return b.Doubts - a.Doubts })
	v.families(lib)
	return pages.Page("shelf", "Shelf", v)
}

// families groups the operations, each with the models that have it.
func (v *shelf) families(lib *library.Library) {
	for _, op := range lib.Operations {
		i := slices.IndexFunc(v.Families, func(f family) bool { return f.Name == op.Family })
		if i < 0 {
			i = len(v.Families)
			v.Families = append(v.Families, family{Name: op.Family, On: make([]int, len(v.Patterns))})
		}
		f := &v.Families[i]
		f.Operations = append(f.Operations, operationRow{
			Operation: op,
			Name:      unit.Capital(strings.TrimSpace(strings.ReplaceAll(op.Title, "{axle}", ""))),
			Wants:     opensFor(op),
		})
		for k, p := range v.Patterns {
			if slices.Contains(p.Operations, op.ID) {
				f.On[k]++
			}
		}
	}
}

// Short is the first words of a model's name, over its column.
func (p pattern) Short() string {
	words := strings.Fields(p.Name)
	return strings.Join(words[:min(2, len(words))], " ")
}
