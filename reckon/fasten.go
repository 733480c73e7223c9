package reckon

import (
	"fmt"
	"math"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/recipe"
	"lugtak/core/thread"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/library"
)

// fastening are the calculations of threads, figures and pulls.
var fastening = []Calc{
	calc(Calc{
		Name:    "convert",
		Of:      Wrench,
		Asks:    "What is that in another unit?",
		Title:   "One unit to another",
		Formula: "value · factor(from) / factor(to)",
		Source:  "NIST SP 811, appendix B",
		Example: `{"value":96,"from":"N·m","to":"ft·lb"}`,
	}, convert),
	calc(Calc{
		Name:    "recipe",
		Of:      Bolt,
		Asks:    "What does this recipe say?",
		Title:   "Read a recipe",
		Formula: "each stage in order; preload over the friction band of the treatment",
		Source:  "notation: this shop's; plausibility: VDI 2230 part 1, ISO 898-1",
		Example: `{"text":"60 Nm + 90°","thread":"M12x1.5","class":"10.9"}`,
	}, readRecipe),
	calc(Calc{
		Name:    "wrench-setting",
		Of:      Wrench,
		Asks:    "What to set with an adapter?",
		Title:   "What to set with an adapter",
		Formula: "setting = target · L / (L + A·cos φ)",
		Source:  "statics, any torque-wrench handbook",
		Example: `{"target_nm":100,"wrench_mm":450,"adapter_mm":50,"adapter_angle_deg":0}`,
	}, wrenchSetting),
	calc(Calc{
		Name:    "guard-band",
		Of:      Wrench,
		Asks:    "Where to set for its error?",
		Title:   "Keep the tool's error inside the window",
		Formula: "setting = (low + high)/2; error evenly spread over ±accuracy",
		Source:  "ISO 6789-1:2017 for the permitted error",
		Example: `{"low_nm":102,"high_nm":118,"accuracy_pct":4}`,
	}, guardBand),
	calc(Calc{
		Name:    "preload",
		Of:      Bolt,
		Asks:    "How hard does it clamp?",
		Title:   "Preload of a torque",
		Formula: "F = M / (0.16·P + 0.58·d2·μ + D_Km/2·μ)",
		Source:  "VDI 2230 part 1; ISO 898-1, SAE J429",
		Example: `{"thread":"M10","class":"8.8","torque_nm":48,"friction":0.12}`,
	}, preload),
	calcBy(Calc{
		Name:    "paste",
		Of:      Bolt,
		Asks:    "What figures are in this text?",
		Title:   "A paragraph of a manual",
		Formula: "the longest stretch of words in a sentence that is a recipe; every word used, or left",
		Source:  "the notation",
		Example: `{"text":"Caliper bracket bolts M12x1.5: 115 Nm with locking fluid."}`,
	}, paste),
	calc(Calc{
		Name:    "tightening",
		Of:      Bolt,
		Asks:    "Which torque for that clamp?",
		Title:   "Torque for a share of yield",
		Formula: "F = As·ν·Rp0.2 / √(1 + 3·(1.5·d2/d0·(P/(π·d2) + 1.155·μ))²); M = F·(0.16·P + 0.58·d2·μ + D_Km/2·μ)",
		Source:  "VDI 2230 part 1, table A1",
		Example: `{"thread":"M10","class":"8.8","friction":0.12,"utilisation":0.9}`,
	}, tightening),
	calc(Calc{
		Name:    "twist-off",
		Of:      Bolt,
		Asks:    "Where would it shear?",
		Title:   "Where a bolt shears",
		Formula: "M = X·Rm·π/16·d3min³",
		Source:  "ISO 898-7 for M1 to M10; an estimate above",
		Example: `{"thread":"M8","class":"8.8"}`,
	}, twistOff),
	calc(Calc{
		Name:    "bar-force",
		Of:      Wrench,
		Asks:    "How hard must I pull?",
		Title:   "Pull at the end of a bar",
		Formula: "F = M / length",
		Source:  "statics",
		Example: `{"torque_nm":200,"bar_mm":500}`,
	}, barForce),
	calc(Calc{
		Name:    "castle-nut",
		Of:      Bolt,
		Asks:    "Which slot comes next?",
		Title:   "On to the next slot",
		Formula: "advance = hole angle mod 360°/slots; travel = P · advance/360°; back = 360°/slots − advance",
		Source:  "geometry; only ever onward where it clamps, and back where it sets a bearing, is common practice",
		Example: `{"slots":6,"thread":"M12x1.25","hole_deg":25,"sets_bearing":true}`,
	}, castleNut),
	calc(Calc{
		Name:    "socket",
		Of:      Wrench,
		Asks:    "Which socket fits?",
		Title:   "Which socket fits",
		Formula: "clearance = socket − across flats",
		Source:  "ISO 272 sizes; inch sizes exact; limits common practice",
		Example: `{"across_flats_mm":22}`,
	}, socket),
	calc(Calc{
		Name:    "bearing-pressure",
		Of:      Bolt,
		Asks:    "What does the head press on?",
		Title:   "What a head presses on",
		Formula: "p = F / (π/4·(D² − d²)), F = M / (0.16·P + 0.58·d2·μ + D_Km/2·μ)",
		Source:  "VDI 2230 part 1; limits of table A9, from memory",
		Example: `{"thread":"M12x1.5","class":"10.9","torque_nm":115,"flange_mm":25,"hole_mm":13,"old_flange_mm":20,` +
			`"part":"aluminium"}`,
	}, bearingPressure),
	calc(Calc{
		Name:    "pull",
		Of:      Wrench,
		Asks:    "Was that pull good?",
		Title:   "Judge a torque–angle trace",
		Formula: "stages against their windows, then the signature of the trace",
		Source:  "this shop's judge; study in docs",
		Example: pullExample(),
	}, judgePull),
}

