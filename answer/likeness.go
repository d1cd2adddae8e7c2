package answer

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"sync"

	"jardinet/rank"
	"jardinet/wording"
)

// Likeness is what is known of a question and a lesson. Shares are of the worth of
// words, between 0 and 1.
//
// The question is compared with the lesson's, with all lessons of the same place
// together and with what stands there: that none of a place's lessons has all of its
// words matters little if one has these and another has those. And it is compared with
// how like it the lessons of other places are, since of two that have the same words in
// part at most one is right.
type Likeness struct {
	Asked   float64 // of the question's words that stand in the lesson, or words like them
	Exact   float64 // of those that stand there word for word
	Lesson  float64 // of the lesson's words that stand in the question, or words like them
	Gap     float64 // of the question's weightiest word, as far as nothing in the lesson is near it
	Spare   float64 // the same of the lesson's
	Pairs   float64 // of the question's words side by side that are so in the lesson
	Cosine  float64 // of their vectors
	Kind    float64 // 1 if they ask for the same kind of answer
	Words   float64 // of all words of both, with those of grammar, that both have
	Unnamed float64 // 1 if one names something that the other does not
	Opposed float64 // 1 if the lesson speaks of the contrary

	Stated    float64 // of the question's words that stand in the place, or its headings
	United    float64 // of those that stand in some lesson of the place
	Whole     float64 // of those that stand in either
	Fully     float64 // the product of Whole and Lesson
	Unfit     float64 // 1 if the kind of thing asked for does not stand in the place
	Misnumber float64 // of the question's numbers that name something, those that stand in neither

	Ahead float64 // Whole less the most of a lesson of another place
	Lead  float64 // Fully less the same
}

// Vector returns the numbers in a fixed order, after a one; LikenessNames names them.
func (l *Likeness) Vector() []float64 {
	return []float64{1, l.Asked, l.Exact, l.Lesson, l.Gap, l.Spare, l.Pairs, l.Cosine, l.Kind, l.Words, l.Unnamed, l.Opposed, l.Stated, l.United, l.Whole, l.Fully, l.Unfit, l.Misnumber, l.Ahead, l.Lead}
}

// LikenessNames are the names of Vector's numbers.
var LikenessNames = []string{"base", "asked", "exact", "lesson", "gap", "spare", "pairs", "cosine", "kind", "words", "unnamed", "opposed", "stated", "united", "whole", "fully", "unfit", "misnumber", "ahead", "lead"}

// lessons.json is written by bench/answers.
//
//go:embed lessons.json
var fittedLessons []byte

// schooled is what was fitted for lessons.
var schooled = sync.OnceValue(func() *schooling {
	out := new(schooling)
	if err := json.Unmarshal(fittedLessons, out); err != nil {
		panic(fmt.Errorf("answer: lessons.json: %w", err)) // the program was built wrong
	}
	return out
})

// A schooling is what was fitted.
type schooling struct {
	Likeness    map[string]float64 `json:"likeness"`
	Evidence    map[string]float64 `json:"evidence"`   // beside those that hold without lessons
	Calibration calibration        `json:"confidence"` // of answers that need a lesson
}

// taughtWeights are the weights of the features where lessons have a say.
var taughtWeights = sync.OnceValue(func() []float64 {
	out := slices.Clone(evidenceWeights())
	for i, more := range ordered(FeatureNames, schooled().Evidence) {
		out[i] += more
	}
	return out
})

// likenessTo compares a question, which has some words and names, with a lesson, and
// returns how near its words come to each term too, nil if they come nowhere near any.
func (l *learnt) likenessTo(q *question, m *matcher, words map[string]bool, names []string, reader wording.Reader) (Likeness, []float64) {
	asked := m.asked
	reading := reader.ReadTokens(l.tokens, l.language)
	span := reading.All()
	out := Likeness{Asked: asked.Share(span.Nearness)}
	if out.Asked == 0 {
		return out, nil
	}
	for _, t := range l.terms {
		near := 0.0
		for _, i := range t.at {
			near = max(near, reading.Near(i))
		}
		out.Lesson += t.worth * near
		out.Spare = max(out.Spare, t.worth*(1-near))
	}
	out.Exact, out.Gap, out.Pairs, out.Cosine = asked.Share(whole(span.Nearness)), asked.Gap(span.Nearness), span.Pairs, wording.Cosine(span)
	out.Words = 2 * shared(words, l.words) * float64(len(words)) / float64(len(words)+len(l.words))
	out.Kind = one(l.want == q.want && l.units == q.units && (l.counted == q.counted || m.things[l.counted] || l.counted == "" || q.counted == ""))
	named := within(l.names, words) && within(names, l.words) && slices.Equal(l.numbers, q.numbers) && holdsEach(l.text, asked.Literals) && holdsEach(q.standalone, l.literals)
	out.Unnamed, out.Opposed = one(!named), one(q.opposes(l.text))
	return out, span.Nearness
}

// whole leaves of how near words come to each term those that are the term.
func whole(nearness []float64) []float64 {
	out := make([]float64, len(nearness))
	for i, n := range nearness {
		out[i] = math.Floor(n)
	}
	return out
}

// within tells whether all words are in a set.
func within(words []string, set map[string]bool) bool {
	return !slices.ContainsFunc(words, func(w string) bool { return !set[w] })
}

// holdsEach tells whether all literals stand in a text.
func holdsEach(s string, literals []string) bool {
	return !slices.ContainsFunc(literals, func(l string) bool { return !rank.Holds(s, l) })
}

// likenessWeights are the weights of the numbers, in the order of Vector.
var likenessWeights = sync.OnceValue(func() []float64 { return ordered(LikenessNames, schooled().Likeness) })

func (l *Likeness) probability() float64 { return logistic(likenessWeights(), l.Vector()) }
