// Package library loads the shop's knowledge: operations, patterns, tools and
// settings as YAML, checked against a schema. A fault names file, line, field
// and remedy; a broken file never stops the others.
package library

import (
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"os"
	"path"
	"slices"
	"sync"
	"time"

	"lugtak/core/diagnose"
	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/practice"
	"lugtak/core/record"
	"lugtak/core/release"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
	"lugtak/solid"
)

//go:embed operations ways signs limits practice scenes
//go:embed consequences.yaml manoeuvres.yaml facts.yaml laws.yaml builds.yaml rescues.yaml release.yaml acts.yaml
//go:embed scenes.yaml
//go:embed pairs.yaml schools.yaml shop.yaml sockets.yaml rules.yaml
var embedded embed.FS

// Library is everything the shop knows.
type Library struct {
	plan.Knowledge
	Patterns   []vehicle.Pattern
	Tools      []wrench.Tool
	Adapters   []wrench.Adapter
	Sockets    []string           // as wrench.ParseOwn reads them
	SocketSets []wrench.SocketSet // as they are bought
	Signs      diagnose.Knowledge
	Limits     inspect.Limits
	Shop       Shop
	Rescues    []operation.Rescue // what a mishap puts into a plan
	Release    release.Knowledge  // what frees what is stuck
	Acts       operation.Acts     // close-ups of what steps do
	Scenes     solid.Album        // those of them that are drawn from solids
	Pictures   *solid.Shelf       // and what was drawn of these

	Exercises    []practice.Exercise    // of the practice bay, easy ones first
	Cars         []vehicle.Pattern      // of the practice bay, invented
	Consequences []practice.Consequence // what acts against the rules come to there
	Faults       []Fault
}

// Shop is what a shop decides for itself.
type Shop struct {
	Name          string             `yaml:"name"`    // as it stands on its papers
	Contact       string             `yaml:"contact"` // where an owner calls
	Bays          int                `yaml:"bays"`    // numbered places on its floor: "bay 1" and on
	FirstUnit     string             `yaml:"first_unit"`
	SecondPerson  []string           `yaml:"second_person"`
	Critical      []string           `yaml:"critical"`     // systems a life hangs on
	DemandCheck   []string           `yaml:"demand_check"` // of those, where a click alone is not enough
	ToolChangeMin float64            `yaml:"tool_change_min"`
	WalkMin       float64            `yaml:"walk_min"` // round the vehicle, from side to side
	FollowUpKM    int                `yaml:"follow_up_km"`
	FollowUpDays  int                `yaml:"follow_up_days"`
	Salt          bool               `yaml:"salt"`        // the roads are salted, or the sea is near
	SeizedOdds    float64            `yaml:"seized_odds"` // that a joint that seizes does so, 0 to 1
	SeizedMin     float64            `yaml:"seized_min"`
	Currency      string             `yaml:"currency"`
	RatePerHour   float64            `yaml:"rate_per_hour"`
	Prices        map[string]float64 `yaml:"prices"`    // by a part's key, without its side
	LateOdds      float64            `yaml:"late_odds"` // that an ordered part comes late
	LateMin       float64            `yaml:"late_min"`
}

// Crib is what tools.yaml holds.
type Crib struct {
	Torque   []TorqueTool `yaml:"torque"`
	Adapters []Adapter    `yaml:"adapters"`
	Sockets  []string     `yaml:"sockets"`
}

// TorqueTool is a torque tool as the file tells it.
type TorqueTool struct {
	ID         string  `yaml:"id"`
	Name       string  `yaml:"name"`
	Kind       string  `yaml:"kind"`
	MaxNm      float64 `yaml:"max_nm"`
	StepNm     float64 `yaml:"step_nm"`
	Drive      string  `yaml:"drive"`
	LengthMM   float64 `yaml:"length_mm"`
	Calibrated string  `yaml:"calibrated"` // a day, 2026-05-18
	Cycles     int     `yaml:"cycles"`
	Flex       float64 `yaml:"flex_deg_per_nm"` // wind-up, where its angle is read at the grip
}

// Adapter is an adapter as the file tells it.
type Adapter struct {
	ID       string  `yaml:"id"`
	Name     string  `yaml:"name"`
	LengthMM float64 `yaml:"length_mm"`
	AngleDeg float64 `yaml:"angle_deg"`
	Flex     float64 `yaml:"flex_deg_per_nm"`
}

