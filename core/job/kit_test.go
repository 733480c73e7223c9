package job

import (
	"strings"
	"testing"
	"time"

	"lugtak/core/fault"
	"lugtak/core/vehicle"
)

// A kit's own figure is nothing two have read on the sheet: where a life hangs on it, another person enters it from
// the leaflet too, or two sign; and what was signed for one figure is not signed for the next.
func TestAKitsFigureIsReadByTwo(t *testing.T) {
	const joint = "hub.FL.knuckle"
	b := begin(t)
	b.own().House.Critical = []string{b.s.Plan.Joint(joint).System}
	twice := vehicle.Standing{
		Reading: vehicle.Reading{Recipe: "60 Nm + 90°", Source: "book", Note: "new bolts only"},
		Readers: []string{"Aro", "Cass"},
	}
	b.must(TakeFigure{Joint: joint, Standing: twice, Act: "act"})
	gate := func() (Gate, string) {
		var about []string
		var kit Gate
		for _, g := range b.s.Gates() {
			if kind, of := ParseGateKey(g.Key); of == joint && (kind == gateKit || kind == gateReading) {
				about = append(about, g.Title)
				kit = g
			}
		}
		return kit, strings.Join(about, "; ")
	}
	if g, says := gate(); !g.Met || !strings.Contains(says, "read by two") {
		t.Fatalf("%s", says)
	}
	if got := b.s.Plan.Joint(joint).Note; got != "new bolts only" {
		t.Errorf("beside the book's figure stands %q", got)
	}
	kit := FitKit{Joint: joint, Recipe: "20 Nm", Source: "leaflet"}
	b.must(kit)
	if got := b.s.Plan.Joint(joint).Note; got != "" {
		t.Errorf("beside the leaflet's figure stands %q, of the book", got)
	}
	g, says := gate()
	if g.Met || says != "The kit's figure of the "+b.s.Plan.Joint(joint).Title+", 20 Nm, was read by technician A alone" {
		t.Fatalf("%t %s", g.Met, says)
	}
	if got := b.s.known(b.s.Plan.Joint(joint)); got != FigureOfKit {
		t.Errorf("of a kit it is %s", got)
	}
	b.must(kit) // the same person once more is one reader still
	if g, _ := gate(); g.Met {
		t.Error("one person is two readers")
	}
	m := b.meta()
	m.Second = "technician B"
	if err := b.do(m, Deviate{Gate: g.Key, Reason: "the leaflet has one page"}); err != nil {
		t.Fatal(err)
	}
	if g, _ := gate(); !g.Closed() {
		t.Error("signed by two it stays open")
	}
	kit.Recipe = "25 Nm"
	b.must(kit)
	if g, _ := gate(); g.Closed() {
		t.Error("what was signed for 20 Nm closes 25 Nm")
	}
	b.by = "technician B"
	b.must(FitKit{Joint: joint, Recipe: "25 Nm", Source: "the same leaflet"})
	if g, says := gate(); !g.Met || !strings.HasSuffix(says, "25 Nm, was read by two") {
		t.Errorf("%t %s", g.Met, says)
	}
	if j := b.s.Plan.Joint(joint); len(j.Struck) != 3 || j.Source != "leaflet" {
		t.Errorf("a second reader struck something: %+v", j.Struck)
	}
}

// By the bolt is by the bolt that is in it, and a kit's figure is no bolt's.
func TestByWhichBolt(t *testing.T) {
	const joint = "hub.FL.knuckle"
	b := begin(t)
	j := b.own().Plan.Joint(joint)
	j.Recipe, j.Spec.Stages, j.Thread, j.Class = "", nil, "M12x1.5", "10.9"
	lack := LackFigure{Joint: joint, Thread: "M8", Class: "8.8", Looked: "the maker's book"}
	m := b.meta()
	m.Second = "technician B"
	for _, c := range []struct{ thread, class, field string }{
		{"M8", "10.9", "thread"}, {"M12x1.5", "8.8", "class"}, {"m12 x 1.5", "10.9", ""},
	} {
		lack.Thread, lack.Class = c.thread, c.class
		_, err := Decide(b.s, m, lack)
		if f := fault.As(err); (f == nil) != (c.field == "") || f != nil && f.Field != c.field {
			t.Errorf("%s %s: %v, want a word at %q", c.thread, c.class, err, c.field)
		}
	}
	if err := b.do(m, lack); err != nil || !b.s.Plan.Joint(joint).ByBolt {
		t.Fatal(err)
	}
	b.must(FitKit{Joint: joint, Recipe: "20 Nm", Source: "leaflet"})
	if b.s.Plan.Joint(joint).ByBolt || b.s.Fastener(joint, "A").ByBolt {
		t.Error("a kit's figure goes as the bolt's")
	}
}

// Who is alone in the shop reads a leaflet twice, half an hour apart, and the gate says so. What goes on by angle is
// not pulled before: a life hangs on it.
func TestOneAloneReadsALeafletTwice(t *testing.T) {
	const joint = "hub.FL.knuckle"
	for name, c := range map[string]struct {
		recipe, socket string
		after          time.Duration
		colleague      bool
		code           fault.Code
		says           string
		pulls          bool
	}{
		"at once": {
			"60 Nm + 90°", "", 10 * time.Minute, false, fault.TooSoon, "read by technician A alone", false,
		},
		"half an hour later":     {"60 Nm + 90°", "", 30 * time.Minute, false, "", "read twice by technician A", true},
		"somebody else could":    {"60 Nm + 90°", "", time.Hour, true, "", "read by technician A alone", false},
		"another socket":         {"60 Nm + 90°", "21 mm", time.Hour, false, "", "read by technician A alone", false},
		"another figure":         {"70 Nm + 90°", "", time.Hour, false, "", "read by technician A alone", false},
		"a torque at once":       {"60 Nm", "", 10 * time.Minute, false, fault.TooSoon, "read by technician A alone", true},
		"a torque an hour later": {"60 Nm", "", time.Hour, false, "", "read twice by technician A", true},
	} {
		b := begin(t)
		b.own().House.Critical = []string{b.s.Plan.Joint(joint).System}
		first := "60 Nm + 90°"
		if !strings.Contains(c.recipe, "+") {
			first = c.recipe
			b.s.Plan.Joint(joint).Renew = false // else new ones go in once
		}
		b.must(FitKit{Joint: joint, Recipe: first, Socket: "18 mm", Source: "leaflet", Alone: true})
		m := b.meta()
		m.At = b.s.Kits[joint].At.Add(c.after)
		err := b.do(m, FitKit{Joint: joint, Recipe: c.recipe, Socket: c.socket, Source: "leaflet", Alone: !c.colleague})
		if f := fault.As(err); (f == nil) != (c.code == "") || f != nil && f.Code != c.code {
			t.Errorf("%s: %v", name, err)
		}
		gates := kits(b.s)
		if len(gates) != 1 || !strings.HasSuffix(gates[0].Title, c.says) {
			t.Errorf("%s: %+v", name, gates)
		}
		if got := !b.s.AsksFigure(b.s.Plan.Joint(joint)); got != c.pulls {
			t.Errorf("%s: pulled %t", name, got)
		}
	}
}
