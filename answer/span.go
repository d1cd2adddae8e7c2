package answer

import (
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"jardinet/passage"
	"jardinet/text"
)

// Patterns of what a short answer can be. They are matched on the words of the
// documents, so that a short answer is always a part of a statement.
const (
	numberWords = `(?:one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve|thirteen|fourteen|fifteen|sixteen|eighteen|twenty|thirty|forty|fifty|sixty|ninety|half an?|un|une|deux|trois|quatre|cinq|six|sept|huit|neuf|dix)`
	digits      = `[-−–]?\d[\d,. ]*\d|[-−–]?\d`
	units       = `(?:giga|mega|kilo)?watt[ -]hours?|°\s?[CF]|%|‰|°|km/h|mph|m/s|mg/l|mg/L|µg/l|g/l|ml/l|[mµkcd]?[mgl](?:[²³]|\b)|[kM]?(?:Pa|W|Wh|V|A|Hz|N|J)\b|bar|ha|lux|lx|ppm|psi|dB|cells?/ml|CFU/\S+|hours?|minutes?|seconds?|days?|weeks?|months?|years?|nights?|litres?|liters?|(?:square|cubic) met(?:re|er)s?|metres?|meters?|millimetres?|centimetres?|kilometres?|kilograms?|grams?|tonnes?|degrees?|per cent|percent|people|persons?|passengers?|visitors?|members?|staff|seeds?|accessions?|plants?|species|pounds?|euros?|pence|coaches|carriages|times|air changes|pages?|copies|heures?|minutes?|jours?|semaines?|mois|ans?\b|euros?|personnes?|mètres?|Stunden|Tage|Minuten|Jahre`
	month       = `(?:January|February|March|April|May|June|July|August|September|October|November|December|janvier|février|mars|avril|mai|juin|juillet|août|septembre|octobre|novembre|décembre)`
)

var placeCell = regexp.MustCompile(`(?i) · (?:place|where|location|room|position|site|address|standort|ort|lieu)(?: of [^:·]*)?: ([^·]*\pL[^·]*)`)

