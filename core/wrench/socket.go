package wrench

import (
	"math"
	"regexp"
	"sort"
	"strconv"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/unit"
)

// Socket is one socket size against a head.
type Socket struct {
	Name        string
	SizeMM      float64
	ClearanceMM float64
	Verdict     string // exact, close, loose, no
}

// Clearances that decide, in mm: a socket a hair too big carries the head on
// its corners and rounds it (common practice; 7/8 in on 22 mm and 3/4 in on
// 19 mm are accepted stand-ins).
const (
	exactWithin = 0.02
	readWithin  = 0.05  // what a caliper read to a tenth leaves open: the socket goes on
	closeShare  = 0.015 // of the size across flats
	closeMost   = 0.30
	looseMost   = 0.60
)

var inchSockets = []struct {
	name string
	num  float64 // 32nds of an inch
}{
	{"1/4 in", 8}, {"5/16 in", 10}, {"11/32 in", 11}, {"3/8 in", 12}, {"7/16 in", 14}, {"1/2 in", 16}, {"9/16 in", 18},
	{"19/32 in", 19}, {"5/8 in", 20},
	{"11/16 in", 22}, {"3/4 in", 24}, {"25/32 in", 25}, {"13/16 in", 26}, {"7/8 in", 28}, {"15/16 in", 30}, {"1 in", 32},
	{"1 1/16 in", 34}, {"1 1/8 in", 36},
	{"1 1/4 in", 40}, {"1 5/16 in", 42}, {"1 3/8 in", 44}, {"1 7/16 in", 46}, {"1 1/2 in", 48}, {"1 5/8 in", 52},
}

var metricSockets = []float64{4, 5, 5.5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26,
	27, 28, 29, 30, 31, 32, 33, 34, 35, 36, 38, 39, 41, 42, 43, 44, 46, 48, 50}

// FindSocket lists the sockets nearest to a head of that size across flats,
// best first. Sizes from 3 to 55 mm.
func FindSocket(acrossFlats float64) ([]Socket, error) {
	if !(acrossFlats >= 3 && acrossFlats <= 55) {
		return nil, fault.New(fault.OutOfRange, "across_flats_mm", "No socket is made for that size.",
			"Measure across the flats in mm, 3 to 55.")
	}
	var all []Socket
	for _, m := range metricSockets {
		all = append(all, judgeSocket(trim(m)+" mm", m, acrossFlats))
	}
	for _, s := range inchSockets {
		all = append(all, judgeSocket(s.name, s.num/32*25.4, acrossFlats))
	}
	rank := map[string]int{"exact": 0, "close": 1, "loose": 2, "no": 3}
	sort.SliceStable(all, func(i, j int) bool {
		a, b := all[i], all[j]
		if rank[a.Verdict] != rank[b.Verdict] {
			return rank[a.Verdict] < rank[b.Verdict]
		}
		return math.Abs(a.ClearanceMM) < math.Abs(b.ClearanceMM)
	})
	return all[:6], nil
}

// sized is a size across flats.
var sized = regexp.MustCompile(`^\d[\d ./]* (mm|in)$`)

// IsSocket says that a tool as a step names it, "22 mm six-point", is a socket, and which.
func IsSocket(tool string) (o Own, ok bool) {
	for _, kind := range append([]string{"six-point"}, kinds...) {
		size, is := strings.CutSuffix(tool, " "+kind)
		if is && sized.MatchString(size) {
			if kind == "six-point" {
				kind = ""
			}
			return Own{Size: size, Kind: kind}, true
		}
	}
	return Own{}, false
}

// Serves says what of the sockets at hand, each as ParseOwn reads it, serves for a tool as a step names it. lacks is
// true where that very socket is not there; ok is then false where none may be used on a tight fastener in its place.
// A key goes into nothing but its own size; a socket with more or fewer points is another one.
func Serves(tool string, have []string) (s Socket, lacks, ok bool) {
	want, socket := IsSocket(tool)
	if !socket {
		return Socket{}, false, false
	}
	sizes := map[string]bool{}
	for _, text := range have {
		if o, err := ParseOwn(text); err == nil && o.Kind == want.Kind {
			sizes[o.Size] = true
		}
	}
	if sizes[want.Size] {
		return Socket{}, false, false
	}
	text, mm := strings.CutSuffix(want.Size, " mm")
	flats, err := strconv.ParseFloat(text, 64)
	if !mm || err != nil || want.Kind == "inner" || want.Kind == "multi-point" {
		return Socket{}, true, false
	}
	all, err := FindSocket(flats)
	if err != nil {
		return Socket{}, true, false
	}
	for _, x := range all {
		if (x.Verdict == "exact" || x.Verdict == "close") && sizes[x.Name] {
			return x, true, true
		}
	}
	return Socket{}, true, false
}

func judgeSocket(name string, size, flats float64) Socket {
	c := size - flats
	s := Socket{Name: name, SizeMM: size, ClearanceMM: c, Verdict: "no"}
	switch {
	case c >= -readWithin && c <= exactWithin:
		s.Verdict = "exact"
	case c > 0 && c <= math.Min(closeMost, closeShare*flats):
		s.Verdict = "close"
	case c > 0 && c <= looseMost:
		s.Verdict = "loose"
	}
	return s
}

func trim(v float64) string { return unit.Number(v, 1) }
