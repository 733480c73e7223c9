// Package listing is what a shop's lists show, a line each: plain values that the store reads and pages show.
package listing

import (
	"lugtak/core/practice"
	"lugtak/core/record"
	"time"
)

// Row is a job as the lists show it.
type Job struct {
	ID, Vehicle, Title string
	Fleet              string // number of the vehicle; empty where it is not of this shop's fleet
	KM                 int    // on the odometer as it came in
	Owed               int
	Signed             bool
	Started            time.Time
	Broken             string
}

// Opened is what a joint took that was opened in a signed job.
type Opened struct {
	Fleet   string // number of the vehicle
	At      time.Time
	Minutes float64
	Tool    string
	Stuck   string // empty where nothing was
}

// FollowUp is what is still owed of a signed job, and on which vehicle.
type FollowUp struct {
	Job, Vehicle string
	Fleet        string // number of the vehicle; empty where it is not of this shop's fleet
	No           int
	Kind, Title  string
	AtKM         int       // on the odometer; 0 where no distance is set
	At           time.Time // zero where no day is set
}

// Hit is a job that was found, with the words around.
type Hit struct {
	Job
	Around string // the words that were found stand between two marks, HitFrom and HitTo
}

// Marks around the words that were found.
const (
	HitFrom = "\x02"
	HitTo   = "\x03"
)

// Elsewhere is a job of another shop of the chain.
type Elsewhere struct {
	Shop       string    `json:"shop"` // what it calls itself
	Job        string    `json:"job"`
	Title      string    `json:"title"`
	Started    time.Time `json:"started"`
	OdometerKM int       `json:"odometer_km"`
	Signed     bool      `json:"signed"`
	Owed       int       `json:"owed"`
	Findings   []string  `json:"findings"`
	FollowUps  []string  `json:"follow_ups"` // still owed
}

// Outside is work another shop did on a vehicle.
type Outside struct {
	record.WorkedElsewhere
	By string
	At time.Time
}

// ChainShop is a shop a node has heard of.
type Shop struct {
	Shop, Name string // fingerprint of its key, and what it is called here
	Told       time.Time
	Jobs       int
}

// Stranger is a shop of the chain that was heard and that nobody has named here: nothing it says is taken.
type Stranger struct {
	Key   string // its public key
	Says  string // what it calls itself, which proves nothing
	Heard time.Time
}

// Imported says where a job came from.
type Import struct {
	record.JobImported
	By string
	At time.Time
}

// PracticeRun is one go at an exercise as it is kept: beside the journals, sealed by none,
// shown to its owner alone.
type Run struct {
	ID, Person, Exercise string
	Seed                 uint64
	Acts                 []practice.Act
	Begun, Ended         time.Time
	Score                Score
}

// PracticeScore is what a run came to, by skill.
type Score struct {
	Met, Of int
	Faults  int
	Minutes float64
	Skills  map[string]bool
}
