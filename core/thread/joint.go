package thread

import (
	"math"

	"lugtak/core/fault"
)

// Clamped is a bolted joint of two steel plates under a bolt of one thread, as VDI 2230 part 1 reckons it: the bolt a
// chain of cylinders, the parts a pair of cones that spread from under the head and the nut.
type Clamped struct {
	Thread  Thread
	Grip    float64 // mm between head and nut
	Preload float64 // N when it was tightened
	Load    float64 // N that pulls along the bolt
	Shear   float64 // N that pushes across it
	Mu      float64 // between the parts, for the shear; 0 is partFriction
	Settle  float64 // mm the faces give
}

// Clamp is what a joint comes to: stiffness in N/mm, forces in N.
type Clamp struct {
	Bolt, Parts float64 // stiffness
	BoltForce   float64 // with the load
	Left        float64 // clamp left between the parts with the load
	Loss        float64 // of the preload, to settling
	Slips       bool    // it opens, or friction does not hold the shear
}

// partFriction is between dry steel parts (common practice: 0.12 to 0.20).
const partFriction = 0.15

// Bounds on a joint.
const (
	leastGrip = 0.3 // diameters
	mostGrip  = 15
	coneSlope = 0.5 // at the least: a cone of steel spreads by no less
)

// BoltStiffness is that of a hexagon bolt over a grip: half a diameter of head and of thread in the nut each, and 0.4
// of nut, stretch with it (VDI 2230 part 1, section 5.1.1). The thread is taken to run all the way: the softer case.
func (t Thread) BoltStiffness(grip float64) float64 {
	whole := math.Pi / 4 * t.D * t.D
	root := math.Pi / 4 * t.RootDiameter() * t.RootDiameter()
	give := 0.5*t.D/whole + grip/root + 0.5*t.D/root + 0.4*t.D/whole
	return steel / give
}

// PartStiffness is that of plates wide enough for the whole cone (VDI 2230 part 1, section 5.1.2, through-bolt: w = 1,
// tan φ = 0.362 + 0.032 ln(l/2d) + 0.153 ln y; y, the width of the plates over the head's, taken as wide as the cone).
func (t Thread) PartStiffness(grip float64) float64 {
	dw, dh := t.headDiameters()
	slope := t.cone(grip)
	over := (dw + dh) * (dw + grip*slope - dh)
	under := (dw - dh) * (dw + grip*slope + dh)
	give := 2 / (steel * math.Pi * dh * slope) * math.Log(over/under)
	return 1 / give
}

// cone is the slope of the cone under a head.
func (t Thread) cone(grip float64) float64 {
	dw, _ := t.headDiameters()
	slope := coneSlope
	for range 20 { // the cone's width follows from its slope
		y := (dw + grip*slope) / dw
		slope = math.Max(coneSlope, 0.362+0.032*math.Log(grip/(2*dw))+0.153*math.Log(y))
	}
	return slope
}

// Reckon says what is left of the clamp when the faces have settled and the load is on. The load comes in under head
// and nut, which leaves the parts least (n = 1).
func (c Clamped) Reckon() (Clamp, error) {
	t := c.Thread
	const most = 1e7 // N
	force := "Give it in kN, above zero."
	err := fault.First(
		fault.InRange("grip_mm", c.Grip, leastGrip*t.D, mostGrip*t.D, "No bolt of that thread clamps that.",
			"Give the thickness between head and nut in millimetres."),
		fault.InRange("preload_kn", c.Preload, 0, most, "No bolt clamps so.", force),
		fault.InRange("load_kn", c.Load, 0, most, "No load pulls so.", force),
		fault.InRange("shear_kn", c.Shear, 0, most, "No load pushes so.", force),
		fault.InRange("settle_um", c.Settle, 0, 1, "No face gives that much.", "Give micrometres; 3 to 15 are usual."),
		fault.InRange("friction", c.Mu, 0, 1, "No parts have that friction.", "Give a number up to 1, or leave it out."),
	)
	if err != nil {
		return Clamp{}, err
	}
	out := Clamp{Bolt: t.BoltStiffness(c.Grip), Parts: t.PartStiffness(c.Grip)}
	out.Loss = c.Settle / (1/out.Bolt + 1/out.Parts)
	share := out.Bolt / (out.Bolt + out.Parts) // of the load that the bolt takes
	kept := math.Max(0, c.Preload-out.Loss)
	out.BoltForce = kept + share*c.Load
	out.Left = kept - (1-share)*c.Load
	mu := c.Mu
	if mu == 0 {
		mu = partFriction
	}
	if out.Left <= 0 { // it gapes: the bolt has it all
		out.Left = 0
		out.BoltForce = math.Max(out.BoltForce, c.Load)
	}
	out.Slips = out.Left == 0 && c.Load+c.Shear > 0 || c.Shear > mu*out.Left
	return out, nil
}

// Engagement is the least length of thread in a part at which the bolt breaks before the thread in the part shears: the
// breaking load of the bolt over the area sheared at its outer diameter, 0.875·π·d a millimetre of the basic profile
// (ISO 724 with FED-STD-H28 part 2), at six tenths of the part's tensile strength (common practice).
func (t Thread) Engagement(c Class, partMPa float64) (mm float64, err error) {
	if !(partMPa >= 50 && partMPa <= 2500) {
		return 0, fault.New(fault.OutOfRange, "part_mpa", "No metal that takes a thread has that strength.",
			"Give its tensile strength in MPa: aluminium some 200 to 350, cast iron 250, steel 400 and more.")
	}
	return c.Rm * t.StressArea() / (0.6 * partMPa * 0.875 * math.Pi * t.D), nil
}
