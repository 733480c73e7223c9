package solid

import "math"

// Camera looks at a scene along parallel rays, in a picture of W by H pixels.
type Camera struct {
	Along, Right, Up Vec
	Middle           Vec     // what lies in the middle of the picture
	Scale            float64 // pixels to a millimetre
	W, H             int
}

// Look makes a camera from where one stands, in degrees: azimuth 0 is outboard, 90 in front, 180 inboard;
// elevation is above the ground.
func Look(azimuth, elevation float64) Camera {
	sa, ca := math.Sincos(azimuth * math.Pi / 180)
	se, ce := math.Sincos(elevation * math.Pi / 180)
	along := Vec{-ca * ce, -sa * ce, -se}
	right := along.Cross(Vec{0, 0, 1}).Unit()
	return Camera{Along: along, Right: right, Up: right.Cross(along)}
}

// At is where a place comes to lie in the picture.
func (c Camera) At(p Vec) (x, y float64) {
	d := p.Sub(c.Middle)
	return float64(c.W)/2 + d.Dot(c.Right)*c.Scale, float64(c.H)/2 - d.Dot(c.Up)*c.Scale
}

// Stand is a place a technician looks from.
type Stand struct {
	Name               string
	Azimuth, Elevation float64
}

// From says where one stands who looks so, in degrees.
func From(azimuth, elevation float64) string {
	for azimuth > 180 {
		azimuth -= 360
	}
	out := "from behind"
	switch a := math.Abs(azimuth); {
	case elevation <= -15:
		return "from below"
	case a <= 60:
		out = "from outside"
	case a >= 120:
		out = "from inboard"
	case azimuth > 0:
		out = "from the front"
	}
	if elevation >= 35 {
		out += " and above"
	}
	return out
}

// Stands are the places of which one is chosen where a scene does not say: the one that shows most of what is in
// hand.
var Stands = []Stand{
	{"outside, standing", 35, 30}, {"outside, kneeling", 40, 8}, {"outside, from behind", -40, 18}, {"in front", 80, 14},
	{"behind the wheel", -80, 14}, {"inboard, in front", 130, 8}, {"inboard, behind", -140, 10},
	{"from below, outside", 45, -30}, {"from below, inboard", 150, -25},
}
