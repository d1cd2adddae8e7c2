package cluster

import (
	"context"
	"fmt"
	"math/rand/v2"
	"net"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"sync/atomic"
	"time"

	"github.com/nats-io/nats.go"
)

// A host talks to the NATS server beside it, if there is one: then what is lost with another machine
// is that machine alone, and no host stands still because its server was there. Only when its own
// server is lost does it turn to another one, and comes back once its own is there again.

// comesBackEvery is how often a host looks whether the server beside it is there again.
const comesBackEvery = 15 * time.Second

// A link is a connection to the servers of NATS, the nearest of them if that can be.
type link struct {
	*nats.Conn
	own   map[string]bool // addresses of this machine
	order []string        // addresses of the servers, those to be tried first in front
	tried atomic.Int32    // in vain since it was connected last
}

// connect connects to NATS from a machine that has some addresses.
func connect(opts Options, own map[string]bool) (*link, error) {
	urls := order(strings.Split(opts.URL, ","), own)
	l := &link{own: own}
	for _, u := range urls {
		l.order = append(l.order, address(u))
	}
	options := []nats.Option{
		nats.Name("jardinet " + opts.Host), nats.MaxReconnects(-1), nats.RetryOnFailedConnect(true), nats.IgnoreAuthErrorAbort(),
		nats.DontRandomize(), nats.ReconnectToServer(l.next),
		nats.PingInterval(700 * time.Millisecond), nats.MaxPingsOutstanding(2), nats.Timeout(2 * time.Second),
		nats.ErrorHandler(func(_ *nats.Conn, _ *nats.Subscription, err error) { opts.Log.Debug("nats", "error", err) }),
		nats.DisconnectErrHandler(func(_ *nats.Conn, err error) {
			if err != nil { // else it was ended here
				opts.Log.Warn("the connection to NATS is lost", "error", err)
			}
		}),
		nats.ConnectHandler(func(*nats.Conn) { l.tried.Store(0) }),
		nats.ReconnectHandler(func(conn *nats.Conn) {
			l.tried.Store(0)
			opts.Log.Info("connected to NATS again", "server", conn.ConnectedAddr())
		}),
	}
	if opts.CA != "" {
		options = append(options, nats.RootCAs(opts.CA))
	}
	if opts.Secret != "" {
		options = append(options, nats.UserInfo("jardinet", opts.Secret))
	}
	conn, err := nats.Connect(strings.Join(urls, ","), options...)
	if err != nil {
		return nil, fmt.Errorf("cluster: connect to %s: %w", opts.URL, err)
	}
	l.Conn = conn
	return l, nil
}

// ownAddresses returns the addresses of this machine.
func ownAddresses() map[string]bool {
	out := map[string]bool{}
	all, _ := net.InterfaceAddrs() // none: then no server is on this machine
	for _, a := range all {
		if n, ok := a.(*net.IPNet); ok {
			out[n.IP.String()] = true
		}
	}
	return out
}

// order returns servers with those on this machine in front. The others are in no order, so that not
// all hosts go to the same one.
func order(servers []string, own map[string]bool) []string {
	var near, far []string
	for _, s := range servers {
		if s = strings.TrimSpace(s); isOn(address(s), own) {
			near = append(near, s)
		} else if s != "" {
			far = append(far, s)
		}
	}
	rand.Shuffle(len(far), func(i, j int) { far[i], far[j] = far[j], far[i] })
	return append(near, far...)
}

// isOn tells whether an address is one of some hosts.
func isOn(address string, own map[string]bool) bool {
	host, _, err := net.SplitHostPort(address)
	if err != nil {
		return false
	}
	if net.ParseIP(host) != nil {
		return own[host]
	}
	ctx, cancel := context.WithTimeout(context.Background(), time.Second)
	defer cancel()
	found, _ := net.DefaultResolver.LookupHost(ctx, host) // one that is not known now is taken for far
	return slices.ContainsFunc(found, func(a string) bool { return own[a] })
}

// address returns HOST:PORT of a server's URL.
func address(server string) string {
	if _, after, ok := strings.Cut(server, "://"); ok {
		server = after
	}
	if u, err := url.Parse("nats://" + server); err == nil {
		server = u.Host
	}
	if _, _, err := net.SplitHostPort(server); err != nil {
		return net.JoinHostPort(strings.Trim(server, "[]"), strconv.Itoa(nats.DefaultPort))
	}
	return server
}

// next returns the server to be tried: the nearest, then one after another.
func (l *link) next(servers []nats.Server, _ nats.ServerInfo) (*nats.Server, time.Duration) {
	n := int(l.tried.Add(1)) - 1
	rank := func(s nats.Server) int {
		if at := slices.Index(l.order, s.URL.Host); at >= 0 {
			return at
		}
		return len(l.order) // one that the others told of
	}
	slices.SortStableFunc(servers, func(a, b nats.Server) int { return rank(a) - rank(b) })
	rest := time.Duration(0)
	if n >= len(servers) {
		rest = 100*time.Millisecond + rand.N(200*time.Millisecond)
	}
	return &servers[n%len(servers)], rest
}

// stayNear goes back to the server on this machine whenever it is there again, until ctx is done.
func (l *link) stayNear(ctx context.Context) {
	for isOn(l.order[0], l.own) {
		select {
		case <-time.After(comesBackEvery):
			l.comeBack()
		case <-ctx.Done():
			return
		}
	}
}

// comeBack goes to the server on this machine if it is there and another one is in use.
func (l *link) comeBack() {
	if !l.IsConnected() || isOn(l.ConnectedAddr(), l.own) {
		return
	}
	try, err := net.DialTimeout("tcp", l.order[0], time.Second)
	if err != nil {
		return
	}
	try.Close()
	_ = l.ForceReconnect() // else it stays where it is
}
