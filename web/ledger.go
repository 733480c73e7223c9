package web

import (
	"strings"
	"unicode"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/unit"
	"lugtak/pages/ledger"
	"lugtak/web/kit"
)

// ledgerRoom answers for the ledger, the signature, and what leaves with the vehicle.
type ledgerRoom struct{ *Server }

func (s ledgerRoom) routes(at paths) {
	at.Post("/jobs/:job/figure", s.answerFigure)
	at.Post("/jobs/:job/wrong", s.job(s.wrongFigure))
	at.get("/jobs/:job/ledger", s.ledger)
	at.Post("/jobs/:job/strike", s.strike)
	at.Post("/jobs/:job/deviate", s.deviate)
	at.Post("/jobs/:job/finding", s.finding)
	at.Post("/jobs/:job/sign", s.sign)
	at.Post("/jobs/:job/reopen", s.reopen)
	at.Post("/jobs/:job/due", s.closeDue)
	at.get("/jobs/:job/label", s.job(s.label))
	at.get("/jobs/:job/report", s.job(s.report))
	at.get("/jobs/:job/report.pdf", s.reportPDF)
	at.get("/jobs/:job/report.html", s.reportFile)
	at.get("/jobs/:job/ledger.csv", s.ledgerCSV)
	at.get("/jobs/:job/job.json", s.jobJSON)
}

func (s ledgerRoom) ledger(c fiber.Ctx) error { return s.showLedger(c, 200, "", nil) }

func (s ledgerRoom) showLedger(c fiber.Ctx, code int, key string, f *fault.Fault) error {
	st, err := s.jobOf(c)
	if err != nil {
		return err
	}
	x := ledger.Shown{Job: st, Fault: f, For: key}
	if f != nil {
		x.Typed = kit.Typed(c)
	}
	if x.Origin, err = s.Shop.Origin(c.Context(), st.ID); err != nil {
		return err
	}
	if x.People, err = s.others(c); err != nil {
		return err
	}
	return s.show(c, code, ledger.Page(x))
}

// others are who may sign or read second: people who work here, but who asks.
func (s ledgerRoom) others(c fiber.Ctx) ([]string, error) {
	people, err := s.Shop.People(c.Context())
	var out []string
	for _, p := range people {
		if p.Active && p.Role != job.Reader && p.ID != kit.Session(c).Person.ID {
			out = append(out, p.Name)
		}
	}
	return out, err
}

// answerFigure takes a figure that was struck on the sheet into the job, or refuses it.
func (s ledgerRoom) answerFigure(c fiber.Ctx) error {
	in := kit.Read[struct {
		Joint  string           `form:"joint"`
		Step   operation.StepID `form:"step"` // where it is answered at the bench
		Take   kit.Tick         `form:"take"`
		Reason string           `form:"reason"`
	}](c)
	_, err := s.record(c, job.AnswerFigure{Joint: in.Joint, Take: bool(in.Take), Reason: in.Reason})
	if in.Step != "" {
		return benchRoom(s).after(c, err)
	}
	return s.onLedger(c, "figure:"+in.Joint, err)
}

// wrongFigure says at the bench that a figure of the sheet is wrong: it is struck there, for every
// job, and asked in this one as in the others.
func (s ledgerRoom) wrongFigure(c fiber.Ctx, st *job.State) error {
	in := kit.Read[corrects](c)
	j := st.Plan.Joint(in.Joint)
	if j == nil {
		return benchRoom(s).after(c,
			fault.New(fault.Missing, "joint", "The plan has no such joint.", "Choose one from the plan."))
	}
	in.Joint = j.Sheet
	in.Variant = st.Variants[j.ID]
	return benchRoom(s).after(c, s.correctAs(c, st.Vehicle.Pattern, in))
}

// onLedger answers a write made on the ledger.
func (s ledgerRoom) onLedger(c fiber.Ctx, key string, err error) error {
	if f := fault.As(err); f != nil {
		return s.showLedger(c, kit.Status(f), key, f)
	} else if err != nil {
		return err
	}
	return kit.See(c, "/jobs/"+c.Params("job")+"/ledger")
}

func (s ledgerRoom) strike(c fiber.Ctx) error {
	in := kit.Read[struct {
		Pull   string `form:"pull"`
		Reason string `form:"reason"`
	}](c)
	_, err := s.record(c, job.StrikePull{Pull: in.Pull, Reason: in.Reason})
	return s.onLedger(c, in.Pull, err)
}

func (s ledgerRoom) finding(c fiber.Ctx) error {
	in := kit.Read[struct {
		Text string `form:"text"`
	}](c)
	_, err := s.record(c, job.Find{Text: in.Text})
	return s.onLedger(c, "finding", err)
}

// deviate passes a gate over by the name of whoever is signed in, and of a
// second person who proves it with their PIN.
func (s ledgerRoom) deviate(c fiber.Ctx) error {
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
		return "", fault.New(fault.Missing, "second", "Here a second person signs too.",
			"Have a colleague enter name and PIN.")
	}
	p, err := s.Shop.Prove(c.Context(), in.Second, in.PIN, s.asker(c), s.Shop.Now())
	switch {
	case err != nil:
		return "", err
	case p.Role == job.Reader:
		return "", fault.New(fault.Role, "second", "A reader signs for nothing.", "Ask a technician or the foreman.")
	case p.ID == kit.Session(c).Person.ID:
		return "", fault.New(fault.BadChoice, "second", "The second person is another person.",
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
			return nil, fault.New(fault.BadNumber, field, "“"+word+"” is no figure.",
				"Enter the figures with a space between them, as in 45.8 46.1.")
		}
		out = append(out, v)
	}
	return out, nil
}

// sign asks for the PIN once more: the signature is the person's own act.
func (s ledgerRoom) sign(c fiber.Ctx) error {
	in := kit.Read[struct {
		PIN  string `form:"pin"`
		Note string `form:"note"`
	}](c)
	p, err := s.Shop.Prove(c.Context(), kit.Session(c).Person.Name, in.PIN, s.asker(c), s.Shop.Now())
	if err == nil && p.ID != kit.Session(c).Person.ID {
		err = fault.New(fault.BadPIN, "pin", "Name and PIN do not belong together.", "Try again.")
	}
	if err == nil {
		_, err = s.record(c, job.Sign{Note: strings.TrimSpace(in.Note)})
	}
	return s.onLedger(c, "sign", err)
}

func (s ledgerRoom) reopen(c fiber.Ctx) error {
	in := kit.Read[struct {
		Reason string `form:"reason"`
	}](c)
	_, err := s.record(c, job.Reopen{Reason: in.Reason})
	return s.onLedger(c, "reopen", err)
}
