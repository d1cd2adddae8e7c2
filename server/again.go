package server

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"sync"

	"github.com/labstack/echo/v5"

	"jardinet/access"
	"jardinet/store"
)

// againHeader names a request, so that one which is sent again, because its answer was lost on
// the way, is answered as before and not done twice (the Idempotency-Key header of the IETF draft).
const againHeader = "Idempotency-Key"

// Limits of what is remembered of a request.
const (
	longestKey   = 200
	longestReply = 1 << 20 // bytes
)

// givingSecrets are operations that are answered with a secret, which is kept nowhere.
var givingSecrets = []string{"signIn", "setPassphrase", "addPerson", "changePerson", "createKey"}

// An again remembers the requests with a key that are under way.
type again struct {
	mu       sync.Mutex
	underWay map[string]bool
}

// begin marks a key as in use; ok is false if it is already.
func (a *again) begin(key string) (end func(), ok bool) {
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.underWay[key] {
		return nil, false
	}
	if a.underWay == nil {
		a.underWay = map[string]bool{}
	}
	a.underWay[key] = true
	return func() {
		a.mu.Lock()
		defer a.mu.Unlock()
		delete(a.underWay, key)
	}, true
}

// once does what a request asks for, unless one with the same key has been done: then the answer
// to that is sent again. Only requests that went well are remembered, for a day.
func (s *Server) once(c *echo.Context, who *access.Caller, handle func() error) error {
	key := c.Request().Header.Get(againHeader)
	operation, _ := c.Get(operationOf).(string)
	if key == "" || c.Request().Method == http.MethodGet || slices.Contains(givingSecrets, operation) {
		return handle()
	}
	if len(key) > longestKey {
		return echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("%s is longer than %d characters", againHeader, longestKey))
	}
	caller := ""
	if who != nil {
		caller = who.ID
	}
	end, free := s.again.begin(caller + " " + key)
	if !free {
		return echo.NewHTTPError(http.StatusConflict, "a request with this "+againHeader+" is still under way; wait for its answer, then send it again")
	}
	defer end()
	request, err := fingerprint(c)
	if err != nil {
		return err
	}
	before, err := s.service.Store().Reply(c.Request().Context(), caller, key)
	switch {
	case err != nil:
		return err
	case before != nil && before.Request != request:
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "another request had this "+againHeader+"; each needs a key of its own")
	case before != nil:
		return resend(c, before)
	}
	kept := &recorder{ResponseWriter: c.Response()}
	c.SetResponse(kept)
	err = handle()
	c.SetResponse(kept.ResponseWriter)
	if err != nil || kept.long || kept.status < 200 || kept.status >= 300 || strings.HasPrefix(kept.Header().Get("Content-Type"), "text/event-stream") {
		return err
	}
	return s.service.Store().KeepReply(c.Request().Context(), &store.Reply{
		Caller: caller, Key: key, Request: request, Status: kept.status, Kind: kept.Header().Get("Content-Type"), Body: kept.body.Bytes(),
	})
}

func resend(c *echo.Context, r *store.Reply) error {
	c.Response().Header().Set("Idempotent-Replayed", "true")
	if len(r.Body) == 0 {
		return c.NoContent(r.Status)
	}
	return c.Blob(r.Status, r.Kind, r.Body)
}

// fingerprint is a hash of what a request asks for: its address, and its body if that is JSON.
// Of files that are handed in it holds the length: their content is compared when they arrive.
func fingerprint(c *echo.Context) (string, error) {
	r := c.Request()
	h := sha256.New()
	fmt.Fprintf(h, "%s %s\n", r.Method, r.URL.RequestURI())
	if !strings.HasPrefix(r.Header.Get("Content-Type"), "application/json") {
		fmt.Fprintf(h, "%d", r.ContentLength)
		return hex.EncodeToString(h.Sum(nil)), nil
	}
	data, err := io.ReadAll(http.MaxBytesReader(c.Response(), r.Body, maxSet))
	if err != nil {
		return "", fmt.Errorf("read the request: %w", err)
	}
	h.Write(data)
	r.Body = io.NopCloser(bytes.NewReader(data))
	return hex.EncodeToString(h.Sum(nil)), nil
}

// A recorder passes a response on and remembers it.
type recorder struct {
	http.ResponseWriter
	status int
	body   bytes.Buffer
	long   bool // too long to be remembered
}

// Unwrap lets http.ResponseController reach the connection.
func (r *recorder) Unwrap() http.ResponseWriter { return r.ResponseWriter }

// WriteHeader remembers the status.
func (r *recorder) WriteHeader(status int) {
	r.status = status
	r.ResponseWriter.WriteHeader(status)
}

func (r *recorder) Write(p []byte) (int, error) {
	if r.status == 0 {
		r.status = http.StatusOK
	}
	if r.long = r.long || r.body.Len()+len(p) > longestReply; !r.long {
		r.body.Write(p)
	}
	return r.ResponseWriter.Write(p)
}
