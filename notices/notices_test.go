package notices

import (
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// Every module that is linked stands in the notices in its version, and every file
// that comes from elsewhere.
func TestNoticesAreUpToDate(t *testing.T) {
	format := "{{with .Module}}{{if not .Main}}{{.Path}} {{.Version}}{{end}}{{end}}"
	out, err := exec.Command("go", "list", "-deps", "-f", format, "lugtak/cmd/lugtak").Output()
	if err != nil {
		t.Fatal(err)
	}
	linked := 0
	for _, line := range strings.Split(string(out), "\n") {
		if line == "" {
			continue
		}
		linked++
		if !strings.Contains(Text(), "\n"+line+"\n") {
			t.Errorf("%s is linked and not in the notices: make notices", line)
		}
	}
	if linked < 50 {
		t.Errorf("only %d packages of others are linked", linked)
	}
	theirs := map[string]bool{"htmx.js": true, "bulma.css": true}
	for _, pattern := range []string{"../pages/kit/static/*", "../report/fonts/*"} {
		files, _ := filepath.Glob(pattern)
		for _, f := range files {
			name := filepath.Base(f)
			family, _, _ := strings.Cut(name, "-")
			ours := !theirs[name] && !strings.Contains(f, "fonts") && !strings.HasSuffix(name, ".woff2")
			if !ours && !strings.Contains(Text(), name) && !strings.Contains(Text(), family+"-*") {
				t.Errorf("%s ships without a notice", name)
			}
		}
	}
	for _, licence := range []string{"SIL OPEN FONT LICENSE", "Bitstream Vera", "The Go Authors",
		"Permission is hereby granted"} {
		if !strings.Contains(Text(), licence) {
			t.Errorf("the notices lack %q", licence)
		}
	}
}
