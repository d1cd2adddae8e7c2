package client

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// answering returns a client of a server that answers with handle.
func answering(t *testing.T, handle http.HandlerFunc) *Client {
	t.Helper()
	s := httptest.NewServer(handle)
	t.Cleanup(s.Close)
	c, err := New(s.URL, "")
	if err != nil {
		t.Fatal(err)
	}
	return c
}

func TestAddresses(t *testing.T) {
	for _, good := range []string{"127.0.0.1:8090", "http://host", "https://host/under/"} {
		if c, err := New(good, ""); err != nil || strings.HasSuffix(c.server, "/") || !strings.Contains(c.server, "://") {
			t.Errorf("%s gives %+v, error %v", good, c, err)
		}
	}
	for _, bad := range []string{"", "http://", "http://a b"} {
		if _, err := New(bad, ""); err == nil {
			t.Errorf("%q is accepted", bad)
		}
	}
}

func TestProblem(t *testing.T) {
	c := answering(t, func(w http.ResponseWriter, _ *http.Request) {
		w.WriteHeader(http.StatusNotFound)
		io.WriteString(w, `{"status":404,"title":"Not Found","detail":"no such thing"}`)
	})
	_, err := c.Collection(t.Context(), "x")
	var p *Problem
	if !errors.As(err, &p) || p.Status != 404 || err.Error() != "no such thing" {
		t.Errorf("error is %v", err)
	}
	c = answering(t, func(w http.ResponseWriter, _ *http.Request) { http.Error(w, "bad gateway", http.StatusBadGateway) })
	if _, err := c.Collections(t.Context()); err == nil || !strings.Contains(err.Error(), "502") {
		t.Errorf("a proxy's error is %v", err)
	}
}

func TestNothingAnswers(t *testing.T) {
	c, err := New("127.0.0.1:1", "")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := c.Collections(t.Context()); err == nil || !strings.Contains(err.Error(), "jardinet serve") {
		t.Errorf("error is %v", err)
	}
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	if _, err := c.Collections(ctx); !errors.Is(err, context.Canceled) {
		t.Errorf("a cancelled call gives %v", err)
	}
}

func TestNamesAreEscaped(t *testing.T) {
	var path string
	c := answering(t, func(w http.ResponseWriter, r *http.Request) {
		path = r.URL.EscapedPath()
		io.WriteString(w, "{}")
	})
	if _, err := c.Page(t.Context(), "garden", "a/b ü?.pdf", 3); err != nil {
		t.Fatal(err)
	}
	if want := "/api/v1/collections/garden/documents/a%2Fb%20%C3%BC%3F.pdf/pages/3"; path != want {
		t.Errorf("path is %s, want %s", path, want)
	}
}

func TestAddSendsFiles(t *testing.T) {
	var got []string
	c := answering(t, func(w http.ResponseWriter, r *http.Request) {
		form, err := r.MultipartReader()
		if err != nil {
			t.Error(err)
			return
		}
		for {
			part, err := form.NextPart()
			if err != nil {
				break
			}
			data, _ := io.ReadAll(part)
			got = append(got, part.FileName()+"="+string(data))
		}
		io.WriteString(w, `{"added":[]}`)
	})
	dir := t.TempDir()
	var paths []string
	for i := range 3 {
		path := filepath.Join(dir, fmt.Sprint("f", i, ".pdf"))
		os.WriteFile(path, fmt.Append(nil, "content ", i), 0o644)
		paths = append(paths, path)
	}
	if _, _, err := c.Add(t.Context(), "garden", paths); err != nil {
		t.Fatal(err)
	}
	if want := "f0.pdf=content 0 f1.pdf=content 1 f2.pdf=content 2"; strings.Join(got, " ") != want {
		t.Errorf("sent %v", got)
	}
	if _, _, err := c.Add(t.Context(), "garden", []string{filepath.Join(dir, "none.pdf")}); err == nil {
		t.Error("a missing file is no error")
	}
}

func TestEvents(t *testing.T) {
	const stream = "event: document\ndata: {\"name\":\"a.pdf\",\"state\":\"ready\"}\n\n: still here\n\nevent: listed\ndata: {\"documents\":1}\n\nevent: removed\ndata: {\"id\":\"X\"}\n\n"
	c := answering(t, func(w http.ResponseWriter, _ *http.Request) { io.WriteString(w, stream) })
	var seen []string
	err := c.Events(t.Context(), "garden", func(e Event) bool {
		switch {
		case e.Document != nil:
			seen = append(seen, e.Document.Name)
		case e.Listed:
			seen = append(seen, "listed")
		default:
			seen = append(seen, "removed "+e.Removed)
		}
		return true
	})
	if strings.Join(seen, ", ") != "a.pdf, listed, removed X" || err == nil {
		t.Errorf("saw %v, then %v", seen, err)
	}
	broken := answering(t, func(w http.ResponseWriter, _ *http.Request) { io.WriteString(w, "event: document\ndata: {\n\n") })
	if err := broken.Events(t.Context(), "garden", func(Event) bool { return true }); err == nil || !strings.Contains(err.Error(), "cannot be read") {
		t.Errorf("a broken event gives %v", err)
	}
}
