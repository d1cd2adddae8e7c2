package answer

import (
	"slices"
	"strings"
	"unicode"

	"jardinet/text"
)

// What a model says is taken over where it retells its evidence: with its words in their order, so
// that who does what to whom is the same; with all numbers on the way; with as many denials; and
// with the same words of duty, limit and condition. So a good paraphrase may be dropped, and the
// program's own words stand in its place, which is better than one that says the contrary.

// mostSkipped is the share of the evidence's content words that a sentence may leave out between
// the first and the last that it takes.
const mostSkipped = 1. / 3

// grounded tells whether evidence bears a sentence. If not, it says what is missing.
func grounded(sentence, evidence string, language text.Language) (ok bool, why string) {
	r := retelling{stemmer: text.NewStemmer(language), language: language, evidence: text.Tokens(evidence)}
	there := forms(evidence, r.stemmer)
	var content []text.Token
	for _, t := range text.Tokens(sentence) {
		switch known := there[t.Word] || there[r.stemmer.Stem(t.Word)]; {
		case r.sharp(t) != "" || !t.Number && text.IsFunctionWord(t.Word, language):
		case known:
			content = append(content, t)
		case t.Number:
			return false, "the number " + sentence[t.Start:t.End]
		case isName(sentence, t):
			return false, "the name " + sentence[t.Start:t.End]
		default:
			return false, "the word " + sentence[t.Start:t.End]
		}
	}
	if len(content) == 0 {
		return false, "anything said"
	}
	why = "the order of its words"
	for start := range r.evidence {
		if !r.same(content[0], r.evidence[start]) {
			continue
		}
		end, skipped := r.follow(content, start)
		if end == 0 {
			continue
		}
		if skipped > mostSkipped {
			why = "what is left out between its words"
			continue
		}
		if r.sharps(text.Tokens(sentence)) == r.sharps(r.clause(evidence, start, end)) {
			return true, ""
		}
		why = "whether it is so, may be or must be, or to what limit"
	}
	return false, why
}

// A retelling compares a sentence with its evidence.
type retelling struct {
	stemmer  *text.Stemmer
	language text.Language
	evidence []text.Token
}

func (r *retelling) same(a, b text.Token) bool {
	return a.Word == b.Word || r.stemmer.Stem(a.Word) == r.stemmer.Stem(b.Word)
}

// follow finds the content words of a sentence in the evidence, one after the other from a place
// on. It returns the end of the last, 0 if they do not stand so or a number is passed over, and the
// share of the evidence's content words that are passed over.
func (r *retelling) follow(content []text.Token, start int) (end int, skipped float64) {
	passed, at := 0, start
	for _, t := range content {
		for ; at < len(r.evidence) && !r.same(t, r.evidence[at]); at++ {
			if e := r.evidence[at]; e.Number {
				return 0, 0
			} else if r.sharp(e) == "" && !text.IsFunctionWord(e.Word, r.language) {
				passed++
			}
		}
		if at == len(r.evidence) {
			return 0, 0
		}
		at++
	}
	return at, float64(passed) / float64(passed+len(content))
}

// clause returns the tokens of the evidence's sentences that some of them stand in: what
// denies or limits may stand before or after those that were taken.
func (r *retelling) clause(evidence string, start, end int) []text.Token {
	first, last := r.evidence[start].Start, r.evidence[end-1].End
	for _, s := range text.Sentences(evidence) {
		if s.Start <= first && first < s.End {
			first = s.Start
		}
		if s.Start < last && last <= s.End {
			last = s.End
		}
	}
	var out []text.Token
	for _, t := range r.evidence {
		if t.Start >= first && t.End <= last {
			out = append(out, t)
		}
	}
	return out
}

// sharps are the sharp words of some tokens, as many of each as there are.
func (r *retelling) sharps(tokens []text.Token) string {
	var out []string
	for _, t := range tokens {
		if s := r.sharp(t); s != "" {
			out = append(out, s)
		}
	}
	slices.Sort(out)
	return strings.Join(out, " ")
}

// sharp returns what a word means for whether and how far something is so; nothing for most
// words. All denials are one.
func (r *retelling) sharp(t text.Token) string {
	if strings.Contains(negations[r.language], " "+t.Word+" ") || strings.HasSuffix(t.Word, "n't") {
		return "not"
	}
	if strings.Contains(limits[r.language], " "+t.Word+" ") {
		return t.Word
	}
	return ""
}

// negations are the words that deny, and limits those of duty, limit and condition; a language
// has few of either.
var (
	negations = map[text.Language]string{
		text.English: " no not never none nothing nobody nowhere neither nor cannot without ",
		"fr":         " pas jamais aucun aucune rien personne sans ni ",
		"de":         " nicht nie niemals kein keine keinen keiner keinem nichts niemand ohne ",
	}
	limits = map[text.Language]string{
		text.English: " may must can shall should will would could might need only every each all any some above below over under before after within until unless except if once when always often more less fewer most least ",
		"fr":         " peut peuvent doit doivent devrait seul seulement chaque tout tous toute toutes dessus dessous avant après sous jusque sauf si quand toujours plus moins ",
		"de":         " darf dürfen muss müssen kann können soll sollen nur jeder jede jedes alle über unter vor nach bis außer wenn falls sobald immer mehr weniger ",
	}
)

// isName tells whether a word is written as a name: with a capital, and not at
// the beginning of a sentence.
func isName(s string, t text.Token) bool {
	if !unicode.IsUpper([]rune(s[t.Start:])[0]) {
		return false
	}
	before := strings.TrimRight(s[:t.Start], " \t\n\"'“‘([")
	return before != "" && !strings.ContainsAny(before[len(before)-1:], ".!?:•–-")
}
