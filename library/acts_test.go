package library

import (
	"slices"
	"strings"
	"testing"

	"lugtak/core/operation"
	"lugtak/core/release"
	"lugtak/demo/files"
	"lugtak/solid"
)

// Every step that is on no joint has an act, and only one; every act has a scene and is of a step there is; and
// every scene is of an act or a joint.
func TestEveryActIsDrawn(t *testing.T) {
	lib, err := Load("", files.FS)
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
			act := lib.Acts.For(name, s.Tool, makes)
			if act == "" {
				t.Errorf("%s with %q has no picture", name, s.Tool)
			}
			shown[act] = true
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
		act := lib.Acts.For(operation.RescueAct, r.Tool, nil)
		if act == "" {
			t.Errorf("the way out %s with %q has no picture", r.Way, r.Tool)
		}
		shown[act] = true
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
	drawn := map[string]bool{}
	for _, s := range lib.Scenes.Scenes {
		drawn[s.Key] = true
		if solid.OfPlace(s.Key) {
			continue
		}
		if len(s.Bolts) > 0 {
			if !specs[strings.ReplaceAll(s.Key, "{axle}", "rear")] {
				t.Errorf("the scene %s is of no joint", s.Key)
			}
			continue
		}
		i := slices.IndexFunc(lib.Acts, func(a operation.ActKey) bool { return a.Key == s.Key })
		if i < 0 {
			t.Errorf("the scene %s is of no act", s.Key)
			continue
		}
		for _, step := range s.Steps {
			if !slices.Contains(lib.Acts[i].Steps, step) {
				t.Errorf("the scene %s is of %s, which is no step of its act", s.Key, step)
			}
		}
	}
	keys := map[string]bool{}
	for _, a := range lib.Acts {
		if keys[a.Key] {
			t.Errorf("two pictures are called %s", a.Key)
		}
		keys[a.Key] = true
		if !shown[a.Key] {
			t.Errorf("%s is shown nowhere", a.Key)
		}
		if !drawn[a.Key] {
			t.Errorf("%s has no scene", a.Key)
		}
		for _, s := range a.Steps {
			if !known[s] {
				t.Errorf("%s is of %s, which is no step", a.Key, s)
			}
		}
	}
}

// rung is the key of the picture of a rung, at a kind of seizure where it has its own.
func rung(t *testing.T, lib *Library, r release.Rung, kind string) string {
	t.Helper()
	for _, name := range []string{"release." + r.Key + kind, "release." + r.Key} {
		if act := lib.Acts.For(name, r.Tool, nil); act != "" {
			return act
		}
	}
	t.Errorf("the rung %s has no picture", r.Name)
	return ""
}
