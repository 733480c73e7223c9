package web

import (
	"bytes"
	"fmt"
	"html/template"
	"image"
	"image/jpeg"
	_ "image/png" // photographs may be
	"io"
	"net/url"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"
	scale "golang.org/x/image/draw"

	"lugtak/core/diagnose"
	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/vehicle"
	"lugtak/draw"
	"lugtak/library"
)

type walkView struct {
	Plays     []string // what a stand-in logger can play; none is connected where empty
	Job       *job.State
	Owed      int
	Report    diagnose.Report
	Ask       *nextView // in hand; nil where nothing is left to ask
	Tests     []testView
	Suspects  []suspectView
	Last      *questionView  // answered last
	Told      []questionView // signs the words of the complaint may mean
	Position  string
	Positions []string
	Place     string
	Map       draw.WalkPlan
	Near      []placeView // finer places at the one in hand
	Questions []questionView
	Measures  []inspect.Limit
	Lash      []inspect.LashRule
	Lining    []inspect.LiningRule
	Taken     []takenView
	Drive     template.HTML
	Drives    []job.Drive
	Proposals []proposalView
	Fault     *fault.Fault
	For       string
	Typed     map[string]string
	Healthy   int
	Sure      bool // the leading suspect is as good as found
}

// At is the address of a place on the walk-round.
func (v walkView) At(place string) string {
	q := url.Values{"at": {v.Position}}
	if place != "" {
		q.Set("place", place)
	}
	return "/jobs/" + v.Job.ID + "/walk?" + q.Encode()
}

// To is the address of a test, with the place that is in hand.
func (v walkView) To(test string) string { return v.At(v.Place) + "&ask=" + url.QueryEscape(test) }

// Others is the address of the test after the one in hand, for whoever cannot tell; empty
// where there is none.
func (v walkView) Others() string {
	for i, t := range v.Tests {
		if t.Here && i+1 < len(v.Tests) {
			return v.To(v.Tests[i+1].Key)
		}
	}
	return ""
}

// placeView is a finer place at a part of the vehicle.
type placeView struct {
	Key, Name string
	Here      bool
}

// testView is a test worth doing, with what it gains a minute in five blocks.
type testView struct {
	Key, Ask string
	Minutes  float64
	Blocks   [5]bool
	Here     bool
}

// suspectView is a suspect with where the answer in hand would move it, in per cent.
type suspectView struct {
	diagnose.Weight
	Percent, Yes, No int
	Moves            bool     // an answer moves it
	For, Not         []string // what speaks for and against it, the first and shortest said
}

// reasons are the first of what was answered, without the question it was an answer to.
func reasons(all []string, most int) []string {
	var out []string
	for _, says := range all[:min(most, len(all))] {
		if _, why, yes := strings.Cut(says, "? Yes: "); yes {
			says = why
		}
		out = append(out, says)
	}
	return out
}

type questionView struct {
	diagnose.Evidence
	Answered, Yes bool
	Corners       []cornerView // where it is looked at corner by corner
}

// Says is the answer in a word: yes, no, or the corners it is so at.
func (q questionView) Says() string {
	var at []string
	for _, c := range q.Corners {
		if c.Yes {
			at = append(at, string(c.Corner))
		}
	}
	switch {
	case len(at) > 0:
		return strings.Join(at, ", ")
	case q.Yes:
		return "yes"
	}
	return "no"
}

// nextView is a test worth doing, and what it would settle.
type nextView struct {
	Q       questionView
	Settles string
}

// cornerView is a corner a test was or can be found at.
type cornerView struct {
	Corner diagnose.Corner
	Name   string
	Yes    bool
}

type takenView struct {
	job.Measurement
	Drawing template.HTML
}

// verdictWord is a verdict as one says it.
func verdictWord(verdict string) string {
	switch inspect.Verdict(verdict) {
	case inspect.OK:
		return "inside"
	case inspect.MeasureAgain:
		return "measure again"
	}
	return "beyond"
}

// stands is how the vehicle stands for a question, as one says it.
func stands(position string) string {
	switch position {
	case "drive":
		return "on the road"
	case "ground":
		return "on its wheels"
	}
	return position
}

type proposalView struct {
	diagnose.Weight
	Percent  int
	Decided  *job.Proposal
	CanPlan  bool
	Places   []vehicle.Corner // it can be replaced at
	Corner   vehicle.Corner   // of these the one the answers point to
	Measured []string
}

