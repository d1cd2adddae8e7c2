package answer

import (
	"math"
	"regexp"
	"strconv"
	"strings"

	"jardinet/layout"
	"jardinet/passage"
	"jardinet/text"
)

// Who asks about "a purchase of £9,000" is answered by the rule for "up to
// £25,000", though neither number stands in the other: a rule holds for a band of
// amounts.

// An amount is a number with what it counts.
type amount struct {
	value float64
	unit  string
}

const bandNumber = `([£€$]?)\s?(\d[\d,]*(?:\.\d+)?|\b(?:one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve|fifteen|twenty|thirty|forty|fifty|sixty|hundred)\b)[\s-]?(°\s?C|%|km/h|\pL+|)`

var (
	amounts = regexp.MustCompile(bandNumber)
	upTo    = regexp.MustCompile(`(?i)\b(?:up to|at (?:the )?most|(?:no|not) more than|(?:no|not) (?:longer|older|heavier|later) than|under|below|less than|fewer than|younger than|until)\s+` + bandNumber)
	above   = regexp.MustCompile(`(?i)\b(?:above|over|more than|exceed(?:s|ing)?|at (?:the )?least|(?:no|not) less than|older than|longer than|beyond|from)\s+` + bandNumber)
	orMore  = regexp.MustCompile(`(?i)` + bandNumber + `\s(?:and|or) (?:above|over|more|older|upwards)\b`)
	between = regexp.MustCompile(`(?i)` + bandNumber + `\s?(?:to|and|–|-)\s?` + bandNumber)
)

// unitNames gives units that are written in several ways one name.
var unitNames = map[string]string{
	"kg": "kilogram", "g": "gram", "t": "tonne", "m": "metre", "meter": "metre", "km": "kilometre", "cm": "centimetre", "mm": "millimetre",
	"l": "litre", "liter": "litre", "h": "hour", "min": "minute", "yr": "year", "°c": "degree", "per": "%", "percent": "%",
}

// currencies are the signs of what is also written out.
var currencies = map[string]string{"pound": "£", "pounds": "£", "euro": "€", "euros": "€", "dollar": "$", "dollars": "$"}

func amountOf(currency, number, unit string) (amount, bool) {
	digits := strings.ReplaceAll(number, ",", "")
	switch {
	case strings.EqualFold(number, "hundred"):
		digits = "100"
	case digits != "" && digits[0] > '9':
		digits = text.Normal(number)
	}
	value, err := strconv.ParseFloat(digits, 64)
	if err != nil {
		return amount{}, false
	}
	if currency != "" {
		return amount{value, currency}, true
	}
	unit = strings.ToLower(strings.ReplaceAll(unit, " ", ""))
	if sign := currencies[unit]; sign != "" {
		return amount{value, sign}, true
	}
	if len(unit) > 2 {
		unit = strings.TrimSuffix(unit, "s")
	}
	if name := unitNames[unit]; name != "" {
		unit = name
	}
	return amount{value, unit}, true
}

// beyond matches what stands before an amount that is not the one itself, but any more.
var beyond = regexp.MustCompile(`(?i)\b(?:above|over|more than|beyond|exceeding)\s*$`)

// justMore is how much more that is at least.
const justMore = 0.01

// amountsOf returns the amounts in a question that have a unit; years have none.
func amountsOf(question string) []amount {
	var out []amount
	for _, at := range amounts.FindAllStringSubmatchIndex(question, -1) {
		m := []string{"", question[at[2]:at[3]], question[at[4]:at[5]], question[at[6]:at[7]]}
		a, ok := amountOf(m[1], m[2], m[3])
		if ok && beyond.MatchString(question[:at[0]]) {
			a.value += justMore
		}
		if ok && a.unit != "" && !year.MatchString(m[2]) {
			out = append(out, a)
		}
	}
	return out
}

// slack is how far an amount lies below the upper end of a band in a statement
// that holds it, NaN if it has bands for such amounts and none holds it, and −1 if it
// has none. In a row of a table a number may lack its unit.
func slack(s string, asked amount, row bool) float64 {
	known := false
	least := math.NaN()
	look := func(m []string, holds func(bound float64) (bool, float64)) {
		bound, ok := amountOf(m[1], m[2], m[3])
		if !ok || bound.unit != asked.unit && !(row && m[1] == "" && m[3] == "") {
			return
		}
		known = true
		if in, far := holds(bound.value); in && !(far >= least) {
			least = far
		}
	}
	for _, m := range upTo.FindAllStringSubmatch(s, -1) {
		look(m, func(b float64) (bool, float64) { return asked.value <= b, b - asked.value })
	}
	for _, pattern := range []*regexp.Regexp{above, orMore} {
		for _, m := range pattern.FindAllStringSubmatch(s, -1) {
			look(m, func(b float64) (bool, float64) { return asked.value >= b, math.MaxFloat64 })
		}
	}
	for _, m := range between.FindAllStringSubmatch(s, -1) {
		low, ok := amountOf(m[1], m[2], "")
		if !ok || m[3] != "" && m[3] != m[6] {
			continue
		}
		look(m[3:], func(b float64) (bool, float64) { return low.value <= asked.value && asked.value <= b, b - asked.value })
	}
	if !known {
		return -1
	}
	return least
}

// bands tells of each sentence of a passage whether it holds for an amount in
// the question (1), for other ones (−1), or has nothing to do with amounts (0). Of the
// rows of a table that hold for it, only those with the nearest bound do.
func bands(p *passage.Passage, asked []amount) []float64 {
	out := make([]float64, len(p.Sentences))
	for _, a := range asked {
		found, nearest := make([]float64, len(out)), math.Inf(1)
		for i, s := range p.Sentences {
			found[i] = slack(p.Text[s.Start:s.End], a, s.Kind == layout.Table)
			if s.Kind == layout.Table && found[i] >= 0 {
				nearest = min(nearest, found[i])
			}
		}
		for i, far := range found {
			switch {
			case far == -1:
			case math.IsNaN(far), p.Sentences[i].Kind == layout.Table && far > nearest:
				out[i] = -1
			default:
				out[i] = 1
			}
		}
	}
	return out
}
