package server

import (
	"net/http"

	"jardinet/api"

	"github.com/labstack/echo/v5"
)

// lessons sends what a collection has been taught.
func (s *Server) lessons(c *echo.Context) error {
	all, err := s.service.Lessons(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return listed(c, "lessons", all, func(one *api.Lesson) string { return one.ID })
}

// teach adds lessons.
func (s *Server) teach(c *echo.Context) error {
	var in struct {
		Lessons []api.Lesson `json:"lessons"`
	}
	if err := bodyWithin(c, maxSet, &in); err != nil { // a whole question set may be taught at once
		return err
	}
	all, err := s.service.Teach(c.Request().Context(), c.Param("collection"), in.Lessons)
	if err != nil {
		return err
	}
	return listed(c, "lessons", all, func(one *api.Lesson) string { return one.ID })
}

// forget removes a lesson.
func (s *Server) forget(c *echo.Context) error {
	if err := s.service.Forget(c.Request().Context(), c.Param("collection"), c.Param("lesson")); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}
