package text

import (
	"cmp"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"
)

// A Quantity is a number with what it counts or measures.
type Quantity struct {
	Span
	Value float64
	To    float64 // the end of a range, else equal to Value
	Unit  string  // as it is written: "°C", "per cent", "hours", "visitors"; "£" of money
	Known bool    // the unit is a measure, and no counted thing
	Bound Bound
}

// A Bound says how a number is meant.
type Bound string

// Bounds.
const (
	Exactly Bound = ""
	AtMost  Bound = "at most"
	Below   Bound = "below"
	AtLeast Bound = "at least"
	Above   Bound = "above"
	About   Bound = "about"
)

// units are measures by how they are written in English, French and German.
var units = strings.Fields(`°C °F % ‰ mm cm dm m km µm nm ft m² m2 km² cm² mm² ha m³ m3 cm³ dm³ l L ml mL cl hl dl kg g mg µg t
	s sec secs min mins h hr hrs ms V kV mV A mA W kW MW GW kWh MWh Wh VA Hz kHz MHz GHz Ω kΩ bar mbar Pa kPa hPa MPa psi N kN Nm J kJ MJ
	B KB kB MB GB TB KiB MiB GiB TiB bit bits byte bytes lux lx lm cd K dB dB(A) ppm mol pH km/h m/s mph mg/l µg/l g/l µS/cm mS/cm kg/m³ g/m² dpi rpm
	degree degrees percent metre metres meter meters kilometre kilometres kilometer kilometers centimetre centimetres millimetre millimetres mile miles foot feet inch inches yard yards
	hectare hectares acre acres litre litres liter liters millilitre millilitres gallon gallons tonne tonnes ton tons kilogram kilograms gram grams kilo kilos
	second seconds minute minutes hour hours day days night nights week weeks fortnight month months year years century centuries decade decades
	euro euros pound pounds pence penny dollar dollars EUR GBP USD CHF
	seconde secondes heure heures jour jours semaine semaines mois an ans année années mètre mètres kilomètre kilomètres centimètre centimètres litres degré degrés gramme grammes tonnes
	Sekunde Sekunden Minute Minuten Stunde Stunden Tag Tage Tagen Woche Wochen Monat Monate Monaten Jahr Jahre Jahren Meter Metern Kilometer Kilometern Zentimeter Millimeter Liter Litern Gramm Kilogramm Tonnen Grad Euro Prozent`)

// IsUnit tells whether a word is a unit of measurement.
func IsUnit(word string) bool { return slices.Contains(units, word) || overUnit.MatchString(word) }

var overUnit = regexp.MustCompile(`^` + compound + `$`)

var (
	currency = `(?:£|€|\$|¥|EUR|GBP|USD|CHF)`
	digits   = `\d{1,3}(?:[,.\x{a0}\x{202f}’]\d{3})+(?:[.,]\d+)?|\d+(?:[.,]\d+)?`
	halves   = `[½¼¾⅓⅔]`
	power    = `(?:\s?[×x]\s?10[⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+)?`
	figure   = `(?:(?:` + digits + `)` + halves + `?|` + halves + `)` + power
	scale    = `(?:\s?(?:million|millions|Millionen|billion|thousand|hundred))`
	// between them stands what joins the ends of a range.
	joiner = `\s?(?:–|-|to|à|bis)\s?`
	// compound are units over units, such as CFU/l.
	compound = `[\pLµ]{1,6}/\pL{1,4}[²³]?`

	quantities = func() *regexp.Regexp {
		names := slices.Clone(units)
		slices.SortFunc(names, func(a, b string) int { return cmp.Or(len(b)-len(a), cmp.Compare(a, b)) })
		for i := range names {
			names[i] = regexp.QuoteMeta(names[i])
		}
		unit := compound + `|per cent|pour cent|degrees (?:Celsius|Fahrenheit)|working days|calendar days|` + strings.Join(names, "|")
		return regexp.MustCompile(`(?:(` + currency + `)\s?)?([-−±]?` + figure + `|\b` + spelt + `\b)(` + scale + `)?(?:` + joiner + `(?:` + currency + `\s?)?([-−]?` + figure + `|` + spelt + `\b)(` + scale + `)?)?(?:[\s\x{a0}\x{202f}-]?(` + unit + `))?`)
	}()
)

