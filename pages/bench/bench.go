// Package bench is the pages of the work itself: one step of a job with what stands around it, what is stuck, a new
// part beside the old, the card of the road test, and the page of a connected wrench.
package bench

import (
	"cmp"
	"embed"
	"fmt"
	"html/template"
	"maps"
	"math"
	"net/url"
	"slices"
	"strings"
	"time"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
	"lugtak/device"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/pages/kit"
	"lugtak/sign"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, template.FuncMap{
	"felt":    func() []feltWord { return feltWords },
	"colours": func() []string { return job.FluidColours },
	"volumes": func() []string { return []string{"ml", "l", "qt"} },
	"causes":  job.Causes,
	"drives":  func() []string { return sign.Drives },
})

// View is one step with what stands around it. What a step of its kind alone shows is in one of the kinds; a step
// that is only done has none.
type View struct {
	scene
	around
	Job   *job.State
	Step  *plan.Step
	No    int
	Done  int
	Owed  int
	Fault *fault.Fault
	Typed map[string]string
	Panel string // trouble panel open

	Joint *plan.Joint
	// LastTime is what such a joint took before on such a vehicle.
	LastTime []string
	Letter   string
	One      bool // the letter was chosen: the keys act on it alone
	Each     bool // a round is said of each of its fasteners

	Kept       bool          // the step shown is done
	Again      bool          // and is kept once more: something was done over
	Refusal    *fault.Fault  // why the step cannot be done now
	AsItStands plan.Position // it asks for, and can no more be brought to
	Unheld     []string      // what a fastener that broke off was to hold here
	Troubles   []job.Trouble
	CanGoWrong []job.TroubleCode // at this step
	Effort     string            // that breaking it loose takes
	SoakLeft   time.Duration
	Strokes    bool // the pedal's are counted here
	Oil        bool // its level is read at a temperature

	Differs   []*plan.Joint // which may be otherwise on this vehicle
	DiffersAt string        // the one at hand
	Gone      []gone        // joints that vehicles of the sheet were said not to have
	Alone     bool          // nobody else works in the shop

	Measured *measured
	Tighten  *tighten
	Verdict  *verdict // of the pull that was just kept
	Handle   *handle
	Compare  *compare
	Drive    *drive
	Fluid    *fluid

	library *library.Library
}

// scene is the picture of a step.
type scene struct {
	Title   string        // of the picture
	Picture template.HTML // of the act, the joint, or the corner
	Corner  bool          // it is the corner
	Where   template.HTML // the vehicle beside it, small, the corner told
	Stack   []string      // what lies on the fastener, from its head
	Photos  []shot        // how it was before it was opened
	Shoots  bool          // one may be taken here
}

// shot is a photograph of how something was.
type shot struct{ URL, Says string }

// around is what stands beside the step.
type around struct {
	Tally  []kit.TallyGroup
	Healed *healed
	Handed *job.Handed // in whose hand the step is
	Others []string    // to whom it may be handed over
	Soaks  []soak
	Tends  []tend // what stands open, runs or hangs
	Open   bool   // and nobody leaves it
	Chain  []chained
}

// compare is a new part laid beside the old.
type compare struct {
	LayBeside bool // it is still to be measured
}

// fluid is what leaves the vehicle and goes in.
type fluid struct {
	Booked *job.Booked // what was written down here last
}

type soak struct {
	Title      string
	Left       time.Duration
	Start, End time.Time
	Percent    float64
}

// tend is what may not stay so for long, or not alone.
type tend struct {
	Says     string
	Since    time.Time
	Until    time.Time
	Left     time.Duration // nothing where it may stand so for any time, or is over it
	Limited  bool
	Attended bool
	Over     string // what is done when it is over its time
	Percent  float64
	Closes   *plan.Step
}

type chained struct {
	ID         operation.StepID
	Title, Sub string
}

