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
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
	"lugtak/draw"
	"lugtak/web/kit"
)

// tools are the shop's torque tools as they stand today: the library's list with
// the crib's log and the pulls made since.
func (s *Server) tools(c fiber.Ctx) ([]wrench.Tool, error) {
	log, err := s.Store.CribLog(c.Context())
	if err != nil {
		return nil, err
	}
	pulls, err := s.Store.ToolPulls(c.Context())
	if err != nil {
		return nil, err
	}
	out := slices.Clone(s.lib().Tools)
	for i, t := range out {
		out[i] = t.InUse(log, pulls[t.Name])
	}
	return out, nil
}

func (s *Server) tool(c fiber.Ctx, id string) (wrench.Tool, error) {
	all, err := s.tools(c)
	if err != nil {
		return wrench.Tool{}, err
	}
	i := slices.IndexFunc(all, func(t wrench.Tool) bool { return t.ID == id })
	if i < 0 {
		return wrench.Tool{}, fault.New("missing", "tool", "The shop has no such wrench.", "Choose one of the list.")
	}
	return all[i], nil
}

// pattern is a pattern with the figures the shop has corrected.
func (s *Server) pattern(c fiber.Ctx, id string) (vehicle.Pattern, error) {
	p, ok := s.lib().Pattern(id)
	if !ok {
		return p, fault.New(
			"not_found",
			"pattern",
			"The library has no pattern “"+id+"”.",
			"Add its file to the library folder.",
		)
	}
	cs, err := s.Store.Corrections(c.Context(), id)
	return p.With(cs), err
}

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
	all, err := s.tools(c)
	if err != nil {
		return err
	}
	log, err := s.Store.CribLog(c.Context())
	if err != nil {
		return err
	}
	v := cribView{Sockets: s.lib().Sockets, Fault: f, For: id}
	if f != nil {
		v.Typed = kit.Typed(c)
	}
	now := s.Now()
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
	for _, a := range s.lib().Adapters {
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
	t, err := s.tool(c, id)
	if err != nil {
		return err
	}
	in := kit.Read[struct {
		Kind string `form:"kind"`
		Note string `form:"note"`
	}](c)
	read := kit.Typed(c)
	l := wrench.Logged{
		Tool: id,
		Kind: in.Kind,
		At:   s.Now(),
		By:   kit.Session(c).Person.Name,
		Note: strings.TrimSpace(in.Note),
	}
	pulls, err := s.Store.ToolPulls(c.Context())
	if err != nil {
		return err
	}
	l.Pulls = pulls[t.Name]
	switch l.Kind {
	case wrench.LogCheck:
		for i, share := range wrench.CheckShares {
			p := wrench.CheckPoint{SetNm: share * t.MaxNm}
			for k := range wrench.CheckReadings {
				field := fmt.Sprintf("p%d-%d", i, k)
				r, ok := unit.Figure(read[field])
				if !ok {
					return s.showCrib(
						c,
						422,
						id,
						fault.New(
							"bad_number",
							field,
							fmt.Sprintf("Reading %d at %s is no figure.", k+1, unit.Torque(p.SetNm)),
							"Enter what the reference showed, in N·m.",
						),
					)
				}
				p.Readings = append(p.Readings, r)
			}
			l.Points = append(l.Points, p)
		}
		err = wrench.CheckFault(t, l.Points)
	case wrench.LogRetire:
		if l.Note == "" {
			err = fault.New("missing", "note", "It is not said why.", "Write what happened to it, in a few words.")
		}
	case wrench.LogReturn:
		if kit.Session(c).Person.Role != job.Foreman {
			err = fault.New(
				job.CodeRole,
				"note",
				"Only a foreman puts a tool back into use.",
				"Ask the foreman, or calibrate it.",
			)
		}
	default:
		err = fault.New(
			"bad_choice",
			"kind",
			"That is not done to a tool.",
			"Calibrate it, take it out of use or put it back.",
		)
	}
	if len(l.Note) > 200 {
		err = fault.New("too_long", "note", "That is too long.", "Keep it under 200 characters.")
	}
	if err == nil {
		err = s.Store.LogTool(c.Context(), kit.Meta(c, s.Now()).ID, l)
	}
	if f := fault.As(err); f != nil {
		return s.showCrib(c, kit.Status(f), id, f)
	} else if err != nil {
		return err
	}
	return kit.See(c, "/crib#"+id)
}

// toolToken gives a tool a token to send with, and shows it this once.
func (s *Server) toolToken(c fiber.Ctx) error {
	t, err := s.tool(c, c.Params("tool"))
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
	secret, err := s.Store.MakeToolToken(c.Context(), t.ID, kit.Session(c).Person.Name, s.Now())
	if err != nil {
		return err
	}
	return s.render(c, 200, "token", "Token of "+t.Name, fiber.Map{"Tool": t, "Secret": secret})
}
