-- +goose Up
-- Corrections of figures on the sheets. The old figure stays with who replaced it
-- and why.
CREATE TABLE figure (
    n       INTEGER PRIMARY KEY,
    id      TEXT NOT NULL UNIQUE,
    at      TEXT NOT NULL,
    by      TEXT NOT NULL,
    pattern TEXT NOT NULL,
    joint   TEXT NOT NULL,
    recipe  TEXT NOT NULL,
    source  TEXT NOT NULL,
    why     TEXT NOT NULL
) STRICT;
CREATE INDEX figure_pattern ON figure (pattern);
-- +goose StatementBegin
CREATE TRIGGER figure_no_update BEFORE UPDATE ON figure
BEGIN SELECT RAISE(ABORT, 'a figure is struck, not changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER figure_no_delete BEFORE DELETE ON figure
BEGIN SELECT RAISE(ABORT, 'a figure is struck, not changed'); END;
-- +goose StatementEnd
