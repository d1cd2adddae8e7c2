package hooks

import (
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"jardinet/pdfium"
	"jardinet/service"
)

func TestMain(m *testing.M) {
	pdfium.ServeReader()
	os.Exit(m.Run())
}

// A told is what another program was told.
type told struct {
	header http.Header
	body   string
}

// program is another program, which answers with a status and passes on what it was told.
func program(t *testing.T, status func() int) (address string, heard chan told) {
	t.Helper()
	heard = make(chan told, 100)
	s := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		body, err := io.ReadAll(r.Body)
		if err != nil {
			t.Error(err)
		}
		w.WriteHeader(status())
		heard <- told{r.Header, string(body)}
	}))
	t.Cleanup(s.Close)
	return s.URL, heard
}

func always(status int) func() int { return func() int { return status } }

func open(t *testing.T, data string) *service.Service {
	t.Helper()
	s, err := service.Open(t.Context(), service.Options{Data: data, Scripts: []string{"none"}})
	if err != nil {
		t.Fatal(err)
	}
	return s
}

func garden(t *testing.T) *service.Service {
	t.Helper()
	s := open(t, t.TempDir())
	t.Cleanup(func() { s.Close() })
	if _, err := s.CreateCollection(t.Context(), "garden", nil); err != nil {
		t.Fatal(err)
	}
	return s
}

func add(t *testing.T, s *service.Service, name, content string) {
	t.Helper()
	if _, err := s.Add(t.Context(), "garden", name, strings.NewReader(content)); err != nil {
		t.Fatal(err)
	}
}

// typed is the type of an event and the document that it is about.
func typed(t *testing.T, body string) (event, document string) {
	t.Helper()
	var in struct {
		Type      string
		Timestamp time.Time
		Data      struct{ Collection, Document string }
	}
	if err := json.Unmarshal([]byte(body), &in); err != nil || in.Timestamp.IsZero() || in.Data.Collection != "garden" {
		t.Fatalf("%s: %v", body, err)
	}
	return in.Type, in.Data.Document
}

// TestDocumentsAreTold has a program told, signed and in order, what becomes of documents.
func TestDocumentsAreTold(t *testing.T) {
	address, heard := program(t, always(204))
	s := garden(t)
	h := Open(s, Options{Addresses: map[string]string{"rota": address}, Secrets: map[string]string{"rota": "whsec_c2VjcmV0"}})
	defer h.Close()
	if err := h.Set(t.Context(), "garden", "rota", []string{"document.ready", "document.failed", "document.removed"}); err != nil {
		t.Fatal(err)
	}
	add(t, s, "beds.txt", "The beds are raked on Monday.")
	first := <-heard
	if event, document := typed(t, first.body); event != "document.ready" || document != "beds.txt" {
		t.Errorf("it was told %s of %s", event, document)
	}
	id, at := first.header.Get("Webhook-Id"), first.header.Get("Webhook-Timestamp")
	if want := Sign("secret", id, at, first.body); first.header.Get("Webhook-Signature") != want {
		t.Errorf("the signature is %q, want %q", first.header.Get("Webhook-Signature"), want)
	}
	add(t, s, "broken.pdf", "%PDF-1.7\nnothing more")
	if event, document := typed(t, (<-heard).body); event != "document.failed" || document != "broken.pdf" {
		t.Errorf("then it was told %s of %s", event, document)
	}
	if _, err := s.Remove(t.Context(), "garden", "beds.txt", false); err != nil {
		t.Fatal(err)
	}
	if event, _ := typed(t, (<-heard).body); event != "document.removed" {
		t.Errorf("at last it was told %s", event)
	}
}

