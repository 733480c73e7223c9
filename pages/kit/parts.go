package kit

import (
	"fmt"
	"html/template"
	"time"

	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/draw"
)

// TallyGroup is the fasteners of a joint, each a sign.
type TallyGroup struct {
	Title string
	Step  operation.StepID
	Signs []TallySign
}

// TallySign is one fastener.
type TallySign struct {
	draw.Sign
	Letter, Name string
	Here         bool
}

// Due is what is owed of a signed job.
type Due struct {
	listing.FollowUp
	Over bool
}

// Dues says of each whether its day has come.
func Dues(all []listing.FollowUp, now time.Time) (out []Due) {
	for _, f := range all {
		out = append(out, Due{f, job.Overdue(f.At, now)})
	}
	return out
}

// Choice is one of a list, with what it is called.
type Choice struct{ Value, Name string }

// Paging is where one is in a list of pages, counted from 1; Prev and Next are 0 where there is none.
type Paging struct {
	Page, Last, Prev, Next int
}

// PageOf is the page that is asked for, within how many there are.
func PageOf(asked, of, size int) Paging {
	p := Paging{Last: max(1, (of+size-1)/size)}
	p.Page = min(max(1, asked), p.Last)
	if p.Page > 1 {
		p.Prev = p.Page - 1
	}
	if p.Page < p.Last {
		p.Next = p.Page + 1
	}
	return p
}

// Of cuts a list to the page.
func Of[T any](p Paging, all []T, size int) []T {
	from := (p.Page - 1) * size
	return all[min(from, len(all)):min(from+size, len(all))]
}

// PeakWords is the highest torque of a recipe in both units; empty where it has none.
func PeakWords(text string) string {
	r, err := recipe.Parse(text)
	if err != nil || r.Peak() == 0 {
		return ""
	}
	return unit.Torque(r.Peak()).Both()
}

// PreloadWords say the clamp a joint's figure makes, over the band of friction; empty where nobody can say.
func PreloadWords(spec vehicle.Spec) string {
	l, ok := spec.Load()
	if !ok {
		return ""
	}
	s := fmt.Sprintf(
		"%.0f kN (%.0f–%.0f over friction), %.0f %% of yield with its twist (up to %.0f %%)",
		l.Preload.Mid/1000,
		l.Preload.Low/1000,
		l.Preload.High/1000,
		100*l.Utilisation.Mid,
		100*l.Utilisation.High,
	)
	if l.AngleDeg > 0 {
		s += fmt.Sprintf(
			"; after %.0f° about %.0f kN (%.0f–%.0f, grip not known)",
			l.AngleDeg,
			l.AfterAngle.Mid/1000,
			l.AfterAngle.Low/1000,
			l.AfterAngle.High/1000,
		)
	}
	return s
}

// Variant is one kind of hardware with what tells it apart.
type Variant struct {
	vehicle.Variant
	Peak    string
	Picture template.HTML
}

// Variants are the kinds of hardware a joint may have.
func Variants(j *plan.Joint) []Variant {
	var out []Variant
	for _, v := range j.Variants {
		out = append(out, Variant{v, PeakWords(v.Recipe), draw.Hardware(v)})
	}
	return out
}
