package inspect

import (
	"fmt"
	"math"
	"math/cmplx"
	"slices"

	"gonum.org/v1/gonum/dsp/fourier"

	"lugtak/core/fault"
	"lugtak/core/table"
)

// RoadSample is one reading of a road-test logger.
type RoadSample struct {
	T     float64 // s
	Accel float64 // m/s²
	Speed float64 // km/h
}

// Bounds on a recorded drive.
const (
	minRoad = 512
	maxRoad = 600_000
)

// roadColumns are those of a drive, with what other loggers call them (common practice).
var roadColumns = [3]table.Column{
	{Name: "t_s", Heads: map[string]float64{
		"ts": 1, "t": 1, "time": 1, "times": 1, "s": 1, "seconds": 1,
		"tms": 0.001, "timems": 0.001, "ms": 0.001,
	}},
	{Name: "accel_ms2", Heads: map[string]float64{
		"accelms2": 1, "accel": 1, "acceleration": 1, "ms2": 1, "a": 1,
		"accelg": standardGravity, "g": standardGravity,
	}},
	{Name: "speed_kmh", Heads: map[string]float64{
		"speedkmh": 1, "speed": 1, "kmh": 1, "v": 1,
		"speedms": 3.6, "speedmph": milesPerHour, "mph": milesPerHour,
	}},
}

// Factors of other units (NIST SP 811, appendix B).
const (
	standardGravity = 9.80665  // m/s²
	milesPerHour    = 1.609344 // km/h
)

// ReadRoadCSV reads t_s, accel_ms2, speed_kmh, as table.Read takes them. Its faults
// are about "csv" and name the line.
func ReadRoadCSV(text string) ([]RoadSample, error) {
	form := table.Form(roadColumns)
	rows, err := table.Read(text, roadColumns, maxRoad)
	if err != nil {
		return nil, err
	}
	out := make([]RoadSample, 0, len(rows))
	for i, r := range rows {
		switch t, accel, speed := r.V[0], r.V[1], r.V[2]; {
		case i > 0 && t <= out[i-1].T:
			return nil, table.Fault(r.Line, "the time does not go on.", form)
		case speed < 0 || speed > 250:
			return nil, table.Fault(r.Line, "that is no road speed in km/h.", form)
		case math.Abs(accel) > 1000:
			return nil, table.Fault(r.Line, "that is no acceleration in m/s².", form)
		default:
			out = append(out, RoadSample{t, accel, speed})
		}
	}
	if len(out) < minRoad {
		return nil, fault.New(fault.TooShort, "csv", fmt.Sprintf("%d samples are no drive.", len(out)),
			"Record at least half a minute at a steady speed, 200 samples a second.")
	}
	return out, nil
}

// Peak is an order that stands out of a recorded drive.
type Peak struct {
	PerTurn   float64 // of the wheel
	Amplitude float64 // m/s²
	Over      float64 // times the level round it
	Source    string  // what turns so often, empty if nothing known does
	Order     float64 // of that
	Sign      string
}

// Spectrum is a drive by orders of the wheel's turn.
type Spectrum struct {
	Step      float64   // orders from one line to the next
	Amplitude []float64 // mean over the drive, m/s²
	Falls     []Fall    // the waterfall: one line for each stretch of road
	Peaks     []Peak
}

// Fall is one stretch of the waterfall.
type Fall struct {
	Speed     float64 // km/h
	Amplitude []float64
}

// Signs are the tests a recorded drive answers: those of the wheels always, those of
// a drive shaft where there is one; yes where a peak stands at its order.
func (sp Spectrum) Signs(shaft bool) map[string]bool {
	out := map[string]bool{"vib-wheel-1": false, "vib-wheel-2": false}
	if shaft {
		out["vib-shaft-1"], out["vib-shaft-2"] = false, false
	}
	for _, p := range sp.Peaks {
		if _, asked := out[p.Sign]; asked {
			out[p.Sign] = true
		}
	}
	return out
}

const (
	turnsInWindow = 32 // so orders are told apart to a thirty-second
	topOrder      = 12.0
)

