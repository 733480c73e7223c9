package main

import (
	"cmp"
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"strconv"
	"strings"
	"syscall"
	"time"
	"unicode"

	"github.com/gofiber/fiber/v3"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"lugtak/chain"
	"lugtak/demo"
	"lugtak/demo/files"
	"lugtak/device"
	"lugtak/device/sim"
	"lugtak/device/supply"
	"lugtak/library"
	"lugtak/pages/office"
	"lugtak/shop"
	"lugtak/store"
	"lugtak/web"
	"lugtak/web/hooks"
	"lugtak/web/kit"
)

// settings are how a shop of its own is served, by flags or variables.
type settings struct {
	Addr  string   `default:"127.0.0.1:8460" env:"LUGTAK_ADDR" help:"Where to listen, HOST:PORT."`
	Cert  string   `env:"LUGTAK_CERT" type:"existingfile" help:"TLS certificate of this server, PEM; with --key."`
	Key   string   `env:"LUGTAK_KEY" type:"existingfile" help:"Its private key, PEM."`
	Proxy []string `env:"LUGTAK_PROXY" help:"Address or network of a TLS proxy in front; no other is believed."`

	AccessLog bool `env:"LUGTAK_ACCESS_LOG" help:"Log each request: path, status, time, who; never what was typed."`
	JSONLog   bool `env:"LUGTAK_JSON_LOG" help:"Log as JSON, one object a line."`

	Backups string `env:"LUGTAK_BACKUPS" type:"existingdir" help:"Folder for a proved backup at the start and every day."`
	Keep    int    `env:"LUGTAK_KEEP" default:"14" help:"How many of those backups are kept."`

	Supplier      string `env:"LUGTAK_SUPPLIER" help:"Base address of a supplier of parts, as docs/SUPPLIER.md says."`
	SupplierName  string `env:"LUGTAK_SUPPLIER_NAME" default:"the supplier" help:"What the supplier is called."`
	SupplierToken string `env:"LUGTAK_SUPPLIER_TOKEN" help:"Token that is sent to the supplier."`

	Chain         string `env:"LUGTAK_CHAIN" help:"The chain's NATS servers, nats://host:port, by commas."`
	ChainCreds    string `env:"LUGTAK_CHAIN_CREDS" type:"existingfile" help:"File with the key for it: lugtak chain-user."`
	ChainCA       string `env:"LUGTAK_CHAIN_CA" type:"existingfile" help:"The authority that signed its certificates."`
	ChainReplicas int    `env:"LUGTAK_CHAIN_REPLICAS" default:"3" help:"Servers that keep each record."`
	ChainName     string `env:"LUGTAK_CHAIN_NAME" help:"This shop's name in the chain; else that of shop.yaml."`
	ChainNode     bool   `env:"LUGTAK_CHAIN_NODE" help:"Gather what all shops record, and serve it read only."`

	Zone    string `env:"LUGTAK_ZONE" help:"Time zone of the shop, as Europe/Lisbon; else that of the machine."`
	Metrics string `env:"LUGTAK_METRICS" help:"Where to serve Prometheus metrics, HOST:PORT; else nowhere."`

	Library string `env:"LUGTAK_LIBRARY" help:"Folder with the shop's own YAML files." type:"path"`
}

// faults are what is wrong with the settings and the files they name, all of it.
func (c *settings) faults() []ailment {
	var out []ailment
	wrong := func(flag, found, remedy string) {
		out = append(out, ailment{What: "--" + flag, Found: found, Remedy: remedy, Bad: true})
	}
	switch {
	case (c.Cert == "") != (c.Key == ""):
		wrong("cert", "--cert and --key go together", "Name both, or neither.")
	case c.Cert != "":
		if _, err := (&pemPair{cert: c.Cert, key: c.Key}).leaf(); err != nil {
			wrong("cert", c.Cert+": "+err.Error(), "Make or renew it as docs/OPERATING.md says.")
		}
	}
	if _, err := kit.ParseProxies(c.Proxy); err != nil {
		wrong("proxy", err.Error(), "Name the proxy's own address.")
	}
	if c.Supplier != "" && !webAddress(c.Supplier) {
		wrong("supplier", c.Supplier+" is no address on the web", "Write it as https://parts.example/api.")
	}
	if c.Keep < 1 {
		wrong("keep", strconv.Itoa(c.Keep)+" keeps no backup", "Name a number from 1 on.")
	}
	if c.ChainNode && c.Chain == "" {
		wrong("chain-node", "it is filled from a chain, and none is named", "Name it by --chain.")
	}
	for _, at := range []struct{ flag, address string }{{"addr", c.Addr}, {"metrics", c.Metrics}} {
		if _, _, err := net.SplitHostPort(at.address); err != nil && at.address != "" {
			wrong(at.flag, at.address+" is no address to listen on", "Write HOST:PORT, as 127.0.0.1:8460.")
		}
	}
	if _, err := time.LoadLocation(c.Zone); err != nil {
		wrong("zone", "there is no time zone "+c.Zone, "Name one as Europe/Lisbon.")
	}
	lib, err := library.Load(c.Library)
	if err != nil {
		wrong("library", err.Error(), "Name a folder that can be read.")
		return out
	}
	for _, f := range lib.Faults {
		wrong("library", f.Error(), "Mend the file, or take it out of the folder.")
	}
	return out
}

