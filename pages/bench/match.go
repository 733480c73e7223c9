package bench

import (
	"html/template"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/part"
	"lugtak/core/plan"
	"lugtak/core/unit"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/pages/kit"
	"slices"
	"strings"
)

type match struct {
	Job     *job.State
	Step    *plan.Step
	Part    operation.Part
	Fields  []Field
	Result  *part.Result
	Drawing template.HTML
	Drawn   string // what it shows
	Last    *job.Matching
	Note    string
	Owed    int
	Fault   *fault.Fault
}

// Field is one measure of a part: as typed on the old and the new one.
type Field struct {
	Key, Title, Unit string
	Old, New         string
	Effect           string
	Bars             bool
	Missing          bool
	Decides          bool // nothing is kept without it
}

func typedNumber(m map[string]float64, key string) string {
	if x, ok := m[key]; ok {
		return unit.Number(x, 3)
	}
	return ""
}

// Sides are the measures of a part as they were typed, on the old one and the new. The fault is about one that is
// no number.
type Sides struct {
	Old, New map[string]float64
	Fields   []Field
	Bad      *fault.Fault
}

// ReadSides reads what was typed of a kind of part.
func ReadSides(kind string, typed map[string]string) Sides {
	x := Sides{Old: map[string]float64{}, New: map[string]float64{}}
	for _, key := range part.Fields(kind) {
		m := Field{
			Key:     key,
			Decides: slices.Contains(part.Deciding(kind), key),
			Old:     typed["old-"+key],
			New:     typed["new-"+key],
		}
		m.Title, m.Unit = named(key)
		x.read(key, m.Title+", old", m.Old, x.Old)
		x.read(key, m.Title+", new", m.New, x.New)
		x.Fields = append(x.Fields, m)
	}
	return x
}

func (x *Sides) read(key, field, text string, into map[string]float64) {
	if strings.TrimSpace(text) == "" {
		return
	}
	v, ok := unit.Figure(text)
	if !ok {
		x.Bad = fault.New(fault.BadNumber, field, "That is no number.", "Write what the gauge shows, as 24.5.")
		return
	}
	into[key] = v
}

// Beside is the new part of a step beside the old, as far as both are measured. There is none where the step
// compares nothing.
func Beside(
	l *library.Library, st *job.State, step *plan.Step, typed map[string]string, f *fault.Fault,
) (kit.Page, error) {
	v := match{Job: st, Step: step, Owed: len(st.Owed()), Fault: f, Note: typed["note"]}
	var ok bool
	if v.Part, ok = st.Plan.Compared(step); !ok {
		return kit.Page{}, fault.New(fault.NotFound, "step", "Nothing is compared there.",
			"Open the match from the plan or from its step.")
	}
	v.Last = st.Match(v.Part.Key)
	x := ReadSides(v.Part.Kind, typed)
	if v.Last != nil && len(x.Old)+len(x.New) == 0 && x.Bad == nil {
		x.Old, x.New = v.Last.Old, v.Last.New
		for i := range x.Fields {
			m := &x.Fields[i]
			m.Old, m.New = typedNumber(x.Old, m.Key), typedNumber(x.New, m.Key)
		}
	}
	if v.Fault == nil {
		v.Fault = x.Bad
	}
	v.Fields = x.Fields
	if len(x.Old) > 0 && len(x.New) > 0 {
		v.judge(x)
	}
	v.draw(l, x)
	return pages.Page("match", "New beside old", v), nil
}

// draw lays the parts side by side: from solids where what decides their length is measured, else as the shapes their
// measures span; before anything is measured it shows where it is.
func (v *match) draw(l *library.Library, x Sides) {
	scene, field := kit.Compared(l, v.Job.Plan, v.Step, x.Old, x.New)
	flat := draw.Part(v.Part.Kind, x.Old, x.New)
	switch {
	case field != "":
		name, _ := named(field)
		v.Drawing, v.Drawn = scene, "Side by side, "+name+" to scale"
	case flat != "":
		v.Drawing, v.Drawn = flat, "Side by side, to scale"
	default:
		v.Drawing, v.Drawn = scene, "Where it is measured"
	}
}

// named is a measure's name and its unit.
func named(key string) (name, unit string) {
	for _, u := range []string{"mm", "deg", "kg"} {
		if t, ok := strings.CutSuffix(key, "_"+u); ok {
			return strings.ReplaceAll(t, "_", " "), u
		}
	}
	return strings.ReplaceAll(key, "_", " "), ""
}

// judge says what the differences do.
func (v *match) judge(x Sides) {
	r, err := v.Job.Beside(v.Part.Kind, x.Old, x.New)
	if err != nil {
		if v.Fault == nil {
			v.Fault = fault.As(err)
		}
		return
	}
	v.Result = &r
	for i := range v.Fields {
		m := &v.Fields[i]
		for _, d := range r.Differences {
			if d.Field == m.Key {
				m.Effect, m.Bars = d.Effect, d.Bars
			}
		}
		m.Missing = slices.Contains(r.Missing, m.Key)
	}
}
