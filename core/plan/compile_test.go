package plan

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
)

// Common practice: a bolt circle goes across, never to the neighbour, and every
// fastener comes once.
func TestStarOrder(t *testing.T) {
	for n := 1; n <= 12; n++ {
		got := order(n, true)
		seen := slices.Clone(got)
		slices.Sort(seen)
		for i := range n {
			if seen[i] != i {
				t.Fatalf("%d: %v", n, got)
			}
		}
		for i := 1; n >= 4 && i < n; i++ {
			apart := (got[i] - got[i-1] + n) % n
			if min(apart, n-apart) < 2 && n > 4 {
				t.Errorf("%d fasteners: %v goes to the neighbour", n, got)
			}
		}
	}
	for n, want := range map[int]string{4: "[0 2 1 3]", 5: "[0 2 4 1 3]"} {
		if got := fmt.Sprint(order(n, true)); got != want {
			t.Errorf("%d: %s, want %s", n, got, want)
		}
	}
	if got := fmt.Sprint(order(3, false)); got != "[0 1 2]" {
		t.Errorf("round: %s", got)
	}
}

// An order that is kept closed says what comes before what as one that is walked anew.
func TestNet(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	const n = 90
	g := newNet(n)
	direct := [n][n]bool{}
	reach := func(a, b int) bool {
		seen := [n]bool{}
		queue := []int{a}
		for len(queue) > 0 {
			x := queue[len(queue)-1]
			queue = queue[:len(queue)-1]
			for y := range n {
				if direct[x][y] && !seen[y] {
					seen[y] = true
					queue = append(queue, y)
				}
			}
		}
		return seen[b]
	}
	for range 400 {
		a, b := rng.IntN(n), rng.IntN(n)
		can := a != b && !reach(b, a)
		if g.add(a, b) != can {
			t.Fatalf("%d before %d: want %v", a, b, can)
		}
		if can {
			direct[a][b] = true
		}
	}
	for a := range n {
		for b := range n {
			if g.less(a, b) != reach(a, b) {
				t.Fatalf("%d before %d: %v", a, b, g.less(a, b))
			}
		}
		for _, b := range g.direct(a) {
			for c := range n {
				if g.less(b, c) && g.less(c, a) {
					t.Errorf("%d stands between %d and %d", c, b, a)
				}
			}
		}
	}
	seen := map[int]bool{}
	for _, i := range g.sorted(func(int) bool { return false }) {
		for b := range n {
			if g.less(b, i) && !seen[b] {
				t.Errorf("%d is sorted before %d", i, b)
			}
		}
		seen[i] = true
	}
}

func bolt(key string) operation.Joint {
	return operation.Joint{Key: key, Spec: "hub.front." + key, Title: key, One: key,
		System: "hub"}
}

func off(f, v, because string) operation.Want {
	return operation.Want{Fact: f, Value: v, Because: because}
}

