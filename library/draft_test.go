package library

import (
	"slices"
	"strings"
	"testing"

	"lugtak/core/fact"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
)

// leafSpring is free work, as somebody says it.
func leafSpring() operation.Draft {
	return operation.Draft{Title: "Rear leaf spring", From: operation.FromWheelOff, Sets: true, Acts: []operation.DraftAct{
		{Do: operation.DeedCarry, Title: "axle"},
		{Do: operation.DeedLoosen, Title: "shock foot", System: "suspension", Count: 1},
		{Do: operation.DeedOpen, Title: "U-bolt nuts", System: "suspension", Count: 4},
		{Do: operation.DeedOpen, Title: "Träger bolt", System: "suspension", Count: 2},
		{Do: operation.DeedOff, Title: "leaf spring", New: true},
	}}
}

// By the trade: the axle is carried before a nut of its spring is touched and until all of them are fast; the spring
// leaves when they are out, the new one is held against it first, and it goes on before any of them goes in; what was
// opened last is started first, and none is tightened before the spring is on. The wheel comes off before and goes
// on after.
func TestFreeWorkInItsOrder(t *testing.T) {
	l := dressed()
	d := leafSpring()
	if err := d.Check(); err != nil {
		t.Fatal(err)
	}
	ask := Ask{Tasks: []plan.Task{{Operation: d.ID(), Corner: "RL"}}, Free: &d}
	p, err := l.Compile(l.Grown(vehicle.Sheet{ID: "own"}), ask)
	if err != nil {
		t.Fatal(err)
	}
	if p.Title != "Rear leaf spring, left" || p.Free == nil || p.Prove() != nil {
		t.Errorf("%s %v", p.Title, p.Prove())
	}
	at := func(id string) int {
		for i, s := range p.Steps {
			if strings.TrimPrefix(string(s.ID), d.ID()+".") == id {
				return i
			}
		}
		t.Fatalf("nothing is %s", id)
		return 0
	}
	for _, order := range []string{
		"wheel.off.RL n1-carry.RL n2-crack.RL n3-crack.RL n3-out.RL n4-out.RL n5-off.RL n5-beside.RL work.RL n5-on.RL",
		"n5-on.RL n4-start.RL n3-start.RL n2-start.RL n2-tight.RL n1-free.RL wheel.start.RL drive.drive",
		"n2-start.RL n3-tight.RL n1-free.RL",
		"n2-start.RL n4-tight.RL n1-free.RL",
	} {
		steps := strings.Fields(order)
		for i := range steps[1:] {
			if at(steps[i]) >= at(steps[i+1]) {
				t.Errorf("%s at %d, %s at %d", steps[i], at(steps[i]), steps[i+1], at(steps[i+1]))
			}
		}
	}
	j := p.Joint("suspension.RL.own_träger_bolt")
	if j == nil || len(j.Letters) != 2 || !j.Unread() || l.TitleOf(vehicle.Pattern{}, j.Sheet) != "träger bolt" ||
		!l.ByTwo(j.Sheet) || !l.Knows(j.Sheet) {
		t.Errorf("%+v", j)
	}
	for _, s := range p.Steps {
		if s.ID == operation.StepID(d.ID()+".n3-tight.RL") && s.Joint != "suspension.RL.own_u_bolt_nuts" {
			t.Errorf("%+v", s)
		}
	}
}

// Whatever part the bolt of free work is counted to, no weight comes on while it is open, and two read its figure:
// what hangs on it is its technician's word alone.
func TestNoPartLetsFreeWorkStandOpen(t *testing.T) {
	l := dressed()
	for _, system := range []string{"body", "driveline", "suspension"} {
		d := operation.Draft{Title: "Bracket", From: operation.FromRaised, Acts: []operation.DraftAct{
			{Do: operation.DeedOpen, Title: "bracket bolt", System: system, Count: 1},
		}}
		ask := Ask{Tasks: []plan.Task{{Operation: d.ID(), Corner: "RL"}}, Free: &d}
		p, err := l.Compile(l.Grown(vehicle.Sheet{ID: "own"}), ask)
		if err != nil {
			t.Fatal(err)
		}
		open := fact.Fact{Subject: fact.Fastener, Place: system + ".RL.own_bracket_bolt"}
		held := slices.ContainsFunc(p.World.Laws, func(law fact.Law) bool {
			return law.ID == "fast-before-weight" &&
				slices.ContainsFunc(law.Must, func(w fact.Want) bool { return w.Fact == open })
		})
		if j := p.Joint(open.Place); j == nil || !held || !l.ByTwo(j.Sheet) {
			t.Errorf("%s: held while weight comes on: %v", system, held)
		}
	}
}

// What somebody did freely becomes a file the Shelf takes, with the minutes it took, and plans like any other.
func TestFreeWorkAsAFile(t *testing.T) {
	d := leafSpring()
	text, err := DraftFile(d, map[string][]float64{"free-rear-leaf-spring.n3-out": {7.4}})
	if err != nil {
		t.Fatal(err)
	}
	next, id, faults := dressed().Take("operation", text)
	if len(faults) > 0 || id != "own-rear-leaf-spring" {
		t.Fatalf("%s %v\n%s", id, faults, text)
	}
	made, err := next.Compile(next.Grown(vehicle.Sheet{ID: "own"}), Ask{Tasks: []plan.Task{{Operation: id, Corner: "RR"}}})
	if err != nil {
		t.Fatal(err)
	}
	if !strings.Contains(strings.Join(made.Warnings, " "), "Draft") {
		t.Errorf("%v", made.Warnings)
	}
	for _, s := range made.Steps {
		if s.ID == "own-rear-leaf-spring.n3-out.RR" && s.Minutes != 7.5 {
			t.Errorf("it takes %.1f minutes", s.Minutes)
		}
	}
}
