package operation

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/vehicle"
)

// woven is a small library: a lift both operations need, a cover one opens inside it,
// a seizing bolt, a school with two ways and a step only one of them has.
func woven() Order {
	bolt := func(key string) Joint {
		return Joint{Key: key, Spec: "hub.front." + key, Title: key, One: key, At: make([]Point, 1)}
	}
	seized := bolt("bolt")
	seized.Seizes = true
	lift := Operation{ID: "lift", Title: "lift", Version: 1, Axle: Under, Steps: []Step{
		{ID: "up", Verb: Move, Title: "up", Minutes: 1, Position: Ground, MovesTo: Raised},
		{ID: "down", Verb: Move, Title: "down", Minutes: 1, Position: Raised, MovesTo: Ground, Needs: []StepID{"up"}, Closes: "up"},
	}}
	cover := Operation{ID: "cover", Title: "cover", Version: 1, Axle: "any", Uses: []string{"lift"}, Joints: []Joint{bolt("cap")}, Steps: []Step{
		{ID: "off", Verb: Remove, Joint: "cap", Title: "cover off, {axle} {side}", Minutes: 1, Position: Raised, Needs: []StepID{"lift.up"}},
		{ID: "on", Verb: Start, Joint: "cap", Title: "cover on", Minutes: 1, Position: Raised, Needs: []StepID{"off"}, Closes: "off"},
		{ID: "tight", Verb: Tighten, Joint: "cap", Title: "cover tight", Minutes: 1, Position: Raised, Needs: []StepID{"on"}},
	}}
	soak := Operation{ID: "soak", Title: "soak", Version: 1, Axle: "any", Steps: []Step{
		{ID: "brush", Verb: Act, Title: "brush {joints}", Minutes: 1, Needs: []StepID{"cover.off?"}}, {ID: "wait", Verb: Soak, Title: "soak", Minutes: 9, Needs: []StepID{"brush"}}}}
	align := Operation{ID: "align", Title: "alignment", Version: 1, Axle: Under, Steps: []Step{
		{ID: "ask", Verb: Act, Title: "{causes}", Minutes: 1, Needs: []StepID{"lift.down"}, Proves: "alignment", Answers: []Answer{{Key: "no"}, {Key: "yes", Opens: "alignment"}}}}}
	hub := Operation{ID: "hub", Title: "Hub", Family: "hubs", Version: 1, Axle: "front", Uses: []string{"cover"}, Joints: []Joint{seized}, Pairs: "Both, always.",
		Sets: []Setting{{What: "toe", Cause: "hub off, {side}", Sure: true}}, Steps: []Step{
			{ID: "mark", Verb: Act, Title: "mark", Minutes: 1, Position: Ground, Before: []StepID{"lift.up"}},
			{ID: "crack", Verb: Crack, Joint: "bolt", Title: "crack", Minutes: 1, Position: Raised, Needs: []StepID{"cover.off"}},
			{ID: "free", Verb: Act, Title: "press", Minutes: 1, Position: Raised, Needs: []StepID{"crack"}, When: map[string][]string{"taper": {"press"}}},
			{ID: "free", Verb: Act, Title: "blow", Minutes: 1, Position: Raised, Needs: []StepID{"crack"}, When: map[string][]string{"taper": {"blow"}}},
			{ID: "heat", Verb: Act, Title: "heat", Minutes: 1, Position: Raised, Needs: []StepID{"free"}, When: map[string][]string{"taper": {"blow"}}},
			{ID: "out", Verb: Remove, Joint: "bolt", Title: "out", Minutes: 1, Position: Raised, Needs: []StepID{"heat"}},
			{ID: "in", Verb: Start, Joint: "bolt", Title: "in", Minutes: 1, Position: Raised, Needs: []StepID{"out"}},
			{ID: "tight", Verb: Tighten, Joint: "bolt", Title: "tight", Minutes: 1, Position: Raised, Needs: []StepID{"in"}},
		}}
	arm := Operation{ID: "arm", Title: "Arm", Family: "arms", Version: 1, Axle: "any", Uses: []string{"cover"}, Steps: []Step{{ID: "swap", Verb: Act, Title: "swap the {axle} arm", Minutes: 5, Position: Raised, Needs: []StepID{"cover.off"}}}}
	return Order{Tasks: []Task{{"hub", "FL"}}, Known: []Operation{hub, arm}, Access: []Operation{lift, cover, soak, align},
		Schools: []School{{Key: "taper", Question: "Taper", Default: "press", Ways: []Way{{Key: "press"}, {Key: "blow"}}}},
		Pattern: vehicle.Pattern{ID: "p", Name: "P", Operations: []string{"hub", "arm"}, Spec: map[string]vehicle.Spec{"hub.front.bolt": {Recipe: "10 Nm", Count: 1}, "hub.front.cap": {Recipe: "10 Nm", Count: 1}}}}
}

