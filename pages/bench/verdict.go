package bench

import (
	"fmt"
	"strings"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/unit"
	"lugtak/draw"
)

// verdict is a pull that was kept, as it stands until the next fastener comes.
type verdict struct {
	Name      string // of the fastener
	Big, Unit string
	Also      string // in the other unit
	Why       []string
	Remark    string // what was remarked although it is kept
	Took      string
	Plot      draw.Plot
	Next      string // what the key says
	Simulated bool
	Wait      bool // it goes on by a key alone
}

// verdict fills in what a kept pull came to. One that is struck, or was not kept, has none: the step says why.
func (v *View) verdict(x Shown) {
	st := v.Job
	p := st.Pulls[x.Pull]
	if p == nil || !p.Counts() || !p.Traced || st.Plan.Step(p.Step) != v.Step {
		return
	}
	j := st.Plan.Joint(p.Fastener.Joint)
	stage := st.Stages(j.ID)[p.Stage]
	low, high := stage.Window()
	d := &verdict{Name: v.FastenerName(), Simulated: p.Simulated, Wait: x.Wait}
	inside := fmt.Sprintf("in %s–%s", unit.Number(low, 1), unit.Number(high, 1))
	if stage.Kind == recipe.Torque {
		peak := unit.Torque(p.Result.PeakNm)
		d.Big, d.Unit, d.Also = unit.Number(peak.Nm(), 1), "N·m", peak.FtLbString()
		if x.Unit == "ft-lb" {
			d.Big, d.Unit, d.Also = unit.Number(peak.FtLb(), 1), "ft·lb", peak.String()
		}
		inside += " N·m"
	} else {
		d.Big, d.Unit = unit.Number(p.Result.TurnDeg, 0), "°"
		if n := len(p.Result.Stages); n > 0 {
			d.Big = unit.Number(p.Result.Stages[n-1].AngleDeg, 0)
		}
		inside += "°"
	}
	d.Why = append(d.Why, inside)
	samples := x.Trace(p.ID)
	beside := v.siblingOf(p.Fastener.Letter, p.Stage, p.Seq)
	d.Plot = draw.Trace(samples, v.curve(x, beside), low, high, stage.Target(), stage.Kind == recipe.Torque)
	if beside != nil {
		d.Plot.BesideText = v.besideSays(beside)
	}
	if p.Result.Signature == pull.UnlikeSiblings {
		d.Remark = p.Result.Reasons[0].Message
	} else if beside != nil {
		d.Why = append(d.Why, "rose like "+beside.Fastener.Letter)
	}
	d.Why = append(d.Why, "did not turn back")
	if n := len(samples); n > 0 {
		d.Took = unit.Number(samples[n-1][0]-samples[0][0], 1) + " s"
	}
	d.Next = "Next step"
	if !st.StepDone(v.Step.ID) {
		d.Next = "To " + st.Current(v.Step)
	}
	v.Verdict = d
}

// Says is the figure as it is spoken after the heading.
func (d *verdict) Says() string { return d.Big + " " + spoken(d.Unit) }

// spoken are units as they are said aloud.
func spoken(u string) string {
	return strings.NewReplacer("N·m", "newton metres", "ft·lb", "foot pounds", "°", "degrees").Replace(u)
}

// siblingOf is the last pull of another fastener of the joint at hand that was kept with a trace at a stage, before
// so many lines of the journal; nil where there is none.
func (v *View) siblingOf(letter string, stage, before int) *job.Pull {
	var last *job.Pull
	for _, l := range v.Joint.Letters {
		f := v.Job.Fastener(v.Joint.ID, l)
		for _, id := range f.Pulls {
			o := v.Job.Pulls[id]
			if l != letter && o.Counts() && o.Traced && o.Stage == stage && o.Seq >= f.Since && o.Seq < before &&
				(last == nil || o.Seq > last.Seq) {
				last = o
			}
		}
	}
	return last
}

// curve is what a tool read of a pull; nothing of none.
func (v *View) curve(x Shown, p *job.Pull) [][3]float64 {
	if p == nil {
		return nil
	}
	return x.Trace(p.ID)
}

// besideSays names the dashed curve.
func (v *View) besideSays(p *job.Pull) string {
	return p.Fastener.Letter + " went like this, " + unit.Number(p.Result.PeakNm, 1)
}

// SpokenAlso is what is spoken after the act: its setting, or why the last pull is not counted.
func (v *View) SpokenAlso() string {
	p := v.pull()
	switch {
	case p == nil:
		return ""
	case p.Last != nil && len(p.Last.Result.Reasons) > 0:
		return "not counted: " + p.Last.Result.Reasons[0].Message
	case p.Unit != "":
		return p.Big + " " + spoken(p.Unit)
	}
	return ""
}

// pulledAt is the step of a pull that is shown as it was kept; empty where the job has none.
func pulledAt(st *job.State, id string) (step operation.StepID, letter string) {
	if p := st.Pulls[id]; p != nil {
		return p.Step, p.Fastener.Letter
	}
	return "", ""
}
