package reckon

import (
	"strconv"
	"strings"

	"lugtak/core/brake"
	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/thread"
)

// What follows from mechanics alone, for joints, brakes, bearings and wheels.

var mechanics = []Calc{
	calc(Calc{
		Name:  "joint",
		Of:    Bolt,
		Asks:  "What clamp is left?",
		Title: "A bolted joint under load",
		Formula: "loss = settling / (1/kB + 1/kP); bolt = F − loss + Φ·load; clamp = F − loss − (1 − Φ)·load; Φ = kB / (kB " +
			"+ kP)",
		Source: "VDI 2230 part 1: the bolt as cylinders, the parts as cones, load under head and nut; steel plates wide " +
			"enough; " +
			"written down from memory",
		Example: `{"thread":"M10","class":"8.8","grip_mm":30,"preload_kn":29.6,"load_kn":10,"settle_um":8}`,
	}, joint),
	calc(Calc{
		Name:    "engagement",
		Of:      Bolt,
		Asks:    "How deep must it be in?",
		Title:   "Thread engagement",
		Formula: "length = Rm · As / (0.6 · Rm of the part · 0.875 · π · d)",
		Source:  "ISO 724 basic profile, FED-STD-H28 part 2, ISO 898-1; shear at 0.6 of tensile strength is common practice",
		Example: `{"thread":"M10","class":"8.8","part_mpa":250}`,
	}, engagement),
	calc(Calc{
		Name:    "hydraulics",
		Of:      Brake,
		Asks:    "What does the pedal press?",
		Title:   "Pedal, line and caliper",
		Formula: "line = pedal · ratio / master area; clamp = line · piston area · pistons",
		Source:  "Pascal’s law; no booster, nothing lost in seals",
		Example: `{"pedal_n":300,"ratio":4,"master_mm":23.8,"piston_mm":57,"pistons":1}`,
	}, hydraulics),
	calc(Calc{
		Name:    "push-rod",
		Of:      Brake,
		Asks:    "Is that stroke allowed?",
		Title:   "Push-rod stroke of an air chamber",
		Formula: "limit by the chamber’s size, cold, 620 to 690 kPa",
		Source:  "49 CFR 393.47(e), from memory",
		Example: `{"chamber":"30","stroke_mm":48,"pressure_kpa":655}`,
	}, pushRod),
	calc(Calc{
		Name:  "bearing",
		Of:    Shaft,
		Asks:  "How often does a flaw pass?",
		Title: "Frequencies of a rolling bearing",
		Formula: "outer = n/2·f·(1 − d/D·cos α); inner = n/2·f·(1 + d/D·cos α); cage = f/2·(1 − …); ball = D/2d·f·(1 − " +
			"(d/D·cos α)²)",
		Source:  "kinematics of rolling without slip, outer ring held; textbook of machine vibration",
		Example: `{"balls":9,"ball_mm":7.94,"pitch_mm":39.04,"angle_deg":0,"turns_per_s":29.95}`,
	}, bearing),
	calc(Calc{
		Name:    "end-play",
		Of:      Shaft,
		Asks:    "Is that play right?",
		Title:   "End play by readings",
		Formula: "play = mean; may be off by √(gauge² + (half the spread)²)",
		Source:  "common practice; root of squares of independent errors",
		Example: `{"readings_mm":[0.06,0.07,0.06],"gauge_mm":0.01,"low_mm":0.03,"high_mm":0.13}`,
	}, endPlay),
	calc(Calc{
		Name:    "balance",
		Of:      Wheel,
		Asks:    "How much may it be out?",
		Title:   "Balance a wheel may keep",
		Formula: "residual = grade / ω · mass; at the rim = residual / rim radius",
		Source:  "ISO 21940-11, grade G 40 for car wheels",
		Example: `{"mass_kg":20,"speed_kmh":120,"tyre":"205/55R16","grade":"G 40"}`,
	}, balance),
	calc(Calc{
		Name:    "toe-angle",
		Of:      Wheel,
		Asks:    "Toe in mm or in degrees?",
		Title:   "Toe in degrees and in millimetres",
		Formula: "at the rim = rim · sin(toe)",
		Source:  "geometry",
		Example: `{"rim_mm":400,"toe_mm":2}`,
	}, toeAngle),
	calc(Calc{
		Name:    "camber",
		Of:      Wheel,
		Asks:    "How does the wheel lean?",
		Title:   "Camber by two readings",
		Formula: "camber = (one − other) / 2, the gauge turned end for end between",
		Source:  "geometry: what the gauge is off drops out",
		Example: `{"one_deg":-0.9,"other_deg":0.5}`,
	}, camber),
	calc(Calc{
		Name:    "caster",
		Of:      Wheel,
		Asks:    "How does its axis lean?",
		Title:   "Caster by two readings of camber",
		Formula: "caster = (camber turned in − camber turned out) / (2 · sin of the turn)",
		Source:  "geometry of the steering axis, small angles of camber",
		Example: `{"camber_in_deg":1.2,"camber_out_deg":-2.2,"steer_deg":20}`,
	}, caster),
}

