package web

import (
	"context"
	"lugtak/shop"
	"strconv"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
)

// requests counts requests by how they were mounted, never by what stood in their address.
var requests = prometheus.NewHistogramVec(prometheus.HistogramOpts{
	Name:    "lugtak_request_seconds",
	Help:    "Time to answer a request.",
	Buckets: []float64{0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10},
}, []string{"method", "route", "status"})

// timed notes how long a request took.
func (s *Server) timed(c fiber.Ctx) error {
	began := time.Now()
	err := c.Next()
	if err != nil { // the page of the refusal is written first, so that its status is known
		err = s.fail(c, err)
	}
	requests.WithLabelValues(c.Method(), c.Route().Path, strconv.Itoa(c.Response().StatusCode())).
		Observe(time.Since(began).Seconds())
	return err
}

// Registry gathers what is measured of the server and its shop.
func (s *Server) Registry() *prometheus.Registry {
	r := prometheus.NewRegistry()
	r.MustRegister(
		collectors.NewGoCollector(),
		collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}),
		requests,
		shopGauges{s.Shop, s.Chain},
	)
	return r
}

// shopGauges read the shop when they are asked.
type shopGauges struct {
	shop  *shop.Shop
	chain Chain
}

func gauge(name, help string, labels ...string) *prometheus.Desc {
	return prometheus.NewDesc("lugtak_"+name, help, labels, nil)
}

var (
	eventsGauge  = gauge("events", "Events in the journal of jobs.")
	jobsGauge    = gauge("open_jobs", "Jobs that are not signed.")
	owedGauge    = gauge("owed_fasteners", "Fasteners that were disturbed and are not proved, of open jobs.")
	writeGauge   = gauge("writable", "1 where the file can be written to.")
	hookLag      = gauge("hook_behind_events", "Events a hook has not been told.", "hook")
	hookFails    = gauge("hook_failures", "Failures of a hook in a row.", "hook")
	chainReached = gauge("chain_reached", "1 where the chain is reached.")
)

// Describe lists what is told.
func (g shopGauges) Describe(to chan<- *prometheus.Desc) {
	for _, d := range []*prometheus.Desc{eventsGauge, jobsGauge, owedGauge, writeGauge, hookLag, hookFails, chainReached} {
		to <- d
	}
}

// Collect reads the shop. What cannot be read is left out, and logged.
func (g shopGauges) Collect(to chan<- prometheus.Metric) {
	ctx, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	put := func(d *prometheus.Desc, v float64, labels ...string) {
		to <- prometheus.MustNewConstMetric(d, prometheus.GaugeValue, v, labels...)
	}
	writable := 0.0
	if g.shop.Healthy(ctx) == nil {
		writable = 1
	}
	put(writeGauge, writable)
	if g.chain != nil {
		reached := 0.0
		if g.chain.Connected() {
			reached = 1
		}
		put(chainReached, reached)
	}
	last, err := g.shop.LastEvent(ctx)
	if err != nil {
		g.shop.Log.Error("metrics", "error", err)
		return
	}
	put(eventsGauge, float64(last))
	jobs, owed, err := g.shop.OpenSums(ctx)
	if err != nil {
		g.shop.Log.Error("metrics", "error", err)
		return
	}
	put(jobsGauge, float64(jobs))
	put(owedGauge, float64(owed))
	hooks, err := g.shop.Hooks(ctx)
	if err != nil {
		g.shop.Log.Error("metrics", "error", err)
		return
	}
	for _, h := range hooks {
		put(hookLag, float64(last-h.Upto), h.ID)
		put(hookFails, float64(h.Fails), h.ID)
	}
}
