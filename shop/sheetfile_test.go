package shop

import (
	"bytes"
	"fmt"
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// A sheet leaves a shop signed and is offered in another one: with who read what where, once, and counting for nothing
// before somebody there reads it; a file that was changed is taken by nobody.
func TestASheetGoesToAnotherShop(t *testing.T) {
	from, _ := taken(t, "front-hub-unit@FL")
	for i, r := range []vehicle.Reading{
		{Joint: "hub.front.knuckle", Recipe: "60 Nm + 1/4 turn", By: "Aro"},
		{Joint: "hub.front.knuckle", Recipe: "60 Nm + 90°", By: "Cass", Hidden: true},
		{Joint: "hub.front.wheel", Recipe: "110 Nm", By: "Aro"},
		{Joint: "hub.front.wheel", Recipe: "90 Nm", By: "Cass", Hidden: true}, // they differ: it stays there
	} {
		r.Sheet, r.Source, r.Page, r.At = "own", "maker's book", "p. 31", noon
		if err := from.ReadFigure(t.Context(), record.EventID(fmt.Sprint("r-", i)), r); err != nil {
			t.Fatal(err)
		}
	}
	text, err := from.SheetOut(t.Context(), "out-1", "own", "Cass", false)
	if err != nil {
		t.Fatal(err)
	}
	f, err := ReadSheetFile(text)
	if err != nil || len(f.Figures) != 1 || f.Figures[0].Recipe != "60 Nm + 90°" || len(f.Figures[0].Readers) != 2 {
		t.Fatalf("%+v %v", f, err)
	}
	if _, err := from.SheetOut(t.Context(), "out-2", "ostrel-c22", "Cass", false); err == nil {
		t.Error("a sheet of the demo leaves the shop as its own")
	}
	for name, changed := range map[string][]byte{
		"another figure": bytes.Replace(text, []byte("60 Nm"), []byte("66 Nm"), 1),
		"another reader": bytes.Replace(text, []byte("Aro"), []byte("Bel"), 1),
		"another shop":   bytes.Replace(text, []byte(f.Key[:8]), []byte("AAAAAAAA"), 1),
		"no signature":   bytes.Replace(text, []byte(f.Signature), nil, 1),
		"something else": []byte(`{"format":"lugtak-job"}`),
		"more behind":    append(bytes.Clone(text), text...),
		"more in it":     bytes.Replace(text, []byte(`"shop"`), []byte(`"more": 1, "shop"`), 1),
	} {
		if _, err := ReadSheetFile(changed); fault.As(err) == nil || fault.As(err).Remedy == "" {
			t.Errorf("%s: %v", name, err)
		}
	}

	to := begun(t)
	src := Source{By: "Cass", From: "sheet.json", At: noon}
	for range 2 {
		if err := to.TakeSheet(t.Context(), "take-1", f, src, ""); err != nil {
			t.Fatal(err)
		}
	}
	sheets, err := to.Sheets(t.Context())
	if err != nil || len(sheets) != 1 || sheets[0].Name != "Yard van" || sheets[0].Built["driven"] != "front" {
		t.Fatalf("%+v %v", sheets, err)
	}
	p, err := to.Pattern(t.Context(), sheets[0].ID)
	if err != nil || !p.Spec["hub.front.knuckle"].Unread() {
		t.Errorf("it counts before anybody read it here: %+v %v", p.Spec, err)
	}
	offered, err := to.Elsewhere(t.Context(), sheets[0].ID)
	if err != nil || len(offered) != 1 || !strings.Contains(offered[0].Says(), "read by Aro and Cass") {
		t.Errorf("%+v %v", offered, err)
	}
	// Said anew it takes the place of what the same shop said before; the model is the one that is there.
	if err := to.TakeSheet(t.Context(), "take-2", f, src, ""); err != nil {
		t.Fatal(err)
	}
	if again, _ := to.Elsewhere(t.Context(), sheets[0].ID); len(again) != 1 {
		t.Errorf("offered twice: %+v", again)
	}
	if all, _ := to.Sheets(t.Context()); len(all) != 1 {
		t.Errorf("%d models of one name", len(all))
	}
}
