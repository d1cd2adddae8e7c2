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
	"jardinet/wording"
)

// Features are what is known of a sentence that may answer. Shares are of the
// worth of the words asked, between 0 and 1.
type Features struct {
	Inside    float64 // stand in the sentence itself
	Like      float64 // stand there only by words of like meaning
	Label     float64 // stand in the line that it is an entry under, not here
	Section   float64 // stand in its section path, not here
	Title     float64 // stand in the document's title alone
	Elsewhere float64 // name other documents than this one
	Unnamed   float64 // are names that stand neither in it nor beside it, in its section or its title
	Missed    float64 // are called so by the documents, and missing here and around
	Misnumber float64 // part of the numbers that name something which it is not about
	Covered   float64 // square of the share that stands here or around, as far as that counts
	Gap       float64 // of the weightiest word that nothing there is like
	Apart     float64 // 1 if the attribute asked about is missing
	Pairs     float64 // of words side by side in the question that are so here
	Opening   float64 // stand among its first words
	Cosine    float64 // of its vector and the question's
	Around    float64 // the same with the sentences beside it
	Literal   float64 // of part numbers and the like that stand in it or, for less, close by

	Fits    float64 // 1 if it holds the kind of thing asked for
	Unfit   float64 // 1 if it does not and the kind is a figure, a date or a person
	Meets   float64 // 1 if it holds that and its unit, its noun or its look is known
	Lacks   float64 // 1 if it does not and the same is known
	Foreign float64 // 1 for one in another language than the question
	Aside   float64 // 1 for an example or a reference
	Bare    float64 // 1 if it has no word that the question has not
	Subject float64 // 1 if it says of what is asked about what it is
	Defines float64 // 1 if it says so by its form: "a plunge is a bed of sand"
	Tells   float64 // 1 for an instruction where the question asks for one
	Bounds  float64 // 1 for a bound where the question asks for one
	Echoes  float64 // 1 if it names the measure that the question asks for, says "is dry when" or by whom
	Listing float64 // 1 for code, a synopsis or a formula, unless the question asks for such
	Keyed   float64 // share that stands in it, for a row
	Other   float64 // 1 for a row that is named for something not asked about
	Entry   float64 // 1 for a row whose whole name stands in the question
	Heads   float64 // 1 for a line that others are entries under
	Rules   float64 // 1 for a rule where the question asks whether one may
	Mute    float64 // 1 for a line without any word of grammar, which no sentence is, unless the question asks for code
	Listed  float64 // 1 for an item of a list where steps are asked for
	Headed  float64 // square of the share that stands in the heading over such a list
	Banded  float64 // 1 if it holds for the amount in the question, has the greatest number or the very office, −1 if another does
	Names   float64 // 1 if it names somebody where a person is asked for
	Argues  float64 // 1 if it gives a reason or a place where one is asked for
	Denies  float64 // 1 if it denies what the question does
	Opposed float64 // 1 if it speaks of the contrary of what is asked
	Apt     float64 // Covered, if it holds the kind of thing asked for

	Along  float64 // 1 for a follow-up, if it stands in the passage of the last answer
	Again  float64 // 1 if it was that answer
	Onward float64 // 1 if it comes after that

	Taught float64 // how likely lessons make it
	Told   float64 // stand in lessons that tell of it, and nowhere near

	Standing float64 // its passage's score less the best one's
	Close    float64 // the same, but no less than −3
}

// Vector returns the features in a fixed order; FeatureNames names them.
func (f *Features) Vector() []float64 {
	return []float64{
		f.Inside, f.Like, f.Label, f.Section, f.Title, f.Elsewhere, f.Unnamed, f.Missed, f.Misnumber, f.Covered, f.Gap, f.Apart, f.Pairs, f.Opening, f.Cosine, f.Around, f.Literal,
		f.Fits, f.Unfit, f.Meets, f.Lacks, f.Foreign, f.Aside, f.Bare, f.Subject, f.Defines, f.Tells, f.Bounds, f.Echoes, f.Listing, f.Keyed, f.Other, f.Entry, f.Heads, f.Rules,
		f.Mute, f.Listed, f.Headed, f.Banded, f.Names, f.Argues, f.Denies, f.Opposed, f.Apt, f.Along, f.Again, f.Onward, f.Taught, f.Told, f.Standing, f.Close,
	}
}

// FeatureNames are the names of Vector's numbers.
var FeatureNames = []string{
	"inside", "like", "label", "section", "title", "elsewhere", "unnamed", "missed", "misnumber", "covered", "gap", "apart", "pairs", "opening", "cosine", "around", "literal",
	"fits", "unfit", "meets", "lacks", "foreign", "aside", "bare", "subject", "defines", "tells", "bounds", "echoes", "listing", "keyed", "other", "entry", "heads", "rules",
	"mute", "listed", "headed", "banded", "names", "argues", "denies", "opposed", "apt", "along", "again", "onward", "taught", "told", "standing", "close",
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
	return ordered(FeatureNames, file.Weights)
})

