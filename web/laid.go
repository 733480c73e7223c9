package web

import (
	"bytes"
	"strings"
	"sync"
	"time"

	"lugtak/web/kit"

	"github.com/gofiber/fiber/v3"
	"github.com/google/uuid"
)

// Marks in a filled template for what every answer gets anew. They are made at
// start, so that nothing anybody types can be one.
var (
	idMark    = "id" + uuid.NewString()
	tokenMark = "token" + uuid.NewString()
)

// laid is a filled template, parted at its marks.
type laid []piece

type piece struct {
	text []byte
	mark string // what follows the text, empty at the end
}

func open(text []byte) laid {
	var out laid
	for {
		i, mark := bytes.Index(text, []byte(idMark)), idMark
		if k := bytes.Index(text, []byte(tokenMark)); k >= 0 && (i < 0 || k < i) {
			i, mark = k, tokenMark
		}
		if i < 0 {
			return append(out, piece{text: text})
		}
		out = append(out, piece{text[:i], mark})
		text = text[i+len(mark):]
	}
}

// text is the page with its marks filled in.
func (l laid) text(token string) string {
	var b strings.Builder
	for _, p := range l {
		b.Write(p.text)
		switch p.mark {
		case idMark:
			b.WriteString(uuid.NewString())
		case tokenMark:
			b.WriteString(token)
		}
	}
	return b.String()
}

func (l laid) send(c fiber.Ctx, code int) error {
	token := ""
	if x := kit.Session(c); x != nil {
		token = x.CSRF
	}
	c.Set("Content-Type", "text/html; charset=utf-8")
	return c.Status(code).SendString(l.text(token))
}

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
	page  laid
}

const (
	cacheLife = time.Second
	cacheMost = 500
)

// at gives the page of that name, filled by fill if there is none that is fresh.
func (s *pageCache) at(key any, now time.Time, fill func() (laid, error)) (laid, error) {
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
