package intake

import (
	"context"
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
	"lugtak/demo/files"
	"lugtak/library"
	"lugtak/shop"
	"lugtak/store"
)

func newShop(tb testing.TB) Shop {
	tb.Helper()
	lib, err := library.Load("", files.FS)
	if err != nil {
		tb.Fatal(err)
	}
	s, err := store.Open(context.Background(), filepath.Join(tb.TempDir(), "shop.db"))
	if err != nil {
		tb.Fatal(err)
	}
	tb.Cleanup(func() { s.Close() })
	if _, err := s.AddVehicle(context.Background(), vehicle.Vehicle{Fleet: "Q-1", Pattern: "ostrel-c22"}); err != nil {
		tb.Fatal(err)
	}
	if _, err := s.AddPerson(context.Background(), "Aro", job.Technician, "2401", "test"); err != nil {
		tb.Fatal(err)
	}
	house, err := shop.New(context.Background(), s, lib, shop.Options{Demo: true})
	if err != nil {
		tb.Fatal(err)
	}
	return Shop{Shop: house, By: "Cass"}
}

// However much is wrong, a hundred of it are told, with how much there is.
func TestFaultsAreTold(t *testing.T) {
	x := newShop(t)
	for name, c := range map[string]struct {
		text   string
		faulty int
	}{
		"rows":    {"fleet,pattern\n" + strings.Repeat("x\n", 400), 400},
		"columns": {strings.Repeat("a,", 200_000) + "b\n", 1},
	} {
		p, err := x.Read(t.Context(), Vehicles, []byte(c.text))
		if err != nil || p.Faulty != c.faulty || len(p.Faults) != min(c.faulty, mostFaults) {
			t.Errorf("%s: %d of %d faults, %v", name, len(p.Faults), p.Faulty, err)
		}
	}
}

// What is wrong with a list is told with its line and its field, all of it at once.
func TestFaultsByLine(t *testing.T) {
	x := newShop(t)
	for name, c := range map[string]struct {
		kind Kind
		text string
		want string // line field, line field
	}{
		"sound":              {Vehicles, "fleet,pattern\nR-1,ostrel-c22\n", ""},
		"semicolons and BOM": {Vehicles, "\ufeffFleet;Pattern;VIN\nR-1;ostrel-c22;\n", ""},
		"by its name":        {Vehicles, "fleet,pattern\nR-1, ostrel c22 VAN\n", ""},
		"tabs":               {Vehicles, "pattern\tfleet\nostrel-c22\tR-1\n", ""},
		"quoted":             {Vehicles, "fleet,pattern,bay\n\"R-1\",ostrel-c22,\"by the door\"\n", ""},
		"nothing":            {Vehicles, "", "1 file"},
		"no rows":            {Vehicles, "fleet,pattern\n", "1 file"},
		"a column missing":   {Vehicles, "fleet\nR-1\n", "1 pattern"},
		"a column unknown":   {Vehicles, "fleet,pattern,colour\nR-1,ostrel-c22,red\n", "1 colour"},
		"a column twice":     {Vehicles, "fleet,pattern,fleet\nR-1,ostrel-c22,R-2\n", "1 fleet"},
		"a short line":       {Vehicles, "fleet,pattern\nR-1,ostrel-c22\nR-2\n", "3 "},
		"a long line and others": {Vehicles, "fleet,pattern\nR-1,ostrel-c22,too,much\nR-2,none\nR-3\nR-4,ostrel-c22,,\n",
			"2 , 3 pattern, 4 "},
		"an open quote": {Vehicles, "fleet,pattern\n\"R-1,ostrel-c22\n", "2 "},
		"each of its own": {Vehicles,
			"fleet,pattern,vin\nq-1,ostrel-c22,\nR-2,none,\nR-3,ostrel-c22,123\n,ostrel-c22,\nR-5,ostrel-c22,\nr-5,ostrel-c22," +
				"\n",
			"2 fleet, 3 pattern, 4 vin, 5 fleet, 7 fleet"},
		"not UTF-8": {Vehicles, "fleet,pattern\n\xff,x\n", "0 file"},
		"people":    {People, "name,role,pin\nBel,technician,3712\nDun,Reader,80412\n", ""},
		"people at fault": {
			People, "name,role,pin\naro,technician,3712\nDun,owner,80412\nEla,reader,1234\nFen,reader,7293\nfen,reader,7294\n",
			"2 name, 3 role, 4 pin, 6 name",
		},
		"a kind that is none": {"parts", "x", "0 kind"},
		"no job file":         {Job, "{}", "0 file"},
	} {
		p, err := x.Read(t.Context(), c.kind, []byte(c.text))
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		var got []string
		for _, f := range p.Faults {
			got = append(got, fmt.Sprint(f.Line, " ", f.Field))
			if f.Detail == "" || f.Remedy == "" {
				t.Errorf("%s: %+v says too little", name, f)
			}
		}
		if is := strings.Join(got, ", "); is != c.want {
			t.Errorf("%s: %q, want %q", name, is, c.want)
		}
	}
}

