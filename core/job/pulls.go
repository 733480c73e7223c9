package job

import (
	"slices"
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/record"
)

// Pull is one tightening in the ledger, without its trace.
type Pull struct {
	ID        string
	Step      operation.StepID
	Stage     int // from 0
	Fastener  FastenerID
	Evidence  pull.Evidence
	Tool      string // its name
	Adapter   string
	SetNm     float64
	Result    pull.Result
	Kept      bool
	Traced    bool // the journal has its samples
	Simulated bool
	Together  bool // stated at once with the others of its round
	Means     Means
	ErrDeg    float64 // how far off the angle may be, degrees either way; 0 where nothing says it
	Cause     Cause
	Note      string
	Claim     string
	By        string
	At        time.Time
	Seq       int
	StruckWhy string
	StruckBy  string
}

// Counts says that it pays a stage.
func (p *Pull) Counts() bool { return p.Kept && p.StruckWhy == "" && p.Result.Verdict == pull.Keep }

// Stands says that a pull still speaks of its fastener: it counts, nothing was begun anew since, and the joint's recipe
// has its stage.
func (s *State) Stands(p *Pull) bool {
	f := s.Fasteners[p.Fastener]
	return p.Counts() && f != nil && p.Seq >= f.Since && p.Stage < len(s.stages[p.Fastener.Joint])
}

// LastTool names the tool that somebody pulled with last in this job; empty where there is none.
func (s *State) LastTool(by string) string {
	last := &Pull{}
	for _, p := range s.Pulls {
		if p.By == by && p.Tool != "" && p.Seq > last.Seq {
			last = p
		}
	}
	return last.Tool
}

// TurnedDeg is the angle its stage was turned by, degrees; 0 of none.
func (p *Pull) TurnedDeg() float64 {
	if len(p.Result.Stages) == 0 {
		return 0
	}
	return p.Result.Stages[0].AngleDeg
}

// ReadNm is the torque a tool has read, N·m; 0 where none was read. What a click wrench was set to
// is no reading: see SetAtBoltNm.
func (p *Pull) ReadNm() float64 {
	if p.Evidence == pull.Traced || p.Evidence == pull.Stated {
		return p.Result.PeakNm
	}
	return 0
}

// SetAtBoltNm is what reaches the bolt at the setting a click was stated for, N·m; 0 for others.
func (p *Pull) SetAtBoltNm() float64 {
	if p.Evidence == pull.Clicked {
		return p.Result.PeakNm
	}
	return 0
}

// Setting is what somebody stated a tool stands at, or where they put the mark.
type Setting struct {
	Joint   string
	Stage   int
	Tool    string // its id; empty for a mark
	Name    string
	Adapter string
	SetNm   float64
	BoltNm  float64 // what reaches the fastener
	DragNm  float64 // of the nut, where the figure comes on top of it
	Letter  string  // of that nut
	Seq     int
}

// ownPull is a pull that may be changed: a job has many and few change, so clone
// shares them. It is nil for one that is not there.
func (f *Fastening) ownPull(id string) *Pull {
	p := f.Pulls[id]
	if p == nil {
		return nil
	}
	own := *p
	f.Pulls[id] = &own
	return &own
}

// applyPulled takes a pull into the ledger; a good one pays its stage.
func (s *State) applyPulled(e Event, b record.Pulled) {
	id := FastenerID{b.Joint, b.Letter}
	p := &Pull{
		ID:        string(e.ID),
		Step:      operation.StepID(b.Step),
		Stage:     b.Stage,
		Fastener:  id,
		Evidence:  pull.Evidence(b.Evidence),
		Tool:      b.Tool,
		Adapter:   b.Adapter,
		SetNm:     b.SetNm,
		Result:    fromResult(b.Result),
		Kept:      b.Kept,
		Traced:    len(b.Trace) > 0,
		Simulated: b.Simulated,
		Together:  b.Together,
		Means:     Means(b.Means),
		ErrDeg:    b.ErrDeg,
		Cause:     Cause(b.Cause),
		Note:      b.Note,
		Claim:     b.Claim,
		By:        e.By,
		At:        e.At,
		Seq:       e.Seq,
	}
	s.Pulls[p.ID] = p
	s.PullOrder = append(s.PullOrder, p.ID)
	if st := s.Steps[operation.StepID(b.Step)]; st != nil {
		st.Postponed = false
	}
	f := s.Fasteners[id]
	if f == nil {
		return
	}
	f.Pulls = append(slices.Clip(f.Pulls), p.ID)
	f.Seq = e.Seq
	f.Blocks = pull.Needs(b.Blocks)
	f.Gauged = f.Gauged && !(b.Kept && p.Result.Verdict == pull.Keep)
	if b.Kept {
		s.count(p, e.Seq)
	}
	if p.Result.Verdict != pull.Keep { // the wrench is looked at again before the next
		delete(s.Settings, e.By)
	}
}

// count pays a stage with a pull that was good. What was left not measured pays all
// the stages there are: nobody comes back to it.
func (s *State) count(p *Pull, seq int) {
	f := s.Fasteners[p.Fastener]
	if f == nil {
		return
	}
	f.Seq = seq
	if p.Result.Verdict != pull.Keep || f.Done != p.Stage {
		return
	}
	f.Done++
	if p.Evidence == pull.NotMeasured {
		f.Done = s.lastStage(p) + 1
		f.Cause = p.Cause
	}
	f.Evidence = s.weakest(f)
}

