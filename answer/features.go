package answer

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"math"
	"regexp"
	"sync"

	"jardinet/layout"
	"jardinet/passage"
	"jardinet/rank"
)

// Features are what is known of a sentence that may answer. Shares are of the
// worth of the words asked, between 0 and 1.
type Features struct {
	Inside    float64 // stand in the sentence itself
	Like      float64 // stand there only by words of like meaning
	Label     float64 // stand in the line that it is an entry under, not here
	Near      float64 // stand in a sentence beside it, not here
	Section   float64 // stand in its section path, not here
	Title     float64 // stand in the document's title alone
	Elsewhere float64 // name other documents than this one
	Passage   float64 // stand only elsewhere in its passage
	Covered   float64 // square of the share that stands here or around, as far as that counts
	Gap       float64 // of the weightiest word that nothing there is like
	Apart     float64 // 1 if the attribute asked about is missing
	Pairs     float64 // of words side by side in the question that are so here
	Opening   float64 // stand among its first words
	Defines   float64 // the same where the question asks what something is or does
	Called    float64 // 1 if it says what something is, where that is asked
	Cosine    float64 // of its vector and the question's
	Around    float64 // the same with the sentences beside it
	Literal   float64 // of part numbers and the like that stand in it or, for less, close by

	Fits    float64 // 1 if it holds the kind of thing asked for
	Unfit   float64 // 1 if it does not and the kind is a figure, a date or a person
	Heading float64 // 1 for a heading
	Asks    float64 // 1 for a question
	Repeats float64 // share of its words that the question has
	Bare    float64 // 1 if it has hardly a word that the question has not
	Subject float64 // 1 if it says of what is asked about what it is
	Tells   float64 // 1 for an instruction where the question asks for one
	Bounds  float64 // 1 for a bound where the question asks for one
	Echoes  float64 // 1 if it names the measure that the question asks for
	Listing float64 // 1 for code, a synopsis or a formula, unless the question asks for such
	Step    float64 // 1 for a list item where the question asks for a list
	Number  float64 // 1 for one with a number where it does so
	Keyed   float64 // share that stands in it, for a row
	Other   float64 // 1 for a row that is named for something not asked about

	Standing float64 // its passage's score less the best one's
	Close    float64 // the same, but no less than −3
}

// Vector returns the features in a fixed order; FeatureNames names them.
func (f *Features) Vector() []float64 {
	return []float64{
		f.Inside, f.Like, f.Label, f.Near, f.Section, f.Title, f.Elsewhere, f.Passage, f.Covered, f.Gap, f.Apart, f.Pairs, f.Opening, f.Defines, f.Called, f.Cosine, f.Around, f.Literal,
		f.Fits, f.Unfit, f.Heading, f.Asks, f.Repeats, f.Bare, f.Subject, f.Tells, f.Bounds, f.Echoes, f.Listing, f.Step, f.Number, f.Keyed, f.Other, f.Standing, f.Close,
	}
}

// FeatureNames are the names of Vector's numbers.
var FeatureNames = []string{
	"inside", "like", "label", "near", "section", "title", "elsewhere", "passage", "covered", "gap", "apart", "pairs", "opening", "defines", "called", "cosine", "around", "literal",
	"fits", "unfit", "heading", "asks", "repeats", "bare", "subject", "tells", "bounds", "echoes", "listing", "step", "number", "keyed", "other", "standing", "close",
}

// evidence.json is written by bench/answers.
//
//go:embed evidence.json
var fittedEvidence []byte

// evidenceWeights are the weights of the features, in the order of Vector.
var evidenceWeights = sync.OnceValue(func() []float64 {
	var file struct {
		Weights map[string]float64 `json:"weights"`
	}
	if err := json.Unmarshal(fittedEvidence, &file); err != nil {
		panic(fmt.Errorf("answer: evidence.json: %w", err)) // the program was built wrong
	}
	out := make([]float64, len(FeatureNames))
	for i, name := range FeatureNames {
		out[i] = file.Weights[name]
	}
	return out
})

