package operation

import (
	"fmt"
	"reflect"
	"slices"
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/vehicle"
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

func sample() (Operation, vehicle.Pattern) {
	op := Operation{ID: "op", Title: "Front thing", Family: "things", Version: 3, Axle: "front",
		Joints: []Joint{{Key: "bolts", Spec: "hub.front.bolts", Title: "bolts", One: "bolt", At: make([]Point, 3)}, {Key: "wheel", Spec: "hub.front.wheel", Title: "wheel nuts", One: "nut", Star: true, AfterDrive: true, At: make([]Point, 5)}},
		Parts:  []Part{{Key: "thing", Title: "the thing", Count: 1}},
		Steps: []Step{
			{ID: "out", Verb: Remove, Joint: "bolts", Title: "Bolts out, {side}", Minutes: 1, Needs: []StepID{"soak"}},
			{ID: "spray", Verb: Act, Title: "Spray", Minutes: 1},
			{ID: "soak", Verb: Soak, Title: "Soak", Minutes: 10, Needs: []StepID{"spray"}},
			{ID: "in", Verb: Start, Joint: "bolts", Title: "Bolts in", Minutes: 1, Needs: []StepID{"out"}},
			{ID: "tight", Verb: Tighten, Joint: "bolts", Title: "Bolts tight", Minutes: 1, Needs: []StepID{"in"}},
			{ID: "other", Verb: Act, Title: "Something else", Minutes: 1},
			{ID: "wheel", Verb: Tighten, Joint: "wheel", Title: "Wheel", Minutes: 1},
		}}
	pat := vehicle.Pattern{ID: "pat", Name: "Pat", Version: 2, Operations: []string{"op"}, Spec: map[string]vehicle.Spec{
		"hub.front.bolts": {Recipe: "60Nm + 1/4 turn", Thread: "M12x1.5", Class: "10.9", Renew: true, Hardware: "bolt M12", Count: 3},
		"hub.front.wheel": {Recipe: "130 N.m x2", Count: 5},
	}}
	return op, pat
}

// alone is an order for one operation at one corner.
func alone(op Operation, pat vehicle.Pattern, c vehicle.Corner) Order {
	return Order{Tasks: []Task{{op.ID, c}}, Pattern: pat, Known: []Operation{op}}
}

func TestCompile(t *testing.T) {
	op, pat := sample()
	p, err := Compile(alone(op, pat, "FR"))
	if err != nil {
		t.Fatal(err)
	}
	if p.Title != "Front thing, right" || fmt.Sprint(p.Sources) != "[operation op, version 3 sheet pat, version 2]" || fmt.Sprint(p.Tasks) != "[op@FR]" {
		t.Errorf("%q %v", p.Title, p.Sources)
	}
	var ids []string
	for _, s := range p.Steps {
		ids = append(ids, string(s.ID))
	}
	// What runs by itself is set going as soon as it can be.
	if got := strings.Join(ids, " "); got != "op.spray.FR op.soak.FR op.out.FR op.in.FR op.tight.FR op.other.FR op.wheel.FR" {
		t.Errorf("steps %s", got)
	}
	if s := p.Step("op.out.FR"); s.Joint != "hub.FR.bolts" || s.Title != "Bolts out, right" {
		t.Errorf("%+v", s)
	}
	j := p.Joint("hub.FR.bolts")
	if j.Recipe != "60 Nm + 90°" || strings.Join(j.Letters, "") != "ABC" || len(j.Stages()) != 2 || j.Says() != j.Recipe {
		t.Errorf("%+v", j)
	}
	if w := p.Joint("hub.FR.wheel"); strings.Join(w.Letters, "") != "12345" || len(w.Stages()) != 3 || !strings.Contains(w.Says(), "again after the drive") {
		t.Errorf("%+v", w)
	}
	if len(p.Parts) != 2 || !reflect.DeepEqual(p.Parts[1], Part{Key: "hub.front.bolts", Title: "bolt M12", Count: 3, OneUse: true}) {
		t.Errorf("parts %+v", p.Parts)
	}
	if f, ok := j.Fastener(); !ok || f.Thread.Name != "M12x1.5" {
		t.Errorf("%+v", f)
	}
	if _, ok := p.Joint("hub.FR.wheel").Fastener(); ok {
		t.Error("a joint without thread has a bolt")
	}
	if p.Fasteners() != 8 || p.Joint("nowhere") != nil || p.Step("nowhere") != nil {
		t.Error("counts")
	}
}

func TestCompileRefuses(t *testing.T) {
	for _, c := range []struct {
		name, field, says string
		spoil             func(*Operation, *vehicle.Pattern)
		corner            vehicle.Corner
	}{
		{"another axle", "corner", "front axle", func(*Operation, *vehicle.Pattern) {}, "RL"},
		{"no sheet", "operation", "no sheet", func(_ *Operation, p *vehicle.Pattern) { p.Operations = nil }, "FL"},
		{"a joint the sheet lacks", "operation", "lacks the joint", func(_ *Operation, p *vehicle.Pattern) { delete(p.Spec, "hub.front.wheel") }, "FL"},
		{"a recipe that does not read", "spec.hub.front.bolts.recipe", "no unit", func(_ *Operation, p *vehicle.Pattern) {
			s := p.Spec["hub.front.bolts"]
			s.Recipe = "60"
			p.Spec["hub.front.bolts"] = s
		}, "FL"},
		{"a ring", "steps", "in a ring", func(o *Operation, _ *vehicle.Pattern) { o.Steps[1].Needs = []StepID{"out"} }, "FL"},
		{"a need that is no step", "steps.out.needs", "which is no step", func(o *Operation, _ *vehicle.Pattern) { o.Steps[0].Needs = []StepID{"gone"} }, "FL"},
		{"two of one name", "steps.out.id", "Two steps", func(o *Operation, _ *vehicle.Pattern) { o.Steps[1].ID = "out" }, "FL"},
		{"a joint that is none", "steps.out.joint", "does not have", func(o *Operation, _ *vehicle.Pattern) { o.Steps[0].Joint = "gone" }, "FL"},
	} {
		op, pat := sample()
		c.spoil(&op, &pat)
		_, err := Compile(alone(op, pat, c.corner))
		if f := fault.As(err); f == nil || f.Field != c.field || !strings.Contains(f.Detail, c.says) || f.Remedy == "" {
			t.Errorf("%s: %v", c.name, err)
		}
	}
}