func sequence(p Plan) string {
	var ids []string
	for _, s := range p.Steps {
		ids = append(ids, string(s.ID))
	}
	return strings.Join(ids, " ")
}

// What several operations open is opened once and closed after all that is done in
// it; what seizes soaks first; what must come before raising does.
func TestWeave(t *testing.T) {
	o := woven()
	p, err := Compile(o)
	if err != nil {
		t.Fatal(err)
	}
	want := "hub.mark.FL lift.up cover.off.FL soak.brush.FL soak.wait.FL hub.crack.FL hub.free.FL hub.out.FL hub.in.FL hub.tight.FL cover.on.FL cover.tight.FL lift.down align.ask"
	if got := sequence(p); got != want {
		t.Errorf("\n%s, want\n%s", got, want)
	}
	if p.Step("hub.free.FL").Title != "press" || p.Step("soak.brush.FL").Title != "brush bolt" || p.Step("cover.off.FL").Title != "cover off, front left" {
		t.Error("texts are not filled in")
	}
	if s := p.Step("align.ask"); s.Title != "toe: hub off, left" || len(s.Answers) != 1 {
		t.Errorf("alignment: %+v", s) // it moved for sure: there is no “no”
	}
	if !slices.Contains(p.Warnings, "Hub is done on one side only. Both, always.") {
		t.Errorf("warnings %v", p.Warnings)
	}
	if len(p.Schools) != 1 || p.Schools[0].Way != "press" {
		t.Errorf("schools %+v", p.Schools)
	}

	o.Tasks = []Task{{"hub", "FL"}, {"arm", "FL"}, {"hub", "FR"}}
	o.Ways = map[string]string{"taper": "blow"}
	if p, err = Compile(o); err != nil {
		t.Fatal(err)
	}
	got := sequence(p)
	for id, n := range map[string]int{"lift.up": 1, "cover.off": 2, "soak.brush": 2, "hub.heat": 2, "arm.swap": 1, "align.ask": 1} {
		if strings.Count(got, id) != n {
			t.Errorf("%s stands %d times in %s", id, strings.Count(got, id), got)
		}
	}
	if i, k := strings.Index(got, "arm.swap.FL"), strings.Index(got, "cover.on.FL"); i > k {
		t.Error("the cover is on before the arm is swapped")
	}
	if p.Title != "Hub, both sides · Arm, left" || p.Joint("hub.FL.bolt").Title != "bolt FL" || p.Joint("hub.FR.bolt").Tray == p.Joint("hub.FL.bolt").Tray || len(p.Scenes) != 3 {
		t.Errorf("%s %+v", p.Title, p.Joint("hub.FL.bolt"))
	}
	if fmt.Sprint(p.Corners()) != "[FL FR]" || !p.Does("arm") || p.Does("lift") {
		t.Error("what it does")
	}
}

