package reckon

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"

	"lugtak/demo/files"
	"lugtak/library"

	"github.com/santhosh-tekuri/jsonschema/v6"
)

// lib is the library that ships.
var lib = func() *library.Library {
	l, err := library.Load("", files.FS)
	if err != nil {
		panic(err)
	}
	return l
}()

func run(t *testing.T, name, in string) map[string]any {
	t.Helper()
	out, err := Run(lib, name, []byte(in))
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
		// NIST SP 811
		{"convert", `{"value":1,"from":"lbf·ft","to":"N·m"}`, "value", 1.355817948, 1e-8},
		// statics
		{"wrench-setting", `{"target_nm":100,"wrench_mm":450,"adapter_mm":50,"adapter_angle_deg":0}`, "setting_nm", 90, 1e-9},
		{
			"wrench-setting", `{"target_nm":100,"wrench_mm":450,"adapter_mm":50,"adapter_angle_deg":90}`, "setting_nm", 100,
			1e-9,
		},
		// VDI 2230 table A1
		{"tightening", `{"thread":"M10","class":"8.8","friction":0.12,"utilisation":0.9}`, "torque_nm", 48, 0.02},
		{"tightening", `{"thread":"M12","class":"8.8","friction":0.12}`, "preload_kn", 43.0, 0.02},
		{"preload", `{"thread":"M10","class":"8.8","torque_nm":48,"friction":0.12}`, "preload_kn", 29.6, 0.02},
		{"castle-nut", `{"slots":6,"thread":"M20x1.5","hole_deg":25,"sets_bearing":true}`, "back_deg", 35, 1e-9}, // geometry
		{"castle-nut", `{"slots":6,"thread":"M20x1.5","hole_deg":25,"sets_bearing":true}`, "back_mm", 0.1458333, 1e-6},
		{"convert", `{"value":12,"from":"daN·m","to":"N·m"}`, "value", 120, 1e-12}, // prefixes of the SI
		{"convert", `{"value":12,"from":"cN·m","to":"N·mm"}`, "value", 120, 1e-12},
		{"convert", `{"value":0.12,"from":"kN·m","to":"N·m"}`, "value", 120, 1e-12},
		{"bearing", `{"balls":9,"ball_mm":7.94,"pitch_mm":39.04,"turns_per_s":10}`, "bpfi_hz", 54.15, 1e-3}, // textbook
		// ISO 21940-11
		{"balance", `{"mass_kg":20,"speed_kmh":120,"tyre":"205/55R16","grade":"G 40"}`, "at_rim_g", 36.23, 0.001},
		// 49 CFR 393.47(e)
		{"push-rod", `{"chamber":30,"stroke_mm":48,"pressure_kpa":655}`, "limit_mm", 50.8, 1e-9},
		{"end-play", `{"readings_mm":[0.05,0.07],"gauge_mm":0.01}`, "play_mm", 0.06, 1e-9},
		{"caster", `{"camber_in_deg":1,"camber_out_deg":-1,"steer_deg":20}`, "caster_deg", 2.924, 1e-3}, // geometry
		{"toe-angle", `{"rim_mm":400,"toe_deg":1}`, "toe_mm", 6.981, 1e-4},                              // geometry
		{"twist-off", `{"thread":"M8","class":"8.8"}`, "torque_nm", 33, 0.04},                           // ISO 898-7
		{"bar-force", `{"torque_nm":200,"bar_mm":500}`, "force_n", 400, 1e-9},                           // statics
		{"castle-nut", `{"slots":6,"thread":"M12x1.25","hole_deg":25}`, "advance_deg", 25, 1e-9},        // geometry
		{"castle-nut", `{"slots":6,"thread":"M12x1.25","hole_deg":60}`, "advance_mm", 0, 0},
		// common practice: the middle
		{"guard-band", `{"low_nm":52,"high_nm":55,"accuracy_pct":4}`, "setting_nm", 53.5, 1e-9},
		{"recipe", `{"text":"60 Nm + 90°"}`, "peak_nm", 60, 1e-9},
		{"toe", `{"turns":1,"pitch_mm":1.5,"arm_mm":150,"rim_mm":400}`, "toe_deg", 0.57294, 1e-4}, // atan(0.01)
		{"tone-ring", `{"old_teeth":48,"new_teeth":44}`, "speed_error_pct", -8.33333, 1e-5},
		{"tyre", `{"size":"205/55R16","speed_kmh":100}`, "diameter_mm", 631.9, 1e-9}, // ETRTO marking
		{"tyre", `{"size":"205/55R16","speed_kmh":100}`, "turns_per_s", 14.41, 1e-3},
		// 49 CFR 393.209(b)
		{"lash", `{"wheel_diameter_mm":508,"lash_mm":60,"power":false,"rule":"393.209"}`, "limit_mm", 64, 1e-9},
		// 49 CFR 393.47
		{"lining", `{"kind":"hydraulic","thickness_mm":3,"rule":"393.47"}`, "limit_mm", 1.6, 1e-9},
		{"rotor", `{"thickness_mm":[26,26.01],"new_mm":28,"discard_mm":25,"distance_km":60000}`, "life_km", 30000, 1e-9},
		{"bush", `{"arm_mm":300,"droop_mm":60,"limit_deg":8}`, "twist_deg", 11.53696, 1e-5},
		{"cardan", `{"angle_deg":5}`, "spread_pct", 0.7627, 1e-3},                                         // textbook
		{"release", `{"kind":"rusted thread","thread":"M12x1.25","class":"8.8"}`, "shears_nm", 142, 0.02}, // as twist-off
		{
			"schedule",
			`{"steps":[{"id":"a","minutes":3,"tool":"x"},{"id":"b","minutes":2,"tool":"y"}],"costs":{"tool_change_min":1,` +
				`"walk_min":0,"position_min":0}}`,
			"makespan_min", 6, 1e-9,
		},
	} {
		got, _ := run(t, c.name, c.in)[c.field].(float64)
		if math.Abs(got-c.want) > c.rel*math.Abs(c.want) {
			t.Errorf("%s %s: %s = %v, want %v", c.name, c.in, c.field, got, c.want)
		}
	}
}

