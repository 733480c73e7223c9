package demo

import (
	"encoding/json"
	"math"
	"slices"
	"strings"

	"lugtak/core/record"
)

// What a job comes to, counted from its journal as it stands in the file: JSON, and nothing of
// the program that wrote it. It is written from what the trade says of a fastener, so that it
// can be held against what people are shown.

type rawBolt struct {
	touched, inHand, out bool
	trouble              string
	waived, renewed      bool
	anew                 bool      // opened once more since: what it owes it owes there
	struck               bool      // and a pull of it was struck behind that
	gauged               bool      // its play was found inside since the last pull
	paid                 []rawPull // one a stage, since it was last started or slackened
}

type rawPull struct{ id, evidence, kind string }

type rawJoint struct {
	Letters []string `json:"letters"`
	ID      string   `json:"id"`
	Sheet   string   `json:"sheet"`
	Corner  string   `json:"corner"`
	Opening string   `json:"opening"`
	Recipe  string   `json:"recipe"`
	Again   bool     `json:"again"`
	Play    string   `json:"play"`
	Stages  []struct {
		Kind string `json:"kind"`
	} `json:"stages"`
	Variants []rawVariant `json:"variants"`
}

type rawVariant struct {
	Key    string `json:"key"`
	Stages []struct {
		Kind string `json:"kind"`
	} `json:"stages"`
}

type rawStep struct {
	ID     string `json:"id"`
	Verb   string `json:"verb"`
	Joint  string `json:"joint"`
	Again  bool   `json:"again"`
	Stages []int  `json:"stages"`
	Frees  string `json:"frees"`
}

type rawPlan struct {
	Joints []rawJoint `json:"joints"`
	Steps  []rawStep  `json:"steps"`
}

// rawBody holds every field of a journal's events this reader looks at.
type rawBody struct {
	Plan    rawPlan   `json:"plan"`
	Steps   []rawStep `json:"steps"`
	Step    any       `json:"step"`
	Verb    string    `json:"verb"`
	Joint   string    `json:"joint"`
	Letter  string    `json:"letter"`
	Letters []string  `json:"letters"`
	Renewed bool      `json:"renewed"`
	Stage   int       `json:"stage"`
	Kept    bool      `json:"kept"`
	Result  any       `json:"result"` // of a pull, or of a drive
	Pull    string    `json:"pull"`
	Trouble string    `json:"trouble"`
	Worse   string    `json:"worse"`
	Code    string    `json:"code"`
	Outcome string    `json:"outcome"`
	Became  string    `json:"became"`
	Out     bool      `json:"out"`
	Freed   string    `json:"freed"`
	Gate    string    `json:"gate"`
	Take    bool      `json:"take"`
	Variant string    `json:"variant"`
	Recipe  string    `json:"recipe"`
	Differs []any     `json:"differs"`
	Stages  []struct {
		Kind string `json:"kind"`
	} `json:"stages"`
	Key      string  `json:"key"`
	Corner   string  `json:"corner"`
	Verdict  string  `json:"verdict"`
	Value    float64 `json:"value"`
	Limit    float64 `json:"limit"`
	Floor    float64 `json:"floor"`
	Evidence string  `json:"evidence"`
	Felt     []struct {
		Found string `json:"found"`
	} `json:"felt"`
}

type rawCount struct {
	plan    rawPlan
	joints  []string
	letters map[string][]string
	stages  map[string][]string // kinds, by joint
	again   map[string]bool
	recipes map[string]string // by joint, as it was read last
	byBolt  map[string]bool   // joints

	variants map[string][]rawVariant

	steps   map[string]rawStep
	bolts   map[string]*rawBolt
	owner   map[string]string // fastener, by trouble
	codes   map[string]string // of troubles
	struckF map[string]rawBody
	pulls   map[string]string // fastener, by pull
	at      map[string]int    // stage, by pull
	bad     map[string]bool   // pulls that do not count
	of      map[string][]string
	stepped map[string]string  // step of a pull
	held    map[string]float64 // limits a play was found beyond, by joint

	deviations, leftOut int
	signed              bool
}

