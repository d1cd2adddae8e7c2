package service

import (
	"context"

	"jardinet/api"
	"jardinet/digest"
)

// Changes tells what a document says otherwise than an earlier one, which may be a version of it or
// another document.
func (s *Service) Changes(ctx context.Context, collection, before, after string) (*api.Changes, error) {
	old, oldDoc, err := s.whole(ctx, collection, before)
	if err != nil {
		return nil, err
	}
	now, nowDoc, err := s.whole(ctx, collection, after)
	if err != nil {
		return nil, err
	}
	out := &api.Changes{Before: old.Name, After: now.Name, Changes: []api.Change{}}
	one := func(q *digest.Quote, of quoter) *api.Quote {
		if q == nil {
			return nil
		}
		described := of.one(*q)
		return &described
	}
	for _, d := range digest.Compare(oldDoc, nowDoc) {
		c := api.Change{Before: one(d.Before, quoter{oldDoc}), After: one(d.After, quoter{nowDoc}), Figures: []api.Swap{}}
		for _, f := range d.Figures {
			c.Figures = append(c.Figures, api.Swap(f))
		}
		out.Changes = append(out.Changes, c)
	}
	return out, nil
}