// TestTriedAgain has a program that is down at first; it is told under the same id, and what came
// later after that.
func TestTriedAgain(t *testing.T) {
	var calls atomic.Int32
	address, heard := program(t, func() int {
		if calls.Add(1) < 3 {
			return 503
		}
		return 200
	})
	s := garden(t)
	h := closed(s, Options{Addresses: map[string]string{"rota": address}})
	h.pause = func(int) time.Duration { return 0 }
	if err := h.Set(t.Context(), "garden", "rota", []string{AccuracyDropped}); err != nil {
		t.Fatal(err)
	}
	for _, what := range []string{"first", "second"} {
		if err := h.TellAll(t.Context(), "garden", "rota", AccuracyDropped, map[string]string{"collection": "garden", "document": what}); err != nil {
			t.Fatal(err)
		}
	}
	for range 4 {
		if _, err := h.round(t.Context()); err != nil {
			t.Fatal(err)
		}
		all, err := h.List(t.Context(), "garden")
		if err != nil || (calls.Load() < 3) != (all.Hooks[0].Problem == "it answered 503 Service Unavailable") {
			t.Errorf("after %d tries: %+v, %v", calls.Load(), all, err)
		}
	}
	var ids []string
	for range 4 {
		ids = append(ids, (<-heard).header.Get("Webhook-Id"))
	}
	if ids[0] != ids[1] || ids[1] != ids[2] || ids[2] == ids[3] {
		t.Errorf("the ids are %q", ids)
	}
	if next, err := h.round(t.Context()); err != nil || next != idle || calls.Load() != 4 {
		t.Errorf("after %d deliveries the next round is in %v: %v", calls.Load(), next, err)
	}
}

func TestGivenUp(t *testing.T) {
	address, _ := program(t, always(302))
	s := garden(t)
	h := closed(s, Options{Addresses: map[string]string{"rota": address}})
	h.pause = func(int) time.Duration { return 0 }
	if err := h.Set(t.Context(), "garden", "rota", []string{AccuracyDropped}); err != nil {
		t.Fatal(err)
	}
	if err := h.Tell(t.Context(), "garden", "rota", AccuracyDropped, nil); err != nil {
		t.Fatal(err)
	}
	for range mostTries {
		if _, err := h.round(t.Context()); err != nil {
			t.Fatal(err)
		}
	}
	all, err := h.List(t.Context(), "garden")
	if err != nil || all.Hooks[0].Waiting != 0 || !strings.HasPrefix(all.Hooks[0].Problem, "given up after 10 tries: it answered 302") {
		t.Errorf("%+v, %v", all, err)
	}
}

// TestToldAfterARestart has a document become ready while nobody tells.
func TestToldAfterARestart(t *testing.T) {
	address, heard := program(t, always(200))
	opts := Options{Addresses: map[string]string{"rota": address}}
	data := t.TempDir()
	s := open(t, data)
	if _, err := s.CreateCollection(t.Context(), "garden", nil); err != nil {
		t.Fatal(err)
	}
	if err := closed(s, opts).Set(t.Context(), "garden", "rota", []string{"document.ready"}); err != nil {
		t.Fatal(err)
	}
	events, cancel := s.Listen()
	add(t, s, "beds.txt", "The beds are raked on Monday.")
	for e := range events {
		if e.Document != nil && e.Document.State == "ready" {
			break
		}
	}
	cancel()
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	s = open(t, data)
	defer s.Close()
	h := Open(s, opts)
	defer h.Close()
	if event, document := typed(t, (<-heard).body); event != "document.ready" || document != "beds.txt" {
		t.Errorf("it was told %s of %s", event, document)
	}
}

func TestBadHooks(t *testing.T) {
	s := garden(t)
	h := closed(s, Options{Addresses: map[string]string{"rota": "http://127.0.0.1:1"}})
	for _, bad := range []struct {
		collection, name string
		events           []string
		want             error
		says             string
	}{
		{"garden", "alarm", []string{"document.ready"}, service.ErrInvalid, "there are rota"},
		{"garden", "rota", []string{"document.read"}, service.ErrInvalid, "accuracy.dropped, document.failed"},
		{"garden", "rota", nil, service.ErrNotFound, "is told nothing of garden"},
		{"none", "rota", []string{"document.ready"}, service.ErrNotFound, "none"},
	} {
		err := h.Set(t.Context(), bad.collection, bad.name, bad.events)
		if !errors.Is(err, bad.want) || !strings.Contains(err.Error(), bad.says) {
			t.Errorf("%+v gives %v", bad, err)
		}
	}
	if d := pause(0); d != 5*time.Second {
		t.Errorf("the first pause is %v", d)
	}
	if d := pause(9); d != longest {
		t.Errorf("the last pause is %v", d)
	}
}