func newRawCount() *rawCount {
	return &rawCount{
		letters: map[string][]string{},
		stages:  map[string][]string{},
		again:   map[string]bool{},
		recipes: map[string]string{},
		byBolt:  map[string]bool{},

		variants: map[string][]rawVariant{},

		steps:   map[string]rawStep{},
		bolts:   map[string]*rawBolt{},
		owner:   map[string]string{},
		codes:   map[string]string{},
		struckF: map[string]rawBody{},
		pulls:   map[string]string{},
		at:      map[string]int{},
		bad:     map[string]bool{},
		of:      map[string][]string{},
		stepped: map[string]string{},
		held:    map[string]float64{},
	}
}

func (r *rawCount) lay(p rawPlan) {
	r.joints = nil
	r.plan = p
	kept := r.bolts
	r.bolts = map[string]*rawBolt{}
	r.steps = map[string]rawStep{}
	for _, j := range p.Joints {
		r.joints = append(r.joints, j.ID)
		r.letters[j.ID] = j.Letters
		r.again[j.ID] = j.Again
		r.recipes[j.ID] = j.Recipe
		r.variants[j.ID] = j.Variants
		r.kinds(j.ID, j.Stages)
		for _, l := range j.Letters {
			key := j.ID + "#" + l
			r.bolts[key] = &rawBolt{}
			if b := kept[key]; b != nil {
				r.bolts[key] = b
			}
		}
	}
	for _, s := range p.Steps {
		r.steps[s.ID] = s
	}
}

func (r *rawCount) kinds(joint string, list []struct {
	Kind string `json:"kind"`
}) {
	r.stages[joint] = nil
	for _, s := range list {
		r.stages[joint] = append(r.stages[joint], s.Kind)
	}
	if n := len(list); n > 0 && r.again[joint] { // the last once more after the drive
		r.stages[joint] = append(r.stages[joint], list[n-1].Kind)
	}
}

// begins is a fastener with nothing paid.
func (b *rawBolt) begins() {
	if !b.anew {
		b.paid, b.waived = nil, false
	}
}

// opensAnew tells those that are opened once more from how they were opened before.
func (r *rawCount) opensAnew(joint string) {
	i := slices.IndexFunc(r.plan.Joints, func(j rawJoint) bool { return j.ID == joint })
	for _, o := range r.plan.Joints {
		now := r.plan.Joints[i]
		if o.Sheet != now.Sheet || o.Corner != now.Corner || o.Opening == now.Opening {
			continue
		}
		for _, letter := range o.Letters {
			x := r.bolts[o.ID+"#"+letter]
			if !x.touched || x.anew || o.Opening == "" { // the plain name is the second time
				continue
			}
			x.anew, x.struck = true, len(x.paid) < len(r.stages[o.ID])
		}
	}
}

