package main

import (
	"os"
	"path/filepath"
	"slices"
	"testing"
	"time"
)

// What other releases kept goes, and what a start that died has left; what is being made now stays.
func TestClearPast(t *testing.T) {
	dir := t.TempDir()
	for name, old := range map[string]time.Duration{
		"v1": 0, "master": 0, making + "now": 0, making + "died": 48 * time.Hour,
	} {
		at := filepath.Join(dir, name)
		if err := os.Mkdir(at, 0o755); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(filepath.Join(at, demoFile), nil, 0o600); err != nil {
			t.Fatal(err)
		}
		when := time.Now().Add(-old)
		if err := os.Chtimes(at, when, when); err != nil {
			t.Fatal(err)
		}
	}
	clearPast(dir)
	left, err := filepath.Glob(filepath.Join(dir, "*"))
	if want := []string{filepath.Join(dir, making+"now")}; err != nil || !slices.Equal(left, want) {
		t.Errorf("%v stays, %v; want %v", left, err, want)
	}
	clearPast(filepath.Join(dir, "nowhere"))
}
