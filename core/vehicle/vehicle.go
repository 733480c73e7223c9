// Package vehicle says what a vehicle is: its identity and the pattern it
// belongs to, with the pattern's spec sheet.
package vehicle

import (
	"fmt"
	"strings"

	"lugtak/core/brake"
	"lugtak/core/fault"
	"lugtak/core/recipe"
)

// Vehicle is one car or truck of the fleet.
type Vehicle struct {
	ID      string `json:"id"`
	Fleet   string `json:"fleet"` // fleet number, as painted on it
	Plate   string `json:"plate"`
	VIN     string `json:"vin"`
	Pattern string `json:"pattern"` // pattern id
	Name    string `json:"name"`    // pattern name at the time
	Bay     string `json:"bay"`
}

// Pattern is the model a vehicle belongs to.
type Pattern struct {
	ID         string            `yaml:"id" json:"id"`
	Name       string            `yaml:"name" json:"name"`
	Invented   bool              `yaml:"invented" json:"invented"` // figures made up: for practice only
	Version    int               `yaml:"version" json:"version"`
	Outline    Outline           `yaml:"outline" json:"outline"`
	Operations []string          `yaml:"operations" json:"operations"`
	Traits     map[string]string `yaml:"traits" json:"traits"` // how it is built where that decides: "steering": rack
	Spec       map[string]Spec   `yaml:"spec" json:"spec"`     // by joint, "hub.front.knuckle"
	Brakes     Brakes            `yaml:"brakes" json:"brakes,omitzero"`
	GearOil    Window            `yaml:"gear_oil" json:"gear_oil,omitzero"` // at which its level is read; zero is any

	Open   bool            `yaml:"-" json:"open,omitempty"`   // it grows by work: what it does not say of a joint is asked
	Absent map[string]bool `yaml:"-" json:"absent,omitempty"` // joints that were looked for and are not there
	More   []More          `yaml:"-" json:"more,omitempty"`   // joints the library does not name
}

// Window is between which temperatures something is read, °C. Zero is any.
type Window struct {
	LowC  float64 `yaml:"low_c" json:"low_c"`
	HighC float64 `yaml:"high_c" json:"high_c"`
}

// Any says that no temperature is asked for.
func (w Window) Any() bool { return w == Window{} }

// Brakes is what the heat of a stop goes into. Zero is not known.
type Brakes struct {
	MassKG       float64 `yaml:"mass_kg" json:"mass_kg"`         // of the vehicle as driven
	FrontShare   float64 `yaml:"front_share" json:"front_share"` // of the braking, 0–1
	FrontRotorKG float64 `yaml:"front_rotor_kg" json:"front_rotor_kg"`
	RearRotorKG  float64 `yaml:"rear_rotor_kg" json:"rear_rotor_kg"`
}

// Bedding is a series of like stops, begun so far apart, as the two discs of an axle take it
// in mild air.
func (b Brakes) Bedding(axle string, stops int, fromKMH, toKMH, intervalS float64) brake.Series {
	s := brake.Series{
		MassKG:     b.MassKG,
		FromKMH:    fromKMH,
		ToKMH:      toKMH,
		FrontShare: b.FrontShare,
		RotorKG:    b.FrontRotorKG,
		Rotors:     2,
		Stops:      stops,
		IntervalS:  intervalS,
		AmbientC:   20,
	}
	if axle == "rear" {
		s.FrontShare = 1 - b.FrontShare
		s.RotorKG = b.RearRotorKG
	}
	return s
}

// Outline is the vehicle in plan view, millimetres.
type Outline struct {
	Kind      string  `yaml:"kind" json:"kind"` // car, van, pickup, bus, truck
	Length    float64 `yaml:"length_mm" json:"length_mm"`
	Width     float64 `yaml:"width_mm" json:"width_mm"`
	Wheelbase float64 `yaml:"wheelbase_mm" json:"wheelbase_mm"`
	Overhang  float64 `yaml:"front_overhang_mm" json:"front_overhang_mm"`
	Arm       float64 `yaml:"steering_arm_mm" json:"steering_arm_mm,omitempty"` // steering axis to rod end
	Rim       float64 `yaml:"rim_mm" json:"rim_mm,omitempty"`                   // where toe is measured
}

