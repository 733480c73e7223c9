package library

import (
	"strings"

	"lugtak/core/job"
	"lugtak/core/plan"
)

// Price is what work costs by the shop's own list, as a range.
type Price struct {
	Low, High     float64
	Labour, Parts float64
	Currency      string
	Unpriced      int // parts the list does not know
}

// Known says that the shop has set what work or parts cost.
func (p Price) Known() bool { return p.High > 0 }

// HowLong is the range of a job that would take so many minutes if nothing came between, and its price. Labour
// goes by the range of the time and parts by the shop's list; what is used up or comes with a bolt is in the
// rate. Opened is how often joints were opened in this shop, and stuck.
func (l *Library) HowLong(st *job.State, minutes float64, opened map[string][2]int) (plan.Estimate, Price) {
	e := plan.Expect{SeizedOdds: l.Shop.SeizedOdds, SeizedMin: l.Shop.SeizedMin, Opened: opened}
	for _, p := range st.Plan.Parts {
		if st.Parts[p.Key] == job.Ordered {
			e.Late = append(e.Late, plan.Widening{What: p.Title + " late", Odds: l.Shop.LateOdds, Minutes: l.Shop.LateMin})
		}
	}
	r := st.Plan.Reckon(minutes, e)
	price := Price{Currency: l.Shop.Currency, Labour: r.Likely / 60 * l.Shop.RatePerHour}
	for _, p := range st.Plan.Parts {
		key, _, _ := strings.Cut(p.Key, ".")
		each, known := l.Shop.Prices[key]
		switch {
		case known:
			price.Parts += each * float64(p.Count)
		case p.Kind != "":
			price.Unpriced++
		}
	}
	price.Low = r.Low/60*l.Shop.RatePerHour + price.Parts
	price.High = r.High/60*l.Shop.RatePerHour + price.Parts
	return r, price
}
