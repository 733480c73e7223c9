package api

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/library"
)

// Sheets as other programs read and fill them. A script's reading is a first reading; a person reads second.

// Outline is what a vehicle looks like from the side.
type Outline struct {
	Kind string `json:"kind"` // car, van, pickup, bus, truck
}

// NewSheet is a model with nothing known but how it is built.
type NewSheet struct {
	ID      string            `json:"id"`
	Name    string            `json:"name"`
	Outline Outline           `json:"outline"`
	Driven  string            `json:"driven,omitempty"` // front, rear, all
	Built   map[string]string `json:"built,omitempty"`  // answers by question
}

// Sheet is a model with what is known of its joints.
type Sheet struct {
	NewSheet
	Invented bool         `json:"invented,omitempty"`
	Joints   []SheetJoint `json:"joints,omitempty"`
}

// SheetJoint is what is known of a joint of a sheet.
type SheetJoint struct {
	Joint     string   `json:"joint"`
	Title     string   `json:"title"`
	System    string   `json:"system"`
	State     string   `json:"state"`
	Recipe    string   `json:"recipe,omitempty"`
	Thread    string   `json:"thread,omitempty"`
	Class     string   `json:"class,omitempty"`
	Treatment string   `json:"treatment,omitempty"`
	Condition string   `json:"condition,omitempty"`
	Renew     bool     `json:"renew,omitempty"`
	Count     int      `json:"count,omitempty"`
	Source    string   `json:"source,omitempty"`
	Readers   []string `json:"readers,omitempty"`
	Jobs      int      `json:"jobs,omitempty"`
}

// NewReading is one figure as a script brings it.
type NewReading struct {
	ID        string `json:"id"`
	Joint     string `json:"joint"`
	Recipe    string `json:"recipe"`
	Thread    string `json:"thread,omitempty"`
	Class     string `json:"class,omitempty"`
	Treatment string `json:"treatment,omitempty"`
	Condition string `json:"condition,omitempty"`
	Renew     bool   `json:"renew,omitempty"`
	Count     int    `json:"count,omitempty"`
	Source    string `json:"source"`
	Page      string `json:"page,omitempty"`
}

// Order is what is to be done on a job's vehicle.
type Order struct {
	ID         string            `json:"id"`
	Operations []string          `json:"operations"` // front-hub-unit@FL
	Schools    map[string]string `json:"schools,omitempty"`
	Built      map[string]string `json:"built,omitempty"`
}

// Operation is work that can be done to a vehicle as it is built.
type Operation struct {
	Operation string `json:"operation"`
	Title     string `json:"title"`
}

// Figure is a figure that a job needs.
type Figure struct {
	Joint  string `json:"joint"`
	Title  string `json:"title"`
	Step   string `json:"step"`
	State  string `json:"state"`
	Recipe string `json:"recipe,omitempty"`
	Source string `json:"source,omitempty"`
}

func (a *API) sheets(c fiber.Ctx) error {
	all, err := a.Shop.Models(c.Context())
	if err != nil {
		return err
	}
	out := Page[Sheet]{Items: []Sheet{}}
	for _, p := range all {
		out.Items = append(out.Items, sheetOf(p))
	}
	return c.JSON(out)
}

func sheetOf(p vehicle.Pattern) Sheet {
	return Sheet{
		NewSheet: NewSheet{
			ID:      p.ID,
			Name:    p.Name,
			Outline: Outline{p.Outline.Kind},
			Driven:  p.Traits[operationDriven],
			Built:   p.Traits,
		},
		Invented: p.Invented,
	}
}

// operationDriven is the question of the build that the contract names by itself.
const operationDriven = "driven"

func (a *API) sheet(c fiber.Ctx) error {
	p, err := a.Shop.Pattern(c.Context(), c.Params("sheet"))
	if err != nil {
		return err
	}
	used, err := a.Shop.Tightened(c.Context(), p.ID)
	if err != nil {
		return err
	}
	out := sheetOf(p)
	for _, j := range a.Shop.Library().JointsOf(p) {
		out.Joints = append(out.Joints, jointOf(j, p.Spec[j.Spec], used[j.Spec]))
	}
	return c.JSON(out)
}

