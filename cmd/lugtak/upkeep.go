package main

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"runtime/debug"
	"strings"
	"time"

	"lugtak/store"
)

// What is done to a shop's file from the shell.

// printJSON prints one object for scripts.
func printJSON(v any) error {
	text, err := json.Marshal(v)
	if err != nil {
		return err
	}
	fmt.Println(string(text))
	return nil
}

// found prints what a check found, for scripts; a fault fails the command as it does in words.
func found(r *store.Report) error {
	out := struct {
		OK bool `json:"ok"`
		*store.Report
	}{r.OK(), r}
	if err := printJSON(out); err != nil || r.OK() {
		return err
	}
	return fmt.Errorf("%d faults", len(r.Faults))
}

type checkCmd struct {
	File string `arg:"" optional:"" help:"The shop file, if it is not named by --db." type:"existingfile"`
	DB   string `help:"The shop file." type:"existingfile" env:"LUGTAK_DB"`

	JSON    bool     `name:"json" help:"Print what was found as one JSON object."`
	Against []string `placeholder:"HEAD" help:"Heads of this file, as reports show them: one put back lacks them."`
}

func (c *checkCmd) Run() error {
	debug.SetGCPercent(1000) // it reads once and goes
	file := cmp.Or(c.File, c.DB)
	if file == "" {
		return errors.New("no shop file is named: lugtak check --db FILE")
	}
	r, err := store.Check(context.Background(), file, c.Against...)
	if err != nil {
		return err
	}
	if c.JSON {
		return found(r)
	}
	for _, m := range r.Mends {
		fmt.Printf("note: mended at event %d: %s\n", m.Events, m.Why)
	}
	if r.Older {
		fmt.Println("an older program wrote it: its journals hold, its lists are made anew when it is brought up to date")
	}
	switch {
	case r.Key == "":
		fmt.Println("note: so old a program signed no end: what is cut off there is not missed")
	case !r.KeyBeside:
		fmt.Println("note: no key file lies beside it; the ends were held against the key named in the file")
		fallthrough
	default:
		fmt.Printf("key %s\nheads %s\n", r.Key, r.Heads)
	}
	if !r.OK() {
		return errors.New(strings.Join(r.Faults, "\nlugtak: "))
	}
	fmt.Printf("ok: %d jobs, %d events, %d acts of the shop, every seal holds\n", r.Jobs, r.Events, r.Acts)
	return nil
}

type restoreCmd struct {
	DB     string `required:"" env:"LUGTAK_DB" help:"The shop file; nobody serves it meanwhile." type:"path"`
	File   string `arg:"" help:"The backup." type:"existingfile"`
	Verify bool   `help:"Prove the backup only, and change nothing."`
	JSON   bool   `name:"json" help:"Print what was done as one JSON object."`
}

func (c *restoreCmd) Run() error {
	ctx := context.Background()
	if c.Verify {
		return (&checkCmd{File: c.File, JSON: c.JSON}).Run()
	}
	aside, err := store.Restore(ctx, c.File, c.DB, time.Now())
	if c.JSON && err == nil {
		return printJSON(struct {
			OK       bool   `json:"ok"`
			Restored string `json:"restored"`
			Aside    string `json:"aside,omitempty"` // what was there before
		}{true, c.File, aside})
	}
	if aside != "" {
		fmt.Println("what was there is now " + aside)
	}
	if err == nil {
		fmt.Println("restored from " + c.File)
	}
	return err
}

type rebuildCmd struct {
	DB string `required:"" env:"LUGTAK_DB" help:"The shop file; nobody may be serving it." type:"existingfile"`
}

func (c *rebuildCmd) Run() error {
	ctx := context.Background()
	release, err := store.Own(c.DB)
	if err != nil {
		return err
	}
	defer release()
	s, err := store.Open(ctx, c.DB)
	if err != nil {
		return err
	}
	defer s.Close()
	err = s.Rebuild(ctx, func(done, of int) { fmt.Fprintf(os.Stderr, "\r%d of %d events", done, of) })
	fmt.Fprintln(os.Stderr)
	return err
}

type mendCmd struct {
	DB  string `required:"" env:"LUGTAK_DB" help:"The shop file; nobody may be serving it." type:"existingfile"`
	By  string `required:"" help:"Who signs for it."`
	Why string `required:"" help:"What happened, in a few words. It stands in the file for ever."`
}

func (c *mendCmd) Run() error {
	release, err := store.Own(c.DB)
	if err != nil {
		return err
	}
	defer release()
	return store.Mend(context.Background(), c.DB, c.By, c.Why)
}
