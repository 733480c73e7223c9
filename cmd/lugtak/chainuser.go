package main

import (
	"fmt"
	"os"

	"github.com/nats-io/nkeys"
)

// chainUserCmd makes what a shop says who it is by to the chain's servers. It is no key of the record: a server has a
// text of its own choice signed by it.
type chainUserCmd struct {
	Out string `required:"" help:"The file to write; lugtak serve names it by --chain-creds." type:"path"`
}

func (c *chainUserCmd) Run() error {
	pair, err := nkeys.CreateUser()
	if err != nil {
		return err
	}
	defer pair.Wipe()
	seed, err := pair.Seed()
	if err != nil {
		return err
	}
	who, err := pair.PublicKey()
	if err != nil {
		return err
	}
	f, err := os.OpenFile(c.Out, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600) // another one's is never lost
	if err != nil {
		return err
	}
	if _, err := f.Write(seed); err != nil {
		f.Close()
		return err
	}
	if err := f.Close(); err != nil {
		return err
	}
	fmt.Println(who)
	return nil
}
