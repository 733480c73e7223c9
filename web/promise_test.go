package web

import (
	"io"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"lugtak/demo"
)

// A vehicle is promised as it comes in or on its plan, and the floor says how that stands; a day that is none,
// or a time that is past, is told in place with what was typed.
func TestPromise(t *testing.T) {
	addr, _, client := served(t)
	csrf := csrfOf(t, client, addr)
	path := "http://" + addr + "/jobs/" + demo.Waiting + "/promise"
	post := func(text string) (*http.Response, string) {
		t.Helper()
		res, err := client.PostForm(path, url.Values{"_csrf": {csrf}, "id": {uuid.NewString()}, "promised": {text},
			"form": {"promise"}})
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		body, err := io.ReadAll(res.Body)
		if err != nil {
			t.Fatal(err)
		}
		return res, string(body)
	}
	for text, says := range map[string]string{"": "not said", "noon": "no day and time", "2020-01-01T10:00": "past"} {
		if res, body := post(text); res.StatusCode != http.StatusUnprocessableEntity || !strings.Contains(body, says) ||
			text != "" && !strings.Contains(body, `value="`+text+`"`) {
			t.Errorf("%q: %d, says %q: %v", text, res.StatusCode, says, strings.Contains(body, says))
		}
	}
	soon := time.Now().Add(20 * time.Minute)
	if res, _ := post(soon.Format("2006-01-02T15:04")); res.StatusCode != http.StatusSeeOther {
		t.Errorf("promised: %d", res.StatusCode)
	}
	if _, body := get(t, client, "http://"+addr+"/jobs/"+demo.Waiting+"/plan"); !strings.Contains(body, "late by") {
		t.Error("the plan does not tell that it is late")
	}
	later := time.Now().Add(100 * time.Hour) // a promise that is moved has still been late
	if res, _ := post(later.Format("2006-01-02T15:04")); res.StatusCode != http.StatusSeeOther {
		t.Errorf("promised: %d", res.StatusCode)
	}
	if _, body := get(t, client, "http://"+addr+"/jobs/"+demo.Waiting+"/plan"); !strings.Contains(body, "at first ") ||
		!strings.Contains(body, soon.Format("15:04")) {
		t.Error("the plan does not tell what was promised at first")
	}
	if res, _ := post(soon.Format("2006-01-02T15:04")); res.StatusCode != http.StatusSeeOther {
		t.Errorf("promised: %d", res.StatusCode)
	}
	for _, page := range []string{"/", "/wall"} {
		if _, body := get(t, client, "http://"+addr+page); !strings.Contains(body, soon.Format("15:04")) ||
			!strings.Contains(body, "in danger") {
			t.Errorf("%s does not tell of it", page)
		}
	}
}
