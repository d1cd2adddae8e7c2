package text

import "strings"

// numerals are the number words that Normal writes in digits.
var numerals = map[string]string{
	"zero": "0", "one": "1", "two": "2", "three": "3", "four": "4", "five": "5", "six": "6", "seven": "7",
	"eight": "8", "nine": "9", "ten": "10", "eleven": "11", "twelve": "12", "thirteen": "13", "fourteen": "14",
	"fifteen": "15", "sixteen": "16", "seventeen": "17", "eighteen": "18", "nineteen": "19", "twenty": "20",
	"thirty": "30", "forty": "40", "fifty": "50", "sixty": "60", "seventy": "70", "eighty": "80", "ninety": "90",
}

// superscripts maps raised digits to plain ones.
var superscripts = map[rune]rune{
	'⁰': '0', '¹': '1', '²': '2', '³': '3', '⁴': '4', '⁵': '5', '⁶': '6', '⁷': '7', '⁸': '8', '⁹': '9', '⁻': '-', '⁺': '+',
}

// Normal returns a form of s in which spellings of the same fact are equal:
// folded words and numbers joined by single spaces, number words in digits,
// thousands separators gone, "°C" set apart from its number, raised digits
// written as ^6. Percent, degree, currency and minus signs before a digit stay.
func Normal(s string) string {
	s = plainSigns(s)
	var parts []string
	at := 0
	for _, t := range Tokens(s) {
		for _, r := range s[at:t.Start] {
			if strings.ContainsRune("°%€£$^", r) {
				parts = append(parts, string(r))
			}
		}
		if t.Number && t.Start > 0 && s[t.Start-1] == '-' && (t.Start == 1 || s[t.Start-2] == ' ' || s[t.Start-2] == '(') {
			parts = append(parts, "-")
		}
		at = t.End
		word := t.Word
		if digits, ok := numerals[word]; ok {
			word = digits
		}
		parts = append(parts, word)
	}
	for _, r := range s[at:] {
		if strings.ContainsRune("°%€£$", r) {
			parts = append(parts, string(r))
		}
	}
	return strings.Join(parts, " ")
}

// plainSigns spells raised digits with a caret and unifies minus signs.
func plainSigns(s string) string {
	var b strings.Builder
	raised := false
	for _, r := range s {
		if d, ok := superscripts[r]; ok {
			if !raised {
				b.WriteByte('^')
			}
			raised = true
			b.WriteRune(d)
			continue
		}
		raised = false
		switch r {
		case '−', '–', '‑', '‒':
			r = '-'
		case 'º':
			r = '°'
		}
		b.WriteRune(r)
	}
	return b.String()
}

// Contains tells whether the normal form of s contains that of part, at word
// boundaries.
func Contains(s, part string) bool {
	needle := Normal(part)
	return needle != "" && strings.Contains(" "+Normal(s)+" ", " "+needle+" ")
}
