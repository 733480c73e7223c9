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

// The right corner is the left one's mirror image; labels stay in the frame, keep
// apart, and lead to a sign of their own.
func TestPicture(t *testing.T) {
	all := states(t)
	left, right := all[demo.HalfDone], all[demo.Waiting]
	a, b := Corner(left, left.Plan.Step("wheel.crack.FL"), ""), Corner(right, right.Plan.Step("wheel.crack.FR"), "")
	if len(a.Heads) != len(b.Heads) || a.W != b.W || !strings.HasPrefix(b.Title, "Front right") {
		t.Fatalf("%d and %d heads", len(a.Heads), len(b.Heads))
	}
	for i := range a.Heads {
		if x, y := a.Heads[i], b.Heads[i]; math.Abs(x.X+y.X-a.W) > 1e-9 || x.Y != y.Y || x.Letter != y.Letter {
			t.Errorf("%s at %.0f, mirrored at %.0f of %.0f", x.Name, x.X, y.X, a.W)
		}
	}
	for _, p := range []CornerPicture{a, b} {
		for i, l := range p.Labels {
			if l.X < 0 || l.X > p.W || l.Y < 10 || l.Y > p.H-10 {
				t.Errorf("%q stands at %.0f, %.0f", l.Text, l.X, l.Y)
			}
			for _, o := range p.Labels[i+1:] {
				if l.Anchor == o.Anchor && math.Abs(l.Y-o.Y) < 26 {
					t.Errorf("%q and %q overlap", l.Text, o.Text)
				}
			}
		}
	}
	here := Corner(left, left.Plan.Step("front-hub-unit.knuckle-1.FL"), "B")
	n := 0
	for _, h := range here.Heads {
		if h.Here {
			n++
			if h.Letter != "B" || h.Mark != job.InHand {
				t.Errorf("ringed: %+v", h)
			}
		}
	}
	if n != 1 {
		t.Errorf("%d fasteners are ringed", n)
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
