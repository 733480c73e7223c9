package release

// AllOrders gives the expected minutes of the order chosen for a kind without
// constraints, and of the best of all orders.
func AllOrders(k *Knowledge, kind string) (chosen, best float64) {
	x, err := k.Kind(kind)
	if err != nil {
		panic(err)
	}
	l := ladder{kind: x, held: x.Held}
	var free []int
	for i, t := range x.Rungs {
		r, _ := k.Rung(t.Rung)
		l.rungs = append(l.rungs, &rung{Rung: r, try: t})
		if len(free) < 6 || t.GivesUp { // 5 040 orders are enough to be wrong in
			free = append(free, i)
		}
	}
	l.tried = make([]int, len(l.rungs))
	_, chosen = l.best(append([]int(nil), free...))
	best = chosen
	var try func(n int)
	try = func(n int) {
		if n == len(free) {
			best = min(best, l.cost(free))
			return
		}
		for i := n; i < len(free); i++ {
			free[n], free[i] = free[i], free[n]
			try(n + 1)
			free[n], free[i] = free[i], free[n]
		}
	}
	try(0)
	return chosen, best
}
