package rank

import (
	"cmp"
	"slices"
	"strings"

	"jardinet/index"
	"jardinet/text"
)

// A Glossary knows what a collection's own terms stand for, both ways.
type Glossary struct {
	entries map[string][]meaning // by language and stems
	longest int                  // words of a term
}

// A meaning is what a term stands for.
type meaning struct {
	words    []string
	language text.Language
}

// NewGlossary makes a glossary of entries.
func NewGlossary(entries []Entry) *Glossary {
	g := &Glossary{entries: map[string][]meaning{}}
	stemmers := map[text.Language]*text.Stemmer{}
	for _, e := range entries {
		from, to := cmp.Or(e.Language, text.English), cmp.Or(e.MeansLanguage, e.Language, text.English)
		g.add(stemmers, from, e.Term, meaning{words(e.Means), to})
		g.add(stemmers, to, e.Means, meaning{words(e.Term), from})
	}
	return g
}

func (g *Glossary) add(stemmers map[text.Language]*text.Stemmer, language text.Language, term string, m meaning) {
	own := words(term)
	if len(own) == 0 || len(own) > longestEntry || len(m.words) == 0 {
		return
	}
	k := key(stemmers, language, own)
	g.entries[k] = append(g.entries[k], m)
	g.longest = max(g.longest, len(own))
}

// key names a term by its language and stems.
func key(stemmers map[text.Language]*text.Stemmer, language text.Language, term []string) string {
	s := stemmers[language]
	if s == nil {
		s = text.NewStemmer(language)
		stemmers[language] = s
	}
	stems := make([]string, len(term))
	for i, w := range term {
		stems[i] = s.Stem(w)
	}
	return string(language) + ":" + strings.Join(stems, " ")
}

// words returns the folded words of a phrase.
func words(phrase string) []string {
	var out []string
	for _, t := range text.Tokens(phrase) {
		out = append(out, t.Word)
	}
	return out
}

// Explain returns a question with what its terms stand for in brackets behind them, for
// the encoder, which cannot know a collection's own abbreviations: "Who reads the SSI
// (standing safety instruction)?"
func (g *Glossary) Explain(question string, language text.Language) string {
	var out strings.Builder
	from := 0
	g.each(question, language, func(_ []string, end int, meanings []meaning) {
		out.WriteString(question[from:end])
		from = end
		for _, m := range meanings {
			out.WriteString(" (" + strings.Join(m.words, " ") + ")")
		}
	})
	out.WriteString(question[from:])
	return out.String()
}

// each visits the terms of a glossary in a question, none within another.
func (g *Glossary) each(question string, language text.Language, visit func(term []string, end int, meanings []meaning)) {
	if g == nil || g.longest == 0 {
		return
	}
	stemmers := map[text.Language]*text.Stemmer{}
	tokens := text.Tokens(question)
	for i := 0; i < len(tokens); i++ {
		for n := min(g.longest, len(tokens)-i); n > 0; n-- {
			term := make([]string, n)
			for k, t := range tokens[i : i+n] {
				term[k] = t.Word
			}
			if found := g.entries[key(stemmers, language, term)]; found != nil {
				visit(term, tokens[i+n-1].End, found)
				i += n - 1
				break
			}
		}
	}
}

// widen has what a question's terms stand for count as much as they do.
func (g *Glossary) widen(q *Question, languages []text.Language) {
	stemmers := map[text.Language]*text.Stemmer{}
	for _, l := range languages {
		stemmers[l] = text.NewStemmer(l)
	}
	g.each(q.Text, q.Language, func(term []string, _ int, meanings []meaning) {
		for k := range q.Query.Terms {
			t := &q.Query.Terms[k]
			if !slices.Contains(term, t.Word) {
				continue
			}
			for _, m := range meanings {
				t.Expansions = append(t.Expansions, alike(m, t, stemmers[m.language])...)
			}
		}
	})
}

// alike returns the forms that stand for a term: of several words each does so in part.
func alike(m meaning, t *index.Term, stemmer *text.Stemmer) []index.Expansion {
	var out []index.Expansion
	if stemmer == nil {
		return nil // nothing in the index is in that language
	}
	for _, w := range m.words {
		form := stemmer.Stem(w)
		if text.IsFunctionWord(w, m.language) || slices.Contains(t.Forms, form) || slices.ContainsFunc(t.Expansions, func(a index.Expansion) bool { return a.Form == form }) {
			continue
		}
		out = append(out, index.Expansion{Form: form, Weight: 1 / float64(len(m.words)), Part: len(m.words) > 1})
	}
	return out
}
