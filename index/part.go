package index

import (
	"context"
	"maps"
	"math"
	"slices"

	"jardinet/text"
)

// An index may be one of several parts, each with some of the documents, on other hosts perhaps.
// How rare a word is and how long a passage is in comparison is a matter of all of them: so each
// part first tells how often it has what is asked for (Counts), the sums of that say what the
// terms are worth (Weigh), and with it each part is searched (Part). What is found, once it is joined
// (Merge), has the scores that it would have in one index.

// A Searcher is an index, or parts that together are one.
type Searcher interface {
	// Languages returns the languages of the passages, the most frequent first.
	Languages() []text.Language
	// Correct looks for words of the query that no passage has.
	Correct(ctx context.Context, q *Query, known func(word string) bool) error
	// Search returns the best passages, and fills in the worth of the query's terms.
	Search(ctx context.Context, q *Query, top int) ([]Hit, error)
	// Document visits what is stored with each passage of a document, in order.
	Document(key string, visit func(ordinal int, stored []byte) error) error
	// Keys returns the keys of all documents, sorted.
	Keys() []string
	// Passages returns the number of passages that can be found.
	Passages() int
	// Generation counts the writes, so that it tells whether anything changed.
	Generation() uint64
}

// Totals are the sums over an index, or a part of one, that ranking needs.
type Totals struct {
	Passages  int                   `json:"passages"`
	Heading   int                   `json:"heading"` // words
	Body      int                   `json:"body"`
	Languages map[text.Language]int `json:"languages,omitempty"` // passages
}

// Add adds those of another part.
func (t *Totals) Add(o Totals) {
	t.Passages, t.Heading, t.Body = t.Passages+o.Passages, t.Heading+o.Heading, t.Body+o.Body
	if t.Languages == nil {
		t.Languages = map[text.Language]int{}
	}
	for language, n := range o.Languages {
		t.Languages[language] += n
	}
}

// ByFrequency returns the languages, the most frequent first.
func (t *Totals) ByFrequency() []text.Language {
	return slices.SortedFunc(maps.Keys(t.Languages), func(a, b text.Language) int {
		return byCount(t.Languages[a], t.Languages[b], string(a), string(b))
	})
}

// Totals returns the sums over the index.
func (x *Index) Totals() Totals { return x.current.Load().totals() }

func (s *snapshot) totals() Totals {
	out := Totals{Passages: s.stats.Passages, Heading: s.stats.Heading, Body: s.stats.Body, Languages: map[text.Language]int{}}
	for _, seg := range s.segments {
		for language, n := range seg.languages {
			out.Languages[language] += n
		}
	}
	return out
}

// Frequencies tell in how many passages each term of a query is, and each of its expansions; a
// passage with two forms of a term counts twice.
type Frequencies struct {
	Terms      []int   `json:"terms"`
	Expansions [][]int `json:"expansions,omitempty"` // by term
}

// NoFrequencies returns those of an empty index.
func NoFrequencies(q *Query) Frequencies {
	out := Frequencies{Terms: make([]int, len(q.Terms)), Expansions: make([][]int, len(q.Terms))}
	for t := range q.Terms {
		out.Expansions[t] = make([]int, len(q.Terms[t].Expansions))
	}
	return out
}

// Counts returns in how many passages each of some forms is.
func (x *Index) Counts(forms []string) []int {
	s := x.current.Load()
	out := make([]int, len(forms))
	for _, seg := range s.segments {
		for i, form := range forms {
			if at := seg.find(form); at >= 0 {
				out[i] += seg.termFrequency(at)
			}
		}
	}
	return out
}

// FrequenciesBy returns the frequencies of a query by what is known of each of its forms.
func FrequenciesBy(q *Query, count func(form string) int) Frequencies {
	out := NoFrequencies(q)
	for t := range q.Terms {
		for _, form := range q.Terms[t].Forms {
			out.Terms[t] += count(form)
		}
		for k := range q.Terms[t].Expansions {
			out.Expansions[t][k] = count(q.Terms[t].Expansions[k].Form)
		}
	}
	return out
}

