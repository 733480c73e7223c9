-- +goose Up
-- v is the version of the event's kind, ask the digest of what was asked; lines of
-- the first release have neither.
ALTER TABLE event ADD COLUMN v INTEGER NOT NULL DEFAULT 0;
ALTER TABLE event ADD COLUMN ask TEXT NOT NULL DEFAULT '';

-- The shop's own journal: tools, figures, shelf, people, imports, keys.
CREATE TABLE act (
    n       INTEGER PRIMARY KEY,
    id      TEXT NOT NULL UNIQUE,
    at      TEXT NOT NULL,
    by      TEXT NOT NULL,
    kind    TEXT NOT NULL,
    body    TEXT NOT NULL,
    link    TEXT NOT NULL
) STRICT;

-- How long both journals are and how they end, signed with the shop's key.
CREATE TABLE head (
    id          INTEGER PRIMARY KEY CHECK (id = 1),
    events      INTEGER NOT NULL,
    event_link  TEXT NOT NULL,
    acts        INTEGER NOT NULL,
    act_link    TEXT NOT NULL,
    key         TEXT NOT NULL,
    signature   TEXT NOT NULL
) STRICT;

-- +goose StatementBegin
CREATE TRIGGER act_no_update BEFORE UPDATE ON act
BEGIN SELECT RAISE(ABORT, 'the journal is never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER act_no_delete BEFORE DELETE ON act
BEGIN SELECT RAISE(ABORT, 'the journal is never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER act_only_append BEFORE INSERT ON act
WHEN NEW.n <> (SELECT COALESCE(MAX(n), 0) + 1 FROM act)
  OR EXISTS (SELECT 1 FROM act WHERE id = NEW.id)
BEGIN SELECT RAISE(ABORT, 'the journal only grows at its end'); END;
-- +goose StatementEnd
