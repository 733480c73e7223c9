package job

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/claim"
	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/part"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
)

var (
	morning = time.Date(2026, 11, 24, 8, 0, 0, 0, time.UTC)
	big     = wrench.Tool{
		ID:         "w",
		Name:       "wrench",
		Kind:       "click",
		MaxNm:      200,
		StepNm:     1,
		Drive:      "1/2",
		LengthMM:   500,
		Calibrated: morning.AddDate(0, -1, 0),
	}
)

// bench is a job under test with a hand to work it.
type bench struct {
	t  *testing.T
	s  *State
	n  int
	by string

	journal []Event
}

// small is a plan with the shapes that matter: a bearing nut that is set in the
// air, bolts that go round twice, a bracket on the brake, wheel nuts owed again.
func small(t *testing.T) plan.Plan {
	t.Helper()
	op := operation.Operation{
		ID:      "small",
		Title:   "Small",
		Family:  "tests",
		Version: 1,
		Axle:    "front",
		Steps: []operation.Step{
			{ID: "soak", Verb: operation.Soak, Title: "soak", Minutes: 10},
			{ID: "crack", Verb: operation.Crack, Joint: "wheel", Title: "crack wheel", Minutes: 1},
			{ID: "raise", Verb: operation.Move, Title: "raise", Minutes: 1, Needs: []operation.StepID{"crack"},
				Puts: []string{"axle stand"}},
			{ID: "off", Verb: operation.Remove, Joint: "wheel", Title: "wheel off", Minutes: 1},
			{ID: "nutcrack", Verb: operation.Crack, Joint: "nut", Title: "nut loose", Minutes: 1},
			{ID: "nutout", Verb: operation.Remove, Joint: "nut", Title: "nut out", Minutes: 1,
				Needs: []operation.StepID{"nutcrack"}},
			{ID: "boltout", Verb: operation.Remove, Joint: "bolts", Title: "bolts out", Minutes: 1},
			{ID: "bracketout", Verb: operation.Remove, Joint: "bracket", Title: "bracket out", Minutes: 1},
			{ID: "boltin", Verb: operation.Start, Joint: "bolts", Title: "bolts in", Minutes: 1,
				Needs: []operation.StepID{"boltout"}},
			{ID: "bolt1", Verb: operation.Tighten, Joint: "bolts", Stages: []int{1, 1}, Title: "round 1", Minutes: 1},
			{ID: "bolt2", Verb: operation.Tighten, Joint: "bolts", Stages: []int{2, 2}, Title: "round 2",
				Minutes: 1, Needs: []operation.StepID{"bolt1"}},
			{ID: "bracketin", Verb: operation.Start, Joint: "bracket", Title: "bracket in", Minutes: 1,
				Needs: []operation.StepID{"bracketout"}},
			{ID: "bracket1", Verb: operation.Tighten, Joint: "bracket", Title: "bracket tight", Minutes: 1},
			{ID: "nutin", Verb: operation.Start, Joint: "nut", Title: "nut in", Minutes: 1,
				Needs: []operation.StepID{"nutout"}},
			{ID: "pedal", Verb: operation.Act, Title: "pump", Minutes: 1, Proves: "pedal"},
			{ID: "hold", Verb: operation.Act, Title: "hold the hub", Minutes: 1},
			{ID: "nut1", Verb: operation.Tighten, Joint: "nut", Title: "nut tight", Minutes: 1},
			{ID: "wheelin", Verb: operation.Start, Joint: "wheel", Title: "wheel on", Minutes: 1,
				Needs: []operation.StepID{"off"}},
			{ID: "lower", Verb: operation.Move, Title: "lower", Minutes: 1, Takes: []string{"axle stand"},
				Needs: []operation.StepID{"wheelin"}},
			{ID: "wheel1", Verb: operation.Tighten, Joint: "wheel", Title: "wheel tight", Minutes: 1},
			{ID: "drive", Verb: operation.Drive, Title: "drive", Minutes: 1, Proves: "drive",
				Needs: []operation.StepID{"pedal", "wheel1"}},
			{ID: "again", Verb: operation.Tighten, Joint: "wheel", AfterDrive: true, Title: "again", Minutes: 1,
				Needs: []operation.StepID{"drive"}},
		},
		Joints: []operation.Joint{
			{Key: "wheel", Spec: "hub.front.wheel", Title: "wheel nuts", One: "wheel nut", System: "wheel",
				Star: true, AfterDrive: true, Fasteners: 4},
			{Key: "nut", Spec: "hub.front.axle", Title: "axle nut", One: "axle nut", System: "hub", Bears: true,
				Fasteners: 1},
			{Key: "bolts", Spec: "hub.front.knuckle", Title: "knuckle bolts", One: "knuckle bolt",
				System: "hub", Fasteners: 3},
			{Key: "bracket", Spec: "brake.front.bracket", Title: "bracket", One: "bracket bolt",
				System: plan.Brake},
		},
	}
	pat := vehicle.Pattern{ID: "p", Name: "P", Operations: []string{"small"}, Spec: map[string]vehicle.Spec{
		"hub.front.wheel": {Recipe: "130 Nm ×2", Thread: "M14x1.5", Class: "10.9", Condition: "wheel on ground",
			Source: "invented"},
		"hub.front.axle": {Recipe: "125 Nm; back off full; 85 Nm + 40°", Thread: "M24x1.5", Class: "8.8",
			Condition: "hanging", Held: true, Source: "invented"},
		"hub.front.knuckle": {Recipe: "60 Nm + 90°", Thread: "M12x1.5", Class: "10.9", Condition: "any",
			Renew: true, Hardware: "bolt", Source: "invented"},
		"brake.front.bracket": {Recipe: "115 Nm", Thread: "M12x1.5", Class: "10.9", Condition: "any", Source: "invented"},
	}}
	know := plan.Knowledge{Operations: []operation.Operation{op}}
	made, err := plan.Compile(plan.Order{
		Tasks:     []plan.Task{{Operation: "small", Corner: "FL"}},
		Pattern:   pat,
		Knowledge: &know,
	})
	if err != nil {
		t.Fatal(err)
	}
	// Only the needs written above, and where the vehicle stands: a plan as the first
	// releases made them. Names are as above, for the tests' sake.
	made.World = fact.World{}
	made.Steps = nil
	for _, x := range op.Steps {
		s := smallStands[x.ID]
		s.Step = x
		s.Needs = x.Needs
		s.Step.Needs = nil
		if x.Joint != "" {
			s.Joint = map[string]string{"wheel": "hub.FL.wheel", "nut": "hub.FL.axle", "bolts": "hub.FL.knuckle",
				"bracket": "brake.FL.bracket"}[x.Joint]
		}
		s.Tool = cmp.Or(x.Tool, toolOf(x))
		s.Owner = "small"
		s.Corner = "FL"
		made.Steps = append(made.Steps, s)
	}
	return made
}