// woven is a small library: a lift, a cover that is opened inside it, a brake to hold,
// a bolt that seizes, a school with two ways and a step only one of them has.
func woven() Order {
	seized := bolt("bolt")
	seized.Seizes = true
	raised := off("vehicle", "raised", "")
	know := &Knowledge{
		Facts: []operation.FactKind{
			{Fact: "vehicle", Place: "whole", Rest: "on its wheels",
				Others: []operation.FactValue{{Value: "raised"}}},
			{Fact: "cover", Place: "corner", Rest: "on",
				Others: []operation.FactValue{{Value: "off", Because: "it lies behind the cover"}}},
			{Fact: "rotation", Place: "corner", Rest: "free", Others: []operation.FactValue{{Value: "held"}}},
			{Fact: "alignment", Place: "whole", Rest: "as it was", Others: []operation.FactValue{{Value: "moved"}}},
			{Fact: "penetrant", Place: "any", Rest: "dry", Stays: true,
				Others: []operation.FactValue{{Value: "soaked"}}},
			{Fact: "hub", Place: "corner", Rest: "in", Others: []operation.FactValue{{Value: "out"}}},
		},
		Laws: []operation.Law{{
			ID:    "down",
			Says:  "It stands on what is fast",
			On:    off("vehicle", "on its wheels", ""),
			Wants: []operation.LawWant{{Fact: "cover", Value: "on"}},
			Fasteners: []operation.FastenersLaw{
				{Systems: []string{"hub"}, Value: "proved | tight"},
			},
		}},
		Ways: []operation.Way{
			{ID: "lift", Title: "lift", Version: 1, Axle: "under", Fact: "vehicle", To: "raised",
				Open: []operation.Step{{ID: "up", Verb: operation.Move, Title: "up", Minutes: 1,
					Wants: []operation.Want{off("vehicle", "on its wheels", "")}, Makes: map[string]string{"vehicle": "raised"}}},
				Close: []operation.Step{{ID: "down", Verb: operation.Move, Title: "down", Minutes: 1,
					Wants: []operation.Want{raised}, Makes: map[string]string{"vehicle": "on its wheels"}}}},
			{ID: "cover", Title: "cover", Version: 1, Axle: "any", Fact: "cover", To: "off",
				Joints: []operation.Joint{bolt("cap")}, Wants: []operation.Want{raised},
				Open: []operation.Step{
					{ID: "off", Verb: operation.Remove, Joint: "cap", Title: "cover off, {axle} {side}",
						Minutes: 1, Makes: map[string]string{"cover": "off"}},
				},
				Close: []operation.Step{
					{ID: "on", Verb: operation.Start, Joint: "cap", Title: "cover on", Minutes: 1,
						Wants: []operation.Want{off("hub", "in", "")}, Makes: map[string]string{"cover": "on"}},
					{ID: "tight", Verb: operation.Tighten, Joint: "cap", Title: "cover tight", Minutes: 1}}},
			{ID: "hatch", Title: "the long way to the same", Version: 1, Axle: "any", Fact: "cover", To: "off",
				Joints: []operation.Joint{bolt("cap"), bolt("hatch")}, Wants: []operation.Want{raised},
				Open: []operation.Step{
					{ID: "off", Verb: operation.Remove, Joint: "cap", Title: "hatch off", Minutes: 1,
						Makes: map[string]string{"cover": "off"}},
				}},
			{ID: "soak", Title: "soak", Version: 1, Axle: "any", Fact: "penetrant", To: "soaked",
				Open: []operation.Step{
					{ID: "brush", Verb: operation.Act, Title: "brush {joints}", Minutes: 1,
						Wants: []operation.Want{off("cover", "off", "")}},
					{ID: "wait", Verb: operation.Soak, Title: "soak", Minutes: 9, Needs: []operation.StepID{"brush"},
						Makes: map[string]string{"penetrant": "soaked"}}}},
			{ID: "brake", Title: "brake", Version: 1, Axle: "any", Fact: "rotation", To: "held", Each: true,
				Open: []operation.Step{{ID: "hold", Verb: operation.Act, Title: "hold", Minutes: 1,
					Wants: []operation.Want{off("hub", "in", "it holds the hub")}, Makes: map[string]string{"rotation": "held"}}},
				Close: []operation.Step{{ID: "let-go", Verb: operation.Act, Title: "let go", Minutes: 1,
					Wants: []operation.Want{off("rotation", "held", "")}, Makes: map[string]string{"rotation": "free"}}}},
			{ID: "align", Title: "alignment", Version: 1, Axle: "under", Fact: "alignment", To: "as it was",
				Close: []operation.Step{
					{ID: "ask", Verb: operation.Act, Title: "{causes}", Minutes: 1, Proves: "alignment",
						Wants:   []operation.Want{off("vehicle", "on its wheels", "")},
						Makes:   map[string]string{"alignment": "as it was"},
						Answers: []operation.Answer{{Key: "no"}, {Key: "yes", Opens: "alignment"}}},
				}},
		},
		Schools: []operation.School{{Key: "taper", Question: "Taper", Default: "press",
			Ways: []operation.SchoolWay{{Key: "press"}, {Key: "blow"}}}},
		Builds: []operation.Build{{Key: "pin", Question: "Pinned?", Assume: "no"}},
	}
	hub := operation.Operation{ID: "hub", Title: "Hub", Family: "hubs", Version: 1, Axle: "front",
		Joints: []operation.Joint{seized}, Pairs: "Both, always.",
		Wants: []operation.Want{raised, off("cover", "off", "")},
		Sets:  []operation.Setting{{What: "toe", Cause: "hub off, {side}", Sure: true}}, Steps: []operation.Step{
			{ID: "mark", Verb: operation.Act, Title: "mark", Minutes: 1,
				Wants: []operation.Want{off("vehicle", "on its wheels", "one sees it standing"), off("cover", "any", "")}},
			{ID: "crack", Verb: operation.Crack, Joint: "bolt", Title: "crack", Minutes: 1,
				Wants: []operation.Want{off("rotation", "held", "it would turn"), off("hub", "in", "")}},
			{ID: "free", Verb: operation.Act, Title: "press", Minutes: 1,
				Wants: []operation.Want{{Joint: "bolt", Value: "cracked"}}, When: map[string][]string{"taper": {"press"}}},
			{ID: "free", Verb: operation.Act, Title: "blow", Minutes: 1,
				Wants: []operation.Want{{Joint: "bolt", Value: "cracked"}}, When: map[string][]string{"taper": {"blow"}}},
			{ID: "heat", Verb: operation.Act, Title: "heat", Minutes: 1, Needs: []operation.StepID{"free"},
				When: map[string][]string{"taper": {"blow"}}},
			{ID: "pin", Verb: operation.Act, Title: "pin", Minutes: 1, When: map[string][]string{"pin": {"yes"}}},
			{ID: "out", Verb: operation.Remove, Joint: "bolt", Title: "out", Minutes: 1,
				Needs: []operation.StepID{"heat"}, Makes: map[string]string{"hub": "out"}},
			{ID: "bench", Verb: operation.Act, Place: "bench", Title: "bench", Minutes: 1, Needs: []operation.StepID{"out"}},
			{ID: "in", Verb: operation.Start, Joint: "bolt", Title: "in", Minutes: 1,
				Needs: []operation.StepID{"bench"}, Makes: map[string]string{"hub": "in"}},
			{ID: "tight", Verb: operation.Tighten, Joint: "bolt", Title: "tight", Minutes: 1,
				Wants: []operation.Want{off("rotation", "held", "it would turn")}},
		}}
	arm := operation.Operation{ID: "arm", Title: "Arm", Family: "arms", Version: 1, Axle: "any",
		Wants: []operation.Want{raised, off("cover", "off", "")},
		Steps: []operation.Step{{ID: "swap", Verb: operation.Act, Title: "swap the {axle} arm", Minutes: 5}}}
	know.Operations = []operation.Operation{hub, arm}
	return Order{
		Tasks:     []Task{{"hub", "FL"}},
		Knowledge: know,
		Pattern: vehicle.Pattern{
			ID:         "p",
			Name:       "P",
			Version:    2,
			Operations: []string{"hub", "arm"},
			Spec: map[string]vehicle.Spec{
				"hub.front.bolt": {Recipe: "60Nm + 1/4 turn", Thread: "M12x1.5", Class: "10.9", Renew: true,
					Hardware: "bolt M12", Count: 1},
				"hub.front.cap": {Recipe: "10 Nm", Count: 1},
			},
		},
	}
}