// finer are places of the questions, with what one calls them.
var finer = map[string]string{
	"road": "on the road", "engine": "engine bay", "steering": "steering linkage", "rack": "rack", "rod": "tie rods",
	"wheel": "wheel", "hub": "hub", "brake": "brake", "arm": "arms", "damper": "dampers", "link": "stabiliser",
	"cab": "cab", "shaft": "shafts",
}

// walkPlace is a place on the drawn vehicle with the finer ones it has.
type walkPlace struct {
	key, name string
	has       []string
}

func (p walkPlace) corner() bool { return slices.Contains(diagnose.Corners, diagnose.Corner(p.key)) }

// walkPlaces are those of every vehicle.
var walkPlaces = []walkPlace{
	{"road", "Road", []string{"road"}},
	{"engine", "Engine bay", []string{"engine"}},
	{"steering", "Steering", []string{"steering", "rack", "rod"}},
	{"cab", "Cab", []string{"cab"}},
	{"shaft", "Middle", []string{"shaft"}},
	{"FL", "FL", atCorner},
	{"FR", "FR", atCorner},
	{"RL", "RL", atCorner},
	{"RR", "RR", atCorner},
}

var atCorner = []string{"wheel", "hub", "brake", "arm", "damper", "link"}

// cornerPlaces are those that each corner of a vehicle has.
var cornerPlaces = []string{"wheel", "hub", "brake", "arm", "damper"}

func (s *Server) walk(c fiber.Ctx) error { return s.showWalk(c, 200, "", nil) }

func (s *Server) history(c fiber.Ctx, st *job.State) (diagnose.History, error) {
	h := diagnose.History{KM: float64(st.OdometerKM), Salt: s.lib().Shop.Salt, Renewed: map[string]diagnose.Renewal{}}
	past, err := s.Store.LastJobs(c.Context(), st.Vehicle.ID, 50)
	if err != nil {
		return h, err
	}
	for _, p := range past {
		if p.Signature == nil {
			continue
		}
		for _, x := range s.lib().Signs.Suspects {
			if slices.ContainsFunc(x.Operations, p.Plan.Does) {
				if _, newer := h.Renewed[x.Key]; !newer {
					h.Renewed[x.Key] = diagnose.Renewal{Years: s.Now().Sub(p.Signature.At).Hours() / 24 / 365}
				}
			}
		}
	}
	return h, nil
}

func (s *Server) showWalk(c fiber.Ctx, code int, forWhat string, f *fault.Fault) error {
	st, err := s.Store.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	v := walkView{
		Plays:     s.plays(),
		Job:       st,
		Owed:      len(st.Owed()),
		Positions: diagnose.Positions,
		Fault:     f,
		For:       forWhat,
		Typed:     map[string]string{},
	}
	if f != nil {
		for _, k := range []string{"value", "limit", "source", "readings", "new", "discard", "runout", "distance", "text", "reason", "tyre", "ratio", "csv", "wheel"} {
			v.Typed[k] = c.FormValue(k)
		}
	}
	k := &s.lib().Signs
	h, err := s.history(c, st)
	if err != nil {
		return err
	}
	answers := s.answers(st)
	if v.Report, err = k.Weigh(answers, h); err != nil {
		return err
	}
	v.Sure = v.Report.Suspects[0].Chance >= diagnose.Sure
	v.Healthy = int(100*v.Report.Healthy + 0.5)
	if v.Position = c.Query("at", c.FormValue("at")); !slices.Contains(diagnose.Positions, v.Position) {
		v.Position = "ground"
	}
	v.tests(c.Query("ask"))
	if err := s.suspects(&v, answers, h); err != nil {
		return err
	}
	if n := len(st.Walk.Asked); n > 0 {
		sign, _ := job.AnswerOf(st.Walk.Asked[n-1])
		if i := slices.IndexFunc(k.Evidence, func(e diagnose.Evidence) bool { return e.Key == sign }); i >= 0 {
			q := answered(k.Evidence[i], st)
			v.Last = &q
		}
	}
	for _, key := range k.Complaint(st.Complaint) {
		for _, e := range k.Evidence {
			if q := answered(e, st); e.Key == key && !q.Answered {
				v.Told = append(v.Told, q)
			}
		}
	}
	v.Place = c.Query("place", c.FormValue("place"))
	p, _ := s.lib().Pattern(st.Vehicle.Pattern)
	s.placed(&v)
	for _, e := range k.Evidence {
		q := answered(e, st)
		here := v.shows(e.Place) && (q.Answered || follows(e, st))
		if v.Place == "" && q.Answered || here {
			v.Questions = append(v.Questions, q)
		}
	}
	for _, l := range s.lib().Limits.Measures {
		if l.Place == v.Place {
			v.Measures = append(v.Measures, l)
		}
	}
	v.Lash, v.Lining = s.lib().Limits.Lash, s.lib().Limits.Lining
	for _, m := range slices.Backward(st.Walk.Measured) {
		v.Taken = append(v.Taken, takenView{m, draw.MeasureBar(m)})
	}
	if n := len(st.Walk.Drives); n > 0 {
		v.Drive, v.Drives = draw.Waterfall(st.Walk.Drives[n-1]), st.Walk.Drives
	}
	v.Proposals = s.proposals(st, v.Report, p)
	return s.render(c, code, "walk", "Walk-round", v)
}

