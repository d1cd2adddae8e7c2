package server

import (
	"github.com/labstack/echo/v5"
)

// checkIndex reads a collection's index through and streams how far it is, then
// what is wrong with it.
func (s *Server) checkIndex(c *echo.Context) error {
	ctx, name := c.Request().Context(), c.Param("collection")
	if _, err := s.service.Collection(ctx, name); err != nil {
		return err
	}
	stream := newEventStream(c)
	problems, err := s.service.CheckIndex(ctx, name, stream.progress)
	if err != nil {
		return stream.send("problem", map[string]string{"detail": err.Error()})
	}
	return stream.send("checked", map[string]any{"problems": problems})
}

// rebuildIndex makes a collection's index anew and streams how far it is.
func (s *Server) rebuildIndex(c *echo.Context) error {
	ctx, name := c.Request().Context(), c.Param("collection")
	if _, err := s.service.Collection(ctx, name); err != nil {
		return err
	}
	stream := newEventStream(c)
	if err := s.service.RebuildIndex(ctx, name, stream.progress); err != nil {
		return stream.send("problem", map[string]string{"detail": err.Error()})
	}
	now, err := s.service.Collection(ctx, name)
	if err != nil {
		return stream.send("problem", map[string]string{"detail": err.Error()})
	}
	return stream.send("rebuilt", now)
}

// progress tells how far something is; a client that is gone is noticed by the
// request's context.
func (s eventStream) progress(done, all int) {
	_ = s.send("progress", map[string]int{"done": done, "all": all})
}
