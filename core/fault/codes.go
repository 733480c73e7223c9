package fault

// Code says which rule refused. It is stable: programs act by it, people read the sentences.
type Code string

// What somebody sent.
const (
	Missing      Code = "missing"       // what is asked for is not there
	BadChoice    Code = "bad_choice"    // none of the choices
	BadNumber    Code = "bad_number"    // no figure
	OutOfRange   Code = "out_of_range"  // a figure outside what can be
	TooLong      Code = "too_long"      // longer than it may be
	TooShort     Code = "too_short"     // shorter than it may be
	NotFound     Code = "not_found"     // there is no such thing
	Exists       Code = "exists"        // it is here already
	BadFile      Code = "bad_file"      // a file that is none of its kind
	BadJSON      Code = "bad_json"      // no JSON, or not the object that is asked for
	BadCSV       Code = "bad_csv"       // no CSV that can be read
	BadDay       Code = "bad_day"       // no day
	BadTime      Code = "bad_time"      // no time a record can have
	BadID        Code = "bad_id"        // no id a record can have
	BadVIN       Code = "bad_vin"       // no VIN
	BadTyre      Code = "bad_tyre"      // no size of tyre
	BadType      Code = "bad_type"      // a value of another type
	UnknownField Code = "unknown_field" // a field nothing reads
)

// Fasteners and figures.
const (
	BadThread    Code = "bad_thread"    // no thread
	BadClass     Code = "bad_class"     // no property class
	BadTreatment Code = "bad_treatment" // no treatment of a thread
	BadRecipe    Code = "bad_recipe"    // no recipe
	NoUnit       Code = "no_unit"       // a figure without its unit
	TwoReadings  Code = "two_readings"  // it can be read in two ways
	UnknownUnit  Code = "unknown_unit"  // no unit
	UnitMismatch Code = "unit_mismatch" // a unit of another quantity
	NoTorque     Code = "no_torque"     // no torque where one is needed
	NoTable      Code = "no_table"      // no table that can be read
	TooStiff     Code = "too_stiff"     // a joint too stiff for what is asked
	TooSlow      Code = "too_slow"      // sampled too slowly to be judged
)

// Plans and what they are made of.
const (
	BadStep     Code = "bad_step"     // no step of it
	BadCorner   Code = "bad_corner"   // no corner it has
	BadFact     Code = "bad_fact"     // no fact of the library
	BadOrder    Code = "bad_order"    // steps that cannot stand so
	BadAct      Code = "bad_act"      // no act that is laid out
	BadSheet    Code = "bad_sheet"    // a sheet that cannot be worked by
	BadRelease  Code = "bad_release"  // a ladder that cannot be climbed
	NoSheet     Code = "no_sheet"     // the sheet has no figure for it
	NoWay       Code = "no_way"       // no way leads there
	NotClosed   Code = "not_closed"   // left away from its rest
	Law         Code = "law"          // against a law of the trade
	UnknownPart Code = "unknown_part" // no part of the shop
	UnknownSign Code = "unknown_sign" // no sign or test of the library
	BadKind     Code = "bad_kind"     // no kind of seizure
	BadThing    Code = "bad_thing"    // no thing that may be near or kept
	BadRung     Code = "bad_rung"     // no rung of the ladder
)

// A job as it stands.
const (
	OtherSide    Code = "other_side"    // what was counted is the other side's
	RefusedPart  Code = "refused_part"  // the part was refused
	Stale        Code = "stale"         // seen before somebody else went on
	Conflict     Code = "conflict"      // it clashes with what is recorded
	Claim        Code = "claim"         // the tool is in another hand, or in none
	TooQuick     Code = "too_quick"     // quicker than hands are
	Blocked      Code = "blocked"       // something must come before
	Order        Code = "order"         // its turn has not come
	Condition    Code = "condition"     // the vehicle does not stand so
	Gate         Code = "gate"          // a gate stands before it
	Attended     Code = "attended"      // nobody leaves it as it stands
	Signed       Code = "signed"        // the job is signed
	Variant      Code = "variant"       // it is not said which hardware it is
	OdometerBack Code = "odometer_back" // the odometer runs backwards
	Impossible   Code = "impossible"    // it cannot be
	Trouble      Code = "trouble"       // a trouble stands open
	Tool         Code = "tool"          // the tool may not do it
	Broken       Code = "broken"        // the record is not the one that was sealed
	FigureStruck Code = "figure_struck" // the figure was struck on its sheet
	TooLate      Code = "too_late"      // its time has passed
	NoFigure     Code = "no_figure"     // nobody has read it yet
	NoReader     Code = "no_reader"     // a second person reads it first
	Differ       Code = "differ"        // readings do not agree
	TooSoon      Code = "too_soon"      // its time has not come
	Invented     Code = "invented"      // made up, for the demo and practice alone
)

// Who asks, and the server.
const (
	SignedOut   Code = "signed_out"   // nobody is signed in
	Forbidden   Code = "forbidden"    // not from there
	Role        Code = "role"         // not for somebody of that role
	BadPIN      Code = "bad_pin"      // name and PIN do not belong together
	Throttled   Code = "throttled"    // too many guesses
	LastForeman Code = "last_foreman" // there would be no foreman
	BadEncoding Code = "bad_encoding" // sent in a way that is not read
	BadMethod   Code = "bad_method"   // asked another way
	BadRequest  Code = "bad_request"  // a request that is not understood
	Internal    Code = "internal"     // something broke in here
	DiskFull    Code = "disk_full"    // the disk is full
	ReadOnly    Code = "read_only"    // the file cannot be written to
	NotReady    Code = "not_ready"    // not reached now
	Supplier    Code = "supplier"     // the supplier gives no answer
	Key         Code = "key"          // the key is not there, or not the one of the signed end
)
