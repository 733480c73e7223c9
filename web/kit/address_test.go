package kit

import (
	"net/netip"
	"testing"
)

// A proxy appends who asked it (RFC 7239, 8.1): what a client wrote before that is not believed.
func TestClientBehindProxies(t *testing.T) {
	proxies, err := ParseProxies([]string{"127.0.0.1", "10.0.0.0/8", "::1"})
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct{ remote, forwarded, want string }{
		{"203.0.113.9", "198.51.100.7", "203.0.113.9"}, // no proxy: nothing is believed
		{"127.0.0.1", "", "127.0.0.1"},
		{"127.0.0.1", "203.0.113.9", "203.0.113.9"},
		{"127.0.0.1", "198.51.100.7, 203.0.113.9", "203.0.113.9"},
		{"127.0.0.1", "198.51.100.7, 203.0.113.9, 10.1.2.3", "203.0.113.9"},
		{"127.0.0.1", "198.51.100.7, nonsense", "127.0.0.1"},
		{"127.0.0.1", "10.1.2.3", "10.1.2.3"},
		{"127.0.0.1", "198.51.100.7, 203.0.113.9:52100", "203.0.113.9"},
		{"127.0.0.1", "[2001:db8::5]:52100", "2001:db8::5"},
		{"::ffff:127.0.0.1", "2001:db8::5", "2001:db8::5"},
	} {
		if got := proxies.Client(netip.MustParseAddr(c.remote), c.forwarded).String(); got != c.want {
			t.Errorf("%s, told %q: %s, want %s", c.remote, c.forwarded, got, c.want)
		}
	}
	if _, err := ParseProxies([]string{"proxy.example"}); err == nil {
		t.Error("a name was taken for an address")
	}
}
