package main

import (
	"fmt"
	"runtime"
	"runtime/debug"
)

type versionCmd struct {
	JSON bool `name:"json" help:"Print it as one JSON object."`
}

func (c *versionCmd) Run() error {
	if !c.JSON {
		fmt.Println("lugtak " + version)
		return nil
	}
	commit, changed := commitBuilt()
	return printJSON(struct {
		Release  string `json:"release"`
		Commit   string `json:"commit"`
		Changed  bool   `json:"changed"` // the tree was not as it was committed
		Go       string `json:"go"`
		Platform string `json:"platform"`
	}{release, commit, changed, runtime.Version(), runtime.GOOS + "/" + runtime.GOARCH})
}

// commitBuilt is the commit the program was built from, empty where the build does not know it.
func commitBuilt() (commit string, changed bool) {
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return "", false
	}
	for _, s := range info.Settings {
		switch s.Key {
		case "vcs.revision":
			commit = s.Value[:min(len(s.Value), 12)]
		case "vcs.modified":
			changed = s.Value == "true"
		}
	}
	return commit, changed
}

// release is what this program is called by; docs and CHANGELOG.md say what came with it.
const release = "0.13.0"

// version is the release with the commit it was built from, where the build knows it.
var version = func() string {
	commit, changed := commitBuilt()
	switch {
	case commit == "":
		return release
	case changed:
		return release + " (" + commit + ", changed)"
	}
	return release + " (" + commit + ")"
}()