// Analyse resamples a drive by wheel turns, so that a speed that changes does not
// smear the orders, takes its order spectrum (Hann windows, half overlapping,
// gonum's FFT) and names the lines that stand out.
func Analyse(drive []RoadSample, circumferenceM float64, orders []Order) (Spectrum, error) {
	if !(circumferenceM > 0.8 && circumferenceM < 4.5) {
		return Spectrum{}, fault.New(fault.OutOfRange, "tyre", "No tyre has that circumference.", "Give the tyre's size.")
	}
	turns := make([]float64, len(drive))
	for i := 1; i < len(drive); i++ {
		dt := drive[i].T - drive[i-1].T
		turns[i] = turns[i-1] + dt*(drive[i].Speed+drive[i-1].Speed)/2/3.6/circumferenceM
	}
	total := turns[len(turns)-1]
	if total < 1.5*turnsInWindow {
		return Spectrum{}, fault.New(fault.TooShort, "csv", fmt.Sprintf("The drive has %.0f wheel turns.", total),
			"Record at least a minute of driving.")
	}
	perTurn := float64(len(drive)) / total
	if perTurn < 6 {
		return Spectrum{}, fault.New(fault.TooSlow, "csv",
			fmt.Sprintf("The logger takes %.1f samples a wheel turn.", perTurn),
			"Record with at least 200 samples a second.")
	}
	const grid = 32 // samples a turn
	n := turnsInWindow * grid
	even := resample(turns, drive, grid, int(total*grid))
	top := math.Min(topOrder, 0.4*perTurn)
	lines := int(top*turnsInWindow) + 1
	sp := Spectrum{Step: 1.0 / turnsInWindow, Amplitude: make([]float64, lines)}
	fft := fourier.NewFFT(n)
	window, sum := make([]float64, n), 0.0
	for i := range window {
		window[i] = 0.5 - 0.5*math.Cos(2*math.Pi*float64(i)/float64(n))
		sum += window[i]
	}
	buf := make([]float64, n)
	for from := 0; from+n <= len(even); from += n / 2 {
		mean := 0.0
		for _, v := range even[from : from+n] {
			mean += v
		}
		mean /= float64(n)
		for i := range buf {
			buf[i] = (even[from+i] - mean) * window[i]
		}
		c := fft.Coefficients(nil, buf)
		f := Fall{Speed: speedAt(turns, drive, (float64(from)+float64(n)/2)/grid), Amplitude: make([]float64, lines)}
		for i := range f.Amplitude {
			f.Amplitude[i] = 2 * cmplx.Abs(c[i]) / sum
			sp.Amplitude[i] += f.Amplitude[i]
		}
		sp.Falls = append(sp.Falls, f)
	}
	for i := range sp.Amplitude {
		sp.Amplitude[i] /= float64(len(sp.Falls))
	}
	sp.Peaks = peaks(sp, orders)
	return sp, nil
}

// resample lays the acceleration on even steps of the wheel's turn. Several
// samples in one step are averaged, so that what is too quick does not fold down.
func resample(turns []float64, drive []RoadSample, grid, n int) []float64 {
	out := make([]float64, n)
	k := 0
	for i := range out {
		lo, hi := (float64(i)-0.5)/float64(grid), (float64(i)+0.5)/float64(grid)
		for k+1 < len(turns) && turns[k+1] < lo {
			k++
		}
		sum, m := 0.0, 0
		for j := k; j < len(turns) && turns[j] < hi; j++ {
			if turns[j] >= lo {
				sum, m = sum+drive[j].Accel, m+1
			}
		}
		if m > 0 {
			out[i] = sum / float64(m)
			continue
		}
		at := float64(i) / float64(grid)
		j := min(k, len(turns)-2)
		for j+2 < len(turns) && turns[j+1] < at {
			j++
		}
		u := 0.0
		if d := turns[j+1] - turns[j]; d > 0 {
			u = math.Min(1, math.Max(0, (at-turns[j])/d))
		}
		out[i] = drive[j].Accel + u*(drive[j+1].Accel-drive[j].Accel)
	}
	return out
}

func speedAt(turns []float64, drive []RoadSample, at float64) float64 {
	i, _ := slices.BinarySearch(turns, at)
	return drive[min(i, len(drive)-1)].Speed
}

// peaks are lines that stand clear of the level round them: noise averaged over
// m stretches seldom reaches 3 + 3/√m times its middle level.
func peaks(sp Spectrum, orders []Order) []Peak {
	need := 3 + 3/math.Sqrt(float64(len(sp.Falls)))
	a := sp.Amplitude
	var out []Peak
	for i := 12; i+2 < len(a); i++ { // below 0.4 of a turn lies the road itself
		if a[i] < a[i-1] || a[i] < a[i+1] || a[i] < a[i-2] || a[i] < a[i+2] {
			continue
		}
		var round []float64
		for j := max(4, i-48); j < min(len(a), i+49); j++ {
			if j < i-3 || j > i+3 {
				round = append(round, a[j])
			}
		}
		slices.Sort(round)
		level := round[len(round)/2]
		if a[i] < need*level || a[i] < 0.01 {
			continue
		}
		p := Peak{PerTurn: float64(i) * sp.Step, Amplitude: a[i], Over: a[i] / math.Max(level, 1e-9)}
		near := 0.045 // a loaded tyre rolls some per cent shorter than its size says
		for _, o := range orders {
			if e := math.Abs(p.PerTurn/o.PerTurn - 1); e < near {
				near, p.Source, p.Order, p.Sign = e, o.Source, o.Order, o.Sign
			}
		}
		out = append(out, p)
	}
	slices.SortFunc(out, func(x, y Peak) int {
		if x.Amplitude > y.Amplitude {
			return -1
		}
		return 1
	})
	return out
}
