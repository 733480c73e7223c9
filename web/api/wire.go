package api

import (
	"slices"
	"time"

	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/vehicle"
)

// The resources as they are sent. Times are RFC 3339, torques newton metres, angles degrees.

// Page is one page of a list: as many as were asked for at most, and where the next begins.
type Page[T any] struct {
	Items []T    `json:"items"`
	Next  string `json:"next,omitempty"` // the value of after for the next page; absent on the last
}

// Vehicle is one of the fleet.
type Vehicle struct {
	ID      string `json:"id,omitempty"`
	Fleet   string `json:"fleet"`
	Plate   string `json:"plate"`
	VIN     string `json:"vin"`
	Pattern string `json:"pattern,omitempty"` // as sheet, which is its name since 2026-11
	Sheet   string `json:"sheet,omitempty"`
	Name    string `json:"name,omitempty"`
	Bay     string `json:"bay,omitempty"`
}

func vehicleOf(v vehicle.Vehicle) Vehicle {
	return Vehicle{
		ID:      v.ID,
		Fleet:   v.Fleet,
		Plate:   v.Plate,
		VIN:     v.VIN,
		Pattern: v.Pattern,
		Sheet:   v.Pattern,
		Name:    v.Name,
		Bay:     v.Bay,
	}
}

// States of a job.
const (
	stateOpen   = "open"
	stateSigned = "signed"
	stateBroken = "broken" // its record is not the one that was sealed
)

// Job is a job as it is listed.
type Job struct {
	ID         string    `json:"id"`
	Vehicle    string    `json:"vehicle"`
	Title      string    `json:"title"`
	State      string    `json:"state"`
	Owed       int       `json:"owed"`
	OdometerKM int       `json:"odometer_km"`
	Started    time.Time `json:"started"`
}

func jobOf(r listing.Job) Job {
	return Job{
		ID:         r.ID,
		Vehicle:    r.Vehicle,
		Title:      r.Title,
		State:      stateOf(r.Broken, r.Signed),
		Owed:       r.Owed,
		OdometerKM: r.KM,
		Started:    r.Started,
	}
}

func stateOf(broken string, signed bool) string {
	switch {
	case broken != "":
		return stateBroken
	case signed:
		return stateSigned
	}
	return stateOpen
}

// Whole is a job with what stands before its signature, or with the signature.
type Whole struct {
	Job
	Complaint string     `json:"complaint"`
	Seq       int        `json:"seq"`
	Next      string     `json:"next_step,omitempty"`
	Gates     []Gate     `json:"gates"`
	Signature *Signature `json:"signature,omitempty"`
	Simulated bool       `json:"simulated"`
}

// Gate is what stands before the signature.
type Gate struct {
	Key    string `json:"key"`
	Title  string `json:"title"`
	Met    bool   `json:"met"`
	Passed string `json:"passed,omitempty"`
	Remedy string `json:"remedy,omitempty"`
}

// Signature is who signed a job.
type Signature struct {
	By   string    `json:"by"`
	At   time.Time `json:"at"`
	Note string    `json:"note,omitempty"`
}

func wholeOf(st *job.State) Whole {
	w := Whole{
		Job: Job{
			ID:         st.ID,
			Vehicle:    st.Vehicle.ID,
			Title:      "Unreadable",
			State:      stateOf(st.Broken, st.Signature != nil),
			OdometerKM: st.OdometerKM,
			Started:    st.Started,
		},
		Complaint: st.Complaint,
		Seq:       st.Seq,
		Gates:     []Gate{},
		Simulated: st.Simulated(),
	}
	if st.Plan != nil {
		w.Title = st.Title()
		w.Owed = len(st.Owed())
	}
	if x := st.Signature; x != nil { // the gates as they were seen when it was signed
		w.Signature = &Signature{By: x.By, At: x.At, Note: x.Note}
		for _, g := range x.Gates {
			w.Gates = append(w.Gates, Gate{Key: g.Key, Title: g.Title, Met: g.Met, Passed: g.Passed})
		}
		return w
	}
	if st.Plan == nil || len(st.Plan.Steps) == 0 {
		return w
	}
	w.Next = string(st.Next())
	for _, g := range st.Gates() {
		x := Gate{Key: g.Key, Title: g.Title, Met: g.Met, Remedy: g.Remedy}
		if g.Deviation != nil {
			x.Passed = g.Deviation.By
		}
		w.Gates = append(w.Gates, x)
	}
	return w
}

