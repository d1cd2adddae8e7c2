package service

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/encoder"
	"jardinet/modelapi"
	"jardinet/passage"
	"jardinet/store"
	"jardinet/text"
)

// Limits of what is asked.
const (
	MaxQuestion = 2000 // bytes
	MaxAfter    = 20   // earlier questions
	MaxTop      = 100  // passages
)

// answerer returns what answers from a collection.
func (s *Service) answerer(c *collection) *answer.Answerer {
	recipe := c.recipe.Load()
	if c.outdated.Swap(false) {
		if err := s.newRanker(context.Background(), c); err != nil {
			s.Log.Error("the glossary cannot be read", "error", err)
		}
	}
	a := &answer.Answerer{Index: s.searcher(c), Rank: c.ranker.Load()}
	a.Embed = func(ctx context.Context, question string, language text.Language) ([]float32, error) {
		ctx, cancel := context.WithTimeout(ctx, embedWithin)
		defer cancel()
		vectors, err := vectorsOf(ctx, recipe, encoder.Query, []embedded{{Body: question, Language: language}})
		if err != nil {
			s.Log.Warn("the search goes on without vectors", "collection", c.Name, "error", err)
			return nil, err
		}
		return vectors[0], nil
	}
	a.Document = func(key string) (answer.Document, bool) { return s.called(c, key) }
	return a
}

// called returns what a document is called. It is remembered until something changes about
// the document.
func (s *Service) called(c *collection, id string) (answer.Document, bool) {
	c.mu.Lock()
	d, ok := c.known[id]
	changes := c.changes
	c.mu.Unlock()
	if ok {
		return d, true
	}
	sd, err := s.store.Document(context.Background(), id)
	if err != nil || !sd.Current() || sd.State == store.Failed && s.hosts != nil {
		return d, false
	}
	d = answer.Document{Name: sd.Name, Title: sd.Title, Labels: sd.Labels, Added: sd.Added}
	c.mu.Lock()
	defer c.mu.Unlock()
	if changes == c.changes { // else what was read may be of before
		c.known[id] = d
	}
	return d, true
}

// forget has what a document is called looked up anew.
func (c *collection) forget(id string) {
	c.mu.Lock()
	defer c.mu.Unlock()
	delete(c.known, id)
	c.changes++
}

// embedWithin is how long a question waits for an outside embedding.
const embedWithin = 2 * time.Second

// Answerer returns what answers from a collection, for measuring its parts.
func (s *Service) Answerer(collection string) (*answer.Answerer, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	return s.answerer(c), nil
}

// newConversation asks for a conversation to be kept.
const newConversation = "new"

// A Listener hears how an answer comes about. Either of its functions may be nil.
type Listener struct {
	Found func(passages []Found) // that will be read, the best first, without their parts of scores; again for each reading of the question
	Draft func(part string)      // that an outside model says
}

// Ask answers a question from a collection.
func (s *Service) Ask(ctx context.Context, collection string, ask Ask, listener Listener) (*answer.Answer, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	after := ask.After
	if ask.Conversation != "" && ask.Conversation != newConversation {
		if after, err = s.earlier(ctx, c, ask.Conversation); err != nil {
			return nil, err
		}
	}
	for _, q := range append([]string{ask.Question}, after...) {
		if err := CheckQuestion(q); err != nil {
			return nil, err
		}
	}
	answerer := s.answerer(c)
	answerer.Trace, answerer.Draft, answerer.Hurry = ask.Trace, listener.Draft, s.hurry
	if listener.Found != nil {
		answerer.Found = func(s *answer.Search) { listener.Found(foundOf(s)) }
	}
	if answerer.Only, err = s.within(ctx, c, ask.Scope); err != nil {
		return nil, err
	}
	known, err := s.learned(ctx, c)
	if err != nil {
		return nil, err
	}
	answerer.Lessons = known.lessons
	note, settle, err := s.dress(ctx, c, answerer)
	if err != nil {
		return nil, err
	}
	var without gaps
	answerer.Without = without.note
	s.encoding.asking.begin()
	defer s.encoding.asking.end()
	out, err := answerer.Ask(ctx, ask.Question, after[max(0, len(after)-MaxAfter):])
	if err != nil {
		return nil, errors.Join(err, settle(modelapi.Usage{}))
	}
	if err := s.workedOut(ctx, c, ask.Scope, out); err != nil {
		return nil, errors.Join(err, settle(out.Usage))
	}
	if out.Note == "" && out.State != answer.NotFound {
		out.Note = note
	}
	without.tell(out)
	if unknown := out.Unknown; len(unknown) > 0 {
		s.Aside(ctx, func(ctx context.Context) { s.noteUnknown(ctx, c, ask.Question, unknown) })
	}
	if out.State == answer.NotFound && c.sharing.Load().Questions {
		s.Aside(ctx, func(ctx context.Context) { s.noteUnanswered(ctx, c, &ask, after) })
	}
	if err := settle(out.Usage); err != nil {
		return nil, err
	}
	if ask.Conversation != "" {
		id := ask.Conversation
		if id == newConversation {
			id = ""
		}
		return out, s.keep(ctx, c, id, out)
	}
	return out, nil
}

// noteUnanswered keeps a question that the documents do not answer for the collection's owner, where
// readers have been told that questions are kept.
func (s *Service) noteUnanswered(ctx context.Context, c *collection, ask *Ask, after []string) {
	report := api.Report{Question: ask.Question, After: after, Says: "missing", At: time.Now().UTC().Truncate(time.Second)}
	if err := s.store.AddReport(ctx, c.ID, ask.Question, report); err != nil {
		s.Log.Warn("a question without an answer cannot be kept", "error", err)
	}
}

