// Package practice is the trainer's car: what is true of it and not told, what acts on it come
// to, and what would have left the bay with it.
//
// A run is its exercise, its seed and its acts, and comes out the same each time. The car obeys
// the facts and laws of the plan, as a real job's bench does; but where a bench refuses, the
// car lets it happen wherever hands could do it, and keeps what it would cost.
package practice

import (
	"math/rand/v2"
	"slices"

	"lugtak/core/fact"
	"lugtak/core/operation"
)

// Exercise is what is practised: work on an invented car, with what is hidden in it. Minutes
// are minutes of the trade, torques N·m, lengths mm.
type Exercise struct {
	ID      string            `yaml:"id"`
	Title   string            `yaml:"title"`
	Says    string            `yaml:"says"`  // what one is told
	Level   int               `yaml:"level"` // 1 says what is next, 2 advises, 3 says nothing
	Pattern string            `yaml:"pattern"`
	Tasks   []string          `yaml:"tasks"` // as front-hub-unit@FL
	Built   map[string]string `yaml:"built"`
	From    operation.StepID  `yaml:"from"`  // what the plan has before it is done; empty begins at the first
	Until   operation.StepID  `yaml:"until"` // the last that is practised; empty ends with the plan
	GoodMin float64           `yaml:"good_min"`
	Boxes   []Box             `yaml:"boxes"`
	Seized  []Seized          `yaml:"seized"`
	Figures []Miscopied       `yaml:"figures"`
	Bolts   []Bolt            `yaml:"bolts"`
	Find    *Find             `yaml:"find"` // a walk-round in place of bench work
}

// Box is a new part as it lies in its box: the right one, or with that chance another.
type Box struct {
	Part   string             `yaml:"part"`
	Chance float64            `yaml:"chance"`
	Old    map[string]float64 `yaml:"old"`
	Right  map[string]float64 `yaml:"right"`
	Wrong  map[string]float64 `yaml:"wrong"`
	Says   string             `yaml:"says"` // what the wrong one is
}

// Seized is a fastener that sits fast: the torque that breaks it loose dry, and soaked.
type Seized struct {
	Joint    string  `yaml:"joint"`
	Letter   string  `yaml:"letter"`
	Kind     string  `yaml:"kind"` // of seizure, as the release ladder knows it
	Chance   float64 `yaml:"chance"`
	DryNm    float64 `yaml:"dry_nm"`
	SoakedNm float64 `yaml:"soaked_nm"`
}

// Miscopied is a figure that stands wrong on the sheet of the bay, with that chance.
type Miscopied struct {
	Joint  string  `yaml:"joint"`
	Shown  string  `yaml:"shown"` // the wrong recipe
	Chance float64 `yaml:"chance"`
}

// Bolt is a fastener that does not do what it should when it is pulled.
type Bolt struct {
	Joint  string  `yaml:"joint"`
	Letter string  `yaml:"letter"`
	Plays  string  `yaml:"plays"` // in the words of the stand-in
	Chance float64 `yaml:"chance"`
}

// Find is a fault to be found on the walk-round.
type Find struct {
	Suspect   string   `yaml:"suspect"`
	Corner    string   `yaml:"corner"`
	Complaint string   `yaml:"complaint"`
	Known     []string `yaml:"known"` // signs the driver tells
}

// Harm is whom or what a fault would have hurt.
type Harm string

// Harms, the worst first.
const (
	People  Harm = "people"
	Vehicle Harm = "vehicle"
	Time    Harm = "time"
)

var harms = []Harm{People, Vehicle, Time}

// What happens by more than an unmet want.
const (
	Sheared      = "sheared"
	WrongPart    = "wrong part"
	WrongFigure  = "wrong figure"
	BadPull      = "bad pull"
	WrongSuspect = "wrong suspect"
	LeftOpen     = "left open"
)

// Consequence is what an act against the rules would have come to: an estimate, and said to
// be one. It is met by a want that did not hold, by a step left undone, or by what happened.
type Consequence struct {
	ID       string         `yaml:"id"`
	Skill    string         `yaml:"skill"`
	Title    string         `yaml:"title"`
	Says     string         `yaml:"says"`
	Law      string         `yaml:"law"`
	Harm     Harm           `yaml:"harm"`
	FailsKM  int            `yaml:"fails_km"` // 0: at once
	SoundKM  int            `yaml:"sound_km"`
	Cost     string         `yaml:"cost"`
	Fact     string         `yaml:"fact"`  // of the want
	Value    fact.Value     `yaml:"value"` // that would have done; empty is any
	Verb     operation.Verb `yaml:"verb"`  // of the step; empty is any
	Systems  []string       `yaml:"systems"`
	Makes    string         `yaml:"makes"`  // fact the step brings about; empty is any
	Undone   string         `yaml:"undone"` // kind of step left out
	Happens  string         `yaml:"happens"`
	Learning string         `yaml:"learning"` // what met it says: "pedal firm before it rolled"
}

// Truth is what is so of the car of one run and is not told.
type Truth struct {
	Wrong map[string]bool   // parts whose box holds another
	Fast  map[string]Seized // what sits fast, by joint and letter
	Shown map[string]string // wrong recipes, by joint
	Plays map[string]string // by joint and letter
}

// At names a fastener among what is hidden.
func At(joint, letter string) string { return joint + " " + letter }

// Truth draws what is hidden by a seed. Something always is: where the draw leaves nothing,
// all of it is there.
func (x *Exercise) Truth(seed uint64) Truth {
	for _, all := range []bool{false, true} {
		rng := rand.New(rand.NewPCG(seed, 0x70726163))
		here := func(chance float64) bool { return rng.Float64() < chance || all }
		t := Truth{
			Wrong: map[string]bool{},
			Fast:  map[string]Seized{},
			Shown: map[string]string{},
			Plays: map[string]string{},
		}
		for _, b := range x.Boxes {
			if here(b.Chance) {
				t.Wrong[b.Part] = true
			}
		}
		for _, s := range x.Seized {
			if here(s.Chance) {
				t.Fast[At(s.Joint, s.Letter)] = s
			}
		}
		for _, f := range x.Figures {
			if here(f.Chance) {
				t.Shown[f.Joint] = f.Shown
			}
		}
		for _, b := range x.Bolts {
			if here(b.Chance) {
				t.Plays[At(b.Joint, b.Letter)] = b.Plays
			}
		}
		if len(t.Wrong)+len(t.Fast)+len(t.Shown)+len(t.Plays) > 0 {
			return t
		}
	}
	return Truth{}
}

// Box is the box of a part; nil where none is opened in the exercise.
func (x *Exercise) Box(part string) *Box {
	i := slices.IndexFunc(x.Boxes, func(b Box) bool { return b.Part == part })
	if i < 0 {
		return nil
	}
	return &x.Boxes[i]
}
