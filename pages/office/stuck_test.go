package office

import (
	"fmt"
	"testing"
)

// What was stuck most often comes first, of equals what was opened less; what never was is left out, and the
// list is short.
func TestStuckMostFirst(t *testing.T) {
	opened := map[string][2]int{"a": {10, 2}, "b": {4, 2}, "c": {30, 0}, "d": {9, 5}}
	var got []string
	for _, x := range stuckOf(opened, func(joint string) string { return joint }) {
		got = append(got, fmt.Sprintf("%s %d of %d %.2f", x.Title, x.Stuck, x.Opened, x.Share))
	}
	if is := fmt.Sprint(got); is != "[D 5 of 9 0.56 B 2 of 4 0.50 A 2 of 10 0.20]" {
		t.Error(is)
	}
	for i := range 20 {
		opened[fmt.Sprint("x", i)] = [2]int{5, 1}
	}
	if n := len(stuckOf(opened, func(joint string) string { return joint })); n != mostStuck {
		t.Errorf("%d are listed", n)
	}
}
