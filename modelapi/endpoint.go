// Package modelapi speaks to outside models over HTTP: servers of embeddings and
// of chat completions in the JSON that is common for them.
//
// Such a server may be slow, busy or gone. A request has a deadline, is repeated
// with growing pauses when that can help, and its answer is limited in size.
package modelapi

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"time"
)

// A Server is where a model is.
type Server struct {
	URL   string `json:"url"`   // of the API, such as http://127.0.0.1:8080/v1
	Model string `json:"model"` // as the server calls it
	// Key is the name of the secret that is the server's key. Empty for none.
	Key    string  `json:"key,omitempty"`
	Policy *Policy `json:"-"` // of the operator
}

// Limits of a request.
const (
	timeout  = 60 * time.Second
	attempts = 4
	pause    = 250 * time.Millisecond // before the second attempt, then twice as long each time
	longest  = 10 * time.Second
	maxBody  = 64 << 20
)

// ErrEndpoint is the error for a server that did not do what it was asked.
var ErrEndpoint = errors.New("outside model")

// Validate tells what is wrong with the settings.
func (s *Server) Validate() error {
	if err := s.Policy.allows(s.URL); err != nil {
		return err
	}
	if s.Model == "" {
		return fmt.Errorf("%w: say which model %s shall use", ErrEndpoint, s.URL)
	}
	_, err := s.Policy.secret(s.Key)
	return err
}

// post sends a request until it is answered with success. The caller closes the
// answer's body.
func (s *Server) post(ctx context.Context, path string, in any) (*http.Response, error) {
	data, err := json.Marshal(in)
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrEndpoint, err)
	}
	// The operator may have changed their mind since the settings were made.
	key, err := s.Policy.secret(s.Key)
	if err := errors.Join(s.Policy.allows(s.URL), err); err != nil {
		return nil, err
	}
	wait := pause
	for attempt := 1; ; attempt++ {
		response, err := s.try(ctx, path, key, data)
		if err == nil && response.StatusCode == http.StatusOK {
			return response, nil
		}
		if ctx.Err() != nil {
			return nil, fmt.Errorf("%w at %s: %w", ErrEndpoint, s.URL, ctx.Err())
		}
		again, why := hopeful(response, err, &wait)
		if !again || attempt == attempts {
			return nil, fmt.Errorf("%w at %s: %s (attempt %d)", ErrEndpoint, s.URL, why, attempt)
		}
		timer := time.NewTimer(wait)
		select {
		case <-timer.C:
		case <-ctx.Done():
			timer.Stop()
			return nil, fmt.Errorf("%w at %s: %w, after: %s", ErrEndpoint, s.URL, context.Cause(ctx), why)
		}
		wait = min(2*wait, longest)
	}
}

// outside follows no redirects, which could lead anywhere.
var outside = &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}

func (s *Server) try(ctx context.Context, path, key string, data []byte) (*http.Response, error) {
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, strings.TrimRight(s.URL, "/")+path, bytes.NewReader(data))
	if err != nil {
		return nil, err
	}
	request.Header.Set("Content-Type", "application/json")
	if key != "" {
		request.Header.Set("Authorization", "Bearer "+key)
	}
	return outside.Do(request)
}

// hopeful tells whether to try again after a failure, and what it was, without repeating what
// the server said, which may be meant for nobody here. It closes the response and takes over
// the pause that the server asks for.
func hopeful(response *http.Response, err error, wait *time.Duration) (again bool, why string) {
	if err != nil {
		return true, "it cannot be reached"
	}
	defer response.Body.Close()
	if seconds, err := strconv.Atoi(response.Header.Get("Retry-After")); err == nil && seconds >= 0 {
		*wait = min(time.Duration(seconds)*time.Second, longest)
	}
	again = response.StatusCode == http.StatusTooManyRequests || response.StatusCode >= 500
	return again, fmt.Sprintf("it answers with status %d", response.StatusCode)
}
