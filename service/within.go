package service

import (
	"context"
	"fmt"
	"regexp"
	"strings"

	"jardinet/answer"
	"jardinet/digest"
	"jardinet/layout"
)

// Outline returns the chapters of a document with their pages.
func (s *Service) Outline(ctx context.Context, collection, name string) ([]Heading, error) {
	d, doc, err := s.whole(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	marks, err := s.bookmarks(ctx, d)
	if err != nil {
		return nil, err
	}
	out := []Heading{}
	for _, e := range digest.Outline(doc, marks) {
		out = append(out, Heading{Title: e.Title, Level: e.Level, Page: e.Page, Label: doc.Pages[e.Page-1].Label})
	}
	return out, nil
}

// around is how much of the text around a hit is given, in bytes.
const around = 70

// mostHits is how many hits are returned at most.
const mostHits = 1000

// SearchIn finds where some words stand in a document, as they are written but for case and
// spaces. It returns the first of them, at most top, and how many there are.
func (s *Service) SearchIn(ctx context.Context, collection, name, words string, top int) (hits []Hit, of int, err error) {
	parts := strings.Fields(words)
	if len(parts) == 0 {
		return nil, 0, fmt.Errorf("there are no words to look for: %w", ErrInvalid)
	}
	for i := range parts {
		parts[i] = regexp.QuoteMeta(parts[i])
	}
	pattern, err := regexp.Compile("(?i)" + strings.Join(parts, `\s+`))
	if err != nil {
		return nil, 0, fmt.Errorf("the words %q cannot be looked for: %w", words, ErrInvalid)
	}
	_, doc, err := s.whole(ctx, collection, name)
	if err != nil {
		return nil, 0, err
	}
	hits = []Hit{}
	for i := range doc.Pages {
		for b := range doc.Pages[i].Blocks {
			block := &doc.Pages[i].Blocks[b]
			for _, at := range pattern.FindAllStringIndex(block.Text, -1) {
				if of++; of <= min(top, mostHits) {
					hits = append(hits, hitAt(&doc.Pages[i], block, at[0], at[1]))
				}
			}
		}
	}
	return hits, of, nil
}

// hitAt describes bytes start to end of a block.
func hitAt(page *layout.Page, block *layout.Block, start, end int) Hit {
	from, to := max(0, start-around), min(len(block.Text), end+around)
	hit := Hit{
		Page: page.Number, Label: page.Label, Words: block.Text[start:end], Boxes: []answer.Box{},
		Before: strings.ToValidUTF8(block.Text[from:start], ""), After: strings.ToValidUTF8(block.Text[end:to], ""),
	}
	for _, b := range block.Boxes(start, end) {
		hit.Boxes = append(hit.Boxes, boxOn(page.Number, b))
	}
	return hit
}