func sequence(p Plan) string {
	var ids []string
	for _, s := range p.Steps {
		ids = append(ids, strings.TrimSuffix(string(s.ID), ".FL"))
	}
	return strings.Join(ids, " ")
}

// What several want is opened once and closed once; what seizes soaks first; what holds
// is held for as long as it is needed; the way with the fewest joints is taken.
func TestCompileFindsItsWays(t *testing.T) {
	o := woven()
	p, err := Compile(o)
	if err != nil {
		t.Fatal(err)
	}
	want := "hub.mark brake.hold lift.up cover.off soak.brush soak.wait hub.crack hub.free hub.out hub.bench hub.in " +
		"brake.let-go brake.hold.FL.2 hub.tight cover.on cover.tight lift.down brake.let-go.FL.2 align.ask"
	if got := sequence(p); got != want {
		t.Errorf("\n%s, want\n%s", got, want)
	}
	if p.Step("hub.free.FL").Title != "press" || p.Step("soak.brush.FL").Title != "brush bolt" ||
		p.Step("cover.off.FL").Title != "cover off, front left" {
		t.Error("texts are not filled in")
	}
	if s := p.Step("align.ask"); s.Title != "toe: hub off, left" || len(s.Answers) != 1 {
		t.Errorf("alignment: %+v", s) // it moved for sure: there is no “no”
	}
	if !slices.Contains(p.Warnings, "Hub is done on one side only. Both, always.") {
		t.Errorf("warnings %v", p.Warnings)
	}
	if len(p.Schools) != 1 || p.Schools[0].Way != "press" || len(p.Builds) != 1 || p.Builds[0].Is != "no" ||
		p.Builds[0].Known {
		t.Errorf("schools %+v builds %+v", p.Schools, p.Builds)
	}
	if s := p.Step("lift.up"); s.MovesTo != Raised || s.Position != Ground {
		t.Errorf("%+v", s)
	}
	if s := p.Step("hub.crack.FL"); s.Position != Raised || s.Because != "It would turn." {
		t.Errorf("%q %q", s.Position, s.Because)
	}
	if !p.Step("brake.hold.FL").Holds || !p.Step("brake.let-go.FL").LetsGo {
		t.Error("nobody holds")
	}
	j := p.Joint("hub.FL.bolt")
	if j.Recipe != "60 Nm + 90°" || len(j.Stages()) != 2 || j.Says() != j.Recipe || j.Tray == "" {
		t.Errorf("%+v", j)
	}
	part := operation.Part{Key: "hub.front.bolt", Title: "bolt M12", Count: 1, OneUse: true}
	if !reflect.DeepEqual(p.Parts, []operation.Part{part}) {
		t.Errorf("parts %+v", p.Parts)
	}
	if f, ok := j.Fastener(); !ok || f.Thread.Name != "M12x1.5" {
		t.Errorf("%+v", f)
	}
	if _, ok := p.Joint("hub.FL.cap").Fastener(); ok {
		t.Error("a joint without thread has a bolt")
	}
	if p.Fasteners() != 2 || p.Joint("nowhere") != nil || p.Step("nowhere") != nil {
		t.Error("counts")
	}
}

