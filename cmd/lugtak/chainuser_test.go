package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/nats-io/nkeys"
)

// A key for the chain's servers is written once, for nobody else to read, and told by its public half alone.
func TestChainUser(t *testing.T) {
	out := filepath.Join(t.TempDir(), "shop.nk")
	who := strings.TrimSpace(run(t, "chain-user", "--out", out))
	seed, err := os.ReadFile(out)
	if err != nil {
		t.Fatal(err)
	}
	pair, err := nkeys.FromSeed(seed)
	if err != nil {
		t.Fatal(err)
	}
	if public, err := pair.PublicKey(); err != nil || public != who || !strings.HasPrefix(who, "U") {
		t.Errorf("it tells %q, the file holds %q, %v", who, public, err)
	}
	if info, err := os.Stat(out); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("%v %v", info, err)
	}
	if err := (&chainUserCmd{Out: out}).Run(); err == nil {
		t.Error("the key is written over")
	}
	if again, err := os.ReadFile(out); err != nil || string(again) != string(seed) {
		t.Errorf("the key changed, %v", err)
	}
}
