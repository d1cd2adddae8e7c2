package rank

import (
	"strings"
	"testing"

	"jardinet/passage"
)

func BenchmarkScores(b *testing.B) {
	r := New(small(b))
	var passages []*passage.Passage
	for range 100 {
		passages = append(passages, &passage.Passage{Language: "en", Text: strings.Repeat("The duty officer closes the valve and writes the reading into the humidity log before the gates open. ", 8)})
	}
	scores := make([]float64, 100)
	q := query("furnace", "pressure", "evening", "visitor")
	b.ReportAllocs()
	for b.Loop() {
		r.Scores("Which furnace pressure is written in the evening by a visitor?", q, passages, scores)
	}
}
