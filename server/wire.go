package server

import (
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/labstack/echo/v5"
)

// hosts refuses requests under a name that is not the service's. A page of another site can
// make its own name stand for this machine and so reach the service (DNS rebinding), but
// not without that name in the Host header; numbers cannot be made to stand for anything.
func (s *Server) hosts(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		name := c.Request().Host
		if host, _, err := net.SplitHostPort(name); err == nil {
			name = host
		}
		name = strings.Trim(strings.ToLower(name), "[]")
		if net.ParseIP(name) == nil && name != "localhost" && !slices.Contains(s.Hosts, name) {
			return echo.NewHTTPError(http.StatusMisdirectedRequest,
				fmt.Sprintf("this service does not go by the name %q; if it should, start it with --host %s", name, name))
		}
		return next(c)
	}
}

// sameOrigin refuses changes asked for by other sites' pages in a browser, which could
// otherwise reach a service on the visitor's own machine, or with the visitor's session.
func (s *Server) sameOrigin(next echo.HandlerFunc) echo.HandlerFunc {
	protection := http.NewCrossOriginProtection()
	return func(c *echo.Context) error {
		if s.welcome(c) {
			return next(c)
		}
		if err := protection.Check(c.Request()); err != nil {
			return echo.NewHTTPError(http.StatusForbidden, "this request comes from the page of another site")
		}
		return next(c)
	}
}

// welcome lets the pages of sites that the operator names call the API with a key, and tells
// browsers so. A session is never sent along: they are not told that it may be.
func (s *Server) welcome(c *echo.Context) bool {
	origin := c.Request().Header.Get("Origin")
	if origin == "" || !slices.Contains(s.Origins, origin) || !strings.HasPrefix(c.Request().URL.Path, "/api/v1/") {
		return false
	}
	h := c.Response().Header()
	h.Set("Access-Control-Allow-Origin", origin)
	h.Add("Vary", "Origin")
	return c.Request().Header.Get("Authorization") != ""
}

// preflight answers browsers that ask whether a page of another site may call.
func (s *Server) preflight(c *echo.Context) error {
	s.welcome(c)
	h := c.Response().Header()
	h.Set("Access-Control-Allow-Methods", "GET, POST")
	h.Set("Access-Control-Allow-Headers", "Authorization, Content-Type, Accept")
	h.Set("Access-Control-Max-Age", "600")
	return c.NoContent(http.StatusNoContent)
}

const contentSecurity = "default-src 'self'; img-src 'self' data:; object-src 'none'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'"

// headers sets what keeps browsers from guessing, embedding or running what is not ours.
func headers(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		h := c.Response().Header()
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Content-Security-Policy", contentSecurity)
		return next(c)
	}
}

// A client may send nothing for bodyPause before the rest of its request is no longer waited for,
// and after that time must have sent slowest bytes a second: few bytes that trickle in would hold
// a connection for as long.
const (
	bodyPause = 30 * time.Second
	slowest   = 1 << 10
)

// bodies gives up on requests that do not arrive.
func bodies(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		if r := c.Request(); r.Body != nil && r.Body != http.NoBody {
			r.Body = &impatient{r.Body, http.NewResponseController(c.Response()), time.Now(), 0}
		}
		return next(c)
	}
}

// impatient is a body each part of which has to arrive in time.
type impatient struct {
	io.ReadCloser
	connection *http.ResponseController
	begun      time.Time
	received   int64 // bytes
}

// due is when the next part has to be here.
func (b *impatient) due(now time.Time) time.Time {
	pause, whole := now.Add(bodyPause), b.begun.Add(bodyPause+time.Duration(b.received)*time.Second/slowest)
	if whole.Before(pause) {
		return whole
	}
	return pause
}

func (b *impatient) Read(p []byte) (int, error) {
	// What cannot have a deadline, such as a recorder in a test, does without.
	_ = b.connection.SetReadDeadline(b.due(time.Now()))
	n, err := b.ReadCloser.Read(p)
	b.received += int64(n)
	if errors.Is(err, io.EOF) {
		_ = b.connection.SetReadDeadline(time.Time{})
	}
	return n, err // after a deadline that has passed the connection is of no more use
}

// nowhere answers what no operation does: with the methods that there are at this address, or
// that there are none.
func (s *Server) nowhere(c *echo.Context) error {
	var methods []string
	for _, r := range routes {
		if matches(r.path, strings.TrimPrefix(c.Request().URL.EscapedPath(), "/api/v1")) {
			methods = append(methods, r.method)
		}
	}
	if methods == nil {
		return echo.NewHTTPError(http.StatusNotFound, "there is no such address in the API; /api/v1/openapi.yaml lists them")
	}
	allowed := strings.Join(methods, ", ")
	c.Response().Header().Set("Allow", allowed)
	return echo.NewHTTPError(http.StatusMethodNotAllowed, fmt.Sprintf("%s is not done here; use %s", c.Request().Method, allowed))
}

func matches(pattern, path string) bool {
	wanted, parts := strings.Split(pattern, "/"), strings.Split(path, "/")
	if len(wanted) != len(parts) {
		return false
	}
	for i, w := range wanted {
		if w != parts[i] && (!strings.HasPrefix(w, ":") || parts[i] == "") {
			return false
		}
	}
	return true
}
