package fleet

import (
	"html/template"
	"lugtak/core/fault"
	"lugtak/draw"
	"lugtak/pages/kit"
)

// Tag is what hangs on a vehicle, a tool or a tray: its name large, and a code that leads to
// its page, read by any camera or typed as it stands below.
type Tag struct {
	Name, Says string
	Typed      string // what is typed where there is no camera
	Code       template.HTML
}

// Tags is a sheet of tags to be printed.
type Tags struct {
	Title string
	Back  string
	Find  string
	Finds bool // the sheet can be narrowed
	Tags  []Tag
	More  int // that are not on this sheet
}

// NewTag draws a tag whose code is an address, so that any phone's camera opens it.
func NewTag(at, name, says, typed string) (Tag, error) {
	code, err := draw.QR(at)
	return Tag{Name: name, Says: says, Typed: typed, Code: code}, err
}

// Scan is the page that reads a tag.
type Scan struct {
	Typed string
	Fault *fault.Fault
}

// Page is the sheet, to be printed.
func (v Tags) Page() kit.Page { return pages.Page("tags", v.Title, v) }

// Page opens the camera, or a field to type in.
func (v Scan) Page() kit.Page { return pages.Page("scan", "Scan a tag", v) }
