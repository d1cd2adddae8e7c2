package service

import (
	"cmp"
	"context"
	"slices"

	"jardinet/layout"
	"jardinet/store"
)

func findings(page *layout.Page) []Finding {
	out := []Finding{}
	for _, f := range page.Findings {
		one := Finding{Severity: string(f.Severity), Code: f.Code, Text: f.Text, Advice: f.Advice}
		if f.Box.X1 > f.Box.X0 {
			box := boxOn(page.Number, f.Box)
			one.Box = &box
		}
		out = append(out, one)
	}
	return out
}

// WorstPages returns the pages of a collection, or of one document of it, that
// have the lowest scores, the worst first, without those that nothing was found
// about. At most top are returned, and how many there are.
func (s *Service) WorstPages(ctx context.Context, collection, document string, top int) (pages []JudgedPage, of int, err error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, 0, err
	}
	docs, err := s.store.Documents(ctx, c.ID)
	if err != nil {
		return nil, 0, err
	}
	if document != "" {
		_, d, err := s.document(ctx, collection, document)
		if err != nil {
			return nil, 0, err
		}
		docs = []store.Document{*d}
	}
	byID := map[string]*store.Document{}
	pages = []JudgedPage{}
	for i := range docs {
		d := &docs[i]
		byID[d.ID] = d
		if d.State != store.Ready {
			continue
		}
		for n, score := range d.Scores {
			if score < 100 {
				pages = append(pages, JudgedPage{Document: d.Name, ID: d.ID, Number: n + 1, Score: score})
			}
		}
	}
	slices.SortStableFunc(pages, func(a, b JudgedPage) int { return cmp.Compare(a.Score, b.Score) })
	of = len(pages)
	pages = pages[:min(of, top)]
	for i := range pages {
		doc, err := s.corrected(ctx, byID[pages[i].ID], pages[i].Number, pages[i].Number)
		if err != nil {
			return nil, 0, err
		}
		pages[i].Label, pages[i].Findings = doc.Pages[0].Label, findings(&doc.Pages[0])
	}
	return pages, of, nil
}