// score is the logarithm, but for a constant, of the probability that a sentence
// is the one that answers; outdated tells of one in an older edition.
func (f *Features) score(weights []float64, outdated bool) float64 {
	sum := 0.0
	for i, v := range f.Vector() {
		sum += weights[i] * v
	}
	if outdated {
		sum -= outOfDate
	}
	return sum
}

// defining matches questions for what something is or does.
var defining = regexp.MustCompile(`^what (?:is|are|was|were|does|do) |\bmeans?\b|\bstands? for\b`)

// calling matches sentences that say what something is.
var calling = regexp.MustCompile(`\b(?:is|are) (?:an?|the)\b|\b(?:means?|refers? to|referred to as|called|known as|stands? for|defined as|consists? of)\b`)

// surroundings are what the sentences of a passage share.
type surroundings struct {
	section, title, whole marks
	named                 uint64 // terms that name some documents and not others
	spans                 []rank.Span
	standing              float64
}

// far is the standing from which on passages are equally far from the best.
const far = -3

// features looks at one sentence of a passage; near stands in those beside it, and
// together they have a cosine with the question.
func (m *matcher) features(q *question, e *evidence, p *passage.Passage, around *surroundings, label, near marks, together float64) Features {
	i := e.sentence
	span, at := around.spans[i], p.Sentences[i]
	inside := marks{span.Exact, span.Alike}
	known := inside.any()
	f := Features{
		Inside: m.share(inside.exact), Like: m.share(inside.like), Covered: e.coverage * e.coverage, Gap: e.gap, Literal: e.literal,
		Pairs: span.Pairs, Opening: m.share(span.Opening), Cosine: rank.Cosine(span), Around: together,
		Heading: one(at.Kind == layout.Heading), Asks: one(isQuestion(e.text)),
		Listing: one(at.Kind != layout.Table && !q.code && isListing(e.text)), Other: one(at.Kind == layout.Table && m.otherRow(e.text, p.Language)),
		Apart: one(e.apart), Fits: one(e.fits), Unfit: one(!e.fits && q.want.certain()),
		Standing: around.standing, Close: max(around.standing, far),
	}
	for _, from := range []struct {
		feature *float64
		marks   marks
	}{{&f.Label, label}, {&f.Near, near}, {&f.Section, around.section}, {&f.Title, around.title}, {&f.Passage, around.whole}} {
		*from.feature = m.share(from.marks.exact&^known) + alike*m.share(from.marks.like&^known)
		known |= from.marks.any()
	}
	if at.Kind == layout.ListItem {
		f.Step = one(q.want == wantSteps || q.want == wantList)
		f.Number = f.Step * one(isNumbering(e.text) && e.text[0] >= '0' && e.text[0] <= '9')
	}
	if q.defining {
		f.Defines, f.Called = f.Opening, one(calling.MatchString(e.text))
	}
	if span.Words > 0 {
		f.Repeats = 1 - float64(span.New)/float64(span.Words)
	}
	f.Bare = one(span.New <= 1 && !e.fits)
	f.Subject = one(m.hasSubject(q.subject, e.text, p.Language))
	f.Tells = one(q.howTo && instructs.MatchString(e.text))
	f.Bounds = one(q.bounded && bounds.MatchString(e.text))
	f.Echoes = one(q.measure != nil && e.fits && q.measure.MatchString(e.text))
	f.Elsewhere = m.share(around.named &^ (around.title.any() | around.section.exact))
	f.Keyed = one(at.Kind == layout.Table && span.New > 0) * f.Inside
	return f
}

func one(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

// beside returns the terms in the sentences before and after, whose spans it
// hands to each. A row of a table has none: the rows around it speak of other
// things.
func beside(p *passage.Passage, spans []rank.Span, i int, each func(rank.Span)) (near marks) {
	for _, j := range []int{i - 1, i + 1} {
		if j >= 0 && j < len(spans) && p.Sentences[i].Kind != layout.Table && p.Sentences[j].Kind != layout.Table {
			near = near.or(marks{spans[j].Exact, spans[j].Alike})
			each(spans[j])
		}
	}
	return near
}

// better turns the difference of two scores into how much likelier the first is.
func better(a, b float64) float64 { return math.Exp(a - b) }
