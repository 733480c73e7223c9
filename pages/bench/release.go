package bench

import (
	"fmt"
	"html/template"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/release"
	"lugtak/core/thread"
	"lugtak/core/unit"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/pages/kit"
	"math"
	"net/url"
	"slices"
	"strings"
	"time"
)

// Release is a seizure with its ladder.
type Release struct {
	Job     *job.State
	Owed    int
	Trouble *job.Trouble
	What    string // what sits fast, and where
	Kinds   []release.Kind
	Ladder  release.Ladder
	Rungs   []rung
	Refused []rung
	Now     *rung // tried next
	Near    []thing
	Keep    []thing
	KeptTo  string  // where what is kept is answered, while it is asked; empty else
	KeptOf  []thing // what of it is asked
	Pull    template.HTML
	Clamped string  // the pull at which it yields while it still clamps
	Below   string  // its figure, where it yields below that
	Waist   float64 // the thinnest place that was seen, mm
	Picture template.HTML
	Worse   []job.TroubleCode
	Stop    []string
	Fault   *fault.Fault
	Back    string // to the bench, at its step
	Broke   bool   // what broke is asked
	Spent   time.Duration
}

type rung struct {
	release.Rated
	No     int
	InTen  string
	Tenths int
	Here   bool
	To     string // the page with this one taken
}

// Said lists what of some things is so.
func (v *Release) Said(things []thing) string {
	var on []string
	for _, t := range things {
		if t.On {
			on = append(on, t.Name)
		}
	}
	if len(on) == 0 {
		return "nothing said"
	}
	return strings.Join(on, ", ")
}

// Head is what is the matter, and where.
func (v *Release) Head() string { return unit.Capital(v.Trouble.What) + ": " + v.What }

// TriesSay is how often and how long it was tried.
func (v *Release) TriesSay() string {
	n := len(v.Trouble.Tries)
	tries := fmt.Sprintf("%d tries", n)
	if n == 1 {
		tries = "1 try"
	}
	return fmt.Sprintf("%s, %d minutes since it was met", tries, int(v.Spent.Minutes()))
}

// thing is something that may be near or kept; To is the page with it changed.
type thing struct {
	Name string
	On   bool
	To   string
}

// Stuck is what the page of a seizure is made from.
type Stuck struct {
	Job     *job.State
	Library *library.Library
	Trouble *job.Trouble
	Past    release.Past // the shop's own tries
	Now     time.Time
	Case    Said
	Fault   *fault.Fault
}

// Said is the case as somebody says it; empty fields are as at the last try, or as is usual.
type Said struct {
	Seizure string
	Said    bool // what is near and kept was said, even if it is nothing
	Near    []string
	Keep    []string
	Kept    bool // and of what is kept, before what would hurt it
	Rung    string
	Broke   bool    // it is asked what it became
	Waist   float64 // the thinnest place that is seen, mm; 0 is none
}

// ReleasePage is the ladder for what is stuck.
func ReleasePage(x Stuck) (kit.Page, error) {
	t := x.Trouble
	v := &Release{
		Job:     x.Job,
		Owed:    len(x.Job.Owed()),
		Trouble: t,
		Fault:   x.Fault,
		Stop:    x.Library.Release.Stop,
		Back:    "/jobs/" + x.Job.ID + "/bench?step=" + string(t.Step),
		Broke:   x.Case.Broke,
		Spent:   x.Now.Sub(t.At),
		What:    x.Job.WhatIsStuck(t),
	}
	for _, w := range []job.TroubleCode{job.Rounded, job.ThreadDamaged, job.Sheared} {
		if t.MayBecome(w) {
			v.Worse = append(v.Worse, w)
		}
	}
	err := v.climb(x)
	return pages.Page("release", "Stuck: "+v.What, v), err
}

// seizure is the case as it is said, as it was at the last try, or as is usual.
func (x Stuck) seizure() (release.Case, []release.Kind) {
	know, t := &x.Library.Release, x.Trouble
	m := x.Job.Met(t)
	kinds := know.KindsOf(m)
	kind := kinds[0].Name
	near, keep := know.UsualAt(kind, m)
	if n := len(t.Tries); n > 0 {
		near, keep = know.Left(t.Tries[n-1].Near, t.Tries[n-1].Rung), t.Tries[n-1].Keep
		kind = t.Tries[n-1].Seizure
	}
	if x.Case.Seizure != "" {
		kind = x.Case.Seizure
	}
	if x.Case.Said {
		near, keep = x.Case.Near, x.Case.Keep
	}
	return t.Case(kind, near, keep, x.Past), kinds
}

