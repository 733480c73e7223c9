package pull

import (
	"fmt"
	"strconv"
	"strings"

	"lugtak/core/fault"
)

// ReadCSV reads a trace: three columns t_s, angle_deg, torque_nm, header
// optional, parted by commas or by semicolons (then with decimal commas too).
// Its faults are about the field "csv" and name the line.
func ReadCSV(text string) ([]Sample, error) {
	var out []Sample
	sep := ""
	line := 0
	bad := func(line int, detail, remedy string) error {
		return fault.New("bad_csv", "csv", fmt.Sprintf("Line %d: %s", line, detail), remedy)
	}
	const form = "Three columns are wanted: t_s, angle_deg, torque_nm."
	for row := range strings.Lines(text) {
		line++
		if len(row) > 4096 {
			return nil, bad(line, "the line is too long.", form)
		}
		text := strings.TrimSpace(strings.TrimPrefix(row, "\ufeff"))
		if text == "" {
			continue
		}
		if sep == "" {
			sep = ","
			if strings.Contains(text, ";") {
				sep = ";"
			}
			if strings.ContainsAny(text, "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ_") && !numeric(text, sep) {
				if n := len(strings.Split(text, sep)); n != 3 {
					return nil, bad(line, fmt.Sprintf("the header has %d columns.", n), form)
				}
				continue
			}
		}
		cells := strings.Split(text, sep)
		if len(cells) != 3 {
			return nil, bad(line, fmt.Sprintf("%d columns.", len(cells)), form)
		}
		var v [3]float64
		for i, c := range cells {
			c = strings.Trim(strings.TrimSpace(c), `"`)
			if sep == ";" {
				c = strings.Replace(c, ",", ".", 1)
			}
			x, err := strconv.ParseFloat(c, 64)
			if err != nil || !finite(x) {
				return nil, bad(line, fmt.Sprintf("column %d is not a number.", i+1), form)
			}
			v[i] = x
		}
		if out = append(out, Sample{v[0], v[1], v[2]}); len(out) > MaxSamples {
			return nil, bad(line, "more samples than one pull has.", fmt.Sprintf("Send at most %d.", MaxSamples))
		}
	}
	if err := Validate(out); err != nil {
		return nil, fault.In("csv", err)
	}
	return out, nil
}

// numeric: a first line like 1e-3,0,0 has a letter and is no header.
func numeric(text, sep string) bool {
	first, _, _ := strings.Cut(text, sep)
	_, err := strconv.ParseFloat(strings.Replace(strings.Trim(strings.TrimSpace(first), `"`), ",", ".", 1), 64)
	return err == nil
}
