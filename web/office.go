package web

import (
	"cmp"
	"maps"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/forecast"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/release"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/pages/office"
	"lugtak/report"
	"lugtak/web/kit"
)

// officeRoom answers for people, scripts, lists, and how the shop does.
type officeRoom struct{ *Server }

func (s officeRoom) routes(at paths) {
	at.Post("/signout", s.signOut)
	at.get("/pin", s.pinPage)
	at.Post("/pin", s.changePIN)
	at.get("/notices", s.notices)
	at.get("/you", s.you)
	at.Post("/you", s.prefer)
	at.Post("/sessions/:session/end", s.revoke)
	at.get("/scripts", foreman("lets scripts in", s.scripts))
	at.Post("/scripts", foreman("lets scripts in", s.changeScripts))
	at.get("/acts", foreman("reads what was done in the shop", s.acts))
	at.get("/office", s.office)
	at.get("/said", s.said)
	at.get("/shop", foreman("decides for the shop", s.shopPage))
	at.Post("/shop", foreman("decides for the shop", s.setShop))
	at.Post("/shop/prices", foreman("says what parts cost", s.keepPrices))
	at.get("/imports", foreman("takes lists in", s.imports))
	at.Post("/imports", foreman("takes lists in", s.takeList))
	at.get("/outcomes.csv", s.outcomesCSV)
	at.get("/shops", s.shops)
	at.Post("/shops", foreman("names other shops", s.nameShop))
	at.get("/people", foreman("looks after people", s.people))
	at.Post("/people", foreman("looks after people", s.addPerson))
	at.Post("/people/:person", foreman("looks after people", s.changePerson))
}

// mostOutcomes is how many jobs the office looks back on.
const mostOutcomes = 2000

// office shows how the shop does, and where its foreman goes on.
func (s officeRoom) office(c fiber.Ctx) (err error) {
	ctx, now := c.Context(), s.Shop.Now()
	x := office.Figures{Node: s.ReadOnly, Title: s.Shop.Library().TitleOfTask}
	if x.Outcomes, err = s.Shop.Outcomes(ctx, office.First(now).Add(-job.ComebackWithin), mostOutcomes); err != nil {
		return err
	}
	if x.Jobs, x.Owed, err = s.Shop.OpenSums(ctx); err != nil {
		return err
	}
	if x.Due, err = s.dues(c); err != nil {
		return err
	}
	if x.Tools, err = s.Shop.Tools(ctx); err != nil {
		return err
	}
	if x.Opened, err = s.Shop.Seized(ctx); err != nil {
		return err
	}
	if s.Keeping != nil {
		x.Keeping = s.Keeping()
	}
	if x.Keeping.Lines, err = s.Shop.LastEvent(ctx); err != nil {
		return err
	}
	x.Keeping.Version = s.Version
	x.Keeping.Words = report.KeyWords(s.Shop.KeyPrint())
	if s.Chain != nil {
		x.Keeping.Chained, x.Keeping.Reached = true, s.Chain.Connected()
		x.Keeping.Unnamed = len(s.Chain.Unnamed())
		upto, stuck := s.Chain.Told()
		if x.Keeping.Stuck = stuck; upto >= 0 {
			x.Keeping.Behind = max(0, x.Keeping.Lines-upto)
		}
	}
	lib := s.Shop.Library()
	x.SeizedOdds, x.Joint = lib.Shop.SeizedOdds, func(joint string) string { return lib.TitleOf(vehicle.Pattern{}, joint) }
	return s.show(c, 200, office.Office(x, now))
}

