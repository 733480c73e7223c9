package store

import (
	"context"
	"slices"

	"lugtak/core/fault"
)

// Prefers is how somebody wants pages shown. What is empty is as the device or the shop has it.
type Prefers struct {
	Look string // light or dark
	Unit string // Nm or ft-lb, the one that stands first
	Text int    // size of the letters, percent
}

// What may be preferred.
var (
	Looks = []string{"", "light", "dark"}
	Units = []string{"", "Nm", "ft-lb"}
	Texts = []int{0, 115, 130, 150, 200}
)

// Prefer keeps how somebody wants pages shown.
func (s *Store) Prefer(ctx context.Context, person string, p Prefers) error {
	switch {
	case !slices.Contains(Looks, p.Look):
		return fault.New("bad_choice", "look", "There is no such look.", "Choose one of the list.")
	case !slices.Contains(Units, p.Unit):
		return fault.New("bad_choice", "unit", "There is no such unit.", "Choose one of the list.")
	case !slices.Contains(Texts, p.Text):
		return fault.New("bad_choice", "text", "There is no such size.", "Choose one of the list.")
	}
	_, err := s.w.ExecContext(ctx, `INSERT OR REPLACE INTO preference (person, look, unit, text) VALUES (?,?,?,?)`,
		person, p.Look, p.Unit, p.Text)
	return Unwritable(err)
}