// Shown is what the page is made from.
type Shown struct {
	Job     *job.State
	Library *library.Library
	Now     time.Time
	Person  string // who looks
	Session string
	Unit    string // that stands first, Nm or ft-lb
	Hands   []string
	Tools   []wrench.Tool
	Holds   func(joint, letter string) (claim.Claim, bool) // who has which tool on a fastener
	Ahead   *claim.Claim                                   // the tool in hand, drawn ahead of its acts; else nil
	Trace   func(pull string) [][3]float64                 // what a tool read
	Devices device.Rack                                    // nil where none are connected

	Sheet     vehicle.Pattern     // of the vehicle, where trouble is shown
	LastRead  vehicle.Reading     // of this sheet
	Elsewhere []vehicle.Elsewhere // what other shops have read of it
	Photos    []job.Photo         // of the place at hand, from jobs before
	LastTime  []string            // what the joint at hand took before, on such a vehicle
	Alone     bool                // nobody else works in the shop

	Pull   string           // the pull that was just kept; empty for none
	Wait   bool             // after it one goes on by a key alone
	Asked  operation.StepID // the step asked for; empty for the next
	Letter string           // the fastener chosen by touch
	Tool   string           // chosen by hand
	InHand string           // that the form before was sent with
	Adapt  string           // the adapter on it
	Panel  string
	Healed bool // the plan was just made anew
	Each   bool // a round is said of each of its fasteners
	Fault  *fault.Fault
	Typed  map[string]string
}

// Whole is the picture of the step's corner, where a place in it is touched.
func (v View) Whole() template.HTML {
	picture, _ := kit.Corner(v.library, v.Job, v.Step, "", false, nil)
	return picture
}

// SaysAccess says that what was typed is what a joint took to reach.
func (v View) SaysAccess() bool {
	_, typed := v.Typed["extension"]
	return v.Fault != nil && typed
}

// Heads are what a fastener may be turned by.
func (v View) Heads() []string { return vehicle.Heads }

// OpensMore says that the step is the work itself of free work: what else has to be opened is said before it.
func (v View) OpensMore() bool {
	free := v.Job.Plan.Free
	return free != nil && v.Step != nil && free.IsWork(v.Step.ID) && !v.Job.FreeClosing()
}

// Page is the bench of a job at the step asked for.
func Page(x Shown) kit.Page {
	v := New(x)
	return pages.Page("bench", v.PageTitle(), v)
}

// New fills in what the bench shows.
func New(x Shown) *View {
	st := x.Job
	v := &View{
		Job:      st,
		Fault:    x.Fault,
		Typed:    x.Typed,
		Panel:    x.Panel,
		Each:     x.Each,
		Owed:     len(st.Owed()),
		LastTime: x.LastTime,
		library:  x.Library,
	}
	if p := keptPull(st, x.Pull); p != nil {
		x.Letter = p.Fastener.Letter
	} else if x.Asked != "" && st.Plan.Step(x.Asked) == nil && v.Fault == nil {
		v.Fault = fault.New(fault.Missing, "step", "The plan has no such step.", "The bench shows the next one.")
	}
	id := x.AtHand()
	for i := range st.Plan.Steps {
		if st.Plan.Steps[i].ID == id {
			v.Step, v.No = &st.Plan.Steps[i], i+1
		}
		if st.StepDone(st.Plan.Steps[i].ID) {
			v.Done++
		}
	}
	if v.Step != nil {
		v.step(x)
	}
	v.handed(x)
	v.differing(x)
	v.draw(x)
	v.shots(x)
	if n := len(st.Replans); n > 0 && x.Healed {
		v.Healed = healedBy(st.Replans[n-1])
	}
	v.Tally = tally(st, v.Step, v.Letter)
	v.Soaks = soaks(st, x.Now)
	v.tends(x.Now)
	for _, s := range st.Chain(id, chainShown) {
		v.Chain = append(v.Chain, chained{s.ID, s.Title, s.Tool})
	}
	return v
}

// AtHand is the step that is shown: that of the pull that was just kept, the one asked for, or the next.
func (x Shown) AtHand() operation.StepID {
	if p := keptPull(x.Job, x.Pull); p != nil {
		return p.Step
	}
	if x.Job.Plan.Step(x.Asked) != nil {
		return x.Asked
	}
	return x.Job.NextFor(x.Person)
}

// chainShown is how many of the steps that follow are named.
const chainShown = 5

