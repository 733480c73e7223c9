package web

import (
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/draw"
	"lugtak/web/kit"
)

type ledgerView struct {
	Turns    []job.RodTurns
	Standing []job.Tray // trays that still hold something
	Job      *job.State
	Sides    []ledgerSide
	Before   []gateGroup // the first that stand before the signature, in the order of the work
	Further  []gateGroup // and the rest of them
	Passed   []gateGroup // passed over, by name
	Met      []gateGroup
	Seized   []seizedView
	Open     int
	People   []listing.Person // who may sign second
	Owed     int
	Answers  []answer
	Supports map[string]int
	Fault    *fault.Fault
	For      string // key of the gate, pull or form the fault is about
	Typed    map[string]string
	CanSign  bool

	FollowUps []record.FollowUp // of an open job, as they would be signed for
	Dues      []job.Due
	Figures   []figureStruck // struck on the sheet, to be answered
	Origin    *listing.Import
	Hasty     []hastyAct
	Simulated bool // some of it was made by a stand-in
}

// figureStruck is a figure of the job that was struck on its sheet.
type figureStruck struct {
	*job.Figure
	Title string
}

// hastyAct is an act kept quicker than hands are.
type hastyAct struct {
	job.Hasty
	Title string
}

type ledgerJoint struct {
	*plan.Joint
	Rows      []ledgerRow
	Owed      bool
	Untouched bool
}

// Lines are the rows with those on one line that no pull parts and that stand alike.
func (j ledgerJoint) Lines() []ledgerRow {
	var out []ledgerRow
	for _, r := range j.Rows {
		n := len(out) - 1
		if n >= 0 && out[n].like(r) {
			out[n].Letter += " " + r.Letter
			continue
		}
		out = append(out, r)
	}
	return out
}

// like says that two fasteners without a pull stand alike.
func (r ledgerRow) like(o ledgerRow) bool {
	alike := r.Says == o.Says && r.Renewed == o.Renewed && r.Check == o.Check
	return alike && len(r.Pulls) == 0 && len(o.Pulls) == 0
}

// ledgerSide is one side of the vehicle, or its middle.
type ledgerSide struct {
	Name    string
	Joints  []ledgerJoint
	account job.Account
	all     int
}

// Says is the side in counts.
func (d ledgerSide) Says() string {
	says := counted(d.all, "fastener")
	if d.account.Opened() > 0 {
		says += " · " + d.account.Says()
	}
	return says
}

// seizedView is something that was stuck, with what came of it.
type seizedView struct {
	What, Says, By string
	At             time.Time
}

// firstGates is how many things that stand before the signature are shown at once.
const firstGates = 5

type ledgerRow struct {
	draw.Sign
	Letter  string
	Renewed bool
	Says    string
	Check   bool // control without check
	Pulls   []*job.Pull
}

// gateGroup is open gates of one kind under one line, or a gate alone.
type gateGroup struct {
	Title string // of more than one
	Step  operation.StepID
	Gates []job.Gate
	Here  bool // the fault is about one of them
}

// groupGates puts the debts of one joint under one line.
func groupGates(st *job.State, gates []job.Gate, key string) []gateGroup {
	type line struct {
		joint string
		met   bool
	}
	var out []gateGroup
	at := map[line]int{}
	for _, g := range gates {
		id, ok := g.Fastener()
		kind, _ := job.ParseGateKey(g.Key)
		if !ok || kind != job.GateDebt || g.Deviation != nil {
			out = append(out, gateGroup{Gates: []job.Gate{g}, Here: g.Key == key})
			continue
		}
		k := line{id.Joint, g.Met}
		i, begun := at[k]
		if !begun {
			i = len(out)
			at[k] = i
			out = append(out, gateGroup{Step: g.Step})
		}
		out[i].Gates = append(out[i].Gates, g)
		out[i].Here = out[i].Here || g.Key == key
	}
	for k, i := range at {
		if n := len(out[i].Gates); n > 1 {
			out[i].Title = debtsTitle(st, k.joint, n, k.met)
		}
	}
	return out
}

// debtsTitle is what several debts of a joint are called: owed, or how they were paid.
func debtsTitle(st *job.State, joint string, n int, met bool) string {
	title := joint
	if j := st.Plan.Joint(joint); j != nil {
		title = unit.Capital(j.Title)
	}
	if !met {
		return fmt.Sprintf("%s: %d owed", title, n)
	}
	paid := st.Account().Of(func(id job.FastenerID) bool { return id.Joint == joint })
	return title + ": " + paid.Says()
}

