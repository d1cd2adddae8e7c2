package answer

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

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
	all   []learnt
	words []lessonWord // of all of them
	says  map[Place]said
}

// Said is what stands in a place, under its headings.
type said struct {
	tokens   []text.Token
	language text.Language
	text     string // without its headings
	headings string
	sentence passage.Sentence
}

// A lessonWord is a word of a lesson, in the lesson's language.
type lessonWord struct {
	token    text.Token
	language text.Language
}

// A learnt lesson is one as a question sees it.
type learnt struct {
	Lesson
	text     string // standalone
	folded   string
	tokens   []text.Token
	words    map[string]bool
	numbered []int // its words among those of all
	terms    []learntTerm
	want     want
	units    *regexp.Regexp
	counted  string
	language text.Language
	names    []string
	numbers  []string
	literals []string
}

// A learntTerm is a word that a lesson is about.
type learntTerm struct {
	at    []int   // which of the tokens it is
	worth float64 // of that of all
}

// Learn makes lessons ready.
func (a *Asker) Learn(lessons []Lesson) (*Lessons, error) {
	says, err := a.said(lessons)
	if err != nil {
		return nil, err
	}
	out, seen := &Lessons{says: says}, map[lessonWord]int{}
	for _, l := range lessons {
		q := a.analyse(l.Question, l.After)
		folded := foldedQuestion(q.standalone)
		soften(&q.query, folded)
		a.Index.Prepare(&q.query)
		one := learnt{
			Lesson: l, text: q.standalone, folded: folded, tokens: text.Tokens(q.standalone), words: wordSet(q.standalone), want: q.want, units: q.units,
			counted: q.counted, language: q.language, names: properNames(q.standalone, q.language), numbers: q.numbers, literals: rank.Literals(q.standalone),
		}
		if one.weigh(q.query.Terms); len(one.terms) > 0 {
			out.number(&one, seen)
			out.all = append(out.all, one)
		}
	}
	return out, nil
}

// number notes the words of a lesson, given those noted before by their numbers.
func (l *Lessons) number(one *learnt, seen map[lessonWord]int) {
	for _, t := range one.tokens {
		word := lessonWord{text.Token{Word: t.Word, Number: t.Number}, one.language}
		n, ok := seen[word]
		if !ok {
			n = len(l.words)
			seen[word], l.words = n, append(l.words, word)
		}
		one.numbered = append(one.numbered, n)
	}
}

// weigh finds the terms of a lesson's question among its words.
func (l *learnt) weigh(terms []index.Term) {
	total := 0.0
	for _, t := range terms {
		total += t.IDF * t.Weight
	}
	for _, t := range terms {
		one := learntTerm{worth: t.IDF * t.Weight / total}
		for i, token := range l.tokens {
			if token.Word == t.Word {
				one.at = append(one.at, i)
			}
		}
		if one.worth > 0 { // never where the total is nothing
			l.terms = append(l.terms, one)
		}
	}
}

// said reads what stands in the places of lessons.
func (a *Asker) said(lessons []Lesson) (map[Place]said, error) {
	out, keys := map[Place]said{}, map[string]bool{}
	for _, l := range lessons {
		for _, at := range l.At {
			out[at], keys[at.Key] = said{}, true
		}
	}
	for key := range keys {
		err := a.Index.Document(key, func(ordinal int, stored []byte) error {
			p, err := passage.Decode(stored)
			if err != nil {
				return err
			}
			for n, s := range p.Sentences {
				at := Place{key, ordinal, n}
				if _, told := out[at]; told {
					out[at] = said{text.Tokens(p.SectionPath() + "\n" + p.Text[s.Start:s.End]), p.Language, strings.Clone(p.Text[s.Start:s.End]), p.SectionPath(), s}
				}
			}
			return nil
		})
		if err != nil {
			return nil, fmt.Errorf("answer: what lessons tell of in document %s: %w", key, err)
		}
	}
	return out, nil
}

// Without returns the lessons but those that some tell to leave out.
func (l *Lessons) Without(omit func(Lesson) bool) *Lessons {
	if l == nil {
		return nil
	}
	out := &Lessons{words: l.words, says: l.says}
	for _, one := range l.all {
		if !omit(one.Lesson) {
			out.all = append(out.all, one)
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
