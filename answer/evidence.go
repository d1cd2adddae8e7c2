package answer

import (
	"cmp"
	"math"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"jardinet/index"
	"jardinet/layout"
	"jardinet/passage"
	"jardinet/rank"
	"jardinet/text"
)

// Evidence is a sentence that may answer.
type evidence struct {
	candidate int // in the order of retrieval
	sentence  int
	text      string
	score     float64
	coverage  float64 // share of what was asked about that stands here or around
	inside    float64 // the share that stands in the sentence itself
	fits      bool    // holds the kind of thing that was asked for
	missing   []string
	gap       float64 // worth of the weightiest term that is missing, of all
	literal   float64 // share of the question's literals that stand here or close by
	apart     bool    // lacks the attribute that was asked about
	bits      uint64  // terms that stand in the sentence or its section
	standing  float64 // the passage's place among those found
}

// marks are the terms of a question that stand in a text: exactly, or only by a
// word of like meaning.
type marks struct{ exact, like uint64 }

func (a marks) or(b marks) marks {
	exact := a.exact | b.exact
	return marks{exact, (a.like | b.like) &^ exact}
}

func (a marks) any() uint64 { return a.exact | a.like }

// alike is what a word of like meaning counts for.
const alike = 0.65

// What a word of the question counts for when it stands not in the sentence
// but near it.
const (
	inNeighbour = 0.75
	inSection   = 0.8
	inPassage   = 0.5
	inTitle     = 0.8
)

// hopeless is the coverage below which nothing makes a sentence an answer; it
// spares looking into it.
const hopeless = 0.3

// A matcher knows in which forms each term of a question may appear.
type matcher struct {
	terms   []index.Term
	worth   []float64 // of each term
	forms   map[string][]int
	stemmer map[text.Language]*text.Stemmer
	total   float64
	asked   *rank.Asked // nil where nothing is known of meaning
}

func newMatcher(q *question, asked *rank.Asked) *matcher {
	m := &matcher{asked: asked, terms: q.query.Terms, forms: map[string][]int{}, stemmer: map[text.Language]*text.Stemmer{}}
	for i, t := range q.query.Terms {
		worth := t.IDF * t.Weight
		m.worth = append(m.worth, worth)
		m.total += worth
		for _, form := range t.Forms {
			m.forms[form] = append(m.forms[form], i)
		}
	}
	return m
}

// marks looks for the terms of the question in s.
func (m *matcher) marks(s string, language text.Language) marks {
	if m.asked == nil {
		return marks{exact: m.in(s, language)}
	}
	exact, like := m.asked.Match(s, language)
	return marks{exact, like}
}

// in sets, for each term of the question that stands in s, a bit.
func (m *matcher) in(s string, language text.Language) uint64 {
	stemmer := m.stemmer[language]
	if stemmer == nil {
		stemmer = text.NewStemmer(language)
		m.stemmer[language] = stemmer
	}
	var bits uint64
	for _, t := range text.Tokens(s) {
		for _, i := range m.forms[stemmer.Stem(t.Word)] {
			bits |= 1 << min(i, 63)
		}
	}
	return bits
}

// gather scores every sentence of the candidates, the best first.
func gather(q *question, m *matcher, candidates []Candidate) []evidence {
	if len(candidates) == 0 || m.total == 0 {
		return nil
	}
	best, least := candidates[0].Score, candidates[len(candidates)-1].Score
	var out []evidence
	outdated := superseded(q, candidates)
	for i, c := range candidates {
		standing := 1.0
		if best > least {
			standing = (c.Score - least) / (best - least)
		}
		if outdated[c.DocumentID] {
			standing *= 0.6
		}
		out = append(out, m.sentences(q, i, c, standing)...)
	}
	slices.SortStableFunc(out, func(a, b evidence) int { return cmp.Compare(b.score, a.score) })
	return out
}

// sentences scores the sentences of one passage; standing is the passage's
// retrieval score against the best one's.
func (m *matcher) sentences(q *question, number int, c Candidate, standing float64) []evidence {
	p := c.Passage
	section := m.marks(p.SectionPath(), p.Language)
	title := m.marks(c.Document.Title+" "+c.Document.Name, p.Language)
	hits := make([]marks, len(p.Sentences))
	var whole marks
	for i, s := range p.Sentences {
		hits[i] = m.marks(p.Text[s.Start:s.End], p.Language)
		whole = whole.or(hits[i])
	}
	var out []evidence
	for i, s := range p.Sentences {
		near := neighbours(p, hits, i)
		e := evidence{candidate: number, sentence: i, text: p.Text[s.Start:s.End], standing: standing}
		m.cover(&e, hits[i], near, section, title, whole)
		if e.coverage < hopeless {
			continue
		}
		e.bits = hits[i].any() | section.any()
		e.fits = fits(q, e.text, s)
		e.apart = m.lacks(q, e.bits|near.any())
		e.literal = m.literals(p, i)
		switch {
		case q.want == wantSteps && s.Kind == layout.ListItem:
			// The steps of a procedure rarely name it; their heading does.
			e.inside = max(e.inside, m.share(section.any()))
		case e.fits:
			// "The default is 1000" says of what in the sentence before.
			e.inside += inNeighbour * m.share(near.any()&^hits[i].any())
		}
		e.score = e.coverage * (0.35 + 0.65*math.Sqrt(e.inside)) * (0.45 + 0.55*standing) * (0.5 + 0.5*e.literal) * e.weight(q, m, s, p.Language)
		if e.score > 0 {
			out = append(out, e)
		}
	}
	return out
}

