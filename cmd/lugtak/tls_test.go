package main

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"encoding/pem"
	"math/big"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"
)

// certified writes a certificate for this machine, signed by itself, and gives the pool that
// knows it; change makes it another.
func certified(t *testing.T, dir string, change ...func(*x509.Certificate)) (cert, key string, pool *x509.CertPool) {
	t.Helper()
	private, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		t.Fatal(err)
	}
	tmpl := &x509.Certificate{
		SerialNumber: big.NewInt(1),
		NotAfter:     time.Now().Add(time.Hour),
		IPAddresses:  []net.IP{net.IPv4(127, 0, 0, 1)},
		IsCA:         true,

		BasicConstraintsValid: true,
	}
	for _, c := range change {
		c(tmpl)
	}
	der, err := x509.CreateCertificate(rand.Reader, tmpl, tmpl, private.Public(), private)
	if err != nil {
		t.Fatal(err)
	}
	secret, err := x509.MarshalPKCS8PrivateKey(private)
	if err != nil {
		t.Fatal(err)
	}
	cert, key = filepath.Join(dir, "cert.pem"), filepath.Join(dir, "key.pem")
	text := pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der})
	if err := os.WriteFile(cert, text, 0o600); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(key, pem.EncodeToMemory(&pem.Block{Type: "PRIVATE KEY", Bytes: secret}), 0o600); err != nil {
		t.Fatal(err)
	}
	pool = x509.NewCertPool()
	pool.AppendCertsFromPEM(text)
	return cert, key, pool
}

// A renewed certificate is served without a restart; one that is half written is not.
func TestCertificateIsRenewed(t *testing.T) {
	dir := t.TempDir()
	cert, key, _ := certified(t, dir)
	served := &pemPair{cert: cert, key: key}
	serial := func() string {
		t.Helper()
		pair, err := served.now(nil)
		if err != nil {
			t.Fatal(err)
		}
		return string(pair.Certificate[0])
	}
	first := serial()
	later := time.Now().Add(time.Minute)
	if err := os.WriteFile(cert, []byte("half"), 0o600); err != nil {
		t.Fatal(err)
	}
	if err := os.Chtimes(cert, later, later); err != nil {
		t.Fatal(err)
	}
	if serial() != first {
		t.Error("half a certificate took the place of the one before")
	}
	certified(t, dir)
	if err := os.Chtimes(cert, later.Add(time.Minute), later.Add(time.Minute)); err != nil {
		t.Fatal(err)
	}
	if serial() == first {
		t.Error("the renewed one is not served")
	}
	if err := served.usable(time.Now()); err != nil {
		t.Error(err)
	}
	if err := served.usable(time.Now().Add(2 * time.Hour)); err == nil || !strings.Contains(err.Error(), "renew") {
		t.Errorf("one that ended: %v", err)
	}
}

// A shop over TLS: the cookie is for it alone, nothing older than TLS 1.2 gets in, a backup lies
// there as soon as it serves, and half a pair of files is refused with what to do.
func TestServeOverTLS(t *testing.T) {
	dir := t.TempDir()
	db, backups := filepath.Join(dir, "shop.db"), filepath.Join(dir, "backups")
	if err := os.Mkdir(backups, 0o700); err != nil {
		t.Fatal(err)
	}
	made := exec.Command(binary, "init", "--db", db, "--name", "Foreman Ull")
	made.Stdin = strings.NewReader("4713\n")
	if out, err := made.CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	cert, key, pool := certified(t, dir)
	half, err := exec.Command(binary, "serve", "--db", db, "--addr", "127.0.0.1:0", "--cert", cert).CombinedOutput()
	if err == nil || !strings.Contains(string(half), "--cert and --key go together") {
		t.Errorf("half a pair: %v %s", err, half)
	}
	cmd, line := start(t, "serve", "--db", db, "--addr", "127.0.0.1:0", "--cert", cert, "--key", key, "--backups", backups)
	defer func() {
		cmd.Process.Signal(syscall.SIGTERM)
		cmd.Wait()
	}()
	client := &http.Client{
		Transport:     &http.Transport{TLSClientConfig: &tls.Config{RootCAs: pool}},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	}
	res, err := client.PostForm("https://"+line+"/signin", url.Values{"name": {"Foreman Ull"}, "pin": {"4713"}})
	if err != nil {
		t.Fatal(err)
	}
	res.Body.Close()
	if c := res.Cookies(); res.StatusCode != http.StatusSeeOther || len(c) != 1 || !c[0].Secure || !c[0].HttpOnly {
		t.Errorf("%d %+v", res.StatusCode, c)
	}
	if h := res.Header.Get("Strict-Transport-Security"); !strings.Contains(h, "max-age=") {
		t.Errorf("HSTS %q", h)
	}
	old := &tls.Config{RootCAs: pool, MinVersion: tls.VersionTLS10, MaxVersion: tls.VersionTLS11}
	if conn, err := tls.Dial("tcp", line, old); err == nil {
		conn.Close()
		t.Error("TLS 1.1 gets in")
	}
	for range 100 {
		if all, _ := filepath.Glob(filepath.Join(backups, "shop-*.db")); len(all) == 1 {
			run(t, "check", all[0])
			return
		}
		time.Sleep(50 * time.Millisecond)
	}
	t.Error("no backup was made at the start")
}
