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
	"slices"

	"jardinet/embed"
	"jardinet/index"
	"jardinet/passage"
	"jardinet/text"
)

// Windows, in words.
const (
	windowWords = 40
	stride      = 20
)

// A Ranker orders by the vectors of a model.
type Ranker struct {
	model *embed.Model
}

// New returns a ranker.
func New(m *embed.Model) *Ranker { return &Ranker{model: m} }

// Weights of the parts; fitted on the training half of bench/questions.
const (
	wordScale    = 1.6
	vectorWeight = 0.15
	softWeight   = 0.75
	likeFrom     = 0.45 // cosine from which two words count as alike
	likeMost     = 0.8  // what a word of like meaning counts for at the most
)

// Scores returns a new score for each passage, given its score by words.
func (r *Ranker) Scores(question string, q *index.Query, passages []*passage.Passage, byWords []float64) []float64 {
	a := r.asked(question, q)
	soft, near := make([]float64, len(passages)), make([]float64, len(passages))
	for i, p := range passages {
		soft[i], near[i] = r.windows(a, p)
	}
	standardise(near)
	out := make([]float64, len(passages))
	for i := range passages {
		out[i] = byWords[i]/(wordScale*max(a.total, 1e-9)) + vectorWeight*near[i] + softWeight*soft[i]
	}
	return out
}

// A question as the ranker sees it.
type asked struct {
	terms  []term
	total  float64 // idf of all
	vector []float32
	alike  map[int][]float64 // how alike each term is, by word of the model
}

type term struct {
	word  int // of the model, -1 if it has none
	forms []string
	idf   float64
}

func (r *Ranker) asked(question string, q *index.Query) *asked {
	a := &asked{vector: make([]float32, r.model.Dimensions), alike: map[int][]float64{}}
	for _, t := range q.Terms {
		a.terms = append(a.terms, term{r.model.Find(t.Word), t.Forms, t.IDF * t.Weight})
		a.total += t.IDF * t.Weight
		if id := r.model.Find(t.Word); id >= 0 {
			r.model.Add(a.vector, id)
		}
	}
	return a
}

// like returns, for each term asked, how alike a word of the model is.
func (r *Ranker) like(a *asked, word int) []float64 {
	if known, ok := a.alike[word]; ok {
		return known
	}
	out := make([]float64, len(a.terms))
	for i, t := range a.terms {
		if t.word < 0 {
			continue
		}
		if s := r.model.Similarity(t.word, word); s > likeFrom {
			out[i] = likeMost * (s - likeFrom) / (1 - likeFrom)
		}
	}
	a.alike[word] = out
	return out
}

// windows returns the best soft match and the best cosine of a passage's
// windows.
func (r *Ranker) windows(a *asked, p *passage.Passage) (soft, near float64) {
	stemmer := text.NewStemmer(p.Language)
	tokens := text.Tokens(p.SectionPath() + " " + p.Text)
	matches := make([][]float64, len(tokens))
	ids := make([]int, len(tokens))
	for i, t := range tokens {
		word := t.Word
		if t.Number {
			word = embed.NumberWord
		}
		ids[i] = r.model.Find(word)
		if text.IsFunctionWord(t.Word, p.Language) {
			continue
		}
		var like []float64
		if ids[i] >= 0 {
			like = r.like(a, ids[i])
		}
		stem := stemmer.Stem(t.Word)
		for k, asked := range a.terms {
			if slices.Contains(asked.forms, stem) {
				like = append(slices.Clone(like), make([]float64, len(a.terms)-len(like))...)
				like[k] = 1
			}
		}
		matches[i] = like
	}
	near = -1
	sum := make([]float32, r.model.Dimensions)
	best := make([]float64, len(a.terms))
	for start := 0; start == 0 || start+stride < len(tokens); start += stride {
		end := min(len(tokens), start+windowWords)
		clear(best)
		clear(sum)
		for i := start; i < end; i++ {
			for k, s := range matches[i] {
				best[k] = max(best[k], s)
			}
			if ids[i] >= 0 {
				r.model.Add(sum, ids[i])
			}
		}
		total := 0.0
		for k, s := range best {
			total += a.terms[k].idf * s
		}
		soft = max(soft, total/max(a.total, 1e-9))
		near = max(near, cosine(a.vector, sum))
	}
	return soft, near
}

func cosine(a, b []float32) float64 {
	dot, x, y := 0.0, 0.0, 0.0
	for i := range a {
		dot += float64(a[i]) * float64(b[i])
		x += float64(a[i]) * float64(a[i])
		y += float64(b[i]) * float64(b[i])
	}
	if x == 0 || y == 0 {
		return 0
	}
	return dot / math.Sqrt(x*y)
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
