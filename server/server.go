// Package server offers the service over HTTP: the API under /api/v1, which
// openapi.yaml describes, the console, and what operators look at (health,
// readiness, metrics). It holds no logic of its own.
package server

import (
	"context"
	_ "embed"
	"errors"
	"fmt"
	"log/slog"
	"math"
	"net"
	"net/http"
	"net/netip"
	"os"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"jardinet/access"
	"jardinet/accuracy"
	"jardinet/hooks"
	"jardinet/people"
	"jardinet/service"
	"jardinet/sources"
	"jardinet/spans"
)

// Description is the API's description, OpenAPI 3.1 in YAML.
//
//go:embed openapi.yaml
var Description []byte

// Options say how the service is reached.
type Options struct {
	Hosts   []string       // names that it goes by, beside localhost and numbers
	Proxies []netip.Prefix // addresses of proxies whose X-Forwarded-For is believed
	Secure  bool           // people reach it by HTTPS, here or at a proxy
	Origins []string       // sites whose pages may call the API with a key
	Limits  Limits
	// Provider is where people sign in instead of here; nil for none.
	Provider *Provider
	// Spans tells a collector how long requests take; nil for none.
	Spans *spans.Sender
}

// Parts are what a server makes reachable.
type Parts struct {
	Service *service.Service
	People  *people.Registry
	Bench   *accuracy.Bench
	Sources *sources.Keeper
	Hooks   *hooks.Teller
}

// A Server answers HTTP requests for one service.
type Server struct {
	Options
	service  *service.Service
	registry *people.Registry
	bench    *accuracy.Bench
	sources  *sources.Keeper
	hooks    *hooks.Teller
	log      *slog.Logger
	echo     *echo.Echo
	metrics  *metrics
	limits   *limiter
	again    again
	ending   context.Context // done when the server stops; ends event streams
}

// New returns a server. ctx ends the streams that would otherwise go on.
func New(ctx context.Context, on Parts, opts Options, log *slog.Logger) *Server {
	s := on.Service
	e := echo.NewWithConfig(echo.Config{Router: echo.NewRouter(echo.RouterConfig{UnescapePathParamValues: true, AutoHandleHEAD: true})})
	srv := &Server{Options: opts, service: s, registry: on.People, bench: on.Bench, sources: on.Sources, hooks: on.Hooks, log: log, echo: e, metrics: newMetrics(s), limits: newLimiter(opts.Limits), ending: ctx}
	if s.IsTogether() {
		srv.limits.shared = newTally(ctx, s.Count)
	}
	e.Logger = log
	e.HTTPErrorHandler = srv.problem
	e.IPExtractor = addresses(opts.Proxies)
	e.Use(srv.observe, middleware.Recover(), srv.hosts, srv.sameOrigin, headers, bodies)
	e.GET("/healthz", srv.health)
	e.GET("/readyz", srv.ready)
	e.GET("/metrics", srv.guard(route{"GET", "/metrics", "readMetrics", (*Server).readMetrics}))
	api := e.Group("/api/v1")
	for _, r := range routes {
		api.Add(r.method, r.path, srv.guard(r))
	}
	api.OPTIONS("/*", srv.preflight)
	api.Any("/*", srv.nowhere)
	srv.mountPrograms(s.Version)
	e.GET("/box.js", box)
	e.GET("/*", srv.console)
	return srv
}

// addresses finds out where a request comes from: from the other end of the connection, or, if that is
// a proxy to be believed, from where the proxy says.
func addresses(proxies []netip.Prefix) echo.IPExtractor {
	if len(proxies) == 0 {
		return echo.ExtractIPDirect()
	}
	trust := []echo.TrustOption{echo.TrustLoopback(false), echo.TrustLinkLocal(false), echo.TrustPrivateNet(false)}
	for _, p := range proxies {
		trust = append(trust, echo.TrustIPRange(&net.IPNet{IP: p.Addr().AsSlice(), Mask: net.CIDRMask(p.Bits(), p.Addr().BitLen())}))
	}
	return echo.ExtractIPFromXFFHeader(trust...)
}

