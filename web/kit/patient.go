package kit

import (
	"net"
	"sync/atomic"
	"time"
)

// LongestRequest is how long a request may take to come in, from its first byte: a photograph over a weak radio link
// comes in less (common practice).
const LongestRequest = 2 * time.Minute

// Patient gives a listener whose connections wait for a request to begin as long as the server says, and for one that
// has begun no longer than that.
func Patient(ln net.Listener, longest time.Duration) net.Listener {
	return patientListener{ln, longest}
}

type patientListener struct {
	net.Listener
	longest time.Duration
}

func (l patientListener) Accept() (net.Conn, error) {
	c, err := l.Listener.Accept()
	if err != nil {
		return nil, err
	}
	return &patientConn{Conn: c, longest: l.longest}, nil
}

// patientConn counts from the first byte that comes in after something went out.
type patientConn struct {
	net.Conn
	longest time.Duration
	began   atomic.Int64 // Unix nanoseconds; 0 while nothing has begun
}

// Read ends a request that comes in for too long.
func (c *patientConn) Read(b []byte) (int, error) {
	if at := c.began.Load(); at > 0 {
		if err := c.Conn.SetReadDeadline(time.Unix(0, at).Add(c.longest)); err != nil {
			return 0, err
		}
	}
	n, err := c.Conn.Read(b)
	if n > 0 {
		c.began.CompareAndSwap(0, time.Now().UnixNano())
	}
	return n, err
}

// Write answers: what comes in after it is another request.
func (c *patientConn) Write(b []byte) (int, error) {
	c.began.Store(0)
	return c.Conn.Write(b)
}
