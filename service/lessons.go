package service

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"jardinet/answer"
	"jardinet/index"
	"jardinet/measure"
	"jardinet/rank"
	"jardinet/store"
)

// MaxLessons are how many lessons a collection may have. They are for what the documents
// say in words that nobody asks in; what is asked else has to be found.
const MaxLessons = 2000

// Lessons returns what a collection has been taught, in the order of teaching.
func (s *Service) Lessons(ctx context.Context, collection string) ([]Lesson, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	known, err := s.learned(ctx, c)
	if err != nil {
		return nil, err
	}
	return known.told, nil
}

// Teach adds lessons, in place of those for the same questions. They hold from the next
// question on, as far as their documents are there. One that means the same as another is
// refused, as it is answered from there already. A single one is refused if its document is
// there and does not say so; of many, some may be of another time.
func (s *Service) Teach(ctx context.Context, collection string, lessons []Lesson) ([]Lesson, error) {
	for i := range lessons {
		if err := check(&lessons[i]); err != nil {
			return nil, fmt.Errorf("lesson %d (%.60s): %w: %w", i+1, lessons[i].Question, err, ErrInvalid)
		}
	}
	if len(lessons) == 1 {
		if err := s.stands(ctx, collection, lessons[0]); err != nil {
			return nil, err
		}
	}
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	return s.changeLessons(ctx, collection, func(all []Lesson) ([]Lesson, error) {
		known, kept := map[string]int{}, len(all)
		for i, l := range all {
			known[l.ID] = i
		}
		for _, l := range lessons {
			if i, ok := known[l.ID]; ok {
				all[i] = l
				continue
			}
			known[l.ID], all = len(all), append(all, l)
		}
		if len(all) > MaxLessons {
			return nil, fmt.Errorf("that would make %d lessons, the limit is %d: %w", len(all), MaxLessons, ErrInvalid)
		}
		return all, s.told(ctx, c, all, kept)
	})
}

// told refuses lessons from a number on of which one means the same as another.
func (s *Service) told(ctx context.Context, c *collection, all []Lesson, from int) error {
	questions := make([]answer.Lesson, len(all))
	for i, l := range all {
		questions[i] = answer.Lesson{Question: l.Question, After: l.After}
	}
	lessons, err := s.answerer(c).Learn(ctx, questions, c.learnedLast())
	if err != nil {
		return err
	}
	for i := from; i < len(all); i++ {
		if same, ok := lessons.Same(i); ok {
			return fmt.Errorf("%.60q means the same as %.60q and is answered from there; leave one of them out: %w", all[i].Question, same.Question, ErrInvalid)
		}
	}
	return nil
}

// stands refuses a lesson whose documents are ready and do not have its words.
func (s *Service) stands(ctx context.Context, collection string, l Lesson) error {
	c, err := s.named(collection)
	if err != nil {
		return err
	}
	q := l.Asked()
	_, problems, err := measure.Lessons(s.answerer(c), []measure.Question{q})
	if err != nil || problems[0] == nil {
		return err
	}
	for _, e := range q.Places() {
		if _, d, err := s.document(ctx, collection, e.Document); err != nil || d.State != store.Ready {
			return nil // it may come
		}
	}
	return fmt.Errorf("%w; copy the words as they were read there, or correct the page: %w", problems[0], ErrInvalid)
}

// Forget removes the lesson of an id.
func (s *Service) Forget(ctx context.Context, collection, id string) error {
	_, err := s.changeLessons(ctx, collection, func(all []Lesson) ([]Lesson, error) {
		left := slices.DeleteFunc(all, func(l Lesson) bool { return l.ID == id })
		if len(left) == len(all) {
			return nil, fmt.Errorf("lesson %q: %w", id, ErrNotFound)
		}
		return left, nil
	})
	return err
}

// check finds what is wrong with a lesson by itself, and gives it its id.
func check(l *Lesson) error {
	for _, q := range append([]string{l.Question}, l.After...) {
		if err := CheckQuestion(q); err != nil {
			return err
		}
	}
	if len(l.Evidence) == 0 {
		return fmt.Errorf("it has no evidence; say by document, page and quote where the answer stands")
	}
	q := l.Asked()
	for _, e := range q.Places() {
		if e.Document == "" || e.Page < 1 || strings.TrimSpace(e.Quote) == "" {
			return fmt.Errorf("its evidence needs a document, a page from 1 and, as quote, the words on it that prove the answer")
		}
	}
	sum := sha256.Sum256([]byte(strings.ToLower(strings.Join(append([]string{strings.TrimSpace(l.Question)}, l.After...), "\n"))))
	l.ID, l.Problem = hex.EncodeToString(sum[:])[:12], ""
	return nil
}

// changeLessons changes what is kept and returns what is then known.
func (s *Service) changeLessons(ctx context.Context, collection string, change func([]Lesson) ([]Lesson, error)) ([]Lesson, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	c.teaching.Lock()
	kept, err := s.keptLessons(ctx, c)
	if err == nil {
		if kept, err = change(kept); err == nil {
			err = s.store.SetLessons(ctx, c.ID, kept)
		}
	}
	c.taught.Add(1)
	c.teaching.Unlock()
	if err != nil {
		return nil, err
	}
	return s.Lessons(ctx, collection)
}

func (s *Service) keptLessons(ctx context.Context, c *collection) ([]Lesson, error) {
	data, err := s.store.Lessons(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	out := []Lesson{}
	if err := json.Unmarshal(data, &out); err != nil {
		return nil, fmt.Errorf("service: lessons of %s: %w", c.Name, err)
	}
	return out, nil
}

// A schooling is what a collection has learned from its lessons in one state of its
// index and glossary.
type schooling struct {
	index      index.Searcher
	generation uint64
	taught     uint64
	ranker     *rank.Ranker
	lessons    *answer.Lessons
	told       []Lesson // all, with why some rest
}

// learnedLast returns what a collection had learned when it was last asked, nil if it has
// not been.
func (c *collection) learnedLast() *answer.Lessons {
	if last := c.lessons.Load(); last != nil {
		return last.lessons
	}
	return nil
}

// learned returns what a collection has learned, working it out anew where something
// has changed.
func (s *Service) learned(ctx context.Context, c *collection) (*schooling, error) {
	now := func(known *schooling) bool {
		return known != nil && known.taught == c.taught.Load() && known.generation == s.searcher(c).Generation() && c.isSame(known.index) && known.ranker == c.ranker.Load()
	}
	if known := c.lessons.Load(); now(known) {
		return known, nil
	}
	c.teaching.Lock()
	defer c.teaching.Unlock()
	if known := c.lessons.Load(); now(known) {
		return known, nil
	}
	kept, err := s.keptLessons(ctx, c)
	if err != nil {
		return nil, err
	}
	known := &schooling{taught: c.taught.Load(), index: s.searcher(c), ranker: c.ranker.Load(), told: kept}
	known.generation = known.index.Generation()
	questions := make([]measure.Question, len(kept))
	for i, l := range kept {
		questions[i] = l.Asked()
	}
	answerer := s.answerer(c)
	answerer.Index, answerer.Rank = known.index, known.ranker
	all, problems, err := measure.Lessons(answerer, questions)
	if err != nil {
		return nil, err
	}
	var heeded []answer.Lesson
	for i, problem := range problems {
		if problem != nil {
			kept[i].Problem = problem.Error()
			continue
		}
		heeded = append(heeded, all[i])
	}
	if known.lessons, err = answerer.Learn(ctx, heeded, c.learnedLast()); err != nil {
		return nil, err
	}
	c.lessons.Store(known)
	return known, nil
}
