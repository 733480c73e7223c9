// Pages are laid here without a server: values in, HTML out.
package pages_test

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
	"lugtak/demo"
	"lugtak/demo/files"
	"lugtak/device"
	"lugtak/device/sim"
	"lugtak/library"
	"lugtak/pages/bench"
	"lugtak/pages/crib"
	"lugtak/pages/figures"
	"lugtak/pages/fleet"
	"lugtak/pages/free"
	"lugtak/pages/kit"
	"lugtak/pages/ledger"
	"lugtak/pages/office"
	"lugtak/pages/order"
	planpages "lugtak/pages/plan"
	"lugtak/pages/ready"
	"lugtak/pages/reckoner"
	reportpages "lugtak/pages/report"
	"lugtak/pages/sheet"
	"lugtak/reckon"
	"lugtak/report"
	"lugtak/solid"
)

var noon = time.Date(2026, 11, 30, 12, 0, 0, 0, time.UTC)

// frames are who may look: a stranger, a reader, a technician, a foreman in a demo.
var frames = []kit.Frame{
	{Now: noon},
	{Now: noon, In: true, Person: "Reader Dey", Role: "reader"},
	{Now: noon, In: true, Person: "Technician Aro", Role: "technician", Writes: true, Partial: true},
	{
		Now: noon, In: true, Person: "Foreman Cass", Role: "foreman", Writes: true, Foreman: true, Demo: true,
		Prefers: listing.Prefers{Look: "dark", Text: 150},
	},
}

var (
	inline   = regexp.MustCompile(`<style|\sstyle=|\son[a-z]+=|<script>`)
	unfilled = regexp.MustCompile(`\b(id|token)[0-9a-f]{8}-[0-9a-f]{4}-`)
)

// laid remembers which pages were laid, by name.
type laid map[string]bool

// lay lays a page for everybody and looks whether it is whole.
func (l laid) lay(t *testing.T, p kit.Page) string {
	t.Helper()
	l[p.Name] = true
	var text string
	for _, f := range frames {
		out, err := p.Lay(f)
		if err != nil {
			t.Fatalf("%s for %q: %v", p.Name, f.Role, err)
		}
		text = out.HTML("the-token")
		for what, bad := range map[string]bool{
			"a value it does not have": strings.Contains(text, "<no value>") || strings.Contains(text, "%!"),
			"an open place":            unfilled.MatchString(text),
			"what its policy forbids":  inline.MatchString(text),
			"no whole page":            !f.Partial && !strings.Contains(text, "</html>"),
			"a form in an address":     whole(text),
			"a form without a token":   f.In && forms(text) > strings.Count(text, `name="_csrf"`),
		} {
			if bad {
				t.Errorf("%s for %q has %s", p.Name, f.Role, what)
			}
		}
	}
	return text
}

// asked is an element that asks with what stands in others.
var asked = regexp.MustCompile(`<[a-z]+\s[^>]*hx-get=[^>]*>`)

var including = regexp.MustCompile(`hx-include="([^"]*)"`)

// whole says that an address would carry a whole form: with its token, and with what was typed as a PIN.
func whole(text string) bool {
	for _, element := range asked.FindAllString(text, -1) {
		for _, m := range including.FindAllStringSubmatch(element, -1) {
			for part := range strings.SplitSeq(m[1], ",") {
				id, only := strings.CutPrefix(strings.TrimSpace(part), "#")
				if only && !strings.Contains(id, " ") && regexp.MustCompile(`<form\s[^>]*id="`+id+`"`).MatchString(text) {
					return true
				}
			}
		}
	}
	return false
}

// forms counts those that are sent under a session's token: signing in is not.
func forms(text string) int {
	return strings.Count(text, `method="post"`) - strings.Count(text, `action="/signin"`)
}

// hand works a job in memory.
type hand struct {
	t   *testing.T
	lib *library.Library
	st  *job.State
	demo.Hand
	n int
}

