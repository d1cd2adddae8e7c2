package wordvec

import (
	"strings"

	"jardinet/text"
)

// Bounds on the parts of an unknown word, in letters.
const (
	shortestPart = 4
	shortestStem = 5
	longestEnd   = 3
)

// Parts returns what an unknown word is made of, as numbers of known words: a
// word of the same beginning and another ending ("pressurising", "pressurised"),
// or the parts of a compound ("Jahresurlaub": Jahr, Urlaub). It returns nil for
// a word without any.
func (m *Model) Parts(word string, language text.Language) []int {
	if strings.Trim(word, "abcdefghijklmnopqrstuvwxyz") != "" {
		return nil
	}
	if i := m.sameStem(Word(word, language)); i >= 0 {
		return []int{i}
	}
	return m.compound(word, language, 3)
}

// sameStem returns the known word that shares most of its beginning with a
// name, if all that differs is a short ending.
func (m *Model) sameStem(name string) int {
	best, most := -1, 0
	bare := len(name)
	if _, after, ok := strings.Cut(name, ":"); ok {
		bare = len(after)
	}
	prefix := len(name) - bare
	for cut := len(name) - 1; cut >= len(name)-longestEnd && cut-prefix >= shortestStem; cut-- {
		for _, ending := range [...]string{"", "e", "s", "es", "ed", "ing", "en", "er", "n", "y", "ies", "ion", "al", "ly"} {
			if i, ok := m.numbers[name[:cut]+ending]; ok && cut > most {
				best, most = int(i), cut
			}
		}
	}
	return best
}

// links stand between the parts of a compound.
var links = [...]string{"", "s", "es", "n", "en", "er", "e"}

// compound splits a word into at most so many known words, the last part being
// as long as can be.
func (m *Model) compound(word string, language text.Language, most int) []int {
	if i := m.Find(word, language); i >= 0 {
		return []int{i}
	}
	if most == 1 || len(word) < 2*shortestPart {
		return nil
	}
	for cut := shortestPart; cut <= len(word)-shortestPart; cut++ {
		tail := m.Find(word[cut:], language)
		if tail < 0 {
			continue
		}
		for _, link := range links {
			head, ok := strings.CutSuffix(word[:cut], link)
			if !ok || len(head) < shortestPart {
				continue
			}
			if first := m.compound(head, language, most-1); first != nil {
				return append(first, tail)
			}
		}
	}
	return nil
}
