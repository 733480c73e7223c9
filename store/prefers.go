package store

import (
	"context"
	"slices"

	"lugtak/core/fault"
	"lugtak/core/listing"
)

// Prefer keeps how somebody wants pages shown.
func (s *Store) Prefer(ctx context.Context, person string, p listing.Prefers) error {
	switch {
	case !slices.Contains(listing.Looks, p.Look):
		return fault.New(fault.BadChoice, "look", "There is no such look.", "Choose one of the list.")
	case !slices.Contains(listing.Units, p.Unit):
		return fault.New(fault.BadChoice, "unit", "There is no such unit.", "Choose one of the list.")
	case !slices.Contains(listing.Texts, p.Text):
		return fault.New(fault.BadChoice, "text", "There is no such size.", "Choose one of the list.")
	case !slices.Contains(listing.Voices, p.Voice):
		return fault.New(fault.BadChoice, "voice", "There is no such voice.", "Choose one of the list.")
	case !slices.Contains(listing.Paces, p.Pace):
		return fault.New(fault.BadChoice, "pace", "There is no such pace.", "Choose one of the list.")
	}
	_, err := s.w.ExecContext(ctx, `INSERT OR REPLACE INTO preference (person, look, unit, text, voice, pace)
		VALUES (?,?,?,?,?,?)`, person, p.Look, p.Unit, p.Text, p.Voice, p.Pace)
	return Unwritable(err)
}
