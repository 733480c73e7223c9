// Package web shows the shop to people: pages, partials and the API. It asks
// the rules what is true and decides nothing itself.
package web

import (
	"context"
	"errors"
	"net/url"
	"regexp"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/compress"
	"github.com/gofiber/fiber/v3/middleware/recover"
	"golang.org/x/sync/semaphore"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/device"
	pages "lugtak/pages/kit"
	"lugtak/pages/office"
	"lugtak/reckon"
	"lugtak/shop"
	"lugtak/web/api"
	"lugtak/web/kit"
)

// Config is what a server needs.
type Config struct {
	Shop     *shop.Shop
	Version  string
	Demo     []office.Demo         // shown on the sign-in page; empty in a real shop
	Stand    device.Stand          // what the practice bay pulls on; without one there is no such bay
	Parts    device.Supplier       // of parts; without one the list is printed and exported
	Chain    Chain                 // of shops; nil in a shop of its own
	ReadOnly bool                  // a node of the chain: it makes no records
	Keeping  func() office.Keeping // how the shop's file is kept; nil where nobody can tell
	TryHook  TryHook               // sends a hook a message that tells of nothing; nil where none are told
	Access   bool                  // log who asked for what, without what was typed
	TLS      bool                  // it is served by this program itself
	Proxies  []string              // whose word on scheme and address is believed
}

// TryHook says why a hook did not take a message that tells of nothing.
type TryHook func(ctx context.Context, h listing.Hook, now time.Time) error

// Server is the web application.
type Server struct {
	Config
	App     *fiber.App
	proxies kit.Proxies

	laid     pageCache
	presence presence
	inputs   *semaphore.Weighted // bytes of calculations under way
	stop     context.CancelFunc
	ctx      context.Context
}

const (
	cookieName = "lugtak"
	csp        = "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; " +
		"connect-src 'self'; manifest-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
)

// New makes the application with its routes.
func New(cfg Config) (*Server, error) {
	ctx, stop := context.WithCancel(context.Background())
	proxies, err := kit.ParseProxies(cfg.Proxies)
	if err != nil {
		stop()
		return nil, err
	}
	s := &Server{
		Config:  cfg,
		proxies: proxies,
		stop:    stop,
		ctx:     ctx,
		inputs:  semaphore.NewWeighted(inputsAtOnce),
	}
	s.App = fiber.New(fiber.Config{
		TrustProxy:       len(cfg.Proxies) > 0,
		TrustProxyConfig: fiber.TrustProxyConfig{Proxies: cfg.Proxies},
		AppName:          "Lugtak", Immutable: true, BodyLimit: reckon.MaxInput + 1<<20, ErrorHandler: s.fail,
		// A line a browser opens ahead of time and leaves unused is answered with a
		// timeout when it ends: let the browser close it first.
		ReadTimeout: 10 * time.Minute, IdleTimeout: 2 * time.Minute,
	})
	s.routes()
	return s, nil
}

// Close ends the streams, so that the listener can shut down.
func (s *Server) Close() { s.stop() }

// paths mounts what answers.
type paths struct{ fiber.Router }

// get mounts what is asked, by its head alone too.
func (p paths) get(path string, answer fiber.Handler) {
	p.Add([]string{fiber.MethodGet, fiber.MethodHead}, path, answer)
}

