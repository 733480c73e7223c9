package library

import (
	"slices"
	"strings"

	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// Weighed is what some work takes as one job, and what else would add to it.
type Weighed struct {
	Rows       []WeighedTask
	ByKM       []WeighedTask // not asked: offered by distance beside what is
	OtherSides bool          // some task has another side to weigh
	Range      plan.Estimate
	Warnings   []string
	OdometerKM int
}

// WeighedTask is a task with what it would take now, in one job, against later, minutes.
type WeighedTask struct {
	Title, Why string
	Other      string // the opposite side, where it is offered and not asked
	Tick       string // the task that is offered
	Now, Later float64
}

// most is how many other sides are weighed, and how many offers by distance: each takes two plans.
const most = 4

// weighing is a question of what work takes on a sheet.
type weighing struct {
	lib *Library
	pat vehicle.Pattern
	ask Ask
}

// minutes is the plan for some tasks, and how long it takes.
func (w weighing) minutes(tasks ...plan.Task) (plan.Plan, float64, error) {
	w.ask.Tasks = tasks
	made, err := w.lib.Compile(w.pat, w.ask)
	if err != nil {
		return made, 0, err
	}
	sol, err := made.Clock(w.lib.Costs())
	return made, sol.Makespan, err
}

// against fills in what another task would take beside what is asked, and alone.
func (w weighing) against(row *WeighedTask, base float64, other plan.Task) error {
	_, both, err := w.minutes(append(slices.Clone(w.ask.Tasks), other)...)
	if err != nil {
		return err
	}
	_, alone, err := w.minutes(other)
	row.Now, row.Later = both-base, alone
	return err
}

// Weigh reckons what is asked as one job, and what its other sides would add now against later. Offers are what
// can be ordered on the sheet. Nothing asked takes nothing.
func (l *Library) Weigh(pat vehicle.Pattern, ask Ask, offers []plan.Task) (v Weighed, err error) {
	v.OdometerKM = ask.OdometerKM
	if len(ask.Tasks) == 0 {
		return v, nil
	}
	w := weighing{l, pat, ask}
	made, base, err := w.minutes(ask.Tasks...)
	if err != nil {
		return v, err
	}
	v.Range = made.Reckon(base, plan.Expect{
		SeizedOdds: l.Shop.SeizedOdds, SeizedMin: l.Shop.SeizedMin, Opened: ask.Opened,
	})
	v.Warnings = made.Warnings
	sides := 0
	for _, t := range made.Tasks {
		op, known := l.Operation(t.Operation)
		if !known && ask.Free != nil {
			op = ask.Free.Operation()
		}
		row := WeighedTask{Title: TaskTitle(op, t), Why: op.Pairs}
		other := plan.Task{Operation: t.Operation, Corner: t.Corner.Opposite()}
		open := t.Corner != "" && slices.Contains(offers, other) && !slices.Contains(made.Tasks, other)
		if open && sides < most {
			sides++
			row.Other, row.Tick = other.Corner.Side()+" side", other.String()
			if err := w.against(&row, base, other); err != nil {
				return v, err
			}
		}
		v.Rows = append(v.Rows, row)
	}
	v.OtherSides = sides > 0
	for _, t := range offers {
		op, _ := l.Operation(t.Operation)
		if len(v.ByKM) == most || !t.OfferedByDistance(op, made.Tasks, ask.OdometerKM) {
			continue
		}
		row := WeighedTask{
			Title: TaskTitle(op, t),
			Why:   unit.Capital(op.ByDistance.Because) + ".",
			Tick:  t.String(),
		}
		if err := w.against(&row, base, t); err != nil {
			return v, err
		}
		v.ByKM = append(v.ByKM, row)
	}
	return v, nil
}

// TitleOfTask names a task by its key, hub-unit@FL; of one that is known no more it is the key.
func (l *Library) TitleOfTask(key string) string {
	t, err := plan.ParseTask(key)
	op, known := l.Operation(t.Operation)
	if err != nil || !known {
		return key
	}
	return TaskTitle(op, t)
}

// TaskTitle names a task with its side.
func TaskTitle(op operation.Operation, t plan.Task) string {
	title := unit.Capital(strings.ReplaceAll(op.Title, "{axle}", t.Corner.Axle()))
	if t.Corner != "" {
		title += ", " + t.Corner.Side()
	}
	return title
}
