package walk

import (
	"html/template"
	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/draw"
	"net/url"
	"slices"
)

type taken struct {
	job.Measurement
	Drawing template.HTML
}

// measurement is a measurement that has taken the question's place.
type measurement struct {
	inspect.Limit
	Others []inspect.Limit // to measure at the same place
	Taken  []taken         // of it so far, the newest first: one side beside the other
}

// measuring puts a measurement in the question's place: the one asked for, else it says which
// would answer the question in hand, or is at the place in hand.
func (v *View) measuring(limits inspect.Limits, key string) {
	for _, l := range limits.Measures {
		answers := v.Ask != nil && l.Sign == v.Ask.Q.Key
		if !l.OfMark() && (answers || v.Gauged == "" && l.Place == v.Place) {
			v.Gauged = l.Key
		}
	}
	l, ok := limits.Measure(key)
	if !ok {
		return
	}
	v.Measuring = &measurement{Limit: l}
	for _, l := range limits.Measures {
		if l.Place == v.Measuring.Place && l.Key != key && !l.OfMark() {
			v.Measuring.Others = append(v.Measuring.Others, l)
		}
	}
	for _, m := range slices.Backward(v.Job.Walk.Measured) {
		if m.Key == key && len(v.Measuring.Taken) < 2 {
			v.Measuring.Taken = append(v.Measuring.Taken, taken{m, draw.MeasureBar(m)})
		}
	}
}

// Measure is the address with a measurement in the question's place.
func (v View) Measure(key string) string {
	return v.At(v.Place) + "&measure=" + url.QueryEscape(key)
}

// recorded lays out what was measured and driven.
func (v *View) recorded() {
	for _, m := range slices.Backward(v.Job.Walk.Measured) {
		v.Taken = append(v.Taken, taken{m, draw.MeasureBar(m)})
	}
	v.Drives = v.Job.Walk.Drives
	n := len(v.Drives)
	if n == 0 {
		return
	}
	v.Drive = draw.Waterfall(v.Drives[n-1])
	if n > 1 {
		v.Compared = draw.Compared(v.Drives[0], v.Drives[n-1])
	}
}
