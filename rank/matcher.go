package rank

import (
	"sync"

	"jardinet/index"
	"jardinet/passage"
	"jardinet/text"
)

// A matcher looks for a question's words in passages. It serves one goroutine.
type matcher struct {
	worth    []float64 // of each term
	total    float64
	forms    map[string][]int // the terms of which a stem is a form
	literals []string
	stemmers map[text.Language]*text.Stemmer
}

// Stemmers remember what they have reduced, so they are used again.
var stemmers = sync.Pool{New: func() any { return map[text.Language]*text.Stemmer{} }}

func newMatcher(q *index.Query, literals []string) *matcher {
	m := &matcher{forms: map[string][]int{}, literals: literals, stemmers: stemmers.Get().(map[text.Language]*text.Stemmer)}
	for i, t := range q.Terms {
		worth := t.IDF * t.Weight
		m.worth, m.total = append(m.worth, worth), m.total+worth
		for _, form := range t.Forms {
			m.forms[form] = append(m.forms[form], i)
		}
		for _, a := range t.Expansions {
			if !a.Part {
				m.forms[a.Form] = append(m.forms[a.Form], i)
			}
		}
	}
	return m
}

func (m *matcher) release() { stemmers.Put(m.stemmers) }

func (m *matcher) stemmer(language text.Language) *text.Stemmer {
	s := m.stemmers[language]
	if s == nil {
		s = text.NewStemmer(language)
		m.stemmers[language] = s
	}
	return s
}

// features looks at a passage; those that compare candidates are left out.
func (m *matcher) features(h *index.Hit, p *passage.Passage) Features {
	f := Features{Words: h.Expanded, Meaning: h.Cosine}
	heading := p.Heading()
	for _, l := range m.literals {
		if Holds(p.Text, l) || Holds(heading, l) {
			f.Literal += 1 / float64(len(m.literals))
		}
	}
	if m.total <= 0 {
		return f
	}
	f.Words /= m.total
	above, pairs := m.present(heading, p.Language)
	here, more := m.present(p.Text, p.Language)
	for i, worth := range m.worth {
		if above[i] {
			f.Heading += worth / m.total
		}
		if above[i] || here[i] {
			f.Coverage += worth / m.total
		}
	}
	for i := range pairs {
		if pairs[i] || more[i] {
			f.Pairs += 1 / float64(len(pairs))
		}
	}
	return f
}

// beside is how many words apart words side by side may be.
const beside = 3

// present tells which terms stand in a text, and which of them have the question's next
// term after them.
func (m *matcher) present(s string, language text.Language) (terms, pairs []bool) {
	terms, pairs = make([]bool, len(m.worth)), make([]bool, max(0, len(m.worth)-1))
	last := make([]int, len(m.worth)) // the place after each term's last
	stemmer := m.stemmer(language)
	for place, t := range text.Tokens(s) {
		for _, i := range m.forms[stemmer.Stem(t.Word)] {
			terms[i], last[i] = true, place+1
			if i > 0 && last[i-1] > 0 && place+1-last[i-1] <= beside {
				pairs[i-1] = true
			}
		}
	}
	return terms, pairs
}
