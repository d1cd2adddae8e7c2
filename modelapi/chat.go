package modelapi

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"
)

// A Message is one part of a prompt.
type Message struct {
	Role    string `json:"role"` // "system" or "user"
	Content string `json:"content"`
}

// Usage is what a completion took, in tokens; estimated where the server does not say.
type Usage struct {
	Prompt     int `json:"prompt_tokens"`
	Completion int `json:"completion_tokens"`
}

// Complete has the model go on after the messages and hands over the text as it
// comes. It returns all of it.
func (s *Server) Complete(ctx context.Context, messages []Message, most int, part func(string)) (said string, usage Usage, err error) {
	ctx, cancel := context.WithTimeout(ctx, timeout)
	defer cancel()
	response, err := s.post(ctx, "/chat/completions", map[string]any{
		"model": s.Model, "messages": messages, "max_tokens": most, "temperature": 0, "stream": true,
		"stream_options": map[string]bool{"include_usage": true},
	})
	if err != nil {
		return "", Usage{}, err
	}
	defer response.Body.Close()
	var text strings.Builder
	var told Usage
	defer func() { usage = told.orEstimate(messages, text.Len()) }()
	done := false
	lines := bufio.NewScanner(io.LimitReader(response.Body, maxBody))
	lines.Buffer(nil, 1<<20)
	for !done && lines.Scan() {
		data, ok := strings.CutPrefix(lines.Text(), "data:")
		if !ok {
			continue
		}
		if data = strings.TrimSpace(data); data == "[DONE]" {
			done = true
			continue
		}
		delta, u, err := decodeDelta(data)
		if err != nil {
			return text.String(), told, fmt.Errorf("%w at %s: %w", ErrEndpoint, s.URL, err)
		}
		if u != nil {
			told = *u
		}
		if delta != "" {
			text.WriteString(delta)
			part(delta)
		}
	}
	if err := lines.Err(); err != nil {
		return text.String(), told, fmt.Errorf("%w at %s: its answer broke off: %w", ErrEndpoint, s.URL, err)
	}
	if !done {
		return text.String(), told, fmt.Errorf("%w at %s: its answer broke off", ErrEndpoint, s.URL)
	}
	return text.String(), told, nil
}

// BytesAToken is how long a token is, about, in European languages.
const BytesAToken = 4

// orEstimate fills in what the server did not say, or cannot be.
func (u Usage) orEstimate(messages []Message, answered int) Usage {
	if u.Prompt <= 0 {
		u.Prompt = 0
		for _, m := range messages {
			u.Prompt += len(m.Content)/BytesAToken + 1
		}
	}
	if u.Completion <= 0 {
		u.Completion = (answered + BytesAToken - 1) / BytesAToken
	}
	return u
}

// decodeDelta reads one event of a streamed completion.
func decodeDelta(data string) (string, *Usage, error) {
	var event struct {
		Choices []struct {
			Delta struct {
				Content string `json:"content"`
			} `json:"delta"`
		} `json:"choices"`
		Usage *Usage          `json:"usage"`
		Error json.RawMessage `json:"error"`
	}
	if err := json.Unmarshal([]byte(data), &event); err != nil {
		return "", nil, fmt.Errorf("an event cannot be read: %w", err)
	}
	if len(event.Error) > 0 && string(event.Error) != "null" {
		return "", nil, errors.New("it reports an error")
	}
	if len(event.Choices) == 0 {
		return "", event.Usage, nil
	}
	return event.Choices[0].Delta.Content, event.Usage, nil
}
