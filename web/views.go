package web

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"embed"
	"encoding/base64"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"html/template"
	"io/fs"
	"maps"
	"math"
	"mime"
	"path"
	"regexp"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/diagnose"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/pull"
	"lugtak/core/thread"
	"lugtak/core/unit"
	"lugtak/draw"
	"lugtak/web/kit"
)

//go:embed templates/*.html
var templateFS embed.FS

//go:embed static
var staticFS embed.FS

// asset is a static file under a name made from its content.
type asset struct {
	data   []byte
	zipped func() []byte // when it is first asked for; nil where zipping gains nothing
	kind   string
}

type views struct {
	pages  map[string]*template.Template
	assets map[string]asset  // by hashed name
	names  map[string]string // plain name to hashed name
	sprite template.HTML
}

// allViews are made once: nothing of them is one shop's.
var allViews = sync.OnceValues(newViews)

func newViews() (*views, error) {
	v := &views{pages: map[string]*template.Template{}, assets: map[string]asset{}, names: map[string]string{}}
	if err := v.loadAssets(); err != nil {
		return nil, err
	}
	base, err := template.New(
		"layout.html",
	).Funcs(
		v.funcs(),
	).ParseFS(
		templateFS,
		"templates/layout.html",
		"templates/parts.html",
		"templates/tighten.html",
		"templates/measures.html",
	)
	if err != nil {
		return nil, err
	}
	v.sprite = draw.Sprite()
	files, err := fs.Glob(templateFS, "templates/*.html")
	if err != nil {
		return nil, err
	}
	for _, f := range files {
		name := strings.TrimSuffix(path.Base(f), ".html")
		if name == "layout" || name == "parts" || name == "tighten" {
			continue
		}
		t, err := base.Clone()
		if err != nil {
			return nil, err
		}
		if v.pages[name], err = t.ParseFS(templateFS, f); err != nil {
			return nil, err
		}
	}
	return v, nil
}

// loadAssets names every static file by its content, each after those it names itself.
func (v *views) loadAssets() error {
	files, err := fs.Glob(staticFS, "static/*")
	if err != nil {
		return err
	}
	for len(files) > 0 {
		var later []string
		for _, f := range files {
			ready, err := v.take(f)
			if err != nil {
				return err
			}
			if !ready {
				later = append(later, f)
			}
		}
		if len(later) == len(files) {
			return fmt.Errorf("these name one another, or what is not there: %s", strings.Join(later, ", "))
		}
		files = later
	}
	return nil
}

// named are the files another names: the fonts of a style sheet, the modules of a script. Each
// begins with what is searched for fast.
var named = map[string]*regexp.Regexp{
	".css": regexp.MustCompile(`(url\(")([\w.-]+)"`),
	".js":  regexp.MustCompile(`( "\./)([\w.-]+)"`),
}

// take gives a file its name by its content, once those it names have theirs. It is not ready
// before.
func (v *views) take(file string) (ready bool, err error) {
	name, ext := path.Base(file), path.Ext(file)
	data, err := staticFS.ReadFile(file)
	if err != nil {
		return false, err
	}
	if others := named[ext]; others != nil {
		for _, m := range others.FindAllSubmatch(data, -1) {
			if v.names[string(m[2])] == "" {
				return false, nil
			}
		}
		data = others.ReplaceAllFunc(data, func(m []byte) []byte {
			parts := others.FindSubmatch(m)
			return fmt.Appendf(nil, `%s%s"`, parts[1], v.names[string(parts[2])])
		})
	}
	sum := sha256.Sum256(data)
	hashed := strings.TrimSuffix(name, ext) + "." + hex.EncodeToString(sum[:6]) + ext
	a := asset{data: data, kind: mime.TypeByExtension(ext)}
	if named[ext] != nil {
		a.zipped = sync.OnceValue(func() []byte { return zip(data) })
	}
	v.names[name], v.assets[hashed] = hashed, a
	return true, nil
}

func zip(data []byte) []byte {
	var b bytes.Buffer
	w, _ := gzip.NewWriterLevel(&b, gzip.BestCompression)
	w.Write(data)
	w.Close()
	return b.Bytes()
}

