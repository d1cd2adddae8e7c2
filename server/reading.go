package server

import (
	"fmt"
	"mime"
	"net/http"
	"path/filepath"
	"strings"

	"github.com/labstack/echo/v5"

	"jardinet/api"
	"jardinet/export"
	"jardinet/layout"
)

// changeCollection describes a collection, or cuts its documents anew.
func (s *Server) changeCollection(c *echo.Context) error {
	var in struct {
		Recipe      *api.Recipe `json:"recipe"`
		Description *string     `json:"description"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	ctx, name := c.Request().Context(), c.Param("collection")
	if in.Recipe == nil && in.Description == nil {
		return echo.NewHTTPError(http.StatusBadRequest, "nothing to change: send a recipe, a description or both")
	}
	if in.Description != nil {
		if err := s.service.SetDescription(ctx, name, *in.Description); err != nil {
			return err
		}
	}
	if in.Recipe != nil {
		if err := s.service.Reindex(ctx, name, *in.Recipe); err != nil {
			return err
		}
	}
	return s.collection(c)
}

// exportPassages sends a collection's passages with their vectors.
func (s *Server) exportPassages(c *echo.Context) error {
	format, kind := c.QueryParam("format"), "application/jsonl"
	switch format {
	case "", "jsonl":
		format = "jsonl"
	case "parquet":
		kind = "application/vnd.apache.parquet"
	default:
		return echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("format is %q: choose jsonl or parquet", format))
	}
	name := c.Param("collection")
	if _, err := s.service.Collection(c.Request().Context(), name); err != nil {
		return err
	}
	h := c.Response().Header()
	h.Set("Content-Type", kind)
	h.Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name + "." + format}))
	return s.service.ExportPassages(c.Request().Context(), name, format, c.Response())
}

// unlock has a document read that asks for a password.
func (s *Server) unlock(c *echo.Context) error {
	var in struct {
		Password string `json:"password"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	if err := s.service.Unlock(c.Request().Context(), c.Param("collection"), c.Param("document"), in.Password); err != nil {
		return err
	}
	return c.NoContent(http.StatusAccepted)
}

// outline sends the headings of a document.
func (s *Server) outline(c *echo.Context) error {
	entries, err := s.service.Outline(c.Request().Context(), c.Param("collection"), c.Param("document"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, map[string]any{"entries": entries})
}

// searchDocument sends where some words stand in a document.
func (s *Server) searchDocument(c *echo.Context) error {
	top, err := number("top", c.QueryParam("top"), 200)
	if err != nil {
		return err
	}
	hits, of, err := s.service.SearchIn(c.Request().Context(), c.Param("collection"), c.Param("document"), c.QueryParam("query"), top)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, map[string]any{"hits": hits, "of": of})
}

// intake tells how far the documents on their way in have come.
func (s *Server) intake(c *echo.Context) error {
	out, err := s.service.IntakeOf(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

// pauseIntake keeps queued documents waiting, or lets them go on.
func (s *Server) pauseIntake(c *echo.Context) error {
	var in struct {
		Paused bool `json:"paused"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	if err := s.service.Pause(c.Request().Context(), c.Param("collection"), in.Paused); err != nil {
		return err
	}
	return s.intake(c)
}

// addDemo makes a collection of the made-up documents that the program carries.
func (s *Server) addDemo(c *echo.Context) error {
	out, err := s.service.AddDemo(c.Request().Context())
	if err != nil {
		return err
	}
	return c.JSON(http.StatusAccepted, out)
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
	kind, suffix := export.Formats[format].MediaType, export.Formats[format].Suffix
	name := strings.TrimSuffix(filepath.Base(c.Param("document")), ".pdf") + suffix
	c.Response().Header().Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name}))
	return c.Blob(http.StatusOK, kind, data)
}
