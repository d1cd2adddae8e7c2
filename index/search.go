package index

import (
	"cmp"
	"context"
	"math"
	"runtime"
	"slices"
	"sync"

	"jardinet/text"
)

// A Term is one thing asked for: stems any of which will do.
type Term struct {
	Word       string // as asked, folded
	Forms      []string
	Expansions []Expansion
	Weight     float64 // 1 for a word of the question itself
	Must       bool    // a passage without it is not found
	Not        bool    // a passage with it is not found

	IDF       float64 // filled in by Search
	Frequency int     // passages that have one of the forms; filled in by Search
}

// An Expansion is a form of like meaning.
type Expansion struct {
	Form   string
	Weight float64 // between 0 and 1
	Part   bool    // stands for a term only together with other words

	Counts float64 // the weight, lowered for one that is common; filled in by Search
}

// A Query is what is searched for.
type Query struct {
	Terms []Term
	Keep  func(key string) bool // documents to look in; nil for all
	// Vector, in the index's space, finds passages whose own is near; nil for
	// none.
	Vector []float32
	// Corrected are the words that were taken for misspelt.
	Corrected []Correction
	// Verify is asked about what is stored with a passage that is about to be
	// found; nil for no more conditions.
	Verify func(stored []byte) bool
}

// Parse makes a query of a question: its words without those that only carry
// grammar, each stemmed by the rules of every language of the index.
func (x *Index) Parse(question string) Query {
	languages := x.Languages()
	if len(languages) == 0 {
		languages = []text.Language{text.English}
	}
	asked := text.Detect(question, languages[0])
	all := parse(question, languages, func(string) bool { return false })
	terms := parse(question, languages, func(word string) bool { return text.IsFunctionWord(word, asked) })
	if len(terms) == 0 {
		terms = all
	}
	return Query{Terms: terms}
}

func parse(question string, languages []text.Language, skip func(string) bool) []Term {
	var terms []Term
	seen := map[string]bool{}
	stemmers := make([]*text.Stemmer, len(languages))
	for i, language := range languages {
		stemmers[i] = text.NewStemmer(language)
	}
	for _, token := range text.Tokens(question) {
		if skip(token.Word) {
			continue
		}
		term := Term{Word: token.Word, Weight: 1}
		for _, s := range stemmers {
			if stem := s.Stem(token.Word); !slices.Contains(term.Forms, stem) {
				term.Forms = append(term.Forms, stem)
			}
		}
		if !seen[term.Forms[0]] {
			seen[term.Forms[0]] = true
			terms = append(terms, term)
		}
	}
	return terms
}

// A Hit is a passage that was found.
type Hit struct {
	Key       string  // document
	Ordinal   int     // of the passage within the document
	Score     float64 // by the words asked
	Expanded  float64 // by those of like meaning too
	Cosine    float64 // cosine of the vectors
	HasVector bool    // it has a vector

	segment *segment
	passage int
}

// Stored returns what was stored with the passage.
func (h *Hit) Stored() ([]byte, error) { return h.segment.storedBytes(h.passage) }

// Search returns the best passages by the words asked, the best first; equal
// scores are ordered by document and place in it. Where the query has words of
// like meaning or a vector, the best by those follow, at most as many again each.
// It also fills in the terms' IDF.
func (x *Index) Search(ctx context.Context, q *Query, top int) ([]Hit, error) {
	return x.Prepare(q).Best(ctx, top)
}

// A Prepared is a query with the worth of its terms in one state of the index.
type Prepared struct {
	snapshot *snapshot
	query    *Query
	forms    [][][]form // by segment and term
}

// Prepare fills in the IDF of a query's terms, once. What is found with it is found in
// the index as it is now.
func (x *Index) Prepare(q *Query) *Prepared {
	s := x.current.Load()
	return &Prepared{s, q, s.weigh(q)}
}

