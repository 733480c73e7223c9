package report

import (
	"bytes"
	"testing"
	"time"

	"lugtak/core/forecast"
	"lugtak/core/listing"
	"lugtak/core/vehicle"
)

// The lists by hand: quoted and ended as RFC 4180 has it, nothing where nothing is known, no formula.
func TestLists(t *testing.T) {
	day := time.Date(2026, 12, 24, 0, 0, 0, 0, time.UTC)
	for _, c := range []struct {
		name  string
		write func(*bytes.Buffer) error
		want  string
	}{
		{"fleet", func(b *bytes.Buffer) error {
			return FleetCSV(b, []vehicle.Vehicle{
				{ID: "1", Fleet: "P-1", Plate: "AB 1", VIN: "1M8GDM9AXKP042788", Pattern: "own", Bay: `2, "left"`},
				{ID: "2", Fleet: "=1+1"},
			})
		}, "fleet,pattern,plate,vin,bay\r\nP-1,own,AB 1,1M8GDM9AXKP042788,\"2, \"\"left\"\"\"\r\n'=1+1,,,,\r\n"},
		{"due", func(b *bytes.Buffer) error {
			return FollowUpsCSV(b, []listing.FollowUp{
				{Job: "j", No: 2, Vehicle: "v", Fleet: "P-1", Kind: "retorque", Title: "Wheel nuts", AtKM: 97_512, At: day},
				{Job: "k", No: 1, Vehicle: "w", Kind: "look", Title: "Boot"},
			})
		}, "job,no,vehicle,fleet,kind,title,at_km,due\r\nj,2,v,P-1,retorque,Wheel nuts,97512,2026-12-24\r\n" +
			"k,1,w,,look,Boot,,\r\n"},
		{"outcomes", func(b *bytes.Buffer) error {
			return OutcomesCSV(b,
				[]forecast.Said{{Kind: "rust", Of: "heat", Band: 3, Tally: forecast.Tally{N: 4, Happened: 3, Said: 2.8}}},
				[]forecast.Said{{Of: "hub", Band: 0, Tally: forecast.Tally{N: 3, Happened: 1, Said: 0.5}}})
		}, "said_of,kind,key,from_pct,to_pct,cases,happened,said_pct\r\nrelease,rust,heat,60,80,4,3,70\r\n" +
			"suspect,,hub,0,20,3,1,16.7\r\n"},
		{"nothing", func(b *bytes.Buffer) error { return OutcomesCSV(b, nil, nil) },
			"said_of,kind,key,from_pct,to_pct,cases,happened,said_pct\r\n"},
	} {
		var b bytes.Buffer
		if err := c.write(&b); err != nil || b.String() != c.want {
			t.Errorf("%s: %v\n%q, want\n%q", c.name, err, b.String(), c.want)
		}
	}
}
