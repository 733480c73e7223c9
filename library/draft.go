package library

import (
	"math"
	"strings"

	"github.com/goccy/go-yaml"

	"lugtak/core/operation"
)

// DraftFile is free work as a file of the Shelf: an operation of the shop's own, a draft until people have gone by it.
// Its minutes are those a job took, by owner.step, to the half minute.
func DraftFile(d operation.Draft, took map[string][]float64) (string, error) {
	o := d.Operation()
	for i := range o.Steps {
		s := &o.Steps[i]
		if t := took[o.ID+"."+string(s.ID)]; len(t) > 0 {
			s.Minutes = max(0.5, math.Round(2*t[0])/2)
		}
	}
	o.ID = "own-" + strings.TrimPrefix(o.ID, "free-")
	o.Family = "the shop's own work"
	o.Warnings = []string{
		"Draft: written from free work. It stays one until another person has read it and a second vehicle was done by it.",
	}
	text, err := yaml.MarshalWithOptions(o, yaml.OmitEmpty(), yaml.IndentSequence(true))
	return string(text), err
}