type jointIn struct {
	Thread   string   `json:"thread"`
	Class    name     `json:"class"`
	GripMM   float64  `json:"grip_mm"`
	Preload  *float64 `json:"preload_kn,omitempty"`
	Torque   *float64 `json:"torque_nm,omitempty"` // in place of the preload
	LoadKN   float64  `json:"load_kn,omitempty"`
	ShearKN  float64  `json:"shear_kn,omitempty"`
	SettleUM float64  `json:"settle_um,omitempty"`
}
type jointOut struct {
	Bolt     float64 `json:"stiffness_bolt"` // kN/mm
	Parts    float64 `json:"stiffness_parts"`
	BoltKN   float64 `json:"bolt_kn"`
	ClampKN  float64 `json:"clamp_kn"`
	LossKN   float64 `json:"loss_kn"`
	Slips    bool    `json:"slips"`
	YieldPct float64 `json:"yield_pct"` // of the bolt, in tension
}

func joint(in jointIn) (jointOut, error) {
	f, _, err := bolt(in.Thread, string(in.Class), "")
	if err != nil {
		return jointOut{}, err
	}
	preload := 0.0
	switch {
	case in.Preload != nil && in.Torque != nil:
		return jointOut{}, fault.New(fault.TwoReadings, "preload_kn", "Preload and torque are both given.", "Leave one out.")
	case in.Preload != nil:
		preload = 1000 * *in.Preload
	case in.Torque != nil:
		mu, err := friction(nil, "")
		if err != nil {
			return jointOut{}, err
		}
		if err := bears(f, *in.Torque); err != nil {
			return jointOut{}, err
		}
		preload = f.Thread.Preload(*in.Torque, mu)
	default:
		return jointOut{}, fault.New(fault.Missing, "preload_kn", "It is not said how hard it clamps.",
			"Give the preload in kN, or the torque in N·m.")
	}
	out, err := thread.Clamped{
		Thread:  f.Thread,
		Grip:    in.GripMM,
		Preload: preload,
		Load:    1000 * in.LoadKN,
		Shear:   1000 * in.ShearKN,
		Settle:  in.SettleUM / 1000,
	}.Reckon()
	return jointOut{
		Bolt:     sig(out.Bolt / 1000),
		Parts:    sig(out.Parts / 1000),
		BoltKN:   sig(out.BoltForce / 1000),
		ClampKN:  sig(out.Left / 1000),
		LossKN:   sig(out.Loss / 1000),
		Slips:    out.Slips,
		YieldPct: sig(100 * f.Thread.YieldShare(f.Class, out.BoltForce)),
	}, err
}

