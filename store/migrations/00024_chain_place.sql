-- +goose Up
-- How far each shop of the chain has been followed: one that is named late, or was cut off in the middle of a record,
-- is read from there.
CREATE TABLE chain_place (
    shop  TEXT NOT NULL, -- fingerprint of its key
    what  TEXT NOT NULL, -- acts, or lines
    place INTEGER NOT NULL,
    PRIMARY KEY (shop, what)
) STRICT, WITHOUT ROWID;
