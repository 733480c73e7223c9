package web

import (
	"encoding/json"
	"strings"

	"crypto/sha256"
	"encoding/hex"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/job"
	pages "lugtak/pages/kit"
	"lugtak/web/kit"
)

// show sends a page, or for htmx only its inner part.
func (s *Server) show(c fiber.Ctx, code int, p pages.Page) error {
	laid, err := p.Lay(s.frame(c))
	if err != nil {
		return err
	}
	return send(c, code, laid)
}

// frame is what stands around the page of a request.
func (s *Server) frame(c fiber.Ctx) pages.Frame {
	f := pages.Frame{Demo: len(s.Demo) > 0, Now: s.Shop.Now(), Partial: kit.Part(c)}
	if x := kit.Session(c); x != nil {
		f.In = true
		f.Person, f.Role, f.Prefers = x.Person.Name, string(x.Person.Role), x.Prefers
		f.Writes, f.Foreman = x.Person.Role != job.Reader, x.Person.Role == job.Foreman
	}
	return f
}

func send(c fiber.Ctx, code int, l pages.Laid) error {
	token := ""
	if x := kit.Session(c); x != nil {
		token = x.CSRF
	}
	c.Set("Content-Type", "text/html; charset=utf-8")
	return c.Status(code).SendString(l.HTML(token))
}

// manifest lets a tablet install the application.
func (s *Server) manifest(c fiber.Ctx) error {
	icon := fiber.Map{
		"src":     pages.TheAssets().Path("icon.svg"),
		"sizes":   "any",
		"type":    "image/svg+xml",
		"purpose": "any",
	}
	body, err := json.Marshal(fiber.Map{
		"name":             "Lugtak",
		"short_name":       "Lugtak",
		"start_url":        "/",
		"display":          "standalone",
		"background_color": "#E4E3DC",
		"theme_color":      "#17363C",
		"icons":            []fiber.Map{icon},
	})
	if err != nil {
		return err
	}
	c.Set("Content-Type", "application/manifest+json")
	return c.Send(body)
}

func (s *Server) static(c fiber.Ctx) error {
	a, ok := pages.TheAssets().Find(c.Params("file"))
	if !ok {
		return fiber.ErrNotFound
	}
	c.Set("Cache-Control", "public, max-age=31536000, immutable")
	c.Set("Content-Type", a.Kind)
	c.Set("Vary", "Accept-Encoding")
	if a.Zipped != nil && strings.Contains(c.Get("Accept-Encoding"), "gzip") {
		c.Set("Content-Encoding", "gzip")
		return c.Send(a.Zipped())
	}
	return c.Send(a.Data)
}

// picture serves one that is drawn from solids: its name is that of its content, so that it never changes.
func (s *Server) picture(c fiber.Ctx) error {
	file, kind := c.Params("file"), "image/png"
	b := s.Shop.Library().Pictures.PNG(file)
	if b == nil {
		kind = "model/gltf-binary"
		var err error
		if b, err = s.Shop.Library().Pictures.Solids(file); err != nil {
			return err
		}
	}
	if b == nil {
		return fiber.ErrNotFound
	}
	c.Set("Cache-Control", "public, max-age=31536000, immutable")
	c.Set("Content-Type", kind)
	return c.Send(b)
}

// noNetwork is the path of the page that a tablet keeps for when the shop does not answer.
const noNetwork = "/nonetwork"

// worker serves the service worker, told which files this build has. It stands at the
// root, so that it may answer for every page.
func (s *Server) worker(c fiber.Ctx) error {
	var files []string
	for _, name := range pages.TheAssets().Names() {
		if !strings.HasPrefix(name, "worker.") && !strings.HasPrefix(name, "turn.") { // that is fetched when it is asked for
			files = append(files, "/static/"+name)
		}
	}
	files = append(files, noNetwork)
	sum := sha256.Sum256([]byte(strings.Join(files, " ")))
	told, err := json.Marshal(map[string]any{"version": hex.EncodeToString(sum[:6]), "assets": files})
	if err != nil {
		return err
	}
	c.Set("Content-Type", "text/javascript; charset=utf-8")
	c.Set("Cache-Control", "no-cache")
	return c.SendString("self.lugtak = " + string(told) + ";\n" + string(pages.TheAssets().Plain("worker.js").Data))
}
