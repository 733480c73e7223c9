package store

import (
	"context"
	"database/sql"
	"errors"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"lugtak/core/fault"
	"lugtak/core/listing"
	"lugtak/core/record"
)

// LetScriptIn makes a token; its secret is shown this once. Names are unique.
func (s *Store) LetScriptIn(
	ctx context.Context,
	name string,
	scope listing.Scope,
	by string,
	now time.Time,
) (secret string, err error) {
	name = strings.TrimSpace(name)
	if name == "" || len(name) > maxName {
		return "", fault.New(
			fault.Missing,
			"name",
			"The name is empty or too long.",
			"Say what the script is for, in up to 60 characters.",
		)
	}
	if !slices.Contains(listing.Scopes, scope) {
		return "", fault.New(fault.BadChoice, "scope", "There is no such scope.", "Choose read, write or calendar.")
	}
	all, err := s.Scripts(ctx)
	if err != nil {
		return "", err
	}
	for _, x := range all {
		if strings.EqualFold(x.Name, name) {
			return "", fault.New(
				fault.Exists,
				"name",
				"A script of that name is let in already.",
				"End its token first, or choose another name.",
			)
		}
	}
	secret = token()
	x := record.ScriptLetIn{Script: uuid.NewString(), Name: name, Scope: string(scope), Token: digest(secret)}
	err = s.act(ctx, record.EventID("script:"+x.Script), by, now, x, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO script_token (id, token, name, scope, by, made) VALUES (?,?,?,?,?,?)`,
			x.Script, x.Token, name, x.Scope, by, stamp(now))
		return err
	})
	return secret, err
}

// KeepScriptOut ends a token.
func (s *Store) KeepScriptOut(ctx context.Context, id, by string, now time.Time) error {
	return s.act(ctx, record.EventID("script-out:"+id), by, now, record.ScriptKeptOut{Script: id}, func(tx *sql.Tx) error {
		return endRow(ctx, tx, `DELETE FROM script_token WHERE id = ?`, id)
	})
}

// endRow deletes the one row that an act ends; one that is not there is told.
func endRow(ctx context.Context, tx *sql.Tx, query, id string) error {
	res, err := tx.ExecContext(ctx, query, id)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n != 1 {
		return errors.Join(fault.New(fault.NotFound, "id", "There is none of that name here.", "Reload the page."), err)
	}
	return nil
}

const selectScript = `SELECT id, name, scope, by, made, used FROM script_token `

// Scripts lists who has a token, by name.
func (s *Store) Scripts(ctx context.Context) ([]listing.Script, error) {
	rows, err := s.r.QueryContext(ctx, selectScript+`ORDER BY name`)
	var out []listing.Script
	err = eachRow(rows, err, func(scan scanner) error {
		x, err := scanScript(rows)
		if err != nil {
			return err
		}
		out = append(out, x)
		return nil
	})
	return out, err
}

func scanScript(row interface{ Scan(...any) error }) (x listing.Script, err error) {
	var made, used string
	if err := row.Scan(&x.ID, &x.Name, &x.Scope, &x.By, &made, &used); err != nil {
		return x, err
	}
	x.Made, err = time.Parse(time.RFC3339Nano, made)
	if used == "" || err != nil {
		return x, err
	}
	x.Used, err = time.Parse(time.RFC3339Nano, used)
	return x, err
}

// ScriptOf finds whose token a secret is; ok is false where it is nobody's.
func (s *Store) ScriptOf(ctx context.Context, secret string, now time.Time) (x listing.Script, ok bool, err error) {
	if secret == "" {
		return x, false, nil
	}
	x, err = scanScript(s.r.QueryRowContext(ctx, selectScript+`WHERE token = ?`, digest(secret)))
	if errors.Is(err, sql.ErrNoRows) {
		return x, false, nil
	}
	if err == nil && now.Sub(x.Used) >= seenEvery {
		_, _ = s.w.ExecContext(ctx, `UPDATE script_token SET used = ? WHERE id = ?`, stamp(now), x.ID)
	}
	return x, err == nil, err
}

// ScriptLives says that a script's token has not been ended.
func (s *Store) ScriptLives(ctx context.Context, id string) bool {
	var n int
	err := s.r.QueryRowContext(ctx, `SELECT count(*) FROM script_token WHERE id = ?`, id).Scan(&n)
	return err == nil && n == 1
}

// ToolSends says that a tool has a token, and sends its pulls by itself.
func (s *Store) ToolSends(ctx context.Context, tool string) (sends bool, err error) {
	err = s.known(ctx, func(sh *shop) { sends = sh.toolTokens[tool] != "" })
	return sends, err
}

// MakeToolToken gives a tool a new secret to send with; the one before ends.
func (s *Store) MakeToolToken(ctx context.Context, tool, by string, now time.Time) (secret string, err error) {
	secret = token()
	body := record.ToolToken{Tool: tool, Token: digest(secret)}
	err = s.act(ctx, record.EventID("token:"+uuid.NewString()), by, now, body, func(tx *sql.Tx) error {
		if _, err := tx.ExecContext(ctx, `DELETE FROM tool_token WHERE tool = ?`, tool); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO tool_token VALUES (?,?)`, digest(secret), tool)
		return err
	})
	return secret, err
}

// ToolOf finds the tool a secret belongs to; empty if none.
func (s *Store) ToolOf(ctx context.Context, secret string) (string, error) {
	var tool string
	err := s.r.QueryRowContext(ctx, `SELECT tool FROM tool_token WHERE token = ?`, digest(secret)).Scan(&tool)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	return tool, err
}
