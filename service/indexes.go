package service

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"jardinet/index"
	"jardinet/store"
)

// CheckIndex reads a collection's whole index, holds it to the store and returns
// what is wrong, nothing if all is well.
func (s *Service) CheckIndex(ctx context.Context, collection string, progress func(done, all int)) ([]string, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	if s.hosts != nil {
		return s.hosts.replicas.Check(ctx, c.ID, progress)
	}
	problems := []string{}
	x := c.index.Load()
	if err := x.Check(ctx, progress); err != nil {
		if ctx.Err() != nil {
			return nil, err
		}
		problems = append(problems, err.Error())
	}
	docs, err := s.store.Documents(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	wanted := map[string]bool{}
	for _, d := range docs {
		wanted[d.ID] = d.State == store.Ready
		if d.State == store.Ready && !x.Has(d.ID) {
			problems = append(problems, d.Name+" is ready and not in the index; rebuild the index")
		}
	}
	for _, key := range x.Keys() {
		if ready, known := wanted[key]; !known || !ready && !slices.ContainsFunc(docs, func(d store.Document) bool {
			return d.ID == key && d.Current()
		}) {
			problems = append(problems, "document "+key+" is in the index and not ready; rebuild the index")
		}
	}
	return problems, nil
}

// RebuildIndex makes a collection's index anew from the kept pages, beside the
// one in use, which answers until the new one is whole.
func (s *Service) RebuildIndex(ctx context.Context, collection string, progress func(done, all int)) error {
	c, err := s.named(collection)
	if err != nil {
		return err
	}
	if s.hosts != nil {
		return s.beginShardsAnew(ctx, c)
	}
	c.writing.Lock()
	defer c.writing.Unlock()
	entries, passages, err := s.cutReady(ctx, c, progress)
	if err != nil {
		return err
	}
	if err := s.renewIndex(c, c.recipe.Load(), entries); err != nil {
		return err
	}
	defer s.encoding.more()
	return s.store.SetReady(ctx, passages, nil)
}

// cutReady cuts the ready documents of a collection by its recipe, from the kept
// pages, and counts the passages of each. progress may be nil.
func (s *Service) cutReady(ctx context.Context, c *collection, progress func(done, all int)) (entries []index.Document, passages map[string]store.Counts, err error) {
	docs, err := s.store.Documents(ctx, c.ID)
	if err != nil {
		return nil, nil, err
	}
	docs = slices.DeleteFunc(docs, func(d store.Document) bool { return d.State != store.Ready })
	passages = map[string]store.Counts{}
	for i, d := range docs {
		entry, err := s.fromPages(ctx, c, d)
		if errors.Is(err, errDamaged) {
			if err := s.setAside(ctx, d, err); err != nil {
				return nil, nil, err
			}
			s.enqueue(d)
			continue
		}
		if err != nil {
			return nil, nil, fmt.Errorf("%s: %w", d.Name, err)
		}
		entries = append(entries, entry)
		passages[d.ID] = counts(&entry)
		if progress != nil {
			progress(i+1, len(docs))
		}
	}
	return entries, passages, nil
}
