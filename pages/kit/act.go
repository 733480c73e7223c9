package kit

import (
	"html/template"

	"lugtak/core/plan"
	"lugtak/draw"
	"lugtak/library"
)

// Act is the picture of what a step does, named by owner and key: from solids where there is a scene of it for how this
// vehicle is built, else flat; nothing where it is not drawn.
func Act(l *library.Library, p *plan.Plan, step *plan.Step, name string) template.HTML {
	a, ok := l.Acts.For(name, step.Tool, step.MakesFacts())
	if !ok {
		return ""
	}
	if s := l.Scenes.Find(a.Key, name, builtAt(p, step)); s != nil && l.Pictures != nil {
		left := step.Corner != "" && step.Corner.Left()
		if picture, over, err := l.Pictures.Over(s, left); err == nil && over != "" {
			return draw.Scene(picture, s.Says, over)
		}
	}
	return draw.Act(a, &l.Acts, step.Mirrored())
}

// builtAt is how the vehicle is built at a step, as far as its plan asked or its corner is drawn.
func builtAt(p *plan.Plan, step *plan.Step) map[string]string {
	built := map[string]string{"axle": step.Corner.Axle()}
	if step.Corner == "" {
		built["axle"] = ""
	}
	for _, b := range p.Builds {
		built[b.Key] = b.Is
	}
	if built["axle"] == "front" && step.Scene < len(p.Scenes) {
		built["front-corner"] = p.Scenes[step.Scene].Like
	}
	return built
}
