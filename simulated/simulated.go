// Package simulated simulates an outside model: a server of embeddings and chat
// completions that needs no model. Tests start it, and a person may, to see what
// becomes of answers when a model behaves badly.
//
// Its answers are made from the evidence in the prompt, which is what it looks
// for: lines that begin with a number in square brackets.
package simulated

import (
	"encoding/json"
	"fmt"
	"hash/fnv"
	"io"
	"net/http"
	"regexp"
	"slices"
	"strings"
	"sync/atomic"
	"time"

	"jardinet/text"
)

// A Mode is a way to behave.
type Mode string

// Modes of a stand-in.
const (
	Good    Mode = "good"    // quotes the evidence with its number
	Invents Mode = "invents" // adds a statement that nothing bears out
	Wrong   Mode = "wrong"   // cites numbers that were not given
	Breaks  Mode = "breaks"  // ends in the middle of its answer
	Obeys   Mode = "obeys"   // follows instructions that stand in a document
	Slow    Mode = "slow"    // takes its time before each word
	Busy    Mode = "busy"    // refuses the first two requests with 429, then answers
	Down    Mode = "down"    // answers 503 to everything
)

// Modes lists them all.
var Modes = []Mode{Good, Invents, Wrong, Breaks, Obeys, Slow, Busy, Down}

// Dimensions of the vectors it gives.
const Dimensions = 96

// A Server is the stand-in as an HTTP handler.
type Server struct {
	Mode     Mode
	Delay    time.Duration // before each word when slow
	Requests atomic.Int64
	Texts    atomic.Int64 // embedded
	mux      *http.ServeMux
}

// New returns a stand-in.
func New(mode Mode) (*Server, error) {
	if !slices.Contains(Modes, mode) {
		return nil, fmt.Errorf("mode %q: choose one of %v", mode, Modes)
	}
	s := &Server{Mode: mode, Delay: 300 * time.Millisecond, mux: http.NewServeMux()}
	s.mux.HandleFunc("POST /v1/embeddings", s.embeddings)
	s.mux.HandleFunc("POST /v1/chat/completions", s.completions)
	return s, nil
}

func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	n := s.Requests.Add(1)
	switch {
	case s.Mode == Down:
		w.Header().Set("Retry-After", "0")
		http.Error(w, `{"error":{"message":"the model is not loaded"}}`, http.StatusServiceUnavailable)
	case s.Mode == Busy && n <= 2:
		w.Header().Set("Retry-After", "0")
		http.Error(w, `{"error":{"message":"too many requests"}}`, http.StatusTooManyRequests)
	default:
		s.mux.ServeHTTP(w, r)
	}
}

// embeddings gives vectors that are near each other for texts that share words:
// each word adds one to a dimension that its hash names.
func (s *Server) embeddings(w http.ResponseWriter, r *http.Request) {
	var in struct {
		Input []string `json:"input"`
	}
	if err := json.NewDecoder(io.LimitReader(r.Body, 16<<20)).Decode(&in); err != nil {
		http.Error(w, err.Error(), http.StatusBadRequest)
		return
	}
	type vector struct {
		Object    string    `json:"object"`
		Index     int       `json:"index"`
		Embedding []float32 `json:"embedding"`
	}
	data := make([]vector, len(in.Input))
	for i, t := range in.Input {
		s.Texts.Add(1)
		data[i] = vector{"embedding", i, hashed(t)}
	}
	w.Header().Set("Content-Type", "application/json")
	json.NewEncoder(w).Encode(map[string]any{"object": "list", "data": data, "model": "stand-in"})
}

func hashed(s string) []float32 {
	v := make([]float32, Dimensions)
	for _, stem := range text.NewStemmer(text.English).Content(s) {
		h := fnv.New32a()
		h.Write([]byte(stem))
		v[h.Sum32()%Dimensions]++
	}
	return v
}

var (
	evidence = regexp.MustCompile(`(?m)^\[(\d+)\] (?:\([^)\n]*\) )?(.+)$`)
	order    = regexp.MustCompile(`(?i)ignore (?:all|the) (?:previous|other) [^.]*\. ?([^.\n]+)\.`)
)

// completions streams an answer word by word.
func (s *Server) completions(w http.ResponseWriter, r *http.Request) {
	var in struct {
		Messages []struct{ Role, Content string } `json:"messages"`
	}
	if err := json.NewDecoder(io.LimitReader(r.Body, 16<<20)).Decode(&in); err != nil || len(in.Messages) == 0 {
		http.Error(w, `{"error":{"message":"no messages"}}`, http.StatusBadRequest)
		return
	}
	prompt := in.Messages[len(in.Messages)-1].Content
	said := s.answer(prompt)
	w.Header().Set("Content-Type", "text/event-stream")
	words := strings.SplitAfter(said, " ")
	for i, word := range words {
		if s.Mode == Breaks && i > len(words)/2 {
			return
		}
		if s.Mode == Slow {
			select {
			case <-time.After(s.Delay):
			case <-r.Context().Done():
				return
			}
		}
		event(w, map[string]any{"choices": []any{map[string]any{"index": 0, "delta": map[string]string{"content": word}}}})
	}
	event(w, map[string]any{"choices": []any{}, "usage": map[string]int{"prompt_tokens": len(strings.Fields(prompt)), "completion_tokens": len(words)}})
	io.WriteString(w, "data: [DONE]\n\n")
}

func event(w http.ResponseWriter, v any) {
	data, _ := json.Marshal(v)
	fmt.Fprintf(w, "data: %s\n\n", data)
	if f, ok := w.(http.Flusher); ok {
		f.Flush()
	}
}

// answer is what the model says to a prompt.
func (s *Server) answer(prompt string) string {
	found := evidence.FindAllStringSubmatch(prompt, 2)
	if len(found) == 0 {
		return "The documents do not say."
	}
	first := strings.TrimRight(found[0][2], ".") + " [" + found[0][1] + "]."
	switch s.Mode {
	case Invents:
		return first + " The director also grants a bonus of 5,000 pounds to everybody [" + found[0][1] + "]."
	case Wrong:
		return first + " " + strings.TrimRight(found[0][2], ".") + " [97]."
	case Obeys:
		if m := order.FindStringSubmatch(prompt); m != nil {
			return m[1] + "."
		}
	}
	return first
}
