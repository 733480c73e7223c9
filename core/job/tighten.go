package job

import (
	"fmt"
	"slices"

	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/thread"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
)

// stageNext says which stage of its joint a fastener is at, and why a pull on
// it is refused now.
func (s *State) stageNext(st *operation.Step, j *operation.PlanJoint, f *Fastener) (int, error) {
	from, to := s.Span(st)
	stage := f.Done
	switch {
	case f.Phase != InHand:
		return 0, refuse(CodeOrder, "fastener", fmt.Sprintf("%s %s is %s, not started by hand.", j.One, f.Letter, markWords[f.Phase]), "Start it by hand first, four or five turns.")
	case f.Trouble != "":
		return 0, refuse("trouble", "fastener", "There is trouble at "+j.One+" "+f.Letter+".", "Clear it first.")
	case stage > to:
		return 0, refuse(CodeOrder, "fastener", fmt.Sprintf("%s %s has this stage already.", j.One, f.Letter), "Go on with the next.")
	case stage < from:
		return 0, refuse(CodeOrder, "fastener", fmt.Sprintf("%s %s lacks the stage before this one.", j.One, f.Letter), "Do that stage first.")
	}
	for _, l := range j.Letters { // round and round: nobody runs ahead
		if o := s.Fasteners[j.ID+"#"+l]; o.Done < stage && !o.Waived && o.Trouble == "" {
			return 0, refuse(CodeOrder, "fastener", fmt.Sprintf("%s %s still lacks round %d.", j.One, l, o.Done+1), "Go round evenly: that one first.")
		}
	}
	return stage, nil
}

// Span is the first and last stage a tightening step does, from 0.
func (s *State) Span(st *operation.Step) (from, to int) {
	n := len(s.stages[st.Joint])
	j := s.Plan.Joint(st.Joint)
	switch {
	case st.Again:
		return n - 1, n - 1
	case len(st.Stages) == 2:
		return st.Stages[0] - 1, min(st.Stages[1], n) - 1
	case j.Again:
		return 0, n - 2
	}
	return 0, n - 1
}

func (s *State) decidePull(m Meta, b Pull) (Body, error) {
	st, err := s.openStep(m, b.Step)
	if err != nil {
		return nil, err
	}
	if st.Verb != operation.Tighten || st.Joint != b.Joint {
		return nil, refuse("bad_choice", "step", "Nothing is tightened in this step.", "Go to the step that tightens it.")
	}
	j := s.Plan.Joint(b.Joint)
	f, err := s.fastener(m, b.Joint, b.Letter)
	if err != nil {
		return nil, err
	}
	stage, err := s.stageNext(st, j, f)
	if err != nil {
		return nil, err
	}
	if err := s.conditionMet(j, stage); err != nil {
		return nil, err
	}
	if err := s.Ready(st); err != nil {
		return nil, err
	}
	asked := s.stages[j.ID][stage]
	if asked.Kind == recipe.Torque && b.Tool.ID != "" {
		c := wrench.Choose(asked, s.Peak(j, stage), []wrench.Tool{b.Tool}, b.Adapter, wrench.Guard, m.At)[0]
		if c.Refused != "" {
			return nil, refuse("tool", "tool", b.Tool.Name+" cannot do this: "+c.Refused+".", "Take another wrench.")
		}
		b.Reading = b.Adapter.AtBolt(b.Reading, b.Tool.LengthMM)
	}
	ev := Pulled{Step: st.ID, Joint: j.ID, Letter: b.Letter, Stage: stage, Tool: b.Tool.Name, Adapter: b.Adapter.Name, SetNm: b.SetNm, Kept: b.Keep}
	if len(b.Trace) > 0 {
		ev.Evidence = pull.ByTrace
		trace := slices.Clone(b.Trace)
		for i := range trace {
			trace[i].Torque = b.Adapter.AtBolt(trace[i].Torque, b.Tool.LengthMM)
		}
		ev.Result, err = pull.Judge([]recipe.Stage{asked}, trace, s.expect(j, stage))
		for _, x := range trace {
			ev.Trace = append(ev.Trace, [3]float64{rounded(x.T, 1e4), rounded(x.Angle, 100), rounded(x.Torque, 100)})
		}
	} else {
		ev.Evidence = pull.ByHand
		if asked.Kind == recipe.Torque {
			ev.Evidence = pull.ByClick
		}
		ev.Result, err = pull.Hand(asked, b.Reading)
	}
	if err != nil {
		return nil, err
	}
	return ev, nil
}

func rounded(v, k float64) float64 { return float64(int64(v*k+0.5)) / k }

// onGround is the condition of a joint that is tightened with the tyre touching.
const onGround = "wheel on ground"

