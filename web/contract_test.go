package web

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/pb33f/libopenapi"
	validator "github.com/pb33f/libopenapi-validator"

	"lugtak/core/listing"
	"lugtak/demo"
	"lugtak/reckon"
)

// contract holds answers against the OpenAPI text the server itself sends.
type contract struct {
	t    *testing.T
	by   validator.Validator
	doc  document
	addr string
	read string // secrets of two scripts
	both string
}

type document struct {
	Paths map[string]map[string]described
}

type described struct {
	OperationID string `json:"operationId"`
	Parameters  []struct {
		Name, In string
		Schema   struct {
			Type    string
			Minimum *int
			Maximum *int
			Enum    []string
		}
	}
	RequestBody any
	Security    []map[string][]string
}

func newContract(t *testing.T) contract {
	s, addr, _, _ := serve(t, Config{})
	c := contract{t: t, addr: addr}
	c.read = newScript(t, s, addr, "reads", listing.ScopeRead).secret
	c.both = newScript(t, s, addr, "writes", listing.ScopeWrite).secret
	res, err := http.Get("http://" + addr + "/api/v1/openapi.json")
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	text, err := io.ReadAll(res.Body)
	if err != nil {
		t.Fatal(err)
	}
	doc, err := libopenapi.NewDocument(text)
	if err != nil {
		t.Fatal(err)
	}
	var errs []error
	if c.by, errs = validator.NewValidator(doc); len(errs) > 0 {
		t.Fatal(errs)
	}
	if err := json.Unmarshal(text, &c.doc); err != nil {
		t.Fatal(err)
	}
	return c
}

// ask sends a request and holds its answer, and where it should be taken the request too, against the text.
func (c contract) ask(method, path, body, secret string, good bool) *http.Response {
	c.t.Helper()
	build := func() *http.Request {
		req, err := http.NewRequest(strings.ToUpper(method), "http://"+c.addr+path, strings.NewReader(body))
		if err != nil {
			c.t.Fatal(err)
		}
		if secret != "" {
			req.Header.Set("Authorization", "Bearer "+secret)
		}
		if body != "" {
			req.Header.Set("Content-Type", "application/json")
		}
		return req
	}
	res, err := http.DefaultClient.Do(build())
	if err != nil {
		c.t.Fatal(err)
	}
	data, err := io.ReadAll(res.Body)
	res.Body.Close()
	if err != nil {
		c.t.Fatal(err)
	}
	res.Body = io.NopCloser(bytes.NewReader(data))
	if good {
		if ok, errs := c.by.ValidateHttpRequest(build()); !ok {
			for _, e := range errs {
				c.t.Errorf("%s %s is not as described: %s: %s %v", method, path, e.Message, e.Reason, e.SchemaValidationErrors)
			}
		}
		if res.StatusCode >= 300 {
			c.t.Errorf("%s %s %s: %d %s", method, path, body, res.StatusCode, data)
		}
	}
	if ok, errs := c.by.ValidateHttpResponse(build(), res); !ok {
		for _, e := range errs {
			why := ""
			for _, x := range e.SchemaValidationErrors {
				why += " " + x.FieldPath + ": " + x.Reason
			}
			c.t.Errorf("%s %s answers %d otherwise than described: %s: %s%s\n%.300s", method, path, res.StatusCode, e.Message,
				e.Reason, why, data)
		}
	}
	res.Body = io.NopCloser(bytes.NewReader(data))
	return res
}

const begunJob = "0f0e3c5a-5d2b-4a51-9d5f-3f6b0c1a7e11"

// fields are the names of all that a call takes: its parameters, and what its body may hold at any depth.
func (o described) fields() map[string]bool {
	names := map[string]bool{"": true, "Authorization": true}
	for _, p := range o.Parameters {
		names[p.Name] = true
	}
	var walk func(v any)
	walk = func(v any) {
		switch v := v.(type) {
		case map[string]any:
			if properties, ok := v["properties"].(map[string]any); ok {
				for name := range properties {
					names[name] = true
				}
			}
			for _, x := range v {
				walk(x)
			}
		case []any:
			for _, x := range v {
				walk(x)
			}
		}
	}
	walk(o.RequestBody)
	return names
}

