package vehicle

import (
	"strings"
	"time"

	"lugtak/core/fault"
)

// Outside is work done on a vehicle elsewhere, as its papers or its owner tell.
type Outside struct {
	Day        string // 2026-05-18
	OdometerKM int
	What       string
	Where      string // who did it
	Suspect    string // the part that was renewed, by its key among the signs; empty where none
	SecondHand bool   // it was a used one
}

// Bounds of what is typed in.
const (
	outsideText = 240
	outsideKM   = 3_000_000
)

// Check trims what was typed, and refuses what is no past work: a day to come, no words.
func (o *Outside) Check(today time.Time) (time.Time, error) {
	o.What, o.Where = strings.TrimSpace(o.What), strings.TrimSpace(o.Where)
	day, err := time.Parse(time.DateOnly, strings.TrimSpace(o.Day))
	switch {
	case err != nil || day.Year() < 1950:
		return day, fault.New(fault.BadDay, "day", "That is no day.", "Write it as 2026-05-18.")
	case day.After(today):
		return day, fault.New(fault.BadDay, "day", "That day is still to come.", "Write the day the work was done.")
	case o.OdometerKM < 0 || o.OdometerKM > outsideKM:
		return day, fault.New(fault.OutOfRange, "odometer", "No vehicle has gone that far.",
			"Write the km on the paper, or leave it out.")
	case o.What == "" || len(o.What) > outsideText:
		return day, fault.New(fault.Missing, "what", "It is not said what was done.", "Write it in a line, as on the paper.")
	case o.Where == "" || len(o.Where) > outsideText:
		return day, fault.New(fault.Missing, "where", "It is not said who did it, or who says so.",
			"Name the shop, the paper, or the owner.")
	}
	o.Day = day.Format(time.DateOnly)
	return day, nil
}
