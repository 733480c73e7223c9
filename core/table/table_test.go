package table

import (
	"strings"
	"testing"

	"lugtak/core/fault"
)

var abc = [3]Column{
	{"a", map[string]float64{"a": 1, "ams": 0.001}},
	{"b", map[string]float64{"b": 1}},
	{"c", map[string]float64{"c": 1}},
}

func TestRead(t *testing.T) {
	for name, text := range map[string]string{
		"plain":         "1,2,3\n4,5,6\n",
		"no end":        "1,2,3\n4,5,6",
		"another order": "c,a,B\n3,1,2\n6,4,5\n",
		"another unit":  "b,c,a_ms\n2,3,1000\n5,6,4000\n",
		"header":        "a,b,c\n1,2,3\n4,5,6\n",
		"semicolons":    "1;2;3\r\n4;5;6\r\n",
		"decimals":      "1,0;2,0;3,0\n4,0;5,0;6,0\n",
		"blank":         "\ufeff\n1,2,3\n\n4,5,6\n\n",
		"quoted":        "\"1\", 2 ,3e0\n4,5,6\n",
	} {
		rows, err := Read(text, abc, 10)
		if err != nil || len(rows) != 2 || rows[0].V != [3]float64{1, 2, 3} || rows[1].V != [3]float64{4, 5, 6} {
			t.Errorf("%s: %v, %v", name, rows, err)
		}
	}
	if rows, _ := Read("\n\n1,2,3\n", abc, 10); rows[0].Line != 3 {
		t.Errorf("line %d", rows[0].Line)
	}
	if rows, err := Read("", abc, 10); len(rows) != 0 || err != nil {
		t.Error("nothing is not nothing")
	}
}

func TestReadRefuses(t *testing.T) {
	for _, c := range []struct{ text, says string }{
		{"1,2\n", "Line 1: 2 columns"}, {"1,2,3\n1,2,3,4\n", "Line 2: 4 columns"}, {"a,b\n", "header has 2"},
		{"a,b,x\n", "“x” is no column known here"}, {"a,b,b\n", "“b” stands twice"}, {"1,2,3\n1,x,3\n", "Line 2: column 2"},
		{"1,2,Inf\n", "column 3"}, {"1,2,3\n1;2;3\n", "Line 2: 1 columns"},
		{strings.Repeat("1,2,3\n", 11), "Line 11: more rows"}, {strings.Repeat("9", 5000), "too long"},
	} {
		_, err := Read(c.text, abc, 10)
		if f := fault.As(err); f == nil || f.Field != "csv" || f.Code != "bad_csv" || !strings.Contains(f.Detail, c.says) ||
			f.Remedy == "" {
			t.Errorf("%.20q: %v, want %q", c.text, err, c.says)
		}
	}
}
