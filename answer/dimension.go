package answer

import (
	"regexp"
	"slices"
	"strings"
)

// A dimension is what a quantity measures. "How long" may ask for a time or a
// length, so a question can want several.
type dimension struct {
	asked *regexp.Regexp // in the folded question
	units *regexp.Regexp // after a number, or in the name of a table's column
	// named has to stand in the sentence or its heading too, where the unit by
	// itself says little: not every sum is a salary.
	named *regexp.Regexp
}

const numeral = `(?:\d[\d,.]*[⁰¹²³⁴⁵⁶⁷⁸⁹⁻]*|\b` + numberWords + `)\s?(?:-|–|to|and|à|bis)?\s?(?:\d[\d,.]*)?[\s-]?(?:(?:working|calendar|full|whole|consecutive|more|further) )?`

// How often something is done is said by a number or by "every week".
var (
	asksFrequency = regexp.MustCompile(`\bhow (?:often|frequently|regularly)\b|\bwie oft\b|\bcombien de fois\b`)
	frequent      = regexp.MustCompile(`(?i)\b(?:every (?:second|other|third|fourth|fifth) (?:day|night|week|month|quarter|year|(?:Mon|Tues|Wednes|Thurs|Fri|Satur|Sun)day)|(?:first|second|third|fourth|last) \w+day (?:of|in) (?:the|each|every) (?:month|quarter|year)|(?:every|each) (?:\w+ ){0,2}?(?:seconds?|minutes?|hours?|days?|nights?|mornings?|evenings?|weeks?|fortnights?|months?|quarters?|seasons?|years?|(?:Mon|Tues|Wednes|Thurs|Fri|Satur|Sun)days?|January|February|March|April|May|June|July|August|September|October|November|December|time)|(?:once|twice|thrice|\w+ times)(?: (?:an?|per|each|every|in|the) (?:\w+ ){0,2}?(?:minute|hour|day|night|week|fortnight|month|quarter|season|year|decade)s?)?|hourly|daily|nightly|weekly|fortnightly|monthly|quarterly|yearly|annually|always|never|chaque \w+|tous les \w+|toutes les \w+|jede[nrsm]? \w+|täglich|wöchentlich|monatlich|jährlich)\b`)
)

// atOnce matches what says no number of times.
var atOnce = regexp.MustCompile(` at once\b`)

// areas are units of how large something is over the ground, which is what "how big"
// asks for where both are said.
var areas = unitsOf(`square (?:kilo|centi|milli)?met(?:re|er)s?|m²|km²|ha|hectares?|acres?`)

var asksSize = regexp.MustCompile(`\bhow (?:large|big)\b`)

// endless matches what lasts without an end, or through the night.
var endless = regexp.MustCompile(`(?i)\b(?:overnight|all day|for ?ever|for life|permanently|indefinitely|for good)\b`)

// isFrom matches what says of a year that something is as old as that.
const isFrom = `\b(?:built|made|founded|planted|born|established|erected|opened|constructed|begun|dates?|sown|bought|introduced|created|laid|published|issued|construit|gebaut|gegründet)\b`

// since matches the year from which something is.
var since = regexp.MustCompile(`(?i:` + isFrom + `)[^.;·]*?(` + anyYear.String() + `)`)

