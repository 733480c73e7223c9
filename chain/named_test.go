package chain

import (
	"context"
	"crypto/ed25519"
	"crypto/rand"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/json"
	"encoding/pem"
	"fmt"
	"log/slog"
	"math/big"
	"net"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/nats-io/nats-server/v2/server"
	"github.com/nats-io/nats.go"
	"github.com/nats-io/nats.go/jetstream"
	"github.com/nats-io/nkeys"

	"lugtak/core/job"
	"lugtak/core/listing"
)

// eventually waits for something to be so.
func eventually(t *testing.T, what string, so func() bool) {
	t.Helper()
	for until := time.Now().Add(30 * time.Second); !so(); time.Sleep(50 * time.Millisecond) {
		if time.Now().After(until) {
			t.Fatalf("%s: never", what)
		}
	}
}

// A shop that nobody has named is not believed, whatever it calls itself. Once it is named all it ever told is there,
// under the name it was given; and a question of its is answered.
func TestAShopIsNamedBeforeItIsBelieved(t *testing.T) {
	c := one(t)
	east, liar, node := newPlace(t, c, "east"), newPlace(t, c, "east"), newPlace(t, c, "node")
	east.names(node, "node")
	node.names(east, "east")
	liar.names(node, "node")
	east.start("e1")
	liar.start("l1")
	for _, p := range []*place{east, liar} {
		p.run(p.chain.Tell)
	}
	node.run(node.chain.Fill)
	node.run(func(ctx context.Context) { node.chain.Answer(ctx) })
	liar.find("l1", 5)
	east.find("e1", 4)
	node.holds(5)
	eventually(t, "the unnamed shop is told of", func() bool { return len(node.chain.Unnamed()) == 1 })
	if u := node.chain.Unnamed()[0]; u.Key != liar.store.PublicKey() || u.Says != "east" {
		t.Errorf("unnamed: %+v", u)
	}
	if past, err := liar.chain.Past(t.Context(), vin); err == nil {
		t.Errorf("a shop that nobody named was told of %d jobs", len(past))
	}
	node.names(liar, "Back Lane")
	node.holds(11)
	same(t, node, liar, "l1")
	if u := node.chain.Unnamed(); len(u) != 0 {
		t.Errorf("it is named, and stands among the strangers: %+v", u)
	}
	liar.find("l1", 1)
	east.find("e1", 1)
	node.holds(13)
	shops, err := node.store.ChainShops(t.Context())
	if err != nil || len(shops) != 2 || shops[0].Name != "Back Lane" || shops[1].Name != "east" {
		t.Errorf("%+v %v", shops, err)
	}
	past, err := liar.chain.Past(t.Context(), vin)
	if err != nil || len(past) != 1 || past[0].Shop != "east" {
		t.Errorf("it is told of %+v, %v", past, err)
	}
	// Its name is taken back: what it told stays, what it tells is taken no more.
	if err := node.store.Distrust(t.Context(), liar.store.PublicKey(), "Cass", time.Now()); err != nil {
		t.Fatal(err)
	}
	liar.find("l1", 1)
	eventually(t, "it is a stranger again", func() bool { return len(node.chain.Unnamed()) == 1 })
	east.find("e1", 1)
	node.holds(14)
	if past, err := liar.chain.Past(t.Context(), vin); err == nil {
		t.Errorf("it is told of %d jobs", len(past))
	}
}

