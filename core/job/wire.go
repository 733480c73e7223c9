package job

import (
	"cmp"
	"maps"
	"slices"

	"lugtak/core/fact"
	"lugtak/core/inspect"
	"lugtak/core/operation"
	"lugtak/core/part"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// What the journal keeps and what the rules work with are different types with one
// plain conversion each way, so that neither can change the other.

// each converts a list, and leaves one that is not there as it is.
func each[A, B any](list []A, convert func(A) B) []B {
	if list == nil {
		return nil
	}
	out := make([]B, len(list))
	for i, a := range list {
		out[i] = convert(a)
	}
	return out
}

func texts[S ~string](list []S) []string {
	return each(list, func(s S) string { return string(s) })
}

func stepIDs(list []string) []operation.StepID {
	return each(list, func(s string) operation.StepID { return operation.StepID(s) })
}

func toPoint(p operation.Point) record.Point   { return record.Point(p) }
func fromPoint(p record.Point) operation.Point { return operation.Point(p) }

func toVehicle(v vehicle.Vehicle) record.Vehicle   { return record.Vehicle(v) }
func fromVehicle(v record.Vehicle) vehicle.Vehicle { return vehicle.Vehicle(v) }

func toPlan(p plan.Plan) record.Plan {
	return record.Plan{
		Title:       p.Title,
		Tasks:       each(p.Tasks, toTask),
		Pattern:     p.Pattern,
		Invented:    p.Invented,
		Sources:     p.Sources,
		Warnings:    p.Warnings,
		Outline:     record.Outline(p.Outline),
		Scenes:      each(p.Scenes, toScene),
		Joints:      each(p.Joints, toJoint),
		Parts:       each(p.Parts, toPart),
		Drive:       each(p.Drive, toManoeuvre),
		Schools:     each(p.Schools, toSchool),
		Steps:       each(p.Steps, toStep),
		Technicians: p.Technicians,
		Builds:      each(p.Builds, toBuild),
		Facts:       toFacts(p.World),
		Laws:        each(p.World.Laws, toLaw),
		Tended:      each(p.World.Tended, toTended),
		GearOil:     record.Window(p.GearOil),
		Without:     p.Without,
		Free:        toDraft(p.Free),
	}
}

func toDraft(d *operation.Draft) *record.Draft {
	if d == nil {
		return nil
	}
	return &record.Draft{
		Title: d.Title,
		Under: d.Under,
		From:  string(d.From),
		Sets:  d.Sets,
		Acts: each(d.Acts, func(a operation.DraftAct) record.DraftAct {
			return record.DraftAct{
				Do: string(a.Do), Title: a.Title, System: a.System, Count: a.Count, Spot: (*record.Point)(a.Spot), New: a.New,
			}
		}),
	}
}

func fromDraft(d *record.Draft) *operation.Draft {
	if d == nil {
		return nil
	}
	return &operation.Draft{
		Title: d.Title,
		Under: d.Under,
		From:  operation.Stance(d.From),
		Sets:  d.Sets,
		Acts: each(d.Acts, func(a record.DraftAct) operation.DraftAct {
			return operation.DraftAct{
				Do: operation.Deed(a.Do), Title: a.Title, System: a.System, Count: a.Count, Spot: (*operation.Point)(a.Spot),
				New: a.New,
			}
		}),
	}
}

func fromPlan(p record.Plan) plan.Plan {
	return plan.Plan{
		Title:       p.Title,
		Tasks:       each(p.Tasks, fromTask),
		Pattern:     p.Pattern,
		Invented:    p.Invented,
		Sources:     p.Sources,
		Warnings:    p.Warnings,
		Outline:     vehicle.Outline(p.Outline),
		Scenes:      each(p.Scenes, fromScene),
		Joints:      each(p.Joints, fromJoint),
		Parts:       each(p.Parts, fromPart),
		Drive:       each(p.Drive, fromManoeuvre),
		Schools:     each(p.Schools, fromSchool),
		Steps:       each(p.Steps, fromStep),
		Technicians: p.Technicians,
		Builds:      each(p.Builds, fromBuild),
		World:       fromFacts(p.Facts, p.Laws, p.Tended),
		GearOil:     vehicle.Window(p.GearOil),
		Without:     p.Without,
		Free:        fromDraft(p.Free),
	}
}

// anything stands at a fact that may end in any way.
const anything = "*"

func toFacts(w fact.World) []record.FactAt {
	var out []record.FactAt
	for _, f := range slices.SortedFunc(maps.Keys(w.Rest), fact.Compare) {
		at := record.FactAt{Fact: f.String(), Rest: string(w.Rest[f])}
		end, said := w.End[f]
		switch {
		case said && end == nil:
			at.End = []string{anything}
		case said:
			at.End = texts(end)
		}
		out = append(out, at)
	}
	return out
}

func fromFacts(facts []record.FactAt, laws []record.Law, tended []record.Tended) fact.World {
	if facts == nil {
		return fact.World{}
	}
	w := fact.World{
		Rest: map[fact.Fact]fact.Value{},
		End:  map[fact.Fact]fact.Values{},
		Laws: each(laws, fromLaw),
		Tended: each(tended, func(t record.Tended) fact.Tended {
			return fact.Tended{Fact: fromFact(t.Fact), Values: values(t.Values), Minutes: t.Minutes, Attended: t.Attended,
				Over: t.Over}
		}),
	}
	for _, x := range facts {
		f := fromFact(x.Fact)
		w.Rest[f] = fact.Value(x.Rest)
		switch {
		case slices.Equal(x.End, []string{anything}):
			w.End[f] = nil
		case x.End != nil:
			w.End[f] = values(x.End)
		}
	}
	return w
}

// fromFact reads a fact of the journal, which wrote it.
func fromFact(text string) fact.Fact {
	f, _ := fact.Parse(text)
	return f
}

func values(list []string) fact.Values {
	return each(list, func(s string) fact.Value { return fact.Value(s) })
}

func toWant(w fact.Want) record.Want {
	return record.Want{Fact: w.Fact.String(), Values: texts(w.Values), Because: w.Because}
}

func fromWant(w record.Want) fact.Want {
	return fact.Want{Fact: fromFact(w.Fact), Values: values(w.Values), Because: w.Because}
}

func toMake(m fact.Make) record.Make {
	return record.Make{Fact: m.Fact.String(), Value: string(m.Value)}
}

func fromMake(m record.Make) fact.Make {
	return fact.Make{Fact: fromFact(m.Fact), Value: fact.Value(m.Value)}
}

// toLaw leaves the reasons of what a law asks out: each of them is the law.
func toLaw(l fact.Law) record.Law {
	out := record.Law{
		ID:     l.ID,
		Says:   l.Says,
		Fact:   l.On.String(),
		Values: texts(l.Values),
		Must:   each(l.Must, toWant),
		While:  l.While,
		Clear:  l.Clear,
	}
	for i := range out.Must {
		if out.Must[i].Because == l.Says {
			out.Must[i].Because = ""
		}
	}
	return out
}

func toTended(t fact.Tended) record.Tended {
	return record.Tended{Fact: t.Fact.String(), Values: texts(t.Values), Minutes: t.Minutes, Attended: t.Attended,
		Over: t.Over}
}

func fromLaw(l record.Law) fact.Law {
	out := fact.Law{
		ID:     l.ID,
		Says:   l.Says,
		On:     fromFact(l.Fact),
		Values: values(l.Values),
		Must:   each(l.Must, fromWant),
		While:  l.While,
		Clear:  l.Clear,
	}
	for i := range out.Must {
		out.Must[i].Because = cmp.Or(out.Must[i].Because, l.Says)
	}
	return out
}

func toBuild(b plan.BuildUsed) record.BuildUsed {
	return record.BuildUsed{
		Key:      b.Key,
		Question: b.Question,
		Look:     b.Look,
		Assume:   b.Assume,
		Answers: each(b.Answers, func(a operation.BuildAnswer) record.BuildAnswer {
			return record.BuildAnswer{Key: a.Key, Title: a.Title, Shapes: each(a.Shapes, toShape)}
		}),
		Is:      b.Is,
		Known:   b.Known,
		Decides: texts(b.Decides),
	}
}

func fromBuild(b record.BuildUsed) plan.BuildUsed {
	return plan.BuildUsed{
		Build: operation.Build{
			Key:      b.Key,
			Question: b.Question,
			Look:     b.Look,
			Assume:   b.Assume,
			Answers: each(b.Answers, func(a record.BuildAnswer) operation.BuildAnswer {
				return operation.BuildAnswer{Key: a.Key, Title: a.Title, Shapes: each(a.Shapes, fromShape)}
			}),
		},
		Is:      b.Is,
		Known:   b.Known,
		Decides: stepIDs(b.Decides),
	}
}

func toShape(x operation.Shape) record.Shape {
	return record.Shape{Kind: x.Kind, Role: x.Role, Points: each(x.Points, toPoint), Radius: x.Radius}
}

func fromShape(x record.Shape) operation.Shape {
	return operation.Shape{Kind: x.Kind, Role: x.Role, Points: each(x.Points, fromPoint), Radius: x.Radius}
}

func toTask(t plan.Task) record.Task {
	return record.Task{Operation: t.Operation, Corner: string(t.Corner)}
}

func fromTask(t record.Task) plan.Task {
	return plan.Task{Operation: t.Operation, Corner: vehicle.Corner(t.Corner)}
}

func toScene(s plan.Scene) record.Scene {
	return record.Scene{Corner: string(s.Corner), Joints: s.Joints, Like: s.Like}
}

func fromScene(s record.Scene) plan.Scene {
	return plan.Scene{Corner: vehicle.Corner(s.Corner), Joints: s.Joints, Like: s.Like}
}

func toSchool(s plan.SchoolUsed) record.SchoolUsed {
	return record.SchoolUsed{
		Key:      s.Key,
		Question: s.Question,
		Ways:     each(s.Ways, func(w operation.SchoolWay) record.Way { return record.Way(w) }),
		Default:  s.Default,
		Because:  s.Because,
		Way:      s.Way,
	}
}

func fromSchool(s record.SchoolUsed) plan.SchoolUsed {
	return plan.SchoolUsed{
		School: operation.School{
			Key:      s.Key,
			Question: s.Question,
			Ways:     each(s.Ways, func(w record.Way) operation.SchoolWay { return operation.SchoolWay(w) }),
			Default:  s.Default,
			Because:  s.Because,
		},
		Way: s.Way,
	}
}

func toPart(p operation.Part) record.Part {
	return record.Part{
		Key:    p.Key,
		Title:  p.Title,
		Count:  p.Count,
		OneUse: p.OneUse,
		Used:   p.Used,
		Kind:   p.Kind,
		Sided:  p.Sided,
	}
}

func fromPart(p record.Part) operation.Part {
	return operation.Part{
		Key:    p.Key,
		Title:  p.Title,
		Count:  p.Count,
		OneUse: p.OneUse,
		Used:   p.Used,
		Kind:   p.Kind,
		Sided:  p.Sided,
	}
}

func toStep(s plan.Step) record.Step {
	return record.Step{
		ID:       string(s.ID),
		Verb:     string(s.Verb),
		Title:    s.Title,
		How:      s.How,
		Place:    s.Place,
		Joint:    s.Joint,
		Stages:   s.Stages,
		Again:    s.AfterDrive,
		Tool:     s.Tool,
		Minutes:  s.Minutes,
		People:   s.People,
		Pair:     toPair(s.Two),
		Position: string(s.Position),
		MovesTo:  string(s.MovesTo),
		Holds:    s.Holds,
		LetsGo:   s.LetsGo,
		Puts:     s.Puts,
		Takes:    s.Takes,
		Proves:   string(s.Proves),
		Needs:    texts(s.Needs),
		Because:  s.Because,
		Caution:  s.Caution,
		Choices:  each(s.Answers, func(a operation.Answer) record.Answer { return record.Answer(a) }),
		Compares: s.Compares,
		Measures: s.Measures,
		Anew:     s.Anew,
		Part:     s.Part,
		Books:    s.Books,
		Counts:   s.Counts,
		Shared:   s.Shared,
		Corner:   string(s.Corner),
		Owner:    s.Owner,
		Scene:    s.Scene,
		Low:      s.Low,
		High:     s.High,
		Timed:    s.Timed,
		Uses:     s.Uses,
		Snug:     s.Snug,
		Wants:    each(s.Wants, toWant),
		Makes:    each(s.Makes, toMake),
		Frees:    s.Frees,
	}
}

func toPair(p operation.Pair) *record.Pair {
	if p.One == "" {
		return nil
	}
	return &record.Pair{One: p.One, Two: p.Two, Words: p.Words}
}

func fromPair(p *record.Pair) operation.Pair {
	if p == nil {
		return operation.Pair{}
	}
	return operation.Pair{One: p.One, Two: p.Two, Words: p.Words}
}

func fromStep(s record.Step) plan.Step {
	return plan.Step{
		Step: operation.Step{
			ID:         operation.StepID(s.ID),
			Verb:       operation.Verb(s.Verb),
			Title:      s.Title,
			How:        s.How,
			Place:      s.Place,
			Joint:      s.Joint,
			Stages:     s.Stages,
			AfterDrive: s.Again,
			Tool:       s.Tool,
			Minutes:    s.Minutes,
			People:     s.People,
			Puts:       s.Puts,
			Takes:      s.Takes,
			Proves:     operation.Proof(s.Proves),
			Because:    s.Because,
			Caution:    s.Caution,
			Answers:    each(s.Choices, func(a record.Answer) operation.Answer { return operation.Answer(a) }),
			Compares:   s.Compares,
			Measures:   s.Measures,
			Anew:       s.Anew,
			Part:       s.Part,
			Books:      s.Books,
			Counts:     s.Counts,
			Shared:     s.Shared,
			Uses:       s.Uses,
			Snug:       s.Snug,
		},
		Two:      fromPair(s.Pair),
		Position: plan.Position(s.Position),
		MovesTo:  plan.Position(s.MovesTo),
		Holds:    s.Holds,
		LetsGo:   s.LetsGo,
		Needs:    stepIDs(s.Needs),
		Corner:   vehicle.Corner(s.Corner),
		Owner:    s.Owner,
		Scene:    s.Scene,
		Low:      s.Low,
		High:     s.High,
		Timed:    s.Timed,
		Wants:    each(s.Wants, fromWant),
		Makes:    each(s.Makes, fromMake),
		Frees:    s.Frees,
	}
}

func toResult(r pull.Result) record.Result {
	return record.Result{
		Stages: each(r.Stages, func(x pull.StageResult) record.StageResult {
			return record.StageResult{
				Kind:     string(x.Kind),
				TorqueNm: x.TorqueNm,
				AngleDeg: x.AngleDeg,
				Verdict:  x.Verdict,
			}
		}),
		Signature: string(r.Signature),
		Sure:      r.Sure,
		LeftDeg:   r.LeftDeg,
		Verdict:   string(r.Verdict),
		Reasons:   each(r.Reasons, func(x pull.Reason) record.Reason { return record.Reason(x) }),
		PeakNm:    r.PeakNm,
		SnugDeg:   r.SnugDeg,
		SlopeNmD:  r.SlopeNmD,
		TurnDeg:   r.TurnDeg,
	}
}

func fromResult(r record.Result) pull.Result {
	return pull.Result{
		Stages: each(r.Stages, func(x record.StageResult) pull.StageResult {
			return pull.StageResult{
				Kind:     recipe.Kind(x.Kind),
				TorqueNm: x.TorqueNm,
				AngleDeg: x.AngleDeg,
				Verdict:  x.Verdict,
			}
		}),
		Signature: pull.Signature(r.Signature),
		Sure:      r.Sure,
		LeftDeg:   r.LeftDeg,
		Verdict:   pull.Verdict(r.Verdict),
		Reasons:   each(r.Reasons, func(x record.Reason) pull.Reason { return pull.Reason(x) }),
		PeakNm:    r.PeakNm,
		SnugDeg:   r.SnugDeg,
		SlopeNmD:  r.SlopeNmD,
		TurnDeg:   r.TurnDeg,
	}
}

func toAccount(a Account) *record.Account {
	out := &record.Account{Opened: a.Opened(), Renewed: a.Renewed(), Grades: map[string]int{}}
	for _, x := range a.Fasteners {
		out.Grades[string(x.Grade)]++
	}
	return out
}

func toFall(f inspect.Fall) record.Fall   { return record.Fall(f) }
func fromFall(f record.Fall) inspect.Fall { return inspect.Fall(f) }
func toPeak(p inspect.Peak) record.Peak   { return record.Peak(p) }
func fromPeak(p record.Peak) inspect.Peak { return inspect.Peak(p) }

func toDifference(d part.Difference) record.Difference { return record.Difference(d) }

func toManoeuvre(m operation.Manoeuvre) record.Manoeuvre {
	return record.Manoeuvre{
		Do:        m.Do,
		Listen:    m.Listen,
		Stops:     m.Stops,
		FromKMH:   m.FromKMH,
		ToKMH:     m.ToKMH,
		IntervalS: m.IntervalS,
		KMH:       m.KMH,
		Surface:   m.Surface,
		Feel:      m.Feel,
		Watch:     m.Watch,
		Stop:      m.Stop,
	}
}

func fromManoeuvre(m record.Manoeuvre) operation.Manoeuvre {
	return operation.Manoeuvre{
		Do:        m.Do,
		Listen:    m.Listen,
		Stops:     m.Stops,
		FromKMH:   m.FromKMH,
		ToKMH:     m.ToKMH,
		IntervalS: m.IntervalS,
		Driving:   operation.Driving{KMH: m.KMH, Surface: m.Surface, Feel: m.Feel, Watch: m.Watch, Stop: m.Stop},
	}
}
