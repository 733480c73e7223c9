package chain

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/nats-io/nats-server/v2/server"
	"github.com/nats-io/nats.go"
	"github.com/nats-io/nats.go/jetstream"

	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/demo/files"
	"lugtak/library"
	"lugtak/shop"
	"lugtak/store"
)

const vin = "1M8GDM9AXKP042788" // the worked example of the check digit in FMVSS part 565

// cluster is servers of the engine in this process.
type cluster struct{ servers []*server.Server }

// newCluster is three servers; tests go side by side: a cluster waits for its leader most of the time.
func newCluster(t *testing.T) *cluster {
	t.Helper()
	t.Parallel()
	routes := freePorts(t, 3)
	var urls []string
	for _, p := range routes {
		urls = append(urls, fmt.Sprintf("nats://127.0.0.1:%d", p))
	}
	var all []*server.Options
	for i, p := range routes {
		all = append(all, &server.Options{
			ServerName: fmt.Sprint("n", i),
			Cluster:    server.ClusterOpts{Name: "c", Host: "127.0.0.1", Port: p},
			Routes:     server.RoutesFromStr(strings.Join(urls, ",")),
		})
	}
	for _, o := range all {
		o.Host, o.Port = "127.0.0.1", server.RANDOM_PORT
		o.JetStream, o.StoreDir = true, t.TempDir()
	}
	return started(t, all...)
}

// one is a single server, where nothing hangs on its failing.
func one(t *testing.T) *cluster {
	t.Helper()
	t.Parallel()
	return started(t, &server.Options{Host: "127.0.0.1", Port: server.RANDOM_PORT, JetStream: true, StoreDir: t.TempDir()})
}

func started(t *testing.T, all ...*server.Options) *cluster {
	t.Helper()
	c := &cluster{}
	for _, o := range all {
		o.NoLog, o.NoSigs = true, true
		s, err := server.NewServer(o)
		if err != nil {
			t.Fatal(err)
		}
		s.Start()
		t.Cleanup(func() { s.Shutdown(); s.WaitForShutdown() })
		c.servers = append(c.servers, s)
	}
	for _, s := range c.servers {
		if !s.ReadyForConnections(20 * time.Second) {
			t.Fatal("a server does not come up")
		}
	}
	return c
}

func freePorts(t *testing.T, n int) []int {
	t.Helper()
	var out []int
	for range n {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		defer l.Close()
		out = append(out, l.Addr().(*net.TCPAddr).Port)
	}
	return out
}

func (c *cluster) url() string {
	var out []string
	for _, s := range c.servers {
		out = append(out, s.ClientURL())
	}
	return strings.Join(out, ",")
}

// cable is how a shop reaches the network; it can be cut.
type cable struct {
	mu    sync.Mutex
	cut   bool
	conns []net.Conn
}

func (k *cable) Dial(network, address string) (net.Conn, error) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.cut {
		return nil, errors.New("the cable is cut")
	}
	conn, err := net.DialTimeout(network, address, 2*time.Second)
	if err == nil {
		k.conns = append(k.conns, conn)
	}
	return conn, err
}

func (k *cable) set(cut bool) {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.cut = cut
	if cut {
		for _, c := range k.conns {
			c.Close()
		}
		k.conns = nil
	}
}

// place is a shop or a node of the test.
type place struct {
	t     *testing.T
	name  string
	file  string
	store *store.Store
	chain *Chain
	cable *cable
	n     int
}

func newPlace(t *testing.T, c *cluster, name string) *place {
	t.Helper()
	p := fileOf(t, name)
	p.joins(Config{URL: c.url(), Replicas: len(c.servers), Name: name})
	return p
}

// fileOf is a place that has joined no chain yet.
func fileOf(t *testing.T, name string) *place {
	t.Helper()
	file := filepath.Join(t.TempDir(), "shop.db")
	s, err := store.Open(t.Context(), file)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return &place{t: t, name: name, file: file, store: s, cable: &cable{}}
}

