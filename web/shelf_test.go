package web

import (
	"net/http"
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
	addr, _, client := shop(t)
	base := "http://" + addr
	text, err := os.ReadFile("../library/patterns/lindar-s6.yaml")
	if err != nil {
		t.Fatal(err)
	}
	_, page := get(t, client, base+"/shelf")
	token := regexp.MustCompile(`name="_csrf" value="([^"]+)"`).FindStringSubmatch(page)[1]
	send := func(text string) (*http.Response, string) {
		res, err := client.PostForm(base+"/shelf", url.Values{"_csrf": {token}, "id": {"f2"}, "kind": {"pattern"}, "text": {text}})
		if err != nil {
			t.Fatal(err)
		}
		return get(t, client, base+res.Header.Get("Location"))
	}
	res, err := client.PostForm(base+"/shelf", url.Values{"_csrf": {token}, "id": {"f"}, "kind": {"pattern"}, "text": {strings.Replace(string(text), "version: 3", "version: two", 1)}})
	if err != nil || res.StatusCode != http.StatusUnprocessableEntity {
		t.Fatalf("%v %v", res.StatusCode, err)
	}
	_, page = send(strings.NewReplacer("id: lindar-s6", "id: lindar-s7", "Lindar S6 ambulance", "Lindar S7 ambulance").Replace(string(text)))
	if !strings.Contains(page, "Lindar S7 ambulance is on the Shelf") || !strings.Contains(page, "/shelf/lindar-s7") {
		t.Errorf("the Shelf does not show it: %s", regexp.MustCompile(`(?s)<main.*`).FindString(page))
	}
	if _, page = get(t, client, base+"/vehicles/new"); !strings.Contains(page, "lindar-s7") {
		t.Error("no vehicle can be of it")
	}
	if _, page = get(t, client, base+"/jobs/"+demo.Struts+"/plan"); !strings.Contains(page, "strut") {
		t.Error("the plans are gone")
	}
}
