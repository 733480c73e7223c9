package shop

import "testing"

// A page too slow to follow loses messages; one that has left is sent none.
func TestHub(t *testing.T) {
	h := NewHub()
	ch, leave := h.Listen("job:a")
	h.Send("job:b", "change", 1)
	for n := range 100 {
		h.Send("job:a", "change", n)
	}
	if m := <-ch; m.Event != "change" || string(m.Data) != "0" {
		t.Errorf("the first is %s %s", m.Event, m.Data)
	}
	if left := len(ch); left == 0 || left > 64 {
		t.Errorf("%d wait", left)
	}
	leave()
	was := len(ch)
	h.Send("job:a", "change", 1)
	if len(ch) != was {
		t.Error("one that left is still told")
	}
}