// The examples a page shows are lists that are taken as they stand.
func TestExamplesAreTaken(t *testing.T) {
	x := newShop(t)
	for _, k := range []Kind{Vehicles, People, Figures, Tools, Sockets, Adapters, Prices} {
		p, err := x.Read(t.Context(), k, []byte(Example(k, "ostrel-c22")))
		if err != nil || len(p.Faults) > 0 || len(p.Rows) == 0 {
			t.Errorf("%s: %v, %+v", k, err, p.Faults)
		}
	}
	if Example(Job, "x") != "" {
		t.Error("a job file has an example line")
	}
}

// A list is taken whole or not at all, and once.
func TestAllOrNothing(t *testing.T) {
	x := newShop(t)
	src := store.Source{By: "Cass", From: "list.csv", At: time.Date(2026, 11, 26, 9, 0, 0, 0, time.UTC)}
	p, err := x.Read(t.Context(), Vehicles, []byte("fleet,pattern\nR-1,ostrel-c22\nR-2,ostrel-c22\n"))
	if err != nil || !p.OK() {
		t.Fatal(p, err)
	}
	count := func() int {
		all, err := x.Store.Vehicles(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		return len(all)
	}
	// Somebody adds one of them between the look and the taking.
	if _, err := x.Store.AddVehicle(t.Context(), vehicle.Vehicle{Fleet: "R-2", Pattern: "ostrel-c22"}); err != nil {
		t.Fatal(err)
	}
	if err := x.Store.TakeVehicles(t.Context(), "list", p.Vehicles, src, p.Digest); err == nil || count() != 2 {
		t.Fatalf("%v, %d vehicles", err, count())
	}
	if err := x.Store.TakeVehicles(t.Context(), "list", p.Vehicles[:1], src, p.Digest); err != nil || count() != 3 {
		t.Fatalf("%v, %d vehicles", err, count())
	}
	if err := x.Store.TakeVehicles(t.Context(), "list", p.Vehicles[:1], src, p.Digest); err != nil || count() != 3 {
		t.Errorf("sent again: %v, %d vehicles", err, count())
	}
	people, err := x.Read(t.Context(), People, []byte("name,role,pin\nBel,technician,3712\nDun,reader,80412\n"))
	if err != nil || !people.OK() || strings.Contains(fmt.Sprint(people.Rows), "3712") {
		t.Fatal(people.Faults, err)
	}
	if err := x.Store.TakePeople(t.Context(), "people", people.People, src, people.Digest); err != nil {
		t.Fatal(err)
	}
	if who, err := x.Store.Prove(t.Context(), "Dun", "80412", store.Asker{Address: "here"}, src.At); err != nil ||
		who.Role != job.Reader {
		t.Errorf("%+v %v", who, err)
	}
}

// Figures are held against the sheet as the rows before leave it, and those a life hangs on
// want a second reader.
func TestFigures(t *testing.T) {
	x := newShop(t)
	p, err := x.Pattern(t.Context(), "ostrel-c22")
	if err != nil {
		t.Fatal(err)
	}
	var plain, life string
	for key, spec := range p.Spec {
		if len(spec.Variants) > 0 {
			continue
		}
		if x.Library().ByTwo(key) {
			life = key
		} else {
			plain = key
		}
	}
	header := "pattern,joint,recipe,source,why\n"
	row := func(joint, recipe string) string { return "ostrel-c22," + joint + "," + recipe + ",sheet 9,misprint\n" }
	for name, c := range map[string]struct {
		text   string
		faults int
		byTwo  bool
	}{
		"one":             {row(plain, "47 Nm"), 0, false},
		"a life":          {row(life, "47 Nm"), 0, true},
		"a life, first":   {row(life, "47 Nm") + row(plain, "47 Nm"), 0, true},
		"a life, last":    {row(plain, "47 Nm") + row(life, "47 Nm"), 0, true},
		"twice the same":  {row(plain, "47 Nm") + row(plain, "47 Nm"), 1, false},
		"no such joint":   {row("nowhere", "47 Nm"), 1, false},
		"cannot be read":  {row(plain, "1.200 Nm"), 1, false},
		"no such pattern": {strings.Replace(row(plain, "47 Nm"), "ostrel-c22", "none", 1), 1, false},
	} {
		got, err := x.Read(t.Context(), Figures, []byte(header+c.text))
		if err != nil || len(got.Faults) != c.faults || got.ByTwo != c.byTwo {
			t.Errorf("%s: %+v, by two %v, %v", name, got.Faults, got.ByTwo, err)
		}
	}
}

// Nothing anybody sends breaks the reader, and a list without a fault is read whole.
func FuzzRead(f *testing.F) {
	x := newShop(f)
	for _, s := range []string{"fleet,pattern\nR-1,ostrel-c22\n", "name;role;pin\nA;reader;80412",
		"{\"format\":\"lugtak-job\"}", "a\tb\n\"", "\ufeff,,,\n,,"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		for _, k := range []Kind{Vehicles, People, Figures, Job} {
			p, err := x.Read(t.Context(), k, []byte(text))
			if err != nil {
				t.Fatal(err)
			}
			if p.OK() && k != Job && len(p.Rows) == 0 {
				t.Errorf("%s without rows and without a fault", k)
			}
		}
	})
}

