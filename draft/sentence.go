package draft

import (
	"regexp"
	"strings"
	"unicode"
	"unicode/utf8"

	"jardinet/text"
)

// Bounds of what is asked about, in words.
const (
	mostTerm     = 5
	leastSays    = 3
	mostSentence = 30
	leastBefore  = 3 // words of a sentence before its quantity
	mostAfter    = 6 // and after it
)

// Defined returns what a sentence defines, and as what; nothing for other sentences.
func Defined(sentence string, language text.Language) (term, says string) {
	for _, verb := range phrase(language).defines {
		at := strings.Index(sentence, verb)
		if at <= 0 {
			continue
		}
		term, says = strings.TrimSpace(sentence[:at]), strings.TrimSpace(sentence[at+len(verb):])
		if isTerm(term, language) && len(strings.Fields(says)) >= leastSays {
			return term, clause(says, mostAnswer)
		}
	}
	return "", ""
}

// isTerm tells whether words can be asked about by themselves: few, with none that points
// somewhere else, and no clause of their own.
func isTerm(s string, language text.Language) bool {
	words := strings.Fields(s)
	if len(words) == 0 || len(words) > mostTerm || strings.ContainsAny(s, ",;:()?") {
		return false
	}
	first := strings.ToLower(words[0])
	articles := phrase(language).articles
	if articles[first] {
		words = words[1:]
	} else if !unicode.IsUpper([]rune(words[0])[0]) {
		return false
	}
	for _, w := range words {
		if text.IsFunctionWord(text.Fold(w), language) && !phrase(language).within[strings.ToLower(w)] {
			return false
		}
	}
	return len(words) > 0
}

// A measure is a kind of quantity and how it is asked for in the place where it stands.
type measure struct {
	pattern *regexp.Regexp
	ask     string
}

const number = `(?:\d[\d,.]*\d|\d|one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve|fifteen|twenty|thirty|forty|fifty|sixty)`

var measures = []measure{
	{regexp.MustCompile(`(?i)\b` + number + ` (?:working )?(?:seconds?|minutes?|hours?|days?|weeks?|months?|years?)\b`), "how long"},
	{regexp.MustCompile(`[−-]?\d[\d.,]* ?°[CF]?`), "what temperature"},
	{regexp.MustCompile(`\d[\d.,]* ?(?:%|per cent\b)`), "what percentage"},
	{regexp.MustCompile(`[£€$] ?\d[\d.,]*\d(?: (?:thousand|million|billion))?`), "how much money"},
	{regexp.MustCompile(`(?i)\b` + number + ` (?:mm|cm|m|km|metres?|kilometres?|centimetres?|millimetres?)\b`), "what length"},
	{regexp.MustCompile(`(?i)\b` + number + ` (?:g|kg|tonnes?|grams?|kilograms?)\b`), "what weight"},
}

// quantity turns a sentence with one quantity into a question for it: as people ask, if the sentence
// is simple enough, or else in the place where it stands: "Seed may stay out for how long?" Only
// English does it so.
func quantity(sentence string, language text.Language, common func(word string) bool) (question, answer string, natural bool) {
	words := strings.Fields(sentence)
	if language != text.English || len(words) > mostSentence || !strings.HasSuffix(sentence, ".") || !unicode.IsUpper([]rune(sentence)[0]) {
		return "", "", false
	}
	if pointsBack[strings.ToLower(strings.Trim(words[0], ","))] {
		return "", "", false
	}
	var at []int
	ask := ""
	for _, m := range measures {
		for _, found := range m.pattern.FindAllStringIndex(sentence, 2) {
			if r, _ := utf8.DecodeRuneInString(sentence[found[1]:]); at != nil || unicode.IsLetter(r) || unicode.IsNumber(r) || r == '/' {
				return "", "", false // which of them would be asked for, or of what: m³ is no length
			}
			at, ask = found, m.ask
		}
	}
	if at == nil {
		return "", "", false
	}
	if q := fronted(sentence, at[0], at[1], ask, common); q != "" {
		return q, sentence[at[0]:at[1]], true
	}
	before, after := strings.Fields(sentence[:at[0]]), strings.Fields(sentence[at[1]:])
	if len(before) < leastBefore || len(after) > mostAfter || strings.ContainsAny(sentence[:at[0]], ",;:") || !leads[strings.ToLower(before[len(before)-1])] {
		return "", "", false // nobody would ask it so
	}
	return strings.TrimRight(sentence[:at[0]]+ask+sentence[at[1]:], ". ") + "?", sentence[at[0]:at[1]], false
}

// leads are words after which a quantity can be asked for: "for how long?", "is how long?".
var leads = words("for of at within after before is are was to by takes lasts costs holds under over below above than least most about every up")

// pointsBack are words with which a sentence begins that cannot be understood alone.
var pointsBack = map[string]bool{"it": true, "this": true, "these": true, "they": true, "that": true, "he": true, "she": true, "there": true, "then": true, "otherwise": true, "if": true, "and": true, "but": true, "both": true}
