package service

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/draft"
	"jardinet/layout"
	"jardinet/store"
	"jardinet/text"
)

// How many questions are drafted for the sheet of a document, and how many it has at most.
const (
	draftedForSheet = 24
	mostOnSheet     = 12
)

// Sheet returns questions that a document answers, spread over it, those alone that the reader answers
// from the page that they were drafted from. It is made when it is first asked for, and kept.
func (s *Service) Sheet(ctx context.Context, collection, name string) (*api.Sheet, error) {
	c, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	data, err := s.store.Sheet(ctx, d.ID)
	if err == nil {
		out := new(api.Sheet)
		return out, json.Unmarshal(data, out)
	}
	if !errors.Is(err, ErrNotFound) {
		return nil, err
	}
	if d.State != store.Ready {
		return nil, fmt.Errorf("%s is %s; questions are drafted for documents that are ready: %w", d.Name, d.State, ErrInvalid)
	}
	doc, err := s.corrected(ctx, d, 1, d.Pages)
	if err != nil {
		return nil, err
	}
	out := &api.Sheet{Questions: []api.SheetQuestion{}}
	for _, p := range naturally(doc) {
		q, err := s.answeredFrom(ctx, c, d, &p)
		if err != nil {
			return nil, err
		}
		if q != nil && len(out.Questions) < mostOnSheet {
			out.Questions = append(out.Questions, *q)
		}
	}
	slices.SortStableFunc(out.Questions, func(a, b api.SheetQuestion) int { return a.Quote.Page - b.Quote.Page })
	return out, s.store.SetSheet(ctx, d.ID, out)
}

// naturally are the drafted questions of a document that are worded as people ask.
func naturally(doc *layout.Document) []draft.Proposal {
	sections := draft.Sections(doc)
	for i := range sections {
		sections[i].Proposals = slices.DeleteFunc(sections[i].Proposals, func(p draft.Proposal) bool { return !p.Natural })
	}
	return draft.Choose(sections, draftedForSheet)
}

// answeredFrom asks a drafted question of its document; nil if the answer is not the one that was
// drafted, or comes from elsewhere.
func (s *Service) answeredFrom(ctx context.Context, c *collection, d *store.Document, p *draft.Proposal) (*api.SheetQuestion, error) {
	s.encoding.asking.wait(ctx)
	answerer := s.answerer(c)
	answerer.Only = func(key string) bool { return key == d.ID }
	a, err := answerer.Ask(ctx, p.Question, nil)
	if err != nil {
		return nil, err
	}
	if a.State != answer.Answered || len(a.Citations) == 0 || !text.Contains(a.Short, p.Answer) && (len(a.Statements) == 0 || !text.Contains(a.Statements[0].Text, p.Answer)) {
		return nil, nil
	}
	cite := a.Citations[0]
	if cite.Page != p.Page || !text.Contains(cite.Quote, p.Answer) {
		return nil, nil
	}
	return &api.SheetQuestion{Document: d.Name, Question: p.Question, Answer: firstUpper(p.Answer), Quote: api.Quote{
		Text: cite.Quote, Page: cite.Page, Label: cite.Label, Section: append([]string{}, cite.Section...), Boxes: cite.Boxes,
	}}, nil
}

func firstUpper(s string) string {
	if s == "" {
		return s
	}
	r := []rune(s)
	return strings.ToUpper(string(r[:1])) + string(r[1:])
}

// Suggestions of a collection are few, and of different documents.
const (
	suggestedFrom = 3 // documents
	mostSuggested = 4
)

// Suggestions returns a few questions that a collection's documents answer, as far as they have been
// made; those of some documents are made in the background, so that there are more the next time.
func (s *Service) Suggestions(ctx context.Context, collection string) ([]api.SheetQuestion, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	docs, err := s.store.Documents(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	docs = slices.DeleteFunc(docs, func(d store.Document) bool { return d.State != store.Ready || d.Passages == 0 })
	slices.SortStableFunc(docs, func(a, b store.Document) int { return b.Pages - a.Pages })
	var sheets []api.Sheet
	var missing []string
	for _, d := range docs[:min(len(docs), suggestedFrom)] {
		data, err := s.store.Sheet(ctx, d.ID)
		var sheet api.Sheet
		switch {
		case errors.Is(err, ErrNotFound):
			missing = append(missing, d.ID)
			continue
		case err == nil:
			err = json.Unmarshal(data, &sheet)
		}
		if err != nil {
			return nil, err
		}
		sheets = append(sheets, sheet)
	}
	s.makeSheets(collection, missing)
	return taken(sheets, mostSuggested), nil
}

// taken takes so many questions, of each sheet in turn from its middle on: what a document begins
// with is known best.
func taken(sheets []api.Sheet, most int) []api.SheetQuestion {
	out := []api.SheetQuestion{}
	for round := 0; len(out) < most; round++ {
		some := false
		for _, sheet := range sheets {
			if n := len(sheet.Questions); round < n && len(out) < most {
				out, some = append(out, sheet.Questions[(n/2+round)%n]), true
			}
		}
		if !some {
			break
		}
	}
	return out
}

// makeSheets makes sheets in the background, of one collection at a time.
func (s *Service) makeSheets(collection string, documents []string) {
	if len(documents) == 0 || !s.sheeting.TryLock() {
		return
	}
	s.encoding.done.Go(func() {
		defer s.sheeting.Unlock()
		for _, id := range documents {
			if _, err := s.Sheet(s.encoding.ctx, collection, id); err != nil {
				if s.encoding.ctx.Err() == nil && !errors.Is(err, ErrNotFound) {
					s.Log.Warn("questions for a document cannot be drafted", "document", id, "error", err)
				}
				return
			}
		}
	})
}