// answered is a sign or test with what was answered to it.
func answered(e diagnose.Evidence, st *job.State) questionView {
	q := questionView{Evidence: e}
	q.Yes, q.Answered = st.Walk.Answers[e.Key]
	if !e.Corner {
		return q
	}
	for _, c := range diagnose.Corners {
		yes, ok := st.Walk.Answers[job.AnswerKey(e.Key, string(c))]
		q.Answered = q.Answered || ok
		q.Corners = append(q.Corners, cornerView{c, cornerNames[c], yes})
	}
	return q
}

// cornerNames are the corners in words.
var cornerNames = map[diagnose.Corner]string{"FL": "front left", "FR": "front right", "RL": "rear left", "RR": "rear right"}

// follows says that what a question comes after was answered yes, somewhere.
func follows(e diagnose.Evidence, st *job.State) bool {
	if e.After == "" || st.Walk.Answers[e.After] {
		return true
	}
	return slices.ContainsFunc(diagnose.Corners, func(c diagnose.Corner) bool {
		return st.Walk.Answers[job.AnswerKey(e.After, string(c))]
	})
}

// answers are those of the job that the library still knows. A sign it no longer has stays
// in the journal and weighs nothing.
func (s *Server) answers(st *job.State) []diagnose.Answer {
	var out []diagnose.Answer
	for _, key := range st.Walk.Asked {
		sign, corner := job.AnswerOf(key)
		if slices.ContainsFunc(s.lib().Signs.Evidence, func(e diagnose.Evidence) bool { return e.Key == sign }) {
			out = append(out, diagnose.Answer{Key: sign, Yes: st.Walk.Answers[key], Corner: diagnose.Corner(corner)})
		}
	}
	return out
}

// tests lays out the three that gain most a minute, the one asked for in hand.
func (v *walkView) tests(asked string) {
	next := diagnose.Allowed(v.Report.Next, v.Position)
	next = next[:min(3, len(next))]
	here := max(0, slices.IndexFunc(next, func(n diagnose.Next) bool { return n.Key == asked }))
	for i, n := range next {
		t := testView{Key: n.Key, Ask: n.Ask, Minutes: n.Minutes, Here: i == here}
		for b := range t.Blocks {
			t.Blocks[b] = b == 0 || n.PerMinute >= float64(b+1)/5.5*next[0].PerMinute
		}
		v.Tests = append(v.Tests, t)
		if t.Here {
			v.Ask = &nextView{answered(n.Evidence, v.Job), n.Settles}
		}
	}
}

// leading is how many suspects stand in sight, and moved the change in per cent points from
// which an answer is said to move one.
const (
	leading = 3
	moved   = 2
)

// suspects lays out the leading ones, with where a yes and a no to the test in hand would
// move them. A yes is found where the first of them is suspected.
func (s *Server) suspects(v *walkView, answers []diagnose.Answer, h diagnose.History) error {
	chances := func(yes bool) (map[string]float64, error) {
		out := map[string]float64{}
		if v.Ask == nil {
			return out, nil
		}
		a := diagnose.Answer{Key: v.Ask.Q.Key, Yes: yes}
		if where := v.Report.Suspects[0].Where; yes && v.Ask.Q.Corner && len(where) == 2 {
			a.Corner = diagnose.Corner(where)
		} else if yes && v.Ask.Q.Corner {
			a.Corner = "FL"
		}
		r, err := s.lib().Signs.Weigh(append(slices.Clone(answers), a), h)
		for _, w := range r.Suspects {
			out[w.Key] = w.Chance
		}
		return out, err
	}
	yes, err := chances(true)
	if err != nil {
		return err
	}
	no, err := chances(false)
	if err != nil {
		return err
	}
	percent := func(chance float64) int { return int(100*chance + 0.5) }
	for _, w := range v.Report.Suspects[:min(leading, len(v.Report.Suspects))] {
		x := suspectView{Weight: w, Percent: percent(w.Chance), Yes: percent(yes[w.Key]), No: percent(no[w.Key])}
		x.For, x.Not = reasons(w.Because, 2), reasons(w.Against, 1)
		x.Moves = v.Ask != nil && max(x.Yes, x.Percent, x.No)-min(x.Yes, x.Percent, x.No) >= moved
		v.Suspects = append(v.Suspects, x)
	}
	return nil
}

