package reckon

import (
	"math"
	"slices"

	"lugtak/core/diagnose"
	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/vehicle"
	"lugtak/library"
)

var inspecting = []Calc{
	calc(Calc{
		Name:    "toe",
		Of:      Vehicle,
		Asks:    "What do turns of the rod do?",
		Title:   "Toe by turns of the rod",
		Formula: "toe = atan(turns · pitch / arm); at the rim = rim · sin(toe)",
		Source:  "geometry of the steering arm",
		Example: `{"turns":1,"pitch_mm":1.5,"arm_mm":150,"rim_mm":400}`,
	}, toe),
	calc(Calc{
		Name:    "tone-ring",
		Of:      Wheel,
		Asks:    "Sensor ring, other teeth?",
		Title:   "Another number of sensor teeth",
		Formula: "error = new / old − 1",
		Source:  "counting",
		Example: `{"old_teeth":48,"new_teeth":44}`,
	}, toneRing),
	calc(
		Calc{
			Name:  "tyre",
			Of:    Wheel,
			Asks:  "What does the tyre size say?",
			Title: "What a tyre size says",
			Formula: "diameter = rim · 25.4 + 2 · width · aspect / 100, or by the table; a turn = 3.05 · diameter, less when " +
				"worn, more when hard",
			Source:  "ETRTO / ISO 4000-1 marking; rolling factor and tabled sizes from memory",
			Example: `{"size":"205/55R16","speed_kmh":100}`,
		},
		tyre,
	),
	calc(Calc{
		Name:    "orders",
		Of:      Wheel,
		Asks:    "What turns at that hum?",
		Title:   "What turns at that frequency",
		Formula: "wheel = v / circumference; shaft = wheel · axle ratio",
		Source:  "kinematics",
		Example: `{"tyre":"205/55R16","speed_kmh":100,"axle_ratio":3.73,"frequency_hz":52}`,
	}, orders),
	calcBy(Calc{
		Name:    "lash",
		Of:      Wheel,
		Asks:    "Is that lash allowed?",
		Title:   "Steering-wheel lash",
		Formula: "limit by wheel diameter and rule",
		Source:  "49 CFR 393.209(b), 49 CFR 570.7; replaceable in library/limits",
		Example: `{"wheel_diameter_mm":457,"lash_mm":60,"power":false,"rule":"393.209"}`,
	}, lash),
	calcBy(Calc{
		Name:    "lining",
		Of:      Brake,
		Asks:    "Is the lining thick enough?",
		Title:   "Brake lining",
		Formula: "limit by kind of brake and rule",
		Source:  "49 CFR 393.47, 49 CFR 570.5; replaceable in library/limits",
		Example: `{"kind":"hydraulic","thickness_mm":3,"rule":"393.47"}`,
	}, lining),
	calc(Calc{
		Name:    "rotor",
		Of:      Brake,
		Asks:    "Is the disc still thick enough?",
		Title:   "Brake rotor",
		Formula: "life = distance · (min − discard) / (new − min)",
		Source:  "discard as stamped; 0.025 mm variation and 0.08 mm run-out: common practice",
		Example: `{"thickness_mm":[26.01,26.0,26.01,26.0],"new_mm":28,"discard_mm":25,"runout_mm":0.03,"distance_km":60000}`,
	}, rotor),
	calc(Calc{
		Name:    "bush",
		Of:      Shaft,
		Asks:    "Bush clamped hanging?",
		Title:   "Bush clamped hanging",
		Formula: "twist = asin(droop / arm)",
		Source:  "geometry; the limit is the bush maker's",
		Example: `{"arm_mm":300,"droop_mm":60,"limit_deg":8}`,
	}, bush),
	calc(Calc{
		Name:    "cardan",
		Of:      Shaft,
		Asks:    "Cross joint at an angle?",
		Title:   "Cross joint at an angle",
		Formula: "ratio between cos β and 1/cos β, twice a turn",
		Source:  "textbook kinematics: tan φ2 = tan φ1 / cos β",
		Example: `{"angle_deg":7}`,
	}, cardan),
	calc(Calc{
		Name:    "vin",
		Of:      Vehicle,
		Asks:    "Is this VIN whole?",
		Title:   "Vehicle identification number",
		Formula: "Σ value · weight mod 11",
		Source:  "ISO 3779, 49 CFR 565.15(c)",
		Example: `{"vin":"11111111111111111"}`,
	}, vin),
	calcBy(Calc{
		Name:    "diagnose",
		Of:      Vehicle,
		Asks:    "What makes this noise?",
		Title:   "Suspects from signs and tests",
		Formula: "odds of one or two faults, each answer's likelihood joined; gain = expected entropy lost",
		Source:  "likelihoods: common practice, in library/signs",
		Example: `{"signs":["hum-with-speed"],"tests":[{"name":"play-12-6","result":"yes"}]}`,
	}, diagnosis),
}