// answer is a step that was answered or noted.
type answer struct{ Title, Says, By string }

func (s *Server) ledger(c fiber.Ctx) error { return s.showLedger(c, 200, "", nil) }

func (s *Server) showLedger(c fiber.Ctx, code int, key string, f *fault.Fault) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	gates := st.Gates()
	v := ledgerView{
		Job:      st,
		Owed:     len(st.Owed()),
		Supports: st.SupportsIn(),
		Turns:    st.Turns(),
		Fault:    f,
		For:      key,
	}
	if f != nil {
		v.Typed = kit.Typed(c)
	}
	for _, t := range st.Trays() {
		if t.Standing {
			v.Standing = append(v.Standing, t)
		}
	}
	for _, g := range gates {
		if !g.Met && g.Deviation == nil {
			v.Open++
		}
	}
	v.order(st, groupGates(st, gates, key))
	v.CanSign = v.Open == 0 && st.Signature == nil
	if v.Dues = st.Dues(); st.Signature == nil {
		v.FollowUps = st.FollowUps()
	}
	if v.Origin, err = s.Shop.Origin(c.Context(), st.ID); err != nil {
		return err
	}
	v.doubts(st)
	if v.People, err = s.others(c); err != nil {
		return err
	}
	v.sides(st)
	v.seized(st)
	for _, x := range st.Plan.Steps {
		k := st.Steps[x.ID]
		for _, ch := range x.Answers {
			if ch.Key == k.Choice {
				v.Answers = append(v.Answers, answer{x.Title, ch.Title, k.By})
			}
		}
		if k.Note != "" {
			v.Answers = append(v.Answers, answer{x.Title, k.Note, k.By})
		}
	}
	return s.render(c, code, "ledger", "Ledger", v)
}

// others are who may sign or read second: people who work here, but who asks.
func (s *Server) others(c fiber.Ctx) ([]listing.Person, error) {
	people, err := s.Shop.People(c.Context())
	return slices.DeleteFunc(people, func(p listing.Person) bool {
		return !p.Active || p.Role == job.Reader || p.ID == kit.Session(c).Person.ID
	}), err
}

// order puts what stands before the signature in the order of the work.
func (v *ledgerView) order(st *job.State, groups []gateGroup) {
	place := map[operation.StepID]int{}
	for i, x := range st.Plan.Steps {
		place[x.ID] = i
	}
	at := func(g gateGroup) int {
		step := g.Step
		if step == "" {
			step = g.Gates[0].Step
		}
		if i, ok := place[step]; ok {
			return i
		}
		return len(place)
	}
	var open []gateGroup
	for _, g := range groups {
		switch first := g.Gates[0]; {
		case first.Deviation != nil:
			v.Passed = append(v.Passed, g)
		case first.Met:
			v.Met = append(v.Met, g)
		default:
			open = append(open, g)
		}
	}
	slices.SortStableFunc(open, func(a, b gateGroup) int { return at(a) - at(b) })
	n := min(firstGates, len(open))
	for i, g := range open { // what a fault is about is never folded away
		if g.Here {
			n = max(n, i+1)
		}
	}
	v.Before, v.Further = open[:n], open[n:]
}

// FurtherFrom is the number of the first thing folded away.
func (v ledgerView) FurtherFrom() int { return len(v.Before) + 1 }

// OpenSays is how much stands before the signature.
func (v ledgerView) OpenSays() string {
	n := len(v.Before) + len(v.Further)
	if n == 1 {
		return "1 thing, then you sign"
	}
	return fmt.Sprintf("%d things, then you sign", n)
}

// MetSays is how many gates are met.
func (v ledgerView) MetSays() string {
	met := 0
	for _, g := range v.Met {
		met += len(g.Gates)
	}
	if met == 1 {
		return "1 more is met"
	}
	return fmt.Sprintf("%d more are met", met)
}

// sides lays the fasteners out as they sit: left on the left, right on the right, what is
// owed first.
func (v *ledgerView) sides(st *job.State) {
	all := []ledgerSide{{Name: "Left"}, {Name: "Right"}, {Name: "Underneath"}}
	account := st.Account()
	for i := range st.Plan.Joints {
		j := &st.Plan.Joints[i]
		side := &all[2]
		if j.Corner != "" {
			side = &all[1]
			if j.Corner.Left() {
				side = &all[0]
			}
		}
		side.add(st, j)
	}
	for _, side := range all {
		side.account = account.Of(side.has)
		slices.SortStableFunc(side.Joints, func(a, b ledgerJoint) int { return rank(a) - rank(b) })
		if len(side.Joints) > 0 {
			v.Sides = append(v.Sides, side)
		}
	}
}

