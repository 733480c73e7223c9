package record

// Vehicle is one car or truck as it was when the job began.
type Vehicle struct {
	ID      string `json:"id"`
	Fleet   string `json:"fleet"`
	Plate   string `json:"plate"`
	VIN     string `json:"vin"`
	Pattern string `json:"pattern"`
	Name    string `json:"name"`
	Bay     string `json:"bay"`
}

// House is what the shop had decided for itself when the plan was made.
type House struct {
	Second     []string `json:"second"`       // systems whose deviations need a second person
	Critical   []string `json:"critical"`     // systems a life hangs on
	Demand     []string `json:"demand"`       // of those, where a click alone is not enough
	FollowUpKM int      `json:"follow_up_km"` // wheel fasteners again after so far
	// FollowUpDays is after how long what is owed is looked at, however far it went; since 2026-11.
	FollowUpDays int `json:"follow_up_days,omitempty"`
}

// Plan is what was ordered, compiled for a vehicle, with the versions of its sources.
type Plan struct {
	Title       string       `json:"title"`
	Tasks       []Task       `json:"tasks"`
	Pattern     string       `json:"pattern"`
	Invented    bool         `json:"invented"`
	Sources     []string     `json:"sources"`
	Warnings    []string     `json:"warnings"`
	Outline     Outline      `json:"outline"`
	Scenes      []Scene      `json:"scenes"`
	Joints      []Joint      `json:"joints"`
	Parts       []Part       `json:"parts"`
	Drive       []Manoeuvre  `json:"drive"`
	Schools     []SchoolUsed `json:"schools"`
	Steps       []Step       `json:"steps"`
	Technicians int          `json:"technicians,omitempty"`
	Builds      []BuildUsed  `json:"builds,omitempty"`
	Facts       []FactAt     `json:"facts,omitempty"`
	Laws        []Law        `json:"laws,omitempty"`
	Tended      []Tended     `json:"tended,omitempty"`  // since 2026-12
	GearOil     Window       `json:"gear_oil,omitzero"` // since 2026-11
	Without     []string     `json:"without,omitempty"` // since 2026-12
	Free        *Draft       `json:"free,omitempty"`    // since 2026-12
}

// Draft is free work as far as somebody had said it.
type Draft struct {
	Title string     `json:"title"`
	Under bool       `json:"under,omitempty"`
	From  string     `json:"from"`
	Sets  bool       `json:"sets,omitempty"`
	Acts  []DraftAct `json:"acts"`
}

// DraftAct is one act of free work.
type DraftAct struct {
	Do     string `json:"do"`
	Title  string `json:"title"`
	System string `json:"system,omitempty"`
	Count  int    `json:"count,omitempty"`
	At     *Point `json:"at,omitempty"`   // until 2026-12, in an outline
	Spot   *Point `json:"spot,omitempty"` // since 2026-12, in the picture of its corner
	New    bool   `json:"new,omitempty"`
}

// Window is between which temperatures something is read, °C.
type Window struct {
	LowC  float64 `json:"low_c"`
	HighC float64 `json:"high_c"`
}

// FactAt is how one thing is before the work: caliper.FL mounted. End lists what else
// would do when the work is done, "*" anything.
type FactAt struct {
	Fact string   `json:"fact"`
	Rest string   `json:"rest"`
	End  []string `json:"end,omitempty"`
}

// Want is what must be true when a step comes, and why.
type Want struct {
	Fact    string   `json:"fact"`
	Values  []string `json:"values"`
	Because string   `json:"because,omitempty"`
}

// Make is what a step leaves true.
type Make struct {
	Fact  string `json:"fact"`
	Value string `json:"value"`
}

// Law is what must be so whenever a fact comes to one of its values.
type Law struct {
	ID     string   `json:"id"`
	Says   string   `json:"says"`
	Fact   string   `json:"fact"`
	Values []string `json:"values"`
	Must   []Want   `json:"must"`
	While  bool     `json:"while,omitempty"`
	Clear  bool     `json:"clear,omitempty"`
}

// Tended is a fact that may not stay so for long, or not alone.
type Tended struct {
	Fact     string   `json:"fact"`
	Values   []string `json:"values"`
	Minutes  float64  `json:"minutes,omitempty"`
	Attended bool     `json:"attended,omitempty"`
	Over     string   `json:"over,omitempty"`
}

