package operation

import "slices"

// Acts are the close-ups of what a step does, drawn for the left side on 600 by 420, and
// the pieces they are put together from.
type Acts struct {
	Pieces []Piece      `yaml:"pieces"`
	Acts   []ActPicture `yaml:"acts"`
}

// Piece is one thing that is drawn again and again: a hammer, a ball joint. Its origin is
// where it works.
type Piece struct {
	Key    string  `yaml:"key"`
	Shapes []Shape `yaml:"shapes"`
}

// ActPicture shows one act. It is for the steps it names, by owner and key, where they are
// done with its tool if it names one.
type ActPicture struct {
	Key    string   `yaml:"key"`
	Sees   string   `yaml:"sees"` // the act in words, for who does not see it
	Steps  []string `yaml:"steps"`
	Tool   string   `yaml:"tool"`
	Makes  string   `yaml:"makes"` // only where the step brings about this fact
	Pieces []Placed `yaml:"pieces"`
	Marks  []Mark   `yaml:"marks"`
}

// Placed is a piece in a picture.
type Placed struct {
	Piece string  `yaml:"piece"`
	At    Point   `yaml:"at"`
	Turn  float64 `yaml:"turn"`  // degrees clockwise
	Scale float64 `yaml:"scale"` // 1 where none is given
	Flip  bool    `yaml:"flip"`  // left for right, before it is turned
	Faint bool    `yaml:"faint"` // it stands by
}

// MarkKind is what a mark in a picture tells the hand.
type MarkKind string

// The marks.
const (
	MarkStrike  MarkKind = "strike"  // a blow from From to At
	MarkPush    MarkKind = "push"    // this way, from From to At
	MarkLoosen  MarkKind = "loosen"  // turn it so
	MarkTighten MarkKind = "tighten" // turn it so
	MarkNever   MarkKind = "never"   // not here
	MarkHold    MarkKind = "hold"    // here
	MarkLook    MarkKind = "look"    // here
	MarkSay     MarkKind = "say"     // a name
)

// Mark is one sign in a picture with its words.
type Mark struct {
	Kind   MarkKind `yaml:"kind"`
	At     Point    `yaml:"at"`
	From   Point    `yaml:"from"`
	Radius float64  `yaml:"radius"`
	Says   string   `yaml:"says"`
	Label  Point    `yaml:"label"` // the middle of its words
}

// For finds the picture of a step, by its owner and key, its tool and the facts it brings
// about; ok is false where there is none.
func (a *Acts) For(name, tool string, makes []string) (ActPicture, bool) {
	for _, p := range a.Acts {
		fits := p.Tool == "" || p.Tool == tool
		if p.Makes != "" {
			fits = fits && slices.Contains(makes, p.Makes)
		}
		if fits && slices.Contains(p.Steps, name) {
			return p, true
		}
	}
	return ActPicture{}, false
}

// RescueAct names the steps that free what broke; the tool tells their pictures apart.
const RescueAct = "rescue.out"

// Piece finds a piece by its key; ok is false where there is none.
func (a *Acts) Piece(key string) (Piece, bool) {
	for _, p := range a.Pieces {
		if p.Key == key {
			return p, true
		}
	}
	return Piece{}, false
}
