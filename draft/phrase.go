package draft

import (
	"strings"
	"unicode"

	"jardinet/text"
)

// A phrasing is how questions are put in a language, and how its sentences define things.
type phrasing struct {
	defines  []string
	articles map[string]bool
	within   map[string]bool // little words that a term may have inside
	what     func(term string) string
	cell     func(column, row string) string
	steps    func(heading string) string
}

var phrasings = map[text.Language]phrasing{
	text.English: {
		defines:  []string{" is a ", " is an ", " is the ", " are the ", " means ", " stands for "},
		articles: words("a an the"), within: words("of for and the in"),
		what:  func(term string) string { return "What is " + lower(term) + "?" },
		cell:  func(column, row string) string { return "What is the " + lower(column) + " of " + row + "?" },
		steps: func(heading string) string { return "What are the steps of “" + heading + "”?" },
	},
	"de": {
		defines:  []string{" ist ein ", " ist eine ", " ist der ", " ist die ", " ist das ", " bedeutet ", " bezeichnet "},
		articles: words("der die das ein eine"), within: words("der des und für von"),
		what:  func(term string) string { return "Was ist " + lower(term) + "?" },
		cell:  func(column, row string) string { return "Was steht bei " + row + " unter " + column + "?" },
		steps: func(heading string) string { return "Welche Schritte gehören zu „" + heading + "“?" },
	},
	"fr": {
		defines:  []string{" est un ", " est une ", " est le ", " est la ", " désigne ", " signifie "},
		articles: words("le la les un une"), within: words("de du des et la le pour"),
		what: func(term string) string { return "Qu’est-ce que " + lower(term) + " ?" },
		cell: func(column, row string) string {
			return "Que dit le tableau pour " + row + ", colonne " + column + " ?"
		},
		steps: func(heading string) string { return "Quelles sont les étapes de « " + heading + " » ?" },
	},
}

// phrase returns how questions are put in a language; in English where it is none of those known.
func phrase(language text.Language) phrasing {
	if p, ok := phrasings[language]; ok {
		return p
	}
	return phrasings[text.English]
}

func words(s string) map[string]bool {
	out := map[string]bool{}
	for _, w := range strings.Fields(s) {
		out[w] = true
	}
	return out
}

// lower writes the first letter small where the word is not a name or an abbreviation, as far as
// can be told: articles, and words with no other capital in a term of several.
func lower(s string) string {
	first, rest, more := strings.Cut(s, " ")
	r := []rune(first)
	if len(r) == 0 || strings.ContainsFunc(string(r[1:]), unicode.IsUpper) || more && strings.ContainsFunc(rest, unicode.IsUpper) && !isArticle(first) {
		return s
	}
	r[0] = unicode.ToLower(r[0])
	return strings.TrimSpace(string(r) + " " + rest)
}

// articles are those of all languages.
var articles = words("a an the der die das ein eine le la les un une")

func isArticle(word string) bool { return articles[strings.ToLower(word)] }