func (h *hand) do(c job.Command) {
	h.t.Helper()
	h.n++
	h.Now = h.Now.Add(5 * time.Second)
	m := job.Meta{ID: record.EventID(fmt.Sprint("e", h.n)), By: h.By, Role: job.Technician, At: h.Now}
	events, err := job.Decide(h.st, m, c)
	if err != nil {
		h.t.Fatalf("%T: %v", c, err)
	}
	for _, e := range events {
		h.st = job.Apply(h.st, e)
	}
}

// begun is a job of some tasks, planned.
func begun(t *testing.T, pattern string, tasks ...plan.Task) *hand {
	t.Helper()
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	p, _ := lib.Pattern(pattern)
	return begunOn(t, lib, p, tasks...)
}

func begunOn(t *testing.T, lib *library.Library, p vehicle.Pattern, tasks ...plan.Task) *hand {
	t.Helper()
	made, err := lib.Compile(p, library.Ask{Tasks: tasks})
	if err != nil {
		t.Fatal(err)
	}
	return begunWith(t, lib, made)
}

// begunWith is a job begun on a plan.
func begunWith(t *testing.T, lib *library.Library, made plan.Plan) *hand {
	t.Helper()
	h := &hand{t: t, lib: lib, st: job.Replay(nil)}
	h.Hand = demo.Hand{Lib: lib, By: "Technician Aro", Now: noon.Add(-12 * time.Hour)}
	h.do(job.Start{
		Job:        "j",
		Vehicle:    vehicle.Vehicle{ID: "v", Fleet: "T-1", Pattern: made.Pattern, Name: made.Pattern},
		Complaint:  "hums at speed",
		OdometerKM: 120_000,
		Plan:       made,
		House:      lib.House(),
	})
	return h
}

func (h *hand) bench(panel string) bench.Shown {
	return bench.Shown{
		Job:     h.st,
		Library: h.lib,
		Now:     h.Now,
		Person:  h.By,
		Session: "s",
		Hands:   []string{h.By, "Technician Bel"},
		Tools:   h.lib.Tools,
		Devices: sim.NewRack(),
		Panel:   panel,
		Healed:  true,
		Holds: func(joint, letter string) (claim.Claim, bool) {
			return claim.Claim{ID: "c", Tool: "w3", Joint: joint, Letter: letter, By: "Technician Bel", Session: "other"}, true
		},
		Trace: func(string) [][3]float64 { return [][3]float64{{0, 0, 0}, {0.1, 10, 20}, {0.2, 30, 90}} },
	}
}

// The bench at every act of two jobs that have all kinds of step, with what a panel shows; plan and ledger as they
// stand on the way.
func TestAJobIsLaid(t *testing.T) {
	t.Parallel()
	for name, h := range map[string]*hand{
		"hub": begun(t, "ostrel-c22", demo.Hub("FL")),
		"pads": begun(t, "ostrel-c22",
			plan.Task{Operation: "pads-rotors", Corner: "FL"}, plan.Task{Operation: "brake-bleed", Corner: "FL"}),
	} {
		seen := laid{}
		for acts := 0; ; acts++ {
			step := h.st.Plan.Step(h.st.Next())
			text := seen.lay(t, bench.Page(h.bench("")))
			if step == nil {
				break
			}
			if !strings.Contains(text, `class="what"`) || !strings.Contains(text, `data-key=" "`) {
				t.Fatalf("%s: %s has no act, or no key for it", name, step.ID)
			}
			none := h.bench("")
			none.Tools = nil // as a shop begins
			seen.lay(t, bench.Page(none))
			if acts%5 == 0 {
				seen.lay(t, bench.Page(h.bench("trouble")))
				seen.lay(t, bench.Page(h.bench("unmeasured")))
				seen.lay(t, ledger.Page(ledger.Shown{Job: h.st, People: []string{"Technician Bel"}}))
				page, err := planpages.Page(planpages.Shown{Job: h.st, Library: h.lib, Tools: h.lib.Tools, Now: h.Now})
				if err != nil {
					t.Fatal(err)
				}
				seen.lay(t, page)
			}
			for _, c := range h.Next(h.st, step) {
				h.do(c)
			}
		}
		h.do(job.Sign{})
		seen.lay(t, bench.Page(h.bench("")))
		text := seen.lay(t, ledger.Page(ledger.Shown{Job: h.st, Origin: &listing.Import{By: "Cass", At: noon}}))
		if !strings.Contains(text, "Technician Aro") {
			t.Errorf("%s: the ledger does not say who signed", name)
		}
		seen.lay(t, reportpages.Page(report.Source{Shop: "Shop", State: h.st, Tools: h.lib.Tools}))
		seen.lay(t, reportpages.Label(h.st))
	}
}

