package store

import (
	"context"
	"crypto/ed25519"
	"crypto/rand"
	"crypto/sha256"
	"crypto/x509"
	"database/sql"
	"encoding/base64"
	"encoding/hex"
	"encoding/pem"
	"errors"
	"fmt"
	"os"

	"lugtak/core/fault"
)

// The shop's key signs how both journals end, so that cutting their end, or making the
// whole chain anew, is found. It lies beside the file, not in it: who has only the
// file cannot sign.

// KeyFile is where the key of a shop file lies.
func KeyFile(path string) string { return path + ".key" }

const pemType = "PRIVATE KEY"

// makeKey writes a new key beside the file, for its owner only.
func makeKey(path string) (ed25519.PrivateKey, error) {
	_, key, err := ed25519.GenerateKey(rand.Reader)
	if err != nil {
		return nil, err
	}
	der, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		return nil, err
	}
	text := pem.EncodeToMemory(&pem.Block{Type: pemType, Bytes: der})
	f, err := os.OpenFile(KeyFile(path), os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
	if err != nil {
		return nil, err
	}
	_, err = f.Write(text)
	return key, errors.Join(err, f.Sync(), f.Close())
}

// readKey reads the key beside the file; nil where there is none.
func readKey(path string) (ed25519.PrivateKey, error) {
	text, err := os.ReadFile(KeyFile(path))
	if errors.Is(err, os.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	block, _ := pem.Decode(text)
	if block == nil {
		return nil, fmt.Errorf("%s is no key file: put the right one back", KeyFile(path))
	}
	key, err := x509.ParsePKCS8PrivateKey(block.Bytes)
	if err != nil {
		return nil, fmt.Errorf("%s cannot be read: %w", KeyFile(path), err)
	}
	private, ok := key.(ed25519.PrivateKey)
	if !ok {
		return nil, fmt.Errorf("%s holds a key of another kind: put the right one back", KeyFile(path))
	}
	return private, nil
}

// public is the public half of a key, as it stands in exports.
func public(key ed25519.PrivateKey) string {
	return base64.StdEncoding.EncodeToString(key.Public().(ed25519.PublicKey))
}

// fingerprint is a public key short enough to read aloud: the first eight bytes of its SHA-256.
func fingerprint(key string) string {
	pub, err := base64.StdEncoding.DecodeString(key)
	if err != nil || key == "" {
		return ""
	}
	sum := sha256.Sum256(pub)
	return hex.EncodeToString(sum[:8])
}

// signed says that a signature over a text was made with the key of that public half.
func signed(key, text, signature string) bool {
	pub, err := base64.StdEncoding.DecodeString(key)
	if err != nil || len(pub) != ed25519.PublicKeySize {
		return false
	}
	sig, err := base64.StdEncoding.DecodeString(signature)
	return err == nil && ed25519.Verify(pub, []byte(text), sig)
}

func sign(key ed25519.PrivateKey, text string) string {
	return base64.StdEncoding.EncodeToString(ed25519.Sign(key, []byte(text)))
}

// head is how both journals end.
type head struct {
	events    int
	eventLink string
	acts      int
	actLink   string
}

// text is what is signed.
func (h head) text() string {
	return fmt.Sprintf("lugtak head\n%d %s\n%d %s\n", h.events, h.eventLink, h.acts, h.actLink)
}

// signedHead is the head as it stands in the file.
type signedHead struct {
	head
	key, signature string
}

const selectHead = `SELECT events, event_link, acts, act_link, key, signature FROM head`

type rowQuerier interface {
	QueryRowContext(context.Context, string, ...any) *sql.Row
}

// readHead reads the signed head; ok is false where there is none yet.
func readHead(ctx context.Context, q rowQuerier) (h signedHead, ok bool, err error) {
	err = q.QueryRowContext(ctx, selectHead).
		Scan(&h.events, &h.eventLink, &h.acts, &h.actLink, &h.key, &h.signature)
	if errors.Is(err, sql.ErrNoRows) {
		return h, false, nil
	}
	return h, err == nil, err
}

// trueHead is how both journals do end.
func trueHead(ctx context.Context, q rowQuerier) (h head, err error) {
	for _, x := range []struct {
		query string
		n     *int
		link  *string
	}{
		{`SELECT n, link FROM event ORDER BY n DESC LIMIT 1`, &h.events, &h.eventLink},
		{`SELECT n, link FROM act ORDER BY n DESC LIMIT 1`, &h.acts, &h.actLink},
	} {
		err := q.QueryRowContext(ctx, x.query).Scan(x.n, x.link)
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return h, err
		}
	}
	return h, nil
}

// proveHead compares how the journals end with what was signed.
func proveHead(ctx context.Context, q rowQuerier, key string) error {
	h, ok, err := readHead(ctx, q)
	if err != nil {
		return err
	}
	is, err := trueHead(ctx, q)
	if err != nil {
		return err
	}
	switch {
	case !ok:
		return errors.New("the signed end of the journals is missing")
	case key != "" && h.key != key:
		return errors.New("the file is signed with another key than the one beside it")
	case !signed(h.key, h.text(), h.signature):
		return errors.New("the end of the journals is not signed by the key that is named there")
	case is != h.head:
		return fmt.Errorf("the journals end at event %d and act %d, signed were %d and %d: "+
			"lines were cut or put on", is.events, is.acts, h.events, h.acts)
	}
	return nil
}

// fault.Key is the code of refusals that are about the key or the signed end.
const CodeKey = "key"

// takeKey reads the shop's key, or makes one for a file that has none yet, and proves
// how the journals end.
func (s *Store) takeKey(ctx context.Context, path string) error {
	_, has, err := readHead(ctx, s.w)
	if err != nil {
		return err
	}
	if s.key, err = readKey(path); err != nil {
		return err
	}
	switch {
	case s.key == nil && has:
		return fault.New(fault.Key, "db", "The key of this shop, "+KeyFile(path)+", is not there.",
			"Put it back from the safe copy; if it is lost, lugtak mend begins a new one and says so.")
	case s.key != nil && !has:
		return fault.New(fault.Key, "db", "There is a key beside this file and no signed end in it: "+
			"it was copied without the -wal that belongs to it, or it is not the file of this key.",
			"Copy both together, or use lugtak backup. To go on as it is: lugtak check and lugtak mend.")
	case s.key == nil:
		if s.key, err = makeKey(path); err != nil {
			return err
		}
		return s.mend(ctx, "the program", "")
	}
	if err := proveHead(ctx, s.w, public(s.key)); err != nil {
		return fault.New(fault.Key, "db", "This file was changed by another hand: "+err.Error()+".",
			"Put a backup back. To go on as it is: lugtak check says what is wrong, lugtak mend signs for it.")
	}
	return nil
}