// spelled are numerals as words.
var spelled = map[string]float64{
	"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10, "eleven": 11, "twelve": 12, "thirteen": 13, "fourteen": 14, "fifteen": 15, "sixteen": 16, "seventeen": 17, "eighteen": 18, "nineteen": 19,
	"twenty": 20, "thirty": 30, "forty": 40, "fifty": 50, "sixty": 60, "seventy": 70, "eighty": 80, "ninety": 90, "hundred": 100, "half an": 0.5, "half a": 0.5, "a hundred": 100, "a dozen": 12,
	"deux": 2, "trois": 3, "quatre": 4, "cinq": 5, "sept": 7, "huit": 8, "neuf": 9, "dix": 10, "douze": 12, "quinze": 15, "vingt": 20, "trente": 30, "quarante": 40, "cinquante": 50, "soixante": 60, "cent": 100,
	"zwei": 2, "drei": 3, "vier": 4, "fünf": 5, "sechs": 6, "sieben": 7, "acht": 8, "neun": 9, "zehn": 10, "elf": 11, "zwölf": 12, "fünfzehn": 15, "zwanzig": 20, "dreißig": 30, "vierzig": 40, "fünfzig": 50, "sechzig": 60, "hundert": 100,
}

// unsure are numerals that are other words too; they count before a measure alone.
var unsure = []string{"one", "cent"}

var spelt = func() string {
	var words []string
	for w := range spelled {
		words = append(words, w)
	}
	slices.SortFunc(words, func(a, b string) int { return cmp.Or(len(b)-len(a), cmp.Compare(a, b)) })
	all := strings.Join(words, "|")
	return `(?i:(?:twenty|thirty|forty|fifty|sixty|seventy|eighty|ninety)-(?:one|two|three|four|five|six|seven|eight|nine)|` + all + `)`
}()

// Quantities returns the numbers in a text that have a unit or count something, in their order.
// Dates, and numbers that name a thing, as in "section 3", are left out.
func Quantities(s string) []Quantity {
	var out []Quantity
	if !hasNumeral(s) {
		return nil
	}
	found := quantities.FindAllStringSubmatchIndex(s, -1)
	if found == nil {
		return nil
	}
	dates := Dates(s)
	for _, at := range found {
		group := func(i int) string {
			if at[2*i] < 0 {
				return ""
			}
			return s[at[2*i]:at[2*i+1]]
		}
		if at[1] == at[0] || slices.ContainsFunc(dates, func(d Date) bool { return d.Start < at[1] && at[0] < d.End }) {
			continue
		}
		q := Quantity{Span: Span{at[0], at[1]}, Unit: group(6), Known: true}
		if c := group(1); c != "" {
			q.Unit = c
			if at[12] >= 0 { // a word behind it that begins like a unit
				q.End = at[0] + len(strings.TrimRight(s[at[0]:at[12]], gaps))
				at[12] = -1
			}
		}
		if q.Unit == "" && !q.counts(s, group(2)) {
			continue
		}
		if at[12] >= 0 && letterAt(s, at[13]) && !strings.HasSuffix(group(6), "²") { // a word that begins like a unit
			if q.Unit, q.End = "", at[0]+len(strings.TrimRight(s[at[0]:at[12]], gaps+"-")); !q.counts(s, group(2)) {
				continue
			}
		}
		if !plainNumber(s, at[0], q.Known || !strings.ContainsAny(group(2), "0123456789")) {
			continue
		}
		var ok bool
		if q.Value, ok = numberOf(group(2), group(3)); !ok {
			continue
		}
		if q.To = q.Value; at[8] >= 0 {
			q.To, _ = numberOf(group(4), group(5))
			if group(3) == "" && group(5) != "" {
				q.Value, _ = numberOf(group(2), group(5))
			}
		}
		q.from(s)
		q.Bound = boundBefore(s[:q.Start])
		out = append(out, q)
	}
	return out
}

// numeralWords are the words of the numerals that are spelt out.
var numeralWords = func() map[string]bool {
	out := map[string]bool{}
	for numeral := range spelled {
		for w := range strings.FieldsSeq(numeral) {
			out[w] = len(w) > 2 // not "a" and "an"
		}
	}
	return out
}()

// hasNumeral tells whether a text may have a number at all, which is much quicker than to look for it.
func hasNumeral(s string) bool {
	if strings.ContainsFunc(s, unicode.IsNumber) {
		return true
	}
	for w := range strings.FieldsFuncSeq(s, func(r rune) bool { return !unicode.IsLetter(r) }) {
		if numeralWords[strings.ToLower(w)] {
			return true
		}
	}
	return false
}

// gaps are the spaces that stand between a number and its unit.
const gaps = " \u00a0\u202f"

// between is the first number of "between 3 and 7 per cent".
var between = regexp.MustCompile(`(?i)(?:^|[^\pL])(?:between|zwischen|entre)\s+(` + figure + `|` + spelt + `)\s+(?:and|und|et)\s+$`)

