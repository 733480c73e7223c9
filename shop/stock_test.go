package shop

import (
	"testing"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/wrench"
	"lugtak/library"
)

// What a shop says it has takes the place of what it said before, is there after a start, and is refused whole where
// a row of it is wrong.
func TestStockIsKept(t *testing.T) {
	s := begun(t)
	lib, err := library.Load("")
	if err != nil {
		t.Fatal(err)
	}
	s.know(lib)
	n := 0
	keep := func(b record.StockKept, role job.Role) error {
		n++
		return s.KeepStock(t.Context(), record.EventID("stock-"+string(rune('a'+n))), "Cass", role, b)
	}
	sockets := func(all ...string) record.StockKept { return record.StockKept{What: record.StockSockets, Sockets: all} }
	adapters := func(all ...record.Adapter) record.StockKept {
		return record.StockKept{What: record.StockAdapters, Adapters: all}
	}
	prices := func(all ...record.Price) record.StockKept {
		return record.StockKept{What: record.StockPrices, Prices: all}
	}
	foot := record.Adapter{Name: "Crow foot", LengthMM: 50}
	for name, c := range map[string]struct {
		b    record.StockKept
		role job.Role
		code fault.Code
	}{
		"by a technician": {sockets("18 mm"), job.Technician, fault.Role},
		"no size":         {sockets("18 mm", "18"), job.Foreman, fault.BadChoice},
		"no square":       {sockets("18 mm, 5/8 square"), job.Foreman, fault.BadChoice},
		"no name":         {adapters(record.Adapter{LengthMM: 50}), job.Foreman, fault.Missing},
		"as long as that": {adapters(record.Adapter{Name: "x", LengthMM: 4000}), job.Foreman, fault.OutOfRange},
		"twice":           {adapters(foot, record.Adapter{Name: "crow FOOT", LengthMM: 60}), job.Foreman, fault.Exists},
		"no such part":    {prices(record.Price{Part: "moon", Price: 1}), job.Foreman, fault.UnknownPart},
		"below nothing":   {prices(record.Price{Part: "hub-unit", Price: -1}), job.Foreman, fault.OutOfRange},
		"no such list":    {record.StockKept{What: "fuel"}, job.Foreman, fault.BadChoice},
	} {
		if got := codeOf(t, keep(c.b, c.role)); got != c.code {
			t.Errorf("%s: %q, want %q", name, got, c.code)
		}
	}
	if l := s.Library(); len(l.Sockets)+len(l.Adapters)+len(l.Shop.Prices) > 0 {
		t.Errorf("a list that was refused is there: %v %v", l.Sockets, l.Adapters)
	}
	for _, b := range []record.StockKept{
		sockets("10 mm"),
		sockets("14 mm twelve-point,  1/2 square", " 18 mm", "18 mm"),
		adapters(foot),
		prices(record.Price{Part: "hub-unit", Price: 148.5}),
	} {
		if err := keep(b, job.Foreman); err != nil {
			t.Fatal(err)
		}
	}
	again, err := New(t.Context(), s.Store, lib, Options{})
	if err != nil {
		t.Fatal(err)
	}
	for _, x := range []*Shop{s, again} {
		l := x.Library()
		a, ok := l.Adapter("a-crowfoot")
		if len(l.Sockets) != 2 || l.Sockets[0] != "14 mm twelve-point, 1/2 square" || l.Sockets[1] != "18 mm" ||
			!ok || a.LengthMM != 50 || l.Shop.Prices["hub-unit"] != 148.5 || len(lib.Sockets) > 0 {
			t.Errorf("%v %v %v", l.Sockets, l.Adapters, l.Shop.Prices)
		}
	}
}

// Tools of a list hang all or none, once, and none is used before it is calibrated.
func TestToolsOfAListAreHung(t *testing.T) {
	s := begun(t)
	lib, err := library.Load("")
	if err != nil {
		t.Fatal(err)
	}
	s.know(lib)
	click := wrench.Tool{Kind: wrench.KindClick, MaxNm: 200, StepNm: 1, Drive: "1/2", LengthMM: 420}
	bad := click
	bad.StepNm = 150
	if err := s.HangTools(t.Context(), "hang-1", []wrench.Tool{click, bad}, "Cass"); codeOf(t, err) != fault.OutOfRange {
		t.Errorf("a step of 150 N·m: %v", err)
	}
	if err := s.HangTools(t.Context(), "hang-2", []wrench.Tool{click, click}, "Cass"); codeOf(t, err) != fault.Exists {
		t.Errorf("two of one name: %v", err)
	}
	other := click
	other.Serial = "A 7"
	for range 2 {
		if err := s.HangTools(t.Context(), "hang-3", []wrench.Tool{click, other}, "Cass"); err != nil {
			t.Fatal(err)
		}
	}
	tools, err := s.Tools(t.Context())
	if err != nil || len(tools) != 2 || tools[0].ID == tools[1].ID || tools[0].Unfit(s.Now()) == "" {
		t.Errorf("%+v %v", tools, err)
	}
}
