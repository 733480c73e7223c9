package web

import (
	"bytes"
	"fmt"
	"html/template"
	"image"
	"image/jpeg"
	_ "image/png" // photographs may be
	"io"
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
	Next      []nextView
	Told      []questionView // signs the words of the complaint may mean
	Position  string
	Positions []string
	Place     string
	Places    []placeView
	Map       draw.OutlineView
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

type placeView struct {
	Key, Name string
	X, Y      float64
	Open      int
	Here      bool
}

type questionView struct {
	diagnose.Evidence
	Answered, Yes bool
	Corners       []cornerView // where it is looked at corner by corner
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

type proposalView struct {
	diagnose.Weight
	Percent  int
	Decided  *job.Proposal
	CanPlan  bool
	Places   []vehicle.Corner // it can be replaced at
	Corner   vehicle.Corner   // of these the one the answers point to
	Measured []string
}

// places are where one stands and looks, in plan view: shares of length from the
// nose and of width from the right side, which lies above.
var places = []struct {
	key, name string
	x, y      float64
}{
	{
		"road",
		"on the road",
		-0.10,
		0.5,
	}, {"engine", "engine bay", 0.07, 0.5}, {"steering", "steering linkage", 0.15, 0.74}, {"rack", "rack", 0.15, 0.5}, {"rod", "tie rods", 0.15, 0.26},
	{
		"wheel",
		"wheel",
		0.19,
		1.16,
	}, {"hub", "hub", 0.19, -0.16}, {"brake", "brake", 0.31, 1.16}, {"arm", "arms", 0.31, -0.16}, {"damper", "dampers", 0.44, 1.16}, {"link", "stabiliser", 0.44, -0.16},
	{"cab", "cab", 0.34, 0.5}, {"shaft", "shafts", 0.62, 0.5},
}

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
	var answers []diagnose.Answer
	for _, key := range st.Walk.Asked {
		// A sign the library no longer has stays in the journal and weighs nothing.
		sign, corner := job.AnswerOf(key)
		if slices.ContainsFunc(k.Evidence, func(e diagnose.Evidence) bool { return e.Key == sign }) {
			answers = append(answers, diagnose.Answer{Key: sign, Yes: st.Walk.Answers[key], Corner: diagnose.Corner(corner)})
		}
	}
	if v.Report, err = k.Weigh(answers, h); err != nil {
		return err
	}
	v.Sure = v.Report.Suspects[0].Chance >= diagnose.Sure
	v.Healthy = int(100*v.Report.Healthy + 0.5)
	if v.Position = c.Query("at", c.FormValue("at")); !slices.Contains(diagnose.Positions, v.Position) {
		v.Position = "ground"
	}
	for _, n := range diagnose.Allowed(v.Report.Next, v.Position) {
		if len(v.Next) < 3 {
			v.Next = append(v.Next, nextView{answered(n.Evidence, st), n.Settles})
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
	v.Map = draw.Outline(p.Outline, nil)
	for _, x := range places {
		v.Places = append(v.Places, s.placeView(x.key, x.name, x.x, x.y, v.Map, st, v.Place))
	}
	for _, e := range k.Evidence {
		q := answered(e, st)
		here := e.Place == v.Place && (q.Answered || follows(e, st))
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

func (s *Server) placeView(key, name string, x, y float64, o draw.OutlineView, st *job.State, here string) placeView {
	p := placeView{Key: key, Name: name, X: o.X0 + x*(o.X1-o.X0), Y: o.Y0 + y*(o.Y1-o.Y0), Here: key == here}
	for _, e := range s.lib().Signs.Evidence {
		if e.Place == key && !answered(e, st).Answered && follows(e, st) {
			p.Open++
		}
	}
	return p
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
