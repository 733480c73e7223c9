// Package web shows the shop to people: pages, partials and the API. It asks
// the rules what is true and decides nothing itself.
package web

import (
	"context"
	"errors"
	"log/slog"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/compress"
	"github.com/gofiber/fiber/v3/middleware/recover"
	"golang.org/x/sync/semaphore"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/device"
	"lugtak/library"
	"lugtak/reckon"
	"lugtak/store"
	"lugtak/web/api"
	"lugtak/web/kit"
)

// Config is what a server needs.
type Config struct {
	Store    *store.Store
	Library  *library.Library
	Version  string
	Demo     []DemoPerson     // shown on the sign-in page; empty in a real shop
	Devices  device.Rack      // what is connected; nil in a shop whose tools send by themselves
	Stand    device.Stand     // what the practice bay pulls on; without one there is no such bay
	Parts    device.Supplier  // of parts; without one the list is printed and exported
	Chain    Chain            // of shops; nil in a shop of its own
	ReadOnly bool             // a node of the chain: it makes no records
	Access   bool             // log who asked for what, without what was typed
	Proxies  []string         // whose word on scheme and address is believed
	Now      func() time.Time // the clock; time.Now if nil
	Log      *slog.Logger
}

// DemoPerson is one of the invented people with the PIN.
type DemoPerson struct {
	Name string
	Role job.Role
	PIN  string
}

// Server is the web application.
type Server struct {
	Config
	App   *fiber.App
	views *views
	hub   *kit.Hub

	claims   claims
	outcomes outcomes
	pages    pageCache
	// timings are each job's plan by other ways, offered what each pattern can have.
	timings, offered sync.Map
	exercises        sync.Map // plans of the practice bay, by exercise
	known            atomic.Pointer[library.Library]
	presence         presence
	pulls            sync.WaitGroup      // under way on connected wrenches
	inputs           *semaphore.Weighted // bytes of calculations under way
	stop             context.CancelFunc
	ctx              context.Context
}

// lib is the library with what was put on the Shelf.
func (s *Server) lib() *library.Library { return s.known.Load() }

const (
	cookieName = "lugtak"
	csp        = "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; connect-src 'self'; manifest-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
)

// New makes the application with its routes.
func New(cfg Config) (*Server, error) {
	if cfg.Now == nil {
		cfg.Now = time.Now
	}
	if cfg.Log == nil {
		cfg.Log = slog.Default()
	}
	v, err := allViews()
	if err != nil {
		return nil, err
	}
	ctx, stop := context.WithCancel(context.Background())
	s := &Server{
		Config:   cfg,
		views:    v,
		hub:      kit.NewHub(),
		stop:     stop,
		ctx:      ctx,
		claims:   claims{book: claim.NewBook()},
		outcomes: outcomes{says: map[string]string{}},
		inputs:   semaphore.NewWeighted(inputsAtOnce),
	}
	s.known.Store(cfg.Library)
	if err := s.takeShelf(ctx); err != nil {
		stop()
		return nil, err
	}
	proxyHeader := "" // without a proxy nobody's word is taken
	if len(cfg.Proxies) > 0 {
		proxyHeader = fiber.HeaderXForwardedFor
	}
	s.App = fiber.New(fiber.Config{
		TrustProxy:         len(cfg.Proxies) > 0,
		TrustProxyConfig:   fiber.TrustProxyConfig{Proxies: cfg.Proxies},
		ProxyHeader:        proxyHeader,
		EnableIPValidation: true,
		AppName:            "Lugtak", Immutable: true, BodyLimit: reckon.MaxInput + 1<<20, ErrorHandler: s.fail,
		// A line a browser opens ahead of time and leaves unused is answered with a
		// timeout when it ends: let the browser close it first.
		ReadTimeout: 10 * time.Minute, IdleTimeout: 2 * time.Minute,
	})
	s.routes()
	return s, nil
}

// Close ends the streams, so that the listener can shut down, and waits for the pulls under
// way: a wrench that holds lets go, and what it read is recorded.
func (s *Server) Close() {
	s.stop()
	s.pulls.Wait()
}

