// Package reckon holds every calculation under one name with its input, its
// output, its formula and source. The command line, the HTTP API and its
// OpenAPI text, and the calculator pages are all made from this one registry.
package reckon

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"reflect"
	"slices"
	"strings"

	"github.com/invopop/jsonschema"

	"lugtak/core/fault"
)

// Calc is one calculation.
type Calc struct {
	Name    string
	Title   string
	Formula string
	Source  string
	Example string // a JSON input that works

	in, out reflect.Type
	run     func(json.RawMessage) (any, error)
}

// Problem is an error as RFC 9457 wants it, with what a program needs beside.
type Problem struct {
	Type   string `json:"type"`
	Title  string `json:"title"`
	Status int    `json:"status"`
	Detail string `json:"detail"`
	Code   string `json:"code"`
	Field  string `json:"field,omitempty"`
	Remedy string `json:"remedy"`
	Column int    `json:"column,omitempty"`
}

func (p *Problem) Error() string { return p.Detail + " " + p.Remedy }

// FromFault makes a problem of a rule's refusal.
func FromFault(f *fault.Fault, status int) *Problem {
	return &Problem{Type: "urn:lugtak:problem:" + strings.ReplaceAll(f.Code, "_", "-"), Title: titles[status], Status: status, Detail: f.Detail, Code: f.Code, Field: f.Field, Remedy: f.Remedy, Column: f.Column}
}

var titles = map[int]string{400: "Not JSON", 404: "Not found", 413: "Too large", 422: "A value cannot be used", 500: "Something broke"}

// MaxInput bounds one calculation's input, traces included.
const MaxInput = 16 << 20

// calc registers a calculation from a function on plain structs.
func calc[I, O any](c Calc, f func(I) (O, error)) Calc {
	c.in, c.out = reflect.TypeFor[I](), reflect.TypeFor[O]()
	c.run = func(raw json.RawMessage) (any, error) {
		var in I
		if err := strict(raw, &in); err != nil {
			return nil, err
		}
		if err := required(raw, c.in); err != nil {
			return nil, err
		}
		return f(in)
	}
	return c
}

// name is a text that looks like a number and is often sent as one: a class, 10.9,
// or a rule, 393.209.
type name string

// UnmarshalJSON takes a text or a number as it is written.
func (n *name) UnmarshalJSON(data []byte) error {
	var s string
	if json.Unmarshal(data, &s) == nil {
		*n = name(s)
		return nil
	}
	var x json.Number
	if err := json.Unmarshal(data, &x); err != nil {
		return &json.UnmarshalTypeError{Value: "value", Type: reflect.TypeFor[string]()}
	}
	*n = name(x)
	return nil
}

func strict(raw json.RawMessage, into any) error {
	d := json.NewDecoder(bytes.NewReader(raw))
	d.DisallowUnknownFields()
	err := d.Decode(into)
	var typ *json.UnmarshalTypeError
	switch {
	case err == nil:
		if _, err := d.Token(); err != io.EOF {
			return fault.New("bad_json", "", "There is more than one JSON value.", "Send one object.")
		}
		return nil
	case errors.As(err, &typ):
		return fault.New("bad_type", typ.Field, fmt.Sprintf("%s is a %s where a %s is wanted.", orInput(typ.Field), typ.Value, kindWord(typ.Type)), "Give it as the schema says.")
	case strings.HasPrefix(err.Error(), "json: unknown field "):
		name := strings.Trim(strings.TrimPrefix(err.Error(), "json: unknown field "), `"`)
		return fault.New("unknown_field", name, "There is no field “"+name+"” here.", "Leave it out or look at the schema.")
	}
	return fault.New("bad_json", "", "This is not JSON: "+err.Error()+".", "Send one JSON object.")
}

func orInput(field string) string {
	if field == "" {
		return "The input"
	}
	return "“" + field + "”"
}

func kindWord(t reflect.Type) string {
	switch t.Kind() {
	case reflect.Float64, reflect.Int:
		return "number"
	case reflect.String:
		return "text"
	case reflect.Bool:
		return "true or false"
	case reflect.Slice:
		return "list"
	}
	return "object"
}

// required: fields without omitempty must be there.
func required(raw json.RawMessage, t reflect.Type) error {
	var m map[string]json.RawMessage
	if json.Unmarshal(raw, &m) != nil {
		return nil
	}
	for i := range t.NumField() {
		name, opt, _ := strings.Cut(t.Field(i).Tag.Get("json"), ",")
		if _, there := m[name]; !there && !strings.Contains(opt, "omitempty") {
			return fault.New("missing", name, "“"+name+"” is missing.", "Give it, as the schema says.")
		}
	}
	return nil
}

