-- +goose Up
-- Patterns and operations the shop has put on the Shelf, as their files read. A
-- later one with the same id stands before an earlier one; none is changed.
CREATE TABLE shelf_file (
    n    INTEGER PRIMARY KEY,
    id   TEXT NOT NULL UNIQUE,
    at   TEXT NOT NULL,
    by   TEXT NOT NULL,
    kind TEXT NOT NULL CHECK (kind IN ('pattern', 'operation')),
    text TEXT NOT NULL
) STRICT;
-- +goose StatementBegin
CREATE TRIGGER shelf_file_no_update BEFORE UPDATE ON shelf_file
BEGIN SELECT RAISE(ABORT, 'a file on the Shelf is replaced, not changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER shelf_file_no_delete BEFORE DELETE ON shelf_file
BEGIN SELECT RAISE(ABORT, 'a file on the Shelf is replaced, not changed'); END;
-- +goose StatementEnd