// ordered returns named weights in the order of some names, 0 for what has none.
func ordered(names []string, weights map[string]float64) []float64 {
	out := make([]float64, len(names))
	for i, name := range names {
		out[i] = weights[name]
	}
	return out
}

// score is the logarithm, but for a constant, of the probability that a sentence
// is the one that answers; outdated tells of one in an older edition, astray of one
// that has nothing of what a follow-up says itself.
func (f *Features) score(weights []float64, outdated, astray bool) float64 {
	sum := 0.0
	for i, v := range f.Vector() {
		sum += weights[i] * v
	}
	if outdated {
		sum -= outOfDate
	}
	if astray {
		sum -= offTheTrack
	}
	return sum
}

// aside matches sentences that only illustrate, or send the reader elsewhere.
var aside = regexp.MustCompile(`(?i)^\W*(?:for example|as an example|for instance|e\.g\.|suppose|assume|let us|let’s|see)\b`)

// surroundings are what the sentences of a passage share.
type surroundings struct {
	section, title, whole marks
	own                   string  // their own heading, and not those above it
	scope                 string  // its section path and title
	heading               float64 // share of the question in its own heading
	dated                 bool    // that heading says when, where that is asked
	told                  bool    // that heading says what the question asks how to do, and no more
	bands                 []float64
	named                 uint64 // terms that name some documents and not others
	spans                 []wording.Span
	standing              float64
}

// far is the standing from which on passages are equally far from the best.
const far = -3

// features looks at one sentence of a passage; label
// stands in the line it is an entry under, and with those beside it it has a
// cosine with the question.
func (m *matcher) features(q *question, e *evidence, p *passage.Passage, around *surroundings, label, told marks, together float64) Features {
	i := e.sentence
	span, at := around.spans[i], p.Sentences[i]
	inside := marks{span.Exact, span.Alike}
	known := inside.any()
	f := Features{
		Inside: m.share(inside.exact), Like: m.graded(inside.like, span.Nearness), Covered: e.coverage * e.coverage, Gap: e.gap, Literal: e.literal,
		Pairs: span.Pairs, Opening: m.share(span.Opening), Cosine: wording.Cosine(span), Around: together,
		Foreign: one(p.Language != q.language) * (1 - e.taught), Aside: one(aside.MatchString(e.text)),
		Listing: one(at.Kind != layout.Table && !q.code && isListing(e.text)), Other: one(at.Kind == layout.Table && m.otherRow(e.text, p.Language)),
		Apart: one(e.apart), Fits: one(e.fits), Unfit: one(!e.fits && q.want.certain()),
		Standing: around.standing * (1 - e.taught), Close: max(around.standing*(1-e.taught), far), // somebody has found it all the same
	}
	for _, from := range []struct {
		feature *float64
		marks   marks
	}{{&f.Label, label}, {&f.Section, around.section}, {&f.Title, around.title}, {&f.Told, told}} {
		*from.feature = m.share(from.marks.exact&^known) + alike*m.share(from.marks.like&^known)
		known |= from.marks.any()
	}
	f.Entry = one(at.Kind == layout.Table && f.Other == 0 && m.holdsName(e.text, p.Language))
	f.Meets, f.Lacks = one(e.fits && q.specific()), one(!e.fits && q.specific())
	f.Bare = one(span.New == 0 && !e.fits)
	says, defined := m.hasSubject(q.subject, e.text, p.Language)
	f.Subject, f.Defines = one(says), one(defined)
	f.Tells = one(q.howTo && instructs.MatchString(e.text))
	f.Bounds = one(q.bounded && bounds.MatchString(e.text))
	f.Heads = one(!q.code && isLabel(e.text, at.Kind, span.Words))
	f.Rules = one(q.leave && rules.MatchString(e.text))
	f.Mute = one(at.Kind != layout.Table && at.Kind != layout.ListItem && !q.code && span.Grammar == 0)
	f.Listed, f.Names = one(e.fits && q.want == wantSteps && q.steps), one(e.fits && q.want == wantPerson)
	f.Headed = f.Listed * around.heading * around.heading
	f.Banded = around.bands[i]
	f.Argues = one(e.fits && (q.want == wantReason || q.want == wantPlace))
	f.Missed = e.missed
	f.Misnumber = q.unnumbered(p, i, around.scope)
	f.Denies = one(q.denied != "" && m.deniesIt(q.denied, e.text, p.Language))
	f.Apt = one(e.fits) * f.Covered
	f.Taught = e.taught
	f.Opposed = one(q.opposes(e.text) || q.denies(e.text))
	f.Echoes = one(q.want == wantPerson && e.fits && agent.MatchString(e.text) || q.measure != nil && e.fits && q.measure.MatchString(e.text) || q.condition != nil && q.condition.MatchString(e.text))
	f.Unnamed = m.share(m.proper &^ e.named)
	f.Elsewhere = m.share(around.named &^ (around.title.any() | around.section.exact))
	f.Keyed = one(at.Kind == layout.Table && span.New > 0 && q.want != wantSteps) * f.Inside
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
func beside(p *passage.Passage, spans []wording.Span, i int, each func(wording.Span)) (near marks) {
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