var (
	quantity = leading("", `(?i:(?:\b1 in \d+\b|(?:`+digits+`|\b`+numberWords+`)\s(?:hours? and (?:`+digits+`|`+numberWords+`)\sminutes?|minutes? and (?:`+digits+`|`+numberWords+`)\sseconds?|days? and (?:`+digits+`|`+numberWords+`)\shours?)\b|\d[\d.,]*\s?[£€$]|[£€$]\s?(?:\d[\d,.]*\d|\d)(?:\s(?:million|billion|thousand)\b)?|(?:`+digits+`|\b`+numberWords+`\b)(?:\s?(?:[×x]\s?10[⁰¹²³⁴⁵⁶⁷⁸⁹⁻]+|million|thousand))?(?:\s?(?:-|–|to|and|à|bis)\s?(?:`+digits+`))?(?:[\s-]?(?:`+units+`))?))`)
	date     = regexp.MustCompile(`(?i)(?:\bfrom \d{1,2} to \d{1,2} ` + month + `(?:\s+\d{4})?\b|\b\d{1,2}(?:st|nd|rd|th)?\s+(?:of\s+)?` + month + `(?:\s+\d{4})?|\b` + month + `\s+\d{1,2}\b(?:,?\s+\d{4})?|\b` + month + `(?:\s+\d{4})?\b|\b(?:1[89]|20)\d{2}\b|\b\d{1,2}[:h]\d{2}\s?(?:am|pm)?\b|\b\d{1,2}\.\d{2}\s?(?:am|pm|Uhr|h)\b|\b\d{1,2}\s?(?:am|pm|h)\b|\b\d{1,2} heures|\bnoon\b|\bmidnight\b|\b(?:on|by|from|until|till|before|after|since|of) the (?:\d{1,2}(?:st|nd|rd|th)|(?:first|second|third|fourth|fifth|sixth|seventh|eighth|ninth|tenth) (?:working |calendar |full )?(?:day|week|month|year))\b|\b(?:Mon|Tues|Wednes|Thurs|Fri|Satur|Sun)days?\b|\b(?:daily|weekly|monthly|quarterly|yearly|annually)\b)`)
	name     = regexp.MustCompile(`(?:\b(?:Dr|Mr|Mrs|Ms|Prof)\.?\s+)?\b\p{Lu}\p{Ll}+(?:[- ]\p{Lu}\p{Ll}+)+`)
	office   = regexp.MustCompile(`\b(?:the|The|an?|An?)\s+(?:\p{L}+\s+){0,3}(?:[Mm]anager|[Oo]fficer|[Dd]irector|[Kk]eeper|[Dd]river|[Gg]uard|[Ss]upervisor|[Hh]ead|[Cc]urator|[Ss]taff|[Ww]arden|[Ss]ignaller|[Cc]ontroller|[Tt]rustees?|[Bb]oard|[Ee]ngineer|[Gg]ardener|[Hh]orticulturist|[Tt]echnician|[Cc]hair|[Ff]oreman|[Gg]rower|[Ss]ecretary|[Tt]reasurer|[Aa]uditors?|[Ii]nspector|[Cc]ontractor|[Aa]dministrator|[Uu]sers?|[Oo]perator|[Oo]wner|[Pp]ilot|[Tt]eachers?|[Nn]urse|[Dd]octor|[Ee]xaminer|[Aa]ccountant|[Cc]ashier|[Oo]rganiser|[Vv]isitors?|[Vv]olunteers?|[Tt]eam|[Cc]ommittee|[Dd]epartment)(?:\s+of\s+(?:the\s+)?\p{L}+(?:\s\p{Lu}\p{Ll}+)?)?(?:(?:,\s+and|,|\s+and)\s+(?:the|a)\s+(?:\p{Lu}\p{L}+|\p{L}+(?:\s\p{L}{4,})?)(?:\s+of\s+(?:the\s+)?\p{L}+(?:\s\p{Lu}\p{Ll}+)?)?)*`)
	reason   = regexp.MustCompile(`(?i)\b(?:because|since|so that|in order to|to (?:avoid|prevent|protect|keep|stop)|as (?:it|they|the)|due to|owing to|reason|otherwise|therefore|ensur(?:e|es|ing)|prevents?|allows?|makes? it|as a result|parce|car|afin|weil|damit)\b`)
	located  = regexp.MustCompile(`(?i)\b(?:is|are|be|stands?|hangs?|lies?|kept|found|held|stored|located|placed|put|sits?|taken|meets?|goes|go) (?:up |down |out |only |just |all )?(?:in|at|on|under|beside|behind|by|near|inside|outside|above|below|between|next|to)\b|(?:^|\s)/\w+/|→|\b(?:tab|menu|dialog|directory|folder)\b|\b(?:se trouvent?|est|sont|a lieu|permise?s?|prêtée?s?|conduite?s?|ist|sind|steht|stehen|liegt|hängt) (?:\pL+ )?(?:à|au|aux|dans|sur|sous|près|devant|derrière|en|im|am|auf|in|unter|bei|neben|hinter)\b`)
	// A place by its name, and the cell of a row that is named for where something is.
	placed = regexp.MustCompile(`\b(?:at|in|near|behind|beside|under|opposite|outside|inside) (?:the )?\p{Lu}\p{Ll}+|` + placeCell.String())
	denial = regexp.MustCompile(`(?i)\b(?:not|never|no|nor|neither|cannot|prohibited|forbidden|without exception|banned|refused|nobody|none|pas|jamais|interdite?s?|nicht|kein\w*|verboten)\b`)
)

