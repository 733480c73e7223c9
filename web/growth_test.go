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

	"lugtak/demo"
	"lugtak/library"
	"lugtak/store"
)

// years are the sizes of the grown files, in signed jobs: a shop of eight jobs a day has 2 000 a
// year. LUGTAK_YEARS asks for others; 100 000 jobs want some hours and 40 GB.
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

// grownFleet is how many vehicles the grown jobs are spread over.
const grownFleet = 500

// grow puts copies of a signed job into its shop, each sealed anew, on vehicles of their own, a
// batch at a time, as a node of a chain takes them.
func grow(b *testing.B, s *store.Store, id string, times int) {
	b.Helper()
	ctx := context.Background()
	f, err := s.Journal(ctx, id)
	if err != nil {
		b.Fatal(err)
	}
	var lines []store.Told
	put := func() {
		refused, err := s.Adopt(ctx, lines, time.Now())
		if err != nil || len(refused) > 0 {
			b.Fatal(refused, err)
		}
		lines = lines[:0]
	}
	for n := range times {
		job, vehicle := fmt.Sprintf("%s-%06d", id, n), fmt.Sprintf("grown-%03d", n%grownFleet)
		names := strings.NewReplacer(id, job, `"id":"demo-p2"`, `"id":"`+vehicle+`"`, `"fleet":"P-2"`, fmt.Sprintf(`"fleet":"G-%03d"`, n%grownFleet))
		prev := ""
		for i, l := range f.Events {
			l.Job = job
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

// demoFile is a demo shop with its signed job in it so many times more.
func demoFile(b *testing.B, times int) string {
	b.Helper()
	ctx := context.Background()
	lib, err := library.Load("")
	if err != nil {
		b.Fatal(err)
	}
	path := filepath.Join(b.TempDir(), "shop.db")
	s, err := store.Open(ctx, path)
	if err != nil {
		b.Fatal(err)
	}
	defer s.Close()
	if err := demo.Fill(ctx, s, lib, time.Now()); err != nil {
		b.Fatal(err)
	}
	if times > 0 {
		grow(b, s, demo.Done, times)
	}
	return path
}

// opened serves a file and gives a client of its first technician.
func opened(b *testing.B, path string) (addr string, client *http.Client, end func()) {
	b.Helper()
	lib, err := library.Load("")
	if err != nil {
		b.Fatal(err)
	}
	s, err := store.Open(context.Background(), path)
	if err != nil {
		b.Fatal(err)
	}
	server, err := New(Config{Store: s, Library: lib})
	if err != nil {
		b.Fatal(err)
	}
	addr = listen(b, server.App)
	return addr, signedIn(b, addr, demo.People[0]), func() { server.Close(); s.Close() }
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
	{"vehicle", "/vehicles/demo-p2"},
}

// openings is how often each file is opened anew for each page.
const openings = 5

// Each page of shops that have grown for years against the same page of the demo shop, all
// opened in turn within one run: how long the first view after a start takes, and how long one
// takes among many, the middle of each. The first view of all is the sign-in, which reads who
// there is. One line a size is the curve.
func BenchmarkGrowth(b *testing.B) {
	files := []string{demoFile(b, 0)}
	for _, jobs := range years {
		files = append(files, demoFile(b, jobs))
	}
	for b.Loop() {
		for _, p := range grownPages {
			first, busy := make([][]time.Duration, len(files)), make([][]time.Duration, len(files))
			for range openings {
				for i, path := range files {
					addr, client, end := opened(b, path)
					first[i] = append(first[i], viewTimes(b, client, "http://"+addr+p.path, 1)...)
					busy[i] = append(busy[i], viewTimes(b, client, "http://"+addr+p.path, 100)...)
					end()
				}
			}
			for i, jobs := range years {
				b.ReportMetric(middle(first[i+1])/middle(first[0]), fmt.Sprintf("%s-first-%d", p.name, jobs))
				b.ReportMetric(middle(busy[i+1])/middle(busy[0]), fmt.Sprintf("%s-ratio-%d", p.name, jobs))
			}
		}
	}
	for i, jobs := range years {
		info, err := os.Stat(files[i+1])
		if err != nil {
			b.Fatal(err)
		}
		b.ReportMetric(float64(info.Size())/1e6, fmt.Sprintf("MB-%d", jobs))
	}
}

func middle(all []time.Duration) float64 {
	slices.Sort(all)
	return float64(all[len(all)/2])
}
