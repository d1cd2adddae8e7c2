package service

import (
	"context"
	"fmt"

	"jardinet/api"
	"jardinet/digest"
	"jardinet/text"
)

// Lengths of the summary of several documents, in sentences.
var summaryLengths = map[string]int{"short": 5, "page": 20}

// mostSummarised is how many documents are summed up together.
const mostSummarised = 200

// Summary sums up a collection, or some of its documents, in the sentences of their own summaries that
// say most of them all.
func (s *Service) Summary(ctx context.Context, collection, length string, scope Scope) ([]api.Quote, error) {
	most := summaryLengths[length]
	if most == 0 {
		return nil, fmt.Errorf("a summary is short or a page, and not %q: %w", length, ErrInvalid)
	}
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	docs, err := s.ready(ctx, c, scope)
	if err != nil {
		return nil, err
	}
	if len(docs) > mostSummarised {
		return nil, fmt.Errorf("more than %d documents are too many to be summed up at once; name some, or a tag: %w", mostSummarised, ErrInvalid)
	}
	var said []api.Quote
	var sentences []digest.Sentence
	for n := range docs {
		d := &docs[n]
		made, err := s.digestOf(ctx, d)
		if err != nil {
			return nil, err
		}
		for i, q := range made.OnePage {
			q.Document = d.Name
			said = append(said, q)
			sentences = append(sentences, digest.Sentence{Text: q.Text, Language: text.Language(d.Language), Part: n, First: i == 0})
		}
	}
	chosen, err := digest.Choose(s.encoding.asking.patiently(ctx), sentences, most, encodeTexts)
	if err != nil {
		return nil, err
	}
	out := []api.Quote{}
	for _, i := range chosen {
		out = append(out, said[i])
	}
	return out, nil
}
