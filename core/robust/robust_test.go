package robust

import "testing"

func TestMedian(t *testing.T) {
	for _, c := range []struct {
		v    []float64
		want float64
	}{
		{nil, 0},
		{[]float64{7}, 7},
		{[]float64{2, 1}, 1.5},
		{[]float64{3, 1, 900}, 3},
		{[]float64{4, 1, 3, 2}, 2.5},
		{[]float64{5, 5, 1, 9, 5, 2}, 5},
	} {
		if got := Median(c.v); got != c.want {
			t.Errorf("%v: %v, want %v", c.v, got, c.want)
		}
	}
}
