package library

import (
	"fmt"
	"slices"
	"strings"

	"lugtak/core/diagnose"
	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/release"
	"lugtak/core/thread"
	"lugtak/core/vehicle"
)

// everyFact stands in a law for each fact there is.
const everyFact = "*"

// takeLaws adds laws that speak of facts there are.
func (l *Library) takeLaws(file string, doc *document) {
	var laws []operation.Law
	if !doc.decode(l, file, &laws) {
		return
	}
	sound := true
	for i, law := range laws {
		at := fmt.Sprintf("$[%d]", i)
		faults := l.checkWants(file, doc, at, []operation.Want{law.On}, nil)
		for k, w := range law.Wants {
			if w.Fact != everyFact {
				want := operation.Want{Fact: w.Fact, Value: w.Value}
				faults = append(faults, l.checkWant(file, doc, fmt.Sprintf("%s.wants[%d]", at, k), want, nil)...)
			}
		}
		l.Faults = append(l.Faults, faults...)
		sound = sound && len(faults) == 0
	}
	if l.Laws = laws; !sound { // those that ship, rather than some of the shop's own
		l.Laws = lawsThatShip()
	}
}

func lawsThatShip() (laws []operation.Law) {
	const name = "laws.yaml"
	data, err := embedded.ReadFile(name)
	if doc, faults := read(name, data); err == nil && len(faults) == 0 {
		doc.decode(&Library{}, name, &laws)
	}
	return laws
}

// takeRelease takes what frees what is stuck, where all it names is there: rungs by
// their keys, things by their names, and shares that make a whole.
func (l *Library) takeRelease(file string, doc *document) {
	var k release.Knowledge
	if !doc.decode(l, file, &k) {
		return
	}
	faults := len(l.Faults)
	for _, m := range k.Check() {
		l.Faults = append(l.Faults, doc.fault(file, m.Field, m.Detail, m.Remedy))
	}
	if len(l.Faults) == faults {
		l.Release = k
	}
}

// takeWay adds a way that turns a fact there is, by facts there are.
func (l *Library) takeWay(file string, doc *document) {
	var w operation.Way
	if !doc.decode(l, file, &w) {
		return
	}
	to := operation.Want{Fact: w.Fact, Value: string(w.To)}
	faults := l.checkWant(file, doc, "$.fact", to, nil)
	faults = append(faults, l.checkWants(file, doc, "$.wants", w.Wants, w.Joints)...)
	faults = append(faults, l.checkSteps(file, doc, "$.open", w.Open, w.Joints)...)
	faults = append(faults, l.checkSteps(file, doc, "$.close", w.Close, w.Joints)...)
	faults = append(faults, l.checkWhen(file, doc, "$.when", w.When)...)
	if l.Faults = append(l.Faults, faults...); len(faults) == 0 {
		l.Ways = append(l.Ways, w)
	}
}

// checkSteps looks at what steps want, make and depend on.
func (l *Library) checkSteps(
	file string,
	doc *document,
	at string,
	steps []operation.Step,
	joints []operation.Joint,
) []Fault {
	var out []Fault
	for i, s := range steps {
		here := fmt.Sprintf("%s[%d]", at, i)
		out = append(out, l.checkWants(file, doc, here+".wants", s.Wants, joints)...)
		out = append(out, l.checkWhen(file, doc, here+".when", s.When)...)
		if s.Pair != "" && !slices.ContainsFunc(l.Pairs, func(p operation.Pair) bool { return p.Key == s.Pair }) {
			out = append(out, doc.fault(file, here+".pair", "“"+s.Pair+"” is no pair of hands.", "Name one of pairs.yaml."))
		}
		for k, key := range s.Measures {
			if l.measurable(key) {
				continue
			}
			out = append(out, doc.fault(file, fmt.Sprintf("%s.measures[%d]", here, k), "“"+key+"” is no limit.",
				"Name one of limits.yaml, or rotor, lash."))
		}
		for subject, value := range s.Makes {
			out = append(
				out,
				l.checkWant(file, doc, here+".makes."+subject, operation.Want{Fact: subject, Value: value}, nil)...)
		}
	}
	return out
}

