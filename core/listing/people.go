package listing

import (
	"lugtak/core/job"
	"slices"
	"time"
)

// Person is somebody who may sign in.
type Person struct {
	ID, Name string
	Role     job.Role
	Active   bool
}

// SessionRow is a session as it is listed.
type Session struct {
	ID, Person, Name string
	Device           string // as the browser names itself
	Began, Seen      time.Time
}

// Prefers is how somebody wants pages shown. What is empty is as the device or the shop has it.
type Prefers struct {
	Look  string // light or dark
	Unit  string // Nm or ft-lb, the one that stands first
	Text  int    // size of the letters, percent
	Voice string // VoiceAloud: the next act, its setting and each verdict are said aloud
	Pace  string // PaceWait: after a good pull one goes on by a key alone
}

// What is preferred otherwise than as it is: silent, and on by itself after a good pull.
const (
	VoiceAloud = "aloud"
	PaceWait   = "wait"
)

// What may be preferred.
var (
	Looks  = []string{"", "light", "dark"}
	Units  = []string{"", "Nm", "ft-lb"}
	Texts  = []int{0, 115, 130, 150, 200}
	Voices = []string{"", VoiceAloud}
	Paces  = []string{"", PaceWait}
)

// Scope is what a script's token lets it do.
type Scope string

// The scopes.
const (
	ScopeRead     Scope = "read"     // everything that a reader may see
	ScopeWrite    Scope = "write"    // besides: vehicles, jobs begun, findings; never evidence, never a signature
	ScopeCalendar Scope = "calendar" // what is due, by a secret address, and nothing else
)

// Scopes lists them.
var Scopes = []Scope{ScopeRead, ScopeWrite, ScopeCalendar}

// Allows says that a token of this scope may do what wants another.
func (s Scope) Allows(wanted Scope) bool {
	return s == wanted || s == ScopeWrite && wanted == ScopeRead
}

// Script is a program that asks by a token of its own.
type Script struct {
	ID, Name string
	Scope    Scope
	By       string // who let it in
	Made     time.Time
	Used     time.Time // zero if never
}

// Signs is the name a script's records stand under: nobody takes it for a person.
func (s Script) Signs() string { return ScriptSigns + s.Name }

const ScriptSigns = "script "

// Hook is another program that is told of new events.
type Hook struct {
	ID, URL string
	Secret  string // what its messages are signed with, as Standard Webhooks writes it
	Kinds   []string
	Upto    int // the last event it was told, by its number in the file
	Fails   int // in a row
	Trouble string
}

// Wants says that the hook is told of a kind of event.
func (h Hook) Wants(kind string) bool { return len(h.Kinds) == 0 || slices.Contains(h.Kinds, kind) }
