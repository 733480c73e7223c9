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
	"math"
	"slices"
	"strings"
)

type match struct {
	Job     *job.State
	Step    *plan.Step
	Part    operation.Part
	Asks    []Field // what decides, in the order it is asked
	Rest    []Field // what is alike by eye where nobody says otherwise
	Result  *part.Result
	Leads   Field // the difference that decides, or the first there is
	Drawing template.HTML
	Drawn   string // what it shows
	Last    *job.Matching
	Note    string
	Owed    int
	Fault   *fault.Fault
}

// Field is one measure of a part: as typed on the old and the new one.
type Field struct {
	part.Measure
	Title, Unit string
	Old, New    string
	Effect      string
	Off         float64 // by how much the new one differs
	Way         string  // more or less
	Bars        bool
	Compared    bool
	Passed      bool // not asked, since another one has decided
}

// Alike says of a measure told by eye whether it is the same on both.
func (f Field) Alike() bool { return f.Compared && f.Old == f.New }

// Fits is the word for a part that can go in by all that was compared, so far as that is enough.
func (v match) Fits() bool {
	return v.Result != nil && v.Result.Verdict == part.Fits && len(v.Left()) == 0
}

// Refused says that a measure bars the part.
func (v match) Refused() bool { return v.Result != nil && v.Result.Verdict == part.Refused }

// Differs says that all that decides was compared, and something is otherwise that bars nothing.
func (v match) Differs() bool {
	return v.Result != nil && v.Result.Verdict == part.FitsWith && len(v.Left()) == 0
}

// Left are the measures that still decide.
func (v match) Left() (names []string) {
	for _, f := range v.left() {
		names = append(names, f.Title)
	}
	return names
}

func (v match) left() (out []Field) {
	for _, f := range v.Asks {
		if !f.Compared && !f.Passed {
			out = append(out, f)
		}
	}
	return out
}

// Looks is what the eye still has to tell, once all that is gauged was compared: the key says that it is alike.
func (v match) Looks() *Field {
	left := v.left()
	if len(left) == 0 || slices.ContainsFunc(left, func(f Field) bool { return !f.ByEye }) {
		return nil
	}
	return &left[0]
}

// Otherwise says that something differs of what is taken as alike by eye, or was measured there.
func (v match) Otherwise() bool {
	return slices.ContainsFunc(v.Rest, func(f Field) bool { return f.Old != "" || f.New != "" })
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

// ReadSides reads what was typed of a kind of part. What is told by eye is said in one word for both.
func ReadSides(kind string, typed map[string]string) Sides {
	x := Sides{Old: map[string]float64{}, New: map[string]float64{}}
	for _, is := range part.Measures(kind) {
		m := Field{Measure: is, Old: typed["old-"+is.Field], New: typed["new-"+is.Field]}
		m.Title, m.Unit = named(is.Field)
		switch typed["eye-"+is.Field] {
		case "alike":
			m.Old, m.New = "1", "1"
		case "differs":
			m.Old, m.New = "0", "1"
		}
		x.read(is.Field, m.Title+", old", m.Old, x.Old)
		x.read(is.Field, m.Title+", new", m.New, x.New)
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
			m.Old, m.New = typedNumber(x.Old, m.Field), typedNumber(x.New, m.Field)
		}
	}
	if v.Fault == nil {
		v.Fault = x.Bad
	}
	if len(x.Old) > 0 && len(x.New) > 0 {
		v.judge(x)
	}
	for _, f := range x.Fields {
		if f.Decides {
			f.Passed = v.Refused() && !f.Compared
			v.Asks = append(v.Asks, f)
		} else {
			v.Rest = append(v.Rest, f)
		}
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

// byName are the measures whose key does not say by itself what is looked at.
var byName = map[string]string{
	"hand":        "way it is cut or wound",
	"side":        "side it is for",
	"vanes_hand":  "way the vanes run",
	"ends":        "ends",
	"seat":        "flare",
	"lever":       "park brake lever",
	"class":       "class on its head",
	"ring":        "rings, inside or outside",
	"ring_groove": "place of the ring’s groove",
	"encoder":     "ring of poles in its seal",
	"thread_mm":   "thread, across",
	"taper_mm":    "taper, across its end",
	"extended_mm": "length drawn out",
	"free_mm":     "free length",
}

// named is a measure's name and its unit.
func named(key string) (name, unit string) {
	name = key
	for _, u := range []string{"mm", "deg", "kg"} {
		if t, ok := strings.CutSuffix(key, "_"+u); ok {
			name, unit = t, u
		}
	}
	if unit == "deg" {
		unit = "°"
	}
	if said := byName[key]; said != "" {
		return said, unit
	}
	return strings.ReplaceAll(name, "_", " "), unit
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
	for i := range x.Fields {
		m := &x.Fields[i]
		_, old := x.Old[m.Field]
		_, new := x.New[m.Field]
		m.Compared = old && new
		for _, d := range r.Differences {
			if d.Field != m.Field {
				continue
			}
			m.Effect, m.Bars, m.Off, m.Way = d.Effect, d.Bars, math.Abs(d.New-d.Old), "more"
			if d.New < d.Old {
				m.Way = "less"
			}
			if v.Leads.Effect == "" || m.Bars && !v.Leads.Bars {
				v.Leads = *m
			}
		}
	}
}