// Best is Search.
func (w *Prepared) Best(ctx context.Context, top int) ([]Hit, error) {
	s := w.snapshot
	t := aim(w.query.Vector)
	results := make([]results, len(s.segments))
	var bars [2]bar
	var wg sync.WaitGroup
	for i := range s.segments {
		wg.Go(func() { results[i] = s.searchSegment(ctx, s.segments[i], w.query, w.forms[i], t, &bars, top) })
	}
	wg.Wait()
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	return merge(results, top), nil
}

// At returns certain passages, by document and place in it, with what the query finds
// in them. Those that are gone, or where the query does not look, are left out.
func (w *Prepared) At(ordinals map[string][]int) []Hit {
	s := w.snapshot
	t := aim(w.query.Vector)
	wanted := make([][]near, len(s.segments))
	for key, all := range ordinals {
		at, ok := s.keys[key]
		if !ok {
			continue
		}
		seg := s.segments[at.segment]
		for _, ordinal := range all {
			if d := seg.documents[at.document]; ordinal < d.count {
				wanted[at.segment] = append(wanted[at.segment], near{d.first + ordinal, seg.cosineOf(d.first+ordinal, t)})
			}
		}
	}
	var out []Hit
	for i, seg := range s.segments {
		out = append(out, s.scoreNearest(seg, w.query, w.forms[i], seg.allowed(w.query), new([2]bar), wanted[i])...)
	}
	slices.SortFunc(out, compareHits)
	return out
}

// results are the best hits of a segment: by words, by words of like meaning
// and by vector.
type results [3][]Hit

// orders compares hits in the order of each list of results.
var orders = [3]func(a, b Hit) int{
	compareHits,
	func(a, b Hit) int { return cmp.Or(cmp.Compare(b.Expanded, a.Expanded), compareHits(a, b)) },
	func(a, b Hit) int { return cmp.Or(cmp.Compare(b.Cosine, a.Cosine), compareHits(a, b)) },
}

func compareHits(a, b Hit) int {
	return cmp.Or(cmp.Compare(b.Score, a.Score), cmp.Compare(a.Key, b.Key), cmp.Compare(a.Ordinal, b.Ordinal))
}

// merge joins the results of all segments without naming a passage twice.
func merge(all []results, top int) []Hit {
	type place struct {
		segment *segment
		passage int
	}
	seen := map[place]bool{}
	var out []Hit
	for k, order := range orders {
		var hits []Hit
		for _, r := range all {
			hits = append(hits, r[k]...)
		}
		slices.SortFunc(hits, order)
		for _, h := range hits[:min(top, len(hits))] {
			if at := (place{h.segment, h.passage}); !seen[at] {
				seen[at] = true
				out = append(out, h)
			}
		}
	}
	slices.SortFunc(out, func(a, b Hit) int { return cmp.Or(cmp.Compare(b.Score, a.Score), orders[2](a, b)) })
	return out
}

// A form is a term of a segment, by number, with what it counts for.
type form struct {
	number int
	weight float64
	exact  bool
}

// A found term is one of a segment, by their numbers.
type foundTerm struct{ segment, term int }

// weigh sets the inverse document frequency of each term and returns, by
// segment and term, the forms that the segment has. A term that no passage has
// is as rare as what is like it, in another language perhaps; if there is nothing
// like it either it weighs the most.
func (s *snapshot) weigh(q *Query) [][][]form {
	found := make([][][]form, len(s.segments))
	for i := range found {
		found[i] = make([][]form, len(q.Terms))
	}
	for t := range q.Terms {
		term, n, like := &q.Terms[t], 0, make([]int, len(q.Terms[t].Expansions))
		for i, seg := range s.segments {
			for _, word := range term.Forms {
				if at := seg.find(word); at >= 0 {
					found[i][t] = append(found[i][t], form{at, 1, true})
					n += seg.termFrequency(at)
				}
			}
		}
		places := make([][]foundTerm, len(term.Expansions))
		for k, a := range term.Expansions {
			for i, seg := range s.segments {
				if at := seg.find(a.Form); at >= 0 {
					places[k] = append(places[k], foundTerm{i, at})
					like[k] += seg.termFrequency(at)
				}
			}
		}
		term.Frequency = min(n, s.stats.Passages)
		if term.IDF = s.idf(term.Frequency); n == 0 {
			term.IDF = s.idfOfLike(term, like)
		}
		for k := range term.Expansions {
			a := &term.Expansions[k]
			a.Counts = a.Weight * rarity(s.idf(like[k]), term.IDF)
			for _, p := range places[k] {
				found[p.segment][t] = append(found[p.segment][t], form{p.term, a.Counts, false})
			}
		}
	}
	return found
}

