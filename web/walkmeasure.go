package web

import (
	"math"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/device"
	"lugtak/web/kit"
)

func (s walkRoom) measure(c fiber.Ctx, st *job.State) error {
	in := kit.Read[struct {
		walked
		Key    string     `form:"key"`
		Value  kit.Figure `form:"value"`
		From   string     `form:"from"`  // the gauge that is connected
		Limit  kit.Figure `form:"limit"` // the maker's own
		Source string     `form:"source"`
	}](c)
	l, ok := s.Shop.Library().Limits.Measure(in.Key)
	if !ok {
		return s.onWalk(c, in.Key,
			fault.New(fault.Missing, "key", "There is no such measurement.", "Choose one of the walk-round."))
	}
	v, ok := in.Value.Value, in.Value.OK
	simulated := false
	usual := l.Usual()
	if step := st.Plan.Step(in.Step); step != nil {
		usual = st.LimitAt(l, string(step.Corner)).Usual()
	}
	if g := device.GaugeFor(s.Shop.Devices, l.Key, usual); in.From == "gauge" && g != nil {
		shown, err := g.Measure(c.Context())
		if err != nil {
			return err
		}
		v, ok = math.Round(shown*1000)/1000, true
		simulated = s.Shop.Devices.Simulated()
	}
	if !ok {
		return s.onWalk(
			c,
			in.Key,
			fault.New(fault.BadNumber, "value", "That is no figure.", "Enter what the gauge shows, in "+l.Unit+"."),
		)
	}
	if in.Limit.Given() {
		if l.OfMark() {
			return s.onWalk(c, in.Key, fault.New(fault.BadChoice, "limit", "No maker limits this: it is of this vehicle.",
				"Leave the limit empty."))
		}
		if !in.Limit.OK || in.Limit.Value <= 0 || len(in.Source) > 200 {
			return s.onWalk(
				c,
				in.Key,
				fault.New(fault.BadNumber, "limit", "That is no limit.",
					"Enter the maker's figure, in "+l.Unit+", with its source."),
			)
		}
		l.Value, l.Source, l.Jurisdiction = in.Limit.Value, strings.TrimSpace(in.Source), "this vehicle"
	}
	return s.takeMeasure(c, in.Key, job.Measure{Limit: l, Value: v, Simulated: simulated})
}

// takeMeasure records a measurement: at the bench to its step, on the walk-round at the
// corner that is said.
func (s walkRoom) takeMeasure(c fiber.Ctx, key string, cmd job.Measure) error {
	in := kit.Read[struct {
		walked
		Corner string `form:"wheelat"`
	}](c)
	cmd.Step = in.Step
	cmd.Corner = in.Corner
	_, err := s.record(c, cmd)
	return s.onWalk(c, key, err)
}

// rotor judges several readings of one rotor.
func (s walkRoom) rotor(c fiber.Ctx) error {
	in := kit.Read[struct {
		Readings string     `form:"readings"`
		New      kit.Figure `form:"new"`
		Discard  kit.Figure `form:"discard"`
		RunOut   kit.Figure `form:"runout"`
		Distance kit.Figure `form:"distance"`
	}](c)
	read, err := figures("readings", in.Readings)
	if err != nil {
		return s.onWalk(c, "rotor", err)
	}
	for field, f := range map[string]kit.Figure{
		"new":      in.New,
		"discard":  in.Discard,
		"runout":   in.RunOut,
		"distance": in.Distance,
	} {
		if f.Given() && !f.OK {
			return s.onWalk(c, "rotor",
				fault.New(fault.BadNumber, field, "The "+field+" is no figure.", "Write it in mm, the distance in km."))
		}
	}
	r := inspect.Rotor{
		Thickness: read,
		New:       in.New.Value,
		Discard:   in.Discard.Value,
		RunOut:    in.RunOut.Value,
		Distance:  in.Distance.Value,
	}
	res, err := r.Judge()
	if err != nil {
		return s.onWalk(c, "rotor", err)
	}
	l, f := r.Measure(res)
	return s.takeMeasure(c, "rotor", job.Measure{Limit: l, Value: res.Min, Readings: r.Thickness, Judged: &f})
}