type convertIn struct {
	Value float64 `json:"value"`
	From  string  `json:"from"`
	To    string  `json:"to"`
}
type convertOut struct {
	Value float64 `json:"value"`
}

func convert(in convertIn) (convertOut, error) {
	v, err := unit.Convert(in.Value, in.From, in.To)
	return convertOut{sig(v)}, err
}

type recipeIn struct {
	Text      string `json:"text"`
	Thread    string `json:"thread,omitempty"`
	Class     name   `json:"class,omitempty"`
	Treatment string `json:"treatment,omitempty"`
}
type stageOut struct {
	Kind     recipe.Kind `json:"kind"`
	LowNm    *float64    `json:"low_nm,omitempty"`
	TargetNm *float64    `json:"target_nm,omitempty"`
	HighNm   *float64    `json:"high_nm,omitempty"`
	AngleDeg *float64    `json:"angle_deg,omitempty"`
	Full     bool        `json:"full"`
}
type recipeOut struct {
	Canonical string           `json:"canonical"`
	Stages    []stageOut       `json:"stages"`
	Explain   []string         `json:"explain"`
	Notes     []string         `json:"notes,omitempty"` // words that stood beside the figures
	Warnings  []recipe.Warning `json:"warnings"`
	PeakNm    float64          `json:"peak_nm"`
	Preload   *bandOut         `json:"preload_kn,omitempty"`
	Used      *bandOut         `json:"utilisation_pct,omitempty"`
}
type bandOut struct {
	Low  float64 `json:"low"`
	Mid  float64 `json:"mid"`
	High float64 `json:"high"`
}

// bolt reads thread and class; ok is false where neither is given.
func bolt(name, class, treatment string) (f recipe.Fastener, ok bool, err error) {
	if name == "" && class == "" {
		return f, false, nil
	}
	if name == "" {
		return f, false, fault.New(fault.Missing, "thread", "A class alone is no bolt.",
			"Give the thread too, as in M12x1.5.")
	}
	if class == "" {
		return f, false, fault.New(fault.Missing, "class", "A thread alone is no bolt.", "Give the class too, as in 10.9.")
	}
	th, err := thread.Parse(name)
	if err != nil {
		return f, false, err
	}
	cl, err := thread.ParseClass(class, th)
	if err != nil {
		return f, false, err
	}
	if _, err := thread.Friction(thread.Treatment(treatment)); err != nil {
		return f, false, err
	}
	return recipe.Fastener{Thread: th, Class: cl, Treatment: thread.Treatment(treatment)}, true, nil
}

