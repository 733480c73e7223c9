package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/listing"
	"lugtak/pages/office"
	"lugtak/web/kit"
)

func (s officeRoom) scripts(c fiber.Ctx) error { return s.showScripts(c, 200, office.Scripts{}) }

func (s officeRoom) showScripts(c fiber.Ctx, code int, v office.Scripts) error {
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
	v.Tries = s.TryHook != nil
	return s.show(c, code, v.Page())
}

// changeScripts makes or ends a token or a hook.
func (s officeRoom) changeScripts(c fiber.Ctx) error {
	in := kit.Read[struct {
		Do    string        `form:"do"`
		ID    string        `form:"which"`
		Name  string        `form:"name"`
		Scope listing.Scope `form:"scope"`
		URL   string        `form:"url"`
		Kinds kit.List      `form:"kinds"`
	}](c)
	by, now := kit.Session(c).Person.Name, s.Shop.Now()
	v := office.Scripts{Of: in.Do}
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
	case "try-hook":
		v.Took, err = s.tryHook(c, in.ID)
	case "end-hook":
		err = s.Shop.EndHook(c.Context(), in.ID, by, now)
	default:
		err = fault.New(fault.BadChoice, "do", "Nothing was chosen.", "Use one of the buttons.")
	}
	if v.Fault = fault.As(err); v.Fault != nil {
		v.Typed, v.Secret = kit.Typed(c), ""
		return s.showScripts(c, kit.Status(v.Fault), v)
	}
	if err != nil {
		return err
	}
	if in.Scope == listing.ScopeCalendar && v.Secret != "" {
		v.Address, v.Secret = c.BaseURL()+calendarPath+v.Secret+".ics", ""
	}
	if v.Secret == "" && v.Address == "" && v.Took == "" {
		return kit.See(c, "/scripts")
	}
	return s.showScripts(c, 200, v)
}

// tryHook sends a hook a message that tells of nothing, and gives its address where it took it.
func (s officeRoom) tryHook(c fiber.Ctx, id string) (string, error) {
	if s.TryHook == nil {
		return "", fault.New(fault.NotReady, "", "No hook is told here.", "Try it in the shop itself.")
	}
	all, err := s.Shop.Hooks(c.Context())
	if err != nil {
		return "", err
	}
	for _, h := range all {
		if h.ID != id {
			continue
		}
		if err := s.TryHook(c.Context(), h, s.Shop.Now()); err != nil {
			return "", fault.New(fault.NotReady, "", h.URL+" did not take it: "+err.Error()+".",
				"See that it is reached from this machine and answers with 2xx.")
		}
		return h.URL, nil
	}
	return "", fault.New(fault.NotFound, "which", "There is no such hook.", "Reload the page.")
}

// acts lists the shop's own journal, newest first.
func (s officeRoom) acts(c fiber.Ctx) error {
	before := kit.Read[struct {
		Before kit.Whole `form:"before"`
	}](c).Before.Value
	list, err := s.Shop.ActsBefore(c.Context(), before, office.ActsPage+1)
	if err != nil {
		return err
	}
	page, err := office.Done(list)
	if err != nil {
		return err
	}
	return s.show(c, 200, page)
}
