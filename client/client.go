// Package client calls the API of a Jardinet service. Errors that the service
// reports come back as a *Problem.
package client

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"strconv"
	"strings"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/layout"
	"jardinet/rank"
	"jardinet/structured"
)

// A Client calls one service.
type Client struct {
	server string
	key    string
	http   *http.Client
}

// New returns a client of the service at an address such as http://127.0.0.1:8090. The key
// may be empty as long as the service is open.
func New(server, key string) (*Client, error) {
	if !strings.Contains(server, "://") {
		server = "http://" + server
	}
	u, err := url.Parse(server)
	if err != nil || u.Host == "" {
		return nil, fmt.Errorf("server address %q: write it like http://127.0.0.1:8090", server)
	}
	return &Client{strings.TrimRight(server, "/"), key, &http.Client{}}, nil
}

// Over returns a client of the service behind a transport, for what runs inside it.
func Over(transport http.RoundTripper, key string) *Client {
	return &Client{"http://localhost", key, &http.Client{Transport: transport}}
}

// A Problem is an error that the service reported (RFC 9457).
type Problem struct {
	Status int    `json:"status"`
	Title  string `json:"title"`
	Detail string `json:"detail"`
}

func (p *Problem) Error() string {
	if p.Detail == "" {
		return fmt.Sprintf("the service answered %d %s", p.Status, p.Title)
	}
	return p.Detail
}

// call sends a request; the response's body is the caller's to close.
func (c *Client) call(ctx context.Context, method, path, kind string, body io.Reader) (*http.Response, error) {
	req, err := http.NewRequestWithContext(ctx, method, c.server+"/api/v1"+path, body)
	if err != nil {
		return nil, err
	}
	if kind != "" {
		req.Header.Set("Content-Type", kind)
	}
	if c.key != "" {
		req.Header.Set("Authorization", "Bearer "+c.key)
	}
	resp, err := c.http.Do(req)
	if err != nil {
		if cause := ctx.Err(); cause != nil {
			return nil, cause
		}
		return nil, fmt.Errorf("no service answers at %s (%w); start one with: jardinet serve", c.server, errors.Unwrap(err))
	}
	if resp.StatusCode >= 400 {
		defer resp.Body.Close()
		p := &Problem{Status: resp.StatusCode, Title: http.StatusText(resp.StatusCode)}
		json.NewDecoder(io.LimitReader(resp.Body, 1<<20)).Decode(p)
		return nil, p
	}
	return resp, nil
}

// get decodes the JSON at a path.
func (c *Client) get(ctx context.Context, path string, into any) error {
	return c.do(ctx, http.MethodGet, path, "", nil, into)
}

func (c *Client) post(ctx context.Context, path string, in, into any) error {
	return c.send(ctx, http.MethodPost, path, in, into)
}

// send sends a value as JSON.
func (c *Client) send(ctx context.Context, method, path string, in, into any) error {
	data, err := json.Marshal(in)
	if err != nil {
		return err
	}
	return c.do(ctx, method, path, "application/json", bytes.NewReader(data), into)
}

func (c *Client) do(ctx context.Context, method, path, kind string, body io.Reader, into any) error {
	resp, err := c.call(ctx, method, path, kind, body)
	if err != nil {
		return err
	}
	defer resp.Body.Close()
	if into == nil {
		return nil
	}
	if err := json.NewDecoder(resp.Body).Decode(into); err != nil {
		return fmt.Errorf("the service's answer to %s %s cannot be read: %w", method, path, err)
	}
	return nil
}

func in(collection string, more ...string) string {
	path := "/collections/" + url.PathEscape(collection)
	for _, m := range more {
		path += "/" + url.PathEscape(m)
	}
	return path
}

// Collections lists all collections.
func (c *Client) Collections(ctx context.Context) ([]api.Collection, error) {
	var out struct{ Collections []api.Collection }
	return out.Collections, c.get(ctx, "/collections", &out)
}

// CreateCollection makes an empty collection, with the default recipe if
// recipe is nil.
func (c *Client) CreateCollection(ctx context.Context, name string, recipe *api.Recipe) (*api.Collection, error) {
	out := new(api.Collection)
	request := map[string]any{"name": name}
	if recipe != nil {
		request["recipe"] = recipe
	}
	return out, c.post(ctx, "/collections", request, out)
}

// Collection describes a collection.
func (c *Client) Collection(ctx context.Context, name string) (*api.Collection, error) {
	out := new(api.Collection)
	return out, c.get(ctx, in(name), out)
}

// Reindex cuts a collection's documents anew by another recipe.
func (c *Client) Reindex(ctx context.Context, name string, recipe api.Recipe) (*api.Collection, error) {
	out := new(api.Collection)
	return out, c.send(ctx, http.MethodPatch, in(name), map[string]any{"recipe": recipe}, out)
}

