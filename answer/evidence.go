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
	apart     bool   // lacks the attribute that was asked about
	bits      uint64 // terms that stand in the sentence or its section
}

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
}

func newMatcher(q *question) *matcher {
	m := &matcher{terms: q.query.Terms, forms: map[string][]int{}, stemmer: map[text.Language]*text.Stemmer{}}
	for i, t := range q.query.Terms {
		worth := t.IDF * t.Weight
		if softWords[t.Word] {
			worth *= 0.25
		}
		m.worth = append(m.worth, worth)
		m.total += worth
		for _, form := range t.Forms {
			m.forms[form] = append(m.forms[form], i)
		}
	}
	return m
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
	best := candidates[0].Score
	var out []evidence
	outdated := superseded(q, candidates)
	for i, c := range candidates {
		standing := c.Score / best
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
	section := m.in(p.SectionPath(), p.Language)
	title := m.in(c.Document.Title+" "+c.Document.Name, p.Language)
	hits := make([]uint64, len(p.Sentences))
	var whole uint64
	for i, s := range p.Sentences {
		hits[i] = m.in(p.Text[s.Start:s.End], p.Language)
		whole |= hits[i]
	}
	var out []evidence
	for i, s := range p.Sentences {
		near := neighbours(p, hits, i)
		e := evidence{candidate: number, sentence: i, text: p.Text[s.Start:s.End]}
		m.cover(&e, hits[i], near, section, title, whole)
		if e.coverage < hopeless {
			continue
		}
		e.bits = hits[i] | section
		e.fits = fits(q, e.text, s)
		e.apart = m.lacks(q, e.bits|near)
		switch {
		case q.want == wantSteps && s.Kind == layout.ListItem:
			// The steps of a procedure rarely name it; their heading does.
			e.inside = max(e.inside, m.share(section))
		case e.fits:
			// "The default is 1000" says of what in the sentence before.
			e.inside += inNeighbour * m.share(near&^hits[i])
		}
		e.score = e.coverage * (0.35 + 0.65*math.Sqrt(e.inside)) * (0.45 + 0.55*standing) * e.weight(q, m, s, p.Language)
		if e.score > 0 {
			out = append(out, e)
		}
	}
	return out
}

// neighbours returns the terms in the sentences before and after. A row of a
// table has none: the rows around it speak of other things.
func neighbours(p *passage.Passage, hits []uint64, i int) (near uint64) {
	if p.Sentences[i].Kind == layout.Table {
		return 0
	}
	for _, j := range []int{i - 1, i + 1} {
		if j >= 0 && j < len(hits) && p.Sentences[j].Kind != layout.Table {
			near |= hits[j]
		}
	}
	return near
}

// cover sums what the sentence and its surroundings hold of the question.
func (m *matcher) cover(e *evidence, inside, near, section, title, whole uint64) {
	for t, worth := range m.worth {
		bit := uint64(1) << min(t, 63)
		share := 0.0
		switch {
		case inside&bit != 0:
			share = 1
			e.inside += worth
		case section&bit != 0:
			share = inSection
		case title&bit != 0:
			share = inTitle
		case near&bit != 0:
			share = inNeighbour
		case whole&bit != 0:
			share = inPassage
		default:
			if m.terms[t].Weight == 1 && worth > 0.6*m.total/float64(len(m.worth)) {
				e.missing = append(e.missing, m.terms[t].Word)
			}
		}
		e.coverage += share * worth
	}
	e.coverage /= m.total
	e.inside /= m.total
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

// fits tells whether a sentence holds the kind of thing that is asked for.
func fits(q *question, s string, at passage.Sentence) bool {
	switch q.want {
	case wantQuantity:
		return measures(s, q.units)
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
