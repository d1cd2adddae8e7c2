package server

import (
	"bytes"
	"io"
	"net/http"

	"github.com/labstack/echo/v5"
	"github.com/modelcontextprotocol/go-sdk/mcp"

	"jardinet/client"
	"jardinet/programs"
)

// mountPrograms offers what programs of other protocols ask for. They call the API as whoever
// called them, so that what they may do is decided there.
func (s *Server) mountPrograms(version string) {
	handler := mcp.NewStreamableHTTPHandler(func(r *http.Request) *mcp.Server {
		return programs.Server(s.inside(r), baseOf(r, s.Secure), version)
	}, &mcp.StreamableHTTPOptions{Stateless: true, JSONResponse: true})
	s.echo.Any("/mcp", func(c *echo.Context) error {
		handler.ServeHTTP(c.Response(), c.Request())
		return nil
	})
	chat := func(r *http.Request) programs.Chat {
		return programs.Chat{Client: s.inside(r), Base: baseOf(r, s.Secure)}
	}
	s.echo.GET("/v1/models", func(c *echo.Context) error {
		chat(c.Request()).Models(c.Response(), c.Request())
		return nil
	})
	s.echo.POST("/v1/chat/completions", func(c *echo.Context) error {
		chat(c.Request()).Complete(c.Response(), c.Request())
		return nil
	})
}

// baseOf is the address that a request reached the service by.
func baseOf(r *http.Request, secure bool) string {
	if secure {
		return "https://" + r.Host
	}
	return "http://" + r.Host
}

// inside returns a client of the API as the caller of a request.
func (s *Server) inside(r *http.Request) *client.Client { return client.Over(within{s, r}, "") }

// within carries requests to the server itself, with the key, the host and the address of the
// request that they are made for.
type within struct {
	server *Server
	as     *http.Request
}

func (t within) RoundTrip(r *http.Request) (*http.Response, error) {
	r = r.Clone(r.Context())
	r.Host, r.RemoteAddr, r.RequestURI = t.as.Host, t.as.RemoteAddr, r.URL.RequestURI()
	for _, name := range []string{"Authorization", "X-Forwarded-For"} {
		if value := t.as.Header.Get(name); value != "" {
			r.Header.Set(name, value)
		}
	}
	if r.Body == nil {
		r.Body = http.NoBody
	}
	w := &gathered{header: http.Header{}, status: http.StatusOK}
	t.server.ServeHTTP(w, r)
	return &http.Response{StatusCode: w.status, Header: w.header, Body: io.NopCloser(&w.body), Request: r}, nil
}

// gathered is a response that is kept together.
type gathered struct {
	header http.Header
	status int
	body   bytes.Buffer
}

func (g *gathered) Header() http.Header         { return g.header }
func (g *gathered) WriteHeader(status int)      { g.status = status }
func (g *gathered) Write(p []byte) (int, error) { return g.body.Write(p) }
func (g *gathered) Flush()                      {}
