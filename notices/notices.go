// Package notices carries the licences of what others have made that is linked into
// the program or shipped with it. The text is made by make notices from what is really
// there; a test asks that it is up to date.
package notices

import _ "embed"

//go:embed THIRD-PARTY.txt
var text string

// Text is every notice, one after the other.
func Text() string { return text }
