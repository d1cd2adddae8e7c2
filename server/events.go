package server

import (
	"encoding/json"
	"fmt"
	"net/http"
	"time"

	"github.com/labstack/echo/v5"

	"jardinet/service"
)

// heartbeat keeps proxies from closing a stream on which nothing happens.
const heartbeat = 15 * time.Second

// events streams what happens to a collection's documents as server-sent
// events: first one `document` for each document, then `listed`, then a
// `document` for each change and a `removed` for each that is gone.
func (s *Server) events(c *echo.Context) error {
	ctx, name := c.Request().Context(), c.Param("collection")
	changes, cancel := s.service.Listen()
	defer cancel()
	docs, err := s.service.Documents(ctx, name)
	if err != nil {
		return err
	}
	stream := newEventStream(c)
	for i := range docs {
		if err := stream.send("document", docs[i]); err != nil {
			return nil
		}
	}
	if err := stream.send("listed", map[string]int{"documents": len(docs)}); err != nil {
		return nil
	}
	beat := time.NewTicker(heartbeat)
	defer beat.Stop()
	for {
		select {
		case <-ctx.Done():
			return nil
		case <-s.ending.Done():
			return nil
		case <-beat.C:
			err = stream.comment()
		case change, open := <-changes:
			if !open {
				return nil
			}
			if change.Collection == name {
				err = stream.change(change)
			}
		}
		if err != nil {
			return nil // the client is gone
		}
	}
}

type eventStream struct {
	w     http.ResponseWriter
	flush *http.ResponseController
}

// newEventStream begins a response of server-sent events.
func newEventStream(c *echo.Context) eventStream {
	h := c.Response().Header()
	h.Set("Content-Type", "text/event-stream")
	h.Set("Cache-Control", "no-store")
	c.Response().WriteHeader(http.StatusOK)
	return eventStream{c.Response(), http.NewResponseController(c.Response())}
}

func (s eventStream) change(e service.Event) error {
	if e.Document == nil {
		return s.send("removed", map[string]string{"id": e.Removed})
	}
	return s.send("document", e.Document)
}

func (s eventStream) send(event string, data any) error {
	raw, err := json.Marshal(data)
	if err != nil {
		return err
	}
	if _, err := fmt.Fprintf(s.w, "event: %s\ndata: %s\n\n", event, raw); err != nil {
		return err
	}
	return s.flush.Flush()
}

func (s eventStream) comment() error {
	if _, err := fmt.Fprint(s.w, ": still here\n\n"); err != nil {
		return err
	}
	return s.flush.Flush()
}
