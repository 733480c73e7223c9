package library

import (
	"fmt"
	"strings"
	"testing"

	"lugtak/demo/files"
)

// Every rule is about a type and a field there is: one that was renamed would bind
// nothing.
func TestEveryRuleBindsSomething(t *testing.T) {
	over, err := readRules()
	if err != nil {
		t.Fatal(err)
	}
	fields := map[string]map[string]any{}
	for _, kind := range Schemas() {
		s, err := Schema(kind)
		if err != nil {
			t.Fatal(err)
		}
		for name, def := range s["$defs"].(map[string]any) {
			fields[name], _ = def.(map[string]any)["properties"].(map[string]any)
		}
	}
	for file := range over.Files {
		if documents[file] == nil {
			t.Errorf("a rule for %s, which is no kind of file", file)
		}
	}
	for name, rule := range over.Types {
		properties, _ := rule["properties"].(map[string]any)
		for field := range properties {
			made, ok := fields[name][field].(map[string]any)
			if !ok || made["type"] == nil && made["$ref"] == nil {
				t.Errorf("a rule for %s.%s, which there is not", name, field)
			}
		}
		required, _ := rule["required"].([]any)
		for _, field := range required {
			if fields[name][field.(string)] == nil {
				t.Errorf("%s.%s is required, and there is no such field", name, field)
			}
		}
	}
}

// What the rules say is refused, and where.
func TestRulesRefuse(t *testing.T) {
	for name, c := range map[string]struct{ kind, text, field string }{
		"a field there is not":      {"shop", shopText + "lunch_min: 30\n", ""},
		"a field left out":          {"shop", "first_unit: Nm\n", ""},
		"a word that is not listed": {"shop", shopText + "critical: [radio]\n", "critical[0]"},
		"below the least":           {"shop", shopText + "walk_min: -1\n", "walk_min"},
		"another type":              {"shop", shopText + "salt: perhaps\n", "salt"},
		"an empty list":             {"signs", "[]\n", ""},
		"a key with a blank":        {"schools", schoolText("ride height"), "[0].key"},
		"one way is no choice":      {"schools", schoolText("ride-height"), "[0].ways"},
	} {
		_, faults := parse("test.yaml", []byte(c.text), c.kind)
		found := false
		for _, f := range faults {
			found = found || f.Field == c.field && f.Detail != "" && f.Remedy != ""
		}
		if !found {
			t.Errorf("%s: %+v", name, faults)
		}
	}
	if _, faults := parse("test.yaml", []byte(shopText), "shop"); len(faults) > 0 {
		t.Errorf("a good file: %+v", faults)
	}
	if _, err := Schema("recipe"); err == nil {
		t.Error("a schema of no kind of file")
	}
}

const shopText = `first_unit: Nm
second_person: [brake]
tool_change_min: 1
follow_up_km: 100
`

func schoolText(key string) string {
	return "- {key: " + key + ", question: where, default: a, because: so, ways: [{key: a, title: A}]}\n"
}

// What would make much work of little is refused before it is read.
func TestHostileFilesAreRefused(t *testing.T) {
	lib, err := Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	var keys strings.Builder
	for i := range 80_000 {
		fmt.Fprintf(&keys, "k%d: 1\n", i)
	}
	for name, c := range map[string]struct{ text, says string }{
		"keys":    {keys.String(), "more than 4000 keys"},
		"aliases": {"a: &a [1]\nb: [*a, *a]", "aliases"},
		"depth":   {strings.Repeat("[", 60) + strings.Repeat("]", 60), "nests deeper"},
		"size":    {strings.Repeat("# x\n", maxFile/4+1), "larger"},
	} {
		_, _, faults := lib.Take("operation", c.text)
		if len(faults) != 1 || !strings.Contains(faults[0].Detail, c.says) || faults[0].Remedy == "" {
			t.Errorf("%s: %v", name, faults)
		}
	}
}
