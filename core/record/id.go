package record

import (
	"errors"
	"fmt"
	"strings"
)

// EventID names an event, an act of the shop or a message of a chain. It is made by whoever
// records it, so that a repeat is harmless.
type EventID string

// LongestID bounds what clients make, in bytes.
const LongestID = 120

// idMarks are what may stand in an id beside letters and digits.
const idMarks = "-_.:/#@+=~"

// ParseEventID reads an id: ASCII letters, digits and a few marks, so that it is the same text
// in every file, address and header. Ids of old journals were not held to that and are read as
// they stand.
func ParseEventID(text string) (EventID, error) {
	switch {
	case text == "":
		return "", errors.New("there is no id")
	case len(text) > LongestID:
		return "", fmt.Errorf("an id has %d characters at most, this one has %d", LongestID, len(text))
	}
	for i := range len(text) {
		if !idLetter(text[i]) {
			return "", fmt.Errorf("an id is of letters, digits and %s; at place %d stands %q", idMarks, i+1, text[i])
		}
	}
	return EventID(text), nil
}

func idLetter(c byte) bool {
	letter := 'a' <= c && c <= 'z' || 'A' <= c && c <= 'Z'
	digit := '0' <= c && c <= '9'
	return letter || digit || strings.IndexByte(idMarks, c) >= 0
}

// And names a further record that one act of a person brings about.
func (id EventID) And(what ...any) EventID {
	return EventID(fmt.Sprint(append([]any{id, "/"}, what...)...))
}

// String is the id as it is written.
func (id EventID) String() string { return string(id) }

// MarshalText lets it stand where a text does.
func (id EventID) MarshalText() ([]byte, error) { return []byte(id), nil }

// UnmarshalText reads what MarshalText writes, and refuses what no client may make.
func (id *EventID) UnmarshalText(text []byte) error {
	read, err := ParseEventID(string(text))
	if err == nil {
		*id = read
	}
	return err
}