// smallStands is where the small plan's vehicle stands, and who holds what.
var smallStands = map[operation.StepID]plan.Step{
	"crack": {Position: plan.Ground},
	"raise": {Position: plan.Ground, MovesTo: plan.Raised},
	"off":   {Position: plan.Raised},
	"hold":  {Holds: true},
	"lower": {MovesTo: plan.Touching},
}

func toolOf(x operation.Step) string {
	if x.Verb == operation.Start {
		return "by hand"
	}
	return ""
}

func begin(t *testing.T) *bench {
	t.Helper()
	b := &bench{t: t, s: Replay(nil), by: "technician A"}
	b.must(
		Start{
			Job:        "j",
			Vehicle:    vehicle.Vehicle{ID: "v", Fleet: "Q-14"},
			Complaint:  "hum",
			OdometerKM: 1,
			Plan:       small(t),
			House:      House{Second: []string{"brake", "steering"}},
		},
	)
	return b
}

func (b *bench) meta() Meta {
	b.n++
	id := fmt.Sprintf("c%d", b.n)
	if b.n == 1 {
		id = "start:job1"
	}
	return Meta{ID: record.EventID(id), By: b.by, Role: Technician, At: morning.Add(time.Duration(b.n) * time.Minute)}
}

func (b *bench) do(m Meta, c Command) error {
	ev, err := Decide(b.s, m, c)
	for _, e := range ev {
		b.s = Apply(b.s, e)
		b.journal = append(b.journal, e)
	}
	return err
}

func (b *bench) must(c Command) {
	b.t.Helper()
	if err := b.do(b.meta(), c); err != nil {
		b.t.Fatalf("%T %+v: %v", c, c, err)
	}
}

