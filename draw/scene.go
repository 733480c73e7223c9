package draw

import (
	"fmt"
	"html/template"

	"lugtak/solid"
)

// Scene is a picture from solids by its name, with what lies above it: for day and night, of which the page's theme shows
// one and the browser fetches no other.
func Scene(name, says, over string) template.HTML {
	picture := func(theme string) string {
		return fmt.Sprintf(`<img class="o-%s" src="/pictures/%s-%s.png" alt="" loading="lazy" width="%d" height="%d">`,
			theme, name, theme, solid.Width, solid.Height)
	}
	return template.HTML(fmt.Sprintf(
		`<div class="act solid" role="img" aria-label="%s">%s%s<svg viewBox="0 0 %d %d" aria-hidden="true">%s</svg></div>`,
		template.HTMLEscapeString(says), picture("day"), picture("night"), solid.Width, solid.Height, over))
}
