package web

import (
	"math/rand/v2"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/listing"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/practice"
	"lugtak/device"
	pages "lugtak/pages/practice"
	"lugtak/shop"
	"lugtak/web/kit"
)

// practiceRoom answers for the practice bay.
type practiceRoom struct{ *Server }

func (s practiceRoom) routes(at paths) {
	at.get("/practice", s.practiceBay)
	at.Post("/practice", s.beginPractice)
	at.get("/practice/:run", s.practise)
	at.Post("/practice/:run", s.practiseAct)
}

// practiceBay lists the exercises.
func (s practiceRoom) practiceBay(c fiber.Ctx) error {
	if err := s.practises(); err != nil {
		return err
	}
	past, err := s.Shop.PracticePast(c.Context(), kit.Session(c).Person.ID)
	if err != nil {
		return err
	}
	return s.show(c, 200, pages.Bay(s.Shop.Library(), past))
}

func (s practiceRoom) practises() error {
	if s.Stand == nil {
		return fault.New(fault.NotFound, "", "There is no practice bay here.", "Go back to the bays.")
	}
	return nil
}

// beginPractice opens a run. What is hidden in it is drawn anew each time, unless a seed is
// asked for.
func (s practiceRoom) beginPractice(c fiber.Ctx) error {
	if err := s.practises(); err != nil {
		return err
	}
	in := kit.Read[struct {
		Exercise string `form:"exercise"`
		Seed     string `form:"seed"`
	}](c)
	if _, ok := s.Shop.Library().Exercise(in.Exercise); !ok {
		return fault.New(fault.NotFound, "exercise", "There is no such exercise.", "Choose one of the practice bay.")
	}
	seed, err := strconv.ParseUint(in.Seed, 10, 32)
	if err != nil {
		seed = uint64(rand.Uint32())
	}
	id, err := s.Shop.BeginPractice(c.Context(), kit.Session(c).Person.ID, in.Exercise, seed, s.Shop.Now())
	if err != nil {
		return err
	}
	return kit.Go(c, "/practice/"+id)
}

// running is the run of a request as it stands, or as it stood before one of its acts.
func (s practiceRoom) running(c fiber.Ctx, before int) (x pages.Shown, err error) {
	if err := s.practises(); err != nil {
		return x, err
	}
	if x.Kept, err = s.Shop.Practice(c.Context(), c.Params("run"), kit.Session(c).Person.ID); err != nil {
		return x, err
	}
	lib := s.Shop.Library()
	exercise, ok := lib.Exercise(x.Kept.Exercise)
	if !ok {
		return x, fault.New(fault.NotFound, "", "That exercise is no longer in the library.", "Choose another.")
	}
	p, err := s.Shop.Exercise(exercise.ID)
	if err != nil {
		return x, err
	}
	acts := x.Kept.Acts
	if before >= 0 && before < len(acts) {
		acts = acts[:before]
		x.Back = true
	}
	x.Library = lib
	x.Run = practice.Replay(exercise, p, lib.PracticeRules(exercise), x.Kept.Seed, acts)
	x.Swing = func(step *plan.Step) []device.Reading { return shop.Swing(s.Stand, x.Run, step) }
	return x, nil
}

func (s practiceRoom) practise(c fiber.Ctx) error { return s.showPractice(c, 200, nil) }

func (s practiceRoom) showPractice(c fiber.Ctx, code int, f *fault.Fault) error {
	before := -1
	if n, err := strconv.Atoi(c.Query("before")); err == nil {
		before = n
	}
	x, err := s.running(c, before)
	if err != nil {
		return err
	}
	x.Fault, x.Typed, x.Step, x.Free = f, kit.Typed(c), stepOf(c), c.Query("free") != ""
	if x.Run.Ended && !x.Back {
		past, err := s.Shop.PracticePast(c.Context(), kit.Session(c).Person.ID)
		if err != nil {
			return err
		}
		return s.show(c, 200, pages.Practised(s.Shop.Library(), x, past))
	}
	page, err := pages.Practising(x)
	if err != nil {
		return err
	}
	return s.show(c, code, page)
}

// stepOf is the step a request is about.
func stepOf(c fiber.Ctx) operation.StepID {
	if id := kit.Typed(c)["step"]; id != "" {
		return operation.StepID(id)
	}
	return operation.StepID(c.Query("step"))
}

// practiseAct carries one act out and keeps it.
func (s practiceRoom) practiseAct(c fiber.Ctx) error {
	x, err := s.running(c, -1)
	if err != nil {
		return err
	}
	in := kit.Read[struct {
		Do     string     `form:"do"`
		Step   string     `form:"step"`
		Letter string     `form:"letter"`
		Choice string     `form:"choice"`
		Let    kit.Figure `form:"let"`
	}](c)
	a := practice.Act{Do: in.Do, Step: operation.StepID(in.Step), Letter: in.Letter, Choice: in.Choice, Let: in.Let.Value}
	if a.Do == practice.Pull {
		if a.Reading, err = s.pullFor(x.Run, a, in.Let); err != nil {
			return s.practiceRefused(c, err)
		}
	}
	if err := x.Run.Do(a); err != nil {
		return s.practiceRefused(c, err)
	}
	kept := x.Kept
	kept.Acts = x.Run.Acts
	if x.Run.Ended {
		kept.Ended = s.Shop.Now()
		sc := x.Run.Score()
		kept.Score = listing.Score{Met: sc.Met, Of: sc.Of, Faults: sc.Faults, Minutes: x.Run.Minutes, Skills: sc.Skills}
	}
	if err := s.Shop.Practised(c.Context(), kept); err != nil {
		return s.practiceRefused(c, err)
	}
	to := "/practice/" + kept.ID
	if a.Step != "" && !x.Run.Done(a.Step) {
		to += "?step=" + in.Step
	}
	return kit.See(c, to)
}

func (s practiceRoom) practiceRefused(c fiber.Ctx, err error) error {
	if f := fault.As(err); f != nil {
		return s.showPractice(c, kit.Status(f), f)
	}
	return err
}

// mostLet is more than any hand pulls, N·m or degrees.
const mostLet = 1000

// pullFor reads the stand for an act.
func (s practiceRoom) pullFor(run *practice.Run, a practice.Act, let kit.Figure) (*practice.Reading, error) {
	step := run.Plan.Step(a.Step)
	switch {
	case step == nil || run.Asks(step) != practice.Pull:
		return nil, fault.New(fault.BadAct, "step", "Nothing is pulled there.", "Choose an act that is laid out.")
	case !let.OK || let.Value <= 0 || let.Value > mostLet:
		return nil, fault.New(fault.OutOfRange, "let", "Nobody lets go there.",
			"Give newton metres, or degrees for an angle.")
	}
	return shop.LetGo(s.Stand, run, step, let.Value)
}
