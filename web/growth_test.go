package web

import (
	"bytes"
	"context"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"lugtak/demo"
	"lugtak/library"
	"lugtak/store"
)

// clones is how many times the signed job of the demo is in the grown file: the work
// of a shop of ten in some four months, 100 000 events.
const clones = 1000

// grow copies a signed job into its shop so many times, each sealed anew.
func grow(b *testing.B, s *store.Store, id string, times int) {
	b.Helper()
	ctx := context.Background()
	for n := range times {
		f, err := s.Journal(ctx, id)
		if err != nil {
			b.Fatal(err)
		}
		f.Job = fmt.Sprintf("%s-%05d", id, n)
		f.Key = ""
		prev := ""
		for i := range f.Events {
			l := &f.Events[i]
			l.Job = f.Job
			l.ID = string(bytes.ReplaceAll([]byte(l.ID), []byte(id), []byte(f.Job)))
			l.Body = bytes.ReplaceAll(l.Body, []byte(id), []byte(f.Job))
			l.Hash = l.Sum(prev)
			prev = l.Hash
		}
		text, err := f.Text()
		if err != nil {
			b.Fatal(err)
		}
		src := store.Source{By: "bench", From: "a clone", At: time.Now()}
		if _, _, err := s.Import(ctx, text, src); err != nil {
			b.Fatal(err)
		}
	}
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
	grow(b, s, demo.Done, times)
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
}

// openings is how often each file is opened anew for each page.
const openings = 5

// Each page of a file with 1000 signed jobs against the same page of the demo shop,
// both opened in turn within one run: how long the first view after a start takes, and
// how long one takes among many, the middle of each. The first view of all is the
// sign-in, which reads who there is.
func BenchmarkGrowth(b *testing.B) {
	files := [2]string{demoFile(b, 0), demoFile(b, clones)}
	info, err := os.Stat(files[1])
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		for _, p := range grownPages {
			var first, busy [2][]time.Duration
			for range openings {
				for i, path := range files {
					addr, client, end := opened(b, path)
					first[i] = append(first[i], viewTimes(b, client, "http://"+addr+p.path, 1)...)
					busy[i] = append(busy[i], viewTimes(b, client, "http://"+addr+p.path, 200)...)
					end()
				}
			}
			b.ReportMetric(middle(first[1])/middle(first[0]), p.name+"-first")
			b.ReportMetric(middle(busy[1])/middle(busy[0]), p.name+"-ratio")
		}
	}
	b.ReportMetric(float64(info.Size())/1e6, "file-MB")
}

func middle(all []time.Duration) float64 {
	slices.Sort(all)
	return float64(all[len(all)/2])
}
