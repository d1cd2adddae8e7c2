package server

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"mime"
	"net/http"
	"os"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/labstack/echo/v5"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/service"
	"jardinet/spans"
)

// Limits of request bodies; files are limited by the service.
const (
	maxJSON = 1 << 20
	maxSet  = 64 << 20
)

// body decodes a JSON request, saying what is wrong with it.
func body(c *echo.Context, into any) error { return bodyWithin(c, maxJSON, into) }

// bodyWithin decodes one of so many bytes at most: one JSON object and nothing after it.
func bodyWithin(c *echo.Context, limit int64, into any) error {
	if kind, _, err := mime.ParseMediaType(c.Request().Header.Get("Content-Type")); err != nil || kind != "application/json" {
		return echo.NewHTTPError(http.StatusUnsupportedMediaType, "send JSON, with the header \"Content-Type: application/json\"")
	}
	data, err := io.ReadAll(http.MaxBytesReader(c.Response(), c.Request().Body, limit))
	if err != nil {
		return fmt.Errorf("read the request: %w", err)
	}
	if !utf8.Valid(data) {
		return echo.NewHTTPError(http.StatusBadRequest, "the request is not UTF-8")
	}
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if !bytes.HasPrefix(bytes.TrimLeft(data, " \t\r\n"), []byte("{")) {
		return echo.NewHTTPError(http.StatusBadRequest, "the request's JSON cannot be read: an object is expected, in braces")
	}
	if err := d.Decode(into); err != nil {
		return echo.NewHTTPError(http.StatusBadRequest, "the request's JSON cannot be read: "+err.Error())
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return echo.NewHTTPError(http.StatusBadRequest, "the request's JSON cannot be read: there is something after the object")
	}
	return nil
}

func number(name, value string, fallback int) (int, error) {
	if value == "" {
		return fallback, nil
	}
	n, err := strconv.Atoi(value)
	if err != nil || n < 0 {
		return 0, echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("%s is %q: it must be a whole number", name, value))
	}
	return n, nil
}

func (s *Server) collections(c *echo.Context) error {
	all, err := s.service.Collections(c.Request().Context())
	if err != nil {
		return err
	}
	return listed(c, "collections", all, func(one *api.Collection) string { return one.Name })
}

