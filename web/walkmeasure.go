package web

import (
	"math"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/core/unit"
	"lugtak/device"
)

func (s *Server) measure(c fiber.Ctx) error {
	key := c.FormValue("key")
	l, ok := s.lib().Limits.Measure(key)
	if !ok {
		return s.onWalk(c, key, fault.New("missing", "key", "There is no such measurement.", "Choose one of the walk-round."))
	}
	v, ok := unit.Figure(c.FormValue("value"))
	simulated := false
	if c.FormValue("from") == "gauge" && s.gauge(l) != nil {
		shown, err := s.gauge(l).Measure(c.Context())
		if err != nil {
			return err
		}
		v, ok = math.Round(shown*1000)/1000, true
		simulated = s.Devices.Simulated()
	}
	if !ok {
		return s.onWalk(
			c,
			key,
			fault.New("bad_number", "value", "That is no figure.", "Enter what the gauge shows, in "+l.Unit+"."),
		)
	}
	if text := c.FormValue("limit"); text != "" { // a limit of the maker's own
		limit, ok := unit.Figure(text)
		if !ok || limit <= 0 || len(c.FormValue("source")) > 200 {
			return s.onWalk(
				c,
				key,
				fault.New("bad_number", "limit", "That is no limit.", "Enter the maker's figure, in "+l.Unit+", with its source."),
			)
		}
		l.Value, l.Source, l.Jurisdiction = limit, strings.TrimSpace(c.FormValue("source")), "this vehicle"
	}
	return s.takeMeasure(c, key, job.Measure{Limit: l, Value: v, Simulated: simulated})
}

// takeMeasure records a measurement: at the bench to its step, on the walk-round at the
// corner that is said.
func (s *Server) takeMeasure(c fiber.Ctx, key string, cmd job.Measure) error {
	cmd.Step = stepForm(c)
	cmd.Corner = c.FormValue("wheelat")
	_, err := s.record(c, cmd)
	return s.onWalk(c, key, err)
}

// gauge is what measures that, where one is connected.
func (s *Server) gauge(l inspect.Limit) device.Gauge {
	if s.Devices == nil || l.Value == 0 {
		return nil
	}
	usual := usualShare * l.Value
	if l.Least {
		usual = l.Value / usualShare
	}
	return s.Devices.Gauge(l.Key, usual)
}

// usualShare of a limit is what a part in use mostly shows.
const usualShare = 0.6

// rotor judges several readings of one rotor.
func (s *Server) rotor(c fiber.Ctx) error {
	var r inspect.Rotor
	for _, w := range strings.FieldsFunc(c.FormValue("readings"), func(x rune) bool { return strings.ContainsRune("; \r\n\t", x) }) {
		v, ok := unit.Figure(strings.TrimSuffix(w, ","))
		if !ok {
			return s.onWalk(
				c,
				"rotor",
				fault.New(
					"bad_number",
					"readings",
					"“"+w[:min(len(w), 12)]+"” is no figure.",
					"Write the readings in mm with spaces between them.",
				),
			)
		}
		r.Thickness = append(r.Thickness, v)
	}
	for field, into := range map[string]*float64{"new": &r.New, "discard": &r.Discard, "runout": &r.RunOut, "distance": &r.Distance} {
		if text := strings.TrimSpace(c.FormValue(field)); text != "" {
			v, ok := unit.Figure(text)
			if !ok {
				return s.onWalk(
					c,
					"rotor",
					fault.New("bad_number", field, "The "+field+" is no figure.", "Write it in mm, the distance in km."),
				)
			}
			*into = v
		}
	}
	res, err := r.Judge()
	if err != nil {
		return s.onWalk(c, "rotor", err)
	}
	l, f := r.Measure(res)
	return s.takeMeasure(c, "rotor", job.Measure{Limit: l, Value: res.Min, Readings: r.Thickness, Judged: &f})
}

// lash holds the steering wheel's lash against the rule for its diameter.
func (s *Server) lash(c fiber.Ctx) error {
	r, err := s.lib().Limits.LashRule(c.FormValue("rule"))
	if err != nil {
		return s.onWalk(c, "lash", err)
	}
	wheel, ok := unit.Figure(c.FormValue("wheel"))
	v, ok2 := unit.Figure(c.FormValue("value"))
	if !ok || !ok2 {
		return s.onWalk(
			c,
			"lash",
			fault.New("bad_number", "value", "Wheel or lash is no figure.", "Measure across the rim and along it, in mm."),
		)
	}
	l, err := r.Measure(wheel, c.FormValue("power") != "")
	if err != nil {
		return s.onWalk(c, "lash", err)
	}
	return s.takeMeasure(c, "lash", job.Measure{Limit: l, Value: v})
}

// lining holds a brake lining against the rule for its kind.
func (s *Server) lining(c fiber.Ctx) error {
	rule, kind, _ := strings.Cut(c.FormValue("kind"), " ")
	r, err := s.lib().Limits.LiningRule(rule, kind)
	if err != nil {
		return s.onWalk(c, "lining", err)
	}
	v, ok := unit.Figure(c.FormValue("value"))
	if !ok {
		return s.onWalk(
			c,
			"lining",
			fault.New("bad_number", "value", "That is no figure.", "Measure at the thinnest place, in mm."),
		)
	}
	return s.takeMeasure(c, "lining", job.Measure{Limit: r.Measure(), Value: v})
}

// road takes the road logger's file, or has the stand-in drive one.
func (s *Server) road(c fiber.Ctx) error {
	tyre, err := inspect.ParseTyre(c.FormValue("tyre"))
	if err != nil {
		return s.onWalk(c, "road", fault.In("tyre", err))
	}
	ratio := 0.0
	if text := c.FormValue("ratio"); text != "" {
		var ok bool
		if ratio, ok = unit.Figure(text); !ok || ratio < 0 || ratio > 12 {
			return s.onWalk(
				c,
				"road",
				fault.New(
					"bad_number",
					"ratio",
					"No axle has that ratio.",
					"Give shaft turns for one wheel turn, or leave it empty.",
				),
			)
		}
	}
	var drive []inspect.RoadSample
	simulated := false
	if play := c.FormValue("standin"); play != "" && s.logger() != nil {
		simulated = s.Devices.Simulated()
		played, err := s.logger().Drive(c.Context(), tyre.CircumferenceM(), ratio, play)
		if err != nil {
			return err
		}
		for _, x := range played {
			drive = append(drive, inspect.RoadSample(x))
		}
	} else if drive, err = inspect.ReadRoadCSV(c.FormValue("csv")); err != nil {
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
func (s *Server) logger() device.Logger {
	if s.Devices == nil {
		return nil
	}
	return s.Devices.Logger()
}

// thin rounds what is kept of a recording to what it is worth.
func thin(v []float64) []float64 {
	out := make([]float64, len(v))
	for i := range v {
		out[i] = math.Round(v[i]*1e4) / 1e4
	}
	return out
}
