package answer

import (
	"strings"
	"time"

	"jardinet/text"
)

// Bounds on what contradicts a statement: how likely it has to be, against it, to
// answer the question, an older edition's lag not counted, and which share of its
// words, without the figures, has to be the same.
const (
	contraryAt   = 0.25
	contraryLike = 0.6
)

// contrary returns the evidence of another document that says nearly the same with
// another figure, date or name. Two sentences of one document speak of two things.
func contrary(q *question, m *matcher, best evidence, found []evidence, candidates []Candidate) (evidence, bool) {
	said := short(q, m, best.text, candidates[best.candidate].Passage.Language)
	if said == "" || q.compare {
		return evidence{}, false
	}
	for _, e := range found {
		score := e.score
		if e.outdated {
			score += outOfDate
		}
		c := candidates[e.candidate]
		if better(score, best.score) < contraryAt || c.DocumentID == candidates[best.candidate].DocumentID || !sameBut(best.text, e.text) {
			continue
		}
		if saysOtherwise(short(q, m, e.text, c.Passage.Language), said, best.text) {
			return e, true
		}
	}
	return evidence{}, false
}

// saysOtherwise tells whether a short answer is another than the one that was said from
// a sentence, and stands not in that sentence either.
func saysOtherwise(other, said, from string) bool {
	return other != "" && !strings.EqualFold(other, said) && !text.Contains(from, other)
}

// sameBut tells whether two sentences share most of their words without figures.
func sameBut(a, b string) bool {
	x, y := plainWords(a), plainWords(b)
	shared := 0
	for w := range x {
		if y[w] {
			shared++
		}
	}
	return shared > 1 && float64(shared) >= contraryLike*float64(max(len(x), len(y)))
}

func plainWords(s string) map[string]bool {
	out := wordSet(s)
	for w := range out {
		if w[0] >= '0' && w[0] <= '9' || numberWord.MatchString(w) {
			delete(out, w)
		}
	}
	return out
}

// dated names a document with the year of its edition or the day it was put in.
func dated(d Document) string {
	title := d.Title
	if title == "" {
		title = d.Name
	}
	if years.MatchString(title) || d.Added.IsZero() {
		return title
	}
	return title + " (put in on " + d.Added.Format(time.DateOnly) + ")"
}
