package web

import (
	"bytes"
	"log/slog"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"testing"

	"lugtak/demo"
	"lugtak/shop"
)

// lines is a log that may be written to by many.
type lines struct {
	mu sync.Mutex
	b  bytes.Buffer
}

func (l *lines) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.b.Write(p)
}

func (l *lines) String() string {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.b.String()
}

// The access log says who asked for what and how it was answered, refusals too, and nothing
// that was typed.
func TestAccessLogKeepsSecrets(t *testing.T) {
	var out lines
	_, addr, _, client := serve(t, Config{Access: true}, shop.Options{Log: slog.New(slog.NewJSONHandler(&out, nil))})
	get(t, client, "http://"+addr+"/search?q=secretword")
	get(t, client, "http://"+addr+"/nowhere")
	res, err := http.PostForm("http://"+addr+"/signin", url.Values{"name": {demo.People[0].Name}, "pin": {"987654"}})
	if err != nil {
		t.Fatal(err)
	}
	res.Body.Close()
	log := out.String()
	for _, want := range []string{`"path":"/search","status":200`, `"path":"/nowhere","status":404`,
		`"path":"/signin","status":422`, `"who":"Technician Aro"`} {
		if !strings.Contains(log, want) {
			t.Errorf("the log lacks %s", want)
		}
	}
	for _, secret := range []string{"secretword", "987654", demo.People[0].PIN, cookieName + "="} {
		if strings.Contains(log, secret) {
			t.Errorf("the log gives %q away", secret)
		}
	}
}