type toeIn struct {
	Turns   float64 `json:"turns"`
	PitchMM float64 `json:"pitch_mm"`
	ArmMM   float64 `json:"arm_mm"`
	RimMM   float64 `json:"rim_mm"`
}
type toeOut struct {
	Deg float64 `json:"toe_deg"`
	MM  float64 `json:"toe_mm"`
}

func toe(in toeIn) (toeOut, error) {
	d, m, err := inspect.Toe(in.Turns, in.PitchMM, in.ArmMM, in.RimMM)
	return toeOut{sig(d), sig(m)}, err
}

type ringIn struct {
	Old int `json:"old_teeth"`
	New int `json:"new_teeth"`
}
type ringOut struct {
	Pct float64 `json:"speed_error_pct"`
}

func toneRing(in ringIn) (ringOut, error) {
	p, err := inspect.ToneRing(in.Old, in.New)
	return ringOut{sig(p)}, err
}

type tyreIn struct {
	Size  string  `json:"size"`
	Speed float64 `json:"speed_kmh,omitempty"`
}
type tyreOut struct {
	Diameter float64 `json:"diameter_mm"`
	Round    float64 `json:"circumference_m"`
	Turns    float64 `json:"turns_per_s,omitempty"` // where a speed is given
	Low      float64 `json:"circumference_low_m"`   // of a worn one
	High     float64 `json:"circumference_high_m"`  // of a hard new one
}

func speedOK(v float64) error {
	if !(v >= 0 && v <= 300) {
		return fault.New(fault.OutOfRange, "speed_kmh", "No road vehicle goes at that speed.",
			"Give it in km/h, 0 to 300.")
	}
	return nil
}

func tyre(in tyreIn) (tyreOut, error) {
	t, err := inspect.ParseTyre(in.Size)
	if err == nil {
		err = speedOK(in.Speed)
	}
	if err != nil {
		return tyreOut{}, err
	}
	low, high := t.CircumferenceBand()
	return tyreOut{
		sig(t.DiameterMM()),
		sig(t.CircumferenceM()),
		sig(t.TurnsPerSecond(in.Speed)),
		sig(low),
		sig(high),
	}, nil
}

type ordersIn struct {
	Tyre      string  `json:"tyre"`
	Speed     float64 `json:"speed_kmh"`
	AxleRatio float64 `json:"axle_ratio,omitempty"`
	EngineRPM float64 `json:"engine_rpm,omitempty"`
	Frequency float64 `json:"frequency_hz"`
}
type orderOut struct {
	Source    string  `json:"source"`
	Order     float64 `json:"order"`
	Frequency float64 `json:"frequency_hz"`
	Error     float64 `json:"error_pct"`
}
type ordersOut struct {
	Candidates []orderOut `json:"candidates"`
}

func orders(in ordersIn) (ordersOut, error) {
	t, err := inspect.ParseTyre(in.Tyre)
	if err != nil {
		return ordersOut{}, fault.In("tyre", err)
	}
	if err := speedOK(in.Speed); err != nil || in.Speed < 5 {
		return ordersOut{}, fault.New(fault.OutOfRange, "speed_kmh", "At that speed nothing turns to be felt.",
			"Give it in km/h, 5 to 300.")
	}
	switch {
	case !(in.AxleRatio >= 0 && in.AxleRatio <= 12):
		return ordersOut{}, fault.New(fault.OutOfRange, "axle_ratio", "No axle has that ratio.",
			"Give shaft turns for one wheel turn, or leave it out.")
	case !(in.EngineRPM >= 0 && in.EngineRPM <= 12000):
		return ordersOut{}, fault.New(fault.OutOfRange, "engine_rpm", "No engine turns at that speed.",
			"Give turns a minute, or leave it out.")
	case !(in.Frequency > 0 && in.Frequency <= 2000):
		return ordersOut{}, fault.New(fault.OutOfRange, "frequency_hz", "That is no frequency a hand feels.",
			"Give it in Hz, up to 2000.")
	}
	out := ordersOut{Candidates: []orderOut{}}
	for _, o := range inspect.Match(inspect.Orders(t.TurnsPerSecond(in.Speed), in.AxleRatio, in.EngineRPM), in.Frequency) {
		out.Candidates = append(out.Candidates, orderOut{o.Source, o.Order, sig(o.FrequencyHz), sig(o.ErrorPct)})
	}
	return out, nil
}

type lashIn struct {
	Wheel float64 `json:"wheel_diameter_mm"`
	Lash  float64 `json:"lash_mm"`
	Power bool    `json:"power,omitempty"`
	Rule  name    `json:"rule"`
}
type limitOut struct {
	Limit   float64 `json:"limit_mm"`
	Verdict string  `json:"verdict"`
}

