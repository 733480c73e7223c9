package store

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"database/sql"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"time"
	"unicode"

	"github.com/google/uuid"
	"golang.org/x/crypto/argon2"
	"golang.org/x/text/secure/precis"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/record"
)

// Argon2id at 19 MiB, two passes: the least OWASP's password storage cheat
// sheet names (from memory).
const (
	argonTime, argonMemory, argonThreads = 2, 19 * 1024, 1
	saltLen, keyLen                      = 16, 32
)

func hashPIN(pin string, salt []byte) string {
	key := argon2.IDKey([]byte(pin), salt, argonTime, argonMemory, argonThreads, keyLen)
	b := base64.RawStdEncoding
	return fmt.Sprintf(
		"$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s",
		argon2.Version,
		argonMemory,
		argonTime,
		argonThreads,
		b.EncodeToString(salt),
		b.EncodeToString(key),
	)
}

func matchPIN(stored, pin string) bool {
	parts := strings.Split(stored, "$")
	if len(parts) != 6 {
		return false
	}
	salt, err := base64.RawStdEncoding.DecodeString(parts[4])
	if err != nil {
		return false
	}
	return subtle.ConstantTimeCompare([]byte(hashPIN(pin, salt)), []byte(stored)) == 1
}

// AddPerson lets somebody sign in. Names are unique; a PIN has 4 to 12 digits.
func (s *Store) AddPerson(ctx context.Context, name string, role job.Role, pin, by string) (listing.Person, error) {
	p, err := s.checkPerson(ctx, NewPerson{name, role, pin})
	if err != nil {
		return listing.Person{}, err
	}
	x := personOf(p)
	insert := func(tx *sql.Tx) error { return x.insert(ctx, tx) }
	err = s.act(ctx, record.EventID("person:"+x.person.ID), by, time.Now(), x.body, insert)
	return x.person, err
}

// NewPerson is somebody who is to sign in.
type NewPerson struct {
	Name string
	Role job.Role
	PIN  string
}

// checkPerson refuses what is no name, role or PIN, and a name somebody here could be taken for.
func (s *Store) checkPerson(ctx context.Context, p NewPerson) (NewPerson, error) {
	p, err := p.check()
	if err != nil {
		return p, err
	}
	return p, s.tellsApart(ctx, p.Name)
}

// check refuses what is no name, role or PIN.
func (p NewPerson) check() (NewPerson, error) {
	p.Name = strings.TrimSpace(p.Name)
	switch {
	case p.Name == "" || len(p.Name) > maxName:
		return p, fault.New(fault.Missing, "name", "The name is empty or too long.", "Give a name of up to 60 characters.")
	case !goodRole(p.Role):
		return p, errRole
	case strings.HasPrefix(strings.ToLower(p.Name), listing.ScriptSigns):
		return p, fault.New(fault.BadChoice, "name", "A person who is called a script could be taken for one.",
			"Give the name they are called by.")
	}
	return p, checkPIN(p.PIN)
}

// added is somebody as they are put down: in the journal and in the list.
type added struct {
	person listing.Person
	stored string // of the PIN
	body   record.PersonAdded
}

func personOf(p NewPerson) added {
	x := added{person: listing.Person{ID: uuid.NewString(), Name: p.Name, Role: p.Role, Active: true},
		stored: newPIN(p.PIN)}
	x.body = record.PersonAdded{Person: x.person.ID, Name: p.Name, Role: string(p.Role), PIN: sha(x.stored)}
	return x
}

