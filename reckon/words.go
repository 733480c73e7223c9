package reckon

import (
	_ "embed"
	"sync"

	"github.com/goccy/go-yaml"
	"github.com/invopop/jsonschema"
)

//go:embed words.yaml
var wordsText []byte

// words say what a field of a calculation or of the API is, by its name.
var words = sync.OnceValue(func() map[string]string {
	out := map[string]string{}
	if err := yaml.Unmarshal(wordsText, &out); err != nil {
		panic(err) // the file is part of the program
	}
	return out
})

// describe gives every property of a schema its description: its own, or the one its name has
// everywhere.
func describe(s *jsonschema.Schema) {
	if s == nil {
		return
	}
	if s.Properties != nil {
		for p := s.Properties.Oldest(); p != nil; p = p.Next() {
			if p.Value.Description == "" {
				p.Value.Description = words()[p.Key]
			}
			describe(p.Value)
		}
	}
	describe(s.Items)
	describe(s.AdditionalProperties)
	for _, x := range s.AnyOf {
		describe(x)
	}
}