// Answers that nobody signed, that another signed, or that were signed for another question, are none. What is
// overheard of a question is of no use to whoever sends it again with an address of their own.
func TestAnswersAreProved(t *testing.T) {
	c := one(t)
	east, west, node, impostor := newPlace(t, c, "east"), newPlace(t, c, "west"), newPlace(t, c, "node"),
		newPlace(t, c, "impostor")
	acquainted(t, east, west, node)
	west.start("w1")
	west.run(west.chain.Tell)
	node.run(node.chain.Fill)
	node.holds(1)
	made, err := json.Marshal([]listing.Elsewhere{{Shop: "west", Job: "made up"}})
	if err != nil {
		t.Fatal(err)
	}
	heard := make(chan *nats.Msg, 8)
	sub, err := impostor.chain.conn.Subscribe(pastAsked, func(m *nats.Msg) {
		m.Respond(made)
		impostor.chain.conn.PublishMsg(impostor.chain.sealed(answer, m.Reply, "", made))
		stolen := node.chain.sealed(answer, "_INBOX.of another question", "", made)
		stolen.Subject = m.Reply
		impostor.chain.conn.PublishMsg(stolen)
		heard <- m
	})
	if err != nil {
		t.Fatal(err)
	}
	if err := impostor.chain.conn.Flush(); err != nil {
		t.Fatal(err)
	}
	if past, err := east.chain.Past(t.Context(), vin); err == nil {
		t.Errorf("east believes %+v", past)
	}
	node.run(func(ctx context.Context) { node.chain.Answer(ctx) })
	eventually(t, "the node answers", func() bool {
		past, err := east.chain.Past(t.Context(), vin)
		return err == nil && len(past) == 1 && past[0].Job == "w1"
	})
	m := <-heard
	if err := sub.Unsubscribe(); err != nil {
		t.Fatal(err)
	}
	back, err := impostor.chain.conn.SubscribeSync("_INBOX.overheard")
	if err != nil {
		t.Fatal(err)
	}
	again := nats.NewMsg(pastAsked)
	again.Data, again.Header, again.Reply = m.Data, m.Header, back.Subject
	if err := impostor.chain.conn.PublishMsg(again); err != nil {
		t.Fatal(err)
	}
	if got, err := back.NextMsg(2 * rest); err == nil {
		t.Errorf("a question sent again is answered elsewhere: %s", got.Data)
	}
	noise := impostor.chain.sealed(question, pastAsked, back.Subject, []byte(strings.Repeat("x", 2*longestAsk)))
	if err := impostor.chain.conn.PublishMsg(noise); err != nil {
		t.Fatal(err)
	}
	if past, err := east.chain.Past(t.Context(), vin); err != nil || len(past) != 1 {
		t.Errorf("after noise: %+v, %v", past, err)
	}
}