// bodies are what each writing call takes, by its name.
var bodies = map[string]string{
	"add-vehicle":   `{"id":"K-1","fleet":"K-1","plate":"K 1","vin":"","sheet":"kestrel"}`,
	"begin-sheet":   `{"id":"kestrel","name":"Kestrel van","outline":{"kind":"van"},"driven":"front","built":{}}`,
	"read-figure":   `{"id":"k-1","joint":"hub.front.knuckle","recipe":"60 Nm + 90°","source":"manual","page":"12"}`,
	"set-shop":      `{"id":"s-1","name":"Tarn Quay","first_unit":"Nm","currency":"EUR","rate_per_hour":80,"salt":false}`,
	"hang-tools":    `{"id":"t-1","tools":[{"kind":"click","max_nm":200,"step_nm":1,"drive":"1/2","length_mm":420}]}`,
	"keep-sockets":  `{"id":"c-1","sockets":["13 mm","3/4 in"]}`,
	"keep-adapters": `{"id":"c-2","adapters":[{"adapter":"","name":"foot","length_mm":50}]}`,
	"keep-prices":   `{"id":"c-3","prices":[{"part":"hub-unit","price":148.5}]}`,
	"begin-job":     `{"id":"` + begunJob + `","vehicle":"demo-q14","complaint":"knocks","odometer_km":190000}`,
	"order":         `{"id":"o-1","operations":["front-hub-unit@FL"]}`,
	"note-finding":  `{"id":"f-1","text":"boot torn"}`,
}

// Every call keeps what the API says of it, for what it takes and for what it refuses.
func TestTheAPIKeepsItsDocument(t *testing.T) {
	c := newContract(t)
	examples := map[string]string{}
	for _, x := range reckon.All() {
		examples[x.Name] = x.Example
	}
	paths := make([]string, 0, len(c.doc.Paths))
	for p := range c.doc.Paths {
		paths = append(paths, p)
	}
	slices.Sort(paths)
	var vehicles struct{ Items []struct{ ID string } }
	data, _ := io.ReadAll(c.ask("get", "/api/v1/vehicles", "", c.read, true).Body)
	if err := json.Unmarshal(data, &vehicles); err != nil || len(vehicles.Items) == 0 {
		t.Fatalf("%v %s", err, data)
	}
	fill := strings.NewReplacer("{vehicle}", vehicles.Items[0].ID, "{job}", demo.HalfDone, "{sheet}", "kestrel",
		"%vehicle%", vehicles.Items[0].ID)
	none := strings.NewReplacer("{vehicle}", "none", "{job}", "none", "{sheet}", "none")
	// Sheets come first: what follows reads one.
	slices.SortStableFunc(paths, func(a, b string) int {
		return strings.Compare(fmt.Sprint(!strings.HasSuffix(a, "/sheets")), fmt.Sprint(!strings.HasSuffix(b, "/sheets")))
	})
	for _, path := range paths {
		for _, method := range []string{"post", "get"} {
			op, ok := c.doc.Paths[path][method]
			if !ok || strings.HasSuffix(path, "/stream") || strings.HasPrefix(op.OperationID, "tool-") {
				continue
			}
			body := examples[op.OperationID]
			if body == "" {
				body = fill.Replace(bodies[op.OperationID])
			}
			if method == "post" && body == "" {
				t.Errorf("%s has no body to try", op.OperationID)
				continue
			}
			fields := op.fields()
			at := fill.Replace(path)
			if op.OperationID == "order" { // of the job that was begun before
				at = strings.Replace(path, "{job}", begunJob, 1)
			}
			c.ask(method, at, body, c.both, true)
			if len(op.Security) > 0 {
				if res := c.ask(method, at, body, "", false); res.StatusCode != 401 || res.Header.Get("WWW-Authenticate") == "" {
					t.Errorf("%s %s for a stranger: %d %q", method, at, res.StatusCode, res.Header.Get("WWW-Authenticate"))
				}
			}
			if method == "get" {
				c.heads(at)
				if at != path {
					if res := c.ask(method, none.Replace(path), "", c.both, false); res.StatusCode != 404 {
						t.Errorf("%s %s of none: %d", method, path, res.StatusCode)
					}
				}
			} else {
				for _, bad := range spoilt(t, body) {
					res := c.ask(method, at, bad, c.both, false)
					if res.StatusCode >= 500 {
						t.Errorf("%s %s of %q: %d", method, at, bad, res.StatusCode)
					}
					var p struct{ Field string }
					if res.StatusCode == 422 && (json.NewDecoder(res.Body).Decode(&p) != nil || !fields[p.Field]) {
						t.Errorf("%s %s of %q names %q, which it does not take", method, at, bad, p.Field)
					}
				}
				for _, bad := range []string{"", "{", "[]", `{"nobody":1}`, "{}{}", strings.Replace(body, `":`, `":[`, 1)} {
					if res := c.ask(method, at, bad, c.both, false); res.StatusCode < 400 || res.StatusCode >= 500 {
						t.Errorf("%s %s takes %q: %d", method, at, bad, res.StatusCode)
					}
				}
				if len(op.Security) > 0 {
					if res := c.ask(method, at, body, c.read, false); res.StatusCode != 403 {
						t.Errorf("%s %s by a reader: %d", method, at, res.StatusCode)
					}
				}
			}
			for _, p := range op.Parameters {
				if p.In != "query" {
					continue
				}
				wrong := []string{"%00", strings.Repeat("9", 40)}
				if p.Schema.Minimum != nil && p.Schema.Maximum != nil {
					for _, n := range []int{*p.Schema.Minimum, *p.Schema.Maximum} {
						c.ask(method, fmt.Sprintf("%s?%s=%d", at, p.Name, n), "", c.both, true)
					}
					for _, n := range []int{*p.Schema.Minimum - 1, *p.Schema.Maximum + 1} {
						if res := c.ask(method, fmt.Sprintf("%s?%s=%d", at, p.Name, n), "", c.both, false); res.StatusCode != 422 {
							t.Errorf("%s?%s=%d: %d", at, p.Name, n, res.StatusCode)
						}
					}
				}
				if p.Schema.Type == "integer" && p.Schema.Minimum == nil {
					t.Errorf("%s?%s has no bounds", at, p.Name)
				}
				for _, v := range p.Schema.Enum {
					c.ask(method, at+"?"+p.Name+"="+v, "", c.both, true)
				}
				for _, v := range append(wrong, "none") {
					if res := c.ask(method, at+"?"+p.Name+"="+v, "", c.both, false); res.StatusCode >= 500 ||
						p.Schema.Enum != nil && res.StatusCode != 422 {
						t.Errorf("%s?%s=%s: %d", at, p.Name, v, res.StatusCode)
					}
				}
			}
		}
	}
}

