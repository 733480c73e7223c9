// Package job is the plan being carried out: a journal of events, the state
// they add up to, the gates that block a step or the signature.
//
// Decide and Apply are pure. Every time comes in with the command.
package job

import (
	"encoding/json"
	"fmt"
	"reflect"
	"time"

	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/vehicle"
)

// Event is one line of the journal. It is never changed.
type Event struct {
	ID   string    `json:"id"` // made by the client, so that a repeat is harmless
	Job  string    `json:"job"`
	Seq  int       `json:"seq"` // from 1, within the job
	At   time.Time `json:"at"`
	By   string    `json:"by"`
	Kind string    `json:"kind"`
	Body Body      `json:"body"`
}

// Body is what happened.
type Body interface{ kind() string }

// The things that happen to a job.
type (
	// Started opens the job, with its frozen plan where it has one already.
	Started struct {
		Vehicle    vehicle.Vehicle `json:"vehicle"`
		Complaint  string          `json:"complaint"`
		OdometerKM int             `json:"odometer_km"`
		Plan       operation.Plan  `json:"plan"`   // empty where a walk-round comes first
		Second     []string        `json:"second"` // systems whose deviations need a second person
		LastKM     int             `json:"last_km,omitempty"`
		WhyBack    string          `json:"why_back,omitempty"` // why the odometer runs backwards
	}
	// StepDone keeps a step that acts on no fastener.
	StepDone struct {
		Step   string  `json:"step"`
		Choice string  `json:"choice,omitempty"`
		Note   string  `json:"note,omitempty"`
		Turns  float64 `json:"turns,omitempty"` // counted, where the step counts
	}
	// StepUndone takes back a step kept by mistake.
	StepUndone struct {
		Step   string `json:"step"`
		Reason string `json:"reason"`
	}
	// Postponed puts a step off.
	Postponed struct {
		Step string `json:"step"`
	}
	// Worked cracks, removes or starts fasteners of a step's joint.
	Worked struct {
		Step    string         `json:"step"`
		Verb    operation.Verb `json:"verb"`
		Joint   string         `json:"joint"`
		Letters []string       `json:"letters"`
		Renewed bool           `json:"renewed,omitempty"` // started with new hardware
	}
	// Pulled is one tightening, good or bad, kept or not.
	Pulled struct {
		Step     string        `json:"step"`
		Joint    string        `json:"joint"`
		Letter   string        `json:"letter"`
		Stage    int           `json:"stage"` // from 0
		Evidence pull.Evidence `json:"evidence"`
		Tool     string        `json:"tool"`
		Adapter  string        `json:"adapter,omitempty"`
		SetNm    float64       `json:"set_nm,omitempty"`
		Result   pull.Result   `json:"result"`
		Kept     bool          `json:"kept"`
		Trace    [][3]float64  `json:"trace,omitempty"` // s, degrees, N·m
	}
	// Chose says which hardware a joint carries, where the sheet knows several.
	Chose struct {
		Joint   string `json:"joint"`
		Variant string `json:"variant"`
	}
	// Kept confirms a pull that was judged good.
	Kept struct {
		Pull string `json:"pull"` // id of its event
	}
	// Struck corrects a pull: it stays readable and counts no longer.
	Struck struct {
		Pull   string `json:"pull"`
		Reason string `json:"reason"`
	}
	// Slackened loosens a fastener to begin again.
	Slackened struct {
		Joint   string `json:"joint"`
		Letter  string `json:"letter"`
		Renewed bool   `json:"renewed"`
		Reason  string `json:"reason"`
	}
	// Troubled reports trouble at a step or a fastener.
	Troubled struct {
		Step   string `json:"step"`
		Joint  string `json:"joint,omitempty"`
		Letter string `json:"letter,omitempty"`
		What   string `json:"what"`
		Note   string `json:"note,omitempty"`
	}
	// Cleared ends a trouble.
	Cleared struct {
		Trouble string `json:"trouble"` // id of its event
		How     string `json:"how"`
		Renewed bool   `json:"renewed"`
	}
	// Stocked says whether a part is there.
	Stocked struct {
		Part   string `json:"part"`
		Status string `json:"status"`
	}
	// Deviated passes a gate over, by name.
	Deviated struct {
		Gate   string `json:"gate"`
		Reason string `json:"reason"`
		Second string `json:"second,omitempty"`
	}
	// Found is a finding outside the job, for the owner to decide.
	Found struct {
		Text  string `json:"text"`
		Photo []byte `json:"photo,omitempty"` // JPEG
	}
	// Signed freezes the job.
	Signed struct {
		Role string `json:"role"`
		Note string `json:"note,omitempty"`
	}
	// Reopened thaws it.
	Reopened struct {
		Reason string `json:"reason"`
	}
)

func (Started) kind() string    { return "started" }
func (StepDone) kind() string   { return "step_done" }
func (StepUndone) kind() string { return "step_undone" }
func (Postponed) kind() string  { return "postponed" }
func (Worked) kind() string     { return "worked" }
func (Pulled) kind() string     { return "pulled" }
func (Chose) kind() string      { return "chose" }
func (Kept) kind() string       { return "kept" }
func (Struck) kind() string     { return "struck" }
func (Slackened) kind() string  { return "slackened" }
func (Troubled) kind() string   { return "troubled" }
func (Cleared) kind() string    { return "cleared" }
func (Stocked) kind() string    { return "stocked" }
func (Deviated) kind() string   { return "deviated" }
func (Found) kind() string      { return "found" }
func (Signed) kind() string     { return "signed" }
func (Reopened) kind() string   { return "reopened" }

var bodies = func() map[string]reflect.Type {
	m := map[string]reflect.Type{}
	for _, b := range []Body{Started{}, StepDone{}, StepUndone{}, Postponed{}, Worked{}, Pulled{}, Chose{}, Kept{}, Struck{}, Slackened{}, Troubled{}, Cleared{}, Stocked{}, Deviated{}, Found{}, Signed{}, Reopened{},
		Answered{}, Measured{}, Recorded{}, Chosen{}, Planned{}, Matched{}, Kitted{}, Moved{}, Replanned{}} {
		m[b.kind()] = reflect.TypeOf(b)
	}
	return m
}()

// DecodeBody reads the body of an event of that kind.
func DecodeBody(kind string, data []byte) (Body, error) {
	t, ok := bodies[kind]
	if !ok {
		return nil, fmt.Errorf("event of unknown kind %q", kind)
	}
	v := reflect.New(t)
	if err := json.Unmarshal(data, v.Interface()); err != nil {
		return nil, fmt.Errorf("event of kind %q: %w", kind, err)
	}
	return v.Elem().Interface().(Body), nil
}

// UnmarshalJSON reads an event with its body.
func (e *Event) UnmarshalJSON(data []byte) error {
	type plain Event
	aux := struct {
		*plain
		Body json.RawMessage `json:"body"`
	}{plain: (*plain)(e)}
	if err := json.Unmarshal(data, &aux); err != nil {
		return err
	}
	b, err := DecodeBody(e.Kind, aux.Body)
	e.Body = b
	return err
}
