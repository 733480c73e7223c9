package reckon

import (
	"encoding/json"
	"errors"
	"math"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
)

func run(t *testing.T, name, in string) map[string]any {
	t.Helper()
	out, err := Run(name, []byte(in))
	if err != nil {
		t.Fatalf("%s %s: %v", name, in, err)
	}
	var m map[string]any
	if err := json.Unmarshal(out, &m); err != nil {
		t.Fatal(err)
	}
	return m
}

// Values from outside, each with its source; written down from memory.
func TestValues(t *testing.T) {
	for _, c := range []struct {
		name, in, field string
		want, rel       float64
	}{
		{"convert", `{"value":1,"from":"lbf·ft","to":"N·m"}`, "value", 1.355817948, 1e-8},                                     // NIST SP 811
		{"wrench-setting", `{"target_nm":100,"wrench_mm":450,"adapter_mm":50,"adapter_angle_deg":0}`, "setting_nm", 90, 1e-9}, // statics
		{"wrench-setting", `{"target_nm":100,"wrench_mm":450,"adapter_mm":50,"adapter_angle_deg":90}`, "setting_nm", 100, 1e-9},
		{"tightening", `{"thread":"M10","class":"8.8","friction":0.12,"utilisation":0.9}`, "torque_nm", 48, 0.02}, // VDI 2230 table A1
		{"tightening", `{"thread":"M12","class":"8.8","friction":0.12}`, "preload_kn", 43.0, 0.02},
		{"preload", `{"thread":"M10","class":"8.8","torque_nm":48,"friction":0.12}`, "preload_kn", 29.6, 0.02},
		{"twist-off", `{"thread":"M8","class":"8.8"}`, "torque_nm", 33, 0.04},                    // ISO 898-7
		{"bar-force", `{"torque_nm":200,"bar_mm":500}`, "force_n", 400, 1e-9},                    // statics
		{"castle-nut", `{"slots":6,"thread":"M12x1.25","hole_deg":25}`, "advance_deg", 25, 1e-9}, // geometry
		{"castle-nut", `{"slots":6,"thread":"M12x1.25","hole_deg":60}`, "advance_mm", 0, 0},
		{"guard-band", `{"low_nm":52,"high_nm":55,"accuracy_pct":4}`, "setting_nm", 53.5, 1e-9}, // common practice: the middle
		{"recipe", `{"text":"60 Nm + 90°"}`, "peak_nm", 60, 1e-9},
	} {
		got, _ := run(t, c.name, c.in)[c.field].(float64)
		if math.Abs(got-c.want) > c.rel*math.Abs(c.want) {
			t.Errorf("%s %s: %s = %v, want %v", c.name, c.in, c.field, got, c.want)
		}
	}
}

func TestProblems(t *testing.T) {
	for _, c := range []struct {
		name, in    string
		status      int
		code, field string
	}{
		{"convert", `{"value":1,"from":"N·m","to":"mm"}`, 422, "unit_mismatch", "to"},
		{"convert", `{"value":1,"from":"N·m"}`, 422, "missing", "to"},
		{"convert", `{"value":"one","from":"N·m","to":"ft·lb"}`, 422, "bad_type", "value"},
		{"convert", `{"value":1,"from":"N·m","to":"ft·lb","extra":1}`, 422, "unknown_field", "extra"},
		{"convert", `{`, 400, "bad_json", ""},
		{"convert", ``, 400, "bad_json", ""},
		{"convert", `[]`, 422, "bad_type", ""},
		{"nothing", `{}`, 404, "not_found", "name"},
		{"recipe", `{"text":"45 kg"}`, 422, "unknown_unit", "text"},
		{"recipe", `{"text":"60 Nm","thread":"M12x9","class":"8.8"}`, 422, "bad_thread", "thread"},
		{"preload", `{"thread":"M10","class":"8.8","torque_nm":1e300}`, 422, "out_of_range", "torque_nm"},
		{"pull", `{"recipe":"60 Nm","csv":"a,b\n1,2"}`, 422, "bad_csv", "csv"},
		{"pull", `{"recipe":"60 Nm","samples":[[0,0,0]]}`, 422, "too_short", "samples"},
	} {
		_, err := Run(c.name, []byte(c.in))
		var p *Problem
		if !errors.As(err, &p) || p.Status != c.status || p.Code != c.code || p.Field != c.field || p.Remedy == "" || p.Title == "" || p.Type == "" {
			t.Errorf("%s %s: %+v; want %d %s on %q", c.name, c.in, p, c.status, c.code, c.field)
		}
	}
}

// Every example works and fits the schema the registry publishes.
func TestExamplesFitTheirSchemas(t *testing.T) {
	for _, c := range All() {
		out := run(t, c.Name, c.Example)
		in, res := c.schemas()
		for what, pair := range map[string][2]any{"input": {in, json.RawMessage(c.Example)}, "output": {res, out}} {
			schema, _ := json.Marshal(pair[0])
			doc, _ := json.Marshal(pair[1])
			s, err := jsonschema.UnmarshalJSON(strings.NewReader(string(schema)))
			if err != nil {
				t.Fatal(err)
			}
			comp := jsonschema.NewCompiler()
			if err := comp.AddResource("s.json", s); err != nil {
				t.Fatal(err)
			}
			compiled, err := comp.Compile("s.json")
			if err != nil {
				t.Fatalf("%s %s: %v", c.Name, what, err)
			}
			v, _ := jsonschema.UnmarshalJSON(strings.NewReader(string(doc)))
			if err := compiled.Validate(v); err != nil {
				t.Errorf("%s %s: %v", c.Name, what, err)
			}
		}
		if c.Formula == "" || c.Source == "" || c.Title == "" {
			t.Errorf("%s lacks formula, source or title", c.Name)
		}
	}
}

func TestOpenAPI(t *testing.T) {
	text, err := OpenAPI("test")
	if err != nil {
		t.Fatal(err)
	}
	var m struct {
		OpenAPI string
		Paths   map[string]any
	}
	if err := json.Unmarshal(text, &m); err != nil || m.OpenAPI != "3.1.0" || len(m.Paths) != len(All()) {
		t.Errorf("%s, %d paths, %v", m.OpenAPI, len(m.Paths), err)
	}
}

func TestTraceAsCSV(t *testing.T) {
	csv := "t_s;angle_deg;torque_nm\r\n"
	for i := range 60 {
		m := max(0, float64(i)-20) * 0.25
		csv += strings.ReplaceAll(num(float64(i)/100)+";"+num(float64(i))+";"+num(m)+"\r\n", ".", ",")
	}
	in, _ := json.Marshal(map[string]any{"recipe": "9–10.5 Nm", "csv": csv})
	if got := run(t, "pull", string(in)); got["signature"] != "good" || got["verdict"] != "keep" {
		t.Errorf("%v", got)
	}
}

func num(v float64) string { b, _ := json.Marshal(v); return string(b) }