// readable is less than any tape tells, mm: a figure of the rule's own is inside it.
const readable = 1e-6

func lash(lib *library.Library, in lashIn) (limitOut, error) {
	r, err := lib.Limits.LashRule(string(in.Rule))
	if err != nil {
		return limitOut{}, err
	}
	if !(in.Lash >= 0 && in.Lash <= 1000) {
		return limitOut{}, fault.New(fault.OutOfRange, "lash_mm", "That is no lash.", "Measure along the rim, in mm.")
	}
	limit, err := r.Limit(in.Wheel, in.Power)
	if err != nil {
		return limitOut{}, err
	}
	out := limitOut{sig(limit), string(inspect.OK)}
	if in.Lash > limit+readable {
		out.Verdict = string(inspect.Over)
	}
	return out, nil
}

type liningIn struct {
	Kind      string  `json:"kind"`
	Thickness float64 `json:"thickness_mm"`
	Rule      name    `json:"rule,omitempty"`
}

func lining(lib *library.Library, in liningIn) (limitOut, error) {
	r, err := lib.Limits.LiningRule(string(in.Rule), in.Kind)
	if err != nil {
		return limitOut{}, err
	}
	if !(in.Thickness >= 0 && in.Thickness <= 60) {
		return limitOut{}, fault.New(fault.OutOfRange, "thickness_mm", "No lining is that thick.",
			"Measure at the thinnest place, without the shoe, in mm.")
	}
	out := limitOut{r.Value, string(inspect.OK)}
	if in.Thickness < r.Value-readable {
		out.Verdict = string(inspect.Under)
	}
	return out, nil
}

type rotorIn struct {
	Thickness []float64 `json:"thickness_mm"`
	New       float64   `json:"new_mm"`
	Discard   float64   `json:"discard_mm"`
	RunOut    float64   `json:"runout_mm,omitempty"`
	Distance  float64   `json:"distance_km,omitempty"`
}
type rotorOut struct {
	Min       float64  `json:"min_mm"`
	Variation float64  `json:"variation_mm"`
	Verdict   string   `json:"verdict"`
	Life      *float64 `json:"life_km" jsonschema:"oneof_type=number;null"`
	LifeLow   *float64 `json:"life_low_km,omitempty"`
	LifeHigh  *float64 `json:"life_high_km,omitempty"`
	Says      string   `json:"says"`
}

func rotor(in rotorIn) (rotorOut, error) {
	r, err := inspect.Rotor{
		Thickness: in.Thickness,
		New:       in.New,
		Discard:   in.Discard,
		RunOut:    in.RunOut,
		Distance:  in.Distance,
	}.Judge()
	if err != nil {
		return rotorOut{}, err
	}
	out := rotorOut{Min: sig(r.Min), Variation: sig(r.Variation), Verdict: r.Verdict, Says: r.Says}
	if r.LifeKM > 0 {
		ref := func(v float64) *float64 { v = math.Round(v); return &v }
		out.Life, out.LifeLow, out.LifeHigh = ref(r.LifeKM), ref(r.LifeLow), ref(r.LifeHigh)
	}
	return out, nil
}

type bushIn struct {
	Arm   float64 `json:"arm_mm"`
	Droop float64 `json:"droop_mm"`
	Limit float64 `json:"limit_deg"`
}
type bushOut struct {
	Twist   float64 `json:"twist_deg"`
	Verdict string  `json:"verdict"`
}

func bush(in bushIn) (bushOut, error) {
	d, err := inspect.BushTwist(in.Arm, in.Droop)
	if err != nil {
		return bushOut{}, err
	}
	if !(in.Limit > 0 && in.Limit <= 90) {
		return bushOut{}, fault.New(fault.OutOfRange, "limit_deg", "That is no limit of twist.",
			"Take it from the bush's maker, in degrees.")
	}
	out := bushOut{sig(d), string(inspect.OK)}
	if d > in.Limit {
		out.Verdict = string(inspect.Over)
	}
	return out, nil
}

type cardanIn struct {
	Angle float64 `json:"angle_deg"`
}
type cardanOut struct {
	Min    float64 `json:"ratio_min"`
	Max    float64 `json:"ratio_max"`
	Spread float64 `json:"spread_pct"`
}

func cardan(in cardanIn) (cardanOut, error) {
	lo, hi, sp, err := inspect.Cardan(in.Angle)
	return cardanOut{sig(lo), sig(hi), sig(sp)}, err
}

type vinIn struct {
	VIN string `json:"vin"`
}
type vinOut struct {
	Valid    bool     `json:"valid"`
	Digit    string   `json:"check_digit"`
	Problems []string `json:"problems"`
}

