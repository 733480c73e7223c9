package sim

import (
	"context"
	"math"
	"testing"

	"lugtak/device"
)

// Every stand-in is what the server takes it for.
var (
	_ device.Rack    = (*Rack)(nil)
	_ device.Wrench  = (*Wrench)(nil)
	_ device.Logger  = (*Logger)(nil)
	_ device.Gauge   = (*Gauge)(nil)
	_ device.Printer = (*Printer)(nil)
)

func TestRackPulls(t *testing.T) {
	r := NewRack()
	if !r.Simulated() || r.Wrench("a") != r.Wrench("a") || r.Wrench("a") == r.Wrench("b") {
		t.Error("a wrench goes by its id")
	}
	ctx := context.Background()
	for _, on := range []device.Fastener{
		{Torque: true, Target: 60, Slope: 2},
		{Target: 90, Slope: 2, Standing: 40},
	} {
		all := r.Wrench("a").Pull(ctx, on, device.Act{Amount: on.Target, Quick: 50}, func([]Reading) {})
		peak, turn := 0.0, 0.0
		for _, x := range all {
			peak = math.Max(peak, x.Torque)
			turn = math.Max(turn, x.Angle-all[0].Angle)
		}
		if on.Torque && math.Abs(peak-60) > 3 || !on.Torque && math.Abs(turn-90) > 5 {
			t.Errorf("%+v came to %.1f N·m, %.1f°", on, peak, turn)
		}
	}
}

func TestDriveGaugePrinter(t *testing.T) {
	ctx := context.Background()
	var l Logger
	for _, plays := range l.Plays() {
		if drive, err := l.Drive(ctx, 2, 3.73, plays); err != nil || len(drive) != driveSeconds*driveRate {
			t.Errorf("%s: %d readings, %v", plays, len(drive), err)
		}
	}
	g := Gauge{TrueMM: 1.2, ErrorMM: 0.01}
	a, _ := g.Measure(ctx)
	b, _ := g.Measure(ctx)
	if a == b || math.Abs(a-1.2) > 0.05 {
		t.Errorf("%v %v", a, b)
	}
	var p Printer
	if err := p.Print(ctx, []string{"again after 100 km"}); err != nil || len(p.Labels) != 1 {
		t.Error(err)
	}
}
