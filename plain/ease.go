package plain

import (
	"strings"

	"jardinet/text"
)

// A Measure is how easy a text is to read.
type Measure struct {
	Ease      float64 `json:"ease"`               // the higher the easier; 60 to 70 is plain, under 30 is hard
	Sentences int     `json:"sentences"`          // of the text
	Words     float64 `json:"words_per_sentence"` // on average
}

// Ease measures sentences by the formula of Flesch (1948), for French with the weights of Kandel and
// Moles (1958), for German with those of Amstad (1978). It is zero without words.
func Ease(sentences []string, language text.Language) Measure {
	words, syllables, n := 0, 0, 0
	for _, s := range sentences {
		tokens := text.Tokens(s)
		if len(tokens) > 0 {
			n++
		}
		for _, t := range tokens {
			words++
			syllables += Syllables(strings.ToLower(s[t.Start:t.End]), language)
		}
	}
	if words == 0 {
		return Measure{}
	}
	long, heavy := float64(words)/float64(n), float64(syllables)/float64(words)
	m := Measure{Sentences: n, Words: long}
	switch language {
	case "fr":
		m.Ease = 207 - 1.015*long - 73.6*heavy
	case "de":
		m.Ease = 180 - long - 58.5*heavy
	default:
		m.Ease = 206.835 - 1.015*long - 84.6*heavy
	}
	return m
}

// Syllables counts the syllables of a word in small letters by its groups of vowels, without an ending that is
// not spoken. A number counts one.
func Syllables(word string, language text.Language) int {
	n, in := 0, false
	for _, r := range word {
		vowel := strings.ContainsRune("aeiouyàâäéèêëîïôöùûüœæ", r)
		if vowel && !in {
			n++
		}
		in = vowel
	}
	switch language {
	case text.English:
		if silent(word) {
			n--
		}
	case "fr":
		if strings.HasSuffix(word, "e") || strings.HasSuffix(word, "es") {
			n--
		}
	}
	return max(n, 1)
}

// silent tells whether an English word ends in an e that is not spoken: "made", "stores", "closed", but
// not "table", "boxes" or "planted".
func silent(word string) bool {
	if stem, ok := strings.CutSuffix(word, "ed"); ok {
		return len(stem) > 0 && !strings.ContainsAny(stem[len(stem)-1:], "tdaeiouy")
	}
	if stem, ok := strings.CutSuffix(word, "es"); ok {
		return len(stem) > 0 && !strings.ContainsAny(stem[len(stem)-1:], "szxcgaeiouy") && !strings.HasSuffix(stem, "ch") && !strings.HasSuffix(stem, "sh")
	}
	stem, ok := strings.CutSuffix(word, "e")
	if !ok || len(stem) == 0 || strings.ContainsAny(stem[len(stem)-1:], "aeiouy") {
		return false
	}
	return !strings.HasSuffix(stem, "l") || len(stem) < 2 || strings.ContainsAny(stem[len(stem)-2:len(stem)-1], "aeiouy")
}
