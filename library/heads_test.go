package library

import (
	"slices"
	"strings"
	"testing"

	"lugtak/core/operation"
	"lugtak/demo/files"
	"lugtak/solid"
)

// ways are the directions in which the words of a joint say that heads or studs point, in the room of a corner:
// X outboard, Y forward, Z up.
var ways = []struct {
	word string
	way  solid.Vec
}{
	{"inboard", solid.Vec{-1}},
	{"outboard", solid.Vec{1}},
	{"to the front", solid.Vec{0, 1}},
	{"to the rear", solid.Vec{0, -1}},
	{"upward", solid.Vec{0, 0, 1}},
	{"heads up", solid.Vec{0, 0, 1}},
	{"downward", solid.Vec{0, 0, -1}},
	{"heads down", solid.Vec{0, 0, -1}},
}

// apart says that no vehicle is built in both of two ways.
func apart(a, b map[string][]string) bool {
	for question, answers := range a {
		other, asked := b[question]
		if asked && !slices.ContainsFunc(answers, func(x string) bool { return slices.Contains(other, x) }) {
			return true
		}
	}
	return false
}

// Where a joint's words say which way it points, its fasteners point there in the picture.
func TestHeadsPointAsTheWordsSay(t *testing.T) {
	lib, err := Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	parts, err := solid.Parts()
	if err != nil {
		t.Fatal(err)
	}
	held := map[string]int{}
	look := func(owner string, joints []operation.Joint) {
		for _, j := range joints {
			for i := range lib.Scenes.Scenes {
				s := &lib.Scenes.Scenes[i]
				if len(s.Bolts) == 0 || s.Key != j.Spec || apart(s.When, j.When) {
					continue
				}
				for _, w := range ways {
					if !strings.Contains(j.Points, w.word) {
						continue
					}
					held[w.word]++
					for _, b := range s.Bolts {
						axis := parts[b].Frames["head"].Axis
						for _, m := range s.Moves {
							if slices.Contains(m.What, "*") {
								axis = solid.Turn(m.Along, m.Turn).Dir(axis)
							}
						}
						if axis.Dot(w.way) < 0.7 {
							t.Errorf("%s: %s says %q, and %s in %v points %v", owner, j.Spec, j.Points, b, s.When, axis)
						}
					}
				}
			}
		}
	}
	for _, o := range lib.Operations {
		look(o.ID, o.Joints)
	}
	for _, w := range lib.Ways {
		look(w.ID, w.Joints)
	}
	for _, w := range ways {
		if held[w.word] == 0 {
			t.Errorf("no joint says %q", w.word)
		}
	}
}