// House is what a job freezes of it when its work is planned.
func (l *Library) House() job.House {
	return job.House{
		Second:       l.Shop.SecondPerson,
		Critical:     l.Shop.Critical,
		Demand:       l.Shop.DemandCheck,
		FollowUpKM:   l.Shop.FollowUpKM,
		FollowUpDays: l.Shop.FollowUpDays,
	}
}

// As is the library of a shop that has decided for itself.
func (l *Library) As(b record.ShopSet) *Library {
	n := *l
	n.Shop.Name, n.Shop.Contact, n.Shop.FirstUnit = b.Name, b.Contact, b.Unit
	n.Shop.Currency, n.Shop.RatePerHour, n.Shop.Salt = b.Currency, b.Rate, b.Salt
	return &n
}

// Stocked is the library of a shop that has said what it has.
func (l *Library) Stocked(b record.StockKept) *Library {
	n := *l
	switch b.What {
	case record.StockSockets:
		n.Sockets = b.Sockets
	case record.StockAdapters:
		n.Adapters = nil
		for _, a := range b.Adapters {
			n.Adapters = append(n.Adapters, wrench.Adapter(a))
		}
	case record.StockPrices:
		n.Shop.Prices = map[string]float64{}
		for _, p := range b.Prices {
			n.Shop.Prices[p.Part] = p.Price
		}
	}
	return &n
}

// Short says why a socket that a step names is short here, and what stands in for it; empty where it is there, is no
// socket, or nobody has said which there are.
func (l *Library) Short(tool string) string {
	if len(l.Sockets) == 0 {
		return ""
	}
	serves, lacks, ok := wrench.Serves(tool, l.Sockets)
	switch {
	case !lacks:
		return ""
	case ok:
		return fmt.Sprintf("not in the crib: %s stands in, %s, %+.2f mm", serves.Name, serves.Verdict, serves.ClearanceMM)
	}
	return "not in the crib, and nothing there fits a tight fastener: borrow or order it"
}

// PartKeys are the keys of the parts that work of the library asks for, each once, with what they are called.
func (l *Library) PartKeys() map[string]string {
	out := map[string]string{}
	add := func(parts []operation.Part) {
		for _, p := range parts {
			if !p.Used {
				out[p.Key] = titled(p.Title, "front or rear")
			}
		}
	}
	for _, o := range l.Operations {
		add(o.Parts)
	}
	for _, w := range l.Ways {
		add(w.Parts)
	}
	return out
}

// Prices are what parts cost, by their keys.
func (l *Library) Prices() []record.Price {
	var out []record.Price
	for _, key := range slices.Sorted(maps.Keys(l.Shop.Prices)) {
		out = append(out, record.Price{Part: key, Price: l.Shop.Prices[key]})
	}
	return out
}

// ByTwo says that a figure of a sheet is changed by two people: those of joints that carry a life,
// of the systems whose deviations the shop has seconded, and those that free work named.
func (l *Library) ByTwo(sheetKey string) bool {
	j, _ := l.JointOf(sheetKey)
	return vehicle.IsOwn(sheetKey) || slices.Contains(l.Shop.Critical, j.System) ||
		slices.Contains(l.Shop.SecondPerson, j.System)
}

// Fault is what is wrong in a file.
type Fault struct {
	File   string
	Line   int
	Field  string
	Detail string
	Remedy string
}

func (f Fault) Error() string {
	return fmt.Sprintf("%s:%d: %s: %s %s", f.File, f.Line, f.Field, f.Detail, f.Remedy)
}

// Load reads the embedded library, what is laid over it and, over that, the folder dir if one is given: a file of
// the same name there replaces the one below.
func Load(dir string, over ...fs.FS) (*Library, error) {
	if dir == "" && len(over) == 0 {
		l := *shipped()
		return &l, nil
	}
	if dir != "" {
		if info, err := os.Stat(dir); err != nil || !info.IsDir() {
			return nil, fmt.Errorf("the library folder %s cannot be read: name an existing folder", dir)
		}
		over = append(slices.Clip(over), os.DirFS(dir))
	}
	return load(over...), nil
}

// shipped is read once: nothing changes what a library holds, Take gives another one.
var shipped = sync.OnceValue(func() *Library { return load() })

