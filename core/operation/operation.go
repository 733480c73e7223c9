// Package operation is what the library says: operations, the ways to what they want,
// what can be so of a vehicle and what never may. Compiling them is package plan.
package operation

import (
	"cmp"
	"slices"
	"strings"

	"lugtak/core/fact"
	"lugtak/core/vehicle"
)

// Operation is one replacement, for example "front hub unit": only its own acts. What
// they want, as the wheel off, comes by ways.
type Operation struct {
	ID         string        `yaml:"id"`
	Title      string        `yaml:"title"`
	Family     string        `yaml:"family"`
	Version    int           `yaml:"version"`
	Axle       string        `yaml:"axle"`        // front, rear, any, or under for the middle of the vehicle
	Touch      string        `yaml:"touch"`       // where in the picture of its corner it is ordered: a frame of a part
	Fits       vehicle.Built `yaml:"fits"`        // how a vehicle must be built to have such a part
	Pairs      string        `yaml:"pairs"`       // why both sides are done; empty: by wear
	Model      *Model        `yaml:"model"`       // nil: nothing is copied from the other side
	FarFirst   bool          `yaml:"far_first"`   // the right side before the left, whatever else is done there
	ByDistance *ByDistance   `yaml:"by_distance"` // nil: renewed on finding only
	Sets       []Setting     `yaml:"sets"`        // of the wheels
	Warnings   []string      `yaml:"warnings"`
	Joints     []Joint       `yaml:"joints"`
	Parts      []Part        `yaml:"parts"`
	Drive      []Manoeuvre   `yaml:"drive"`
	Wants      []Want        `yaml:"wants"` // of every step, where it does not say otherwise
	Steps      []Step        `yaml:"steps"`
}

// Way turns a fact from its rest and back: wheel off, wheel on. One without openings
// only puts right what others have disturbed.
type Way struct {
	ID      string              `yaml:"id"`
	Title   string              `yaml:"title"`
	Version int                 `yaml:"version"`
	Axle    string              `yaml:"axle"`
	Fact    string              `yaml:"fact"`
	To      fact.Value          `yaml:"to"`
	When    map[string][]string `yaml:"when"`  // schools and builds it is for
	Given   map[string]string   `yaml:"given"` // facts something else in the plan makes
	Each    bool                `yaml:"each"`  // gone for each who wants it, not once for all
	Sets    []Setting           `yaml:"sets"`
	Warns   []string            `yaml:"warnings"`
	Joints  []Joint             `yaml:"joints"`
	Parts   []Part              `yaml:"parts"`
	Wants   []Want              `yaml:"wants"`
	Open    []Step              `yaml:"open"`
	Close   []Step              `yaml:"close"`
}

// Want is what a step needs to be true when it comes: a fact, or how a joint's
// fasteners stand.
type Want struct {
	Fact    string `yaml:"fact"`
	Joint   string `yaml:"joint"` // of this file, or owner.joint
	Value   string `yaml:"value"` // several that would do are parted by a bar
	Because string `yaml:"because"`

	Soft  bool                `yaml:"soft"`  // only where something in the plan makes it
	Still bool                `yaml:"still"` // only as long as nothing that was done before this plan has undone it
	When  map[string][]string `yaml:"when"`
}

// FactKind is what can be so of a vehicle at a place.
type FactKind struct {
	Fact    string      `yaml:"fact"`
	Place   string      `yaml:"place"` // corner, axle, whole, or any: a corner, else under the middle
	Rest    fact.Value  `yaml:"rest"`
	Others  []FactValue `yaml:"others"`
	Stays   bool        `yaml:"stays"`   // it may be otherwise when the work is done
	Alone   bool        `yaml:"alone"`   // at one corner at a time
	Because string      `yaml:"because"` // why it is wanted at rest, where a want does not say
}

// FactValue is one way a fact may stand, with the reason it is wanted so where a want
// does not say.
type FactValue struct {
	Value    fact.Value `yaml:"value"`
	Because  string     `yaml:"because"`
	Minutes  float64    `yaml:"minutes"`  // it may stay so, at most; 0 is any
	Attended bool       `yaml:"attended"` // somebody stays by it
	Over     string     `yaml:"over"`     // what is done where the work takes longer than it may stay so
}

// Law is what must be so whenever something else comes true.
type Law struct {
	ID        string         `yaml:"id"`
	Says      string         `yaml:"says"`
	On        Want           `yaml:"on"`
	While     bool           `yaml:"while"` // and for as long as it is true
	Clear     string         `yaml:"clear"` // "corner": for so long nobody has hands at one
	Wants     []LawWant      `yaml:"wants"`
	Fasteners []FastenersLaw `yaml:"fasteners"`
}

