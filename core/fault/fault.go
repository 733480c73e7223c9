// Package fault holds the one kind of error the rules of Lugtak return: a
// value that says what is wrong, where, and what to do about it.
package fault

import (
	"errors"
	"fmt"
	"strings"
	"time"
)

// Fault is a refusal by a rule. Code is stable and meant for programs; Field
// names the input at fault; Detail and Remedy are sentences for people.
type Fault struct {
	Code   Code
	Field  string
	Detail string
	Remedy string
	Column int // 1-based place in a text field; 0 where it has none

	Readings []string // what may be meant, each as it would have to be written

	Wait time.Duration // until it is worth trying again; 0 where trying again changes nothing
}

func (f *Fault) Error() string {
	s := f.Detail
	if f.Column > 0 {
		s = fmt.Sprintf("column %d: %s", f.Column, s)
	}
	if f.Remedy != "" {
		s += " " + f.Remedy
	}
	return s
}

// Short is the first sentence of it without its stop, for a key that cannot be pressed.
func (f *Fault) Short() string {
	head, _, _ := strings.Cut(f.Detail, ". ")
	head, _, _ = strings.Cut(head, ": ")
	return strings.TrimSuffix(head, ".")
}

// New makes a fault about one field.
func New(code Code, field, detail, remedy string) *Fault {
	return &Fault{Code: code, Field: field, Detail: detail, Remedy: remedy}
}

// InRange is a fault where a figure is not within low to high, both included; NaN never is.
func InRange(field string, v, low, high float64, detail, remedy string) error {
	if v >= low && v <= high {
		return nil
	}
	return New(OutOfRange, field, detail, remedy)
}

// First gives the first of several that is one, or nil.
func First(errs ...error) error {
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	return nil
}

// As finds the fault in an error chain, or nil.
func As(err error) *Fault {
	var f *Fault
	if errors.As(err, &f) {
		return f
	}
	return nil
}

// In gives a copy of the fault that speaks of another field: a rule knows its
// own argument, the caller knows what the user typed it into.
func In(field string, err error) error {
	f := As(err)
	if f == nil {
		return err
	}
	g := *f
	g.Field = field
	return &g
}