func load(over ...fs.FS) *Library {
	l := &Library{}
	r := reader{laid: append([]fs.FS{embedded}, over...), lib: l}
	var later []func() // what speaks of what is read after it
	r.one("schools.yaml", "schools", func(file string, doc *document) { doc.decode(l, file, &l.Schools) })
	r.one("builds.yaml", "builds", func(file string, doc *document) { doc.decode(l, file, &l.Builds) })
	r.one("manoeuvres.yaml", "manoeuvres", func(file string, doc *document) { doc.decode(l, file, &l.Driven) })
	r.one("facts.yaml", "facts", func(file string, doc *document) { doc.decode(l, file, &l.Facts) })
	r.one("laws.yaml", "laws", l.takeLaws)
	r.one("pairs.yaml", "pairs", func(file string, doc *document) { doc.decode(l, file, &l.Pairs) })
	r.one("rescues.yaml", "rescues", func(file string, doc *document) { doc.decode(l, file, &l.Rescues) })
	r.one("acts.yaml", "acts", func(file string, doc *document) { doc.decode(l, file, &l.Acts) })
	r.one("scenes.yaml", "scenes", l.takeAlbum)
	l.takeSolids(over)
	r.each("scenes", "scene", func(file string, doc *document) { l.takeScenes(file, doc, laidOver(file, over)) })
	r.one("sockets.yaml", "sockets", func(file string, doc *document) { doc.decode(l, file, &l.SocketSets) })
	r.one("release.yaml", "release", l.takeRelease)
	r.each("limits", "limits", func(file string, doc *document) {
		var rows inspect.Limits
		if doc.decode(l, file, &rows) {
			l.Limits.Measures = append(l.Limits.Measures, rows.Measures...)
			l.Limits.Lash = append(l.Limits.Lash, rows.Lash...)
			l.Limits.Lining = append(l.Limits.Lining, rows.Lining...)
			later = append(later, func() { l.checkLimits(file, doc, rows) })
		}
	})
	r.each("ways", "way", l.takeWay)
	r.each("operations", "operation", l.takeOperation)
	r.each("patterns", "pattern", l.takePattern)
	r.each("practice/cars", "pattern", l.takeCar)
	r.maybe("tools.yaml", "tools", func(file string, doc *document) {
		var crib Crib
		if !doc.decode(l, file, &crib) {
			return
		}
		for i, t := range crib.Torque {
			day, err := time.Parse(time.DateOnly, t.Calibrated)
			if err != nil {
				l.Faults = append(
					l.Faults,
					doc.fault(file, fmt.Sprintf("$.torque[%d].calibrated", i), "That is not a day.", "Write it as 2026-05-18."),
				)
				continue
			}
			l.Tools = append(l.Tools, wrench.Tool{
				ID:         t.ID,
				Name:       t.Name,
				Kind:       t.Kind,
				MaxNm:      t.MaxNm,
				StepNm:     t.StepNm,
				Drive:      t.Drive,
				LengthMM:   t.LengthMM,
				Calibrated: day,
				Cycles:     t.Cycles,
				Flex:       t.Flex,
			})
		}
		for _, a := range crib.Adapters {
			l.Adapters = append(l.Adapters, wrench.Adapter(a))
		}
		l.Sockets = crib.Sockets
	})
	r.one(
		"signs/suspects.yaml",
		"suspects",
		func(file string, doc *document) {
			if doc.decode(l, file, &l.Signs.Suspects) {
				l.checkSuspects(file, doc)
			}
		},
	)
	r.each("signs", "signs", func(file string, doc *document) {
		var rows []diagnose.Evidence
		if doc.decode(l, file, &rows) {
			l.takeSigns(file, doc, rows)
			later = append(later, func() { l.checkThen(file, doc, rows) })
		}
	})
	for _, check := range later {
		check()
	}
	r.one("consequences.yaml", "consequences", func(file string, doc *document) { doc.decode(l, file, &l.Consequences) })
	r.each("practice", "exercise", func(file string, doc *document) {
		var x practice.Exercise
		if doc.decode(l, file, &x) {
			l.Exercises = append(l.Exercises, x)
		}
	})
	r.one("shop.yaml", "shop", func(file string, doc *document) { doc.decode(l, file, &l.Shop) })
	l.Pictures = solid.NewShelf(&l.Scenes, "")
	return l
}

