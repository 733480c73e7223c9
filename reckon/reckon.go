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
	"maps"
	"math"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"github.com/invopop/jsonschema"

	"lugtak/core/fault"
	"lugtak/library"
)

// Calc is one calculation.
type Calc struct {
	Name    string
	Of      Thing
	Asks    string // what one wants to know, in a few words
	Title   string
	Formula string
	Source  string
	Example string // a JSON input that works

	in, out reflect.Type
	byLib   bool // it goes by what the shop's library says
	run     func(*library.Library, json.RawMessage) (any, error)
}

// Thing is what one has in hand when one asks.
type Thing string

// The things, as they are shown.
const (
	Bolt    Thing = "Bolt or nut"
	Wrench  Thing = "Wrench or socket"
	Brake   Thing = "Brake"
	Wheel   Thing = "Wheel or tyre"
	Shaft   Thing = "Shaft or bush"
	Vehicle Thing = "Vehicle"
)

// Things lists them.
func Things() []Thing { return []Thing{Bolt, Wrench, Brake, Wheel, Shaft, Vehicle} }

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

	Readings []string `json:"readings,omitempty"` // what may be meant, as it would have to be written
}

func (p *Problem) Error() string { return p.Detail + " " + p.Remedy }

// FromFault makes a problem of a rule's refusal.
func FromFault(f *fault.Fault, status int) *Problem {
	return &Problem{
		Type:     "urn:lugtak:problem:" + strings.ReplaceAll(string(f.Code), "_", "-"),
		Title:    titles[status],
		Status:   status,
		Detail:   f.Detail,
		Code:     string(f.Code),
		Field:    f.Field,
		Remedy:   f.Remedy,
		Column:   f.Column,
		Readings: f.Readings,
	}
}

var titles = map[int]string{
	400: "Not JSON",
	401: "Not let in",
	403: "Not allowed",
	404: "Not found",
	405: "Not asked so",
	409: "In conflict",
	413: "Too large",
	422: "A value cannot be used",
	429: "Too many at once",
	503: "Not ready",
	507: "The file cannot be written to",
	500: "Something broke",
}

// MaxInput bounds one calculation's input, traces included.
const MaxInput = 16 << 20

// calc registers a calculation from a function on plain structs.
func calc[I, O any](c Calc, f func(I) (O, error)) Calc {
	c = calcBy(c, func(_ *library.Library, in I) (O, error) { return f(in) })
	c.byLib = false
	return c
}

// calcBy registers one that goes by what the shop's library says.
func calcBy[I, O any](c Calc, f func(*library.Library, I) (O, error)) Calc {
	c.in, c.out, c.byLib = reflect.TypeFor[I](), reflect.TypeFor[O](), true
	c.run = func(lib *library.Library, raw json.RawMessage) (any, error) {
		var in I
		if err := strict(raw, &in); err != nil {
			return nil, err
		}
		if err := required(raw, c.in); err != nil {
			return nil, err
		}
		return f(lib, in)
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
			return fault.New(fault.BadJSON, "", "There is more than one JSON value.", "Send one object.")
		}
		return nil
	case errors.As(err, &typ):
		return fault.New(fault.BadType, typ.Field,
			fmt.Sprintf("%s is a %s where a %s is wanted.", orInput(typ.Field), typ.Value, kindWord(typ.Type)),
			"Give it as the schema says.")
	case strings.HasPrefix(err.Error(), "json: unknown field "):
		name := strings.Trim(strings.TrimPrefix(err.Error(), "json: unknown field "), `"`)
		return fault.New(fault.UnknownField, name, "There is no field “"+name+"” here.",
			"Leave it out or look at the schema.")
	}
	return fault.New(fault.BadJSON, "", "This is not JSON: "+err.Error()+".", "Send one JSON object.")
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
			return fault.New(fault.Missing, name, "“"+name+"” is missing.", "Give it, as the schema says.")
		}
	}
	return nil
}

// all is the registry. A new calculation is one entry and its function.
var all = slices.Concat(fastening, braking, inspecting, mechanics, planning, releasing)

// Find gives a calculation by name.
func Find(name string) (Calc, bool) {
	i := slices.IndexFunc(all, func(c Calc) bool { return c.Name == name })
	if i < 0 {
		return Calc{}, false
	}
	return all[i], true
}

// ByLibrary says that a calculation needs a library to go by; one that is not known does not.
func ByLibrary(name string) bool {
	c, ok := Find(name)
	return ok && c.byLib
}

// All lists the calculations.
func All() []Calc { return slices.Clone(all) }

// Run does one calculation by a shop's library: JSON in, JSON out. Its error is always a *Problem.
func Run(lib *library.Library, name string, input []byte) (out []byte, err error) {
	res, err := Do(lib, name, input)
	if err != nil {
		return nil, err
	}
	out, err = json.Marshal(res)
	if err != nil {
		return nil, FromFault(
			fault.New(fault.OutOfRange, "", "The result is not a finite number.", "Look at the inputs."), 422)
	}
	return out, nil
}

