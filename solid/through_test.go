package solid

import (
	"math"
	"testing"
)

// mostSkin is the share of a hand that may lie in a part: it closes round what it grips.
const mostSkin = 0.1

// clear holds that no tool and no hand of a pane passes through a part.
func (v shown) clear(t *testing.T, name string) {
	t.Helper()
	for _, tool := range v.stage.items {
		most := mostInside
		switch tool.Role {
		case Skin:
			most = mostSkin
		case Tool:
		default:
			continue
		}
		for _, part := range v.stage.items {
			if !part.solid() {
				continue
			}
			if share := through(tool, part); share > most {
				t.Errorf("%s: %.0f %% of %s lie in %s", name, 100*share, tool.Name, part.Name)
			}
		}
	}
}

// A rod that stands in a block lies in it, one beside it or on its face does not.
func TestThrough(t *testing.T) {
	_, parts := album(t)
	at := func(name string, x float64) Item {
		return Item{Mesh: parts[name].Mesh(), Pose: Pose{Still.X, Still.Y, Still.Z, Vec{x}}}
	}
	for _, c := range []struct {
		x    float64
		deep bool
	}{{0, false}, {60, false}, {-30, true}} {
		if got := through(at("drift", c.x), at("lug", 0)); got > 0 != c.deep {
			t.Errorf("the drift at %g mm: %.2f of it in the lug", c.x, got)
		}
	}
}

// However a bolt is turned it is as long and as wide along its own axis.
func TestSpanTurned(t *testing.T) {
	_, parts := album(t)
	bolt := parts["eye-bolt"]
	axis := bolt.Frames["head"].Axis
	long, wide := Item{Mesh: bolt.Mesh(), Pose: Still}.span(axis)
	turned := Turn(Vec{0, 0, 1}, 90)
	l, w := Item{Mesh: bolt.Mesh(), Pose: turned}.span(turned.Dir(axis))
	if math.Abs(l-long) > 1e-6 || math.Abs(w-wide) > 1e-6 {
		t.Errorf("%.1f by %.1f mm, turned %.1f by %.1f", long, wide, l, w)
	}
}
