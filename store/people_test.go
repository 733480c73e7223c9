package store

import (
	"sync"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
)

// Two foremen who lock one another out at once leave one of them.
func TestTheLastForemanStays(t *testing.T) {
	s, _ := open(t)
	var both []listing.Person
	for _, name := range []string{"Foreman Cass", "Foreman Ull"} {
		p, err := s.AddPerson(ctx, name, job.Foreman, "4711", "test")
		if err != nil {
			t.Fatal(err)
		}
		both = append(both, p)
	}
	var all sync.WaitGroup
	for i, p := range both {
		all.Go(func() { s.SetActive(ctx, p.ID, false, both[1-i].Name) })
	}
	all.Wait()
	left := 0
	people, err := s.People(ctx)
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range people {
		if p.Active {
			left++
			if err := s.SetActive(ctx, p.ID, false, "test"); fault.As(err) == nil || fault.As(err).Code != "last_foreman" {
				t.Errorf("the last foreman is kept out: %v", err)
			}
		}
	}
	if left != 1 {
		t.Errorf("%d foremen are left", left)
	}
}

// A name somebody else could be taken for is refused.
func TestNamesThatLookAlike(t *testing.T) {
	s, _ := open(t)
	if _, err := s.AddPerson(ctx, "Technician Aro", job.Technician, "2401", "test"); err != nil {
		t.Fatal(err)
	}
	for _, name := range []string{
		"technician aro",
		"Technician  Aro",
		"Ｔechnician Aro",       // a full-width letter
		"Technician \u0410ro",  // a Cyrillic letter among Latin ones
		"Technician A\u200bro", // a space without width
	} {
		if _, err := s.AddPerson(ctx, name, job.Technician, "2401", "test"); fault.As(err) == nil {
			t.Errorf("%q is let in beside “Technician Aro”: %v", name, err)
		}
	}
	for _, name := range []string{"Technician Arno", "Механик Аро", "José Núñez", "李 明"} {
		if _, err := s.AddPerson(ctx, name, job.Technician, "2401", "test"); err != nil {
			t.Errorf("%q: %v", name, err)
		}
	}
}
