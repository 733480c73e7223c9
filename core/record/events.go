package record

// What happens to a job before its work is planned.
type (
	// Started opens the job, with its frozen plan where it has one already.
	Started struct {
		Vehicle    Vehicle  `json:"vehicle"`
		Complaint  string   `json:"complaint"`
		OdometerKM int      `json:"odometer_km"`
		Plan       Plan     `json:"plan"`   // empty where a walk-round comes first
		Second     []string `json:"second"` // systems whose deviations need a second person
		LastKM     int      `json:"last_km,omitempty"`
		WhyBack    string   `json:"why_back,omitempty"` // why the odometer runs backwards
		House      *House   `json:"house,omitempty"`    // since version 2
	}
	// Answered answers a sign or test; Open takes the answer back.
	Answered struct {
		Sign string `json:"sign"`
		Ask  string `json:"ask"`
		Yes  bool   `json:"yes"`
		Open bool   `json:"open,omitempty"`

		Corner string `json:"corner,omitempty"` // since 2026-11: where it was looked at

		Position string `json:"position,omitempty"` // since 2026-11: how the vehicle stood, as in OnTheRoad
	}
	// Measured is a measurement held against its limit.
	Measured struct {
		Key          string    `json:"key"`
		Name         string    `json:"name"`
		Place        string    `json:"place"`
		Unit         string    `json:"unit"`
		Value        float64   `json:"value"`
		Readings     []float64 `json:"readings,omitempty"`
		Limit        float64   `json:"limit"`
		Least        bool      `json:"least,omitempty"`
		Floor        float64   `json:"floor,omitempty"` // of a play that may not be nil either
		Gauge        float64   `json:"gauge"`
		Source       string    `json:"source"`
		Jurisdiction string    `json:"jurisdiction"`
		Verdict      string    `json:"verdict"`
		Says         string    `json:"says"`
		Sign         string    `json:"sign,omitempty"` // answered by it
		Yes          bool      `json:"yes,omitempty"`
		Step         string    `json:"step,omitempty"`      // since 2026-11: of the plan, where it was taken at the bench
		Corner       string    `json:"corner,omitempty"`    // since 2026-11
		Simulated    bool      `json:"simulated,omitempty"` // since 2026-11: by a stand-in
		Advise       string    `json:"advise,omitempty"`    // since 2026-11: keep, machine, replace
	}
	// Driven is a recorded road test with what stood out of it.
	Driven struct {
		Tyre      string          `json:"tyre"`
		AxleRatio float64         `json:"axle_ratio"`
		Step      float64         `json:"step"`      // orders from one line to the next
		Amplitude []float64       `json:"amplitude"` // m/s² by order
		Falls     []Fall          `json:"falls"`
		Peaks     []Peak          `json:"peaks"`
		Signs     map[string]bool `json:"signs"`               // answered by it
		Simulated bool            `json:"simulated,omitempty"` // since version 2
	}
	// ProposalTaken accepts or declines what the walk-round proposes.
	ProposalTaken struct {
		Suspect string `json:"suspect"`
		Name    string `json:"name"`
		Accept  bool   `json:"accept"`
		Safety  bool   `json:"safety"`
		Side    string `json:"side,omitempty"`
		Both    bool   `json:"both,omitempty"`
		Reason  string `json:"reason,omitempty"`

		Chance float64  `json:"chance,omitempty"` // since 2026-12: said of it when it was decided, 0 to 1
		Plain  float64  `json:"plain,omitempty"`  // since 2026-12: the same by the library alone
		Work   []string `json:"work,omitempty"`   // since 2026-12: operations that renew it
	}
	// Treated has a joint's threads treated otherwise than its figure was written for, with
	// the figure that keeps the clamp. Clamps are newtons at low, middle and high.
	Treated struct {
		Joint     string     `json:"joint"`
		Was       string     `json:"was"` // treatment and figure before
		WasRecipe string     `json:"was_recipe"`
		Treatment string     `json:"treatment"`
		Recipe    string     `json:"recipe"`
		Stages    []Stage    `json:"stages"`
		Reason    string     `json:"reason"`
		ClampWasN [3]float64 `json:"clamp_was_n"`
		ClampN    [3]float64 `json:"clamp_n"`
	}
	// Reworked makes the plan anew while the job runs, around what is done.
	Reworked struct {
		Plan Plan   `json:"plan"`
		Why  string `json:"why"`
	}
	// Planned freezes the plan into the job.
	Planned struct {
		Plan   Plan     `json:"plan"`
		Second []string `json:"second"`
		House  *House   `json:"house,omitempty"` // since version 2
	}
)

