package text

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// A Span is a range of bytes in a text.
type Span struct{ Start, End int }

// abbreviations end in a point that does not end the sentence.
var abbreviations = set(`mr mrs ms dr prof st no nos fig figs tab eq sec ch chap vol ed eds pp p vs cf al e.g i.e eg ie etc
	approx incl excl max min temp dept ref art para ca inc ltd co jan feb mar apr jun jul aug sep sept oct nov dec
	mme mlle env bzw z.b d.h u.a usw nr abs abb`)

// Sentences returns the sentences of s, without the white space around them.
// A sentence ends at . ! ? … or a line break doubled, unless the point belongs
// to an abbreviation, an initial or a number, or a lower-case letter follows.
func Sentences(s string) []Span {
	var out []Span
	start := 0
	emit := func(end int) {
		if span := trim(s, start, end); span.End > span.Start {
			out = append(out, span)
		}
		start = end
	}
	for i := 0; i < len(s); {
		r, n := utf8.DecodeRuneInString(s[i:])
		i += n
		switch {
		case r == '\n' && i < len(s) && s[i] == '\n':
			emit(i)
		case r == '.' || r == '!' || r == '?' || r == '…':
			end := closing(s, i)
			if ends(s, start, i-n, end, r) {
				emit(end)
				i = end
			}
		}
	}
	emit(len(s))
	return out
}

// closing skips the quotes and brackets that close with a sentence.
func closing(s string, i int) int {
	for i < len(s) {
		r, n := utf8.DecodeRuneInString(s[i:])
		if !strings.ContainsRune(`.!?…"'”’)]»`, r) {
			break
		}
		i += n
	}
	return i
}

// ends decides whether the mark at dot, with what closes it up to end, is the
// end of the sentence that began at start.
func ends(s string, start, dot, end int, mark rune) bool {
	if end >= len(s) {
		return true
	}
	next, _ := utf8.DecodeRuneInString(s[end:])
	if !unicode.IsSpace(next) {
		return false
	}
	rest := strings.TrimLeftFunc(s[end:], unicode.IsSpace)
	if rest == "" {
		return true
	}
	follow, _ := utf8.DecodeRuneInString(rest)
	if unicode.IsLower(follow) {
		return false
	}
	if mark != '.' {
		return true
	}
	word := lastWord(s[start:dot])
	folded := strings.ToLower(word)
	switch {
	case abbreviations[folded]:
		// "No. 3" goes on, "and so on, etc. The" ends.
		return (folded == "etc" || folded == "al") && unicode.IsUpper(follow)
	case utf8.RuneCountInString(word) == 1 && unicode.IsUpper([]rune(word)[0]):
		return false // an initial
	case isNumbering(s[start:dot]):
		return false // "3.2. Title" or "1. Step"
	}
	return true
}

// lastWord returns what stands between the last space or bracket and the end.
func lastWord(s string) string {
	i := strings.LastIndexFunc(s, func(r rune) bool { return unicode.IsSpace(r) || strings.ContainsRune("([\"“‘", r) })
	if i >= 0 {
		_, n := utf8.DecodeRuneInString(s[i:])
		s = s[i+n:]
	}
	return s
}

// isNumbering tells whether all of s is a number such as "3.2" or "iv".
func isNumbering(s string) bool {
	s = strings.TrimSpace(s)
	return s != "" && len(s) <= 8 && strings.Trim(s, "0123456789.") == ""
}

func trim(s string, start, end int) Span {
	for start < end {
		r, n := utf8.DecodeRuneInString(s[start:end])
		if !unicode.IsSpace(r) {
			break
		}
		start += n
	}
	for start < end {
		r, n := utf8.DecodeLastRuneInString(s[start:end])
		if !unicode.IsSpace(r) {
			break
		}
		end -= n
	}
	return Span{start, end}
}
