package web

import (
	"context"
	"database/sql"
	"errors"
	"io"
	"net"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/demo"
	"lugtak/demo/files"
	"lugtak/device/sim"
	"lugtak/library"
	"lugtak/shop"
)

// served serves a demo shop on a free port and gives a signed-in client.
func served(tb testing.TB) (addr, db string, client *http.Client) {
	tb.Helper()
	_, addr, db, client = serve(tb, Config{})
	return addr, db, client
}

// serve serves a demo shop as told, and gives a client signed in as its first
// technician.
func serve(tb testing.TB, cfg Config, with ...shop.Options) (s *Server, addr, db string, client *http.Client) {
	tb.Helper()
	filled, err := demoShop()
	if err != nil {
		tb.Fatal(err)
	}
	db = filepath.Join(tb.TempDir(), "shop.db")
	for _, end := range []string{"", ".key"} {
		data, err := os.ReadFile(filled + end)
		if err != nil {
			tb.Fatal(err)
		}
		if err := os.WriteFile(db+end, data, 0o600); err != nil {
			tb.Fatal(err)
		}
	}
	lib, err := library.Load("", files.FS)
	if err != nil {
		tb.Fatal(err)
	}
	opts := append(with, shop.Options{})[0]
	opts.Demo = true
	cfg.Shop, err = shop.Open(context.Background(), db, demo.Dressed(lib), opts)
	if err != nil {
		tb.Fatal(err)
	}
	cfg.Stand = sim.Stand{}
	if s, err = New(cfg); err != nil {
		tb.Fatal(err)
	}
	addr = listen(tb, s.App)
	tb.Cleanup(func() { s.Close(); cfg.Shop.Close() })
	return s, addr, db, signedIn(tb, addr, demo.People[0])
}

// demoShop is the file of a demo shop, filled once for all tests: each works on a copy.
var demoShop = sync.OnceValues(func() (string, error) {
	dir, err := os.MkdirTemp(testDir, "demo")
	if err != nil {
		return "", err
	}
	lib, err := library.Load("", files.FS)
	if err != nil {
		return "", err
	}
	db := filepath.Join(dir, "shop.db")
	st, err := shop.Open(context.Background(), db, lib, shop.Options{Demo: true})
	if err != nil {
		return "", err
	}
	return db, errors.Join(demo.Fill(context.Background(), st, time.Now()), st.Close())
})

// testDir is there while the tests of this package run.
var testDir string

func TestMain(m *testing.M) {
	os.Exit(func() int {
		dir, err := os.MkdirTemp("", "lugtak-web-")
		if err != nil {
			panic(err)
		}
		defer os.RemoveAll(dir)
		testDir = dir
		return m.Run()
	}())
}

// signedIn is a client with somebody's session.
func signedIn(tb testing.TB, addr string, p demo.Person) *http.Client {
	tb.Helper()
	client := &http.Client{
		Transport:     &http.Transport{MaxIdleConnsPerHost: askers, DisableCompression: true},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	}
	res, err := client.PostForm("http://"+addr+"/signin", url.Values{"name": {p.Name}, "pin": {p.PIN}})
	if err != nil {
		tb.Fatal(err)
	}
	res.Body.Close()
	cookie := strings.SplitN(res.Header.Get("Set-Cookie"), ";", 2)[0]
	client.Transport = withCookie{client.Transport, cookie}
	return client
}

type withCookie struct {
	http.RoundTripper
	cookie string
}

func (w withCookie) RoundTrip(r *http.Request) (*http.Response, error) {
	r.Header.Set("Cookie", w.cookie)
	return w.RoundTripper.RoundTrip(r)
}

func listen(tb testing.TB, app *fiber.App) string {
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		tb.Fatal(err)
	}
	go app.Listener(ln, fiber.ListenConfig{DisableStartupMessage: true})
	tb.Cleanup(func() { app.ShutdownWithTimeout(time.Second) })
	return ln.Addr().String()
}

const askers = 50

// p99 is the time that ninety-nine in a hundred views of a page stay under.
func p99(b *testing.B, client *http.Client, address string, n int) time.Duration {
	all := viewTimes(b, client, address, n)
	return all[len(all)*99/100]
}

// viewTimes asks n times for a page from 50 clients at once, and gives how long each view
// took, the shortest first.
func viewTimes(b *testing.B, client *http.Client, address string, n int) []time.Duration {
	var mu sync.Mutex
	var all []time.Duration
	work := make(chan struct{})
	var wg sync.WaitGroup
	for range askers {
		wg.Add(1)
		go func() {
			defer wg.Done()
			for range work {
				from := time.Now()
				res, err := client.Get(address)
				if err != nil || res.StatusCode != http.StatusOK {
					b.Error(address, err)
					continue
				}
				io.Copy(io.Discard, res.Body)
				res.Body.Close()
				mu.Lock()
				all = append(all, time.Since(from))
				mu.Unlock()
			}
		}()
	}
	for range n {
		work <- struct{}{}
	}
	close(work)
	wg.Wait()
	slices.Sort(all)
	return all
}

// The bench page against a bare handler that reads one row of the same file.
// Both are asked in turn within one run; the ratio is what counts.
func BenchmarkBenchPage(b *testing.B) {
	addr, path, client := served(b)
	db, err := sql.Open("sqlite", "file:"+path+"?mode=ro")
	if err != nil {
		b.Fatal(err)
	}
	defer db.Close()
	db.SetMaxOpenConns(4)
	bare := fiber.New()
	bare.Get("/", func(c fiber.Ctx) error {
		var owed int
		if err := db.QueryRowContext(c.Context(), `SELECT owed FROM job WHERE id = ?`,
			demo.HalfDone).Scan(&owed); err != nil {
			return err
		}
		return c.JSON(owed)
	})
	bareAddr := listen(b, bare)
	const n = 4000
	var page, row time.Duration
	for b.Loop() {
		row += p99(b, client, "http://"+bareAddr+"/", n)
		page += p99(b, client, "http://"+addr+"/jobs/"+demo.HalfDone+"/bench", n)
	}
	b.ReportMetric(float64(page.Microseconds())/float64(b.N)/1000, "page-p99-ms")
	b.ReportMetric(float64(row.Microseconds())/float64(b.N)/1000, "row-p99-ms")
	b.ReportMetric(float64(page)/float64(row), "ratio")
}
