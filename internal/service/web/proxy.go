package web

import (
	"context"
	"net"
	"net/http"
	"net/netip"
	"slices"
	"strings"
)

// Trusted are the networks of proxies that say for whom they ask.
type Trusted []netip.Prefix

// Has reports whether an address, with or without a port, is a trusted proxy's.
func (t Trusted) Has(address string) bool {
	if host, _, err := net.SplitHostPort(address); err == nil {
		address = host
	}
	ip, err := netip.ParseAddr(strings.Trim(address, "[]"))
	return err == nil && slices.ContainsFunc(t, func(p netip.Prefix) bool { return p.Contains(ip.Unmap()) })
}

type schemeKey struct{}

// SchemeOf is how a request came: http, or https, also where a proxy took it.
func SchemeOf(r *http.Request) string {
	if scheme, said := r.Context().Value(schemeKey{}).(string); said {
		return scheme
	}
	if r.TLS != nil {
		return "https"
	}
	return "http"
}

// Behind takes the person's address, the host and the scheme from what a trusted proxy says: the
// headers X-Forwarded-For, -Host and -Proto, or Forwarded (RFC 7239). From anybody else they are not heard.
// isFellow tells of a request that another service passed on, and that is believed in the same way.
func (t Trusted) Behind(isFellow func(*http.Request) bool, next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		fellow := isFellow(r)
		if !fellow && !t.Has(r.RemoteAddr) {
			next.ServeHTTP(w, r)
			return
		}
		people, host, scheme := forwarded(r.Header)
		for _, person := range slices.Backward(people) { // what stands before a person who is no proxy, they may have made up
			r.RemoteAddr = person
			if fellow || !t.Has(person) {
				break
			}
		}
		if host != "" {
			r.Host = host
		}
		if scheme == "http" || scheme == "https" {
			r = r.WithContext(context.WithValue(r.Context(), schemeKey{}, scheme))
		}
		next.ServeHTTP(w, r)
	})
}

// said reports whether any of these headers is there.
func said(h http.Header, names ...string) bool {
	return slices.ContainsFunc(names, func(name string) bool { return h.Get(name) != "" })
}

// forwarded reads for whom a proxy asks: the addresses on the way, the person's first, and the host and the
// scheme that the proxy before us was asked by. A proxy writes one kind of header and hands the other on as it came: where both
// stand, one of them may be the person's own invention, and neither is heard.
func forwarded(h http.Header) (people []string, host, scheme string) {
	if said(h, "Forwarded") && said(h, "X-Forwarded-For", "X-Forwarded-Host", "X-Forwarded-Proto") {
		return nil, "", ""
	}
	for _, hop := range strings.Split(strings.Join(h.Values("Forwarded"), ","), ",") {
		for _, pair := range strings.Split(hop, ";") {
			name, value, _ := strings.Cut(strings.TrimSpace(pair), "=")
			switch value = strings.Trim(value, `"`); strings.ToLower(name) {
			case "for":
				people = append(people, value)
			case "host":
				host = value
			case "proto":
				scheme = strings.ToLower(value)
			}
		}
	}
	for _, person := range strings.Split(strings.Join(h.Values("X-Forwarded-For"), ","), ",") {
		if person = strings.TrimSpace(person); person != "" {
			people = append(people, person)
		}
	}
	last := func(name, otherwise string) string {
		values := strings.Split(strings.Join(h.Values(name), ","), ",")
		if value := strings.TrimSpace(values[len(values)-1]); value != "" {
			return value
		}
		return otherwise
	}
	return people, last("X-Forwarded-Host", host), strings.ToLower(last("X-Forwarded-Proto", scheme))
}
