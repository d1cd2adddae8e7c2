package answer

import (
	"context"
	"slices"
	"strings"

	"jardinet/embed"
	"jardinet/encoder"
	"jardinet/index"
	"jardinet/passage"
	"jardinet/rank"
	"jardinet/text"
)

// An Answerer answers questions from one index.
type Answerer struct {
	Index index.Searcher
	// Document tells of the document under a key of the index; ok is false
	// for one that has just been removed.
	Document func(key string) (d Document, ok bool)
	// Rank finds passages.
	Rank *rank.Ranker
	// Embed returns a question's vector in the index's space; nil or an error does
	// without.
	Embed func(ctx context.Context, question string, language text.Language) ([]float32, error)
	// Style is how answers shall be.
	Style Style
	// Found is handed the passages that will be read, the best first; nil for nobody.
	Found func(s *Search)
	// Without is told which parts of the index could not be looked at; nil for nobody.
	Without func(index.LeftOut)
	// Draft is handed what an outside model says, as it comes; nil for nobody.
	Draft func(part string)
	// Hurry is done when an outside model is no longer to be waited for; nil for never.
	Hurry context.Context
	// Only are the documents to look in, by their keys; nil for all.
	Only func(key string) bool
	// Lessons are what the collection has been taught; nil for nothing.
	Lessons *Lessons
	// Trace has answers tell how they came about.
	Trace bool
	// Again has passages read again that were read for the same question before, so that the
	// time is that of a question asked for the first time.
	Again bool
}

// A Candidate is a passage that was found for a question.
type Candidate struct {
	DocumentID string
	Ordinal    int // of the passage in it
	Document   Document
	Passage    *passage.Passage
	Score      float64
	Features   rank.Features
}

// A Search is what was found for a query, and how.
type Search struct {
	Candidates []Candidate
	Query      index.Query
	Weights    rank.Weights
	Language   text.Language // of the query
}

// Find returns the best passages for a query, without answering it. Words in
// quotes have to stand in a passage one after the other, -words must not.
func (a *Answerer) Find(ctx context.Context, query string, top int) (*Search, error) {
	q, phrases := index.ParseSearch(query, a.Index.Languages())
	if len(phrases) > 0 {
		q.Phrases, q.Verify = phrases, Holding(phrases)
	}
	return a.find(ctx, query, q, top)
}

// Holding returns what tells of a stored passage whether it holds all phrases.
func Holding(phrases [][]string) func(stored []byte) bool {
	return func(stored []byte) bool {
		p, err := passage.Decode(stored)
		return err == nil && holdsAll(p, phrases)
	}
}

// Retrieve returns the best passages for a question, as they are found to answer it: with no
// meaning in quotes and dashes.
func (a *Answerer) Retrieve(ctx context.Context, question string, top int) (*Search, error) {
	return a.find(ctx, question, index.Parse(question, a.Index.Languages()), top)
}

// holdsAll tells whether a passage, with its section path, holds all phrases.
func holdsAll(p *passage.Passage, phrases [][]string) bool {
	tokens := text.Tokens(p.SectionPath() + "\n" + p.Text)
	for _, phrase := range phrases {
		if !holds(tokens, phrase) {
			return false
		}
	}
	return true
}

func holds(tokens []text.Token, phrase []string) bool {
	for i := range len(tokens) - len(phrase) + 1 {
		if slices.EqualFunc(tokens[i:i+len(phrase)], phrase, func(t text.Token, w string) bool { return t.Word == w }) {
			return true
		}
	}
	return false
}

// find finds the best passages for a parsed query.
func (a *Answerer) find(ctx context.Context, words string, q index.Query, top int) (*Search, error) {
	out := &Search{Weights: a.Rank.Weights, Language: a.language(words)}
	q.Keep = a.Only
	err := a.Index.Correct(ctx, &q, func(word string) bool { return embed.Knows(word, out.Language) })
	if err != nil {
		return nil, err
	}
	question := rank.Question{Text: words, Language: out.Language, Query: q}
	question.Query.Vector = a.vector(ctx, words, out.Language)
	found, err := a.Rank.Search(ctx, a.Index, &question, top)
	if err != nil {
		return nil, err
	}
	if left := question.Query.LeftOut; left.Parts > 0 && a.Without != nil {
		a.Without(left)
	}
	out.Query = question.Query // with the glossary's words and their worth
	for _, c := range found {
		d, ok := a.Document(c.Hit.Key)
		if ok && len(out.Candidates) < top {
			out.Candidates = append(out.Candidates, Candidate{c.Hit.Key, c.Hit.Ordinal, d, c.Passage, c.Score, c.Features})
		}
	}
	return out, nil
}

// language guesses the language of a question, with the index's for a default.
func (a *Answerer) language(question string) text.Language {
	if languages := a.Index.Languages(); len(languages) > 0 {
		return text.Detect(question, languages[0])
	}
	return text.Detect(question, text.English)
}

// vector returns the question's vector in the index's space, nil if there is
// none.
func (a *Answerer) vector(ctx context.Context, question string, language text.Language) []float32 {
	if a.Embed == nil {
		return nil
	}
	v, err := a.Embed(ctx, a.Rank.Glossary.Explain(question, language), text.Guess(question, language))
	if err != nil {
		return nil
	}
	return v
}

// unknown returns the words of a query that no document has, nor any like them.
func (s *Search) unknown() []string {
	var out []string
	for _, t := range s.Query.Terms {
		if t.Frequency == 0 && len(t.Expansions) == 0 && t.Weight == 1 && !strings.ContainsAny(t.Word, "0123456789") {
			out = append(out, t.Word)
		}
	}
	return out
}

// meanings returns vectors of some texts in a language, all of one space.
func meanings(ctx context.Context, role encoder.Role, language text.Language, texts []string) ([][]float32, error) {
	all := make([]embed.Text, len(texts))
	for i, t := range texts {
		all[i] = embed.Text{Body: t, Language: language}
	}
	return embed.Texts(ctx, role, all...)
}
