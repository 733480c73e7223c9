package web

import (
	"bytes"
	"context"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
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
	{"shelf", "/shelf"},
	{"reckoner", "/reckoner"},
}

// Each page of a file with 1000 signed jobs against the same page of the demo shop,
// both asked in turn within one run: how long the first view after a start takes, and
// how long ninety-nine in a hundred stay under. The first view of all is the sign-in,
// which reads who there is.
func BenchmarkGrowth(b *testing.B) {
	files := [2]string{demoFile(b, 0), demoFile(b, clones)}
	if info, err := os.Stat(files[1]); err == nil {
		b.ReportMetric(float64(info.Size())/1e6, "file-MB")
	}
	first := map[string]*[2]time.Duration{}
	busy := map[string]*[2]time.Duration{}
	for _, p := range grownPages {
		first[p.name] = new([2]time.Duration)
		busy[p.name] = new([2]time.Duration)
	}
	for b.Loop() {
		for _, p := range grownPages {
			for i, path := range files {
				addr, client, end := opened(b, path)
				first[p.name][i] += p99(b, client, "http://"+addr+p.path, 1)
				busy[p.name][i] += p99(b, client, "http://"+addr+p.path, 400)
				end()
			}
		}
	}
	for _, p := range grownPages {
		f, w := first[p.name], busy[p.name]
		b.ReportMetric(float64(f[1])/float64(f[0]), p.name+"-first")
		b.ReportMetric(float64(w[1])/float64(w[0]), p.name+"-ratio")
	}
}
