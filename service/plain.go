package service

import (
	"context"
	"fmt"

	"jardinet/api"
	"jardinet/digest"
	"jardinet/rank"
	"jardinet/store"
)

// mostPlain is how many pages are said in plain words at once.
const mostPlain = 100

// Plain says pages of a document in plain words: long sentences cut, abbreviations of the document and
// of the collection's glossary written out, and the document's terms explained in its own words. To
// is the last page, or 0 for as many as are said at once.
func (s *Service) Plain(ctx context.Context, collection, name string, from, to int) (*api.Plain, error) {
	c, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	if d.State != store.Ready && d.State != store.Replaced {
		return nil, fmt.Errorf("%s is %s; only a document that was read can be said in plain words: %w", d.Name, d.State, ErrInvalid)
	}
	if to == 0 {
		to = min(d.Pages, from+mostPlain-1)
	}
	if from < 1 || to < from || to > d.Pages || to-from >= mostPlain {
		return nil, fmt.Errorf("pages %d to %d of %s cannot be said in plain words: ask for pages between 1 and %d, at most %d at once: %w", from, to, d.Name, d.Pages, mostPlain, ErrInvalid)
	}
	doc, err := s.corrected(ctx, d, 1, d.Pages)
	if err != nil {
		return nil, err
	}
	terms, of, err := s.terms(ctx, c, d.Name)
	if err != nil {
		return nil, err
	}
	made := digest.Plainly(doc, from, to, terms)
	q := quoter{doc}
	out := &api.Plain{From: from, To: to, Before: made.Before, After: made.After, Sentences: []api.PlainSentence{}}
	for _, one := range made.Sentences {
		sentence := api.PlainSentence{Quote: q.one(one.Quote), Parts: one.Parts, Terms: []api.Term{}}
		for _, t := range one.Terms {
			sentence.Terms = append(sentence.Terms, of[t.Term])
		}
		out.Sentences = append(out.Sentences, sentence)
	}
	return out, nil
}

// terms are what a document defines and writes short, as editors left it, and the abbreviations of the
// collection; of has those of the document by their names.
func (s *Service) terms(ctx context.Context, c *collection, document string) (all []digest.Term, of map[string]api.Term, err error) {
	d, err := s.Digest(ctx, c.Name, document)
	if err != nil {
		return nil, nil, err
	}
	of = map[string]api.Term{}
	for _, t := range d.Terms {
		of[t.Term] = t
		all = append(all, digest.Term{Term: t.Term, Means: t.Means, Short: t.Short, Quote: digest.Quote{Text: t.Quote.Text}})
	}
	g, err := s.glossary(ctx, c)
	if err != nil {
		return nil, nil, err
	}
	for _, e := range g.Entries {
		if _, known := of[e.Term]; e.Kind == rank.Abbreviation && !known {
			all = append(all, digest.Term{Term: e.Term, Means: e.Means, Short: true})
		}
	}
	return all, of, nil
}