// placed draws the places, each with what is left to try there and its suspicion.
func (s *Server) placed(v *walkView) {
	var places []draw.WalkPlace
	for _, x := range walkPlaces {
		p := draw.WalkPlace{Key: x.key, Name: x.name, Corner: x.corner()}
		p.Here = v.Place == x.key || !p.Corner && slices.Contains(x.has, v.Place)
		for _, e := range s.lib().Signs.Evidence {
			if slices.Contains(x.has, e.Place) && !answered(e, v.Job).Answered && follows(e, v.Job) {
				p.Open++
			}
		}
		for _, w := range v.Report.Suspects {
			if w.Where == x.key || p.Corner && w.Where == vehicle.Corner(x.key).Side() {
				p.Chance = max(p.Chance, w.Chance)
			}
		}
		places = append(places, p)
		if (v.Place == x.key || slices.Contains(x.has, v.Place)) && len(x.has) > 1 && v.Near == nil {
			for _, key := range x.has {
				v.Near = append(v.Near, placeView{key, finer[key], key == v.Place})
			}
		}
	}
	v.Map = draw.Walk(places)
}

// shows says that the questions of a finer place stand on the page: it is in hand, or the
// whole part of the vehicle is.
func (v *walkView) shows(finer string) bool {
	if v.Place == finer {
		return true
	}
	return slices.ContainsFunc(walkPlaces, func(x walkPlace) bool {
		return x.key == v.Place && x.corner() && slices.Contains(x.has, finer)
	})
}

// proposals are the suspects likely enough to be worked on, and those decided.
func (s *Server) proposals(st *job.State, r diagnose.Report, p vehicle.Pattern) []proposalView {
	var out []proposalView
	offers := s.offers(p)
	for _, w := range r.Suspects {
		x := proposalView{Weight: w, Percent: int(100*w.Chance + 0.5)}
		for i := range st.Walk.Proposals {
			if st.Walk.Proposals[i].Suspect == w.Key {
				x.Decided = &st.Walk.Proposals[i]
			}
		}
		if x.Decided == nil && w.Chance < diagnose.Likely {
			continue
		}
		for _, corner := range []vehicle.Corner{"FL", "FR", "RL", "RR"} {
			t, ok := library.TaskFor(offers, w.Suspect, corner)
			if ok && !st.Begun() {
				x.CanPlan = true
				if t.Corner != "" {
					x.Places = append(x.Places, corner)
				}
			}
		}
		x.Corner = pointedAt(x.Places, w.Where)
		out = append(out, x)
	}
	return out
}

// pointedAt is the place the answers point to, a corner or a side; else the first.
func pointedAt(places []vehicle.Corner, where string) vehicle.Corner {
	for _, c := range places {
		if string(c) == where || c.Side() == where {
			return c
		}
	}
	if len(places) == 0 {
		return ""
	}
	return places[0]
}

// onWalk answers a write on the walk-round.
func (s *Server) onWalk(c fiber.Ctx, forWhat string, err error) error {
	if c.FormValue("step") != "" { // measured at the bench
		return s.after(c, err)
	}
	if f := fault.As(err); f != nil {
		return s.showWalk(c, status(f), forWhat, f)
	} else if err != nil {
		return err
	}
	if c.Get("HX-Request") == "true" {
		return s.showWalk(c, 200, "", nil)
	}
	return c.Redirect().Status(
		fiber.StatusSeeOther,
	).To(
		fmt.Sprintf(
			"/jobs/%s/walk?place=%s&at=%s",
			c.Params("job"),
			c.FormValue("place"),
			strings.ReplaceAll(c.FormValue("at"), " ", "+"),
		),
	)
}

