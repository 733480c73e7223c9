package web

import (
	"net/http"
	"net/url"
	"strings"
	"testing"

	"lugtak/demo"
)

// A proxy that was named is believed: behind its TLS the cookie is Secure, and guesses count at
// the address it tells. Of anybody else nothing is believed.
func TestOnlyANamedProxyIsBelieved(t *testing.T) {
	for _, c := range []struct {
		name    string
		proxies []string
		secure  bool
	}{
		{"none", nil, false},
		{"another", []string{"10.9.8.7"}, false},
		{"this one", []string{"127.0.0.1"}, true},
	} {
		_, addr, _, _ := serve(t, Config{Proxies: c.proxies})
		person := demo.People[1]
		form := url.Values{"name": {person.Name}, "pin": {person.PIN}}
		req, err := http.NewRequest(http.MethodPost, "http://"+addr+"/signin", strings.NewReader(form.Encode()))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		req.Header.Set("X-Forwarded-Proto", "https")
		req.Header.Set("X-Forwarded-For", "203.0.113.9")
		client := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
		res, err := client.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		cookies := res.Cookies()
		if res.StatusCode != http.StatusSeeOther || len(cookies) != 1 || cookies[0].Secure != c.secure {
			t.Errorf("%s: %d, %+v", c.name, res.StatusCode, cookies)
		}
	}
}
