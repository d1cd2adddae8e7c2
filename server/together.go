package server

import (
	"net/http"

	"github.com/labstack/echo/v5"
)

// One of several hosts answers only while it knows that it is up to date, and says that a change is
// done only once every host that answers has it. Both are seen to where the answer leaves: what a
// handler writes is kept back until then.

// aboutHosts are the operations that a host answers even when it is cut off from the others.
var aboutHosts = map[string]bool{"listHosts": true, "readMetrics": true}

// asOne keeps back what a handler writes until this host may send it.
func (s *Server) asOne(c *echo.Context, operation string, handle func() error) error {
	if !s.service.IsTogether() || aboutHosts[operation] {
		return handle()
	}
	if err := s.service.MayAnswer(); err != nil {
		return err
	}
	changes := c.Request().Method != http.MethodGet && c.Request().Method != http.MethodHead && !questions[operation]
	held := &heldBack{ResponseWriter: c.Response()}
	held.may = func() error {
		if changes {
			if err := s.service.Done(c.Request().Context()); err != nil {
				return err
			}
		}
		return s.service.MayAnswer()
	}
	held.refuse = func(err error) {
		c.SetResponse(held.ResponseWriter)
		s.problem(c, err)
	}
	c.SetResponse(held)
	err := handle()
	c.SetResponse(held.ResponseWriter)
	if err == nil && held.refused != nil {
		return nil // it has been said
	}
	if err == nil && held.status == 0 {
		return held.may()
	}
	return err
}

// heldBack lets the first byte through only when the host may answer.
type heldBack struct {
	http.ResponseWriter
	may     func() error // waits until what was changed holds everywhere, and tells why it may not be said
	refuse  func(error)  // says so in the place of the answer
	status  int
	refused error
}

// Unwrap lets http.ResponseController reach the connection.
func (h *heldBack) Unwrap() http.ResponseWriter { return h.ResponseWriter }

// WriteHeader passes the status on, or says why there is no answer.
func (h *heldBack) WriteHeader(status int) {
	if h.status != 0 {
		return
	}
	h.status = status
	if status >= 400 {
		h.ResponseWriter.WriteHeader(status)
		return
	}
	if h.refused = h.may(); h.refused == nil {
		h.ResponseWriter.WriteHeader(status)
		return
	}
	for _, name := range []string{"Content-Length", "Content-Disposition", "ETag", "Cache-Control"} {
		h.ResponseWriter.Header().Del(name)
	}
	h.refuse(h.refused)
}

func (h *heldBack) Write(p []byte) (int, error) {
	if h.status == 0 {
		h.WriteHeader(http.StatusOK)
	}
	if h.refused != nil {
		return len(p), nil
	}
	return h.ResponseWriter.Write(p)
}

// Flush sends what has been written.
func (h *heldBack) Flush() {
	if f, ok := h.ResponseWriter.(http.Flusher); ok && h.refused == nil {
		f.Flush()
	}
}

func (s *Server) listHosts(c *echo.Context) error {
	hosts, err := s.service.Hosts(c.Request().Context())
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, hosts)
}

// ready tells a balancer whether this host is to be sent requests.
func (s *Server) ready(c *echo.Context) error {
	err := s.service.Check(c.Request().Context())
	if err == nil {
		err = s.service.MayAnswer()
	}
	if err != nil {
		return echo.NewHTTPError(http.StatusServiceUnavailable, "not ready: "+err.Error())
	}
	return c.String(http.StatusOK, "ready\n")
}