type engagementIn struct {
	Thread  string  `json:"thread"`
	Class   name    `json:"class"`
	PartMPa float64 `json:"part_mpa"`
}
type engagementOut struct {
	MM        float64 `json:"length_mm"`
	Diameters float64 `json:"diameters"`
	Turns     float64 `json:"turns"`
}

func engagement(in engagementIn) (engagementOut, error) {
	f, _, err := bolt(in.Thread, string(in.Class), "")
	if err != nil {
		return engagementOut{}, err
	}
	mm, err := f.Thread.Engagement(f.Class, in.PartMPa)
	return engagementOut{sig(mm), sig(mm / f.Thread.D), sig(mm / f.Thread.P)}, err
}

type hydraulicsIn struct {
	PedalN   float64 `json:"pedal_n"`
	Ratio    float64 `json:"ratio"`
	MasterMM float64 `json:"master_mm"`
	PistonMM float64 `json:"piston_mm"`
	Pistons  int     `json:"pistons"` // on one side
}
type hydraulicsOut struct {
	LineBar float64 `json:"line_bar"`
	ClampKN float64 `json:"clamp_kn"`
}

func hydraulics(in hydraulicsIn) (hydraulicsOut, error) {
	p, clamp, err := brake.Line(in.PedalN, in.Ratio, in.MasterMM, in.PistonMM, in.Pistons)
	return hydraulicsOut{sig(10 * p), sig(clamp / 1000)}, err
}

type pushRodIn struct {
	Chamber  name    `json:"chamber"`
	StrokeMM float64 `json:"stroke_mm"`
	Pressure float64 `json:"pressure_kpa"`
}
type pushRodOut struct {
	LimitMM float64 `json:"limit_mm"`
	Verdict string  `json:"verdict"`
	Says    string  `json:"says"`
}

func pushRod(in pushRodIn) (pushRodOut, error) {
	c, ok, err := brake.PushRod(string(in.Chamber), in.StrokeMM, in.Pressure)
	if err != nil {
		return pushRodOut{}, err
	}
	out := pushRodOut{sig(c.Limit), "ok", "The rod stays within what its chamber may travel. The maker’s figure comes " +
		"first."}
	if !ok {
		out.Verdict = "over"
		out.Says = "Out of adjustment: look why the slack adjuster did not take it up before it is set. Not to be driven so."
	}
	return out, nil
}

type bearingIn struct {
	Balls   int     `json:"balls"`
	BallMM  float64 `json:"ball_mm"`
	PitchMM float64 `json:"pitch_mm"`
	Angle   float64 `json:"angle_deg,omitempty"`
	Turns   float64 `json:"turns_per_s"`
}
type bearingOut struct {
	Outer float64 `json:"bpfo_hz"`
	Inner float64 `json:"bpfi_hz"`
	Cage  float64 `json:"ftf_hz"`
	Ball  float64 `json:"bsf_hz"`
}

func bearing(in bearingIn) (bearingOut, error) {
	f, err := inspect.Ball{Balls: in.Balls, BallMM: in.BallMM, PitchMM: in.PitchMM, AngleDeg: in.Angle}.Passes(in.Turns)
	return bearingOut{sig(f.Outer), sig(f.Inner), sig(f.Cage), sig(f.Ball)}, err
}

type endPlayIn struct {
	Readings []float64 `json:"readings_mm"`
	Gauge    float64   `json:"gauge_mm"`
	Low      *float64  `json:"low_mm,omitempty"`
	High     *float64  `json:"high_mm,omitempty"`
}
type endPlayOut struct {
	Play    float64 `json:"play_mm"`
	Band    float64 `json:"band_mm"` // it may be off by as much
	Verdict string  `json:"verdict"`
}