// What happens to its steps.
type (
	// StepKept keeps a step that acts on no fastener.
	StepKept struct {
		Step    string  `json:"step"`
		Choice  string  `json:"choice,omitempty"`
		Note    string  `json:"note,omitempty"`
		Turns   float64 `json:"turns,omitempty"`   // counted, where the step counts
		Strokes int     `json:"strokes,omitempty"` // of the pedal until it was firm; since 2026-11
		TempC   float64 `json:"temp_c,omitempty"`  // of the oil as its level was read; since 2026-11
		Freed   string  `json:"freed,omitempty"`   // the fastener that came out by it; since 2026-11
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
	// Handled cracks, removes or starts fasteners of a step's joint.
	Handled struct {
		Step    string   `json:"step"`
		Verb    string   `json:"verb"`
		Joint   string   `json:"joint"`
		Letters []string `json:"letters"`
		Renewed bool     `json:"renewed,omitempty"` // started with new hardware
	}
)

// What happens to its fasteners.
type (
	// HardwareSeen says which hardware a joint carries, where the sheet knows several.
	HardwareSeen struct {
		Joint   string `json:"joint"`
		Variant string `json:"variant"`
	}
	// WrenchSet is the first act of a click: somebody states what the tool stands at.
	// For an angle turned by eye it is the mark at the start, and SetNm is 0.
	WrenchSet struct {
		Step    string  `json:"step"`
		Joint   string  `json:"joint"`
		Stage   int     `json:"stage"` // from 0
		Tool    string  `json:"tool"`  // its id; empty for a mark
		Name    string  `json:"name,omitempty"`
		Adapter string  `json:"adapter,omitempty"`
		SetNm   float64 `json:"set_nm,omitempty"`
		BoltNm  float64 `json:"bolt_nm,omitempty"` // what reaches the fastener
		DragNm  float64 `json:"drag_nm,omitempty"` // since 2026-11: of the nut, where the figure comes on top
		Letter  string  `json:"letter,omitempty"`  // since 2026-11: of that nut
	}
	// Pulled is one tightening, good or bad.
	Pulled struct {
		Step      string       `json:"step"`
		Joint     string       `json:"joint"`
		Letter    string       `json:"letter"`
		Stage     int          `json:"stage"`    // from 0
		Evidence  string       `json:"evidence"` // traced, clicked, marked, stated, not_measured
		Tool      string       `json:"tool"`
		Adapter   string       `json:"adapter,omitempty"`
		SetNm     float64      `json:"set_nm,omitempty"`
		Result    Result       `json:"result"`
		Kept      bool         `json:"kept"`
		Trace     [][3]float64 `json:"trace,omitempty"`     // s, degrees, N·m
		Claim     string       `json:"claim,omitempty"`     // since version 2, as all below
		Simulated bool         `json:"simulated,omitempty"` // made by a stand-in
		Means     string       `json:"means,omitempty"`     // how an angle was read: mark, protractor, phone
		Cause     string       `json:"cause,omitempty"`     // why it was not measured
		Note      string       `json:"note,omitempty"`
		Blocks    string       `json:"blocks,omitempty"`   // what must come first now: slacken, renew
		Together  bool         `json:"together,omitempty"` // since 2026-12: stated at once with the others of its round
		ErrDeg    float64      `json:"err_deg,omitempty"`  // since 2026-12: how far off the angle may be, degrees either way
	}
	// PullKept confirms a pull that was judged good. Written by the first release only.
	PullKept struct {
		Pull string `json:"pull"` // id of its event
	}
	// PullStruck corrects a pull: it stays readable and counts no longer.
	PullStruck struct {
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
		What   string `json:"what"` // as people read it
		Note   string `json:"note,omitempty"`
		Code   string `json:"code,omitempty"`  // since version 2
		Worse  string `json:"worse,omitempty"` // since 2026-11: id of the trouble it grew out of
	}
	// ReleaseTried is one try to free what a trouble says is stuck.
	ReleaseTried struct {
		Trouble  string   `json:"trouble"` // id of its event
		Seizure  string   `json:"seizure"` // its kind
		Near     []string `json:"near,omitempty"`
		Keep     []string `json:"keep,omitempty"`
		Rung     string   `json:"rung"`                // its key
		Name     string   `json:"name"`                // as people read it
		Odds     float64  `json:"odds"`                // that it would free it, as they were shown
		Outcome  string   `json:"outcome"`             // freed, held, broke
		Became   string   `json:"became,omitempty"`    // the trouble's code where something broke
		WaitsMin float64  `json:"waits_min,omitempty"` // it works on by itself
		Plain    float64  `json:"plain,omitempty"`     // since 2026-12: the odds by the library alone
	}
	// TroubleCleared ends a trouble.
	TroubleCleared struct {
		Trouble string `json:"trouble"` // id of its event
		How     string `json:"how"`
		Renewed bool   `json:"renewed"`
		Out     bool   `json:"out,omitempty"` // what broke is out, and a new one goes in; since 2026-11
	}
)

// What happens to its plan once it stands.
type (
	// PartStocked says whether a part is there.
	PartStocked struct {
		Part   string `json:"part"`
		Status string `json:"status"`

		// Of one that was ordered; since 2026-11.
		Supplier  string  `json:"supplier,omitempty"`
		Price     float64 `json:"price,omitempty"`
		Currency  string  `json:"currency,omitempty"`
		WaitMin   float64 `json:"wait_min,omitempty"` // until it is at the shop
		Simulated bool    `json:"simulated,omitempty"`
	}
	// Matched is a new part held against the old one, taken or refused.
	Matched struct {
		Step        string             `json:"step"`
		Part        string             `json:"part"`
		Title       string             `json:"title"`
		PartKind    string             `json:"kind"`
		Old         map[string]float64 `json:"old"`
		New         map[string]float64 `json:"new"`
		Verdict     string             `json:"verdict"`
		Differences []Difference       `json:"differences,omitempty"`
		Missing     []string           `json:"missing,omitempty"`
		Accept      bool               `json:"accept"`
		Note        string             `json:"note,omitempty"`
	}
	// Kitted puts a kit's own hardware in place of what the sheet names: another
	// recipe, socket and treatment, with its source.
	Kitted struct {
		Joint     string  `json:"joint"`
		Recipe    string  `json:"recipe"`
		Socket    string  `json:"socket"`
		Treatment string  `json:"treatment"`
		Hardware  string  `json:"hardware"`
		Source    string  `json:"source"`
		Stages    []Stage `json:"stages,omitempty"` // since version 2

		Readers []string `json:"readers,omitempty"` // of its leaflet; since 2026-11
	}
	// Moved puts a step behind another one, by hand.
	Moved struct {
		Step   string `json:"step"`
		Behind string `json:"behind"` // empty: to the front

		Order []string `json:"order,omitempty"` // of all steps, as it stands then; since 2026-11
	}
	// Replanned is what is left put in order anew; what is done stays as it was.
	Replanned struct {
		Why         string              `json:"why"`
		Technicians int                 `json:"technicians"`
		Steps       []Step              `json:"steps,omitempty"` // new ones
		Needs       map[string][]string `json:"needs,omitempty"` // of old ones, on the new
		Parts       []Part              `json:"parts,omitempty"`
		Minutes     map[string]float64  `json:"minutes,omitempty"` // of steps that take longer
		Order       []string            `json:"order"`
	}
	// RescueChosen takes another way out of what broke; since 2026-11.
	RescueChosen struct {
		Way  string `json:"way"`
		Step Step   `json:"step"` // as it stands from now on

		Said []string `json:"said,omitempty"` // since 2026-11: of what the way asks first
	}
	// OwnerTold keeps what the owner was told the work takes and costs; since 2026-11.
	OwnerTold struct {
		LowMin    float64 `json:"low_min"`
		LikelyMin float64 `json:"likely_min"`
		HighMin   float64 `json:"high_min"`
		PriceLow  float64 `json:"price_low"`
		PriceHigh float64 `json:"price_high"`
		Currency  string  `json:"currency"`
		Agreed    bool    `json:"agreed"`
		Said      string  `json:"said,omitempty"` // by the owner
	}
	// HandedOver gives a corner, or the whole job, into another hand; since 2026-11.
	HandedOver struct {
		Corner string `json:"corner,omitempty"` // empty is the whole job
		To     string `json:"to"`
		Note   string `json:"note,omitempty"`
		// Stands says that who takes it over stands at what is open, and nobody leaves; since 2026-12.
		Stands bool `json:"stands,omitempty"`
	}
	// Promised says when the vehicle is to be back, as Stamp writes it; empty takes the promise back. Since 2026-12.
	Promised struct {
		Until string `json:"until,omitempty"`
	}
	// RoadTested says what was felt at each manoeuvre; since 2026-11. Unless it failed, its
	// step is kept with it.
	RoadTested struct {
		Step   string `json:"step"`
		Felt   []Felt `json:"felt"`
		Result string `json:"result"` // pass, advise, fail
	}
	// Felt is what was felt at one manoeuvre.
	Felt struct {
		Do    string `json:"do"`
		Found string `json:"found"` // sound, watch, wrong, left_out
		Note  string `json:"note,omitempty"`
	}
	// FluidBooked is what came out and went in at a step; since 2026-11.
	FluidBooked struct {
		Step   string  `json:"step"`
		Fluid  string  `json:"fluid"` // brake fluid, gearbox oil
		Spec   string  `json:"spec"`  // as it stands on the can
		OutMl  float64 `json:"out_ml"`
		InMl   float64 `json:"in_ml"`
		Colour string  `json:"colour"`
		Air    bool    `json:"air,omitempty"` // the stream still had bubbles
	}
	// FigureStruck tells a job that a figure it uses was struck on the sheet.
	FigureStruck struct {
		Joint  string  `json:"joint"`
		Was    string  `json:"was"`
		Recipe string  `json:"recipe"`
		Stages []Stage `json:"stages"`
		Source string  `json:"source"`
		Why    string  `json:"why"`
		Act    string  `json:"act"` // id of the correction in the shop's own journal

		Variant string `json:"variant,omitempty"` // since 2026-11: of which hardware the figure is
	}
	// FigureTaken is what the readings of a joint come to, frozen into the job; since 2026-11.
	FigureTaken struct {
		Joint     string   `json:"joint"`
		Recipe    string   `json:"recipe,omitempty"` // none while readings differ
		Stages    []Stage  `json:"stages,omitempty"`
		Thread    string   `json:"thread,omitempty"`
		Class     string   `json:"class,omitempty"`
		Treatment string   `json:"treatment,omitempty"`
		Condition string   `json:"condition,omitempty"`
		Renew     bool     `json:"renew,omitempty"`
		Hardware  string   `json:"hardware,omitempty"`
		Drive     string   `json:"drive,omitempty"`
		Socket    string   `json:"socket,omitempty"`
		Source    string   `json:"source,omitempty"`
		Note      string   `json:"note,omitempty"`    // since 2026-12: words beside the figure
		Readers   []string `json:"readers,omitempty"` // one who read it twice stands there twice
		Differs   []Figure `json:"differs,omitempty"`
		Act       string   `json:"act"` // id of the reading in the shop's own journal
	}
	// FigureLacking tightens a joint by the table of its bolt, because the maker's figure was not to be had; since
	// 2026-11.
	FigureLacking struct {
		Joint  string  `json:"joint"`
		Thread string  `json:"thread"`
		Class  string  `json:"class"`
		Recipe string  `json:"recipe"`
		Stages []Stage `json:"stages"`
		Looked string  `json:"looked"` // where it was looked for
		Second string  `json:"second,omitempty"`
	}
	// FigureAnswered takes the new figure into the job, or refuses it with a reason.
	FigureAnswered struct {
		Joint  string `json:"joint"`
		Take   bool   `json:"take"`
		Reason string `json:"reason,omitempty"`
	}
)

// What closes it.
type (
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
		Place string `json:"place,omitempty"` // since 2026-11: where it was seen
	}
	// Photographed keeps how something was before it was opened.
	Photographed struct {
		Step  string `json:"step"`
		Place string `json:"place"` // the same from job to job: a joint of the sheet or a fact, and the corner
		Photo []byte `json:"photo"` // JPEG
	}
	// Signed freezes the job, with its gates, what is owed after it leaves and the
	// versions of what it rests on, as they were seen.
	Signed struct {
		Role      string     `json:"role"`
		Note      string     `json:"note,omitempty"`
		Gates     []Gate     `json:"gates,omitempty"` // since version 2, as all below
		FollowUps []FollowUp `json:"follow_ups,omitempty"`
		Versions  []string   `json:"versions,omitempty"`
		Account   *Account   `json:"account,omitempty"` // since 2026-11
	}
	// Account is what the job came to: fasteners by their grade.
	Account struct {
		Opened  int            `json:"opened"`
		Renewed int            `json:"renewed"`
		Grades  map[string]int `json:"grades"`
	}
	// FollowUpClosed ends what was owed after the signature; since 2026-11.
	FollowUpClosed struct {
		No         int    `json:"no"` // in the list that was signed for, from 1
		Title      string `json:"title"`
		OdometerKM int    `json:"odometer_km,omitempty"`
		Found      string `json:"found"` // or why it was dropped
		Dropped    bool   `json:"dropped,omitempty"`

		Sheet []Angle `json:"sheet,omitempty"` // since 2026-11: of the alignment
	}
	// Reopened thaws it.
	Reopened struct {
		Reason string `json:"reason"`
	}
)