func TestCompileSeveral(t *testing.T) {
	o := woven()
	o.Tasks = []Task{{"hub", "FL"}, {"arm", "FL"}, {"hub", "FR"}}
	o.Ways = map[string]string{"taper": "blow"}
	o.Built = map[string]string{"pin": "yes"}
	p, err := Compile(o)
	if err != nil {
		t.Fatal(err)
	}
	got := sequence(p)
	for id, n := range map[string]int{"lift.up": 1, "cover.off": 2, "soak.brush": 2, "hub.heat": 2, "hub.pin": 2,
		"arm.swap": 1, "align.ask": 1} {
		if strings.Count(got, id) != n {
			t.Errorf("%s stands %d times in %s", id, strings.Count(got, id), got)
		}
	}
	if i, k := strings.Index(got, "arm.swap"), strings.Index(got, "cover.on"); i > k {
		t.Error("the cover is on before the arm is swapped")
	}
	if p.Title != "Hub, both sides · Arm, left" || p.Joint("hub.FL.bolt").Title != "bolt FL" ||
		p.Joint("hub.FR.bolt").Tray == p.Joint("hub.FL.bolt").Tray ||
		len(p.Scenes) != 3 {
		t.Errorf("%s %+v", p.Title, p.Joint("hub.FL.bolt"))
	}
	if fmt.Sprint(p.Corners()) != "[FL FR]" || !p.Does("arm") || p.Does("lift") || !p.Builds[0].Known {
		t.Error("what it does")
	}
}