// RemoveCollection removes a collection with all that belongs to it.
func (c *Client) RemoveCollection(ctx context.Context, name string) error {
	return c.do(ctx, http.MethodDelete, in(name), "", nil, nil)
}

// Add sends files to a collection and tells which were taken and which were not; it fails
// if none was.
func (c *Client) Add(ctx context.Context, collection string, paths []string) ([]api.Added, []api.Refused, error) {
	r, w := io.Pipe()
	form := multipart.NewWriter(w)
	go func() { w.CloseWithError(writeFiles(form, paths)) }()
	defer r.Close()
	var out struct {
		Added   []api.Added
		Refused []api.Refused
	}
	err := c.do(ctx, http.MethodPost, in(collection, "documents"), form.FormDataContentType(), r, &out)
	return out.Added, out.Refused, err
}

func writeFiles(form *multipart.Writer, paths []string) error {
	for _, path := range paths {
		f, err := os.Open(path)
		if err != nil {
			return err
		}
		part, err := form.CreateFormFile("file", filepath.Base(path))
		if err == nil {
			_, err = io.Copy(part, f)
		}
		f.Close()
		if err != nil {
			return fmt.Errorf("send %s: %w", path, err)
		}
	}
	return form.Close()
}

// Documents lists a collection's documents.
func (c *Client) Documents(ctx context.Context, collection string) ([]api.Document, error) {
	var out struct{ Documents []api.Document }
	return out.Documents, c.get(ctx, in(collection, "documents"), &out)
}

// Document returns a document, found by id or file name.
func (c *Client) Document(ctx context.Context, collection, document string) (*api.Document, error) {
	out := new(api.Document)
	return out, c.get(ctx, in(collection, "documents", document), out)
}

// Remove puts a document, found by id or file name, with all its versions into the bin.
func (c *Client) Remove(ctx context.Context, collection, document string, conversations bool) (*api.Removal, error) {
	path := in(collection, "documents", document)
	if conversations {
		path += "?conversations=true"
	}
	out := new(api.Removal)
	return out, c.do(ctx, http.MethodDelete, path, "", nil, out)
}

// Versions lists all versions of a document, the newest first.
func (c *Client) Versions(ctx context.Context, collection, document string) ([]api.Document, error) {
	var out struct{ Versions []api.Document }
	return out.Versions, c.get(ctx, in(collection, "documents", document, "versions"), &out)
}

// Bin lists what was removed and can be put back.
func (c *Client) Bin(ctx context.Context, collection string) ([]api.Removal, error) {
	var out struct{ Removed []api.Removal }
	return out.Removed, c.get(ctx, in(collection, "bin"), &out)
}

// Restore puts a removed document back.
func (c *Client) Restore(ctx context.Context, collection, name string) (*api.Document, error) {
	out := new(api.Document)
	return out, c.do(ctx, http.MethodPost, in(collection, "bin", name), "", nil, out)
}

// Purge removes a removed document for good.
func (c *Client) Purge(ctx context.Context, collection, name string) error {
	return c.do(ctx, http.MethodDelete, in(collection, "bin", name), "", nil, nil)
}

// SetTags gives a document these tags and no others.
func (c *Client) SetTags(ctx context.Context, collection, document string, tags []string) (*api.Document, error) {
	out := new(api.Document)
	return out, c.send(ctx, http.MethodPut, in(collection, "documents", document, "tags"), map[string]any{"tags": tags}, out)
}

// bytes returns what is sent at an address as it is.
func (c *Client) bytes(ctx context.Context, path string) ([]byte, error) {
	resp, err := c.call(ctx, http.MethodGet, path, "", nil)
	if err != nil {
		return nil, err
	}
	defer resp.Body.Close()
	return io.ReadAll(resp.Body)
}

// Page returns what was read from a page.
func (c *Client) Page(ctx context.Context, collection, document string, number int) (*api.Page, error) {
	out := new(api.Page)
	return out, c.get(ctx, in(collection, "documents", document, "pages", strconv.Itoa(number)), out)
}

// Picture returns a page drawn as PNG.
func (c *Client) Picture(ctx context.Context, collection, document string, number, dpi int, outlines bool) ([]byte, error) {
	path := in(collection, "documents", document, "pages", strconv.Itoa(number), "picture") + "?dpi=" + strconv.Itoa(dpi) + "&outlines=" + strconv.FormatBool(outlines)
	return c.bytes(ctx, path)
}

// Correct replaces what was corrected on a page.
func (c *Client) Correct(ctx context.Context, collection, document string, number int, corrections *layout.Corrections) error {
	path := in(collection, "documents", document, "pages", strconv.Itoa(number), "corrections")
	return c.send(ctx, http.MethodPut, path, corrections, nil)
}