// Kind of each event.
func (Started) Kind() Kind        { return "started" }
func (Answered) Kind() Kind       { return "answered" }
func (Measured) Kind() Kind       { return "measured" }
func (Driven) Kind() Kind         { return "recorded" }
func (ProposalTaken) Kind() Kind  { return "chosen" }
func (Planned) Kind() Kind        { return "planned" }
func (StepKept) Kind() Kind       { return "step_done" }
func (StepUndone) Kind() Kind     { return "step_undone" }
func (Postponed) Kind() Kind      { return "postponed" }
func (Handled) Kind() Kind        { return "worked" }
func (HardwareSeen) Kind() Kind   { return "chose" }
func (WrenchSet) Kind() Kind      { return "wrench_set" }
func (Pulled) Kind() Kind         { return "pulled" }
func (PullKept) Kind() Kind       { return "kept" }
func (PullStruck) Kind() Kind     { return "struck" }
func (Slackened) Kind() Kind      { return "slackened" }
func (Troubled) Kind() Kind       { return "troubled" }
func (TroubleCleared) Kind() Kind { return "cleared" }
func (ReleaseTried) Kind() Kind   { return "release_tried" }
func (PartStocked) Kind() Kind    { return "stocked" }
func (Matched) Kind() Kind        { return "matched" }
func (Kitted) Kind() Kind         { return "kitted" }
func (Moved) Kind() Kind          { return "moved" }
func (Replanned) Kind() Kind      { return "replanned" }
func (Reworked) Kind() Kind       { return "reworked" }
func (Treated) Kind() Kind        { return "treated" }
func (RescueChosen) Kind() Kind   { return "rescue_chosen" }
func (RoadTested) Kind() Kind     { return "road_tested" }
func (FluidBooked) Kind() Kind    { return "fluid_booked" }
func (FollowUpClosed) Kind() Kind { return "follow_up_closed" }
func (HandedOver) Kind() Kind     { return "handed_over" }
func (Promised) Kind() Kind       { return "promised" }
func (OwnerTold) Kind() Kind      { return "owner_told" }
func (FigureStruck) Kind() Kind   { return "figure_struck" }
func (FigureTaken) Kind() Kind    { return "figure_taken" }
func (FigureLacking) Kind() Kind  { return "figure_lacking" }
func (FigureAnswered) Kind() Kind { return "figure_answered" }
func (Deviated) Kind() Kind       { return "deviated" }
func (Found) Kind() Kind          { return "found" }
func (Photographed) Kind() Kind   { return "photographed" }
func (Signed) Kind() Kind         { return "signed" }
func (Reopened) Kind() Kind       { return "reopened" }

// Angle is one line of an alignment sheet, degrees.
type Angle struct {
	Wheel  string  `json:"wheel"`
	What   string  `json:"what"` // toe, camber, caster
	Before float64 `json:"before"`
	After  float64 `json:"after"`
}