func (s *Server) routes() {
	a := s.App
	if s.Access {
		a.Use(s.logged)
	}
	a.Use(s.timed, recover.New(), s.headers, s.readOnly)
	a.Get("/static/:file", s.static)
	a.Get("/sw.js", s.worker)
	a.Get("/manifest.webmanifest", s.manifest)
	a.Use(compress.New(compress.Config{Next: func(c fiber.Ctx) bool {
		return strings.HasSuffix(c.Path(), "/live") || strings.HasSuffix(c.Path(), "/stream")
	}}))

	// Calculations hold no record and write nothing: scripts call them as they are.
	a.Get("/api/v1/openapi.json", s.openAPI)
	a.Get("/api/v1/schemas/:kind", s.schema)
	a.Post("/api/v1/calc/:name", s.calc)
	a.Get("/api/v1/tools/claim", s.toolClaim)
	a.Post("/api/v1/jobs/:job/pulls", s.toolPull)
	(&api.API{
		Store:   s.Store,
		Library: s.lib,
		Now:     s.Now,
		Ctx:     s.ctx,
		Session: s.session,
	}).Mount(a)
	a.Use("/api", s.noCall)
	a.Get("/healthz", s.health)

	a.Get("/signin", s.signInPage)
	a.Post("/signin", s.signIn)

	a.Use(s.who, s.guardWrites)
	a.Post("/signout", s.signOut)
	a.Get("/pin", s.pinPage)
	a.Post("/pin", s.changePIN)
	a.Get("/", s.bays)
	a.Get("/due.ics", s.calendar)
	a.Get("/search", s.search)
	a.Get("/fleet", s.fleet)
	a.Get("/tags", s.tags)
	a.Get("/scan", s.scan)
	a.Get("/vehicles/new", s.vehiclePage)
	a.Post("/vehicles/new", s.addVehicle)
	a.Get("/vehicles/:vehicle", s.vehicleHistory)
	a.Get("/vehicles/:vehicle/elsewhere", s.elsewhere)
	a.Post("/vehicles/:vehicle/outside", s.outside)
	a.Get("/jobs/new", s.newJobPage)
	a.Post("/jobs/new", s.newJob)
	a.Get("/jobs/:job/walk", s.walk)
	a.Post("/jobs/:job/answer", s.answer)
	a.Post("/jobs/:job/measure", s.measure)
	a.Post("/jobs/:job/rotor", s.rotor)
	a.Post("/jobs/:job/lash", s.lash)
	a.Post("/jobs/:job/lining", s.lining)
	a.Post("/jobs/:job/road", s.road)
	a.Post("/jobs/:job/find", s.find)
	a.Post("/jobs/:job/decide", s.decideOn)
	a.Get("/jobs/:job/photo/:event", s.photo)
	a.Get("/jobs/:job/plan", s.plan)
	a.Post("/jobs/:job/part", s.part)
	a.Post("/jobs/:job/parts/order", s.orderParts)
	a.Get("/jobs/:job/parts", s.partsPage)
	a.Get("/jobs/:job/parts.csv", s.partsCSV)
	a.Get("/jobs/:job/order", s.order)
	a.Post("/jobs/:job/order", s.planWork)
	a.Get("/jobs/:job/ways", s.ways)
	a.Get("/jobs/:job/plan/try", s.tryMove)
	a.Get("/jobs/:job/order/weigh", s.weigh)
	a.Post("/jobs/:job/school", s.school)
	a.Post("/jobs/:job/treat", s.treat)
	a.Get("/jobs/:job/treat", s.treating)
	a.Post("/jobs/:job/built", s.seeBuilt)
	a.Post("/jobs/:job/move", s.move)
	a.Post("/jobs/:job/replan", s.replan)
	a.Post("/jobs/:job/rescue", s.rescue)
	a.Post("/jobs/:job/tell", s.tell)
	a.Post("/jobs/:job/kit", s.kit)
	a.Get("/jobs/:job/match", s.match)
	a.Post("/jobs/:job/match", s.judgePart)
	a.Get("/jobs/:job/bench", s.bench)
	a.Post("/jobs/:job/step", s.keepStep)
	a.Post("/jobs/:job/handle", s.handle)
	a.Post("/jobs/:job/hardware", s.seeHardware)
	a.Post("/jobs/:job/claim", s.claim)
	a.Post("/jobs/:job/unclaim", s.unclaim)
	a.Post("/jobs/:job/set", s.setWrench)
	a.Post("/jobs/:job/click", s.click)
	a.Post("/jobs/:job/trace", s.traceFile)
	a.Post("/jobs/:job/turn", s.turn)
	a.Post("/jobs/:job/unmeasured", s.leave)
	a.Post("/jobs/:job/slacken", s.slacken)
	a.Post("/jobs/:job/figure", s.answerFigure)
	a.Post("/jobs/:job/later", s.later)
	a.Post("/jobs/:job/handover", s.handOver)
	a.Post("/jobs/:job/trouble", s.trouble)
	a.Post("/jobs/:job/clear", s.clear)
	a.Get("/jobs/:job/release", s.release)
	a.Get("/jobs/:job/ahead", s.ahead)
	a.Get("/token", s.token)
	a.Post("/jobs/:job/try", s.try)
	a.Post("/jobs/:job/undo", s.undo)
	a.Get("/jobs/:job/live", s.jobLive)
	a.Get("/jobs/:job/ledger", s.ledger)
	a.Post("/jobs/:job/strike", s.strike)
	a.Post("/jobs/:job/deviate", s.deviate)
	a.Post("/jobs/:job/finding", s.finding)
	a.Post("/jobs/:job/sign", s.sign)
	a.Post("/jobs/:job/reopen", s.reopen)
	a.Post("/jobs/:job/due", s.closeDue)
	a.Post("/jobs/:job/trial", s.trial)
	a.Get("/jobs/:job/brief", s.brief)
	a.Post("/jobs/:job/fluid", s.fluid)
	a.Get("/jobs/:job/label", s.label)
	a.Get("/jobs/:job/report", s.report)
	a.Get("/jobs/:job/report.pdf", s.reportPDF)
	a.Get("/jobs/:job/ledger.csv", s.ledgerCSV)
	a.Get("/jobs/:job/job.json", s.jobJSON)
	a.Get("/reckoner", s.reckoner)
	a.Get("/reckoner/reading", s.reading)
	a.Get("/reckoner/:name", s.reckoner)
	a.Post("/reckoner/:name", s.reckoner)
	a.Get("/crib", s.cribPage)
	a.Get("/crib/:tool/recall", s.recall)
	a.Post("/crib/:tool", s.logTool)
	a.Post("/crib/:tool/token", s.toolToken)
	a.Get("/shelf", s.shelfPage)
	a.Post("/shelf", s.addToShelf)
	a.Get("/shelf/:pattern", s.sheet)
	a.Post("/shelf/:pattern", s.correct)
	a.Get("/wrench/:tool", s.wrenchPage)
	a.Post("/wrench/:tool/pull", s.wrenchPull)
	a.Post("/wrench/:tool/release", s.wrenchRelease)
	a.Get("/wrench/:tool/live", s.wrenchLive)
	a.Get("/practice", s.practiceBay)
	a.Post("/practice", s.beginPractice)
	a.Get("/practice/:run", s.practise)
	a.Post("/practice/:run", s.practiseAct)
	a.Get("/notices", s.notices)
	a.Get("/notation", s.notation)
	a.Get("/you", s.you)
	a.Post("/you", s.prefer)
	a.Post("/sessions/:session/end", s.revoke)
	a.Get("/scripts", s.scripts)
	a.Post("/scripts", s.changeScripts)
	a.Get("/acts", s.acts)
	a.Get("/office", s.office)
	a.Get("/shops", s.chainShops)
	a.Get("/imports", s.imports)
	a.Post("/imports", s.takeList)
	a.Get("/people", s.people)
	a.Post("/people", s.addPerson)
	a.Post("/people/:person", s.changePerson)
	a.Use(func(c fiber.Ctx) error {
		return fault.New("not_found", "", "There is no such page.", "Go back to the bays.")
	})
}