// A shop that always does both sides gets the other one too.
func TestPairs(t *testing.T) {
	o := woven()
	o.Knowledge.Schools = append(
		o.Knowledge.Schools,
		operation.School{
			Key:      "pairs",
			Question: "Pairs",
			Default:  "wear",
			Ways:     []operation.SchoolWay{{Key: "wear"}, {Key: "both"}},
		},
	)
	o.Ways = map[string]string{"pairs": "both"}
	p, err := Compile(o)
	if err != nil {
		t.Fatal(err)
	}
	if fmt.Sprint(p.Tasks) != "[hub@FL hub@FR]" || p.Title != "Hub, both sides" || len(p.Warnings) != 0 {
		t.Errorf("%v %q %v", p.Tasks, p.Title, p.Warnings)
	}
}

// A text that was read once and is doubted by now does not stop a plan on a sheet that grows: its figure is asked
// again.
// On a pattern of the library it is refused.
func TestDoubtedFigureIsAskedAgain(t *testing.T) {
	o := woven()
	o.Pattern.Spec["hub.front.cap"] = vehicle.Spec{Recipe: "110 Nm, 90 Nm", Count: 1}
	if _, err := Compile(o); fault.As(err) == nil || fault.As(err).Code != fault.TwoReadings {
		t.Errorf("a pattern: %v", err)
	}
	o.Pattern.Open = true
	p, err := Compile(o)
	if err != nil {
		t.Fatal(err)
	}
	if j := p.Joint("hub.FL.cap"); j == nil || !j.Unread() {
		t.Errorf("%+v", j)
	}
}

// Where in a range to aim is a school of the plan, where some sheet gives a range.
func TestTorqueRange(t *testing.T) {
	for recipe, aim := range map[string]wrench.School{"10 Nm": "", ">= 10 Nm": "", "9–12 Nm": wrench.Minimum,
		"10 ± 2 Nm": wrench.Minimum} {
		o := woven()
		o.Knowledge.Schools = append(
			o.Knowledge.Schools,
			operation.School{Key: "torque-range", Question: "Range", Default: "guard",
				Ways: []operation.SchoolWay{{Key: "guard"}, {Key: "minimum"}}},
		)
		o.Ways = map[string]string{"torque-range": "minimum"}
		o.Pattern.Spec["hub.front.cap"] = vehicle.Spec{Recipe: recipe, Count: 1}
		p, err := Compile(o)
		if err != nil {
			t.Fatal(err)
		}
		idle := slices.Contains(p.Warnings, "“Range” decides nothing in this plan.")
		if p.Aim() != aim || idle == (aim != "") {
			t.Errorf("%s: aims at the %q, warnings %v", recipe, p.Aim(), p.Warnings)
		}
	}
}

// A way made for what the plan does anyhow goes before all others.
func TestGivenWay(t *testing.T) {
	o := woven()
	o.Tasks = append(o.Tasks, Task{"arm", "FL"})
	o.Knowledge.Operations[1].Steps[0].Makes = map[string]string{"hub": "in"}
	hatch := &o.Knowledge.Ways[2]
	hatch.Given = map[string]string{"hub": "in"}
	hatch.Joints = hatch.Joints[:1]
	hatch.Close = o.Knowledge.Ways[1].Close
	p, err := Compile(o)
	if err != nil {
		t.Fatal(err)
	}
	if got := sequence(p); !strings.Contains(got, "hatch.off") || strings.Contains(got, "cover.off") {
		t.Error(got)
	}
}

