package index

import (
	"cmp"
	"context"
	"math"
	"slices"
	"sync"
	"sync/atomic"
)

// Passages are scored in windows of so many at a time, so that their scores stay
// in the processor's nearest memory. Before a window is looked at, the most that
// its passages can score is summed up from the tables of the postings; if that is
// less than what the worst of the best so far has, it is left out, and as soon as
// that holds for what is left of the terms, so is the rest of the window, or all
// passages in it that have no term yet (after MaxScore: Turtle and Flood 1995). The
// result is that of scoring everything.
const windowSize = 512

// spread is from how many passages on a segment is searched by several
// goroutines, each a part of it.
const spread = 8192

// A bar is the score that a passage has to reach to be among the best; it is
// raised from many goroutines. Scores are positive, so their bits are in order.
type bar struct{ bits atomic.Uint64 }

func (b *bar) height() float64 { return math.Float64frombits(b.bits.Load()) }

func (b *bar) raise(to float64) {
	for {
		now := b.bits.Load()
		if math.Float64frombits(now) >= to || b.bits.CompareAndSwap(now, math.Float64bits(to)) {
			return
		}
	}
}

// A soughtForm is a form of a term with its place in the postings.
type soughtForm struct {
	cursor *cursor
	weight float64
	bound  float64 // most that it weighs in the window at hand, times its weight
}

// A sought is a term as it is looked for in a segment.
type sought struct {
	worth     float64
	must, not bool
	exact     []soughtForm
	like      []soughtForm
	// What it and the terms after it can add in the window at hand, by the words
	// asked and by those of like meaning too.
	score, wide float64
}

// A scorer scores windows of one segment. It serves one goroutine.
type scorer struct {
	segment *segment
	query   *Query
	allowed []bool
	now     averages
	terms   []sought
	musts   uint8
	anyLike bool
	top     int
	bars    *[2]bar // by words, and by words of like meaning too
	best    [2][]scored

	bodies   [1024]float64 // what an occurrence weighs by the body's length
	headings [64]float64

	from, before int // passages of the window
	scores, wide [windowSize]float64
	weights      [windowSize]float64 // of the term at hand
	have         [windowSize]uint8   // how many of the terms that a passage must have it has
	touched      []int32
	inTerm       []int32
	cursors      []*cursor
}

// A scored is a passage with its scores.
type scored struct {
	passage     int
	score, wide float64
}

// excluded marks a passage that has a word that it must not have.
const excluded = math.MaxUint8

var scorers = sync.Pool{New: func() any { return new(scorer) }}

// newScorer prepares to look for terms in a segment; forms are those it has.
func newScorer(s *segment, q *Query, now averages, forms [][]form, allowed []bool, bars *[2]bar, top int) *scorer {
	w := scorers.Get().(*scorer)
	w.segment, w.query, w.allowed, w.now, w.bars, w.top = s, q, allowed, now, bars, top
	w.musts, w.anyLike, w.terms = 0, false, w.terms[:0]
	for i := range w.bodies {
		w.bodies[i] = now.body(i)
	}
	for i := range w.headings {
		w.headings[i] = headingWeight * now.heading(i)
	}
	used := 0
	for i, term := range q.Terms {
		t := sought{worth: term.IDF * term.Weight, must: term.Must, not: term.Not}
		if term.Must {
			w.musts++
		}
		for _, f := range forms[i] {
			if used == len(w.cursors) {
				w.cursors = append(w.cursors, new(cursor))
			}
			c := w.cursors[used]
			used++
			c.open(s.segmentData, f.number, &now)
			if f.exact {
				t.exact = append(t.exact, soughtForm{cursor: c, weight: f.weight})
			} else if !term.Not {
				t.like = append(t.like, soughtForm{cursor: c, weight: f.weight})
			}
		}
		w.anyLike = w.anyLike || len(term.Expansions) > 0
		w.terms = append(w.terms, t)
	}
	// What a passage must not have is noted first; then come the rarest.
	slices.SortStableFunc(w.terms, func(a, b sought) int {
		if a.not != b.not {
			return cmp.Compare(truth(b.not), truth(a.not))
		}
		return cmp.Compare(b.worth, a.worth)
	})
	return w
}

func truth(b bool) int {
	if b {
		return 1
	}
	return 0
}

// release gives the scorer back to be used again.
func (w *scorer) release() {
	w.segment, w.query, w.allowed, w.bars = nil, nil, nil, nil
	w.best = [2][]scored{}
	scorers.Put(w)
}

// search scores the passages from one and before another.
func (w *scorer) search(ctx context.Context, from, before int) {
	for lo := from; lo < before && ctx.Err() == nil; lo += windowSize {
		w.window(lo, min(lo+windowSize, before), true)
		w.collect()
		w.reset()
	}
}

// window scores the passages from one and before another, unless none of them can
// be among the best.
func (w *scorer) window(from, before int, prune bool) {
	w.from, w.before = from, before
	if prune && !w.promises() {
		return
	}
	var most scored // of the window so far
	for i := range w.terms {
		t := &w.terms[i]
		fresh := true // passages without a term yet may be among the best
		if prune && !t.not {
			scoreBar, wideBar := w.bars[0].height(), w.bars[1].height()
			fresh = t.score >= scoreBar || w.anyLike && t.wide >= wideBar
			if !fresh && most.score+t.score < scoreBar && (!w.anyLike || most.wide+t.wide < wideBar) {
				w.reset()
				return
			}
		}
		w.term(t, fresh || t.not, &most)
	}
}

