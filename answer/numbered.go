package answer

import (
	"regexp"
	"strings"

	"jardinet/layout"
	"jardinet/passage"
	"jardinet/rank"
	"jardinet/text"
)

// A number in a question may name something, "train 13", "the storm of 2023". What
// is said of train 11 or of another year is no answer then, however well the rest goes.

var (
	numberedThing = regexp.MustCompile(`(\pL{2,}\.?)\s+(\d{1,4}(?:\.\d{1,3})*)(?:$|[^\d,%°.]|[.,](?:\s|$))`)
	anyYear       = regexp.MustCompile(`\b(?:1[5-9]|20)\d{2}\b`)
	beginsUnit    = regexp.MustCompile(`(?i)^\s?(?:` + units + `|\pL+s\b|£|€|per\b|or\b|times\b)`)
)

// namingNumbers returns the numbers in a question that name something: years, and
// those after a word that they tell apart from others of its kind.
func namingNumbers(question string, language text.Language) []string {
	out := anyYear.FindAllString(question, -1)
	for _, m := range numberedThing.FindAllStringSubmatchIndex(question, -1) {
		word, number := strings.ToLower(question[m[2]:m[3]]), question[m[4]:m[5]]
		ends := m[5] >= len(question)
		if year.MatchString(number) || word != "no." && (text.IsFunctionWord(word, language) || softWords[word] || numberWord.MatchString(word)) || !ends && beginsUnit.MatchString(question[m[5]:]) {
			continue
		}
		out = append(out, number)
	}
	return out
}

var inAYear = regexp.MustCompile(`(?:^|(\pL+) )(?:in|during|of|for) ((?:1[5-9]|20)\d{2})\b`)

// besideYear matches a year that what is said is only set against: "6.3 per cent more than
// in 2024".
var besideYear = regexp.MustCompile(`\b(?:than|since|from|until|till|to|by|before|after|and) (?:in |the end of )?(?:1[5-9]|20)\d{2}\b`)

// yearsIn returns the years in a folded question in which something was, and not those
// that tell which document is meant, "the report of 2025".
func yearsIn(folded string) map[string]bool {
	out := map[string]bool{}
	for _, m := range inAYear.FindAllStringSubmatch(folded, -1) {
		if !writings[m[1]] {
			out[m[2]] = true
		}
	}
	return out
}

// writings are words for what may be of a year as a whole.
var writings = words("report manual policy edition version issue book register survey handbook form memo document")

// Where a number that names something is missing, by how far around a sentence it has
// to be looked for.
const inItsPassage = 0.5

// unnumbered returns which part of the numbers that name something a sentence of a
// passage does not speak of. A row of a table is of its own number alone.
func (q *question) unnumbered(p *passage.Passage, i int, scope string) float64 {
	if len(q.numbers) == 0 {
		return 0
	}
	s, lacking := p.Sentences[i], 0.0
	for _, n := range q.numbers {
		switch {
		case holdsNumber(p.Text[s.Start:s.End], n):
		case s.Kind != layout.Table && q.inYear[n] && anyYear.MatchString(besideYear.ReplaceAllString(p.Text[s.Start:s.End], "")):
			lacking++ // it is about another year, whatever the report is of
		case holdsNumber(scope, n):
		case s.Kind != layout.Table && holdsNumber(p.Text, n):
			lacking += inItsPassage
		default:
			lacking++
		}
	}
	return lacking / float64(len(q.numbers))
}

// holdsNumber tells whether a number stands in a text by itself, and not as a part of
// another.
func holdsNumber(s, number string) bool {
	return rank.Occurs(s, number, func(start, end int) bool { return !goesOn(s, start-1, -1) && !goesOn(s, end, 1) })
}

// goesOn tells whether a number goes on at a place of a text, in a direction.
func goesOn(s string, at, by int) bool {
	if at < 0 || at >= len(s) {
		return false
	}
	if strings.IndexByte(".,:", s[at]) >= 0 && at+by >= 0 && at+by < len(s) {
		at += by
	}
	return s[at] >= '0' && s[at] <= '9'
}
