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
	Alike  []Alike
	Weight float64 // 1 for a word of the question itself
	Must   bool    // a passage without it is not found
	Not    bool    // a passage with it is not found

	IDF       float64 // filled in by Search
	Frequency int     // passages that have one of the forms; filled in by Search
}

// An Alike is a form of like meaning.
type Alike struct {
	Form   string
	Weight float64 // between 0 and 1
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
	Key     string  // document
	Ordinal int     // of the passage within the document
	Score   float64 // by the words asked
	Wide    float64 // by those of like meaning too
	Near    float64 // cosine of the vectors

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
	s := x.current.Load()
	found := s.weigh(q)
	t := aim(q.Vector)
	results := make([]results, len(s.segments))
	var wg sync.WaitGroup
	for i := range s.segments {
		wg.Go(func() { results[i] = s.searchSegment(ctx, s.segments[i], q, found[i], t, top) })
	}
	wg.Wait()
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	return merge(results, top), nil
}

// results are the best hits of a segment: by words, by words of like meaning
// and by vector.
type results [3][]Hit

// orders compares hits in the order of each list of results.
var orders = [3]func(a, b Hit) int{
	compareHits,
	func(a, b Hit) int { return cmp.Or(cmp.Compare(b.Wide, a.Wide), compareHits(a, b)) },
	func(a, b Hit) int { return cmp.Or(cmp.Compare(b.Near, a.Near), compareHits(a, b)) },
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

// whole is the weight of a form from which it stands for a term by itself, and
// not as a word of a phrase.
const whole = 0.5

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
		term, n, like := &q.Terms[t], 0, 0
		for i, seg := range s.segments {
			for _, word := range term.Forms {
				if at := seg.find(word); at >= 0 {
					found[i][t] = append(found[i][t], form{at, 1, true})
					n += seg.termFrequency(at)
				}
			}
		}
		for _, a := range term.Alike {
			for i, seg := range s.segments {
				if at := seg.find(a.Form); at >= 0 {
					found[i][t] = append(found[i][t], form{at, a.Weight, false})
					if a.Weight >= whole {
						like += seg.termFrequency(at)
					}
				}
			}
		}
		term.Frequency = min(n, s.stats.Passages)
		if n == 0 {
			n = like
		}
		n = min(n, s.stats.Passages)
		term.IDF = math.Log(1 + (float64(s.stats.Passages-n)+0.5)/(float64(n)+0.5))
	}
	return found
}

// scratch is reused from search to search: scores by passage and the passages
// that have any.
type scratch struct {
	scores, wide []float64
	weights      []float64 // of the term at hand
	must         []uint8   // how many of the terms that a passage must have it has
	touched      []int32
	inTerm       []int32
}

var scratches = sync.Pool{New: func() any { return new(scratch) }}

func (w *scratch) fit(n int) {
	if len(w.scores) < n {
		w.scores, w.wide, w.weights, w.must = make([]float64, n), make([]float64, n), make([]float64, n), make([]uint8, n)
	}
}

func (s *snapshot) searchSegment(ctx context.Context, seg *segment, q *Query, forms [][]form, t *target, top int) (out results) {
	work := scratches.Get().(*scratch)
	defer scratches.Put(work)
	work.fit(seg.stats.Passages)
	defer work.reset()
	scorer := scorer{
		segment: seg, scratch: work,
		heading: max(1, float64(s.stats.Heading)/float64(max(1, s.stats.Passages))),
		body:    max(1, float64(s.stats.Body)/float64(max(1, s.stats.Passages))),
	}
	allowed := seg.allowed(q)
	var nearest []near
	var vectors sync.WaitGroup
	vectors.Go(func() { nearest = seg.nearest(ctx, t, allowed, top) })
	defer vectors.Wait() // it reads the mapping
	musts, wide := uint8(0), false
	for i, term := range q.Terms {
		if ctx.Err() != nil {
			return out
		}
		wide = wide || len(term.Alike) > 0
		if term.Must {
			musts++
		}
		scorer.term(ctx, &term, forms[i])
	}
	ok := func(p int) bool {
		return work.must[p] >= musts && (q.Verify == nil || seg.verified(p, q.Verify))
	}
	out[0] = seg.best(work, allowed, work.scores, ok, t, top)
	if wide {
		out[1] = seg.best(work, allowed, work.wide, ok, t, top)
	}
	vectors.Wait()
	for _, n := range nearest {
		if ok(n.passage) && work.must[n.passage] != excluded {
			out[2] = append(out[2], seg.hit(n.passage, work, n.cosine))
		}
	}
	runtime.KeepAlive(seg.segmentData)
	return out
}

