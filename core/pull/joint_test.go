package pull

import (
	"testing"
)

// What a pull says depends on what the joint should show: by its sheet, by its siblings,
// by the drag of its nut, or, where nobody knows, by itself. Traces drawn by hand of one
// fastener at 60 N·m; the bounds are common practice.
func TestAgainstTheJoint(t *testing.T) {
	flank := func(over float64) []act {
		return append([]act{resting, runDown, {200 + over, 60, 0.8}}, release(200+over, 60)...)
	}
	second := func(over float64) []act { // ten degrees of free turn only
		return append([]act{resting, {10, 1, 0.2}, {10 + over, 60, 0.4}}, release(10+over, 60)...)
	}
	dragging := func(nm float64) []act {
		last := 700 + (60-nm)/2
		return append([]act{resting, {2, nm, 0.1}, {700, nm, 2}, {last, 60, 0.8}}, release(last, 60)...)
	}
	wavy := append([]act{resting, {100, 4, 0.5}, {150, 14, 0.3}, {200, 4, 0.3}, {230, 60, 0.8}}, release(230, 60)...)
	gives := func(deg, nm float64) []act {
		return append([]act{resting, runDown, {222, 45, 0.6}, {deg, nm, 1}}, release(deg, nm)...)
	}
	turned := func(nm float64) []act { // to 30 N·m, then 90 degrees by angle
		return append([]act{resting, runDown, {215, 30, 0.4}, {230, 60, 0.4}, {305, nm, 1.5}}, release(305, nm)...)
	}
	alike := func(slope, turn float64) Expect {
		f := Feature{Slope: slope, Turn: turn, Peak: 60}
		return Expect{Siblings: []Feature{f, f, f}}
	}
	sheet := func(low, high float64) Expect { return Expect{SlopeLow: low, SlopeHigh: high} }
	torque, angle := "60 Nm", "30 Nm + 90°"
	for _, c := range []struct {
		name, recipe string
		acts         []act
		ex           Expect
		want         Signature
	}{
		{"2 N·m a degree, the sheet says as much", torque, flank(30), sheet(1.5, 2.5), Good},
		{"a little under the sheet", torque, flank(30), sheet(3.5, 5), Good},
		{"less than half of what the sheet says", torque, flank(30), sheet(5, 8), Soft},
		{"150 degrees of flank, nobody knows better", torque, flank(150), Expect{}, Soft},
		{"120 degrees of flank of a joint that is soft", torque, flank(120), sheet(0.4, 0.6), Good},
		{"120 degrees like its siblings", torque, flank(120), alike(0.5, 120), Good},
		{"50 degrees of flank, nobody knows better", torque, flank(50), Expect{}, Good},

		{"3 degrees, nobody knows better", torque, flank(3), Expect{}, Bottomed},
		{"3 degrees of a joint that is stiff", torque, flank(3), sheet(15, 20), Good},
		{"3 degrees of one that is not", torque, flank(3), sheet(4, 8), Bottomed},
		{"3 degrees like its siblings", torque, flank(3), alike(20, 3), Good},
		{"3 degrees, its siblings took 15", torque, flank(3), alike(4, 15), Bottomed},
		{"6 degrees, nobody knows better", torque, flank(6), Expect{}, Good},
		{"6 degrees of a joint with a fifth of that slope", torque, flank(6), sheet(2, 4), Bottomed},
		{"a second pull rises at once", torque, second(3), Expect{}, Good},

		{"like its siblings", torque, flank(30), alike(2, 30), Good},
		{"within the spread of siblings", torque, flank(30), alike(2.3, 28), Good},
		{"half the slope of its siblings", torque, flank(30), alike(5, 12), Soft},
		{"another slope than its siblings", torque, flank(30), alike(3, 30), UnlikeSiblings},
		{"another turn than its siblings", torque, flank(30), alike(2, 60), UnlikeSiblings},
		{"one sibling is no pattern", torque, flank(30), Expect{Siblings: []Feature{{3, 60, 60}}}, Good},

		{"the drag that was measured", torque, dragging(8), Expect{DragNm: 8}, Good},
		{"twice the drag that was measured", torque, dragging(16), Expect{DragNm: 8}, Good},
		{"three times the drag that was measured", torque, dragging(24), Expect{DragNm: 8}, CrossThreaded},
		{"30 % of drag", torque, dragging(18), Expect{}, Good},
		{"40 % of drag: no locking nut", torque, dragging(24), Expect{}, CrossThreaded},
		{"the run-down takes more and less by turns", torque, wavy, Expect{}, CrossThreaded},

		{"goes on turning at 49", torque, gives(262, 49), Expect{}, Yielded},
		{"goes on turning and falls", torque, gives(262, 30), Expect{}, Stripped},
		{"meant to stretch, and does", angle, turned(64), Expect{}, Good},
		{"meant to stretch, and falls a little", angle, turned(55), Expect{}, Good},
		{"meant to stretch, and falls by a third", angle, turned(40), Expect{}, Stripped},

		{"stands", torque, append([]act{resting, {0.6, 60, 1}}, release(0.6, 60)...), Expect{}, NoMovement},
		{
			"stands in a second round", torque, append([]act{resting, {0.6, 60, 1}}, release(0.6, 60)...), Expect{Repeat: true},
			Good,
		},
		{
			"stands, pulled by less than half", torque, append([]act{resting, {0.6, 25, 1}}, release(0.6, 25)...), Expect{}, Low,
		},
	} {
		res, err := Judge(stages(t, c.recipe), draw(c.acts...), c.ex)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		kept := c.want == Good || c.want == UnlikeSiblings // told, and kept
		if res.Signature != c.want || kept != (res.Verdict == Keep) {
			t.Errorf("%s: %s, %s, want %s: slope %.2f turn %.1f %+v", c.name, res.Signature, res.Verdict,
				c.want, res.SlopeNmD, res.TurnDeg, res.Reasons)
		}
	}
}
