package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"strings"
	"time"

	"golang.org/x/sync/semaphore"

	"lugtak/core/fault"
)

// Asker is where a PIN comes from: an address, and the person's id where somebody is in
// already.
type Asker struct{ Address, Person string }

// counter counts wrong guesses of one kind: so many are free, then each further one waits
// twice as long as the one before, up to most.
type counter struct {
	key      string
	free     int
	most     time.Duration
	anywhere bool // of all addresses together
}

// counters are those a guess is counted by. Who is in is counted by who they are alone, so
// that no stranger keeps them from signing, and no new session gives new guesses; a stranger by
// name and address, by address, and, so that many addresses help little, by name: there the wait
// stays short, since anybody can bring it about, and none where the name signed in before.
func (a Asker) counters(name string) []counter {
	name = strings.ToLower(name) // as names are told apart
	if a.Person != "" {
		return []counter{{key: "in " + a.Person + " " + name, free: 5, most: 15 * time.Minute}}
	}
	return []counter{
		{key: "at " + a.Address + " " + name, free: 5, most: 15 * time.Minute},
		{key: "from " + a.Address, free: 20, most: 15 * time.Minute},
		{key: "name " + name, free: 30, most: 30 * time.Second, anywhere: true},
	}
}

// known is the counter's row of a name that signed in at an address: no stranger's guesses
// elsewhere keep it waiting there.
func (a Asker) known(name string) string { return "known " + a.Address + " " + strings.ToLower(name) }

// knownFor is how long an address counts as one where a name signs in.
const knownFor = 90 * 24 * time.Hour

// guessesFor is how long wrong guesses count after the last wait for them.
const guessesFor = 24 * time.Hour

// wait is how long the guess after so many wrong ones waits.
func (k counter) wait(fails int) time.Duration {
	if fails < k.free {
		return 0
	}
	return min(k.most, time.Second<<min(fails-k.free+1, 12))
}

// count takes a guess down before it is looked at, so that many at once count as many. It
// refuses one that comes too soon.
func (s *Store) count(ctx context.Context, from Asker, name string, now time.Time) error {
	tx, err := s.w.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback()
	var known bool
	err = tx.QueryRowContext(ctx, `SELECT EXISTS (SELECT 1 FROM guess WHERE key = ? AND until > ?)`,
		from.known(name), stamp(now)).Scan(&known)
	if err != nil {
		return err
	}
	// Who guessed long ago is forgotten: an address says where somebody was.
	_, err = tx.ExecContext(ctx, `DELETE FROM guess WHERE until < ?`, stamp(now.Add(-guessesFor)))
	if err != nil {
		return err
	}
	for _, k := range from.counters(name) {
		if k.anywhere && known {
			continue
		}
		var fails int
		var until string
		err := tx.QueryRowContext(ctx, `SELECT fails, until FROM guess WHERE key = ?`, k.key).Scan(&fails, &until)
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return err
		}
		if t, err := time.Parse(time.RFC3339Nano, until); err == nil && now.Before(t) {
			left := max(t.Sub(now).Round(time.Second), time.Second)
			f := fault.New(fault.Throttled, "pin", fmt.Sprintf("Too many wrong tries. The next one is taken in %s.", left),
				"Wait, or ask the foreman for a new PIN.")
			f.Wait = left
			return f
		}
		fails++
		_, err = tx.ExecContext(ctx, `INSERT INTO guess (key, fails, until) VALUES (?,?,?)
			ON CONFLICT (key) DO UPDATE SET fails = excluded.fails, until = excluded.until`,
			k.key, fails, stamp(now.Add(k.wait(fails))))
		if err != nil {
			return err
		}
	}
	return tx.Commit()
}

// right forgets the guesses that led to a right one, and knows the name at its address.
func (s *Store) right(ctx context.Context, from Asker, name string, now time.Time) error {
	if from.Person == "" {
		_, err := s.w.ExecContext(ctx, `INSERT INTO guess (key, fails, until) VALUES (?,0,?)
			ON CONFLICT (key) DO UPDATE SET until = excluded.until`, from.known(name), stamp(now.Add(knownFor)))
		if err != nil {
			return err
		}
	}
	for _, k := range from.counters(name) {
		if _, err := s.w.ExecContext(ctx, `DELETE FROM guess WHERE key = ?`, k.key); err != nil {
			return err
		}
	}
	return nil
}

// hashing bounds how many PINs are hashed at once: each takes argonMemory.
var hashing = semaphore.NewWeighted(2)