func TestConflictsAreSaid(t *testing.T) {
	step := func(o *Order, id string) *operation.Step {
		steps := o.Knowledge.Operations[0].Steps
		return &steps[slices.IndexFunc(steps, func(s operation.Step) bool { return string(s.ID) == id })]
	}
	for name, c := range map[string]struct {
		spoil func(*Order)
		code  fault.Code
		field string
		says  string
	}{
		"nothing ordered": {func(o *Order) { o.Tasks = nil }, "missing", "operation", "Nothing is ordered"},
		"ordered twice":   {func(o *Order) { o.Tasks = append(o.Tasks, o.Tasks[0]) }, "bad_choice", "operation", "twice"},
		"a way":           {func(o *Order) { o.Tasks[0].Operation = "cover" }, "missing", "operation", "no operation"},
		"no corner":       {func(o *Order) { o.Tasks[0].Corner = "" }, "bad_corner", "corner", "at a corner"},
		"another axle":    {func(o *Order) { o.Tasks[0].Corner = "RL" }, "bad_corner", "corner", "front axle"},
		"no sheet":        {func(o *Order) { o.Pattern.Operations = nil }, "no_sheet", "operation", "no sheet"},
		"a joint it lacks": {
			func(o *Order) { delete(o.Pattern.Spec, "hub.front.bolt") }, "no_sheet", "operation", "lacks the joint",
		},
		"no recipe": {
			func(o *Order) { o.Pattern.Spec["hub.front.bolt"] = vehicle.Spec{Recipe: "60"} }, "no_unit",
			"spec.hub.front.bolt.recipe", "no unit",
		},
		"an unknown way": {
			func(o *Order) { o.Ways = map[string]string{"taper": "bite"} }, "bad_choice", "school", "no way",
		},
		"an unknown one": {
			func(o *Order) { o.Ways = map[string]string{"tapir": "press"} }, "bad_choice", "school", "no school",
		},
		"a fact nowhere": {
			func(o *Order) { step(o, "free").Wants = []operation.Want{off("roof", "off", "")} }, "bad_step", "steps.free.wants",
			"no fact",
		},
		"never so": {
			func(o *Order) { step(o, "free").Wants = []operation.Want{off("cover", "ajar", "")} }, "bad_step",
			"steps.free.wants", "never",
		},
		"no way to it": {
			func(o *Order) { o.Knowledge.Ways = slices.Delete(o.Knowledge.Ways, 4, 5) }, "no_way", "steps.hub.crack.FL.wants",
			"nothing makes it",
		},
		"nothing back": {
			func(o *Order) { o.Knowledge.Ways = slices.Delete(o.Knowledge.Ways, 5, 6) }, "not_closed", "makes",
			"no way brings it back",
		},
		"opened by two": {func(o *Order) {
			o.Tasks = append(o.Tasks, Task{"arm", "FL"})
			o.Knowledge.Operations[1].Joints = o.Knowledge.Operations[0].Joints
		}, "conflict", "operation", "both open"},
		"a ring": {func(o *Order) { step(o, "crack").Needs = []operation.StepID{"tight"} }, "conflict", "", "wants"},
		"a need nowhere": {
			func(o *Order) { step(o, "crack").Needs = []operation.StepID{"gone"} }, "bad_step", "steps.crack.needs", "no step",
		},
		"two of one name": {func(o *Order) { step(o, "bench").ID = "out" }, "bad_step", "steps.out.id", "Two steps"},
		"a joint nowhere": {
			func(o *Order) { step(o, "crack").Joint = "gone" }, "bad_step", "steps.crack.joint", "does not have",
		},
		"not closed": {
			func(o *Order) { o.Knowledge.Operations[0].Steps = o.Knowledge.Operations[0].Steps[:9] }, "", "", "",
		},
		"against the law": {func(o *Order) {
			step(o, "tight").Wants = append(step(o, "tight").Wants, off("vehicle", "on its wheels", "so"),
				off("cover", "any", ""))
		}, "conflict", "", "wants"},
	} {
		o := woven()
		c.spoil(&o)
		_, err := Compile(o)
		f := fault.As(err)
		if f == nil || f.Remedy == "" || c.code != "" && (f.Code != c.code || c.field != "" && f.Field != c.field) ||
			!strings.Contains(f.Detail, c.says) {
			t.Errorf("%s: %+v", name, err)
		}
	}
}

