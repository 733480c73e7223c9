package library

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"github.com/goccy/go-yaml"
	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/lexer"
	"github.com/goccy/go-yaml/parser"
	"github.com/goccy/go-yaml/token"
	"github.com/santhosh-tekuri/jsonschema/v6"
)

// document is one YAML file with its lines.
type document struct {
	file *ast.File
}

const maxFile = 1 << 20

// maxKeys is more than twice as many as any file that ships: the time a reader takes grows with their square.
const maxKeys = 4000

// maxDepth is deeper than any file of the library nests brackets.
const maxDepth = 40

// tame refuses what makes much of little before anything is made of it: an alias stands for
// as much again each time, and no file of the library needs one.
func tame(name string, text token.Tokens) *Fault {
	depth, keys := 0, 0
	for _, t := range text {
		switch t.Type {
		case token.MappingValueType:
			if keys++; keys > maxKeys {
				return &Fault{
					File:   name,
					Line:   t.Position.Line,
					Field:  name,
					Detail: fmt.Sprintf("It has more than %d keys, as no file of the library has.", maxKeys),
					Remedy: "Part it.",
				}
			}
		case token.AnchorType, token.AliasType, token.MergeKeyType:
			return &Fault{
				File:   name,
				Line:   t.Position.Line,
				Field:  name,
				Detail: "Anchors and aliases are not read here.",
				Remedy: "Write out what they stand for.",
			}
		case token.SequenceStartType, token.MappingStartType:
			depth++
		case token.SequenceEndType, token.MappingEndType:
			depth--
		}
		if depth > maxDepth || t.Position.Column > 2*maxDepth+maxLine {
			return &Fault{
				File:   name,
				Line:   t.Position.Line,
				Field:  name,
				Detail: "It nests deeper, or has longer lines, than any file of the library.",
				Remedy: "Look at the files that ship for how they are laid out.",
			}
		}
	}
	return nil
}

// maxLine is longer than any line of the library.
const maxLine = 4000

// parse reads a file that must hold what its schema asks for.
func parse(name string, data []byte, schema string) (*document, []Fault) {
	doc, faults := read(name, data)
	if len(faults) > 0 {
		return nil, faults
	}
	if faults := doc.fits(name, schema); len(faults) > 0 {
		return nil, faults
	}
	return doc, nil
}

func read(name string, data []byte) (*document, []Fault) {
	if len(data) > maxFile {
		return nil, []Fault{
			{File: name, Line: 1, Field: name, Detail: "The file is larger than any sheet.", Remedy: "Keep it under 1 MB."},
		}
	}
	text := lexer.Tokenize(string(data))
	if f := tame(name, text); f != nil {
		return nil, []Fault{*f}
	}
	file, err := parser.Parse(text, 0)
	if err != nil {
		return nil, []Fault{yamlFault(name, err)}
	}
	if len(file.Docs) == 0 || file.Docs[0].Body == nil {
		return nil, []Fault{
			{File: name, Line: 1, Field: name, Detail: "The file is empty.", Remedy: "Fill it in, or take it away."},
		}
	}
	return &document{file}, nil
}

// fits holds a document against its schema.
func (d *document) fits(name, schema string) []Fault {
	var value any
	if err := yaml.NodeToValue(d.file.Docs[0].Body, &value); err != nil {
		return []Fault{yamlFault(name, err)}
	}
	sch, err := compile(schema)
	if err != nil {
		return []Fault{
			{File: name, Field: schema, Detail: err.Error(), Remedy: "The schema itself is broken: report it."},
		}
	}
	// The validator takes what encoding/json makes, the YAML reader makes more.
	js, err := json.Marshal(value)
	if err != nil {
		return []Fault{{File: name, Line: 1, Field: name, Detail: err.Error(), Remedy: "Use text keys."}}
	}
	plain, err := jsonschema.UnmarshalJSON(bytes.NewReader(js))
	if err != nil {
		return []Fault{{File: name, Line: 1, Field: name, Detail: err.Error(), Remedy: "Use text keys."}}
	}
	var bad *jsonschema.ValidationError
	if err := sch.Validate(plain); errors.As(err, &bad) {
		return d.schemaFaults(name, bad)
	}
	return nil
}

func yamlFault(name string, err error) Fault {
	f := Fault{
		File:   name,
		Line:   1,
		Field:  "yaml",
		Detail: "This is not YAML: " + yaml.FormatError(err, false, false),
		Remedy: "Look at indents, colons and quotes.",
	}
	var y yaml.Error
	if errors.As(err, &y) && y.GetToken() != nil {
		f.Line = y.GetToken().Position.Line
		f.Detail = "This is not YAML: " + y.GetMessage() + "."
	}
	return f
}

// schemaFaults turns the leaves of a validation error into faults with lines.
func (d *document) schemaFaults(name string, e *jsonschema.ValidationError) []Fault {
	if len(e.Causes) > 0 {
		var out []Fault
		for _, c := range e.Causes {
			out = append(out, d.schemaFaults(name, c)...)
		}
		return out
	}
	p := "$"
	for _, k := range e.InstanceLocation {
		if k != "" && strings.Trim(k, "0123456789") == "" {
			p += "[" + k + "]"
		} else {
			p += ".'" + k + "'"
		}
	}
	detail := e.Error()
	if i := strings.LastIndex(detail, "': "); i >= 0 {
		detail = detail[i+3:]
	}
	return []Fault{d.fault(name, p, strings.TrimSpace(detail)+".", "“lugtak schema” prints what may stand here.")}
}

func (d *document) fault(name, at, detail, remedy string) Fault {
	f := Fault{
		File:   name,
		Line:   1,
		Field:  strings.ReplaceAll(strings.TrimPrefix(strings.TrimPrefix(at, "$"), "."), "'", ""),
		Detail: detail,
		Remedy: remedy,
	}
	if p, err := yaml.PathString(at); err == nil {
		if n, err := p.FilterFile(d.file); err == nil && n != nil {
			f.Line = firstLine(n)
		}
	}
	return f
}

// firstLine: a mapping's own token is its first colon or brace.
func firstLine(n ast.Node) int {
	if m, ok := n.(*ast.MappingNode); ok && len(m.Values) > 0 {
		return m.Values[0].Key.GetToken().Position.Line
	}
	return n.GetToken().Position.Line
}

func (d *document) decode(l *Library, name string, into any) bool {
	if err := yaml.NodeToValue(d.file.Docs[0].Body, into, yaml.Strict()); err != nil {
		l.Faults = append(l.Faults, yamlFault(name, err))
		return false
	}
	return true
}
