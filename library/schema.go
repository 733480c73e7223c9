package library

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"sync"

	"github.com/goccy/go-yaml"
	reflector "github.com/invopop/jsonschema"
	"github.com/santhosh-tekuri/jsonschema/v6"

	"lugtak/core/diagnose"
	"lugtak/core/inspect"
	"lugtak/core/operation"
	"lugtak/core/practice"
	"lugtak/core/release"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
	"lugtak/solid"
)

// documents are the kinds of files there are, and what each is read into: the schema a
// file is checked against is made from that type, and rules.yaml laid over it.
var documents = map[string]any{
	"operation": operation.Operation{},
	"way":       operation.Way{},
	"facts":     []operation.FactKind{},
	"laws":      []operation.Law{},
	"pairs":     []operation.Pair{},
	"builds":    []operation.Build{},
	"rescues":   []operation.Rescue{},
	"release":   release.Knowledge{},
	"schools":   []operation.School{},
	"acts":      operation.Acts{},
	"scenes":    solid.Album{},
	"scene":     []solid.Scene{},
	"pattern":   vehicle.Pattern{},
	"signs":     []diagnose.Evidence{},
	"suspects":  []diagnose.Suspect{},
	"limits":    inspect.Limits{},
	"tools":     Crib{},
	"sockets":   []wrench.SocketSet{},
	"shop":      Shop{},

	"manoeuvres":   []operation.Driven{},
	"exercise":     practice.Exercise{},
	"consequences": []practice.Consequence{},
}

// rules are the fragments of schema in rules.yaml.
type rules struct {
	Words map[string]any            `yaml:"words"`
	Files map[string]map[string]any `yaml:"files"`
	Types map[string]map[string]any `yaml:"types"`
}

var readRules = sync.OnceValues(func() (rules, error) {
	var r rules
	data, err := embedded.ReadFile("rules.yaml")
	if err != nil {
		return r, err
	}
	return r, yaml.UnmarshalWithOptions(data, &r, yaml.DisallowUnknownField())
})

// Schemas lists the kinds of files that Schema knows.
func Schemas() []string { return slices.Sorted(maps.Keys(documents)) }

// Schema is the JSON Schema that a kind of library file is checked against.
func Schema(kind string) (map[string]any, error) {
	doc, ok := documents[kind]
	if !ok {
		return nil, fmt.Errorf("there is no schema %q: name one of %s", kind, strings.Join(Schemas(), ", "))
	}
	over, err := readRules()
	if err != nil {
		return nil, err
	}
	made := reflector.Reflector{
		FieldNameTag:               "yaml",
		KeyNamer:                   strings.ToLower,
		RequiredFromJSONSchemaTags: true, // what must be there is said in rules.yaml
		Anonymous:                  true,
	}
	text, err := json.Marshal(made.Reflect(doc))
	if err != nil {
		return nil, err
	}
	var schema map[string]any
	if err := json.Unmarshal(text, &schema); err != nil {
		return nil, err
	}
	defs, _ := schema["$defs"].(map[string]any)
	for name, def := range defs {
		overlay(def.(map[string]any), over.Types[name])
	}
	overlay(schema, over.Files[kind])
	return schema, nil
}

// overlay lays a fragment over a schema: objects are joined, all else is replaced.
func overlay(schema, fragment map[string]any) {
	for k, v := range fragment {
		under, both := schema[k].(map[string]any)
		if over, object := v.(map[string]any); both && object {
			overlay(under, over)
			continue
		}
		schema[k] = v
	}
}

// compiled holds the schemas made so far: they are part of the program.
var compiled sync.Map

func compile(kind string) (*jsonschema.Schema, error) {
	if sch, ok := compiled.Load(kind); ok {
		return sch.(*jsonschema.Schema), nil
	}
	made, err := Schema(kind)
	if err != nil {
		return nil, err
	}
	text, err := json.Marshal(made)
	if err != nil {
		return nil, err
	}
	plain, err := jsonschema.UnmarshalJSON(strings.NewReader(string(text)))
	if err != nil {
		return nil, err
	}
	c := jsonschema.NewCompiler()
	if err := c.AddResource(kind, plain); err != nil {
		return nil, err
	}
	sch, err := c.Compile(kind)
	if err == nil {
		compiled.Store(kind, sch)
	}
	return sch, err
}
