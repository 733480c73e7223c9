package web

import (
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/google/uuid"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/unit"
	"lugtak/web/kit"
)

// claims is the shop's book of who has which tool on which fastener. It lives as long
// as the server: after a restart a tool is taken anew.
type claims struct {
	mu      sync.Mutex
	book    *claim.Book
	changes int // counts up with every change, so that pages of before are told from new ones
}

// use lets somebody read or change the book.
func (k *claims) use(do func(*claim.Book)) {
	k.mu.Lock()
	defer k.mu.Unlock()
	do(k.book)
	k.changes++
}

// at is the claim on a fastener; ok is false where there is none.
func (k *claims) at(job, joint, letter string, now time.Time) (c claim.Claim, ok bool) {
	k.mu.Lock()
	defer k.mu.Unlock()
	return k.book.At(job, joint, letter, now)
}

// on is the claim a tool is under; ok is false where it is free.
func (k *claims) on(tool string, now time.Time) (c claim.Claim, ok bool) {
	k.mu.Lock()
	defer k.mu.Unlock()
	return k.book.On(tool, now)
}

func (k *claims) version() int {
	k.mu.Lock()
	defer k.mu.Unlock()
	return k.changes
}

// take gives a tool to the person of the request, for one fastener or, without a
// letter, for a pattern. Whoever had it before is told.
func (s *Server) take(c fiber.Ctx, tool, letter string) (claim.Claim, error) {
	x := kit.Session(c)
	in := kit.Read[acted](c)
	k := claim.Claim{
		ID:      uuid.NewString(),
		Tool:    tool,
		Job:     c.Params("job"),
		Step:    string(in.Step),
		Joint:   in.Joint,
		Letter:  letter,
		By:      x.Person.Name,
		Session: x.ID,
	}
	var ended []claim.Claim
	var err error
	s.claims.use(func(b *claim.Book) { ended, err = b.Take(k, s.Now()) })
	if err != nil {
		return claim.Claim{}, err
	}
	k.At = s.Now()
	for _, e := range ended {
		says := k.By + " has taken " + s.toolName(tool)
		switch {
		case e.By == k.By:
			says = "" // one knows it oneself
		case e.Tool != tool:
			says += " to that fastener"
		}
		s.tellEnded(e, says)
	}
	s.hub.Send("tool:"+tool, "aim", map[string]string{"job": k.Job})
	return k, nil
}

// tellEnded tells the pages of the job and of the tool that a claim has ended, and its person why,
// where something is said.
func (s *Server) tellEnded(e claim.Claim, says string) {
	told := map[string]string{}
	if says != "" {
		told["says"], told["from"] = unit.Capital(says)+".", e.By
	}
	s.hub.Send("job:"+e.Job, "claim", told)
	s.hub.Send("tool:"+e.Tool, "aim", map[string]string{"job": ""})
}

func (s *Server) toolName(id string) string {
	if t, ok := s.lib().Tool(id); ok {
		return t.Name
	}
	return "the tool"
}

// endSession ends what a session holds: its person signed out.
func (s *Server) endSession(id string) {
	var ended []claim.Claim
	s.claims.use(func(b *claim.Book) { ended = b.EndSession(id) })
	for _, e := range ended {
		s.tellEnded(e, "signed out: nobody holds "+s.toolName(e.Tool))
	}
}

// endPerson ends what a person holds: they were locked out or have a new PIN.
func (s *Server) endPerson(name string) {
	var ended []claim.Claim
	s.claims.use(func(b *claim.Book) { ended = b.EndPerson(name) })
	for _, e := range ended {
		s.tellEnded(e, "locked out: nobody holds "+s.toolName(e.Tool))
	}
}

// claim takes a tool that traces for one fastener.
func (s *Server) claim(c fiber.Ctx) error {
	st, err := s.Store.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	in := kit.Read[tooled](c)
	step := st.Plan.Step(in.Step)
	if step == nil || st.Fastener(in.Joint, in.Letter) == nil {
		return s.after(
			c,
			fault.New(job.CodeMissing, "fastener", "The plan has no such fastener.", "Touch one in the picture."),
		)
	}
	if err := st.CanPull(step, in.Letter); err != nil {
		return s.after(c, err)
	}
	t, err := s.tool(c, in.Tool)
	if err != nil {
		return s.after(c, err)
	}
	_, err = s.take(c, t.ID, in.Letter)
	return s.after(c, err)
}

// unclaim puts a tool down again.
func (s *Server) unclaim(c fiber.Ctx) error {
	tool := kit.Read[tooled](c).Tool
	if k, ok := s.claims.on(tool, s.Now()); ok && k.Session == kit.Session(c).ID && !k.Pulling {
		s.claims.use(func(b *claim.Book) { b.End(k.ID, tool) })
		s.hub.Send("tool:"+tool, "aim", map[string]string{"job": ""})
	}
	return s.after(c, nil)
}