// climb fills in the ladder with what may be changed about it.
func (v *Release) climb(x Stuck) error {
	t := v.Trouble
	at, kinds := x.seizure()
	v.Kinds = kinds
	ladder, err := x.Library.Release.Climb(at)
	if err != nil {
		return err
	}
	v.Ladder = ladder
	page := func(near, keep []string, rung string) string {
		q := url.Values{
			"trouble": {t.ID},
			"said":    {"1"},
			"seizure": {ladder.Kind.Name},
			"near":    {strings.Join(near, ",")},
			"keep":    {strings.Join(keep, ",")},
			"rung":    {rung},
		}
		if x.Case.Waist > 0 {
			q.Set("waist", draw.Plain(x.Case.Waist))
		}
		if x.Case.Kept {
			q.Set("kept", "1")
		}
		return "?" + q.Encode()
	}
	chosen := x.Case.Rung
	if r := ladder.Find(chosen); r == nil || r.Refused != "" {
		chosen = ladder.Rungs[0].Key
	}
	for i, r := range ladder.Rungs {
		one := rung{Rated: r, No: i + 1, Tenths: int(10*r.Odds + 0.5), To: page(at.Near, at.Keep, r.Key)}
		one.InTen = inTen(r.Odds)
		if r.Refused != "" {
			v.Refused = append(v.Refused, one)
			continue
		}
		one.Here = r.Key == chosen
		v.Rungs = append(v.Rungs, one)
		if one.Here {
			v.Now = &v.Rungs[len(v.Rungs)-1]
		}
	}
	if v.Now != nil && !x.Case.Kept && t.AsksKept(&ladder, &v.Now.Rated) {
		v.KeptTo = page(at.Near, at.Keep, chosen) + "&kept=1"
	}
	for _, name := range x.Library.Release.ThingNames() {
		near := thing{Name: name, On: slices.Contains(at.Near, name)}
		near.To = page(toggled(at.Near, name), at.Keep, chosen)
		keep := thing{Name: name, On: slices.Contains(at.Keep, name)}
		keep.To = page(at.Near, toggled(at.Keep, name), chosen)
		if ladder.Refuses(name) {
			v.Near = append(v.Near, near)
		}
		if ladder.Spoils(name) {
			v.Keep = append(v.Keep, keep)
		}
		if v.KeptTo != "" && slices.Contains(v.Now.Spoils(), name) {
			v.KeptOf = append(v.KeptOf, keep)
		}
	}
	if j := v.Job.Plan.Joint(t.Joint); j != nil {
		v.pull(j, x.Case.Waist)
	}
	if v.Now != nil {
		step := v.Job.Plan.Step(v.Trouble.Step)
		if step == nil {
			step = &plan.Step{}
		}
		v.Picture = kit.Rung(x.Library, v.Job.Plan, step, v.Now.Tool,
			"release."+v.Now.Key+"-"+v.Ladder.Kind.Slug(), "release."+v.Now.Key).HTML
	}
	return nil
}

// pull is what a bar does to it, where the sheet says what bolt it is. What its figure is or how it was put in is not
// always known; a thin place is what somebody saw.
func (v *Release) pull(j *plan.Joint, waistMM float64) {
	f, ok := j.Fastener()
	if !ok {
		return
	}
	held := release.Held{WaistMM: waistMM}
	if load, known := j.Load(); known {
		held.Figure = load.End.Mid
	}
	if mu, err := thread.Friction(f.Treatment); err == nil {
		held.Mu = mu.Mid
	}
	p := release.Risk(f.Thread, f.Class, "", held)
	v.Pull, v.Waist = draw.PullRisk(p, release.UsualBarMM), waistMM
	if p.Clamped > 0 {
		v.Clamped = unit.Torque(math.Floor(p.Clamped)).Both()
	}
	if p.BelowFigure {
		v.Below = unit.Torque(held.Figure).Both()
	}
}

// On are those of a list that are there, as an address writes them.
func (v *Release) On(list []thing) string {
	var on []string
	for _, t := range list {
		if t.On {
			on = append(on, t.Name)
		}
	}
	return strings.Join(on, ",")
}

func toggled(list []string, name string) []string {
	if i := slices.Index(list, name); i >= 0 {
		return slices.Delete(slices.Clone(list), i, i+1)
	}
	return append(slices.Clone(list), name)
}

// inTen says a chance as one says it in the bay.
func inTen(p float64) string {
	switch {
	case p > 0.945:
		return "nearly sure"
	case p < 0.05:
		return "hardly"
	}
	return draw.Plain(float64(int(10*p+0.5))) + " in 10"
}