// short picks the part of a statement that answers by itself: the match of the
// wanted kind that stands nearest to the question's words.
func short(q *question, m *matcher, s string, language text.Language) string {
	if q.follows && m.own&^m.in(s, language) != 0 && q.want == wantDate && len(date.FindAllString(s, 2)) > 1 {
		return "" // which of them, what the follow-up adds would have told
	}
	switch q.want {
	case wantQuantity:
		return figure(q, m, s, language)
	case wantValue:
		if value := nearest(q.value, nil, m, s, language); value != "" || q.value != happened {
			return value
		}
		return nearest(date, nil, m, s, language)
	case wantDate:
		return nearest(date, nil, m, s, language)
	case wantPerson:
		return somebody(q, m, s, language)
	case wantPlace:
		if m := placeCell.FindStringSubmatch(s); m != nil {
			return strings.TrimSpace(m[1])
		}
		return picked(q, m, s, language)
	case wantSentence, wantList:
		return picked(q, m, s, language)
	}
	return ""
}

// monthly matches a heading that is the name of a month.
var monthly = regexp.MustCompile(`(?i)^(?:[\d.]+\s+)?(` + month + `)$`)

// headingOf returns a passage's own heading, and not those above it.
func headingOf(p *passage.Passage) string {
	if len(p.Section) == 0 {
		return ""
	}
	return p.Section[len(p.Section)-1]
}

// headed returns the month that a heading is, where a time is asked for: what stands under
// "17.9 September" is done then.
func (q *question) headed(heading string) string {
	if q.want != wantDate && q.want != wantValue {
		return ""
	}
	m := monthly.FindStringSubmatch(heading)
	if m == nil || q.want == wantValue && !q.value.MatchString(m[1]) {
		return ""
	}
	return m[1]
}

// onlyPoints matches what a sentence only points at: "in this house", "fill in this form".
var onlyPoints = regexp.MustCompile(`\b[Tt]his (\pL{3,})`)

// pointsTo returns what a sentence points at where that is what is asked for, by the name
// that the headings above it, or its document, have for it: "Form V4", "Arid House".
func pointsTo(q *question, s string, p *passage.Passage, title string) string {
	at := onlyPoints.FindStringSubmatch(s)
	if at == nil {
		return ""
	}
	if q.want != wantPlace && q.kind != at[1] {
		return ""
	}
	named := regexp.MustCompile(`(?:\p{Lu}\pL+ ){1,3}` + capital(at[1]) + `\b|\b` + capital(at[1]) + ` \p{Lu}?\d+\b`)
	for _, heading := range append(slices.Clone(p.Section), title) {
		if name := named.FindString(heading); name != "" {
			return name
		}
	}
	return ""
}

// figure picks a quantity, or how often or how long without an end.
func figure(q *question, m *matcher, s string, language text.Language) string {
	if q.frequency {
		if often := nearest(frequent, nil, m, atOnce.ReplaceAllString(s, ""), language); often != "" {
			return often
		}
	}
	if of := theNumber.FindStringSubmatch(s); of != nil && of[3] != "" && q.counted != "" && numberOf(s, m.things, m.stemmerOf(language)) {
		return of[3]
	}
	if from := since.FindStringSubmatch(s); from != nil && q.measure != nil && q.measure == measured["old"] {
		return from[1]
	}
	if q.units == nil || !endless.MatchString(s) || quantity.MatchString(s) {
		return nearest(quantity, q.unitsIn(s), m, s, language)
	}
	return endless.FindString(s)
}

// somebody picks a name, or an office.
func somebody(q *question, m *matcher, s string, language text.Language) string {
	if who := m.heldBy(s, language); who != "" {
		return who
	}
	if label, _, row := strings.Cut(s, " · "); row && q.identity && name.FindString(label) == label && m.in(label, language) == 0 {
		return label // whose office the other cells tell
	}
	who, holder := nearest(name, nil, m, s, language), officeAlone(nearest(office, nil, m, s, language))
	if who == "" || strings.Contains(holder, who) {
		return holder // "the Head of Plant Health" is not Plant Health
	}
	return who
}

