//go:build ignore

// Makes THIRD-PARTY.txt from what is really linked into the program and shipped with
// it: go run make.go, in this folder.
package main

import (
	"fmt"
	"log"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
)

// shipped are the files that come from elsewhere without being linked.
var shipped = []struct{ name, files, licence string }{
	{"htmx", "pages/kit/static/htmx.js", "shipped/htmx.txt"},
	{"jsQR", "pages/kit/static/jsqr.js", "shipped/jsqr.txt"},
	{"three", "pages/kit/static/turn.js", "shipped/three.txt"},
	{"Bulma", "pages/kit/static/bulma.css", "shipped/bulma.txt"},
	{"Barlow Semi Condensed", "pages/kit/static/barlow-*.woff2, report/fonts/barlow-*.ttf", "shipped/barlow.txt"},
	{"DejaVu Sans Condensed", "report/fonts/DejaVuSansCondensed.ttf", "shipped/dejavu.txt"},
}

// licences are the names a module's licence goes by.
var licences = []string{"LICENSE*", "LICENCE*", "COPYING*", "License*", "license*", "NOTICE*"}

func main() {
	var b strings.Builder
	fmt.Fprintln(&b, "What others have made that is linked into Lugtak or shipped with it.")
	fmt.Fprintln(&b, "Lugtak's own licence is its owner's to choose.")
	for _, m := range modules() {
		fmt.Fprintf(&b, "\n%s\n%s %s\n\n", strings.Repeat("=", 80), m.path, m.version)
		for _, f := range m.licences() {
			add(&b, f)
		}
	}
	goRoot, err := exec.Command("go", "env", "GOROOT").Output()
	if err != nil {
		log.Fatal(err)
	}
	fmt.Fprintf(&b, "\n%s\nThe Go standard library\n\n", strings.Repeat("=", 80))
	add(&b, filepath.Join(strings.TrimSpace(string(goRoot)), "LICENSE"))
	for _, s := range shipped {
		fmt.Fprintf(&b, "\n%s\n%s (%s)\n\n", strings.Repeat("=", 80), s.name, s.files)
		add(&b, s.licence)
	}
	if err := os.WriteFile("THIRD-PARTY.txt", []byte(b.String()), 0o644); err != nil {
		log.Fatal(err)
	}
}

func add(b *strings.Builder, file string) {
	text, err := os.ReadFile(file)
	if err != nil {
		log.Fatal(err)
	}
	b.WriteString(strings.TrimSpace(string(text)) + "\n")
}

type module struct{ path, version, dir string }

// modules lists those linked into the program.
func modules() []module {
	format := "{{with .Module}}{{if not .Main}}{{.Path}} {{.Version}} {{.Dir}}{{end}}{{end}}"
	out, err := exec.Command("go", "list", "-deps", "-f", format, "lugtak/cmd/lugtak").Output()
	if err != nil {
		log.Fatal(err)
	}
	lines := strings.Split(strings.TrimSpace(string(out)), "\n")
	slices.Sort(lines)
	var all []module
	for _, line := range slices.Compact(lines) {
		if part := strings.Fields(line); len(part) == 3 {
			all = append(all, module{part[0], part[1], part[2]})
		}
	}
	return all
}

func (m module) licences() []string {
	var found []string
	for _, pattern := range licences {
		files, _ := filepath.Glob(filepath.Join(m.dir, pattern))
		found = append(found, files...)
	}
	if len(found) == 0 {
		log.Fatalf("%s has no licence: look before it ships", m.path)
	}
	slices.Sort(found)
	return slices.Compact(found)
}
