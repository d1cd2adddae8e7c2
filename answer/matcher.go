package answer

import (
	"regexp"
	"slices"
	"strconv"
	"strings"

	"jardinet/index"
	"jardinet/text"
	"jardinet/wording"
)

// marks are the terms of a question that stand in a text: exactly, or only by a
// word of like meaning.
type marks struct{ exact, like uint64 }

func (a marks) or(b marks) marks {
	exact := a.exact | b.exact
	return marks{exact, (a.like | b.like) &^ exact}
}

func (a marks) any() uint64 { return a.exact | a.like }

// A matcher knows in which forms each term of a question may appear.
type matcher struct {
	terms        []index.Term
	worth        []float64 // of each term
	literalWorth []float64 // of each literal
	forms        map[string][]int
	stemmer      map[text.Language]*text.Stemmer
	total        float64
	few          float64
	proper       uint64           // terms that the question writes as names
	circumstance uint64           // terms that say when or after what
	current      uint64           // terms that the documents have word for word
	counted      uint64           // the term for what is counted
	things       map[string]bool  // stems of what is counted, and of words like it
	measured     uint64           // the term that asks for a measure, "how long" or "volume"
	most         *regexp.Regexp   // the name of a column of the most, or the least, where that is asked; may be nil
	amount       uint64           // the terms for sums of money
	attribute    uint64           // the term for what is asked of something
	later        bool             // it asks how something is after a time
	extremes     [][]float64      // by candidate and sentence, where a superlative is asked
	superlative  uint64           // its term, which stands in the row that it is true of
	carried      uint64           // terms taken over from earlier questions
	own          uint64           // terms that the question has by itself, and that are not soft
	spoken       map[string]bool  // stems of all words of the question, its numbers as such
	recalled     *recollection    // what lessons say; nil where they have no say
	thread       *Place           // where the last answer stood; nil where that has no say
	titles       map[string]marks // by language and title, where one is read often
	asked        *wording.Asked
	reader       wording.Reader
}

func newMatcher(q *question, asked *wording.Asked) *matcher {
	m := &matcher{asked: asked, terms: q.query.Terms, forms: map[string][]int{}, stemmer: map[text.Language]*text.Stemmer{}}
	for i, t := range q.query.Terms {
		worth := t.IDF * t.Weight
		if t.Weight != softWeight && t.Weight != halfSoft {
			// What was taken over from an earlier question finds the passage; which
			// of its sentences answers, the question itself tells.
			worth *= t.Weight
		}
		m.worth = append(m.worth, worth)
		if t.Weight > halfSoft && !t.Not {
			m.few += t.Weight
		}
		switch bit := uint64(1) << min(i, 63); {
		case t.Weight == 1 && !t.Not && q.says(t.Word):
			m.own |= bit
		case q.follows && (t.Weight < 1 || !q.says(t.Word)):
			m.carried |= bit
		}
		m.total += worth
		if t.Frequency > 0 {
			m.current |= 1 << min(i, 63)
		}
		for _, form := range t.Forms {
			m.forms[form] = append(m.forms[form], i)
		}
	}
	if asked != nil {
		if readers := asked.Readers(); len(readers) > 0 {
			m.reader = readers[0]
		}
		for _, l := range asked.Literals {
			m.literalWorth = append(m.literalWorth, worthOfLiteral(l, m.terms))
		}
	}
	m.few = 1 / max(1, m.few)
	if q.counted != "" {
		m.things = map[string]bool{q.counted: true}
		for _, i := range m.forms[q.counted] {
			m.counted |= 1 << min(i, 63)
			if m.terms[i].Frequency > 0 {
				continue // the documents call it so themselves
			}
			for _, like := range m.terms[i].Expansions {
				m.things[like.Form] = m.things[like.Form] || !like.Part
			}
		}
	}
	folded := foldedQuestion(q.standalone)
	spelt := strings.Fields(spelledUnit.FindString(folded))
	for i, t := range q.query.Terms {
		if strings.HasPrefix(t.Word, "how ") || q.units != nil && slices.Contains(spelt, t.Word) || q.want == wantQuantity && q.units != nil && quantities[t.Word] {
			m.measured |= 1 << min(i, 63)
		}
	}
	for _, word := range properNames(q.standalone, q.language) {
		m.proper |= m.in(word, q.language)
	}
	stemmer := m.stemmerOf(q.language)
	m.spoken = map[string]bool{}
	for _, word := range strings.Fields(folded) {
		m.spoken[numeric(word, stemmer)] = true
	}
	for i, t := range q.query.Terms {
		bit := uint64(1) << min(i, 63)
		if allDigits(t.Word) && slices.ContainsFunc(q.amounts, func(a amount) bool {
			return strings.ContainsAny(a.unit, "£€$") && strconv.Itoa(int(a.value)) == t.Word
		}) {
			m.amount |= bit
		}
		if q.attribute != "" && t.Word == q.attribute {
			m.attribute |= bit
		}
	}
	m.most, m.later = extremeOf(folded), goesLater.MatchString(folded)
	if around := circumstance.FindStringSubmatch(folded); around != nil {
		m.circumstance = m.in(around[1], q.language)
	}
	return m
}

