package answer

import (
	"regexp"
	"slices"
	"strings"

	"jardinet/index"
	"jardinet/layout"
	"jardinet/passage"
	"jardinet/text"
)

// Whether a sentence holds the kind of thing that a question asks for, a number of
// something, a day, somebody, is told by its form.

// countedWithin is how many words after a number its noun comes at most.
const countedWithin = 3

// directlyNumbered matches a number after a word: "seats 16", "membership rose to 21,350".
var directlyNumbered = regexp.MustCompile(`^ (?:(?:rose|fell|grew|came|amounted|went) to )?(?:at most |up to |about )?\d[\d,]*(?:$|[.;)]|, \D|\s(?:and|or|at|in|on|for|each)\b)`)

// signOfUnit matches the sign of a unit after a number, which counts nothing either.
var signOfUnit = regexp.MustCompile(`^\s?(?:[%‰°€]|(?:k?m|[cm]m|ha|k?g|mg|t|m?l|bar|ppm|kWh?|µS)(?:[²³/]|\b))`)

// ordinal matches the beginning of "2nd" and the like, which counts nothing.
var ordinal = regexp.MustCompile(`^\d+\s?(?:st|nd|rd|th)\b`)

// counts tells whether a number in a sentence, or in a cell under the name, is
// one of the things that are counted, which go by some stems.
func counts(s string, things map[string]bool, stemmer *text.Stemmer) bool {
	if name, cells, row := strings.Cut(s, " · "); row {
		return cellCounts(name, things, stemmer) && !allPrices(cells) || slices.ContainsFunc(strings.Split(cells, " · "), func(cell string) bool { return cellCounts(cell, things, stemmer) })
	}
	since := countedWithin + 1 // words since the last number
	end := 0
	if numberOf(s, things, stemmer) {
		return true
	}
	for _, t := range text.Tokens(s) {
		if strings.ContainsAny(s[end:t.Start], ",;:()") {
			since = countedWithin + 1 // "two places, and its seed" counts no seed
		}
		end = t.End
		switch {
		case t.Number && (s[t.Start] > '9' || signOfUnit.MatchString(s[t.End:])):
			since = countedWithin + 1 // "the restaurant 2,050 m³ and the toilets" counts no toilets
		case t.Number && !ordinal.MatchString(s[t.Start:]) && !year.MatchString(s[t.Start:t.End]), numberWord.MatchString(t.Word):
			since = 0
		case (things[stemmer.Stem(t.Word)] || things[strings.TrimSuffix(t.Word, "ship")]) && (since <= countedWithin || directlyNumbered.MatchString(s[t.End:])):
			return true
		default:
			since++
		}
	}
	return false
}

// allPrices tells whether what the cells of a row hold are sums of money, which count
// nothing: "Member · Single £: 2.50".
func allPrices(cells string) bool {
	return !slices.ContainsFunc(strings.Split(cells, " · "), func(cell string) bool { return !strings.ContainsAny(cell, "£€$") })
}

var theNumber = regexp.MustCompile(`(?i)\bnumbers? of ((?:\pL+ ){1,3})(?:[^.;]{0,40}?)\d|\b(\pL+), (\d[\d,]*) of (?:them|which|these)\b`)

// numberOf tells whether a sentence has "the number of geese below 60", or "hours, 71,400 of them".
func numberOf(s string, things map[string]bool, stemmer *text.Stemmer) bool {
	m := theNumber.FindStringSubmatch(s)
	return m != nil && slices.ContainsFunc(text.Tokens(m[1]+m[2]), func(t text.Token) bool { return things[stemmer.Stem(t.Word)] })
}

// wordsOfAKind is how many words a row's name has at most that names a kind of thing,
// "Pitcher plants".
const wordsOfAKind = 3

// cellCounts tells whether a cell of a row is named for what is counted, or is the
// row's name and begins with it, or says it after a comma.
func cellCounts(cell string, things map[string]bool, stemmer *text.Stemmer) bool {
	name, _, headed := strings.Cut(cell, ": ")
	_, unit, _ := strings.Cut(name, ", ") // "Gas, gigawatt hours"
	for _, t := range text.Tokens(name) {
		if things[stemmer.Stem(t.Word)] {
			return true
		}
		if !headed && len(strings.Fields(name)) > wordsOfAKind {
			break
		}
	}
	return !headed && slices.ContainsFunc(text.Tokens(unit), func(t text.Token) bool { return things[stemmer.Stem(t.Word)] })
}

// ofMeasure matches a number that counts nothing: of hours, degrees or pounds.
var ofMeasure = regexp.MustCompile(`(?i)[£€$%‰°]|\d\s?(?:km|cm|mm|m|kg|g|t|h|min|l|ml|ha|bar|ppm|dB|W|V|A)\b|\b(?:seconds?|minutes?|hours?|days?|weeks?|months?|years?|nights?|(?:kilo|centi|milli)?met(?:re|er)s?|(?:kilo)?grams?|tonnes?|lit(?:re|er)s?|degrees?|per ?cent|pounds?|euros?|pence|times|pages?|characters?)\b`)