// Corrections returns what was corrected on a page.
func (c *Client) Corrections(ctx context.Context, collection, document string, number int) (*layout.Corrections, error) {
	var out layout.Corrections
	return &out, c.get(ctx, in(collection, "documents", document, "pages", strconv.Itoa(number), "corrections"), &out)
}

// ReadAgain queues a document to be read anew.
func (c *Client) ReadAgain(ctx context.Context, collection, document string) error {
	return c.do(ctx, http.MethodPost, in(collection, "documents", document, "read"), "", nil, nil)
}

// WorstPages returns the pages that most should be looked at, of one document
// or, if that is empty, of all, and how many have findings.
func (c *Client) WorstPages(ctx context.Context, collection, document string, top int) ([]api.JudgedPage, int, error) {
	var out struct {
		Pages []api.JudgedPage `json:"pages"`
		Of    int              `json:"of"`
	}
	query := url.Values{"top": {strconv.Itoa(top)}, "document": {document}}
	err := c.get(ctx, in(collection, "findings")+"?"+query.Encode(), &out)
	return out.Pages, out.Of, err
}

// Export returns what was read of a document as markdown, json or text.
func (c *Client) Export(ctx context.Context, collection, document, format string) ([]byte, error) {
	return c.bytes(ctx, in(collection, "documents", document, "export")+"?format="+url.QueryEscape(format))
}

// Find returns the best passages for a query.
func (c *Client) Find(ctx context.Context, collection, query string, top int, scope api.Scope) (*api.Passages, error) {
	out := new(api.Passages)
	values := search(query, top, scope)
	return out, c.get(ctx, in(collection, "find")+"?"+values.Encode(), out)
}

func search(query string, top int, scope api.Scope) url.Values {
	out := some(scope)
	out.Set("query", query)
	out.Set("top", strconv.Itoa(top))
	if scope.Language != "" {
		out.Set("language", scope.Language)
	}
	if scope.Since != "" {
		out.Set("since", scope.Since)
	}
	return out
}

// Explain returns the best passages for a query with the parts of their scores,
// and how the query was understood.
func (c *Client) Explain(ctx context.Context, collection, query string, top int, scope api.Scope) ([]api.Found, *api.Understood, error) {
	var out struct {
		Passages   []api.Found
		Understood *api.Understood
	}
	values := search(query, top, scope)
	values.Set("explain", "true")
	err := c.get(ctx, in(collection, "find")+"?"+values.Encode(), &out)
	return out.Passages, out.Understood, err
}

// Glossary returns a collection's glossary.
func (c *Client) Glossary(ctx context.Context, collection string) (*api.Glossary, error) {
	out := new(api.Glossary)
	return out, c.get(ctx, in(collection, "glossary"), out)
}

// SetGlossary replaces the entries of a collection's glossary.
func (c *Client) SetGlossary(ctx context.Context, collection string, entries []rank.Entry) (*api.Glossary, error) {
	out := new(api.Glossary)
	return out, c.send(ctx, http.MethodPut, in(collection, "glossary"), map[string]any{"entries": entries}, out)
}

// Lessons returns what a collection has been taught.
func (c *Client) Lessons(ctx context.Context, collection string) ([]api.Lesson, error) {
	var out struct{ Lessons []api.Lesson }
	err := c.get(ctx, in(collection, "lessons"), &out)
	return out.Lessons, err
}

// Teach adds lessons and returns all that there are then.
func (c *Client) Teach(ctx context.Context, collection string, lessons []api.Lesson) ([]api.Lesson, error) {
	var out struct{ Lessons []api.Lesson }
	err := c.post(ctx, in(collection, "lessons"), map[string]any{"lessons": lessons}, &out)
	return out.Lessons, err
}

// Forget removes a lesson.
func (c *Client) Forget(ctx context.Context, collection, lesson string) error {
	return c.do(ctx, http.MethodDelete, in(collection, "lessons", lesson), "", nil, nil)
}

// Ask asks a question.
func (c *Client) Ask(ctx context.Context, collection string, ask api.Ask) (*answer.Answer, error) {
	out := new(answer.Answer)
	return out, c.post(ctx, in(collection, "ask"), ask, out)
}

// AskStructured asks for an answer in the form of the schema that the question carries.
func (c *Client) AskStructured(ctx context.Context, collection string, ask api.Ask) (*structured.Filled, error) {
	out := new(structured.Filled)
	return out, c.post(ctx, in(collection, "ask"), ask, out)
}

// Conversations lists the conversations that are kept.
func (c *Client) Conversations(ctx context.Context, collection string) ([]api.Conversation, error) {
	var out struct{ Conversations []api.Conversation }
	return out.Conversations, c.get(ctx, in(collection, "conversations"), &out)
}

