package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/wrench"
	"lugtak/device"
	"lugtak/pages/bench"
	"lugtak/shop"
	"lugtak/web/kit"
)

// The page of a connected wrench. Only a server that was given a rack of devices has
// one: the demo and the practice bay, whose devices are stand-ins.

// connected is the wrench of the request, and the device that is connected for it.
func (s benchRoom) connected(c fiber.Ctx) (wrench.Tool, device.Wrench, error) {
	none := fault.New(fault.NotFound, "tool", "No such wrench is connected here.", "Choose one on the bench.")
	if s.Shop.Devices == nil {
		return wrench.Tool{}, nil, none
	}
	t, err := s.Shop.Tool(c.Context(), c.Params("tool"))
	if err != nil || !t.Angle() {
		return t, nil, none
	}
	d := s.Shop.Devices.Wrench(t.ID)
	if d == nil {
		return t, nil, none
	}
	return t, d, nil
}

func (s benchRoom) wrenchPage(c fiber.Ctx) error { return s.showWrench(c, 200, "", nil) }

func (s benchRoom) showWrench(c fiber.Ctx, code int, amount string, f *fault.Fault) error {
	t, d, err := s.connected(c)
	if err != nil {
		return err
	}
	v := bench.Wrench{
		Tool:      t,
		Busy:      d.Busy(),
		Outcome:   s.Shop.Outcome(t.ID),
		Plays:     d.Plays(),
		Amount:    amount,
		Fault:     f,
		Simulated: s.Shop.Devices.Simulated(),
	}
	if k, ok := s.Shop.Holding(t.ID); ok {
		a, aimed := s.Shop.AimOf(c.Context(), k)
		v.Aim, v.Aimed = bench.Aim{Claim: k, Torque: a.Torque, Target: a.Target, Says: a.Says}, aimed
		v.Mine = k.Session == kit.Session(c).ID
	}
	return s.show(c, code, v.Page())
}

// Bounds of a pull asked for on the page.
const (
	overRange = 1.5 // of the tool's maximum
	mostTurn  = 720 // degrees
)

// wrenchPull starts a pull under the claim of the one who asks. It goes on by itself;
// what it came to is recorded when the wrench is let go, whoever has a page open.
func (s benchRoom) wrenchPull(c fiber.Ctx) error {
	t, d, err := s.connected(c)
	if err != nil {
		return err
	}
	k, ok := s.Shop.Holding(t.ID)
	a, aimed := s.Shop.AimOf(c.Context(), k)
	if !ok || !aimed || k.Session != kit.Session(c).ID {
		return s.showWrench(c, 422, "", fault.New(fault.Claim, "", "You have not taken this wrench for a fastener.",
			"Open a tightening step on the bench and take it there."))
	}
	in := kit.Read[struct {
		Plays  string     `form:"plays"`
		Amount kit.Figure `form:"amount"`
		Quick  kit.Figure `form:"quick"` // none given is as in life
		Hold   kit.Tick   `form:"hold"`
	}](c)
	limit := overRange * t.MaxNm
	if !a.Torque {
		limit = mostTurn
	}
	if !in.Amount.OK || in.Amount.Value <= 0 || in.Amount.Value > limit {
		return s.showWrench(c, 422, in.Amount.Text, fault.New(fault.OutOfRange, "amount", "Nobody pulls that far.",
			"Give newton metres, or degrees for an angle stage."))
	}
	act := device.Act{Plays: in.Plays, Amount: in.Amount.Value, Quick: in.Quick.Value, Hold: bool(in.Hold)}
	if err := s.Shop.Pull(t, d, a, act); err != nil {
		return s.showWrench(c, 409, in.Amount.Text, fault.As(err))
	}
	return kit.See(c, "/wrench/"+t.ID)
}

func (s benchRoom) wrenchRelease(c fiber.Ctx) error {
	t, d, err := s.connected(c)
	if err != nil {
		return err
	}
	d.Release()
	return kit.See(c, "/wrench/"+t.ID)
}

func (s benchRoom) wrenchLive(c fiber.Ctx) error {
	if _, _, err := s.connected(c); err != nil {
		return err
	}
	first := func() (shop.Message, error) { return shop.Message{Event: "here", Data: []byte("{}")}, nil }
	return kit.Stream(s.ctx, s.Shop.Hub, c, "tool:"+c.Params("tool"), first, s.lives(c), func() {})
}
