package wording

import (
	"math"
	"slices"
	"sort"
	"sync"

	"jardinet/text"
)

// A Reader looks at texts for one question. It serves one goroutine.
type Reader struct{ reader *reader }

// Readers returns one for each core, after Ready. They remember the words that they
// have met.
func (a *Asked) Readers() []Reader {
	var out []Reader
	for _, r := range a.readers {
		out = append(out, Reader{r})
	}
	return out
}

// Word returns how near a word comes to each term, nil if it is near none. Phrases are
// not heeded.
func (r Reader) Word(t text.Token, language text.Language) []float64 {
	return r.reader.known(t, language).like
}

// Each hands the numbers below n to do on all cores, each of which has a reader of its
// own.
func (a *Asked) Each(n int, do func(r Reader, i int)) {
	var group sync.WaitGroup
	for w, r := range a.readers {
		group.Go(func() {
			for i := w; i < n; i += len(a.readers) {
				do(Reader{r}, i)
			}
		})
	}
	group.Wait()
}

// A Reading is a text as a question sees it, word by word.
type Reading struct {
	reader *reader
	tokens []text.Token
	words  []*meaning
}

// Read reads a text.
func (r Reader) Read(s string, language text.Language) *Reading {
	return r.ReadTokens(text.Tokens(s), language)
}

// ReadTokens reads the tokens of a text.
func (r Reader) ReadTokens(tokens []text.Token, language text.Language) *Reading {
	return &Reading{r.reader, tokens, r.reader.meanings(tokens, language)}
}

// A Span is what the question finds in a stretch of a text.
type Span struct {
	Exact, Alike uint64  // a bit for each term that a word is, or that one is only like
	Words, New   int     // that carry meaning; that are not even like a term
	Grammar      int     // words that only carry grammar
	Pairs        float64 // share of the neighbours in the question that are neighbours here
	Opening      uint64  // terms among the first words

	Nearness []float64 // how near its words come to each term, of 1

	reader *reader
	vector []float32
}

// So many words open a span, and so many apart words are neighbours.
const (
	opening = 4
	apart   = 3
)

// Span looks at the words between two bytes of the text.
func (r *Reading) Span(from, to int) Span {
	first := sort.Search(len(r.tokens), func(i int) bool { return r.tokens[i].Start >= from })
	last := sort.Search(len(r.tokens), func(i int) bool { return r.tokens[i].Start >= to })
	words := r.words[first:last]
	b := r.reader.half(words)
	s := Span{Nearness: b.best, reader: r.reader, vector: b.vector}
	for _, m := range words {
		switch {
		case m.stem == "":
			s.Grammar++
		case !m.known():
			s.New++
			fallthrough
		default:
			s.Words++
		}
	}
	s.Exact, s.Alike = Bits(b.best)
	s.Pairs = r.reader.pairs(words)
	exact, alike := Bits(r.reader.best(words[:min(opening, len(words))]))
	s.Opening = exact | alike
	return s
}

// Near returns how near a token comes to the term that it is nearest to.
func (r *Reading) Near(token int) float64 {
	if like := r.words[token].like; like != nil {
		return slices.Max(like)
	}
	return 0
}

// Nearness returns how near the words come to each term.
func (r *Reading) Nearness() []float64 { return r.reader.best(r.words) }

// All is the span of all words.
func (r *Reading) All() Span { return r.Span(0, math.MaxInt) }

// Share returns how much of what is asked is matched, given how near words come to
// each term.
func (a *Asked) Share(nearness []float64) float64 { return a.readers[0].share(nearness) }

// Gap returns the share of the weightiest term, as far as nothing is near it.
func (a *Asked) Gap(nearness []float64) float64 {
	r, most := a.readers[0], 0.0
	for k, s := range nearness {
		most = max(most, r.idf[k]*(1-s)/r.total)
	}
	return most
}

// Bits turns how near words come to each term into bits, for those that are there and
// those that something is only like.
func Bits(best []float64) (exact, alike uint64) {
	for k, s := range best {
		switch {
		case s == 1:
			exact |= 1 << min(k, 63)
		case s >= like:
			alike |= 1 << min(k, 63)
		}
	}
	return exact, alike &^ exact
}

// pairs returns which share of the terms that follow each other in the question
// do so, or nearly, in some words.
func (r *reader) pairs(words []*meaning) float64 {
	if len(r.terms) < 2 {
		return 0
	}
	found := make([]bool, len(r.terms)-1)
	for i, m := range words {
		for k := 0; m.like != nil && k < len(found); k++ {
			for j := i + 1; m.like[k] >= like && j <= i+apart && j < len(words); j++ {
				found[k] = found[k] || words[j].like != nil && words[j].like[k+1] >= like
			}
		}
	}
	n := 0.0
	for _, f := range found {
		if f {
			n++
		}
	}
	return n / float64(len(found))
}

// Cosine tells how nearly spans together point the way the question does.
func Cosine(spans ...Span) float64 {
	if len(spans) == 0 {
		return 0
	}
	reader := spans[0].reader
	sum := make([]float32, len(reader.vector))
	for _, s := range spans {
		for d, v := range s.vector {
			sum[d] += v
		}
	}
	return cosine(reader.vector, sum)
}