func rank(j ledgerJoint) int {
	switch {
	case j.Owed:
		return 0
	case j.Untouched:
		return 2
	}
	return 1
}

// has says that a fastener is of this side.
func (d *ledgerSide) has(id job.FastenerID) bool {
	return slices.ContainsFunc(d.Joints, func(j ledgerJoint) bool { return j.ID == id.Joint })
}

func (d *ledgerSide) add(st *job.State, j *plan.Joint) {
	lj := ledgerJoint{Joint: j, Untouched: true}
	for _, l := range j.Letters {
		fa := st.Fastener(j.ID, l)
		r := ledgerRow{
			Sign:    draw.Sign{Drive: j.Drive, Mark: fa.Sign()},
			Letter:  l,
			Renewed: fa.Renewed,
			Says:    fa.Says(),
			Check:   st.Unchecked(j, fa),
		}
		for _, id := range fa.Pulls {
			r.Pulls = append(r.Pulls, st.Pulls[id])
		}
		lj.Rows = append(lj.Rows, r)
		lj.Untouched = lj.Untouched && fa.Mark() == job.Rest
		d.all++
		lj.Owed = lj.Owed || fa.Owed()
	}
	d.Joints = append(d.Joints, lj)
}

// seized lists what was stuck, what was tried and what came of it.
func (v *ledgerView) seized(st *job.State) {
	for i := range st.Troubles {
		t := &st.Troubles[i]
		var words []string
		for _, x := range t.Tries {
			words = append(words, x.Name+": "+x.Outcome)
		}
		switch {
		case t.Became != "":
			words = append(words, "it became worse")
		case t.Cleared != nil:
			words = append(words, t.Cleared.How)
		default:
			words = append(words, "still open")
		}
		v.Seized = append(v.Seized, seizedView{
			What: unit.Capital(t.What) + ", " + whatIsStuck(st, t),
			Says: strings.Join(words, "; "),
			By:   t.By,
			At:   t.At,
		})
	}
}

// doubts gathers what a reader of the record should know.
func (v *ledgerView) doubts(st *job.State) {
	for i := range st.Figures {
		f := &st.Figures[i]
		if j := st.Plan.Joint(f.Joint); j != nil && f.Answered == nil {
			v.Figures = append(v.Figures, figureStruck{f, j.Title})
		}
	}
	for _, h := range st.Hasty {
		if x := st.Plan.Step(h.Step); x != nil {
			v.Hasty = append(v.Hasty, hastyAct{h, x.Title})
		}
	}
	for _, p := range st.Pulls {
		v.Simulated = v.Simulated || p.Simulated
	}
	for _, d := range st.Walk.Drives {
		v.Simulated = v.Simulated || d.Simulated
	}
}

// answerFigure takes a figure that was struck on the sheet into the job, or refuses it.
func (s *Server) answerFigure(c fiber.Ctx) error {
	in := kit.Read[struct {
		Joint  string           `form:"joint"`
		Step   operation.StepID `form:"step"` // where it is answered at the bench
		Take   kit.Tick         `form:"take"`
		Reason string           `form:"reason"`
	}](c)
	_, err := s.record(c, job.AnswerFigure{Joint: in.Joint, Take: bool(in.Take), Reason: in.Reason})
	if in.Step != "" {
		return s.after(c, err)
	}
	return s.onLedger(c, "figure:"+in.Joint, err)
}

// wrongFigure says at the bench that a figure of the sheet is wrong: it is struck there, for every
// job, and asked in this one as in the others.
func (s *Server) wrongFigure(c fiber.Ctx) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	in := kit.Read[corrects](c)
	j := st.Plan.Joint(in.Joint)
	if j == nil {
		return s.after(c, fault.New(job.CodeMissing, "joint", "The plan has no such joint.", "Choose one from the plan."))
	}
	in.Joint = j.Sheet
	in.Variant = st.Variants[j.ID]
	return s.after(c, s.correctAs(c, st.Vehicle.Pattern, in))
}

// onLedger answers a write made on the ledger.
func (s *Server) onLedger(c fiber.Ctx, key string, err error) error {
	if f := fault.As(err); f != nil {
		return s.showLedger(c, kit.Status(f), key, f)
	} else if err != nil {
		return err
	}
	return kit.See(c, "/jobs/"+c.Params("job")+"/ledger")
}