// Step is one step of a job with how far it is.
type Step struct {
	ID      string     `json:"id"`
	Title   string     `json:"title"`
	Corner  string     `json:"corner,omitempty"`
	Joint   string     `json:"joint,omitempty"`
	Minutes float64    `json:"minutes"`
	Done    bool       `json:"done"`
	Later   bool       `json:"later,omitempty"`
	By      string     `json:"by,omitempty"`
	At      *time.Time `json:"at,omitempty"`
	Note    string     `json:"note,omitempty"`
	Caution string     `json:"caution,omitempty"`
}

func stepsOf(st *job.State) []Step {
	out := []Step{}
	if st.Plan == nil {
		return out
	}
	for i := range st.Plan.Steps {
		p := &st.Plan.Steps[i]
		x := Step{
			ID:      string(p.ID),
			Title:   p.Title,
			Corner:  string(p.Corner),
			Joint:   p.Joint,
			Minutes: p.Minutes,
			Done:    st.StepDone(p.ID),
			Caution: p.Caution,
		}
		if s := st.Steps[p.ID]; s != nil {
			x.Later, x.By, x.Note = s.Postponed, s.By, s.Note
			x.At = when(s.At)
		}
		out = append(out, x)
	}
	return out
}

func when(t time.Time) *time.Time {
	if t.IsZero() {
		return nil
	}
	return &t
}

// Pull is one tightening as it was recorded.
type Pull struct {
	ID        string    `json:"id"`
	Seq       int       `json:"seq"`
	Step      string    `json:"step"`
	Joint     string    `json:"joint"`
	Letter    string    `json:"letter"`
	Stage     int       `json:"stage"`
	Evidence  string    `json:"evidence"`
	Tool      string    `json:"tool,omitempty"`
	Means     string    `json:"means,omitempty" jsonschema_description:"of an angle: mark, protractor, phone, slot"`
	ErrDeg    float64   `json:"err_deg,omitempty" jsonschema_description:"how far off an angle may be, either way"`
	SetNm     float64   `json:"set_nm,omitempty" jsonschema_description:"on a click wrench"`
	AtBoltNm  float64   `json:"set_at_bolt_nm,omitempty" jsonschema_description:"what reaches the bolt at that setting"`
	PeakNm    float64   `json:"peak_nm,omitempty" jsonschema_description:"what a tool has read; a setting is none"`
	Verdict   string    `json:"verdict"`
	Signature string    `json:"signature"`
	Sure      float64   `json:"sure"`
	Counts    bool      `json:"counts"`
	Struck    string    `json:"struck,omitempty"`
	Simulated bool      `json:"simulated,omitempty"`
	Together  bool      `json:"together,omitempty" jsonschema_description:"stated at once with the others of its round"`
	By        string    `json:"by"`
	At        time.Time `json:"at"`
}

func pullsOf(st *job.State) []Pull {
	out := []Pull{}
	for _, p := range st.Pulls {
		out = append(out, Pull{
			ID:        p.ID,
			Seq:       p.Seq,
			Step:      string(p.Step),
			Joint:     p.Fastener.Joint,
			Letter:    p.Fastener.Letter,
			Stage:     p.Stage + 1,
			Evidence:  string(p.Evidence),
			Tool:      p.Tool,
			Means:     string(p.Means),
			ErrDeg:    p.ErrDeg,
			SetNm:     p.SetNm,
			AtBoltNm:  p.SetAtBoltNm(),
			PeakNm:    p.ReadNm(),
			Verdict:   string(p.Result.Verdict),
			Signature: string(p.Result.Signature),
			Sure:      p.Result.Sure,
			Counts:    p.Counts(),
			Struck:    p.StruckWhy,
			Simulated: p.Simulated,
			Together:  p.Together,
			By:        p.By,
			At:        p.At,
		})
	}
	slices.SortFunc(out, func(a, b Pull) int { return a.Seq - b.Seq })
	return out
}

