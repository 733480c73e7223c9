package bench

import (
	"fmt"
	"strings"

	"lugtak/core/job"
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

// verdict fills in what a kept pull came to.
func (v *View) verdict(x Shown) {
	st := v.Job
	p := keptPull(st, x.Pull)
	if p == nil {
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
		d.Big, d.Unit = unit.Number(p.TurnedDeg(), 0), "°"
		if p.ErrDeg > 0 {
			d.Also = "± " + unit.Number(p.ErrDeg, 1) + "°"
		}
		inside += "°"
	}
	d.Why = append(d.Why, inside)
	samples := x.Trace(p.ID)
	beside, others := v.siblingOf(p.Fastener.Letter, p.Stage, p.Seq)
	if p.ErrDeg == 0 { // a phone shows nothing of how it rose
		d.Plot = draw.Trace(samples, x.curve(beside), low, high, stage.Target(), stage.Kind == recipe.Torque)
	}
	if beside != nil {
		d.Plot.BesideText = besideSays(beside)
	}
	if p.ErrDeg > 0 {
		d.Why = append(d.Why, p.Result.Reasons[len(p.Result.Reasons)-1].Message)
	}
	if p.Result.Signature == pull.UnlikeSiblings {
		d.Remark = p.Result.Reasons[0].Message
	} else if others >= pull.LeastSiblings {
		d.Why = append(d.Why, "rose like the others")
	}
	if n := len(samples); n > 0 { // a tool that sends its peak alone shows nothing of how it rose
		d.Why = append(d.Why, "did not turn back")
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
// so many lines of the journal, and of how many there is one; nil where of none.
func (v *View) siblingOf(letter string, stage, before int) (last *job.Pull, fasteners int) {
	for _, l := range v.Joint.Letters {
		f := v.Job.Fastener(v.Joint.ID, l)
		var own *job.Pull
		for _, id := range f.Pulls {
			o := v.Job.Pulls[id]
			if l != letter && v.Job.Stands(o) && o.Traced && o.Stage == stage && o.Seq < before {
				own = o
			}
		}
		if own == nil {
			continue
		}
		fasteners++
		if last == nil || own.Seq > last.Seq {
			last = own
		}
	}
	return last, fasteners
}

// curve is what a tool read of a pull; nothing of none.
func (x Shown) curve(p *job.Pull) [][3]float64 {
	if p == nil {
		return nil
	}
	return x.Trace(p.ID)
}

// besideSays names the dashed curve.
func besideSays(p *job.Pull) string {
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

// keptPull is a pull that stands as it was kept, read by a tool or a phone. One that was struck, is not counted, or was
// slackened since has no verdict to show: the step says why.
func keptPull(st *job.State, id string) *job.Pull {
	p := st.Pulls[id]
	if p == nil || !st.Stands(p) || st.Plan.Step(p.Step) == nil {
		return nil
	}
	if p.Evidence != pull.Traced && p.Evidence != pull.Stated && p.Means != job.ByPhone {
		return nil
	}
	return p
}