// webAddress says that a text is the base address of something on the web.
func webAddress(text string) bool {
	u, err := url.Parse(text)
	return err == nil && (u.Scheme == "http" || u.Scheme == "https") && u.Host != ""
}

type serveCmd struct {
	DB string `required:"" env:"LUGTAK_DB" help:"The shop file, made by lugtak init." type:"existingfile"`

	settings `embed:""`
}

func (c *serveCmd) Run() error {
	if wrong := c.faults(); len(wrong) > 0 {
		lines := make([]string, len(wrong))
		for i, x := range wrong {
			lines[i] = x.What + ": " + x.Found + ". " + x.Remedy
		}
		return errors.New(strings.Join(lines, "\nlugtak: "))
	}
	var parts device.Supplier
	if c.Supplier != "" {
		parts = &supply.Client{Called: c.SupplierName, Base: c.Supplier, Token: c.SupplierToken}
	}
	if c.JSONLog {
		slog.SetDefault(slog.New(slog.NewJSONHandler(os.Stderr, nil)))
	}
	if c.Zone != "" {
		zone, err := time.LoadLocation(c.Zone)
		if err != nil {
			return err
		}
		time.Local = zone
	}
	return serve(place{
		chain: chain.Config{
			URL:      c.Chain,
			Creds:    c.ChainCreds,
			CA:       c.ChainCA,
			Replicas: c.ChainReplicas,
			Name:     c.ChainName,
		},
		node:    c.ChainNode,
		metrics: c.Metrics,
		access:  c.AccessLog,
		db:      c.DB,
		addr:    c.Addr,
		library: c.Library,
		parts:   parts,
		cert:    c.Cert,
		key:     c.Key,
		proxies: c.Proxy,
		backups: c.Backups,
		keep:    c.Keep,
	})
}

// place is where a server runs, and with what.
type place struct {
	db, addr, library string
	people            []office.Demo
	worked            map[string]string
	past              bool // the demo has its half year
	rack              device.Rack
	parts             device.Supplier
	cert, key         string
	proxies           []string
	access            bool
	backups           string
	keep              int
	chain             chain.Config
	node              bool // of the chain
	metrics           string
}

type demoCmd struct {
	DB   string `help:"Keep the demo in this file; without it the demo starts anew each time." type:"path"`
	Addr string `default:"127.0.0.1:8460" help:"Where to listen, HOST:PORT; port 0 takes a free one."`

	Young  bool              `help:"The shop as it began, without its half year of signed work."`
	Worked map[string]string `help:"Work a job on to a step, as demo-half-done='Road test'." placeholder:"JOB=WORDS"`
}

func (c *demoCmd) Run() error {
	db := c.DB
	if db == "" {
		dir, err := os.MkdirTemp("", "lugtak-demo-")
		if err != nil {
			return err
		}
		defer os.RemoveAll(dir)
		db = filepath.Join(dir, "demo.db")
	}
	var people []office.Demo
	for _, p := range demo.People {
		people = append(people, office.Demo(p))
	}
	parts := &supply.Client{
		Called: "Tarn Quay Parts (invented)",
		Base:   "http://supplier.invalid",
		Played: true,
		HTTP:   &http.Client{Transport: &sim.Supplier{}},
	}
	p := place{db: db, addr: c.Addr, people: people, rack: sim.NewRack(), parts: parts, worked: c.Worked}
	if _, err := os.Stat(db); !c.Young && len(c.Worked) == 0 && errors.Is(err, fs.ErrNotExist) {
		if err := withPast(db); err != nil {
			return err
		}
		p.past = true
	}
	return serve(p)
}

// pastKept is how old the kept past of the demo may be before it is made anew.
const pastKept = 7 * 24 * time.Hour

