package web

import (
	"context"
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
		shopGauges{s},
	)
	return r
}

// shopGauges read the shop when they are asked.
type shopGauges struct{ *Server }

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
	chainLag     = gauge("chain_behind_events", "Events of this shop the chain is not known to have.")
	chainStuck   = gauge("chain_stuck", "1 where something keeps the next event from the chain; Office says what.")
	chainUnnamed = gauge("chain_unnamed", "Shops heard in the chain that nobody has named here.")
	built        = gauge("build_info", "1, by the release that serves.", "version")
	copiedAt     = gauge("backup_timestamp_seconds", "When the last backup was made; left out where there is none.")
	certEnds     = gauge("certificate_end_timestamp_seconds", "When the certificate ends; left out where there is none.")
	diskFree     = gauge("disk_free_bytes", "Room left where the shop's file lies; left out where nobody can tell.")
)

// Describe lists what is told.
func (g shopGauges) Describe(to chan<- *prometheus.Desc) {
	for _, d := range []*prometheus.Desc{
		eventsGauge, jobsGauge, owedGauge, writeGauge, hookLag, hookFails, chainReached, chainLag, chainStuck,
		chainUnnamed, built, copiedAt, certEnds, diskFree,
	} {
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
	put(writeGauge, float(g.Shop.Healthy(ctx) == nil))
	put(built, 1, g.Version)
	g.kept(put)
	last, err := g.Shop.LastEvent(ctx)
	if err != nil {
		g.Shop.Log.Error("metrics", "error", err)
		return
	}
	put(eventsGauge, float64(last))
	if g.Chain != nil {
		upto, trouble := g.Chain.Told()
		put(chainReached, float(g.Chain.Connected()))
		put(chainStuck, float(trouble != ""))
		put(chainUnnamed, float64(len(g.Chain.Unnamed())))
		if upto >= 0 {
			put(chainLag, float64(last-upto))
		}
	}
	jobs, owed, err := g.Shop.OpenSums(ctx)
	if err != nil {
		g.Shop.Log.Error("metrics", "error", err)
		return
	}
	put(jobsGauge, float64(jobs))
	put(owedGauge, float64(owed))
	hooks, err := g.Shop.Hooks(ctx)
	if err != nil {
		g.Shop.Log.Error("metrics", "error", err)
		return
	}
	for _, h := range hooks {
		put(hookLag, float64(last-h.Upto), h.ID)
		put(hookFails, float64(h.Fails), h.ID)
	}
}

// kept tells how the file is kept.
func (g shopGauges) kept(put func(*prometheus.Desc, float64, ...string)) {
	if g.Keeping == nil {
		return
	}
	k := g.Keeping()
	if !k.Copied.IsZero() {
		put(copiedAt, float64(k.Copied.Unix()))
	}
	if !k.CertUntil.IsZero() {
		put(certEnds, float64(k.CertUntil.Unix()))
	}
	if k.Room > 0 {
		put(diskFree, float64(k.Room))
	}
}

func float(yes bool) float64 {
	if yes {
		return 1
	}
	return 0
}