// beginSheet takes in a model, once.
func (a *API) beginSheet(c fiber.Ctx) error {
	var in NewSheet
	if err := read(c, &in); err != nil {
		return err
	}
	m := a.meta(c, "sheet:"+in.ID)
	x := vehicle.Sheet{ID: in.ID, Name: in.Name, Outline: in.Outline.Kind, Built: map[string]string{}, By: m.By, At: m.At}
	for key, is := range in.Built {
		x.Built[key] = is
	}
	if in.Driven != "" {
		x.Built[operationDriven] = in.Driven
	}
	code, err := a.once(c, m.ID, func() error { return a.Shop.BeginSheet(c.Context(), m.ID, x) })
	if err != nil {
		return err
	}
	p, err := a.Shop.Pattern(c.Context(), x.ID)
	if err != nil {
		return err
	}
	return c.Status(code).JSON(sheetOf(p))
}

// once does an act of the shop and gives the code it is answered with: made now, or already there.
func (a *API) once(c fiber.Ctx, id record.EventID, act func() error) (code int, err error) {
	known, err := a.Shop.Acted(c.Context(), id)
	if err != nil {
		return 0, err
	}
	return madeCode(!known), act()
}

func madeCode(made bool) int {
	if made {
		return fiber.StatusCreated
	}
	return fiber.StatusOK
}

// readFigure takes one reading, once.
func (a *API) readFigure(c fiber.Ctx) error {
	var in NewReading
	if err := read(c, &in); err != nil {
		return err
	}
	m := a.meta(c, in.ID)
	r := vehicle.Reading{
		Sheet:     c.Params("sheet"),
		Joint:     in.Joint,
		Recipe:    in.Recipe,
		Thread:    in.Thread,
		Class:     in.Class,
		Treatment: in.Treatment,
		Condition: vehicle.Condition(in.Condition),
		Renew:     in.Renew,
		Count:     in.Count,
		Source:    in.Source,
		Page:      in.Page,
		Script:    true,
		By:        m.By,
		At:        m.At,
	}
	code, err := a.once(c, m.ID, func() error { return a.Shop.ReadFigure(c.Context(), m.ID, r) })
	if err != nil {
		return err
	}
	p, err := a.Shop.Pattern(c.Context(), r.Sheet)
	if err != nil {
		return err
	}
	j, _ := a.Shop.Library().JointOf(in.Joint)
	j.Spec = in.Joint
	return c.Status(code).JSON(jointOf(j, p.Spec[in.Joint], 0))
}

// jointOf is what is known of a joint, which was tightened by its figure in so many jobs.
func jointOf(j operation.Joint, s vehicle.Spec, jobs int) SheetJoint {
	return SheetJoint{
		Joint:     j.Spec,
		Title:     j.Title,
		System:    j.System,
		State:     string(job.KnownOf(s)),
		Recipe:    s.Recipe,
		Thread:    s.Thread,
		Class:     s.Class,
		Treatment: s.Treatment,
		Condition: string(s.Condition),
		Renew:     s.Renew,
		Count:     s.Count,
		Source:    s.Source,
		Readers:   s.Readers,
		Jobs:      jobs,
	}
}

func (a *API) operations(c fiber.Ctx) error {
	v, err := a.Shop.Vehicle(c.Context(), c.Params("vehicle"))
	if err != nil {
		return err
	}
	p, err := a.Shop.Pattern(c.Context(), v.Pattern)
	if err != nil {
		return err
	}
	out := Page[Operation]{Items: []Operation{}}
	for _, t := range a.Shop.Offers(p) {
		op, _ := a.Shop.Library().Operation(t.Operation)
		out.Items = append(out.Items, Operation{t.String(), library.TaskTitle(op, t)})
	}
	return c.JSON(out)
}

// order plans the work of a job, once.
func (a *API) order(c fiber.Ctx) error {
	var in Order
	if err := read(c, &in); err != nil {
		return err
	}
	ask := library.Ask{Ways: in.Schools}
	for _, text := range in.Operations {
		t, err := plan.ParseTask(text)
		if err != nil {
			return fault.In("operations", err)
		}
		ask.Tasks = append(ask.Tasks, t)
	}
	id := c.Params("job")
	if err := a.Shop.Order(c.Context(), id, a.meta(c, in.ID), ask, in.Built); err != nil {
		return err
	}
	st, err := a.Shop.Job(c.Context(), id)
	if err != nil {
		return err
	}
	return c.JSON(st.Plan.Export())
}

func (a *API) figures(c fiber.Ctx) error {
	return listOf(a, c, func(st *job.State) []Figure {
		out := []Figure{}
		if !st.HasPlan() {
			return out
		}
		for _, w := range st.WantedFigures() {
			j := w.Joints[0]
			out = append(out, Figure{
				Joint:  j.Sheet,
				Title:  j.Title,
				Step:   string(w.Step.ID),
				State:  string(w.Known),
				Recipe: j.Recipe,
				Source: j.Source,
			})
		}
		return out
	})
}
