package record

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"time"
)

// Act is one line of the shop's own journal, beside the jobs: its tools, figures,
// shelf, people, imports and keys. Each line carries the seal of the one before.
type Act struct {
	N    int             `json:"n"` // from 1
	ID   string          `json:"id"`
	At   string          `json:"at"`
	By   string          `json:"by"`
	Kind string          `json:"kind"`
	Body json.RawMessage `json:"body"`
	Link string          `json:"link"`
}

// Sum is the SHA-256 of the act's fields behind the seal before it.
func (a Act) Sum(prev string) string {
	text, _ := json.Marshal([]any{prev, a.N, a.ID, a.At, a.By, a.Kind, string(a.Body)}) // strings and a number
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:])
}

// ShopBody is what was done in the shop.
type ShopBody interface{ ActKind() string }

// What is done in a shop.
type (
	// ToolHung is a torque tool that the shop has; one that is hung again is otherwise than it was said to be.
	ToolHung struct {
		Tool     string  `json:"tool"`
		Name     string  `json:"name"`
		Kind     string  `json:"kind"`
		MaxNm    float64 `json:"max_nm"`
		StepNm   float64 `json:"step_nm"`
		Drive    string  `json:"drive"`
		LengthMM float64 `json:"length_mm"`
		Serial   string  `json:"serial,omitempty"`

		// The calibration it came with: the day, the number of its certificate and, the first time, a JPEG of that.
		Calibrated  string `json:"calibrated,omitempty"`
		Certificate string `json:"certificate,omitempty"`
		Photo       []byte `json:"photo,omitempty"`
	}
	// ToolLogged is a calibration, or a tool going out of use or back.
	ToolLogged struct {
		Tool   string       `json:"tool"`
		Kind   string       `json:"kind"`
		Note   string       `json:"note,omitempty"`
		Pulls  int          `json:"pulls"`
		Points []CheckPoint `json:"points,omitempty"`

		// Of a calibration; since 2026-11.
		Reference      string `json:"reference,omitempty"`
		ReferenceUntil string `json:"reference_until,omitempty"` // day
		Certificate    string `json:"certificate,omitempty"`
		Second         string `json:"second,omitempty"`
		Photo          []byte `json:"photo,omitempty"` // JPEG, of the certificate
	}
	// FigureCorrected strikes a figure of a sheet and puts another in its place.
	FigureCorrected struct {
		Pattern string `json:"pattern"`
		Joint   string `json:"joint"`
		Recipe  string `json:"recipe"`
		Source  string `json:"source"`
		Why     string `json:"why"`
		Second  string `json:"second,omitempty"` // since 2026-11: who read it too
		Shop    string `json:"shop,omitempty"`   // since 2026-11: the other shop that struck it

		Variant string `json:"variant,omitempty"` // since 2026-11: of which hardware the figure is
	}
	// ShopSet is what a shop decides for itself: its name on papers, its first unit, its money.
	ShopSet struct {
		Name     string  `json:"name"`
		Contact  string  `json:"contact,omitempty"`
		Unit     string  `json:"unit"` // Nm, ft-lb
		Currency string  `json:"currency,omitempty"`
		Rate     float64 `json:"rate,omitempty"` // of an hour, in that
		Salt     bool    `json:"salt"`           // the roads are salted, or the sea is near
	}
	// StockKept is one list of what a shop has, whole: its sockets, its adapters, or what parts cost.
	StockKept struct {
		What     string    `json:"what"` // sockets, adapters, prices
		Sockets  []string  `json:"sockets,omitempty"`
		Adapters []Adapter `json:"adapters,omitempty"`
		Prices   []Price   `json:"prices,omitempty"`
	}
	// AccessKept is what a joint of a sheet took to reach.
	AccessKept struct {
		Sheet     string `json:"sheet"`
		Joint     string `json:"joint"`
		Socket    string `json:"socket,omitempty"`
		Drive     string `json:"drive,omitempty"`
		Extension string `json:"extension,omitempty"`
		Blocked   string `json:"blocked,omitempty"`
	}
	// SheetSent is a sheet that left the shop as a file, or that is offered to the other shops of a chain.
	SheetSent struct {
		Sheet string `json:"sheet"`
		Hash  string `json:"hash"`           // SHA-256 of what was signed
		Text  string `json:"text,omitempty"` // the file, where the chain is offered it
	}
	// SheetTaken is what another shop has read of a model, by its file: offered here, and nobody's reading.
	SheetTaken struct {
		Sheet   string          `json:"sheet"`
		Shop    string          `json:"shop"`
		Key     string          `json:"key"`
		Hash    string          `json:"hash"` // SHA-256 of what was signed
		From    string          `json:"from,omitempty"`
		Figures []FigureOffered `json:"figures"`
	}
	// SheetBegun is a model the shop takes in with nothing known but how it is built.
	SheetBegun struct {
		Sheet   string            `json:"sheet"`
		Name    string            `json:"name"`
		Outline string            `json:"outline"`
		Built   map[string]string `json:"built,omitempty"`
	}
	// FigureRead is the figure of a joint as one person read it in one source.
	FigureRead struct {
		Sheet     string `json:"sheet"`
		Joint     string `json:"joint"`
		Recipe    string `json:"recipe"`
		Thread    string `json:"thread,omitempty"`
		Class     string `json:"class,omitempty"`
		Treatment string `json:"treatment,omitempty"`
		Condition string `json:"condition,omitempty"`
		Renew     bool   `json:"renew,omitempty"`
		Hardware  string `json:"hardware,omitempty"`
		Drive     string `json:"drive,omitempty"`
		Socket    string `json:"socket,omitempty"`
		Count     int    `json:"count,omitempty"`
		Source    string `json:"source"`
		Page      string `json:"page,omitempty"`
		Note      string `json:"note,omitempty"`   // since 2026-12: words beside the figure
		Hidden    bool   `json:"hidden,omitempty"` // read without seeing what was read before
		Script    bool   `json:"script,omitempty"` // a program brought it
		Photo     []byte `json:"photo,omitempty"`  // JPEG, of the page
	}
	// JointSeen is what somebody saw of a joint on a vehicle of a sheet: that it has none, or how it is.
	JointSeen struct {
		Sheet  string `json:"sheet"`
		Joint  string `json:"joint"`
		Absent bool   `json:"absent,omitempty"`
		Count  int    `json:"count,omitempty"`
		Thread string `json:"thread,omitempty"`
		Drive  string `json:"drive,omitempty"`
		Socket string `json:"socket,omitempty"`
		Second string `json:"second,omitempty"` // who saw it too

		// One that the library does not name: what it is called, and the joint it comes off and goes on with.
		Title  string `json:"title,omitempty"`
		Beside string `json:"beside,omitempty"`
		Sits   *Point `json:"sits,omitempty"` // in an outline, in 2026-12 alone
		Spot   *Point `json:"spot,omitempty"` // where it was touched in the picture of its corner; since 2026-12
	}
	// FileShelved puts a pattern or an operation on the Shelf, as its file reads.
	FileShelved struct {
		Kind   string `json:"kind"`
		Text   string `json:"text"`
		Second string `json:"second,omitempty"` // since 2026-11: who read it too
		Shop   string `json:"shop,omitempty"`   // since 2026-11: the other shop that shelved it
	}
	// PersonAdded lets somebody sign in. PIN is the SHA-256 of what is stored of it.
	PersonAdded struct {
		Person string `json:"person"`
		Name   string `json:"name"`
		Role   string `json:"role"`
		PIN    string `json:"pin"`
	}
	// PINSet gives somebody a new PIN.
	PINSet struct {
		Person string `json:"person"`
		PIN    string `json:"pin"`
	}
	// PersonActive lets somebody in again or keeps them out.
	PersonActive struct {
		Person string `json:"person"`
		Active bool   `json:"active"`
	}
	// PersonRole gives somebody another role.
	PersonRole struct {
		Person string `json:"person"`
		Role   string `json:"role"`
	}
	// SessionRevoked ends a session of somebody, as a foreman or its owner does.
	SessionRevoked struct {
		Person string `json:"person"`
		Device string `json:"device"`
		Began  string `json:"began"`
	}
	// ScriptLetIn gives a script a token; Token is the SHA-256 of its secret.
	ScriptLetIn struct {
		Script string `json:"script"` // its id
		Name   string `json:"name"`
		Scope  string `json:"scope"`
		Token  string `json:"token"`
	}
	// ScriptKeptOut ends a script's token.
	ScriptKeptOut struct {
		Script string `json:"script"`
	}
	// HookMade tells another program of new events from then on.
	HookMade struct {
		Hook  string   `json:"hook"`
		URL   string   `json:"url"`
		Kinds []string `json:"kinds,omitempty"`

		Secret string `json:"secret,omitempty"` // digest of what its messages are signed with
	}
	// HookEnded tells it no more.
	HookEnded struct {
		Hook string `json:"hook"`
	}
	// Exported gives records away.
	Exported struct {
		What   string `json:"what"` // job, shop
		Job    string `json:"job,omitempty"`
		Events int    `json:"events"`
		Hash   string `json:"hash,omitempty"` // of the last event
		To     string `json:"to,omitempty"`
	}
	// FleetImported takes vehicles or people from a list.
	FleetImported struct {
		What string `json:"what"` // vehicles, people
		From string `json:"from"`
		Rows int    `json:"rows"`
		Hash string `json:"hash"` // SHA-256 of the list
	}
	// JobImported takes a job of another file.
	JobImported struct {
		Job    string `json:"job"`
		Events int    `json:"events"`
		Hash   string `json:"hash"` // of its last event
		From   string `json:"from"`
		Key    string `json:"key,omitempty"` // that sealed the file
		Known  bool   `json:"known"`         // that key was trusted here
	}
	// KeyMade begins a new key of the shop.
	KeyMade struct {
		Key string `json:"key"`
	}
	// KeyTrusted makes the key of another shop known, or known no more.
	KeyTrusted struct {
		Key  string `json:"key"`
		Shop string `json:"shop"` // what it is called here; empty since its word counts no more
	}
	// VehicleBuilt says how one vehicle turned out to be built.
	VehicleBuilt struct {
		Vehicle string `json:"vehicle"`
		Pattern string `json:"pattern"`
		Key     string `json:"key"`
		Is      string `json:"is"`
	}
	// WorkedElsewhere is work on a vehicle that another shop did, as somebody tells.
	WorkedElsewhere struct {
		Vehicle    string `json:"vehicle"`
		Day        string `json:"day"`
		OdometerKM int    `json:"odometer_km,omitempty"`
		What       string `json:"what"`
		Where      string `json:"where"`
		Suspect    string `json:"suspect,omitempty"`
		SecondHand bool   `json:"second_hand,omitempty"`
	}
	// ToolToken lets a tool send by itself; Token is the SHA-256 of its secret.
	ToolToken struct {
		Tool  string `json:"tool"`
		Token string `json:"token"`
	}
)