// endPlay judges by what the readings can tell: a play whose band reaches over an end is read again.
func endPlay(in endPlayIn) (endPlayOut, error) {
	play, band, err := inspect.Play(in.Readings, in.Gauge)
	if err != nil {
		return endPlayOut{}, err
	}
	if in.Low != nil && in.High != nil && *in.High <= *in.Low {
		return endPlayOut{}, fault.New(fault.OutOfRange, "high_mm", "The highest play is not above the lowest.",
			"Give both as on the sheet.")
	}
	limit := inspect.Limit{Unit: "mm"}
	switch {
	case in.High != nil:
		limit.Value = *in.High
		if in.Low != nil {
			limit.Floor = *in.Low
		}
	case in.Low != nil:
		limit.Value, limit.Least = *in.Low, true
	}
	return endPlayOut{sig(play), sig(band), playWords[limit.Judge(play, band).Verdict]}, nil
}

// playWords are the verdicts on an end play as this calculation says them.
var playWords = map[inspect.Verdict]string{
	inspect.OK: "ok", inspect.NoLimit: "ok", inspect.Over: "high", inspect.Under: "low", inspect.MeasureAgain: "again",
}

type balanceIn struct {
	MassKG   float64 `json:"mass_kg"`
	SpeedKMH float64 `json:"speed_kmh"`
	Tyre     string  `json:"tyre"`
	Grade    name    `json:"grade"` // 40, or G 40
}
type balanceOut struct {
	GMM   float64 `json:"residual_g_mm"`
	AtRim float64 `json:"at_rim_g"`
}

func balance(in balanceIn) (balanceOut, error) {
	tyre, err := inspect.ParseTyre(in.Tyre)
	if err != nil {
		return balanceOut{}, fault.In("tyre", err)
	}
	text := strings.TrimSpace(strings.TrimPrefix(strings.ToUpper(strings.TrimSpace(string(in.Grade))), "G"))
	grade, err := strconv.ParseFloat(text, 64)
	if err != nil {
		grade = 0 // which no grade is
	}
	gmm, err := inspect.Residual(in.MassKG, tyre.TurnsPerSecond(in.SpeedKMH), grade)
	return balanceOut{sig(gmm), sig(gmm / (tyre.RimMM / 2))}, err
}

type toeAngleIn struct {
	RimMM float64  `json:"rim_mm"`
	MM    *float64 `json:"toe_mm,omitempty"`
	Deg   *float64 `json:"toe_deg,omitempty"` // in place of the millimetres
}
type toeAngleOut struct {
	Deg     float64 `json:"toe_deg"`
	Minutes float64 `json:"toe_minutes"` // of arc
	MM      float64 `json:"toe_mm"`
}

func toeAngle(in toeAngleIn) (toeAngleOut, error) {
	var deg, mm float64
	var err error
	switch {
	case (in.MM == nil) == (in.Deg == nil):
		return toeAngleOut{}, fault.New(fault.Missing, "toe_mm", "Toe is wanted in one of the two.",
			"Give millimetres or degrees, and leave the other out.")
	case in.MM != nil:
		mm = *in.MM
		deg, err = inspect.ToeAngle(mm, in.RimMM)
	default:
		deg = *in.Deg
		mm, err = inspect.ToeAtRim(deg, in.RimMM)
	}
	return toeAngleOut{sig(deg), sig(60 * deg), sig(mm)}, err
}

type camberIn struct {
	One   float64 `json:"one_deg"`
	Other float64 `json:"other_deg"` // the gauge turned end for end
}
type camberOut struct {
	Camber float64 `json:"camber_deg"`
	Gauge  float64 `json:"gauge_off_deg"`
}

func camber(in camberIn) (camberOut, error) {
	deg, gauge, err := inspect.Camber(in.One, in.Other)
	return camberOut{sig(deg), sig(gauge)}, err
}

type casterIn struct {
	In    float64 `json:"camber_in_deg"`
	Out   float64 `json:"camber_out_deg"`
	Steer float64 `json:"steer_deg"`
}
type casterOut struct {
	Caster float64 `json:"caster_deg"`
}

func caster(in casterIn) (casterOut, error) {
	deg, err := inspect.Caster(in.In, in.Out, in.Steer)
	return casterOut{sig(deg)}, err
}
