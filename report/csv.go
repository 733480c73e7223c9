// Package report writes a job for people outside the shop: the report as PDF,
// the ledger as CSV.
package report

import (
	"io"
	"slices"
	"strconv"
	"strings"
	"time"

	"lugtak/core/job"
	"lugtak/core/unit"
)

// CSV writes the ledger, one pull a line, a line for each fastener without one
// (RFC 4180). A cell that a spreadsheet would take for a formula gets a quote.
func CSV(w io.Writer, st *job.State) error {
	account := st.Account()
	return list(w, header, func(put func(...string)) {
		for i := range st.Plan.Joints {
			j := &st.Plan.Joints[i]
			for _, l := range j.Letters {
				f := st.Fastener(j.ID, l)
				head := []string{
					j.ID,
					l,
					string(account.Grade(f.FastenerID)),
					j.Says(),
					j.Source,
					f.Says(),
					string(f.Evidence),
					strconv.FormatBool(st.Unchecked(j, f)),
					strconv.FormatBool(f.Renewed),
				}
				if len(f.Pulls) == 0 {
					put(append(head, make([]string, len(header)-len(head))...)...)
				}
				for _, id := range f.Pulls {
					put(slices.Concat(head, pullCells(st.Pulls[id]))...)
				}
			}
		}
	})
}

// header names the columns: first those of the fastener, then those of a pull.
var header = []string{
	"joint", "fastener", "grade", "recipe", "source", "state", "evidence", "control_without_check", "renewed",
	"stage", "known_by", "means", "cause", "tool", "set_nm", "set_at_bolt_nm", "torque_nm", "angle_deg",
	"signature", "verdict",
	"counts", "simulated", "struck", "by", "at", "together",
}

func pullCells(p *job.Pull) []string {
	return []string{
		strconv.Itoa(p.Stage + 1),
		string(p.Evidence),
		string(p.Means),
		p.Cause.Words(),
		p.Tool,
		figure(p.SetNm),
		figure(p.SetAtBoltNm()),
		figure(p.ReadNm()),
		figure(p.Result.TurnDeg),
		string(p.Result.Signature),
		string(p.Result.Verdict),
		strconv.FormatBool(p.Counts()),
		strconv.FormatBool(p.Simulated),
		p.StruckWhy,
		p.By,
		p.At.UTC().Format(time.RFC3339),
		strconv.FormatBool(p.Together),
	}
}

func figure(v float64) string {
	if v == 0 {
		return ""
	}
	return unit.Number(v, 2)
}

func safe(row []string) []string {
	for i, s := range row {
		if s != "" && strings.ContainsRune("=+-@\t\r", rune(s[0])) {
			row[i] = "'" + s
		}
	}
	return row
}
