package answer

import (
	"strings"
	"unicode"

	"jardinet/text"
)

// enoughWords is the share of a sentence's content words that its evidence has
// to hold.
const enoughWords = 0.6

// polarity is what is missing where one denies what the other says.
const polarity = "whether it is so or not"

// grounded tells whether evidence bears a sentence: it holds all its numbers and
// names and a share of its content words, and denies if the sentence does. If not,
// it says what is missing.
func grounded(sentence, evidence string, language text.Language, share float64) (ok bool, why string) {
	stemmer := text.NewStemmer(language)
	there := forms(evidence, stemmer)
	content, held := 0, 0
	for _, t := range text.Tokens(sentence) {
		known := there[t.Word] || there[stemmer.Stem(t.Word)]
		switch {
		case t.Number && !known:
			return false, "the number " + sentence[t.Start:t.End]
		case isName(sentence, t) && !known:
			return false, "the name " + sentence[t.Start:t.End]
		case text.IsFunctionWord(t.Word, language):
			continue
		}
		content++
		if known {
			held++
		}
	}
	switch {
	case content == 0:
		return false, "anything said"
	case float64(held) < share*float64(content):
		return false, "most of its words"
	case denies(sentence, language) != denies(evidence, language):
		return false, polarity
	}
	return true, ""
}

// negations are the words that deny, which a language has few of.
var negations = map[text.Language]string{
	text.English: " no not never none nothing nobody nowhere neither nor cannot without ",
	"fr":         " ne pas jamais aucun aucune rien personne sans ni ",
	"de":         " nicht nie niemals kein keine keinen keiner keinem nichts niemand ohne ",
}

// denies tells whether a text has a word that denies.
func denies(s string, language text.Language) bool {
	for _, t := range text.Tokens(s) {
		if strings.Contains(negations[language], " "+t.Word+" ") || strings.HasSuffix(t.Word, "n't") {
			return true
		}
	}
	return false
}

// isName tells whether a word is written as a name: with a capital, and not at
// the beginning of a sentence.
func isName(s string, t text.Token) bool {
	if !unicode.IsUpper([]rune(s[t.Start:])[0]) {
		return false
	}
	before := strings.TrimRight(s[:t.Start], " \t\n\"'“‘([")
	return before != "" && !strings.ContainsAny(before[len(before)-1:], ".!?:•–-")
}
