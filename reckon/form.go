package reckon

import (
	"encoding/json"
	"maps"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/part"
	"lugtak/core/schedule"
	"lugtak/core/thread"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/library"
)

// Field is one input of a calculation as a form asks for it.
type Field struct {
	Name     string
	Label    string
	Unit     string // "mm", "N·m"; empty for texts and plain numbers
	Kind     string // number, numbers, words, text, long, choice, flag, records
	Required bool
	Options  []string
	Example  string // the value of the calculation's example
}

// units are the endings of field names with what they mean.
var units = map[string]string{
	"nm":   "N·m",
	"mm":   "mm",
	"um":   "µm",
	"kpa":  "kPa",
	"bar":  "bar",
	"deg":  "°",
	"pct":  "%",
	"kn":   "kN",
	"n":    "N",
	"mpa":  "MPa",
	"kmh":  "km/h",
	"hz":   "Hz",
	"kg":   "kg",
	"s":    "s",
	"km":   "km",
	"m":    "m",
	"c":    "°C",
	"nmd":  "N·m/°",
	"min":  "min",
	"bits": "bits",
}

// called are fields whose names are a trade's short words, with what they are and their unit.
var called = map[string][2]string{
	"bpfo_hz":         {"a flaw on the outer ring", "Hz"},
	"bpfi_hz":         {"a flaw on the inner ring", "Hz"},
	"ftf_hz":          {"the cage", "Hz"},
	"bsf_hz":          {"a ball", "Hz"},
	"stiffness_bolt":  {"stiffness of the bolt", "kN/mm"},
	"stiffness_parts": {"stiffness of the parts", "kN/mm"},
	"residual_g_mm":   {"unbalance it may keep", "g·mm"},
	"at_rim_g":        {"at the rim", "g"},
}

// label makes words and a unit of a field's name: "wrench_mm" is wrench, mm.
func label(name string) (words, u string) {
	if l, ok := called[name]; ok {
		return l[0], l[1]
	}
	head, tail := name, ""
	if i := strings.LastIndexByte(name, '_'); i > 0 {
		head, tail = name[:i], name[i+1:]
	}
	if s, ok := units[tail]; ok {
		head, per := strings.CutSuffix(head, "_per") // turns_per_s: turns, /s
		if per {
			s = "/" + s
		}
		return strings.ReplaceAll(head, "_", " "), s
	}
	return strings.ReplaceAll(name, "_", " "), ""
}

// options are the choices of text fields that have them, by the field's name, with
// the calculation's before it where only there.
var options = map[string]func(*library.Library) []string{
	"fit.part": func(*library.Library) []string { return part.Kinds() },
	"schedule.sides": func(*library.Library) []string {
		return []string{string(schedule.Together),
			string(schedule.OneByOne)}
	},
	"lining.kind":  liningKinds,
	"release.kind": releaseKinds,
	"treatment": func(*library.Library) []string {
		var out []string
		for _, t := range thread.Treatments() {
			out = append(out, string(t))
		}
		return out
	},
	"bearing-pressure.part": func(*library.Library) []string { return slices.Sorted(maps.Keys(vehicle.PressureLimits)) },
}

// Fields lists a calculation's inputs. Lists of records are asked for as JSON.
func (c Calc) Fields(lib *library.Library) []Field {
	var example map[string]json.RawMessage
	json.Unmarshal([]byte(c.Example), &example)
	var out []Field
	for i := range c.in.NumField() {
		f := c.in.Field(i)
		name, opt, _ := strings.Cut(f.Tag.Get("json"), ",")
		x := Field{Name: name, Required: !strings.Contains(opt, "omitempty"), Kind: "text"}
		x.Label, x.Unit = label(name)
		t := f.Type
		if t.Kind() == reflect.Pointer {
			t = t.Elem()
		}
		switch t.Kind() {
		case reflect.Float64, reflect.Int:
			x.Kind = "number"
		case reflect.Bool:
			x.Kind = "flag"
		case reflect.Slice:
			switch t.Elem().Kind() {
			case reflect.Float64:
				x.Kind = "numbers"
			case reflect.String:
				x.Kind = "words"
			default:
				x.Kind = "records"
			}
		case reflect.Struct, reflect.Map:
			x.Kind = "records"
		case reflect.String:
			f := options[name]
			if f == nil {
				f = options[c.Name+"."+name]
			}
			if f != nil {
				x.Kind, x.Options = "choice", f(lib)
			}
			if name == "csv" {
				x.Kind = "long"
			}
		}
		if name == "samples" || name == "siblings" { // traces come as CSV
			continue
		}
		var text string
		if json.Unmarshal(example[name], &text) != nil {
			text = string(example[name])
			if x.Kind != "records" {
				text = strings.Trim(text, "[]")
			}
			if x.Kind == "words" {
				text = strings.Join(listed(text), ", ")
			}
		}
		x.Example = text
		out = append(out, x)
	}
	return out
}

