// Package text turns strings into the units that retrieval works on: tokens,
// stems, sentences, and a normal form in which two spellings of the same fact
// compare equal. It also tells what language a text is in.
//
// A token keeps its place in the original string, so that whatever is found by
// its stem can be shown, and marked on the page, in the words of the document.
package text

import (
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/unicode/norm"
)

// A Token is one word or number of a text.
type Token struct {
	Start, End int    // byte offsets in the text
	Word       string // folded: lower case, no diacritics, compatibility forms resolved
	Number     bool   // begins with a digit
}

// Tokens returns the words and numbers of s. Letters and digits make a token;
// a point or comma between digits belongs to the number ("1,200", "3.2.1"), an
// apostrophe ends a word, and everything else separates. Superscript digits
// are tokens of their own, so that 10⁶ is never 106.
func Tokens(s string) []Token {
	out := make([]Token, 0, len(s)/6+1)
	for i := 0; i < len(s); {
		r, n := utf8.DecodeRuneInString(s[i:])
		class := classify(r)
		if class == other {
			i += n
			continue
		}
		end := tokenEnd(s, i+n, class)
		word := s[i:end]
		if class == digit {
			out = append(out, Token{i, end, number(word), true})
		} else {
			out = append(out, Token{i, end, Fold(word), class == super})
		}
		i = end
	}
	return out
}

type class uint8

const (
	other class = iota
	letter
	digit
	super
)

func classify(r rune) class {
	switch {
	case 'a' <= r && r <= 'z', 'A' <= r && r <= 'Z':
		return letter
	case '0' <= r && r <= '9':
		return digit
	case r < 0x80:
		return other
	case r == '²', r == '³', r == '¹', r >= '⁰' && r <= '₉':
		return super
	case unicode.IsLetter(r), unicode.IsMark(r):
		return letter
	case unicode.IsDigit(r):
		return digit
	}
	return other
}

// tokenEnd returns the end of the token of the given class that goes on at i.
func tokenEnd(s string, i int, of class) int {
	for i < len(s) {
		r, n := utf8.DecodeRuneInString(s[i:])
		c := classify(r)
		if of == digit && (r == '.' || r == ',') && i+1 < len(s) && '0' <= s[i+1] && s[i+1] <= '9' {
			i += n
			continue
		}
		if r == 0xad && of == letter { // a soft hyphen is not there
			i += n
			continue
		}
		if c != of {
			return i
		}
		i += n
	}
	return i
}

// number strips thousands separators: "1,200" and "1200" are one number,
// "3.2.1" and "0.5" stay.
func number(s string) string {
	if !strings.Contains(s, ",") {
		return s
	}
	parts := strings.Split(s, ",")
	for _, p := range parts[1:] {
		if whole, _, _ := strings.Cut(p, "."); len(whole) != 3 {
			return strings.ReplaceAll(s, ",", ".") // a decimal comma
		}
	}
	return strings.Join(parts, "")
}

// Fold returns a word in lower case without diacritics, ligatures resolved.
func Fold(word string) string {
	plain := true
	for i := 0; i < len(word); i++ {
		if c := word[i]; c >= 0x80 || 'A' <= c && c <= 'Z' {
			plain = false
			break
		}
	}
	if plain {
		return word
	}
	var b strings.Builder
	b.Grow(len(word))
	for _, r := range norm.NFKD.String(word) {
		switch {
		case unicode.Is(unicode.Mn, r), r == 0xad:
		case r == 'ß':
			b.WriteString("ss")
		case r == 'æ', r == 'Æ':
			b.WriteString("ae")
		case r == 'œ', r == 'Œ':
			b.WriteString("oe")
		case r == 'ø', r == 'Ø':
			b.WriteByte('o')
		default:
			b.WriteRune(unicode.ToLower(r))
		}
	}
	return b.String()
}
