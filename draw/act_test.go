package draw

import (
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/release"
	"lugtak/core/vehicle"
	"lugtak/demo/files"
	"lugtak/library"
)

// Every step whose act is not drawn from its joint has a picture, and only one; every
// picture is of a step there is, and is put together from pieces there are.
func TestEveryActIsDrawn(t *testing.T) {
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	known := map[string]bool{}
	shown := map[string]bool{}
	look := func(owner string, steps []operation.Step) {
		for _, s := range steps {
			name := owner + "." + string(s.ID)
			known[name] = true
			if s.Verb.OnJoint() {
				continue
			}
			var makes []string
			for f := range s.Makes {
				makes = append(makes, f)
			}
			a, ok := lib.Acts.For(name, s.Tool, makes)
			if !ok {
				t.Errorf("%s with %q has no picture", name, s.Tool)
			}
			shown[a.Key] = true
		}
	}
	for _, o := range lib.Operations {
		look(o.ID, o.Steps)
	}
	for _, w := range lib.Ways {
		look(w.ID, w.Open)
		look(w.ID, w.Close)
	}
	known[operation.RescueAct] = true
	for _, r := range lib.Rescues {
		a, ok := lib.Acts.For(operation.RescueAct, r.Tool, nil)
		if !ok {
			t.Errorf("the way out %s with %q has no picture", r.Way, r.Tool)
		}
		shown[a.Key] = true
	}
	for _, r := range lib.Release.Rungs {
		shown[rung(t, lib, r, "")] = true
		known["release."+r.Key] = true
		for _, k := range lib.Release.Kinds {
			name := "release." + r.Key + "-" + k.Slug()
			known[name] = true
			shown[rung(t, lib, r, "-"+k.Slug())] = true
		}
	}
	specs := map[string]bool{}
	joints := func(js []operation.Joint) {
		for _, j := range js {
			for _, axle := range []string{"front", "rear"} {
				specs[strings.ReplaceAll(j.Spec, "{axle}", axle)] = true
			}
		}
	}
	for _, o := range lib.Operations {
		joints(o.Joints)
	}
	for _, w := range lib.Ways {
		joints(w.Joints)
	}
	for _, s := range lib.Scenes.Scenes {
		if len(s.Bolts) > 0 {
			if !specs[strings.ReplaceAll(s.Key, "{axle}", "rear")] {
				t.Errorf("the scene %s is of no joint", s.Key)
			}
			continue
		}
		i := slices.IndexFunc(lib.Acts.Acts, func(a operation.ActPicture) bool { return a.Key == s.Key })
		if i < 0 {
			t.Errorf("the scene %s is of no act", s.Key)
			continue
		}
		for _, step := range s.Steps {
			if !slices.Contains(lib.Acts.Acts[i].Steps, step) {
				t.Errorf("the scene %s is of %s, which is no step of its act", s.Key, step)
			}
		}
	}
	keys := map[string]bool{}
	for _, a := range lib.Acts.Acts {
		if keys[a.Key] {
			t.Errorf("two pictures are called %s", a.Key)
		}
		keys[a.Key] = true
		if !shown[a.Key] {
			t.Errorf("%s is shown nowhere", a.Key)
		}
		for _, s := range a.Steps {
			if !known[s] {
				t.Errorf("%s is of %s, which is no step", a.Key, s)
			}
		}
		for _, p := range a.Pieces {
			if _, ok := lib.Acts.Piece(p.Piece); !ok {
				t.Errorf("%s needs the piece %s", a.Key, p.Piece)
			}
		}
	}
}

// rung is the key of the picture of a rung, at a kind of seizure where it has its own.
func rung(t *testing.T, lib *library.Library, r release.Rung, kind string) string {
	t.Helper()
	for _, name := range []string{"release." + r.Key + kind, "release." + r.Key} {
		if a, ok := lib.Acts.For(name, r.Tool, nil); ok {
			return a.Key
		}
	}
	t.Errorf("the rung %s has no picture", r.Name)
	return ""
}