// A bolt whose figure nobody knows asks for it at the bench and on the list, in words for whoever looks; a second
// reader sees nothing of the first's.
func TestFiguresAreAsked(t *testing.T) {
	t.Parallel()
	seen := laid{}
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	h := begunOn(t, lib, lib.Grown(vehicle.Sheet{ID: "own", Name: "Yard van"}), demo.Hub("FL"))
	var step *plan.Step
	for step = h.st.Plan.Step(h.st.Next()); step.Verb != operation.Tighten; step = h.st.Plan.Step(h.st.Next()) {
		for _, c := range h.Next(h.st, step) {
			h.do(c)
		}
	}
	last := vehicle.Reading{Source: "maker's book", Page: "p. 31"}
	joint := h.st.Plan.Joint(step.Joint)
	see := func(person string, alone bool, f *fault.Fault) (onBench, list string) {
		x := h.bench("")
		x.Person, x.Alone, x.LastRead, x.Fault, x.Typed = person, alone, last, f, map[string]string{"recipe": "60 Nm + 1/4"}
		shown := figures.Shown{
			Job: h.st, Library: h.lib, Person: person, Alone: alone, Last: last, Fault: f, Open: joint.Sheet, Typed: x.Typed,
		}
		return seen.lay(t, bench.Page(x)), seen.lay(t, figures.Page(shown))
	}
	asks := func(says, person string, alone bool) {
		t.Helper()
		onBench, list := see(person, alone, nil)
		for _, text := range []string{onBench, list} {
			if !strings.Contains(strings.Join(strings.Fields(text), " "), says) || !strings.Contains(text, `name="recipe"`) {
				t.Errorf("%s: not %q", person, says)
			}
		}
	}
	take := func(st vehicle.Standing) {
		h.do(job.TakeFigure{Joint: joint.ID, Standing: st, Act: "a"})
		joint = h.st.Plan.Joint(step.Joint)
	}
	asks("As the maker writes it", "Technician Aro", false)
	lines, err := recipe.Paste("Knuckle bolts M12x1.5 10.9: 60 Nm + 90°. See page 9.\nAxle nut 200 Nm + 1/4",
		lib.JointTitles())
	if err != nil {
		t.Fatal(err)
	}
	text := seen.lay(t, figures.Page(figures.Shown{Job: h.st, Library: h.lib, Person: "Technician Aro", Last: last,
		Pasted: lines}))
	if !strings.Contains(text, "Keep what was compared") || !strings.Contains(text, `value="hub.FL.knuckle" selected`) {
		t.Error("what was pasted is not laid beside the joints")
	}
	refused := fault.New(fault.TwoReadings, "recipe", "Of what?", "Say which.")
	refused.Readings = []string{"60 Nm + 90°", "60 Nm + 15°"}
	if onBench, list := see("Technician Aro", false, refused); !strings.Contains(onBench+list, "Which is meant?") {
		t.Error("what is meant is not offered")
	}
	read := vehicle.Reading{Recipe: "61 Nm + 90°", Source: "maker's book"}
	take(vehicle.Standing{Reading: read, Readers: []string{"Technician Aro"}})
	asks("a second person reads it too", "Technician Aro", false)
	asks("without looking at the first", "Technician Aro", true)
	asks("Technician Aro has read it", "Technician Bel", false)
	if onBench, list := see("Technician Bel", false, nil); strings.Contains(onBench+list, "61 Nm") {
		t.Error("a second reader sees the first's figure")
	}
	take(vehicle.Standing{Differs: []vehicle.Figure{
		{Recipe: "61 Nm + 90°", By: "Technician Aro"}, {Recipe: "66 Nm + 90°", By: "Technician Bel"},
	}})
	if onBench, list := see("Technician Aro", false, nil); !strings.Contains(onBench, "66 Nm") ||
		!strings.Contains(list, "66 Nm") {
		t.Error("readings that differ do not stand side by side")
	}
}

