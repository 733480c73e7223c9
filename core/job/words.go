package job

import "slices"

// Words are what a job may be found by: its vehicle, what was complained of and done, parts,
// joints, tools, people, and what was written down. Each stands once, in an order that is the
// same each time.
func (s *State) Words() []string {
	var out []string
	add := func(words ...string) {
		for _, w := range words {
			if w != "" && !slices.Contains(out, w) {
				out = append(out, w)
			}
		}
	}
	v := s.Vehicle
	add(v.Fleet, v.Plate, v.VIN, v.Name, s.Complaint)
	if s.Plan != nil {
		add(s.Title())
		for _, p := range s.Plan.Parts {
			add(p.Title)
		}
		for _, j := range s.Plan.Joints {
			add(j.Title)
		}
	}
	for _, t := range s.Troubles {
		add(string(t.What))
	}
	for _, d := range s.Deviations {
		add(d.Reason, d.By, d.Second)
	}
	for _, f := range s.Findings {
		add(f.Text, f.By)
	}
	for _, id := range s.PullOrder {
		add(s.Pulls[id].Tool)
	}
	for _, m := range s.Walk.Measured {
		add(m.Name)
	}
	people := slices.Clone(s.authors)
	slices.Sort(people)
	add(slices.Compact(people)...)
	return out
}
