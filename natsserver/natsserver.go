// Package natsserver runs a NATS server with JetStream inside the program, set up as Jardinet needs
// it: three of them keep the order of changes for a cluster, one does for a single host. A server
// that others run does as well.
package natsserver

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/url"
	"strconv"
	"strings"
	"time"

	"github.com/nats-io/nats-server/v2/server"
)

// Options say how a server is run.
type Options struct {
	Name   string   // unlike those of the others
	Dir    string   // where it keeps what it is given
	Listen string   // for Jardinet's hosts, host:port
	Peers  []string // host:port of the other servers, and perhaps of this one too; nil for a single server
	Among  string   // for the other servers, host:port
	Secret string   // that hosts and servers need; empty for none
	// Certificate, Key and CA are files for TLS with hosts and servers: the server's own, and that of
	// who vouches for the others. Empty for none.
	Certificate, Key, CA string
	Log                  *slog.Logger
}

// largestMessage is how many bytes a message may have.
const largestMessage = 8 << 20

// startsWithin is how long a server may take to listen.
const startsWithin = 20 * time.Second

// A Server is running.
type Server struct{ server *server.Server }

// user is the name that goes with the secret.
const user = "jardinet"

// Start starts a server and returns once it listens.
func Start(opts Options) (*Server, error) {
	host, port, err := split(opts.Listen)
	if err != nil {
		return nil, fmt.Errorf("--listen %s: %w", opts.Listen, err)
	}
	o := &server.Options{
		ServerName: opts.Name, Host: host, Port: port, JetStream: true, StoreDir: opts.Dir, NoSigs: true,
		// What is accepted is on the disk: a machine that loses its power has not lost it.
		SyncAlways: true,
		MaxPayload: largestMessage, DisableShortFirstPing: true,
	}
	if opts.Secret != "" {
		o.Username, o.Password = user, opts.Secret
	}
	if o.TLSConfig, err = opts.encryption(); err != nil {
		return nil, err
	}
	o.TLS = o.TLSConfig != nil
	if len(opts.Peers) > 0 {
		if o.Cluster, o.Routes, err = cluster(opts); err != nil {
			return nil, err
		}
	}
	s, err := server.NewServer(o)
	if err != nil {
		return nil, fmt.Errorf("nats server: %w", err)
	}
	if opts.Log != nil {
		s.SetLogger(logger{opts.Log}, false, false)
	}
	s.Start()
	if !s.ReadyForConnections(startsWithin) {
		s.Shutdown()
		return nil, fmt.Errorf("nats server: it does not listen on %s after %s; is the port in use?", opts.Listen, startsWithin)
	}
	return &Server{s}, nil
}

// encryption returns how connections are encrypted, nil if they are not.
func (o *Options) encryption() (*tls.Config, error) {
	if o.Certificate == "" && o.Key == "" && o.CA == "" {
		return nil, nil
	}
	if o.Certificate == "" || o.Key == "" || o.CA == "" {
		return nil, errors.New("give --tls-cert, --tls-key and --tls-ca, or none of them")
	}
	config, err := server.GenTLSConfig(&server.TLSConfigOpts{CertFile: o.Certificate, KeyFile: o.Key, CaFile: o.CA, Timeout: 5})
	if err != nil {
		return nil, fmt.Errorf("nats server: certificate %s: %w", o.Certificate, err)
	}
	return config, nil
}

func cluster(opts Options) (server.ClusterOpts, []*url.URL, error) {
	if len(opts.Peers) < 2 {
		return server.ClusterOpts{}, nil, errors.New("--peers: name the other servers too, three in all")
	}
	host, port, err := split(opts.Among)
	if err != nil {
		return server.ClusterOpts{}, nil, fmt.Errorf("--among %s: %w", opts.Among, err)
	}
	out := server.ClusterOpts{Name: "jardinet", Host: host, Port: port}
	if out.TLSConfig, err = opts.encryption(); err != nil {
		return out, nil, err
	}
	if out.TLSConfig != nil { // servers show each other who they are
		out.TLSConfig.ClientAuth, out.TLSConfig.RootCAs = tls.RequireAndVerifyClientCert, out.TLSConfig.ClientCAs
		out.TLSTimeout = 5
	}
	if opts.Secret != "" {
		out.Username, out.Password = user, opts.Secret
	}
	var routes []*url.URL
	for _, peer := range opts.Peers {
		if _, _, err := split(peer); err != nil {
			return out, nil, fmt.Errorf("--peers %s: %w", peer, err)
		}
		route := &url.URL{Scheme: "nats-route", Host: peer}
		if opts.Secret != "" {
			route.User = url.UserPassword(user, opts.Secret)
		}
		routes = append(routes, route)
	}
	return out, routes, nil
}

func split(address string) (host string, port int, err error) {
	host, digits, err := net.SplitHostPort(address)
	if err != nil {
		return "", 0, errors.New("give a host and a port, such as 10.0.0.1:4222")
	}
	port, err = strconv.Atoi(digits)
	if err != nil || port < 0 || port > 65535 {
		return "", 0, fmt.Errorf("%s is no port", digits)
	}
	if port == 0 {
		port = server.RANDOM_PORT
	}
	return host, port, nil
}

// URL returns where Jardinet's hosts find the server, with the secret.
func (s *Server) URL() string { return s.server.ClientURL() }

// Address returns host and port.
func (s *Server) Address() string { return s.server.Addr().String() }

// Stop hands over what the server leads to others, and stops it.
func (s *Server) Stop() {
	s.server.Shutdown()
	s.server.WaitForShutdown()
}

// A logger hands on what the server logs.
type logger struct{ to *slog.Logger }

func (l logger) say(level slog.Level, format string, args []any) {
	l.to.Log(context.Background(), level, "nats: "+strings.TrimSpace(fmt.Sprintf(format, args...)))
}

func (l logger) Noticef(format string, args ...any) { l.say(slog.LevelDebug, format, args) }
func (l logger) Warnf(format string, args ...any)   { l.say(slog.LevelWarn, format, args) }
func (l logger) Errorf(format string, args ...any)  { l.say(slog.LevelError, format, args) }
func (l logger) Fatalf(format string, args ...any)  { l.say(slog.LevelError, format, args) }
func (l logger) Debugf(format string, args ...any)  { l.say(slog.LevelDebug, format, args) }
func (l logger) Tracef(format string, args ...any)  { l.say(slog.LevelDebug, format, args) }
