package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"encoding/json"
	"time"

	"lugtak/core/record"
)

// adopt puts what the first release kept in tables of their own into the shop's
// journal, in the order it was written.
func adopt(ctx context.Context, tx *sql.Tx) error {
	j := adopter{ctx: ctx, tx: tx}
	j.rows(`SELECT id, at, '', '', body FROM crib ORDER BY n`, j.tool)
	j.rows(`SELECT id, at, by, json_object('pattern', pattern, 'joint', joint, 'recipe', recipe,
		'source', source, 'why', why), '' FROM figure ORDER BY n`, j.figure)
	j.rows(`SELECT id, at, by, kind, text FROM shelf_file ORDER BY n`, j.file)
	j.rows(`SELECT id, '', name, role, pin FROM person ORDER BY rowid`, j.person)
	return j.err
}

// adopter appends acts; after the first error it does nothing.
type adopter struct {
	ctx  context.Context
	tx   *sql.Tx
	n    int
	link string
	err  error
}

func (j *adopter) rows(query string, take func(id, at, by, a, b string) (record.ShopBody, string, string)) {
	if j.err != nil {
		return
	}
	rows, err := j.tx.QueryContext(j.ctx, query)
	if err != nil {
		j.err = err
		return
	}
	var acts []record.Act
	for rows.Next() {
		var id, at, by, a, b string
		if err := rows.Scan(&id, &at, &by, &a, &b); err != nil {
			j.err = err
			break
		}
		body, when, who := take(id, at, by, a, b)
		if body == nil {
			break
		}
		t, _ := time.Parse(time.RFC3339Nano, when) // a time that cannot be read is year one
		act, err := record.NewAct(j.n, j.link, id, who, t, body)
		if err != nil {
			j.err = err
			break
		}
		j.n = act.N
		j.link = act.Link
		acts = append(acts, act)
	}
	if err := rows.Close(); err != nil && j.err == nil {
		j.err = err
	}
	for _, a := range acts {
		if j.err == nil {
			j.err = insertAct(j.ctx, j.tx, a)
		}
	}
}

func (j *adopter) tool(_, at, _, _, body string) (record.ShopBody, string, string) {
	var was struct {
		record.ToolLogged
		By string `json:"by"`
	}
	if err := json.Unmarshal([]byte(body), &was); err != nil {
		j.err = err
		return nil, "", ""
	}
	return was.ToolLogged, at, was.By
}

func (j *adopter) figure(_, at, by, body, _ string) (record.ShopBody, string, string) {
	var f record.FigureCorrected
	if err := json.Unmarshal([]byte(body), &f); err != nil {
		j.err = err
		return nil, "", ""
	}
	return f, at, by
}

func (j *adopter) file(_, at, by, kind, text string) (record.ShopBody, string, string) {
	return record.FileShelved{Kind: kind, Text: text}, at, by
}

func (j *adopter) person(id, _, name, role, pin string) (record.ShopBody, string, string) {
	p := record.PersonAdded{Person: id, Name: name, Role: role, PIN: sha(pin)}
	return p, "", adopted
}

// adopted signs what was there before the shop kept a journal of its own.
const adopted = "first release"

func sha(text string) string {
	sum := sha256.Sum256([]byte(text))
	return hex.EncodeToString(sum[:])
}

func insertAct(ctx context.Context, tx *sql.Tx, a record.Act) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO act (n, id, at, by, kind, body, link) VALUES (?,?,?,?,?,?,?)`,
		a.N, a.ID, a.At, a.By, a.Kind, string(a.Body), a.Link)
	return err
}