// conditionMet checks what the sheet says must hold while a joint is tightened.
func (s *State) conditionMet(j *operation.PlanJoint, stage int) error {
	if s.AsksVariant(j) {
		return refuse(CodeVariant, "variant", "This joint may carry more than one kind of "+j.One+", and the figure follows the one in hand.", "Look at it and say which it is.")
	}
	if j.Held && !s.Held[j.Corner] {
		remedy := "Have someone on the brake, or bar the hub, and keep that step."
		for i, st := range s.Plan.Steps {
			if st.Holds && st.Corner == j.Corner {
				remedy = fmt.Sprintf("Step %d: “%s”.", i+1, st.Title)
			}
		}
		return refuse(CodeCondition, "held", "The rotation is not held: the "+j.One+" would turn with the hub.", remedy)
	}
	if j.Bears && stage == 0 && j.Condition == onGround {
		return nil // snug in the air, before any weight
	}
	want := operation.Position("")
	switch j.Condition {
	case "hanging":
		want = operation.Raised
	case onGround:
		want = operation.Touching
	case "ride height":
		want = operation.RideHigh
	}
	if want == "" || s.Position.Stands(want) {
		return nil
	}
	is := map[operation.Position]string{operation.Raised: "The wheel still hangs", operation.Ground: "The vehicle stands on its wheels",
		operation.Touching: "The tyre touches", operation.RideHigh: "The vehicle is at ride height"}[s.Position]
	return refuse(CodeCondition, "position", is+"; the "+j.Title+" are tightened with the "+map[operation.Position]string{
		operation.Raised: "wheel hanging", operation.Touching: "wheel on the ground", operation.RideHigh: "weight on the springs"}[want]+".", s.wayTo(want))
}

// Peak is the highest torque a joint is sure to see from a stage on while one wrench
// stays on it, which is to the next torque stage. What an angle stage adds is reckoned
// at the low end of its band: a tool is not refused on a guess.
func (s *State) Peak(j *operation.PlanJoint, stage int) unit.Torque {
	stages := s.stages[j.ID][stage:]
	for i := 1; i < len(stages); i++ {
		if stages[i].Kind == recipe.Torque {
			stages = stages[:i]
		}
	}
	r := recipe.Recipe{Stages: stages}
	peak := r.Peak()
	f, ok := j.Fastener()
	if !ok || !r.ReachesAngle() {
		return peak
	}
	mu, err := thread.Friction(f.Treatment)
	l, err2 := recipe.Reckon(r, f)
	if err != nil || err2 != nil {
		return peak
	}
	return max(peak, unit.Torque(l.AfterAngle.Low*f.Thread.TorquePerForce(mu.High)))
}

// expect is what the judge may compare a pull of this joint with.
func (s *State) expect(j *operation.PlanJoint, stage int) pull.Expect {
	var ex pull.Expect
	stages := s.stages[j.ID]
	ex.Repeat = stage > 0 && stages[stage-1] == stages[stage] || stage > 1 && j.Again
	if f, ok := j.Fastener(); ok && stages[stage].Kind == recipe.Torque && stage == 0 {
		ex.SlopeLow, ex.SlopeHigh = f.Thread.SlopeBand(f.Treatment)
	}
	for _, id := range s.PullOrder {
		p := s.Pulls[id]
		if p.Joint == j.ID && p.Stage == stage && p.Kept && p.StruckWhy == "" && p.Evidence == pull.ByTrace && p.Result.Verdict == pull.Keep {
			ex.Siblings = append(ex.Siblings, pull.Feature{Slope: p.Result.SlopeNmD, Turn: p.Result.TurnDeg, Peak: p.Result.PeakNm})
		}
	}
	return ex
}

// AsksVariant says that it is not yet known which hardware a joint carries.
func (s *State) AsksVariant(j *operation.PlanJoint) bool {
	return len(j.Variants) > 0 && s.Variants[j.ID] == ""
}

func (s *State) decideVariant(m Meta, b Chose) (Body, error) {
	j := s.Plan.Joint(b.Joint)
	if j == nil || !slices.ContainsFunc(j.Variants, func(v vehicle.Variant) bool { return v.Key == b.Variant }) {
		return nil, refuse("bad_choice", "variant", "The sheet knows no such hardware at this joint.", "Choose one of those shown; if it is none of them, ask before anything is tightened.")
	}
	if s.Variants[j.ID] == b.Variant {
		return nil, nil
	}
	for _, l := range j.Letters {
		f, err := s.fastener(m, j.ID, l)
		if err != nil {
			return nil, err
		}
		if f.Done > 0 {
			return nil, refuse(CodeOrder, "variant", unit.Capital(j.One)+" "+l+" was tightened to the figure of the other kind.", "Slacken it first, or strike its pulls.")
		}
	}
	return b, nil
}
