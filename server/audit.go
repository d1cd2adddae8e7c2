package server

import (
	"encoding/json"
	"net/http"
	"strconv"
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
	if after := c.QueryParam("after"); after != "" {
		if which.Below, err = strconv.ParseInt(after, 10, 64); err != nil || which.Below < 1 {
			return echo.NewHTTPError(http.StatusBadRequest, "after is no cursor of this list: send what \"next\" was, or leave it away to begin")
		}
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
	out := map[string]any{"entries": entries}
	if n := len(entries); n == top && n > 0 && entries[n-1].Number > 1 {
		out["next"] = strconv.FormatInt(entries[n-1].Number, 10)
	}
	return c.JSON(http.StatusOK, out)
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
