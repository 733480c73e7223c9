package web

import (
	"cmp"
	"html/template"
	"slices"
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/job"
	"lugtak/core/wrench"
	"lugtak/draw"
)

// officeView is how the shop does: its last quarter in figures.
type officeView struct {
	Jobs, Owed int // open now
	Due        []dueRow
	Signed     int
	Longer     int // of the signed, those that took longer than planned
	Times      template.HTML
	Weeks      template.HTML
	Comebacks  []comebackView
	Again      int           // comebacks beyond those shown
	Tools      []wrench.Tool // due soon or overdue
	Now        time.Time
	Node       bool // of a chain
}

type comebackView struct {
	job.Comeback
	Days int
}

// What the office looks back on and ahead to.
const (
	officeWeeks = 13
	officeMost  = 2000
	officeDots  = 120 // jobs, the last
	officeAgain = 12  // comebacks, the last
	toolsAhead  = 30 * 24 * time.Hour
)

// office shows how the shop does, and where its foreman goes on.
func (s *Server) office(c fiber.Ctx) error {
	first := monday(s.Shop.Now().Local()).AddDate(0, 0, -7*(officeWeeks-1))
	v := officeView{Now: s.Shop.Now(), Node: s.ReadOnly}
	all, err := s.Shop.Outcomes(c.Context(), first.Add(-job.ComebackWithin), officeMost)
	if err != nil {
		return err
	}
	if v.Jobs, v.Owed, err = s.Shop.OpenSums(c.Context()); err != nil {
		return err
	}
	if v.Due, err = s.dues(c); err != nil {
		return err
	}
	v.look(all, first)
	tools, err := s.Shop.Tools(c.Context())
	if err != nil {
		return err
	}
	for _, t := range tools {
		if t.Due().Before(s.Shop.Now().Add(toolsAhead)) || t.Cycles >= wrench.Recalibrate {
			v.Tools = append(v.Tools, t)
		}
	}
	slices.SortFunc(v.Tools, func(a, b wrench.Tool) int { return cmp.Compare(a.Due().Unix(), b.Due().Unix()) })
	return s.render(c, 200, "office", "Office", v)
}

// look draws the weeks since the first, from what the jobs came to.
func (v *officeView) look(all []job.Outcome, first time.Time) {
	weeks := make([]draw.Week, officeWeeks)
	for i := range weeks {
		weeks[i] = draw.Week{From: first.AddDate(0, 0, 7*i), Counts: make([]int, 3)}
	}
	var timed []job.Outcome
	for _, o := range all {
		at := int(o.Signed.Sub(first).Hours() / (7 * 24))
		if o.Signed.Before(first) || at >= officeWeeks {
			continue
		}
		v.Signed++
		weeks[at].Counts[0]++
		weeks[at].Counts[1] += o.Deviations
		weeks[at].Counts[2] += o.Unmeasured
		if o.PlannedMin > 0 && len(timed) < officeDots {
			timed = append(timed, o)
		}
		if o.PlannedMin > 0 && o.TookMin > o.PlannedMin {
			v.Longer++
		}
	}
	v.Times = draw.TimesPlot(timed)
	v.Weeks = draw.WeekBars("By week", []string{"signed", "deviations", "not measured"}, weeks)
	for _, b := range job.Comebacks(all) {
		if b.Again.Started.Before(first) {
			continue
		}
		if len(v.Comebacks) == officeAgain {
			v.Again++
			continue
		}
		days := int(b.Again.Started.Sub(b.First.Signed).Hours() / 24)
		v.Comebacks = append(v.Comebacks, comebackView{b, days})
	}
}

// monday is the beginning of a day's week.
func monday(t time.Time) time.Time {
	day := (int(t.Weekday()) + 6) % 7
	return time.Date(t.Year(), t.Month(), t.Day()-day, 0, 0, 0, 0, t.Location())
}