// Spec is what the sheet says of one joint.
type Spec struct {
	Recipe    string    `yaml:"recipe" json:"recipe"`
	Thread    string    `yaml:"thread" json:"thread"`
	Class     string    `yaml:"class" json:"class"`
	Treatment string    `yaml:"treatment" json:"treatment"`
	Condition Condition `yaml:"condition" json:"condition"`
	Held      bool      `yaml:"held" json:"held"` // rotation must be held
	Renew     bool      `yaml:"renew" json:"renew"`
	Hardware  string    `yaml:"hardware" json:"hardware"` // what to order where it is renewed
	Drive     string    `yaml:"drive" json:"drive"`       // hexagon, twelve-point, inner
	Socket    string    `yaml:"socket" json:"socket"`
	Count     int       `yaml:"count" json:"count"`
	Source    string    `yaml:"source" json:"source"`
	Note      string    `yaml:"note" json:"note,omitempty"` // words that stand beside the figure there
	Struck    []Struck  `yaml:"struck" json:"struck,omitempty"`
	// FlangeMM is the diameter of the face under the head, HoleMM of its hole.
	FlangeMM float64 `yaml:"flange_mm" json:"flange_mm,omitempty"`
	HoleMM   float64 `yaml:"hole_mm" json:"hole_mm,omitempty"`
	// LongestMM is how long a bolt turned by angle may be to go in once more; 0 where the
	// sheet says nothing.
	LongestMM float64 `yaml:"longest_mm" json:"longest_mm,omitempty"`
	// Others are figures from other sources for the same hardware.
	Others []Figure `yaml:"others" json:"others,omitempty"`
	// Variants are the kinds of hardware the joint may carry: the recipe follows
	// the one in hand. Where there are any, what stands above is not yet known.
	Variants []Variant `yaml:"variants" json:"variants,omitempty"`
	// Stages are the recipe as it was frozen into a job; empty on a sheet.
	Stages []recipe.Stage `yaml:"-" json:"-"`
	// Readers are who read the figure in this shop; nobody where it came with a file. Differs are
	// readings that do not agree: while there are any the joint has no figure.
	Readers []string `yaml:"-" json:"readers,omitempty"`
	Differs []Figure `yaml:"-" json:"differs,omitempty"`
	// ByBolt says that the figure is of its bolt alone: of one job, never of a sheet.
	ByBolt bool `yaml:"-" json:"by_bolt,omitempty"`
}

// Read gives the stages of the recipe: as they were frozen, else as the text reads
// today. It is nil where the text is no recipe.
func (s Spec) Read() []recipe.Stage {
	if len(s.Stages) > 0 {
		return s.Stages
	}
	r, err := recipe.Parse(s.Recipe)
	if err != nil {
		return nil
	}
	return r.Stages
}

// Condition is what must hold of the wheel while a joint is tightened.
type Condition string

// The conditions. Whatever else stands on a sheet asks for nothing.
const (
	AnyCondition Condition = "any"
	Hanging      Condition = "hanging"
	OnGround     Condition = "wheel on ground"
	AtRideHeight Condition = "ride height"
)

// Figure is a recipe with its source.
type Figure struct {
	Recipe string `yaml:"recipe" json:"recipe"`
	Source string `yaml:"source" json:"source"`
	By     string `yaml:"-" json:"by,omitempty"` // who read it
}

// Variant is one kind of hardware with what belongs to it.
type Variant struct {
	Key       string  `yaml:"key" json:"key"`
	Sees      string  `yaml:"sees" json:"sees"` // what the technician sees on the bolt
	Washer    bool    `yaml:"washer" json:"washer,omitempty"`
	Recipe    string  `yaml:"recipe" json:"recipe"`
	Thread    string  `yaml:"thread" json:"thread"`
	Class     string  `yaml:"class" json:"class"`
	Treatment string  `yaml:"treatment" json:"treatment"`
	Drive     string  `yaml:"drive" json:"drive"`
	Socket    string  `yaml:"socket" json:"socket"`
	FlangeMM  float64 `yaml:"flange_mm" json:"flange_mm,omitempty"`
	Source    string  `yaml:"source" json:"source"`

	Stages []recipe.Stage `yaml:"-" json:"-"` // as in Spec
}

// Of gives the spec with a variant's hardware in it.
func (s Spec) Of(v Variant) Spec {
	s.Figured(v.Recipe, v.Stages, v.Source)
	s.Thread, s.Class, s.Treatment = v.Thread, v.Class, v.Treatment
	s.Drive, s.Socket, s.FlangeMM = v.Drive, v.Socket, v.FlangeMM
	return s
}

// Figured puts another figure in the place of the one that stands, with its stages where they are frozen, and its
// source. The words beside the old figure go with it: they stood in its source.
func (s *Spec) Figured(text string, stages []recipe.Stage, source string) {
	s.Recipe, s.Stages, s.Source, s.Note = text, stages, source, ""
}

// Struck is a figure that was corrected and stays readable.
type Struck struct {
	Recipe string `yaml:"recipe" json:"recipe"`
	By     string `yaml:"by" json:"by"`
	Why    string `yaml:"why" json:"why"`
}

// Corner is a wheel's place: FL, FR, RL or RR.
type Corner string

// Left says that the corner lies on the vehicle's left.
func (c Corner) Left() bool { return strings.HasSuffix(string(c), "L") }

