package rank

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// Literals returns what a question names letter by letter: part numbers, options,
// file names, functions and the like ("-H", "M-d", "kadm5.acl", "column(-2)"). Cut
// into words they would lose what tells them apart.
func Literals(question string) []string {
	var out []string
	for _, field := range strings.Fields(question) {
		if s := outOfBrackets(strings.TrimSuffix(strings.Trim(field, `"'“”‘’,;:!?`), ".")); IsLiteral(s) {
			out = append(out, s)
		}
	}
	return out
}

// outOfBrackets takes off brackets that are the sentence's and not the word's:
// "(driver)", "(or less", but not those of "column(-2)".
func outOfBrackets(s string) string {
	if strings.HasPrefix(s, "(") && strings.Count(s, ")") <= 1 && (strings.HasSuffix(s, ")") || !strings.Contains(s, ")")) {
		return strings.TrimSuffix(s[1:], ")")
	}
	if strings.HasSuffix(s, ")") && !strings.Contains(s, "(") {
		return s[:len(s)-1]
	}
	return s
}

// IsLiteral tells whether a word of a question is such a name.
func IsLiteral(s string) bool {
	letters, digits, signs, inner := 0, 0, 0, 0
	for i, r := range s {
		switch {
		case unicode.IsLetter(r):
			letters++
			if i > 0 && unicode.IsUpper(r) && strings.ToUpper(s) != s {
				inner++
			}
		case unicode.IsDigit(r):
			digits++
		case strings.ContainsRune(`()_./\:*$#@=<>+-[]{}|&%~`, r):
			signs++
		default:
			return false
		}
	}
	switch {
	case letters == 0:
		return false
	case digits > 0 || inner > 0:
		return true
	case signs == 0:
		return false
	case s[0] == '-':
		return true
	}
	return !hyphenated(s)
}

// hyphenated tells whether a string is words of language joined by hyphens, or
// two words with a slash.
func hyphenated(s string) bool {
	parts := strings.FieldsFunc(s, func(r rune) bool { return r == '-' || r == '/' })
	for _, p := range parts {
		if utf8.RuneCountInString(p) < 2 || strings.ContainsFunc(p, func(r rune) bool { return !unicode.IsLetter(r) }) {
			return false
		}
	}
	return len(parts) > 0
}

// Holds tells whether a text holds a literal that no letter or digit goes on.
func Holds(text, literal string) bool {
	return Occurs(text, literal, func(start, end int) bool {
		before, _ := utf8.DecodeLastRuneInString(text[:start])
		after, _ := utf8.DecodeRuneInString(text[end:])
		return !joins(before) && !joins(after)
	})
}

// Occurs tells whether a text has a part at a place, from one byte to another, where it
// stands by itself.
func Occurs(text, part string, alone func(start, end int) bool) bool {
	for from := 0; ; {
		i := strings.Index(text[from:], part)
		if i < 0 {
			return false
		}
		if start := from + i; alone(start, start+len(part)) {
			return true
		}
		from += i + 1
	}
}

func joins(r rune) bool { return unicode.IsLetter(r) || unicode.IsDigit(r) || r == '_' }