// unitsIn returns the units of a quantity that is wanted, of those that a sentence has.
func (q *question) unitsIn(s string) *regexp.Regexp {
	if areas.MatchString(s) && asksSize.MatchString(foldedQuestion(q.standalone)) {
		return areas
	}
	return q.units
}

var whichThing = regexp.MustCompile(`^(?:and |but |so |in |at |on |of |from |to |for |under |against )*(?:which|what) (?:(?:is|are|was|were) the \pL+est )?(\pL{3,})`)

// kindOf returns of what thing a folded question asks which one.
func kindOf(folded string) string {
	if m := whichThing.FindStringSubmatch(folded); m != nil {
		return m[1]
	}
	return ""
}

// isOf tells whether the name of a column is that of a kind of thing.
func (m *matcher) isOf(kind, column string, language text.Language) bool {
	stemmer := m.stemmerOf(language)
	return kind != "" && stemmer.Stem(strings.ToLower(column)) == stemmer.Stem(kind)
}

// apposition matches a name with what that is: "Tansy, the battery locomotive,".
var apposition = regexp.MustCompile(`^(\p{Lu}\pL+(?: \p{Lu}\pL+)*), (?:the|an?) (?:\pL+ ){0,2}?(\pL+),`)

// picked returns which of several things a row of a table is: the cell named for what
// is asked for, "Product: Nematodes", or the row's name where a superlative is true of it.
func picked(q *question, m *matcher, s string, language text.Language) string {
	label, cells, row := strings.Cut(s, " · ")
	if !row {
		if of := apposition.FindStringSubmatch(s); of != nil && q.kind != "" && m.marks(of[2], language).any()&m.in(q.kind, q.language) != 0 {
			return of[1]
		}
		return ""
	}
	if q.want == wantSentence && !q.picks() {
		if cell := m.namedFor(label, cells, language); cell != "" {
			return cell
		}
	}
	if q.kind == "" {
		return ""
	}
	for _, cell := range strings.Split(cells, " · ") {
		name, value, named := strings.Cut(cell, ": ")
		if named && value != "" && m.isOf(q.kind, name, language) && !asked(m, value, language) {
			return value
		}
	}
	if q.picks() && !asked(m, label, language) {
		if _, err := strconv.Atoi(label); err == nil {
			return q.kind + " " + label
		}
		return label
	}
	return ""
}

// namedFor returns the cell of a row whose name alone says what is asked for: "Holds", of
// "what does store C3 hold".
func (m *matcher) namedFor(label, cells string, language text.Language) string {
	row, best, most, others := m.in(label, language), "", 0.0, 0.0
	for _, cell := range strings.Split(cells, " · ") {
		name, value, named := strings.Cut(cell, ": ")
		worth := m.worthOf(m.in(name, language) &^ row)
		switch {
		case !named || value == "" || asked(m, value, language):
		case worth > most:
			best, most, others = withUnit(name, value), worth, most
		default:
			others = max(others, worth)
		}
	}
	if most == others {
		return ""
	}
	return best
}

