package rank

import (
	"testing"

	"jardinet/embed"
	"jardinet/index"
	"jardinet/passage"
)

// small is a model in which a furnace is near an incinerator and far from a
// fern.
func small(t testing.TB) *embed.Model {
	t.Helper()
	data := embed.Encode([]string{"fern", "furnace", "incinerator", "water"}, []int{9, 9, 9, 9},
		[]float32{0, 1, 0, 1, 0, 0, 0.95, 0.1, 0, 0, 0.9, 0.4}, 3, nil)
	m, err := embed.Decode(data)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func query(words ...string) *index.Query {
	q := &index.Query{}
	for _, w := range words {
		q.Terms = append(q.Terms, index.Term{Word: w, Forms: []string{w}, Weight: 1, IDF: 3})
	}
	return q
}

func TestLikeMeaningComesFirst(t *testing.T) {
	r := New(small(t))
	passages := []*passage.Passage{
		{Text: "Water the fern.", Language: "en"},
		{Text: "The incinerator is lit at six.", Language: "en"},
	}
	scores := r.Scores("When is the furnace lit?", query("furnace"), passages, []float64{1, 1})
	if scores[1] <= scores[0] {
		t.Errorf("scores are %v", scores)
	}
}

func TestTheWordItselfBeatsOneLikeIt(t *testing.T) {
	r := New(small(t))
	passages := []*passage.Passage{
		{Text: "The incinerator is lit at six.", Language: "en"},
		{Text: "The furnace is lit at six.", Language: "en"},
	}
	scores := r.Scores("When is the furnace lit?", query("furnace"), passages, []float64{0, 3})
	if scores[1] <= scores[0] {
		t.Errorf("scores are %v", scores)
	}
}

func TestWordsUnknownToTheModelKeepTheirOrder(t *testing.T) {
	r := New(small(t))
	passages := []*passage.Passage{{Text: "QX-7 is closed.", Language: "en"}, {Text: "Nothing.", Language: "en"}, {}}
	scores := r.Scores("QX-7?", query("qx-7"), passages, []float64{3, 1, 0})
	if !(scores[0] > scores[1] && scores[1] >= scores[2]) {
		t.Errorf("scores are %v", scores)
	}
	if got := r.Scores("", &index.Query{}, nil, nil); len(got) != 0 {
		t.Errorf("nothing scores %v", got)
	}
}