// health says that the file can be written to, not only that somebody answers.
func (s *Server) health(c fiber.Ctx) error {
	if err := s.Store.Healthy(c.Context()); err != nil {
		s.Log.Error("not healthy", "error", err)
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
	s.Log.Info("request",
		"method", c.Method(),
		"path", c.Path(),
		"status", c.Response().StatusCode(),
		"ms", time.Since(began).Milliseconds(),
		"from", c.IP(),
		"who", who,
	)
	return err
}

func (s *Server) headers(c fiber.Ctx) error {
	c.Set("Content-Security-Policy", csp)
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Referrer-Policy", "same-origin")
	c.Set("Cache-Control", "no-store")
	return c.Next()
}

// session is that of a request's cookie; nil for a stranger.
func (s *Server) session(c fiber.Ctx) (*store.Session, error) {
	return s.Store.Session(c.Context(), c.Cookies(cookieName), s.Now())
}

// who finds who asks; a stranger is sent to the sign-in page.
func (s *Server) who(c fiber.Ctx) error {
	x, err := s.session(c)
	if err != nil {
		return err
	}
	if x == nil {
		if c.Method() != fiber.MethodGet {
			return fault.New("signed_out", "", "You are signed out.", "Sign in again; what you typed stays in the page.")
		}
		return c.Redirect().To("/signin")
	}
	kit.Keep(c, x)
	return c.Next()
}

// ownPaths are what a reader may send: it is their own, and no record.
var ownPaths = regexp.MustCompile(`^/(signout|pin|you|sessions/[^/]+/end|reckoner/.*|practice(/.*)?)$`)

// officePaths are what is looked after at a node of the chain as in a shop.
var officePaths = regexp.MustCompile(`^/(signin|people(/.*)?|scripts)$|^/api/v1/calc/`)

// guardWrites asks every write for the session's own token, and keeps readers
// from writing anything.
func (s *Server) guardWrites(c fiber.Ctx) error {
	if c.Method() == fiber.MethodGet || c.Method() == fiber.MethodHead {
		return c.Next()
	}
	x := kit.Session(c)
	if !kit.Own(c) {
		return fault.New("forbidden", "", "This form is from another session.", "Reload the page and send it again.")
	}
	own := ownPaths.MatchString(c.Path())
	if x.Person.Role == job.Reader && !own {
		return fault.New(job.CodeRole, "", "You may read here, not write.", "Ask a technician or the foreman.")
	}
	return c.Next()
}

// fail shows an error that no page of its own has shown.
func (s *Server) fail(c fiber.Ctx, err error) error {
	f := fault.As(err)
	var fe *fiber.Error
	switch {
	case f != nil:
	case errors.As(err, &fe) && fe.Code == fiber.StatusRequestEntityTooLarge:
		f = fault.New("too_long", "", "That is too much at once.", "Send less.")
	case errors.As(err, &fe) && (fe.Code == fiber.StatusNotFound || fe.Code == fiber.StatusMethodNotAllowed):
		f = fault.New("not_found", "", "There is no such page.", "Go back to the bays.")
	case errors.As(err, &fe) && fe.Code < 500:
		s.Log.Warn("request not understood", "method", c.Method(), "path", c.Path(), "code", fe.Code)
		f = fault.New("bad_request", "", "The request was not understood: "+fe.Message+".",
			"Reload the page and try again.")
	default:
		s.Log.Error("request failed", "method", c.Method(), "path", c.Path(), "error", err)
		f = fault.New(
			"internal",
			"",
			"Something broke in here. Nothing that was kept is lost.",
			"Try again; tell the foreman if it happens twice.",
		)
		return s.failPage(c, f, fiber.StatusInternalServerError)
	}
	return s.failPage(c, f, kit.Status(f))
}

func (s *Server) failPage(c fiber.Ctx, f *fault.Fault, code int) error {
	if strings.HasPrefix(c.Path(), "/api/") {
		return sendProblem(c, reckon.FromFault(f, code))
	}
	return s.render(c, code, "error", "Not done", fiber.Map{"Fault": f})
}
