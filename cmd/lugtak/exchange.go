package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"time"

	"lugtak/core/record"
	"lugtak/intake"
	"lugtak/library"
	"lugtak/shop"
	"lugtak/store"
)

// What goes out of a shop and comes in, as files.

type exportCmd struct {
	DB  string `required:"" env:"LUGTAK_DB" help:"The shop file." type:"existingfile"`
	Job string `arg:"" optional:"" help:"The job's number, as in the address of its pages."`
	All string `help:"Write the whole shop as this new folder instead, every record of it." type:"path"`
	By  string `default:"command line" help:"Who exports it."`
}

func (c *exportCmd) Run() error {
	if (c.Job == "") == (c.All == "") {
		return errors.New("name one job, or a new folder with --all")
	}
	ctx := context.Background()
	s, err := store.Open(ctx, c.DB)
	if err != nil {
		return err
	}
	defer s.Close()
	if c.All != "" {
		if err := s.ExportFolder(ctx, c.All, c.By, time.Now()); err != nil {
			return err
		}
		fmt.Println("the whole shop is in " + c.All)
		return nil
	}
	text, err := s.Export(ctx, c.Job, c.By, time.Now())
	if err != nil {
		return err
	}
	_, err = os.Stdout.Write(text)
	return err
}

type importCmd struct {
	DB   string      `required:"" env:"LUGTAK_DB" help:"The shop file; with --all a new one." type:"path"`
	File string      `arg:"" help:"The file; - reads standard input. With --all the folder."`
	By   string      `help:"Who imports it." default:"command line"`
	Kind intake.Kind `default:"job" enum:"${import_kinds}" help:"What the file holds: ${enum}."`
	Look bool        `help:"Say what it would do, and take nothing."`
	All  bool        `help:"Make a new shop file of a folder that export --all wrote."`
	Key  string      `help:"With --all: that shop's key file; it goes on signing with it." type:"existingfile"`

	Library string `help:"Folder with the shop's own YAML files." type:"path"`
}

func (c *importCmd) Run() error {
	ctx := context.Background()
	if c.All {
		if err := store.ImportFolder(ctx, c.File, c.DB, c.Key); err != nil {
			return err
		}
		fmt.Println(c.DB + " is the shop that went out, by the seals over all its rows")
		return nil
	}
	text, err := c.read()
	if err != nil {
		return err
	}
	lib, err := library.Load(c.Library)
	if err != nil {
		return err
	}
	house, err := shop.Open(ctx, c.DB, lib, shop.Options{})
	if err != nil {
		return err
	}
	defer house.Close()
	lists := intake.Shop{Shop: house, By: c.By}
	p, err := lists.Read(ctx, c.Kind, text)
	if err != nil {
		return err
	}
	if in, err := house.Acted(ctx, listID(p)); err != nil || in {
		if err == nil {
			fmt.Println("this list is in already")
		}
		return err
	}
	for _, f := range p.Faults {
		fmt.Fprintf(os.Stderr, "%s:%d: %s %s\n", c.File, f.Line, f.Detail, f.Remedy)
	}
	if more := p.Faulty - len(p.Faults); more > 0 {
		fmt.Fprintf(os.Stderr, "and %d more\n", more)
	}
	switch {
	case !p.OK():
		return errors.New("nothing was taken")
	case p.ByTwo:
		return errors.New("figures a life hangs on are read by two people: take this list in under Office, Take in a list")
	case c.Look && p.Job != nil:
		fmt.Printf("%s %s, %d events, last seal %s\n", p.Job.Fleet, p.Job.Title, p.Job.Events, p.Job.Hash)
		return nil
	case c.Look:
		fmt.Printf("%d rows, nothing wrong with them\n", len(p.Rows))
		return nil
	}
	return c.take(ctx, lists, p, text)
}

func (c *importCmd) read() ([]byte, error) {
	if c.File == "-" {
		return io.ReadAll(io.LimitReader(os.Stdin, store.MaxJobFile+1))
	}
	f, err := os.Open(c.File)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return io.ReadAll(io.LimitReader(f, store.MaxJobFile+1))
}

// listID is the id of a list: its digest, so that the same one again is harmless.
func listID(p *intake.Preview) record.EventID { return record.EventID("list:" + p.Digest) }

// take takes what was read.
func (c *importCmd) take(ctx context.Context, house intake.Shop, p *intake.Preview, text []byte) error {
	src := store.Source{By: c.By, From: c.File, At: time.Now()}
	added, err := house.Take(ctx, listID(p), p, text, src)
	switch {
	case err != nil:
		return err
	case p.Job == nil:
		fmt.Printf("%d rows are in\n", len(p.Rows))
	case added:
		fmt.Printf("job %s is in\n", p.Job.ID)
	default:
		fmt.Printf("job %s is here already, unchanged\n", p.Job.ID)
	}
	return nil
}

// importKinds are what import takes, as its help names them.
const importKinds = "job,vehicles,people,figures,tools,sockets,adapters,prices,sheet"