// dimensions are looked up in order; those of the first that is asked hold.
var dimensions = []dimension{
	{regexp.MustCompile(`\bhow many square (?:kilo)?met(?:re|er)s\b`), areas, nil},
	{regexp.MustCompile(`\bhow many cubic met(?:re|er)s\b`), unitsOf(`m³|cubic met(?:re|er)s?`), nil},
	{regexp.MustCompile(`\bhow many (?:kilo|centi|milli)?met(?:re|er)s\b`), unitsOf(`(?:kilo|centi|milli)?met(?:re|er)s?|k?m|[cm]m`), nil},
	{regexp.MustCompile(`\bhow many (?:kilos?|kilograms|grams|tonnes)\b`), unitsOf(`tonnes?|kilograms?|grams?|kg|g|t`), nil},
	{asksFrequency, orUnits(frequent.String(), `times|hours?|days?|weeks?|months?|years?|heures?|jours?|semaines?|mois|ans?|Stunden|Tage|Wochen|Monate|Jahre`), nil},
	{regexp.MustCompile(`\bhow (?:fast|quickly|promptly|rapidly) (?:\w+ ){1,4}?(?:reply|replies|respond|answer|come|arrive|react|tell|told|speak|report|reported|pay|paid|repair|repaired|fixed|call|deliver|delivered|start|begin|finish|finished|leave|get|inform|be there)\b`),
		unitsOf(`seconds?|minutes?|min|hours?|h|days?|weeks?|months?|years?`), nil},
	{regexp.MustCompile(`\bhow much (?:\w+ )?(?:leave|holiday|vacation|notice|warning|time)\b|\bhow (?:far|long) (?:ahead|beforehand|before|in advance)\b`), unitsOf(`seconds?|minutes?|hours?|days?|weeks?|months?|years?`), nil},
	{regexp.MustCompile(`\b(?:life ?time|lifespan|time ?out|expiry|validity)\b`), orUnits(endless.String(), `seconds?|minutes?|min|hours?|h|days?|weeks?|months?|years?|heures?|jours?|mois|ans?|Stunden|Tage|Minuten|Jahre`), nil},
	{regexp.MustCompile(`\b(?:area|surface)\b`), areas, nil},
	{regexp.MustCompile(`\bhow much (?:do|does|did) (?:\w+ ){1,5}?measure\b`), unitsOf(`(?:square |cubic )?(?:kilo|centi|milli)?met(?:re|er)s?|m[²³]?|km²?|cm|mm|ha|hectares?|acres?|by`), nil},
	{asksSize, unitsOf(`(?:square|cubic) (?:kilo|centi|milli)?met(?:re|er)s?|m[²³]|km²|ha|hectares?|acres?|litres?|liters?|gallons?|met(?:re|er)s?|kilomet(?:re|er)s?|km|m|cm|mm|inch(?:es)?|[kMGT]i?B|(?:kilo|mega|giga)?bytes?|bits?|pages?|characters?|entries`), nil},
	{regexp.MustCompile(`\b(?:how old|age|quel age|wie alt)\b`),
		orUnits(`(?i:`+isFrom+`[^.;·]*?)`+anyYear.String()+`|(?i:\bat least \d{1,2}\b)`, `hours?|days?|weeks?|months?|years?|years? old|jours?|semaines?|mois|ans?|Tage|Wochen|Monate|Jahre`), nil},
	{regexp.MustCompile(`\bhow (?:loud|noisy)\b`), unitsOf(`dB(?:\(A\))?|decibels?`), nil},
	{regexp.MustCompile(`\bhow (?:bright|dim|dark)\b`), unitsOf(`lux|lumens?|lm|watts?|W`), nil},
	{regexp.MustCompile(`\bhow (?:steep)\b`), regexp.MustCompile(`\b1 in \d+\b|\d\s?(?:%|‰|per ?cent|degrees?|°)`), nil},
	{regexp.MustCompile(`\b(?:how (?:hot|cold|warm|icy|chilly|cool|frosty)|temperatures?|(?:what|which) (?:heat|cold)|(?:boiling|melting|freezing|flash) point|night minimum|set point|alarm of|temperatur)\b`), unitsOf(`°\s?[CF]?|degrees?`), nil},
	{regexp.MustCompile(`\b(?:for how long|how long (?:\w+ ){1,8}?(?:closed|shut|open|out of (?:use|order|service)|stay|stays|stayed|wait|waits|waited|last|lasts|lasted|take|takes|took|keep|keeps|kept|stored|store|valid|before|until|till|after|work|worked|run|ran|live|survive|serve|settle|idle|rinse|rinsed|flushed|dipped))\b`),
		orUnits(endless.String(), `seconds?|minutes?|min|hours?|h|days?|weeks?|months?|years?|nights?`), nil},
	{regexp.MustCompile(`\b(?:how (?:long|soon|quickly|late|early)|within (?:what|which) (?:time|period|interval)|duration|combien de temps|wie lange)\b`),
		orUnits(endless.String(), `seconds?|minutes?|min|hours?|h|days?|weeks?|months?|years?|nights?|years? old|heures?|jours?|semaines?|mois|ans?|kilomet(?:re|er)s?|met(?:re|er)s?|km|m|mm|millimet(?:re|er)s?|characters?|letters?|words?|pages?|lines?|digits?`), nil},
	{regexp.MustCompile(`\b(?:how (?:far|high|deep|wide|tall|thick|close)|distances?|heights?|depths?|widths?|lengths?)\b`),
		unitsOf(`kilomet(?:re|er)s?|millimet(?:re|er)s?|centimet(?:re|er)s?|met(?:re|er)s?|km|cm|mm|m|miles?`), nil},
	{regexp.MustCompile(`\b(?:how heavy|weigh|weights?|mass)\b`), unitsOf(`tonnes?|kilograms?|grams?|kg|g|t|mg`), nil},
	{regexp.MustCompile(`\b(?:how fast|speeds?|(?:what|which) wind)\b`), orUnits(`(?i:\bhalved\b|\bhalf (?:the )?speed\b|\bwalking (?:pace|speed)\b)`, `km/h|mph|m/s`), nil},
	{regexp.MustCompile(`\bdiscount\b`), regexp.MustCompile(`%|per ?cent|[£€$]|\bhalf\b|\bfree\b`), nil},
	{regexp.MustCompile(`\b(?:what|how much) (?:is|are|was|were) (?:the |a |an |our |my )(?:\w+ )?(?:rent|fine|bonus|deposit|penalty|grant|fee|charge|budget|donation|gift|legacy)\b`), regexp.MustCompile(`[£€$]|\bpence\b|\bfree\b|\beuros?\b|\bpounds?\b`), nil},
	{regexp.MustCompile(`\bwhat (?:share|part|fraction)\b|\b(?:pay|pays|paid|put|puts) into\b`), regexp.MustCompile(`%|per ?cent|[£€$]|\b(?:half|third|quarter)\b|\d in \d`), nil},
	{regexp.MustCompile(`\b(?:salary|salaries|wages?|earns?|earnings|paid (?:a|per) (?:month|year|hour)|salaire|gehalt|lohn)\b`),
		regexp.MustCompile(`[£€$]|\beuros?\b|\bpounds?\b`), regexp.MustCompile(`(?i)\b(?:salar(?:y|ies)|wages?|pay|paid|earns?|earnings|remunerat\pL+|stipends?|salaire|gehalt|lohn)\b`)},
	{regexp.MustCompile(`\b(?:what|how much) (?:do|does|did) .*\b(?:spend|spent|earn|earned|bring in|take in|raise)\b|\bwhat (?:is|was|were|are) (?:the |our |your |its )?(?:\w+ )?(?:income|expenditure|surplus|deficit|budget|revenues?|turnover|takings)\b`),
		regexp.MustCompile(`[£€$]|\beuros?\b|\bpounds?\b`), nil},
	{regexp.MustCompile(`\b(?:how (?:expensive|dear|costly|cheap)|price|cost|costs|fee|fare|fares|pay|paid|how much (?:is|are|does|do) (?:a|an|the|one) (?:\w+ ){0,3}?(?:tickets?|entry|card|pass|tour|ride|fare|membership|parking)|prix|tarif|coute)\b`),
		regexp.MustCompile(`[£€$]|\bpence\b|\bfree\b|\bnot sold\b|\bno charge\b|\bwithout charge\b|\beuros?\b|\bpounds?\b|\bgratuit`), nil},
	{regexp.MustCompile(`\b(?:pressure)\b`), unitsOf(`bar|k?Pa|psi|mbar`), nil},
	{regexp.MustCompile(`\b(?:percentage|per cent|percent|proportion|humidity|how (?:humid|damp|moist))\b`), regexp.MustCompile(`%|per ?cent`), nil},
	{regexp.MustCompile(`\b(?:volume|how many litres|(?:capacity|size) of (?:the |a |her |its )?(?:\w+ )?(?:tank|drum|can|dewar|bottle|pool|pond|lake)s?|how much (?:\w+ )?(?:water|fuel|oil|diesel|petrol|liquid|rain))\b`), regexp.MustCompile(`(?i)\d\s?(?:litres?|liters?|l\b|m³|cubic|ml)|\bm³|\blitres\b`), nil},
}

