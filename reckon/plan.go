package reckon

import (
	"lugtak/core/part"
	"lugtak/core/schedule"
)

var planning = []Calc{
	calc(Calc{
		Name:  "schedule",
		Of:    Vehicle,
		Asks:  "Which order of steps?",
		Title: "Steps in the best order",
		Formula: "one hands-on step a technician at a time; changes of tool, side and position cost minutes; what runs by " +
			"itself starts when its needs end",
		Source: "exact search to 14 steps, a beam beyond; the bound is proved",
		Example: `{"steps":[{"id":"spray","minutes":1,"hands":true,"tool":"can"},{"id":"soak","minutes":10,"hands":false,` +
			`"needs":["spray"]},{"id":"wheel","minutes":4,"hands":true,"tool":"ratchet","side":"left"},{"id":"open",` +
			`"minutes":2,"hands":true,"tool":"bar","needs":["soak"]}],"costs":{"tool_change_min":0.5,"walk_min":0.5,` +
			`"position_min":3},"technicians":1,"sides":"together"}`,
	}, plan),
	calc(Calc{
		Name:    "fit",
		Of:      Brake,
		Asks:    "New beside old: does it fit?",
		Title:   "New against old",
		Formula: "each measure that differs, with what the difference does",
		Source:  "what to compare: common practice; effects by geometry and counting",
		Example: `{"part":"hub unit",` +
			`"old":{"pilot_mm":62,"pilot_depth_mm":18,"bolt_circle_mm":112,"splines":28,"ring_teeth":48},` +
			`"new":{"pilot_mm":62,"pilot_depth_mm":18.5,"bolt_circle_mm":112,"splines":28,"ring_teeth":44}}`,
	}, fit),
}

type stepIn struct {
	ID       string   `json:"id"`
	Minutes  float64  `json:"minutes"`
	Hands    *bool    `json:"hands,omitempty"`
	Tool     string   `json:"tool,omitempty"`
	Side     string   `json:"side,omitempty"`
	Position string   `json:"position,omitempty"`
	Needs    []string `json:"needs,omitempty"`
	People   int      `json:"people,omitempty"`
	Uses     []string `json:"uses,omitempty"`
}
type costsIn struct {
	Tool     float64 `json:"tool_change_min"`
	Walk     float64 `json:"walk_min"`
	Position float64 `json:"position_min"`
}
type scheduleIn struct {
	Steps       []stepIn `json:"steps"`
	Costs       costsIn  `json:"costs,omitempty"`
	Technicians int      `json:"technicians,omitempty"`
	Sides       string   `json:"sides,omitempty"`
}
type placedOut struct {
	ID         string  `json:"id"`
	Technician int     `json:"technician"` // 0 where it runs by itself
	Start      float64 `json:"start_min"`
	End        float64 `json:"end_min"`
}
type scheduleOut struct {
	Order     []placedOut `json:"order"`
	Makespan  float64     `json:"makespan_min"`
	Bound     float64     `json:"bound_min"`
	Tools     int         `json:"tool_changes"`
	Walks     int         `json:"walks"`
	Positions int         `json:"position_changes"`
}

func plan(in scheduleIn) (scheduleOut, error) {
	p := schedule.Problem{Costs: schedule.Costs(in.Costs), Technicians: in.Technicians, Sides: schedule.Sides(in.Sides)}
	for _, s := range in.Steps {
		p.Steps = append(p.Steps, schedule.Step{
			ID:       s.ID,
			Minutes:  s.Minutes,
			Hands:    s.Hands == nil || *s.Hands,
			Tool:     s.Tool,
			Side:     s.Side,
			Position: s.Position,
			Needs:    s.Needs,
			People:   s.People,
			Uses:     s.Uses,
		})
	}
	sol, err := schedule.Solve(p)
	if err != nil {
		return scheduleOut{}, err
	}
	out := scheduleOut{
		Makespan:  sig(sol.Makespan),
		Bound:     sig(sol.Bound),
		Tools:     sol.ToolChanges,
		Walks:     sol.Walks,
		Positions: sol.PositionChanges,
	}
	for _, x := range sol.Order {
		out.Order = append(out.Order, placedOut{x.ID, x.Technician, sig(x.Start), sig(x.End)})
	}
	return out, nil
}

type fitIn struct {
	Part string             `json:"part"`
	Old  map[string]float64 `json:"old"`
	New  map[string]float64 `json:"new"`
}
type differenceOut struct {
	Field  string  `json:"field"`
	Old    float64 `json:"old"`
	New    float64 `json:"new"`
	Effect string  `json:"effect"`
}
type fitOut struct {
	Verdict     string          `json:"verdict"` // fits, fits_with, refused
	Differences []differenceOut `json:"differences"`
	Missing     []string        `json:"missing,omitempty"`
}

func fit(in fitIn) (fitOut, error) {
	r, err := part.Compare(in.Part, in.Old, in.New)
	if err != nil {
		return fitOut{}, err
	}
	out := fitOut{Verdict: string(r.Verdict), Differences: []differenceOut{}, Missing: r.Missing}
	for _, d := range r.Differences {
		out.Differences = append(out.Differences, differenceOut{d.Field, d.Old, d.New, d.Effect})
	}
	return out, nil
}
