// Package operation holds what one replacement is made of and compiles it for
// a vehicle into a plan.
package operation

import (
	"strings"

	"lugtak/core/vehicle"
)

// Operation is one replacement, for example "front hub unit". An access, as
// "wheel off", is one nobody orders by itself: operations use it, and where
// several do it is opened once and closed once.
type Operation struct {
	ID       string      `yaml:"id" json:"id"`
	Title    string      `yaml:"title" json:"title"`
	Family   string      `yaml:"family" json:"family"`
	Version  int         `yaml:"version" json:"version"`
	Axle     string      `yaml:"axle" json:"axle"`   // front, rear, any, or under for the middle of the vehicle
	Uses     []string    `yaml:"uses" json:"uses"`   // accesses, the outermost first
	Pairs    string      `yaml:"pairs" json:"pairs"` // why both sides are done; empty: by wear
	Sets     []Setting   `yaml:"sets" json:"sets"`   // of the wheels
	Warnings []string    `yaml:"warnings" json:"warnings"`
	Picture  Picture     `yaml:"picture" json:"picture"`
	Joints   []Joint     `yaml:"joints" json:"joints"`
	Parts    []Part      `yaml:"parts" json:"parts"`
	Drive    []Manoeuvre `yaml:"drive" json:"drive"`
	Steps    []Step      `yaml:"steps" json:"steps"`
}

// Under is the axle of what is done in the middle of the vehicle.
const Under = "under"

// Setting is what an operation moves of the wheels' alignment, and by what.
type Setting struct {
	What  string `yaml:"what" json:"what"` // toe, camber or caster
	Cause string `yaml:"cause" json:"cause"`
	Sure  bool   `yaml:"sure" json:"sure"` // it always moves; else it is asked
}

// School is a question on which good technicians disagree, with its accepted ways.
type School struct {
	Key      string `yaml:"key" json:"key"`
	Question string `yaml:"question" json:"question"`
	Ways     []Way  `yaml:"ways" json:"ways"`
	Default  string `yaml:"default" json:"default"`
	Because  string `yaml:"because" json:"because"`
}

// Way is one accepted way of a school.
type Way struct {
	Key   string `yaml:"key" json:"key"`
	Title string `yaml:"title" json:"title"`
}

// Manoeuvre is one thing to do on the road test that proves the repair.
type Manoeuvre struct {
	Do     string `yaml:"do" json:"do"`
	Listen string `yaml:"listen" json:"listen"`
}

// Joint is one fastened place of the operation. What the sheet says of it
// (recipe, thread, hardware) belongs to the pattern.
type Joint struct {
	Key        string                       `yaml:"key" json:"key"`     // "knuckle"
	Spec       string                       `yaml:"spec" json:"spec"`   // key in the pattern's sheet; "hub.front.knuckle", or "hub.{axle}.wheel"
	Title      string                       `yaml:"title" json:"title"` // "knuckle bolts"
	One        string                       `yaml:"one" json:"one"`     // "bolt": what one of them is called
	System     string                       `yaml:"system" json:"system"`
	Star       bool                         `yaml:"star" json:"star"`                   // tighten criss-cross
	Bears      bool                         `yaml:"bears" json:"bears"`                 // must be set before weight rolls on it
	AfterDrive bool                         `yaml:"after_drive" json:"after_drive"`     // done once more after the drive
	Seizes     bool                         `yaml:"seizes" json:"seizes,omitempty"`     // soaks before it is broken loose
	Optional   bool                         `yaml:"optional" json:"optional,omitempty"` // only where the sheet has it
	When       map[string][]string          `yaml:"when" json:"-"`                      // school or trait, and its ways
	By         map[string]vehicle.Condition `yaml:"by" json:"-"`                        // condition by school: "hub-nut=ground": wheel on ground
	Points     string                       `yaml:"points" json:"points,omitempty"`     // which way it points
	Stack      []string                     `yaml:"stack" json:"stack,omitempty"`       // what lies on it, from the head outward
	Size       float64                      `yaml:"size" json:"size"`                   // of the sign in the picture
	Label      Point                        `yaml:"label" json:"label"`
	At         []Point                      `yaml:"at" json:"at"`
}

// Point is a place in a picture, in its own units, y downward.
type Point [2]float64

// Picture is the geometry of a corner as seen from where one stands, drawn for
// the left side.
type Picture struct {
	Like   string  `yaml:"like" json:"-"` // a place of pictures.yaml its shapes are drawn over, or PatternCorner
	Title  string  `yaml:"title" json:"title"`
	Width  float64 `yaml:"width" json:"width"`
	Height float64 `yaml:"height" json:"height"`
	Shapes []Shape `yaml:"shapes" json:"shapes"`
}

// PatternCorner is the place a picture is like where the vehicle's pattern says which:
// by its trait "front-corner" or "rear-corner".
const PatternCorner = "corner"

