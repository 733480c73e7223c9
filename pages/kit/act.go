package kit

import (
	"cmp"
	"fmt"
	"html/template"
	"maps"
	"slices"
	"strconv"
	"strings"

	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/solid"
)

// Act is the picture of what a step does, named by owner and key, for how this vehicle is built; nothing where
// there is none.
func Act(l *library.Library, p *plan.Plan, step *plan.Step, name string) Picture {
	return drawn(l, p, step, name, l.Acts.For(name, step.Tool, step.MakesFacts()))
}

// Rung is the picture of a way to free what is stuck at a step, by the first of its names that is drawn.
func Rung(l *library.Library, p *plan.Plan, step *plan.Step, tool string, names ...string) Picture {
	for _, name := range names {
		if act := l.Acts.For(name, tool, nil); act != "" {
			return drawn(l, p, step, name, act)
		}
	}
	return Picture{}
}

func drawn(l *library.Library, p *plan.Plan, step *plan.Step, name, act string) Picture {
	if s := l.Scenes.Find(act, name, builtAt(l, p, step)); s != nil && l.Pictures != nil {
		left := step.Corner != "" && step.Corner.Left()
		if picture, over, err := l.Pictures.Over(s, left); err == nil && over != "" {
			return Picture{draw.Scene(picture, s.Says, over), seenFrom(s)}
		}
	}
	return Picture{}
}

// Still is the bare picture of an act, without its words; empty where there is none.
func Still(l *library.Library, act string) template.HTML {
	for i := range l.Scenes.Scenes {
		s := &l.Scenes.Scenes[i]
		if s.Key != act || l.Pictures == nil {
			continue
		}
		if on, ok := l.Scenes.Any(s); ok {
			if picture, _, err := l.Pictures.Over(on, false); err == nil {
				return draw.Still(picture)
			}
		}
	}
	return ""
}

// Picture is a drawn act, and from where one looks, where that is known.
type Picture struct {
	HTML template.HTML
	From string
}

// seenFrom says from where one looks at a corner; of what lies on a bench there is nothing to say.
func seenFrom(s *solid.Scene) string {
	if len(s.From) < 2 || len(s.Panes) > 0 || s.Parts == nil {
		return ""
	}
	return "seen " + solid.From(s.From[0], s.From[1])
}

// Compared is the scene of a step that lays a new part beside the old one, and along which measure it is to
// scale: none where that was not measured of both. It is empty where the library has none.
func Compared(
	l *library.Library, p *plan.Plan, step *plan.Step, old, new map[string]float64,
) (picture template.HTML, toScale string) {
	name := step.Kind()
	s := l.Scenes.Find(l.Acts.For(name, step.Tool, step.MakesFacts()), name, builtAt(l, p, step))
	if s == nil || l.Pictures == nil {
		return "", ""
	}
	scene, fill, measured := s.Measured(old, new, func(mm float64) string { return unit.Number(mm, 1) + " mm" })
	if measured {
		toScale = s.Scaled
	}
	file, over, err := l.Pictures.Over(&scene, step.Corner != "" && step.Corner.Left())
	if err != nil {
		return "", ""
	}
	for mark, says := range fill {
		over = strings.ReplaceAll(over, ">"+mark+"<", ">"+template.HTMLEscapeString(says)+"<")
	}
	return draw.Scene(file, s.Says, over), toScale
}

// done is what a verb does to a fastener.
var done = map[operation.Verb]solid.Done{
	operation.Crack: solid.Loosened, operation.Remove: solid.TakenOut, operation.Start: solid.Started,
	operation.Tighten: solid.Tightened,
}

// Bolt is a fastener beside which a picture shows its state.
type Bolt struct {
	draw.Sign
	Name, Link string // Link: the attributes by which it is chosen; none: it is not
}

// Fastener is the scene of a joint's fastener in hand, with the state of each beside it, where the library has
// one of so many for how the vehicle is built; empty where it has none.
func Fastener(l *library.Library, p *plan.Plan, step *plan.Step, letter string, bolt func(letter string) Bolt) Picture {
	j := p.Joint(step.Joint)
	k := slices.Index(j.Letters, letter)
	s := l.Scenes.Find(j.Sheet, step.Kind(), builtAt(l, p, step))
	if s == nil || l.Pictures == nil || k < 0 || len(s.Bolts) != len(j.Letters) {
		return Picture{}
	}
	scene := s.Fastened(k, done[step.Verb], j.LeftHand())
	picture, over, err := l.Pictures.Over(&scene, step.Corner != "" && step.Corner.Left())
	if err != nil {
		return Picture{}
	}
	if step.Verb == operation.Tighten && !slices.IsSorted(j.Order) {
		over = solid.Starred(over, j.Order)
	}
	var fill []string
	for i, at := range j.Letters {
		b := bolt(at)
		fill = append(fill, fmt.Sprintf(`"#bolt-%d"`, i), `"#`+draw.SymbolID(b.Drive, b.Mark)+`"`,
			fmt.Sprintf(`>bolt-%d<`, i), `>`+at+`<`)
		if b.Link != "" {
			fill = append(fill, fmt.Sprintf(`data-bolt="%d"`, i), b.Link+` aria-label="`+template.HTMLEscapeString(b.Name)+`"`)
		}
	}
	return Picture{draw.Joint(picture, s.Says, strings.NewReplacer(fill...).Replace(over)), seenFrom(s)}
}

// Built is how a vehicle of a sheet is built, as a plan takes it for where the sheet does not say.
func Built(l *library.Library, p vehicle.Pattern) solid.Answers {
	built := solid.Answers{}
	for _, b := range l.Builds {
		built[b.Key] = b.Assume
	}
	maps.Copy(built, p.Traits)
	return built
}

// builtAt is how the vehicle is built at a step: as its plan was answered, else as its sheet has it, else as the
// plan takes it for until somebody says.
func builtAt(l *library.Library, p *plan.Plan, step *plan.Step) solid.Answers {
	pattern, _ := l.Pattern(p.Pattern)
	built := Built(l, pattern)
	for _, b := range p.Builds {
		built[b.Key] = b.Is
	}
	if step.Corner != "" {
		built["axle"] = step.Corner.Axle()
	}
	if step.Scene < len(p.Scenes) && built["axle"] == "front" {
		built["front-corner"] = cmp.Or(p.Scenes[step.Scene].Like, built["front-corner"])
	}
	if j := p.Joint(step.Joint); j != nil {
		built["fasteners"] = strconv.Itoa(len(j.Letters))
	}
	return built
}

// Joint is the scene of a joint as it is tightened, small beside words that say the same.
func Joint(l *library.Library, p *plan.Plan, step *plan.Step, j *plan.Joint) template.HTML {
	s := l.Scenes.Find(j.Sheet, step.Kind(), builtAt(l, p, step))
	if s == nil || l.Pictures == nil || len(s.Bolts) != len(j.Letters) {
		return Where(l, j.Corner)
	}
	scene := s.Fastened(0, solid.Tightened, j.LeftHand())
	picture, _, err := l.Pictures.Over(&scene, j.Corner != "" && j.Corner.Left())
	if err != nil {
		return ""
	}
	return draw.Thumb(picture, "jointpic")
}
