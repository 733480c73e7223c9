package main

import (
	"encoding/json"
	"os"
	"regexp"
	"strings"
	"testing"

	"lugtak/web"
)

// The program, its description and what is written of its releases name one release.
func TestOneRelease(t *testing.T) {
	text, err := os.ReadFile("../../CHANGELOG.md")
	if err != nil {
		t.Fatal(err)
	}
	newest := regexp.MustCompile(`(?m)^## (\d+\.\d+\.\d+)$`).FindSubmatch(text)
	if newest == nil || string(newest[1]) != release {
		t.Errorf("CHANGELOG.md begins with %q, the program is %s", newest, release)
	}
	if version != release && !strings.HasPrefix(version, release+" (") {
		t.Errorf("the program calls itself %s", version)
	}
	described, err := web.OpenAPI(version)
	if err != nil {
		t.Fatal(err)
	}
	var api struct{ Info struct{ Version string } }
	if err := json.Unmarshal(described, &api); err != nil || api.Info.Version != version {
		t.Errorf("the API is described as %q, %v", api.Info.Version, err)
	}
}