// step fills in what the step is and where it stands.
func (v *View) step(x Shown) {
	st, step := v.Job, v.Step
	v.Kept = st.StepDone(step.ID)
	v.Again = v.Kept && st.Again(step)
	v.Unheld, v.AsItStands = st.Unheld(step), st.AsItStands(step)
	v.SoakLeft = st.SoakLeft(step, x.Now)
	v.Strokes = step.Proves == operation.ProvesPedal && !v.Kept
	v.Oil = st.AsksOil(step) && !v.Kept
	if !v.Kept || v.Again {
		v.Refusal = fault.As(st.Ready(step))
	}
	for _, t := range st.OpenTroubles() {
		if t.Step == step.ID || t.Stops() {
			v.Troubles = append(v.Troubles, t)
		}
	}
	v.CanGoWrong = job.TroublesAt(x.Library.Rescues, step)
	v.measures(x)
	v.Effort = v.loosens()
	if _, beside := st.Plan.Compared(step); beside {
		match := st.Match(step.Part)
		v.Compare = &compare{LayBeside: match == nil || !match.Accept}
	}
	if step.Verb == operation.Drive {
		v.Drive = &drive{manoeuvres(st, v.Typed)}
	}
	if step.Books != "" {
		v.Fluid = &fluid{st.FluidAt(step.ID)}
	}
	if v.Joint = st.Plan.Joint(step.Joint); v.Joint == nil {
		return
	}
	v.Letter = st.Current(step)
	if st.Fastener(v.Joint.ID, x.Letter) != nil {
		v.Letter, v.One = x.Letter, true
	}
	if step.Verb == operation.Tighten {
		v.tightening(x)
		v.verdict(x)
		return
	}
	v.handling()
}

// gone is a joint of the sheet, by its key there.
type gone struct{ Key, Title string }

// differing fills in the joints that may turn out otherwise: of the step's corner, and of the whole vehicle.
func (v *View) differing(x Shown) {
	if v.Step == nil {
		return
	}
	for i := range v.Job.Plan.Joints {
		if j := &v.Job.Plan.Joints[i]; j.Corner == v.Step.Corner || j.Corner == "" || v.Step.Corner == "" {
			v.Differs = append(v.Differs, j)
		}
	}
	v.DiffersAt, v.Alone = v.Step.Joint, x.Alone
	for _, key := range slices.Sorted(maps.Keys(x.Sheet.Absent)) {
		if x.Sheet.Absent[key] {
			v.Gone = append(v.Gone, gone{key, unit.Capital(x.Library.TitleOf(x.Sheet, key))})
		}
	}
}

// handed fills in whose the step is, and to whom it may be handed over: what is in one's own hand needs no word.
func (v *View) handed(x Shown) {
	holder := x.Person
	if v.Step != nil {
		if h := v.Job.HandedAt(v.Step); h != nil {
			holder = h.To
			if h.To != x.Person || h.Note != "" {
				v.Handed = h
			}
		}
	}
	v.Others = slices.DeleteFunc(slices.Clone(x.Hands), func(name string) bool { return name == holder })
}

// draw draws the corner, and over it the act of the step or the joint it acts on.
func (v *View) draw(x Shown) {
	step := v.Step
	if step == nil {
		return
	}
	var p kit.Picture
	if v.Joint != nil {
		if step.Verb == operation.Remove || step.Verb == operation.Start {
			v.Stack = v.Joint.Stack
		}
		p = kit.Fastener(x.Library, v.Job.Plan, step, v.Letter, v.bolt)
	} else {
		name := step.Kind()
		if step.Frees != "" {
			name = operation.RescueAct
		}
		p = kit.Act(x.Library, v.Job.Plan, step, name)
	}
	if v.Picture = p.HTML; p.HTML == "" {
		v.Picture, v.Title = kit.Corner(x.Library, v.Job, step, v.Letter, true, v.link)
		v.Corner = true
	} else {
		v.Title = v.seen(p.From)
	}
	v.Where = kit.Where(x.Library, step.Corner)
	v.bedding(x.Library)
}