// Of all orders with two steps exchanged, each is proved, or refused with a reason: none
// is taken that an own walk over the steps does not bear out.
func TestExchangedSteps(t *testing.T) {
	o := woven()
	o.Tasks = append(o.Tasks, Task{"hub", "FR"})
	p, err := Compile(o)
	if err != nil {
		t.Fatal(err)
	}
	sound, refused := 0, 0
	for i := range p.Steps {
		for k := range i {
			q := p
			q.Steps = slices.Clone(p.Steps)
			q.Steps[i], q.Steps[k] = q.Steps[k], q.Steps[i]
			err := q.Prove()
			var b *fact.Breach
			switch bad := walk(q.Steps); {
			case err == nil && bad == "":
				sound++
			case errors.As(err, &b) && bad != "" && b.Error() != "":
				refused++
			default:
				t.Errorf("%s and %s exchanged: proof says %v, the walk %q", p.Steps[k].ID, p.Steps[i].ID, err, bad)
			}
		}
	}
	if sound < 20 || refused < 200 {
		t.Errorf("%d sound, %d refused", sound, refused)
	}
}

// walk is the trade of the small library in plain words, apart from facts: it knows the
// steps by their names.
func walk(steps []Step) string {
	raised := false
	at := func() map[string]bool { return map[string]bool{} }
	off, held, out, soaked, cracked, in, proved, capped := at(), at(), at(), at(), at(), at(), at(), at()
	moved := 0
	for _, s := range steps {
		c := string(s.Corner)
		name, _, _ := strings.Cut(strings.TrimSuffix(string(s.ID), ".2"), ".F")
		ok := true
		switch name {
		case "lift.up":
			ok, raised = !raised, true
		case "lift.down":
			ok, raised = raised && proved["FL"] && proved["FR"] && capped["FL"] && capped["FR"], false
		case "cover.off":
			ok = raised && !off[c]
			off[c] = true
		case "cover.on":
			ok = raised && off[c] && !out[c]
			delete(off, c)
			in[c+"cap"] = true
		case "cover.tight":
			ok = raised && in[c+"cap"]
			capped[c] = true
		case "soak.brush":
			ok = off[c]
			in[c+"brushed"] = true
		case "soak.wait":
			soaked[c] = true
		case "brake.hold":
			ok = !out[c]
			held[c] = true
		case "brake.let-go":
			ok = held[c]
			delete(held, c)
		case "hub.mark":
			ok = !raised
		case "hub.crack":
			ok = raised && off[c] && held[c] && soaked[c] && !out[c] && !cracked[c]
			cracked[c] = true
		case "hub.free":
			ok = raised && off[c] && cracked[c] && !out[c]
		case "hub.out":
			ok = raised && off[c] && cracked[c] && !out[c]
			out[c] = true
			moved++
		case "hub.in":
			ok = raised && off[c] && out[c]
			delete(out, c)
			delete(cracked, c)
			in[c] = true
		case "hub.tight":
			ok = raised && off[c] && held[c] && in[c]
			proved[c] = true
		case "align.ask":
			ok = !raised
			moved = 0
		}
		if !ok {
			return string(s.ID)
		}
	}
	if raised || len(off)+len(held)+len(out) > 0 || moved > 0 {
		return "left open"
	}
	return ""
}

func TestParseTask(t *testing.T) {
	for text, want := range map[string]Task{"front-hub-unit@FL": {"front-hub-unit", "FL"},
		" crossmember ": {"crossmember", ""}, "x@rr": {"x", "RR"}} {
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
