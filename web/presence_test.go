package web

import (
	"slices"
	"testing"
)

// Who is there is told by name, once however many pages they have open, and only when
// the list changes.
func TestPresence(t *testing.T) {
	var p presence
	leave, moved := p.enter("1", "Aro")
	again, more := p.enter("1", "Aro")
	other, came := p.enter("1", "Bel")
	if !moved || more || !came || !slices.Equal(p.at("1"), []string{"Aro", "Bel"}) || len(p.at("2")) != 0 {
		t.Fatalf("%v %v %v: %v", moved, more, came, p.at("1"))
	}
	if leave() || !other() || !again() || len(p.at("1")) != 0 {
		t.Errorf("left over: %v", p.at("1"))
	}
}
