package web

import (
	"net/http"
	"net/http/httptest"
	"net/netip"
	"testing"

	"github.com/stretchr/testify/assert"
)

// seen is what a request looks like behind what proxies say.
func seen(t *testing.T, trusted Trusted, from string, header http.Header) (address, host, scheme string) {
	r := httptest.NewRequest("GET", "http://upstream:7171/", nil)
	r.RemoteAddr, r.Header = from, header
	trusted.Behind(func(*http.Request) bool { return false }, http.HandlerFunc(func(_ http.ResponseWriter, r *http.Request) {
		address, host, scheme = r.RemoteAddr, r.Host, SchemeOf(r)
	})).
		ServeHTTP(httptest.NewRecorder(), r)
	return address, host, scheme
}

func TestWhatATrustedProxySaysIsHeard(t *testing.T) {
	trusted := Trusted{netip.MustParsePrefix("10.0.0.0/8"), netip.MustParsePrefix("::1/128")}
	full := http.Header{"X-Forwarded-For": {"203.0.113.7"}, "X-Forwarded-Host": {"table.example"}, "X-Forwarded-Proto": {"HTTPS"}}
	for name, c := range map[string]struct {
		from   string
		header http.Header
		want   [3]string
	}{
		"nobody is trusted by itself": {"192.0.2.9:4000", full, [3]string{"192.0.2.9:4000", "upstream:7171", "http"}},
		"a proxy":                     {"10.1.2.3:4000", full, [3]string{"203.0.113.7", "table.example", "https"}},
		"over IPv6":                   {"[::1]:4000", full, [3]string{"203.0.113.7", "table.example", "https"}},
		"mapped":                      {"[::ffff:10.1.2.3]:4000", full, [3]string{"203.0.113.7", "table.example", "https"}},
		"several proxies":             {"10.1.2.3:4000", http.Header{"X-Forwarded-For": {"203.0.113.7, 10.9.9.9"}}, [3]string{"203.0.113.7", "upstream:7171", "http"}},
		"made up by the person":       {"10.1.2.3:4000", http.Header{"X-Forwarded-For": {"1.1.1.1, 203.0.113.7"}}, [3]string{"203.0.113.7", "upstream:7171", "http"}},
		"made up in another line":     {"10.1.2.3:4000", http.Header{"X-Forwarded-For": {"1.1.1.1", "203.0.113.7"}}, [3]string{"203.0.113.7", "upstream:7171", "http"}},
		"RFC 7239": {"10.1.2.3:4000", http.Header{"Forwarded": {`for=1.1.1.1;proto=http, for="[2001:db8::7]:99";host=table.example;proto=https`}},
			[3]string{"[2001:db8::7]:99", "table.example", "https"}},
		"both kinds": {"10.1.2.3:4000", http.Header{"X-Forwarded-For": {"203.0.113.7"}, "Forwarded": {"for=1.1.1.1;host=evil.example"}},
			[3]string{"10.1.2.3:4000", "upstream:7171", "http"}},
		"another scheme": {"10.1.2.3:4000", http.Header{"X-Forwarded-Proto": {"gopher"}}, [3]string{"10.1.2.3:4000", "upstream:7171", "http"}},
	} {
		address, host, scheme := seen(t, trusted, c.from, c.header)
		assert.Equal(t, c.want, [3]string{address, host, scheme}, name)
	}
}
