package server

import (
	"net/http"

	"github.com/labstack/echo/v5"
)

func (s *Server) listHooks(c *echo.Context) error {
	out, err := s.hooks.List(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

// setHook says what a program is told of.
func (s *Server) setHook(c *echo.Context) error {
	var in struct {
		Events []string `json:"events"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	if len(in.Events) == 0 {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "name at least one event; DELETE the hook to tell it nothing more")
	}
	if err := s.hooks.Set(c.Request().Context(), c.Param("collection"), c.Param("hook"), in.Events); err != nil {
		return err
	}
	return s.listHooks(c)
}

func (s *Server) removeHook(c *echo.Context) error {
	if err := s.hooks.Set(c.Request().Context(), c.Param("collection"), c.Param("hook"), nil); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}
