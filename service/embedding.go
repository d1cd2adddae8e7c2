package service

import (
	"context"
	"errors"
	"fmt"
	"os"
	"slices"
	"strings"

	"jardinet/embed"
	"jardinet/encoder"
	"jardinet/index"
	"jardinet/modelapi"
	"jardinet/passage"
	"jardinet/store"
)

// spaceOf returns what a recipe's vectors are of.
func spaceOf(r *Recipe) index.Space {
	if r.Embedding == nil {
		return index.Space{Model: embed.Name(), Dimensions: embed.Dimensions}
	}
	return index.Space{Model: r.Embedding.URL + " " + r.Embedding.Model, Dimensions: r.Embedding.Dimensions}
}

// prepare checks a recipe and finds out the dimensions of its embedding.
func (s *Service) prepare(ctx context.Context, r *Recipe) error {
	if err := r.Passage.Validate(); err != nil {
		return fmt.Errorf("%w: %w", err, ErrInvalid)
	}
	if err := r.Retrieval.Validate(); err != nil {
		return fmt.Errorf("%w: %w", err, ErrInvalid)
	}
	if r.Embedding == nil {
		return nil
	}
	r.Embedding.Policy = s.Outside
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

// An embedded text is what stands for a passage where it gets its vector: the document's
// title and the headings that it stands under tell what it is about, where its sentences
// may not.
type embedded = embed.Text

func embeddedOf(title string, p *passage.Passage) embedded {
	headings := p.Section
	if title != "" {
		headings = append([]string{title}, headings...)
	}
	body := p.Text
	if len(headings) > 0 {
		body = strings.Join(headings, " › ") + ": " + body
	}
	return embedded{Body: body, Language: p.Language}
}

// keyOf is what a text's vector is kept under.
func keyOf(r *Recipe, t embedded) store.VectorKey {
	return store.KeyOf(spaceOf(r).Model, string(t.Language)+" "+t.Body)
}

// keptVectors returns the vectors that were made before, nil for those that were not.
func (s *Service) keptVectors(ctx context.Context, r *Recipe, texts []embedded) ([][]float32, error) {
	keys := make([]store.VectorKey, len(texts))
	for i, t := range texts {
		keys[i] = keyOf(r, t)
	}
	kept, err := s.store.Vectors(ctx, keys)
	if store.IsCorrupt(err) { // they can be made anew
		s.Log.Warn("kept vectors are damaged and are made anew", "error", err)
		err = nil
	}
	if err != nil {
		return nil, err
	}
	out := make([][]float32, len(texts))
	for i, key := range keys {
		if v := kept[key]; len(v) == spaceOf(r).Dimensions {
			out[i] = index.Widen(v)
		}
	}
	return out, nil
}

// encode makes vectors and keeps them.
func (s *Service) encode(ctx context.Context, r *Recipe, texts []embedded) ([][]float32, error) {
	made, err := vectorsOf(ctx, r, encoder.Passage, texts)
	if err != nil {
		return nil, err
	}
	keep := map[store.VectorKey][]int8{}
	for i, v := range made {
		narrow := index.Narrow(v)
		keep[keyOf(r, texts[i])] = narrow
		made[i] = index.Widen(narrow)
	}
	return made, s.store.KeepVectors(ctx, keep)
}

// vectorsOf asks the recipe's encoder.
func vectorsOf(ctx context.Context, r *Recipe, role encoder.Role, texts []embedded) ([][]float32, error) {
	if r.Embedding == nil {
		return embed.Texts(ctx, role, texts...)
	}
	bodies := make([]string, len(texts))
	for i, t := range texts {
		bodies[i] = t.Body
	}
	out, err := r.Embedding.Embed(ctx, bodies)
	if err != nil {
		return nil, err
	}
	for _, v := range out {
		if e := r.Embedding; len(v) != e.Dimensions {
			return nil, fmt.Errorf("%w at %s: %s gives vectors of %d dimensions now, the index has %d; reindex the collection", modelapi.ErrEndpoint, e.URL, e.Model, len(v), e.Dimensions)
		}
	}
	return out, nil
}

// encodeMissing makes the vectors that texts do not have yet, some at a time, and gives way
// to questions. visit is told before each step how many texts have theirs.
func (s *Service) encodeMissing(ctx context.Context, r *Recipe, texts []embedded, have [][]float32, visit func(done int)) error {
	var missing []int
	for i, v := range have {
		if v == nil {
			missing = append(missing, i)
		}
	}
	done := len(texts) - len(missing)
	for some := range slices.Chunk(missing, atATime) {
		visit(done)
		made, err := s.encode(s.encoding.asking.patiently(ctx), r, pick(texts, some))
		if err != nil {
			return err
		}
		for k, i := range some {
			have[i] = made[k]
		}
		done += len(some)
	}
	return nil
}

func pick[T any](all []T, places []int) []T {
	out := make([]T, len(places))
	for k, i := range places {
		out[k] = all[i]
	}
	return out
}

// encodeAll makes the vectors that entries lack, for an index that is made beside the one
// in use, and counts them.
func (s *Service) encodeAll(ctx context.Context, c *collection, entries []index.Document, passages map[string]store.Counts) error {
	for _, e := range entries {
		d, err := s.store.Document(ctx, e.Key)
		if err != nil {
			return err
		}
		texts, have := make([]embedded, len(e.Passages)), make([][]float32, len(e.Passages))
		for i := range e.Passages {
			p, err := passage.Decode(e.Passages[i].Stored)
			if err != nil {
				return err
			}
			texts[i], have[i] = embeddedOf(d.Title, p), e.Passages[i].Vector
		}
		if err := s.encodeMissing(ctx, c.recipe.Load(), texts, have, func(int) {}); err != nil {
			return err
		}
		for i, v := range have {
			e.Passages[i].Vector = v
		}
		passages[e.Key] = counts(&e)
	}
	return nil
}

// renewIndex makes a collection's index anew beside the one in use, for a recipe
// whose vectors are of another space, and puts it in its place.
func (s *Service) renewIndex(c *collection, r *Recipe, entries []index.Document) error {
	dir := s.indexDir(c.ID)
	beside := dir + ".new"
	if err := os.RemoveAll(beside); err != nil {
		return fmt.Errorf("service: %w", err)
	}
	x, err := index.Open(beside, spaceOf(r))
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
	if x, err = index.Open(dir, spaceOf(r)); err != nil {
		return err
	}
	c.index.Store(x)
	return nil
}
