package answer

import (
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"jardinet/text"
)

// A phrase is some words of a question, as they are written and folded.
type phrase struct{ written, folded []string }

// phraseOf splits a question into words, without the marks around them.
func phraseOf(s string) phrase {
	var p phrase
	for _, word := range strings.Fields(strings.ReplaceAll(s, "’", "'")) {
		if word = strings.Trim(word, `?!.,;:"“”`); word != "" {
			p.written, p.folded = append(p.written, word), append(p.folded, strings.ToLower(word))
		}
	}
	return p
}

func (p phrase) len() int                  { return len(p.written) }
func (p phrase) slice(from, to int) phrase { return phrase{p.written[from:to], p.folded[from:to]} }
func (p phrase) String() string            { return strings.Join(p.written, " ") }

// with returns the phrase with others in the place of some of its words.
func (p phrase) with(from, to int, other phrase) phrase {
	return phrase{slices.Concat(p.written[:from], other.written, p.written[to:]), slices.Concat(p.folded[:from], other.folded, p.folded[to:])}
}

// question writes a phrase as a question.
func (p phrase) question() string {
	out := slices.Clone(p.written)
	for i := range p.len() - 1 {
		if next := p.written[i+1]; (p.folded[i] == "a" || p.folded[i] == "an") && !soundsOtherwise.MatchString(next) && !capitalised(next) {
			out[i] = "a"
			if strings.ContainsAny(next[:1], "aeiou") {
				out[i] = "an" // whatever stood there before
			}
		}
	}
	return capital(strings.Join(out, " ")) + "?"
}

// soundsOtherwise matches words that sound as if they began with another letter.
var soundsOtherwise = regexp.MustCompile(`^(?:hour|honest|honou?r|heir|one|once|uni|use|usual|usable|eu|ewe)`)

// edges are words before which the name of a thing ends.
var edges = words("in into for of at on to with by from under after before during when if while and or than as who that which because until since per about without between above below over behind beside near up down")

// setPhrases name no place and no thing.
var setPhrases = map[string]bool{"at once": true, "at most": true, "at least": true, "at all": true, "at first": true, "at last": true, "in all": true, "in time": true, "in advance": true, "on average": true}

// nameEnd is where the name of a thing ends that begins at a word of a question.
func (p phrase) nameEnd(from int) int {
	to := from
	for to < p.len() && !edges[p.folded[to]] && !helper.MatchString(p.folded[to]) {
		to++
	}
	if to == p.len() && to > from+1 && isDone.MatchString(p.folded[to-1]) {
		to-- // what is done there stays
	}
	return to
}

// nameStart is where the name of a thing begins that ends with a word of a question.
func (p phrase) nameStart(last int) int {
	from, least := last, 1
	switch {
	case p.folded[0] != "who" || last < 2:
	case modal[p.folded[1]]:
		least = 3 // after what somebody may do
	case !helper.MatchString(p.folded[1]):
		least = 2 // after what somebody does
	}
	for from > least && last-from < mostWordsOfAThing && !edges[p.folded[from-1]] && !owned[p.folded[from-1]] && !softWords[p.folded[from-1]] && !helper.MatchString(p.folded[from-1]) && !asksWord.MatchString(p.folded[from-1]) {
		from--
	}
	return from
}

// capitalised tells whether a word is written as a name.
func capitalised(word string) bool {
	r, _ := utf8.DecodeRuneInString(word)
	return unicode.IsUpper(r) && word != "I"
}

// tells tells whether a word is one of substance.
func tells(word string) bool { return !softWords[word] && !text.IsFunctionWord(word, text.English) }
