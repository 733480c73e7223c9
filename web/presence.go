package web

import (
	"maps"
	"slices"
	"sync"
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
