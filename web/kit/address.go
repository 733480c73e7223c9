package kit

import (
	"fmt"
	"net/netip"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// Proxies are the addresses and networks of what stands before the shop, whose word on where a
// request comes from is believed.
type Proxies []netip.Prefix

// ParseProxies reads addresses and networks, as 127.0.0.1 or 10.0.0.0/8.
func ParseProxies(texts []string) (Proxies, error) {
	var out Proxies
	for _, t := range texts {
		if a, err := netip.ParseAddr(t); err == nil {
			out = append(out, netip.PrefixFrom(a.Unmap(), a.Unmap().BitLen()))
			continue
		}
		p, err := netip.ParsePrefix(t)
		if err != nil {
			return nil, fmt.Errorf("%q is no address or network of a proxy, as 127.0.0.1 or 10.0.0.0/8", t)
		}
		out = append(out, p.Masked())
	}
	return out, nil
}

func (p Proxies) has(a netip.Addr) bool {
	for _, x := range p {
		if x.Contains(a) {
			return true
		}
	}
	return false
}

// Client is where a request comes from: remote, unless that is a proxy. A proxy puts who asked
// it at the end of what it was told, so the list is read from its end, over the proxies, to the
// first that is none: what stands before that is hearsay (RFC 7239, 8.1).
func (p Proxies) Client(remote netip.Addr, forwarded string) netip.Addr {
	at := remote.Unmap()
	hops := strings.Split(forwarded, ",")
	for i := len(hops) - 1; i >= 0 && p.has(at); i-- {
		told, ok := hop(strings.TrimSpace(hops[i]))
		if !ok {
			break
		}
		at = told.Unmap()
	}
	return at
}

// hop reads an address as proxies write it, some with its port.
func hop(text string) (netip.Addr, bool) {
	if a, err := netip.ParseAddr(text); err == nil {
		return a, true
	}
	a, err := netip.ParseAddrPort(text)
	return a.Addr(), err == nil
}

// Address is where a request comes from, as guesses are counted by: of IPv6 the network, since
// one place has very many addresses in it (RFC 6177: a /64 is one subnet).
func (p Proxies) Address(c fiber.Ctx) string {
	remote, ok := netip.AddrFromSlice(c.RequestCtx().RemoteIP())
	if !ok {
		return ""
	}
	at := p.Client(remote, strings.Join(c.GetReqHeaders()[fiber.HeaderXForwardedFor], ","))
	if at.Is6() {
		return netip.PrefixFrom(at, 64).Masked().String()
	}
	return at.String()
}