func (r *rawCount) take(l record.Line) {
	var b rawBody
	if err := json.Unmarshal(l.Body, &b); err != nil {
		panic(err)
	}
	step, _ := b.Step.(string)
	key := b.Joint + "#" + b.Letter
	bolt := r.bolts[key]
	switch l.Kind {
	case "started", "planned", "reworked":
		if len(b.Plan.Steps) > 0 {
			r.lay(b.Plan)
		}
	case "replanned":
		for _, s := range b.Steps {
			r.steps[s.ID] = s
		}
	case "chose":
		for _, v := range r.variants[b.Joint] {
			if v.Key == b.Variant {
				r.kinds(b.Joint, v.Stages)
			}
		}
	case "treated", "kitted":
		r.kinds(b.Joint, b.Stages)
	case "figure_taken":
		if len(b.Differs) > 0 {
			break
		}
		if was := r.recipes[b.Joint]; was != "" && was != b.Recipe {
			for _, letter := range r.letters[b.Joint] {
				if x := r.bolts[b.Joint+"#"+letter]; len(x.paid) > 0 {
					x.begins()
				}
			}
		}
		r.byBolt[b.Joint] = false
		r.recipes[b.Joint] = b.Recipe
		r.kinds(b.Joint, b.Stages)
	case "figure_lacking":
		r.byBolt[b.Joint] = true
		r.recipes[b.Joint] = b.Recipe
		r.kinds(b.Joint, b.Stages)
	case "figure_struck":
		r.struckF[b.Joint] = b
	case "figure_answered":
		if !b.Take {
			break
		}
		r.byBolt[b.Joint] = false // it has a figure of the maker's now
		r.kinds(b.Joint, r.struckF[b.Joint].Stages)
		for _, letter := range r.letters[b.Joint] {
			if x := r.bolts[b.Joint+"#"+letter]; len(x.paid) > 0 {
				x.begins()
			}
		}
	case "worked":
		if b.Verb == "crack" {
			r.opensAnew(b.Joint)
		}
		for _, letter := range b.Letters {
			x := r.bolts[b.Joint+"#"+letter]
			x.begins()
			x.touched = true
			x.inHand = b.Verb == "start"
			x.out = b.Verb == "remove"
			if x.inHand {
				x.renewed = b.Renewed
			}
		}
	case "slackened":
		bolt.begins()
		bolt.touched, bolt.inHand, bolt.renewed = true, true, b.Renewed
	case "pulled":
		r.pulled(l.ID, key, step, b)
	case "measured":
		r.gauged(step, b)
	case "struck":
		r.strike(b.Pull)
	case "troubled":
		r.met(l.ID, key, b)
	case "release_tried":
		r.tried(l.ID, b)
	case "cleared":
		r.cleared(b.Trouble, b.Renewed, b.Out)
	case "step_done":
		for id, f := range r.owner {
			if frees := r.steps[step].Frees; frees != "" && f == frees && r.bolts[f].trouble == id {
				r.cleared(id, false, b.Freed != "")
			}
		}
	case "deviated":
		r.deviations++
		if debt, ok := cutPrefix(b.Gate, "debt:"); ok {
			r.bolts[debt].waived = true
		}
	case "road_tested":
		r.leftOut = 0
		for _, f := range b.Felt {
			if f.Found == "left_out" {
				r.leftOut++
			}
		}
	case "signed":
		r.signed = true
	case "reopened":
		r.signed = false
	}
}

// gauged looks whether a play was found inside, at the bench, once its nut was pulled to its end.
func (r *rawCount) gauged(step string, b rawBody) {
	for _, j := range r.plan.Joints {
		if j.Play == "" || j.Play != b.Key || j.Corner != b.Corner {
			continue
		}
		inside := step != "" && b.Verdict == "ok" && b.Value <= r.strict(j.ID) && b.Value >= b.Floor
		if b.Verdict == "over" || b.Verdict == "under" {
			r.held[j.ID] = min(r.strict(j.ID), b.Limit)
		} else if b.Value <= r.strict(j.ID) {
			delete(r.held, j.ID)
		}
		for _, letter := range j.Letters {
			x := r.bolts[j.ID+"#"+letter]
			x.gauged = inside && len(x.paid) >= len(r.stages[j.ID])
		}
	}
}

// strict is the limit the play of a joint was found beyond, and not yet inside.
func (r *rawCount) strict(joint string) float64 {
	if l, beyond := r.held[joint]; beyond {
		return l
	}
	return math.Inf(1)
}

func cutPrefix(s, prefix string) (string, bool) {
	if len(s) < len(prefix) || s[:len(prefix)] != prefix {
		return s, false
	}
	return s[len(prefix):], true
}

func (r *rawCount) pulled(id, key, step string, b rawBody) {
	bolt := r.bolts[key]
	r.pulls[id] = key
	r.at[id] = b.Stage
	r.stepped[id] = step
	r.of[key] = append(r.of[key], id)
	result, _ := b.Result.(map[string]any)
	if !b.Kept || result["verdict"] != "keep" {
		r.bad[id] = true
		return
	}
	bolt.gauged = false
	kind := ""
	if pulled, _ := result["stages"].([]any); len(pulled) > 0 {
		stage, _ := pulled[0].(map[string]any)
		kind, _ = stage["kind"].(string)
	}
	if b.Stage != len(bolt.paid) {
		return
	}
	bolt.paid = append(bolt.paid, rawPull{id, b.Evidence, kind})
	if b.Evidence != "not_measured" {
		return
	}
	for len(bolt.paid) <= r.lastOf(step, b.Joint) { // nobody comes back to it in this step
		bolt.paid = append(bolt.paid, rawPull{id, b.Evidence, kind})
	}
}