func (s *Server) strike(c fiber.Ctx) error {
	in := kit.Read[struct {
		Pull   string `form:"pull"`
		Reason string `form:"reason"`
	}](c)
	_, err := s.record(c, job.StrikePull{Pull: in.Pull, Reason: in.Reason})
	return s.onLedger(c, in.Pull, err)
}

func (s *Server) finding(c fiber.Ctx) error {
	in := kit.Read[struct {
		Text string `form:"text"`
	}](c)
	_, err := s.record(c, job.Find{Text: in.Text})
	return s.onLedger(c, "finding", err)
}

// deviate passes a gate over by the name of whoever is signed in, and of a
// second person who proves it with their PIN.
func (s *Server) deviate(c fiber.Ctx) error {
	in := kit.Read[struct {
		seconded
		Gate    string `form:"gate"`
		Lengths string `form:"lengths"`
		Reason  string `form:"reason"`
	}](c)
	m := kit.Meta(c, s.Shop.Now())
	if in.Second != "" {
		second, err := s.second(c, in.seconded)
		if err != nil {
			return s.onLedger(c, in.Gate, err)
		}
		m.Second = second
	}
	lengths, err := figures("lengths", in.Lengths)
	if err == nil {
		_, err = s.recordAs(c, m, job.Deviate{Gate: in.Gate, Reason: in.Reason, LengthsMM: lengths})
	}
	return s.onLedger(c, in.Gate, err)
}

// seconded is a second person who proves themself with their PIN on the first one's form.
type seconded struct {
	Second string `form:"second"`
	PIN    string `form:"pin"`
}

// second is the name of a second person, once their PIN has proved them: somebody else, and
// no reader.
func (s *Server) second(c fiber.Ctx, in seconded) (string, error) {
	if in.Second == "" {
		return "", fault.New(job.CodeMissing, "second", "Here a second person signs too.",
			"Have a colleague enter name and PIN.")
	}
	p, err := s.Shop.Prove(c.Context(), in.Second, in.PIN, s.asker(c), s.Shop.Now())
	switch {
	case err != nil:
		return "", err
	case p.Role == job.Reader:
		return "", fault.New(job.CodeRole, "second", "A reader signs for nothing.", "Ask a technician or the foreman.")
	case p.ID == kit.Session(c).Person.ID:
		return "", fault.New(job.CodeChoice, "second", "The second person is another person.",
			"Have a colleague enter name and PIN.")
	}
	return p.Name, nil
}

// figures reads several figures parted by spaces or semicolons.
func figures(field, text string) ([]float64, error) {
	var out []float64
	for _, word := range strings.FieldsFunc(text, func(r rune) bool { return r == ';' || unicode.IsSpace(r) }) {
		v, ok := unit.Figure(word)
		if !ok {
			return nil, fault.New("bad_number", field, "“"+word+"” is no figure.",
				"Enter the figures with a space between them, as in 45.8 46.1.")
		}
		out = append(out, v)
	}
	return out, nil
}

// sign asks for the PIN once more: the signature is the person's own act.
func (s *Server) sign(c fiber.Ctx) error {
	in := kit.Read[struct {
		PIN  string `form:"pin"`
		Note string `form:"note"`
	}](c)
	p, err := s.Shop.Prove(c.Context(), kit.Session(c).Person.Name, in.PIN, s.asker(c), s.Shop.Now())
	if err == nil && p.ID != kit.Session(c).Person.ID {
		err = fault.New("bad_pin", "pin", "Name and PIN do not belong together.", "Try again.")
	}
	if err == nil {
		_, err = s.record(c, job.Sign{Note: strings.TrimSpace(in.Note)})
	}
	return s.onLedger(c, "sign", err)
}

func (s *Server) reopen(c fiber.Ctx) error {
	in := kit.Read[struct {
		Reason string `form:"reason"`
	}](c)
	_, err := s.record(c, job.Reopen{Reason: in.Reason})
	return s.onLedger(c, "reopen", err)
}

// pulledFigure is what a pull came to, as the ledger says it.
func pulledFigure(p *job.Pull) string {
	switch {
	case p.Evidence == pull.NotMeasured:
		return "no figure"
	case p.ReadNm() > 0:
		return unit.Torque(p.ReadNm()).Both()
	case p.SetAtBoltNm() > 0:
		return "set " + unit.Torque(p.SetAtBoltNm()).Both()
	}
	return unit.Number(p.Result.TurnDeg, 1) + "°"
}
