package office

import (
	"lugtak/core/fault"
	"lugtak/pages/kit"
)

// Imports is a list from elsewhere: chosen, looked at, taken.
type Imports struct {
	Kinds  []ImportKind
	Kind   string
	Read   *ImportRead
	Text   string
	From   string
	Second string
	Taken  string
	Fault  *fault.Fault
}

// ImportKind is a kind of list with the columns it must have, and those it may.
type ImportKind struct {
	Kind, Name string
	Required   []string
	Others     []string
	Example    string // two lines under their header; empty of a file that is no list
}

// ImportRead is a list as it was read.
type ImportRead struct {
	Columns []string
	Rows    []ImportRow
	Faults  []ImportFault // a hundred of them at most
	Faulty  int           // how many there are
	ByTwo   bool          // a figure of it is read by two people
	Job     *ImportJob
	Sheet   *ImportSheet
}

// ImportSheet is a sheet file of another shop that holds.
type ImportSheet struct {
	Name, Shop string
	Key        string // fingerprint of the key that signed it
	Trusted    string // the shop of that key, as somebody named it here; empty where nobody has
	Begins     bool   // no such model is here: it begins with the file
	Figures    []string
}

// ImportRow is a line of a list, from 1.
type ImportRow struct {
	Line  int
	Cells []string
}

// ImportFault is what is wrong with one line.
type ImportFault struct {
	Line int
	*fault.Fault
}

// ImportJob is a job file that holds.
type ImportJob struct {
	ID, Fleet, Title string
	Events           int
	Hash, Key        string // fingerprint of the key that signed its end
	Signed           bool
	Here             bool // it is in the shop already
}

// OK says that nothing is wrong with it.
func (r ImportRead) OK() bool { return len(r.Faults) == 0 }

// shownRows are as many rows as a preview shows; all are looked at.
const shownRows = 50

// Rows are those of the list that are shown.
func (v Imports) Rows() []ImportRow { return v.Read.Rows[:min(len(v.Read.Rows), shownRows)] }

// Page is for the foreman, who takes lists in.
func (v Imports) Page() kit.Page { return pages.Page("imports", "Take in a list", v) }
