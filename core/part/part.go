// Package part compares a new part with the old before it goes in: what differs,
// by how much, and what the difference does. Lengths are millimetres, angles
// degrees.
package part

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/unit"
)

// Verdict is what a comparison comes to.
type Verdict string

// Verdicts on a part.
const (
	Fits     Verdict = "fits"
	FitsWith Verdict = "fits_with" // with the differences named, for the technician to decide
	Refused  Verdict = "refused"
)

// Difference is one measure that is not the same.
type Difference struct {
	Field    string
	Old, New float64
	Effect   string
	Bars     bool // the part cannot go in or must not
}

// Result is what a comparison comes to. Missing names what was measured on one of
// the two only, or on neither though it decides.
type Result struct {
	Verdict     Verdict
	Differences []Difference
	Missing     []string
}

// measure is one thing to compare: within a tolerance it is the same, beyond the
// second it bars the part, between them the effect says what it does.
type measure struct {
	field  string
	same   float64 // up to here the gauge's error or of no matter
	bars   float64 // from here on the part is refused; 0 never is
	must   bool    // not compared is not decided
	byEye  bool    // no gauge tells it: alike, or not
	effect func(old, new float64, all pair) string
	only   string // "less" or "more": the other direction does not bar
}

type pair struct{ old, new map[string]float64 }

func (p pair) get(field string, or float64) float64 {
	if v, ok := p.new[field]; ok {
		return v
	}
	if v, ok := p.old[field]; ok {
		return v
	}
	return or
}

func n(v float64) string { return unit.Number(math.Abs(v), 2) }

// says makes an effect of a plain sentence with the difference in it.
func says(format string) func(float64, float64, pair) string {
	return func(old, new float64, _ pair) string {
		word := "more"
		if new < old {
			word = "less"
		}
		return fmt.Sprintf(format, n(new-old), word)
	}
}

// plainly says a sentence without the figure.
func plainly(text string) func(float64, float64, pair) string {
	return func(float64, float64, pair) string { return text }
}

func teeth(old, new float64, _ pair) string {
	pct, err := inspect.ToneRing(int(old), int(new))
	if err != nil {
		return "The sensor reads another speed."
	}
	word := "high"
	if pct < 0 {
		word = "low"
	}
	return fmt.Sprintf("The sensor reads %.1f %% too %s: brake and stability control work on a wrong speed.",
		math.Abs(pct), word)
}

// rodLength: a longer rod is so many turns of its thread, and so much toe.
func rodLength(old, new float64, all pair) string {
	d := new - old
	pitch, arm := all.get("pitch_mm", usualPitch), all.get("arm_mm", usualArm)
	deg, mm, err := inspect.Toe(d/pitch, pitch, arm, all.get("rim_mm", 400))
	if err != nil {
		return "The start position of the rod moves: count the turns anew and align."
	}
	said := fmt.Sprintf("At the old turns the toe moves by %s° (%s mm at the rim): start %s turns further %s, and align.",
		n(deg), n(mm), n(d/pitch), inOrOut(d))
	var taken []string
	if all.get("arm_mm", 0) == 0 {
		taken = append(taken, "a steering arm of "+n(usualArm)+" mm")
	}
	if all.get("pitch_mm", 0) == 0 {
		taken = append(taken, "a pitch of "+n(usualPitch)+" mm")
	}
	if len(taken) > 0 {
		said += " That takes " + strings.Join(taken, " and ") + ", which nobody measured."
	}
	return said
}

// What is taken where nobody measured, mm (common practice), and said.
const (
	usualPitch = 1.5
	usualArm   = 140
)

// flange: the same force on another ring is another pressure.
func flange(old, new float64, all pair) string {
	hole := all.get("hole_mm", 0)
	if hole <= 0 || hole >= math.Min(old, new) {
		return "The pressure under the head changes: measure the hole, and reckon it."
	}
	ratio := (old*old - hole*hole) / (new*new - hole*hole)
	return fmt.Sprintf("The pressure under the head is %.0f %% of the old one: see whether the part bears it, "+
		"or keep the old nuts.", 100*ratio)
}

func axleLength(old, new float64, all pair) string {
	d := new - old
	return fmt.Sprintf("The inner joint stands %s mm further %s than before: look at what plunge is left both ways.",
		n(d), inOrOut(d))
}

