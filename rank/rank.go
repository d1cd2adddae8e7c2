// Package rank finds the passages that are nearest to a question, by the words that they
// share with it and by what both mean.
//
// The index brings two lists: the passages with the best of the words asked (BM25F), and
// those whose vectors point most nearly the way the question's does. Words alone miss
// what is said in other words; meaning alone takes one part number for another, and the
// valve of this boiler for that of any. Each passage that either list brings is
// therefore looked at for a handful of features, which are added up with weights fitted
// on training questions (listwise: Cao et al. 2007).
package rank

import (
	"cmp"
	"context"
	"fmt"
	"runtime"
	"slices"

	"golang.org/x/sync/errgroup"

	"jardinet/index"
	"jardinet/passage"
	"jardinet/text"
)

// A Ranker knows how a collection's passages are ranked.
type Ranker struct {
	Glossary *Glossary
	Weights  Weights
	By       By
}

// By says what passages are found by.
type By string

// What passages are found by; nothing said is both.
const (
	Words   By = "words"
	Meaning By = "meaning"
	Both    By = "both"
)

// Validate tells what is wrong with a choice.
func (b By) Validate() error {
	if b != "" && b != Words && b != Meaning && b != Both {
		return fmt.Errorf("retrieval by %q: choose words, meaning or both", b)
	}
	return nil
}

// New returns a ranker with the weights that come with the program.
func New(glossary ...Entry) *Ranker {
	return &Ranker{Glossary: NewGlossary(glossary), Weights: DefaultWeights()}
}

// A Question is what is looked for.
type Question struct {
	Text     string
	Language text.Language
	Query    index.Query // its words; its vector, if it has one
}

// A Candidate is a passage that was found.
type Candidate struct {
	Hit      index.Hit
	Passage  *passage.Passage
	Features Features
	Score    float64
}

// pool is how many passages of each list are looked at.
const pool = 80

// Search returns the best passages for a question, the best first, at most top of each
// list that the index brings and more than that only if top is large. It fills in the
// worth of the query's terms.
func (r *Ranker) Search(ctx context.Context, x index.Searcher, q *Question, top int) ([]Candidate, error) {
	r.Glossary.widen(q, x.Languages())
	switch r.By {
	case Words:
		q.Query.Vector = nil
	case Meaning:
		// What must or must not stand in a passage still holds.
		q.Query.Terms = slices.DeleteFunc(q.Query.Terms, func(t index.Term) bool { return !t.Must && !t.Not })
	}
	hits, err := x.Search(ctx, &q.Query, max(top, pool))
	if err != nil {
		return nil, err
	}
	return r.Read(q, hits)
}

// Read puts passages that the index has found into order.
func (r *Ranker) Read(q *Question, hits []index.Hit) ([]Candidate, error) {
	out := make([]Candidate, len(hits))
	literals := Literals(q.Text)
	var group errgroup.Group
	workers := runtime.GOMAXPROCS(0)
	for w := range workers {
		group.Go(func() error {
			m := newMatcher(&q.Query, literals)
			defer m.release()
			for i := w; i < len(hits); i += workers {
				data, err := hits[i].Stored()
				if err != nil {
					return err
				}
				p, err := passage.Decode(data)
				if err != nil {
					return err
				}
				out[i] = Candidate{Hit: hits[i], Passage: p, Features: m.features(&hits[i], p)}
			}
			return nil
		})
	}
	if err := group.Wait(); err != nil {
		return nil, err
	}
	scale(out)
	for i := range out {
		out[i].Score = out[i].Features.score(&r.Weights)
	}
	slices.SortStableFunc(out, func(a, b Candidate) int {
		return cmp.Or(cmp.Compare(b.Score, a.Score), cmp.Compare(a.Hit.Key, b.Hit.Key), cmp.Compare(a.Hit.Ordinal, b.Hit.Ordinal))
	})
	return out, nil
}
