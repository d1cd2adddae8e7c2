package service

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"golang.org/x/sync/errgroup"

	"jardinet/answer"
	"jardinet/api"
)

// Limits of a question to several collections.
const (
	mostAsked  = 50 // collections
	asksAtOnce = 2
)

// AskAcross asks a question of several collections that the caller may read, or of all of them if
// none is named. What answers comes first, the surest before the others; each answer says which
// collection it comes from.
func (s *Service) AskAcross(ctx context.Context, collections []string, ask Ask) ([]api.Across, error) {
	all, err := s.Collections(ctx)
	if err != nil {
		return nil, err
	}
	if len(collections) == 0 {
		for _, c := range all {
			if c.Documents["ready"] > 0 {
				collections = append(collections, c.Name)
			}
		}
	}
	switch {
	case len(collections) == 0:
		return nil, fmt.Errorf("there is no collection with a document that you may read: %w", ErrInvalid)
	case len(collections) > mostAsked:
		return nil, fmt.Errorf("%d collections: name %d at most: %w", len(collections), mostAsked, ErrInvalid)
	}
	for _, name := range collections {
		if !slices.ContainsFunc(all, func(c Collection) bool { return c.Name == name }) {
			return nil, NoCollection(name)
		}
	}
	out := make([]api.Across, len(collections))
	group, asking := errgroup.WithContext(ctx)
	group.SetLimit(asksAtOnce)
	for i, name := range collections {
		group.Go(func() error {
			a, err := s.Ask(asking, name, ask, Listener{})
			if err != nil {
				return err
			}
			out[i] = api.Across{Collection: name, Answer: a}
			return nil
		})
	}
	if err := group.Wait(); err != nil {
		return nil, err
	}
	slices.SortStableFunc(out, func(a, b api.Across) int {
		return cmp.Or(cmp.Compare(said(b.Answer), said(a.Answer)), cmp.Compare(b.Answer.Confidence, a.Answer.Confidence))
	})
	return out, nil
}

// said tells how much an answer says: all that was asked, a part, or nothing.
func said(a *answer.Answer) int {
	switch a.State {
	case answer.NotFound:
		return 0
	case answer.Partial:
		return 1
	}
	return 2
}
