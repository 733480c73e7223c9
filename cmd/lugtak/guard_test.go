package main

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/png"
	"mime/multipart"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"testing"
)

// most is what the process may have held at the worst, MiB.
const most = 512

// held is the most memory a process has held so far, MiB.
func held(t *testing.T, pid int) int {
	t.Helper()
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	if err != nil {
		t.Skip("the system does not tell: ", err)
	}
	kb := regexp.MustCompile(`VmHWM:\s+(\d+) kB`).FindSubmatch(text)
	n, _ := strconv.Atoi(string(kb[1]))
	return n / 1024
}

// Small inputs take no more memory than they are worth, before and after sign-in: a text of
// aliases, a photograph of very many pixels, very many guesses and very large bodies at once.
func TestSmallInputsTakeLittle(t *testing.T) {
	cmd, addr := start(t, "demo", "--young", "--addr", "127.0.0.1:0")
	defer func() { cmd.Process.Kill(); cmd.Wait() }()
	base := "http://" + addr
	client, token := signIn(t, addr, "Technician Aro", "2401")
	check := func(what string) {
		t.Helper()
		mb := held(t, cmd.Process.Pid)
		t.Logf("%s: %d MiB", what, mb)
		if mb > most {
			t.Errorf("%s: the process held %d MiB", what, mb)
		}
		res, err := client.Get(base + "/healthz")
		if err != nil {
			t.Fatalf("%s: %v", what, err)
		}
		res.Body.Close()
	}

	var bomb strings.Builder
	bomb.WriteString("a0: &a0 [x, x, x, x, x, x, x, x, x, x]\n")
	for i := 1; i < 9; i++ {
		of := fmt.Sprintf("*a%d", i-1)
		fmt.Fprintf(&bomb, "a%d: &a%d [%s]\n", i, i, strings.Repeat(of+", ", 9)+of)
	}
	res, err := client.PostForm(base+"/shelf",
		url.Values{"_csrf": {token}, "id": {"bomb"}, "kind": {"pattern"}, "text": {bomb.String()}})
	if err != nil {
		t.Fatal(err)
	}
	if res.Body.Close(); res.StatusCode != http.StatusUnprocessableEntity {
		t.Errorf("aliases: %d", res.StatusCode)
	}
	check("aliases")

	var picture bytes.Buffer
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&picture,
		image.NewGray(image.Rect(0, 0, 10_000, 6_000))); err != nil {
		t.Fatal(err)
	}
	at(20, func(i int) {
		var b bytes.Buffer
		form := multipart.NewWriter(&b)
		form.WriteField("_csrf", token)
		form.WriteField("id", fmt.Sprint("photo", i))
		form.WriteField("text", "a picture")
		part, _ := form.CreateFormFile("photo", "x.png")
		part.Write(picture.Bytes())
		form.Close()
		res, err := client.Post(base+"/jobs/demo-half-done/find", form.FormDataContentType(), &b)
		if err != nil {
			t.Error(err)
			return
		}
		res.Body.Close()
	})
	check("a picture of 60 megapixels, twenty times at once")

	at(150, func(i int) {
		res, err := http.PostForm(base+"/signin", url.Values{"name": {fmt.Sprint("somebody ", i)}, "pin": {"0000"}})
		if err != nil {
			t.Error(err)
			return
		}
		res.Body.Close()
	})
	check("150 sign-ins at once")

	body := `{"recipe":"60 Nm","csv":"` + strings.Repeat("0.01,1,1\\n", 1_500_000) + `"}`
	at(10, func(int) {
		res, err := http.Post(base+"/api/v1/calc/pull", "application/json", strings.NewReader(body))
		if err != nil {
			t.Error(err)
			return
		}
		res.Body.Close()
	})
	check("ten bodies of 15 MB at the open calculators")
}

// at does something n times at once.
func at(n int, do func(i int)) {
	var all sync.WaitGroup
	for i := range n {
		all.Go(func() { do(i) })
	}
	all.Wait()
}

// A word that is none goes to standard error with status 2, and makes no file.
func TestUsageErrors(t *testing.T) {
	missing := filepath.Join(t.TempDir(), "typo.db")
	for _, args := range [][]string{{"serv"}, {"serve"}, {"serve", "--db", missing}, {"check", "--wrong"}} {
		var out, bad bytes.Buffer
		cmd := exec.Command(binary, args...)
		cmd.Stdout, cmd.Stderr = &out, &bad
		err := cmd.Run()
		var exit *exec.ExitError
		if !errors.As(err, &exit) || exit.ExitCode() != 2 || out.Len() > 0 || !strings.Contains(bad.String(), "lugtak: ") {
			t.Errorf("lugtak %s: %v, out %q, err %q", strings.Join(args, " "), err, out.String(), bad.String())
		}
	}
	if _, err := os.Stat(missing); err == nil {
		t.Error("a typing error made a shop")
	}
}
