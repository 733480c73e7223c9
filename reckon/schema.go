package reckon

import (
	"reflect"

	"github.com/invopop/jsonschema"

	"lugtak/core/record"
	"lugtak/library"
)

// Schema is the JSON Schema (2020-12) of a file of the library, or of the body of an event by
// its kind.
func Schema(kind string) (any, error) {
	body, ok := record.Blank(record.Kind(kind))
	if !ok {
		return library.Schema(kind)
	}
	r := jsonschema.Reflector{
		DoNotReference:            true,
		ExpandedStruct:            true,
		Anonymous:                 true,
		AllowAdditionalProperties: true,
	}
	s := r.ReflectFromType(reflect.TypeOf(body))
	s.Title = kind
	describe(s)
	return s, nil
}
