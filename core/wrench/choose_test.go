package wrench

import (
	"slices"
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/recipe"
	"lugtak/core/unit"
)

// good is a click wrench in date with the range and drive asked for.
func good(maxNm float64, drive string) Tool {
	return Tool{Kind: KindClick, MaxNm: maxNm, StepNm: 1, Drive: drive, LengthMM: 500, Calibrated: today.AddDate(0, -1, 0)}
}

// chosen ranks tools for a stage of a recipe whose fastener takes peak in the end; 0: as its torque says.
func chosen(t *testing.T, text string, stage int, peak unit.Torque, ad Adapter, tools ...Tool) []Choice {
	t.Helper()
	r, err := recipe.Parse(text)
	if err != nil {
		t.Fatal(err)
	}
	return Choose(r.Stages[stage], max(peak, r.Peak()), tools, ad, Middle, today)
}

// A tool serves from a fifth of its range to its end, both ends belonging to it (ISO 6789-1), as far as its drive is
// proved for what the fastener comes to (ISO 3315, from memory), and not beyond.
func TestWhatAToolMayBeUsedFor(t *testing.T) {
	traces := good(200, "1/2")
	traces.Kind = KindTraces
	dear := good(200, "1/4")
	for name, c := range map[string]struct {
		recipe string
		stage  int
		peak   unit.Torque
		tool   Tool
		ad     Adapter
		says   string // why not; empty where it may
	}{
		"at a fifth of its range":     {"40 Nm", 0, 0, good(200, "1/2"), Adapter{}, ""},
		"under a fifth of its range":  {"39 Nm", 0, 0, good(200, "1/2"), Adapter{}, "below a fifth"},
		"at the end of its range":     {"200 Nm", 0, 0, good(200, "1/2"), Adapter{}, ""},
		"beyond its range":            {"201 Nm", 0, 0, good(200, "1/2"), Adapter{}, "ends at 200"},
		"beyond by its adapter less":  {"230 Nm", 0, 0, good(200, "1/2"), Adapter{LengthMM: 100}, ""},
		"folded back over itself":     {"100 Nm", 0, 0, good(200, "1/2"), Adapter{LengthMM: 450, AngleDeg: 180}, "folds"},
		"as much as its drive bears":  {"62 Nm", 0, 0, dear, Adapter{}, ""},
		"more than its drive bears":   {"63 Nm", 0, 0, dear, Adapter{}, "proved to 62"},
		"a drive nobody knows":        {"100 Nm", 0, 0, good(200, "5/8"), Adapter{}, "proved to 0"},
		"an angle by a click wrench":  {"60 Nm + 90°", 1, 0, good(200, "1/2"), Adapter{}, ""},
		"an angle within its trace":   {"60 Nm + 30°", 1, 0, traces, Adapter{}, ""},
		"an angle beyond its trace":   {"180 Nm + 180°", 1, 260, traces, Adapter{}, "and this comes to"},
		"the torque before an angle":  {"60 Nm + 90°", 0, 0, good(200, "1/2"), Adapter{}, ""},
		"a torque whose angle breaks": {"60 Nm + 180°", 0, 90, good(200, "1/4"), Adapter{}, "proved to 62"},
	} {
		got := chosen(t, c.recipe, c.stage, c.peak, c.ad, c.tool)[0]
		if (got.Refused == "") != (c.says == "") || !strings.Contains(got.Refused, c.says) {
			t.Errorf("%s: %q, want %q", name, got.Refused, c.says)
		}
		angle := c.stage == 1
		if want := angle && c.tool.Kind == KindClick; got.NeedsAngle != want {
			t.Errorf("%s: asks for an angle by other means %v", name, got.NeedsAngle)
		}
	}
}

// Of tools that may be used the one comes first that needs nobody's ear, then what stays inside the window, then what
// traces, then the smallest; those that may not come last.
func TestTheOrderOfTools(t *testing.T) {
	named := func(id string, by func(*Tool)) Tool {
		x := good(200, "1/2")
		x.ID = id
		by(&x)
		return x
	}
	late := named("late", func(x *Tool) { x.Calibrated = today.AddDate(-1, -1, 0) })
	mute := named("mute", func(x *Tool) { x.Kind, x.Mute = KindTraces, true })
	coarse := named("coarse", func(x *Tool) { x.StepNm = 20 })
	large := named("large", func(x *Tool) { x.MaxNm = 300 })
	small := named("small", func(x *Tool) { x.MaxNm = 150 })
	traced := named("traced", func(x *Tool) { x.Kind = KindTraces })
	want := []string{"traced", "small", "large", "coarse", "mute", "late"}
	for range 3 {
		tools := []Tool{late, mute, coarse, large, small, traced}
		slices.Reverse(tools)
		var got []string
		for _, c := range chosen(t, "105–115 Nm", 0, 0, Adapter{}, tools...) {
			got = append(got, c.Tool.ID)
		}
		if !slices.Equal(got, want) {
			t.Errorf("%v, want %v", got, want)
		}
		small, large = large, small
	}
}

// Bounds belong to what they bound.
func TestBoundsOfBarsAndSockets(t *testing.T) {
	for _, c := range []struct {
		torque, bar float64
		ok          bool
	}{{0, 20, true}, {10, 19.9, false}, {10, 5000, true}, {10, 5000.1, false}, {-1, 500, false}} {
		if _, err := BarForce(c.torque, c.bar); (err == nil) != c.ok {
			t.Errorf("%g N·m on %g mm: %v", c.torque, c.bar, err)
		}
	}
	for flats, ok := range map[float64]bool{2.9: false, 3: true, 55: true, 55.1: false} {
		if _, err := FindSocket(flats); (err == nil) != ok {
			t.Errorf("%g mm across: %v", flats, err)
		}
	}
	for slots, ok := range map[int]bool{2: false, 3: true, 12: true, 13: false} {
		if _, err := CastleNut(slots, 10); (err == nil) != ok || err != nil && fault.As(err).Field != "slots" {
			t.Errorf("%d slots: %v", slots, err)
		}
	}
	for torque, pct := range map[float64]float64{9.9: 6, 10: 6, 10.1: 4} {
		if got := Accuracy(torque); got != pct {
			t.Errorf("%g N·m errs by %g %%", torque, got)
		}
	}
	if got := unit.Torque(DriveLimit("3/4")); got != 1412 {
		t.Errorf("three quarters bear %v", got)
	}
}
