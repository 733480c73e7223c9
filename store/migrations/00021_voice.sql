-- +goose Up
-- What is said aloud to a person, and whether the bench goes on by itself after a good pull.
ALTER TABLE preference ADD COLUMN voice TEXT NOT NULL DEFAULT '';
ALTER TABLE preference ADD COLUMN pace TEXT NOT NULL DEFAULT '';