func (s *Server) routes() {
	a := s.App
	if s.Access {
		a.Use(s.logged)
	}
	a.Use(s.timed, recover.New(), s.headers, plainBody, s.readOnly)
	at := paths{a}
	at.get("/static/:file", s.static)
	at.get("/pictures/:file", s.picture)
	at.get("/sw.js", s.worker)
	at.get("/manifest.webmanifest", s.manifest)
	a.Use(compress.New(compress.Config{Next: func(c fiber.Ctx) bool {
		return strings.HasSuffix(c.Path(), "/live") || strings.HasSuffix(c.Path(), "/stream")
	}}))

	// Calculations hold no record and write nothing: scripts call them as they are.
	at.get("/api/v1/openapi.json", s.openAPI)
	at.get("/api/v1/schemas/:kind", s.schema)
	a.Post("/api/v1/calc/:name", s.calc)
	at.get("/api/v1/tools/claim", toolRoom{s}.toolClaim)
	a.Post("/api/v1/jobs/:job/pulls", toolRoom{s}.toolPull)
	(&api.API{
		Shop: s.Shop,
		Ctx:  s.ctx,
		Session: func(c fiber.Ctx) (*shop.Session, error) {
			x, err := s.session(c)
			if x != nil {
				kit.Keep(c, x)
			}
			return x, err
		},
		Papers: map[string]fiber.Handler{
			"ledger.csv":  ledgerRoom{s}.ledgerCSV,
			"report.pdf":  ledgerRoom{s}.reportPDF,
			"report.html": ledgerRoom{s}.reportFile,
			"job.json":    ledgerRoom{s}.jobJSON,
		},
		Lists: map[string]fiber.Handler{
			"due.ics":      fleetRoom{s}.calendar,
			"due.csv":      fleetRoom{s}.dueCSV,
			"fleet.csv":    fleetRoom{s}.fleetCSV,
			"outcomes.csv": officeRoom{s}.outcomesCSV,
		},
	}).Mount(a)
	a.Use("/api", s.noCall)
	at.get("/healthz", s.health)

	at.get(calendarPath+":secret", fleetRoom{s}.subscribed)
	at.get(noNetwork, func(c fiber.Ctx) error { return s.show(c, 200, pages.NoNetwork()) })
	at.get("/signin", officeRoom{s}.signInPage)
	a.Post("/signin", officeRoom{s}.signIn)

	a.Use(s.who, s.guardWrites)
	a.Get("/jobs/:job/live", s.jobLive)
	for _, room := range []interface{ routes(paths) }{
		fleetRoom{s},
		walkRoom{s},
		planRoom{s},
		benchRoom{s},
		ledgerRoom{s},
		shelfRoom{s},
		practiceRoom{s},
		officeRoom{s},
	} {
		room.routes(at)
	}
	a.Use(func(c fiber.Ctx) error {
		return fault.New(fault.NotFound, "", "There is no such page.", "Go back to the bays.")
	})
}

// plainBody refuses what is sent compressed, before anything reads it: a small body could be a
// very large one.
func plainBody(c fiber.Ctx) error {
	if e := c.Get(fiber.HeaderContentEncoding); e != "" && !strings.EqualFold(e, "identity") {
		return fault.New(fault.BadEncoding, "", "What is sent compressed is not read here.", "Send it as it is.")
	}
	return c.Next()
}

// health says that the file can be written to, not only that somebody answers.
func (s *Server) health(c fiber.Ctx) error {
	if err := s.Shop.Healthy(c.Context()); err != nil {
		s.Shop.Log.Error("not healthy", "error", err)
		return c.Status(fiber.StatusServiceUnavailable).SendString("the file cannot be written to\n")
	}
	return c.SendString("ok\n")
}

// logged notes each request with how it was answered: the path alone, never its query, its form
// or its cookie.
func (s *Server) logged(c fiber.Ctx) error {
	began := time.Now()
	err := c.Next()
	if err != nil { // the page of the refusal is written first, so that its status is known
		err = s.fail(c, err)
	}
	who := ""
	if x := kit.Session(c); x != nil {
		who = x.Person.Name
	}
	s.Shop.Log.Info("request",
		"method", c.Method(),
		"path", logPath(c.Path()),
		"status", c.Response().StatusCode(),
		"ms", time.Since(began).Milliseconds(),
		"from", s.proxies.Address(c),
		"who", who,
	)
	return err
}

// logPath is a path as logs may hold it: an address that is a secret is left out.
func logPath(path string) string {
	if strings.HasPrefix(path, calendarPath) {
		return calendarPath
	}
	return path
}

// markHeader tells an answer of the shop from that of whatever stands before it: only the shop
// acknowledges a record.
const markHeader = "X-Lugtak"

func (s *Server) headers(c fiber.Ctx) error {
	c.Set("Content-Security-Policy", csp)
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Referrer-Policy", "same-origin")
	c.Set("Cache-Control", "no-store")
	c.Set(markHeader, "1")
	if s.TLS {
		c.Set("Strict-Transport-Security", "max-age=31536000")
	}
	return c.Next()
}

// session is that of a request's cookie; nil for a stranger.
func (s *Server) session(c fiber.Ctx) (*shop.Session, error) {
	return s.Shop.Session(c.Context(), c.Cookies(cookieName), s.Shop.Now())
}

// who finds who asks; a stranger is sent to the sign-in page.
func (s *Server) who(c fiber.Ctx) error {
	x, err := s.session(c)
	if err != nil {
		return err
	}
	if x == nil {
		if strings.HasPrefix(c.Get(fiber.HeaderAuthorization), "Bearer ") {
			return fault.New(fault.SignedOut, "Authorization", "Pages are for people.",
				"Scripts ask under /api/v1, papers and calendar too: look at /api/v1/openapi.json.")
		}
		if !kit.Reads(c) || kit.Part(c) || c.Path() == "/token" {
			return fault.New(fault.SignedOut, "", "You are signed out.", "Sign in again; what you typed stays in the page.")
		}
		return c.Redirect().To("/signin")
	}
	kit.Keep(c, x)
	return c.Next()
}

