package server

import (
	"encoding/json"
	"net/http"
	"time"

	"github.com/labstack/echo/v5"

	"jardinet/access"
	"jardinet/service"
)

// audit sends what was done, the latest first; as JSON Lines in order of time, without an end
// to their number, if that is wanted.
func (s *Server) audit(c *echo.Context) error {
	top, err := number("top", c.QueryParam("top"), 100)
	if err != nil {
		return err
	}
	which := service.AuditFilter{
		Who: c.QueryParam("who"), Operation: c.QueryParam("operation"), Collection: c.QueryParam("collection"), Top: top,
	}
	if since := c.QueryParam("since"); since != "" {
		if which.Since, err = time.Parse(time.DateOnly, since); err != nil {
			return echo.NewHTTPError(http.StatusBadRequest, "since is "+since+": write a day like 2026-11-29")
		}
	}
	switch format := c.QueryParam("format"); format {
	case "", "json":
	case "jsonl":
		return s.auditLines(c, which)
	default:
		return echo.NewHTTPError(http.StatusBadRequest, "format is "+format+": choose json or jsonl")
	}
	entries := []access.Entry{}
	for e, err := range s.service.Audit(c.Request().Context(), which) {
		if err != nil {
			return err
		}
		entries = append(entries, *e)
	}
	return c.JSON(http.StatusOK, map[string]any{"entries": entries})
}

func (s *Server) auditLines(c *echo.Context, which service.AuditFilter) error {
	which.Top, which.InOrder = 0, true
	c.Response().Header().Set("Content-Type", "application/jsonl")
	lines := json.NewEncoder(c.Response())
	for e, err := range s.service.Audit(c.Request().Context(), which) {
		if err != nil {
			return err
		}
		if err := lines.Encode(e); err != nil {
			return nil // the client is gone
		}
	}
	return nil
}

func (s *Server) verifyAudit(c *echo.Context) error {
	out, err := s.service.VerifyAudit(c.Request().Context())
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}
