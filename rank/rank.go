// Package rank puts passages that were found by their words into an order that
// heeds their meaning.
//
// What search by words found is looked at in windows of some forty words. A
// window is near a question if, for each word asked, it holds that word or one
// of like meaning (a soft match), and if the weighted mean of its words' vectors
// (SIF, Arora et al. 2017) points the way the question's does. Both are added to
// the score of the words, so that a question in a document's own words keeps
// its order and one in other words gains.
package rank

import (
	"math"
	"runtime"
	"slices"
	"sync"

	"jardinet/embed"
	"jardinet/index"
	"jardinet/passage"
	"jardinet/text"
)

// Windows, in words.
const stride = 20 // half of one

// A Ranker orders by the vectors of a model.
type Ranker struct {
	model *embed.Model
}

// New returns a ranker.
func New(m *embed.Model) *Ranker { return &Ranker{model: m} }

// Weights of the parts; fitted on the training half of bench/questions by page
// recall@5 and MRR@10.
const (
	wordScale    = 1.6
	vectorWeight = 0.15
	softWeight   = 1.5
	likeFrom     = 0.45 // cosine from which two words count as alike
	likeMost     = 0.8  // what a word of like meaning counts for at the most
)

// Scores returns a new score for each passage, given its score by words.
func (r *Ranker) Scores(question string, q *index.Query, passages []*passage.Passage, byWords []float64) []float64 {
	soft, near := make([]float64, len(passages)), make([]float64, len(passages))
	total := 0.0
	for _, t := range q.Terms {
		total += t.IDF * t.Weight
	}
	var group sync.WaitGroup
	workers := runtime.GOMAXPROCS(0)
	for w := range workers {
		group.Go(func() {
			a := r.ask(q)
			for i := w; i < len(passages); i += workers {
				soft[i], near[i] = a.windows(passages[i])
			}
		})
	}
	group.Wait()
	standardise(near)
	out := make([]float64, len(passages))
	for i := range passages {
		out[i] = byWords[i]/(wordScale*max(total, 1e-9)) + vectorWeight*near[i] + softWeight*soft[i]
	}
	return out
}

// A question as the ranker sees it, with what it has learnt of words that it
// has met.
type asked struct {
	*Ranker
	terms  []term
	total  float64 // idf of all
	vector []float32
	seen   map[text.Language]map[string]*meaning
}

type term struct {
	word  int // of the model, -1 if it has none
	forms []string
	idf   float64
}

// A meaning is what a word of a passage is worth to the question.
type meaning struct {
	like []float64 // how much it is each term asked; nil for not at all
	word int       // of the model, -1 if it has none
}

func (r *Ranker) ask(q *index.Query) *asked {
	a := &asked{Ranker: r, vector: make([]float32, r.model.Dimensions), seen: map[text.Language]map[string]*meaning{}}
	for _, t := range q.Terms {
		id := r.model.Find(t.Word)
		a.terms = append(a.terms, term{id, t.Forms, t.IDF * t.Weight})
		a.total += t.IDF * t.Weight
		if id >= 0 {
			r.model.Add(a.vector, id)
		}
	}
	return a
}

// meaning returns what a word means to the question.
func (a *asked) meaning(known map[string]*meaning, stemmer *text.Stemmer, t text.Token, language text.Language) *meaning {
	if m := known[t.Word]; m != nil {
		return m
	}
	word := t.Word
	if t.Number {
		word = embed.NumberWord
	}
	id := a.model.Find(word)
	m := &meaning{word: id}
	known[t.Word] = m
	if text.IsFunctionWord(t.Word, language) {
		return m
	}
	stem := stemmer.Stem(t.Word)
	like, any := make([]float64, len(a.terms)), false
	for k, asked := range a.terms {
		if slices.Contains(asked.forms, stem) {
			like[k], any = 1, true
		} else if id >= 0 && asked.word >= 0 {
			if s := a.model.Similarity(asked.word, id); s > likeFrom {
				like[k], any = likeMost*(s-likeFrom)/(1-likeFrom), true
			}
		}
	}
	if any {
		m.like = like
	}
	return m
}

// windows returns the best soft match and the best nearness of a passage's
// windows.
func (a *asked) windows(p *passage.Passage) (soft, near float64) {
	known := a.seen[p.Language]
	if known == nil {
		known = map[string]*meaning{}
		a.seen[p.Language] = known
	}
	stemmer := text.NewStemmer(p.Language)
	tokens := text.Tokens(p.SectionPath() + " " + p.Text)
	words := make([]*meaning, len(tokens))
	for i, t := range tokens {
		words[i] = a.meaning(known, stemmer, t, p.Language)
	}
	var before *block
	near = -1
	for start := 0; start == 0 || start < len(words); start += stride {
		b := a.block(words[start:min(len(words), start+stride)])
		s, n := a.window(before, b)
		soft, near = max(soft, s), max(near, n)
		before = b
	}
	return soft, near
}

// A block is half a window.
type block struct {
	best   []float64 // how near its words come to each term
	vector []float32
}

func (a *asked) block(words []*meaning) *block {
	b := &block{make([]float64, len(a.terms)), make([]float32, a.model.Dimensions)}
	for _, m := range words {
		for k, s := range m.like {
			b.best[k] = max(b.best[k], s)
		}
		if m.word >= 0 {
			a.model.Add(b.vector, m.word)
		}
	}
	return b
}

// window returns the soft match and the cosine of two blocks that follow each
// other; the first may be nil.
func (a *asked) window(first, second *block) (soft, near float64) {
	if first == nil {
		first = &block{make([]float64, len(a.terms)), make([]float32, a.model.Dimensions)}
	}
	for k := range a.terms {
		soft += a.terms[k].idf * max(first.best[k], second.best[k])
	}
	dot, x, y := 0.0, 0.0, 0.0
	for i, q := range a.vector {
		v := float64(first.vector[i] + second.vector[i])
		dot += float64(q) * v
		x += float64(q) * float64(q)
		y += v * v
	}
	if x > 0 && y > 0 {
		near = dot / math.Sqrt(x*y)
	}
	return soft / max(a.total, 1e-9), near
}

// standardise turns values into standard scores.
func standardise(values []float64) {
	mean, square := 0.0, 0.0
	for _, v := range values {
		mean += v
		square += v * v
	}
	n := float64(max(len(values), 1))
	mean /= n
	deviation := math.Sqrt(max(square/n-mean*mean, 1e-12))
	for i := range values {
		values[i] = (values[i] - mean) / deviation
	}
}