// said holds the chances that were told against what happened.
func (s officeRoom) said(c fiber.Ctx) error {
	ctx, lib := c.Context(), s.Shop.Library()
	tried, err := s.Shop.SaidOfReleases(ctx)
	if err != nil {
		return err
	}
	renewed, err := s.Shop.SaidOfSuspects(ctx)
	if err != nil {
		return err
	}
	tries, err := s.Shop.ReleasePast(ctx)
	if err != nil {
		return err
	}
	suspects, err := s.Shop.SuspectPast(ctx)
	if err != nil {
		return err
	}
	return s.show(c, 200, office.Said(
		office.Kept{
			Said: tried,
			Past: func(kind, rung string) forecast.Tally { return tries[release.Tries{Kind: kind, Rung: rung}] },
			Name: func(key string) string {
				if r, ok := lib.Release.Rung(key); ok {
					return r.Name
				}
				return key
			},
		},
		office.Kept{
			Said: renewed,
			Past: func(_, key string) forecast.Tally { return suspects[key] },
			Name: func(key string) string {
				x, _ := lib.Signs.Suspect(key)
				return cmp.Or(x.Name, key)
			},
		},
	))
}

// shopPage shows what the shop decides for itself.
func (s officeRoom) shopPage(c fiber.Ctx) error {
	return s.show(c, 200, office.Itself{
		Typed: s.itself(), Prices: office.PriceRows(s.Shop.Library(), nil),
	}.Page())
}

// itself is what the shop decided, as its form has it.
func (s officeRoom) itself() map[string]string {
	x := s.Shop.Library().Shop
	typed := map[string]string{
		"name": x.Name, "contact": x.Contact, "unit": x.FirstUnit, "currency": x.Currency,
	}
	if x.RatePerHour > 0 {
		typed["rate"] = unit.Number(x.RatePerHour, 2)
	}
	if x.Salt {
		typed["salt"] = "1"
	}
	return typed
}

// keepPrices keeps what parts cost; one whose field is empty has no price.
func (s officeRoom) keepPrices(c fiber.Ctx) error {
	typed := kit.Typed(c)
	m := kit.Meta(c, s.Shop.Now())
	b := record.StockKept{What: record.StockPrices}
	var err error
	for _, key := range slices.Sorted(maps.Keys(typed)) {
		part, is := strings.CutPrefix(key, "price-")
		text := strings.TrimSpace(typed[key])
		if !is || text == "" {
			continue
		}
		v, ok := unit.Figure(text)
		if !ok {
			err = fault.New(fault.BadNumber, "price", "“"+text+"” is no price.",
				"Write it as 96 or 96.50, without its currency.")
			break
		}
		b.Prices = append(b.Prices, record.Price{Part: part, Price: v})
	}
	if err == nil {
		err = s.Shop.KeepStock(c.Context(), m.ID, m.By, m.Role, b)
	}
	lib := s.Shop.Library()
	if f := fault.As(err); f != nil {
		x := office.Itself{Typed: s.itself(), Fault: f, For: "prices", Prices: office.PriceRows(lib, typed)}
		return s.show(c, kit.Status(f), x.Page())
	} else if err != nil {
		return err
	}
	return kit.See(c, "/shop")
}

func (s officeRoom) setShop(c fiber.Ctx) error {
	in := kit.Read[struct {
		Name     string     `form:"name"`
		Contact  string     `form:"contact"`
		Unit     string     `form:"unit"`
		Currency string     `form:"currency"`
		Rate     kit.Figure `form:"rate"`
		Salt     kit.Tick   `form:"salt"`
	}](c)
	m := kit.Meta(c, s.Shop.Now())
	b := record.ShopSet{
		Name: in.Name, Contact: in.Contact, Unit: in.Unit, Currency: in.Currency, Rate: in.Rate.Value, Salt: bool(in.Salt),
	}
	var err error
	if in.Rate.Given() && !in.Rate.OK {
		err = fault.New(fault.BadNumber, "rate", "That is no figure.", "Write what an hour of work costs, as in 96 or 96.50.")
	} else {
		err = s.Shop.SetShop(c.Context(), m.ID, m.By, m.Role, b)
	}
	if f := fault.As(err); f != nil {
		return s.show(c, kit.Status(f), office.Itself{
			Typed: kit.Typed(c), Fault: f, Prices: office.PriceRows(s.Shop.Library(), nil),
		}.Page())
	} else if err != nil {
		return err
	}
	return kit.See(c, "/office")
}