// Corner is what a law keeps hands clear of.
const Corner = "corner"

// LawWant is what a law asks of a fact: at the place the law is about, on its axle, at the whole vehicle; of a law
// about the whole vehicle everywhere.
type LawWant struct {
	Fact   string              `yaml:"fact"` // "*" is every one, wanted at rest
	Value  string              `yaml:"value"`
	Where  Reach               `yaml:"where"`
	Brings bool                `yaml:"brings"` // also where no step touches it: a way is taken to it
	When   map[string][]string `yaml:"when"`
}

// Reach is where a law looks that does not mean its own place.
type Reach string

// What a law about one corner may ask of others.
const (
	Elsewhere Reach = "elsewhere"  // every other corner
	OtherSide Reach = "other side" // of the same axle
)

// FastenersLaw is what a law asks of fasteners.
type FastenersLaw struct {
	Systems []string            `yaml:"systems"`
	Bears   bool                `yaml:"bears"`
	Own     bool                `yaml:"own"`   // free work named their joint, and nobody proved what hangs on it
	Stops   string              `yaml:"stops"` // what their joint stops from falling
	Not     []vehicle.Condition `yaml:"not"`   // those tightened so are left out
	Value   string              `yaml:"value"`
}

// Under is the axle of what is done in the middle of the vehicle.
const Under = "under"

// AxleKey in a "when" asks for the axle of the corner at hand instead of a school or build.
const AxleKey = "axle"

// SideKey in a "when" asks for the side of the corner at hand.
const SideKey = "side"

// EndsKey in a "when" asks at which ends of the vehicle something is done: front, rear or both.
const EndsKey = "ends"

// ClampedKey in a "when" asks whether rubber is clamped at ride height at the corner at hand: yes or no.
const ClampedKey = "clamped"

// BothEnds is the answer where something is done at each.
const BothEnds = "both"

// Setting is what an operation moves of the wheels' alignment, and by what.
type Setting struct {
	What  string              `yaml:"what"` // toe, camber or caster
	Cause string              `yaml:"cause"`
	Sure  bool                `yaml:"sure"` // it always moves; else it is asked
	When  map[string][]string `yaml:"when"` // school or trait, and its ways
}

// Model is what the other side of the axle shows while it is whole: from the first of some
// steps until the last of others is done, only one side is apart.
type Model struct {
	Shows string   `yaml:"shows"` // "how springs and clips lie"
	From  []StepID `yaml:"from"`
	Until []StepID `yaml:"until"`
}

// ByDistance is after how far a part is offered for renewal while its neighbour is in
// hand, though nothing was found on it.
type ByDistance struct {
	KM      int    `yaml:"km"`
	Because string `yaml:"because"`
}

// School is a question on which good technicians disagree, with its accepted ways.
type School struct {
	Key      string      `yaml:"key"`
	Question string      `yaml:"question"`
	Ways     []SchoolWay `yaml:"ways"`
	Default  string      `yaml:"default"`
	Because  string      `yaml:"because"`

	Verdicts map[string]string `yaml:"verdicts"` // the way that what was measured asks for: replace: always
}

// Rescue is what a mishap puts into a plan, in the words of the library.
type Rescue struct {
	Trouble string   `yaml:"trouble"` // its code
	Makes   []string `yaml:"makes"`   // it happens at a step that brings about one of these facts; none: at a fastener
	Way     string   `yaml:"way"`     // one of several ways out; the first is taken unless somebody chooses
	Name    string   `yaml:"name"`    // of the way
	Odds    float64  `yaml:"odds"`    // that it frees
	Risk    string   `yaml:"risk"`    // what it may cost
	Asks    []string `yaml:"asks"`    // what is said before it is chosen: it is taken by nobody else
	Title   string   `yaml:"title"`
	How     string   `yaml:"how"`
	Tool    string   `yaml:"tool"`
	Minutes float64  `yaml:"minutes"`
	Because string   `yaml:"because"`
	Caution string   `yaml:"caution"`
}

// SchoolWay is one accepted way of a school.
type SchoolWay struct {
	Key   string `yaml:"key"`
	Title string `yaml:"title"`
}

// Build is a question how a vehicle is built, with its drawn answers. Where nobody has
// answered yet, the one taken for it is Assume.
type Build struct {
	Key      string        `yaml:"key"`
	Question string        `yaml:"question"`
	Look     string        `yaml:"look"` // where one sees it
	Assume   string        `yaml:"assume"`
	Intake   bool          `yaml:"intake"` // asked when a vehicle comes in, all others when a plan needs them
	Answers  []BuildAnswer `yaml:"answers"`
}

