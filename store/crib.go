package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"maps"
	"slices"
	"time"

	"lugtak/core/record"
	"lugtak/core/wrench"
)

// What hangs in the crib, and what was logged of it.

// LogTool adds a line to the crib's log, with the photograph of a certificate where there is one.
func (s *Store) LogTool(ctx context.Context, id record.EventID, l wrench.Logged, photo []byte) error {
	b := record.ToolLogged{
		Tool:        l.Tool,
		Kind:        l.Kind,
		Note:        l.Note,
		Pulls:       l.Pulls,
		Reference:   l.Reference,
		Certificate: l.Certificate,
		Second:      l.Second,
		Photo:       photo,
	}
	if !l.ReferenceUntil.IsZero() {
		b.ReferenceUntil = l.ReferenceUntil.Format(time.DateOnly)
	}
	for _, p := range l.Points {
		b.Points = append(b.Points, record.CheckPoint(p))
	}
	return s.act(ctx, id, l.By, l.At, b, nil)
}

// Paper reads the photograph of a certificate, or of a page a figure was read from, by the act that tells of it;
// nil where it has none.
func (s *Store) Paper(ctx context.Context, act string) ([]byte, error) {
	var b struct {
		Photo []byte `json:"photo"`
	}
	var body []byte
	err := s.r.QueryRowContext(ctx, `SELECT body FROM act WHERE id = ? AND kind IN (?, ?, ?)`, act,
		record.ToolLogged{}.ActKind(), record.ToolHung{}.ActKind(), record.FigureRead{}.ActKind()).Scan(&body)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	err = json.Unmarshal(body, &b)
	return b.Photo, err
}

// CribLog is the crib's log, oldest line first.
func (s *Store) CribLog(ctx context.Context) ([]wrench.Logged, error) {
	var log []wrench.Logged
	err := s.known(ctx, func(sh *shop) { log = slices.Clip(sh.tools) })
	return log, err
}

// HangTool puts a torque tool into the crib, or in the place of what was said of it before; photo is of the
// certificate it came with.
func (s *Store) HangTool(
	ctx context.Context,
	id record.EventID,
	t wrench.Tool,
	by string,
	at time.Time,
	photo []byte,
) error {
	return s.act(ctx, id, by, at, toHung(t, photo), nil)
}

// HangTools puts torque tools into the crib, all or none.
func (s *Store) HangTools(
	ctx context.Context, id record.EventID, list []wrench.Tool, by string, at time.Time,
) error {
	var with []beside
	for i, t := range list[1:] {
		with = append(with, beside{id.And(i + 1), toHung(t, nil)})
	}
	return s.act(ctx, id, by, at, toHung(list[0], nil), nil, with...)
}

func toHung(t wrench.Tool, photo []byte) record.ToolHung {
	b := record.ToolHung{
		Tool:        t.ID,
		Name:        t.Name,
		Kind:        t.Kind,
		MaxNm:       t.MaxNm,
		StepNm:      t.StepNm,
		Drive:       t.Drive,
		LengthMM:    t.LengthMM,
		Serial:      t.Serial,
		Certificate: t.Certificate,
		Photo:       photo,
	}
	if !t.Calibrated.IsZero() {
		b.Calibrated = t.Calibrated.Format(time.DateOnly)
	}
	return b
}

// Hung lists the shop's own torque tools, in the order they were hung, as they were said to be.
func (s *Store) Hung(ctx context.Context) ([]wrench.Tool, error) {
	var out []wrench.Tool
	err := s.known(ctx, func(sh *shop) { out = slices.Clone(sh.hung) })
	return out, err
}

// KeepStock keeps one list of what the shop has in place of the one before.
func (s *Store) KeepStock(ctx context.Context, id record.EventID, by string, at time.Time, b record.StockKept) error {
	return s.act(ctx, id, by, at, b, nil)
}

// Stock are the lists of what the shop has, by what they hold; one that is not there was never said.
func (s *Store) Stock(ctx context.Context) (out map[string]record.StockKept, err error) {
	err = s.known(ctx, func(sh *shop) { out = maps.Clone(sh.stock) })
	return out, err
}