// A play whose band reaches over an end of its window is read again; one that lies beyond is said to.
func TestEndPlayIsReadAgain(t *testing.T) {
	for at, want := range map[string]string{"0.08": "ok", "0.035": "again", "0.01": "low", "0.125": "again",
		"0.16": "high"} {
		out := run(t, "end-play", `{"readings_mm":[`+at+`],"gauge_mm":0.01,"low_mm":0.03,"high_mm":0.13}`)
		if out["verdict"] != want {
			t.Errorf("%s: %v, want %s", at, out, want)
		}
	}
}

// At the torque that uses a share of yield, tension and twist together, a bolt is at that share: one rule both ways.
func TestPreloadSaysWhatTighteningAsked(t *testing.T) {
	for _, share := range []float64{0.5, 0.9, 1} {
		asked := run(t, "tightening", fmt.Sprintf(`{"thread":"M10","class":"8.8","friction":0.12,"utilisation":%g}`, share))
		got := run(t, "preload", fmt.Sprintf(`{"thread":"M10","class":"8.8","friction":0.12,"torque_nm":%v}`,
			asked["torque_nm"]))
		if math.Abs(got["yield_pct"].(float64)-100*share) > 1e-4 {
			t.Errorf("%g: %v at %v N·m", share, got["yield_pct"], asked["torque_nm"])
		}
	}
}

// The minutes a ladder takes follow from the odds it prints, rung by rung, for every kind of seizure.
func TestExpectedMinutesFollowFromTheOdds(t *testing.T) {
	for _, kind := range releaseKinds(lib) {
		out := run(t, "release", fmt.Sprintf(`{"kind":%q}`, kind))
		sum, still := 0.0, 1.0
		for _, r := range out["rungs"].([]any) {
			rung := r.(map[string]any)
			num := func(key string) float64 { v, _ := rung[key].(float64); return v }
			if rung["refused_because"] != nil {
				continue
			}
			sum += still * (num("minutes") + num("gives_up_min") + num("risk_then")*out["break_min"].(float64))
			still *= 1 - num("odds_then") - num("risk_then")
		}
		sum += still * (out["break_min"].(float64) + out["stranded_min"].(float64))
		if want := out["expected_min"].(float64); math.Abs(sum-want) > 1e-6*want {
			t.Errorf("%s: %.4f by its odds, %.4f said", kind, sum, want)
		}
	}
}

// A nut that goes on to a slot, or sets a bearing, clamps nothing: nobody tells it what a clamped one has.
func TestNutsThatDoNotClampAreNotTold(t *testing.T) {
	for text, told := range map[string]bool{
		"50 Nm; next slot":             false,
		"200 Nm; back off full; 30 Nm": false,
		"60 Nm; back off 90°":          false,
		"50 Nm":                        true,
		"40 Nm; back off full; 50 Nm":  true,
	} {
		out := run(t, "recipe", fmt.Sprintf(`{"text":%q,"thread":"M24x2","class":"8.8"}`, text))
		if got := len(out["warnings"].([]any)) > 0; got != told {
			t.Errorf("%s: %v", text, out["warnings"])
		}
	}
}

// A class or rule that looks like a number may be sent as one.
func TestNamesAsNumbers(t *testing.T) {
	for _, c := range []struct{ name, asText, asNumber string }{
		{"preload", `{"thread":"M10","class":"8.8","torque_nm":48}`, `{"thread":"M10","class":8.8,"torque_nm":48}`},
		{
			"lash", `{"wheel_diameter_mm":457,"lash_mm":60,"power":true,"rule":"393.209"}`,
			`{"wheel_diameter_mm":457,"lash_mm":60,"power":true,"rule":393.209}`,
		},
	} {
		a, err := Run(lib, c.name, []byte(c.asText))
		b, err2 := Run(lib, c.name, []byte(c.asNumber))
		if err != nil || err2 != nil || string(a) != string(b) {
			t.Errorf("%s: %s %v, %s %v", c.name, a, err, b, err2)
		}
	}
	_, err := Run(lib, "preload", []byte(`{"thread":"M10","class":[8.8],"torque_nm":48}`))
	var p *Problem
	if !errors.As(err, &p) || p.Status != 422 || p.Field != "class" {
		t.Errorf("%+v", p)
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
		_, err := Run(lib, c.name, []byte(c.in))
		var p *Problem
		if !errors.As(err, &p) || p.Status != c.status || p.Code != c.code || p.Field != c.field || p.Remedy == "" ||
			p.Title == "" ||
			p.Type == "" {
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
	for i := range 90 { // held at the end, so that the top is seen
		at := min(float64(i), 59)
		m := max(0, at-20) * 0.25
		csv += strings.ReplaceAll(num(float64(i)/100)+";"+num(at)+";"+num(m)+"\r\n", ".", ",")
	}
	in, _ := json.Marshal(map[string]any{"recipe": "9–10.5 Nm", "csv": csv})
	if got := run(t, "pull", string(in)); got["signature"] != "good" || got["verdict"] != "keep" {
		t.Errorf("%v", got)
	}
}

func num(v float64) string { b, _ := json.Marshal(v); return string(b) }