// FromForm makes a calculation's JSON of what a form sends. Figures may have a
// decimal comma; empty fields are left out. Its fault names the field.
func (c Calc) FromForm(value func(string) string) (json.RawMessage, error) {
	in := map[string]any{}
	for _, f := range c.Fields(nil) {
		v := strings.TrimSpace(value(f.Name))
		if v == "" {
			continue
		}
		switch f.Kind {
		case "number":
			n, err := figure(v)
			if err != nil {
				return nil, fault.New(fault.BadNumber, f.Name, "“"+clip(v)+"” is no figure.", "Write it as 60 or 44.3.")
			}
			in[f.Name] = n
		case "numbers":
			var list []json.Number
			for _, w := range strings.FieldsFunc(v, func(r rune) bool {
				return r == ';' || r == ' ' || r == '\n' ||
					r == '\r'
			}) {
				n, err := figure(strings.TrimSuffix(w, ","))
				if err != nil {
					return nil, fault.New(fault.BadNumber, f.Name, "“"+clip(w)+"” is no figure.",
						"Write the figures with spaces between them.")
				}
				list = append(list, n)
			}
			in[f.Name] = list
		case "records":
			if !json.Valid([]byte(v)) {
				return nil, fault.New(fault.BadJSON, f.Name, "The "+f.Label+" are not JSON.", "Write them as in the example.")
			}
			in[f.Name] = json.RawMessage(v)
		case "words":
			in[f.Name] = listed(v)
		case "flag":
			in[f.Name] = v == "1" || v == "true"
		default:
			in[f.Name] = v
		}
	}
	return json.Marshal(in)
}

// listed parts a list at its commas, semicolons and ends of line; a word of it may have
// blanks.
func listed(text string) []string {
	parts := strings.FieldsFunc(text, func(r rune) bool { return strings.ContainsRune(",;\"\r\n", r) })
	out := []string{}
	for _, p := range parts {
		if p = strings.TrimSpace(p); p != "" {
			out = append(out, p)
		}
	}
	return out
}

func figure(s string) (json.Number, error) {
	v, ok := unit.Figure(s)
	if !ok {
		return "", strconv.ErrSyntax
	}
	return json.Number(strconv.FormatFloat(v, 'g', -1, 64)), nil
}

func clip(s string) string {
	if r := []rune(s); len(r) > 24 {
		return string(r[:24]) + "…"
	}
	return s
}

// Row is one line of a result as people read it: a figure with its unit, or a
// list of lines of their own.
type Row struct {
	Label string
	Value string
	Also  string // the same in the other unit
	Lines []string
}

// Rows reads a result in the order of its fields.
func Rows(result any) []Row {
	v := reflect.Indirect(reflect.ValueOf(result))
	var out []Row
	for i := range v.NumField() {
		name, opt, _ := strings.Cut(v.Type().Field(i).Tag.Get("json"), ",")
		f := v.Field(i)
		if opt != "" && f.IsZero() {
			continue
		}
		if f.Kind() == reflect.Slice && f.Len() == 0 {
			continue
		}
		if name == "" || f.IsZero() && f.Kind() != reflect.Float64 && f.Kind() != reflect.Bool ||
			f.Kind() == reflect.Pointer && f.IsNil() {
			continue
		}
		words, u := label(name)
		f = reflect.Indirect(f)
		r := Row{Label: words}
		switch f.Kind() {
		case reflect.Float64:
			r.Value = strings.TrimSpace(unit.Number(f.Float(), decimals(f.Float())) + " " + u)
			if u == "N·m" {
				r.Also = unit.Torque(f.Float()).FtLbString()
			}
		case reflect.Slice:
			for k := range f.Len() {
				r.Lines = append(r.Lines, line(f.Index(k)))
			}
		default:
			r.Value = strings.TrimSpace(line(f) + " " + u)
		}
		out = append(out, r)
	}
	return out
}

// line puts one value of a list into a line.
func line(v reflect.Value) string {
	v = reflect.Indirect(v)
	switch v.Kind() {
	case reflect.Struct:
		var words []string
		for _, r := range Rows(v.Interface()) {
			text := r.Value
			if len(r.Lines) > 0 {
				text = strings.Join(r.Lines, "; ")
			}
			if !slices.Contains(
				[]string{"kind", "name", "id", "field", "effect", "message", "size", "verdict", "source", "code", "test", "do"},
				r.Label,
			) {
				text = r.Label + " " + text
			}
			words = append(words, text)
		}
		return strings.Join(words, ", ")
	case reflect.Float64:
		return unit.Number(v.Float(), decimals(v.Float()))
	case reflect.Bool:
		if v.Bool() {
			return "yes"
		}
		return "no"
	case reflect.Int:
		return strconv.FormatInt(v.Int(), 10)
	}
	return strings.ReplaceAll(v.String(), "_", " ")
}

// decimals shows four figures that matter and no more than a bench can use.
func decimals(v float64) int {
	switch {
	case v == 0:
		return 0
	case v < 0:
		v = -v
	}
	switch {
	case v >= 1000:
		return 0
	case v >= 100:
		return 1
	case v >= 10:
		return 2
	case v >= 0.1:
		return 3
	}
	return 6
}