// inUnit matches the name of a column of measures: "Day °C".
var inUnit = regexp.MustCompile(`[£€$%‰°]|(?:^|\s)(?:km/h|km|cm|mm|m|m²|m³|kg|t|g|l|h|min|ppm|bar|[µm]g/l|µS/cm|[Cc]ells/ml|[Hh]ours|[Dd]ays|[Yy]ears|[Ll]itres)$`)

// tallies tells whether a sentence, or a cell of a row, says how many of something there
// are, whatever they are called.
func tallies(s string) bool {
	if cells := strings.Split(s, " · "); len(cells) > 1 {
		return slices.ContainsFunc(cells[1:], func(cell string) bool {
			name, value, _ := strings.Cut(cell, ": ")
			return !inUnit.MatchString(name) && tallies(value)
		})
	}
	for from, to := range numbersIn(s, byNumber[quantity].at) {
		if isAmount(s, from, to) && !ofMeasure.MatchString(s[from:to]) {
			return true
		}
	}
	return false
}

// tellsOf tells whether a pattern matches something in a sentence that does not
// stand in the question: who built Old Marchbank was not Old Marchbank.
func (m *matcher) tellsOf(pattern *regexp.Regexp, s string, language text.Language) bool {
	return slices.ContainsFunc(pattern.FindAllString(s, -1), func(part string) bool { return !asked(m, part, language) && !(pattern == name && isPlace(part)) })
}

// heldBy returns what stands in the cell of a row that is named for what is asked
// about, if that can be somebody: "Keeper: yard foreman".
func (m *matcher) heldBy(s string, language text.Language) string {
	cells := strings.Split(s, " · ")
	for _, cell := range cells[1:] {
		name, value, named := strings.Cut(cell, ": ")
		if named && (m.in(name, language)&^m.carried != 0 || m.does(name)) && !asked(m, value, language) && !strings.ContainsAny(value, "0123456789") && len(strings.Fields(value)) <= longestOffice {
			return value
		}
	}
	return ""
}

// does tells whether a column is named for whoever does what is asked about: "Keeper", of
// "who keeps store C1".
func (m *matcher) does(column string) bool {
	agent := strings.ToLower(column)
	return strings.HasSuffix(agent, "er") && slices.ContainsFunc(m.terms, func(t index.Term) bool {
		verb := strings.TrimSuffix(t.Word, "s")
		return len(verb) > 2 && (agent == verb+"er" || agent == verb+"r")
	})
}

// holders tells of each row of a passage whether it says who has the office that is
// asked about (1) or one that only contains its name (−1): the Finance Director is not
// the Director.
func (m *matcher) holders(p *passage.Passage) []float64 {
	out := make([]float64, len(p.Sentences))
	office := m.own
	if office == 0 {
		office = m.proper // a follow-up was given it: "since when is the Director"
	}
	for i, s := range p.Sentences {
		if s.Kind != layout.Table {
			continue
		}
		for _, cell := range strings.Split(p.Text[s.Start:s.End], " · ")[1:] {
			_, value, named := strings.Cut(cell, ": ")
			switch {
			case !named || office == 0 || m.in(value, p.Language)&office != office:
			case asked(m, value, p.Language):
				out[i] = 1
			case out[i] == 0:
				out[i] = -1
			}
		}
	}
	return out
}

// longestOffice is how many words somebody's office has at most.
const longestOffice = 8

// fits tells whether a sentence holds the kind of thing that is asked for.
func (m *matcher) fits(q *question, s string, at passage.Sentence, language text.Language) bool {
	switch q.want {
	case wantQuantity:
		switch {
		case q.tally:
			return tallies(s)
		case q.counted != "" && language == q.language && !counts(s, m.things, m.stemmerOf(q.language)):
			return false
		case q.frequency:
			return measures(atOnce.ReplaceAllString(s, ""), q.units)
		}
		return measures(s, q.units)
	case wantValue:
		return q.value.MatchString(s) || q.value == happened && happenedIn.MatchString(s)
	case wantDate:
		return date.MatchString(s) || q.occasion && occasions.MatchString(s)
	case wantPerson:
		if m.heldBy(s, q.language) != "" {
			return true
		}
		if q.identity {
			return m.tellsOf(name, s, q.language) || identifies.MatchString(s) && m.tellsOf(office, s, q.language)
		}
		return m.tellsOf(name, s, q.language) || m.tellsOf(office, s, q.language) || persons.MatchString(s) || posted.MatchString(s)
	case wantSteps:
		return at.Kind == layout.ListItem
	case wantReason:
		return reason.MatchString(s)
	case wantPlace:
		return located.MatchString(s) || placed.MatchString(s)
	}
	return false
}
