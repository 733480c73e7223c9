package web

import (
	"context"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/demo"
	"lugtak/demo/files"
	"lugtak/library"
	"lugtak/shop"
	"lugtak/store"
)

// years are the sizes of the grown files, in signed jobs. LUGTAK_YEARS asks for others; 100 000
// jobs want some hours and 12 GB.
var years = []int{300, 3000}

func init() {
	if text := os.Getenv("LUGTAK_YEARS"); text != "" {
		years = nil
		for _, word := range strings.Fields(text) {
			n, err := strconv.Atoi(word)
			if err != nil {
				panic("LUGTAK_YEARS: " + err.Error())
			}
			years = append(years, n)
		}
	}
}

// The grown jobs are spread over a fleet, so many signed a day. The smallest file has three days
// of them, some 3 000 events, so that its pages show as much as those of the grown.
const (
	grownFleet = 500
	grownDaily = 8
	grownFirst = 24
)

// grow puts copies of a signed job into its shop, each sealed anew, on vehicles of their own, a
// batch at a time, as a node of a chain takes them.
func grow(b *testing.B, s *store.Store, id string, times int) {
	b.Helper()
	ctx := context.Background()
	f, err := s.Journal(ctx, id)
	if err != nil {
		b.Fatal(err)
	}
	for n := range grownFleet {
		id, fleet := grownVehicle(n)
		v := vehicle.Vehicle{ID: id, Fleet: fleet, Pattern: "ostrel-c22", Name: "grown"}
		if _, err := s.AddVehicle(ctx, v); err != nil {
			b.Fatal(err)
		}
	}
	var lines []store.Told
	put := func() {
		refused, err := s.Adopt(ctx, lines, 0, time.Now())
		if err != nil || len(refused) > 0 {
			b.Fatal(refused, err)
		}
		lines = lines[:0]
	}
	for n := range times {
		job := fmt.Sprintf("%s-%06d", id, n)
		on, fleet := grownVehicle(n)
		names := strings.NewReplacer(id, job, `"id":"demo-p2"`, `"id":"`+on+`"`, `"fleet":"P-2"`, `"fleet":"`+fleet+`"`)
		before := time.Duration((times-n)/grownDaily) * 24 * time.Hour
		prev := ""
		for i, l := range f.Events {
			l.Job = job
			at, err := time.Parse(time.RFC3339Nano, l.At)
			if err != nil {
				b.Fatal(err)
			}
			l.At = record.Stamp(at.Add(-before))
			l.ID = fmt.Sprintf("%s:%d", job, i)
			l.Body = []byte(names.Replace(string(l.Body)))
			l.Hash = l.Sum(prev)
			prev = l.Hash
			lines = append(lines, store.Told{Place: uint64(n + 1), Shop: "grown", Name: "grown", Line: l})
		}
		if len(lines) > 1000 {
			put()
		}
	}
	put()
	if _, err := s.OpenJobs(ctx); err != nil { // waits for the projections
		b.Fatal(err)
	}
}

// grownVehicle is the vehicle of a grown job.
func grownVehicle(job int) (id, fleet string) {
	no := job % grownFleet
	return fmt.Sprintf("grown-%03d", no), fmt.Sprintf("G-%03d", no)
}

// demoFile is a demo shop with its signed job in it so many times more.
func demoFile(b *testing.B, lib *library.Library, times int) string {
	b.Helper()
	ctx := context.Background()
	path := filepath.Join(b.TempDir(), "shop.db")
	s, err := shop.Open(ctx, path, lib, shop.Options{Demo: true})
	if err != nil {
		b.Fatal(err)
	}
	defer s.Close()
	if err := demo.Fill(ctx, s, time.Now()); err != nil {
		b.Fatal(err)
	}
	grow(b, s.Store, demo.Done, times)
	return path
}

// opened serves a file; start is how long that took, up to the page that asks who is there.
func opened(b *testing.B, lib *library.Library, path string) (addr string, start time.Duration, end func()) {
	b.Helper()
	from := time.Now()
	house, err := shop.Open(context.Background(), path, lib, shop.Options{Demo: true})
	if err != nil {
		b.Fatal(err)
	}
	server, err := New(Config{Shop: house})
	if err != nil {
		b.Fatal(err)
	}
	addr = listen(b, server.App)
	viewTimes(b, http.DefaultClient, "http://"+addr+"/signin", 1)
	return addr, time.Since(from), func() { server.Close(); house.Close() }
}

// The pages whose time must not follow the size of the file, by a short name.
var grownPages = []struct{ name, path string }{
	{"bays", "/"},
	{"bench", "/jobs/" + demo.HalfDone + "/bench"},
	{"plan", "/jobs/" + demo.HalfDone + "/plan"},
	{"ledger", "/jobs/" + demo.HalfDone + "/ledger"},
	{"walk", "/jobs/" + demo.Waiting + "/walk"},
	{"crib", "/crib"},
	{"fleet", "/fleet"},
	{"found", "/search?q=chafed"},
	{"common", "/search?q=wheel"}, // a word of every job
	{"shelf", "/shelf"},
	{"reckoner", "/reckoner"},
	{"office", "/office"},
	{"said", "/said"},
	{"vehicle", "/vehicles/grown-001"},
	{"recall", "/crib/w2/recall"},
}

// openings is how often each file is opened anew; busy is how many views of a page follow its
// first.
const (
	openings = 7
	busy     = 100
)

// Each page of shops that have grown for years against the same page of a young shop, all
// opened in turn within one run: how long the start takes, how long the first view after it, and
// how long one among many, the middle of each. One line a size is the curve.
func BenchmarkGrowth(b *testing.B) {
	lib, err := library.Load("", files.FS)
	if err != nil {
		b.Fatal(err)
	}
	files := []string{demoFile(b, lib, grownFirst)}
	for _, jobs := range years {
		files = append(files, demoFile(b, lib, jobs))
	}
	for b.Loop() {
		took := map[string][][]time.Duration{}
		note := func(what string, file int, views ...time.Duration) {
			if took[what] == nil {
				took[what] = make([][]time.Duration, len(files))
			}
			took[what][file] = append(took[what][file], views...)
		}
		for round := range openings {
			for i, path := range files {
				addr, start, end := opened(b, lib, path)
				note("start", i, start)
				client := signedIn(b, addr, demo.People[0])
				// Each round begins with another page: the first bears what all share.
				for n := range grownPages {
					p := grownPages[(n+round*2)%len(grownPages)]
					note(p.name+"-first", i, viewTimes(b, client, "http://"+addr+p.path, 1)...)
					note(p.name, i, viewTimes(b, client, "http://"+addr+p.path, busy)...)
				}
				end()
			}
		}
		for what, views := range took {
			for i, jobs := range years {
				b.ReportMetric(middle(views[i+1])/middle(views[0]), fmt.Sprintf("%s-x%d", what, jobs))
			}
		}
	}
	for i, jobs := range years {
		info, err := os.Stat(files[i+1])
		if err != nil {
			b.Fatal(err)
		}
		b.ReportMetric(float64(info.Size())/1e6, fmt.Sprintf("MB-x%d", jobs))
	}
}

func middle(all []time.Duration) float64 {
	slices.Sort(all)
	return float64(all[len(all)/2])
}