// withPast puts the demo's half year where its file is to be: the kept one of this release, or one made now and kept.
func withPast(db string) error {
	dir, err := os.UserCacheDir()
	if err != nil {
		dir = os.TempDir()
	}
	dir = filepath.Join(dir, "lugtak", "demo")
	release := strings.Map(func(r rune) rune {
		if r == '.' || r == '-' || unicode.IsLetter(r) || unicode.IsDigit(r) {
			return r
		}
		return '-'
	}, version)
	kept := filepath.Join(dir, release, demoFile)
	if i, err := os.Stat(kept); err != nil || time.Since(i.ModTime()) > pastKept {
		if err := makePast(dir, filepath.Dir(kept)); err != nil {
			return err
		}
	}
	for _, name := range []func(string) string{func(f string) string { return f }, store.KeyFile} {
		text, err := os.ReadFile(name(kept))
		if err != nil {
			return err
		}
		if err := os.WriteFile(name(db), text, 0o600); err != nil {
			return err
		}
	}
	return nil
}

const (
	demoFile = "demo.db"
	making   = "making-" // how the folder of one that is being made begins
)

// makePast makes the demo's half year in a folder of its own, which takes the kept one's name when it is whole;
// those of other releases go.
func makePast(dir, kept string) error {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return err
	}
	work, err := os.MkdirTemp(dir, making)
	if err != nil {
		return err
	}
	defer os.RemoveAll(work)
	lib, err := library.Load("", files.FS)
	if err != nil {
		return err
	}
	s, err := shop.Open(context.Background(), filepath.Join(work, demoFile), demo.Dressed(lib), shop.Options{Demo: true})
	if err != nil {
		return err
	}
	err = demo.Past(context.Background(), s, time.Now(), func(n, of int) {
		fmt.Fprintf(os.Stderr, "\rThe motor pool's half year, made once: %d of %d jobs ", n, of)
	})
	fmt.Fprintln(os.Stderr)
	if err := errors.Join(err, s.Close()); err != nil {
		return err
	}
	clearPast(dir)
	if err := os.Rename(work, kept); err != nil && !errors.Is(err, fs.ErrExist) { // another start has made it meanwhile
		return err
	}
	return nil
}

// clearPast takes away what other releases kept and what nobody makes any more; what is being made stays.
func clearPast(dir string) {
	all, err := os.ReadDir(dir)
	if err != nil {
		return
	}
	for _, x := range all {
		i, err := x.Info()
		if err == nil && strings.HasPrefix(x.Name(), making) && time.Since(i.ModTime()) < time.Hour {
			continue
		}
		_ = os.RemoveAll(filepath.Join(dir, x.Name())) // a disk that keeps it stops no demo
	}
}

// memoryLimit is what the server tries to live within, bytes: the collector works harder
// before it takes more.
const memoryLimit = 320 << 20

// serve runs until SIGTERM or an interrupt, then lets requests end.
func serve(p place) error {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	debug.SetMemoryLimit(memoryLimit)
	var invented []fs.FS
	if p.people != nil {
		invented = append(invented, files.FS)
	}
	lib, err := library.Load(p.library, invented...)
	if err != nil {
		return err
	}
	release, err := store.Own(p.db)
	if err != nil {
		return err
	}
	defer release()
	if p.people != nil {
		lib = demo.Dressed(lib)
	}
	house, err := shop.Open(context.WithoutCancel(ctx), p.db, lib, shop.Options{Devices: p.rack, Demo: p.people != nil})
	if err != nil {
		return err
	}
	if p.people != nil {
		if err := filled(ctx, house, p); err != nil {
			return errors.Join(err, house.Close())
		}
	}
	return errors.Join(open(ctx, p, house), house.Close())
}

