// Package fetch gets documents from the web, as far as the operator of the service lets it.
//
// An address is fetched only if its host is on the operator's list, over HTTP or HTTPS, and, unless
// the operator says otherwise, only from public networks: what a name stands for is checked when
// the connection is made, so that a name cannot lead into the operator's own network. What a
// site's robots.txt does not want fetched is not fetched. A page that was fetched before is asked
// for only if it has changed (RFC 9110, conditional requests).
package fetch

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"mime"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"path"
	"slices"
	"strings"
	"sync"
	"syscall"
	"time"
)

// Limits of a fetch.
const (
	timeout       = 2 * time.Minute
	mostRedirects = 5
	robotsFor     = time.Hour
	mostRobots    = 500 << 10
)

// agent is what the program calls itself.
const agent = "Jardinet"

// Errors that callers tell apart.
var (
	ErrForbidden = errors.New("this address may not be fetched")
	ErrGone      = errors.New("there is nothing at this address any more")
)

// A Policy is what the operator lets the service fetch. The zero one lets it fetch nothing.
type Policy struct {
	Hosts   []string // "host", "host:port", "*.host" for all below it, or "*" for all
	Private bool     // addresses in the operator's own networks too
}

// A Stamp is what a server said of a page when it was fetched, by which it tells whether the page
// has changed.
type Stamp struct {
	ETag     string `json:"etag,omitempty"`
	Modified string `json:"modified,omitempty"`
}

// A Page is what was fetched. Its body has to be closed.
type Page struct {
	Address string // where it was, after redirections
	Name    string // of a file
	Kind    string // by its media type
	Stamp   Stamp
	Body    io.ReadCloser
}

// A Fetcher fetches by a policy. It may be used by many goroutines.
type Fetcher struct {
	policy Policy
	client *http.Client
	mu     sync.Mutex
	robots map[string]rules // by scheme and host
}

// New returns a fetcher.
func New(policy Policy) *Fetcher {
	f := &Fetcher{policy: policy, robots: map[string]rules{}}
	dialer := &net.Dialer{Timeout: 15 * time.Second, ControlContext: f.control}
	f.client = &http.Client{
		Timeout:   timeout,
		Transport: &http.Transport{DialContext: dialer.DialContext, TLSHandshakeTimeout: 15 * time.Second, ResponseHeaderTimeout: time.Minute},
		CheckRedirect: func(req *http.Request, via []*http.Request) error {
			if len(via) > mostRedirects {
				return fmt.Errorf("it leads on more than %d times", mostRedirects)
			}
			return f.allows(req.URL)
		},
	}
	return f
}

// control refuses connections into networks that are not public.
func (f *Fetcher) control(_ context.Context, _, address string, _ syscall.RawConn) error {
	at, err := netip.ParseAddrPort(address)
	if err != nil {
		return fmt.Errorf("%w: %s is no address of a host", ErrForbidden, address)
	}
	ip := at.Addr().Unmap()
	if !f.policy.Private && (!ip.IsGlobalUnicast() || ip.IsPrivate() || shared.Contains(ip)) {
		return fmt.Errorf("%w: it stands for %s, which is not a public network; the service has to be started with --fetch-private", ErrForbidden, ip)
	}
	return nil
}

// shared are the addresses that providers share among their customers (RFC 6598).
var shared = netip.MustParsePrefix("100.64.0.0/10")

// allows tells what is wrong with an address.
func (f *Fetcher) allows(u *url.URL) error {
	if u.Scheme != "http" && u.Scheme != "https" || u.Host == "" || u.User != nil {
		return fmt.Errorf("%w: %q is not like https://host/path", ErrForbidden, u.Redacted())
	}
	if !slices.ContainsFunc(f.policy.Hosts, func(h string) bool { return matches(h, u) }) {
		return fmt.Errorf("%w: the operator of this service does not let it fetch from %s; it has to be started with --fetch-host %s", ErrForbidden, u.Host, u.Hostname())
	}
	return nil
}

func matches(allowed string, u *url.URL) bool {
	below, wild := strings.CutPrefix(allowed, "*.")
	return allowed == "*" || allowed == u.Host || allowed == u.Hostname() || wild && strings.HasSuffix(u.Hostname(), "."+below)
}

// Get fetches an address, or returns nil if it is as it was.
func (f *Fetcher) Get(ctx context.Context, address string, known Stamp) (*Page, error) {
	u, err := url.Parse(address)
	if err != nil {
		return nil, fmt.Errorf("%w: %q is not like https://host/path", ErrForbidden, address)
	}
	if err := f.allows(u); err != nil {
		return nil, err
	}
	wanted, err := f.wanted(ctx, u)
	if err != nil {
		return nil, err
	}
	if !wanted {
		return nil, fmt.Errorf("%w: the site's robots.txt does not want %s fetched", ErrForbidden, u.Path)
	}
	header := http.Header{}
	if known.ETag != "" {
		header.Set("If-None-Match", known.ETag)
	}
	if known.Modified != "" {
		header.Set("If-Modified-Since", known.Modified)
	}
	resp, err := f.do(ctx, u, header)
	if err != nil {
		return nil, err
	}
	switch {
	case resp.StatusCode == http.StatusNotModified:
		resp.Body.Close()
		return nil, nil
	case resp.StatusCode == http.StatusNotFound || resp.StatusCode == http.StatusGone:
		resp.Body.Close()
		return nil, fmt.Errorf("%s: %w", address, ErrGone)
	case resp.StatusCode != http.StatusOK:
		resp.Body.Close()
		return nil, fmt.Errorf("%s answers %s", u.Host, resp.Status)
	}
	kind, _, _ := mime.ParseMediaType(resp.Header.Get("Content-Type"))
	return &Page{
		Address: resp.Request.URL.String(), Name: nameOf(resp, kind), Kind: kind, Body: resp.Body,
		Stamp: Stamp{ETag: resp.Header.Get("ETag"), Modified: resp.Header.Get("Last-Modified")},
	}, nil
}