// ownPaths are what a reader may send: it is their own, and no record.
var ownPaths = regexp.MustCompile(`^/(signout|pin|you|sessions/[^/]+/end|reckoner/.*|practice(/.*)?)$`)

// officePaths are what is looked after at a node of the chain as in a shop.
var officePaths = regexp.MustCompile(`^/(signin|people(/.*)?|scripts|shops)$|^/api/v1/calc/`)

// guardWrites asks every write for the session's own token, and keeps readers
// from writing anything.
func (s *Server) guardWrites(c fiber.Ctx) error {
	if kit.Reads(c) {
		return c.Next()
	}
	x := kit.Session(c)
	if !kit.Own(c) {
		return fault.New(fault.Forbidden, "", "This form is from another session.", "Reload the page and send it again.")
	}
	own := ownPaths.MatchString(c.Path())
	if x.Person.Role == job.Reader && !own {
		return fault.New(fault.Role, "", "You may read here, not write.", "Ask a technician or the foreman.")
	}
	return c.Next()
}

// fail shows an error that no page of its own has shown.
func (s *Server) fail(c fiber.Ctx, err error) error {
	err = shop.Unwritable(err)
	f := fault.As(err)
	var fe *fiber.Error
	switch {
	case f != nil:
	case errors.As(err, &fe) && fe.Code == fiber.StatusRequestEntityTooLarge:
		f = fault.New(fault.TooLong, "", "That is too much at once.", "Send less.")
	case errors.As(err, &fe) && (fe.Code == fiber.StatusNotFound || fe.Code == fiber.StatusMethodNotAllowed):
		f = fault.New(fault.NotFound, "", "There is no such page.", "Go back to the bays.")
	case errors.As(err, &fe) && fe.Code < 500:
		s.Shop.Log.Warn("request not understood", "method", c.Method(), "path", logPath(c.Path()), "code", fe.Code)
		f = fault.New(fault.BadRequest, "", "The request was not understood: "+fe.Message+".",
			"Reload the page and try again.")
	default:
		s.Shop.Log.Error("request failed", "method", c.Method(), "path", logPath(c.Path()), "error", err)
		f = fault.New(
			fault.Internal,
			"",
			"Something broke in here. Nothing that was kept is lost.",
			"Try again; tell the foreman if it happens twice.",
		)
		return s.failPage(c, f, fiber.StatusInternalServerError)
	}
	return s.failPage(c, f, kit.Status(f))
}

func (s *Server) failPage(c fiber.Ctx, f *fault.Fault, code int) error {
	kit.RetryAfter(c, f)
	if code == fiber.StatusUnauthorized {
		c.Set(fiber.HeaderWWWAuthenticate, api.Challenge)
	}
	if strings.HasPrefix(c.Path(), "/api/") {
		return sendProblem(c, reckon.FromFault(f, code))
	}
	return s.show(c, code, pages.Refusal(s.refused(c, f, code)))
}

// refused is what the page of a refusal shows: to whom the shop is known, numbers near the one asked for and who may.
func (s *Server) refused(c fiber.Ctx, f *fault.Fault, code int) pages.Refused {
	r := pages.Refused{Fault: f, Code: code}
	if kit.Session(c) == nil {
		return r
	}
	if from, err := url.Parse(c.Get("Referer")); err == nil && from.Host == string(c.Request().Host()) &&
		from.Path != c.Path() {
		r.Back = from.RequestURI()
	}
	switch code {
	case fiber.StatusNotFound:
		r.Asked = pages.AskedFor(c.Path())
		all, err := s.Shop.Vehicles(c.Context())
		if err != nil {
			s.Shop.Log.Warn("vehicles for a page that is not there", "error", err)
		}
		r.Near = pages.NearTo(r.Asked, all)
	case fiber.StatusForbidden:
		if f.Code != fault.Role {
			break
		}
		all, err := s.Shop.People(c.Context())
		if err != nil {
			s.Shop.Log.Warn("people for a page that is another's", "error", err)
		}
		for _, p := range all {
			if p.Active && p.Role == job.Foreman {
				r.Who = append(r.Who, p.Name)
			}
		}
	}
	return r
}
