package programs

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strings"
	"time"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/client"
)

// Chat serves the JSON of chat completions: a collection is a model, the user's last message is
// the question, and those before it are what it follows. Beside the words, with their marks as links
// to pages, a message has its citations as a list.
type Chat struct {
	Client *client.Client
	Base   string // address that people reach the service by, for links
}

const mostChat = 1 << 20

type chatRequest struct {
	Model    string        `json:"model"`
	Messages []chatMessage `json:"messages"`
	Stream   bool          `json:"stream"`
}

type chatMessage struct {
	Role      string   `json:"role,omitempty"`
	Content   *string  `json:"content,omitempty"`
	Refusal   *string  `json:"refusal,omitempty"`
	Citations []Cited  `json:"citations,omitempty"`
	Parts     []string `json:"-"` // of the content, as they are streamed
}

// UnmarshalJSON takes content as a text, or as a list of parts of which the texts count.
func (m *chatMessage) UnmarshalJSON(data []byte) error {
	var in struct {
		Role    string          `json:"role"`
		Content json.RawMessage `json:"content"`
	}
	if err := json.Unmarshal(data, &in); err != nil {
		return err
	}
	m.Role = in.Role
	var text string
	if json.Unmarshal(in.Content, &text) != nil {
		var parts []struct{ Text string }
		if err := json.Unmarshal(in.Content, &parts); err != nil {
			return errors.New("a message's content is neither a text nor a list of parts")
		}
		for _, p := range parts {
			text += p.Text
		}
	}
	m.Content = &text
	return nil
}

type chatChoice struct {
	Index   int          `json:"index"`
	Message *chatMessage `json:"message,omitempty"`
	Delta   *chatMessage `json:"delta,omitempty"`
	Finish  *string      `json:"finish_reason"`
}

type chatResponse struct {
	ID      string       `json:"id"`
	Object  string       `json:"object"`
	Created int64        `json:"created"`
	Model   string       `json:"model"`
	Choices []chatChoice `json:"choices"`
}

// Models lists the collections.
func (c Chat) Models(w http.ResponseWriter, r *http.Request) {
	all, err := c.Client.Collections(r.Context())
	if err != nil {
		fail(w, err)
		return
	}
	type model struct {
		ID      string `json:"id"`
		Object  string `json:"object"`
		Created int64  `json:"created"`
		Owner   string `json:"owned_by"`
	}
	out := struct {
		Object string  `json:"object"`
		Data   []model `json:"data"`
	}{"list", []model{}}
	for _, one := range all {
		out.Data = append(out.Data, model{one.Name, "model", one.Created.Unix(), "jardinet"})
	}
	reply(w, http.StatusOK, out)
}

// Complete answers.
func (c Chat) Complete(w http.ResponseWriter, r *http.Request) {
	var in chatRequest
	if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, mostChat)).Decode(&in); err != nil {
		fail(w, &client.Problem{Status: http.StatusBadRequest, Detail: "the request's JSON cannot be read: " + err.Error()})
		return
	}
	var asked []string
	for _, m := range in.Messages {
		if m.Role == "user" && m.Content != nil {
			asked = append(asked, *m.Content)
		}
	}
	if len(asked) == 0 {
		fail(w, &client.Problem{Status: http.StatusUnprocessableEntity, Detail: "there is no message of the user's to answer"})
		return
	}
	last := len(asked) - 1
	a, err := c.Client.Ask(r.Context(), in.Model, api.Ask{Question: asked[last], After: asked[max(0, last-mostAfter):last]})
	if err != nil {
		fail(w, err)
		return
	}
	out := chatResponse{ID: fmt.Sprintf("answer-%d", time.Now().UnixNano()), Object: "chat.completion", Created: time.Now().Unix(), Model: in.Model}
	message, stop := c.worded(in.Model, a), "stop"
	if !in.Stream {
		out.Choices = []chatChoice{{Message: message, Finish: &stop}}
		reply(w, http.StatusOK, out)
		return
	}
	c.stream(w, out, message)
}

// mostAfter is how many earlier questions are told.
const mostAfter = 20

// worded puts an answer into a message.
func (c Chat) worded(collection string, a *answer.Answer) *chatMessage {
	m := &chatMessage{Role: "assistant", Citations: cited(c.Base, collection, a.Citations)}
	if a.State == answer.NotFound {
		m.Parts = append(m.Parts, a.Text)
		if len(a.Nearest) > 0 {
			n := a.Nearest[0]
			m.Parts = append(m.Parts, fmt.Sprintf("\n\nWhat comes closest is on [page %d of %s](%s).", n.Page, n.Document, link(c.Base, collection, n.Document, n.Page)))
		}
		m.Refusal = &a.Text
	} else if a.Short != "" {
		m.Parts = append(m.Parts, "**"+a.Short+"**\n\n")
	}
	for i, s := range a.Statements {
		words := s.Text
		if i > 0 {
			words = "\n\n" + words
		}
		if s.Contrary != "" {
			words = strings.Replace(words, s.Text, "Otherwise in "+s.Contrary+": "+s.Text, 1)
		}
		for _, n := range s.Citations {
			for _, cite := range m.Citations {
				if cite.Number == n {
					words += fmt.Sprintf(" [[%d]](%s)", n, cite.Link)
				}
			}
		}
		m.Parts = append(m.Parts, words)
	}
	if a.Added != "" {
		m.Parts = append(m.Parts, "\n\n"+a.Added)
	}
	whole := strings.Join(m.Parts, "")
	m.Content = &whole
	return m
}

// stream sends a message part by part, as server-sent events.
func (c Chat) stream(w http.ResponseWriter, out chatResponse, m *chatMessage) {
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(http.StatusOK)
	flush := http.NewResponseController(w)
	out.Object = "chat.completion.chunk"
	send := func(delta *chatMessage, finish *string) {
		out.Choices = []chatChoice{{Delta: delta, Finish: finish}}
		data, _ := json.Marshal(out) // of our own types
		fmt.Fprintf(w, "data: %s\n\n", data)
		_ = flush.Flush()
	}
	send(&chatMessage{Role: m.Role}, nil)
	for i := range m.Parts {
		send(&chatMessage{Content: &m.Parts[i]}, nil)
	}
	stop := "stop"
	send(&chatMessage{Citations: m.Citations, Refusal: m.Refusal}, &stop)
	_, _ = io.WriteString(w, "data: [DONE]\n\n")
	_ = flush.Flush()
}

// fail tells what went wrong, in the form that chat programs look for.
func fail(w http.ResponseWriter, err error) {
	status, kind := http.StatusInternalServerError, "server_error"
	var p *client.Problem
	if errors.As(err, &p) {
		status, kind = p.Status, "invalid_request_error"
	}
	reply(w, status, map[string]any{"error": map[string]any{"message": err.Error(), "type": kind, "code": status}})
}

func reply(w http.ResponseWriter, status int, v any) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(v)
}
