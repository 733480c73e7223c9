package web

import (
	"io"
	"net/url"
	"os"
	"regexp"
	"strings"
	"testing"

	"lugtak/demo"
)

// A shop puts its own pattern on the Shelf: what is wrong is said with its line and
// what was typed stays; what is sound can be ordered from at once.
func TestShelfTakesAFile(t *testing.T) {
	addr, _, client := served(t)
	base := "http://" + addr
	text, err := os.ReadFile("../demo/files/patterns/lindar-s6.yaml")
	if err != nil {
		t.Fatal(err)
	}
	_, page := get(t, client, base+"/shelf")
	token := regexp.MustCompile(`name="_csrf" value="([^"]+)"`).FindStringSubmatch(page)[1]
	post := func(form url.Values) (int, string) {
		form.Set("_csrf", token)
		form.Set("id", "f")
		form.Set("kind", "pattern")
		res, err := client.PostForm(base+"/shelf", form)
		if err != nil {
			t.Fatal(err)
		}
		if at := res.Header.Get("Location"); at != "" {
			_, page := get(t, client, base+at)
			return res.StatusCode, page
		}
		body, err := io.ReadAll(res.Body)
		if err != nil {
			t.Fatal(err)
		}
		return res.StatusCode, string(body)
	}
	send := func(text, second, pin string) (int, string) {
		return post(url.Values{"text": {text}, "second": {second}, "pin": {pin}, "take": {"1"}})
	}
	// Looked at first, it says what changes beside what stands there, and takes nothing.
	was := regexp.MustCompile(`recipe: ([^,}\n]+)`).FindStringSubmatch(string(text))[1]
	code, page := post(url.Values{"text": {strings.Replace(string(text), "recipe: "+was, "recipe: 77 Nm", 1)}})
	if code != 200 || !strings.Contains(page, "77 Nm</b>") || !strings.Contains(page, "in the place of the one") {
		t.Errorf("%d: what would change is not shown", code)
	}
	if _, page = get(t, client, base+"/shelf/lindar-s6"); strings.Contains(page, "77 Nm") {
		t.Error("it was taken by looking")
	}
	// What reads alike and is not is no “the same”.
	_, page = post(
		url.Values{"text": {strings.Replace(string(text), `socket: "24 mm", count: 6`, `socket: "22 mm", count: 6`, 1)}},
	)
	if strings.Count(page, "differs in what is not written here") != 1 {
		t.Error("another socket is called the same")
	}
	_, page = post(
		url.Values{"text": {regexp.MustCompile(`(?m)^version: .*$`).ReplaceAllString(string(text), "version: 99")}},
	)
	if !strings.Contains(page, "more than these rows") || strings.Contains(page, "not written here") {
		t.Error("a change beside the rows is not told")
	}
	sound := strings.NewReplacer("id: lindar-s6", "id: lindar-s7", "Lindar S6 ambulance", "Lindar S7 ambulance").
		Replace(string(text))
	for _, c := range []struct{ text, second, pin, says string }{
		{
			regexp.MustCompile(`version: \d+`).ReplaceAllString(string(text), "version: two"), "Technician Bel", "3712",
			"version",
		},
		{sound, "", "", "a second person signs too"},
		{sound, "Technician Aro", "2401", "another person"},
		{sound, "Technician Bel", "9999", "PIN"},
	} {
		if code, page := send(c.text, c.second, c.pin); code < 400 || !strings.Contains(page, c.says) {
			t.Fatalf("%d, not %q", code, c.says)
		} else if !strings.Contains(page, "id: lindar-s") {
			t.Errorf("%s: what was sent is lost", c.says)
		}
	}
	_, page = send(sound, "Technician Bel", "3712")
	if !strings.Contains(page, "Lindar S7 ambulance is on the Shelf") || !strings.Contains(page, "/shelf/lindar-s7") {
		t.Errorf("the Shelf does not show it: %s", regexp.MustCompile(`(?s)<main.*`).FindString(page))
	}
	if _, page = get(t, client, base+"/vehicles/like?name=S7"); !strings.Contains(page, "lindar-s7") {
		t.Error("no vehicle can be of it")
	}
	if _, page = get(t, client, base+"/jobs/"+demo.Struts+"/plan"); !strings.Contains(page, "strut") {
		t.Error("the plans are gone")
	}
}
