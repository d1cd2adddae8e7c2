package modelapi

import (
	"context"
	"errors"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// answering starts a server that gives one answer after another, and returns
// the settings for it.
func answering(t *testing.T, answers ...func(w http.ResponseWriter, r *http.Request)) (*Server, *int) {
	t.Helper()
	n := 0
	s := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		answer := answers[min(n, len(answers)-1)]
		n++
		answer(w, r)
	}))
	t.Cleanup(s.Close)
	return &Server{URL: s.URL + "/v1/", Model: "m"}, &n
}

func saying(status int, body string) func(http.ResponseWriter, *http.Request) {
	return func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Retry-After", "0")
		w.WriteHeader(status)
		io.WriteString(w, body)
	}
}

func TestEmbed(t *testing.T) {
	s, n := answering(t, saying(503, "loading"), saying(200, `{"data":[{"index":1,"embedding":[3,4]},{"index":0,"embedding":[1,2]}]}`))
	got, err := s.Embed(t.Context(), []string{"a", "b"})
	if err != nil || len(got) != 2 || got[0][0] != 1 || got[1][1] != 4 || *n != 2 {
		t.Errorf("got %v after %d requests, error %v", got, *n, err)
	}
}

func TestEmbedRefusesNonsense(t *testing.T) {
	for body, want := range map[string]string{
		`{"data":[]}`:                            "0 vectors for 1",
		`{"data":[{"index":9,"embedding":[1]}]}`: "numbers a vector",
		`{"data":[{"index":0,"embedding":[]}]}`:  "0 dimensions",
		`<html>`:                                 "cannot be read",
	} {
		s, _ := answering(t, saying(200, body))
		if _, err := s.Embed(t.Context(), []string{"a"}); !errors.Is(err, ErrEndpoint) || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: error %v, want one with %q", body, err, want)
		}
	}
	s, n := answering(t, saying(401, "no key"))
	if _, err := s.Embed(t.Context(), []string{"a"}); err == nil || *n != 1 {
		t.Errorf("a refused key is tried %d times, error %v", *n, err)
	}
}

func TestComplete(t *testing.T) {
	s, _ := answering(t, saying(200, "data: {\"choices\":[{\"delta\":{\"content\":\"Four \"}}]}\n\n: beat\n\ndata: {\"choices\":[{\"delta\":{\"content\":\"hours\"}}]}\n\ndata: {\"choices\":[],\"usage\":{\"prompt_tokens\":7,\"completion_tokens\":2}}\n\ndata: [DONE]\n\n"))
	var parts []string
	said, usage, err := s.Complete(t.Context(), nil, 10, func(p string) { parts = append(parts, p) })
	if err != nil || said != "Four hours" || len(parts) != 2 || usage.Prompt != 7 {
		t.Errorf("said %q in %d parts, %+v, error %v", said, len(parts), usage, err)
	}
	for body, want := range map[string]string{
		"data: {\"choices\":[{\"delta\":{\"content\":\"Fo\"}}]}\n\n": "broke off",
		"data: {\"error\":{\"message\":\"overloaded\"}}\n\n":         "overloaded",
		"data: nonsense\n\n": "cannot be read",
	} {
		s, _ := answering(t, saying(200, body))
		if _, _, err := s.Complete(t.Context(), nil, 10, func(string) {}); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: error %v, want one with %q", body, err, want)
		}
	}
}

func TestGivesUpWhenTheCallerDoes(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	s, n := answering(t, func(w http.ResponseWriter, r *http.Request) {
		cancel()
		w.WriteHeader(503)
	})
	if _, err := s.Embed(ctx, []string{"a"}); !errors.Is(err, context.Canceled) || *n != 1 {
		t.Errorf("error %v after %d requests", err, *n)
	}
}

func TestKeys(t *testing.T) {
	file := filepath.Join(t.TempDir(), "key")
	if err := os.WriteFile(file, []byte("secret-1\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	t.Setenv("JARDINET_TEST_KEY", "secret-2")
	var seen string
	s, _ := answering(t, func(w http.ResponseWriter, r *http.Request) {
		seen = r.Header.Get("Authorization")
		io.WriteString(w, `{"data":[{"index":0,"embedding":[1]}]}`)
	})
	for key, want := range map[string]string{"@" + file: "Bearer secret-1", "JARDINET_TEST_KEY": "Bearer secret-2", "": ""} {
		s.Key = key
		if _, err := s.Embed(t.Context(), []string{"a"}); err != nil || seen != want {
			t.Errorf("key %q: sent %q, error %v", key, seen, err)
		}
	}
	s.Key = "JARDINET_NO_SUCH_KEY"
	if _, err := s.Embed(t.Context(), []string{"a"}); err == nil || !strings.Contains(err.Error(), "JARDINET_NO_SUCH_KEY") {
		t.Errorf("a missing key: %v", err)
	}
}

func TestValidate(t *testing.T) {
	for _, s := range []Server{{URL: "127.0.0.1:80", Model: "m"}, {URL: "ftp://x", Model: "m"}, {URL: "http://x/v1"}} {
		if s.Validate() == nil {
			t.Errorf("%+v is valid", s)
		}
	}
	if err := (&Server{URL: "http://x/v1", Model: "m"}).Validate(); err != nil {
		t.Error(err)
	}
}
