package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"database/sql"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"time"

	"github.com/google/uuid"

	"lugtak/core/fault"
	"lugtak/core/listing"
	"lugtak/core/record"
)

// Session is somebody signed in.
type Session struct {
	ID     string // digest of its cookie
	Person listing.Person
	CSRF   string
	listing.Prefers
	seen time.Time
}

const (
	// sessionLasts is a long working day.
	sessionLasts = 14 * time.Hour
	// idleLasts is how long a tablet may lie untouched.
	idleLasts = 4 * time.Hour
	// seenEvery is how often it is noted that a session is in use.
	seenEvery = 5 * time.Minute
	// maxDevice bounds what a browser says of itself.
	maxDevice = 120
)

func token() string {
	b := make([]byte, 24)
	rand.Read(b)
	return base64.RawURLEncoding.EncodeToString(b)
}

func digest(tok string) string {
	h := sha256.Sum256([]byte(tok))
	return hex.EncodeToString(h[:])
}

// SignIn opens a session on a device and gives the secret for its cookie. Sessions that have
// ended are swept out on the way.
func (s *Store) SignIn(ctx context.Context, p listing.Person, device string, now time.Time) (cookie string, err error) {
	cookie = token()
	_, err = s.w.ExecContext(ctx, `DELETE FROM session WHERE expires < ? OR seen < ?`,
		stamp(now), stamp(now.Add(-idleLasts)))
	if err != nil {
		return "", err
	}
	_, err = s.w.ExecContext(ctx, `INSERT INTO session (token, person, csrf, expires, began, seen, device)
		VALUES (?,?,?,?,?,?,?)`,
		digest(cookie), p.ID, token(), stamp(now.Add(sessionLasts)), stamp(now), stamp(now),
		device[:min(len(device), maxDevice)])
	return cookie, err
}

const selectSession = `SELECT p.id, p.name, p.role, s.csrf, s.seen,
		coalesce(f.look, ''), coalesce(f.unit, ''), coalesce(f.text, 0), coalesce(f.voice, ''), coalesce(f.pace, '')
	FROM session s JOIN person p ON p.id = s.person LEFT JOIN preference f ON f.person = p.id
	WHERE s.token = ? AND s.expires > ? AND s.seen > ? AND p.active = 1`

// Session finds who a cookie belongs to; nil if nobody. That somebody asked keeps the session
// from ending idle.
func (s *Store) Session(ctx context.Context, cookie string, now time.Time) (*Session, error) {
	if cookie == "" {
		return nil, nil
	}
	x, err := s.session(ctx, digest(cookie), now)
	if x == nil || now.Sub(x.seen) < seenEvery {
		return x, err
	}
	// A file that cannot be written to is told where something is to be kept, not here.
	_, _ = s.w.ExecContext(ctx, `UPDATE session SET seen = ? WHERE token = ?`, stamp(now), x.ID)
	return x, nil
}

func (s *Store) session(ctx context.Context, id string, now time.Time) (*Session, error) {
	x := Session{ID: id}
	var seen string
	err := s.sessionOf.QueryRowContext(ctx, id, stamp(now), stamp(now.Add(-idleLasts))).
		Scan(&x.Person.ID, &x.Person.Name, &x.Person.Role, &x.CSRF, &seen, &x.Look, &x.Unit, &x.Text, &x.Voice, &x.Pace)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	x.Person.Active = true
	x.seen, err = time.Parse(time.RFC3339Nano, seen)
	return &x, err
}

// SessionLives says that a session has not ended: nobody signed it out or revoked it, it was
// not left idle, and its person was not locked out.
func (s *Store) SessionLives(ctx context.Context, id string, now time.Time) bool {
	x, err := s.session(ctx, id, now)
	return x != nil && err == nil
}

// SignOut ends a session.
func (s *Store) SignOut(ctx context.Context, cookie string) error {
	_, err := s.w.ExecContext(ctx, `DELETE FROM session WHERE token = ?`, digest(cookie))
	return err
}

// Sessions lists who is signed in where, the one used last first; of one person, or of all
// where none is named.
func (s *Store) Sessions(ctx context.Context, person string, now time.Time) ([]listing.Session, error) {
	rows, err := s.r.QueryContext(ctx, `SELECT s.token, s.person, p.name, s.device, s.began, s.seen
		FROM session s JOIN person p ON p.id = s.person
		WHERE (s.person = ?1 OR ?1 = '') AND s.expires > ?2 AND s.seen > ?3 AND p.active = 1 ORDER BY s.seen DESC`,
		person, stamp(now), stamp(now.Add(-idleLasts)))
	return rowsOf(rows, err, func(scan scanner, r *listing.Session) error {
		var err error
		var began, seen string
		if err := scan(&r.ID, &r.Person, &r.Name, &r.Device, &began, &seen); err != nil {
			return err
		}
		if r.Began, err = time.Parse(time.RFC3339Nano, began); err != nil {
			return err
		}
		if r.Seen, err = time.Parse(time.RFC3339Nano, seen); err != nil {
			return err
		}
		return nil
	})
}

// Revoke ends a session; who may do so is asked before.
func (s *Store) Revoke(ctx context.Context, r listing.Session, by string, now time.Time) error {
	body := record.SessionRevoked{Person: r.Person, Device: r.Device, Began: stamp(r.Began)}
	return s.act(ctx, record.EventID("revoke:"+uuid.NewString()), by, now, body, func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `DELETE FROM session WHERE token = ? AND person = ?`, r.ID, r.Person)
		if err != nil {
			return err
		}
		if n, err := res.RowsAffected(); err != nil || n != 1 {
			return errors.Join(fault.New(fault.NotFound, "session", "That session has ended already.", "Reload the page."), err)
		}
		return nil
	})
}
