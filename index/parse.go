package index

import (
	"slices"
	"strings"

	"jardinet/text"
)

// ParseSearch is that for the languages of the index.
func (x *Index) ParseSearch(typed string) (Query, [][]string) {
	return ParseSearch(typed, x.Languages())
}

// ParseSearch makes a query of what a person typed to search: "words in quotes"
// have to stand in a passage, one after the other; -word must not. The phrases
// are returned as folded words, since the index knows no positions: the caller
// checks them in Query.Verify.
func ParseSearch(typed string, languages []text.Language) (Query, [][]string) {
	plain, quoted, without := splitTyped(typed)
	q := Parse(plain, languages)
	if plain == "" {
		q = Query{}
	}
	var phrases [][]string
	for _, phrase := range quoted {
		var words []string
		for _, t := range text.Tokens(phrase) {
			words = append(words, t.Word)
		}
		if len(words) == 0 {
			continue
		}
		phrases = append(phrases, words)
		for _, t := range every(phrase, languages) {
			t.Must = true
			q.Terms = append(q.Terms, t)
		}
	}
	for _, word := range without {
		for _, t := range every(word, languages) {
			t.Not, t.Weight = true, 0
			q.Terms = append(q.Terms, t)
		}
	}
	return q, phrases
}

// every returns all words as terms, also those that only carry grammar.
func every(s string, languages []text.Language) []Term {
	if len(languages) == 0 {
		languages = []text.Language{text.English}
	}
	return parse(s, languages, func(string) bool { return false })
}

// splitTyped parts what was typed into plain words, quoted phrases and words
// with a minus in front. A quote without its end is taken as plain.
func splitTyped(typed string) (plain string, quoted, without []string) {
	typed = strings.NewReplacer("“", `"`, "”", `"`).Replace(typed)
	var rest []string
	for {
		before, after, open := strings.Cut(typed, `"`)
		inside, next, closed := strings.Cut(after, `"`)
		if !open || !closed {
			rest = append(rest, typed)
			break
		}
		rest = append(rest, before)
		quoted = append(quoted, inside)
		typed = next
	}
	words := strings.Fields(strings.Join(rest, " "))
	words = slices.DeleteFunc(words, func(w string) bool {
		word, minus := strings.CutPrefix(w, "-")
		if minus && word != "" {
			without = append(without, word)
		}
		return minus
	})
	return strings.Join(words, " "), quoted, without
}