// promises sums up the most that the passages of a window can score, and tells
// whether that may be enough.
func (w *scorer) promises() bool {
	score, wide := 0.0, 0.0
	for i := len(w.terms) - 1; i >= 0; i-- {
		t := &w.terms[i]
		if !t.not {
			exact := w.bound(t.exact)
			score += gain(t.worth, exact)
			wide += gain(t.worth, exact+w.bound(t.like))
		}
		t.score, t.wide = score*slack, wide*slack
	}
	if score == 0 && wide == 0 {
		return false
	}
	return score*slack >= w.bars[0].height() || w.anyLike && wide*slack >= w.bars[1].height()
}

// slack makes up for the rounding of sums that are made in another order.
const slack = 1 + 1e-9

func (w *scorer) bound(forms []soughtForm) float64 {
	sum := 0.0
	for i := range forms {
		forms[i].bound = forms[i].weight * forms[i].cursor.most(w.from, w.before)
		sum += forms[i].bound
	}
	return sum
}

// term scores the passages of the window that have a term: first by its own forms,
// then by those of like meaning too. Unless fresh, passages that have no term yet are
// left alone.
func (w *scorer) term(t *sought, fresh bool, most *scored) {
	for i := range t.exact {
		w.add(&t.exact[i], fresh)
	}
	for _, r := range w.inTerm {
		switch {
		case t.not:
			w.have[r] = excluded
		case t.must && w.have[r] != excluded:
			w.have[r]++
		}
		if !t.not {
			w.scores[r] += gain(t.worth, w.weights[r])
			most.score = max(most.score, w.scores[r])
		}
	}
	for i := range t.like {
		w.add(&t.like[i], fresh)
	}
	for _, r := range w.inTerm {
		if w.wide[r] == 0 {
			w.touched = append(w.touched, r)
		}
		if !t.not {
			w.wide[r] += gain(t.worth, w.weights[r])
			most.wide = max(most.wide, w.wide[r])
		}
		w.weights[r] = 0
	}
	w.inTerm = w.inTerm[:0]
}

// add adds a form's postings in the window to the weights of the term at hand.
func (w *scorer) add(f *soughtForm, fresh bool) {
	c := f.cursor
	for more := c.seek(w.from); more; more = c.next() {
		for ; c.at < c.n; c.at++ {
			p := int(c.passages[c.at])
			if p >= w.before {
				return
			}
			r := p - w.from
			if !fresh && w.wide[r] == 0 {
				continue
			}
			if w.weights[r] == 0 {
				w.inTerm = append(w.inTerm, int32(r))
			}
			w.weights[r] += f.weight * w.weigh(p, c.headings[c.at], c.bodies[c.at])
		}
	}
}

// weigh returns the weighted frequency of a posting.
func (w *scorer) weigh(passage int, inHeading, inBody uint32) float64 {
	heading, body := w.segment.length(passage)
	sum := 0.0
	if body < len(w.bodies) {
		sum = float64(inBody) * w.bodies[body]
	} else {
		sum = float64(inBody) * w.now.body(body)
	}
	if inHeading > 0 {
		if heading < len(w.headings) {
			sum += float64(inHeading) * w.headings[heading]
		} else {
			sum += headingWeight * float64(inHeading) * w.now.heading(heading)
		}
	}
	return sum
}

// collect takes the passages of the window that are among the best.
func (w *scorer) collect() {
	kinds := 1
	if w.anyLike {
		kinds = 2
	}
	for _, r := range w.touched {
		s := scored{w.from + int(r), w.scores[r], w.wide[r]}
		known, ok := false, false
		for kind := range kinds {
			score := s.by(kind)
			if score == 0 || score < w.bars[kind].height() {
				continue
			}
			if !known {
				known, ok = true, w.allows(s.passage)
			}
			if ok {
				w.take(kind, s)
			}
		}
	}
}

func (s *scored) by(kind int) float64 {
	if kind == 0 {
		return s.score
	}
	return s.wide
}

// allows tells whether a passage of the window may be found.
func (w *scorer) allows(passage int) bool {
	r := passage - w.from
	return w.have[r] != excluded && w.have[r] >= w.musts && w.allowed[w.segment.documentOf(passage)] &&
		(w.query.Verify == nil || w.segment.verified(passage, w.query.Verify))
}

// take adds a passage to the best of a kind, and raises the bar when there are
// enough.
func (w *scorer) take(kind int, s scored) {
	w.best[kind] = append(w.best[kind], s)
	if len(w.best[kind]) >= 2*w.top+16 {
		w.trim(kind)
	}
}

func (w *scorer) trim(kind int) {
	best := w.best[kind]
	slices.SortFunc(best, func(a, b scored) int {
		return w.segment.compareNear(near{a.passage, a.by(kind)}, near{b.passage, b.by(kind)})
	})
	w.best[kind] = best[:min(w.top, len(best))]
	if len(best) >= w.top && w.top > 0 {
		w.bars[kind].raise(best[w.top-1].by(kind))
	}
}

func (w *scorer) reset() {
	for _, r := range w.touched {
		w.scores[r], w.wide[r], w.have[r] = 0, 0, 0
	}
	for _, r := range w.inTerm {
		w.weights[r] = 0
	}
	w.touched, w.inTerm = w.touched[:0], w.inTerm[:0]
}

// scoreOf scores one passage; the passages asked have to go upwards. ok is false
// if it may not be found.
func (w *scorer) scoreOf(passage int) (s scored, ok bool) {
	w.window(passage, passage+1, false)
	s = scored{passage, w.scores[0], w.wide[0]}
	ok = w.allows(passage)
	w.reset()
	return s, ok
}
