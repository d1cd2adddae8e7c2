package answer

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"jardinet/encoder"
	"jardinet/index"
	"jardinet/passage"
	"jardinet/text"
)

// A Lesson is a question to which somebody has shown where its answer stands. The same
// question is answered from there, and so is one that means the same.
type Lesson struct {
	Question string
	After    []string // earlier questions that it leans on
	At       []Place  // any of which bears the answer
}

// asked is the lesson's question as it is read.
func (l *Lesson) asked() string {
	if len(l.After) == 0 {
		return l.Question
	}
	return l.After[len(l.After)-1] + " " + l.Question
}

// A Place is a sentence of a passage of a document.
type Place struct {
	Key               string // of the document
	Ordinal, Sentence int
}

// Lessons are what a collection has been taught, made ready for comparing. They may be
// used by many goroutines.
type Lessons struct {
	all     []Lesson
	vectors [][]float32
}

// SameMeaning is the cosine of two questions from which they are taken for one.
const SameMeaning = 0.93

// Learn makes lessons ready. What known ones have for the same questions is taken over;
// known may be nil.
func (a *Answerer) Learn(ctx context.Context, lessons []Lesson, known *Lessons) (*Lessons, error) {
	out := &Lessons{all: lessons}
	vectors := map[string][]float32{}
	if known != nil {
		for i := range known.all {
			vectors[known.all[i].asked()] = known.vectors[i]
		}
	}
	for _, l := range lessons {
		v, ok := vectors[l.asked()]
		if !ok {
			made, err := meanings(ctx, encoder.Query, text.Guess(l.asked(), a.language(l.asked())), []string{l.asked()})
			if err != nil {
				return nil, fmt.Errorf("answer: lesson %q: %w", l.Question, err)
			}
			v = made[0]
		}
		out.vectors = append(out.vectors, v)
	}
	return out, nil
}

// Same returns the first lesson before that of a number that means the same, or false.
func (l *Lessons) Same(number int) (Lesson, bool) {
	for i := range number {
		if l.alike(i, l.all[number].asked(), l.vectors[number]) >= SameMeaning {
			return l.all[i], true
		}
	}
	return Lesson{}, false
}

// alike is how much a lesson's question means what another does: 1 if their words are the
// same. Questions with other numbers never are.
func (l *Lessons) alike(i int, question string, vector []float32) float64 {
	asked := l.all[i].asked()
	if text.Normal(asked) == text.Normal(question) {
		return 1
	}
	if !slices.Equal(numbersIn(asked), numbersIn(question)) {
		return 0
	}
	return encoder.Cosine(l.vectors[i], vector)
}

// A recalled lesson is one that means what was asked.
type recalled struct {
	lesson Lesson
	alike  float64
}

// recall returns the places that lessons show for a question, and sees to it that they are
// among the passages that are read.
func (a *Answerer) recall(ctx context.Context, t *attempt) []Place {
	l := a.Lessons
	if l == nil || len(l.all) == 0 {
		return nil
	}
	v, err := meanings(ctx, encoder.Query, text.Guess(t.question, t.search.Language), []string{t.question})
	if err != nil {
		return nil
	}
	for i := range l.all {
		if alike := l.alike(i, t.question, v[0]); alike >= SameMeaning {
			t.recalled = append(t.recalled, recalled{l.all[i], alike})
		}
	}
	slices.SortStableFunc(t.recalled, func(x, y recalled) int { return cmp.Compare(y.alike, x.alike) })
	for _, r := range t.recalled {
		var out []Place
		for _, at := range r.lesson.At {
			if (a.Only == nil || a.Only(at.Key)) && a.bring(t.search, at) {
				out = append(out, at)
			}
		}
		if len(out) > 0 {
			return out
		}
	}
	return nil
}

// bring adds the passage of a place to what was found, if it is not there.
func (a *Answerer) bring(s *Search, at Place) bool {
	for _, c := range s.Candidates {
		if c.DocumentID == at.Key && c.Ordinal == at.Ordinal {
			return true
		}
	}
	d, ok := a.Document(at.Key)
	if !ok {
		return false
	}
	there := false
	err := a.Index.Document(at.Key, func(ordinal int, stored []byte) error {
		if ordinal != at.Ordinal {
			return nil
		}
		p, err := passage.Decode(stored)
		if err == nil && at.Sentence < len(p.Sentences) {
			there = true
			s.Candidates = append(s.Candidates, Candidate{DocumentID: at.Key, Ordinal: ordinal, Document: d, Passage: p})
		}
		return err
	})
	return there && err == nil
}

// Without returns the lessons but those that some tell to leave out.
func (l *Lessons) Without(omit func(Lesson) bool) *Lessons {
	if l == nil {
		return nil
	}
	out := &Lessons{}
	for i, one := range l.all {
		if !omit(one) {
			out.all, out.vectors = append(out.all, one), append(out.vectors, l.vectors[i])
		}
	}
	return out
}

// A Quotation is some words of a document, and the page that they stand on.
type Quotation struct {
	Page int // physical; 0 if it may be any
	Text string
}

// recognised is the share of a quotation's words that a sentence has at least to be the one
// that was meant: quotations break off, and tables are copied in many ways.
const recognised = 0.6

// Locate returns the sentences of a document that hold each of some quotations, none
// for one that does not stand in it any more.
func Locate(x index.Searcher, key string, quotations []Quotation) ([][]Place, error) {
	best := make([]float64, len(quotations))
	out := make([][]Place, len(quotations))
	normal, sets := make([]string, len(quotations)), make([]map[string]bool, len(quotations))
	for i, q := range quotations {
		normal[i], sets[i], best[i] = " "+text.Normal(q.Text)+" ", wordSet(q.Text), recognised
	}
	err := x.Document(key, func(ordinal int, stored []byte) error {
		p, err := passage.Decode(stored)
		if err != nil {
			return err
		}
		for n, s := range p.Sentences {
			words, whole := wordSet(sentence(p, n)), " "+text.Normal(sentence(p, n))+" "
			for i, q := range quotations {
				if q.Page > 0 && !slices.ContainsFunc(s.Marks, func(m passage.Mark) bool { return m.Page == q.Page }) {
					continue
				}
				share := shared(sets[i], words)
				if strings.Contains(whole, normal[i]) {
					share = 2
				}
				switch {
				case share < best[i] || share == 0:
				case share == best[i]:
					out[i] = append(out[i], Place{key, ordinal, n})
				default:
					best[i], out[i] = share, []Place{{key, ordinal, n}}
				}
			}
		}
		return nil
	})
	return out, err
}

// shared is the share of some words that are among others.
func shared(words, others map[string]bool) float64 {
	n := 0.0
	for w := range words {
		if others[w] {
			n++
		}
	}
	return n / max(1, float64(len(words)))
}
