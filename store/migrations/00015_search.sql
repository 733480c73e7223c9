-- +goose Up
-- Words of every job, to be found: the lists are made anew.
CREATE TABLE search_job (
    id  INTEGER PRIMARY KEY,
    job TEXT NOT NULL UNIQUE
) STRICT;
CREATE VIRTUAL TABLE search USING fts5(body, tokenize = 'unicode61 remove_diacritics 2', prefix = '2 3');
UPDATE projection SET upto = 0;
