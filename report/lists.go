package report

import (
	"encoding/csv"
	"io"
	"strconv"
	"time"

	"lugtak/core/forecast"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// list writes a list as a file (RFC 4180): UTF-8, a head line, times in RFC 3339, days as 2006-01-02. A cell that a
// spreadsheet would take for a formula gets a quote before it.
func list(w io.Writer, head []string, rows func(put func(...string))) error {
	c := csv.NewWriter(w)
	c.UseCRLF = true
	c.Write(head) // the writer keeps its first error
	rows(func(cells ...string) { c.Write(safe(cells)) })
	c.Flush()
	return c.Error()
}

// PartsCSV writes the parts of a job's plan, with where each is and when a supplier has it there.
func PartsCSV(w io.Writer, st *job.State) error {
	head := []string{"part", "title", "count", "used_once", "status", "supplier", "due"}
	return list(w, head, func(put func(...string)) {
		for _, p := range st.Plan.Parts {
			from, due := st.Supplied[p.Key], ""
			if !from.Due.IsZero() {
				due = from.Due.Format(time.RFC3339)
			}
			put(p.Key, p.Title, strconv.Itoa(p.Count), strconv.FormatBool(p.OneUse), string(st.Parts[p.Key]), from.Supplier,
				due)
		}
	})
}

// FleetCSV writes the vehicles, a line each, in the columns by which a list of vehicles is taken in.
func FleetCSV(w io.Writer, fleet []vehicle.Vehicle) error {
	return list(w, []string{"fleet", "pattern", "plate", "vin", "bay"}, func(put func(...string)) {
		for _, v := range fleet {
			put(v.Fleet, v.Pattern, v.Plate, v.VIN, v.Bay)
		}
	})
}

// FollowUpsCSV writes what is still owed after signatures, a line each, in the order it was given.
func FollowUpsCSV(w io.Writer, all []listing.FollowUp) error {
	return list(w, []string{"job", "no", "vehicle", "fleet", "kind", "title", "at_km", "due"}, func(put func(...string)) {
		for _, f := range all {
			km, day := "", ""
			if f.AtKM > 0 {
				km = strconv.Itoa(f.AtKM)
			}
			if !f.At.IsZero() {
				day = f.At.Format(time.DateOnly)
			}
			put(f.Job, strconv.Itoa(f.No), f.Vehicle, f.Fleet, f.Kind, f.Title, km, day)
		}
	})
}

// OutcomesCSV writes chances that were said against what happened: how many cases there were, in how many it happened,
// and the mean chance that was said, in per cent. What is said of is release, of a kind of seizure and a rung, or a
// suspect.
func OutcomesCSV(w io.Writer, releases, suspects []forecast.Said) error {
	head := []string{"said_of", "kind", "key", "from_pct", "to_pct", "cases", "happened", "said_pct"}
	return list(w, head, func(put func(...string)) {
		for _, of := range []struct {
			what string
			said []forecast.Said
		}{{"release", releases}, {"suspect", suspects}} {
			for _, s := range of.said {
				band := 100.0 / forecast.Bands
				put(of.what, s.Kind, s.Of, unit.Number(band*float64(s.Band), 0), unit.Number(band*float64(s.Band+1), 0),
					strconv.Itoa(s.N), strconv.Itoa(s.Happened), unit.Number(100*s.MeanSaid(), 1))
			}
		}
	})
}
