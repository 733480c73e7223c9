package library

import (
	"lugtak/demo/files"
	"os"
	"testing"
)

// Whatever is put on the Shelf, it is taken or told with its line and its remedy.
func FuzzTake(f *testing.F) {
	lib, err := Load("", files.FS)
	if err != nil {
		f.Fatal(err)
	}
	for _, name := range []string{"operations/stabiliser-link.yaml", "../demo/files/patterns/ostrel-c22.yaml"} {
		text, err := os.ReadFile(name)
		if err != nil {
			f.Fatal(err)
		}
		f.Add("operation", string(text))
		f.Add("pattern", string(text))
	}
	f.Add("pattern", "a: &a [*a, *a]")
	f.Add("operation", "id: x\nsteps:\n - {id: y, minutes: .inf}")
	f.Fuzz(func(t *testing.T, kind, text string) {
		next, id, faults := lib.Take(kind, text)
		if (next == nil || id == "") != (len(faults) > 0) {
			t.Errorf("%v %q %v", next != nil, id, faults)
		}
		for _, x := range faults {
			if x.Detail == "" || x.Remedy == "" {
				t.Errorf("%+v says too little", x)
			}
		}
	})
}
