package fact

import (
	"errors"
	"slices"
	"testing"
)

var (
	wheel   = Fact{"wheel", "FL"}
	vehicle = Fact{"vehicle", ""}
	nuts    = OfJoint("hub.FL.wheel")
)

func world() World {
	return World{
		Rest: map[Fact]Value{wheel: "on", vehicle: "on its wheels", nuts: Tight},
		End:  map[Fact]Values{nuts: {Tight, Proved}},
		Laws: []Law{{
			ID:     "stands",
			Says:   "It does not stand on loose nuts.",
			On:     vehicle,
			Values: Values{"on its wheels"},
			Must:   []Want{{Fact: nuts, Values: Values{AnyFast}}},
		}},
	}
}

func want(f Fact, v ...Value) Want { return Want{Fact: f, Values: v, Because: "so"} }

var (
	crack = Step{ID: "crack", Wants: []Want{want(vehicle, "on its wheels"), want(nuts, Tight)},
		Makes: []Make{{nuts, Cracked}}}
	raise = Step{ID: "raise", Wants: []Want{want(vehicle, "on its wheels")}, Makes: []Make{{vehicle, "raised"}}}
	off   = Step{ID: "off", Wants: []Want{want(vehicle, "raised"), want(nuts, Cracked)}, Makes: []Make{{nuts, Out},
		{wheel, "off"}}}
	on = Step{ID: "on", Wants: []Want{want(vehicle, "raised"), want(nuts, Out)}, Makes: []Make{{nuts, Snug},
		{wheel, "on"}}}
	down = Step{ID: "down", Wants: []Want{want(vehicle, "raised"), want(wheel, "on")},
		Makes: []Make{{vehicle, "on its wheels"}}}
	tight = Step{ID: "tight", Wants: []Want{want(vehicle, "on its wheels"), want(nuts, ByHand, Snug)},
		Makes: []Make{{nuts, Proved}}}
)

// A wheel off and on (common practice), and what is wrong with other orders of it.
func TestProve(t *testing.T) {
	again := Step{ID: "again", Wants: []Want{want(nuts, Proved)}, Makes: []Make{{nuts, Proved}}}
	loose := Step{ID: "loose", Makes: []Make{{nuts, Cracked}}}
	byHand := on
	byHand.Makes = []Make{{nuts, ByHand}, {wheel, "on"}}
	for name, c := range map[string]struct {
		steps []Step
		kind  Kind
		step  string
		fact  Fact
	}{
		"sound":              {steps: []Step{crack, raise, off, on, down, tight, again}},
		"cracked in air":     {[]Step{raise, crack, off, on, down, tight}, OfWant, "crack", vehicle},
		"wheel left off":     {[]Step{crack, raise, off, down}, OfWant, "down", wheel},
		"down on loose":      {[]Step{crack, raise, off, byHand, down, tight}, OfLaw, "down", nuts},
		"not proved":         {[]Step{crack, raise, off, on, down}, OfEnding, "", nuts},
		"opened once more":   {[]Step{crack, raise, off, on, down, tight, loose}, OfProof, "loose", nuts},
		"left in the air":    {[]Step{raise}, OfEnding, "", vehicle},
		"cracked, forgotten": {[]Step{crack}, OfEnding, "", nuts},
	} {
		w := world()
		err := w.Prove(c.steps)
		var b *Breach
		if !errors.As(err, &b) {
			if c.kind != "" || err != nil {
				t.Errorf("%s: %v, want a breach of %s", name, err, c.kind)
			}
			continue
		}
		if b.Kind != c.kind || b.Step != c.step || b.Fact != c.fact || b.Error() == "" {
			t.Errorf("%s: %+v, want %s at %q of %s", name, b, c.kind, c.step, c.fact)
		}
	}
}

// What a step breaks leaves the state as it was before.
func TestTakeLeavesTheStateWhereItBreaks(t *testing.T) {
	w := world()
	now := State{vehicle: "raised", nuts: Cracked}
	if b := w.Take(now, &Step{ID: "down", Makes: []Make{{vehicle, "on its wheels"}}}); b == nil || b.Law != "stands" {
		t.Fatalf("breach %v", b)
	}
	if now[vehicle] != "raised" {
		t.Errorf("vehicle %s", now[vehicle])
	}
}

// A law is about what comes true, not about what already was.
func TestLawOfWhatComes(t *testing.T) {
	w := world()
	if b := w.Take(State{}, &crack); b != nil {
		t.Errorf("nuts cracked while it stands: %v", b)
	}
	if b := w.Take(State{nuts: Cracked}, &Step{ID: "stay", Makes: []Make{{vehicle, "on its wheels"}}}); b != nil {
		t.Errorf("it stood there before: %v", b)
	}
}

func TestWords(t *testing.T) {
	for text, f := range map[string]Fact{"pedal": {"pedal", ""}, "caliper.FL": {"caliper", "FL"},
		"fastener.hub.FL.axle": OfJoint("hub.FL.axle")} {
		got, err := Parse(text)
		if err != nil || got != f || got.String() != text {
			t.Errorf("%s: %+v %v", text, got, err)
		}
	}
	for _, text := range []string{"", ".FL", "caliper."} {
		if _, err := Parse(text); err == nil {
			t.Errorf("%q is read", text)
		}
	}
	fast, on := ParseValues("fast"), ParseValues("on its thread")
	for v, is := range map[Value][2]bool{
		Tight: {true, true}, Cracked: {false, true}, Out: {false, false}, ByHand: {false, true},
		Snug: {true, true}, Stage(2): {true, true}, Proved: {true, true},
	} {
		if fast.Has(v) != is[0] || on.Has(v) != is[1] {
			t.Errorf("%s: fast %v, on its thread %v", v, fast.Has(v), on.Has(v))
		}
	}
	if vs := ParseValues("pushed back | tied aside"); !vs.Has("tied aside") || vs.Has("home") ||
		vs.String() != "pushed back or tied aside" {
		t.Errorf("values %v", vs)
	}
}

// What is written out is what would do, no more and no less.
func TestSpelledIsWhatWouldDo(t *testing.T) {
	all := []Value{Tight, Cracked, Out, ByHand, Snug, Stage(1), Stage(maxStages), Proved}
	for _, vs := range []Values{{AnyFast}, {AnyOn}, {Out, AnyFast}, {Cracked}, {Proved, Tight}} {
		for _, v := range all {
			if slices.Contains(vs.Spelled(), v) != vs.Has(v) {
				t.Errorf("%v spelled is %v, and %s would do: %v", vs, vs.Spelled(), v, vs.Has(v))
			}
		}
	}
	if Stage(3) != "stage 3" {
		t.Errorf("the third stage is called %s", Stage(3))
	}
}