// excluded marks a passage that has a word that it must not have.
const excluded = math.MaxUint8

// A scorer adds up scores in one segment.
type scorer struct {
	*segment
	*scratch
	heading, body float64 // average lengths
}

// pause is after how many postings it is asked whether to go on.
const pause = 1 << 14

// term scores the passages that have a term: first by its own forms, then by
// those of like meaning too.
func (s *scorer) term(ctx context.Context, t *Term, forms []form) {
	worth := t.IDF * t.Weight
	exact := 0
	for _, f := range forms {
		if f.exact {
			s.add(ctx, f)
			exact++
		}
	}
	for _, p := range s.inTerm {
		if t.Not {
			s.must[p] = excluded
		} else if t.Must && s.must[p] != excluded {
			s.must[p]++
		}
		s.scores[p] += gain(worth, s.weights[p])
	}
	if !t.Not && exact < len(forms) {
		for _, f := range forms {
			if !f.exact {
				s.add(ctx, f)
			}
		}
	}
	for _, p := range s.inTerm {
		s.wide[p] += gain(worth, s.weights[p])
		s.weights[p] = 0
	}
	s.inTerm = s.inTerm[:0]
}

// gain is what a weighted frequency adds to a score.
func gain(worth, weight float64) float64 { return worth * weight * (k1 + 1) / (weight + k1) }

// add adds a form's postings to the weights of the term at hand.
func (s *scorer) add(ctx context.Context, f form) {
	n := 0
	s.each(f.number, func(p posting) bool {
		heading, body := s.length(p.passage)
		weight := float64(p.body) / (1 - bodyB + bodyB*float64(body)/s.body)
		weight += headingWeight * float64(p.heading) / (1 - headingB + headingB*float64(heading)/s.heading)
		if s.weights[p.passage] == 0 {
			s.inTerm = append(s.inTerm, int32(p.passage))
			if s.wide[p.passage] == 0 {
				s.touched = append(s.touched, int32(p.passage))
			}
		}
		s.weights[p.passage] += f.weight * weight
		n++
		return n%pause != 0 || ctx.Err() == nil
	})
}

func (w *scratch) reset() {
	for _, p := range w.touched {
		w.scores[p], w.wide[p], w.must[p] = 0, 0, 0
	}
	for _, p := range w.inTerm {
		w.weights[p] = 0
	}
	w.touched, w.inTerm = w.touched[:0], w.inTerm[:0]
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

func (s *segment) hit(p int, w *scratch, cosine float64) Hit {
	d := s.documents[s.documentOf(p)]
	return Hit{d.key, p - d.first, w.scores[p], w.wide[p], cosine, s, p}
}

// best returns the top passages of allowed documents by one kind of score.
func (s *segment) best(w *scratch, allowed []bool, scores []float64, ok func(int) bool, t *target, top int) []Hit {
	var found []near // the cosine being the score
	worst := 0.0
	trim := func() {
		slices.SortFunc(found, s.compareNear)
		found = found[:min(top, len(found))]
		if len(found) == top {
			worst = found[top-1].cosine
		}
	}
	for _, at := range w.touched {
		p := int(at)
		score := scores[p]
		if score == 0 || score < worst || w.must[p] == excluded || !allowed[s.documentOf(p)] || !ok(p) {
			continue
		}
		found = append(found, near{p, score})
		if len(found) >= 4*top+64 {
			trim()
		}
	}
	trim()
	hits := make([]Hit, len(found))
	for i, f := range found {
		hits[i] = s.hit(f.passage, w, s.cosineOf(f.passage, t))
	}
	return hits
}