// checkSuspects looks whether what a suspect fits is asked of a vehicle.
func (l *Library) checkSuspects(file string, doc *document) {
	for i, s := range l.Signs.Suspects {
		l.Faults = append(l.Faults, l.checkWhen(file, doc, fmt.Sprintf("$[%d].fits", i), s.Fits)...)
	}
}

// checkThen looks whether what is asked first of a complaint is asked at all.
func (l *Library) checkThen(file string, doc *document, rows []diagnose.Evidence) {
	for i, e := range rows {
		for k, key := range e.Then {
			if !slices.ContainsFunc(l.Signs.Evidence, func(x diagnose.Evidence) bool { return x.Key == key }) {
				l.Faults = append(l.Faults, doc.fault(file, fmt.Sprintf("$[%d].then[%d]", i, k),
					"It asks "+key+" first, which is no sign.", "Name one of the signs or tests."))
			}
		}
	}
}

// checkLimits looks whether the signs that limits answer are there.
func (l *Library) checkLimits(file string, doc *document, rows inspect.Limits) {
	for i, x := range rows.Measures {
		named := func(e diagnose.Evidence) bool { return e.Key == x.Sign }
		if x.Sign != "" && !slices.ContainsFunc(l.Signs.Evidence, named) {
			l.Faults = append(l.Faults, doc.fault(file, fmt.Sprintf("$.measures[%d].sign", i),
				"It answers "+x.Sign+", which is no sign.", "Name one of the signs or tests."))
		}
	}
}

// measurable says that there is a limit, or a form, for a measure.
func (l *Library) measurable(key string) bool {
	_, known := l.Limits.Measure(key)
	return known || key == inspect.RotorKey || key == inspect.LashKey
}

// checkWhen looks whether what a step depends on is a question, with that answer.
func (l *Library) checkWhen(file string, doc *document, at string, when map[string][]string) []Fault {
	var out []Fault
	for key, answers := range when {
		known := l.answers(key)
		switch key {
		case operation.AxleKey:
			known = []string{"front", "rear"}
		case operation.SideKey:
			known = []string{"left", "right"}
		case operation.EndsKey:
			known = []string{"front", "rear", operation.BothEnds}
		case operation.ClampedKey:
			known = []string{"yes", "no"}
		}
		if known == nil {
			out = append(out, doc.fault(file, at+"."+key, "“"+key+"” is no school and no question of how a vehicle is built.",
				"Name one of schools.yaml or builds.yaml."))
			continue
		}
		for _, a := range answers {
			if !slices.Contains(known, a) {
				out = append(out, doc.fault(file, at+"."+key, "“"+a+"” is no answer to “"+key+"”.",
					"Write one of: "+strings.Join(known, ", ")+"."))
			}
		}
	}
	return out
}

// answers lists what a school or question of the build knows, nil where it is neither.
func (l *Library) answers(key string) []string {
	var out []string
	for _, s := range l.Schools {
		for _, w := range s.Ways {
			if s.Key == key {
				out = append(out, w.Key)
			}
		}
	}
	for _, b := range l.Builds {
		for _, a := range b.Answers {
			if b.Key == key {
				out = append(out, a.Key)
			}
		}
	}
	return out
}

func (l *Library) checkWants(
	file string,
	doc *document,
	at string,
	wants []operation.Want,
	joints []operation.Joint,
) []Fault {
	var out []Fault
	for i, w := range wants {
		here := fmt.Sprintf("%s[%d]", at, i)
		out = append(out, l.checkWant(file, doc, here, w, joints)...)
		out = append(out, l.checkWhen(file, doc, here+".when", w.When)...)
	}
	return out
}

// checkWant looks whether a fact, with all the values named, can be; or the joint.
func (l *Library) checkWant(
	file string,
	doc *document,
	at string,
	w operation.Want,
	joints []operation.Joint,
) []Fault {
	if w.Joint != "" {
		known := strings.Contains(w.Joint, ".") ||
			slices.ContainsFunc(joints, func(j operation.Joint) bool { return j.Key == w.Joint })
		if known {
			return nil
		}
		return []Fault{
			doc.fault(file, at, "There is no joint “"+w.Joint+"” in this file.", "Name one of its joints, or owner.joint."),
		}
	}
	i := slices.IndexFunc(l.Facts, func(k operation.FactKind) bool { return k.Fact == w.Fact })
	if i < 0 {
		return []Fault{doc.fault(file, at, "There is no fact “"+w.Fact+"”.", "Name one of facts.yaml, or add it there.")}
	}
	for _, v := range fact.ParseValues(w.Value) {
		if _, can := l.Facts[i].Reason(v); !can && v != plan.AnyValue {
			return []Fault{
				doc.fault(file, at, "“"+w.Fact+"” is never “"+string(v)+"”.", "Write one of its values in facts.yaml."),
			}
		}
	}
	return nil
}

