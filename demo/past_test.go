package demo

import (
	"context"
	"math/rand/v2"
	"path/filepath"
	"reflect"
	"sync"
	"testing"
	"time"

	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/demo/files"
	"lugtak/library"
	"lugtak/shop"
)

// invented is the demo's library, and offers what its vehicles are offered.
var (
	invented = sync.OnceValue(func() *library.Library {
		lib, err := library.Load("", files.FS)
		if err != nil {
			panic(err)
		}
		return lib
	})
	offers = sync.OnceValue(func() map[string][]plan.Task { return offered(invented()) })
)

// The past is laid out alike each time, oldest first, with work that comes back; no odometer goes back, and
// linings only grow where new ones were put in.
func TestPastIsLaidOut(t *testing.T) {
	lib := invented()
	all := visits(lib, offers(), rand.New(rand.NewPCG(2026, pastDays)))
	if again := visits(lib, offers(), rand.New(rand.NewPCG(2026, pastDays))); !reflect.DeepEqual(all, again) {
		t.Error("another past each time")
	}
	if len(all) < 140 || len(fleet) != 20 {
		t.Errorf("%d visits of %d vehicles", len(all), len(fleet))
	}
	came, worn := 0, linings{}
	kms, left := map[int]int{}, map[string]float64{}
	for i, x := range all {
		if i > 0 && x.day > all[i-1].day {
			t.Errorf("visit %d is out of order", i)
		}
		km := odometerOf(fleet[x.vehicle]).before(x.day)
		if km < kms[x.vehicle] || km <= 0 || x.says == "" {
			t.Errorf("visit %d of %s: %d km after %d, %q", i, fleet[x.vehicle].Fleet, km, kms[x.vehicle], x.says)
		}
		kms[x.vehicle] = km
		if len(x.says) > 24 && x.says[:24] == "the same as last time: "+x.says[23:24] {
			came++
		}
		for _, c := range worn.looked(x, lib) {
			m := c.(job.Measure)
			key := fleet[x.vehicle].ID + m.Corner
			was, seen := left[key]
			if _, renewed := worn[key]; seen && !renewed && m.Value > was {
				t.Errorf("the lining of %s grew from %.1f to %.1f mm", key, was, m.Value)
			}
			left[key] = m.Value
		}
		worn.renewed(x)
	}
	if came < 3 {
		t.Errorf("%d came back", came)
	}
}

// The first weeks of the past are worked to their signatures, some of it stuck on the way, and nine places stand in
// telling states now; all of it holds.
func TestShopWithAPast(t *testing.T) {
	ctx, now := context.Background(), time.Date(2026, 12, 1, 14, 0, 0, 0, time.Local)
	lib := Dressed(invented())
	file := filepath.Join(t.TempDir(), "shop.db")
	s, err := shop.Open(ctx, file, lib, shop.Options{Demo: true})
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if err := found(ctx, s, now, fleet); err != nil {
		t.Fatal(err)
	}
	rng, worn := rand.New(rand.NewPCG(2026, pastDays)), linings{}
	stuck, signed, dues, shots, passed := 0, 0, 0, 0, 0
	for n, x := range visits(lib, offers(), rng)[:24] {
		if err := x.work(ctx, s, now, n, rng, worn); err != nil {
			t.Fatalf("visit %d: %v", n, err)
		}
	}
	jobs, err := s.SignedJobs(ctx, 100)
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range jobs {
		st, err := s.Job(ctx, r.ID)
		if err != nil || st.Broken != "" || st.Signature == nil {
			t.Fatalf("%s: %v %q", r.ID, err, st.Broken)
		}
		signed++
		stuck += len(st.Troubles)
		shots += len(st.Photos)
		passed += len(st.Deviations)
		for _, d := range st.Dues() {
			if d.Closed == nil {
				dues++
			}
		}
	}
	if signed < 20 || stuck == 0 || dues > 0 || shots == 0 || passed == 0 {
		t.Errorf("%d signed, %d stuck, %d pictures, %d deviations, %d still owed of half a year ago",
			signed, stuck, shots, passed, dues)
	}
	var ids []string
	for _, r := range jobs {
		ids = append(ids, r.ID)
	}
	recountSaid(t, s, ids)
	if err := Live(ctx, s, now); err != nil {
		t.Fatal(err)
	}
	open, err := s.OpenJobs(ctx)
	if err != nil || len(open) != 8 {
		t.Fatalf("%d open, %v", len(open), err)
	}
	is := map[job.Danger]int{}
	soaks, troubles, toSign := 0, 0, 0
	for _, r := range open {
		st, err := s.Job(ctx, r.ID)
		if err != nil {
			t.Fatal(err)
		}
		if _, danger, known := st.Spare(now); known {
			is[danger]++
		}
		soaks += len(st.Soaking())
		troubles += len(st.OpenTroubles())
		if st.HasPlan() && st.Next() == "" {
			toSign++
		}
	}
	if is[job.Late] == 0 || is[job.Kept] < 3 || soaks == 0 || troubles == 0 || toSign == 0 {
		t.Errorf("promises %v, %d soak, %d in trouble, %d to sign", is, soaks, troubles, toSign)
	}
	if err := Live(ctx, s, now); err != nil {
		t.Errorf("once more: %v", err)
	}
}
