package wording

import (
	"cmp"
	"slices"
	"strings"

	"jardinet/index"
	"jardinet/text"
)

// widen looks up the words and phrases of a question in the lexicons.
func (a *Asked) widen(question string, language text.Language, languages []text.Language) {
	stemmers := map[text.Language]*text.Stemmer{language: text.NewStemmer(language)}
	for _, l := range languages {
		stemmers[l] = text.NewStemmer(l)
	}
	tokens := text.Tokens(question)
	asked := make([]string, len(tokens))
	for i, t := range tokens {
		asked[i] = t.Word
	}
	for _, lexicon := range a.Lexicons {
		for from := range asked {
			for n := 1; n <= lexicon.longest && from+n <= len(asked); n++ {
				if end := from + n; n > 1 && end < len(asked) && tokens[end].Number && tiesNumbers[asked[end-1]] {
					continue // who "came in 2021" did not come in
				}
				a.look(lexicon, asked[from:from+n], language, stemmers)
			}
			for gap := 1; gap <= mostBetween && from+1+gap < len(asked); gap++ {
				if particles[asked[from+1+gap]] {
					a.look(lexicon, []string{asked[from], asked[from+1+gap]}, language, stemmers)
				}
			}
		}
	}
	for k, t := range a.terms {
		for stem, weight := range t.like {
			if !slices.Contains(t.forms, stem) && !a.forbidden(language, t.forms[0], stem) {
				a.query.Terms[k].Expansions = append(a.query.Terms[k].Expansions, index.Expansion{Form: stem, Weight: weight})
			}
		}
		a.query.Terms[k].Expansions = distinct(a.query.Terms[k].Expansions)
	}
}

// asking words begin phrases that say what is wanted and not what it is about.
var asking = set("how who what whom may can must do am is are until since by from at when where which")

func set(words string) map[string]bool {
	out := map[string]bool{}
	for _, w := range strings.Fields(words) {
		out[w] = true
	}
	return out
}

// tiesNumbers are the words that belong to a number after them.
var tiesNumbers = set("in on at by from to since until of for with over under")

// particles follow verbs that mean something else with them, often with an object
// between, of so many words at most: "throw the old bags away".
var particles = set("away back out up down off ready apart together open")

const mostBetween = 4

// look looks a phrase of the question up.
func (a *Asked) look(lexicon *Lexicon, phrase []string, language text.Language, stemmers map[text.Language]*text.Stemmer) {
	likes := lexicon.find(stemmers[language], language, phrase)
	if len(likes) == 0 {
		return
	}
	if whole := strings.Join(phrase, " "); len(phrase) > 1 {
		if !a.has(whole) && !asking[phrase[0]] && !slices.Contains(phrase, "i") && !a.covers(phrase) && tells(phrase, language) {
			a.coin(phrase, stemmers[language])
		}
		if a.has(whole) {
			phrase = []string{whole}
		}
	}
	a.attach(phrase, likes, stemmers)
}

// tells tells whether a phrase has more than grammar in it: "put out", but not "in all".
func tells(phrase []string, language text.Language) bool {
	return slices.ContainsFunc(phrase, func(w string) bool { return !text.IsFunctionWord(w, language) })
}

// covers tells whether a word of a phrase is one that the question is about.
func (a *Asked) covers(phrase []string) bool {
	return slices.ContainsFunc(a.query.Terms, func(t index.Term) bool { return t.Weight == 1 && slices.Contains(phrase, t.Word) })
}

// has tells whether a word or phrase is a term.
func (a *Asked) has(word string) bool {
	return slices.ContainsFunc(a.query.Terms, func(t index.Term) bool { return t.Word == word })
}

// coin makes a term of a phrase whose words by themselves say little: "put out".
func (a *Asked) coin(words []string, stemmer *text.Stemmer) {
	whole := strings.Join(words, " ")
	own := phrase{weight: 1}
	for _, w := range words {
		own.stems = append(own.stems, stemmer.Stem(w))
	}
	a.query.Terms = append(a.query.Terms, index.Term{Word: whole, Forms: []string{whole}, Weight: 1})
	a.terms = append(a.terms, term{forms: []string{whole}, like: map[string]float64{}, phrases: []phrase{own}})
}

// distinct leaves of each form the weightiest.
func distinct(likes []index.Expansion) []index.Expansion {
	slices.SortFunc(likes, func(x, y index.Expansion) int {
		return cmp.Or(cmp.Compare(x.Form, y.Form), cmp.Compare(y.Weight, x.Weight))
	})
	return slices.CompactFunc(likes, func(x, y index.Expansion) bool { return x.Form == y.Form })
}

// attach notes with the terms that a phrase covers what the phrase is like.
func (a *Asked) attach(asked []string, likes []Like, stemmers map[text.Language]*text.Stemmer) {
	for k := range a.terms {
		if !slices.Contains(asked, a.query.Terms[k].Word) {
			continue
		}
		t := &a.terms[k]
		for _, like := range likes {
			stemmer := stemmers[like.Language]
			if stemmer == nil {
				continue // nothing in the index is in that language
			}
			if len(like.Words) == 1 {
				stem := stemmer.Stem(like.Words[0])
				if len(asked) > 1 && a.isTerm(asked, stem) {
					continue // lost property is property, and not just lost
				}
				t.like[stem] = max(t.like[stem], like.Weight)
				continue
			}
			p := phrase{weight: like.Weight}
			for _, w := range like.Words {
				p.stems = append(p.stems, stemmer.Stem(w))
			}
			t.phrases = append(t.phrases, p)
			// The index knows no phrases; their words bring the passage among
			// the candidates.
			for i, stem := range p.stems {
				if !text.IsFunctionWord(like.Words[i], like.Language) {
					a.query.Terms[k].Expansions = append(a.query.Terms[k].Expansions, index.Expansion{Form: stem, Weight: like.Weight / float64(len(p.stems)), Part: true})
				}
			}
		}
	}
}

// isTerm tells whether one of some words is a term of which a stem is a form.
func (a *Asked) isTerm(words []string, stem string) bool {
	return slices.ContainsFunc(a.query.Terms, func(t index.Term) bool {
		return slices.Contains(words, t.Word) && slices.Contains(t.Forms, stem)
	})
}

// forbidden tells whether some lexicon says that two stems are not alike.
func (a *Asked) forbidden(language text.Language, x, y string) bool {
	for _, l := range a.Lexicons {
		if len(l.never) > 0 && l.never[string(language)+":"+x+"\n"+string(language)+":"+y] {
			return true
		}
	}
	return false
}