// BuildAnswer is one thing one may see, as a drawing of 120 by 80.
type BuildAnswer struct {
	Key    string  `yaml:"key"`
	Title  string  `yaml:"title"`
	Shapes []Shape `yaml:"shapes"`
}

// Manoeuvre is one thing to do on the road test that proves the repair.
type Manoeuvre struct {
	Do     string `yaml:"do"`
	Listen string `yaml:"listen"`
	// A series of like stops, where it is one: how many, between which speeds, begun how far apart.
	Stops     int     `yaml:"stops"`
	FromKMH   float64 `yaml:"from_kmh"`
	ToKMH     float64 `yaml:"to_kmh"`
	IntervalS float64 `yaml:"interval_s"`
	Driving   `yaml:",inline"`
}

// Driving is how a manoeuvre is driven.
type Driving struct {
	KMH     float64 `yaml:"kmh"` // at most; 0 where it stands
	Surface string  `yaml:"surface"`
	Feel    string  `yaml:"feel"`
	Watch   string  `yaml:"watch"`
	Stop    string  `yaml:"stop"` // when one stops
}

// Driven says how one of the manoeuvres is driven, by the shop's list.
type Driven struct {
	Do      string `yaml:"do"`
	Driving `yaml:",inline"`
}

// Drives adds a manoeuvre to those of a drive. One that several operations ask for is driven
// once, and what each of them listens for is listened for then.
func Drives(all []Manoeuvre, m Manoeuvre) []Manoeuvre {
	i := slices.IndexFunc(all, func(o Manoeuvre) bool { return o.Do == m.Do })
	if i < 0 {
		return append(all, m)
	}
	heard := strings.Split(all[i].Listen, ", ")
	for _, sign := range strings.Split(m.Listen, ", ") {
		if !slices.Contains(heard, sign) {
			heard = append(heard, sign)
		}
	}
	all[i].Listen = strings.Join(heard, ", ")
	return all
}

// Joint is one fastened place of the operation. What the sheet says of it
// (recipe, thread, hardware) belongs to the pattern.
type Joint struct {
	Key        string                       `yaml:"key"`   // "knuckle"
	Spec       string                       `yaml:"spec"`  // key in the sheet; "hub.front.knuckle", or "hub.{axle}.wheel"
	Title      string                       `yaml:"title"` // "knuckle bolts"
	One        string                       `yaml:"one"`   // "bolt": what one of them is called
	System     string                       `yaml:"system"`
	Star       bool                         `yaml:"star"`        // tighten criss-cross
	Bears      bool                         `yaml:"bears"`       // must be set before weight rolls on it
	Named      map[string]string            `yaml:"named"`       // what one is called by build: "axle-nut=bolt: axle bolt"
	Stops      string                       `yaml:"stops"`       // what falls when it is open: arm, knuckle
	AfterDrive bool                         `yaml:"after_drive"` // done once more after the drive
	Play       string                       `yaml:"play"`        // the measure that proves it, where no torque does
	FollowUp   bool                         `yaml:"follow_up"`   // tightened again after some distance
	Seizes     bool                         `yaml:"seizes"`      // soaks before it is broken loose
	Optional   bool                         `yaml:"optional"`    // only where the sheet has it
	Opening    string                       `yaml:"opening"`     // which one of two in a job: "vent"
	MakerOnly  bool                         `yaml:"maker_only"`  // a slot, a preload, rubber: never by the bolt
	Usual      Customary                    `yaml:"usual"`       // what the trade takes for it where the sheet is silent
	When       map[string][]string          `yaml:"when"`        // school or trait, and its ways
	By         map[string]vehicle.Condition `yaml:"by"`          // condition by school: "hub-nut=ground": wheel on ground
	Points     string                       `yaml:"points"`      // which way it points
	Stack      []string                     `yaml:"stack"`       // what lies on it, from the head outward
	Fasteners  int                          `yaml:"count"`       // of its fasteners, where the sheet does not say
	Spot       *Point                       `yaml:"-"`           // where it was touched in the picture of its corner
}

// Customary is what holds of such a joint on most vehicles (common practice).
type Customary struct {
	Condition vehicle.Condition `yaml:"condition"`
	Held      bool              `yaml:"held"`
	Renew     bool              `yaml:"renew"`
	Hardware  string            `yaml:"hardware"`
}

// Over fills in what a sheet does not say of a joint.
func (u Customary) Over(s vehicle.Spec) vehicle.Spec {
	s.Condition = cmp.Or(s.Condition, u.Condition, vehicle.AnyCondition)
	s.Held = s.Held || u.Held
	s.Renew = s.Renew || u.Renew
	s.Hardware = cmp.Or(s.Hardware, u.Hardware)
	return s
}

