package text

import (
	"github.com/blevesearch/snowballstem"
	"github.com/blevesearch/snowballstem/dutch"
	"github.com/blevesearch/snowballstem/english"
	"github.com/blevesearch/snowballstem/french"
	"github.com/blevesearch/snowballstem/german"
	"github.com/blevesearch/snowballstem/italian"
	"github.com/blevesearch/snowballstem/portuguese"
	"github.com/blevesearch/snowballstem/spanish"
)

var stemmers = map[Language]func(*snowballstem.Env) bool{
	"en": english.Stem, "fr": french.Stem, "de": german.Stem, "es": spanish.Stem,
	"it": italian.Stem, "pt": portuguese.Stem, "nl": dutch.Stem,
}

// irregular maps English forms that no suffix rule reaches to their base.
var irregular = map[string]string{
	"men": "man", "women": "woman", "children": "child", "feet": "foot", "mice": "mouse", "leaves": "leaf",
	"kept": "keep", "held": "hold", "found": "find", "ran": "run", "took": "take", "taken": "take", "wrote": "write",
	"written": "write", "broke": "break", "broken": "break", "fell": "fall", "fallen": "fall", "froze": "freeze",
	"frozen": "freeze", "lost": "lose", "paid": "pay", "said": "say", "sent": "send", "sold": "sell", "spent": "spend",
	"bought": "buy", "built": "build", "left": "leave", "met": "meet", "grew": "grow", "grown": "grow", "knew": "know",
	"known": "know", "drew": "draw", "drawn": "draw", "drove": "drive", "driven": "drive", "rose": "rise", "risen": "rise",
	"chose": "choose", "chosen": "choose", "began": "begin", "begun": "begin", "gave": "give", "given": "give",
	"worn": "wear", "wore": "wear", "told": "tell", "taught": "teach", "thought": "think", "dried": "dry",
}

// A Stemmer reduces words to stems and remembers what it has reduced, since a
// collection repeats its words. It serves one goroutine.
type Stemmer struct {
	language Language
	stem     func(*snowballstem.Env) bool
	known    map[string]string
}

// stemmerMemory bounds a Stemmer's memory; real vocabularies are smaller.
const stemmerMemory = 100_000

// NewStemmer returns a stemmer; a language without one leaves words as they are.
func NewStemmer(language Language) *Stemmer {
	return &Stemmer{language, stemmers[language], map[string]string{}}
}

// Stem returns the stem of a folded word. Numbers are their own stems.
func (s *Stemmer) Stem(word string) string {
	if s.stem == nil || len(word) < 3 || word[0] >= '0' && word[0] <= '9' {
		return word
	}
	if stem, ok := s.known[word]; ok {
		return stem
	}
	base := word
	if s.language == English {
		if b, ok := irregular[word]; ok {
			base = b
		}
	}
	env := snowballstem.NewEnv(base)
	s.stem(env)
	stem := env.Current()
	if len(s.known) >= stemmerMemory {
		clear(s.known)
	}
	s.known[word] = stem
	return stem
}
