package pull

import (
	"lugtak/core/fault"
	"lugtak/core/table"
	"lugtak/core/unit"
)

// columns are those of a trace, with what other tools call them (common practice).
var columns = [3]table.Column{
	{Name: "t_s", Heads: map[string]float64{
		"ts": 1, "t": 1, "time": 1, "times": 1, "s": 1, "sec": 1, "seconds": 1,
		"tms": 0.001, "timems": 0.001, "ms": 0.001,
	}},
	{Name: "angle_deg", Heads: map[string]float64{
		"angledeg": 1, "angle": 1, "deg": 1, "degrees": 1, "a": 1, "turndeg": 1,
	}},
	{Name: "torque_nm", Heads: map[string]float64{
		"torquenm": 1, "torque": 1, "nm": 1, "m": 1,
		"torqueftlb": unit.PoundFoot.Nm(), "ftlb": unit.PoundFoot.Nm(), "torqueinlb": unit.PoundInch.Nm(),
		"inlb": unit.PoundInch.Nm(),
	}},
}

// ReadCSV reads a trace: t_s, angle_deg, torque_nm, as table.Read takes them. Its
// faults are about the field "csv".
func ReadCSV(text string) ([]Sample, error) {
	rows, err := table.Read(text, columns, MaxSamples)
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
