package release

import "slices"

// Of is what sits fast: a fastener, or a part whose fasteners are off.
type Of string

// What a kind of seizure holds.
const (
	OfFastener Of = "fastener"
	OfPart     Of = "part"
)

// Usual is what is near or kept as a rule, by the system a joint belongs to, by kind, or by how the place stands.
type Usual struct {
	Systems []string `yaml:"systems"`
	Kinds   []string `yaml:"kinds"`
	Facts   []string `yaml:"facts"` // "penetrant soaked"
	Near    []string `yaml:"near"`
	Keep    []string `yaml:"keep"`
}

// Met is what is known of a seizure where it is met, before anybody has looked closer.
type Met struct {
	Of        Of
	Makes     []string // facts of the step
	Treatment string   // of the thread
	Drive     string   // of the head
	Trouble   string   // its code
	System    string
	Facts     []string // that are no longer at rest at its place: "penetrant soaked"
}

// KindsOf lists the kinds that something met may be, the likeliest first.
func (k *Knowledge) KindsOf(m Met) []Kind {
	var out []Kind
	for _, x := range k.Kinds {
		if x.Of == m.Of || len(x.speaks(m)) > 0 {
			out = append(out, x)
		}
	}
	slices.SortStableFunc(out, func(a, b Kind) int { return len(b.speaks(m)) - len(a.speaks(m)) })
	return out
}

// speaks lists what speaks for a kind.
func (x Kind) speaks(m Met) []string {
	var out []string
	for _, made := range m.Makes {
		if slices.Contains(x.Makes, made) {
			out = append(out, made)
		}
	}
	if slices.Contains(x.Treatments, m.Treatment) {
		out = append(out, m.Treatment)
	}
	if slices.Contains(x.Troubles, m.Trouble) {
		out = append(out, m.Trouble)
		if slices.Contains(x.Drives, m.Drive) {
			out = append(out, m.Drive)
		}
	}
	return out
}

// Left is what is near after a try that did not free: what was near, and what the rung leaves there.
func (k *Knowledge) Left(near []string, rung string) []string {
	for _, r := range k.Rungs {
		if r.Key == rung && r.Leaves != "" && !slices.Contains(near, r.Leaves) {
			near = append(slices.Clone(near), r.Leaves)
		}
	}
	return near
}

// UsualAt is what is near and what is kept as a rule with a kind met so.
func (k *Knowledge) UsualAt(kind string, m Met) (near, keep []string) {
	for _, u := range k.Usual {
		stands := slices.ContainsFunc(u.Facts, func(f string) bool { return slices.Contains(m.Facts, f) })
		if !stands && !slices.Contains(u.Systems, m.System) && !slices.Contains(u.Kinds, kind) {
			continue
		}
		near = append(near, u.Near...)
		keep = append(keep, u.Keep...)
	}
	slices.Sort(near)
	slices.Sort(keep)
	return slices.Compact(near), slices.Compact(keep)
}
