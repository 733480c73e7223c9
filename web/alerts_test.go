package web

import (
	"maps"
	"os"
	"regexp"
	"slices"
	"testing"
	"time"

	"lugtak/pages/office"
)

// The alerts that ship ask for metrics that the shop tells, by their names: one that was renamed would never be raised.
func TestAlertsAskForWhatIsTold(t *testing.T) {
	s, addr, _, client := serve(t, Config{
		Chain:   told{},
		Version: "9.9",
		Keeping: func() office.Keeping {
			return office.Keeping{Copied: time.Unix(1, 0), CertUntil: time.Unix(2, 0), Room: 1}
		},
	})
	get(t, client, "http://"+addr+"/")
	families, err := s.Registry().Gather()
	if err != nil {
		t.Fatal(err)
	}
	tells := map[string]bool{"lugtak_hook_failures": true} // there is no hook here
	for _, f := range families {
		tells[f.GetName()] = true
		tells[f.GetName()+"_count"] = true
	}
	rules, err := os.ReadFile("../packaging/prometheus/lugtak.rules.yaml")
	if err != nil {
		t.Fatal(err)
	}
	asked := map[string]bool{}
	for _, line := range regexp.MustCompile(`(?m)^ +expr: .*$`).FindAllString(string(rules), -1) {
		for _, name := range regexp.MustCompile(`lugtak_\w+`).FindAllString(line, -1) {
			asked[name] = true
		}
	}
	for _, name := range slices.Sorted(maps.Keys(asked)) {
		if !tells[name] {
			t.Errorf("%s is asked for and not told", name)
		}
	}
	if len(asked) < 8 {
		t.Errorf("%d metrics are asked for", len(asked))
	}
}