func readRecipe(in recipeIn) (recipeOut, error) {
	r, err := recipe.Parse(in.Text)
	if err != nil {
		return recipeOut{}, fault.In("text", err)
	}
	out := recipeOut{
		Canonical: r.String(),
		Explain:   r.Explain(),
		Notes:     r.Notes,
		Warnings:  []recipe.Warning{},
		PeakNm:    sig(r.Peak().Nm()),
	}
	for _, s := range r.Stages {
		low, target, high := s.Stated()
		o := stageOut{Kind: s.Kind, Full: s.Full}
		ref := func(v float64) *float64 { v = sig(v); return &v }
		switch s.Kind {
		case recipe.Torque:
			o.LowNm, o.TargetNm = ref(low), ref(target)
			if high > 0 {
				o.HighNm = ref(high)
			}
		case recipe.Angle:
			o.AngleDeg = ref(target)
		case recipe.BackOff:
			if !s.Full {
				o.AngleDeg = ref(target)
			}
		}
		out.Stages = append(out.Stages, o)
	}
	f, ok, err := bolt(in.Thread, string(in.Class), in.Treatment)
	if err != nil || !ok {
		return out, err
	}
	ws, err := recipe.Check(r, f)
	if err != nil {
		return out, err
	}
	out.Warnings = append(out.Warnings, ws...)
	l, err := recipe.Reckon(r, f)
	if err == nil && l.Torque > 0 {
		out.Preload = &bandOut{sig(l.Preload.Low / 1000), sig(l.Preload.Mid / 1000), sig(l.Preload.High / 1000)}
		out.Used = &bandOut{sig(100 * l.Utilisation.Low), sig(100 * l.Utilisation.Mid), sig(100 * l.Utilisation.High)}
	}
	if l.AngleDeg > 0 {
		mu, _ := thread.Friction(f.Treatment)
		out.PeakNm = sig(max(out.PeakNm, l.AfterAngle.Mid*f.Thread.TorquePerForce(mu.Mid)))
	}
	return out, err
}

type preloadIn struct {
	Thread    string   `json:"thread"`
	Class     name     `json:"class"`
	TorqueNm  float64  `json:"torque_nm"`
	Friction  *float64 `json:"friction,omitempty"`
	Treatment string   `json:"treatment,omitempty"`
}
type preloadOut struct {
	PreloadKN float64 `json:"preload_kn"`
	ProofPct  float64 `json:"proof_pct"`
	YieldPct  float64 `json:"yield_pct"` // tension and twist together
}

func friction(given *float64, treatment string) (float64, error) {
	if given != nil {
		if !(*given >= 0.02 && *given <= 0.6) {
			return 0, fault.New(fault.OutOfRange, "friction", "No bolt has that friction.",
				"Give a number between 0.02 and 0.6; 0.12 is usual.")
		}
		return *given, nil
	}
	b, err := thread.Friction(thread.Treatment(treatment))
	return b.Mid, err
}

func preload(in preloadIn) (preloadOut, error) {
	f, _, err := bolt(in.Thread, string(in.Class), in.Treatment)
	if err != nil {
		return preloadOut{}, err
	}
	mu, err := friction(in.Friction, in.Treatment)
	if err != nil {
		return preloadOut{}, err
	}
	if !(in.TorqueNm >= 0 && in.TorqueNm <= 20000) {
		return preloadOut{}, fault.New(fault.OutOfRange, "torque_nm", "That is no torque for a bolt.",
			"Give it in newton metres.")
	}
	if err := bears(f, in.TorqueNm); err != nil {
		return preloadOut{}, err
	}
	p := f.Thread.Preload(in.TorqueNm, mu)
	return preloadOut{
		PreloadKN: sig(p / 1000),
		ProofPct:  sig(100 * f.Thread.ProofShare(f.Class, p)),
		YieldPct:  sig(100 * f.Thread.Utilisation(f.Class, in.TorqueNm, mu)),
	}, nil
}

// bears refuses a torque at which the bolt has twisted off.
func bears(f recipe.Fastener, torque float64) error {
	twist, _ := f.Thread.TwistOff(f.Class)
	if torque <= twist {
		return nil
	}
	return fault.New(fault.Impossible, "torque_nm",
		fmt.Sprintf("%s class %s twists off at %s: it never sees that torque.", f.Thread.Name, f.Class.Name,
			unit.Torque(math.Round(twist)).Both()),
		"Check thread, class, figure and unit.")
}

type tighteningIn struct {
	Thread      string   `json:"thread"`
	Class       name     `json:"class"`
	Friction    *float64 `json:"friction,omitempty"`
	Treatment   string   `json:"treatment,omitempty"`
	Utilisation *float64 `json:"utilisation,omitempty"`
}
type tighteningOut struct {
	PreloadKN float64 `json:"preload_kn"`
	TorqueNm  float64 `json:"torque_nm"`
}

func tightening(in tighteningIn) (tighteningOut, error) {
	f, _, err := bolt(in.Thread, string(in.Class), in.Treatment)
	if err != nil {
		return tighteningOut{}, err
	}
	mu, err := friction(in.Friction, in.Treatment)
	if err != nil {
		return tighteningOut{}, err
	}
	share := 0.9
	if in.Utilisation != nil {
		share = *in.Utilisation
	}
	if !(share > 0 && share <= 1) {
		return tighteningOut{}, fault.New(fault.OutOfRange, "utilisation",
			"A bolt is used between nothing and all of its yield.", "Give a share, 0.9 for 90 %.")
	}
	p, m := f.Thread.Tightening(f.Class, mu, share)
	return tighteningOut{sig(p / 1000), sig(m)}, nil
}