// BuildUsed is a question of how the vehicle is built that mattered to the plan, and
// what was taken for its answer. Known says that somebody had looked.
type BuildUsed struct {
	Key      string        `json:"key"`
	Question string        `json:"question"`
	Look     string        `json:"look,omitempty"`
	Assume   string        `json:"assume"`
	Answers  []BuildAnswer `json:"answers"`
	Is       string        `json:"is"`
	Known    bool          `json:"known,omitempty"`
	Decides  []string      `json:"decides,omitempty"`
}

// BuildAnswer is one thing one may see, drawn.
type BuildAnswer struct {
	Key    string  `json:"key"`
	Title  string  `json:"title"`
	Shapes []Shape `json:"shapes"`
}

// Task is one operation at one corner.
type Task struct {
	Operation string `json:"operation"`
	Corner    string `json:"corner"`
}

// Outline is the vehicle in plan view, millimetres.
type Outline struct {
	Kind      string  `json:"kind"`
	Length    float64 `json:"length_mm"`
	Width     float64 `json:"width_mm"`
	Wheelbase float64 `json:"wheelbase_mm"`
	Overhang  float64 `json:"front_overhang_mm"`
	Arm       float64 `json:"steering_arm_mm,omitempty"`
	Rim       float64 `json:"rim_mm,omitempty"`
}

// Scene is the picture of a task, with the joints to be seen in it. Until 2026-12 it had its outlines with it,
// and each joint its place among them: what is so marked is kept as it was written, and nothing reads it.
type Scene struct {
	Title  string   `json:"title,omitempty"`  // until 2026-12
	Width  float64  `json:"width,omitempty"`  // until 2026-12
	Height float64  `json:"height,omitempty"` // until 2026-12
	Shapes []Shape  `json:"shapes,omitempty"` // until 2026-12
	Corner string   `json:"corner"`
	Joints []string `json:"joints"`
	Like   string   `json:"like,omitempty"` // since 2026-11: how the corner is built
}

// Point is a place in a picture, y downward: of a corner 1200 by 840, of a small drawing 120 by 80.
type Point [2]float64

// Shape is one outline of a picture.
type Shape struct {
	Kind   string  `json:"kind"`
	Role   string  `json:"role"`
	Points []Point `json:"points"`
	Radius float64 `json:"radius,omitempty"`
}

// Joint is one fastened place with what the sheet said of it. Its recipe stands as
// text and, since version 2, as stages: nobody has to read the text again.
type Joint struct {
	ID        string    `json:"id"`
	Key       string    `json:"key"`
	Spec      string    `json:"spec"`
	Title     string    `json:"title"`
	One       string    `json:"one"`
	System    string    `json:"system"`
	Star      bool      `json:"star"`
	Bears     bool      `json:"bears"`
	Again     bool      `json:"again"`
	Play      string    `json:"play,omitempty"`
	FollowUp  bool      `json:"follow_up,omitempty"`
	Seizes    bool      `json:"seizes,omitempty"`
	Optional  bool      `json:"optional,omitempty"`
	Points    string    `json:"points,omitempty"`
	Stack     []string  `json:"stack,omitempty"`
	Size      *float64  `json:"size,omitempty"`  // until 2026-12
	Label     *Point    `json:"label,omitempty"` // until 2026-12
	At        []Point   `json:"at,omitempty"`    // until 2026-12
	Spot      *Point    `json:"spot,omitempty"`  // since 2026-12: where it was touched in the picture of its corner
	Recipe    string    `json:"recipe"`
	Thread    string    `json:"thread"`
	Class     string    `json:"class"`
	Treatment string    `json:"treatment"`
	Condition string    `json:"condition"`
	Held      bool      `json:"held"`
	Renew     bool      `json:"renew"`
	Hardware  string    `json:"hardware"`
	Drive     string    `json:"drive"`
	Socket    string    `json:"socket"`
	Count     int       `json:"count"`
	Source    string    `json:"source"`
	Note      string    `json:"note,omitempty"` // since 2026-12: words beside the figure, as they were read
	Struck    []Struck  `json:"struck,omitempty"`
	FlangeMM  float64   `json:"flange_mm,omitempty"`
	HoleMM    float64   `json:"hole_mm,omitempty"`
	LongestMM float64   `json:"longest_mm,omitempty"`
	Others    []Figure  `json:"others,omitempty"`
	Variants  []Variant `json:"variants,omitempty"`
	Sheet     string    `json:"sheet"`
	Corner    string    `json:"corner"`
	Tray      string    `json:"tray"`
	Letters   []string  `json:"letters"`
	Order     []int     `json:"order"`
	Stages    []Stage   `json:"stages,omitempty"`     // since version 2
	Readers   []string  `json:"readers,omitempty"`    // since 2026-11: who read the figure in this shop
	Differs   []Figure  `json:"differs,omitempty"`    // since 2026-11: readings that do not agree
	ByBolt    bool      `json:"by_bolt,omitempty"`    // since 2026-11: its figure is of its bolt, not of the maker
	MakerOnly bool      `json:"maker_only,omitempty"` // since 2026-11: no table of bolts knows its figure
	Opening   string    `json:"opening,omitempty"`    // since 2026-12: of fasteners that are opened twice, which
}