func (p *place) joins(cfg Config) {
	p.t.Helper()
	cfg.Log, cfg.Dialer = slog.New(slog.DiscardHandler), p.cable
	var err error
	if p.chain, err = Join(inUse(p.t, p.store), cfg); err != nil {
		p.t.Fatal(err)
	}
	p.t.Cleanup(p.chain.Close)
}

// acquainted has each place name the others.
func acquainted(t *testing.T, all ...*place) {
	t.Helper()
	for _, p := range all {
		for _, q := range all {
			if p != q {
				p.names(q, q.name)
			}
		}
	}
}

func (p *place) names(q *place, name string) {
	p.t.Helper()
	if err := p.store.Trust(p.t.Context(), q.store.PublicKey(), name, "Cass", time.Now()); err != nil {
		p.t.Fatal(err)
	}
}

// run does something of a place until the test ends, or it is stopped.
func (p *place) run(do func(context.Context)) (stop func()) {
	ctx, cancel := context.WithCancel(context.Background())
	var done sync.WaitGroup
	done.Go(func() { do(ctx) })
	var once sync.Once
	stop = func() { once.Do(func() { cancel(); done.Wait() }) }
	p.t.Cleanup(stop)
	return stop
}

func (p *place) start(id string) {
	p.t.Helper()
	m := job.Meta{ID: record.EventID("start:" + id), By: "Aro", Role: job.Technician, At: time.Now()}
	v := vehicle.Vehicle{ID: p.name + "-v", Fleet: "P-1", VIN: vin, Pattern: "ostrel-c22", Name: "Van"}
	begin := job.Start{Job: id, Vehicle: v, Complaint: "knocks at " + p.name, OdometerKM: 1000, Plan: plan.Plan{}}
	if _, _, err := p.store.Record(p.t.Context(), id, m, begin); err != nil {
		p.t.Fatal(err)
	}
}

func (p *place) find(id string, times int) {
	p.t.Helper()
	for range times {
		p.n++
		m := job.Meta{ID: record.EventID(fmt.Sprint(p.name, "-", p.n)), By: "Aro", Role: job.Technician, At: time.Now()}
		if _, _, err := p.store.Record(p.t.Context(), id, m,
			job.Find{Text: fmt.Sprint("mirror ", p.n, " cracked")}); err != nil {
			p.t.Fatal(err)
		}
	}
}

// holds waits until a file holds so many events.
func (p *place) holds(want int) {
	p.t.Helper()
	until := time.Now().Add(60 * time.Second)
	n := 0
	for time.Now().Before(until) {
		var err error
		if n, err = p.store.LastEvent(p.t.Context()); err != nil {
			p.t.Fatal(err)
		}
		if n >= want {
			break
		}
		time.Sleep(50 * time.Millisecond)
	}
	if n != want {
		p.t.Fatalf("%s holds %d events, not %d", p.name, n, want)
	}
}

