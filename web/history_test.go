package web

import (
	"strings"
	"testing"
)

// A vehicle's past and what a tool has tightened are told from the journals.
func TestHistoryAndRecall(t *testing.T) {
	addr, _, client := shop(t)
	base := "http://" + addr
	for path, want := range map[string][]string{
		"/vehicles/demo-p2": {"Hub unit on the solid front axle, right", "58310 km", "signed by Technician Bel", "Wheel nuts again"},
		"/crib/w2/recall":   {"Tightened with wrench 2", "P-2", "4 unit bolts", "8 wheel nuts", "it has left"},
	} {
		res, page := get(t, client, base+path)
		if res.StatusCode != 200 {
			t.Errorf("%s: %d", path, res.StatusCode)
		}
		for _, w := range want {
			if !strings.Contains(page, w) {
				t.Errorf("%s lacks %q", path, w)
			}
		}
	}
	if res, _ := get(t, client, base+"/vehicles/none"); res.StatusCode != 404 {
		t.Errorf("a vehicle that is none: %d", res.StatusCode)
	}
}
