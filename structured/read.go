package structured

import (
	"encoding/json"
	"fmt"
	"regexp"
	"strings"
	"time"

	"jardinet/answer"
	"jardinet/text"
)

// read reads an answer as the type that a schema wants: from the words that answer if it can be,
// or else from the first sentence. reason tells why there is no value.
func read(a *answer.Answer, s *schema) (value any, reason string) {
	if s.of() == "boolean" {
		if a.Verdict == "" {
			return nil, "what they say is neither yes nor no"
		}
		return a.Verdict == "yes", ""
	}
	sentence := ""
	if len(a.Statements) > 0 {
		sentence = a.Statements[0].Text
	}
	if a.Short == "" {
		return readWords(sentence, sentence, s)
	}
	return readWords(a.Short, sentence, s)
}

// readWords reads words that stand in a sentence as a value.
func readWords(words, sentence string, s *schema) (value any, reason string) {
	switch {
	case len(s.Enum) > 0:
		return oneOf(words, sentence, s.Enum)
	case s.of() == "number", s.of() == "integer":
		return numberIn(words, sentence, s)
	case s.Format == "date":
		for _, from := range []string{words, sentence} {
			if day := dayIn(from); day != "" {
				return day, ""
			}
		}
		return nil, fmt.Sprintf("what they say is no day: %q", words)
	}
	if words = strings.Trim(words, " \n"); words == "" {
		return nil, "the documents do not say"
	}
	return words, ""
}

// oneOf is the value of an enumeration that words name: the longest if several do.
func oneOf(words, sentence string, enum []any) (any, string) {
	for _, from := range []string{words, sentence} {
		best := ""
		for _, e := range enum {
			if name, ok := e.(string); ok && len(name) > len(best) && holdsWord(from, name) {
				best = name
			}
		}
		if best != "" {
			return best, ""
		}
	}
	return nil, fmt.Sprintf("what they say is none of the values: %q", words)
}

func holdsWord(text, word string) bool {
	found, err := regexp.MatchString(`(?i)(^|\W)`+regexp.QuoteMeta(word)+`(\W|$)`, text)
	return err == nil && found
}

// figure is a number as it is written, with what follows it.
var figure = regexp.MustCompile(`([-−–]?\d{1,3}(?:[ ,.’\x{a0}\x{202f}]\d{3})+(?:[.,]\d+)?|[-−–]?\d+(?:[.,]\d+)?)\s*([°%\pL][\pL°%²³/]*)?`)

// spelled are numbers as words.
var spelled = map[string]int{
	"no": 0, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10, "eleven": 11, "twelve": 12, "fifteen": 15, "twenty": 20, "thirty": 30, "forty": 40, "fifty": 50, "sixty": 60, "ninety": 90, "hundred": 100,
	"un": 1, "une": 1, "deux": 2, "trois": 3, "quatre": 4, "cinq": 5, "sept": 7, "huit": 8, "neuf": 9, "dix": 10, "douze": 12, "vingt": 20,
	"ein": 1, "eine": 1, "zwei": 2, "drei": 3, "vier": 4, "fünf": 5, "sechs": 6, "sieben": 7, "acht": 8, "neun": 9, "zehn": 10, "zwölf": 12, "zwanzig": 20,
}

// numberIn is the number that words give; with a unit, the one that has it.
func numberIn(words, sentence string, s *schema) (any, string) {
	for _, from := range []string{words, sentence} {
		for _, m := range figure.FindAllStringSubmatch(from, -1) {
			n := plain(m[1])
			if s.Unit != "" && !strings.EqualFold(m[2], s.Unit) || s.of() == "integer" && strings.Contains(n, ".") {
				continue
			}
			return json.Number(n), ""
		}
		fields := strings.Fields(strings.ToLower(from))
		for i, w := range fields {
			n, ok := spelled[strings.Trim(w, ".,;:()")]
			if ok && (s.Unit == "" || i+1 < len(fields) && strings.HasPrefix(strings.Trim(fields[i+1], ".,;:()"), strings.ToLower(s.Unit))) && (n > 1 || from == words) {
				return json.Number(fmt.Sprint(n)), ""
			}
		}
	}
	if s.Unit != "" {
		return nil, fmt.Sprintf("what they say is no number of %s: %q", s.Unit, words)
	}
	return nil, fmt.Sprintf("what they say is no number: %q", words)
}

// plain is a number as JSON has it.
func plain(written string) string {
	n := text.PlainDigits(written)
	sign := ""
	if strings.HasPrefix(n, "-") {
		sign, n = "-", n[1:]
	}
	if n = strings.TrimLeft(n, "0"); n == "" || n[0] == '.' {
		n = "0" + n
	}
	return sign + n
}

// months by the beginning of their names.
var months = map[string]time.Month{
	"jan": 1, "feb": 2, "fév": 2, "mar": 3, "mär": 3, "apr": 4, "avr": 4, "may": 5, "mai": 5, "jun": 6, "juin": 6, "jul": 7, "juil": 7, "aug": 8, "aoû": 8, "sep": 9, "oct": 10, "okt": 10, "nov": 11, "dec": 12, "dez": 12, "déc": 12,
}

var (
	isoDay   = regexp.MustCompile(`\b(\d{4})-(\d{2})-(\d{2})\b`)
	dayFirst = regexp.MustCompile(`(?i)\b(\d{1,2})(?:st|nd|rd|th|er|\.)?\s+(?:of\s+)?(\pL{3,9})\.?,?\s+(\d{4})\b`)
	dayNext  = regexp.MustCompile(`(?i)\b(\pL{3,9})\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})\b`)
	dotted   = regexp.MustCompile(`\b(\d{1,2})\.(\d{1,2})\.(\d{4})\b`)
)

// dayIn is the first day that a text names, as 2026-01-31; empty if there is none.
func dayIn(s string) string {
	if m := isoDay.FindString(s); m != "" {
		return m
	}
	if m := dayFirst.FindStringSubmatch(s); m != nil {
		return day(m[3], m[2], m[1])
	}
	if m := dayNext.FindStringSubmatch(s); m != nil {
		return day(m[3], m[1], m[2])
	}
	if m := dotted.FindStringSubmatch(s); m != nil {
		return day(m[3], m[2], m[1])
	}
	return ""
}

func day(year, month, of string) string {
	n, err := time.Parse("1", month)
	m := n.Month()
	if err != nil {
		low := strings.ToLower(month)
		m = months[firstLetters(low, 4)]
		if m == 0 {
			m = months[firstLetters(low, 3)]
		}
	}
	at, err := time.Parse("2006-1-2", fmt.Sprintf("%s-%d-%s", year, m, of))
	if err != nil {
		return ""
	}
	return at.Format(time.DateOnly)
}

func firstLetters(s string, n int) string {
	r := []rune(s)
	return string(r[:min(n, len(r))])
}
