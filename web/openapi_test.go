package web

import (
	"encoding/json"
	"net/http"
	"strings"
	"testing"
)

// The OpenAPI text has every call that is mounted under the API, by its method, and every field
// of it says what it is.
func TestOpenAPIIsWhole(t *testing.T) {
	s, _, _, _ := serve(t, Config{})
	text, err := OpenAPI("test")
	if err != nil {
		t.Fatal(err)
	}
	var doc struct {
		Paths map[string]map[string]any
	}
	if err := json.Unmarshal(text, &doc); err != nil {
		t.Fatal(err)
	}
	for _, r := range s.App.GetRoutes(true) {
		if !strings.HasPrefix(r.Path, "/api/") || r.Method == http.MethodHead {
			continue
		}
		path := r.Path
		for _, p := range r.Params {
			path = strings.Replace(path, ":"+p, "{"+p+"}", 1)
		}
		switch path {
		case "/api/v1/openapi.json", "/api/v1/schemas/{kind}": // they describe
			continue
		case "/api/v1/calc/{name}":
			path = "/api/v1/calc/convert"
		}
		if doc.Paths[path][strings.ToLower(r.Method)] == nil {
			t.Errorf("%s %s is not described", r.Method, path)
		}
	}
	var walk func(at string, v any)
	walk = func(at string, v any) {
		switch v := v.(type) {
		case map[string]any:
			if fields, ok := v["properties"].(map[string]any); ok {
				for name, field := range fields {
					if d, _ := field.(map[string]any)["description"].(string); d == "" {
						t.Errorf("%s.%s has no words: put it in reckon/words.yaml", at, name)
					}
				}
			}
			for key, x := range v {
				walk(at+"."+key, x)
			}
		case []any:
			for _, x := range v {
				walk(at, x)
			}
		}
	}
	var all any
	if err := json.Unmarshal(text, &all); err != nil {
		t.Fatal(err)
	}
	walk("", all)
}