func (f *Fetcher) do(ctx context.Context, u *url.URL, header http.Header) (*http.Response, error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, u.String(), nil)
	if err != nil {
		return nil, err
	}
	req.Header = header
	req.Header.Set("User-Agent", agent)
	resp, err := f.client.Do(req)
	if err != nil {
		var failed *url.Error
		if errors.As(err, &failed) {
			err = failed.Err
		}
		return nil, fmt.Errorf("%s cannot be fetched: %w", u.Redacted(), err)
	}
	return resp, nil
}

// extensions are those of files whose name does not tell what they are.
var extensions = map[string]string{"application/pdf": ".pdf", "text/html": ".html", "text/plain": ".txt", "text/markdown": ".md", "text/csv": ".csv"}

// nameOf makes the name of a file from what the server calls it, or else from the address.
func nameOf(resp *http.Response, kind string) string {
	if _, params, err := mime.ParseMediaType(resp.Header.Get("Content-Disposition")); err == nil && params["filename"] != "" {
		return path.Base(params["filename"])
	}
	u := resp.Request.URL
	name := path.Base(u.Path)
	if name == "/" || name == "." {
		name = u.Hostname()
	}
	if u.RawQuery != "" {
		name += "-" + strings.NewReplacer("/", "-", "=", "-", "&", "-").Replace(u.RawQuery)
	}
	if extension := extensions[kind]; extension != "" && !strings.HasSuffix(strings.ToLower(name), extension) && (path.Ext(name) == "" || u.RawQuery != "" || name == u.Hostname()) {
		name += extension
	}
	return name
}

// rules are the paths that a robots.txt is about, for this program or for all.
type rules struct {
	deny, allow []string
	until       time.Time
}

// wanted tells whether a site wants an address fetched (RFC 9309). A site without a robots.txt
// wants everything fetched.
func (f *Fetcher) wanted(ctx context.Context, u *url.URL) (bool, error) {
	site := u.Scheme + "://" + u.Host
	f.mu.Lock()
	r, known := f.robots[site]
	f.mu.Unlock()
	if !known || time.Now().After(r.until) {
		resp, err := f.do(ctx, &url.URL{Scheme: u.Scheme, Host: u.Host, Path: "/robots.txt"}, http.Header{})
		if err != nil {
			return false, err
		}
		r = rules{}
		if resp.StatusCode == http.StatusOK {
			r = readRobots(io.LimitReader(resp.Body, mostRobots))
		}
		resp.Body.Close()
		r.until = time.Now().Add(robotsFor)
		f.mu.Lock()
		f.robots[site] = r
		f.mu.Unlock()
	}
	return r.want(u.EscapedPath()), nil
}

// want lets the longest rule that fits decide.
func (r *rules) want(path string) bool {
	longest := func(prefixes []string) (n int) {
		for _, p := range prefixes {
			if strings.HasPrefix(path, p) {
				n = max(n, len(p))
			}
		}
		return n
	}
	return longest(r.allow) >= longest(r.deny)
}

// readRobots reads the group for this program, or else the one for all.
func readRobots(from io.Reader) rules {
	groups := map[string]*rules{}
	var open []*rules
	named := false // the line before named a program
	for lines := bufio.NewScanner(from); lines.Scan(); {
		line, _, _ := strings.Cut(lines.Text(), "#")
		key, value, ok := strings.Cut(line, ":")
		if !ok {
			continue
		}
		key, value = strings.ToLower(strings.TrimSpace(key)), strings.TrimSpace(value)
		switch key {
		case "user-agent":
			if !named {
				open = nil
			}
			name := strings.ToLower(value)
			if groups[name] == nil {
				groups[name] = &rules{}
			}
			open, named = append(open, groups[name]), true
			continue
		case "disallow", "allow":
			if value = strings.TrimSuffix(value, "*"); value != "" {
				for _, g := range open {
					if key == "allow" {
						g.allow = append(g.allow, value)
					} else {
						g.deny = append(g.deny, value)
					}
				}
			}
		}
		named = false
	}
	for _, name := range []string{strings.ToLower(agent), "*"} {
		if g := groups[name]; g != nil {
			return *g
		}
	}
	return rules{}
}

// Do sends a request of another protocol over HTTP, as far as the policy lets it.
func (f *Fetcher) Do(req *http.Request) (*http.Response, error) {
	if err := f.allows(req.URL); err != nil {
		return nil, err
	}
	req.Header.Set("User-Agent", agent)
	return f.client.Do(req)
}
