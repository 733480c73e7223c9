package web

import (
	"cmp"
	"slices"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/listing"
	"lugtak/pages/office"
	"lugtak/report"
	"lugtak/shop"
	"lugtak/web/kit"
)

func (s officeRoom) shops(c fiber.Ctx) error { return s.showShops(c, 200, nil) }

func (s officeRoom) showShops(c fiber.Ctx, code int, f *fault.Fault) error {
	x := office.Shops{Own: keyOf(s.Shop.PublicKey(), ""), Node: s.ReadOnly, Fault: f}
	if f != nil {
		x.Typed = kit.Typed(c)
	}
	named, err := s.Shop.Named(c.Context())
	if err != nil {
		return err
	}
	heard, err := s.Shop.ChainShops(c.Context())
	if err != nil {
		return err
	}
	for key, name := range named {
		k := keyOf(key, name)
		if i := slices.IndexFunc(heard, func(h listing.Shop) bool { return h.Shop == k.Print }); i >= 0 {
			k.Jobs, k.Heard = heard[i].Jobs, heard[i].Told
		}
		x.Named = append(x.Named, k)
	}
	slices.SortFunc(x.Named, func(a, b office.KeyOf) int { return cmp.Compare(a.Name, b.Name) })
	if s.Chain != nil {
		for _, stranger := range s.Chain.Unnamed() {
			if _, since := named[stranger.Key]; !since {
				k := keyOf(stranger.Key, stranger.Says)
				k.Heard = stranger.Heard
				x.Unnamed = append(x.Unnamed, k)
			}
		}
	}
	return s.show(c, code, x.Page())
}

func keyOf(key, name string) office.KeyOf {
	print := shop.Fingerprint(key)
	return office.KeyOf{Key: key, Print: print, Words: report.KeyWords(print), Name: name}
}

// nameShop says whose key one is, or takes a name back: whose word counts here.
func (s officeRoom) nameShop(c fiber.Ctx) error {
	in := kit.Read[struct {
		Do   string `form:"do"`
		Key  string `form:"key"`
		Shop string `form:"shop"`
	}](c)
	by, now := kit.Session(c).Person.Name, s.Shop.Now()
	err := error(nil)
	if in.Do == "unname" {
		err = s.Shop.Distrust(c.Context(), in.Key, by, now)
	} else {
		err = s.Shop.Trust(c.Context(), in.Key, in.Shop, by, now)
	}
	if f := fault.As(err); f != nil {
		return s.showShops(c, kit.Status(f), f)
	}
	if err != nil {
		return err
	}
	return kit.See(c, "/shops")
}