// Find gives a calculation by name.
func Find(name string) (Calc, bool) {
	i := slices.IndexFunc(all, func(c Calc) bool { return c.Name == name })
	if i < 0 {
		return Calc{}, false
	}
	return all[i], true
}

// All lists the calculations.
func All() []Calc { return slices.Clone(all) }

// Run does one calculation: JSON in, JSON out. Its error is always a *Problem.
func Run(name string, input []byte) (out []byte, err error) {
	res, err := Do(name, input)
	if err != nil {
		return nil, err
	}
	out, err = json.Marshal(res)
	if err != nil {
		return nil, FromFault(fault.New("out_of_range", "", "The result is not a finite number.", "Look at the inputs."), 422)
	}
	return out, nil
}

// Do is Run with the result as a value.
func Do(name string, input []byte) (any, error) {
	c, ok := Find(name)
	if !ok {
		var names []string
		for _, c := range all {
			names = append(names, c.Name)
		}
		return nil, FromFault(fault.New("not_found", "name", "There is no calculation of that name.", "Known are "+strings.Join(names, ", ")+"."), 404)
	}
	if len(input) > MaxInput {
		return nil, FromFault(fault.New("too_long", "", "The input is too large.", fmt.Sprintf("Send at most %d MB.", MaxInput>>20)), 413)
	}
	if !json.Valid(input) {
		return nil, FromFault(fault.New("bad_json", "", "This is not JSON.", "Send one JSON object, as "+c.Example+"."), 400)
	}
	res, err := c.run(input)
	if err != nil {
		f := fault.As(err)
		switch {
		case f == nil:
			return nil, FromFault(fault.New("internal", "", "Something broke in here.", "Report it with the input."), 500)
		case f.Code == "bad_json":
			return nil, FromFault(f, 400)
		}
		return nil, FromFault(f, 422)
	}
	return res, nil
}

func (c Calc) schemas() (in, out *jsonschema.Schema) {
	r := jsonschema.Reflector{DoNotReference: true, ExpandedStruct: true, Anonymous: true}
	return r.ReflectFromType(c.in), r.ReflectFromType(c.out)
}

// InputSchema is the JSON Schema (2020-12) of a calculation's input.
func (c Calc) InputSchema() *jsonschema.Schema { in, _ := c.schemas(); return in }

// OpenAPI is the OpenAPI 3.1 text of the whole registry.
func OpenAPI(version string) ([]byte, error) {
	type obj = map[string]any
	paths := obj{}
	problem := obj{"description": "problem details (RFC 9457)", "content": obj{"application/problem+json": obj{"schema": obj{"$ref": "#/components/schemas/Problem"}}}}
	for _, c := range all {
		in, out := c.schemas()
		in.Version, out.Version = "", ""
		paths["/api/v1/calc/"+c.Name] = obj{"post": obj{
			"operationId": c.Name, "summary": c.Title, "description": c.Formula + "\n\nSource: " + c.Source,
			"requestBody": obj{"required": true, "content": obj{"application/json": obj{"schema": in, "example": json.RawMessage(c.Example)}}},
			"responses": obj{
				"200": obj{"description": "the result", "content": obj{"application/json": obj{"schema": out}}},
				"400": problem, "422": problem,
			},
		}}
	}
	prob := (&jsonschema.Reflector{DoNotReference: true, ExpandedStruct: true, Anonymous: true}).Reflect(&Problem{})
	prob.Version = ""
	return json.MarshalIndent(obj{
		"openapi": "3.1.0", "jsonSchemaDialect": "https://json-schema.org/draft/2020-12/schema",
		"info":  obj{"title": "Lugtak calculations", "version": version, "description": "Numbers are SI in fields named with their unit. The maker's data always comes first."},
		"paths": paths, "components": obj{"schemas": obj{"Problem": prob}},
	}, "", " ")
}

// sig rounds to nine significant digits: more than any input is good for, and
// free of the tails of binary fractions.
func sig(v float64) float64 {
	if v == 0 || math.IsNaN(v) || math.IsInf(v, 0) {
		return v
	}
	k := math.Pow(10, 8-math.Floor(math.Log10(math.Abs(v))))
	if math.IsInf(k, 0) || k == 0 {
		return v
	}
	return math.Round(v*k) / k
}
