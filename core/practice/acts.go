package practice

import (
	"fmt"
	"slices"
	"strings"

	"lugtak/core/fact"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/release"
	"lugtak/core/unit"
)

// otherBox is what it takes to bring the right part, minutes (invented).
const otherBox = 4

func (r *Run) judge(s *plan.Step, choice string) error {
	wrong := r.Wrong[s.Part]
	switch choice {
	case Accept:
		if wrong {
			r.miss(r.happens(WrongPart), r.Box(s.Part).Says)
		}
	case RefuseIt:
		r.Minutes += otherBox
		if wrong {
			r.finds(r.Box(s.Part).Says + " was in the box")
			r.Said = "Right: " + r.Box(s.Part).Says + ". The right one is brought."
		} else {
			r.Said = "It was the right one. Another like it is brought."
		}
	default:
		return refuse("choice", "The part is neither taken nor refused.", "Accept it or refuse it.")
	}
	r.settled[s.Part] = choice
	r.finish(s)
	return nil
}

// shears is the torque at which a fastener breaks off; 0 where its thread is not known.
func (r *Run) shears(j *plan.Joint) release.Pull {
	f, ok := j.Fastener()
	if !ok {
		return release.Pull{}
	}
	return release.Risk(f.Thread, f.Class, "1/2", release.Held{})
}

// Yields is the pull on a bar near which the shank begins to stay twisted, N·m; 0 where it is not known.
func (r *Run) Yields(s *plan.Step) float64 {
	if j := r.Plan.Joint(s.Joint); j != nil {
		return r.shears(j).Yields
	}
	return 0
}

// Breaks is the torque that breaks what sits fast loose, as things stand, and the one that
// shears it, N·m.
func (r *Run) Breaks(s *plan.Step) (loose, shears float64) {
	x := r.Stuck(s)
	j := r.Plan.Joint(s.Joint)
	loose = x.DryNm
	soak := fact.Fact{Subject: "penetrant", Place: string(s.Corner)}
	if is := r.Is(soak); is == "soaked" || is == "washed" || slices.Contains(r.tried[At(x.Joint, x.Letter)], "penetrant") {
		loose = x.SoakedNm
	}
	if shears = r.shears(j).Shears; shears == 0 {
		shears = 3 * x.SoakedNm
	}
	return loose, shears
}

func (r *Run) bar(s *plan.Step, let float64) error {
	if let <= 0 || let > 2000 {
		return refuse("let", "That is no pull of a hand.", "Say at how many newton metres you let go.")
	}
	loose, shears := r.Breaks(s)
	x := r.Stuck(s)
	r.Minutes++
	switch {
	case let >= min(loose, shears) && shears <= loose:
		r.broken(s, x, shears)
	case let >= loose:
		r.gave(s, x, fmt.Sprintf("came at %s", unit.Torque(loose).Both()))
	default:
		r.Said = fmt.Sprintf("It does not move at %s.", unit.Torque(let).Both())
	}
	return nil
}

// drilled is what a sheared fastener takes, minutes (common practice from memory).
const drilled = 25

func (r *Run) broken(s *plan.Step, x *Seized, at float64) {
	j := r.Plan.Joint(x.Joint)
	r.miss(r.happens(Sheared), j.One+" "+x.Letter+", "+j.Title)
	r.Minutes += drilled
	r.Said = fmt.Sprintf("It sheared at %s. Drilled out, the thread cleaned: %d minutes.",
		unit.Torque(at).Both(), drilled)
	r.off(s, x)
}

func (r *Run) gave(s *plan.Step, x *Seized, how string) {
	j := r.Plan.Joint(x.Joint)
	r.finds(j.One + " " + x.Letter + " of the " + j.Title + " sat fast, " + how)
	r.Said = unit.Capital(j.One) + " " + x.Letter + " " + how + "."
	r.off(s, x)
}

func (r *Run) off(s *plan.Step, x *Seized) {
	r.freed[At(x.Joint, x.Letter)] = true
	if r.Stuck(s) == nil {
		r.finish(s)
	}
}