func (s *Server) static(c fiber.Ctx) error {
	a, ok := s.views.assets[c.Params("file")]
	if !ok {
		return fiber.ErrNotFound
	}
	c.Set("Cache-Control", "public, max-age=31536000, immutable")
	c.Set("Content-Type", a.kind)
	c.Set("Vary", "Accept-Encoding")
	if a.zipped != nil && strings.Contains(c.Get("Accept-Encoding"), "gzip") {
		c.Set("Content-Encoding", "gzip")
		return c.Send(a.zipped())
	}
	return c.Send(a.data)
}

// frame is what every page has around it.
type frame struct {
	Title    string
	Name     string
	Person   string
	Role     string
	CSRF     string
	Writes   bool
	Foreman  bool
	Demo     bool
	Sprite   template.HTML
	Now      time.Time
	Page     any
	Partial  bool
	LightBar bool // a page with no header of its own
	Prefers  listing.Prefers
}

// OwnStrip says that the page has a place of its own, beside its keys, for what is said of the
// network and the session.
func (f frame) OwnStrip() bool { return f.Name == "bench" || f.Name == "release" }

// Practice says that the page is of the practice bay, which brings a look of its own.
func (f frame) Practice() bool { return strings.HasPrefix(f.Name, "practi") }

// render writes a page, or for htmx only its inner part.
func (s *Server) render(c fiber.Ctx, code int, name, title string, page any) error {
	p, err := s.lay(c, name, title, page)
	if err != nil {
		return err
	}
	return p.send(c, code)
}

// lay fills a page's template. What is new with every answer, the ids of its
// forms and the session's token, is left open.
func (s *Server) lay(c fiber.Ctx, name, title string, page any) (laid, error) {
	f := frame{
		Title:   title,
		Name:    name,
		Demo:    len(s.Demo) > 0,
		Sprite:  s.views.sprite,
		Now:     s.Shop.Now(),
		Page:    page,
		Partial: kit.Part(c),
	}
	if x := kit.Session(c); x != nil {
		f.Person, f.Role, f.CSRF = x.Person.Name, string(x.Person.Role), tokenMark
		f.Prefers = x.Prefers
		f.Writes, f.Foreman = x.Person.Role != job.Reader, x.Person.Role == job.Foreman
	}
	var b bytes.Buffer
	block := "layout.html"
	if f.Partial {
		block = "page"
	}
	if err := s.views.pages[name].ExecuteTemplate(&b, block, f); err != nil {
		return nil, err
	}
	return open(b.Bytes()), nil
}

// counted is a number of things: 1 job, 2 jobs.
func counted(n int, thing string) string {
	if n != 1 {
		thing += "s"
	}
	return fmt.Sprint(n, " ", thing)
}

