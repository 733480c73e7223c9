package main

import (
	"crypto/tls"
	"crypto/x509"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"sync"
	"time"

	"lugtak/pages/office"
	"lugtak/store"
)

// pemPair is a certificate with its key, as two files that may be renewed while they are served.
type pemPair struct {
	cert, key string

	mu   sync.Mutex
	pair *tls.Certificate
	read [2]time.Time // when each file was last changed, as it was read
}

// pair is the certificate of a place.
func (p place) pair() *pemPair { return &pemPair{cert: p.cert, key: p.key} }

// changed is when each file was last written.
func (c *pemPair) changed() (at [2]time.Time, err error) {
	for i, name := range []string{c.cert, c.key} {
		f, err := os.Stat(name)
		if err != nil {
			return at, err
		}
		at[i] = f.ModTime()
	}
	return at, nil
}

// now is the certificate as its files stand. Where they cannot be read, as between two writes, the one before serves
// on.
func (c *pemPair) now(*tls.ClientHelloInfo) (*tls.Certificate, error) {
	c.mu.Lock()
	defer c.mu.Unlock()
	at, err := c.changed()
	if err == nil && c.pair != nil && at == c.read {
		return c.pair, nil
	}
	if err == nil {
		var pair tls.Certificate
		if pair, err = tls.LoadX509KeyPair(c.cert, c.key); err == nil {
			c.pair, c.read = &pair, at
			return c.pair, nil
		}
	}
	if c.pair == nil {
		return nil, err
	}
	slog.Error("certificate", "doing", "reading it anew; the one before serves on", "error", err)
	return c.pair, nil
}

// leaf is the certificate itself.
func (c *pemPair) leaf() (*x509.Certificate, error) {
	pair, err := c.now(nil)
	if err != nil {
		return nil, fmt.Errorf("it and its key cannot be read as a pair: %w", err)
	}
	return x509.ParseCertificate(pair.Certificate[0])
}

// usable says why no browser will take the certificate at a time.
func (c *pemPair) usable(at time.Time) error {
	cert, err := c.leaf()
	switch {
	case err != nil:
		return err
	case at.After(cert.NotAfter):
		return fmt.Errorf("it ended on %s: renew it", cert.NotAfter.Format(time.DateOnly))
	case len(cert.ExtKeyUsage) > 0 && !slices.Contains(cert.ExtKeyUsage, x509.ExtKeyUsageServerAuth) &&
		!slices.Contains(cert.ExtKeyUsage, x509.ExtKeyUsageAny):
		return errors.New("it is for no server: make it with extendedKeyUsage=serverAuth, as docs/OPERATING.md does")
	case len(cert.DNSNames)+len(cert.IPAddresses) == 0:
		return errors.New("it names no host: make it with subjectAltName, as docs/OPERATING.md does")
	}
	return nil
}

// keeping tells how the file of a place is kept. What cannot be told is left out.
func (p place) keeping() office.Keeping {
	k := office.Keeping{Backups: p.backups != "", Room: room(filepath.Dir(p.db))}
	if k.Backups {
		k.Copied, _ = store.LastRotated(p.db, p.backups)
	}
	if p.cert == "" {
		return k
	}
	if cert, err := p.pair().leaf(); err == nil {
		k.CertUntil = cert.NotAfter
	}
	return k
}
