// Package robust holds statistics that a few wild values do not move.
package robust

import (
	"slices"

	"gonum.org/v1/gonum/stat"
)

// Normal is what the median distance from the median is multiplied by to give the
// standard deviation of a normal distribution (textbook consistency factor).
const Normal = 1.4826

// Median is the middle of the values, or the mean of the two in the middle; 0 of none.
// It sorts v.
func Median(v []float64) float64 {
	if len(v) == 0 {
		return 0
	}
	slices.Sort(v)
	half := 0.5 / float64(len(v))
	lower := stat.Quantile(0.5, stat.Empirical, v, nil)
	if len(v)%2 == 1 {
		return lower
	}
	return (lower + stat.Quantile(0.5+half, stat.Empirical, v, nil)) / 2
}
