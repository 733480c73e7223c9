package web

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/wrench"
	"lugtak/pages/crib"
	"lugtak/web/kit"
)

func (s shelfRoom) cribPage(c fiber.Ctx) error { return s.showCrib(c, 200, "", nil) }

// showCrib shows the tools with what is on record of them; id is the tool a fault is of, so that it stands in its form.
func (s shelfRoom) showCrib(c fiber.Ctx, code int, id string, f *fault.Fault) error {
	tools, err := s.Shop.Tools(c.Context())
	if err != nil {
		return err
	}
	log, err := s.Shop.CribLog(c.Context())
	if err != nil {
		return err
	}
	v := crib.New(s.Shop.Library(), tools, log, s.Shop.Now())
	for i, t := range v.Tools {
		v.Tools[i].Wired = s.Shop.Wired(t.ID)
	}
	if f != nil {
		v.Fault, v.For, v.Typed = f, id, kit.Typed(c)
	}
	return s.show(c, code, v.Page())
}

// hangTool puts a tool of the shop's own into the crib, or says of one how it is.
func (s shelfRoom) hangTool(c fiber.Ctx) error {
	id, err := s.hang(c)
	if f := fault.As(err); f != nil {
		return s.showCrib(c, kit.Status(f), cmp.Or(id, crib.NewTool), f)
	} else if err != nil {
		return err
	}
	return kit.See(c, "/crib#"+id)
}

// hang gives the tool's id also where it is refused: the form that is shown again is that of the tool.
func (s shelfRoom) hang(c fiber.Ctx) (string, error) {
	in := kit.Read[struct {
		Tool        string     `form:"tool"`
		Name        string     `form:"name"`
		Kind        string     `form:"kind"`
		Max         kit.Figure `form:"max_nm"`
		Step        kit.Figure `form:"step_nm"`
		Drive       string     `form:"drive"`
		Length      kit.Figure `form:"length_mm"`
		Serial      string     `form:"serial"`
		Calibrated  string     `form:"calibrated"`
		Certificate string     `form:"certificate"`
	}](c)
	t := wrench.Tool{
		ID:          in.Tool,
		Name:        in.Name,
		Kind:        in.Kind,
		MaxNm:       in.Max.Value,
		StepNm:      in.Step.Value,
		Drive:       in.Drive,
		LengthMM:    in.Length.Value,
		Serial:      in.Serial,
		Certificate: in.Certificate,
	}
	if in.Calibrated != "" {
		var err error
		if t.Calibrated, err = time.Parse(time.DateOnly, in.Calibrated); err != nil {
			return t.ID, fault.New(fault.BadDay, "calibrated", "That is not a day.", "Write it as 2026-05-18.")
		}
	}
	photo, err := photoOf(c)
	if err != nil {
		return t.ID, err
	}
	by := kit.Session(c).Person
	t, err = s.Shop.HangTool(c.Context(), kit.Meta(c, s.Shop.Now()).ID, t, by.Name, by.Role, photo)
	return t.ID, err
}

// logTool puts a calibration, or a tool going out of use or back, into the log.
func (s shelfRoom) logTool(c fiber.Ctx) error {
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

func (s shelfRoom) takeLog(c fiber.Ctx, t wrench.Tool) error {
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
				return nil, fault.New(fault.BadNumber, field,
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
func (s shelfRoom) certificate(c fiber.Ctx) error {
	data, err := s.Shop.Paper(c.Context(), c.Params("act"))
	if err != nil {
		return err
	}
	return sendPhoto(c, data)
}

// toolToken gives a tool a token to send with, and shows it this once.
func (s shelfRoom) toolToken(c fiber.Ctx) error {
	t, err := s.Shop.Tool(c.Context(), c.Params("tool"))
	if err != nil {
		return err
	}
	if kit.Session(c).Person.Role != job.Foreman {
		return s.showCrib(
			c,
			403,
			t.ID,
			fault.New(fault.Role, "token", "Only a foreman lets a tool send.", "Ask the foreman."),
		)
	}
	secret, err := s.Shop.MakeToolToken(c.Context(), t.ID, kit.Session(c).Person.Name, s.Shop.Now())
	if err != nil {
		return err
	}
	return s.show(c, 200, crib.Token(t, secret))
}

// keepSockets keeps which sockets there are: those ticked, with a whole set where one was touched. What hangs here and
// is of no set stays.
func (s shelfRoom) keepSockets(c fiber.Ctx) error {
	in := kit.Read[struct {
		Sockets []string `form:"socket"`
		Whole   string   `form:"whole"`
	}](c)
	lib := s.Shop.Library()
	b := record.StockKept{What: record.StockSockets, Sockets: in.Sockets}
	of := map[string]bool{}
	for _, set := range lib.SocketSets {
		for _, own := range set.Sockets() {
			of[own] = true
			if set.Set == in.Whole && !slices.Contains(b.Sockets, own) {
				b.Sockets = append(b.Sockets, own)
			}
		}
	}
	for _, own := range lib.Sockets {
		if !of[own] {
			b.Sockets = append(b.Sockets, own)
		}
	}
	return s.keepStock(c, b, crib.OfSockets)
}

// keepAdapters keeps which adapters there are, a row each.
func (s shelfRoom) keepAdapters(c fiber.Ctx) error {
	b := record.StockKept{What: record.StockAdapters}
	typed := kit.Typed(c)
	for i := 0; ; i++ {
		at := strconv.Itoa(i)
		name, there := typed["name-"+at]
		if !there {
			break
		}
		if strings.TrimSpace(name) == "" {
			continue
		}
		a := record.Adapter{Name: name}
		for field, to := range map[string]*float64{
			"length_mm": &a.LengthMM, "angle_deg": &a.AngleDeg, "flex_deg_per_nm": &a.Flex,
		} {
			key, _, _ := strings.Cut(field, "_")
			text := strings.TrimSpace(typed[key+"-"+at])
			if text == "" && field != "length_mm" {
				continue
			}
			v, ok := unit.Figure(text)
			if !ok {
				f := fault.New(fault.BadNumber, field, "“"+text+"” of "+name+" is no figure.", "Write it as 50 or 22.5.")
				return s.showCrib(c, kit.Status(f), crib.OfAdapters, f)
			}
			*to = v
		}
		b.Adapters = append(b.Adapters, a)
	}
	return s.keepStock(c, b, crib.OfAdapters)
}

func (s shelfRoom) keepStock(c fiber.Ctx, b record.StockKept, of string) error {
	m := kit.Meta(c, s.Shop.Now())
	err := s.Shop.KeepStock(c.Context(), m.ID, m.By, m.Role, b)
	if f := fault.As(err); f != nil {
		return s.showCrib(c, kit.Status(f), of, f)
	} else if err != nil {
		return err
	}
	return kit.See(c, "/crib#"+of)
}