// lastOf is the last stage a tightening step does, from 0.
func (r *rawCount) lastOf(step, joint string) int {
	n := len(r.stages[joint])
	s := r.steps[step]
	switch {
	case s.Again:
		return n - 1
	case len(s.Stages) == 2:
		return min(s.Stages[1], n) - 1
	case r.again[joint]:
		return n - 2
	}
	return n - 1
}

// strike takes a pull out of the ledger: its stage is owed again, and those after it.
func (r *rawCount) strike(id string) {
	bolt := r.bolts[r.pulls[id]]
	if r.bad[id] {
		return
	}
	r.bad[id] = true
	if bolt.anew {
		bolt.struck = bolt.struck || slices.ContainsFunc(bolt.paid, func(p rawPull) bool { return p.id == id })
		return
	}
	bolt.paid = bolt.paid[:min(len(bolt.paid), r.at[id])]
}

func (r *rawCount) met(id, key string, b rawBody) {
	r.codes[id] = b.Code
	if b.Letter == "" {
		return
	}
	r.owner[id] = key
	r.bolts[key].trouble = id
	r.bolts[key].touched = true
}

func (r *rawCount) tried(id string, b rawBody) {
	switch b.Outcome {
	case "freed":
		key := r.owner[b.Trouble]
		r.cleared(b.Trouble, false, false)
		if bolt := r.bolts[key]; bolt != nil && len(bolt.paid) > 0 {
			bolt.begins()
		}
	case "broke":
		r.codes[id] = b.Became
		if key := r.owner[b.Trouble]; key != "" {
			r.owner[id] = key
			r.bolts[key].trouble = id
		}
	}
}

func (r *rawCount) cleared(id string, renewed, out bool) {
	bolt := r.bolts[r.owner[id]]
	if bolt == nil {
		return
	}
	bolt.trouble = ""
	bolt.renewed = bolt.renewed || renewed
	broke := r.codes[id] == "sheared" || r.codes[id] == "thread_damaged"
	switch {
	case out && !bolt.inHand:
		bolt.begins()
		bolt.out = true
		joint, _, _ := strings.Cut(r.owner[id], "#")
		r.opensAnew(joint)
	case out && !renewed:
		bolt.begins()
	case (renewed || broke) && (len(bolt.paid) > 0 || bolt.waived):
		bolt.begins()
	}
}

// grade is what a fastener stands at; empty where nobody touched it.
func (r *rawCount) grade(joint, letter string) string {
	b := r.bolts[joint+"#"+letter]
	stages := r.stages[joint]
	switch {
	case !b.touched:
		return ""
	case b.trouble != "":
		return "owed"
	case b.waived:
		return "deviating"
	case b.struck && !b.gauged:
		return "not_measured"
	case len(b.paid) < len(stages) || len(stages) == 0: // where nobody read a figure none is paid
		return "owed"
	}
	if r.byBolt[joint] {
		return "deviating"
	}
	if b.gauged {
		return "play"
	}
	figured := func(kind string) bool { return kind == "torque" || kind == "angle" || kind == "next_slot" }
	if slices.ContainsFunc(b.paid, func(p rawPull) bool { return p.evidence == "not_measured" }) {
		return "not_measured"
	}
	if !slices.ContainsFunc(stages, figured) {
		return "by_hand"
	}
	worst := "traced"
	for i, p := range b.paid {
		order := []string{"stated", "marked", "clicked", "traced"}
		kind := p.kind // what was pulled counts, also where the figure was struck behind a bolt that was opened anew
		if kind == "" && i < len(stages) {
			kind = stages[i]
		}
		if figured(kind) && slices.Index(order, p.evidence) < slices.Index(order, worst) {
			worst = p.evidence
		}
	}
	return worst
}

// grades are those of all fasteners that were touched, by name.
func (r *rawCount) grades() map[string]string {
	out := map[string]string{}
	for _, j := range r.joints {
		for _, l := range r.letters[j] {
			if g := r.grade(j, l); g != "" {
				out[j+"#"+l] = g
			}
		}
	}
	return out
}

func (r *rawCount) renewed() int {
	n := 0
	for _, j := range r.joints {
		for _, l := range r.letters[j] {
			if b := r.bolts[j+"#"+l]; b.touched && b.renewed {
				n++
			}
		}
	}
	return n
}
