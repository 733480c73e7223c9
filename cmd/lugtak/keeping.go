package main

import (
	"crypto/tls"
	"crypto/x509"
	"path/filepath"

	"lugtak/pages/office"
	"lugtak/store"
)

// keeping tells how the file of a place is kept. What cannot be told is left out.
func (p place) keeping() office.Keeping {
	k := office.Keeping{Backups: p.backups != "", Room: room(filepath.Dir(p.db))}
	if k.Backups {
		k.Copied, _ = store.LastRotated(p.db, p.backups)
	}
	if p.cert == "" {
		return k
	}
	pair, err := tls.LoadX509KeyPair(p.cert, p.key)
	if err != nil {
		return k
	}
	if cert, err := x509.ParseCertificate(pair.Certificate[0]); err == nil {
		k.CertUntil = cert.NotAfter
	}
	return k
}
