// Package plain makes sentences easier to read without saying anything anew: long ones are cut where
// one clause ends and the next begins, abbreviations are written out, and how easy a text is to read
// has a number.
//
// A cut is made only where both sides can stand alone, so that no condition is parted from what it
// holds for; what is in doubt stays as it is.
package plain

import (
	"regexp"
	"strings"
	"unicode"
	"unicode/utf8"

	"jardinet/text"
)

const (
	short = 12 // words of a sentence that is left as it is
	least = 3  // words of each part of one that is cut
)

// Cut parts a sentence into shorter ones, each with a capital and a full stop. One that is short, or
// cannot be parted safely, is returned alone and as it stands.
func Cut(sentence string, language text.Language) []string {
	g, ok := grammars[language]
	if !ok || len(strings.Fields(sentence)) <= short || strings.ContainsAny(sentence, ":“”\"«»„") {
		return []string{sentence} // a list or a quotation may go on behind the edge
	}
	var parts []string
	rest := sentence
	for from := 0; ; {
		at := edge.FindStringSubmatchIndex(rest[from:])
		if at == nil {
			break
		}
		left, right := rest[:from+at[0]], rest[from+at[1]:]
		word := ""
		if at[2] >= 0 {
			word = rest[from+at[2] : from+at[3]]
		}
		if !g.parts(left, word, right, rest[from+at[0]] == ';') {
			from += at[1]
			continue
		}
		parts = append(parts, stopped(left))
		rest, from = g.begin(word, right), 0
	}
	if parts == nil {
		return []string{sentence}
	}
	return append(parts, stopped(rest))
}

// edge is where clauses may meet.
var edge = regexp.MustCompile(`(?:;\s+|,\s+)(?:(and|but|so|et|mais|und|aber)\s+)?`)

// A grammar is what cutting needs to know of a language.
type grammar struct {
	joins     map[string]string // conjunctions before a main clause, and what they become
	verbs     *regexp.Regexp    // finite verbs that can be told by themselves
	subject   *regexp.Regexp    // what a clause of its own begins with
	dependent *regexp.Regexp    // what a clause begins with that cannot stand alone
	last      bool              // a verb at the end is that of a dependent clause
}

var grammars = map[text.Language]grammar{
	text.English: {
		joins:     map[string]string{"and": "", "but": "But", "so": "So"},
		verbs:     anyOf("is", "are", "was", "were", "has", "have", "had", "will", "can", "may", "must", "shall", "should", "would", "could", "does", "do", "did", "cannot"),
		subject:   beginning("it", "they", "he", "she", "we", "you", "this", "these", "those", "the", "a", "an", "each", "every", "all", "any", "no", "its", "their", "his", "her", "nobody", "nothing", "there", "one", "most", "some", "both"),
		dependent: anywhere("if", "when", "whenever", "unless", "although", "though", "because", "while", "whether", "until", "once", "since", "that", "which", "who", "whose", "where", "either", "neither", "both", "whatever", "as soon as", "provided"),
	},
	"fr": {
		joins:     map[string]string{"et": "", "mais": "Mais"},
		verbs:     anyOf("est", "sont", "était", "étaient", "a", "ont", "avait", "sera", "seront", "peut", "peuvent", "doit", "doivent", "fait", "font", "va", "vont"),
		subject:   beginning("il", "elle", "ils", "elles", "on", "nous", "vous", "ce", "cette", "ces", "le", "la", "les", "l'", "un", "une", "chaque", "tout", "tous", "toute", "aucun", "aucune", "son", "sa", "ses", "leur", "leurs"),
		dependent: anywhere("si", "quand", "lorsque", "lorsqu'", "bien que", "parce que", "tandis que", "que", "qui", "dont", "où", "soit", "dès que", "sauf"),
	},
	"de": {
		joins:     map[string]string{"und": "", "aber": "Aber"},
		verbs:     anyOf("ist", "sind", "war", "waren", "hat", "haben", "wird", "werden", "kann", "können", "darf", "dürfen", "muss", "müssen", "soll", "sollen", "gibt"),
		subject:   beginning("er", "sie", "es", "wir", "man", "dies", "diese", "dieser", "dieses", "der", "die", "das", "ein", "eine", "jeder", "jede", "jedes", "alle", "kein", "keine", "ihr", "ihre", "sein", "seine"),
		dependent: anywhere("wenn", "falls", "obwohl", "weil", "während", "ob", "bis", "dass", "welche", "welcher", "welches", "wo", "entweder", "weder", "sobald", "sofern", "damit"),
		last:      true,
	},
}

