package web

import (
	"fmt"
	"maps"
	"slices"
	"sync"

	"github.com/gofiber/fiber/v3"

	"lugtak/shop"
	"lugtak/web/kit"
)

// presence is who has which job open now: a tablet that shows it listens to its stream.
type presence struct {
	mu   sync.Mutex
	here map[string]map[string]int // by job and person, how many pages
}

// enter notes a page of a person, until leave is called. moved says that the list of who
// is there has changed.
func (p *presence) enter(job, person string) (leave func() (moved bool), moved bool) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.here == nil {
		p.here = map[string]map[string]int{}
	}
	if p.here[job] == nil {
		p.here[job] = map[string]int{}
	}
	p.here[job][person]++
	return func() bool { return p.leave(job, person) }, p.here[job][person] == 1
}

func (p *presence) leave(job, person string) (moved bool) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.here[job][person]--
	if p.here[job][person] > 0 {
		return false
	}
	delete(p.here[job], person)
	return true
}

// at lists who has a job open, by name.
func (p *presence) at(job string) []string {
	p.mu.Lock()
	defer p.mu.Unlock()
	return slices.Sorted(maps.Keys(p.here[job]))
}

func (s *Server) jobLive(c fiber.Ctx) error {
	id, person := c.Params("job"), kit.Session(c).Person.Name
	first := func() (shop.Message, error) {
		st, err := s.Shop.Job(c.Context(), id)
		if err != nil {
			return shop.Message{}, err
		}
		return shop.Message{Event: "change", Data: fmt.Appendf(nil, `{"seq":%d}`, st.Seq)}, nil
	}
	leave, moved := s.presence.enter(id, person)
	if moved {
		s.tellWho(id)
	}
	return kit.Stream(s.ctx, s.Shop.Hub, c, "job:"+id, first, s.lives(c), func() {
		if leave() {
			s.tellWho(id)
		}
	})
}

// lives gives what asks whether the session of a stream has not ended meanwhile.
func (s *Server) lives(c fiber.Ctx) func() bool {
	id := kit.Session(c).ID
	return func() bool { return s.Shop.SessionLives(s.ctx, id, s.Shop.Now()) }
}

// tellWho tells the pages of a job, and the bays, who has it open.
func (s *Server) tellWho(id string) {
	s.Shop.Hub.Send("job:"+id, "who", map[string]any{"here": s.presence.at(id)})
}
