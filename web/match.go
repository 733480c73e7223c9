package web

import (
	"html/template"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/part"
	"lugtak/core/plan"
	"lugtak/core/unit"
	"lugtak/draw"
	"lugtak/web/kit"
)

type matchView struct {
	Job     *job.State
	Step    *plan.Step
	Part    operation.Part
	Fields  []matchField
	Result  *part.Result
	Drawing template.HTML
	Last    *job.Matching
	Note    string
	Owed    int
	Fault   *fault.Fault
}

// matchField is one measure of a part: as typed on the old and the new one.
type matchField struct {
	Key, Title, Unit string
	Old, New         string
	Effect           string
	Bars             bool
	Missing          bool
	Decides          bool // nothing is kept without it
}

func (s *Server) match(c fiber.Ctx) error { return s.showMatch(c, 200, nil) }

// matched reads the measures the form or the address carries.
func matched(c fiber.Ctx, kind string) (old, new map[string]float64, typed []matchField, f *fault.Fault) {
	old, new = map[string]float64{}, map[string]float64{}
	said := kit.Typed(c)
	for _, key := range part.Fields(kind) {
		m := matchField{
			Key:     key,
			Title:   strings.ReplaceAll(key, "_", " "),
			Decides: slices.Contains(part.Deciding(kind), key),
		}
		for _, u := range []string{"mm", "deg", "kg"} {
			if t, ok := strings.CutSuffix(key, "_"+u); ok {
				m.Title, m.Unit = strings.ReplaceAll(t, "_", " "), u
			}
		}
		for side, into := range map[string]map[string]float64{"old": old, "new": new} {
			text := said[side+"-"+key]
			if side == "old" {
				m.Old = text
			} else {
				m.New = text
			}
			if strings.TrimSpace(text) == "" {
				continue
			}
			v, ok := unit.Figure(text)
			if !ok {
				f = fault.New("bad_number", m.Title+", "+side, "That is no number.", "Write what the gauge shows, as 24.5.")
				continue
			}
			into[key] = v
		}
		typed = append(typed, m)
	}
	return old, new, typed, f
}

// matchForm is what is said of two parts beside one another.
type matchForm struct {
	acted
	Say  string `form:"say"` // look, accept or refuse
	Note string `form:"note"`
}

func (s *Server) showMatch(c fiber.Ctx, code int, f *fault.Fault) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	in := kit.Read[matchForm](c)
	v := matchView{Job: st, Owed: len(st.Owed()), Fault: f, Note: in.Note}
	v.Step = st.Plan.Step(in.Step)
	var ok bool
	if v.Part, ok = st.Plan.Compared(v.Step); !ok {
		return fault.New("not_found", "step", "Nothing is compared there.",
			"Open the match from the plan or from its step.")
	}
	v.Last = st.Match(v.Part.Key)
	old, new, fields, bad := matched(c, v.Part.Kind)
	if v.Last != nil && len(old)+len(new) == 0 && bad == nil {
		old, new = v.Last.Old, v.Last.New
		for i := range fields {
			fields[i].Old, fields[i].New = typedNumber(old, fields[i].Key), typedNumber(new, fields[i].Key)
		}
	}
	if v.Fault == nil {
		v.Fault = bad
	}
	if len(old) > 0 && len(new) > 0 {
		if r, err := st.Beside(v.Part.Kind, old, new); err == nil {
			v.Result = &r
			for i := range fields {
				for _, d := range r.Differences {
					if d.Field == fields[i].Key {
						fields[i].Effect, fields[i].Bars = d.Effect, d.Bars
					}
				}
				for _, m := range r.Missing {
					fields[i].Missing = fields[i].Missing || m == fields[i].Key
				}
			}
		} else if v.Fault == nil {
			v.Fault = fault.As(err)
		}
	}
	v.Fields = fields
	v.Drawing = draw.Part(v.Part.Kind, old, new)
	return s.render(c, code, "match", "New beside old", v)
}

func typedNumber(m map[string]float64, key string) string {
	if x, ok := m[key]; ok {
		return unit.Number(x, 3)
	}
	return ""
}

// judgePart takes or refuses a new part with what was measured.
func (s *Server) judgePart(c fiber.Ctx) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	in := kit.Read[matchForm](c)
	step := st.Plan.Step(in.Step)
	p, _ := st.Plan.Compared(step)
	old, new, _, bad := matched(c, p.Kind)
	if bad != nil {
		return s.showMatch(c, kit.Status(bad), bad)
	}
	if in.Say == "look" {
		return s.showMatch(c, 200, nil)
	}
	_, err = s.record(
		c,
		job.Compare{Step: in.Step, Old: old, New: new, Accept: in.Say == "accept", Note: in.Note},
	)
	if f := fault.As(err); f != nil {
		return s.showMatch(c, kit.Status(f), f)
	} else if err != nil {
		return err
	}
	if in.Say == "accept" {
		// What was laid beside is done, where its turn has come.
		m := kit.Meta(c, s.Shop.Now())
		m.ID, m.Seq = m.ID.And("kept"), 0
		_, err := s.recordAs(c, m, job.KeepStep{Step: step.ID})
		switch {
		case err == nil:
			return kit.See(c, "/jobs/"+st.ID+"/bench")
		case fault.As(err) == nil:
			return err
		}
		return kit.See(c, "/jobs/"+st.ID+"/bench?step="+string(step.ID))
	}
	// Refused: what can be done without the part comes first.
	m := kit.Meta(c, s.Shop.Now())
	m.ID, m.Seq = m.ID.And("replan"), 0
	if _, err := s.recordAs(c, m, s.Shop.Replan(st)); err != nil && fault.As(err) == nil {
		return err
	}
	return kit.See(c, "/jobs/"+st.ID+"/plan")
}
