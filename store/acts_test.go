package store

import (
	"encoding/json"
	"errors"
	"os"
	"reflect"
	"strings"
	"testing"
	"time"

	"lugtak/core/record"
)

// bodies are all that a shop may do outside a job. A new one is a line here, and one in testdata/acts.json as it was
// first written: lines are added there and never changed.
var bodies = []record.ShopBody{
	record.ToolHung{}, record.ToolLogged{}, record.FigureCorrected{}, record.ShopSet{}, record.StockKept{},
	record.SheetBegun{}, record.FigureRead{}, record.JointSeen{}, record.SheetSent{}, record.SheetTaken{},
	record.AccessKept{}, record.FileShelved{}, record.PersonAdded{}, record.PINSet{}, record.PersonActive{},
	record.JobImported{}, record.KeyMade{}, record.KeyTrusted{}, record.ToolToken{}, record.PersonRole{},
	record.SessionRevoked{}, record.ScriptLetIn{}, record.ScriptKeptOut{}, record.HookMade{}, record.HookEnded{},
	record.Exported{}, record.FleetImported{}, record.VehicleBuilt{}, record.WorkedElsewhere{}, record.Mended{},
}

// Acts as they were written once are read whole for ever: no field is forgotten, and none means anything else.
func TestActsOfOldReleases(t *testing.T) {
	text, err := os.ReadFile("testdata/acts.json")
	if err != nil {
		t.Fatal(err)
	}
	var kept []struct {
		Kind string          `json:"kind"`
		Body json.RawMessage `json:"body"`
	}
	if err := json.Unmarshal(text, &kept); err != nil {
		t.Fatal(err)
	}
	types := map[string]reflect.Type{}
	for _, b := range bodies {
		types[b.ActKind()] = reflect.TypeOf(b)
	}
	for kind := range actReaders {
		if types[kind] == nil {
			t.Errorf("nobody wrote down how %s looks", kind)
		}
	}
	sh, seen := newShop(), map[string]bool{}
	at := time.Date(2026, 11, 30, 9, 0, 0, 0, time.UTC).Format(time.RFC3339Nano)
	for i, k := range kept {
		seen[k.Kind] = true
		if types[k.Kind] == nil {
			t.Errorf("acts of kind %s are forgotten", k.Kind)
			continue
		}
		body := reflect.New(types[k.Kind])
		r := json.NewDecoder(strings.NewReader(string(k.Body)))
		r.DisallowUnknownFields()
		if err := r.Decode(body.Interface()); err != nil {
			t.Errorf("%s: %v", k.Kind, err)
			continue
		}
		var was, is any
		again, err := json.Marshal(body.Elem().Interface())
		err = errors.Join(err, json.Unmarshal(k.Body, &was), json.Unmarshal(again, &is))
		if err != nil || !reflect.DeepEqual(was, is) {
			t.Errorf("%s: written %s, read back %s (%v)", k.Kind, k.Body, again, err)
		}
		if actReaders[k.Kind] == nil {
			continue // it is of another journal
		}
		a := record.Act{N: i + 1, ID: "a", At: at, By: "Cass", Kind: k.Kind, Body: k.Body}
		if err := sh.take(a); err != nil {
			t.Error(err)
		}
	}
	for kind := range types {
		if !seen[kind] {
			t.Errorf("testdata/acts.json has no line of kind %s", kind)
		}
	}
}
