package wrench

import (
	"slices"
	"strings"

	"lugtak/core/fault"
)

// SocketSet is sockets as they are bought together.
type SocketSet struct {
	Set   string   `yaml:"set"`
	Title string   `yaml:"title"`
	Drive string   `yaml:"drive"` // square, one of Drives
	Kind  string   `yaml:"kind"`  // twelve-point, inner, multi-point; empty for six-point
	Sizes []string `yaml:"sizes"` // 18 mm, 3/4 in
}

// Sockets lists the sockets of the set, each as ParseOwn reads it.
func (s SocketSet) Sockets() []string {
	var out []string
	for _, size := range s.Sizes {
		out = append(out, Own{Size: size, Kind: s.Kind, Drive: s.Drive}.String())
	}
	return out
}

// Own is a socket that hangs in a crib.
type Own struct {
	Size  string // 18 mm, 3/4 in
	Kind  string // twelve-point, inner, multi-point; empty for six-point
	Drive string // square, one of Drives; empty where nobody said
}

// kinds of sockets beside those with six points.
var kinds = []string{"twelve-point", "inner", "multi-point"}

// String writes it as 14 mm twelve-point, 1/2 square.
func (o Own) String() string {
	text := o.Size
	if o.Kind != "" {
		text += " " + o.Kind
	}
	if o.Drive != "" {
		text += ", " + o.Drive + " square"
	}
	return text
}

// Says is what people call it, without its drive.
func (o Own) Says() string {
	if o.Kind == "inner" {
		return o.Size + " hexagon key"
	}
	return strings.TrimSpace(o.Size + " " + o.Kind)
}

// ParseOwn reads a socket as String writes it. Its fault names the field “socket”.
func ParseOwn(text string) (Own, error) {
	size, drive, _ := strings.Cut(text, ",")
	o := Own{Size: strings.TrimSpace(size), Drive: strings.TrimSpace(strings.TrimSuffix(drive, "square"))}
	for _, k := range kinds {
		if s, is := strings.CutSuffix(o.Size, " "+k); is {
			o.Size, o.Kind = strings.TrimSpace(s), k
		}
	}
	switch {
	case !Made(o.Size):
		return o, fault.New(fault.BadChoice, "socket", "No socket “"+o.Size+"” is made.", "Write it as 18 mm or 3/4 in.")
	case o.Drive != "" && !slices.Contains(Drives, o.Drive):
		return o, fault.New(fault.BadChoice, "socket", "No square “"+o.Drive+"” is made.",
			"Choose one of "+strings.Join(Drives, ", ")+".")
	}
	return o, nil
}

// Made says that sockets of a size are made.
func Made(size string) bool {
	for _, m := range metricSockets {
		if trim(m)+" mm" == size {
			return true
		}
	}
	for _, s := range inchSockets {
		if s.name == size {
			return true
		}
	}
	return false
}

// CheckAdapter refuses an adapter nobody could set a wrench by. Its fault names the field.
func CheckAdapter(a *Adapter) error {
	a.Name = strings.TrimSpace(a.Name)
	switch {
	case a.Name == "" || len([]rune(a.Name)) > 40:
		return fault.New(fault.Missing, "name", "The adapter has no name, or one that is too long.",
			"Say what it is called here.")
	case !(a.LengthMM >= 0 && a.LengthMM <= 400):
		return fault.New(fault.OutOfRange, "length_mm", "No adapter is as long as that.",
			"Measure from square to fastener, in mm, 0 to 400.")
	case !(a.AngleDeg >= 0 && a.AngleDeg <= 180):
		return fault.New(fault.OutOfRange, "angle_deg", "That is no angle between wrench and adapter.", "Say 0 to 180°.")
	case !(a.Flex >= 0 && a.Flex <= 1):
		return fault.New(fault.OutOfRange, "flex_deg_per_nm", "Nothing winds up like that.",
			"Say degrees a newton metre, 0 to 1.")
	}
	return nil
}