// A node that stops while a record is on its way in several parts has it when it begins anew, though other shops told
// on in between.
func TestARecordCutOffBetweenItsParts(t *testing.T) {
	c := one(t)
	east, west, node := newPlace(t, c, "east"), newPlace(t, c, "west"), newPlace(t, c, "node")
	acquainted(t, east, west, node)
	east.start("e1")
	west.start("w1")
	stop := east.run(east.chain.Tell)
	west.run(west.chain.Tell)
	filled := node.run(node.chain.Fill)
	node.holds(2)
	stop()
	m := job.Meta{ID: "large", By: "Aro", Role: job.Technician, At: time.Now()}
	large := job.Find{Text: "boot torn", Photo: []byte(strings.Repeat("x", 900_000))}
	if _, _, err := east.store.Record(t.Context(), "e1", m, large); err != nil {
		t.Fatal(err)
	}
	n, err := east.store.LastEvent(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	rows, err := east.store.EventsAfter(t.Context(), n-1, 1)
	if err != nil {
		t.Fatal(err)
	}
	all, err := east.chain.messages(lineOf, told{N: rows[0].N, Line: &rows[0].Line})
	if err != nil || len(all) < 2 {
		t.Fatalf("%d parts, %v", len(all), err)
	}
	send := func(m *nats.Msg) {
		t.Helper()
		if _, err := east.chain.js.PublishMsg(t.Context(), m); err != nil {
			t.Fatal(err)
		}
	}
	send(all[0])
	west.find("w1", 1)
	node.holds(3)
	filled()
	west.find("w1", 1)
	eventually(t, "west has told", func() bool { upto, _ := west.chain.Told(); return upto == 3 })
	for _, m := range all[1:] {
		send(m)
	}
	west.find("w1", 1)
	node.run(node.chain.Fill)
	node.holds(6)
	same(t, node, east, "e1")
	// The rows lie in the order of the chain, as at a node that never stopped.
	never := newPlace(t, c, "never stopped")
	never.names(east, "east")
	never.names(west, "west")
	never.run(never.chain.Fill)
	never.holds(6)
	_, end, err := node.store.EventsEnd(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	if _, other, err := never.store.EventsEnd(t.Context()); err != nil || other != end {
		t.Errorf("it ends with %s, one that never stopped with %s, %v", end, other, err)
	}
}

// What is held of unfinished records stays under its bound, whoever sends beginnings without an end.
func TestBeginningsWithoutAnEnd(t *testing.T) {
	p := newParts()
	data := make([]byte, partMost)
	for shop := range 1000 {
		for k := range 3 {
			p.add(piece{shop: fmt.Sprint("shop ", shop), k: k + 1, n: mostParts, data: data})
			if p.held > mostHeld {
				t.Fatalf("%d bytes are held", p.held)
			}
		}
	}
	sum := 0
	for _, b := range p.of {
		sum += len(b.data)
	}
	if sum != p.held || sum == 0 {
		t.Errorf("%d bytes are held and %d counted", sum, p.held)
	}
	one := newParts()
	for k, want := range []bool{false, false, true} {
		data, whole := one.add(piece{shop: "a", k: k + 1, n: 3, data: []byte{byte(k)}})
		if whole != want || whole && len(data) != 3 {
			t.Errorf("part %d: %v %v", k+1, data, whole)
		}
	}
	if one.held != 0 || len(one.of) != 0 {
		t.Errorf("%d bytes are held of what is whole", one.held)
	}
	one.add(piece{shop: "a", k: 1, n: 3, data: data})
	if _, whole := one.add(piece{shop: "a", k: 3, n: 3}); whole || one.held != 0 {
		t.Errorf("a part left out: %v, %d bytes", whole, one.held)
	}
}

func TestUnnamedAreBounded(t *testing.T) {
	c := &Chain{Config: Config{Log: slog.New(slog.DiscardHandler)}, unnamed: map[string]listing.Stranger{}}
	for i := range 3 * mostUnnamed {
		c.passOver(listing.Stranger{Key: fmt.Sprint(i), Heard: time.Unix(int64(i), 0)})
	}
	if n := len(c.Unnamed()); n != mostUnnamed {
		t.Errorf("%d are kept", n)
	}
}

// By the configuration in packaging/chain, over TLS with an authority of the shops' own: who has no key is not let in,
// a shop tells in its own place alone, and no shop hears another's questions.
func TestTheEngineKeepsStrangersOut(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	authority(t, dir)
	users := map[string]string{} // place to public key
	for _, who := range []string{"SHOP", "OTHER", "NODE"} {
		pair, err := nkeys.CreateUser()
		if err != nil {
			t.Fatal(err)
		}
		seed, err := pair.Seed()
		if err != nil {
			t.Fatal(err)
		}
		if users[who], err = pair.PublicKey(); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(filepath.Join(dir, who), seed, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	east, west, node := fileOf(t, "east"), fileOf(t, "west"), fileOf(t, "node")
	text, err := os.ReadFile("../packaging/chain/nats.conf")
	if err != nil {
		t.Fatal(err)
	}
	conf := strings.NewReplacer(
		"/etc/nats/", dir+"/",
		"0.0.0.0:4222", "127.0.0.1:-1",
		"U_FIRST_SHOP", users["SHOP"], "PRINT_FIRST_SHOP", east.store.KeyPrint(),
		"U_SECOND_SHOP", users["OTHER"], "PRINT_SECOND_SHOP", west.store.KeyPrint(),
		"U_NODE", users["NODE"], "PRINT_NODE", node.store.KeyPrint(),
	).Replace(string(text))
	ports := freePorts(t, 3)
	for i, p := range ports {
		conf = strings.ReplaceAll(conf, fmt.Sprintf("nats://n%d:6222", i+1), fmt.Sprintf("nats://127.0.0.1:%d", p))
	}
	var all []*server.Options
	for i, p := range ports {
		file := filepath.Join(dir, fmt.Sprint(i, ".conf"))
		this := strings.NewReplacer(
			"server_name: n1", fmt.Sprint("server_name: n", i+1),
			"0.0.0.0:6222", fmt.Sprint("127.0.0.1:", p),
			"/var/lib/nats", filepath.Join(dir, fmt.Sprint("store", i)),
		).Replace(conf)
		if err := os.WriteFile(file, []byte(this), 0o600); err != nil {
			t.Fatal(err)
		}
		o, err := server.ProcessConfigFile(file)
		if err != nil {
			t.Fatal(err)
		}
		all = append(all, o)
	}
	c := started(t, all...)
	url := strings.ReplaceAll(c.url(), "nats://", "tls://")
	for p, who := range map[*place]string{east: "SHOP", west: "OTHER", node: "NODE"} {
		p.joins(Config{
			URL: url, Replicas: 3, Name: p.name, Creds: filepath.Join(dir, who), CA: filepath.Join(dir, "ca.pem"),
		})
	}
	acquainted(t, east, west, node)
	node.run(node.chain.Fill)
	node.run(func(ctx context.Context) { node.chain.Answer(ctx) })
	east.start("e1")
	east.find("e1", 3)
	east.run(east.chain.Tell)
	west.run(west.chain.Heed)
	node.holds(4)
	past, err := west.chain.Past(t.Context(), vin)
	if err != nil || len(past) != 1 {
		t.Fatalf("west is told of %d jobs, %v", len(past), err)
	}

	// West tells in east's place: the engine takes no such message.
	rows, err := east.store.EventsAfter(t.Context(), 0, 1)
	if err != nil {
		t.Fatal(err)
	}
	forged, err := west.chain.messages(lineOf, told{N: 9, Line: &rows[0].Line})
	if err != nil {
		t.Fatal(err)
	}
	forged[0].Subject = lineOf + east.chain.self
	soon, cancel := context.WithTimeout(t.Context(), 2*rest)
	defer cancel()
	if _, err := west.chain.js.PublishMsg(soon, forged[0], jetstream.WithExpectStream(streamName)); err == nil {
		t.Error("west tells in east's place")
	}
	sub, err := west.chain.conn.SubscribeSync(pastAsked)
	if err != nil {
		t.Fatal(err)
	}
	if past, err := east.chain.Past(t.Context(), vin); err != nil || len(past) != 0 {
		t.Errorf("east is told of %+v, %v", past, err)
	}
	if m, err := sub.NextMsg(2 * rest); err == nil {
		t.Errorf("west hears which VIN east asks for: %s", m.Data)
	}
	for name, opts := range map[string][]nats.Option{
		"nobody":                          {nats.RootCAs(filepath.Join(dir, "ca.pem"))},
		"who does not know the authority": {},
	} {
		if conn, err := nats.Connect(url, append(opts, nats.Timeout(2*time.Second))...); err == nil {
			conn.Close()
			t.Errorf("%s is let in", name)
		}
	}
	if n, err := node.store.LastEvent(t.Context()); err != nil || n != 4 {
		t.Errorf("the node holds %d, %v", n, err)
	}
}

// authority writes ca.pem, and cert.pem and key.pem of a server at this machine that it signed, as the commands in
// docs/OPERATING.md do.
func authority(t *testing.T, dir string) {
	t.Helper()
	of := func(name string, parent *x509.Certificate, signer ed25519.PrivateKey) (*x509.Certificate, ed25519.PrivateKey) {
		pub, key, err := ed25519.GenerateKey(nil)
		if err != nil {
			t.Fatal(err)
		}
		c := &x509.Certificate{
			SerialNumber:          big.NewInt(time.Now().UnixNano()),
			Subject:               pkix.Name{CommonName: name},
			NotBefore:             time.Now().Add(-time.Hour),
			NotAfter:              time.Now().Add(time.Hour),
			BasicConstraintsValid: true,
		}
		if parent == nil {
			c.IsCA, parent, signer = true, c, key
			c.KeyUsage = x509.KeyUsageCertSign
		} else {
			c.IPAddresses = []net.IP{net.IPv4(127, 0, 0, 1)}
			c.ExtKeyUsage = []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth, x509.ExtKeyUsageClientAuth}
		}
		der, err := x509.CreateCertificate(rand.Reader, c, parent, pub, signer)
		if err != nil {
			t.Fatal(err)
		}
		block := pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der})
		if err := os.WriteFile(filepath.Join(dir, name+".pem"), block, 0o600); err != nil {
			t.Fatal(err)
		}
		return c, key
	}
	ca, signer := of("ca", nil, nil)
	_, key := of("cert", ca, signer)
	der, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		t.Fatal(err)
	}
	block := pem.EncodeToMemory(&pem.Block{Type: "PRIVATE KEY", Bytes: der})
	if err := os.WriteFile(filepath.Join(dir, "key.pem"), block, 0o600); err != nil {
		t.Fatal(err)
	}
}