// inOrOut is the way that a longer part, or a shorter one, moves things.
func inOrOut(longer float64) string {
	if longer > 0 {
		return "in"
	}
	return "out"
}

var (
	bolts = measure{field: "bolt_circle_mm", same: 0.1, bars: 0.3, must: true,
		effect: says("The bolts stand %s mm %s apart: they do not meet their holes.")}
	holes  = measure{field: "holes", bars: 1, must: true, effect: says("%s holes %s: it is another part.")}
	thread = measure{field: "thread_mm", same: 0.05, bars: 0.1, must: true,
		effect: says("The thread is %s mm %s across: another nut or hole.")}
	pitch = measure{field: "pitch_mm", same: 0.01, bars: 0.02,
		effect: says("The pitch is %s mm %s: it crosses.")}
	across = measure{field: "joint_mm", same: 1, bars: 6, only: "more",
		effect: says("The joint is %s mm %s across: turn it by hand lock to lock and look for what it meets.")}
	splines = measure{field: "splines", bars: 1, must: true, effect: says("%s splines %s: it does not go in.")}
	ring    = measure{field: "ring_teeth", bars: 1, effect: teeth}
	taperA  = measure{field: "taper_mm", same: 0.1, bars: 0.3, must: true,
		effect: says("The taper is %s mm %s across: the stud sits too deep or not at all.")}
	length = func(same, bars float64, effect func(float64, float64, pair) string) measure {
		return measure{field: "length_mm", same: same, bars: bars, effect: effect}
	}
)

