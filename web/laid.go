package web

import (
	pages "lugtak/pages/kit"
	"sync"
	"time"
)

// pageCache keeps pages filled a moment ago, so that many who look at one thing
// cost one filling. A page is named by all that it shows; clocks on it may be
// a second old.
type pageCache struct {
	mu    sync.Mutex
	pages map[any]*cached
}

type cached struct {
	mu    sync.Mutex
	until time.Time
	page  pages.Laid
}

const (
	cacheLife = time.Second
	cacheMost = 500
)

// at gives the page of that name, filled by fill if there is none that is fresh.
func (s *pageCache) at(key any, now time.Time, fill func() (pages.Laid, error)) (pages.Laid, error) {
	s.mu.Lock()
	e := s.pages[key]
	if e == nil {
		if s.pages == nil || len(s.pages) >= cacheMost {
			s.pages = map[any]*cached{}
		}
		e = &cached{}
		s.pages[key] = e
	}
	s.mu.Unlock()
	e.mu.Lock()
	defer e.mu.Unlock()
	if now.Before(e.until) {
		return e.page, nil
	}
	page, err := fill()
	if err == nil {
		e.page, e.until = page, now.Add(cacheLife)
	}
	return page, err
}
