package shop

import (
	"sync"

	"github.com/google/uuid"

	"lugtak/core/claim"
	"lugtak/core/unit"
)

// hands is the shop's book of who has which tool on which fastener. It lives as long as the server: after a
// restart a tool is taken anew.
type hands struct {
	mu      sync.Mutex
	book    *claim.Book
	changes int
}

// use lets somebody read or change the book.
func (h *hands) use(do func(*claim.Book)) {
	h.mu.Lock()
	defer h.mu.Unlock()
	do(h.book)
	h.changes++
}

// InHand is the claim on a fastener; ok is false where there is none.
func (s *Shop) InHand(job, joint, letter string) (c claim.Claim, ok bool) {
	s.hands.mu.Lock()
	defer s.hands.mu.Unlock()
	return s.hands.book.At(job, joint, letter, s.Now())
}

// Holding is the claim a tool is under; ok is false where it is free.
func (s *Shop) Holding(tool string) (c claim.Claim, ok bool) {
	s.hands.mu.Lock()
	defer s.hands.mu.Unlock()
	return s.hands.book.On(tool, s.Now())
}

// HandsChanged counts up with every change of who holds what, so that pages of before are told from new ones.
func (s *Shop) HandsChanged() int {
	s.hands.mu.Lock()
	defer s.hands.mu.Unlock()
	return s.hands.changes
}

// Take gives a tool to whoever the claim names, for one fastener or, without a letter, for a pattern. Whoever
// had it before is told.
func (s *Shop) Take(k claim.Claim) (claim.Claim, error) {
	var ended []claim.Claim
	var err error
	k.ID, k.At = uuid.NewString(), s.Now()
	s.hands.use(func(b *claim.Book) { ended, err = b.Take(k, k.At) })
	if err != nil {
		return claim.Claim{}, err
	}
	for _, e := range ended {
		says := k.By + " has taken " + s.ToolName(k.Tool)
		switch {
		case e.By == k.By:
			says = "" // one knows it oneself
		case e.Tool != k.Tool:
			says += " to that fastener"
		}
		s.tellEnded(e, says)
	}
	s.Hub.Send(ToolTopic(k.Tool), "aim", map[string]string{"job": k.Job})
	return k, nil
}

// PutDown ends the claim a session has on a tool, while nothing is pulled under it.
func (s *Shop) PutDown(tool, session string) {
	k, ok := s.Holding(tool)
	if !ok || k.Session != session || k.Pulling {
		return
	}
	s.hands.use(func(b *claim.Book) { b.End(k.ID, tool) })
	s.Hub.Send(ToolTopic(tool), "aim", map[string]string{"job": ""})
}

// Used ends a claim whose pull is recorded.
func (s *Shop) Used(k claim.Claim) { s.hands.use(func(b *claim.Book) { b.End(k.ID, k.Tool) }) }

// Again keeps a tool that clicked in the hand it is in.
func (s *Shop) Again(k claim.Claim, tool string) {
	s.hands.use(func(b *claim.Book) { b.Again(k.ID, tool, s.Now()) })
}

// tellEnded tells the pages of the job and of the tool that a claim has ended, and its person why, where
// something is said.
func (s *Shop) tellEnded(e claim.Claim, says string) {
	told := map[string]string{}
	if says != "" {
		told["says"], told["from"] = unit.Capital(says)+".", e.By
	}
	s.Hub.Send(JobTopic(e.Job), "claim", told)
	s.Hub.Send(ToolTopic(e.Tool), "aim", map[string]string{"job": ""})
}

// EndSession ends what a session holds: its person signed out.
func (s *Shop) EndSession(id string) {
	var ended []claim.Claim
	s.hands.use(func(b *claim.Book) { ended = b.EndSession(id) })
	for _, e := range ended {
		s.tellEnded(e, "signed out: nobody holds "+s.ToolName(e.Tool))
	}
}

// EndPerson ends what a person holds: they were locked out or have a new PIN.
func (s *Shop) EndPerson(name string) {
	var ended []claim.Claim
	s.hands.use(func(b *claim.Book) { ended = b.EndPerson(name) })
	for _, e := range ended {
		s.tellEnded(e, "locked out: nobody holds "+s.ToolName(e.Tool))
	}
}