// clockTime matches a time of day.
const clockTime = `(?i)\b\d{1,2}[:h]\d{2}\b|\b\d{1,2}(?:\.\d{2})?\s?(?:am|pm|a\.m\.|p\.m\.|o['’]clock|heures?|Uhr|h)(?:$|[^\pL])|\b(?:noon|midday|midnight|sunrise|sunset|dawn|dusk|midi|minuit|Mittag|Mitternacht)\b`

// happened matches a day, a month of a year, a year or a time of day; happenedIn a sentence
// that says of a month that something happened in it.
var (
	happened   = regexp.MustCompile(`(?i)\bfrom \d{1,2} to \d{1,2} ` + month + `(?:\s+\d{4}\b)?|\b\d{1,2}(?:st|nd|rd|th)?\s+(?:of\s+)?` + month + `(?:\s+\d{4}\b)?|\b` + month + `\s+(?:\d{1,2}\b(?:,?\s+\d{4}\b)?|\d{4}\b)|\b(?:1[5-9]|20)\d{2}\b|` + clockTime)
	happenedIn = regexp.MustCompile(`(?i)\b(?:was|were)\b[^.;·]*\b(?:in|during) ` + month + `\b`)
)

// values are kinds of answers that can be told by their form, in the same way.
var values = []dimension{
	{regexp.MustCompile(`\b(?:what|which) (?:colou?rs?|shades?)\b|\bcolou?rs? (?:is|are|was|were|has|have|does|do|of)\b|\bde quelle couleur\b|\bwelche farben?\b`),
		regexp.MustCompile(`(?i)\b(?:red|orange|yellow|green|blue|violet|purple|pink|brown|black|white|gr[ae]y|golden|gold|silver|cream|crimson|scarlet|maroon|navy|turquoise|rouge|jaune|vert|verte|bleue?|noire?|blanc|blanche|gris|rot|gelb|grün|blau|schwarz|weiß)\b`), nil},
	{regexp.MustCompile(`\b(?:(?:tele)?phone|extension|fax|mobile|emergency) numbers?\b|\b(?:which|what) (?:number|extension)\b.*\b(?:call|ring|dial|phone)\b|\bnumero de telephone\b|\btelefonnummer\b`),
		regexp.MustCompile(`(?i)\b(?:ext(?:ension)?s?\.?|poste|durchwahl|dial|call|ring|tel\.?|phone)\s?\d{3,}\b|\+\d[\d ()-]{5,}\d|\b0\d{2,5}[ -/]\d[\d -]{2,}\d\b|\b\d{3}\b`), nil},
	{regexp.MustCompile(`\b(?:what|which|in what|in which) months?\b|\bquel mois\b|\bwelche[mrn]? monat\b`), regexp.MustCompile(`(?i)\b` + month + `\b`), nil},
	{regexp.MustCompile(`\b(?:what|which) years?\b|\bquelle annee\b|\bwelche[sm]? jahr\b`), anyYear, nil},
	{regexp.MustCompile(`(?:^(?:and |or |but |so )?|\b(?:at|by|until|till|from|since|about|around|before|after) )(?:what|which) (?:time|hour)s?\b|\b(?:quelle heure|wie viel uhr)\b`), regexp.MustCompile(clockTime), nil},
	// What has happened did so on a day, and not just some April.
	{regexp.MustCompile(`\b(?:when|what date|which date|what day|which day) (?:did|was|were|had)\b`), happened, nil},
	{regexp.MustCompile(`\bwhat\b.*\bmade (?:of|from|out of)\b|\b(?:what|which) material\b`),
		regexp.MustCompile(`(?i)\b(?:made|built|woven|consists?|composed|wood(?:en)?|timber|bamboo|steel|iron|metal|copper|brass|bronze|alumini?um|zinc|tin|stone|granite|limestone|marble|slate|sand|gravel|bricks?|concrete|cement|clay|glass|plastics?|polythene|rubber|foil|paper|card(?:board)?|cotton|wool|linen|hessian|silk|leather|nylon|canvas|felt|fibres?|fibreglass|wax|peat|bark|straw|ceramics?|porcelain|rope|wire|mesh)\b`), nil},
	{regexp.MustCompile(`\b(?:what|which) (?:(?:tcp|udp|network) )?ports? (?:number |is|are|does|do|must|should|can)|\bwhat is the (?:\w+ ){0,3}port\b`), regexp.MustCompile(`(?i)\bports?\b[^.;]{0,40}?\b\d{2,5}\b|\b\d{2,5}/(?:tcp|udp)\b|\b\d{2,5}\b`), nil},
	{regexp.MustCompile(`\b(?:e ?mail|mail) address(?:es)?\b|\badresse (?:e ?mail|electronique)\b`), regexp.MustCompile(`[\pL\d._-]+@[\pL\d.-]+\pL`), nil},
	{regexp.MustCompile(`\b(?:web ?site|web ?page|url|web address)\b`), regexp.MustCompile(`(?i)\bhttps?://\S+|\bwww\.\S+|\b[\pL\d-]+\.(?:org|com|net|edu|example|test)\b\S*`), nil},
}