// ServeHTTP lets a Server be used as any handler.
func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) { s.echo.ServeHTTP(w, r) }

// Serve answers on the listener until ctx is done, then lets requests that are
// under way finish for up to ten seconds.
func Serve(ctx context.Context, listener net.Listener, on Parts, opts Options, log *slog.Logger) error {
	srv := &http.Server{
		Handler:           New(ctx, on, opts, log),
		ReadHeaderTimeout: 10 * time.Second,
		IdleTimeout:       2 * time.Minute,
		ErrorLog:          slog.NewLogLogger(log.Handler(), slog.LevelWarn),
	}
	stopped := make(chan error, 1)
	stop := context.AfterFunc(ctx, func() {
		on.Service.Hurry()
		grace, cancel := context.WithTimeout(context.Background(), 10*time.Second)
		defer cancel()
		stopped <- srv.Shutdown(grace)
	})
	defer stop()
	if err := srv.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
		return fmt.Errorf("serve on %s: %w", listener.Addr(), err)
	}
	return <-stopped
}

// problem answers with an RFC 9457 problem document.
func (s *Server) problem(c *echo.Context, err error) {
	status, detail := s.describe(err)
	if status >= 500 {
		s.log.Error("request failed", "path", c.Request().URL.Path, "error", err)
	}
	var wait *access.Wait
	if errors.As(err, &wait) {
		c.Response().Header().Set("Retry-After", strconv.Itoa(int(math.Ceil(wait.For.Seconds()))))
	}
	if status == http.StatusUnauthorized {
		c.Response().Header().Set("WWW-Authenticate", `Bearer realm="jardinet"`)
	}
	echo.ProblemDetailsHTTPErrorHandler(true)(c, &echo.ProblemError{
		Status: status, Title: http.StatusText(status), Detail: detail, Instance: c.Request().URL.Path,
	})
}

// kinds are the statuses of what the service reports.
var kinds = []struct {
	err    error
	status int
}{
	{access.ErrUnknown, http.StatusUnauthorized},
	{access.ErrDenied, http.StatusForbidden},
	{service.ErrNotFound, http.StatusNotFound},
	{service.ErrExists, http.StatusConflict},
	{service.ErrInvalid, http.StatusUnprocessableEntity},
	{context.Canceled, 499}, // the client is gone; only the log sees it
}

// describe returns the status of an error and what the caller is told.
func (s *Server) describe(err error) (status int, detail string) {
	var http1 *echo.HTTPError
	var wait *access.Wait
	var long *http.MaxBytesError
	switch {
	case errors.As(err, &wait):
		return http.StatusTooManyRequests, wait.Reason
	case errors.Is(err, os.ErrDeadlineExceeded):
		return http.StatusRequestTimeout, "the request did not arrive in time; send it again"
	case errors.As(err, &long):
		return http.StatusRequestEntityTooLarge, fmt.Sprintf("the request is longer than %d bytes", long.Limit)
	case errors.As(err, &http1):
		return http1.Code, http1.Message
	}
	if service.IsFull(err) {
		return http.StatusInsufficientStorage, "nothing can be written: the disk is full, or can only be read. Make room, or mend it; questions are answered meanwhile, and what waits goes on by itself"
	}
	if service.IsCutOff(err) {
		return http.StatusServiceUnavailable, service.Reason(err)
	}
	for _, kind := range kinds {
		if errors.Is(err, kind.err) {
			return kind.status, plain(err.Error())
		}
	}
	if code := echo.StatusCode(err); code != 0 && code < 500 {
		return code, err.Error()
	}
	return http.StatusInternalServerError, "something went wrong inside the service; its log says what"
}

// plain takes off an error's text what only tells its kind.
func plain(detail string) string {
	for _, kind := range []error{service.ErrRefused, service.ErrInvalid, access.ErrUnknown, access.ErrDenied} {
		detail = strings.TrimSuffix(detail, ": "+kind.Error())
	}
	return detail
}

func (s *Server) health(c *echo.Context) error { return c.String(http.StatusOK, "ok\n") }
