package text

import (
	_ "embed"
	"math"
	"strings"
	"sync"
	"unicode"
)

// Text whose font does not say which characters its glyphs stand for comes out
// as letters at random, as signs, or as nothing. A model of which letters
// follow each other in the languages that Jardinet knows tells it from words.

//go:embed sample.txt
var sample string

// letterCount is how many letters the model tells apart: a to z and the edge of
// a word; accents are folded away.
const letterCount = 27

var bigrams = sync.OnceValue(func() *[letterCount][letterCount]float64 {
	var count [letterCount][letterCount]float64
	eachBigram(sample, func(a, b int) { count[a][b]++ })
	for a := range count {
		sum := 0.0
		for b := range count[a] {
			count[a][b] += 0.3
			sum += count[a][b]
		}
		for b := range count[a] {
			count[a][b] = math.Log(count[a][b] / sum)
		}
	}
	return &count
})

// eachBigram visits the pairs of letters in the words of s, edges included.
func eachBigram(s string, visit func(a, b int)) {
	last := 0
	for _, r := range Fold(s) {
		letter := 0
		if r >= 'a' && r <= 'z' {
			letter = int(r-'a') + 1
		}
		if last != 0 || letter != 0 {
			visit(last, letter)
		}
		last = letter
	}
	if last != 0 {
		visit(last, 0)
	}
}

// Garbled estimates which share of s is no language: letters that do not follow
// each other in words, and characters that no font means. 0 is a clean text; it
// says nothing of alphabets other than the Latin one.
func Garbled(s string) float64 {
	words, bad := 0, 0
	for _, word := range strings.Fields(s) {
		switch kind := judgeWord(word); {
		case kind < 0:
			continue
		case kind > 0:
			bad++
		}
		words++
	}
	if words == 0 {
		return 0
	}
	return float64(bad) / float64(words)
}

// judgeWord returns 1 for a word that is none, 0 for a plausible one and -1 for
// what is no word at all, such as a number.
func judgeWord(word string) int {
	letters, marks, other := 0, 0, 0
	for _, r := range word {
		switch {
		case r == unicode.ReplacementChar || unicode.Is(unicode.Co, r) || unicode.IsControl(r):
			marks++
		case unicode.Is(unicode.Latin, r):
			letters++
		case unicode.IsLetter(r):
			other++
		}
	}
	if marks > 0 {
		return 1
	}
	if other > 0 || letters < 4 || strings.ContainsAny(word, "0123456789_/\\()[]{}<>=$@#.:") {
		return -1 // names of things in programs are not words
	}
	sum, n := 0.0, 0
	model := bigrams()
	eachBigram(word, func(a, b int) { sum += model[a][b]; n++ })
	if n > 0 && sum/float64(n) < implausible {
		return 1
	}
	return 0
}

// implausible is the mean log-probability of a word's letter pairs below which
// it is taken for none. Of the words of real manuals about 1 % are below it, and
// of the same words with each letter replaced by another a third to a half.
const implausible = -4.0