type boltIn struct {
	Thread string `json:"thread"`
	Class  name   `json:"class"`
}
type twistOut struct {
	TorqueNm  float64 `json:"torque_nm"`
	Estimated bool    `json:"estimated"`
}

func twistOff(in boltIn) (twistOut, error) {
	f, _, err := bolt(in.Thread, string(in.Class), "")
	if err != nil {
		return twistOut{}, err
	}
	m, est := f.Thread.TwistOff(f.Class)
	return twistOut{sig(m), est}, nil
}

type pressureIn struct {
	Thread      string   `json:"thread"`
	Class       name     `json:"class"`
	TorqueNm    float64  `json:"torque_nm"`
	Friction    *float64 `json:"friction,omitempty"`
	Treatment   string   `json:"treatment,omitempty"`
	FlangeMM    float64  `json:"flange_mm"`
	HoleMM      float64  `json:"hole_mm"`
	OldFlangeMM float64  `json:"old_flange_mm,omitempty"`
	Part        string   `json:"part,omitempty"`
}
type pressureOut struct {
	PressureMPa float64 `json:"pressure_mpa"`
	LimitMPa    float64 `json:"limit_mpa,omitempty"`
	Verdict     string  `json:"verdict,omitempty"`  // holds, sinks_in
	RisePct     float64 `json:"rise_pct,omitempty"` // against the old flange
}

func bearingPressure(in pressureIn) (pressureOut, error) {
	f, _, err := bolt(in.Thread, string(in.Class), in.Treatment)
	if err != nil {
		return pressureOut{}, err
	}
	mu, err := friction(in.Friction, in.Treatment)
	switch {
	case err != nil:
		return pressureOut{}, err
	case !(in.TorqueNm > 0 && in.TorqueNm <= 20000):
		return pressureOut{}, fault.New(fault.OutOfRange, "torque_nm", "That is no torque for a bolt.",
			"Give it in newton metres.")
	case !(in.HoleMM > 0 && in.HoleMM < 200):
		return pressureOut{}, fault.New(fault.OutOfRange, "hole_mm", "That is no hole for a bolt.",
			"Measure its diameter in mm.")
	case !(in.FlangeMM > in.HoleMM && in.FlangeMM < 300):
		return pressureOut{}, fault.New(fault.OutOfRange, "flange_mm",
			"The face under the head is not wider than the hole.", "Measure its outer diameter in mm.")
	case in.OldFlangeMM != 0 && !(in.OldFlangeMM > in.HoleMM && in.OldFlangeMM < 300):
		return pressureOut{}, fault.New(fault.OutOfRange, "old_flange_mm", "The old face is not wider than the hole.",
			"Measure its outer diameter in mm, or leave it out.")
	}
	if err := bears(f, in.TorqueNm); err != nil {
		return pressureOut{}, err
	}
	force := f.Thread.Preload(in.TorqueNm, mu)
	p := vehicle.Pressure(force, in.FlangeMM, in.HoleMM)
	out := pressureOut{PressureMPa: sig(p)}
	if in.OldFlangeMM > 0 {
		out.RisePct = sig(100 * (p/vehicle.Pressure(force, in.OldFlangeMM, in.HoleMM) - 1))
	}
	if in.Part != "" {
		limit, ok := vehicle.PressureLimits[in.Part]
		if !ok {
			return out, fault.New(fault.BadChoice, "part", "No limit is known for that part.",
				"Known are aluminium, cast iron and steel; for others look up the limiting pressure.")
		}
		out.LimitMPa, out.Verdict = limit, "holds"
		if p > limit {
			out.Verdict = "sinks_in"
		}
	}
	return out, nil
}

type pasteIn struct {
	Text string `json:"text"`
}
type pasteOut struct {
	Lines []recipe.Line `json:"lines"`
}

func paste(lib *library.Library, in pasteIn) (pasteOut, error) {
	if strings.TrimSpace(in.Text) == "" {
		return pasteOut{}, fault.New(fault.Missing, "text", "Nothing is pasted.", "Copy a paragraph of the manual.")
	}
	lines, err := recipe.Paste(in.Text, lib.JointTitles())
	return pasteOut{lines}, err
}