// lash holds the steering wheel's lash against the rule for its diameter.
func (s walkRoom) lash(c fiber.Ctx) error {
	in := kit.Read[struct {
		Rule  string     `form:"rule"`
		Wheel kit.Figure `form:"wheel"`
		Value kit.Figure `form:"value"`
		Power kit.Tick   `form:"power"`
	}](c)
	r, err := s.Shop.Library().Limits.LashRule(in.Rule)
	if err != nil {
		return s.onWalk(c, "lash", err)
	}
	if !in.Wheel.OK || !in.Value.OK {
		return s.onWalk(
			c,
			"lash",
			fault.New(fault.BadNumber, "value", "Wheel or lash is no figure.", "Measure across the rim and along it, in mm."),
		)
	}
	l, err := r.Measure(in.Wheel.Value, bool(in.Power))
	if err != nil {
		return s.onWalk(c, "lash", err)
	}
	return s.takeMeasure(c, "lash", job.Measure{Limit: l, Value: in.Value.Value})
}

// lining holds a brake lining against the rule for its kind.
func (s walkRoom) lining(c fiber.Ctx) error {
	in := kit.Read[struct {
		Kind  string     `form:"kind"` // the rule and the kind of brake
		Value kit.Figure `form:"value"`
	}](c)
	rule, kind, _ := strings.Cut(in.Kind, " ")
	r, err := s.Shop.Library().Limits.LiningRule(rule, kind)
	if err != nil {
		return s.onWalk(c, "lining", err)
	}
	if !in.Value.OK {
		return s.onWalk(
			c,
			"lining",
			fault.New(fault.BadNumber, "value", "That is no figure.", "Measure at the thinnest place, in mm."),
		)
	}
	return s.takeMeasure(c, "lining", job.Measure{Limit: r.Measure(), Value: in.Value.Value})
}

// road takes the road logger's file, or has the stand-in drive one.
func (s walkRoom) road(c fiber.Ctx) error {
	in := kit.Read[struct {
		Tyre    string     `form:"tyre"`
		Ratio   kit.Figure `form:"ratio"` // 0 where none is given: the orders of the shaft are left out
		StandIn string     `form:"standin"`
		CSV     string     `form:"csv"`
	}](c)
	tyre, err := inspect.ParseTyre(in.Tyre)
	if err != nil {
		return s.onWalk(c, "road", fault.In("tyre", err))
	}
	ratio := in.Ratio.Value
	if in.Ratio.Given() && !in.Ratio.OK || ratio < 0 || ratio > 12 {
		return s.onWalk(c, "road", fault.New(fault.BadNumber, "ratio", "No axle has that ratio.",
			"Give shaft turns for one wheel turn, or leave it empty."))
	}
	var drive []inspect.RoadSample
	simulated := false
	if play := in.StandIn; play != "" && s.logger() != nil {
		simulated = s.Shop.Devices.Simulated()
		played, err := s.logger().Drive(c.Context(), tyre.CircumferenceM(), ratio, play)
		if err != nil {
			return err
		}
		for _, x := range played {
			drive = append(drive, inspect.RoadSample(x))
		}
	} else if drive, err = inspect.ReadRoadCSV(in.CSV); err != nil {
		return s.onWalk(c, "road", err)
	}
	sp, err := inspect.Analyse(drive, tyre.CircumferenceM(), inspect.Orders(1, ratio, 0))
	if err != nil {
		return s.onWalk(c, "road", err)
	}
	rec := job.RecordDrive{
		Tyre:      tyre.Text,
		AxleRatio: ratio,
		Step:      sp.Step,
		Peaks:     sp.Peaks,
		Amplitude: thin(sp.Amplitude),
		Signs:     sp.Signs(ratio > 0),
		Simulated: simulated,
	}
	step := max(1, len(sp.Falls)/20)
	for i := 0; i < len(sp.Falls); i += step {
		rec.Falls = append(
			rec.Falls,
			inspect.Fall{Speed: math.Round(10*sp.Falls[i].Speed) / 10, Amplitude: thin(sp.Falls[i].Amplitude)},
		)
	}
	_, err = s.record(c, rec)
	return s.onWalk(c, "road", err)
}

// logger is the road logger that is connected, nil where none is.
func (s walkRoom) logger() device.Logger {
	if s.Shop.Devices == nil {
		return nil
	}
	return s.Shop.Devices.Logger()
}

// thin rounds what is kept of a recording to what it is worth.
func thin(v []float64) []float64 {
	out := make([]float64, len(v))
	for i := range v {
		out[i] = math.Round(v[i]*1e4) / 1e4
	}
	return out
}