// from makes a range of a number that is the end of one which begins before it.
func (q *Quantity) from(s string) {
	m := between.FindStringSubmatchIndex(s[:q.Start])
	if m == nil || q.To != q.Value {
		return
	}
	if n, ok := numberOf(s[m[2]:m[3]], ""); ok {
		q.Value, q.Start = n, m[2]
	}
}

// mostCounted is how many words behind a number are looked through for the noun that it counts.
const mostCounted = 4

// counts takes the words behind a number for what it counts, if they can be that: up to one in
// the plural, or, in German, a noun.
func (q *Quantity) counts(s, number string) bool {
	if slices.Contains(unsure, strings.ToLower(number)) {
		return false
	}
	q.Known = false
	end := q.End
	for i := range mostCounted {
		rest := strings.TrimLeft(s[end:], " \u00a0\u202f")
		space := len(s) - end - len(rest)
		n := strings.IndexFunc(rest, func(r rune) bool { return !unicode.IsLetter(r) && r != '-' && r != '\'' && r != '’' })
		if n < 0 {
			n = len(rest)
		}
		word := rest[:n]
		if space == 0 || len(word) < 3 || !unicode.IsLetter([]rune(word)[0]) || isGrammar(word) && !further[word] {
			return false
		}
		if end += space + n; isCounted(word, i == 0) {
			q.Unit, q.End = strings.TrimSpace(s[q.End:end]), end
			return true
		}
	}
	return false
}

// further are words of grammar that may stand before what is counted.
var further = map[string]bool{"more": true, "other": true, "further": true, "weitere": true, "autres": true}

// plurals are English ones without an s, by their ends.
var plurals = []string{"people", "men", "children", "staff", "species", "sheep", "fish", "feet", "teeth", "mice", "geese", "criteria", "data", "genera", "taxa"}

// isCounted tells whether a word may be a noun in the plural.
func isCounted(word string, first bool) bool {
	low := strings.ToLower(word)
	for _, end := range []string{"ss", "us", "'s", "’s"} {
		if strings.HasSuffix(low, end) {
			return false
		}
	}
	if strings.HasSuffix(low, "s") || strings.HasSuffix(low, "aux") || slices.ContainsFunc(plurals, func(end string) bool { return strings.HasSuffix(low, end) }) {
		return true
	}
	return first && unicode.IsUpper([]rune(word)[0]) && strings.HasSuffix(low, "n")
}

// isGrammar tells whether a word carries grammar alone in one of the languages.
func isGrammar(word string) bool {
	folded := Fold(word)
	for _, l := range []Language{English, "fr", "de"} {
		if IsFunctionWord(folded, l) {
			return true
		}
	}
	return false
}

// named are words before a number that it names a thing with.
var named = regexp.MustCompile(`(?i)(?:^|[^\pL])(?:sections?|pages?|p|pp|tables?|figures?|fig|chapters?|rules?|clauses?|appendix|annex|articles?|paragraphs?|no|nos|nr|number|numbers|version|edition|step|steps|room|bay|row|extension|ext|option|part|item|items|note|level|class|form|line|train|gate|telephone|phone|tel|seite|seiten|kapitel|abschnitt|tabelle|abbildung|regel|nummer|chapitre|règle|tableau|numéro|art|abs)\.?[\s\x{a0}]*$`)

// plainNumber tells whether a number stands by itself: not within a word, a code or another
// number, and not behind a word that it names a thing with.
func plainNumber(s string, at int, sure bool) bool {
	before := []rune(s[:at])
	if n := len(before); n > 0 {
		last := before[n-1]
		if unicode.IsLetter(last) || unicode.IsDigit(last) || strings.ContainsRune("/._:#+*=^", last) && n > 1 && before[n-2] != ' ' {
			return false
		}
		if last == '-' && n > 1 && !unicode.IsSpace(before[n-2]) {
			return false
		}
	}
	return sure || !named.MatchString(s[:at]) && !code.MatchString(s[:at])
}

// code matches the letters before the number of a standard or a model: "BS 4987".
var code = regexp.MustCompile(`(?:^|[^\pL])[A-Z]{2,}\s$`)

func letterAt(s string, at int) bool {
	for _, r := range s[at:] {
		return unicode.IsLetter(r) || unicode.IsDigit(r)
	}
	return false
}

// numberOf reads a number as it is written, with its scale.
func numberOf(written, scale string) (float64, bool) {
	word := strings.ToLower(strings.TrimSpace(written))
	n, known := spelled[word]
	if tens, ones, ok := strings.Cut(word, "-"); !known && ok && spelled[tens] >= 20 {
		n, known = spelled[tens]+spelled[ones], true
	}
	if !known {
		var ok bool
		if n, ok = Number(written); !ok {
			return 0, false
		}
	}
	switch strings.TrimSpace(scale) {
	case "million", "millions", "Millionen":
		n *= 1e6
	case "billion":
		n *= 1e9
	case "thousand":
		n *= 1e3
	case "hundred":
		n *= 100
	}
	return n, true
}