func (v *views) funcs() template.FuncMap {
	return template.FuncMap{
		"asset":    func(name string) string { return "/static/" + v.names[name] },
		"newid":    func() string { return idMark },
		"num":      func(f float64) string { return unit.Number(f, 1) },
		"nm":       func(f float64) string { return unit.Torque(f).String() },
		"unsure":   func(sure float64) bool { return sure > 0 && sure < pull.Certain },
		"corners":  func() []diagnose.Corner { return diagnose.Corners },
		"atcorner": func(place string) bool { return slices.Contains(cornerPlaces, place) },
		"typedfor": func(mine bool, typed map[string]string) map[string]string {
			if !mine {
				return nil
			}
			return typed
		},
		"ftlb":    func(f float64) string { return unit.Torque(f).FtLbString() },
		"both":    func(f float64) string { return unit.Torque(f).Both() },
		"clockat": clockOf,
		"km":      kilometres,
		"count":   counted,
		"degrees": func(deg float64) string { return fmt.Sprintf("%+.2f°", deg) },
		"clock":   func(t time.Time) string { return t.Local().Format("15:04") },
		"stamp":   func(t time.Time) string { return t.Local().Format("2 Jan 2006 15:04") },
		"felt":    func() []feltWord { return feltWords },
		"colours": func() []string { return job.FluidColours },
		"volumes": func() []string { return []string{"ml", "l", "qt"} },
		"volume":  unit.Volume,
		"jpeg": func(b []byte) template.URL {
			return template.URL("data:image/jpeg;base64," + base64.StdEncoding.EncodeToString(b))
		},
		"iso":        func(t time.Time) string { return t.UTC().Format(time.RFC3339) },
		"mmss":       func(d time.Duration) string { return fmt.Sprintf("%d:%02d", int(d.Minutes()), int(d.Seconds())%60) },
		"hmm":        func(min float64) string { return fmt.Sprintf("%d:%02d", int(min)/60, int(min)%60) },
		"hmin":       unit.HoursMinutes,
		"tens":       tens,
		"pair":       func(a, b any) struct{ A, B any } { return struct{ A, B any }{a, b} },
		"day":        func(t time.Time) string { return t.Local().Format("2 Jan 2006") },
		"five":       func() []int { return []int{0, 1, 2, 3, 4} },
		"anchor":     func(s string) string { return strings.ReplaceAll(s, ".", "-") },
		"pct":        func(v float64) float64 { return 100 * v },
		"percent":    func(v float64) int { return int(100*v + 0.5) },
		"share":      func(percent int) float64 { return 2.5 * float64(percent) }, // of a bar of 250
		"stands":     stands,
		"finer":      func(place string) string { return finer[place] },
		"upper":      strings.ToUpper,
		"spoken":     func(kind string) string { return strings.ReplaceAll(kind, "_", " ") },
		"fields":     fieldsOf,
		"device":     deviceWords,
		"verdict":    verdictWord,
		"figure":     pulledFigure,
		"plain":      draw.Plain,
		"join":       func(s []string) string { return strings.Join(s, ", ") },
		"capital":    unit.Capital,
		"add":        func(a, b int) int { return a + b },
		"sub":        func(a int, b float64) float64 { return float64(a) - b },
		"words":      func(m job.Mark) string { return m.Words() },
		"symbol":     draw.SymbolID,
		"statuses":   func() []job.Stock { return []job.Stock{job.Have, job.Ordered, job.Missing} },
		"treatments": thread.Treatments,
		"troubles":   job.TroubleCodes,

		"troublepicture": draw.Trouble,
		"evidencesigns":  evidenceSigns,
		"pinpad":         func() []string { return strings.Split("1 2 3 4 5 6 7 8 9 ⌫ 0", " ") },
		"causes":         job.Causes,
		"dict": func(kv ...any) map[string]any {
			m := map[string]any{}
			for i := 0; i+1 < len(kv); i += 2 {
				m[kv[i].(string)] = kv[i+1]
			}
			return m
		},
	}
}

// evidenceSigns are the signs of how a figure is known, with their words.
func evidenceSigns() []tallySign {
	var out []tallySign
	for _, x := range []struct {
		mark job.Mark
		name string
	}{
		{job.Proved, "traced"},
		{job.Clicked, "clicked"},
		{job.Turned, "turned by a mark"},
		{job.Said, "stated, by a file"},
		{job.Unmeasured, "not measured"},
		{job.Excused, "deviation, signed"},
		{job.Between, "owed"},
	} {
		out = append(out, tallySign{Sign: draw.Sign{Drive: "hexagon", Mark: x.mark}, Name: x.name})
	}
	return out
}

// fieldsOf are the fields of an act as words, by name; long ones are cut, lists counted, and
// digests and ids left out: nobody reads them.
func fieldsOf(body json.RawMessage) []string {
	var m map[string]any
	if json.Unmarshal(body, &m) != nil {
		return nil
	}
	var out []string
	for _, name := range slices.Sorted(maps.Keys(m)) {
		if slices.Contains(unread, name) {
			continue
		}
		text := fmt.Sprint(m[name])
		if list, ok := m[name].([]any); ok {
			text = fmt.Sprint(len(list))
		}
		if r := []rune(text); len(r) > fieldMost {
			text = string(r[:fieldMost]) + "…"
		}
		out = append(out, strings.ReplaceAll(name, "_", " ")+" "+text)
	}
	return out
}

var unread = []string{"pin", "token", "person", "script", "hook", "hash"}

const fieldMost = 60

// devices are the words a browser says of itself that a person knows their device by.
var devices = []string{"iPad", "iPhone", "Android", "Windows", "Macintosh", "CrOS", "Linux"}

// deviceWords name a device by what its browser says of itself.
func deviceWords(agent string) string {
	for _, d := range devices {
		if strings.Contains(agent, d) {
			return d
		}
	}
	return "unknown device"
}

// tens writes a price to the nearest ten.
func tens(v float64) string { return fmt.Sprintf("%.0f", 10*math.Round(v/10)) }