// Point is a place in a picture, y downward: of a corner, as its left side is drawn, or of a small drawing.
type Point [2]float64

// Shape is one outline of a picture.
type Shape struct {
	Kind   string  `yaml:"kind"` // line, curve, closed, circle, spring
	Role   string  `yaml:"role"` // metal, faint, bore
	Points []Point `yaml:"points"`
	Radius float64 `yaml:"radius"`
}

// Part is what must be at hand: the part itself, its hardware, what is used up.
type Part struct {
	Key    string `yaml:"key"`
	Title  string `yaml:"title"`
	Count  int    `yaml:"count"`
	OneUse bool   `yaml:"one_use"`
	Used   bool   `yaml:"used"`  // used up: once for the whole plan
	Kind   string `yaml:"kind"`  // what it is compared by, new against old
	Sided  bool   `yaml:"sided"` // left and right are not the same part

	When map[string][]string `yaml:"when"`
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

// StepID names a step: in a file by its key, in a plan "caliper.hang.FL", by owner, key
// and corner.
type StepID string

// Step is one act at one place, as the library tells it.
type Step struct {
	ID         StepID            `yaml:"id"`
	Verb       Verb              `yaml:"verb"`
	Title      string            `yaml:"title"`
	How        string            `yaml:"how"`
	Place      string            `yaml:"place"`
	Joint      string            `yaml:"joint"`
	Stages     []int             `yaml:"stages"`      // first and last, from 1; none is all
	AfterDrive bool              `yaml:"after_drive"` // the round after the drive
	Snug       bool              `yaml:"snug"`        // started by hand, and drawn up until it is just snug
	Tool       string            `yaml:"tool"`
	Uses       []string          `yaml:"uses"` // what it holds beside its tool
	Minutes    float64           `yaml:"minutes"`
	People     int               `yaml:"people"`
	Pair       string            `yaml:"pair"` // who has hands where, of two
	Wants      []Want            `yaml:"wants"`
	Makes      map[string]string `yaml:"makes"`
	Waits      bool              `yaml:"waits"` // somebody stays at it until it is as it was
	Both       bool              `yaml:"both"`  // done once, where both sides of the axle are ordered
	Late       bool              `yaml:"late"`  // what it wants at rest is as restored, not as found
	Early      bool              `yaml:"early"` // as found, not as restored
	Needs      []StepID          `yaml:"needs"` // an order that no fact stands behind
	Puts       []string          `yaml:"puts"`  // supports put in, to be counted out
	Takes      []string          `yaml:"takes"`
	Proves     Proof             `yaml:"proves"`  // gate this step meets
	Because    string            `yaml:"because"` // why it is done so; why it stands where it does is read from its wants
	Caution    string            `yaml:"caution"`
	Answers    []Answer          `yaml:"answers"`
	Compares   []string          `yaml:"compares"`
	Measures   []string          `yaml:"measures"` // limits, or rotor, lash, lining: nothing is kept before they are taken
	Anew       bool              `yaml:"anew"`     // what the walk-round measured does not count for it
	Books      string            `yaml:"books"`    // the fluid that leaves here: what came out and went in is written down
	Part       string            `yaml:"part"`     // that must be there for it
	Counts     string            `yaml:"counts"`   // turns asked for: "out", or "in" where they must agree
	Shared     bool              `yaml:"shared"`   // once for the vehicle, whatever else is done

	When map[string][]string `yaml:"when"`
}

// Pair is who has hands where in a step of two, and the words they say: nothing moves before.
type Pair struct {
	Key   string   `yaml:"key"`
	One   string   `yaml:"one"`
	Two   string   `yaml:"two"`
	Words []string `yaml:"words"`
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
	Key   string `yaml:"key"`
	Title string `yaml:"title"`
	Opens string `yaml:"opens"` // a follow-up it books
}

// Reason is why a fact is wanted so where a want does not say; ok is false where it is
// never so.
func (k FactKind) Reason(v fact.Value) (because string, ok bool) {
	if v == k.Rest {
		return k.Because, true
	}
	for _, o := range k.Others {
		if o.Value == v {
			return o.Because, true
		}
	}
	return "", false
}

// Values are all the ways a fact may stand, the one at rest first.
func (k FactKind) Values() fact.Values {
	out := fact.Values{k.Rest}
	for _, o := range k.Others {
		out = append(out, o.Value)
	}
	return out
}

// Proof names the gate a step meets.
type Proof string

// The proofs that rules ask for.
const (
	ProvesPedal     Proof = "pedal"
	ProvesOilLevel  Proof = "oil-level"
	ProvesAlignment Proof = "alignment"
	ProvesDrive     Proof = "drive"
)
