package web

import (
	"bytes"
	"compress/gzip"
	"net/http"
	"testing"
)

// What is sent compressed is refused before it is unpacked: 64 kB would become 64 MB.
func TestCompressedBodiesAreRefused(t *testing.T) {
	addr, _, client := served(t)
	var small bytes.Buffer
	z := gzip.NewWriter(&small)
	z.Write(make([]byte, 64<<20))
	z.Close()
	for _, path := range []string{"/api/v1/calc/pull", "/signin", "/api/v1/jobs/x/pulls", "/jobs/new"} {
		for _, encoding := range []string{"gzip", "deflate", "br", "zstd", "gzip, gzip"} {
			req, err := http.NewRequest(http.MethodPost, "http://"+addr+path, bytes.NewReader(small.Bytes()))
			if err != nil {
				t.Fatal(err)
			}
			req.Header.Set("Content-Encoding", encoding)
			req.Header.Set("Content-Type", "application/json")
			res, err := client.Do(req)
			if err != nil {
				t.Fatal(err)
			}
			res.Body.Close()
			if res.StatusCode != http.StatusUnsupportedMediaType {
				t.Errorf("%s as %s: %d", path, encoding, res.StatusCode)
			}
		}
	}
}

// HEAD answers as GET does, without a body: what watches the shop asks so.
func TestHeadAnswersAsGet(t *testing.T) {
	addr, _, client := served(t)
	stranger := &http.Client{
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	}
	for _, who := range []*http.Client{stranger, client} {
		for _, path := range []string{"/healthz", "/signin", "/sw.js", "/", "/crib"} {
			got, _ := get(t, who, "http://"+addr+path)
			res, err := who.Head("http://" + addr + path)
			if err != nil {
				t.Fatal(err)
			}
			res.Body.Close()
			if res.StatusCode != got.StatusCode {
				t.Errorf("%s: HEAD %d, GET %d", path, res.StatusCode, got.StatusCode)
			}
		}
	}
}
