package service

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"os"

	"jardinet/embed"
	"jardinet/endpoint"
	"jardinet/index"
	"jardinet/passage"
	"jardinet/text"
)

// An Embedding is an outside server that a collection's vectors come from.
type Embedding struct {
	endpoint.Server
	Dimensions int `json:"dimensions,omitempty"` // found out when it is set
}

// space returns what a recipe's vectors are of.
func (r *Recipe) space() index.Space {
	if r.Embedding == nil {
		return index.Space{Model: embed.Name(), Dimensions: embed.Default().Dimensions}
	}
	return index.Space{Model: r.Embedding.URL + " " + r.Embedding.Model, Dimensions: r.Embedding.Dimensions}
}

// prepare checks a recipe and finds out the dimensions of its embedding.
func (r *Recipe) prepare(ctx context.Context) error {
	if err := r.Passage.Validate(); err != nil {
		return fmt.Errorf("%w: %w", err, ErrInvalid)
	}
	if r.Embedding == nil {
		return nil
	}
	if err := r.Embedding.Validate(); err != nil {
		return fmt.Errorf("%w: %w", err, ErrInvalid)
	}
	vectors, err := r.Embedding.Embed(ctx, []string{"How many dimensions?"})
	if err != nil {
		return fmt.Errorf("%w: %w", err, ErrInvalid)
	}
	r.Embedding.Dimensions = len(vectors[0])
	return nil
}

// vectors returns the vectors of passages under a document's title.
func (s *Service) vectors(ctx context.Context, r *Recipe, title string, passages []passage.Passage) ([][]float32, error) {
	out := make([][]float32, len(passages))
	if r.Embedding == nil {
		embedder := embed.Default().NewEmbedder()
		for i, p := range passages {
			out[i] = make([]float32, embedder.Dimensions)
			embedder.Embed(out[i], text.Tokens(title+" "+p.SectionPath()+" "+p.Text), p.Language)
		}
		return out, nil
	}
	texts := make([]string, len(passages))
	for i, p := range passages {
		texts[i] = title + " › " + p.SectionPath() + "\n" + p.Text
	}
	return s.outside(ctx, r.Embedding, texts)
}

// outside asks an outside server for the vectors that are not kept from before.
func (s *Service) outside(ctx context.Context, e *Embedding, texts []string) ([][]float32, error) {
	model := e.URL + " " + e.Model
	out, sums := make([][]float32, len(texts)), make([]string, len(texts))
	var missing []string
	var places []int
	for i, t := range texts {
		sum := sha256.Sum256([]byte(t))
		sums[i] = hex.EncodeToString(sum[:])
		v, err := s.store.Vector(ctx, model, sums[i])
		if err != nil {
			return nil, err
		}
		if out[i] = v; len(v) != e.Dimensions {
			missing, places = append(missing, t), append(places, i)
		}
	}
	if len(missing) == 0 {
		return out, nil
	}
	fresh, err := e.Embed(ctx, missing)
	if err != nil {
		return nil, err
	}
	keep := map[string][]float32{}
	for k, v := range fresh {
		if len(v) != e.Dimensions {
			return nil, fmt.Errorf("%w at %s: %s gives vectors of %d dimensions now, the index has %d; recut the collection", endpoint.ErrEndpoint, e.URL, e.Model, len(v), e.Dimensions)
		}
		out[places[k]] = v
		keep[sums[places[k]]] = v
	}
	return out, s.store.SetVectors(ctx, model, keep)
}

// renewIndex makes a collection's index anew beside the one in use, for a recipe
// whose vectors are of another space, and puts it in its place.
func (s *Service) renewIndex(c *collection, r *Recipe, entries []index.Document) error {
	dir := s.indexDir(c.ID)
	beside := dir + ".new"
	if err := os.RemoveAll(beside); err != nil {
		return fmt.Errorf("service: %w", err)
	}
	x, err := index.Open(beside, r.space())
	if err == nil {
		err = x.Apply(entries, nil)
	}
	if err != nil {
		return errors.Join(err, os.RemoveAll(beside))
	}
	// Searches under way go on in the old files, which they have mapped.
	if err := errors.Join(os.RemoveAll(dir), os.Rename(beside, dir)); err != nil {
		return fmt.Errorf("service: %w", err)
	}
	if x, err = index.Open(dir, r.space()); err != nil {
		return err
	}
	c.index.Store(x)
	return nil
}