// nearest returns the match of a pattern with the least distance, in words, to
// the matched words on both sides; those that are part of the question do not
// answer it. In a table row the distance is counted within cells.
func nearest(pattern, units *regexp.Regexp, m *matcher, s string, language text.Language) string {
	matches := pattern.FindAllStringIndex(s, -1)
	if len(matches) == 0 {
		return ""
	}
	if cell, ok := bestCell(pattern, units, m, s, language); ok {
		return cell
	}
	tokens := text.Tokens(s)
	hits := make([]bool, len(tokens))
	for i, t := range tokens {
		hits[i] = m.in(s[t.Start:t.End], language)&^m.circumstance != 0
	}
	best, least, measured := "", 1e9, false
	shares := m.clauseShares(s, matches, language)
	for i, span := range matches {
		if span[0] < labelEnd(s) {
			continue
		}
		if year := yearAnd.FindString(s[span[0]:span[1]]); pattern == quantity && year != "" {
			span = []int{span[0] + len(year), span[1]} // "in 2019 and 7.2 in 2025"
		}
		part := strings.TrimSpace(s[span[0]:span[1]])
		if pattern == quantity && (clockAfter.MatchString(s[span[1]:]) || clockBefore.MatchString(s[:span[0]])) || asked(m, part, language) || isReference(s, span[0]) || withinWord(s, span[0]) || pattern == name && isPlace(part) || pattern == quantity && (ordinal.MatchString(s[span[0]:]) || ofADate(s, span)) {
			continue
		}
		d := distance(tokens, hits, span) - elsewhere*shares[i]
		switch {
		case units == nil || units.MatchString(part+" "):
			measured = true
		case measured && elided.MatchString(s[span[1]:]) && allDigits(part):
			// "at least 21 years old, guards at least 18"
		default:
			d += 1000 // only if there is none of the wanted dimension
		}
		switch {
		case pattern == quantity && (year.MatchString(part) || single.MatchString(part)):
			d += 100
		case pattern == quantity && withinTime.MatchString(s[:span[0]]), pattern != quantity && pattern != name && pattern != office && m.beside(s[:span[0]], language):
			d += elsewhere
		case pattern == quantity && m.follows(s[:span[0]], language):
			d -= elsewhere
		case pattern == quantity && m.later && thereafter.MatchString(s[span[1]:]):
			d -= 3 * elsewhere
		}
		if d < least {
			best, least = part, d
		}
	}
	return strings.TrimRight(best, " ,.")
}

// withinTime matches what stands before a time that says when, and not how long:
// "one month in the first two years". partOfName matches what stands before a date that
// tells which one: "the storm of January 2025".
var (
	withinTime = regexp.MustCompile(`(?i)\b(?:in|during|within|for) the (?:first|last|next|second) $`)
	thereafter = regexp.MustCompile(`(?i)^\s(?:after|later|from then)\b`)
	partOfName = regexp.MustCompile(`(?i)\b(?:after|before|since|during|from) the (\pL+) of (?:the )?$`)
	goesLater  = regexp.MustCompile(`\b(?:after|following|from then|later)\b`)
)

// follows tells whether what stands before a figure names what is asked for, "a limit of".
func (m *matcher) follows(before string, language text.Language) bool {
	if m.attribute == 0 {
		return false
	}
	name := attributed.FindStringSubmatch(before)
	return name != nil && m.in(name[1], language)&m.attribute != 0
}

var attributed = regexp.MustCompile(`(?i)\b(\pL+) (?:of|is|was|at|=|:) (?:(?:about|at most|at least|only|some) )?$`)

// beside tells whether what stands before a date makes it a part of the name of something
// that is not asked about.
func (m *matcher) beside(before string, language text.Language) bool {
	name := partOfName.FindStringSubmatch(before)
	return name != nil && m.in(name[1], language)&^m.circumstance == 0
}

var (
	yearAnd     = regexp.MustCompile(`^(?:1[5-9]|20)\d{2} (?:and|to) `)
	clockAfter  = regexp.MustCompile(`^:\d{2}\b`)
	clockBefore = regexp.MustCompile(`\b\d{1,2}:$`)
)

// ofADate tells whether a number is the day in a date.
func ofADate(s string, span []int) bool {
	return dayBefore.MatchString(s[span[1]:]) || dayAfter.MatchString(s[:span[0]]) && len(strings.TrimSpace(s[span[0]:span[1]])) <= 2
}

var (
	dayBefore = regexp.MustCompile(`^\s?(?:st|nd|rd|th)?\s?(?:of )?` + month + `\b`)
	dayAfter  = regexp.MustCompile(`\b` + month + `\s$`)
	places    = words("house gate hall halt road street lane station room bridge lake river garden gardens park yard shed store tower building wing terrace square village office lawn school train trains report policy manual bank avenue ride mound edge walk hill")
)

