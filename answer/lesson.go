package answer

import (
	"cmp"
	_ "embed"
	"encoding/json"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"
	"sync"

	"jardinet/index"
	"jardinet/passage"
	"jardinet/rank"
	"jardinet/text"
)

// A Lesson is a question to which somebody has shown where its answer stands. The same
// question is answered from there, and so is one in much the same words, likely: that
// whoever asks "when does the dustcart come?" means the collection of waste need not be
// known twice.
type Lesson struct {
	Question string
	After    []string // earlier questions that it leans on
	At       []Place  // any of which bears the answer
}

// A Place is a sentence of a passage of a document.
type Place struct {
	Key               string // of the document
	Ordinal, Sentence int
}

// Lessons are what a collection has been taught, made ready for comparing. They may be
// used by many goroutines.
type Lessons struct {
	all    []learnt
	folded map[string]bool // their questions
}

// A learnt lesson is one as a question sees it.
type learnt struct {
	Lesson
	text     string // standalone
	folded   string
	want     want
	units    *regexp.Regexp
	counted  string
	language text.Language
	worth    map[string]float64 // of its words
	total    float64            // of all
	names    []string
	numbers  []string
	literals []string
}

// Learn makes lessons ready.
func (a *Asker) Learn(lessons []Lesson) *Lessons {
	out := &Lessons{folded: map[string]bool{}}
	for _, l := range lessons {
		q := a.analyse(l.Question, l.After)
		folded := foldedQuestion(q.standalone)
		soften(&q.query, folded)
		a.Index.Weigh(&q.query)
		one := learnt{Lesson: l, text: q.standalone, folded: folded, want: q.want, units: q.units, counted: q.counted, language: q.language, worth: map[string]float64{}, names: properNames(q.standalone, q.language), numbers: q.numbers, literals: rank.Literals(q.standalone)}
		for _, t := range q.query.Terms {
			one.worth[t.Word] = t.IDF * t.Weight
			one.total += t.IDF * t.Weight
		}
		if one.total > 0 {
			out.all = append(out.all, one)
			out.folded[one.folded] = true
		}
	}
	return out
}

// Without returns the lessons but those that some tell to leave out.
func (l *Lessons) Without(omit func(Lesson) bool) *Lessons {
	if l == nil {
		return nil
	}
	out := &Lessons{folded: map[string]bool{}}
	for _, one := range l.all {
		if !omit(one.Lesson) {
			out.all = append(out.all, one)
			out.folded[one.folded] = true
		}
	}
	return out
}

// know tells whether the very question was taught.
func (l *Lessons) know(q *question) bool { return l != nil && l.folded[foldedQuestion(q.standalone)] }

// Likeness is what is known of a question and a lesson. Shares are of the worth of
// words, between 0 and 1.
type Likeness struct {
	Asked   float64 // of the question's words that stand in the lesson, or words like them
	Exact   float64 // of those that stand there word for word
	Lesson  float64 // of the lesson's words that stand in the question, or words like them
	Both    float64 // the product of Asked and Lesson
	Gap     float64 // of the question's weightiest word, as far as nothing in the lesson is near it
	Spare   float64 // the same of the lesson's
	Pairs   float64 // of the question's words side by side that are so in the lesson
	Cosine  float64 // of their vectors
	Kind    float64 // 1 if they ask for the same kind of answer
	Unnamed float64 // 1 if one names something that the other does not
	Opposed float64 // 1 if the lesson speaks of the contrary
}

// Vector returns the numbers in a fixed order, after a one; LikenessNames names them.
func (l *Likeness) Vector() []float64 {
	return []float64{1, l.Asked, l.Exact, l.Lesson, l.Both, l.Gap, l.Spare, l.Pairs, l.Cosine, l.Kind, l.Unnamed, l.Opposed}
}

// LikenessNames are the names of Vector's numbers.
var LikenessNames = []string{"base", "asked", "exact", "lesson", "both", "gap", "spare", "pairs", "cosine", "kind", "unnamed", "opposed"}

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
	for i, name := range FeatureNames {
		out[i] += schooled().Evidence[name]
	}
	return out
})

// A Recalled lesson is one that a question is like.
type Recalled struct {
	Lesson
	Likeness Likeness
	Likely   float64 // the probability that its evidence answers the question
}

// A recollection is what lessons say of a question.
type recollection struct {
	likest []Recalled      // the likest first
	told   map[Place]marks // terms of the question that stand in lessons, by what these tell of
	taught map[Place]float64
}

// So many lessons are recalled for a question at most; so many, and none less likely
// than that, have a say in the answer.
const (
	mostRecalled = 40
	mostHeeded   = 8
	leastHeeded  = 0.05
)

