package server

import (
	"errors"
	"io"
	"net/http"
	"net/http/httptest"
	"testing"
)

// TestHeldBack holds that nothing of an answer leaves that may not be given any more when it is ready.
func TestHeldBack(t *testing.T) {
	cutOff := errors.New("cut off")
	for _, one := range []struct {
		name   string
		may    error
		handle func(w http.ResponseWriter)
		status int
		body   string
		tag    string
	}{
		{"given", nil, func(w http.ResponseWriter) { io.WriteString(w, "four "); io.WriteString(w, "rakes") }, 200, "four rakes", "v1"},
		{"may not be given", cutOff, func(w http.ResponseWriter) { io.WriteString(w, "four "); io.WriteString(w, "rakes") }, 503, "cut off", ""},
		{"made, and may not be said", cutOff, func(w http.ResponseWriter) { w.WriteHeader(201); io.WriteString(w, "a rake") }, 503, "cut off", ""},
		{"an error is told in any case", cutOff, func(w http.ResponseWriter) { w.WriteHeader(404); io.WriteString(w, "no rake") }, 404, "no rake", "v1"},
		{"only the first status counts", nil, func(w http.ResponseWriter) { w.WriteHeader(201); w.WriteHeader(200) }, 201, "", "v1"},
	} {
		rec := httptest.NewRecorder()
		asked := 0
		held := &heldBack{
			ResponseWriter: rec,
			may:            func() error { asked++; return one.may },
			refuse:         func(err error) { http.Error(rec, err.Error(), http.StatusServiceUnavailable) },
		}
		held.Header().Set("ETag", "v1")
		one.handle(held)
		held.Flush()
		got := rec.Result()
		body, _ := io.ReadAll(got.Body)
		if one.status == http.StatusServiceUnavailable {
			one.body += "\n"
		}
		if got.StatusCode != one.status || string(body) != one.body || got.Header.Get("ETag") != one.tag || asked > 1 {
			t.Errorf("%s: status %d, %q, tag %q, asked %d times", one.name, got.StatusCode, body, got.Header.Get("ETag"), asked)
		}
	}
}