// Operation finds an operation by its id.
func (l *Library) Operation(id string) (operation.Operation, bool) {
	i := slices.IndexFunc(l.Operations, func(o operation.Operation) bool { return o.ID == id })
	if i < 0 {
		return operation.Operation{}, false
	}
	return l.Operations[i], true
}

// Pattern finds a pattern by its id.
func (l *Library) Pattern(id string) (vehicle.Pattern, bool) {
	i := slices.IndexFunc(l.Patterns, func(p vehicle.Pattern) bool { return p.ID == id })
	if i < 0 {
		return vehicle.Pattern{}, false
	}
	return l.Patterns[i], true
}

// Adapter finds an adapter by its id.
func (l *Library) Adapter(id string) (wrench.Adapter, bool) {
	i := slices.IndexFunc(l.Adapters, func(a wrench.Adapter) bool { return a.ID == id })
	if i < 0 {
		return wrench.Adapter{}, false
	}
	return l.Adapters[i], true
}

// reader reads files that lie over each other: the last of a name counts.
type reader struct {
	laid []fs.FS
	lib  *Library
}

func (r reader) each(dir, schema string, take func(string, *document)) {
	names := map[string]bool{}
	for _, f := range r.laid {
		files, _ := fs.Glob(f, dir+"/*.yaml")
		for _, n := range files {
			names[n] = true
		}
	}
	sorted := make([]string, 0, len(names))
	for n := range names {
		sorted = append(sorted, n)
	}
	slices.Sort(sorted)
	docs, faults := make([]*document, len(sorted)), make([][]Fault, len(sorted))
	var all sync.WaitGroup // reading takes longest at the start, and needs nothing of the others
	for i, n := range sorted {
		all.Go(func() { docs[i], faults[i] = r.read(n, schema) })
	}
	all.Wait()
	for i, n := range sorted {
		if n != "signs/suspects.yaml" { // read before the signs, which speak of them
			r.take(n, docs[i], faults[i], take)
		}
	}
}

// takeSigns adds signs whose suspects are known and whose keys are new.
func (l *Library) takeSigns(file string, doc *document, rows []diagnose.Evidence) {
	for i, e := range rows {
		at := fmt.Sprintf("$[%d]", i)
		if slices.ContainsFunc(l.Signs.Evidence, func(x diagnose.Evidence) bool { return x.Key == e.Key }) {
			l.Faults = append(l.Faults,
				doc.fault(file, at+".key", "The sign "+e.Key+" stands twice.", "Give each its own key."))
			continue
		}
		known := true
		if e.After != "" &&
			!slices.ContainsFunc(
				append(slices.Clone(l.Signs.Evidence), rows...),
				func(x diagnose.Evidence) bool { return x.Key == e.After },
			) {
			l.Faults = append(
				l.Faults,
				doc.fault(file, at+".after", "It comes after "+e.After+", which is no sign.", "Name one of the signs or tests."),
			)
			known = false
		}
		if e.Finds != "" && !l.Signs.Has(e.Finds) {
			l.Faults = append(l.Faults,
				doc.fault(file, at+".finds", "It finds "+e.Finds+", which is no suspect.", "Name one of signs/suspects.yaml."))
			known = false
		}
		for s := range e.Speaks {
			if !l.Signs.Has(s) {
				l.Faults = append(
					l.Faults,
					doc.fault(file, at+".speaks", "It speaks of "+s+", which is no suspect.", "Name one of signs/suspects.yaml."),
				)
				known = false
			}
		}
		if known {
			l.Signs.Evidence = append(l.Signs.Evidence, e)
		}
	}
}

func (r reader) one(name, schema string, take func(string, *document)) {
	doc, faults := r.read(name, schema)
	r.take(name, doc, faults, take)
}

func (r reader) take(name string, doc *document, faults []Fault, take func(string, *document)) {
	if r.lib.Faults = append(r.lib.Faults, faults...); doc != nil {
		take(name, doc)
	}
}