// says tells whether a question has some words by itself, and not only since it was
// written out.
func (q *question) says(words string) bool {
	return q.said == nil || !slices.ContainsFunc(strings.Fields(words), func(w string) bool { return !q.said[w] })
}

// spelledUnit matches a unit that is asked for, which a page may write by its sign.
var spelledUnit = regexp.MustCompile(`^how many (?:(?:square|cubic) )?(?:(?:kilo|centi|milli)?met(?:re|er)s|kilos?|kilograms|grams|tonnes|litres)\b`)

// quantities are words for what the unit of a figure tells by itself.
var quantities = words("temperature volume capacity speed price cost fare fee weight mass length height depth width distance area pressure percentage share age duration period salary wage wages")

// properNames returns the words that a question writes with a capital where its
// language does not ask for one. Nobody calls them otherwise.
func properNames(question string, language text.Language) []string {
	var out []string
	for i, t := range text.Tokens(question) {
		if i > 0 && language != "de" && capitalised(question[t.Start:t.End]) {
			out = append(out, t.Word)
		}
	}
	return out
}

// with returns a matcher for another goroutine, with a reader of its own.
func (m *matcher) with(reader wording.Reader) *matcher {
	other := *m
	other.reader, other.stemmer, other.titles = reader, map[text.Language]*text.Stemmer{}, map[string]marks{}
	return &other
}

// marks looks for the terms of the question in s.
func (m *matcher) marks(s string, language text.Language) marks {
	exact, like := m.reader.Match(s, language)
	return marks{exact, like}
}

// titled looks for them in a title, of which many passages have the same.
func (m *matcher) titled(title string, language text.Language) marks {
	key := string(language) + " " + title
	known, ok := m.titles[key]
	if !ok {
		known = m.marks(title, language)
		m.titles[key] = known
	}
	return known
}

func (m *matcher) stemmerOf(language text.Language) *text.Stemmer {
	stemmer := m.stemmer[language]
	if stemmer == nil {
		stemmer = text.NewStemmer(language)
		m.stemmer[language] = stemmer
	}
	return stemmer
}

// in sets, for each term of the question that stands in s, a bit.
func (m *matcher) in(s string, language text.Language) uint64 {
	stemmer := m.stemmerOf(language)
	var bits uint64
	for _, t := range text.Tokens(s) {
		for _, i := range m.forms[stemmer.Stem(t.Word)] {
			bits |= 1 << min(i, 63)
		}
	}
	return bits
}

// holdsName tells whether the whole name of a row stands in the question: "Child under 3",
// of what is asked about children under three.
func (m *matcher) holdsName(row string, language text.Language) bool {
	name, _, _ := strings.Cut(row, " · ")
	stemmer := m.stemmerOf(language)
	tokens := text.Tokens(name)
	return len(tokens) > 0 && !slices.ContainsFunc(tokens, func(t text.Token) bool { return !m.spoken[numeric(t.Word, stemmer)] })
}

// numeric is the stem of a word, or its number.
func numeric(word string, stemmer *text.Stemmer) string {
	if numberWord.MatchString(word) {
		return text.Normal(word)
	}
	return stemmer.Stem(word)
}

// graded is the share of terms that stand somewhere only by a word of like meaning,
// each counted by how like it is.
func (m *matcher) graded(bits uint64, nearness []float64) float64 {
	sum := 0.0
	for t, worth := range m.worth {
		if bits&(1<<min(t, 63)) != 0 {
			sum += worth * nearness[t]
		}
	}
	return sum / m.total
}

// share returns what part of the question's worth the set bits carry.
func (m *matcher) share(bits uint64) float64 { return m.worthOf(bits) / m.total }
