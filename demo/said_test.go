package demo

import (
	"context"
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"lugtak/core/forecast"
	"lugtak/core/record"
	"lugtak/shop"
)

// rawSaid is what a journal tells of one suspect: the JSON as it stands, read by the words of the page that shows it.
type rawSaid struct {
	Suspect, Do string
	Accept      bool
	Chance      float64
	Work        []string
	Rung        string
	Odds        float64
	Outcome     string
	Plan        struct {
		Tasks []struct{ Operation string }
	}
	Felt []struct{ Do, Found string }
}

// What is said on the page of chances is what the journals say, counted by nobody who wrote them.
func recountSaid(t *testing.T, s *shop.Shop, jobs []string) {
	t.Helper()
	ctx := context.Background()
	var tries, suspects forecast.Tally
	for _, id := range jobs {
		lines, err := s.Lines(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		countSaid(lines, &tries, &suspects)
	}
	for name, c := range map[string]struct {
		read func(context.Context) ([]forecast.Said, error)
		want forecast.Tally
	}{
		"releases": {s.SaidOfReleases, tries},
		"suspects": {s.SaidOfSuspects, suspects},
	} {
		said, err := c.read(ctx)
		if err != nil {
			t.Fatal(err)
		}
		var got forecast.Tally
		for _, x := range said {
			got.Add(x.Tally)
			if mean := x.MeanSaid() * forecast.Bands; mean < float64(x.Band) || mean > float64(x.Band+1) {
				t.Errorf("%s %s: %.2f is said on the average in band %d", x.Kind, x.Of, x.MeanSaid(), x.Band)
			}
		}
		near := func(a, b float64) bool { return a-b < 1e-6 && b-a < 1e-6 }
		if got.N != c.want.N || got.Happened != c.want.Happened || !near(got.Said, c.want.Said) ||
			!near(got.Spread, c.want.Spread) {
			t.Errorf("%s: %+v, the journals say %+v", name, got, c.want)
		}
		if got.N == 0 || got.Happened == 0 || got.Happened == got.N {
			t.Errorf("%s: %+v: one of what may happen never does", name, got)
		}
	}
}

func countSaid(lines []record.Line, tries, suspects *forecast.Tally) {
	one := func(sum *forecast.Tally, p float64, happened bool) {
		sum.N, sum.Said, sum.Spread = sum.N+1, sum.Said+p, sum.Spread+p*(1-p)
		if happened {
			sum.Happened++
		}
	}
	accepted := map[string]rawSaid{}
	var work []string
	told := false
	for _, l := range lines {
		var b rawSaid
		if json.Unmarshal(l.Body, &b) != nil {
			continue
		}
		for _, task := range b.Plan.Tasks {
			work = append(work, task.Operation)
		}
		switch l.Kind {
		case "release_tried":
			one(tries, b.Odds, b.Outcome == "freed")
		case "chosen":
			delete(accepted, b.Suspect)
			if b.Accept {
				accepted[b.Suspect] = b
			}
		case "road_tested":
			sound, wrong, other := 0, 0, 0
			for _, f := range b.Felt {
				switch {
				case !strings.HasPrefix(f.Do, "As it was felt before"):
				case f.Found == "sound":
					sound++
				case f.Found == "wrong":
					wrong++
				default:
					other++
				}
			}
			if told || other > 0 || sound+wrong == 0 || len(accepted) != 1 {
				continue
			}
			for _, p := range accepted {
				beside := func(op string) bool { return !slices.Contains(p.Work, op) }
				if p.Chance > 0 && len(work) > 0 && !slices.ContainsFunc(work, beside) {
					one(suspects, p.Chance, wrong == 0)
					told = true
				}
			}
		}
	}
}
