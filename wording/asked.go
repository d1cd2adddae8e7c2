// Package wording tells which words of a text stand for those of a question: the same, or
// by a lexicon, a collection's glossary or vectors of words, others of like meaning.
// Answers read the sentences of passages with it; passages are found by package rank.
package wording

import (
	"runtime"

	"jardinet/index"
	"jardinet/rank"
	"jardinet/text"
	"jardinet/wordvec"
)

// A Ranker knows words by the vectors of a model and by lexicons.
type Ranker struct {
	Model    *wordvec.Model
	Lexicons []*Lexicon // a collection's own first

	words dictionary
}

// New returns a ranker of the model and the lexicon that come with the program, and of a
// collection's own lexicons.
func New(own ...*Lexicon) *Ranker {
	return &Ranker{Model: wordvec.Default(), Lexicons: append(own, Default())}
}

// Ready takes over what the index has found the terms to be worth, and the words of
// like meaning; it comes before Readers.
func (a *Asked) Ready() {
	a.lower()
	a.readers = nil
	for range runtime.GOMAXPROCS(0) {
		a.readers = append(a.readers, a.reader())
	}
}

func (a *Asked) lower() {
	for k, t := range a.query.Terms {
		for _, like := range t.Expansions {
			if _, single := a.terms[k].like[like.Form]; single && !like.Part && like.Counts > 0 {
				a.terms[k].like[like.Form] = like.Counts
			}
		}
	}
}

// An Asked is a question as the ranker sees it.
type Asked struct {
	*Ranker
	query  *index.Query
	terms  []term
	vector []float32
	// Literals are what the question names letter by letter.
	Literals []string
	readers  []*reader // one a core
}

// A term is a word asked with what is like it.
type term struct {
	rows    []int32 // of the model
	forms   []string
	like    map[string]float64 // stems of like meaning
	phrases []phrase
}

// A phrase is several words that stand for a term, as stems.
type phrase struct {
	stems  []string
	weight float64
}

// Ask widens a query, which Index.Parse made of a question in some language, for
// an index of the given languages. The vector is left for the caller to put into
// the query if the index's space is the model's.
func (r *Ranker) Ask(question string, language text.Language, q *index.Query, languages []text.Language) *Asked {
	a := &Asked{Ranker: r, query: q, vector: make([]float32, r.Model.Dimensions), Literals: rank.Literals(question)}
	embedder := r.Model.NewEmbedder()
	for _, t := range q.Terms {
		rows := embedder.Rows(text.Token{Word: t.Word, Number: t.Word != "" && t.Word[0] >= '0' && t.Word[0] <= '9'}, language)
		a.terms = append(a.terms, term{rows: rows, forms: t.Forms, like: map[string]float64{}})
	}
	embedder.Embed(a.vector, text.Tokens(question), language)
	a.widen(question, language, languages)
	return a
}

// like is from when on a word of like meaning stands for one that was asked.
const like = 0.4

// Match returns a bit for each term of the query that a word of a text is, and
// one for each that none is but one is like.
func (r Reader) Match(s string, language text.Language) (exact, alike uint64) {
	return Bits(r.reader.best(r.reader.meanings(text.Tokens(s), language)))
}

// Vector returns the question's vector in the model's space.
func (a *Asked) Vector() []float32 { return a.vector }