// isPlace tells whether a name is one of a place and not of somebody.
func isPlace(name string) bool {
	words := strings.Fields(strings.ToLower(name))
	return len(words) > 0 && places[words[len(words)-1]]
}

// officeAlone takes off what stands before an office: "the agreement of the Director".
func officeAlone(s string) string {
	if at := besideOffice.FindStringSubmatchIndex(s); at != nil && !office.MatchString(s[:at[3]]) {
		return s[at[4]:]
	}
	return s
}

var besideOffice = regexp.MustCompile(`^((?:[Tt]he|[Aa]n?) \pL+) (?:of|by|to|with|for|from) (the|an?) `)

// elsewhere is by how many words a figure is farther that stands in a clause with
// nothing of what was asked, where another figure's clause has all.
const elsewhere = 30

// elided matches what follows a number whose unit an earlier one has.
var elided = regexp.MustCompile(`^\s?(?:$|[.,;:)]|(?:in|for|and|or|on|at|after|from|by|when|with)\b)`)

// betweenClauses matches what stands between clauses.
var betweenClauses = regexp.MustCompile(`[,;] (?:and )?| and (?:at |for |of )?`)

// clauseShares returns which part of the question each match has in its clause:
// "admissions brought £3.21 million, membership £1.48 million".
func (m *matcher) clauseShares(s string, matches [][]int, language text.Language) []float64 {
	out := make([]float64, len(matches))
	if len(matches) < 2 || m.total == 0 {
		return out
	}
	ends := betweenClauses.FindAllStringIndex(s, -1)
	for i, span := range matches {
		from, to, before := 0, len(s), 0
		if i > 0 {
			before = matches[i-1][1]
		}
		for _, at := range ends {
			switch {
			case at[1] <= span[0] && at[0] >= before && from <= before:
				from = at[1] // the first after the figure before: "gifts and legacies" are one clause
			case at[0] >= span[1] && to == len(s):
				to = at[0]
			}
		}
		out[i] = m.tellsApart(m.in(s[from:to], language) &^ m.circumstance &^ m.measured)
	}
	return out
}

// tellsApart returns which part of the question's words some bits are, those taken over from
// earlier questions in full: these tell one clause from another as well.
func (m *matcher) tellsApart(bits uint64) float64 {
	sum, all := 0.0, 0.0
	for i, t := range m.terms {
		if t.Weight <= halfSoft {
			continue
		}
		all += t.IDF
		if bits&(1<<min(i, 63)) != 0 {
			sum += t.IDF
		}
	}
	return sum / max(all, 1)
}

// labelEnd is where the name of a row ends, whose numbers tell it from others; 0 for
// what is no row.
func labelEnd(s string) int { return max(0, strings.Index(s, " · ")) }

// withinWord tells whether a match begins in the middle of a word, as the
// number in "IEEE-754" does.
func withinWord(s string, at int) bool {
	r, _ := utf8.DecodeLastRuneInString(s[:at])
	return at > 0 && (unicode.IsLetter(r) || unicode.IsDigit(r))
}

// asked tells whether all that a part says stands in the question.
func asked(m *matcher, part string, language text.Language) bool {
	for _, t := range text.Tokens(part) {
		if m.in(part[t.Start:t.End], language) == 0 && !text.IsFunctionWord(t.Word, language) {
			return false
		}
	}
	return true
}

// isReference tells whether a number follows "section", "page" and the like.
func isReference(s string, at int) bool {
	before := strings.ToLower(strings.TrimRight(s[max(0, at-12):at], " "))
	for _, word := range []string{"section", "page", "table", "figure", "fig.", "chapter", "rule", "step", "zone", "no.", "appendix", "form"} {
		if strings.HasSuffix(before, word) {
			return true
		}
	}
	return at == 0 && len(s) > 2 && isNumbering(s)
}