// Part returns the best passages of the index as a part of one with these totals. The query has
// been weighed.
func (x *Index) Part(ctx context.Context, q *Query, totals Totals, top int) (Found, error) {
	s := x.current.Load()
	all := stats{Passages: totals.Passages, Heading: totals.Heading, Body: totals.Body}
	return s.best(ctx, q, s.find(q), all.averages(), top)
}

// A foundForm is a term of a segment that is asked for: one of a term's own forms, or the expansion
// of a number.
type foundForm struct {
	at        int // in the segment
	expansion int // -1 for a form of the term itself
}

// find looks up, by segment and term, what the segment has of what is asked for.
func (s *snapshot) find(q *Query) [][][]foundForm {
	out := make([][][]foundForm, len(s.segments))
	for i, seg := range s.segments {
		out[i] = make([][]foundForm, len(q.Terms))
		for t := range q.Terms {
			for _, word := range q.Terms[t].Forms {
				if at := seg.find(word); at >= 0 {
					out[i][t] = append(out[i][t], foundForm{at, -1})
				}
			}
			for k := range q.Terms[t].Expansions {
				if at := seg.find(q.Terms[t].Expansions[k].Form); at >= 0 {
					out[i][t] = append(out[i][t], foundForm{at, k})
				}
			}
		}
	}
	return out
}

func (s *snapshot) frequencies(q *Query, places [][][]foundForm) Frequencies {
	out := NoFrequencies(q)
	for i, seg := range s.segments {
		for t, forms := range places[i] {
			for _, f := range forms {
				if n := seg.termFrequency(f.at); f.expansion < 0 {
					out.Terms[t] += n
				} else {
					out.Expansions[t][f.expansion] += n
				}
			}
		}
	}
	return out
}

// Weigh sets what each term of a query counts for by how rare it is among all passages. A term that
// no passage has is as rare as what is like it, in another language perhaps; if there is nothing
// like it either it weighs the most.
func (q *Query) Weigh(totals Totals, f Frequencies) {
	n := totals.Passages
	for t := range q.Terms {
		term := &q.Terms[t]
		term.Frequency = min(f.Terms[t], n)
		if term.IDF = idf(term.Frequency, n); f.Terms[t] == 0 {
			term.IDF = idfOfLike(term, f.Expansions[t], n)
		}
		for k := range term.Expansions {
			a := &term.Expansions[k]
			a.Counts = a.Weight * rarity(idf(f.Expansions[t][k], n), term.IDF)
		}
	}
}

// A form is a term of a segment, by number, with what it counts for.
type form struct {
	number int
	weight float64
	exact  bool
}

// formsOf returns by term what a segment has of it, with what that counts for.
func formsOf(q *Query, places [][]foundForm) [][]form {
	out := make([][]form, len(places))
	for t, forms := range places {
		for _, f := range forms {
			if f.expansion < 0 {
				out[t] = append(out[t], form{f.at, 1, true})
			} else {
				out[t] = append(out[t], form{f.at, q.Terms[t].Expansions[f.expansion].Counts, false})
			}
		}
	}
	return out
}

// rarity is what a word of like meaning counts for by how often it is there: one that
// is commoner than the word asked tells less of what was meant.
func rarity(like, asked float64) float64 {
	if like >= asked {
		return 1
	}
	return math.Sqrt(like / asked)
}

// idf is the inverse document frequency of what n passages of all have.
func idf(n, all int) float64 {
	n = min(n, all)
	return math.Log(1 + (float64(all-n)+0.5)/(float64(n)+0.5))
}

// idfOfLike is the mean of those of the words that are like a term, by how often
// each is there; that of nothing if none is.
func idfOfLike(term *Term, frequencies []int, all int) float64 {
	sum, n := 0.0, 0.0
	for k, a := range term.Expansions {
		if !a.Part && frequencies[k] > 0 {
			sum += a.Weight * idf(frequencies[k], all)
			n += a.Weight
		}
	}
	if n == 0 {
		return idf(0, all)
	}
	return sum / n
}
