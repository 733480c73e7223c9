package web

import (
	"encoding/csv"
	"io"
	"net/http"
	"strings"
	"testing"

	"lugtak/core/listing"
)

// The lists hold a line for each vehicle, each thing owed, each kind of chance that was said, the same by a page and by
// a token.
func TestListsAsFiles(t *testing.T) {
	s, addr, _, client := serve(t, Config{})
	script := newScript(t, s, addr, "reader", listing.ScopeRead)
	rows := func(name string) [][]string {
		t.Helper()
		_, page := get(t, client, "http://"+addr+"/"+name)
		res := script.call("GET", "/"+name, "", nil)
		req, err := http.NewRequest(http.MethodGet, "http://"+addr+"/api/v1/"+name, nil)
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Authorization", "Bearer "+script.secret)
		again, err := http.DefaultClient.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		defer again.Body.Close()
		text, err := io.ReadAll(again.Body)
		if err != nil || string(text) != page || res.StatusCode != http.StatusOK {
			t.Errorf("%s by a token: %d, %d bytes for %d, %v", name, res.StatusCode, len(text), len(page), err)
		}
		all, err := csv.NewReader(strings.NewReader(page)).ReadAll()
		if err != nil || len(all) == 0 {
			t.Fatalf("%s: %v", name, err)
		}
		return all[1:]
	}
	fleet, err := s.Shop.Vehicles(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	got := rows("fleet.csv")
	if len(got) != len(fleet) || len(got) == 0 || got[0][0] != fleet[0].Fleet {
		t.Errorf("%d vehicles, %d lines", len(fleet), len(got))
	}
	owed, err := s.Shop.FollowUps(t.Context(), "")
	if err != nil {
		t.Fatal(err)
	}
	if got := rows("due.csv"); len(got) != len(owed) {
		t.Errorf("%d owed, %d lines", len(owed), len(got))
	}
	rows("outcomes.csv")
}
