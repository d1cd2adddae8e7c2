// Package answer finds, in passages, the sentences that answer a question, and
// says so when none do.
//
// It invents nothing: every statement is a sentence, list item or table row of
// a document, word for word, with the page and the boxes that it stands in. In
// front of the statements it puts a short answer where the question asks for
// one (a figure, a date, a name, yes or no), which is a part of a statement.
// Whether the evidence bears the answer is judged by how much of what was asked
// about stands together in one place; too little is a refusal.
package answer

import (
	"cmp"
	"context"
	"slices"

	"jardinet/index"
	"jardinet/passage"
	"jardinet/rank"
)

// A State tells what came of a question.
type State string

// States of an answer.
const (
	Answered State = "answered"
	Partial  State = "partial" // something asked about is not borne out
	NotFound State = "not_found"
)

// A Document is what an answer needs to know of one.
type Document struct {
	Name   string // file name
	Title  string
	Labels []string // printed page labels
}

// A Box is a marked area of a page, in points from its top left.
type Box struct {
	Page int     `json:"page"`
	X0   float32 `json:"x0"`
	Y0   float32 `json:"y0"`
	X1   float32 `json:"x1"`
	Y1   float32 `json:"y1"`
}

// A Citation says where a statement stands.
type Citation struct {
	Number     int      `json:"number"` // from 1, as marked in the text
	DocumentID string   `json:"document_id"`
	Document   string   `json:"document"`
	Title      string   `json:"title"`
	Page       int      `json:"page"` // physical, of the first box
	Label      string   `json:"label"`
	Section    []string `json:"section"`
	Quote      string   `json:"quote"`
	Boxes      []Box    `json:"boxes"`
}

// A Statement is one sentence, list item or table row.
type Statement struct {
	Text      string `json:"text"`
	Citations []int  `json:"citations"` // numbers
}

// A Nearest is a passage shown when nothing answers.
type Nearest struct {
	DocumentID string   `json:"document_id"`
	Document   string   `json:"document"`
	Title      string   `json:"title"`
	Page       int      `json:"page"`
	Label      string   `json:"label"`
	Section    []string `json:"section"`
	Text       string   `json:"text"`
}

// Timing is what the stages took, in milliseconds.
type Timing struct {
	Analysis  float64 `json:"analysis"`
	Search    float64 `json:"search"`
	Evidence  float64 `json:"evidence"`
	Composing float64 `json:"composing"`
	Total     float64 `json:"total"`
}

// An Answer is what is given back.
type Answer struct {
	Question   string      `json:"question"`
	Standalone string      `json:"standalone"` // the question as understood in its conversation
	State      State       `json:"state"`
	Short      string      `json:"short"` // empty where none is asked for or found
	Text       string      `json:"answer"`
	Statements []Statement `json:"statements"`
	Citations  []Citation  `json:"citations"`
	Missing    []string    `json:"missing"` // words asked about that the evidence lacks
	Nearest    []Nearest   `json:"nearest"`
	Confidence float64     `json:"confidence"` // 0 to 1
	Timing     Timing      `json:"timing_ms"`

	Passages []Candidate `json:"-"` // in the order of retrieval
}

// A Candidate is a passage that was found for a question.
type Candidate struct {
	DocumentID string
	Document   Document
	Passage    *passage.Passage
	Score      float64
}

// An Asker answers questions from one index.
type Asker struct {
	Index *index.Index
	// Document tells of the document under a key of the index; ok is false
	// for one that has just been removed.
	Document func(key string) (d Document, ok bool)
	// Rank orders by meaning what was found by words; nil leaves it as it is.
	Rank *rank.Ranker
}

// So many passages are found by their words and put into order by their
// meaning, and of those so many are looked at for evidence.
const (
	pool  = 100
	depth = 30
)

// Find returns the best passages for a query, without answering it.
func (a *Asker) Find(ctx context.Context, query string, top int) ([]Candidate, error) {
	q := a.Index.Parse(query)
	return a.candidates(ctx, query, &q, top)
}

func (a *Asker) candidates(ctx context.Context, asked string, q *index.Query, top int) ([]Candidate, error) {
	many := top
	if a.Rank != nil {
		many = max(top, pool)
	}
	hits, err := a.Index.Search(ctx, q, many)
	if err != nil {
		return nil, err
	}
	out := make([]Candidate, 0, len(hits))
	for i := range hits {
		doc, ok := a.Document(hits[i].Key)
		if !ok {
			continue
		}
		data, err := hits[i].Stored()
		if err != nil {
			return nil, err
		}
		p, err := passage.Decode(data)
		if err != nil {
			return nil, err
		}
		out = append(out, Candidate{hits[i].Key, doc, p, hits[i].Score})
	}
	if a.Rank != nil {
		a.order(asked, q, out)
	}
	return out[:min(top, len(out))], nil
}

// order puts candidates into the order of their meaning.
func (a *Asker) order(asked string, q *index.Query, candidates []Candidate) {
	passages, scores := make([]*passage.Passage, len(candidates)), make([]float64, len(candidates))
	for i, c := range candidates {
		passages[i], scores[i] = c.Passage, c.Score
	}
	for i, score := range a.Rank.Scores(asked, q, passages, scores) {
		candidates[i].Score = score
	}
	slices.SortStableFunc(candidates, func(a, b Candidate) int { return cmp.Compare(b.Score, a.Score) })
}

// Ask answers a question; after holds the earlier questions of its
// conversation, the oldest first.
func (a *Asker) Ask(ctx context.Context, question string, after []string) (*Answer, error) {
	clock := newClock()
	asked := a.analyse(question, after)
	out := &Answer{
		Question: question, Standalone: asked.standalone, State: NotFound,
		Statements: []Statement{}, Citations: []Citation{}, Missing: []string{}, Nearest: []Nearest{},
	}
	out.Timing.Analysis = clock.lap()
	candidates, err := a.candidates(ctx, asked.standalone, &asked.query, depth)
	if err != nil {
		return nil, err
	}
	out.Passages = candidates
	out.Timing.Search = clock.lap()
	m := newMatcher(asked)
	found := gather(asked, m, candidates)
	out.Timing.Evidence = clock.lap()
	compose(out, asked, m, found, candidates)
	out.Timing.Composing = clock.lap()
	out.Timing.Total = clock.total()
	return out, nil
}
