package encoder

import (
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/unicode/norm"
)

// A wordPiece cuts words into the longest pieces that the vocabulary has, from the left;
// pieces that go on with a word begin with ## there (Wu et al. 2016). Letters are taken
// as small ones without accents.
type wordPiece struct {
	first, further map[string]int32
	longest        int // bytes of a piece
	unknown        int32
}

func newWordPiece(pieces []string, unknown int32) *wordPiece {
	t := &wordPiece{first: make(map[string]int32, len(pieces)), further: map[string]int32{}, unknown: unknown}
	for i, p := range pieces {
		if rest, ok := strings.CutPrefix(p, "##"); ok && rest != "" {
			t.further[rest] = int32(i)
		} else {
			t.first[p] = int32(i)
		}
		t.longest = max(t.longest, len(p))
	}
	return t
}

// longestWord is how many letters a word has at the most that is not unknown as a whole.
const longestWord = 100

func (t *wordPiece) appendPieces(to []int32, s string, most int) []int32 {
	eachWord(fold(s), func(word string) bool {
		to = t.appendWord(to, word)
		return len(to) < most
	})
	return to[:min(len(to), most)]
}

func (t *wordPiece) appendWord(to []int32, word string) []int32 {
	from := len(to)
	if utf8.RuneCountInString(word) > longestWord {
		return append(to, t.unknown)
	}
	known := t.first
	for rest := word; rest != ""; known = t.further {
		n := min(len(rest), t.longest)
		id, ok := known[rest[:n]]
		for !ok && n > 1 {
			n--
			id, ok = known[rest[:n]]
		}
		if !ok {
			return append(to[:from], t.unknown)
		}
		to, rest = append(to, id), rest[n:]
	}
	return to
}

// fold takes out what is no text, and accents, and makes letters small.
func fold(s string) string {
	var clean strings.Builder
	clean.Grow(len(s))
	plain := true
	for _, r := range s {
		switch {
		case r == 0 || r == utf8.RuneError || isControl(r):
			continue
		case unicode.IsSpace(r):
			r = ' '
		case isIdeograph(r):
			clean.WriteByte(' ')
			clean.WriteRune(r)
			r, plain = ' ', false
		}
		plain = plain && r < utf8.RuneSelf
		clean.WriteRune(r)
	}
	if plain {
		return strings.ToLower(clean.String())
	}
	var out strings.Builder
	out.Grow(clean.Len())
	for _, r := range norm.NFD.String(clean.String()) {
		if !unicode.Is(unicode.Mn, r) {
			out.WriteString(strings.ToLower(string(r)))
		}
	}
	return out.String()
}

func isControl(r rune) bool {
	return r != '\t' && r != '\n' && r != '\r' && unicode.In(r, unicode.Cc, unicode.Cf, unicode.Co)
}

// isIdeograph tells whether a character is of those that stand for words by themselves.
func isIdeograph(r rune) bool {
	return r >= 0x4E00 && r <= 0x9FFF || r >= 0x3400 && r <= 0x4DBF || r >= 0x20000 && r <= 0x2A6DF ||
		r >= 0x2A700 && r <= 0x2B73F || r >= 0x2B740 && r <= 0x2B81F || r >= 0x2B920 && r <= 0x2CEAF ||
		r >= 0xF900 && r <= 0xFAFF || r >= 0x2F800 && r <= 0x2FA1F
}

// eachWord calls visit with words and marks, one by one, until it is false.
func eachWord(s string, visit func(word string) bool) {
	for from := 0; from < len(s); {
		r, n := utf8.DecodeRuneInString(s[from:])
		to := from + n
		switch {
		case unicode.IsSpace(r):
			from = to
			continue
		case !isMark(r):
			for to < len(s) {
				r, n := utf8.DecodeRuneInString(s[to:])
				if unicode.IsSpace(r) || isMark(r) {
					break
				}
				to += n
			}
		}
		if !visit(s[from:to]) {
			return
		}
		from = to
	}
}

// isMark tells whether a character is punctuation, as which ASCII's signs count too.
func isMark(r rune) bool {
	return r < utf8.RuneSelf && (r > ' ' && r < '0' || r > '9' && r < 'A' || r > 'Z' && r < 'a' || r > 'z' && r < 0x7f) || unicode.IsPunct(r)
}
