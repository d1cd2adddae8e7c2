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
	"net"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"jardinet/service"
)

// Description is the API's description, OpenAPI 3.1 in YAML.
//
//go:embed openapi.yaml
var Description []byte

// A Server answers HTTP requests for one service.
type Server struct {
	service *service.Service
	log     *slog.Logger
	echo    *echo.Echo
	metrics *metrics
	ending  context.Context // done when the server stops; ends event streams
}

// New returns a server. ctx ends the streams that would otherwise go on.
func New(ctx context.Context, s *service.Service, log *slog.Logger) *Server {
	srv := &Server{service: s, log: log, echo: echo.New(), metrics: newMetrics(s), ending: ctx}
	e := srv.echo
	e.Logger = log
	e.HTTPErrorHandler = srv.problem
	e.Use(srv.observe, middleware.Recover(), sameOrigin, headers)
	e.GET("/healthz", srv.health)
	e.GET("/readyz", srv.ready)
	e.GET("/metrics", echo.WrapHandler(srv.metrics.handler))
	api := e.Group("/api/v1")
	api.GET("/openapi.yaml", func(c *echo.Context) error {
		return c.Blob(http.StatusOK, "application/yaml; charset=utf-8", Description)
	})
	api.GET("/collections", srv.collections)
	api.POST("/collections", srv.createCollection)
	api.GET("/collections/:collection", srv.collection)
	api.PATCH("/collections/:collection", srv.reindex)
	api.DELETE("/collections/:collection", srv.removeCollection)
	api.GET("/collections/:collection/documents", srv.documents)
	api.POST("/collections/:collection/documents", srv.addDocuments)
	api.GET("/collections/:collection/documents/:document", srv.document)
	api.DELETE("/collections/:collection/documents/:document", srv.removeDocument)
	api.GET("/collections/:collection/documents/:document/file", srv.file)
	api.GET("/collections/:collection/documents/:document/pages/:page", srv.page)
	api.GET("/collections/:collection/documents/:document/pages/:page/picture", srv.picture)
	api.GET("/collections/:collection/documents/:document/pages/:page/corrections", srv.corrections)
	api.PUT("/collections/:collection/documents/:document/pages/:page/corrections", srv.correct)
	api.POST("/collections/:collection/documents/:document/read", srv.readAgain)
	api.PUT("/collections/:collection/documents/:document/tags", srv.setTags)
	api.GET("/collections/:collection/documents/:document/export", srv.export)
	api.GET("/collections/:collection/findings", srv.findings)
	api.GET("/collections/:collection/events", srv.events)
	api.GET("/collections/:collection/glossary", srv.glossary)
	api.PUT("/collections/:collection/glossary", srv.setGlossary)
	api.GET("/collections/:collection/lessons", srv.lessons)
	api.POST("/collections/:collection/lessons", srv.teach)
	api.DELETE("/collections/:collection/lessons/:lesson", srv.forget)
	api.GET("/collections/:collection/find", srv.find)
	api.POST("/collections/:collection/ask", srv.ask)
	api.GET("/collections/:collection/conversations", srv.conversations)
	api.GET("/collections/:collection/conversations/:conversation", srv.conversation)
	api.DELETE("/collections/:collection/conversations/:conversation", srv.removeConversation)
	api.POST("/collections/:collection/index/check", srv.checkIndex)
	api.POST("/collections/:collection/index/rebuild", srv.rebuildIndex)
	api.GET("/collections/:collection/style", srv.style)
	api.PUT("/collections/:collection/style", srv.setStyle)
	api.POST("/collections/:collection/measurements", srv.measure)
	api.GET("/collections/:collection/measurements", srv.measurements)
	api.GET("/measurements", srv.measurements)
	api.GET("/measurements/:measurement", srv.measurement)
	api.Any("/*", func(c *echo.Context) error {
		return echo.NewHTTPError(http.StatusNotFound, "there is no such address in the API; /api/v1/openapi.yaml lists them")
	})
	e.GET("/*", srv.console)
	return srv
}

// ServeHTTP lets a Server be used as any handler.
func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) { s.echo.ServeHTTP(w, r) }

// Serve answers on the listener until ctx is done, then lets requests that are
// under way finish for up to ten seconds.
func Serve(ctx context.Context, listener net.Listener, s *service.Service, log *slog.Logger) error {
	srv := &http.Server{
		Handler:           New(ctx, s, log),
		ReadHeaderTimeout: 10 * time.Second,
		IdleTimeout:       2 * time.Minute,
		ErrorLog:          slog.NewLogLogger(log.Handler(), slog.LevelWarn),
	}
	stopped := make(chan error, 1)
	stop := context.AfterFunc(ctx, func() {
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
	status, detail := http.StatusInternalServerError, err.Error()
	var http1 *echo.HTTPError
	switch {
	case errors.Is(err, service.ErrNotFound):
		status = http.StatusNotFound
	case errors.Is(err, service.ErrExists):
		status = http.StatusConflict
	case errors.Is(err, service.ErrInvalid):
		status = http.StatusUnprocessableEntity
	case errors.Is(err, context.Canceled):
		status = 499 // the client is gone; only the log sees it
	case errors.As(err, &http1):
		status, detail = http1.Code, http1.Message
	default:
		if code := echo.StatusCode(err); code != 0 {
			status = code
		}
	}
	if status >= 500 {
		s.log.Error("request failed", "path", c.Request().URL.Path, "error", err)
		if http1 == nil {
			detail = "something went wrong inside the service; its log says what"
		}
	}
	detail = plain(detail)
	echo.ProblemDetailsHTTPErrorHandler(true)(c, &echo.ProblemError{
		Status: status, Title: http.StatusText(status), Detail: detail, Instance: c.Request().URL.Path,
	})
}

// plain takes off an error's text what only tells its kind.
func plain(detail string) string {
	for _, kind := range []error{service.ErrRefused, service.ErrInvalid} {
		detail = strings.TrimSuffix(detail, ": "+kind.Error())
	}
	return detail
}

// sameOrigin refuses changes asked for by other sites' pages in a browser,
// which could otherwise reach a service on the visitor's own machine.
func sameOrigin(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		origin := r.Header.Get("Origin")
		if origin == "" || r.Method == http.MethodGet || r.Method == http.MethodHead {
			return next(c)
		}
		if u, err := url.Parse(origin); err != nil || u.Host != r.Host {
			return echo.NewHTTPError(http.StatusForbidden, "this request comes from the page of another site ("+origin+")")
		}
		return next(c)
	}
}

// headers sets what keeps browsers from guessing or embedding.
func headers(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		h := c.Response().Header()
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Content-Security-Policy", "default-src 'self'; img-src 'self' data:; style-src 'self' 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'")
		return next(c)
	}
}

func (s *Server) health(c *echo.Context) error { return c.String(http.StatusOK, "ok\n") }

func (s *Server) ready(c *echo.Context) error {
	if err := s.service.Check(c.Request().Context()); err != nil {
		return echo.NewHTTPError(http.StatusServiceUnavailable, "not ready: "+err.Error())
	}
	return c.String(http.StatusOK, "ready\n")
}
