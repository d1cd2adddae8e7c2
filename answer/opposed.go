package answer

import (
	"regexp"
	"slices"
	"strings"
)

// What is said of summer answers no question about winter, and how long seed may stay
// out of a store not how long somebody may stay in it.

// An opposition is a word of a question with those that say the contrary.
type opposition struct {
	word     string
	contrary []string
}

// colours exclude each other.
var colours = strings.Fields("red orange yellow green blue violet purple pink brown black white grey")

// oppositionsOf returns the words of a question that have opposites, without those
// that it names together: "by day and by night".
func oppositionsOf(folded string) []opposition {
	words := strings.Fields(folded)
	var out []opposition
	for _, word := range words {
		contrary := opposites[word]
		if slices.Contains(colours, word) {
			contrary = slices.DeleteFunc(slices.Clone(colours), func(c string) bool { return c == word })
		}
		if len(contrary) > 0 && !slices.ContainsFunc(contrary, func(o string) bool { return slices.Contains(words, o) }) {
			out = append(out, opposition{word, contrary})
		}
	}
	return out
}

// nothing matches a sentence that says of what nothing is given, done or allowed.
var nothing = regexp.MustCompile(`^(?:No|Nothing|None|Never)\b`)

// bounding matches what says how much at most, however it denies more.
var bounding = regexp.MustCompile(`^No (?:fewer|less|\pL{2,}er)\b|\b(?:more|\pL{2,}er) than\b|\b(?:before|until|without)\b`)

// denies tells whether a sentence says where nothing is to be had, and the question asks
// how much.
func (q *question) denies(s string) bool {
	return q.want == wantQuantity && q.denied == "" && nothing.MatchString(s) && !bounding.MatchString(strings.ReplaceAll(s, "fewer than", "")) && !nothing.MatchString(capital(q.standalone))
}

// receives matches to whom a question asks something to be said or given, by an office
// with capitals: "to the Head of Plant Health".
var receives = regexp.MustCompile(`\bto (?:the )?(\p{Lu}\pL+(?: (?:of |the )?\p{Lu}\pL+)*)`)

// turnsRound tells whether in a sentence that passes something on which the question has
// passed to it: the Head of Plant Health reports it to somebody else.
func (q *question) turnsRound(s string) bool {
	if q.recipient == "" {
		return false
	}
	at := strings.Index(s, q.recipient+" ")
	return at >= 0 && passesOn.MatchString(s[at+len(q.recipient):]) && !strings.HasSuffix(s[:at], "to ") && !strings.HasSuffix(s[:at], "to the ")
}

var passesOn = regexp.MustCompile(`^ \pL{3,}s (?:\pL+ ){0,4}to (?:the |an? )?\pL`)

var staysIn = regexp.MustCompile(`\b(stays?|remains?|goe?s?|comes?|works?) (in|inside|out|outside)\b`)

// opposes tells whether a sentence speaks of the contrary of what is asked, and not of
// that too.
func (q *question) opposes(s string) bool {
	if len(q.oppositions) == 0 && q.stays == nil {
		return false
	}
	words := strings.Fields(foldedQuestion(s))
	for _, o := range q.oppositions {
		if !slices.Contains(words, o.word) && slices.ContainsFunc(o.contrary, func(w string) bool { return slices.Contains(words, w) }) {
			return true
		}
	}
	return q.staysElsewhere(s)
}

// staysElsewhere tells whether a sentence speaks of staying out where a question speaks
// of staying in, or the other way about, which no other words make up for.
func (q *question) staysElsewhere(s string) bool {
	return q.stays != nil && q.stays.MatchString(foldedQuestion(s))
}

// staysOtherwise returns what matches "stay out" where a question says "stay in", and
// the other way about; nil if it says neither.
func staysOtherwise(folded string) *regexp.Regexp {
	m := staysIn.FindStringSubmatch(folded)
	if m == nil {
		return nil
	}
	other := "out"
	if strings.HasPrefix(m[2], "out") {
		other = "in"
	}
	return regexp.MustCompile(`\b` + strings.TrimSuffix(m[1], "s") + `s? ` + other + `(?:side)?\b`)
}