// Every page there is can be laid, empty and full, refused and not.
func TestEveryPageIsLaid(t *testing.T) {
	t.Parallel()
	seen := laid{}
	h := begun(t, "ostrel-c22", demo.Hub("FL"), demo.Hub("FR"))
	lib, st := h.lib, h.st
	refused := fault.New(fault.Missing, "recipe", "Something is not there.", "Bring it.")
	refused.Readings = []string{"60 Nm", "6 Nm"}
	typed := map[string]string{"form": "kit", "recipe": "60", "reason": "why", "note": "a word"}
	sheetOf, _ := lib.Pattern("ostrel-c22")
	offers := lib.Offers(sheetOf)

	for _, f := range []*fault.Fault{nil, refused} {
		page, err := planpages.Page(planpages.Shown{
			Job: st, Library: lib, Tools: lib.Tools, Now: noon, Fault: f, Typed: typed, Was: 100,
			Like: []planpages.Found{{Vehicle: "other", Key: lib.Builds[0].Key, Is: lib.Builds[0].Answers[0].Key}},
		})
		if err != nil {
			t.Fatal(err)
		}
		seen.lay(t, page)
		seen.lay(t, order.Page(st, lib, offers, library.AskOf(st.Plan), f))
		seen.lay(t, ledger.Page(ledger.Shown{Job: st, Fault: f, For: "finding", Typed: typed}))
		seen.lay(t, figures.Page(figures.Shown{Job: st, Library: lib, Fault: f, Typed: typed}))
		seen.lay(t, sheet.Page(sheet.Shown{
			Library: lib, Pattern: sheetOf, Joint: "hub.front.knuckle", Fault: f, Typed: typed,
			Jobs: map[string]int{"hub.front.knuckle": 2},
		}))
		grown := sheet.Shown{
			Library: lib,
			Readings: []vehicle.Reading{
				{Joint: "hub.front.knuckle", Recipe: "60 Nm", Source: "book", By: "Aro", Act: "a", Pictured: true},
				{Joint: "hub.front.wheel", Recipe: "120 Nm", Source: "book", By: "Aro"},
				{Joint: "hub.front.wheel", Recipe: "125 Nm", Source: "book", By: "Bel", Hidden: true, Script: true},
			},
			Seen: []vehicle.Seen{
				{Joint: "brake.front.rotor", Absent: true}, {Joint: "hub.front.wheel", Count: 4},
				{Joint: "hub.front.knuckle-more-a", Beside: "hub.front.knuckle", Title: "lead bracket", Count: 1},
			},
		}
		grown.Pattern = lib.Grown(vehicle.Sheet{ID: "own", Name: "Yard van"}).Learnt(grown.Readings, grown.Seen)
		if text := seen.lay(t, sheet.Page(grown)); !strings.Contains(text, "readings differ") ||
			!strings.Contains(text, "Lead bracket") || !strings.Contains(text, "not on such a vehicle") {
			t.Error("the sheet does not say what it learnt")
		}
		seen.lay(t, sheet.Shelf(lib, lib.Patterns, sheet.Sent{Kind: "pattern", Text: "id: x", Fault: f}))
		in := fleet.ComesIn{Typed: map[string]string{"plate": "TQ 1", "built-driven": "rear"}, Fault: f, Known: &st.Vehicle}
		in.Models = fleet.Likely([]fleet.Model{{ID: "a", Name: "Yard van", Own: true}, {ID: "b", Invented: true}},
			map[string]bool{"a": true}, "yard")
		seen.lay(t, in.Page(lib))
		seen.lay(t, in.Like())
		seen.lay(t, fleet.NewJob{ID: "n", Vehicles: []vehicle.Vehicle{st.Vehicle}, Fault: f}.Page())
		seen.lay(t, fleet.Scan{Typed: "v.x", Fault: f}.Page())
		seen.lay(t, fleet.Elsewhere{Fault: f}.Page())
		key := office.KeyOf{Name: "West", Words: "five words", Heard: noon}
		seen.lay(t, office.Shops{Own: key, Node: true, Named: []office.KeyOf{key}, Unnamed: []office.KeyOf{key}}.Page())
		nameless := fault.New(fault.Missing, "shop", "No name.", "Say it.")
		seen.lay(t, office.Shops{Own: key, Fault: nameless, Typed: map[string]string{"key": "x"}}.Page())
		seen.lay(t, office.SignIn{Names: []string{"Aro"}, Fault: f}.Page())
		seen.lay(t, office.PIN{Fault: f}.Page())
		seen.lay(t, office.Itself{Typed: map[string]string{"unit": "ft-lb", "salt": "1"}, Fault: f}.Page())
		seen.lay(t, office.You{In: office.SessionsOf([]listing.Session{{ID: "s", Name: "Aro"}}, "s"), Fault: f}.Page())
		seen.lay(t, office.People{
			People: []listing.Person{{ID: "p", Name: "Aro", Role: job.Technician, Active: true}}, Fault: f, Changed: "p",
		}.Page())
		seen.lay(t, office.Scripts{
			Scripts: []listing.Script{{ID: "x", Name: "fleet", Made: noon}}, Secret: "shown once", Fault: f,
			Hooks: []listing.Hook{
				{ID: "h", URL: "https://host.invalid", Kinds: []string{"signed"}, Fails: 2, Trouble: "gone"},
			},
		}.Page())
		tool := crib.New(lib, lib.Tools, nil, noon)
		tool.Fault, tool.For, tool.Typed = f, lib.Tools[0].ID, typed
		seen.lay(t, tool.Page())
		own := crib.New(lib, []wrench.Tool{
			{ID: "t1", Name: "own 1", Kind: wrench.KindClick, MaxNm: 100, Own: true},
			{ID: "t2", Name: "own 2", Kind: wrench.KindTraces, MaxNm: 100, Own: true, Calibrated: noon, Certificate: "C-1"},
		}, nil, noon)
		own.Tools[1].Wired = true
		own.Fault, own.For, own.Typed = f, "t1", map[string]string{"tool": "t1", "max_nm": "x"}
		seen.lay(t, own.Page())
		none := crib.New(lib, nil, nil, noon)
		none.Fault, none.For, none.Typed = f, none.New(), typed
		seen.lay(t, none.Page())
		seen.lay(t, bench.Wrench{
			Tool: lib.Tools[0], Aimed: true, Mine: true, Plays: []string{"late"}, Fault: f,
			Aim: bench.Aim{Torque: true, Target: 60, Says: "knuckle"},
		}.Page())
	}
	for _, read := range []*office.ImportRead{
		nil,
		{Columns: []string{"fleet"}, Rows: []office.ImportRow{{Line: 2, Cells: []string{"N-1"}}}, ByTwo: true},
		{Job: &office.ImportJob{ID: "j", Fleet: "T-1", Events: 3, Here: true}},
		{Faults: []office.ImportFault{{Line: 2, Fault: refused}}},
	} {
		v := office.Imports{
			Kinds: []office.ImportKind{{Kind: "vehicles", Name: "vehicles", Required: []string{"fleet"}}},
			Kind:  "vehicles", Read: read, Taken: "vehicles",
		}
		seen.lay(t, v.Page())
	}
	page, err := office.Done([]record.Act{{N: 1, At: noon.Format(time.RFC3339Nano), Body: []byte(`{"name":"Aro"}`)}})
	if err != nil {
		t.Fatal(err)
	}
	seen.lay(t, page)
	seen.lay(t, office.Office(office.Figures{Jobs: 1, Tools: lib.Tools,
		Opened: map[string][2]int{"hub.front.wheel": {9, 1}},
		Joint:  func(joint string) string { return joint }}, noon))
	said(t, seen)
	seen.lay(t, office.Notices(strings.Repeat("=", 80)+"\nlib v1\n\nMIT License\n\ntext"))
	seen.lay(t, kit.Refusal(kit.Refused{Fault: refused, Code: 404, Asked: "Q-41", Near: []vehicle.Vehicle{st.Vehicle}}))
	seen.lay(t, crib.Token(lib.Tools[0], "secret"))
	seen.lay(t, crib.Recall(lib.Tools[0], []*job.State{st}, 1))
	seen.lay(t, planpages.WaysPage(st, lib.Alternatives(sheetOf, *st.Plan, nil, nil), true))
	seen.lay(t, planpages.Parts{Job: st, Supplier: "one"}.With([]device.Offer{{Key: st.Plan.Parts[0].Key,
		Available: true}}))
	w, err := lib.Weigh(sheetOf, library.AskOf(st.Plan), offers)
	if err != nil {
		t.Fatal(err)
	}
	seen.lay(t, order.Weighed(w, nil))
	seen.lay(t, reckoner.All(lib, ""))
	seen.lay(t, reckoner.All(lib, "60 Nm + 90°"))
	seen.lay(t, reckoner.All(lib, "neither fish"))
	seen.lay(t, reckoner.Notation())
	seen.lay(t, reckoner.Reading(vehicle.Spec{Recipe: "60 Nm, then 90°"}))
	seen.lay(t, reckoner.Reading(vehicle.Spec{Recipe: "160 Nm", Thread: "M8", Class: "8.8", Treatment: "dry"}))
	seen.lay(t, reckoner.Reading(vehicle.Spec{Recipe: "60 Nm + 1/4"}))
	for _, c := range reckon.All() {
		seen.lay(t, reckoner.One(lib, c, nil))
		seen.lay(t, reckoner.One(lib, c, map[string]string{}))
	}
	seen.lay(t, fleet.HistoryOf(fleet.Kept{
		Vehicle: st.Vehicle, Jobs: []*job.State{st}, Chain: true,
		Rows:    []listing.Job{{ID: "j", Title: "Hub", KM: 9, Signed: true}, {ID: "k", Title: "Hub", KM: 3, Signed: true}},
		Outside: []listing.Outside{{By: "Aro", At: noon}},
	}, vehicle.Outline{}, lib.Signs.Suspects).Told())
	owing := fleet.RowOf(st.Vehicle, []listing.FollowUp{{Title: "again"}}, nil, noon)
	seen.lay(t, fleet.Fleet{Rows: []fleet.Row{owing}}.Listed())
	hit := listing.Hit{Around: listing.HitFrom + "hub" + listing.HitTo}
	seen.lay(t, fleet.Search{
		Find:     "hub",
		Vehicles: []fleet.Found{{Vehicle: st.Vehicle, Jobs: []listing.Job{{ID: "j", Title: "Hub unit"}}}},
		Hits:     []fleet.Hit{{Hit: hit}},
	}.Result())
	seen.lay(t, fleet.Tags{Title: "Tags", Tags: []fleet.Tag{{Name: "T-1"}}}.Page())
	floor := fleet.Standing{
		Vehicles: []vehicle.Vehicle{st.Vehicle},
		Open:     []listing.Job{{ID: "j", Vehicle: "v"}, {ID: "k", Vehicle: "v", Broken: "a seal"}},
		Jobs:     map[string]*job.State{"j": st, "k": st},
		Here:     func(string) []string { return []string{"Technician Bel"} },
		Due:      kit.Dues([]listing.FollowUp{{Title: "again", At: noon.AddDate(0, 0, -1)}}, noon),
	}
	seen.lay(t, fleet.TheBays(floor, lib, fleet.Choice{}, noon))
	seen.lay(t, fleet.TheWall(floor, lib, noon, "anvil brook"))
	seen.lay(t, bench.Page(h.bench("")))
	seen.lay(t, bench.Brief(st))
	seen.lay(t, free.Page(free.Shown{Job: st, Library: lib}))
	seen.lay(t, ready.Page(library.Ready{Job: st, Library: lib, Tools: lib.Tools, Now: noon}))
	seen.lay(t, reportpages.Page(report.Source{Shop: "Shop", State: st}))
	walked(t, seen, h)
	stuck(t, seen, h)
	practised(t, seen, lib)
	seen.lay(t, reportpages.Label(h.st))

	all, err := kit.All()
	if err != nil {
		t.Fatal(err)
	}
	for _, name := range all {
		if !seen[name] {
			t.Errorf("the page %q is laid by no test", name)
		}
	}
	if !slices.IsSorted(all) || len(slices.Compact(slices.Clone(all))) != len(all) {
		t.Errorf("two pages have one name: %v", all)
	}
}

