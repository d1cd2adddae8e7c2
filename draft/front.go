package draft

import (
	"regexp"
	"strings"
	"unicode"
	"unicode/utf8"
)

// auxiliary is the verb with which an English question can begin, after what is asked for.
var auxiliary = regexp.MustCompile(`\s(is|are|was|were|may|must|can|will|shall|should)(?:\s|$)`)

// prepositions are what a quantity may stand behind, and bounding is what is said of how it is meant,
// which a question leaves to the answer.
var (
	prepositions = words("for within at after every")
	bounding     = regexp.MustCompile(`(?i)\s(?:no (?:longer|later|more|less|fewer|higher|lower) than|at (?:least|most|the most)|about|around|up to|less than|more than|only|nearly|another|a further)$`)
)

// Bounds of what is turned around, in words.
const (
	mostOfSubject = 7
	mostOfMiddle  = 9
)

// measured are adjectives behind a quantity that it is asked for with: "how old", "how deep".
var measured = words("old long high deep wide tall thick heavy")

// clauses are words by which a subject has a clause of its own, and would have a verb before its own.
var clauses = words("who which that where when whose if whether and or")

// fronted asks for the quantity between two bytes of a sentence as people do, with the question's words
// in front: "Mail is kept for two years." becomes "For how long is mail kept?" It is empty where the
// sentence is not simple enough. common tells whether a word is written small inside sentences.
func fronted(sentence string, start, end int, ask string, common func(word string) bool) string {
	before, after := sentence[:start], strings.TrimRight(sentence[end:], " .")
	at := auxiliary.FindStringSubmatchIndex(before)
	if at == nil {
		return ""
	}
	subject, verb, middle := strings.Fields(before[:at[0]]), before[at[2]:at[3]], strings.Fields(bounding.ReplaceAllString(strings.TrimRight(before[at[3]:], " "), ""))
	if len(subject) == 0 || len(subject) > mostOfSubject || len(middle) > mostOfMiddle || strings.ContainsAny(before, ",;:()") {
		return ""
	}
	if leads[strings.ToLower(subject[0])] {
		return "" // "for the trains the speed is …"
	}
	for _, w := range subject {
		if clauses[strings.ToLower(w)] {
			return ""
		}
	}
	preposition := ""
	if n := len(middle); n > 0 {
		if !prepositions[strings.ToLower(middle[n-1])] {
			return ""
		}
		preposition, middle = strings.ToLower(middle[n-1])+" ", middle[:n-1]
		if preposition == "every " {
			preposition, ask = "", "how often"
		}
	}
	if first, more, _ := strings.Cut(strings.TrimSpace(after), " "); measured[strings.Trim(first, ",;")] {
		ask, after = "how "+strings.Trim(first, ",;"), more
		if strings.ContainsAny(first, ",;") {
			after = ""
		}
	}
	if ask == "what weight" && preposition == "" {
		ask = "how heavy"
	}
	if word := strings.ToLower(subject[0]); common(word) {
		subject[0] = word
	}
	rest := after
	if i := strings.IndexAny(rest, ",;:("); i >= 0 {
		rest = rest[:i]
	}
	rest, _, _ = strings.Cut(rest, " and ")
	parts := append([]string{strings.TrimSpace(preposition + ask), verb}, subject...)
	parts = append(append(parts, middle...), strings.Fields(rest)...)
	return firstUpper(strings.Join(parts, " ")) + "?"
}

func firstUpper(s string) string {
	r, n := utf8.DecodeRuneInString(s)
	return string(unicode.ToUpper(r)) + s[n:]
}
