package draw

// WalkPlace is where one stands on a walk-round: what is left to try there, and at a corner
// the strongest suspicion.
type WalkPlace struct {
	Key, Name string
	Open      int  // still to try
	Here      bool // in hand
	Corner    bool
	Chance    float64 // of a corner's strongest suspect
	Together  float64 // of a suspect that is at this corner or at another one; 0 where none is
}

// WalkBox is a place as it is drawn, with the wheel beside it where it is a corner.
type WalkBox struct {
	WalkPlace
	X, Y, W, H   float64
	Cx           float64 // middle of its words
	Wheel        Bar     // none where its width is 0
	Fill         Bar     // of the wheel, from below
	NameY, LineY float64
	ShareY       float64
}

// WalkPlan is the vehicle from above, front at the top, so that left is left.
type WalkPlan struct {
	W, H    float64
	Boxes   []WalkBox
	Bridges []WalkBridge
}

// WalkBridge joins two corners of a side at one of which a fault is, not both.
type WalkBridge struct {
	X, From, To, Mid float64
	Chance           float64
}

// Measures of the plan, in its own units, which are pixels on a screen of 1280.
const (
	walkW, walkH   = 440.0, 500.0
	wheelW, wheelH = 34.0, 96.0
)

// walkRooms are where the places lie, by their key.
var walkRooms = map[string][4]float64{
	"road":     {120, 6, 200, 56},
	"engine":   {152, 96, 136, 52},
	"steering": {152, 160, 136, 52},
	"cab":      {152, 268, 136, 52},
	"shaft":    {152, 332, 136, 52},
	"FL":       {6, 140, 84, wheelH},
	"FR":       {350, 140, 84, wheelH},
	"RL":       {6, 366, 84, wheelH},
	"RR":       {350, 366, 84, wheelH},
}

// Walk draws the places of a walk-round; one that has no room in the picture is left out.
func Walk(places []WalkPlace) WalkPlan {
	out := WalkPlan{W: walkW, H: walkH}
	for _, p := range places {
		r, ok := walkRooms[p.Key]
		if !ok {
			continue
		}
		b := WalkBox{WalkPlace: p, X: r[0], Y: r[1], W: r[2], H: r[3], Cx: r[0] + r[2]/2}
		b.NameY, b.LineY = b.Y+22, b.Y+b.H-12
		if p.Corner {
			b.NameY, b.ShareY = b.Y+32, b.Y+58
			x := b.X + b.W + 6
			if b.X > walkW/2 {
				x = b.X - 6 - wheelW
			}
			b.Wheel = Bar{X: x, Y: b.Y, W: wheelW, H: wheelH}
			h := (wheelH - 8) * p.Chance
			b.Fill = Bar{X: x + 4, Y: b.Y + wheelH - 4 - h, W: wheelW - 8, H: h}
		}
		out.Boxes = append(out.Boxes, b)
	}
	for _, side := range []string{"L", "R"} {
		var at []WalkBox
		for _, b := range out.Boxes {
			if b.Together > 0 && b.Key[1:] == side {
				at = append(at, b)
			}
		}
		if len(at) == 2 && at[0].Together == at[1].Together {
			w := WalkBridge{X: at[0].Cx, From: at[0].Y + at[0].H, To: at[1].Y, Chance: at[0].Together}
			w.Mid = (w.From + w.To) / 2
			out.Bridges = append(out.Bridges, w)
		}
	}
	return out
}