// Ladder are the rungs for what sits fast at a step, as things stand.
func (r *Run) Ladder(s *plan.Step) (release.Ladder, error) {
	x := r.Stuck(s)
	if x == nil {
		return release.Ladder{}, refuse("step", "Nothing sits fast here.", "Go on.")
	}
	j := r.Plan.Joint(s.Joint)
	near, keep := r.know.Release.UsualAt(x.Kind,
		release.Met{Of: release.OfFastener, Treatment: string(j.Treatment), Drive: j.Spec.Drive, System: j.System})
	return r.know.Release.Climb(
		release.Case{Kind: x.Kind, Near: near, Keep: keep, Tried: r.tried[At(x.Joint, x.Letter)]})
}

func (r *Run) free(s *plan.Step, rung string) error {
	l, err := r.Ladder(s)
	if err != nil {
		return err
	}
	x := r.Stuck(s)
	t := l.Find(rung)
	if t == nil {
		return refuse("choice", "That is no rung of this ladder.", "Choose one that is shown.")
	}
	if t.Refused != "" {
		return refuse("choice", "Not here: "+t.Refused, "Choose another rung.")
	}
	at := At(x.Joint, x.Letter)
	r.tried[at] = append(r.tried[at], t.Key)
	r.Minutes += t.Minutes + t.Waits/soakPace
	switch lot := r.rng.Float64(); {
	case lot < t.Odds:
		r.gave(s, x, "came by "+strings.ToLower(t.Name))
	case lot > 1-t.Risk:
		_, shears := r.Breaks(s)
		r.broken(s, x, shears)
	default:
		r.Said = t.Name + ": it does not move yet."
	}
	return nil
}

// pulled takes one stage of one fastener. What was not good asks what is done about it.
func (r *Run) pulled(s *plan.Step, a Act) error {
	letter, stage := r.Turn(s)
	if a.Letter != letter || a.Reading == nil {
		return refuse("letter", "It is not that one's turn.", "Reload the page: it shows whose turn it is.")
	}
	r.Minutes += s.Minutes / float64(pulledBy*len(r.Plan.Joint(s.Joint).Read()))
	r.Said = a.Reading.Says
	if a.Reading.Verdict != pull.Keep {
		r.Bad = &a
		return nil
	}
	if j := r.Plan.Joint(s.Joint); r.Recipe(j) != j.Recipe {
		r.miss(r.happens(WrongFigure), "the "+j.Title)
	}
	r.paid(s, letter, stage+1)
	return nil
}

// paid books a stage; the last of the last makes the step.
func (r *Run) paid(s *plan.Step, letter string, stages int) {
	j := r.Plan.Joint(s.Joint)
	r.stages[At(j.ID, letter)] = stages
	if next, _ := r.Turn(s); next == "" {
		r.keep(s)
	}
}

// renewed is what a new bolt or nut takes, minutes (common practice).
const renewed = 3

func (r *Run) then(s *plan.Step, a Act) error {
	if r.Bad == nil || r.Bad.Step != s.ID {
		return refuse("then", "No pull waits for that.", "Go on.")
	}
	bad := *r.Bad
	j := r.Plan.Joint(s.Joint)
	at := At(j.ID, bad.Letter)
	switch a.Choice {
	case PullOn:
		if bad.Reading.Signature != pull.Low && bad.Reading.Signature != pull.AngleShort {
			r.miss(r.happens(BadPull), j.One+" "+bad.Letter+", "+j.Title)
		}
	case RenewIt:
		r.Minutes += renewed
		if r.Plays[at] != "" {
			r.finds("a bad " + j.One + " in the " + j.Title)
			delete(r.Plays, at)
		}
		r.stages[at] = 0
	case KeepSo:
		r.miss(r.happens(BadPull), j.One+" "+bad.Letter+", "+j.Title)
		_, stage := r.Turn(s)
		r.Bad = nil
		r.paid(s, bad.Letter, stage+1)
		return nil
	default:
		return refuse("then", "It is not said what is done about that pull.", "Pull on, renew, or keep it so.")
	}
	r.Bad = nil
	return nil
}