// Stage is one act of tightening with the window a pull was held against. Low and
// High are N·m or degrees; High is 0 where anything above Low was accepted.
type Stage struct {
	Kind string  `json:"kind"`
	Form string  `json:"form,omitempty"`
	Unit string  `json:"unit,omitempty"`
	A    float64 `json:"a,omitempty"`
	B    float64 `json:"b,omitempty"`
	C    float64 `json:"c,omitempty"` // since 2026-11: what an unequal tolerance takes off
	Full bool    `json:"full,omitempty"`
	Word string  `json:"word,omitempty"`
	Drag bool    `json:"drag,omitempty"` // since 2026-11: the drag of the nut comes on top
	Left bool    `json:"left,omitempty"` // since 2026-11: of a left-hand thread
	Low  float64 `json:"low,omitempty"`
	High float64 `json:"high,omitempty"`
}

// Struck is a figure that was corrected and stays readable.
type Struck struct {
	Recipe string `json:"recipe"`
	By     string `json:"by"`
	Why    string `json:"why"`
}

// Figure is a recipe with its source.
type Figure struct {
	Recipe string `json:"recipe"`
	Source string `json:"source"`
	By     string `json:"by,omitempty"` // since 2026-11: who read it
}

// Variant is one kind of hardware a joint may carry, with what belongs to it.
type Variant struct {
	Key       string  `json:"key"`
	Sees      string  `json:"sees"`
	Washer    bool    `json:"washer,omitempty"`
	Recipe    string  `json:"recipe"`
	Thread    string  `json:"thread"`
	Class     string  `json:"class"`
	Treatment string  `json:"treatment"`
	Drive     string  `json:"drive"`
	Socket    string  `json:"socket"`
	FlangeMM  float64 `json:"flange_mm,omitempty"`
	Source    string  `json:"source"`
	Stages    []Stage `json:"stages,omitempty"` // since version 2
}

// Part is what must be at hand.
type Part struct {
	Key    string `json:"key"`
	Title  string `json:"title"`
	Count  int    `json:"count"`
	OneUse bool   `json:"one_use"`
	Used   bool   `json:"used,omitempty"`
	Kind   string `json:"kind,omitempty"`
	Sided  bool   `json:"sided,omitempty"`
}

// Manoeuvre is one thing to do on the road test.
type Manoeuvre struct {
	Do     string `json:"do"`
	Listen string `json:"listen"`
	// A series of like stops; since 2026-11.
	Stops     int     `json:"stops,omitempty"`
	FromKMH   float64 `json:"from_kmh,omitempty"`
	ToKMH     float64 `json:"to_kmh,omitempty"`
	IntervalS float64 `json:"interval_s,omitempty"`
	// How it is driven; since 2026-11.
	KMH     float64 `json:"kmh,omitempty"`
	Surface string  `json:"surface,omitempty"`
	Feel    string  `json:"feel,omitempty"`
	Watch   string  `json:"watch,omitempty"`
	Stop    string  `json:"stop,omitempty"`
}

// SchoolUsed is a school that mattered to the plan, and the way that was taken.
type SchoolUsed struct {
	Key      string `json:"key"`
	Question string `json:"question"`
	Ways     []Way  `json:"ways"`
	Default  string `json:"default"`
	Because  string `json:"because"`
	Way      string `json:"way"`
}

// Way is one accepted way of a school.
type Way struct {
	Key   string `json:"key"`
	Title string `json:"title"`
}

// Pair is who has hands where in a step of two, and the words they say.
type Pair struct {
	One   string   `json:"one"`
	Two   string   `json:"two"`
	Words []string `json:"words"`
}