func (x added) insert(ctx context.Context, tx *sql.Tx) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO person (id, name, role, pin) VALUES (?,?,?,?)`,
		x.person.ID, x.person.Name, string(x.person.Role), x.stored)
	if unique(err) {
		return fault.New(fault.Exists, "name", "Somebody of that name is here already.",
			"Add something that tells them apart.")
	}
	return err
}

var errRole = fault.New(fault.BadChoice, "role", "There is no such role.", "Choose technician, foreman or reader.")

func goodRole(r job.Role) bool { return r == job.Technician || r == job.Foreman || r == job.Reader }

// scripts of which a name uses one: letters of two look alike and are not.
var scripts = []*unicode.RangeTable{unicode.Latin, unicode.Cyrillic, unicode.Greek}

// tellsApart refuses a name that somebody else could be taken for: the same but for case,
// width, marks or spaces, or with letters of two scripts.
func (s *Store) tellsApart(ctx context.Context, name string) error {
	key, err := NameKey(name)
	if err != nil {
		return err
	}
	all, err := s.People(ctx)
	for _, p := range all {
		if other, bad := precis.Nickname.CompareKey(p.Name); bad == nil && other == key {
			return fault.New(fault.Exists, "name", "Somebody of that name is here already: "+p.Name+".",
				"Add something that tells them apart.")
		}
	}
	return err
}

// NameKey is what two names share that could be taken for one another: the same but for case,
// width, marks or spaces. A name of letters of two scripts has none.
func NameKey(name string) (string, error) {
	key, err := precis.Nickname.CompareKey(name)
	if err != nil {
		return "", fault.New(
			fault.BadChoice,
			"name",
			"The name has a character that is none of a name.",
			"Use letters, digits and spaces.",
		)
	}
	used := 0
	for _, script := range scripts {
		if strings.ContainsFunc(name, func(r rune) bool { return unicode.Is(script, r) }) {
			used++
		}
	}
	if used > 1 {
		return "", fault.New(fault.BadChoice, "name", "The name mixes letters of two scripts.", "Write it in one of them.")
	}
	return key, nil
}

// SameName says that two names are of one person, or could be taken for it.
func SameName(a, b string) bool {
	x, badX := precis.Nickname.CompareKey(a)
	y, badY := precis.Nickname.CompareKey(b)
	return badX == nil && badY == nil && x == y || a == b
}

// maxName bounds a person's name.
const maxName = 60

// newPIN is how a PIN is stored, with a salt of its own.
func newPIN(pin string) string {
	salt := make([]byte, saltLen)
	rand.Read(salt)
	return hashPIN(pin, salt)
}

// checkPIN refuses what is no PIN, and what anybody tries first: one digit over and over, two
// in turn, a run up or down the keys, a year.
func checkPIN(pin string) error {
	switch {
	case len(pin) < 4 || len(pin) > 12 || strings.Trim(pin, "0123456789") != "":
		return fault.New(fault.BadPIN, "pin", "A PIN has 4 to 12 digits.", "Choose one that is not easy to guess.")
	case stepsAlike(pin), strings.Repeat(pin[:2], len(pin)/2) == pin:
		return fault.New(fault.BadPIN, "pin", "That PIN is one of the first anybody tries.",
			"Choose digits in no row and not all the same.")
	case len(pin) == 4 && (pin[:2] == "19" || pin[:2] == "20"):
		return fault.New(fault.BadPIN, "pin", "That PIN reads as a year.", "Choose digits that say nothing of you.")
	}
	return nil
}

// stepsAlike says that each digit is as far from the one before it as the next: 0000, 1234, 8642.
func stepsAlike(pin string) bool {
	for i := 2; i < len(pin); i++ {
		if pin[i]-pin[i-1] != pin[i-1]-pin[i-2] {
			return false
		}
	}
	return true
}

// People lists everybody, by name.
func (s *Store) People(ctx context.Context) ([]listing.Person, error) {
	rows, err := s.r.QueryContext(ctx, `SELECT id, name, role, active FROM person ORDER BY name`)
	return rowsOf(rows, err, func(scan scanner, p *listing.Person) error {
		return scan(&p.ID, &p.Name, &p.Role, &p.Active)
	})
}

// Prove checks a name and PIN. Each guess is counted before it is looked at, by where it comes
// from and at whom; after some wrong ones the next must wait, twice as long each time.
// A name that is not known, or was locked out, takes as long as one that is.
func (s *Store) Prove(ctx context.Context, name, pin string, from Asker, now time.Time) (listing.Person, error) {
	wrong := fault.New(fault.BadPIN, "pin", "Name and PIN do not belong together.", "Try again.")
	name = strings.TrimSpace(name)
	if len(name) > maxName || len(pin) > 12 {
		return listing.Person{}, wrong
	}
	if err := s.count(ctx, from, name, now); err != nil {
		return listing.Person{}, err
	}
	var p listing.Person
	stored := nobody
	err := s.r.QueryRowContext(ctx, `SELECT id, name, role, active, pin FROM person WHERE name = ?`, name).
		Scan(&p.ID, &p.Name, &p.Role, &p.Active, &stored)
	if err != nil && !errors.Is(err, sql.ErrNoRows) {
		return listing.Person{}, err
	}
	if err := hashing.Acquire(ctx, 1); err != nil {
		return listing.Person{}, err
	}
	same := matchPIN(stored, pin)
	hashing.Release(1)
	if !same || !p.Active {
		return listing.Person{}, wrong
	}
	return p, s.right(ctx, from, name, now)
}

// nobody is the stored PIN of a name that is not known: no PIN matches it.
var nobody = "$argon2id$v=19$m=19456,t=2,p=1$" + strings.Repeat("A", 22) + "$none"

// SetPIN gives somebody a new PIN and ends their sessions.
func (s *Store) SetPIN(ctx context.Context, person, pin, by string) error {
	if err := checkPIN(pin); err != nil {
		return err
	}
	stored := newPIN(pin)
	body := record.PINSet{Person: person, PIN: sha(stored)}
	return s.act(ctx, record.EventID("pin:"+uuid.NewString()), by, time.Now(), body, func(tx *sql.Tx) error {
		return s.changePerson(ctx, tx, person, `UPDATE person SET pin = ? WHERE id = ?`, stored)
	})
}

// SetActive lets somebody in or keeps them out; their records stay.
func (s *Store) SetActive(ctx context.Context, person string, active bool, by string) error {
	body := record.PersonActive{Person: person, Active: active}
	return s.act(ctx, record.EventID("active:"+uuid.NewString()), by, time.Now(), body, func(tx *sql.Tx) error {
		if err := otherForeman(ctx, tx, person); !active && err != nil {
			return err
		}
		return s.changePerson(ctx, tx, person, `UPDATE person SET active = ? WHERE id = ?`, active)
	})
}

// SetRole gives somebody another role.
func (s *Store) SetRole(ctx context.Context, person string, role job.Role, by string) error {
	if !goodRole(role) {
		return errRole
	}
	body := record.PersonRole{Person: person, Role: string(role)}
	return s.act(ctx, record.EventID("role:"+uuid.NewString()), by, time.Now(), body, func(tx *sql.Tx) error {
		if err := otherForeman(ctx, tx, person); role != job.Foreman && err != nil {
			return err
		}
		return s.changePerson(ctx, tx, person, `UPDATE person SET role = ? WHERE id = ?`, string(role))
	})
}

// otherForeman refuses what would leave the shop without a foreman. It is asked where the
// change is written, so that two who lock one another out at once do not both get through.
func otherForeman(ctx context.Context, tx *sql.Tx, person string) error {
	var is string
	var others int
	err := tx.QueryRowContext(ctx, `SELECT COALESCE((SELECT role FROM person WHERE id = ?2), ''), COUNT(*)
		FROM person WHERE active = 1 AND role = ?1 AND id <> ?2`, string(job.Foreman), person).Scan(&is, &others)
	if err == nil && others == 0 && is == string(job.Foreman) {
		err = fault.New(fault.LastForeman, "do", "Nobody else here is foreman.", "Let another foreman in first.")
	}
	return err
}

// changePerson changes one thing of somebody and ends their sessions.
func (s *Store) changePerson(ctx context.Context, tx *sql.Tx, person, query string, value any) error {
	res, err := tx.ExecContext(ctx, query, value, person)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n != 1 {
		return errors.Join(fault.New(fault.Missing, "person", "There is no such person.", "Choose one of the list."), err)
	}
	_, err = tx.ExecContext(ctx, `DELETE FROM session WHERE person = ?`, person)
	return err
}
