package web

import (
	"fmt"
	"html/template"
	"slices"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/unit"
	"lugtak/core/wrench"
	"lugtak/draw"
	"lugtak/web/kit"
)

type cribView struct {
	Tools    []toolView
	Adapters []adapterView
	Sockets  []string
	Fault    *fault.Fault
	For      string
	Typed    map[string]string
}

type toolView struct {
	wrench.Tool
	Refused string // why it may not be used today
	Due     time.Time
	Days    int
	Bar     template.HTML
	Clock   template.HTML
	Chart   template.HTML
	Last    *wrench.Logged
	Points  []float64 // what a calibration sets
	Log     []wrench.Logged
}

type adapterView struct {
	wrench.Adapter
	Set     float64 // for 100 N·m on the longest click wrench
	Wrench  string
	Drawing template.HTML
}

func (s *Server) cribPage(c fiber.Ctx) error { return s.showCrib(c, 200, "", nil) }

func (s *Server) showCrib(c fiber.Ctx, code int, id string, f *fault.Fault) error {
	all, err := s.Shop.Tools(c.Context())
	if err != nil {
		return err
	}
	log, err := s.Shop.CribLog(c.Context())
	if err != nil {
		return err
	}
	v := cribView{Sockets: s.Shop.Library().Sockets, Fault: f, For: id}
	if f != nil {
		v.Typed = kit.Typed(c)
	}
	now := s.Shop.Now()
	for _, t := range all {
		x := toolView{
			Tool:    t,
			Due:     t.Due(),
			Days:    int(t.Due().Sub(now).Hours() / 24),
			Last:    wrench.LastCheck(t.ID, log),
			Refused: t.Out,
		}
		if x.Refused == "" && t.Overdue(now) {
			x.Refused = "calibration is due"
		}
		for _, share := range wrench.CheckShares {
			x.Points = append(x.Points, share*t.MaxNm)
		}
		for _, l := range slices.Backward(log) {
			if l.Tool == t.ID && len(x.Log) < 5 {
				x.Log = append(x.Log, l)
			}
		}
		x.Bar, x.Clock = draw.RangeBar(t), draw.CalibrationClock(t, now)
		if x.Last != nil {
			x.Chart = draw.CheckChart(x.Last.Points)
		}
		v.Tools = append(v.Tools, x)
	}
	for _, a := range s.Shop.Library().Adapters {
		x := adapterView{Adapter: a}
		for _, t := range all {
			if set, _, err := wrench.Setting(100, t.LengthMM, a.LengthMM, a.AngleDeg); err == nil && t.ID == "w2" ||
				x.Wrench == "" {
				x.Set, x.Wrench = set, fmt.Sprintf("%s, L %s mm", t.Name, draw.Plain(t.LengthMM))
			}
		}
		v.Adapters = append(v.Adapters, x)
	}
	return s.render(c, code, "crib", "Tool crib", v)
}

// logTool puts a calibration, or a tool going out of use or back, into the log.
func (s *Server) logTool(c fiber.Ctx) error {
	id := c.Params("tool")
	t, err := s.Shop.Tool(c.Context(), id)
	if err != nil {
		return err
	}
	err = s.takeLog(c, t)
	if f := fault.As(err); f != nil {
		return s.showCrib(c, kit.Status(f), id, f)
	} else if err != nil {
		return err
	}
	return kit.See(c, "/crib#"+id)
}

func (s *Server) takeLog(c fiber.Ctx, t wrench.Tool) error {
	in := kit.Read[struct {
		seconded
		Kind        string `form:"kind"`
		Note        string `form:"note"`
		Reference   string `form:"reference"`
		Until       string `form:"reference_until"`
		Certificate string `form:"certificate"`
	}](c)
	l := wrench.Logged{
		Tool:        t.ID,
		Kind:        in.Kind,
		At:          s.Shop.Now(),
		By:          kit.Session(c).Person.Name,
		Note:        strings.TrimSpace(in.Note),
		Reference:   strings.TrimSpace(in.Reference),
		Certificate: strings.TrimSpace(in.Certificate),
	}
	l.ReferenceUntil, _ = time.Parse(time.DateOnly, in.Until) // what is no day is asked for again
	pulls, err := s.Shop.ToolPulls(c.Context())
	if err != nil {
		return err
	}
	l.Pulls = pulls[t.Name]
	var photo []byte
	if l.Kind == wrench.LogCheck {
		if l.Points, err = checkPoints(t, kit.Typed(c)); err != nil {
			return err
		}
		if photo, err = photoOf(c); err != nil {
			return err
		}
		if in.Second != "" {
			if l.Second, err = s.second(c, in.seconded); err != nil {
				return err
			}
		}
	}
	return s.Shop.LogTool(c.Context(), kit.Meta(c, s.Shop.Now()).ID, t, l, kit.Session(c).Person.Role, photo)
}

// checkPoints reads what the reference showed at each point.
func checkPoints(t wrench.Tool, read map[string]string) ([]wrench.CheckPoint, error) {
	var out []wrench.CheckPoint
	for i, share := range wrench.CheckShares {
		p := wrench.CheckPoint{SetNm: share * t.MaxNm}
		for k := range wrench.CheckReadings {
			field := fmt.Sprintf("p%d-%d", i, k)
			r, ok := unit.Figure(read[field])
			if !ok {
				return nil, fault.New("bad_number", field,
					fmt.Sprintf("Reading %d at %s is no figure.", k+1, unit.Torque(p.SetNm)),
					"Enter what the reference showed, in N·m.")
			}
			p.Readings = append(p.Readings, r)
		}
		out = append(out, p)
	}
	return out, nil
}

// certificate shows the photograph of a calibration's certificate.
func (s *Server) certificate(c fiber.Ctx) error {
	data, err := s.Shop.Certificate(c.Context(), c.Params("act"))
	if err != nil {
		return err
	}
	return sendPhoto(c, data)
}

// toolToken gives a tool a token to send with, and shows it this once.
func (s *Server) toolToken(c fiber.Ctx) error {
	t, err := s.Shop.Tool(c.Context(), c.Params("tool"))
	if err != nil {
		return err
	}
	if kit.Session(c).Person.Role != job.Foreman {
		return s.showCrib(
			c,
			403,
			t.ID,
			fault.New(job.CodeRole, "token", "Only a foreman lets a tool send.", "Ask the foreman."),
		)
	}
	secret, err := s.Shop.MakeToolToken(c.Context(), t.ID, kit.Session(c).Person.Name, s.Shop.Now())
	if err != nil {
		return err
	}
	return s.render(c, 200, "token", "Token of "+t.Name, fiber.Map{"Tool": t, "Secret": secret})
}
