// Package kit is what all pages are made with: the frame around them, their templates and styles, and the words
// and parts they share. A page is a pure function: values in, HTML out.
package kit

import (
	"bytes"
	"embed"
	"html/template"
	"io/fs"
	"maps"
	"path"
	"slices"
	"strings"
	"sync"
	"time"

	"lugtak/core/listing"
	"lugtak/draw"
)

//go:embed *.html
var shared embed.FS

// Frame is what every page has around it. Where nobody is signed in, Person and what depends on it are empty.
type Frame struct {
	Person  string
	Role    string
	In      bool // somebody is signed in
	Writes  bool
	Foreman bool
	Demo    bool
	Now     time.Time
	Partial bool // the inner part alone, to be put in the place of the one before
	Prefers listing.Prefers
}

// Page is one that is ready to be laid: its name, its title, and what it shows.
type Page struct {
	Name, Title string
	View        any

	set *Set
}

// framed is what a page's templates are filled with.
type framed struct {
	Frame
	Name, Title string
	Page        any
	CSRF        string // a mark, where somebody is signed in
	Sprite      template.HTML
	Styles      []string
}

// OwnStrip says that the page has a place of its own, beside its keys, for what is said of the network and the
// session.
func (f framed) OwnStrip() bool { return f.Name == "bench" || f.Name == "release" }

// Lay fills the page's template. What is new with every answer, the ids of its forms and the session's token,
// is left open.
func (p Page) Lay(f Frame) (Laid, error) {
	templates, err := p.set.templates()
	if err != nil {
		return nil, err
	}
	with := framed{
		Frame:  f,
		Name:   p.Name,
		Title:  p.Title,
		Page:   p.View,
		Sprite: sprite(),
		Styles: p.set.styles,
	}
	if f.In {
		with.CSRF = tokenMark
	}
	block := "layout.html"
	if f.Partial {
		block = "page"
	}
	var b bytes.Buffer
	if err := templates[p.Name].ExecuteTemplate(&b, block, with); err != nil {
		return nil, err
	}
	return open(b.Bytes()), nil
}

var sprite = sync.OnceValue(draw.Sprite)

// Set is the pages of one capability: each of its templates that defines a body is one, the others are parts
// of them. Its styles are asked for by its pages alone.
type Set struct {
	styles    []string
	templates func() (map[string]*template.Template, error)
}

// NewSet makes the pages of a package from its files, with words of its own for its templates. Templates are
// read when the first page is laid.
func NewSet(files embed.FS, words template.FuncMap) *Set {
	s := &Set{templates: sync.OnceValues(func() (map[string]*template.Template, error) { return parse(files, words) })}
	for _, f := range filesOf(files) {
		if path.Ext(f) == ".css" {
			s.styles = append(s.styles, path.Base(f))
		}
	}
	ship(files)
	sets = append(sets, s)
	return s
}

// Page is a page of the set, by the name of its template.
func (s *Set) Page(name, title string, view any) Page {
	return Page{Name: name, Title: title, View: view, set: s}
}

// sets are those of all packages. It grows while packages are initialised and is read after that.
var sets []*Set

// All lists the pages there are, by name.
func All() (names []string, err error) {
	for _, s := range sets {
		pages, err := s.templates()
		if err != nil {
			return nil, err
		}
		names = append(names, slices.Collect(maps.Keys(pages))...)
	}
	slices.Sort(names)
	return names, nil
}

func filesOf(files fs.FS) (out []string) {
	fs.WalkDir(files, ".", func(name string, d fs.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			out = append(out, name)
		}
		return err
	})
	return out
}

// base is the layout with the shared parts.
var base = sync.OnceValues(func() (*template.Template, error) {
	return template.New("layout.html").Funcs(Words()).ParseFS(shared, "*.html")
})

// parse reads the templates of a set, each page over the layout and the parts of its set.
func parse(files embed.FS, own template.FuncMap) (map[string]*template.Template, error) {
	parts, err := base()
	if err != nil {
		return nil, err
	}
	if parts, err = parts.Clone(); err != nil {
		return nil, err
	}
	parts.Funcs(own)
	pages := map[string]string{}
	for _, f := range filesOf(files) {
		if path.Ext(f) != ".html" {
			continue
		}
		text, err := files.ReadFile(f)
		if err != nil {
			return nil, err
		}
		if strings.Contains(string(text), `{{define "body"}}`) {
			pages[strings.TrimSuffix(path.Base(f), ".html")] = string(text)
			continue
		}
		if _, err := parts.New(f).Parse(string(text)); err != nil {
			return nil, err
		}
	}
	out := map[string]*template.Template{}
	for name, text := range pages {
		t, err := parts.Clone()
		if err != nil {
			return nil, err
		}
		if _, err := t.New(name + ".html").Parse(text); err != nil {
			return nil, err
		}
		out[name] = t
	}
	return out, nil
}
