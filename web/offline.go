package web

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// worker serves the service worker, told which files this build has. It stands at the
// root, so that it may answer for every page.
func (s *Server) worker(c fiber.Ctx) error {
	var files []string
	for name := range s.views.assets {
		if !strings.HasPrefix(name, "worker.") {
			files = append(files, "/static/"+name)
		}
	}
	slices.Sort(files)
	sum := sha256.Sum256([]byte(strings.Join(files, " ")))
	told, err := json.Marshal(map[string]any{"version": hex.EncodeToString(sum[:6]), "assets": files})
	if err != nil {
		return err
	}
	c.Set("Content-Type", "text/javascript; charset=utf-8")
	c.Set("Cache-Control", "no-cache")
	code := s.views.assets[s.views.names["worker.js"]].data
	return c.SendString("self.lugtak = " + string(told) + ";\n" + string(code))
}

// manifest lets a tablet install the application.
func (s *Server) manifest(c fiber.Ctx) error {
	icon := fiber.Map{
		"src":     "/static/" + s.views.names["icon.svg"],
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