func (s *Server) createCollection(c *echo.Context) error {
	var in struct {
		Name   string      `json:"name"`
		Recipe *api.Recipe `json:"recipe"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	c.Set(objectOf, in.Name)
	out, err := s.service.CreateCollection(c.Request().Context(), in.Name, in.Recipe)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusCreated, out)
}

func (s *Server) collection(c *echo.Context) error {
	out, err := s.service.Collection(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) removeCollection(c *echo.Context) error {
	if err := s.service.RemoveCollection(c.Request().Context(), c.Param("collection")); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// documents lists a collection's documents: all of them, or those in a state, with tags and with fields.
func (s *Server) documents(c *echo.Context) error {
	all, err := s.service.Documents(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	query := c.QueryParams()
	where, err := whereIn(query["where"])
	if err != nil {
		return err
	}
	states, tags := query["state"], query["tag"]
	all = slices.DeleteFunc(all, func(d api.Document) bool {
		return len(states) > 0 && !slices.Contains(states, d.State) || !service.Matches(&d, tags, where)
	})
	return listed(c, "documents", all, documentID)
}

func documentID(d *api.Document) string { return d.ID }

// addDocuments takes the files of a multipart form, one after another as they
// arrive, so that none has to fit into memory.
func (s *Server) addDocuments(c *echo.Context) error {
	ctx, name := c.Request().Context(), c.Param("collection")
	if _, err := s.service.Collection(ctx, name); err != nil {
		return err
	}
	form, err := c.Request().MultipartReader()
	if err != nil {
		return echo.NewHTTPError(http.StatusUnsupportedMediaType, "send the files as multipart/form-data, one part a file")
	}
	added, refused := []api.Added{}, []api.Refused{}
	for {
		part, err := form.NextPart()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return echo.NewHTTPError(http.StatusBadRequest, "the upload broke off: "+err.Error())
		}
		// FileName drops directories, which a program may send on purpose.
		if part.FileName() == "" {
			continue
		}
		some, not, err := s.service.Put(ctx, name, part.FileName(), part)
		for _, r := range not {
			refused = append(refused, api.Refused{Name: part.FileName(), Reason: plain(r.Reason)})
		}
		added = append(added, some...)
		if errors.Is(err, service.ErrRefused) {
			refused = append(refused, api.Refused{Name: part.FileName(), Reason: plain(err.Error())})
			continue
		}
		if errors.Is(err, io.ErrUnexpectedEOF) {
			return echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("the upload broke off in %s; what came before it was taken in: %d", part.FileName(), len(added)))
		}
		if err != nil {
			return err
		}
	}
	switch {
	case len(added)+len(refused) == 0:
		return echo.NewHTTPError(http.StatusBadRequest, "the form holds no file")
	case len(added) == 0:
		return echo.NewHTTPError(http.StatusUnprocessableEntity, reasons(refused))
	}
	return c.JSON(http.StatusAccepted, map[string]any{"added": added, "refused": refused})
}

func reasons(all []api.Refused) string {
	var out []string
	for _, r := range all {
		out = append(out, r.Reason)
	}
	return strings.Join(out, "; ")
}

// setTags replaces a document's tags.
func (s *Server) setTags(c *echo.Context) error {
	var in struct {
		Tags []string `json:"tags"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	out, err := s.service.SetTags(c.Request().Context(), c.Param("collection"), c.Param("document"), in.Tags)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) document(c *echo.Context) error {
	out, err := s.service.Document(c.Request().Context(), c.Param("collection"), c.Param("document"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) removeDocument(c *echo.Context) error {
	out, err := s.service.Remove(c.Request().Context(), c.Param("collection"), c.Param("document"), c.QueryParam("conversations") == "true")
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) versions(c *echo.Context) error {
	all, err := s.service.Versions(c.Request().Context(), c.Param("collection"), c.Param("document"))
	if err != nil {
		return err
	}
	return listed(c, "versions", all, documentID)
}

func (s *Server) bin(c *echo.Context) error {
	all, err := s.service.Bin(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return listed(c, "removed", all, func(one *api.Removal) string { return one.Name + one.Removed.String() })
}

func (s *Server) restore(c *echo.Context) error {
	out, err := s.service.Restore(c.Request().Context(), c.Param("collection"), c.Param("document"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) purge(c *echo.Context) error {
	if err := s.service.Purge(c.Request().Context(), c.Param("collection"), c.Param("document")); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// file sends the original. A browser shows it only if it is a PDF: anything else could run
// scripts as if it came from here.
func (s *Server) file(c *echo.Context) error {
	original, err := s.service.Original(c.Request().Context(), c.Param("collection"), c.Param("document"), c.QueryParam("as") == "pages")
	if err != nil {
		return err
	}
	f, err := os.Open(original.Path)
	if err != nil {
		return err
	}
	defer f.Close()
	stat, err := f.Stat()
	if err != nil {
		return err
	}
	h := c.Response().Header()
	kind, disposition := "application/octet-stream", "attachment"
	if original.PDF {
		kind, disposition = "application/pdf", "inline"
	}
	h.Set("Content-Type", kind)
	h.Set("Content-Disposition", mime.FormatMediaType(disposition, map[string]string{"filename": original.Name}))
	http.ServeContent(c.Response(), c.Request(), "", stat.ModTime(), f)
	return nil
}

func (s *Server) page(c *echo.Context) error {
	n, err := number("the page", c.Param("page"), 1)
	if err != nil {
		return err
	}
	out, err := s.service.Page(c.Request().Context(), c.Param("collection"), c.Param("document"), n)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) picture(c *echo.Context) error {
	n, err := number("the page", c.Param("page"), 1)
	if err != nil {
		return err
	}
	dpi, err := number("dpi", c.QueryParam("dpi"), 110)
	if err != nil {
		return err
	}
	png, err := s.service.Picture(c.Request().Context(), c.Param("collection"), c.Param("document"), n, float64(dpi))
	if err == nil && c.QueryParam("outlines") == "true" {
		png, err = s.service.Outlined(c.Request().Context(), c.Param("collection"), c.Param("document"), n, png)
	}
	if err != nil {
		return err
	}
	// A name may stand for another version tomorrow; an id is of one version.
	cache := "private, no-cache"
	if d, err := s.service.Document(c.Request().Context(), c.Param("collection"), c.Param("document")); err == nil && d.ID == c.Param("document") && c.QueryParam("outlines") == "" {
		cache = "private, max-age=31536000, immutable"
	}
	c.Response().Header().Set("Cache-Control", cache)
	return c.Blob(http.StatusOK, "image/png", png)
}

func (s *Server) find(c *echo.Context) error {
	top, err := number("top", c.QueryParam("top"), 10)
	if err != nil {
		return err
	}
	ctx, query := c.Request().Context(), c.QueryParam("query")
	scope, err := some(c)
	if err != nil {
		return err
	}
	scope.Language, scope.Since = c.QueryParam("language"), c.QueryParam("since")
	if c.QueryParam("explain") == "true" {
		found, understood, err := s.service.Explain(ctx, c.Param("collection"), query, top, scope)
		if err != nil {
			return err
		}
		return c.JSON(http.StatusOK, map[string]any{"query": query, "passages": found, "understood": understood})
	}
	found, err := s.service.Search(ctx, c.Param("collection"), query, top, scope)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, found)
}

// ask answers a question; as a stream of events if the caller accepts one.
func (s *Server) ask(c *echo.Context) error {
	var in api.Ask
	if err := body(c, &in); err != nil {
		return err
	}
	c.Set(askedQuestion, in.Question)
	ctx, name := c.Request().Context(), c.Param("collection")
	if len(in.Schema) > 0 {
		out, err := s.service.AskStructured(ctx, name, in)
		if err != nil {
			return err
		}
		return c.JSON(http.StatusOK, out)
	}
	if strings.Contains(c.Request().Header.Get("Accept"), "text/event-stream") {
		return s.askStreaming(c, name, in)
	}
	out, err := s.service.Ask(ctx, name, in, service.Listener{})
	if err != nil {
		return err
	}
	told(c, out)
	return c.JSON(http.StatusOK, out)
}

// told names the request in an answer's trace, and its stages in the request's.
func told(c *echo.Context, a *answer.Answer) {
	if a.Trace != nil {
		a.Trace.Request, _ = c.Get(requestOf).(string)
	}
	t := a.Timing
	stages := []spans.Stage{{Name: "search", Took: t.Search}, {Name: "read", Took: t.Reading}, {Name: "compose", Took: t.Composing}}
	if t.Model > 0 {
		stages = append(stages, spans.Stage{Name: "model", Took: t.Model})
	}
	spans.Stages(c.Request().Context(), stages...)
}

// firstPassages is how many of the passages found are told of while they are read.
const firstPassages = 3

// askStreaming sends the `passages` that will be read as soon as they are found, a `draft`
// for each piece of what an outside model says, a `statement` for each that stands, with
// its citations, and last the `answer`; or a `problem`.
func (s *Server) askStreaming(c *echo.Context, name string, in api.Ask) error {
	stream := newEventStream(c)
	out, err := s.service.Ask(c.Request().Context(), name, in, service.Listener{
		Found: func(passages []api.Found) { stream.send("passages", passages[:min(firstPassages, len(passages))]) },
		Draft: func(part string) { stream.send("draft", map[string]string{"text": part}) },
	})
	if err != nil {
		return stream.send("problem", map[string]string{"detail": err.Error()})
	}
	told(c, out)
	for _, statement := range out.Statements {
		if err := stream.send("statement", statement); err != nil {
			return nil // the client is gone
		}
	}
	return stream.send("answer", out)
}