func anyOf(words ...string) *regexp.Regexp {
	return regexp.MustCompile(`(?i)(?:^|[^\pL])(?:` + strings.Join(words, "|") + `)(?:$|[^\pL'’])`)
}

func beginning(words ...string) *regexp.Regexp {
	return regexp.MustCompile(`(?i)^(?:` + strings.Join(words, "|") + `)[\s'’]`)
}

func anywhere(words ...string) *regexp.Regexp {
	return regexp.MustCompile(`(?i)(?:^|[^\pL])(?:` + strings.Join(words, "|") + `)(?:$|[^\pL])`)
}

// Verbs that only their place tells: behind a pronoun, or behind a noun and before what is done to.
var (
	afterPronoun = regexp.MustCompile(`^(?i:it|they|he|she|we|you) \pL+`)
	afterNoun    = regexp.MustCompile(`^(?i:the|an?|each|every|its|their) [\pL-]+ [a-z]+(?:[^s]s|ed) (?:it|them|him|her|us|you|the|an?|his|its|their|this|that|these|those|each|every|all|any|no)(?:$|[^\pL])`)
	atTheEnd     = regexp.MustCompile(`^(?i:the|an?|each|every|its|their) [\pL-]+ [a-z]+(?:[^s]s|ed)$`) // "the rest lapses", but "the parent weeks" as well
)

// parts tells whether what stands on both sides of an edge can stand alone.
func (g *grammar) parts(left, word, right string, semicolon bool) bool {
	clause := right
	if at := edge.FindStringIndex(right); at != nil {
		clause = right[:at[0]]
	}
	clause = strings.TrimRight(clause, " .!?")
	if len(strings.Fields(left)) < least || len(strings.Fields(clause)) < least {
		return false
	}
	if _, joins := g.joins[word]; !joins && !semicolon {
		return false // a comma alone parts no clauses
	}
	if !g.subject.MatchString(clause) || !g.acts(left) {
		return false
	}
	if at := g.dependent.FindStringIndex(clause); at != nil { // "a statement that it is free" has no verb of its own
		clause = clause[:at[0]]
	}
	if semicolon {
		return g.acts(clause) || atTheEnd.MatchString(clause)
	}
	return g.acts(clause) && !g.dependent.MatchString(left) && !strings.Contains(left, "(")
}

// acts tells whether a clause has a finite verb that makes it a main clause.
func (g *grammar) acts(clause string) bool {
	words := strings.Fields(clause)
	if len(words) < 2 {
		return false
	}
	if g.last {
		clause = strings.Join(words[:len(words)-1], " ")
	}
	return g.verbs.MatchString(clause) || afterPronoun.MatchString(clause) || afterNoun.MatchString(clause)
}

// begin begins a sentence with what stands behind an edge.
func (g *grammar) begin(word, right string) string {
	if join := g.joins[word]; join != "" {
		return join + " " + right
	}
	r, n := utf8.DecodeRuneInString(right)
	return string(unicode.ToUpper(r)) + right[n:]
}

func stopped(s string) string {
	s = strings.TrimSpace(s)
	if strings.HasSuffix(s, ".") || strings.HasSuffix(s, "!") || strings.HasSuffix(s, "?") {
		return s
	}
	return s + "."
}

// WriteOut writes an abbreviation out where it stands first, with the short form behind it: "the duty
// officer (DO)". It is false where the abbreviation does not stand, or its meaning does already.
func WriteOut(s, abbreviation, means string) (string, bool) {
	if !strings.Contains(s, abbreviation) || strings.Contains(strings.ToLower(s), strings.ToLower(means)) {
		return s, false // most sentences, and no pattern is needed to see it
	}
	at := regexp.MustCompile(`(^|[^\pL\pN-])(` + regexp.QuoteMeta(abbreviation) + `)($|[^\pL\pN-])`).FindStringSubmatchIndex(s)
	if at == nil {
		return s, false
	}
	before := s[:at[4]]
	if m := article.FindStringSubmatchIndex(before); m != nil { // "an SSI" becomes "a standing instruction"
		before = before[:m[2]] + withArticle(before[m[2]:m[3]], means) + before[m[3]:]
	}
	return before + means + " (" + abbreviation + ")" + s[at[5]:], true
}

var article = regexp.MustCompile(`(?:^|\s)([Aa]n?)\s$`)

func withArticle(a, word string) string {
	if strings.ContainsRune("aeiouAEIOU", rune(word[0])) {
		return a[:1] + "n"
	}
	return a[:1]
}
