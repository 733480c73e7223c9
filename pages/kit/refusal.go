package kit

import (
	"embed"

	"lugtak/core/fault"
)

//go:embed own/*.html
var own embed.FS

var ownPages = NewSet(own, nil)

// Refusal is the page of a refusal that no page of its own has shown.
func Refusal(f *fault.Fault) Page {
	return ownPages.Page("error", "Not done", struct{ Fault *fault.Fault }{f})
}
