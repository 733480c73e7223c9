package web

import (
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/web/kit"
)

// scriptsView is who comes in by a token, and who is told of events.
type scriptsView struct {
	Scripts []listing.Script
	Hooks   []listing.Hook
	Scopes  []listing.Scope
	Last    int    // the newest event
	Secret  string // of what was made just now, shown once
	For     string // what it is for
	Typed   map[string]string
	Of      string // the form the fault is about
	Fault   *fault.Fault
}

// foremanOnly refuses everybody else.
func foremanOnly(c fiber.Ctx, what string) error {
	if kit.Session(c).Person.Role == job.Foreman {
		return nil
	}
	return fault.New(job.CodeRole, "", "Only a foreman "+what+".", "Ask the foreman.")
}

func (s *Server) scripts(c fiber.Ctx) error { return s.showScripts(c, 200, scriptsView{}) }

func (s *Server) showScripts(c fiber.Ctx, code int, v scriptsView) error {
	if err := foremanOnly(c, "lets scripts in"); err != nil {
		return err
	}
	var err error
	if v.Scripts, err = s.Shop.Scripts(c.Context()); err != nil {
		return err
	}
	if v.Hooks, err = s.Shop.Hooks(c.Context()); err != nil {
		return err
	}
	if v.Last, err = s.Shop.LastEvent(c.Context()); err != nil {
		return err
	}
	v.Scopes = listing.Scopes
	return s.render(c, code, "scripts", "Scripts", v)
}

// changeScripts makes or ends a token or a hook.
func (s *Server) changeScripts(c fiber.Ctx) error {
	if err := foremanOnly(c, "lets scripts in"); err != nil {
		return err
	}
	in := kit.Read[struct {
		Do    string        `form:"do"`
		ID    string        `form:"which"`
		Name  string        `form:"name"`
		Scope listing.Scope `form:"scope"`
		URL   string        `form:"url"`
		Kinds kit.List      `form:"kinds"`
	}](c)
	by, now := kit.Session(c).Person.Name, s.Shop.Now()
	v := scriptsView{Of: in.Do}
	var err error
	switch in.Do {
	case "let-in":
		v.For = in.Name
		v.Secret, err = s.Shop.LetScriptIn(c.Context(), in.Name, in.Scope, by, now)
	case "keep-out":
		err = s.Shop.KeepScriptOut(c.Context(), in.ID, by, now)
	case "hook":
		v.For = in.URL
		v.Secret, err = s.Shop.AddHook(c.Context(), in.URL, in.Kinds, by, now)
	case "end-hook":
		err = s.Shop.EndHook(c.Context(), in.ID, by, now)
	default:
		err = fault.New("bad_choice", "do", "Nothing was chosen.", "Use one of the buttons.")
	}
	if v.Fault = fault.As(err); v.Fault != nil {
		v.Typed, v.Secret = kit.Typed(c), ""
		return s.showScripts(c, kit.Status(v.Fault), v)
	}
	if err != nil {
		return err
	}
	if v.Secret == "" {
		return kit.See(c, "/scripts")
	}
	return s.showScripts(c, 200, v)
}

// actView is one act with its time.
type actView struct {
	record.Act
	When time.Time
}

// actsView is a page of what was done in the shop beside its jobs.
type actsView struct {
	Acts   []actView
	Before int // where older ones begin; 0 where there are none
}

const actsPage = 50

// acts lists the shop's own journal, newest first.
func (s *Server) acts(c fiber.Ctx) error {
	if err := foremanOnly(c, "reads what was done in the shop"); err != nil {
		return err
	}
	before := kit.Read[struct {
		Before kit.Whole `form:"before"`
	}](c).Before.Value
	list, err := s.Shop.ActsBefore(c.Context(), before, actsPage+1)
	if err != nil {
		return err
	}
	v := actsView{}
	if len(list) > actsPage {
		list = list[:actsPage]
		v.Before = list[actsPage-1].N
	}
	for _, a := range list {
		at, err := time.Parse(time.RFC3339Nano, a.At)
		if err != nil {
			return err
		}
		v.Acts = append(v.Acts, actView{a, at})
	}
	return s.render(c, 200, "acts", "Done in the shop", v)
}