// Number reads a number in digits as English, French or German write it: "1,024", "1.024,5",
// "−3", "2½", "2.4 × 10⁶".
func Number(written string) (n float64, ok bool) {
	if base, power, ok := strings.Cut(strings.Replace(written, "x", "×", 1), "×"); ok {
		n, ok := Number(base)
		digits := strings.NewReplacer("⁻", "-", "⁰", "0", "¹", "1", "²", "2", "³", "3", "⁴", "4", "⁵", "5", "⁶", "6", "⁷", "7", "⁸", "8", "⁹", "9").Replace(strings.TrimPrefix(strings.TrimSpace(power), "10"))
		exponent, err := strconv.Atoi(digits)
		return n * math.Pow10(exponent), ok && err == nil
	}
	fraction := map[string]float64{"½": .5, "¼": .25, "¾": .75, "⅓": 1. / 3, "⅔": 2. / 3}
	for mark, value := range fraction {
		if rest, ok := strings.CutSuffix(strings.TrimSpace(written), mark); ok {
			if rest == "" {
				return value, true
			}
			whole, ok := Number(rest)
			return whole + math.Copysign(value, whole), ok
		}
	}
	n, err := strconv.ParseFloat(PlainDigits(written), 64)
	return n, err == nil && strings.ContainsAny(written, "0123456789")
}

// PlainDigits writes a number with a point, if any, and without signs between thousands.
func PlainDigits(written string) string {
	n := strings.NewReplacer("−", "-", "–", "-", "±", "", " ", "", "’", "", "\u00a0", "", "\u202f", "").Replace(written)
	comma, point := strings.LastIndex(n, ","), strings.LastIndex(n, ".")
	switch {
	case comma >= 0 && point >= 0 && comma > point:
		n = strings.ReplaceAll(strings.ReplaceAll(n, ".", ""), ",", ".")
	case comma >= 0 && point >= 0:
		n = strings.ReplaceAll(n, ",", "")
	case comma >= 0 && len(n)-comma == 4 && strings.TrimLeft(n[:comma], "-0") != "":
		n = strings.ReplaceAll(n, ",", "") // 1,024
	case comma >= 0:
		n = strings.Replace(n, ",", ".", 1)
	case point >= 0 && strings.Count(n, ".") > 1:
		n = strings.ReplaceAll(n, ".", "")
	}
	return n
}

// bounds are what is said before a number of how it is meant.
var bounds = []struct {
	bound Bound
	words *regexp.Regexp
}{
	{AtMost, boundWords("at most", "at the most", "no more than", "not more than", "never more than", "no longer than", "not longer than", "no later than", "no higher than", "up to", "maximum of", "maximum", "max", "within", "not exceed", "not exceeding", "never exceed", "no greater than", "not above", "not over", "au plus", "au maximum", "jusqu'à", "pas plus de", "höchstens", "maximal", "bis zu", "nicht mehr als", "nicht über")},
	{AtLeast, boundWords("at least", "no less than", "not less than", "no fewer than", "no lower than", "minimum of", "minimum", "min", "not below", "not under", "au moins", "minimum de", "mindestens", "minimal", "wenigstens", "nicht unter")},
	{Below, boundWords("less than", "fewer than", "lower than", "shorter than", "below", "under", "moins de", "unter", "weniger als")},
	{Above, boundWords("more than", "longer than", "greater than", "higher than", "warmer than", "colder than", "above", "over", "exceeds", "exceed", "exceeding", "plus de", "über", "mehr als")},
	{About, boundWords("about", "around", "approximately", "some", "roughly", "nearly", "almost", "environ", "près de", "etwa", "rund", "ungefähr", "circa", "ca.", "c.")},
}

func boundWords(words ...string) *regexp.Regexp {
	for i, w := range words {
		words[i] = regexp.QuoteMeta(w)
	}
	return regexp.MustCompile(`(?i)(?:^|[^\pL])(?:` + strings.Join(words, "|") + `)\s+(?:an?\s+|the\s+)?$`)
}

func boundBefore(s string) Bound {
	for _, b := range bounds {
		if b.words.MatchString(s) {
			return b.bound
		}
	}
	return Exactly
}

// BoundOf parts what says how a number is meant off the number: "at least 5".
func BoundOf(s string) (number string, bound Bound) {
	for i, r := range s {
		if unicode.IsDigit(r) || strings.ContainsRune("-−±", r) {
			return s[i:], boundBefore(s[:i])
		}
	}
	return s, Exactly
}