// CheckPoint is one point of a calibration: what was set, and what the reference read.
type CheckPoint struct {
	SetNm    float64   `json:"set_nm"`
	Readings []float64 `json:"readings"`
}

// ActKind of each.
func (ToolHung) ActKind() string        { return "tool_hung" }
func (ToolLogged) ActKind() string      { return "tool_logged" }
func (FigureCorrected) ActKind() string { return "figure_corrected" }
func (ShopSet) ActKind() string         { return "shop_set" }
func (StockKept) ActKind() string       { return "stock_kept" }
func (SheetBegun) ActKind() string      { return "sheet_begun" }
func (FigureRead) ActKind() string      { return "figure_read" }
func (JointSeen) ActKind() string       { return "joint_seen" }
func (SheetSent) ActKind() string       { return "sheet_sent" }
func (SheetTaken) ActKind() string      { return "sheet_taken" }
func (AccessKept) ActKind() string      { return "access_kept" }
func (FileShelved) ActKind() string     { return "file_shelved" }
func (PersonAdded) ActKind() string     { return "person_added" }
func (PINSet) ActKind() string          { return "pin_set" }
func (PersonActive) ActKind() string    { return "person_active" }
func (JobImported) ActKind() string     { return "job_imported" }
func (KeyMade) ActKind() string         { return "key_made" }
func (KeyTrusted) ActKind() string      { return "key_trusted" }
func (ToolToken) ActKind() string       { return "tool_token" }
func (PersonRole) ActKind() string      { return "person_role" }
func (SessionRevoked) ActKind() string  { return "session_revoked" }
func (ScriptLetIn) ActKind() string     { return "script_let_in" }
func (ScriptKeptOut) ActKind() string   { return "script_kept_out" }
func (HookMade) ActKind() string        { return "hook_made" }
func (HookEnded) ActKind() string       { return "hook_ended" }
func (Exported) ActKind() string        { return "exported" }
func (FleetImported) ActKind() string   { return "fleet_imported" }
func (VehicleBuilt) ActKind() string    { return "vehicle_built" }
func (WorkedElsewhere) ActKind() string { return "worked_elsewhere" }

