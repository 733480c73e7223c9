package operation

import "slices"

// Acts tell which act a step does.
type Acts []ActKey

// ActKey names an act, by which its picture is found. It is done at the steps it names, by owner and key, where
// they are done with its tool if it names one.
type ActKey struct {
	Key   string   `yaml:"key"`
	Steps []string `yaml:"steps"`
	Tool  string   `yaml:"tool"`
	Makes string   `yaml:"makes"` // only where the step brings about this fact
}

// For is the act of a step, by its owner and key, its tool and the facts it brings about; empty where it has none.
func (a Acts) For(name, tool string, makes []string) string {
	for _, p := range a {
		fits := p.Tool == "" || p.Tool == tool
		if p.Makes != "" {
			fits = fits && slices.Contains(makes, p.Makes)
		}
		if fits && slices.Contains(p.Steps, name) {
			return p.Key
		}
	}
	return ""
}

// RescueAct names the steps that free what broke; the tool tells their pictures apart.
const RescueAct = "rescue.out"