// same compares a job at a node with the one of its shop, by its last seal.
func same(t *testing.T, node, shop *place, id string) {
	t.Helper()
	a, err := node.store.Journal(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	b, err := shop.store.Journal(t.Context(), id)
	if err != nil || a.Hash() != b.Hash() || len(a.Events) != len(b.Events) {
		t.Errorf("job %s differs: %d and %d events, %v", id, len(a.Events), len(b.Events), err)
	}
}

// Two shops and a node over three servers: one server stops, one shop is cut off for a thousand
// events, a message is sent twice, a forged one comes between, and a second node is filled from
// nothing. At the end both nodes hold what the shops hold, by hash, and each shop sees what the
// other did on the vehicle.
func TestChain(t *testing.T) {
	c := newCluster(t)
	east, west, node := newPlace(t, c, "east"), newPlace(t, c, "west"), newPlace(t, c, "node")
	acquainted(t, east, west, node)
	east.start("e1")
	west.start("w1")
	east.run(east.chain.Tell)
	stopWest := west.run(west.chain.Tell)
	node.run(node.chain.Fill)
	node.run(func(ctx context.Context) { node.chain.Answer(ctx) })
	east.find("e1", 20)
	west.find("w1", 20)
	node.holds(42)

	c.servers[2].Shutdown()
	east.find("e1", 50)
	west.find("w1", 10)
	node.holds(102)

	west.cable.set(true)
	west.find("w1", 1000)
	east.find("e1", 5)
	node.holds(107)
	if _, err := west.chain.Past(t.Context(), vin); err == nil {
		t.Error("a shop that is cut off was answered")
	}
	west.cable.set(false)
	node.holds(1107)

	// Told again from the beginning, with and without the engine's own guard.
	stopWest()
	rows, err := west.store.EventsAfter(t.Context(), 0, 5)
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range rows {
		all, err := west.chain.messages(lineOf, told{N: r.N, Line: &r.Line})
		if err != nil {
			t.Fatal(err)
		}
		m := all[0]
		for _, again := range []string{m.Header.Get(jetstream.MsgIDHeader), "guarded by nobody"} {
			m.Header.Set(jetstream.MsgIDHeader, again+fmt.Sprint(r.N))
			if _, err := west.chain.js.PublishMsg(t.Context(), m); err != nil {
				t.Fatal(err)
			}
		}
		forged := nats.NewMsg(lineOf + west.chain.self)
		forged.Data = []byte(strings.Replace(string(m.Data), "knocks", "hums", 1))
		forged.Header = nats.Header(http.Header(m.Header).Clone())
		forged.Header.Set(jetstream.MsgIDHeader, fmt.Sprint("forged", r.N))
		if strings.Contains(string(m.Data), "knocks") {
			if _, err := west.chain.js.PublishMsg(t.Context(), forged); err != nil {
				t.Fatal(err)
			}
		}
		// East speaks in west's name, under a key of its own.
		m.Header.Set(keyHeader, east.store.PublicKey())
		m.Header.Set(signature, east.store.Sign("1/1\n"+string(m.Data)))
		m.Header.Set(jetstream.MsgIDHeader, fmt.Sprint("in another name", r.N))
		if _, err := west.chain.js.PublishMsg(t.Context(), m); err != nil {
			t.Fatal(err)
		}
	}
	forge(t, west, east)
	// A photograph is larger than one message may be.
	east.n++
	m := job.Meta{ID: record.EventID(fmt.Sprint(east.name, "-", east.n)), By: "Aro", Role: job.Technician, At: time.Now()}
	large := job.Find{Text: "boot torn", Photo: bytes.Repeat([]byte{7, 1, 9}, 300_000)}
	if _, _, err := east.store.Record(t.Context(), "e1", m, large); err != nil {
		t.Fatal(err)
	}
	node.holds(1108)
	west.run(west.chain.Tell) // what others put in its place does not keep it from going on
	west.find("w1", 1)
	node.holds(1109)

	again := newPlace(t, c, "second node")
	again.names(east, "east")
	again.names(west, "west")
	again.run(again.chain.Fill)
	again.holds(1109)
	n1, end1, err := node.store.EventsEnd(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	n2, end2, err := again.store.EventsEnd(t.Context())
	if err != nil || n1 != n2 || end1 != end2 {
		t.Errorf("the nodes differ: %d %s, %d %s, %v", n1, end1, n2, end2, err)
	}
	for _, x := range []*place{node, again} {
		same(t, x, east, "e1")
		same(t, x, west, "w1")
	}
	past, err := east.chain.Past(t.Context(), vin)
	if err != nil || len(past) != 1 || past[0].Shop != "west" || past[0].Job != "w1" || len(past[0].Findings) != 1031 {
		t.Errorf("east is told of %d jobs, %v", len(past), err)
	}
	shops, err := node.store.ChainShops(t.Context())
	if err != nil || len(shops) != 2 || shops[0].Name != "east" || shops[0].Jobs != 1 {
		t.Errorf("%+v %v", shops, err)
	}
	hits, _, err := node.store.Search(t.Context(), "knocks west", 0, 10)
	if err != nil || len(hits) != 1 || hits[0].ID != "w1" {
		t.Errorf("found %+v, %v", hits, err)
	}
}

// forge puts a well sealed line at the end of west's job that west never wrote: once with west's
// own key named and a signature that is not west's, once under the key of another shop.
func forge(t *testing.T, west, other *place) {
	t.Helper()
	f, err := west.store.Journal(t.Context(), "w1")
	if err != nil {
		t.Fatal(err)
	}
	last := f.Events[len(f.Events)-1]
	l, err := record.Seal(last.Hash, record.Event{
		ID: "forged", Job: "w1", Seq: last.Seq + 1, At: time.Now(), By: "Mallory", Body: record.Found{Text: "all is well"},
	})
	if err != nil {
		t.Fatal(err)
	}
	all, err := other.chain.messages(lineOf, told{N: 2000, Line: &l})
	if err != nil {
		t.Fatal(err)
	}
	m := all[0]
	m.Subject = lineOf + west.chain.self
	for _, key := range []string{other.store.PublicKey(), west.store.PublicKey()} {
		m.Header.Set(keyHeader, key)
		m.Header.Set(jetstream.MsgIDHeader, "forged under "+key)
		if _, err := other.chain.js.PublishMsg(t.Context(), m); err != nil {
			t.Fatal(err)
		}
	}
}

// A shop whose file is older than what the chain knows of it tells nothing: another past under
// the same key would be one record too many.
func TestOlderBackupTellsNothing(t *testing.T) {
	c := one(t)
	east, node := newPlace(t, c, "east"), newPlace(t, c, "node")
	acquainted(t, east, node)
	node.run(node.chain.Fill)
	east.start("e1")
	backup := filepath.Join(t.TempDir(), "older.db")
	path := filepath.Join(t.TempDir(), "file.db")
	if err := store.Backup(t.Context(), east.file, backup); err != nil {
		t.Fatal(err)
	}
	stop := east.run(east.chain.Tell)
	east.find("e1", 5)
	node.holds(6)
	stop()
	if _, err := store.Restore(t.Context(), backup, path, time.Now()); err != nil {
		t.Fatal(err)
	}
	older, err := store.Open(t.Context(), path)
	if err != nil {
		t.Fatal(err)
	}
	defer older.Close()
	back := &place{t: t, name: "east", store: older, cable: &cable{}, n: 100}
	if back.chain, err = Join(inUse(t, older), Config{URL: c.url(), Name: "east",
		Log: slog.New(slog.DiscardHandler)}); err != nil {
		t.Fatal(err)
	}
	defer back.chain.Close()
	back.find("e1", 9) // another past
	for range 40 {
		if err = back.chain.tellLines(t.Context()); err != nil && !errors.Is(err, nats.ErrConnectionClosed) &&
			!errors.Is(err, context.DeadlineExceeded) {
			break
		}
	}
	if !errors.Is(err, errOther) {
		t.Errorf("it told on: %v", err)
	}
	stop = back.run(back.chain.Tell)
	for range 200 {
		if _, says := back.chain.Told(); says == errOther.Error() {
			break
		}
		time.Sleep(50 * time.Millisecond)
	}
	stop()
	if upto, says := back.chain.Told(); says != errOther.Error() || upto != -1 {
		t.Errorf("it is told up to %d, kept by %q", upto, says)
	}
	if upto, says := east.chain.Told(); says != "" || upto != 6 {
		t.Errorf("before it was told up to %d, kept by %q", upto, says)
	}
	node.holds(6)
}

// A figure that two people of a trusted shop approved comes to the others under their names,
// and raises a gate in an open job; one of a shop nobody trusts does not.
func TestFiguresOfTrustedShops(t *testing.T) {
	c := one(t)
	head, stranger, east := newPlace(t, c, "head"), newPlace(t, c, "stranger"), newPlace(t, c, "east")
	east.names(head, "Head Office")
	for _, p := range []*place{head, stranger, east} {
		p.run(p.chain.Tell)
	}
	east.run(east.chain.Heed)
	fix := vehicle.Correction{
		Pattern: "ostrel-c22", Joint: "hub.front.knuckle", Recipe: "47 Nm", Source: "sheet 9", Why: "misprint",
		By: "Foreman Ode", Second: "Foreman Pim", At: time.Now(),
	}
	wrong := fix
	wrong.Recipe = "470 Nm"
	if err := stranger.store.Correct(t.Context(), "wrong", wrong); err != nil {
		t.Fatal(err)
	}
	alone := fix
	alone.Recipe, alone.Second = "48 Nm", ""
	for id, c := range map[record.EventID]vehicle.Correction{"fix": fix, "alone": alone} {
		if err := head.store.Correct(t.Context(), id, c); err != nil {
			t.Fatal(err)
		}
	}
	op := operation(t)
	file := store.File{At: time.Now(), By: "Foreman Ode", Second: "Foreman Pim", Kind: "operation", Text: op}
	if err := head.store.AddFile(t.Context(), "file", file); err != nil {
		t.Fatal(err)
	}
	// A sheet is offered where it was meant to be; one that left as a file alone is not told of.
	for _, p := range []*place{head, stranger} {
		model := vehicle.Sheet{ID: "own", Name: "Yard van", By: "Ode", At: time.Now()}
		if err := p.store.BeginSheet(t.Context(), "begun", model); err != nil {
			t.Fatal(err)
		}
		read := vehicle.Reading{
			Sheet: "own", Joint: "hub.front.knuckle", Recipe: "60 Nm", Source: "maker's book", By: "Ode", At: time.Now(),
		}
		if err := p.store.ReadFigures(t.Context(), "read", []vehicle.Reading{read}); err != nil {
			t.Fatal(err)
		}
		house := inUse(t, p.store)
		for id, chain := range map[record.EventID]bool{"out": false, "offer": true} {
			if _, err := house.SheetOut(t.Context(), id, "own", "Ode", chain); err != nil {
				t.Fatal(err)
			}
		}
	}
	until := time.Now().Add(30 * time.Second)
	offered := func() []vehicle.Elsewhere {
		sheets, err := east.store.Sheets(t.Context())
		if err != nil || len(sheets) == 0 {
			return nil
		}
		all, err := east.store.Elsewhere(t.Context(), sheets[0].ID)
		if err != nil {
			t.Fatal(err)
		}
		return all
	}
	for time.Now().Before(until) && (len(filesOf(t, east)) == 0 || len(offered()) == 0) {
		time.Sleep(50 * time.Millisecond)
	}
	got, err := east.store.Corrections(t.Context(), "ostrel-c22")
	if err != nil || len(got) != 1 || got[0].Recipe != "47 Nm" || got[0].By != "Foreman Ode, Head Office" ||
		got[0].Second != "Foreman Pim" ||
		got[0].Shop != "Head Office" {
		t.Errorf("%+v %v", got, err)
	}
	if all := offered(); len(all) != 1 || all[0].Shop != "Head Office" || all[0].Recipe != "60 Nm" {
		t.Errorf("offered: %+v", all)
	}
	if all := filesOf(t, east); len(all) != 1 || all[0].Text != op {
		t.Errorf("%d files", len(all))
	}
	// What came over the chain is not told on: it would go round for ever.
	time.Sleep(3 * rest)
	s, err := east.chain.stream(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	_, err = s.GetLastMsgForSubject(t.Context(), actOf+east.chain.self)
	if !errors.Is(err, jetstream.ErrMsgNotFound) {
		t.Errorf("east tells on what it was told: %v", err)
	}
}

func filesOf(t *testing.T, p *place) []store.File {
	t.Helper()
	all, err := p.store.Files(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	return all
}

// inUse is the shop of a file.
func inUse(t *testing.T, s *store.Store) *shop.Shop {
	t.Helper()
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	x, err := shop.New(t.Context(), s, lib, shop.Options{Log: slog.New(slog.DiscardHandler)})
	if err != nil {
		t.Fatal(err)
	}
	return x
}

// operation is the text of one operation of the library.
func operation(t *testing.T) string {
	t.Helper()
	text, err := os.ReadFile("../library/operations/brake-bleed.yaml")
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}