func (s *Server) answer(c fiber.Ctx) error {
	key := c.FormValue("sign")
	i := slices.IndexFunc(s.lib().Signs.Evidence, func(e diagnose.Evidence) bool { return e.Key == key })
	if i < 0 {
		return s.onWalk(
			c,
			"",
			fault.New("unknown_sign", "sign", "There is no such sign or test.", "Choose one of the walk-round."),
		)
	}
	cmd := job.Answer{Sign: key, Ask: s.lib().Signs.Evidence[i].Ask}
	switch say, corner, _ := strings.Cut(c.FormValue("say"), " "); say {
	case "open": // takes it back
		cmd.Open = true
		cmd.Corner = corner
	case "yes":
		cmd.Yes = true
		cmd.Corner = corner
	}
	_, err := s.record(c, cmd)
	return s.onWalk(c, key, err)
}

// find notes something outside the job, with a photograph if one was taken.
func (s *Server) find(c fiber.Ctx) error {
	f := job.Find{Text: c.FormValue("text")}
	step := c.FormValue("step") // where it was seen, from the bench
	if st, err := s.Store.Job(c.Context(), c.Params("job")); err == nil && st.HasPlan() {
		if at := st.Plan.Step(operation.StepID(step)); at != nil {
			f.Place = at.Place
			if at.Corner != "" {
				f.Place = at.Corner.Axle() + " " + at.Corner.Side() + ", " + at.Place
			}
		}
	}
	if fh, err := c.FormFile("photo"); err == nil && fh.Size > 0 {
		file, err := fh.Open()
		if err != nil {
			return err
		}
		defer file.Close()
		if f.Photo, err = shrink(file); err != nil {
			return s.onWalk(c, "finding", err)
		}
	}
	_, err := s.record(c, f)
	if err == nil && step != "" {
		return s.goTo(c, "/jobs/"+c.Params("job")+"/bench?step="+step)
	}
	return s.onWalk(c, "finding", err)
}

const (
	photoEdge   = 1280 // pixels of the longer side
	photoPixels = 60e6
)

// shrink checks that a file is a photograph and makes it small enough for the
// journal.
func shrink(r io.Reader) ([]byte, error) {
	bad := fault.New("bad_file", "photo", "That is no photograph.", "Choose a JPEG or PNG.")
	data, err := io.ReadAll(r)
	if err != nil {
		return nil, bad
	}
	cfg, _, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || cfg.Width < 8 || cfg.Height < 8 || float64(cfg.Width)*float64(cfg.Height) > photoPixels {
		return nil, bad
	}
	img, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, bad
	}
	w, h := cfg.Width, cfg.Height
	if k := float64(photoEdge) / float64(max(w, h)); k < 1 {
		w, h = max(1, int(float64(w)*k)), max(1, int(float64(h)*k))
	}
	small := image.NewRGBA(image.Rect(0, 0, w, h))
	scale.CatmullRom.Scale(small, small.Bounds(), img, img.Bounds(), scale.Src, nil)
	var b bytes.Buffer
	err = jpeg.Encode(&b, small, &jpeg.Options{Quality: 75})
	return b.Bytes(), err
}

func (s *Server) photo(c fiber.Ctx) error {
	data, err := s.Store.Photo(c.Context(), c.Params("job"), c.Params("event"))
	if err != nil {
		return err
	}
	if data == nil {
		return fault.New("not_found", "", "There is no such photograph.", "Go back to the walk-round.")
	}
	c.Set("Content-Type", "image/jpeg")
	c.Set("Cache-Control", "private, max-age=86400")
	return c.Send(data)
}

// decideOn accepts or declines a proposal; accepting one the library can plan leads
// to the order, where it is ticked.
func (s *Server) decideOn(c fiber.Ctx) error {
	key := c.FormValue("suspect")
	i := slices.IndexFunc(s.lib().Signs.Suspects, func(x diagnose.Suspect) bool { return x.Key == key })
	if i < 0 {
		return s.onWalk(
			c,
			key,
			fault.New("missing", "suspect", "There is no such proposal.", "Choose one of the walk-round."),
		)
	}
	x := s.lib().Signs.Suspects[i]
	ch := job.TakeProposal{
		Suspect: key,
		Name:    x.Name,
		Safety:  x.Safety,
		Accept:  c.FormValue("say") == "accept",
		Side:    c.FormValue("corner"),
		Both:    c.FormValue("both") != "",
		Reason:  c.FormValue("reason"),
	}
	if _, err := s.record(c, ch); err != nil || !ch.Accept || c.FormValue("plan") == "" {
		return s.onWalk(c, key, err)
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/jobs/" + c.Params("job") + "/order")
}

// plays is what a stand-in logger can play; nothing where none is connected.
func (s *Server) plays() []string {
	if l := s.logger(); l != nil {
		return l.Plays()
	}
	return nil
}
