package reckon

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"lugtak/core/fault"
)

// Every calculator's form, filled with its example, reckons what the example
// does, and its result reads as lines with words.
func TestFormsReckonTheirExamples(t *testing.T) {
	for _, c := range All() {
		values := map[string]string{}
		for _, f := range c.Fields(lib) {
			values[f.Name] = f.Example
			if f.Kind == "numbers" || f.Kind == "words" {
				values[f.Name] = strings.ReplaceAll(f.Example, ",", " ")
			}
			if f.Label == "" || f.Required && f.Example == "" && f.Kind != "long" {
				t.Errorf("%s: field %+v", c.Name, f)
			}
		}
		raw, err := c.FromForm(func(n string) string { return values[n] })
		if err != nil {
			t.Errorf("%s: %v", c.Name, err)
			continue
		}
		byForm, err := Run(lib, c.Name, raw)
		byScript, err2 := Run(lib, c.Name, []byte(c.Example))
		if err != nil || err2 != nil || string(byForm) != string(byScript) {
			t.Errorf("%s: %v %v\n%s\n%s", c.Name, err, err2, byForm, byScript)
		}
		res, _ := Do(lib, c.Name, raw)
		for _, r := range Rows(res) {
			if r.Label == "" || r.Value == "" && len(r.Lines) == 0 {
				t.Errorf("%s: %+v", c.Name, r)
			}
		}
	}
}

func TestFromForm(t *testing.T) {
	c, _ := Find("wrench-setting")
	raw, err := c.FromForm(func(n string) string {
		return map[string]string{"target_nm": " 72,5 ", "wrench_mm": "450", "adapter_mm": "50"}[n]
	})
	if err != nil {
		t.Fatal(err)
	}
	var got map[string]float64
	if err := json.Unmarshal(raw, &got); err != nil || got["target_nm"] != 72.5 || len(got) != 3 {
		t.Errorf("%s, %v", raw, err)
	}
	for _, bad := range []string{"x", "1e", "0x10", "NaN", "1,2,3", "--1"} {
		_, err := c.FromForm(func(string) string { return bad })
		if f := fault.As(err); f == nil || f.Field != "target_nm" || f.Remedy == "" {
			t.Errorf("%q: %v", bad, err)
		}
	}
}

func TestRows(t *testing.T) {
	type part struct {
		Name string  `json:"name"`
		N    float64 `json:"order"`
	}
	got := fmt.Sprint(Rows(struct {
		SetNm float64  `json:"setting_nm"`
		Pct   *float64 `json:"rise_pct,omitempty"`
		Fits  bool     `json:"fits"`
		Parts []part   `json:"parts"`
	}{100, nil, true, []part{{"wheel", 1}}}))
	if want := "[{setting 100 N·m 73.8 ft·lb []} {fits yes  []} {parts   [wheel, order 1]}]"; got != want {
		t.Errorf("%s\nwant %s", got, want)
	}
}
