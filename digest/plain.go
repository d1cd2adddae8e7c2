package digest

import (
	"strings"

	"jardinet/layout"
	"jardinet/plain"
	"jardinet/text"
)

// A Plain is a text in plain words: its sentences cut, and what it writes short or as a term explained.
type Plain struct {
	Sentences     []PlainSentence
	Before, After plain.Measure
}

// A PlainSentence is a sentence and what stands for it.
type PlainSentence struct {
	Quote Quote    // as it stands
	Parts []string // the same in shorter sentences; itself alone if nothing could be made plainer
	Terms []Term   // that it has first under its heading, and that it does not define itself
}

// Plainly says the sentences of some pages in plain words. Terms are the document's; short ones may be
// those of a glossary, without a quote.
func Plainly(doc *layout.Document, from, to int, terms []Term) *Plain {
	out := new(Plain)
	var before, after []string
	var under string
	told := map[string]bool{}
	for _, q := range lines(doc) {
		if q.Page < from || q.Page > to || !q.isProse() || !strings.Contains(q.Text, " ") {
			continue
		}
		if now := strings.Join(q.Section, "\n"); now != under {
			under = now
			clear(told)
		}
		s := plainly(q, terms, told)
		before, after = append(before, q.Text), append(after, s.Parts...)
		out.Sentences = append(out.Sentences, s)
	}
	out.Before, out.After = plain.Ease(before, doc.Language), plain.Ease(after, doc.Language)
	return out
}

func plainly(q Quote, terms []Term, told map[string]bool) PlainSentence {
	s := PlainSentence{Quote: q}
	words := q.Text
	for _, t := range terms {
		if told[t.Term] {
			continue
		}
		if t.Short {
			if written, ok := plain.WriteOut(words, t.Term, t.Means); ok {
				words, told[t.Term] = written, true
			}
			continue
		}
		if t.Quote.Text != q.Text && hasTerm(words, t.Term) {
			s.Terms, told[t.Term] = append(s.Terms, t), true
		}
	}
	s.Parts = plain.Cut(words, q.language)
	return s
}

// hasTerm tells whether the words of a term stand side by side in a text.
func hasTerm(s, term string) bool {
	return strings.Contains(" "+text.Normal(s)+" ", " "+text.Normal(term)+" ")
}