func (b *bench) refused(c Command, code fault.Code, says string) {
	b.t.Helper()
	before := b.s
	err := b.do(b.meta(), c)
	f := fault.As(err)
	if f == nil || f.Code != code || f.Remedy == "" || !strings.Contains(f.Error(), says) {
		b.t.Errorf("%T %+v: %v; want %s saying %q with a remedy", c, c, err, code, says)
	}
	if b.s != before {
		b.t.Errorf("%T: a refusal left a trace", c)
	}
}

func (b *bench) step(ids ...operation.StepID) {
	b.t.Helper()
	for _, id := range ids {
		st := b.s.Plan.Step(id)
		switch st.Verb {
		case operation.Crack, operation.Remove:
			b.must(Handle{Step: id})
		case operation.Start: // new hardware is confirmed piece by piece
			for l := b.s.Current(st); l != ""; l = b.s.Current(st) {
				b.must(Handle{Step: id, Letters: []string{l}, Renewed: true})
			}
		case operation.Tighten:
			for b.s.Current(st) != "" && !b.s.StepDone(id) {
				b.tighten(id, 0)
			}
		default:
			if p, ok := b.s.Plan.Compared(st); ok && b.s.Match(p.Key) == nil {
				b.must(alike(id, p.Kind))
			}
			keep := KeepStep{Step: id}
			if st.Proves == "pedal" {
				keep.Strokes = 5
			}
			b.must(keep)
		}
	}
}

// alike is a new part that measures as the old one does.
func alike(step operation.StepID, kind string) Compare {
	measured := map[string]float64{}
	for _, field := range part.Deciding(kind) {
		measured[field] = 10
	}
	return Compare{Step: step, Old: measured, New: measured, Accept: true}
}

// at is the step's exact next fastener and the stage it is at.
func (b *bench) at(step operation.StepID) (joint, letter string, stage recipe.Stage) {
	st := b.s.Plan.Step(step)
	letter = b.s.Current(st)
	return st.Joint, letter, b.s.Stages(st.Joint)[b.s.Fastener(st.Joint, letter).Done]
}

// set states what the wrench stands at for that fastener, off by a factor; where the
// stage is an angle, that the marks are on.
func (b *bench) set(step operation.StepID, off float64) SetWrench {
	joint, letter, stage := b.at(step)
	c := SetWrench{Step: step, Joint: joint, Letter: letter}
	if stage.Kind == recipe.Torque {
		c.Tool = big
		c.ToolID = big.ID
		c.SetNm = stage.Target() * (1 + off)
	}
	return c
}

// claims is that person's hand on a tool, on that fastener, now.
func (b *bench) claims(tool, joint, letter string) claim.Claim {
	now := morning.Add(time.Duration(b.n) * time.Minute)
	return claim.Claim{ID: "claim", Tool: tool, Job: b.s.ID, Joint: joint, Letter: letter, By: b.by, At: now}
}

// turned is the second act: the click, or what the mark says.
func (b *bench) turned(step operation.StepID) Command {
	joint, letter, stage := b.at(step)
	if stage.Kind == recipe.Torque {
		return Click{Step: step, Joint: joint, Letter: letter, Claim: b.claims(big.ID, joint, letter)}
	}
	return Turn{Step: step, Joint: joint, Letter: letter, Means: ByMark}
}

// tighten carries that fastener one stage on, by both acts.
func (b *bench) tighten(step operation.StepID, off float64) {
	b.t.Helper()
	_, _, stage := b.at(step)
	if stage.Kind == recipe.Torque || stage.Kind == recipe.Angle {
		b.must(b.set(step, off))
	}
	b.must(b.turned(step))
}

var toTheWheel = []operation.StepID{
	"crack", "raise", "off", "nutcrack", "nutout", "boltout", "bracketout", "soak", "boltin", "bolt1",
	"bolt2", "bracketin", "bracket1", "nutin", "pedal", "hold", "nut1", "wheelin",
}

// gate finds one of the gates, nil where none has that key.
func (b *bench) gate(key string) *Gate {
	all := b.s.Gates()
	i := slices.IndexFunc(all, func(g Gate) bool { return g.Key == key })
	if i < 0 {
		return nil
	}
	return &all[i]
}

// own is the state to be changed by hand, apart from the one that was applied to.
func (b *bench) own() *State {
	b.s = b.s.clone()
	b.s.Plan.Steps = slices.Clone(b.s.Plan.Steps)
	b.s.Plan.Joints = slices.Clone(b.s.Plan.Joints)
	return b.s
}