// spoilt is a body with each of its fields in turn empty, huge, negative or left out, under an id of its own.
func spoilt(t *testing.T, body string) []string {
	t.Helper()
	var whole map[string]any
	if err := json.Unmarshal([]byte(body), &whole); err != nil {
		t.Fatalf("%s: %v", body, err)
	}
	var out []string
	for name, was := range whole {
		with := []any{nil}
		switch was.(type) {
		case string:
			with = append(with, "", strings.Repeat("x", 5000), "no such thing")
		case float64:
			with = append(with, -1, 1e12)
		case []any:
			with = append(with, []any{})
		}
		for i, v := range with {
			bad := maps.Clone(whole)
			if _, ok := whole["id"]; ok {
				bad["id"] = fmt.Sprintf("0f0e3c5a-5d2b-4a51-9d5f-%04d%08d", len(out), i)
			}
			if bad[name] = v; v == nil {
				delete(bad, name)
			}
			text, err := json.Marshal(bad)
			if err != nil {
				t.Fatal(err)
			}
			out = append(out, string(text))
		}
	}
	return out
}

// heads asks by the head alone: it says what the whole answer is.
func (c contract) heads(path string) {
	req, err := http.NewRequest(http.MethodHead, "http://"+c.addr+path, nil)
	if err != nil {
		c.t.Fatal(err)
	}
	req.Header.Set("Authorization", "Bearer "+c.both)
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		c.t.Fatal(err)
	}
	res.Body.Close()
	whole := c.ask("get", path, "", c.both, true)
	if res.StatusCode != 200 || res.Header.Get("Content-Type") != whole.Header.Get("Content-Type") {
		c.t.Errorf("HEAD %s: %d %s", path, res.StatusCode, res.Header.Get("Content-Type"))
	}
}
