package plan

import (
	"cmp"
	"maps"
	"slices"

	"lugtak/core/fact"
)

// Exported is a plan for others to read, and to prove again from this text alone.
type Exported struct {
	Title       string         `json:"title"`
	Vehicle     string         `json:"vehicle"`
	Invented    bool           `json:"invented,omitempty"`
	Tasks       []string       `json:"tasks"`
	Technicians int            `json:"technicians"`
	Sources     []string       `json:"sources"`
	Schools     []ExportedWay  `json:"schools"`
	Builds      []ExportedWay  `json:"builds"`
	Warnings    []string       `json:"warnings"`
	Facts       []ExportedFact `json:"facts"` // at rest
	Laws        []ExportedLaw  `json:"laws"`
	Steps       []ExportedStep `json:"steps"`
}

// ExportedWay is a question and the way that was taken. Assumed says that nobody has
// looked how the vehicle is built.
type ExportedWay struct {
	Question string `json:"question"`
	Way      string `json:"way"`
	Assumed  bool   `json:"assumed,omitempty"`
}

// ExportedFact is how a fact is at rest, and what else would do at the end.
type ExportedFact struct {
	Fact  string   `json:"fact"`
	Value string   `json:"value"`
	End   []string `json:"end,omitempty"`
	Free  bool     `json:"free,omitempty"` // it may end in any way
}

// ExportedWant is what a step wants. Value is how the fact stands when the step comes;
// where other values would do as well, AnyOf lists them all.
type ExportedWant struct {
	Fact    string   `json:"fact"`
	Value   string   `json:"value"`
	AnyOf   []string `json:"any_of,omitempty"`
	Because string   `json:"because"`
}

// ExportedMake is what a step leaves true.
type ExportedMake struct {
	Fact  string `json:"fact"`
	Value string `json:"value"`
}

// ExportedLaw is what must be so whenever a fact comes to one of its values.
type ExportedLaw struct {
	ID     string         `json:"id"`
	Says   string         `json:"says"`
	Fact   string         `json:"fact"`
	Values []string       `json:"values"`
	Must   []ExportedMust `json:"must"`
	While  bool           `json:"while,omitempty"` // and for as long as it is so
	Clear  bool           `json:"clear,omitempty"` // for so long nobody has hands at a corner
}

// ExportedMust is one thing a law asks.
type ExportedMust struct {
	Fact  string   `json:"fact"`
	AnyOf []string `json:"any_of"`
}

// ExportedStep is one step in its place.
type ExportedStep struct {
	ID       string         `json:"id"`
	Verb     string         `json:"verb"`
	Title    string         `json:"title"`
	How      string         `json:"how,omitempty"`
	Corner   string         `json:"corner"`
	Joint    string         `json:"joint"`
	Wants    []ExportedWant `json:"wants"`
	Makes    []ExportedMake `json:"makes"`
	Needs    []string       `json:"needs"`
	Position string         `json:"position"`
	Tool     string         `json:"tool"`
	Uses     []string       `json:"uses"`
	People   int            `json:"people"`
	Minutes  float64        `json:"minutes"`
	Because  string         `json:"because"`
	Cautions []string       `json:"cautions"`
}

// Export is the plan as others read it.
func (p *Plan) Export() Exported {
	out := Exported{
		Title:       p.Title,
		Vehicle:     p.Pattern,
		Invented:    p.Invented,
		Tasks:       []string{},
		Technicians: max(1, p.Technicians),
		Sources:     p.Sources,
		Schools:     []ExportedWay{},
		Builds:      []ExportedWay{},
		Warnings:    append([]string{}, p.Warnings...),
		Facts:       []ExportedFact{},
		Laws:        []ExportedLaw{},
		Steps:       []ExportedStep{},
	}
	for _, t := range p.Tasks {
		out.Tasks = append(out.Tasks, t.String())
	}
	for _, s := range p.Schools {
		out.Schools = append(out.Schools, ExportedWay{Question: s.Key, Way: s.Way})
	}
	for _, b := range p.Builds {
		out.Builds = append(out.Builds, ExportedWay{Question: b.Key, Way: b.Is, Assumed: !b.Known})
	}
	for _, f := range slices.SortedFunc(maps.Keys(p.World.Rest), fact.Compare) {
		end, said := p.World.End[f]
		x := ExportedFact{Fact: f.String(), Value: string(p.World.Rest[f]), Free: said && end == nil}
		if end != nil {
			x.End = spelled(end)
		}
		out.Facts = append(out.Facts, x)
	}
	for _, l := range p.World.Laws {
		x := ExportedLaw{ID: l.ID, Says: l.Says, Fact: l.On.String(), Values: spelled(l.Values), While: l.While,
			Clear: l.Clear}
		x.Must = []ExportedMust{}
		for _, m := range l.Must {
			x.Must = append(x.Must, ExportedMust{m.Fact.String(), spelled(m.Values)})
		}
		out.Laws = append(out.Laws, x)
	}
	now := fact.State{}
	for i := range p.Steps {
		out.Steps = append(out.Steps, p.Steps[i].export(&p.World, now))
		for _, m := range p.Steps[i].Makes {
			now[m.Fact] = m.Value
		}
	}
	return out
}

func (s *Step) export(w *fact.World, now fact.State) ExportedStep {
	x := ExportedStep{
		ID:       string(s.ID),
		Verb:     string(s.Verb),
		Title:    s.Title,
		How:      s.How,
		Corner:   string(s.Corner),
		Joint:    s.Joint,
		Wants:    []ExportedWant{},
		Makes:    []ExportedMake{},
		Needs:    []string{},
		Position: string(s.Position),
		Tool:     s.Tool,
		Uses:     append([]string{}, s.Uses...),
		People:   max(1, s.People),
		Minutes:  s.Minutes,
		Because:  s.Because,
		Cautions: []string{},
	}
	for _, want := range s.Wants {
		e := ExportedWant{
			Fact:    want.Fact.String(),
			Value:   string(w.Is(now, want.Fact)),
			Because: cmp.Or(want.Because, "it is so by then"),
		}
		if any := spelled(want.Values); len(any) > 1 {
			e.AnyOf = any
		}
		x.Wants = append(x.Wants, e)
	}
	for _, m := range s.Makes {
		x.Makes = append(x.Makes, ExportedMake{m.Fact.String(), string(m.Value)})
	}
	for _, n := range s.Needs {
		x.Needs = append(x.Needs, string(n))
	}
	if s.Caution != "" {
		x.Cautions = append(x.Cautions, s.Caution)
	}
	return x
}

// spelled writes values out, the words that stand for several too.
func spelled(values fact.Values) []string {
	var out []string
	for _, v := range values.Spelled() {
		out = append(out, string(v))
	}
	return out
}