// Place is a picture several operations are shown at.
type Place struct {
	Key     string `yaml:"key"`
	Picture `yaml:",inline"`
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
	Used   bool   `yaml:"used" json:"used,omitempty"`   // used up: once for the whole plan
	Kind   string `yaml:"kind" json:"kind,omitempty"`   // what it is compared by, new against old
	Sided  bool   `yaml:"sided" json:"sided,omitempty"` // left and right are not the same part

	When map[string][]string `yaml:"when" json:"-"`
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

// OnJoint says that a step of this verb acts on the fasteners of a joint.
func (v Verb) OnJoint() bool { return v == Crack || v == Remove || v == Start || v == Tighten }

// Position is how the vehicle stands.
type Position string

// The positions.
const (
	Ground   Position = "on its wheels"
	Raised   Position = "raised"
	RideHigh Position = "ride height"
	Touching Position = "tyre touching"
)

// Stands says that a vehicle so placed also stands as wanted: one on its wheels
// is also one whose tyre touches, at ride height.
func (is Position) Stands(wants Position) bool {
	return is == wants || (wants == Touching && is == Ground) || (wants == RideHigh && is == Ground)
}

// StepID names a step of a plan: "caliper.hang.FL", its owner, key and corner. In a file
// it is the key alone, or owner.key.
type StepID string

// at is a step as it is needed at a corner, which is settled when all steps are known.
func (id StepID) at(c vehicle.Corner) StepID { return id + "|" + StepID(c) }

// plain is a step without the mark that it may be missing.
func (id StepID) plain() StepID { return StepID(strings.TrimSuffix(string(id), "?")) }

// under is the name of a step that belongs to an operation or access.
func under(owner string, id StepID) StepID { return StepID(owner) + "." + id }

// Step is one act at one place.
type Step struct {
	ID         StepID   `yaml:"id" json:"id"`
	Verb       Verb     `yaml:"verb" json:"verb"`
	Title      string   `yaml:"title" json:"title"`
	How        string   `yaml:"how" json:"how"`
	Place      string   `yaml:"place" json:"place"`
	Joint      string   `yaml:"joint" json:"joint"`
	Stages     []int    `yaml:"stages" json:"stages,omitempty"`           // first and last, from 1; none is all
	AfterDrive bool     `yaml:"after_drive" json:"after_drive,omitempty"` // the round after the drive
	Tool       string   `yaml:"tool" json:"tool"`
	Minutes    float64  `yaml:"minutes" json:"minutes"`
	People     int      `yaml:"people" json:"people,omitempty"`
	Position   Position `yaml:"position" json:"position,omitempty"` // where it must stand
	MovesTo    Position `yaml:"moves_to" json:"moves_to,omitempty"`
	Holds      bool     `yaml:"holds" json:"holds,omitempty"` // rotation is held from here
	LetsGo     bool     `yaml:"lets_go" json:"lets_go,omitempty"`
	Puts       []string `yaml:"puts" json:"puts,omitempty"` // supports put in, to be counted out
	Takes      []string `yaml:"takes" json:"takes,omitempty"`
	Proves     string   `yaml:"proves" json:"proves,omitempty"` // gate this step meets
	Needs      []StepID `yaml:"needs" json:"needs,omitempty"`
	Because    string   `yaml:"because" json:"because,omitempty"` // why it stands where it does
	Caution    string   `yaml:"caution" json:"caution,omitempty"`
	Answers    []Answer `yaml:"answers" json:"answers,omitempty"`
	Compares   []string `yaml:"compares" json:"compares,omitempty"`
	Part       string   `yaml:"part" json:"part,omitempty"`     // that must be there for it
	Counts     string   `yaml:"counts" json:"counts,omitempty"` // turns asked for: "out", or "in" where they must agree
	Shared     bool     `yaml:"shared" json:"shared,omitempty"` // once for the vehicle, whatever else is done
	Closes     StepID   `yaml:"closes" json:"-"`                // the step whose access it closes: it waits for all done in there
	Before     []StepID `yaml:"before" json:"-"`                // steps that need this one

	When map[string][]string `yaml:"when" json:"-"`

	// What compiling adds.
	Corner vehicle.Corner `yaml:"-" json:"corner,omitempty"`
	Owner  string         `yaml:"-" json:"owner,omitempty"` // operation or access it belongs to
	Scene  int            `yaml:"-" json:"scene,omitempty"` // picture it is shown in
	Low    float64        `yaml:"-" json:"low,omitempty"`   // minutes, where the shop has timed it
	High   float64        `yaml:"-" json:"high,omitempty"`
	Timed  int            `yaml:"-" json:"timed,omitempty"` // on how many jobs
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

// Answer is one a step asks for.
type Answer struct {
	Key   string `yaml:"key" json:"key"`
	Title string `yaml:"title" json:"title"`
	Opens string `yaml:"opens" json:"opens,omitempty"` // a follow-up it books
}
