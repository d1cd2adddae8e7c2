package wording

import (
	"math"
	"slices"

	"jardinet/text"
	"jardinet/wordvec"
)

// From which cosine two words count as alike, and what one of like meaning
// counts for at the most.
const (
	likeFrom = 0.5
	likeMost = 0.8
)

// A reader looks at passages for one question and remembers the words that it
// has met. It serves one goroutine.
type reader struct {
	*Asked
	embedder *wordvec.Embedder
	idf      []float64 // by term
	total    float64
	seen     map[text.Language]map[string]*meaning
	stemmers map[text.Language]*text.Stemmer // for words not in the dictionary yet
}

// A meaning is what a word of a passage is worth to the question.
type meaning struct {
	form string
	stem string    // the same, or empty if the word only carries grammar
	like []float64 // how much it is each term asked; nil for not at all
	rows []int32   // of the model
}

// known tells whether a word is one of those asked, or like one.
func (m *meaning) known() bool {
	return slices.ContainsFunc(m.like, func(s float64) bool { return s >= like })
}

// reader is called after the search, which fills in the terms' IDF.
func (a *Asked) reader() *reader {
	r := &reader{Asked: a, embedder: a.Model.NewEmbedder(), seen: map[text.Language]map[string]*meaning{}, stemmers: map[text.Language]*text.Stemmer{}, total: 1e-9}
	for _, t := range a.query.Terms {
		r.idf = append(r.idf, t.IDF*t.Weight)
		r.total += t.IDF * t.Weight
	}
	return r
}

// meanings looks at the words of a text.
func (r *reader) meanings(tokens []text.Token, language text.Language) []*meaning {
	out := make([]*meaning, len(tokens))
	for i, t := range tokens {
		out[i] = r.known(t, language)
	}
	return r.phrases(out)
}

// known returns the meaning of a word, which it remembers.
func (r *reader) known(t text.Token, language text.Language) *meaning {
	if r.seen[language] == nil {
		r.seen[language], r.stemmers[language] = map[string]*meaning{}, text.NewStemmer(language)
	}
	m := r.seen[language][t.Word]
	if m == nil {
		m = r.meaning(t, language)
		r.seen[language][t.Word] = m
	}
	return m
}

func (r *reader) meaning(t text.Token, language text.Language) *meaning {
	known := r.words.look(t, language, r)
	m := &meaning{rows: known.rows, form: known.form, stem: known.stem}
	if m.stem == "" {
		return m
	}
	for k := range r.terms {
		if s := r.likeness(&r.terms[k], m, language); s > 0 {
			if m.like == nil {
				m.like = make([]float64, len(r.terms))
			}
			m.like[k] = s
		}
	}
	m.settle()
	return m
}

// settle has a word that is one of those asked stand for no other: that trees are
// named does not tell that they were planted.
func (m *meaning) settle() {
	if !slices.Contains(m.like, 1) {
		return
	}
	for k, s := range m.like {
		if s < 1 {
			m.like[k] = 0
		}
	}
}

// likeness is how much a word is like a term.
func (r *reader) likeness(t *term, m *meaning, language text.Language) float64 {
	if slices.Contains(t.forms, m.stem) {
		return 1
	}
	if len(t.forms) > 0 && r.forbidden(language, t.forms[0], m.stem) {
		return 0
	}
	most := t.like[m.stem]
	if s := r.Model.Nearest(t.rows, m.rows); s > likeFrom {
		most = max(most, likeMost*(s-likeFrom)/(1-likeFrom))
	}
	return most
}

// phrases marks the last words of phrases that stand for a term.
func (r *reader) phrases(words []*meaning) []*meaning {
	for k := range r.terms {
		for _, p := range r.terms[k].phrases {
			for i := len(p.stems) - 1; i < len(words); i++ {
				if !endsAt(words, i, p.stems) || words[i].like != nil && words[i].like[k] >= p.weight {
					continue
				}
				m := *words[i]
				m.like = make([]float64, len(r.terms))
				copy(m.like, words[i].like)
				m.like[k] = p.weight
				words[i] = &m
			}
		}
	}
	return words
}

func endsAt(words []*meaning, i int, stems []string) bool {
	for k, stem := range stems {
		if words[i-len(stems)+1+k].form != stem {
			return false
		}
	}
	return true
}

// A block is half a window.
type block struct {
	best   []float64 // how near its words come to each term
	vector []float32
}

func (r *reader) half(words []*meaning) *block {
	b := &block{r.best(words), make([]float32, r.Model.Dimensions)}
	for _, m := range words {
		for _, row := range m.rows {
			r.Model.Add(b.vector, int(row))
		}
	}
	return b
}

// best returns how near some words come to each term.
func (r *reader) best(words []*meaning) []float64 {
	out := make([]float64, len(r.terms))
	for _, m := range words {
		for k, s := range m.like {
			out[k] = max(out[k], s)
		}
	}
	return out
}

// share returns how much of what is asked is matched.
func (r *reader) share(best []float64) float64 {
	sum := 0.0
	for k, s := range best {
		sum += r.idf[k] * s
	}
	return sum / r.total
}

func cosine(a, b []float32) float64 {
	var dot, x, y float32
	for i, v := range a {
		w := b[i]
		dot += v * w
		x += v * v
		y += w * w
	}
	if x == 0 || y == 0 {
		return 0
	}
	return float64(dot) / math.Sqrt(float64(x)*float64(y))
}
