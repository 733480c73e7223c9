package supply

import (
	"context"
	"net/http"
	"net/http/httptest"
	"reflect"
	"strings"
	"testing"

	"lugtak/device"
	"lugtak/device/sim"
)

var items = []device.Item{
	{Key: "strut.FL", Title: "front strut", Pattern: "norrvik-e3", Count: 1},
	{Key: "pin", Title: "cotter pin", Count: 2},
}

// The contract over a real line: offers, an order, and a repeat that orders nothing more.
func TestContract(t *testing.T) {
	played := httptest.NewServer(&sim.Supplier{})
	defer played.Close()
	c := &Client{Called: "Quay Parts", Base: played.URL + "/"}
	offers, err := c.Offers(context.Background(), items)
	if err != nil || len(offers) != 2 || offers[0].Key != "strut.FL" || offers[0].Minutes <= 0 {
		t.Fatalf("%+v %v", offers, err)
	}
	first, err := c.Order(context.Background(), "o1", items)
	if err != nil {
		t.Fatal(err)
	}
	again, err := c.Order(context.Background(), "o1", items[:1])
	if err != nil && !strings.Contains(err.Error(), "cannot be") {
		t.Fatal(err)
	}
	if err == nil && !reflect.DeepEqual(first, again) {
		t.Errorf("a repeat orders anew: %+v, then %+v", first, again)
	}
}

// What a supplier answers is not believed: status, shape, size, figures, parts nobody asked for.
func TestBadAnswers(t *testing.T) {
	for name, answer := range map[string]http.HandlerFunc{
		"status":    func(w http.ResponseWriter, _ *http.Request) { w.WriteHeader(http.StatusTeapot) },
		"no JSON":   func(w http.ResponseWriter, _ *http.Request) { w.Write([]byte("<html>")) },
		"not asked": func(w http.ResponseWriter, _ *http.Request) { w.Write([]byte(`{"offers":[{"key":"x"}]}`)) },
		"twice": func(w http.ResponseWriter, _ *http.Request) {
			w.Write([]byte(`{"offers":[{"key":"pin"},{"key":"pin"}]}`))
		},
		"negative": func(w http.ResponseWriter, _ *http.Request) { w.Write([]byte(`{"offers":[{"key":"pin","price":-1}]}`)) },
		"for ever": func(w http.ResponseWriter, _ *http.Request) {
			w.Write([]byte(`{"offers":[{"key":"pin","minutes":1e9}]}`))
		},
		"endless": func(w http.ResponseWriter, _ *http.Request) {
			w.Write([]byte(`{"offers":[` + strings.Repeat(" ", 2<<20) + `]}`))
		},
		"all in one": func(w http.ResponseWriter, _ *http.Request) { w.Write([]byte(`{"offers":5}`)) },
	} {
		played := httptest.NewServer(answer)
		c := &Client{Called: "Quay Parts", Base: played.URL}
		if offers, err := c.Offers(context.Background(), items); err == nil {
			t.Errorf("%s: believed: %+v", name, offers)
		}
		played.Close()
	}
	gone := httptest.NewServer(nil)
	gone.Close()
	if _, err := (&Client{Called: "Quay Parts", Base: gone.URL}).Offers(context.Background(), items); err == nil {
		t.Error("one that is gone is believed")
	}
}
