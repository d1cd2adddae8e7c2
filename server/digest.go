package server

import (
	"cmp"
	"mime"
	"net/http"
	"path/filepath"
	"slices"
	"strings"

	"github.com/labstack/echo/v5"

	"jardinet/api"
)

// digestParts are the parts of a digest that can be asked for by themselves in Markdown.
var digestParts = []string{"summary", "outline", "page", "chapters", "terms", "dates", "figures", "duties", "offices"}

// digest sends what a document holds at a glance: as JSON, as Markdown, or its days as a calendar.
func (s *Server) digest(c *echo.Context) error {
	part := c.QueryParam("part")
	if part != "" && !slices.Contains(digestParts, part) {
		return echo.NewHTTPError(http.StatusBadRequest, "part is "+part+": choose one of "+strings.Join(digestParts, ", "))
	}
	out, err := s.service.Digest(c.Request().Context(), c.Param("collection"), c.Param("document"))
	if err != nil {
		return err
	}
	switch format := c.QueryParam("format"); format {
	case "", "json":
		return c.JSON(http.StatusOK, out)
	case "markdown":
		return c.Blob(http.StatusOK, "text/markdown; charset=utf-8", []byte(out.Markdown(part)))
	case "calendar":
		name := strings.TrimSuffix(filepath.Base(out.Document), filepath.Ext(out.Document)) + ".ics"
		c.Response().Header().Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name}))
		return c.Blob(http.StatusOK, "text/calendar; charset=utf-8", []byte(out.Calendar()))
	default:
		return echo.NewHTTPError(http.StatusBadRequest, "format is "+format+": choose json, markdown or calendar")
	}
}

// editDigest drops a line of a digest or words it anew.
func (s *Server) editDigest(c *echo.Context) error {
	var in api.DigestEdit
	if err := body(c, &in); err != nil {
		return err
	}
	return s.changeDigest(c, &in)
}

func (s *Server) undoDigestEdit(c *echo.Context) error { return s.changeDigest(c, nil) }

func (s *Server) changeDigest(c *echo.Context, edit *api.DigestEdit) error {
	if err := s.service.EditDigest(c.Request().Context(), c.Param("collection"), c.Param("document"), c.Param("line"), edit); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// sheet sends questions that a document answers, as JSON or for printing.
func (s *Server) sheet(c *echo.Context) error {
	out, err := s.service.Sheet(c.Request().Context(), c.Param("collection"), c.Param("document"))
	if err != nil {
		return err
	}
	return withMarkdown(c, out)
}

// withMarkdown sends what a document holds as JSON, or set for printing.
func withMarkdown(c *echo.Context, out interface{ Markdown(title string) string }) error {
	switch format := c.QueryParam("format"); format {
	case "", "json":
		return c.JSON(http.StatusOK, out)
	case "markdown":
		return c.Blob(http.StatusOK, "text/markdown; charset=utf-8", []byte(out.Markdown(c.Param("document"))))
	default:
		return echo.NewHTTPError(http.StatusBadRequest, "format is "+format+": choose json or markdown")
	}
}

// plain sends pages of a document in plain words, as JSON or for printing.
func (s *Server) plain(c *echo.Context) error {
	from, err := number("from", c.QueryParam("from"), 1)
	if err != nil {
		return err
	}
	to, err := number("to", c.QueryParam("to"), 0)
	if err != nil {
		return err
	}
	out, err := s.service.Plain(c.Request().Context(), c.Param("collection"), c.Param("document"), from, to)
	if err != nil {
		return err
	}
	return withMarkdown(c, out)
}

// suggestions sends a few questions to begin with.
func (s *Server) suggestions(c *echo.Context) error {
	all, err := s.service.Suggestions(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, map[string]any{"questions": all})
}

// changes sends what a document says otherwise than an earlier one.
func (s *Server) changes(c *echo.Context) error {
	before := c.QueryParam("since")
	if before == "" {
		return echo.NewHTTPError(http.StatusBadRequest, "name the earlier version or document: ?since=ID")
	}
	out, err := s.service.Changes(c.Request().Context(), c.Param("collection"), before, c.Param("document"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

// some reads which documents are meant.
func some(c *echo.Context) (api.Scope, error) {
	query := c.QueryParams()
	where, err := whereIn(query["where"])
	return api.Scope{Documents: query["document"], Tags: query["tag"], Where: where}, err
}

// summary sums up a collection, or some of its documents.
func (s *Server) summary(c *echo.Context) error {
	scope, err := some(c)
	if err != nil {
		return err
	}
	out, err := s.service.Summary(c.Request().Context(), c.Param("collection"), cmp.Or(c.QueryParam("length"), "short"), scope)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, map[string]any{"sentences": out})
}

// list lists what documents have of a kind, as JSON or CSV.
func (s *Server) list(c *echo.Context) error {
	scope, err := some(c)
	if err != nil {
		return err
	}
	out, err := s.service.List(c.Request().Context(), c.Param("collection"), c.QueryParam("of"), scope)
	if err != nil {
		return err
	}
	switch format := c.QueryParam("format"); format {
	case "", "json":
		return c.JSON(http.StatusOK, out)
	case "csv":
		return c.Blob(http.StatusOK, "text/csv; charset=utf-8", out.CSV())
	default:
		return echo.NewHTTPError(http.StatusBadRequest, "format is "+format+": choose json or csv")
	}
}
