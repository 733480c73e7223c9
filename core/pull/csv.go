package pull

import (
	"lugtak/core/fault"
	"lugtak/core/table"
)

// ReadCSV reads a trace: t_s, angle_deg, torque_nm, as table.Read takes them. Its
// faults are about the field "csv".
func ReadCSV(text string) ([]Sample, error) {
	rows, err := table.Read(text, "Three columns are wanted: t_s, angle_deg, torque_nm.", MaxSamples)
	if err != nil {
		return nil, err
	}
	out := make([]Sample, len(rows))
	for i, r := range rows {
		out[i] = Sample{r.V[0], r.V[1], r.V[2]}
	}
	if err := Validate(out); err != nil {
		return nil, fault.In("csv", err)
	}
	return out, nil
}