// NewAct seals an act behind the one whose number and seal are given.
func NewAct(n int, prev, id, by string, at time.Time, body ShopBody) (Act, error) {
	text, err := json.Marshal(body)
	if err != nil {
		return Act{}, err
	}
	a := Act{N: n + 1, ID: id, At: Stamp(at), By: by, Kind: body.ActKind(), Body: text}
	a.Link = a.Sum(prev)
	return a, nil
}

// Mended signs journals that were changed by another hand, as they ended then.
type Mended struct {
	Why    string `json:"why"`
	Events int    `json:"events"`
	Acts   int    `json:"acts"`
}

// ActKind of it.
func (Mended) ActKind() string { return "mended" }

// Adapter lengthens or bends a torque tool.
type Adapter struct {
	ID       string  `json:"adapter"`
	Name     string  `json:"name"`
	LengthMM float64 `json:"length_mm"`
	AngleDeg float64 `json:"angle_deg,omitempty"`
	Flex     float64 `json:"flex_deg_per_nm,omitempty"`
}

// Price is what a part costs, in the shop's money.
type Price struct {
	Part  string  `json:"part"` // its key in the plan, without its side
	Price float64 `json:"price"`
}

// The lists a shop keeps of what it has.
const (
	StockSockets  = "sockets"
	StockAdapters = "adapters"
	StockPrices   = "prices"
)

// FigureOffered is a figure as another shop has it, with who read it there and where.
type FigureOffered struct {
	Joint   string   `json:"joint"`
	Recipe  string   `json:"recipe"`
	Thread  string   `json:"thread,omitempty"`
	Class   string   `json:"class,omitempty"`
	Source  string   `json:"source"`
	Readers []string `json:"readers"`
	Jobs    int      `json:"jobs,omitempty"` // there, in which it was tightened by
}