// What a shop has comes as lists: figures in either decimal sign, a range upside down refused with its line, and
// nothing half taken.
func TestStockLists(t *testing.T) {
	const head = "name,kind,max_nm,step_nm,drive,length_mm\n"
	x := newShop(t)
	for name, c := range map[string]struct {
		kind Kind
		text string
		want string // line field, line field
	}{
		"tools": {Tools, "name,kind,max_nm,step_nm,drive,length_mm,serial\nLong,click,340,2,1/2,560,A 7\n" +
			",torque-angle,250,\"0,1\",1/2,600,\n", ""},
		"upside down":   {Tools, head + "a,click,340,2,1/2,560\nb,click,2,340,1/2,560\n", "3 step_nm"},
		"no figure":     {Tools, head + "a,click,much,2,1/2,560\n", "2 max_nm"},
		"one name":      {Tools, head + "a,click,340,2,1/2,560\nA,click,340,2,1/2,560\n", "3 name"},
		"sockets":       {Sockets, "socket,drive,kind\n18 mm,1/2,\n14 mm,1/2,twelve-point\n3/4 in,,\n", ""},
		"no socket":     {Sockets, "socket\n18 mm\n18.4 mm\n", "3 socket"},
		"adapters":      {Adapters, "name,length_mm,angle_deg\nfoot,50,\nsquare foot,50,90\n", ""},
		"no length":     {Adapters, "name,length_mm\nfoot,\n", "2 length_mm"},
		"prices":        {Prices, "part,price\nhub-unit,148.50\n", ""},
		"no such part":  {Prices, "part,price\nhub-unit,1\nmoon,2\n", "3 part"},
		"no such price": {Prices, "part;price\nhub-unit;free\n", "2 price"},
	} {
		p, err := x.Read(t.Context(), c.kind, []byte(c.text))
		if err != nil {
			t.Fatal(err)
		}
		var got []string
		for _, f := range p.Faults {
			got = append(got, fmt.Sprint(f.Line, " ", f.Field))
		}
		if s := strings.Join(got, ", "); s != c.want {
			t.Errorf("%s: %q, want %q", name, s, c.want)
		}
		if len(p.Faults) > 0 {
			continue
		}
		src := shop.Source{By: "Cass", From: "list.csv", At: time.Now()}
		for range 2 {
			if _, err := x.Take(t.Context(), record.EventID("list:"+p.Digest), p, []byte(c.text), src); err != nil {
				t.Errorf("%s: %v", name, err)
			}
		}
	}
	tools, err := x.Tools(t.Context())
	hung := slices.ContainsFunc(tools, func(w wrench.Tool) bool { return w.Name == "Long" && w.Serial == "A 7" })
	l := x.Library()
	if err != nil || !hung || len(l.Sockets) != 3 || len(l.Adapters) != 2 || l.Shop.Prices["hub-unit"] != 148.5 {
		t.Errorf("%v %v %v", tools, x.Library().Sockets, x.Library().Adapters)
	}
}

