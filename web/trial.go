package web

import (
	"strconv"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/draw"
	"lugtak/web/kit"
)

// manoeuvre is one of a road test, with what was said of it.
type manoeuvre struct {
	operation.Manoeuvre
	No          int
	Found, Note string // as typed, or as recorded
	Was         string // what was wrong on the drive that failed
}

// feltWord is an answer to a manoeuvre, as one says it.
type feltWord struct{ Key, Word string }

var feltWords = []feltWord{
	{job.FeltSound, "Sound"},
	{job.FeltWatch, "Watch"},
	{job.FeltWrong, "Wrong"},
	{job.FeltLeftOut, "Not driven"},
}

// Word is what was found, as one says it.
func (m manoeuvre) Word() string {
	for _, w := range feltWords {
		if w.Key == m.Found {
			return w.Word
		}
	}
	return ""
}

// manoeuvres are those of the drive, with what is typed or was said of each.
func (s *Server) manoeuvres(st *job.State, typed map[string]string) []manoeuvre {
	var said []record.Felt
	if n := len(st.Trials); n > 0 && st.Failed() == nil {
		said = st.Trials[n-1].Felt
	}
	var out []manoeuvre
	for i, m := range st.Manoeuvres() {
		no := strconv.Itoa(i)
		x := manoeuvre{
			Manoeuvre: m,
			No:        i,
			Found:     typed["found-"+no],
			Note:      typed["note-"+no],
			Was:       st.WasWrong(m.Do),
		}
		for _, f := range said {
			if f.Do == m.Do {
				x.Found, x.Note = f.Found, f.Note
			}
		}
		out = append(out, x)
	}
	return out
}

// bedding puts the heat of a series of stops in the picture's place, where the series is part
// of the drive and it is known what the heat goes into.
func (s *Server) bedding(v *benchView) {
	p, known := s.Shop.Library().Pattern(v.Job.Vehicle.Pattern)
	fresh := v.Job.NewPads()
	if !known || len(fresh) == 0 {
		return
	}
	for _, m := range v.Manoeuvres {
		if m.Stops == 0 {
			continue
		}
		series := p.Brakes.Bedding(fresh[0], m.Stops, m.FromKMH, m.ToKMH, m.IntervalS)
		if picture := draw.Bedding(series); picture != "" {
			v.Act = picture
			v.Picture.Title = "Bedding the " + fresh[0] + " discs, as reckoned"
		}
	}
}

// trial says what was felt on the road test. A failed one leads back to the walk-round.
func (s *Server) trial(c fiber.Ctx) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	cmd := job.RoadTest{Step: kit.Read[acted](c).Step}
	for _, m := range s.manoeuvres(st, kit.Typed(c)) {
		if m.Found != "" {
			cmd.Felt = append(cmd.Felt, record.Felt{Do: m.Do, Found: m.Found, Note: m.Note})
		}
	}
	events, err := s.record(c, cmd)
	if err == nil && len(events) == 1 {
		if e, ok := events[0].Body.(record.RoadTested); ok && e.Result == job.TrialFail {
			return kit.Go(c, "/jobs/"+st.ID+"/walk")
		}
	}
	return s.after(c, err)
}

// briefView is the card that driver and passenger take along.
type briefView struct {
	Job        *job.State
	Owed       int
	Manoeuvres []manoeuvre
}

// brief is the road test on a card: read before it rolls, written on by the passenger.
func (s *Server) brief(c fiber.Ctx) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	if !st.HasPlan() {
		return fault.New("not_found", "", "Nothing is planned yet, so there is nothing to drive.", "Plan the work first.")
	}
	return s.render(c, 200, "brief", "Road test", briefView{st, len(st.Owed()), s.manoeuvres(st, nil)})
}

// fluid writes down what came out and went in at a step, and keeps the step where that is
// all it asks for.
func (s *Server) fluid(c fiber.Ctx) error {
	in := kit.Read[struct {
		acted
		Out    kit.Figure `form:"out"`
		In     kit.Figure `form:"in"`
		Unit   string     `form:"unit"`
		Spec   string     `form:"spec"`
		Colour string     `form:"colour"`
		Air    kit.Tick   `form:"air"`
	}](c)
	ml := map[string]float64{"l": 1000, "qt": unit.Quart}[in.Unit]
	if ml == 0 {
		ml = 1
	}
	asked := func(f kit.Figure) float64 { // what is no figure is refused by its range
		if !f.OK {
			return -1
		}
		return ml * f.Value
	}
	m := kit.Meta(c, s.Shop.Now())
	_, err := s.recordAs(c, m, job.BookFluid{FluidBooked: record.FluidBooked{
		Step:   string(in.Step),
		OutMl:  asked(in.Out),
		InMl:   asked(in.In),
		Spec:   in.Spec,
		Colour: in.Colour,
		Air:    bool(in.Air),
	}})
	if err == nil {
		m.ID, m.Seq = m.ID.And("kept"), 0
		_, err = s.recordAs(c, m, job.KeepStep{Step: in.Step})
	}
	return s.after(c, err)
}