// valueOf returns what the value that a question asks for looks like, nil if any
// text will do.
func valueOf(folded string) *regexp.Regexp {
	for _, v := range values {
		if v.asked.MatchString(folded) {
			return v.units
		}
	}
	return nil
}

func unitsOf(alternatives string) *regexp.Regexp {
	return orUnits("", alternatives)
}

// orUnits makes a pattern of units after a number, or of what says as much without one.
func orUnits(free, alternatives string) *regexp.Regexp {
	return leading(free, `(?i:`+numeral+`(?:`+alternatives+`)(?:$|[^\pL/²³]))`)
}

// dimensionOf returns the units that a question about a quantity wants, nil if
// any number will do.
func dimensionOf(folded string) (units, named *regexp.Regexp) {
	for _, d := range dimensions {
		if d.asked.MatchString(folded) {
			return d.units, d.named
		}
	}
	return nil, nil
}

var numberWord = regexp.MustCompile(`^(?:` + numberWords + `)$`)

// single matches the words that are articles as often as numbers.
var single = regexp.MustCompile(`(?i)^(?:one|un|une)$`)

// year matches numbers that name a year rather than count something.
var year = regexp.MustCompile(`^(?:1[89]|20)\d{2}$`)

// measures tells whether a statement holds a quantity of the wanted dimension.
// The number of a list item, a year and a reference do not count.
func measures(s string, units *regexp.Regexp) bool {
	pattern := units
	if units == nil {
		pattern = quantity
	}
	one, ok := byNumber[pattern]
	if !ok {
		one.free = pattern
	}
	if one.free != nil && slices.ContainsFunc(one.free.FindAllStringIndex(s, -1), func(at []int) bool { return !recurring.MatchString(s[:at[0]]) }) {
		return true
	}
	if one.at != nil {
		for from, to := range numbersIn(s, one.at) {
			if units != nil && !recurring.MatchString(s[:from]) && !difference.MatchString(s[max(from, to-1):]) || units == nil && isAmount(s, from, to) {
				return true
			}
		}
	}
	return units != nil && inColumn(s, units)
}