// open serves a shop until the context ends.
func open(ctx context.Context, p place, house *shop.Shop) error {
	chained, err := join(p, house)
	if err != nil {
		return err
	}
	cfg := web.Config{
		Shop:    house,
		Version: version,
		Demo:    p.people,
		Parts:   p.parts,
		Proxies: p.proxies,
		Access:  p.access,
		Keeping: p.keeping,
		TryHook: hooks.Try,
		TLS:     p.cert != "",
		Stand:   sim.Stand{}, // the one place of a real shop where something is played

		ReadOnly: p.node,
	}
	if chained != nil {
		cfg.Chain = chained
	}
	w, err := web.New(cfg)
	if err != nil {
		return err
	}
	follow(p, house, chained)
	house.Go((&hooks.Sender{Shop: house}).Run)
	if err := measured(ctx, p, w); err != nil {
		return err
	}
	ln, err := net.Listen("tcp", p.addr)
	if err != nil {
		return fmt.Errorf("cannot listen on %s: %w; choose another with --addr HOST:PORT", p.addr, err)
	}
	ln = kit.Patient(ln, kit.LongestRequest)
	scheme := "http"
	if p.cert != "" {
		pair := p.pair()
		if err := pair.usable(time.Now()); err != nil { // the shop works on; its browsers complain
			slog.Warn("certificate", "file", p.cert, "error", err)
		}
		ln = tls.NewListener(ln, &tls.Config{GetCertificate: pair.now, MinVersion: tls.VersionTLS12})
		scheme = "https"
	}
	if p.backups != "" {
		house.Go(func(ctx context.Context) { keepBackups(ctx, p) })
	}
	fmt.Printf("Lugtak is at %s://%s\n", scheme, ln.Addr())
	if everybody, err := house.People(ctx); err == nil && len(everybody) == 0 {
		fmt.Printf(
			"Nobody can sign in yet. Make the first foreman:\n  lugtak person --db %s --name \"…\" --role foreman\n",
			p.db,
		)
	}
	done := make(chan error, 1)
	go func() { done <- w.App.Listener(ln, fiber.ListenConfig{DisableStartupMessage: true}) }()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
	}
	w.Close()
	// A browser's spare connection never sends a request and is not waited for.
	if err := w.App.ShutdownWithTimeout(3 * time.Second); !errors.Is(err, context.DeadlineExceeded) {
		return err
	}
	return nil
}

// filled makes the demo of an empty shop. Where jobs of it are worked on, it began so long ago that
// they end before now.
func filled(ctx context.Context, s *shop.Shop, p place) error {
	if p.past {
		return demo.Live(ctx, s, time.Now())
	}
	worked := p.worked
	if len(worked) == 0 {
		return demo.Fill(ctx, s, time.Now())
	}
	if people, err := s.People(ctx); err != nil || len(people) > 0 {
		return cmp.Or(err, errors.New("--worked is for a demo that begins: leave --db out, or name a file that is not there"))
	}
	if err := demo.Fill(ctx, s, time.Now().Add(-6*time.Hour)); err != nil {
		return err
	}
	return demo.WorkOn(ctx, s, worked)
}

// join joins the shop to its chain; without one there is none.
func join(p place, s *shop.Shop) (*chain.Chain, error) {
	if p.chain.URL == "" {
		return nil, nil
	}
	p.chain.Name = cmp.Or(p.chain.Name, s.Library().Shop.Name, shop.Fingerprint(s.PublicKey()))
	p.chain.Log = slog.Default()
	return chain.Join(s, p.chain)
}

// follow keeps a shop or a node in step with its chain, until the shop closes.
func follow(p place, s *shop.Shop, c *chain.Chain) {
	if c == nil {
		return
	}
	s.Go(func(ctx context.Context) {
		<-ctx.Done()
		c.Close()
	})
	switch {
	case p.node:
		s.Go(c.Fill)
		s.Go(func(ctx context.Context) {
			if err := c.Answer(ctx); err != nil {
				slog.Error("chain", "doing", "answering", "error", err)
			}
		})
	default:
		s.Go(c.Tell)
		s.Go(c.Heed)
	}
}

// measured serves metrics on an address of their own, where one is named: who reads them is
// let in by the network, and no page shows them.
func measured(ctx context.Context, p place, w *web.Server) error {
	if p.metrics == "" {
		return nil
	}
	ln, err := net.Listen("tcp", p.metrics)
	if err != nil {
		return fmt.Errorf("cannot serve metrics on %s: %w; choose another with --metrics HOST:PORT", p.metrics, err)
	}
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", promhttp.HandlerFor(w.Registry(), promhttp.HandlerOpts{}))
	srv := &http.Server{Handler: mux, ReadHeaderTimeout: 10 * time.Second}
	go func() {
		<-ctx.Done()
		srv.Close()
	}()
	go srv.Serve(ln)
	fmt.Printf("Metrics are at http://%s/metrics\n", ln.Addr())
	return nil
}

// keepBackups makes a proved backup at once and every day, until the server ends. One that
// fails is told and tried again the next day; no record waits for it.
func keepBackups(ctx context.Context, p place) {
	daily := time.NewTicker(24 * time.Hour)
	defer daily.Stop()
	for {
		path, err := store.Rotate(ctx, p.db, p.backups, p.keep, time.Now())
		if err != nil {
			slog.Error("no backup", "error", err)
		} else {
			slog.Info("backup", "file", path)
		}
		select {
		case <-ctx.Done():
			return
		case <-daily.C:
		}
	}
}