// kinds lists what is compared on each part (common practice).
var kinds = map[string][]measure{
	"drive axle": {
		{field: "length_mm", same: 2, bars: 15, must: true, effect: axleLength},
		{field: "compressed_mm", same: 2, bars: 15, effect: axleLength},
		splines,
		{field: "splines_inner", bars: 1, effect: says("%s splines %s at the gearbox: it does not go in.")},
		{field: "spline_mm", same: 0.1, bars: 0.3, effect: says("The splines are %s mm %s across.")},
		ring,
		{field: "flange_circle_mm", same: 0.1, bars: 0.3,
			effect: says("The flange bolts stand %s mm %s apart: they do not meet.")},
		thread,
		across,
		{field: "washers", bars: 0,
			effect: says("%s washers or spacers %s: move the old one over, or ask what replaced it.")},
	},
	"hub unit": {
		bolts, holes,
		{field: "pilot_mm", same: 0.05, bars: 0.15, must: true,
			effect: says("The pilot is %s mm %s across: loose it sits askew, tight it does not go in.")},
		{field: "pilot_depth_mm", same: 0.2, bars: 3,
			effect: says("The hub stands %s mm %s deep: wheel and rotor move by as much, and the sensor's gap with them.")},
		splines, ring,
		{field: "stud_mm", same: 0.05, bars: 0.1, effect: says("The wheel studs are %s mm %s across: other nuts.")},
		{field: "flange_mm", same: 0.2, bars: 4,
			effect: says("The flange is %s mm %s thick: bolt length and wheel position change by it.")},
	},
	"strut": {
		{field: "extended_mm", same: 5, bars: 25, must: true,
			effect: says("Extended it is %s mm %s: the wheel hangs as much lower or higher.")},
		{field: "compressed_mm", same: 5, bars: 15,
			effect: says("Compressed it is %s mm %s: look where the bump stop meets.")},
		{field: "studs", bars: 1, must: true, effect: says("%s studs %s at the top.")},
		{field: "stud_circle_mm", same: 0.3, bars: 0.8,
			effect: says("The studs stand %s mm %s apart: they do not meet.")},
		{field: "bracket_holes_mm", same: 0.2, bars: 0.6, must: true,
			effect: says("The bracket's holes stand %s mm %s apart: camber moves, or the bolts do not meet.")},
		{field: "seat_mm", same: 1, bars: 4,
			effect: says("The spring seat is %s mm %s across: the spring does not sit.")},
		{field: "flange_mm", same: 0.2, effect: flange},
	},
	"damper": {
		{field: "extended_mm", same: 5, bars: 25, must: true,
			effect: says("Extended it is %s mm %s: something else stops the wheel's travel.")},
		{field: "compressed_mm", same: 5, bars: 15, must: true,
			effect: says("Compressed it is %s mm %s: look where the bump stop meets; too long, it bottoms.")},
		{field: "stem_mm", same: 0.05, bars: 0.1,
			effect: says("The stem's thread is %s mm %s across: another nut.")},
		{field: "eye_mm", same: 0.1, bars: 0.5, effect: says("The eye's bore is %s mm %s: another bolt.")},
		{field: "eye_width_mm", same: 0.5, bars: 3,
			effect: says("The eye is %s mm %s wide: it does not sit between its bracket.")},
		{field: "foot_holes_mm", same: 0.3, bars: 1,
			effect: says("The foot's holes stand %s mm %s apart: they do not meet.")},
	},
	"idler arm": {
		taperA,
		length(0.5, 4, says("The arm is %s mm %s long: one wheel steers more than the other.")), bolts,
		{field: "hole_height_mm", same: 0.5, bars: 3,
			effect: says("The cross hole stands %s mm %s high: see that the slots reach it.")},
	},
	"ball joint": {
		taperA,
		{field: "stud_mm", same: 0.5, bars: 4,
			effect: says("The stud is %s mm %s long: the slots meet another height of the hole.")},
		thread, bolts,
		{field: "hole_height_mm", same: 0.5, bars: 3,
			effect: says("The cross hole stands %s mm %s high: see that the slots reach it.")},
	},
	"tie rod": {
		thread, pitch,
		{field: "hand", bars: 1, must: true,
			byEye: true, effect: plainly("The thread runs the other way: left and right are mixed.")},
		length(0.5, 25, rodLength),
		taperA,
	},
	"control arm": {
		{field: "bush_deg", same: 2, bars: 10,
			effect: says("The bush stands %s° %s in its eye: it would be clamped twisted.")},
		taperA,
		length(0.5, 4, says("The arm is %s mm %s long: track, camber and caster move; align, or refuse it.")),
		{field: "side", bars: 1, must: true, byEye: true, effect: plainly("It is for the other side.")},
	},
	"link": {
		length(1, 15, says("The link is %s mm %s long: level, the bar stands at an angle; both sides must be alike.")),
		thread,
		{field: "hex_mm", same: 0.1, effect: says("The holding feature is %s mm %s: another spanner.")},
	},
	"rotor": {
		{field: "diameter_mm", same: 0.5, bars: 2, must: true,
			effect: says("The rotor is %s mm %s across: pads overhang or the caliper touches.")},
		{field: "thickness_mm", same: 0.1, bars: 1.5, must: true,
			effect: says("New it is %s mm %s thick: the pads do not go over, or the piston runs out.")},
		{field: "discard_mm", same: 0.05,
			effect: says("Its discard thickness is %s mm %s: measure against the new figure from now on.")},
		{field: "hat_mm", same: 0.2, bars: 1, must: true,
			effect: says("The hat is %s mm %s high: the rotor stands off the middle of the caliper.")},
		{field: "hole_circle_mm", same: 0.1, bars: 0.3,
			effect: says("The holes stand %s mm %s apart: it does not go on.")},
		{field: "bore_mm", same: 0.05, bars: 0.2, must: true,
			effect: says("The bore is %s mm %s: loose it runs out, tight it does not seat.")},
		{field: "vanes_hand", bars: 1,
			byEye: true, effect: plainly("The vanes run the other way: it is for the other side.")},
		{field: "screw_holes", effect: says("%s retaining holes %s: it goes on, held by the wheel.")},
	},
	"pads": {
		{field: "width_mm", same: 0.3, bars: 1, must: true,
			effect: says("The plate is %s mm %s wide: it jams or rattles.")},
		{field: "height_mm", same: 0.5, bars: 2, effect: says("The plate is %s mm %s high.")},
		{field: "thickness_mm", same: 0.5, bars: 3,
			effect: says("Lining and plate are %s mm %s thick: see that the piston takes it.")},
		{field: "wear_sensor", effect: says("%s wear sensors %s: the lamp stays on, or never comes.")},
		{field: "chamfer_mm", same: 1, effect: says("The chamfer is %s mm %s: it may sing.")},
	},
	"fastener": {
		thread, pitch,
		length(0.5, 5, says("It is %s mm %s long: it bottoms, or holds on too few threads.")),
		{field: "class", bars: 0,
			byEye: true, effect: plainly("Its class is another: the recipe of the old one does not hold for it.")},
		{field: "flange_mm", same: 0.2, effect: flange},
		{field: "washer", effect: says("%s captive washers %s: another recipe may belong to it. Ask the sheet.")},
	},
	"shoes": {
		{field: "width_mm", same: 0.3, bars: 1.5, must: true,
			effect: says("The lining is %s mm %s wide: it overhangs the drum, or leaves a ridge in it.")},
		{field: "arc_mm", same: 1, bars: 8, effect: says("The lining is %s mm %s round: another share of the brake.")},
		{field: "pin_hole_mm", same: 0.3, bars: 1.5, must: true,
			effect: says("The lever's pin sits %s mm %s from the end: the lever never comes to its stop.")},
		{field: "web_holes", bars: 1, effect: says("%s holes %s in the web: a spring has no place.")},
	},
	"wheel cylinder": {
		{field: "bore_mm", same: 0.05, bars: 0.2, must: true,
			effect: says("The bore is %s mm %s: this wheel brakes harder or weaker than the other.")},
		{field: "hole_distance_mm", same: 0.3, bars: 1,
			effect: says("The bolts stand %s mm %s apart: they do not meet.")},
		thread,
	},
	"caliper": {
		{field: "side", bars: 1, must: true,
			byEye: true, effect: plainly("It is for the other side: its bleeder is not on top, and the air never leaves.")},
		{field: "piston_mm", same: 0.05, bars: 0.2, must: true,
			effect: says("The piston is %s mm %s across: this wheel brakes harder or weaker than the other.")},
		{field: "hole_distance_mm", same: 0.1, bars: 0.5,
			effect: says("The bolts stand %s mm %s apart: they do not meet.")},
		{field: "lever", bars: 1, byEye: true, effect: plainly("One has a park brake lever, the other has none.")},
		thread,
	},
	"hose": {
		length(4, 15, says("The hose is %s mm %s long: short it tears at full lock, long it rubs through.")),
		{field: "ends", bars: 1, must: true,
			byEye: true, effect: plainly("Its ends are others: eye and thread do not go together.")},
		{field: "seat", bars: 1,
			byEye: true, effect: plainly("Its seat is another: a double flare and a bubble never seal on one another.")},
		thread,
	},
	"cable": {
		length(3, 15, says("The cable is %s mm %s long: it never lets off, or never holds.")),
		{field: "free_mm", same: 2, bars: 6, must: true,
			effect: says("%s mm %s of it stand free: the lever's travel changes by as much.")},
		{field: "ends", bars: 1,
			byEye: true, effect: plainly("Its ends are others: they do not hang in lever or equaliser.")},
	},
	"spring": {
		{field: "wire_mm", same: 0.1, bars: 0.6, must: true,
			effect: says("The wire is %s mm %s thick: its rate goes with the fourth power of it.")},
		{field: "coils", same: 0.3, bars: 1.5, must: true,
			effect: says("%s coils %s: softer with more, harder with less.")},
		{field: "free_mm", same: 4, bars: 20,
			effect: says("Free it is %s mm %s long: the corner stands as much higher or lower.")},
		{field: "hand", bars: 1, must: true,
			byEye: true, effect: plainly("It is wound the other way: its end misses the step of its seat.")},
	},
	"leaf": {
		{field: "front_eye_mm", same: 1, bars: 3, must: true,
			effect: says("The centre bolt stands %s mm %s from the front eye: the axle runs askew by as much.")},
		length(3, 12, says("Eye to eye it is %s mm %s: the shackle stands at another angle.")),
		{field: "width_mm", same: 0.5, bars: 2,
			effect: says("It is %s mm %s wide: the U-bolts do not go over, or leave it play.")},
		{field: "leaves", bars: 2, effect: says("%s leaves %s: another load, another height.")},
		{field: "arch_mm", same: 5, effect: says("Its arch is %s mm %s: that end stands as much higher or lower.")},
	},
	"stud": {
		{field: "knurl_mm", same: 0.05, bars: 0.15, must: true,
			effect: says("The knurl is %s mm %s: it turns in its hole, or splits the flange.")},
		length(0.5, 3, says("It is %s mm %s long: the nut finds too few threads, or its cap bottoms.")),
		thread,
		{field: "hand", bars: 1, must: true, byEye: true, effect: plainly("The thread runs the other way.")},
	},
	"rack": {
		{field: "turns", same: 0.05, bars: 0.2, must: true,
			effect: says("It turns %s times %s from lock to lock: another ratio, the sensor and the feel go with it.")},
		{field: "mount_mm", same: 0.3, bars: 1, must: true,
			effect: says("Its bolts stand %s mm %s apart: they do not meet.")},
		{field: "side", bars: 1, must: true, byEye: true, effect: plainly("It is for the other side of the road.")},
		thread,
	},
	"brake motor": {
		{field: "side", bars: 1, must: true,
			byEye: true, effect: plainly("It is for the other side: it turns the other way.")},
		{field: "splines", bars: 1, must: true, effect: says("%s splines %s: it does not take its spindle along.")},
		{field: "hole_distance_mm", same: 0.2, bars: 0.5, must: true,
			effect: says("Its screws stand %s mm %s apart: they do not meet.")},
		{field: "plug", bars: 1, byEye: true, effect: plainly("Its plug is another.")},
	},
	"steering coil": {
		{field: "plugs", bars: 1, must: true, effect: says("%s plugs %s: a switch or the bag stays dead.")},
		{field: "turns", same: 0.1, bars: 0.4, must: true,
			effect: says("It turns %s times %s from end to end: too few, and it tears at full lock.")},
		{field: "pegs", bars: 1, effect: says("%s pegs %s: the steering wheel does not take it along.")},
	},
	"centre bolt": {
		{field: "head_mm", same: 0.1, bars: 0.4, must: true,
			effect: says("Its head is %s mm %s across: loose in its hole it lets the axle walk, tight it does not go in.")},
		length(1, 6, says("It is %s mm %s long: the nut finds too few threads, or stands against the plate.")),
		thread,
	},
	"cross": {
		{field: "cap_mm", same: 0.02, bars: 0.1, must: true,
			effect: says("Its caps are %s mm %s across: loose they turn in the ear, tight they split it.")},
		{field: "span_mm", same: 0.1, bars: 0.5, must: true,
			effect: says("Over its caps it measures %s mm %s: the rings have no groove, or leave it play.")},
		{field: "ring", bars: 1, byEye: true, effect: plainly("Its rings sit inside where the old ones sat outside.")},
	},
	"outer joint": {
		splines,
		{field: "shaft_splines", bars: 1, must: true, effect: says("%s splines %s on the shaft: it does not go on.")},
		across,
		{field: "ring_groove", bars: 1,
			byEye: true, effect: plainly("The ring's groove sits elsewhere: the joint comes off on the road.")},
		ring, thread,
	},
	"taper bearing": {
		{field: "bore_mm", same: 0.01, bars: 0.05, must: true,
			effect: says("The bore is %s mm %s: it creeps, or does not go on.")},
		{field: "outside_mm", same: 0.01, bars: 0.05, must: true,
			effect: says("Outside it is %s mm %s: it turns in the hub, or does not go in.")},
		{field: "width_mm", same: 0.1, bars: 0.6,
			effect: says("It is %s mm %s wide: the nut stands elsewhere, and no slot meets.")},
	},
	"pressed bearing": {
		{field: "outside_mm", same: 0.01, bars: 0.04, must: true,
			effect: says("Outside it is %s mm %s: it creeps, or splits the knuckle.")},
		{field: "bore_mm", same: 0.01, bars: 0.04, must: true,
			effect: says("The bore is %s mm %s: the hub creeps, or does not go in.")},
		{field: "width_mm", same: 0.1, bars: 0.5, must: true,
			effect: says("It is %s mm %s wide: the ring finds no groove.")},
		{field: "encoder", bars: 1, must: true,
			byEye: true, effect: plainly("One has a ring of poles in its seal, the other none: no speed is read.")},
	},
	"air spring": {
		{field: "diameter_mm", same: 2, bars: 8, must: true,
			effect: says("It is %s mm %s across: another load at the same pressure.")},
		length(5, 20, says("Extended it is %s mm %s: it is drawn apart, or bottoms.")),
		{field: "port", bars: 1, must: true,
			byEye: true, effect: plainly("Its port is another: the line does not go in.")},
	},
	"centre support": {
		{field: "height_mm", same: 0.5, bars: 4, must: true,
			effect: says("The shaft stands %s mm %s high: the joints run at another angle.")},
		{field: "hole_distance_mm", same: 0.3, bars: 1, must: true,
			effect: says("The holes stand %s mm %s apart: brace holes must line up unforced.")},
		{field: "seat_mm", same: 0.05, bars: 0.1, effect: says("The bearing seat is %s mm %s.")},
	},
	"mount": {
		{field: "height_mm", same: 0.5, bars: 4, must: true,
			effect: says("The gearbox stands %s mm %s high: its shaft runs at another angle.")},
		{field: "hole_distance_mm", same: 0.3, bars: 1, must: true,
			effect: says("The holes stand %s mm %s apart: the member goes up unforced or not at all.")},
		thread,
	},
}