// Fastener is a line of the ledger: one bolt or nut that was touched.
type Fastener struct {
	Joint    string `json:"joint"`
	Letter   string `json:"letter"`
	Grade    string `json:"grade" jsonschema_description:"as in the account"`
	Mark     string `json:"mark"`
	Evidence string `json:"evidence,omitempty"`
	Owed     bool   `json:"owed"`
	Renewed  bool   `json:"renewed"`
	Done     int    `json:"stages_paid"`
	Stages   int    `json:"stages_of"`
	Recipe   string `json:"recipe"`
}

func ledgerOf(st *job.State) []Fastener {
	out := []Fastener{}
	if st.Plan == nil {
		return out
	}
	for _, x := range st.Account().Fasteners {
		f := st.Fasteners[x.Fastener]
		out = append(out, Fastener{
			Joint:    f.Joint,
			Letter:   f.Letter,
			Grade:    string(x.Grade),
			Mark:     string(f.Sign()),
			Evidence: string(f.Evidence),
			Owed:     f.Owed(),
			Renewed:  f.Renewed,
			Done:     f.Done,
			Stages:   f.Stages,
			Recipe:   st.Plan.Joint(f.Joint).Recipe,
		})
	}
	return out
}

// Account is what a job comes to.
type Account struct {
	Opened    int            `json:"opened" jsonschema_description:"fasteners that were touched"`
	Renewed   int            `json:"renewed" jsonschema_description:"of those, with new hardware"`
	Grades    map[string]int `json:"grades" jsonschema_description:"how many stand at each grade, every grade named"`
	Fasteners []Fastener     `json:"fasteners" jsonschema_description:"in the order of the plan"`
}

func accountOf(st *job.State) Account {
	a := st.Account()
	out := Account{Opened: a.Opened(), Renewed: a.Renewed(), Grades: map[string]int{}, Fasteners: ledgerOf(st)}
	for _, g := range job.Grades() {
		out.Grades[string(g)] = a.Count(g)
	}
	return out
}

// Finding is what was seen outside the job, for the owner to decide.
type Finding struct {
	ID    string     `json:"id,omitempty"`
	Text  string     `json:"text"`
	Place string     `json:"place,omitempty"`
	By    string     `json:"by,omitempty"`
	At    *time.Time `json:"at,omitempty"`
}

func findingOf(f job.Finding) Finding {
	return Finding{ID: f.ID, Text: f.Text, Place: f.Place, By: f.By, At: when(f.At)}
}

// FollowUp is what is owed after a signature.
type FollowUp struct {
	Job     string     `json:"job"`
	Vehicle string     `json:"vehicle"`
	No      int        `json:"no"`
	Kind    string     `json:"kind"`
	Title   string     `json:"title"`
	AtKM    int        `json:"at_km,omitempty"`
	Due     *time.Time `json:"due,omitempty"`
	Closed  *Closed    `json:"closed,omitempty"`
}

// Closed is how a follow-up ended.
type Closed struct {
	By string    `json:"by"`
	At time.Time `json:"at"`
}

func dueOf(st *job.State) []FollowUp {
	out := []FollowUp{}
	for _, d := range st.Dues() {
		x := FollowUp{
			Job:     st.ID,
			Vehicle: st.Vehicle.ID,
			No:      d.No,
			Kind:    d.Kind,
			Title:   d.Title,
			AtKM:    d.AtKM,
			Due:     when(d.At),
		}
		if d.Closed != nil {
			x.Closed = &Closed{By: d.Closed.By, At: d.Closed.At}
		}
		out = append(out, x)
	}
	return out
}

// Begin is what begins a job.
type Begin struct {
	ID         string `json:"id" jsonschema:"format=uuid"`
	Vehicle    string `json:"vehicle"`
	Complaint  string `json:"complaint"`
	OdometerKM int    `json:"odometer_km"`
	WhyBack    string `json:"why_back,omitempty"`
}