func vin(in vinIn) (vinOut, error) {
	v := vehicle.InspectVIN(in.VIN)
	return vinOut{v.Valid, v.CheckDigit, append([]string{}, v.Problems...)}, nil
}

type testIn struct {
	Name   string `json:"name"`
	Result string `json:"result"`
	Corner string `json:"corner,omitempty"` // FL, FR, RL, RR
}
type renewedIn struct {
	Suspect    string  `json:"suspect"`
	Years      float64 `json:"years_ago"`
	SecondHand bool    `json:"second_hand,omitempty"`
}
type diagnoseIn struct {
	Signs    []string    `json:"signs"`
	Tests    []testIn    `json:"tests,omitempty"`
	Age      float64     `json:"age_years,omitempty"`
	KM       float64     `json:"distance_km,omitempty"`
	Salt     bool        `json:"salt,omitempty"`
	Renewed  []renewedIn `json:"renewed,omitempty"`
	Position string      `json:"position,omitempty"`

	// as it was typed: its words are signs to confirm, first questions, and a place
	Complaint string `json:"complaint,omitempty"`
}
type suspectOut struct {
	Name    string   `json:"name"`
	Share   float64  `json:"share"`
	Chance  float64  `json:"chance"`
	Corner  string   `json:"corner,omitempty"` // FL, FR, RL, RR, or left or right
	Because []string `json:"because"`
	Against []string `json:"against,omitempty"`
}
type nextOut struct {
	Test    string  `json:"test"`
	Gain    float64 `json:"gain_bits"`
	Minutes float64 `json:"minutes"`
	Settles string  `json:"settles"`
}
type diagnoseOut struct {
	Suspects []suspectOut `json:"suspects"`
	Next     []nextOut    `json:"next"`
	Open     []string     `json:"open,omitempty"`
	Confirm  []string     `json:"confirm,omitempty"` // signs the complaint may mean
}

func diagnosis(lib *library.Library, in diagnoseIn) (diagnoseOut, error) {
	var answers []diagnose.Answer
	confirm := []string{}
	for _, s := range in.Signs {
		answers = append(answers, diagnose.Answer{Key: s, Yes: true})
	}
	for _, t := range in.Tests {
		if t.Result != "yes" && t.Result != "no" {
			return diagnoseOut{}, fault.New(fault.BadChoice, "tests", "“"+t.Name+"” is answered neither yes nor no.",
				"Give the result as yes or no.")
		}
		answers = append(answers, diagnose.Answer{Key: t.Name, Yes: t.Result == "yes", Corner: diagnose.Corner(t.Corner)})
	}
	for _, key := range lib.Signs.Complaint(in.Complaint) {
		said := func(a diagnose.Answer) bool { return a.Key == key }
		if !slices.ContainsFunc(answers, said) {
			confirm = append(confirm, key)
		}
	}
	if in.Position != "" && !slices.Contains(diagnose.Positions, in.Position) {
		return diagnoseOut{}, fault.New(fault.BadChoice, "position", "A vehicle does not stand like that.",
			"Known are drive, ground, raised, wheels off.")
	}
	h := diagnose.History{AgeYears: in.Age, KM: in.KM, Salt: in.Salt, Said: in.Complaint,
		Renewed: map[string]diagnose.Renewal{}}
	for _, r := range in.Renewed {
		h.Renewed[r.Suspect] = diagnose.Renewal{Years: r.Years, SecondHand: r.SecondHand}
	}
	rep, err := lib.Signs.Weigh(answers, h)
	if err != nil {
		return diagnoseOut{}, err
	}
	out := diagnoseOut{Suspects: []suspectOut{}, Next: []nextOut{}, Open: rep.Open, Confirm: confirm}
	for _, s := range rep.Suspects {
		out.Suspects = append(out.Suspects,
			suspectOut{s.Key, sig(s.Share), sig(s.Chance), s.Where, texts(s.Because), texts(s.Against)})
	}
	for _, n := range diagnose.Allowed(rep.Next, in.Position) {
		out.Next = append(out.Next, nextOut{n.Key, sig(n.Bits), n.Minutes, n.Settles})
	}
	return out, nil
}

// Signs lists the names diagnose knows, each with its question.
func Signs(lib *library.Library) [][2]string {
	var out [][2]string
	for _, e := range lib.Signs.Evidence {
		out = append(out, [2]string{e.Key, e.Ask})
	}
	return out
}

// liningKinds lists the kinds of brake the rules know.
func liningKinds(lib *library.Library) []string {
	var out []string
	if lib == nil { // what the names of fields are does not hang on it
		return nil
	}
	for _, r := range lib.Limits.Lining {
		out = append(out, r.Kind)
	}
	return out
}

// texts says reasons; none is an empty list.
func texts(reasons []diagnose.Reason) []string {
	out := []string{}
	for _, r := range reasons {
		out = append(out, r.String())
	}
	return out
}
