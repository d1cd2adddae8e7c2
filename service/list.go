package service

import (
	"context"
	"fmt"
	"strings"

	"jardinet/api"
	"jardinet/digest"
	"jardinet/text"
)

// Limits of a list.
const (
	mostListed   = 300 // documents that are looked through at once
	longestKind  = 100 // bytes
	mostOfOneDoc = 2000
)

// List lists what some documents have of a kind, such as "houses" or "forms", with a page each.
func (s *Service) List(ctx context.Context, collection, kind string, scope Scope) (*api.List, error) {
	kind = strings.Join(strings.Fields(kind), " ")
	if kind == "" || len(kind) > longestKind {
		return nil, fmt.Errorf("say what is to be listed in a few words, such as \"houses\" or \"fault codes\": %w", ErrInvalid)
	}
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	docs, err := s.ready(ctx, c, scope)
	if err != nil {
		return nil, err
	}
	if len(docs) > mostListed {
		return nil, fmt.Errorf("more than %d documents are too many to be looked through at once; name some, or a tag: %w", mostListed, ErrInvalid)
	}
	out := &api.List{Of: kind, Documents: len(docs), Items: []api.ListItem{}}
	seen := map[string]bool{}
	for n := range docs {
		d := &docs[n]
		doc, err := s.corrected(ctx, d, 1, d.Pages)
		if err != nil {
			return nil, err
		}
		items, lines := digest.List(doc, kind)
		out.Lines += lines
		q := quoter{doc}
		for _, i := range items[:min(len(items), mostOfOneDoc)] {
			if key := text.Normal(i.Text); !seen[key] {
				seen[key] = true
				quote := q.one(i.Quote)
				quote.Document = d.Name
				out.Items = append(out.Items, api.ListItem{Text: i.Text, Way: string(i.Way), Quote: quote})
			}
		}
	}
	return out, nil
}
