package release_test

import (
	"errors"
	"math"
	"slices"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/release"
	"lugtak/core/thread"
	"lugtak/demo/files"
	"lugtak/library"
)

// know is what the library ships.
var know = func() *release.Knowledge {
	l, err := library.Load("", files.FS)
	if err != nil {
		panic(err)
	}
	return &l.Release
}()

func climb(t *testing.T, c release.Case) release.Ladder {
	t.Helper()
	l, err := know.Climb(c)
	if err != nil {
		t.Fatal(err)
	}
	return l
}

func rated(t *testing.T, l release.Ladder, key string) release.Rated {
	t.Helper()
	i := slices.IndexFunc(l.Rungs, func(r release.Rated) bool { return r.Key == key })
	if i < 0 {
		t.Fatalf("%s has no rung %s", l.Kind.Name, key)
	}
	return l.Rungs[i]
}

// The kinds of the trade, as people write them.
func TestKindsOfTheTrade(t *testing.T) {
	for _, name := range []string{
		"rusted thread", "galvanic corrosion (steel in aluminium)", "thread-locker", "rusted taper",
		"rust-welded spigot", "Hub in knuckle", "rotor on hub", "rusted splines", "rounded head",
		"stripped recess", "spinning stud", "snapped bolt", "frozen bleeder", "rivets",
	} {
		if _, err := know.Climb(release.Case{Kind: name}); err != nil {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// What the trade forbids, and what stays open beside it.
func TestConstraints(t *testing.T) {
	for _, c := range []struct {
		about, kind   string
		near, keep    []string
		refused, open []string
	}{
		{"a boot to be kept", "rusted taper", nil, []string{"the ball joint's boot"},
			[]string{"fork", "heat"}, []string{"press", "shock"}},
		{"a boot that is scrap", "rusted taper", nil, nil, nil, []string{"fork", "heat"}},
		{"a bearing to be used again", "rust-welded spigot", nil, []string{"bearing"},
			[]string{"shock", "slide-hammer", "sacrificial", "heat"}, []string{"press", "rotate"}},
		{"a sensor in the bore", "rust-welded spigot", []string{"wheel-speed sensor"}, nil,
			[]string{"slide-hammer", "air-hammer", "heat"}, []string{"press"}},
		{"a brake hose close by", "rusted thread", []string{"brake hose"}, nil, []string{"heat"}, []string{"impact", "bar"}},
		{"a fuel line close by", "rusted thread", []string{"fuel lines"}, nil, []string{"heat", "cut"}, []string{"bar"}},
		{"an airbag close by", "rusted thread", []string{"airbag"}, nil, []string{"heat", "cut"}, []string{"bar"}},
		{"what was sprayed is wet", "rusted thread", []string{"brake cleaner"}, nil, []string{"heat", "cut"},
			[]string{"bar", "impact"}}, // common practice; 29 CFR 1910.252: nothing that burns where one welds or grinds
		{"a battery cable close by", "rusted thread", []string{"battery cable"}, nil, []string{"heat"}, nil},
		{"brake fluid is always near a bleeder", "frozen bleeder", nil, nil, []string{"heat"}, []string{"six-point"}},
		{"a stud to be kept", "rusted taper", nil, []string{"stud end"}, []string{"cut"}, []string{"press"}},
		{"locker is loosened by heat", "thread-locker", nil, nil, nil, []string{"heat"}},
		{"locker beside rubber is not", "thread-locker", []string{"rubber bush"}, nil, []string{"heat"}, nil},
	} {
		l := climb(t, release.Case{Kind: c.kind, Near: c.near, Keep: c.keep})
		for _, key := range c.refused {
			if rated(t, l, key).Refused == "" {
				t.Errorf("%s: %s is offered", c.about, key)
			}
		}
		for _, key := range c.open {
			if r := rated(t, l, key); r.Refused != "" {
				t.Errorf("%s: %s is refused: %s", c.about, key, r.Refused)
			}
		}
	}
}

// Light alloy does not forbid a blow, it makes it riskier, and says why.
func TestWary(t *testing.T) {
	plain := rated(t, climb(t, release.Case{Kind: "rusted thread"}), "shock")
	alloy := rated(t, climb(t, release.Case{Kind: "rusted thread", Near: []string{"aluminium knuckle"}}), "shock")
	if alloy.Risk <= plain.Risk || len(alloy.Mind) == 0 || alloy.Refused != "" {
		t.Errorf("a blow on light alloy: risk %.3f against %.3f, %v", alloy.Risk, plain.Risk, alloy.Mind)
	}
}

func place(l release.Ladder, key string) int {
	return slices.IndexFunc(l.Rungs, func(r release.Rated) bool { return r.Key == key })
}

// Orders every practitioner would keep to.
func TestOrderOfTheTrade(t *testing.T) {
	for _, c := range []struct{ kind, first, then string }{
		{"rusted thread", "penetrant", "bar"},
		{"rusted thread", "shock", "bar"},
		{"rusted thread", "shock", "heat"},
		{"rusted thread", "impact", "cut"},
		{"rusted taper", "shock", "cut"},
		{"rusted taper", "press", "heat"},
		{"rust-welded spigot", "penetrant", "slide-hammer"},
		{"rust-welded spigot", "shock", "slide-hammer"},
		{"frozen bleeder", "penetrant", "six-point"},
		{"frozen bleeder", "shock", "six-point"},
		{"rounded head", "six-point", "extractor"},
		{"stripped recess", "clean", "extractor"},
		{"spinning stud", "hold", "impact"},
	} {
		l := climb(t, release.Case{Kind: c.kind})
		if place(l, c.first) > place(l, c.then) {
			t.Errorf("%s: %s comes after %s", c.kind, c.first, c.then)
		}
	}
	for _, k := range know.Kinds {
		fresh := climb(t, release.Case{Kind: k.Name})
		var all []string
		for _, r := range fresh.Rungs {
			if !r.GivesUp {
				all = append(all, r.Name, r.Name)
			}
		}
		if last := fresh.Rungs[0]; last.GivesUp {
			t.Errorf("%s: the part is given up before anything is tried", k.Name)
		}
		spent := climb(t, release.Case{Kind: k.Name, Tried: all})
		if k.Name != "rivets" && !spent.Rungs[0].GivesUp {
			t.Errorf("%s: after two of each, %s is tried again", k.Name, spent.Rungs[0].Name)
		}
	}
}

// What failed says how hard it sits: it lowers its own odds and those of all that ease
// nothing, and a rung that was tried twice stands lower still.
func TestTriesTeach(t *testing.T) {
	for _, k := range know.Kinds {
		before := climb(t, release.Case{Kind: k.Name})
		for _, try := range k.Rungs {
			r, _ := know.Rung(try.Rung)
			once := climb(t, release.Case{Kind: k.Name, Tried: []string{r.Name}})
			twice := climb(t, release.Case{Kind: k.Name, Tried: []string{r.Key, r.Name}})
			was, now, then := rated(t, before, r.Key), rated(t, once, r.Key), rated(t, twice, r.Key)
			if now.Odds >= was.Odds || then.Odds >= now.Odds || then.Times != 2 {
				t.Errorf("%s, %s: odds %.3f, after one try %.3f, after two %.3f", k.Name, r.Name, was.Odds, now.Odds, then.Odds)
			}
			for _, o := range once.Rungs {
				if w := rated(t, before, o.Key); r.Eases == 0 && o.Odds > w.Odds+1e-12 {
					t.Errorf("%s: %s failed, and %s rises from %.3f to %.3f", k.Name, r.Name, o.Name, w.Odds, o.Odds)
				}
			}
		}
	}
}

// Penetrant that soaked makes the pull after it likelier and safer.
func TestSoakHelps(t *testing.T) {
	dry := climb(t, release.Case{Kind: "rusted thread", Tried: []string{"clean"}})
	wet := climb(t, release.Case{Kind: "rusted thread", Tried: []string{"penetrant"}})
	if d, w := rated(t, dry, "bar"), rated(t, wet, "bar"); w.Odds <= d.Odds || w.Risk >= d.Risk {
		t.Errorf("dry %.3f at risk %.3f, soaked %.3f at risk %.3f", d.Odds, d.Risk, w.Odds, w.Risk)
	}
}

// A shop's own past pulls the odds toward it, the more the longer it is.
func TestPastPulls(t *testing.T) {
	kind := "rusted thread"
	odds := func(past release.Past) float64 {
		return rated(t, climb(t, release.Case{Kind: kind, Past: past}), "heat").Odds
	}
	none := odds(nil)
	tries := func(n int, share float64) float64 {
		all := float64(n)
		return odds(release.Past{{Kind: kind, Rung: "heat"}: {
			N:        n,
			Happened: int(math.Round(share * all)),
			Said:     none * all,
			Spread:   none * (1 - none) * all,
		}})
	}
	if as := tries(1000, none); math.Abs(as-none) > 0.001 {
		t.Errorf("a past as reckoned moves the odds from %.3f to %.3f", none, as)
	}
	few, many, better := tries(2, 0), tries(25, 0.2), tries(10, 1)
	if !(many < few && few < none && none < better) {
		t.Errorf("many failures %.3f, few %.3f, none known %.3f, successes %.3f", many, few, none, better)
	}
	for _, share := range []float64{0.15, 0.5, 0.85} {
		if got := tries(2000, share); math.Abs(got-share) > 0.01 {
			t.Errorf("two thousand tries freed %g, and %.3f is said", share, got)
		}
	}
	other := release.Past{{Kind: "thread-locker", Rung: "heat"}: {N: 30, Said: 15, Spread: 7.5}}
	if got := odds(other); got != none {
		t.Errorf("the past of another kind moves the odds from %.3f to %.3f", none, got)
	}
}

// What does not fit in the time there is, is refused; a soak counts its waiting.
func TestMinutes(t *testing.T) {
	l := climb(t, release.Case{Kind: "rusted thread", Minutes: 5})
	for key, fits := range map[string]bool{"shock": true, "bar": true, "heat": false, "penetrant": false, "cut": false} {
		if got := rated(t, l, key).Refused == ""; got != fits {
			t.Errorf("five minutes are enough for %s: %v", key, got)
		}
	}
}

// A word that is not understood is never passed over.
func TestUnknownWords(t *testing.T) {
	for field, c := range map[string]release.Case{
		"kind":  {Kind: "bewitched"},
		"near":  {Kind: "rusted thread", Near: []string{"a cat"}},
		"keep":  {Kind: "rusted thread", Keep: []string{"calm"}},
		"tried": {Kind: "rusted thread", Tried: []string{"prayer"}},
	} {
		_, err := know.Climb(c)
		var f *fault.Fault
		if !errors.As(err, &f) || f.Field != field || f.Remedy == "" {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// By hand: the elastic twist of a round bar, τ·π/16·d³, at an M12's stress diameter of 10.36 mm, τ = 0.577·940 MPa:
// 118 N·m. Tightened to 115 N·m at a friction of 0.12 it holds 57.6 kN (VDI 2230 table A1, from memory: 61.6 kN at
// 123 N·m), 0.73 of its yield: 0.69 of the twist is left, and two fifths of the figure lie under its head, 127 N·m.
func TestRisk(t *testing.T) {
	of := func(size, class string) (thread.Thread, thread.Class) {
		th, err := thread.Parse(size)
		if err != nil {
			t.Fatal(err)
		}
		c, err := thread.ParseClass(class, th)
		if err != nil {
			t.Fatal(err)
		}
		return th, c
	}
	m12, strong := of("M12", "10.9")
	p := release.Risk(m12, strong, "", release.Held{Figure: 115, Mu: 0.12})
	if math.Abs(p.Free-118) > 1 || math.Abs(p.Clamped-127) > 4 || p.Yields != p.Free || p.BelowFigure {
		t.Errorf("M12 10.9 at 115 N·m: %+v", p)
	}
	if p := release.Risk(m12, strong, "", release.Held{}); p.Clamped != 0 || p.Yields != p.Free {
		t.Errorf("not known to clamp: %+v", p)
	}
	// A tenth thinner bears 0.73 of it: below its figure.
	thin := release.Risk(m12, strong, "", release.Held{Figure: 115, Mu: 0.12, WaistMM: 0.9 * 10.36})
	if math.Abs(thin.Free/p.Free-0.729) > 0.002 || !thin.BelowFigure || thin.Shears >= p.Shears {
		t.Errorf("with a waist: %+v", thin)
	}
	// Tightened to its yield nothing of the shank is left for more twist than its face takes.
	if p := release.Risk(m12, strong, "", release.Held{Figure: 400, Mu: 0.12}); p.Clamped != 160 || !p.BelowFigure {
		t.Errorf("at its yield: %+v", p)
	}
	m10, mild := of("M10", "8.8")
	if p := release.Risk(m10, mild, "", release.Held{}); math.Abs(p.Shears-68.6) > 4 { // ISO 898-7: 67, from memory
		t.Errorf("M10 8.8 shears at %.1f N·m", p.Shears)
	}
	m24, tough := of("M24x2", "10.9")
	if got := release.Risk(m24, tough, "1/2", release.Held{}).Yields; got != 512 { // ISO 1711-1, from memory
		t.Errorf("on a half-inch bar M24 10.9 is pulled to %.0f N·m", got)
	}
}

// The order is within a hundredth of the best of all orders, tried one by one.
func TestOrderAgainstAllOrders(t *testing.T) {
	for _, k := range know.Kinds {
		l, best := release.AllOrders(know, k.Name)
		if l > 1.01*best {
			t.Errorf("%s: %.2f minutes, the best order has %.2f", k.Name, l, best)
		}
	}
}

// Check finds each thing that may be wrong in a shop's own file.
func TestCheck(t *testing.T) {
	if bad := know.Check(); len(bad) > 0 {
		t.Fatal(bad[0])
	}
	good := func() release.Knowledge {
		return release.Knowledge{
			Things: []release.Thing{{Name: "boot"}},
			Rungs:  []release.Rung{{Key: "shock", Name: "shock", Never: []release.Never{{Keep: "boot"}}}},
			Kinds: []release.Kind{{
				Name:  "rust",
				Held:  release.ByGrade{0.4, 0.3, 0.2, 0.1},
				Near:  []string{"boot"},
				Rungs: []release.Try{{Rung: "shock", Frees: release.ByGrade{0.5}}},
			}},
		}
	}
	for about, spoil := range map[string]func(*release.Knowledge){
		"":                         func(*release.Knowledge) {},
		"$.rungs[0].never[0]":      func(k *release.Knowledge) { k.Rungs[0].Never[0].Keep = "cat" },
		"$.rungs[0].wary[0]":       func(k *release.Knowledge) { k.Rungs[0].Wary = []release.Wary{{Near: "cat"}} },
		"$.usual[0]":               func(k *release.Knowledge) { k.Usual = []release.Usual{{Keep: []string{"cat"}}} },
		"$.kinds[0].held":          func(k *release.Knowledge) { k.Kinds[0].Held[0] = 0.5 },
		"$.kinds[0].break_min":     func(k *release.Knowledge) { k.Kinds[0].Rungs[0].GivesUp, k.Kinds[0].GiveUp = true, 9 },
		"$.kinds[0].near":          func(k *release.Knowledge) { k.Kinds[0].Near[0] = "cat" },
		"$.kinds[0].rungs[0].rung": func(k *release.Knowledge) { k.Kinds[0].Rungs[0].Rung = "prayer" },
		"$.kinds[0].rungs[0]":      func(k *release.Knowledge) { k.Kinds[0].Rungs[0].Harms[0] = 0.6 },
	} {
		k := good()
		spoil(&k)
		bad := k.Check()
		if about == "" && len(bad) > 0 || about != "" && (len(bad) != 1 || bad[0].Field != about) {
			t.Errorf("%q: %v", about, bad)
		}
	}
}

// What is met says which kind comes first, and what is near it as a rule.
func TestKindsWhereMet(t *testing.T) {
	for _, c := range []struct {
		about string
		met   release.Met
		first string
	}{
		{"a bolt", release.Met{Of: release.OfFastener}, "rusted thread"},
		{"a bolt with locker", release.Met{Of: release.OfFastener, Treatment: "medium locker"}, "thread-locker"},
		{"its corners gone", release.Met{Of: release.OfFastener, Trouble: "rounded", Drive: "hexagon"}, "rounded head"},
		{"its recess gone", release.Met{Of: release.OfFastener, Trouble: "rounded", Drive: "inner"}, "stripped recess"},
		{"its head off", release.Met{Of: release.OfFastener, Trouble: "sheared"}, "snapped bolt"},
		{"a bleeder", release.Met{Of: release.OfFastener, Makes: []string{"bleeder"}}, "frozen bleeder"},
		{"a tie rod in its eye", release.Met{Of: release.OfPart, Makes: []string{"tie-rod"}}, "rusted taper"},
		{"a hub in its bore", release.Met{Of: release.OfPart, Makes: []string{"hub"}}, "rust-welded spigot"},
		{"a shaft in the hub", release.Met{Of: release.OfPart, Makes: []string{"shaft"}}, "rusted splines"},
	} {
		if got := know.KindsOf(c.met); len(got) == 0 || got[0].Name != c.first {
			t.Errorf("%s is first taken for %v", c.about, got[0].Name)
		}
	}
	near, keep := know.UsualAt("rusted taper", release.Met{System: "steering"})
	if !slices.Equal(near, []string{"boot", "brake hose"}) || !slices.Equal(keep, []string{"boot"}) {
		t.Errorf("near %v, kept %v", near, keep)
	}
	// What soaked is wet, and so is what was sprayed in a try; who dried it says so.
	near, _ = know.UsualAt("rusted thread", release.Met{Facts: []string{"penetrant soaked"}})
	if !slices.Equal(near, []string{"wet penetrant"}) {
		t.Errorf("soaked: near %v", near)
	}
	if got := know.Left(nil, "penetrant"); !slices.Equal(got, near) || len(know.Left(got, "penetrant")) != 1 {
		t.Errorf("after a try with penetrant near is %v", got)
	}
	if got := know.Left([]string{"boot"}, "bar"); !slices.Equal(got, []string{"boot"}) {
		t.Errorf("after a try with the bar near is %v", got)
	}
}