// Step is one act at one place.
type Step struct {
	ID       string   `json:"id"`
	Verb     string   `json:"verb"`
	Title    string   `json:"title"`
	How      string   `json:"how"`
	Place    string   `json:"place"`
	Joint    string   `json:"joint"`
	Stages   []int    `json:"stages,omitempty"`
	Again    bool     `json:"again,omitempty"`
	Tool     string   `json:"tool"`
	Minutes  float64  `json:"minutes"`
	People   int      `json:"people,omitempty"`
	Pair     *Pair    `json:"pair,omitempty"` // since 2026-11
	Position string   `json:"position,omitempty"`
	MovesTo  string   `json:"moves_to,omitempty"`
	Holds    bool     `json:"holds,omitempty"`
	LetsGo   bool     `json:"lets_go,omitempty"`
	Puts     []string `json:"puts,omitempty"`
	Takes    []string `json:"takes,omitempty"`
	Proves   string   `json:"proves,omitempty"`
	Needs    []string `json:"needs,omitempty"`
	Because  string   `json:"because,omitempty"`
	Caution  string   `json:"caution,omitempty"`
	Choices  []Answer `json:"choices,omitempty"`
	Compares []string `json:"compares,omitempty"`
	Measures []string `json:"measures,omitempty"` // since 2026-11
	Anew     bool     `json:"anew,omitempty"`     // since 2026-11
	Books    string   `json:"books,omitempty"`    // since 2026-11
	Part     string   `json:"part,omitempty"`
	Counts   string   `json:"counts,omitempty"`
	Shared   bool     `json:"shared,omitempty"`
	Corner   string   `json:"corner,omitempty"`
	Owner    string   `json:"owner,omitempty"`
	Scene    int      `json:"scene,omitempty"`
	Low      float64  `json:"low,omitempty"`
	High     float64  `json:"high,omitempty"`
	Timed    int      `json:"timed,omitempty"`
	Uses     []string `json:"uses,omitempty"`
	Snug     bool     `json:"snug,omitempty"`
	Wants    []Want   `json:"wants,omitempty"`
	Makes    []Make   `json:"makes,omitempty"`
	Frees    string   `json:"frees,omitempty"` // since 2026-11: the fastener whose trouble ends with it
}

// Answer is one a step asks for.
type Answer struct {
	Key   string `json:"key"`
	Title string `json:"title"`
	Opens string `json:"opens,omitempty"`
}

// Result is the judgement of one pull.
type Result struct {
	Stages    []StageResult `json:"stages"`
	Signature string        `json:"signature"`
	Verdict   string        `json:"verdict"`
	Reasons   []Reason      `json:"reasons"`
	PeakNm    float64       `json:"peak_nm"`
	SnugDeg   float64       `json:"snug_deg"`
	SlopeNmD  float64       `json:"slope_nmd"`
	TurnDeg   float64       `json:"turn_deg"`
	Sure      float64       `json:"sure,omitempty"`             // since 2026-11: 0–1
	LeftDeg   float64       `json:"left_to_turn_deg,omitempty"` // since 2026-11
}

// StageResult is what one stage of the recipe came to.
type StageResult struct {
	Kind     string  `json:"kind"`
	TorqueNm float64 `json:"torque_nm"`
	AngleDeg float64 `json:"angle_deg"`
	Verdict  string  `json:"verdict"`
}

// Reason is one sentence with the span of the trace that decided it.
type Reason struct {
	Message string  `json:"message"`
	FromS   float64 `json:"from_s"`
	ToS     float64 `json:"to_s"`
}

// Fall is one stretch of a recorded drive. The first release wrote it without tags.
type Fall struct {
	Speed     float64   `json:"Speed"`
	Amplitude []float64 `json:"Amplitude"`
}

// Peak is an order that stands out of a recorded drive.
type Peak struct {
	PerTurn   float64 `json:"PerTurn"`
	Amplitude float64 `json:"Amplitude"`
	Over      float64 `json:"Over"`
	Source    string  `json:"Source"`
	Order     float64 `json:"Order"`
	Sign      string  `json:"Sign"`
}

// Difference is one measure that is not the same on new and old.
type Difference struct {
	Field  string  `json:"Field"`
	Old    float64 `json:"Old"`
	New    float64 `json:"New"`
	Effect string  `json:"Effect"`
	Bars   bool    `json:"Bars"`
}

// Gate is a rule of the signature as it stood when the job was signed.
type Gate struct {
	Key    string `json:"key"`
	Title  string `json:"title"`
	Met    bool   `json:"met"`
	Passed string `json:"passed,omitempty"` // who signed it over, where it was not met
}

// FollowUp is what is owed after the signature.
type FollowUp struct {
	Kind   string `json:"kind"` // wheel, not_measured, alignment, advice
	Title  string `json:"title"`
	KM     int    `json:"km,omitempty"`   // after so far
	Days   int    `json:"days,omitempty"` // since 2026-11: after so long
	Joint  string `json:"joint,omitempty"`
	Letter string `json:"letter,omitempty"`
}
