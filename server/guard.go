package server

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"jardinet/access"
	"jardinet/service"
)

// sessionCookie carries a person's session.
const sessionCookie = "jardinet_session"

// guard lets an operation through to those who have the right that it needs, not too often,
// and writes down what came of it.
func (s *Server) guard(r route) echo.HandlerFunc {
	return func(c *echo.Context) error {
		who, err := s.caller(c)
		c.Set(operationOf, r.operation)
		if who != nil {
			c.Set(callerOf, who.Name)
		}
		if err != nil && access.Needs[r.operation] != access.Anyone { // an ended session must not stop signing in
			return s.audited(c, r, nil, err)
		}
		c.SetRequest(c.Request().WithContext(access.With(c.Request().Context(), who)))
		if err := s.allow(c, r, who); err != nil {
			return s.audited(c, r, who, err)
		}
		if err := s.limits.take(who, c.RealIP(), r.operation); err != nil {
			return s.audited(c, r, who, err)
		}
		done, err := s.limits.begin(r.operation)
		if err != nil {
			return s.audited(c, r, who, err)
		}
		defer done()
		return s.asOne(c, r.operation, func() error {
			return s.audited(c, r, who, s.once(c, who, func() error { return r.handle(s, c) }))
		})
	}
}

// caller finds out who calls: by a key in the Authorization header, or by a session's cookie.
func (s *Server) caller(c *echo.Context) (*access.Caller, error) {
	key, session := bearer(c), ""
	if cookie, err := c.Request().Cookie(sessionCookie); err == nil {
		session = cookie.Value
	}
	who, err := s.registry.Caller(c.Request().Context(), key, session)
	if who != nil {
		who.Address = c.RealIP()
	}
	return who, err
}

func bearer(c *echo.Context) string {
	scheme, key, _ := strings.Cut(c.Request().Header.Get("Authorization"), " ")
	if !strings.EqualFold(scheme, "Bearer") {
		return ""
	}
	return strings.TrimSpace(key)
}

// allow compares what an operation needs with the caller's right. Who may not even read a
// collection is told the same as of one that does not exist.
func (s *Server) allow(c *echo.Context, r route, who *access.Caller) error {
	need := access.Needs[r.operation]
	if need == access.Anyone {
		return nil
	}
	if who == nil {
		return fmt.Errorf("sign in first, or send a key as \"Authorization: Bearer …\": %w", access.ErrUnknown)
	}
	if !who.Lets(r.operation) {
		return fmt.Errorf("this key may ask questions, and nothing else: %w", access.ErrDenied)
	}
	name, right := c.Param("collection"), who.Everywhere()
	if name != "" {
		right = s.registry.Right(c.Request().Context(), name)
	}
	switch {
	case right >= need:
		return nil
	case name != "" && right < access.Reader:
		return service.NoCollection(name)
	case name != "":
		return fmt.Errorf("this needs the right of %s in the collection %s, and yours is %s; its owner can change that: %w", need, name, right, access.ErrDenied)
	}
	return fmt.Errorf("this needs an administrator: %w", access.ErrDenied)
}

// audited writes down what came of an operation, if it changed something, took something out
// or was refused, and passes the outcome on.
func (s *Server) audited(c *echo.Context, r route, who *access.Caller, err error) error {
	_, status := echo.ResolveResponseStatus(c.Response(), nil)
	if err != nil {
		status, _ = s.describe(err)
	}
	if !worthAudit(r, status) || service.IsCutOff(err) { // nothing could be written
		return err
	}
	entry := &access.Entry{
		At: time.Now().UTC(), Address: c.RealIP(), Operation: r.operation, Collection: c.Param("collection"), Outcome: status,
		Object: object(c),
	}
	if who != nil {
		entry.Who, entry.Kind = who.Name, who.Kind
	}
	if asked, ok := c.Get(askedQuestion).(string); ok {
		entry.Question = asked
	}
	if s.service.IsTogether() && (r.method == http.MethodGet || questions[r.operation]) {
		s.service.Aside(c.Request().Context(), func(ctx context.Context) {
			if failed := s.service.Record(ctx, entry); failed != nil {
				s.log.Error("the audit could not be written", "error", failed)
			}
		})
		return err
	}
	if failed := s.service.Record(c.Request().Context(), entry); failed != nil {
		s.log.Error("the audit could not be written", "error", failed)
		if err == nil && status < 300 && !committed(c) {
			return failed
		}
	}
	return err
}

// askedQuestion is where a request keeps a question that shall be in the audit, and
// objectOf what a request is about that its address does not say.
const (
	operationOf   = "operation" // what is called, and by whom, for the log
	callerOf      = "caller"
	requestOf     = "request" // its id
	askedQuestion = "question"
	objectOf      = "object"
)

func object(c *echo.Context) string {
	if name, ok := c.Get(objectOf).(string); ok {
		return name
	}
	for _, name := range []string{"document", "conversation", "lesson", "person", "key", "holder", "measurement", "question", "set", "trial", "job", "hook"} {
		if value := c.Param(name); value != "" {
			if page := c.Param("page"); page != "" {
				value += " p. " + page
			}
			return value
		}
	}
	return ""
}

// looked are the operations that are written down although they change nothing.
var looked = []string{"getFile", "exportDocument", "ask", "listAudit", "verifyAudit"}

func worthAudit(r route, status int) bool {
	switch {
	case r.operation == "signOut" && status >= 400, status == http.StatusTooManyRequests:
		return false
	case status == http.StatusUnauthorized, status == http.StatusForbidden:
		return true
	}
	return r.method != http.MethodGet || slices.Contains(looked, r.operation)
}

func committed(c *echo.Context) bool {
	r, err := echo.UnwrapResponse(c.Response())
	return err == nil && r.Committed
}