// isAmount tells whether a number is one of something: a year, a reference and an article
// are not.
func isAmount(s string, from, to int) bool {
	part := strings.TrimRight(s[from:to], " ,.")
	return !year.MatchString(part) && !single.MatchString(part) && !isReference(s, from)
}

// difference matches what stands after a figure that tells how much more something is, and
// not how much: "four degrees lower".
var difference = regexp.MustCompile(`^\W{0,2}(?:more|less|lower|higher|warmer|cooler|colder|hotter|earlier|later)\b`)

// recurring matches what stands before a time that tells how often and not how long.
var recurring = regexp.MustCompile(`(?i)\bevery\s*$`)

// inColumn looks for the unit in the name of a table's column, where it stands
// once for all rows: "Weight t: 7.5".
func inColumn(s string, units *regexp.Regexp) bool {
	for _, cell := range strings.Split(s, " · ") {
		if carriesUnit(cell, units) {
			return true
		}
	}
	return false
}

func carriesUnit(cell string, units *regexp.Regexp) bool {
	name, value, ok := strings.Cut(cell, ": ")
	if !ok || !strings.ContainsAny(value, "0123456789") {
		return false
	}
	if units.MatchString(value) {
		return true
	}
	words := strings.Fields(name)
	if len(words) == 0 {
		return false
	}
	return units.MatchString("1 " + words[len(words)-1])
}
