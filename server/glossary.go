package server

import (
	"io"
	"mime"
	"net/http"

	"github.com/labstack/echo/v5"

	"jardinet/rank"
)

const kindCSV = "text/csv"

// glossary sends a collection's glossary, as CSV if that is wanted.
func (s *Server) glossary(c *echo.Context) error {
	g, err := s.service.Glossary(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	if c.QueryParam("format") == "csv" {
		c.Response().Header().Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": "glossary.csv"}))
		return c.Blob(http.StatusOK, kindCSV, rank.WriteGlossary(g.Entries))
	}
	return c.JSON(http.StatusOK, g)
}

// setGlossary replaces it by entries in JSON or CSV.
func (s *Server) setGlossary(c *echo.Context) error {
	var in struct {
		Entries []rank.Entry `json:"entries"`
	}
	kind, _, _ := mime.ParseMediaType(c.Request().Header.Get("Content-Type"))
	if kind == kindCSV {
		data, err := io.ReadAll(http.MaxBytesReader(c.Response(), c.Request().Body, maxSet))
		if err != nil {
			return echo.NewHTTPError(http.StatusBadRequest, "the glossary cannot be read: "+err.Error())
		}
		if in.Entries, err = rank.ReadGlossary(data); err != nil {
			return echo.NewHTTPError(http.StatusUnprocessableEntity, err.Error())
		}
	} else if err := body(c, &in); err != nil {
		return err
	}
	g, err := s.service.SetGlossary(c.Request().Context(), c.Param("collection"), in.Entries)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, g)
}
