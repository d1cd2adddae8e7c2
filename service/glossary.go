package service

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"jardinet/api"
	"jardinet/rank"
)

// maxUnknown is how many words asked for in vain are listed.
const maxUnknown = 50

// Glossary returns a collection's glossary.
func (s *Service) Glossary(ctx context.Context, collection string) (*Glossary, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	return s.glossary(ctx, c)
}

func (s *Service) glossary(ctx context.Context, c *collection) (*Glossary, error) {
	g, err := s.entries(ctx, c)
	if err != nil {
		return nil, err
	}
	unknown, err := s.store.Unknown(ctx, c.ID, maxUnknown)
	g.Unknown = []api.UnknownWord{}
	for _, u := range unknown {
		g.Unknown = append(g.Unknown, api.UnknownWord(u))
	}
	return g, err
}

// entries returns the part of the glossary that ranking heeds.
func (s *Service) entries(ctx context.Context, c *collection) (*Glossary, error) {
	g := &Glossary{Entries: []rank.Entry{}, Found: []rank.Entry{}}
	data, err := s.store.Glossary(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	if err := json.Unmarshal(data, &g.Entries); err != nil {
		return nil, fmt.Errorf("service: glossary of %s: %w", c.Name, err)
	}
	g.Entries = slices.DeleteFunc(g.Entries, func(e rank.Entry) bool { return e.Validate() != nil }) // kinds of an older program
	found, err := s.store.Abbreviations(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	for _, p := range found {
		g.Found = append(g.Found, rank.Entry{Kind: rank.Abbreviation, Term: p[0], Means: p[1]})
	}
	return g, nil
}

// SetGlossary replaces a collection's glossary. It holds for the next question.
func (s *Service) SetGlossary(ctx context.Context, collection string, entries []rank.Entry) (*Glossary, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	if entries == nil {
		entries = []rank.Entry{}
	}
	for i := range entries {
		if err := entries[i].Validate(); err != nil {
			return nil, fmt.Errorf("entry %d: %w: %w", i+1, err, ErrInvalid)
		}
	}
	if err := s.store.SetGlossary(ctx, c.ID, entries); err != nil {
		return nil, err
	}
	if err := s.newRanker(ctx, c); err != nil {
		return nil, err
	}
	return s.glossary(ctx, c)
}

// newRanker makes a collection's ranker from its recipe and its language.
func (s *Service) newRanker(ctx context.Context, c *collection) error {
	g, err := s.entries(ctx, c)
	if err != nil {
		return err
	}
	recipe := c.recipe.Load()
	r := rank.New(slices.Concat(g.Entries, g.Found)...)
	r.By = recipe.Retrieval
	if recipe.Ranking != nil {
		r.Weights = *recipe.Ranking
	}
	c.ranker.Store(r)
	return nil
}

// noteUnknown counts the words of a question that neither a document nor a
// lexicon knows.
func (s *Service) noteUnknown(ctx context.Context, c *collection, question string, words []string) {
	if len(words) == 0 {
		return
	}
	if err := s.store.CountUnknown(ctx, c.ID, question, words...); err != nil {
		s.Log.Warn("words asked for cannot be counted", "error", err)
	}
}