// lastStage is the last stage of the step a pull belongs to.
func (s *State) lastStage(p *Pull) int {
	st := s.Plan.Step(p.Step)
	if st == nil {
		return p.Stage
	}
	_, to := s.Span(st)
	return max(p.Stage, to)
}

// weakest is the evidence of a fastener: the least of what paid a stage that names a
// figure, or what there is where none does. What was left not measured stays so, whichever
// stage it was. A stage that was done over is known as it was done last.
func (s *State) weakest(f *Fastener) pull.Evidence {
	paid := map[int]pull.Evidence{}
	for _, id := range f.Pulls {
		if p := s.Pulls[id]; p.Counts() && p.Seq >= f.Since {
			paid[p.Stage] = p.Evidence
		}
	}
	var figured, any pull.Evidence
	stages := s.stages[f.Joint]
	for no, by := range paid {
		any = weaker(any, by)
		if no < len(stages) && stages[no].HasFigure() {
			figured = weaker(figured, by)
		}
	}
	if figured == "" || any == pull.NotMeasured {
		return any
	}
	return figured
}

func weaker(a, b pull.Evidence) pull.Evidence {
	if a == "" || b.Weaker(a) {
		return b
	}
	return a
}

// owedAnew opens the fasteners of a joint whose figure changed.
func (s *State) owedAnew(joint string, slacken bool, seq int) {
	for _, l := range s.Plan.Joint(joint).Letters {
		f := s.Fastener(joint, l)
		if f.Done == 0 {
			continue
		}
		f.begin(seq)
		if slacken {
			f.Blocks = pull.Slacken
		}
	}
}

// Pending is the last pull on a fastener that has not paid its stage, nil if there is
// none.
func (s *State) Pending(f *Fastener) *Pull {
	if len(f.Pulls) == 0 {
		return nil
	}
	p := s.Pulls[f.Pulls[len(f.Pulls)-1]]
	if p.StruckWhy != "" || p.Stage != f.Done || p.Seq < f.Since {
		return nil
	}
	return p
}

// The commands that correct what was pulled.
type (
	// StrikePull corrects a pull: it stays readable and counts no longer.
	StrikePull struct{ Pull, Reason string }
	// Slacken loosens a fastener to begin again, with new hardware or the old.
	Slacken struct {
		Joint, Letter string
		Renewed       bool
		Reason        string
	}
)

func (s *State) decideStrikePull(_ Meta, b StrikePull) (record.Body, error) {
	p := s.Pulls[b.Pull]
	switch {
	case p == nil:
		return nil, refuse(fault.Missing, "pull", "There is no such pull.", "Choose one from the ledger.")
	case p.StruckWhy != "":
		return nil, refuse(fault.Order, "pull", "That pull was struck before.", "Nothing more to do.")
	}
	if err := reason("reason", &b.Reason); err != nil {
		return nil, err
	}
	return record.PullStruck(b), nil
}

func (s *State) applyPullStruck(e Event, b record.PullStruck) {
	p := s.ownPull(b.Pull)
	if p == nil {
		return
	}
	counted := p.Counts()
	p.StruckWhy = b.Reason
	p.StruckBy = e.By
	f := s.Fasteners[p.Fastener]
	if f == nil {
		return
	}
	f.Seq = e.Seq
	switch {
	case counted && f.Anew:
		f.Evidence = "" // a stage of it is known by nothing now, and nobody comes back to it
	case counted:
		f.Done = min(f.Done, p.Stage)
		f.Evidence = s.weakest(f)
	}
}

func (s *State) applyPullKept(e Event, b record.PullKept) {
	p := s.ownPull(b.Pull)
	if p != nil && !p.Kept {
		p.Kept = true
		s.count(p, e.Seq)
	}
}

func (s *State) decideSlacken(m Meta, b Slacken) (record.Body, error) {
	f, err := s.touch(m, FastenerID{b.Joint, b.Letter})
	if err != nil {
		return nil, err
	}
	if f.Anew {
		return nil, refuse(fault.Order, "fastener", "It was opened once more since.",
			"What counts is how it is closed then: slacken that.")
	}
	if f.Phase != InHand {
		return nil, refuse(fault.Order, "fastener", "It is "+f.Mark().Words()+": nothing is to be slackened.",
			"Look at the picture and go on with the next.")
	}
	if f.Blocks == pull.Renew && !b.Renewed {
		return nil, refuse(fault.Blocked, "renewed", "The last pull hurt this one: new hardware goes in.",
			"Take a new one in hand and say so.")
	}
	if err := reason("reason", &b.Reason); err != nil {
		return nil, err
	}
	return record.Slackened(b), nil
}

func (s *State) applySlackened(e Event, b record.Slackened) {
	f := s.Fastener(b.Joint, b.Letter)
	if f == nil {
		return
	}
	f.Phase = InHand
	f.begin(e.Seq)
	f.Seq = e.Seq
	f.Renewed = b.Renewed
}