// Free work is laid before anything was said, while it is opened, and after the signature with its file.
func TestFreeWorkIsLaid(t *testing.T) {
	seen := laid{}
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	d := &operation.Draft{Title: "Rear leaf spring", From: operation.FromWheelOff, Acts: []operation.DraftAct{
		{Do: operation.DeedCarry, Title: "axle"},
		{Do: operation.DeedOpen, Title: "shackle bolt", System: "suspension", Count: 2},
		{Do: operation.DeedLoosen, Title: "shock foot", System: "suspension", Count: 1},
		{Do: operation.DeedOff, Title: "leaf spring", New: true},
	}}
	made, err := lib.Compile(lib.Grown(vehicle.Sheet{ID: "own", Name: "Yard van"}), library.Ask{
		Tasks: []plan.Task{{Operation: d.ID(), Corner: "RR"}}, Free: d,
	})
	if err != nil {
		t.Fatal(err)
	}
	empty := &job.State{ID: "j"}
	seen.lay(t, free.Page(free.Shown{Job: empty}))
	h := begunWith(t, lib, made)
	lay := func(x free.Shown) string { x.Job, x.Library = h.st, lib; return seen.lay(t, free.Page(x)) }
	for _, want := range []string{"1 The axle carried", "2 Shackle bolt out", "no figure yet", "It comes next"} {
		if text := lay(free.Shown{}); !strings.Contains(text, want) {
			t.Errorf("the page lacks %q", want)
		}
	}
	if at, ok := free.At(&made, 0); !ok || at[0] != solid.Width/2-solid.Width/12 || at[1] != solid.Height/8 {
		t.Errorf("on the right side the left of the pane is at %v", at)
	}
	if _, ok := free.At(&made, kit.Across*kit.Down); ok {
		t.Error("a place outside the picture")
	}
	f := fault.New(fault.Missing, "cell", "It is not said where it sits.", "Touch the place in the picture.")
	text := lay(free.Shown{Fault: f, Typed: map[string]string{"what": "U-bolt nuts", "cell": "3", "do": "open"}})
	if !strings.Contains(text, "U-bolt nuts") || !strings.Contains(text, f.Detail) {
		t.Error("what was typed is not kept, or the fault not said")
	}
	for step := h.st.Plan.Step(h.st.Next()); !d.IsWork(step.ID); step = h.st.Plan.Step(h.st.Next()) {
		for _, c := range h.Next(h.st, step) {
			h.do(c)
		}
	}
	if x := h.bench(""); !strings.Contains(seen.lay(t, bench.Page(x)), "Open something else first") {
		t.Error("where everything is open nobody asks what else")
	}
	h.do(h.Next(h.st, h.st.Plan.Step(h.st.Next()))[0])
	text = lay(free.Shown{File: "id: own"})
	if strings.Contains(text, "It comes next") || !strings.Contains(text, "id: own") {
		t.Error("while it is closed more can be opened")
	}
}
