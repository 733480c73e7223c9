package shop

import "lugtak/store"

// What callers name of the store, without importing it.
type (
	Session   = store.Session
	Asker     = store.Asker
	File      = store.File
	Source    = store.Source
	JobFile   = store.JobFile
	SheetFile = store.SheetFile
	JobFilter = store.JobFilter
	NewPerson = store.NewPerson
	Numbered  = store.Numbered
	Told      = store.Told
)

// Errors and bounds of the store that callers tell apart.
var (
	ErrNoJob     = store.ErrNoJob
	ErrNoVehicle = store.ErrNoVehicle
)

// What of the chain is followed.
const (
	ChainActs  = store.ChainActs
	ChainLines = store.ChainLines
)

// MaxJobFile is the most bytes a job's file may have.
const MaxJobFile = store.MaxJobFile

// What else the store says of its values.
var (
	DueCursor   = store.DueCursor
	JobCursor   = store.JobCursor
	Fingerprint = store.Fingerprint
	MayBeTold   = store.MayBeTold
	ReadJobFile = store.ReadJobFile
	// ReadSheetFile reads a sheet file and proves it.
	ReadSheetFile = store.ReadSheetFile
	Signed        = store.Signed
	Unwritable    = store.Unwritable
)