// Do is Run with the result as a value.
func Do(lib *library.Library, name string, input []byte) (any, error) {
	c, ok := Find(name)
	if !ok {
		var names []string
		for _, c := range all {
			names = append(names, c.Name)
		}
		return nil, FromFault(
			fault.New(fault.NotFound, "name", "There is no calculation of that name.",
				"Known are "+strings.Join(names, ", ")+"."),
			404,
		)
	}
	if len(input) > MaxInput {
		return nil, FromFault(
			fault.New(fault.TooLong, "", "The input is too large.", fmt.Sprintf("Send at most %d MB.", MaxInput>>20)),
			413)
	}
	if !json.Valid(input) {
		return nil, FromFault(
			fault.New(fault.BadJSON, "", "This is not JSON.", "Send one JSON object, as "+c.Example+"."), 400)
	}
	res, err := c.run(lib, input)
	if err != nil {
		f := fault.As(err)
		switch {
		case f == nil:
			return nil, FromFault(fault.New(fault.Internal, "", "Something broke in here.", "Report it with the input."), 500)
		case f.Code == fault.BadJSON:
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

// Call is an address beside the calculations that the OpenAPI text tells too. In and Out
// are values of the types it takes and gives.
type Call struct {
	Path, Method, Name, Title, Says string
	In, Out                         any
	Made                            bool   // it answers 201 where something new came of it
	Stream                          bool   // it answers with server-sent events of Out
	Media                           string // of a paper it answers with, where that is no JSON
	Scope                           string // of the token it asks for; empty for none
	Query                           []Param
	Refuses                         []int // with problem details
}

// Param is a field of an address behind its question mark.
type Param struct {
	Name, Says, Type string
	Least, Most      int      // of an integer; 0, 0 where it has no bounds
	Enum             []string // all it may be
}

func (p Param) schema() object {
	s := object{"type": p.Type}
	if p.Most > 0 {
		s["minimum"], s["maximum"] = p.Least, p.Most
	}
	if p.Enum != nil {
		s["enum"] = p.Enum
	}
	return s
}

type object = map[string]any

// problemRef is how every refusal is described.
var problemRef = object{
	"description": "problem details (RFC 9457)",
	"content": object{
		"application/problem+json": object{"schema": object{"$ref": "#/components/schemas/Problem"}},
	},
}

func jsonBody(schema *jsonschema.Schema) object {
	return object{"application/json": object{"schema": schema}}
}

func (c Call) operation() object {
	var content object
	switch {
	case c.Media == "application/json":
		content = object{c.Media: object{"schema": object{"type": "object"}}}
	case c.Media != "":
		content = object{c.Media: object{"schema": object{"type": "string"}}}
	case c.Stream:
		content = object{"text/event-stream": object{"schema": schemaOf(reflect.TypeOf(c.Out))}}
	default:
		content = jsonBody(schemaOf(reflect.TypeOf(c.Out)))
	}
	answers := object{"200": object{"description": "the result", "content": content}}
	if c.Made {
		answers["201"] = object{"description": "it was made", "content": content}
	}
	for _, code := range c.Refuses {
		answers[strconv.Itoa(code)] = problemRef
	}
	op := object{
		"operationId": c.Name,
		"summary":     c.Title,
		"description": c.Says,
		"responses":   answers,
	}
	var parameters []object
	for _, part := range strings.Split(c.Path, "/") {
		if name, ok := strings.CutPrefix(part, "{"); ok {
			parameters = append(parameters, object{
				"name":        strings.TrimSuffix(name, "}"),
				"in":          "path",
				"description": "its id",
				"required":    true,
				"schema":      object{"type": "string"},
			})
		}
	}
	for _, q := range c.Query {
		parameters = append(parameters, object{
			"name":        q.Name,
			"in":          "query",
			"description": q.Says,
			"schema":      q.schema(),
		})
		answers["422"] = problemRef // what it cannot be
	}
	op["security"] = []object{}
	if c.Scope != "" {
		op["security"] = []object{{"token": []string{}}}
		op["description"] = c.Says + " Wants a token of scope " + c.Scope + "."
	}
	if parameters != nil {
		op["parameters"] = parameters
	}
	if c.In != nil {
		op["requestBody"] = object{"required": true, "content": jsonBody(schemaOf(reflect.TypeOf(c.In)))}
	}
	return object{c.Method: op}
}

// operation is a calculation as the OpenAPI text tells it.
func (c Calc) operation() object {
	in, out := schemaOf(c.in), schemaOf(c.out)
	body := jsonBody(in)
	body["application/json"].(object)["example"] = json.RawMessage(c.Example)
	return object{"post": object{
		"operationId": c.Name,
		"summary":     c.Title,
		"description": c.Formula + "\n\nSource: " + c.Source,
		"security":    []object{},
		"requestBody": object{"required": true, "content": body},
		"responses": object{
			"200": object{"description": "the result", "content": jsonBody(out)},
			"400": problemRef,
			"422": problemRef,
		},
	}}
}

// schemaOf is the JSON Schema of a type, as part of a larger text.
func schemaOf(t reflect.Type) *jsonschema.Schema {
	r := jsonschema.Reflector{DoNotReference: true, ExpandedStruct: true, Anonymous: true}
	s := r.ReflectFromType(t)
	s.Version = ""
	describe(s)
	return s
}

// OpenAPI is the OpenAPI 3.1 text of the whole registry and of what calls there are
// beside it.
func OpenAPI(version string, beside ...Call) ([]byte, error) {
	paths := object{}
	for _, c := range all {
		paths["/api/v1/calc/"+c.Name] = c.operation()
	}
	for _, c := range beside {
		at, ok := paths[c.Path].(object)
		if !ok {
			at = object{}
			paths[c.Path] = at
		}
		maps.Copy(at, c.operation())
	}
	return json.MarshalIndent(object{
		"openapi":           "3.1.0",
		"jsonSchemaDialect": "https://json-schema.org/draft/2020-12/schema",
		"info": object{
			"title":       "Lugtak",
			"version":     version,
			"description": "Numbers are SI in fields named with their unit. The maker's data always comes first.",
			"license":     object{"name": "as the shop holds it"},
		},
		"servers": []object{{"url": "/", "description": "the shop's own machine"}},
		"paths":   paths,
		"components": object{
			"schemas":         object{"Problem": schemaOf(reflect.TypeFor[Problem]())},
			"securitySchemes": object{"token": object{"type": "http", "scheme": "bearer"}},
		},
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