// Conversation returns a kept conversation as json, markdown or questions.
func (c *Client) Conversation(ctx context.Context, collection, id, format string) ([]byte, error) {
	return c.bytes(ctx, in(collection, "conversations", id)+"?format="+url.QueryEscape(format))
}

// RemoveConversation removes a kept conversation.
func (c *Client) RemoveConversation(ctx context.Context, collection, id string) error {
	return c.do(ctx, http.MethodDelete, in(collection, "conversations", id), "", nil, nil)
}

// CheckIndex has a collection's index read through and returns what is wrong.
func (c *Client) CheckIndex(ctx context.Context, collection string, progress func(done, all int)) ([]string, error) {
	var out struct{ Problems []string }
	return out.Problems, c.watch(ctx, in(collection, "index", "check"), progress, &out)
}

// RebuildIndex has a collection's index made anew.
func (c *Client) RebuildIndex(ctx context.Context, collection string, progress func(done, all int)) (*api.Collection, error) {
	out := new(api.Collection)
	return out, c.watch(ctx, in(collection, "index", "rebuild"), progress, out)
}

// watch starts something long and follows its events; the last is decoded.
func (c *Client) watch(ctx context.Context, path string, progress func(done, all int), into any) error {
	return c.stream(ctx, http.MethodPost, path, func(kind, data string) (more bool, err error) {
		switch kind {
		case "progress":
			var p struct{ Done, All int }
			if json.Unmarshal([]byte(data), &p) == nil {
				progress(p.Done, p.All)
			}
			return true, nil
		case "problem":
			var problem struct{ Detail string }
			if err := json.Unmarshal([]byte(data), &problem); err != nil {
				return false, err
			}
			return false, errors.New(problem.Detail)
		}
		return false, json.Unmarshal([]byte(data), into)
	})
}

// stream follows server-sent events until visit wants no more.
func (c *Client) stream(ctx context.Context, method, path string, visit func(kind, data string) (more bool, err error)) error {
	resp, err := c.call(ctx, method, path, "", nil)
	if err != nil {
		return err
	}
	defer resp.Body.Close()
	lines, kind := bufio.NewScanner(resp.Body), ""
	lines.Buffer(nil, 1<<20)
	for lines.Scan() {
		switch field, value, _ := strings.Cut(lines.Text(), ": "); field {
		case "event":
			kind = value
		case "data":
			if more, err := visit(kind, value); err != nil || !more {
				return err
			}
		}
	}
	if cause := ctx.Err(); cause != nil {
		return cause
	}
	return errors.Join(errors.New("the service ended the stream of events"), lines.Err())
}

// Style returns how a collection's answers shall be.
func (c *Client) Style(ctx context.Context, collection string) (*answer.Style, error) {
	out := new(answer.Style)
	return out, c.get(ctx, in(collection, "style"), out)
}

// SetStyle replaces it.
func (c *Client) SetStyle(ctx context.Context, collection string, style *answer.Style) error {
	return c.send(ctx, http.MethodPut, in(collection, "style"), style, nil)
}

// An Event is one change to a collection's documents. Listed comes once, after
// the documents that were there at the start.
type Event struct {
	Document *api.Document
	Removed  string
	Listed   bool
}

// Events calls visit for each event until it returns false or ctx is done.
func (c *Client) Events(ctx context.Context, collection string, visit func(Event) bool) error {
	return c.stream(ctx, http.MethodGet, in(collection, "events"), func(kind, data string) (more bool, err error) {
		e, err := decodeEvent(kind, data)
		return err == nil && visit(e), err
	})
}

// Settle waits until a collection's documents are done, (*api.Document).Settled for
// all there is to do or (*api.Document).Searchable for the first step, and returns all
// of them.
func (c *Client) Settle(ctx context.Context, collection string, done func(*api.Document) bool) ([]api.Document, error) {
	busy, listed := map[string]bool{}, false
	err := c.Events(ctx, collection, func(e Event) bool {
		switch {
		case e.Document != nil && !done(e.Document):
			busy[e.Document.ID] = true
		case e.Document != nil:
			delete(busy, e.Document.ID)
		case e.Listed:
			listed = true
		default:
			delete(busy, e.Removed)
		}
		return !listed || len(busy) > 0
	})
	if err != nil {
		return nil, err
	}
	return c.Documents(ctx, collection)
}

func decodeEvent(kind, data string) (Event, error) {
	var e Event
	var err error
	switch kind {
	case "document":
		e.Document = new(api.Document)
		err = json.Unmarshal([]byte(data), e.Document)
	case "removed":
		var removed struct{ ID string }
		err = json.Unmarshal([]byte(data), &removed)
		e.Removed = removed.ID
	case "listed":
		e.Listed = true
	}
	if err != nil {
		return e, fmt.Errorf("the service's event %s cannot be read: %w", kind, err)
	}
	return e, nil
}
