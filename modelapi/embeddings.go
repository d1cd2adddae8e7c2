package modelapi

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"strings"
)

// Bounds on a batch of texts.
const (
	maxBatch = 64
	maxText  = 8000 // bytes of a text; what is longer is cut
)

// Embed returns a vector for each text. They all have the same number of
// dimensions.
func (s *Server) Embed(ctx context.Context, texts []string) ([][]float32, error) {
	out := make([][]float32, 0, len(texts))
	for from := 0; from < len(texts); from += maxBatch {
		vectors, err := s.batch(ctx, texts[from:min(len(texts), from+maxBatch)])
		if err != nil {
			return nil, err
		}
		out = append(out, vectors...)
	}
	for i, v := range out {
		if len(v) == 0 || len(v) != len(out[0]) {
			return nil, fmt.Errorf("%w at %s: vector %d has %d dimensions, the first has %d", ErrEndpoint, s.URL, i+1, len(v), len(out[0]))
		}
	}
	return out, nil
}

func (s *Server) batch(ctx context.Context, texts []string) ([][]float32, error) {
	ctx, cancel := context.WithTimeout(ctx, timeout)
	defer cancel()
	input := make([]string, len(texts))
	for i, t := range texts {
		input[i] = strings.ToValidUTF8(t[:min(len(t), maxText)], "")
	}
	response, err := s.post(ctx, "/embeddings", map[string]any{"model": s.Model, "input": input})
	if err != nil {
		return nil, err
	}
	defer response.Body.Close()
	var answer struct {
		Data []struct {
			Index     int       `json:"index"`
			Embedding []float32 `json:"embedding"`
		} `json:"data"`
	}
	if err := json.NewDecoder(io.LimitReader(response.Body, maxBody)).Decode(&answer); err != nil {
		return nil, fmt.Errorf("%w at %s: its answer cannot be read: %w", ErrEndpoint, s.URL, err)
	}
	out := make([][]float32, len(texts))
	for _, d := range answer.Data {
		if d.Index < 0 || d.Index >= len(out) {
			return nil, fmt.Errorf("%w at %s: it numbers a vector %d of %d", ErrEndpoint, s.URL, d.Index, len(out))
		}
		out[d.Index] = d.Embedding
	}
	if len(answer.Data) != len(texts) {
		return nil, fmt.Errorf("%w at %s: it gives %d vectors for %d texts", ErrEndpoint, s.URL, len(answer.Data), len(texts))
	}
	return out, nil
}
