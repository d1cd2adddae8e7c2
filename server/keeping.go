package server

import (
	"net/http"

	"github.com/labstack/echo/v5"
)

// checkService reads everything that is kept and streams how far it is, then what is damaged.
func (s *Server) checkService(c *echo.Context) error {
	stream := newEventStream(c)
	damages, err := s.service.Inspect(c.Request().Context(), c.QueryParam("mend") == "true", stream.progress)
	if err != nil {
		return stream.send("problem", map[string]string{"detail": err.Error()})
	}
	return stream.send("checked", map[string]any{"damages": damages})
}

// backup sends a backup of everything. If it breaks off, so does the response, without the end
// that an archive has.
func (s *Server) backup(c *echo.Context) error {
	var in struct {
		Have []string `json:"have"`
	}
	if err := bodyWithin(c, maxSet, &in); err != nil {
		return err
	}
	c.Response().Header().Set("Content-Type", "application/x-tar")
	if err := s.service.Backup(c.Request().Context(), c.Response(), in.Have); err != nil {
		if committed(c) {
			s.log.Error("a backup broke off", "error", err)
			panic(http.ErrAbortHandler)
		}
		return err
	}
	return nil
}
