package fleet

import (
	"fmt"
	"strings"
	"testing"
)

// Whose vehicles share the describing part of the VIN comes first, then whose name holds what is typed; six at most.
func TestLikely(t *testing.T) {
	models := []Model{{ID: "a", Name: "Yard van"}, {ID: "b", Name: "Post van"}, {ID: "c", Name: "Saloon"}}
	for _, c := range []struct {
		same string
		name string
		want string
	}{
		{"", "", "a b c"},
		{"", "POST", "b a c"},
		{"", "lorry", "a b c"},
		{"c", "van", "c! a b"},
	} {
		var got []string
		for _, m := range Likely(models, map[string]bool{c.same: true}, c.name) {
			id := m.ID
			if m.Because != "" {
				id += "!"
			}
			got = append(got, id)
		}
		if says := strings.Join(got, " "); says != c.want {
			t.Errorf("%q typed, %q of that VIN: %s, want %s", c.name, c.same, says, c.want)
		}
	}
	var many []Model
	for i := range modelsShown + 3 {
		many = append(many, Model{ID: fmt.Sprint(i), Name: fmt.Sprint("model ", i)})
	}
	got := Likely(many, nil, "model 8")
	if len(got) != modelsShown || got[0].ID != "8" || many[0].ID != "0" {
		t.Errorf("%+v", got)
	}
}
