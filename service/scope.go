package service

import (
	"context"
	"fmt"
	"slices"
	"time"

	"jardinet/store"
)

// within returns what tells the keys of a scope's documents from others; nil for
// all.
func (s *Service) within(ctx context.Context, c *collection, scope Scope) (func(key string) bool, error) {
	if len(scope.Documents) == 0 && len(scope.Tags) == 0 && scope.Language == "" && scope.Since == "" && len(scope.Where) == 0 {
		return nil, nil
	}
	var since time.Time
	if scope.Since != "" {
		var err error
		if since, err = time.Parse(time.DateOnly, scope.Since); err != nil {
			return nil, fmt.Errorf("since %q: write a day as 2026-01-31: %w", scope.Since, ErrInvalid)
		}
	}
	tags, err := cleanTags(scope.Tags)
	if err != nil {
		return nil, err
	}
	all, err := s.scoped(ctx, c, scope.Documents)
	if err != nil {
		return nil, err
	}
	keys := map[string]bool{}
	for _, d := range all {
		if tagged(d.Tags, tags) && haveAll(d.Fields, scope.Where) && (scope.Language == "" || d.Language == scope.Language) && !d.Added.Before(since) {
			keys[d.ID] = true
		}
	}
	return func(key string) bool { return keys[key] }, nil
}

// scoped returns the documents of the given names, or all.
func (s *Service) scoped(ctx context.Context, c *collection, names []string) ([]store.Document, error) {
	if len(names) == 0 {
		return s.store.Documents(ctx, c.ID)
	}
	var out []store.Document
	for _, name := range names {
		d, err := s.store.DocumentNamed(ctx, c.ID, name)
		if err != nil {
			return nil, fmt.Errorf("document %q in collection %q: %w", name, c.Name, err)
		}
		out = append(out, *d)
	}
	return out, nil
}

// ready are the documents within a scope that are ready.
func (s *Service) ready(ctx context.Context, c *collection, scope Scope) ([]store.Document, error) {
	only, err := s.within(ctx, c, scope)
	if err != nil {
		return nil, err
	}
	docs, err := s.store.Documents(ctx, c.ID)
	return slices.DeleteFunc(docs, func(d store.Document) bool { return d.State != store.Ready || only != nil && !only(d.ID) }), err
}
