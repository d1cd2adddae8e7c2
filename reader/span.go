package reader

import (
	"math"
	"strings"

	"jardinet/passage"
)

// mostWords is how many words a span has at the most.
const mostWords = 16

// Span returns the bytes of the passage that answer, within the sentences from first to
// last, and their probability among all spans of the passage; 0 if nothing is read there.
func (r *Reading) Span(p *passage.Passage, first, last int) (from, to int, likely float64) {
	best, begins, ends := math.Inf(-1), math.Inf(-1), math.Inf(-1)
	for _, w := range r.words {
		begins, ends = max(begins, w.begins), max(ends, w.ends)
	}
	allBegins, allEnds := 0.0, 0.0
	for _, w := range r.words {
		allBegins += math.Exp(w.begins - begins)
		allEnds += math.Exp(w.ends - ends)
	}
	for i, w := range r.words {
		if w.sentence < first || w.sentence > last {
			continue
		}
		for j := i; j < len(r.words) && j < i+mostWords && r.words[j].sentence == w.sentence; j++ {
			if score := w.begins - begins + r.words[j].ends - ends; score > best {
				best, from, to = score, w.start, r.words[j].end
			}
		}
	}
	if math.IsInf(best, -1) {
		return 0, 0, 0
	}
	from, to = bare(p.Text, from, to)
	return from, to, math.Exp(best) / (allBegins * allEnds)
}

// bare leaves off the marks around a span that belong to its sentence.
func bare(s string, from, to int) (int, int) {
	inside := strings.TrimRight(s[from:to], ".,;:!?")
	inside = strings.TrimSuffix(unbracket(inside), " ")
	if inside == "" {
		return from, to
	}
	at := strings.Index(s[from:to], inside)
	return from + at, from + at + len(inside)
}

// pairs are what opens and what closes.
var pairs = [][2]string{{"(", ")"}, {"[", "]"}, {"“", "”"}, {"‘", "’"}, {"„", "“"}, {"«", "»"}}

// unbracket takes off a bracket or quotation mark that has no other half in a text.
func unbracket(s string) string {
	for _, p := range pairs {
		if strings.HasPrefix(s, p[0]) && !strings.Contains(s, p[1]) {
			s = strings.TrimPrefix(s, p[0])
		}
		if strings.HasSuffix(s, p[1]) && !strings.Contains(s, p[0]) {
			s = strings.TrimSuffix(s, p[1])
		}
	}
	return s
}

// Trained tells whether the reading is the trained reader's, and not put together from
// elsewhere.
func (r *Reading) Trained() bool { return r.words != nil }