// rarity is what a word of like meaning counts for by how often it is there: one that
// is commoner than the word asked tells less of what was meant.
func rarity(like, asked float64) float64 {
	if like >= asked {
		return 1
	}
	return math.Sqrt(like / asked)
}

// idf is the inverse document frequency of what n passages have.
func (s *snapshot) idf(n int) float64 {
	n = min(n, s.stats.Passages)
	return math.Log(1 + (float64(s.stats.Passages-n)+0.5)/(float64(n)+0.5))
}

// idfOfLike is the mean of those of the words that are like a term, by how often
// each is there; that of nothing if none is.
func (s *snapshot) idfOfLike(term *Term, frequencies []int) float64 {
	sum, n := 0.0, 0.0
	for k, a := range term.Expansions {
		if !a.Part && frequencies[k] > 0 {
			sum += a.Weight * s.idf(frequencies[k])
			n += a.Weight
		}
	}
	if n == 0 {
		return s.idf(0)
	}
	return sum / n
}

// searchSegment returns the best passages of a segment.
func (s *snapshot) searchSegment(ctx context.Context, seg *segment, q *Query, forms [][]form, t *target, bars *[2]bar, top int) (out results) {
	allowed := seg.allowed(q)
	now := s.stats.averages()
	var nearest []near
	var group sync.WaitGroup
	group.Go(func() { nearest = seg.nearest(ctx, t, allowed, top) })
	n := seg.stats.Passages
	parts := 1
	if n >= spread {
		parts = runtime.GOMAXPROCS(0)
	}
	found := make([][2][]scored, parts)
	for i := range parts {
		group.Go(func() {
			w := newScorer(seg, q, now, forms, allowed, bars, top)
			defer w.release()
			w.search(ctx, i*n/parts, (i+1)*n/parts)
			w.trim(0)
			w.trim(1)
			found[i] = w.best
		})
	}
	group.Wait()
	for _, part := range found {
		for kind, best := range part {
			for _, b := range best {
				out[kind] = append(out[kind], seg.hit(b, seg.cosineOf(b.passage, t)))
			}
		}
	}
	out[2] = s.scoreNearest(seg, q, forms, allowed, bars, nearest)
	runtime.KeepAlive(seg.segmentData)
	return out
}

// scoreNearest scores the passages that were found by their vectors.
func (s *snapshot) scoreNearest(seg *segment, q *Query, forms [][]form, allowed []bool, bars *[2]bar, nearest []near) []Hit {
	if len(nearest) == 0 {
		return nil
	}
	slices.SortFunc(nearest, func(a, b near) int { return cmp.Compare(a.passage, b.passage) })
	w := newScorer(seg, q, s.stats.averages(), forms, allowed, bars, 0)
	defer w.release()
	var out []Hit
	for _, n := range nearest {
		if b, ok := w.scoreOf(n.passage); ok {
			out = append(out, seg.hit(b, n.cosine))
		}
	}
	return out
}

// allowed tells of each document whether it may be found.
func (s *segment) allowed(q *Query) []bool {
	out := make([]bool, len(s.documents))
	for i, d := range s.documents {
		out[i] = !s.deleted[d.key] && (q.Keep == nil || q.Keep(d.key))
	}
	return out
}

// verified asks the caller about what is stored with a passage.
func (s *segment) verified(passage int, verify func(stored []byte) bool) bool {
	stored, err := s.storedBytes(passage)
	return err == nil && verify(stored)
}

func (s *segment) hit(b scored, cosine float64) Hit {
	d := s.documents[s.documentOf(b.passage)]
	return Hit{d.key, b.passage - d.first, b.score, b.wide, cosine, s.hasVector(b.passage), s, b.passage}
}