func TestConflictsAreSaid(t *testing.T) {
	for name, c := range map[string]struct {
		spoil       func(*Order)
		code, field string
		says        string
	}{
		"nothing ordered":  {func(o *Order) { o.Tasks = nil }, "missing", "operation", "Nothing is ordered"},
		"ordered twice":    {func(o *Order) { o.Tasks = append(o.Tasks, o.Tasks[0]) }, "bad_choice", "operation", "twice"},
		"an access":        {func(o *Order) { o.Tasks[0].Operation = "cover" }, "missing", "operation", "no operation"},
		"no corner":        {func(o *Order) { o.Tasks[0].Corner = "" }, "bad_corner", "corner", "at a corner"},
		"an unknown way":   {func(o *Order) { o.Ways = map[string]string{"taper": "bite"} }, "bad_choice", "school", "no way"},
		"an unknown one":   {func(o *Order) { o.Ways = map[string]string{"tapir": "press"} }, "bad_choice", "school", "no school"},
		"access not there": {func(o *Order) { o.Known[0].Uses = []string{"roof"} }, "missing", "uses", "no access"},
		"uses in a ring":   {func(o *Order) { o.Access[1].Uses = []string{"cover"} }, "bad_step", "uses", "in a ring"},
		"opened by two": {func(o *Order) {
			o.Known[1].Joints, o.Tasks = o.Known[0].Joints, append(o.Tasks, Task{"arm", "FL"})
			o.Known[1].Steps = append(o.Known[1].Steps, Step{ID: "t", Verb: Tighten, Joint: "bolt", Title: "t", Minutes: 1})
		}, "conflict", "operation", "both open"},
		"position":   {func(o *Order) { o.Known[0].Steps[1].Position = Touching }, "conflict", "operation", "is done with the vehicle"},
		"not closed": {func(o *Order) { o.Known[0].Steps = o.Known[0].Steps[:7] }, "bad_step", "steps", "not started and tightened"},
		"half closed": {func(o *Order) {
			o.Pattern.Spec["hub.front.bolt"] = vehicle.Spec{Recipe: "10 Nm + 30°", Count: 1}
			o.Known[0].Steps[7].Stages = []int{1, 1}
		}, "bad_step", "steps", "not started and tightened to the end"},
		"a need nowhere": {func(o *Order) { o.Known[0].Steps[1].Needs = []StepID{"roof.off"} }, "bad_step", "steps.hub.crack.FL.needs", "no step"},
	} {
		o := woven()
		for i := range o.Known { // woven's slices are its own, but their arrays are shared with nobody either
			o.Known[i].Steps = slices.Clone(o.Known[i].Steps)
		}
		c.spoil(&o)
		_, err := Compile(o)
		if f := fault.As(err); f == nil || f.Code != c.code || f.Field != c.field || !strings.Contains(f.Detail, c.says) || f.Remedy == "" {
			t.Errorf("%s: %+v", name, err)
		}
	}
}

func TestParseTask(t *testing.T) {
	for text, want := range map[string]Task{"front-hub-unit@FL": {"front-hub-unit", "FL"}, " crossmember ": {"crossmember", ""}, "x@rr": {"x", "RR"}} {
		if got, err := ParseTask(text); err != nil || got != want {
			t.Errorf("%q: %v %v", text, got, err)
		}
	}
	for _, bad := range []string{"", "@FL", "x@XX", strings.Repeat("x", 99)} {
		if _, err := ParseTask(bad); fault.As(err) == nil {
			t.Errorf("%q was taken", bad)
		}
	}
	if s := (Task{"x", "FL"}).String(); s != "x@FL" {
		t.Error(s)
	}
}

// Another number of fasteners than is drawn stands evenly on the same circle.
func TestPlaces(t *testing.T) {
	at := []Point{{10, 0}, {20, 10}, {10, 20}, {0, 10}}
	if got := places(at, 4); fmt.Sprint(got) != fmt.Sprint(at) {
		t.Error(got)
	}
	got := places(at, 6)
	if len(got) != 6 || got[0] != (Point{10, 0}) || got[3] != (Point{10, 20}) {
		t.Error(got)
	}
	if two := places(at[:1], 2); len(two) != 2 || two[0] == two[1] {
		t.Error(two)
	}
}
