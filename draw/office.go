package draw

import (
	"fmt"
	"html/template"
	"math"
	"time"

	"lugtak/core/forecast"
	"lugtak/core/job"
)

// TimesPlot puts what jobs took against what they were planned for, in minutes; on the line
// both are the same.
func TimesPlot(all []job.Outcome) template.HTML {
	most := 60.0
	for _, o := range all {
		most = max(most, o.PlannedMin, o.TookMin)
	}
	most = 30 * math.Ceil(most/30)
	over := 0
	for _, o := range all {
		if o.TookMin > o.PlannedMin {
			over++
		}
	}
	c := newCanvas(
		560,
		300,
		fmt.Sprintf("%d signed jobs: minutes taken against minutes planned; %d took longer", len(all), over),
	)
	a := c.axes(0, most, 0, most, "planned, min", "taken, min")
	c.poly("o-equal", false, a.at(0, 0), a.at(most, most))
	for _, o := range all {
		class := "o-first"
		if o.TookMin > o.PlannedMin {
			class = "o-second"
		}
		c.circle(class, a.x(o.PlannedMin), a.y(o.TookMin), 4.5)
	}
	return c.html()
}

// Reliability puts how often something happened against the chance that was said, band by band, with where its true
// share lies by 95 %; on the line both are the same (a reliability diagram, as forecasts of weather are verified by).
func Reliability(title string, bands []forecast.Tally) template.HTML {
	all := forecast.Tally{}
	for _, b := range bands {
		all.Add(b)
	}
	says := fmt.Sprintf("%s: of %d cases %.0f were said, %d happened", title, all.N, all.Said, all.Happened)
	c := newCanvas(420, 360, says)
	a := c.axes(0, 100, 0, 100, "said, in a hundred", "happened, in a hundred")
	c.poly("o-equal", false, a.at(0, 0), a.at(100, 100))
	for _, b := range bands {
		if b.N == 0 {
			continue
		}
		x, y := a.x(100*b.MeanSaid()), a.y(100*b.Share())
		low, high := b.Interval()
		class := "o-first"
		if v := b.Verdict(); v == forecast.Less || v == forecast.Oftener {
			class = "o-second"
		}
		c.line("o-range", x, a.y(100*low), x, a.y(100*high))
		c.circle(class, x, y, min(14, 3+math.Sqrt(float64(b.N))))
		c.text("axis", x+8, min(a.y(100*low), a.y0)-4, "start", "%d", b.N)
	}
	return c.html()
}

// Week is a week of the office: from its Monday, with a count of each of the things shown.
type Week struct {
	From   time.Time
	Counts []int
}

// weekClasses are the looks of the counts, in their order.
var weekClasses = []string{"o-first", "o-second", "o-third"}

// WeekBars puts counts beside one another, week by week, under the names they have.
func WeekBars(title string, names []string, weeks []Week) template.HTML {
	most := 4
	sums := make([]int, len(names))
	for _, w := range weeks {
		for i, n := range w.Counts {
			most = max(most, n)
			sums[i] += n
		}
	}
	says := title + ":"
	for i, name := range names {
		says += fmt.Sprintf(" %s %d", name, sums[i])
	}
	c := newCanvas(560, 260, says)
	left, right, top, bottom := 40.0, 550.0, 40.0, 220.0
	y := func(n float64) float64 { return bottom - (bottom-top)*n/float64(most) }
	for _, v := range ticks(0, float64(most)) {
		if v == math.Trunc(v) {
			c.line("grid", left, y(v), right, y(v)).text("axis", left-6, y(v)+4, "end", "%s", Plain(v))
		}
	}
	slot := (right - left) / float64(max(1, len(weeks)))
	bar := slot * 0.8 / float64(len(names))
	for k, w := range weeks {
		x := left + slot*(float64(k)+0.1)
		for i, n := range w.Counts {
			c.rect(weekClasses[i], x+bar*float64(i), y(float64(n)), bar-2, bottom-y(float64(n)))
		}
		if k%2 == 0 {
			c.text("axis", x+slot*0.4, bottom+18, "middle", "%s", w.From.Format("2 Jan"))
		}
	}
	for i, name := range names {
		x := left + 170*float64(i)
		c.rect(weekClasses[i], x, 8, 14, 14).text("axis", x+20, 20, "start", "%s, %d", name, sums[i])
	}
	return c.html()
}
