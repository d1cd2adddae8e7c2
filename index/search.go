package index

import (
	"cmp"
	"context"
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
	// Phrases are what Verify looks for, if that is all it does, in words that other hosts understand.
	Phrases [][]string
	// LeftOut says which parts of the index could not be looked at.
	LeftOut LeftOut
}

// LeftOut says which parts of an index a search did without.
type LeftOut struct {
	Parts int      `json:"shards"`
	Of    int      `json:"of"`
	Hosts []string `json:"hosts"` // that did not answer in time
}

// Parse is that for a question in the languages of the index.
func (x *Index) Parse(question string) Query { return Parse(question, x.Languages()) }

// Parse makes a query of a question: its words without those that only carry
// grammar, each stemmed by the rules of every language of an index.
func Parse(question string, languages []text.Language) Query {
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
	stored  []byte // of one that was found on another host
}

// Stored returns what was stored with the passage.
func (h *Hit) Stored() ([]byte, error) {
	if h.segment == nil {
		return h.stored, nil
	}
	return h.segment.storedBytes(h.passage)
}

// WithStored returns a hit from another host with what is stored there.
func (h Hit) WithStored(stored []byte) Hit {
	h.segment, h.stored = nil, stored
	return h
}

// Search returns the best passages by the words asked, the best first; equal
// scores are ordered by document and place in it. Where the query has words of
// like meaning or a vector, the best by those follow, at most as many again each.
// It also fills in the terms' IDF.
func (x *Index) Search(ctx context.Context, q *Query, top int) ([]Hit, error) {
	s := x.current.Load()
	places := s.find(q)
	q.Weigh(s.totals(), s.frequencies(q, places))
	found, err := s.best(ctx, q, places, s.stats.averages(), top)
	if err != nil {
		return nil, err
	}
	return Merge([]Found{found}, top), nil
}

// best returns the best of all segments.
func (s *snapshot) best(ctx context.Context, q *Query, places [][][]foundForm, now averages, top int) (Found, error) {
	t := aim(q.Vector)
	found := make([]Found, len(s.segments))
	var bars [2]bar
	var wg sync.WaitGroup
	for i := range s.segments {
		wg.Go(func() { found[i] = s.searchSegment(ctx, s.segments[i], q, formsOf(q, places[i]), t, now, &bars, top) })
	}
	wg.Wait()
	return Join(found, top), ctx.Err()
}

// Found are the best hits of a part of an index: by words, by words of like meaning
// and by vector.
type Found [3][]Hit

// orders compares hits in the order of each list of results.
var orders = [3]func(a, b Hit) int{
	compareHits,
	func(a, b Hit) int { return cmp.Or(cmp.Compare(b.Expanded, a.Expanded), compareHits(a, b)) },
	func(a, b Hit) int { return cmp.Or(cmp.Compare(b.Cosine, a.Cosine), compareHits(a, b)) },
}

func compareHits(a, b Hit) int {
	return cmp.Or(cmp.Compare(b.Score, a.Score), cmp.Compare(a.Key, b.Key), cmp.Compare(a.Ordinal, b.Ordinal))
}

// Join joins what was found in several parts of an index into the best of each kind.
func Join(parts []Found, top int) (out Found) {
	for k, order := range orders {
		for _, p := range parts {
			out[k] = append(out[k], p[k]...)
		}
		slices.SortFunc(out[k], order)
		out[k] = out[k][:min(top, len(out[k]))]
	}
	return out
}

// Merge joins what was found in several parts of an index without naming a passage twice.
func Merge(parts []Found, top int) []Hit {
	type place struct {
		key     string
		ordinal int
	}
	seen := map[place]bool{}
	var out []Hit
	for _, hits := range Join(parts, top) {
		for _, h := range hits {
			if at := (place{h.Key, h.Ordinal}); !seen[at] {
				seen[at] = true
				out = append(out, h)
			}
		}
	}
	slices.SortFunc(out, func(a, b Hit) int { return cmp.Or(cmp.Compare(b.Score, a.Score), orders[2](a, b)) })
	return out
}

// searchSegment returns the best passages of a segment.
func (s *snapshot) searchSegment(ctx context.Context, seg *segment, q *Query, forms [][]form, t *target, now averages, bars *[2]bar, top int) (out Found) {
	allowed := seg.allowed(q)
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
	out[2] = s.scoreNearest(seg, q, forms, allowed, now, bars, nearest)
	runtime.KeepAlive(seg.segmentData)
	return out
}

// scoreNearest scores the passages that were found by their vectors.
func (s *snapshot) scoreNearest(seg *segment, q *Query, forms [][]form, allowed []bool, now averages, bars *[2]bar, nearest []near) []Hit {
	if len(nearest) == 0 {
		return nil
	}
	slices.SortFunc(nearest, func(a, b near) int { return cmp.Compare(a.passage, b.passage) })
	w := newScorer(seg, q, now, forms, allowed, bars, 0)
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
	return Hit{d.key, b.passage - d.first, b.score, b.wide, cosine, s.hasVector(b.passage), s, b.passage, nil}
}
