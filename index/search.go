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

// Parameters of BM25F. A word in the section path counts as much as
// headingWeight in the body. They were fitted by MRR@10 on the training halves
// of the demo's questions and of bench/questions. Passages are cut to a length,
// so a short one is short by chance and normalisation helps less than usual.
const (
	k1            = 1.2
	bodyB         = 0.4
	headingB      = 0.3
	headingWeight = 2
)

// A Term is one thing asked for: stems any of which will do.
type Term struct {
	Word   string // as asked, folded
	Forms  []string
	Weight float64 // 1 for a word of the question itself
	IDF    float64 // filled in by Search
}

// A Query is what is searched for.
type Query struct {
	Terms []Term
	Keep  func(key string) bool // documents to look in; nil for all
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
	Key     string // document
	Ordinal int    // of the passage within the document
	Score   float64

	segment *segment
	passage int
}

// Stored returns what was stored with the passage.
func (h *Hit) Stored() ([]byte, error) { return h.segment.storedBytes(h.passage) }

// Search returns the best passages, the best first; equal scores are ordered
// by document and place in it. It also fills in the terms' weights.
func (x *Index) Search(ctx context.Context, q *Query, top int) ([]Hit, error) {
	s := x.current.Load()
	frequencies := s.weigh(q)
	results := make([][]Hit, len(s.segments))
	var wg sync.WaitGroup
	for i := range s.segments {
		wg.Go(func() { results[i] = s.searchSegment(ctx, s.segments[i], q, frequencies[i], top) })
	}
	wg.Wait()
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	hits := slices.Concat(results...)
	slices.SortFunc(hits, compareHits)
	return hits[:min(top, len(hits))], nil
}

func compareHits(a, b Hit) int {
	return cmp.Or(cmp.Compare(b.Score, a.Score), cmp.Compare(a.Key, b.Key), cmp.Compare(a.Ordinal, b.Ordinal))
}

// weigh sets the inverse document frequency of each term and returns, by
// segment and term, the numbers of the forms that the segment has.
func (s *snapshot) weigh(q *Query) [][][]int {
	found := make([][][]int, len(s.segments))
	for i := range found {
		found[i] = make([][]int, len(q.Terms))
	}
	for t := range q.Terms {
		n := 0
		for i, seg := range s.segments {
			for _, form := range q.Terms[t].Forms {
				if at := seg.find(form); at >= 0 {
					found[i][t] = append(found[i][t], at)
					n += seg.termFrequency(at)
				}
			}
		}
		n = min(n, s.stats.Passages)
		q.Terms[t].IDF = math.Log(1 + (float64(s.stats.Passages-n)+0.5)/(float64(n)+0.5))
	}
	return found
}

// scratch is reused from search to search: scores by passage and the passages
// that have any.
type scratch struct {
	scores  []float64
	weights []float64 // of the term at hand
	touched []int32
	inTerm  []int32
}

var scratches = sync.Pool{New: func() any { return new(scratch) }}

func (s *snapshot) searchSegment(ctx context.Context, seg *segment, q *Query, forms [][]int, top int) []Hit {
	work := scratches.Get().(*scratch)
	defer scratches.Put(work)
	if n := seg.stats.Passages; len(work.scores) < n {
		work.scores, work.weights = make([]float64, n), make([]float64, n)
	}
	defer work.reset()
	averageHeading := max(1, float64(s.stats.Heading)/float64(max(1, s.stats.Passages)))
	averageBody := max(1, float64(s.stats.Body)/float64(max(1, s.stats.Passages)))
	for t := range q.Terms {
		if ctx.Err() != nil {
			return nil
		}
		for _, form := range forms[t] {
			seg.each(form, func(p posting) {
				heading, body := seg.length(p.passage)
				weight := float64(p.body) / (1 - bodyB + bodyB*float64(body)/averageBody)
				weight += headingWeight * float64(p.heading) / (1 - headingB + headingB*float64(heading)/averageHeading)
				if work.weights[p.passage] == 0 {
					work.inTerm = append(work.inTerm, int32(p.passage))
				}
				work.weights[p.passage] += weight
			})
		}
		work.endTerm(q.Terms[t].IDF * q.Terms[t].Weight)
	}
	hits := seg.best(q, work, top)
	runtime.KeepAlive(seg.segmentData)
	return hits
}

// endTerm turns the weights of one term into scores.
func (w *scratch) endTerm(worth float64) {
	for _, p := range w.inTerm {
		if w.scores[p] == 0 {
			w.touched = append(w.touched, p)
		}
		w.scores[p] += worth * w.weights[p] * (k1 + 1) / (w.weights[p] + k1)
		w.weights[p] = 0
	}
	w.inTerm = w.inTerm[:0]
}

func (w *scratch) reset() {
	for _, p := range w.touched {
		w.scores[p] = 0
	}
	for _, p := range w.inTerm {
		w.weights[p] = 0
	}
	w.touched, w.inTerm = w.touched[:0], w.inTerm[:0]
}

// best returns the top hits among the scored passages that live.
func (s *segment) best(q *Query, w *scratch, top int) []Hit {
	allowed := make([]bool, len(s.documents))
	for i, d := range s.documents {
		allowed[i] = !s.deleted[d.key] && (q.Keep == nil || q.Keep(d.key))
	}
	var hits []Hit
	worst := 0.0
	trim := func() {
		slices.SortFunc(hits, compareHits)
		hits = hits[:min(top, len(hits))]
		if len(hits) == top {
			worst = hits[top-1].Score
		}
	}
	for _, p := range w.touched {
		score := w.scores[p]
		if score < worst {
			continue
		}
		d := s.documentOf(int(p))
		if !allowed[d] {
			continue
		}
		doc := s.documents[d]
		hits = append(hits, Hit{doc.key, int(p) - doc.first, score, s, int(p)})
		if len(hits) >= 4*top+64 {
			trim()
		}
	}
	trim()
	return hits
}