// Kinds lists the parts that can be compared.
func Kinds() []string { return slices.Sorted(maps.Keys(kinds)) }

// Measure is one thing that is compared on a part. What is told by eye has the same figure on both where they are
// alike there, and another where they are not.
type Measure struct {
	Field   string
	Same    float64 // up to here a difference is the gauge's error or of no matter
	Decides bool    // the part is not known to be right before it was compared
	ByEye   bool
}

// Measures are those of a kind of part, in the order in which they decide; none of one that nobody knows.
func Measures(kind string) []Measure {
	var out []Measure
	for _, m := range kinds[kind] {
		out = append(out, Measure{m.field, m.same, m.must, m.byEye})
	}
	slices.SortStableFunc(out, func(a, b Measure) int { return cmp.Compare(rank(a), rank(b)) })
	return out
}

// rank puts what decides first, and of that what the eye tells, which costs least.
func rank(m Measure) int {
	switch {
	case m.Decides && m.ByEye:
		return 0
	case m.Decides:
		return 1
	}
	return 2
}

// Deciding lists what must be compared before a part is known to be right.
func Deciding(kind string) []string {
	var out []string
	for _, m := range Measures(kind) {
		if m.Decides {
			out = append(out, m.Field)
		}
	}
	return out
}

// Compare holds new against old. What is measured on neither and does not decide
// is passed over; a measure nobody knows is refused with the known ones.
func Compare(kind string, old, new map[string]float64) (Result, error) {
	ms, ok := kinds[strings.ReplaceAll(strings.ToLower(strings.TrimSpace(kind)), "_", " ")]
	if !ok {
		return Result{}, fault.New(fault.BadChoice, "part", "No part of that kind is compared.",
			"Known are "+strings.Join(Kinds(), ", ")+".")
	}
	known := map[string]bool{"arm_mm": true, "rim_mm": true, "hole_mm": true, "pitch_mm": true}
	for _, m := range ms {
		known[m.field] = true
	}
	for side, values := range map[string]map[string]float64{"old": old, "new": new} {
		for _, f := range slices.Sorted(maps.Keys(values)) {
			if !known[f] {
				return Result{}, fault.New(fault.UnknownField, side,
					"“"+f[:min(len(f), 40)]+"” is not compared on this part.",
					"Known are "+strings.Join(slices.Sorted(maps.Keys(known)), ", ")+".")
			}
			if v := values[f]; math.IsNaN(v) || math.Abs(v) > 1e5 {
				return Result{}, fault.New(fault.OutOfRange, side, "“"+f+"” cannot be measured so.", "Measure it again.")
			}
		}
	}
	r := Result{Verdict: Fits}
	for _, m := range ms {
		a, hasA := old[m.field]
		b, hasB := new[m.field]
		if !hasA || !hasB {
			if hasA != hasB || m.must {
				r.Missing = append(r.Missing, m.field)
			}
			continue
		}
		d := math.Abs(b - a)
		if d <= m.same+1e-9 {
			continue
		}
		bars := m.bars > 0 && d >= m.bars-1e-9 && !(m.only == "more" && b < a) && !(m.only == "less" && b > a)
		r.Differences = append(r.Differences, Difference{m.field, a, b, m.effect(a, b, pair{old, new}), bars})
		if bars {
			r.Verdict = Refused
		} else if r.Verdict == Fits {
			r.Verdict = FitsWith
		}
	}
	if len(old) == 0 || len(new) == 0 {
		return Result{}, fault.New(fault.Missing, "new", "Nothing was measured on one of the two.",
			"Lay them side by side and measure both.")
	}
	return r, nil
}
