package draw

import (
	"context"
	"math"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"lugtak/core/job"
	"lugtak/core/vehicle"
	"lugtak/demo"
	"lugtak/demo/files"
	"lugtak/library"
	"lugtak/shop"
	"lugtak/solid"
)

func states(t *testing.T) map[string]*job.State {
	t.Helper()
	ctx := context.Background()
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	s, err := shop.Open(ctx, filepath.Join(t.TempDir(), "shop.db"), lib, shop.Options{Demo: true})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	if err := demo.Fill(ctx, s, time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)); err != nil {
		t.Fatal(err)
	}
	out := map[string]*job.State{}
	for _, id := range []string{demo.HalfDone, demo.Waiting, demo.Complaint, demo.Struts} {
		if out[id], err = s.Job(ctx, id); err != nil {
			t.Fatal(err)
		}
	}
	return out
}

// Signs of an overview lie on no other one and inside it, and one that was moved is led to where it sits.
func TestOverviewSignsKeepApart(t *testing.T) {
	var all []Seated
	for i := range 30 { // many at a few places, one outside
		all = append(all, Seated{X: 60 + 200*float64(i%4), Y: 400 + 30*float64(i%3), Name: "bolt <A>", Link: `href="#a"`})
	}
	all = append(all, Seated{X: 3000, Y: -20, Here: true})
	var at [][2]float64
	for _, x := range all {
		at = append(at, [2]float64{x.X, x.Y})
	}
	Apart(at, 2*seatR, seatRing)
	for i, p := range at {
		if p[0] < seatR || p[1] < seatR || p[0] > solid.Width-seatR || p[1] > solid.Height-seatR {
			t.Errorf("%d leaves the picture: %v", i, p)
		}
		for j := range i {
			if far := math.Hypot(p[0]-at[j][0], p[1]-at[j][1]); far < 1.9*seatR {
				t.Errorf("%d and %d lie %.0f px from each other", i, j, far)
			}
		}
	}
	picture := string(Overview("x", "a corner", all, false))
	if n := strings.Count(picture, `class="here"`); n != 1 || strings.Contains(picture, "<A>") ||
		strings.Count(picture, `class="o-dot"`) < 20 || strings.Contains(picture, "data-turn") {
		t.Errorf("%d ringed: %s", n, picture[:400])
	}
	alone := string(Overview("x", "a corner", all[:1], true))
	if strings.Contains(alone, "o-dot") || !strings.Contains(alone, "data-turn") {
		t.Error("one alone is led to where it is")
	}
}

// Outlines are to scale: what is longer is drawn longer, and wheels stand under it.
func TestOutline(t *testing.T) {
	short := Outline(vehicle.Outline{Kind: "car", Length: 4200, Width: 1750, Wheelbase: 2600, Overhang: 850}, nil)
	long := Outline(vehicle.Outline{Kind: "bus", Length: 6000, Width: 2050, Wheelbase: 3700, Overhang: 1000},
		[]map[vehicle.Corner]int{{"FL": 3}})
	if (long.X1-long.X0)/(short.X1-short.X0) < 1.42 || len(short.Wheels) != 4 || len(short.Tallies) != 0 {
		t.Errorf("%+v", short)
	}
	if len(long.Tallies) != 1 || long.Tallies[0].Count != 3 || long.Tallies[0].Y < long.Y1 {
		t.Errorf("the left side lies below: %+v", long.Tallies)
	}
	for _, w := range long.Wheels {
		if w.X < long.X0 || w.X+w.W > long.X1 {
			t.Errorf("a wheel beside the body: %+v", w)
		}
	}
}

func TestTicks(t *testing.T) {
	for _, c := range [][2]float64{{0, 1}, {0, 7}, {0, 130}, {-3, 3}, {0.98, 1.02}, {1000, 90000}} {
		v := ticks(c[0], c[1])
		if len(v) < 3 || len(v) > 12 || v[0] < c[0]-1e-9 || v[len(v)-1] > c[1]*1.0001+1e-9 {
			t.Errorf("%v: %v", c, v)
		}
	}
	if ticks(1, 1) != nil || ticks(2, 1) != nil {
		t.Error("ticks on nothing")
	}
}

// Texts in a drawing are escaped, whatever they are.
func TestCanvasEscapes(t *testing.T) {
	h := string(newCanvas(10, 10, `a"<b>`).text("x", 1, 1, "start", "%s", `<script>"&`).html())
	if strings.Contains(h, "<script") || strings.Contains(h, `a"<b>`) || !strings.Contains(h, "&lt;script&gt;") {
		t.Error(h)
	}
}