// read reads the uppermost file of a name that fits its schema; the embedded one does, as a test holds. What does not
// fit is told, and never leaves the shop without what lies below: a file of laws with a slip in it repeals none.
func (r reader) read(name, schema string) (*document, []Fault) {
	var faults []Fault
	for i, f := range slices.Backward(r.laid) {
		data, err := fs.ReadFile(f, name)
		if errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err != nil {
			faults = append(faults, unread(name, err)...)
			continue
		}
		if i == 0 {
			doc, wrong := read(name, data)
			return doc, append(faults, wrong...)
		}
		doc, wrong := parse(name, data, schema)
		if len(wrong) == 0 {
			return doc, faults
		}
		faults = append(faults, wrong...)
	}
	if faults == nil {
		faults = unread(name, fs.ErrNotExist)
	}
	return nil, faults
}

// maybe is one where some layer has such a file: none ships.
func (r reader) maybe(name, schema string, take func(string, *document)) {
	for _, f := range r.laid {
		if _, err := fs.Stat(f, name); err == nil {
			r.one(name, schema, take)
			return
		}
	}
}

func unread(name string, err error) []Fault {
	return []Fault{{
		File:   name,
		Field:  path.Base(name),
		Detail: "The file cannot be read: " + err.Error() + ".",
		Remedy: "Look at its name and rights.",
	}}
}

// takeOperation adds an operation that compiles with a
// sheet that has all its joints.
func (l *Library) takeOperation(file string, doc *document) {
	var op operation.Operation
	if !doc.decode(l, file, &op) {
		return
	}
	if faults := l.checkOperation(file, doc, op); len(faults) > 0 {
		l.Faults = append(l.Faults, faults...)
		return
	}
	l.Operations = append(l.Operations, op)
	if op.Touch != "" {
		l.Scenes.Touch = maps.Clone(l.Scenes.Touch)
		if l.Scenes.Touch == nil {
			l.Scenes.Touch = map[string]string{}
		}
		l.Scenes.Touch[op.ID] = op.Touch
	}
}

// takePattern adds a pattern whose figures can be read.
func (l *Library) takePattern(file string, doc *document) {
	var p vehicle.Pattern
	if !doc.decode(l, file, &p) {
		return
	}
	if faults := doc.checkPattern(file, p); len(faults) > 0 {
		l.Faults = append(l.Faults, faults...)
		return
	}
	l.Patterns = append(l.Patterns, p)
}

// takeCar adds a car of the practice bay.
func (l *Library) takeCar(file string, doc *document) {
	n := *l
	n.Patterns = nil
	n.takePattern(file, doc)
	l.Faults, l.Cars = n.Faults, append(l.Cars, n.Patterns...)
}

// Take gives the library with a pattern or an operation from the text of its file,
// in place of the one with its id, and that id. What is wrong with the file comes
// back as faults, and nothing is taken. The library itself stays as it was.
func (l *Library) Take(kind, text string) (next *Library, id string, faults []Fault) {
	if kind != "pattern" && kind != "operation" {
		return nil, "", []Fault{
			{File: "kind", Field: "kind", Detail: "It is neither a pattern nor an operation.", Remedy: "Say which it is."},
		}
	}
	name := kind + " from the Shelf"
	doc, faults := parse(name, []byte(text), kind)
	if len(faults) > 0 {
		return nil, "", faults
	}
	n := *l
	n.Faults, n.Patterns, n.Operations = nil, slices.Clone(l.Patterns), slices.Clone(l.Operations)
	if kind == "pattern" {
		n.takePattern(name, doc)
	} else {
		n.takeOperation(name, doc)
	}
	if len(n.Faults) > 0 {
		return nil, "", n.Faults
	}
	n.Faults = l.Faults
	if kind == "pattern" {
		p := n.Patterns[len(n.Patterns)-1]
		n.Patterns = latest(n.Patterns, func(x vehicle.Pattern) string { return x.ID })
		return &n, p.ID, nil
	}
	op := n.Operations[len(n.Operations)-1]
	n.Operations = latest(n.Operations, func(x operation.Operation) string { return x.ID })
	return &n, op.ID, nil
}

// latest puts the last of a list in the place of an earlier one with its id.
func latest[T any](list []T, id func(T) string) []T {
	last := len(list) - 1
	if i := slices.IndexFunc(list[:last], func(x T) bool { return id(x) == id(list[last]) }); i >= 0 {
		list[i] = list[last]
		return list[:last]
	}
	return list
}

// With gives the library with more faults to show.
func (l *Library) With(faults []Fault) *Library {
	n := *l
	n.Faults = slices.Concat(l.Faults, faults)
	return &n
}
