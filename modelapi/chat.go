package modelapi

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"strings"
)

// A Message is one part of a prompt.
type Message struct {
	Role    string `json:"role"` // "system" or "user"
	Content string `json:"content"`
}

// Usage is what a completion took, in tokens; zero where the server does not
// say.
type Usage struct {
	Prompt     int `json:"prompt_tokens"`
	Completion int `json:"completion_tokens"`
}

// Complete has the model go on after the messages and hands over the text as it
// comes. It returns all of it.
func (s *Server) Complete(ctx context.Context, messages []Message, most int, part func(string)) (string, Usage, error) {
	ctx, cancel := context.WithTimeout(ctx, timeout)
	defer cancel()
	response, err := s.post(ctx, "/chat/completions", map[string]any{
		"model": s.Model, "messages": messages, "max_tokens": most, "temperature": 0, "stream": true,
	})
	if err != nil {
		return "", Usage{}, err
	}
	defer response.Body.Close()
	var text strings.Builder
	var usage Usage
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
			return text.String(), usage, fmt.Errorf("%w at %s: %w", ErrEndpoint, s.URL, err)
		}
		if u != nil {
			usage = *u
		}
		if delta != "" {
			text.WriteString(delta)
			part(delta)
		}
	}
	if err := lines.Err(); err != nil {
		return text.String(), usage, fmt.Errorf("%w at %s: its answer broke off: %w", ErrEndpoint, s.URL, err)
	}
	if !done {
		return text.String(), usage, fmt.Errorf("%w at %s: its answer broke off", ErrEndpoint, s.URL)
	}
	return text.String(), usage, nil
}

// decodeDelta reads one event of a streamed completion.
func decodeDelta(data string) (string, *Usage, error) {
	var event struct {
		Choices []struct {
			Delta struct {
				Content string `json:"content"`
			} `json:"delta"`
		} `json:"choices"`
		Usage *Usage `json:"usage"`
		Error *struct {
			Message string `json:"message"`
		} `json:"error"`
	}
	if err := json.Unmarshal([]byte(data), &event); err != nil {
		return "", nil, fmt.Errorf("an event cannot be read: %w", err)
	}
	if event.Error != nil {
		return "", nil, fmt.Errorf("it reports: %s", event.Error.Message)
	}
	if len(event.Choices) == 0 {
		return "", event.Usage, nil
	}
	return event.Choices[0].Delta.Content, event.Usage, nil
}
