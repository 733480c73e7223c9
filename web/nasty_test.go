package web

import (
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"lugtak/demo"
	"lugtak/reckon"
)

var nasty = []string{"", "NaN", "-1", "1e309", "0x1p4", "１２", strings.Repeat("9", 400), strings.Repeat("é", 3000),
	"\x00", "<script>alert(1)</script>", "';--", "../../etc/passwd", "\xff\xfe"}

// Bad input of any kind gets a message, never a failure, at every door that takes
// one; afterwards the shop's record is as it was.
func TestNothingBreaksOnNastyInput(t *testing.T) {
	addr, _, client := served(t)
	base := "http://" + addr
	_, page := get(t, client, base+"/")
	token := regexp.MustCompile(`name="_csrf" value="([^"]+)"`).FindStringSubmatch(page)[1]
	_, before := get(t, client, base+"/jobs/"+demo.HalfDone+"/job.json")
	posts := map[string][]string{
		"/jobs/new":                      {"vehicle", "operation", "corner", "complaint", "odometer", "id"},
		"/jobs/" + demo.Struts + "/move": {"step", "behind"},
		"/vehicles/new":                  {"fleet", "vin", "sheet", "name", "outline", "built-driven"},
		"/jobs/" + demo.Struts + "/figures": {
			"joint", "recipe", "source", "page", "thread", "class", "condition", "hardware",
		},
		"/crib/sockets":  {"socket", "whole"},
		"/crib/adapters": {"name-0", "length-0", "angle-0", "flex-0"},
		"/shop/prices":   {"price-hub-unit", "price-moon"},
		"/shop":          {"name", "contact", "unit", "currency", "rate", "salt"},
		"/jobs/" + demo.Struts + "/seen": {
			"what", "joint", "count", "thread", "drive", "socket", "title", "gone", "second", "pin", "cell",
		},
		"/jobs/" + demo.Struts + "/otherwise": {"key", "is"},
		"/jobs/" + demo.Struts + "/lacking":   {"joint", "thread", "class", "looked", "second"},
		"/jobs/" + demo.Struts + "/paste":     {"text"},
		"/jobs/" + demo.Struts + "/pasted":    {"text", "source", "page", "compared", "of-1"},
		"/jobs/" + demo.Struts + "/read":      {"step", "joint", "recipe", "treatment", "second"},
		"/crib/w2":                            {"kind", "note", "p0-0"},
		"/shelf/ostrel-c22":                   {"joint", "recipe", "source", "why"},
		"/wrench/w3/pull":                     {"amount", "fault", "quick"},
		"/shelf":                              {"kind", "text"}, "/reckoner/pull": {"recipe", "csv", "thread", "class"},
	}
	for path, fields := range map[string][]string{
		"step": {"step", "choice"}, "work": {"step", "letter"},
		"pull": {"step", "joint", "letter", "reading", "tool", "adapter", "csv"}, "keep": {"pull"},
		"again": {"joint", "letter", "reason"},
		"later": {"step"}, "trouble": {"step", "letter", "what"}, "clear": {"trouble", "how"}, "undo": {"step", "reason"},
		"choose": {"joint", "variant"}, "part": {"part", "status"},
		"strike": {"pull", "reason"}, "deviate": {"gate", "reason", "second", "pin", "lengths"}, "sign": {"pin", "note"},
		"reopen": {"reason"},
		"answer": {"sign", "say"}, "measure": {"key", "value", "limit", "source"},
		"rotor": {"readings", "new", "discard", "runout", "distance"}, "lash": {"rule", "wheel", "value"},
		"lining": {"kind", "value"}, "road": {"tyre", "ratio", "csv"}, "decide": {"suspect", "corner"},
		"order": {"task", "school-taper", "technicians"}, "school": {"school", "way", "technicians"},
		"move": {"step", "behind"}, "replan": {"slow", "minutes", "technicians"},
		"kit":   {"joint", "recipe", "socket", "treatment", "hardware", "source"},
		"match": {"step", "old-length_mm", "new-length_mm", "note", "say"},
		"trial": {"step", "found-0", "note-0"}, "fluid": {"step", "out", "in", "unit", "spec", "colour", "air"},
		"due": {"no", "odometer", "found"}, "handover": {"corner", "to", "note", "stands"},
		"treat": {"joint", "treatment", "reason"},
		"free":  {"title", "corner", "from"}, "free/act": {"do", "what", "carried", "count", "system", "cell"},
		"free/drop": {},
		"access":    {"joint", "socket", "drive", "extension", "blocked"}, "rescue": {"step", "way", "said"},
		"try": {"trouble", "seizure", "near", "keep", "rung", "outcome", "became"},
	} {
		posts["/jobs/"+demo.HalfDone+"/"+path] = fields
		posts["/jobs/nowhere/"+path] = fields
	}
	for path, fields := range posts {
		for _, bad := range nasty {
			form := url.Values{"_csrf": {token}, "id": {"nasty"}}
			for _, f := range fields {
				form.Set(f, bad)
			}
			res, err := client.PostForm(base+path, form)
			if err != nil {
				t.Fatalf("%s %.20q: %v", path, bad, err)
			}
			body, _ := io.ReadAll(res.Body)
			res.Body.Close()
			if res.StatusCode >= http.StatusInternalServerError {
				t.Errorf("%s %.20q: %d", path, bad, res.StatusCode)
			}
			if strings.Contains(string(body), "<script>alert") {
				t.Errorf("%s gives a script back", path)
			}
		}
	}
	// An address has an end, beyond which the server hangs up; long values are for
	// forms.
	var short []string
	for _, bad := range nasty {
		short = append(short, bad[:min(len(bad), 60)])
	}
	for _, path := range []string{"/jobs/" + demo.HalfDone + "/bench?step=%s&f=%[1]s&tool=%[1]s&adapter=%[1]s&panel=%[1]s",
		"/jobs/" + demo.Complaint + "/walk?place=%s&at=%[1]s", "/jobs/%s/plan", "/jobs/%s/order", "/jobs/%s/ways",
		"/jobs/" + demo.Struts + "/plan?was=%s&tools=%[1]s",
		"/jobs/" + demo.Struts + "/match?step=strut-front.compare.FL&old-studs=%s&new-studs=%[1]s",
		"/jobs/" + demo.Struts + "/match?step=%s", "/shelf/%s", "/wrench/%s", "/reckoner/%s",
		"/jobs/" + demo.HalfDone + "/photo/%s",
	} {
		for _, bad := range short {
			res, body := get(t, client, base+strings.NewReplacer("%s", url.QueryEscape(bad), "%[1]s",
				url.QueryEscape(bad)).Replace(path))
			if res.StatusCode >= http.StatusInternalServerError || strings.Contains(body, "<script>alert") {
				t.Errorf("%s %.20q: %d", path, bad, res.StatusCode)
			}
		}
	}
	for _, c := range reckon.All() {
		for _, bad := range short {
			q := url.Values{}
			for _, f := range c.Fields(nil) {
				q.Set(f.Name, bad)
			}
			if res, _ := get(t, client,
				base+"/reckoner/"+c.Name+"?"+q.Encode()); res.StatusCode >= http.StatusInternalServerError {
				t.Errorf("%s %.20q: %d", c.Name, bad, res.StatusCode)
			}
		}
	}
	if _, after := get(t, client, base+"/jobs/"+demo.HalfDone+"/job.json"); after != before {
		t.Errorf("the record grew: %.400s", after[len(before)-5:])
	}
}
