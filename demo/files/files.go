// Package files is the demo's own sheets and tools, all invented: a library takes them beside its own.
package files

import "embed"

// FS holds them as a library's folder does.
//
//go:embed patterns tools.yaml
var FS embed.FS
