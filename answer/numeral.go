package answer

import (
	"iter"
	"regexp"
	"strings"
)

// Patterns of quantities are large, and a regular expression that may begin anywhere is
// tried everywhere. A quantity begins with a number, so it is enough to try it where one
// does, which takes a tenth of the time.

// A led pattern finds what begins with a number.
type led struct {
	free *regexp.Regexp // what needs none; nil for nothing
	at   *regexp.Regexp // anchored
}

// byNumber are the patterns of quantities that begin with a number, made ready.
var byNumber = map[*regexp.Regexp]led{}

// leading makes a pattern that matches something free, or what begins with a number.
func leading(free, numbered string) *regexp.Regexp {
	whole, one := numbered, led{at: regexp.MustCompile(`^(?:` + numbered + `)`)}
	if free != "" {
		whole, one.free = free+`|`+numbered, regexp.MustCompile(free)
	}
	out := regexp.MustCompile(whole)
	byNumber[out] = one
	return out
}

// numbersIn yields where a pattern that was made by leading matches what begins with a
// number, each of those one after the other.
func numbersIn(s string, at *regexp.Regexp) iter.Seq2[int, int] {
	return func(yield func(from, to int) bool) {
		for i := 0; i < len(s); i++ {
			if !beginsNumber(s, i) {
				continue
			}
			span := at.FindStringIndex(s[i:])
			if span == nil {
				continue
			}
			if !yield(i, i+span[1]) {
				return
			}
			i += max(span[1], 1) - 1
		}
	}
}

// numberStarts are the first two letters of the words for numbers.
var numberStarts = func() map[string]bool {
	out := map[string]bool{}
	for _, word := range strings.FieldsFunc(numberWords, func(r rune) bool { return strings.ContainsRune("(?:|)", r) }) {
		out[word[:2]] = true
	}
	return out
}()

// beginsNumber tells whether a number in digits may begin at a byte, a sum of money or a
// word for a number.
func beginsNumber(s string, i int) bool {
	switch c := s[i]; {
	case '0' <= c && c <= '9', c == '$', strings.HasPrefix(s[i:], "£"), strings.HasPrefix(s[i:], "€"), strings.HasPrefix(s[i:], "−"), c == '-', strings.HasPrefix(s[i:], "–"):
		return true
	case i+1 >= len(s) || i > 0 && isWordByte(s[i-1]):
		return false
	}
	return numberStarts[strings.ToLower(s[i:i+2])]
}

// isWordByte tells whether a regular expression takes a byte for part of a word.
func isWordByte(c byte) bool {
	return c == '_' || '0' <= c && c <= '9' || 'a' <= c && c <= 'z' || 'A' <= c && c <= 'Z'
}