// isNumbering tells whether a string begins with a number as a list item does.
func isNumbering(s string) bool {
	word, _, _ := strings.Cut(s, " ")
	return strings.HasSuffix(word, ".") || strings.HasSuffix(word, ")") || strings.Count(word, ".") > 0
}

// distance sums how far the question's words in a sentence are from a span,
// each counted at most ten words away.
func distance(tokens []text.Token, hits []bool, span []int) float64 {
	first, last := len(tokens), 0
	for i, t := range tokens {
		if t.End > span[0] && t.Start < span[1] {
			first, last = min(first, i), max(last, i)
		}
	}
	sum := 0.0
	for i, hit := range hits {
		if !hit || i >= first && i <= last {
			continue
		}
		d := float64(first - i)
		if i > last {
			d = 1.2 * float64(i-last)
		}
		sum += min(d, 10)
	}
	return sum
}

// bestCell handles rows of tables: the cell whose column name shares most with
// the question.
func bestCell(pattern, units *regexp.Regexp, m *matcher, s string, language text.Language) (string, bool) {
	cells := strings.Split(s, " · ")
	if len(cells) < 2 {
		return "", false
	}
	best, most := "", 0.0
	row := m.in(cells[0], language) // which tells the row from others, and no column
	for _, cell := range cells[1:] {
		name, value, named := strings.Cut(cell, ": ")
		if !named || value == "" {
			continue
		}
		bits, like := m.in(name, language), uint64(0)
		if m.asked != nil {
			like = m.marks(name, language).like &^ bits &^ m.carried &^ row
		}
		at := pattern.FindStringIndex(value)
		if at == nil && (bits == 0 || strings.ContainsAny(value, "0123456789") || len(strings.Fields(value)) > longestOffice || asked(m, value, language)) || at != nil && withinWord(value, at[0]) {
			continue // what is named for what is asked may say "not controlled"
		}
		// What was taken over from an earlier question decides where nothing else does.
		worth := m.worthOf(bits&^m.carried&^row) + m.worthOf(bits&^m.carried&row)/10 + m.worthOf(bits&m.carried)/1000 + alike*m.worthOf(like)/2 - m.worthOf(bits&m.counted&^m.carried)/2 // "how many tests failed" is for the column of failures
		if m.most != nil && m.most.MatchString(name) {
			worth += 0.02
		}
		if units != nil && carriesUnit(cell, units) {
			worth += 0.01 // decides where no name does
		}
		if at == nil {
			value = capital(value)
		}
		if worth > most {
			best, most = withUnit(name, value), worth
		}
	}
	return best, best != ""
}

var columnScale = regexp.MustCompile(`,?\s(in (?:hundreds|thousands|millions|billions)(?: of \pL+)?)$`)

var columnUnit = regexp.MustCompile(`(?:^|\s)(°C|°F|%|km/h|t|kg|g|km|m|cm|mm|l|ms|hours?|days?|[£€$]|m[²³]|[mµ]g/l|µS/cm)$`)

// withUnit adds to a bare number the unit that its column is headed by.
func withUnit(name, value string) string {
	m := columnUnit.FindStringSubmatch(name)
	if scale := columnScale.FindStringSubmatch(name); scale != nil {
		return value + " (" + scale[1] + ")"
	}
	if m == nil || strings.ContainsFunc(strings.TrimLeft(value, "-−"), func(r rune) bool { return !unicode.IsDigit(r) && r != '.' && r != ',' }) {
		return value
	}
	if strings.ContainsAny(m[1], "£€$") {
		return m[1] + value
	}
	return value + " " + m[1]
}

// worthOf sums the worth of the terms whose bits are set.
func (m *matcher) worthOf(bits uint64) float64 {
	sum := 0.0
	for t, worth := range m.worth {
		if bits&(1<<min(t, 63)) != 0 {
			sum += worth
		}
	}
	return sum
}
