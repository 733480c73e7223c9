package library

import (
	"sync"

	"lugtak/demo/files"
)

// dressed is the library with the demo's sheets and tools.
var dressed = sync.OnceValue(func() *Library { return load(files.FS) })
