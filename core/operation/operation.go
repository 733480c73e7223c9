// Package operation holds what one replacement is made of and compiles it for
// a vehicle into a plan.
package operation

// Operation is one replacement, for example "front hub unit".
type Operation struct {
	ID       string      `yaml:"id" json:"id"`
	Title    string      `yaml:"title" json:"title"`
	Family   string      `yaml:"family" json:"family"`
	Version  int         `yaml:"version" json:"version"`
	Axle     string      `yaml:"axle" json:"axle"`
	Warnings []string    `yaml:"warnings" json:"warnings"`
	Picture  Picture     `yaml:"picture" json:"picture"`
	Joints   []Joint     `yaml:"joints" json:"joints"`
	Parts    []Part      `yaml:"parts" json:"parts"`
	Drive    []Manoeuvre `yaml:"drive" json:"drive"`
	Steps    []Step      `yaml:"steps" json:"steps"`
}

// Manoeuvre is one thing to do on the road test that proves the repair.
type Manoeuvre struct {
	Do     string `yaml:"do" json:"do"`
	Listen string `yaml:"listen" json:"listen"`
}

// Joint is one fastened place of the operation. What the sheet says of it
// (recipe, thread, hardware) belongs to the pattern.
type Joint struct {
	Key    string  `yaml:"key" json:"key"`     // "knuckle"
	Spec   string  `yaml:"spec" json:"spec"`   // key in the pattern's sheet; "hub.front.knuckle"
	Title  string  `yaml:"title" json:"title"` // "knuckle bolts"
	One    string  `yaml:"one" json:"one"`     // "bolt": what one of them is called
	System string  `yaml:"system" json:"system"`
	Star   bool    `yaml:"star" json:"star"`   // tighten criss-cross
	Bears  bool    `yaml:"bears" json:"bears"` // must be set before weight rolls on it
	Again  bool    `yaml:"again" json:"again"` // done once more after the drive
	Tray   int     `yaml:"tray" json:"tray"`
	Size   float64 `yaml:"size" json:"size"` // of the sign in the picture
	Label  Point   `yaml:"label" json:"label"`
	At     []Point `yaml:"at" json:"at"`
}

// Point is a place in a picture, in its own units, y downward.
type Point [2]float64

// Picture is the geometry of a corner as seen from where one stands, drawn for
// the left side.
type Picture struct {
	Title  string  `yaml:"title" json:"title"`
	Width  float64 `yaml:"width" json:"width"`
	Height float64 `yaml:"height" json:"height"`
	Shapes []Shape `yaml:"shapes" json:"shapes"`
}

// Shape is one outline of a picture.
type Shape struct {
	Kind   string  `yaml:"kind" json:"kind"` // line, curve, closed, circle, spring
	Role   string  `yaml:"role" json:"role"` // metal, faint, bore
	Points []Point `yaml:"points" json:"points"`
	Radius float64 `yaml:"radius" json:"radius,omitempty"`
}

// Part is what must be at hand: the part itself, its hardware, what is used up.
type Part struct {
	Key    string `yaml:"key" json:"key"`
	Title  string `yaml:"title" json:"title"`
	Count  int    `yaml:"count" json:"count"`
	OneUse bool   `yaml:"one_use" json:"one_use"`
}

// Verb is what a step does.
type Verb string

// The verbs. Those from Crack to Tighten act on a joint.
const (
	Act     Verb = "act"     // anything done and kept with one key
	Crack   Verb = "crack"   // break loose, no further
	Remove  Verb = "remove"  // take out into a tray
	Start   Verb = "start"   // thread in by hand
	Tighten Verb = "tighten" // stages of the joint's recipe
	Soak    Verb = "soak"    // runs by itself
	Move    Verb = "move"    // changes the vehicle's position
	Compare Verb = "compare" // new against old
	Drive   Verb = "drive"   // the road test
)

// Position is how the vehicle stands.
type Position string

// The positions.
const (
	Ground   Position = "on its wheels"
	Raised   Position = "raised"
	RideHigh Position = "ride height"
	Touching Position = "tyre touching"
)

// Step is one act at one place.
type Step struct {
	ID       string   `yaml:"id" json:"id"`
	Verb     Verb     `yaml:"verb" json:"verb"`
	Title    string   `yaml:"title" json:"title"`
	How      string   `yaml:"how" json:"how"`
	Place    string   `yaml:"place" json:"place"`
	Joint    string   `yaml:"joint" json:"joint"`
	Stages   []int    `yaml:"stages" json:"stages,omitempty"` // first and last, from 1; none is all
	Again    bool     `yaml:"again" json:"again,omitempty"`   // the round after the drive
	Tool     string   `yaml:"tool" json:"tool"`
	Minutes  float64  `yaml:"minutes" json:"minutes"`
	People   int      `yaml:"people" json:"people,omitempty"`
	Position Position `yaml:"position" json:"position,omitempty"` // where it must stand
	MovesTo  Position `yaml:"moves_to" json:"moves_to,omitempty"`
	Holds    bool     `yaml:"holds" json:"holds,omitempty"` // rotation is held from here
	LetsGo   bool     `yaml:"lets_go" json:"lets_go,omitempty"`
	Puts     []string `yaml:"puts" json:"puts,omitempty"` // supports put in, to be counted out
	Takes    []string `yaml:"takes" json:"takes,omitempty"`
	Proves   string   `yaml:"proves" json:"proves,omitempty"` // gate this step meets
	Needs    []string `yaml:"needs" json:"needs,omitempty"`
	Because  string   `yaml:"because" json:"because,omitempty"` // why it stands where it does
	Caution  string   `yaml:"caution" json:"caution,omitempty"`
	Choices  []Choice `yaml:"choices" json:"choices,omitempty"`
	Compares []string `yaml:"compares" json:"compares,omitempty"`
	Shared   bool     `yaml:"shared" json:"shared,omitempty"` // once for the vehicle, whatever else is done
}

// Hands says that somebody's hands are on it.
func (s Step) Hands() bool { return s.Verb != Soak }

// NeedsTool is the tool to be fetched: empty for what is done by hand or foot.
func (s Step) NeedsTool() string {
	if s.Tool == "by hand" || s.Tool == "by foot" {
		return ""
	}
	return s.Tool
}

// Choice is an answer a step asks for.
type Choice struct {
	Key   string `yaml:"key" json:"key"`
	Title string `yaml:"title" json:"title"`
	Opens string `yaml:"opens" json:"opens,omitempty"` // a follow-up it books
}
