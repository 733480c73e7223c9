package vehicle

import (
	"testing"
	"time"

	"lugtak/core/fault"
)

func TestOutside(t *testing.T) {
	today := time.Date(2026, 11, 26, 12, 0, 0, 0, time.UTC)
	good := Outside{Day: "2025-03-09", OdometerKM: 61_000, What: " hub bearing, right ", Where: "owner’s bill"}
	for _, c := range []struct {
		name  string
		make  func(*Outside)
		field string
	}{
		{"good", func(*Outside) {}, ""},
		{"distance unknown", func(o *Outside) { o.OdometerKM = 0 }, ""},
		{"no day", func(o *Outside) { o.Day = "spring" }, "day"},
		{"to come", func(o *Outside) { o.Day = "2026-11-27" }, "day"},
		{"too far", func(o *Outside) { o.OdometerKM = 9e6 }, "odometer"},
		{"nothing", func(o *Outside) { o.What = "  " }, "what"},
		{"by nobody", func(o *Outside) { o.Where = "" }, "where"},
	} {
		o := good
		c.make(&o)
		_, err := o.Check(today)
		f := fault.As(err)
		if (f == nil) != (c.field == "") || f != nil && f.Field != c.field {
			t.Errorf("%s: %v", c.name, err)
		}
		if f == nil && o.What != "hub bearing, right" {
			t.Errorf("%s: not trimmed: %q", c.name, o.What)
		}
	}
}
