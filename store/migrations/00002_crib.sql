-- +goose Up
-- The crib's log: calibrations, and tools taken out of use and back.
CREATE TABLE crib (
    n       INTEGER PRIMARY KEY,
    id      TEXT NOT NULL UNIQUE,
    at      TEXT NOT NULL,
    body    TEXT NOT NULL
) STRICT;
-- +goose StatementBegin
CREATE TRIGGER crib_no_update BEFORE UPDATE ON crib
BEGIN SELECT RAISE(ABORT, 'the log is never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER crib_no_delete BEFORE DELETE ON crib
BEGIN SELECT RAISE(ABORT, 'the log is never changed'); END;
-- +goose StatementEnd