// recall returns what lessons say of a question, those alone that tell of a document
// which may be looked in; nil allows all.
func (l *Lessons) recall(q *question, asked *rank.Asked, allowed func(key string) bool) *recollection {
	out := &recollection{told: map[Place]marks{}, taught: map[Place]float64{}}
	if l == nil || len(l.all) == 0 {
		return out
	}
	readers := asked.Readers()
	parts := make([][]Recalled, len(readers))
	has, folded := make([]marks, len(l.all)), foldedQuestion(q.standalone)
	names := properNames(q.standalone, q.language)
	var group sync.WaitGroup
	for w, reader := range readers {
		group.Go(func() {
			for i := w; i < len(l.all); i += len(readers) {
				if allowed != nil && !slices.ContainsFunc(l.all[i].At, func(at Place) bool { return allowed(at.Key) }) {
					continue
				}
				var likeness Likeness
				if likeness, has[i] = l.all[i].likeness(q, names, asked, reader); likeness.Asked > 0 {
					likely := likeness.probability()
					if l.all[i].folded == folded {
						likely = 1 // somebody has said so
					}
					parts[w] = append(parts[w], Recalled{l.all[i].Lesson, likeness, likely})
				}
			}
		})
	}
	group.Wait()
	for i, m := range has {
		for _, at := range l.all[i].At {
			if m.any() != 0 {
				out.told[at] = out.told[at].or(m)
			}
		}
	}
	out.likest = slices.Concat(parts...)
	slices.SortStableFunc(out.likest, func(a, b Recalled) int {
		return cmp.Or(cmp.Compare(b.Likely, a.Likely), cmp.Compare(a.Question, b.Question))
	})
	out.likest = out.likest[:min(len(out.likest), mostRecalled)]
	for _, r := range out.heeded() {
		for _, at := range r.At {
			out.taught[at] = 1 - (1-out.taught[at])*(1-r.Likely) // any of them may be right
		}
	}
	return out
}

// heeded returns the lessons that have a say.
func (r *recollection) heeded() []Recalled {
	if r == nil {
		return nil
	}
	n := 0
	for n < min(len(r.likest), mostHeeded) && r.likest[n].Likely >= leastHeeded {
		n++
	}
	return r.likest[:n:n]
}

// of returns what lessons say of a place: the terms that stand in them, and how likely it
// bears the answer.
func (r *recollection) of(at Place) (marks, float64) {
	if r == nil {
		return marks{}, 0
	}
	return r.told[at], r.taught[at]
}

// remember adds the passages that lessons tell of to the candidates.
func (a *Asker) remember(s *Search, r *recollection) error {
	ordinals := map[string][]int{}
	for at := range r.taught {
		known := slices.Contains(ordinals[at.Key], at.Ordinal) || slices.ContainsFunc(s.Candidates, func(c Candidate) bool { return c.DocumentID == at.Key && c.Ordinal == at.Ordinal })
		if !known {
			ordinals[at.Key] = append(ordinals[at.Key], at.Ordinal)
		}
	}
	top := len(s.Candidates)
	s.Candidates = nil
	return a.take(s, append(s.hits, s.weighed.At(ordinals)...), func(i int, c rank.Candidate) bool {
		return i < top || slices.Contains(ordinals[c.Hit.Key], c.Hit.Ordinal)
	})
}

// likeness compares a question, which has some names, with a lesson, and returns the terms that stand in it.
func (l *learnt) likeness(q *question, names []string, asked *rank.Asked, reader rank.Reader) (Likeness, marks) {
	reading := reader.Read(l.text, l.language)
	span := reading.Span(0, len(l.text))
	out := Likeness{Pairs: span.Pairs, Kind: one(l.want == q.want && l.units == q.units && (l.counted == q.counted || l.counted == "" || q.counted == "")), Opposed: one(q.opposes(l.text))}
	out.Asked, out.Exact = asked.Share(span.Nearness), asked.Share(whole(span.Nearness))
	if out.Asked == 0 {
		return out, marks{}
	}
	out.Cosine = rank.Cosine(span)
	near := map[string]float64{}
	reading.Each(func(word string, how float64) { near[word] = how })
	for word, worth := range l.worth {
		out.Lesson += worth * near[word] / l.total
		out.Spare = max(out.Spare, worth*(1-near[word])/l.total)
	}
	out.Both, out.Gap = out.Asked*out.Lesson, asked.Gap(span.Nearness)
	named := within(l.names, q.standalone) && within(names, l.text) && slices.Equal(l.numbers, q.numbers) && holdsEach(l.text, asked.Literals) && holdsEach(q.standalone, l.literals)
	out.Unnamed = one(!named)
	return out, marks{span.Exact, span.Alike}
}

// whole leaves of how near words come to each term those that are the term.
func whole(nearness []float64) []float64 {
	out := make([]float64, len(nearness))
	for i, n := range nearness {
		out[i] = math.Floor(n)
	}
	return out
}

// within tells whether all words stand in a text.
func within(words []string, s string) bool {
	tokens := text.Tokens(s)
	return !slices.ContainsFunc(words, func(w string) bool {
		return !slices.ContainsFunc(tokens, func(t text.Token) bool { return t.Word == w })
	})
}

// holdsEach tells whether all literals stand in a text.
func holdsEach(s string, literals []string) bool {
	return !slices.ContainsFunc(literals, func(l string) bool { return !rank.Holds(s, l) })
}

func (l *Likeness) probability() float64 {
	sum := 0.0
	for i, v := range l.Vector() {
		sum += schooled().Likeness[LikenessNames[i]] * v
	}
	return 1 / (1 + math.Exp(-sum))
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
func Locate(x *index.Index, key string, quotations []Quotation) ([][]Place, error) {
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
			sentence := p.Text[s.Start:s.End]
			words, whole := wordSet(sentence), " "+text.Normal(sentence)+" "
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