// neighbours returns the terms in the sentences before and after. A row of a
// table has none: the rows around it speak of other things.
func neighbours(p *passage.Passage, hits []marks, i int) (near marks) {
	if p.Sentences[i].Kind == layout.Table {
		return marks{}
	}
	for _, j := range []int{i - 1, i + 1} {
		if j >= 0 && j < len(hits) && p.Sentences[j].Kind != layout.Table {
			near = near.or(hits[j])
		}
	}
	return near
}

// cover sums what the sentence and its surroundings hold of the question.
func (m *matcher) cover(e *evidence, inside, near, section, title, whole marks) {
	for t, worth := range m.worth {
		bit := uint64(1) << min(t, 63)
		share := 0.0
		for _, at := range []struct {
			marks
			share float64
		}{{inside, 1}, {section, inSection}, {title, inTitle}, {near, inNeighbour}, {whole, inPassage}} {
			if at.exact&bit != 0 {
				share = max(share, at.share)
			} else if at.like&bit != 0 {
				share = max(share, alike*at.share)
			}
		}
		if inside.exact&bit != 0 {
			e.inside += worth
		} else if inside.like&bit != 0 {
			e.inside += alike * worth
		}
		if share == 0 {
			e.gap = max(e.gap, worth/m.total)
			if m.terms[t].Weight == 1 && worth > 0.6*m.total/float64(len(m.worth)) {
				e.missing = append(e.missing, m.terms[t].Word)
			}
		}
		e.coverage += share * worth
	}
	e.coverage /= m.total
	e.inside /= m.total
}

// literals returns the share of the question's literals that stand in a sentence
// or, for less, elsewhere in its passage; 1 if it has none.
func (m *matcher) literals(p *passage.Passage, i int) float64 {
	if m.asked == nil || len(m.asked.Literals) == 0 {
		return 1
	}
	sum := 0.0
	for _, l := range m.asked.Literals {
		switch {
		case rank.Holds(p.Text[p.Sentences[i].Start:p.Sentences[i].End], l):
			sum++
		case rank.Holds(p.Text, l), rank.Holds(p.SectionPath(), l):
			sum += inPassage
		}
	}
	return sum / float64(len(m.asked.Literals))
}

// weight favours sentences of the wanted kind.
func (e *evidence) weight(q *question, m *matcher, at passage.Sentence, language text.Language) float64 {
	w := 1.0
	if e.fits {
		w = 1.25
	} else if q.want == wantQuantity || q.want == wantDate {
		w = 0.75
	}
	if at.Kind == layout.Heading || isQuestion(e.text) {
		w *= 0.5
	}
	if at.Kind != layout.Table && isListing(e.text) {
		w *= 0.6
	}
	if at.Kind == layout.Table && m.otherRow(e.text, language) {
		w *= 0.7
	}
	return w
}

// lacks tells whether the attribute asked about is not among the terms found.
func (m *matcher) lacks(q *question, found uint64) bool {
	for t, term := range m.terms {
		if term.Word == q.attribute && term.Weight == 1 {
			return found&(1<<min(t, 63)) == 0
		}
	}
	return false
}

// isListing tells whether a text is code, a synopsis or a formula rather than
// language: less than two thirds of it are letters and spaces, or signs that
// language hardly uses make up a twentieth.
func isListing(s string) bool {
	plain, signs := 0, 0
	for _, r := range s {
		switch {
		case unicode.IsLetter(r) || r == ' ':
			plain++
		case strings.ContainsRune("{}[]<>|=$\\#_", r):
			signs++
		}
	}
	n := utf8.RuneCountInString(s)
	return n > 20 && (plain*3 < n*2 || signs*20 > n)
}

// totals are the names of rows that speak of all rows.
var totals = words("together total totals all sum overall ensemble gesamt")

// otherRow tells whether a table's row is named for something that the
// question does not speak of.
func (m *matcher) otherRow(s string, language text.Language) bool {
	name, _, _ := strings.Cut(s, " · ")
	for _, t := range text.Tokens(name) {
		if totals[t.Word] {
			return false
		}
	}
	return m.in(name, language) == 0
}

// share returns what part of the question's worth the set bits carry.
func (m *matcher) share(bits uint64) float64 { return m.worthOf(bits) / m.total }

func isQuestion(s string) bool { return len(s) > 0 && s[len(s)-1] == '?' }

// countedWithin is how many words after a number its noun comes at most.
const countedWithin = 3

// counts tells whether a number in a sentence, or in a cell under the name, is
// one of the things that are counted.
func counts(s, stem string, stemmer *text.Stemmer) bool {
	since := countedWithin + 1 // words since the last number
	for _, t := range text.Tokens(s) {
		switch {
		case t.Number || numberWord.MatchString(t.Word):
			since = 0
		case stemmer.Stem(t.Word) == stem && (since <= countedWithin || strings.Contains(s, " · ")):
			return true
		default:
			since++
		}
	}
	return false
}

// fits tells whether a sentence holds the kind of thing that is asked for.
func fits(q *question, s string, at passage.Sentence) bool {
	switch q.want {
	case wantQuantity:
		return measures(s, q.units) && (q.counted == "" || counts(s, q.counted, q.stemmer))
	case wantDate:
		return date.MatchString(s)
	case wantPerson:
		return name.MatchString(s) || office.MatchString(s)
	case wantSteps:
		return at.Kind == layout.ListItem
	case wantReason:
		return reason.MatchString(s)
	}
	return false
}
