package server

import (
	"mime"
	"net/http"
	"path/filepath"
	"strings"

	"github.com/labstack/echo/v5"

	"jardinet/api"
	"jardinet/layout"
	"jardinet/service"
)

// reindex cuts a collection's documents anew.
func (s *Server) reindex(c *echo.Context) error {
	var in struct {
		Recipe api.Recipe `json:"recipe"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	if err := s.service.Reindex(c.Request().Context(), c.Param("collection"), in.Recipe); err != nil {
		return err
	}
	return s.collection(c)
}

// corrections sends what people changed on a page.
func (s *Server) corrections(c *echo.Context) error {
	n, err := number("the page", c.Param("page"), 1)
	if err != nil {
		return err
	}
	out, err := s.service.Corrections(c.Request().Context(), c.Param("collection"), c.Param("document"), n)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

// correct replaces them and sends the page as it is then; where the page has to
// be read again for it, 202 and nothing.
func (s *Server) correct(c *echo.Context) error {
	n, err := number("the page", c.Param("page"), 1)
	if err != nil {
		return err
	}
	var in layout.Corrections
	if err := body(c, &in); err != nil {
		return err
	}
	page, err := s.service.Correct(c.Request().Context(), c.Param("collection"), c.Param("document"), n, &in)
	if err != nil {
		return err
	}
	if page == nil {
		return c.NoContent(http.StatusAccepted)
	}
	return c.JSON(http.StatusOK, page)
}

func (s *Server) readAgain(c *echo.Context) error {
	if err := s.service.ReadAgain(c.Request().Context(), c.Param("collection"), c.Param("document")); err != nil {
		return err
	}
	return c.NoContent(http.StatusAccepted)
}

// findings sends the pages that most should be looked at.
func (s *Server) findings(c *echo.Context) error {
	top, err := number("top", c.QueryParam("top"), 50)
	if err != nil {
		return err
	}
	pages, of, err := s.service.WorstPages(c.Request().Context(), c.Param("collection"), c.QueryParam("document"), top)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, map[string]any{"pages": pages, "of": of})
}

// export sends what was read of a document in an open format.
func (s *Server) export(c *echo.Context) error {
	format := c.QueryParam("format")
	if format == "" {
		format = "markdown"
	}
	data, err := s.service.Export(c.Request().Context(), c.Param("collection"), c.Param("document"), format)
	if err != nil {
		return err
	}
	kind, suffix := service.ExportFormats[format].MediaType, service.ExportFormats[format].Suffix
	name := strings.TrimSuffix(filepath.Base(c.Param("document")), ".pdf") + suffix
	c.Response().Header().Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name}))
	return c.Blob(http.StatusOK, kind, data)
}
