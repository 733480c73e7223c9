// Package report writes a job for people outside the shop: the report as PDF,
// the ledger as CSV.
package report

import (
	"encoding/csv"
	"io"
	"strconv"
	"strings"
	"time"

	"lugtak/core/job"
	"lugtak/core/unit"
)

// CSV writes the ledger, one pull a line, a line for each fastener without one
// (RFC 4180). A cell that a spreadsheet would take for a formula gets a quote.
func CSV(w io.Writer, st *job.State) error {
	c := csv.NewWriter(w)
	c.UseCRLF = true
	c.Write([]string{"joint", "fastener", "recipe", "source", "state", "renewed", "stage", "evidence", "tool", "set_nm", "torque_nm", "angle_deg", "signature", "verdict", "kept", "struck", "by", "at"})
	for i := range st.Plan.Joints {
		j := &st.Plan.Joints[i]
		for _, l := range j.Letters {
			f := st.Fasteners[j.ID+"#"+l]
			head := []string{j.ID, l, j.Says(), j.Source, f.Mark().Words(), strconv.FormatBool(f.Renewed)}
			if len(f.Pulls) == 0 {
				c.Write(safe(append(head, make([]string, 12)...)))
			}
			for _, id := range f.Pulls {
				p := st.Pulls[id]
				c.Write(safe(append(append([]string{}, head...), strconv.Itoa(p.Stage+1), string(p.Evidence), p.Tool, figure(p.SetNm), figure(p.Result.PeakNm), figure(p.Result.TurnDeg),
					string(p.Result.Signature), string(p.Result.Verdict), strconv.FormatBool(p.Kept), p.StruckWhy, p.By, p.At.UTC().Format(time.RFC3339))))
			}
		}
	}
	c.Flush()
	return c.Error()
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
