package kit

import (
	"bufio"
	"net"
	"testing"
	"time"
)

// A request that begins and never ends is let go; a line on which nothing has begun yet, and one that was answered,
// wait.
func TestARequestHasToEnd(t *testing.T) {
	const longest = 50 * time.Millisecond
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer ln.Close()
	served := make(chan error, 1)
	go func() {
		c, err := Patient(ln, longest).Accept()
		if err != nil {
			served <- err
			return
		}
		defer c.Close()
		in := bufio.NewReader(c)
		for {
			if _, err = in.ReadString('\n'); err != nil {
				served <- err
				return
			}
			c.Write([]byte("answered\n"))
		}
	}()
	c, err := net.Dial("tcp", ln.Addr().String())
	if err != nil {
		t.Fatal(err)
	}
	defer c.Close()
	answers := bufio.NewReader(c)
	for range 2 {
		time.Sleep(2 * longest) // nothing has begun
		c.Write([]byte("whole\n"))
		if got, err := answers.ReadString('\n'); err != nil {
			t.Fatalf("%q, %v", got, err)
		}
	}
	c.Write([]byte("ha"))
	select {
	case err := <-served:
		if timeout, ok := err.(net.Error); !ok || !timeout.Timeout() {
			t.Errorf("it ended by %v", err)
		}
	case <-time.After(time.Minute):
		t.Error("half a request is held for ever")
	}
}
