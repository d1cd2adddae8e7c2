// Package rank puts passages into an order that heeds what they mean, and
// widens a search so that those in other words are among them.
//
// A question is widened by a lexicon (words that stand for each other) and by a
// vector, so that the index finds three kinds of passages: those that hold the
// words asked, words of like meaning, or whose vector points the way the
// question's does. Each is then looked at in windows of some forty words. A
// window is near a question if it holds, for each word asked, that word or one
// like it (a soft match), and if the sum of its words' vectors points the way the
// question's does. These and a few more features are added up with weights that
// bench/fit fits on the training questions.
package rank

import (
	"cmp"
	"runtime"
	"slices"

	"jardinet/embed"
	"jardinet/index"
	"jardinet/passage"
	"jardinet/text"
)

// A Ranker orders passages by the vectors of a model and by lexicons.
type Ranker struct {
	Model    *embed.Model
	Lexicons []*Lexicon // a collection's own first
	Weights  Weights

	words dictionary
}

// New returns a ranker of the model, the lexicon and the weights that come with
// the program, and of a collection's own lexicons.
func New(own ...*Lexicon) *Ranker {
	return &Ranker{Model: embed.Default(), Lexicons: append(own, Default()), Weights: DefaultWeights()}
}

// A Candidate is a passage that a search found.
type Candidate struct {
	Hit      index.Hit
	Passage  *passage.Passage
	Features Features
	Raw      Features // before they were turned into standard scores
	Score    float64
}

// Order scores candidates and puts the best first. The question is Ready.
func (r *Ranker) Order(a *Asked, candidates []Candidate) {
	a.Each(len(candidates), func(reader Reader, i int) { reader.reader.fill(&candidates[i]) })
	for i := range candidates {
		candidates[i].Raw = candidates[i].Features
	}
	standardise(candidates)
	for i := range candidates {
		candidates[i].Score = score(&r.Weights, &candidates[i].Features)
	}
	slices.SortStableFunc(candidates, func(a, b Candidate) int {
		return cmp.Or(cmp.Compare(b.Score, a.Score), cmp.Compare(a.Hit.Key, b.Hit.Key), cmp.Compare(a.Hit.Ordinal, b.Hit.Ordinal))
	})
}

// Ready takes over what the index has found the terms to be worth, and the words of
// like meaning; it comes before Order and Readers.
func (a *Asked) Ready() {
	a.lower()
	a.readers = nil
	for range runtime.GOMAXPROCS(0) {
		a.readers = append(a.readers, a.reader())
	}
}

func (a *Asked) lower() {
	for k, t := range a.query.Terms {
		for _, like := range t.Alike {
			if _, single := a.terms[k].like[like.Form]; single && !like.Part {
				a.terms[k].like[like.Form] = like.Weight
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
	readers  []*reader // that Order used, one a core
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
	a := &Asked{Ranker: r, query: q, vector: make([]float32, r.Model.Dimensions), Literals: Literals(question)}
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