// A sheet file of another shop is looked at before it is taken: whose it is, whether its key is known here, what of it
// is offered; one that was changed is refused with a word, and nothing of it is taken.
func TestSheetFile(t *testing.T) {
	from, x := newShop(t), newShop(t)
	at := time.Now()
	model := vehicle.Sheet{ID: "own", Name: "Yard van", Outline: "van", By: "Cass", At: at}
	if err := from.BeginSheet(t.Context(), "begun", model); err != nil {
		t.Fatal(err)
	}
	read := vehicle.Reading{
		Sheet: "own", Joint: "hub.front.knuckle", Recipe: "60 Nm + 90°", Source: "maker's book", By: "Aro", At: at,
	}
	if err := from.ReadFigure(t.Context(), "read", read); err != nil {
		t.Fatal(err)
	}
	text, err := from.SheetOut(t.Context(), "out", "own", "Cass", false)
	if err != nil {
		t.Fatal(err)
	}
	p, err := x.Read(t.Context(), Sheet, text)
	if err != nil || !p.OK() || !p.Sheet.Begins || p.Sheet.Trusted != "" || len(p.Sheet.Figures) != 1 ||
		!strings.Contains(p.Sheet.Figures[0], "60 Nm + 90°, maker's book, read by Aro") {
		t.Fatalf("%+v %+v %v", p.Sheet, p.Faults, err)
	}
	if _, err := x.Take(t.Context(), "take", p, text, shop.Source{By: "Cass", From: "sheet.json", At: at}); err != nil {
		t.Fatal(err)
	}
	if p, err = x.Read(t.Context(), Sheet, text); err != nil || p.Sheet.Begins {
		t.Errorf("it begins once more: %+v %v", p.Sheet, err)
	}
	for name, bad := range map[string]string{
		"changed": strings.Replace(string(text), "60 Nm", "66 Nm", 1), "no file": "fleet,pattern\n", "nothing": "",
	} {
		p, err := x.Read(t.Context(), Sheet, []byte(bad))
		if err != nil || p.OK() || p.Faults[0].Remedy == "" {
			t.Errorf("%s: %+v %v", name, p.Faults, err)
		}
	}
}