// dress gives an answerer the collection's style. A model whose budget is spent is left out, and
// the note says so. settle has to be called with what the model used.
func (s *Service) dress(ctx context.Context, c *collection, a *answer.Answerer) (note string, settle func(modelapi.Usage) error, err error) {
	nothing := func(modelapi.Usage) error { return nil }
	style, err := s.style(ctx, c)
	if err != nil {
		return "", nil, err
	}
	a.Style = *style
	if style.Model == nil {
		return "", nothing, nil
	}
	settle, err = s.reserve(ctx, c, style.Model)
	switch {
	case err != nil && (IsCutOff(err) || errors.Is(err, context.DeadlineExceeded)) && ctx.Err() == nil:
		a.Style.Model = nil
		return "What is left of the outside model's budget is not known now; this answer was made without it.", nothing, nil
	case err != nil || settle != nil:
		return "", settle, err
	}
	a.Style.Model = nil
	return "The outside model's budget for today is spent; this answer was made without it.", nothing, nil
}

// CheckQuestion tells what is wrong with a question.
func CheckQuestion(q string) error {
	switch {
	case strings.TrimSpace(q) == "":
		return fmt.Errorf("the question is empty: %w", ErrInvalid)
	case len(q) > MaxQuestion:
		return fmt.Errorf("the question is %d bytes long, the limit is %d: %w", len(q), MaxQuestion, ErrInvalid)
	}
	return nil
}

// Explain returns the best passages for a query with the parts of their scores,
// and how the query was understood.
func (s *Service) Explain(ctx context.Context, collection, query string, top int, scope Scope) ([]Found, *Understood, error) {
	found, search, err := s.find(ctx, collection, query, top, scope)
	if err != nil {
		return nil, nil, err
	}
	for i, c := range search.Candidates {
		found[i].Explain = &Explained{Features: c.Features, Weights: search.Weights}
		for _, sentence := range c.Passage.Sentences {
			for _, m := range sentence.Marks {
				found[i].Boxes = append(found[i].Boxes, boxOn(m.Page, m.Box))
			}
		}
	}
	out := &Understood{Terms: []UnderstoodTerm{}}
	for _, t := range search.Query.Terms {
		u := UnderstoodTerm{Word: t.Word, Passages: t.Frequency, IDF: t.IDF, Like: []string{}}
		for _, a := range t.Expansions {
			u.Like = append(u.Like, a.Form)
		}
		out.Terms = append(out.Terms, u)
	}
	return found, out, nil
}

// Find returns the best passages for a query.
func (s *Service) Find(ctx context.Context, collection, query string, top int, scope Scope) ([]Found, error) {
	out, _, err := s.find(ctx, collection, query, top, scope)
	return out, err
}

// Search returns the best passages for a query, and which parts of the index could not be looked at.
func (s *Service) Search(ctx context.Context, collection, query string, top int, scope Scope) (*api.Passages, error) {
	found, search, err := s.find(ctx, collection, query, top, scope)
	if err != nil {
		return nil, err
	}
	out := &api.Passages{Query: query, Passages: found}
	if search.Query.LeftOut.Parts > 0 {
		out.LeftOut = &search.Query.LeftOut
	}
	return out, nil
}

func (s *Service) find(ctx context.Context, collection, query string, top int, scope Scope) ([]Found, *answer.Search, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, nil, err
	}
	if err := CheckQuestion(query); err != nil {
		return nil, nil, err
	}
	if top < 1 || top > MaxTop {
		return nil, nil, fmt.Errorf("%d passages: choose 1 to %d: %w", top, MaxTop, ErrInvalid)
	}
	answerer := s.answerer(c)
	if answerer.Only, err = s.within(ctx, c, scope); err != nil {
		return nil, nil, err
	}
	s.encoding.asking.begin()
	defer s.encoding.asking.end()
	search, err := answerer.Find(ctx, query, top)
	if err != nil {
		return nil, nil, err
	}
	return foundOf(search), search, nil
}

// foundOf tells of the passages of a search.
func foundOf(search *answer.Search) []Found {
	out := []Found{}
	for i, c := range search.Candidates {
		f := Found{
			Rank: i + 1, Score: c.Score, DocumentID: c.DocumentID, Document: c.Document.Name, Title: c.Document.Title,
			Pages: c.Passage.Pages(), Section: append([]string{}, c.Passage.Section...), Text: c.Passage.Text,
		}
		if len(f.Pages) > 0 && f.Pages[0] <= len(c.Document.Labels) {
			f.Label = c.Document.Labels[f.Pages[0]-1]
		}
		out = append(out, f)
	}
	return out
}

// Passages calls visit for every passage of a collection's ready documents, cut
// anew from the kept pages.
func (s *Service) Passages(ctx context.Context, collection string, visit func(document string, p Found) error) error {
	c, err := s.named(collection)
	if err != nil {
		return err
	}
	docs, err := s.store.Documents(ctx, c.ID)
	if err != nil {
		return err
	}
	for _, d := range docs {
		if d.State != store.Ready {
			continue
		}
		doc, err := s.kept(ctx, d)
		if err != nil {
			return err
		}
		for _, p := range passage.Split(doc, c.recipe.Load().Passage) {
			f := Found{DocumentID: d.ID, Document: d.Name, Title: d.Title, Pages: p.Pages(), Section: p.Section, Text: p.Text}
			if err := visit(d.Name, f); err != nil {
				return err
			}
		}
	}
	return nil
}

// Totals are counts for the service's metrics.
type Totals struct {
	PagesRead int64
	Queued    int
}

// Totals returns the counts.
func (s *Service) Totals() Totals {
	s.intake.mu.Lock()
	defer s.intake.mu.Unlock()
	return Totals{s.intake.pages.Load(), len(s.intake.jobs)}
}
