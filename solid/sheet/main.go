// Command sheet lays all scenes out without words, numbered, and the key beside them, for somebody to read them blind.
package main

import (
	"fmt"
	"html"
	"log"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"lugtak/library"
	"lugtak/solid"
)

func main() {
	if len(os.Args) != 2 {
		log.Fatal("sheet FOLDER: where the pages and pictures go")
	}
	if err := lay(os.Args[1]); err != nil {
		log.Fatal(err)
	}
}

// wordless is a scene without what it says.
func wordless(s solid.Scene) solid.Scene {
	s.Labels, s.Where = nil, ""
	s.Panes = slices.Clone(s.Panes)
	for i := range s.Panes {
		s.Panes[i].Labels = nil
	}
	return s
}

func lay(dir string) error {
	lib, err := library.Load("")
	if err != nil {
		return err
	}
	parts, err := solid.Parts()
	if err != nil {
		return err
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return err
	}
	styles, err := filepath.Abs("pages/kit/static/kit.css")
	if err != nil {
		return err
	}
	var acts, key strings.Builder
	head := fmt.Sprintf(`<!doctype html><meta charset="utf-8"><link rel="stylesheet" href="%s">`,
		html.EscapeString(styles))
	fmt.Fprint(&acts, head, "<title>Acts without words</title>")
	fmt.Fprint(&key, head, "<title>Key to the acts</title><ol>")
	for i := range lib.Scenes.Scenes {
		s, ok := lib.Scenes.Any(&lib.Scenes.Scenes[i])
		if !ok {
			return fmt.Errorf("%s is drawn on no vehicle", lib.Scenes.Scenes[i].Key)
		}
		if len(s.Bolts) > 0 {
			*s = s.Fastened(0, solid.Tightened, false)
		}
		pic, err := solid.Draw(wordless(*s), parts, &lib.Scenes, false)
		if err != nil {
			return err
		}
		file := fmt.Sprintf("%02d.png", i+1)
		b, err := pic.PNG(solid.Light)
		if err != nil {
			return err
		}
		if err := os.WriteFile(filepath.Join(dir, file), b, 0o644); err != nil {
			return err
		}
		fmt.Fprintf(&acts, `<h2>%d</h2><div class="act solid"><img src="%s" alt=""><svg viewBox="0 0 %d %d">%s</svg></div>`,
			i+1, file, solid.Width, solid.Height, pic.Over)
		fmt.Fprintf(&key, "<li>%s</li>", html.EscapeString(s.Says))
	}
	if err := os.WriteFile(filepath.Join(dir, "acts.html"), []byte(acts.String()), 0o644); err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(dir, "key.html"), []byte(key.String()+"</ol>"), 0o644)
}