// checkOperation looks at what an operation's steps want and make, then compiles it with
// a sheet that has all the joints there are.
func (l *Library) checkOperation(name string, d *document, op operation.Operation) []Fault {
	faults := l.checkWants(name, d, "$.wants", op.Wants, op.Joints)
	faults = append(faults, l.checkSteps(name, d, "$.steps", op.Steps, op.Joints)...)
	faults = append(faults, l.checkWhen(name, d, "$.fits", op.Fits.At("rear"))...)
	if len(faults) > 0 {
		return faults
	}
	pat := vehicle.Pattern{Name: "check", Operations: []string{op.ID}, Spec: map[string]vehicle.Spec{},
		Traits: map[string]string{}}
	corner := map[string]vehicle.Corner{"front": "FL", "rear": "RL", "any": "FL"}[op.Axle]
	joints := slices.Clone(op.Joints)
	for _, w := range l.Ways {
		joints = append(joints, w.Joints...)
	}
	for _, j := range joints {
		for _, axle := range []string{"front", "rear"} { // what is done in the middle may open both
			name := strings.ReplaceAll(j.Spec, "{axle}", axle)
			pat.Spec[name] = vehicle.Spec{Recipe: "10 Nm", Count: j.Fasteners}
		}
	}
	for question, answers := range op.Fits.At(corner.Axle()) {
		pat.Traits[question] = answers[0]
	}
	know := l.Knowledge
	know.Operations = []operation.Operation{op}
	_, err := plan.Compile(plan.Order{
		Tasks:     []plan.Task{{Operation: op.ID, Corner: corner}},
		Pattern:   pat,
		Knowledge: &know,
	})
	f := fault.As(err)
	if f == nil {
		return nil
	}
	at := "$.steps"
	for i, s := range op.Steps {
		field, step := strings.TrimPrefix(f.Field, "steps."), string(s.ID)+"."
		if strings.HasPrefix(field, step) || strings.HasPrefix(field, op.ID+"."+step) {
			at = fmt.Sprintf("$.steps[%d]", i)
		}
	}
	return []Fault{d.fault(name, at, f.Detail, f.Remedy)}
}

// checkPattern reads every recipe and thread of a sheet.
func (d *document) checkPattern(name string, p vehicle.Pattern) []Fault {
	var out []Fault
	for key, s := range p.Spec {
		at := "$.spec.'" + key + "'"
		out = append(out, d.checkSpec(name, at, s)...)
		for i, v := range s.Variants {
			out = append(out, d.checkSpec(name, fmt.Sprintf("%s.variants[%d]", at, i), s.Of(v))...)
		}
		for i, o := range s.Others {
			if f := fault.As(second(recipe.Parse(o.Recipe))); f != nil {
				out = append(out, d.fault(name, fmt.Sprintf("%s.others[%d].recipe", at, i), f.Detail, f.Remedy))
			}
		}
	}
	slices.SortFunc(out, func(a, b Fault) int { return a.Line - b.Line })
	return out
}

func second[T any](_ T, err error) error { return err }

// checkSpec reads the recipe, thread and class of one kind of hardware.
func (d *document) checkSpec(name, at string, s vehicle.Spec) []Fault {
	var out []Fault
	add := func(err error, field string) {
		if f := fault.As(err); f != nil {
			out = append(out, d.fault(name, at+"."+field, f.Detail, f.Remedy))
		}
	}
	add(second(recipe.Parse(s.Recipe)), "recipe")
	if s.Thread == "" {
		return out
	}
	th, err := thread.Parse(s.Thread)
	add(err, "thread")
	if err == nil && s.Class != "" {
		add(second(thread.ParseClass(s.Class, th)), "class")
	}
	return out
}
