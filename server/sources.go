package server

import (
	"fmt"
	"net/http"
	"strings"

	"github.com/labstack/echo/v5"

	"jardinet/api"
	"jardinet/service"
)

func (s *Server) listSources(c *echo.Context) error {
	all, err := s.sources.List(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return listed(c, "sources", all, func(one *api.Source) string { return one.ID })
}

// addSource adds an address or a folder, and looks at it.
func (s *Server) addSource(c *echo.Context) error {
	var in api.Source
	if err := body(c, &in); err != nil {
		return err
	}
	c.Set(objectOf, in.At)
	out, err := s.sources.Add(c.Request().Context(), c.Param("collection"), in)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusCreated, out)
}

func (s *Server) removeSource(c *echo.Context) error {
	if err := s.sources.Remove(c.Request().Context(), c.Param("collection"), c.Param("source")); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// lookAtSource looks at a source now.
func (s *Server) lookAtSource(c *echo.Context) error {
	out, err := s.sources.Look(c.Request().Context(), c.Param("collection"), c.Param("source"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

// setFields gives a document fields beside those that it has.
func (s *Server) setFields(c *echo.Context) error {
	var in struct {
		Fields map[string]string `json:"fields"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	out, err := s.service.SetFields(c.Request().Context(), c.Param("collection"), c.Param("document"), in.Fields)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

// importFields gives many documents fields, from CSV or JSON.
func (s *Server) importFields(c *echo.Context) error {
	list, err := service.ReadFieldList(http.MaxBytesReader(c.Response(), c.Request().Body, maxSet))
	if err != nil {
		return err
	}
	given, missing, err := s.service.SetFieldList(c.Request().Context(), c.Param("collection"), list)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, map[string]any{"given": given, "missing": missing})
}

// askAcross asks several collections one question.
func (s *Server) askAcross(c *echo.Context) error {
	var in struct {
		api.Ask
		Collections []string `json:"collections"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	c.Set(askedQuestion, in.Question)
	out, err := s.service.AskAcross(c.Request().Context(), in.Collections, in.Ask)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, map[string]any{"answers": out})
}

// whereIn reads fields as "name=value".
func whereIn(values []string) (map[string]string, error) {
	out := map[string]string{}
	for _, v := range values {
		name, value, ok := strings.Cut(v, "=")
		if !ok {
			return nil, echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("where is %q: write it as field=value", v))
		}
		out[name] = value
	}
	return out, nil
}
