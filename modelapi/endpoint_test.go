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
	return &Server{URL: s.URL + "/v1/", Model: "m", Policy: &Policy{Hosts: []string{"127.0.0.1"}}}, &n
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
		"data: {\"error\":{\"message\":\"overloaded\"}}\n\n":         "reports an error",
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

func TestSecrets(t *testing.T) {
	dir := t.TempDir()
	for name, secret := range map[string]string{"given": "secret-1\n", "credential": "secret-2"} {
		if err := os.WriteFile(filepath.Join(dir, name), []byte(secret), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	t.Setenv("CREDENTIALS_DIRECTORY", dir)
	secrets, err := ReadSecrets([]string{"model=" + filepath.Join(dir, "given")})
	if err != nil {
		t.Fatal(err)
	}
	var seen string
	s, _ := answering(t, func(w http.ResponseWriter, r *http.Request) {
		seen = r.Header.Get("Authorization")
		io.WriteString(w, `{"data":[{"index":0,"embedding":[1]}]}`)
	})
	s.Policy.Secrets = secrets
	for key, want := range map[string]string{"model": "Bearer secret-1", "credential": "Bearer secret-2", "": ""} {
		s.Key = key
		if _, err := s.Embed(t.Context(), []string{"a"}); err != nil || seen != want {
			t.Errorf("key %q: sent %q, error %v", key, seen, err)
		}
	}
	for _, bad := range []string{"none", "@/etc/hostname", "PATH"} {
		s.Key = bad
		if _, err := s.Embed(t.Context(), []string{"a"}); err == nil || !strings.Contains(err.Error(), "no secret of the name") {
			t.Errorf("key %s: %v", bad, err)
		}
	}
	for _, bad := range []string{"model", "=file", "model=" + filepath.Join(dir, "none")} {
		if _, err := ReadSecrets([]string{bad}); err == nil {
			t.Errorf("the secret %q is read", bad)
		}
	}
}

func TestValidate(t *testing.T) {
	policy := &Policy{Hosts: []string{"x", "y:8080"}}
	for _, s := range []Server{
		{URL: "127.0.0.1:80", Model: "m"}, {URL: "ftp://x", Model: "m"}, {URL: "http://x/v1"}, {URL: "http://z/v1", Model: "m"},
		{URL: "http://y/v1", Model: "m"}, {URL: "http://x/v1?to=", Model: "m"}, {URL: "http://u:p@x/v1", Model: "m"}, {URL: "http://x/v1", Model: "m", Key: "none"},
	} {
		s.Policy = policy
		if s.Validate() == nil {
			t.Errorf("%+v is valid", s)
		}
	}
	for _, url := range []string{"http://x/v1", "https://x:99/v1", "http://y:8080/v1"} {
		if err := (&Server{URL: url, Model: "m", Policy: policy}).Validate(); err != nil {
			t.Error(err)
		}
	}
	if err := (&Server{URL: "http://x/v1", Model: "m"}).Validate(); err == nil || !strings.Contains(err.Error(), "--model-host x") {
		t.Errorf("without a policy: %v", err)
	}
}

// TestKeepsToTheServer holds that a server cannot send the service elsewhere, nor have what it
// says shown.
func TestKeepsToTheServer(t *testing.T) {
	elsewhere, n := answering(t, saying(200, `{"data":[{"index":0,"embedding":[1]}]}`))
	s, _ := answering(t, func(w http.ResponseWriter, r *http.Request) {
		http.Redirect(w, r, elsewhere.URL, http.StatusTemporaryRedirect)
	})
	if _, err := s.Embed(t.Context(), []string{"a"}); err == nil || *n != 0 {
		t.Errorf("a redirect is followed %d times, error %v", *n, err)
	}
	s, _ = answering(t, saying(404, "internal words"))
	if _, err := s.Embed(t.Context(), []string{"a"}); err == nil || strings.Contains(err.Error(), "internal words") {
		t.Errorf("error %v", err)
	}
}

func TestUsageIsNeverNothing(t *testing.T) {
	for usage, want := range map[string]Usage{
		`{"prompt_tokens":7,"completion_tokens":2}`:   {7, 2},
		`{"prompt_tokens":-7,"completion_tokens":-2}`: {3, 3},
		`null`: {3, 3},
	} {
		s, _ := answering(t, saying(200, "data: {\"choices\":[{\"delta\":{\"content\":\"Four hours\"}}],\"usage\":"+usage+"}\n\ndata: [DONE]\n\n"))
		_, got, err := s.Complete(t.Context(), []Message{{Content: "How long?"}}, 10, func(string) {})
		if err != nil || got != want {
			t.Errorf("%s: %+v, error %v, want %+v", usage, got, err, want)
		}
	}
}