// shots are the photographs of the place at hand: of this job, and of those before.
func (v *View) shots(x Shown) {
	if v.Step == nil {
		return
	}
	for _, p := range append(v.Job.PhotosAt(v.Step), x.Photos...) {
		when := p.At.Local().Format("15:04")
		if p.Job != v.Job.ID {
			when = p.At.Local().Format("2 Jan 2006")
		}
		v.Photos = append(v.Photos, shot{
			URL:  "/jobs/" + url.PathEscape(p.Job) + "/photo/" + url.PathEscape(p.ID),
			Says: "as it was, " + when + ", " + p.By,
		})
	}
	v.Shoots = v.Job.Signature == nil && !v.Kept && v.Job.Opens(v.Step) != ""
}

// seen says of which corner a picture is, and from where one looks.
func (v *View) seen(from string) string {
	var words []string
	if c := v.Step.Corner; c != "" {
		words = append(words, c.Axle()+" "+c.Side())
	}
	if from != "" {
		words = append(words, from)
	}
	return unit.Capital(cmp.Or(strings.Join(words, ", "), "how it is done"))
}

// link is how a fastener of the joint at hand is chosen by a touch.
func (v *View) link(letter string) template.HTMLAttr {
	q := template.HTMLEscapeString(url.Values{"step": {string(v.Step.ID)}, "f": {letter}}.Encode())
	return template.HTMLAttr(fmt.Sprintf(`href="?%s" hx-get="/jobs/%s/bench?%s" hx-target="#page" hx-push-url="true"`, q,
		template.HTMLEscapeString(v.Job.ID), q))
}

// bolt is a fastener of the joint at hand as its picture shows it: where there are several, one is chosen by a touch.
func (v *View) bolt(letter string) kit.Bolt {
	f := v.Job.Fastener(v.Joint.ID, letter)
	b := kit.Bolt{
		Sign: draw.Sign{Drive: v.Joint.Drive, Mark: f.Sign()},
		Name: unit.Capital(v.Joint.One) + " " + letter + ": " + f.Sign().Words(),
		Link: string(v.link(letter)),
	}
	if v.Verdict != nil && letter == v.Job.Current(v.Step) {
		b.Link += ` class="comes"`
	}
	return b
}

func tally(st *job.State, step *plan.Step, current string) []kit.TallyGroup {
	var out []kit.TallyGroup
	for i := range st.Plan.Joints {
		j := &st.Plan.Joints[i]
		g := kit.TallyGroup{Title: j.Title, Step: stepFor(st, j)}
		for _, l := range j.Letters {
			f := st.Fastener(j.ID, l)
			g.Signs = append(
				g.Signs,
				kit.TallySign{
					Sign:   draw.Sign{Drive: j.Drive, Mark: f.Sign()},
					Letter: l,
					Name:   unit.Capital(j.One) + " " + l + ": " + f.Says(),
					Here:   step != nil && step.Joint == j.ID && l == current,
				},
			)
		}
		out = append(out, g)
	}
	return out
}

// stepFor is the step at which a joint goes on.
func stepFor(st *job.State, j *plan.Joint) operation.StepID {
	var last operation.StepID
	for _, s := range st.Plan.Steps {
		if s.Joint != j.ID {
			continue
		}
		if last = s.ID; !st.StepDone(s.ID) {
			return s.ID
		}
	}
	return last
}

// soakShown is how long a soak that has done its work is still told of.
const soakShown = 30 * time.Minute

func (v *View) tends(now time.Time) {
	for _, t := range v.Job.Tendings() {
		x := tend{Says: v.Job.Says(t), Since: t.Since, Attended: t.Attended, Closes: v.Job.Plan.Step(t.Closes)}
		x.Until, x.Limited = t.Until()
		if x.Limited {
			x.Left = max(0, x.Until.Sub(now))
			x.Percent = 100 * min(1, max(0, now.Sub(t.Since).Minutes()/t.Minutes))
			x.Over = t.Over
		}
		v.Open = v.Open || t.Attended
		v.Tends = append(v.Tends, x)
	}
}

func soaks(st *job.State, now time.Time) []soak {
	var out []soak
	for _, k := range st.Soaking() {
		left := k.End.Sub(now)
		if left < -soakShown {
			continue
		}
		v := soak{Title: k.Title, Left: max(0, left), Start: k.Start, End: k.End}
		v.Percent = math.Max(0, math.Min(100, 100*now.Sub(k.Start).Seconds()/k.End.Sub(k.Start).Seconds()))
		out = append(out, v)
	}
	return out
}
