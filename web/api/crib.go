package api

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/wrench"
)

// What hangs in the crib, as other programs read and keep it.

// Crib is what a shop works with.
type Crib struct {
	Tools    []CribTool       `json:"tools"`
	Sockets  []string         `json:"sockets"` // 14 mm twelve-point, 1/2 square
	Adapters []record.Adapter `json:"adapters"`
	Prices   []record.Price   `json:"prices"` // of parts, in the shop's money
}

// CribTool is a torque tool.
type CribTool struct {
	ID       string  `json:"id,omitempty"` // made by the shop
	Name     string  `json:"name,omitempty"`
	Kind     string  `json:"kind"` // click, torque-angle
	MaxNm    float64 `json:"max_nm"`
	StepNm   float64 `json:"step_nm"`
	Drive    string  `json:"drive"` // square, in
	LengthMM float64 `json:"length_mm"`
	Serial   string  `json:"serial,omitempty"`
	Unfit    string  `json:"unfit,omitempty"` // why it may not be used today
}

// Stock is one list of what a shop has, whole.
type Stock struct {
	ID       string           `json:"id"`
	Sockets  []string         `json:"sockets,omitempty"`
	Adapters []record.Adapter `json:"adapters,omitempty"`
	Prices   []record.Price   `json:"prices,omitempty"`
}

// NewTools are torque tools that are hung together.
type NewTools struct {
	ID    string     `json:"id"`
	Tools []CribTool `json:"tools"`
}

func (a *API) crib(c fiber.Ctx) error {
	tools, err := a.Shop.Tools(c.Context())
	if err != nil {
		return err
	}
	lib := a.Shop.Library()
	out := Crib{Tools: []CribTool{}, Sockets: []string{}, Adapters: []record.Adapter{}, Prices: []record.Price{}}
	for _, t := range tools {
		out.Tools = append(out.Tools, CribTool{
			ID:       t.ID,
			Name:     t.Name,
			Kind:     t.Kind,
			MaxNm:    t.MaxNm,
			StepNm:   t.StepNm,
			Drive:    t.Drive,
			LengthMM: t.LengthMM,
			Serial:   t.Serial,
			Unfit:    t.Unfit(a.Shop.Now()),
		})
	}
	out.Sockets = append(out.Sockets, lib.Sockets...)
	for _, x := range lib.Adapters {
		out.Adapters = append(out.Adapters, record.Adapter(x))
	}
	out.Prices = append(out.Prices, lib.Prices()...)
	return c.JSON(out)
}

// keepStock keeps one of the lists; the crib is answered with.
func (a *API) keepStock(what string) fiber.Handler {
	return func(c fiber.Ctx) error {
		var in Stock
		if err := read(c, &in); err != nil {
			return err
		}
		m := a.meta(c, in.ID)
		b := record.StockKept{What: what, Sockets: in.Sockets, Adapters: in.Adapters, Prices: in.Prices}
		if err := a.Shop.KeepStock(c.Context(), m.ID, m.By, job.Foreman, b); err != nil {
			return err
		}
		return a.crib(c)
	}
}

// hangTools hangs torque tools, all or none; each is used once a calibration is logged.
func (a *API) hangTools(c fiber.Ctx) error {
	var in NewTools
	if err := read(c, &in); err != nil {
		return err
	}
	m := a.meta(c, in.ID)
	var list []wrench.Tool
	for _, t := range in.Tools {
		list = append(list, wrench.Tool{
			Name: t.Name, Kind: t.Kind, MaxNm: t.MaxNm, StepNm: t.StepNm, Drive: t.Drive, LengthMM: t.LengthMM, Serial: t.Serial,
		})
	}
	if err := a.Shop.HangTools(c.Context(), m.ID, list, m.By); err != nil {
		return err
	}
	return a.crib(c)
}

// Itself is what the shop decides for itself.
type Itself struct {
	ID          string  `json:"id,omitempty"` // of the change
	Name        string  `json:"name"`
	Contact     string  `json:"contact,omitempty"`
	FirstUnit   string  `json:"first_unit"` // Nm, ft-lb
	Currency    string  `json:"currency,omitempty"`
	RatePerHour float64 `json:"rate_per_hour,omitempty"`
	Salt        bool    `json:"salt"`
}

func (a *API) itself(c fiber.Ctx) error {
	x := a.Shop.Library().Shop
	return c.JSON(Itself{
		Name:        x.Name,
		Contact:     x.Contact,
		FirstUnit:   x.FirstUnit,
		Currency:    x.Currency,
		RatePerHour: x.RatePerHour,
		Salt:        x.Salt,
	})
}

// setItself keeps what the shop decides for itself, all of it.
func (a *API) setItself(c fiber.Ctx) error {
	var in Itself
	if err := read(c, &in); err != nil {
		return err
	}
	m := a.meta(c, in.ID)
	b := record.ShopSet{
		Name:     in.Name,
		Contact:  in.Contact,
		Unit:     in.FirstUnit,
		Currency: in.Currency,
		Rate:     in.RatePerHour,
		Salt:     in.Salt,
	}
	if err := a.Shop.SetShop(c.Context(), m.ID, m.By, job.Foreman, b); err != nil {
		f := fault.As(err)
		if f == nil {
			return err
		}
		switch f.Field { // as they are called here
		case "unit":
			return fault.In("first_unit", err)
		case "rate":
			return fault.In("rate_per_hour", err)
		}
		return err
	}
	return a.itself(c)
}