// The words of a picture stand inside it and not on one another, on either side.
func TestWordsOfActsKeepApart(t *testing.T) {
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	for _, a := range lib.Acts.Acts {
		for _, mirror := range []bool{false, true} {
			words := ActWords(a, mirror)
			for i, w := range words {
				if w.W > ActW-12 || w.Y < ActText || w.Y > ActH-4 {
					t.Errorf("%s: “%s” does not fit: %.0f wide at %.0f", a.Key, w.Text, w.W, w.Y)
				}
				for _, o := range words[:i] {
					if w.Overlaps(o, ActText) {
						t.Errorf("%s: “%s” lies on “%s”", a.Key, w.Text, o.Text)
					}
				}
			}
		}
	}
}

// A picture of the right side is the left one's mirror image, but a thread turns the same
// way on both.
func TestActsAreMirrored(t *testing.T) {
	acts := operation.Acts{Pieces: []operation.Piece{{Key: "bar", Shapes: []operation.Shape{
		{Kind: "line", Role: "tool", Points: []operation.Point{{0, 0}, {100, 0}}},
	}}}}
	a := operation.ActPicture{
		Pieces: []operation.Placed{{Piece: "bar", At: operation.Point{50, 80}, Turn: 90, Scale: 2}},
		Marks:  []operation.Mark{{Kind: operation.MarkTighten, At: operation.Point{200, 200}, Radius: 40}},
	}
	left, right := string(Act(a, &acts, false)), string(Act(a, &acts, true))
	if !strings.Contains(left, `points="50.0,80.0 50.0,280.0"`) ||
		!strings.Contains(right, `points="550.0,80.0 550.0,280.0"`) {
		t.Errorf("the bar is not where it belongs:\n%s\n%s", left, right)
	}
	c, want := newCanvas(ActW, ActH, ""), newCanvas(ActW, ActH, "")
	c.turning([2]float64{400, 200}, 40, true)
	want.turning([2]float64{400, 200}, 40, false)
	if !strings.Contains(right, c.b.String()) || strings.Contains(right, want.b.String()) {
		t.Error("on the right a thread is tightened the other way round")
	}
}

// In every close-up, of every operation at every corner and each of its fasteners, the
// letters stand inside what is shown and not on one another.
func TestLettersOfCloseUpsKeepApart(t *testing.T) {
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	seen := 0
	for _, p := range lib.Patterns {
		for _, task := range lib.Offers(p) {
			made, err := lib.Compile(p, library.Ask{Tasks: []plan.Task{task}})
			if err != nil {
				t.Fatal(err)
			}
			st := job.Replay(nil)
			events, err := job.Decide(st, job.Meta{ID: "a", By: "a", Role: job.Technician, At: time.Unix(1, 0)}, job.Start{
				Job: "a", Vehicle: vehicle.Vehicle{ID: "v", Fleet: "X", Pattern: p.ID}, Complaint: "c", OdometerKM: 1, Plan: made,
			})
			if err != nil {
				t.Fatal(err)
			}
			st = job.Apply(st, events[0])
			for i := range st.Plan.Steps {
				step := &st.Plan.Steps[i]
				j := st.Plan.Joint(step.Joint)
				if j == nil {
					continue
				}
				for _, l := range j.Letters {
					v := Corner(st, step, l)
					v.CloseUp(j, step.Verb)
					seen += apart(t, v, string(step.ID)+" "+l)
				}
			}
		}
	}
	if seen < 500 {
		t.Errorf("only %d letters were looked at", seen)
	}
}

// apart checks the words of one close-up and says how many there were.
func apart(t *testing.T, v CornerPicture, name string) int {
	t.Helper()
	for i, w := range v.Words {
		inside := w.X-w.W/2 >= v.VX && w.X+w.W/2 <= v.VX+v.VW && w.Y-v.Text >= v.VY-1 && w.Y <= v.VY+v.VH
		if !inside {
			t.Errorf("%s: “%s” leaves the picture", name, w.Text)
		}
		for _, o := range v.Words[:i] {
			if w.Overlaps(o, 0.8*v.Text) {
				t.Errorf("%s: “%s” lies on “%s”", name, w.Text, o.Text)
			}
		}
	}
	return len(v.Words)
}