// Axle is "front" or "rear".
func (c Corner) Axle() string {
	if strings.HasPrefix(string(c), "F") {
		return "front"
	}
	return "rear"
}

// Side is "left" or "right".
func (c Corner) Side() string {
	if c.Left() {
		return "left"
	}
	return "right"
}

// Opposite is the other corner of the same axle.
func (c Corner) Opposite() Corner {
	return map[Corner]Corner{"FL": "FR", "FR": "FL", "RL": "RR", "RR": "RL"}[c]
}

// ParseCorner reads FL, FR, RL, RR.
func ParseCorner(s string) (Corner, error) {
	switch c := Corner(strings.ToUpper(strings.TrimSpace(s))); c {
	case "FL", "FR", "RL", "RR":
		return c, nil
	}
	return "", fault.New(fault.BadCorner, "corner", "That is not a corner of a vehicle.", "Choose FL, FR, RL or RR.")
}

// vinValues transliterates the letters of a VIN (49 CFR 565.15(c)).
const vinLetters = "ABCDEFGHJKLMNPRSTUVWXYZ"
const vinValues = "12345678123457923456789"

var vinWeights = [17]int{8, 7, 6, 5, 4, 3, 2, 10, 0, 9, 8, 7, 6, 5, 4, 3, 2}

// CheckDigit is the digit a VIN of 17 allowed characters should carry in its
// ninth place (ISO 3779, 49 CFR 565.15(c)). It binds in North America only.
func CheckDigit(vin string) (byte, bool) {
	vin = strings.ToUpper(vin)
	if len(vin) != 17 {
		return 0, false
	}
	sum := 0
	for i := range 17 {
		v := 0
		switch ch := vin[i]; {
		case ch >= '0' && ch <= '9':
			v = int(ch - '0')
		case strings.IndexByte(vinLetters, ch) >= 0:
			v = int(vinValues[strings.IndexByte(vinLetters, ch)] - '0')
		default:
			return 0, false
		}
		sum += v * vinWeights[i]
	}
	return "0123456789X"[sum%11], true
}

// Describes is the part of a VIN that describes the vehicle: its maker and its model, without the check digit
// (ISO 3779: places 1 to 3 and 4 to 9). It is empty where that is not all there.
func Describes(vin string) string {
	vin = strings.ToUpper(strings.TrimSpace(vin))
	if len(vin) < checkPlace {
		return ""
	}
	return vin[:checkPlace]
}

// checkPlace is where the check digit stands, from 0.
const checkPlace = 8

// VIN is what a number says of itself.
type VIN struct {
	Valid      bool
	CheckDigit string   // the digit its ninth place would carry
	Problems   []string // what is wrong and where; remarks too
}

// InspectVIN says what is wrong with a number and where. The check digit binds in
// North America, whose numbers begin with 1 to 5; elsewhere a wrong one is a
// remark.
func InspectVIN(text string) VIN {
	vin := strings.ToUpper(strings.TrimSpace(text))
	var v VIN
	runes := []rune(vin)
	if n := len(runes); n != 17 {
		v.Problems = append(v.Problems, fmt.Sprintf("It has %d characters; a VIN has 17.", n))
	}
	for i, r := range runes {
		if i >= 40 {
			break
		}
		switch {
		case r == 'I' || r == 'O' || r == 'Q':
			v.Problems = append(
				v.Problems,
				fmt.Sprintf("Place %d is %c, which no VIN has: look whether it is a %s.", i+1, r,
					map[rune]string{'I': "1", 'O': "0", 'Q': "0"}[r]),
			)
		case !(r >= '0' && r <= '9' || r >= 'A' && r <= 'Z'):
			v.Problems = append(v.Problems, fmt.Sprintf("Place %d is neither a digit nor a letter.", i+1))
		}
	}
	d, ok := CheckDigit(vin)
	if !ok {
		return v
	}
	v.CheckDigit, v.Valid = string(d), true
	if d != vin[8] {
		home := vin[0] >= '1' && vin[0] <= '5'
		v.Valid = !home
		if home {
			v.Problems = append(v.Problems, fmt.Sprintf("Place 9 is %c and would be %c: one character is misread.", vin[8], d))
		} else {
			v.Problems = append(v.Problems, fmt.Sprintf(
				"Place 9 would be %c by the North American check, which does not bind here: a remark.", d))
		}
	}
	return v
}

// CheckVIN refuses what cannot be a VIN. An empty one is allowed: older vehicles
// have none.
func CheckVIN(vin string) error {
	if strings.TrimSpace(vin) == "" {
		return nil
	}
	if v := InspectVIN(vin); !v.Valid {
		return fault.New(fault.BadVIN, "vin", v.Problems[0],
			"Read it again on the plate or through the windscreen, or leave it empty.")
	}
	return nil
}
