package draw

import (
	"fmt"
	"html/template"

	"lugtak/solid"
)

// Scene is a picture from solids by its name, with what lies above it.
func Scene(name, says, over string) template.HTML {
	return solids(name, `role="img" aria-label="`+template.HTMLEscapeString(says)+`"`, `aria-hidden="true"`, over, true)
}

// Still is a picture from solids without words, for what stands beside it.
func Still(name string) template.HTML {
	return template.HTML(`<div class="act solid" aria-hidden="true">` + themes(name) + `</div>`)
}

// Joint is a picture of a joint's fasteners, of which what lies above it lets one be chosen.
func Joint(name, says, over string) template.HTML {
	return solids(name, "", `role="group" aria-label="`+template.HTMLEscapeString(says)+`"`, over, true)
}

func solids(name, all, above, over string, turns bool) template.HTML {
	out := fmt.Sprintf(`<div class="act solid" %s>%s<svg viewBox="0 0 %d %d" %s>%s</svg></div>`,
		all, themes(name), solid.Width, solid.Height, above, over)
	if turns {
		out = fmt.Sprintf(`<div class="turnable">%s<button type="button" class="turn" data-turn="/pictures/%s.glb" hidden>`+
			`Look around</button></div>`, out, name)
	}
	return template.HTML(out)
}

// themes is a picture for day, night and paper, of which the page's theme or its print shows one and the browser
// fetches no other. In print the picture that shows is the one in grey: a browser waits for what is asked by the
// medium.
func themes(name string) string {
	picture := func(theme string) string {
		return fmt.Sprintf(`<picture class="o-%s"><source media="print" srcset="/pictures/%s-paper.png">`+
			`<img src="/pictures/%s-%s.png" alt="" loading="lazy" width="%d" height="%d"></picture>`,
			theme, name, name, theme, solid.Width, solid.Height)
	}
	return picture("day") + picture("night")
}
