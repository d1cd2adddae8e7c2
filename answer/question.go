package answer

import (
	"regexp"
	"slices"
	"strings"

	"jardinet/index"
	"jardinet/rank"
	"jardinet/text"
)

// A want is the kind of answer that a question asks for.
type want int

const (
	wantSentence want = iota
	wantQuantity
	wantDate
	wantPerson
	wantPlace
	wantYesNo
	wantSteps
	wantReason
	wantList
	wantValue // of a kind that can be told by its form: a colour, a telephone number
)

// A question as understood.
type question struct {
	standalone  string
	query       index.Query
	want        want
	language    text.Language
	units       *regexp.Regexp  // what a quantity is wanted in; nil for any
	named       *regexp.Regexp  // what has to stand beside such a quantity; nil for nothing
	value       *regexp.Regexp  // what a value looks like
	attribute   string          // "colour" in "what colour are …"; may be empty
	steps       bool            // it asks for steps by that name
	parts       bool            // several things are asked at once
	compare     bool            // two things are to be set side by side
	subject     []string        // stems of what it asks the nature of; may be empty
	code        bool            // it asks for something that is written like code
	howTo       bool            // it asks how something is done
	leave       bool            // it asks whether one may
	occasion    bool            // it asks on what occasion, which need not be a day
	identity    bool            // it asks who somebody is
	denied      string          // stem of what it says does not happen; may be empty
	frequency   bool            // it asks how often
	bounded     bool            // it asks how much something may or must be
	measure     *regexp.Regexp  // words that go with the quantity it asks for; may be nil
	condition   *regexp.Regexp  // how the answer is worded: "dry when", of "when is it dry"; may be nil
	tally       bool            // a number of people is asked for, who may be called anything
	counted     string          // stem of what "how many …" asks the number of; may be empty
	follows     bool            // it took words over from the questions before
	eitherWay   bool            // it may be meant by itself or lean on those before it
	said        map[string]bool // its own words, where it was written out; nil if it was not
	amounts     []amount        // that it names
	numbers     []string        // that name something: of a train, of a year
	names       bool            // it only names something, "and for volunteers?"
	kind        string          // of what thing it asks which one, "product"; empty where it does not
	recipient   string          // to whom something is said or given; empty where that is not asked
	whatIs      bool            // it asks what something is, and nothing of it
	inYear      map[string]bool // of these, the years in which something is asked to have been
	oppositions []opposition    // words of which a sentence may say the contrary
	stays       *regexp.Regexp  // the contrary of "stay in"; may be nil
	byVerb      bool            // the attribute is what is done
	superlative *superlative    // of which one thing it asks; may be nil
}

// wants are tried in order; the first that matches a clause of the folded
// question tells the kind.
var wants = []struct {
	pattern *regexp.Regexp
	want    want
}{
	{regexp.MustCompile(`^was (?:ist|sind|macht|machen|bedeutet|heisst|steht|kann|muss|soll|tut|passiert|geschieht)\b`), wantSentence},
	{regexp.MustCompile(`^(?:and |but |so )?(?:what if|how do (?:i|we|you|they|people|staff)|how (?:should|must|can|may|is|are|does) (?:\w+ )+|how to|(?:what|which) (?:are (?:the )?|is the )?(?:steps|procedure|sequence|order)|what (?:do|should|must) (?:i|we|you|staff|\w+) do|what (?:\w+ )?(?:work|tasks?|jobs?|checks?|duties) (?:is|are|must|should|have to|has to|needs? to)|what (?:is|comes) next|what then|what (?:must|should|has to|have to|needs to|is|is to|are) (?:be )?(?:done|checked)|what happens|what now|comment (?:faire|dois|peut)|wie (?:kann|wird|muss|soll))\b`), wantSteps},
	{regexp.MustCompile(`^(?:and |but |so )?(?:the |its |their )?(?:height|weight|length|width|depth|age|price|cost|temperature|size|area|speed|girth)\b|^(?:and |but |so )?what (?:do|does|did|must|will|would|is|was) (?:\w+ ){0,5}?(?:pay|paid|cost|weigh|earn|spend|spent|bring in|take in|raise)\b|\b(?:within (?:what|which) (?:time|period|interval)|how (?:many|much|long|often|far|high|deep|hot|cold|warm|fast|heavy|large|big|old|soon|wide|tall|thick|quickly|late|early|close|frequently|icy|chilly|cool|frosty|steep|loud|bright|dim|strong|damp|young|small|short|low|narrow|shallow|slow|busy|humid|moist|noisy|dark|hard|acid|acidic|alkaline|salty|dense|expensive|dear|costly|cheap)|(?:at|below|above|from|until|up to) (?:what|which) (?:heat|cold|age|load|wind)|what (?:\w+ ){0,4}?(?:heights|lengths|widths|depths|weights|prices|costs|temperatures|temperature|humidity|percentage|number|amount|price|cost|fee|fare|limit|speed|pressure|distance|weight|length|height|width|depth|rate|dose|concentration|level|maximum|minimum|capacity|size|total|value|volume|interval|ph|set point|setting|gradient|area|surface|diameter|thickness|girth|mass|range|age|duration|period|lifetime|lifespan|timeout|salary|wages?|income|expenditure|surplus|budget|voltage|rent|bonus|discount|turnover|revenue)|combien|quelle est la (?:temperature|duree|hauteur|distance)|quel (?:est le )?(?:prix|tarif|age|nombre)|wie (?:viel|viele|lange|oft|hoch|weit))\b`), wantQuantity},
	{regexp.MustCompile(`^(?:and |but |so |since |until |from |by |til )*when\b|\bwhen ` + auxiliary + `\b|\b(?:what (?:date|year|month|day|time)|which (?:date|year|month|day)s?|since when|quand|a quelle (?:heure|date)|quelle heure|wann|um wie viel)\b`), wantDate},
	{regexp.MustCompile(`^(?:and |but |so |to |by |from |for |with |of )*(?:who|whose|whom)\b|\bwho ` + auxiliary + `\b|\b(?:which (?:person|officer|manager|member)|qui|wer|wem|wen)\b`), wantPerson},
	{regexp.MustCompile(`^(?:and |but |so |from )*where\b|\bwhere ` + auxiliary + `\b|\b(?:in which (?:house|building|room|place|glasshouse|zone|cabinet|store)|ou (?:est|se|sont|puis|peut)|wo)\b`), wantPlace},
	{regexp.MustCompile(`\b(?:why|what is the reason|how come|pourquoi|warum|weshalb)\b`), wantReason},
	{regexp.MustCompile(`^(?:and |so |then |but )?(?:is|are|was|were|can|could|may|must|do|does|did|should|will|would|has|have|am|est ce que|peut on|puis je|darf|kann|muss|ist|sind)\b`), wantYesNo},
	{regexp.MustCompile(`\b(?:which|what (?:are|were)|list|name the|quels|quelles|welche)\b`), wantList},
}

// auxiliary follows a question word that asks, and not one that ties clauses
// together ("customers who pay", "when it rains").
const auxiliary = `(?:is|are|was|were|do|does|did|will|would|shall|should|must|may|can|could|has|have|had)`

// softWords say what is wanted rather than what it is about; a document that
// answers rarely holds them, so they count for little when it lacks them.
var softWords = words(`many much long often far high number amount name named call called kind type sort happen happens
	need needs needed allow allowed mean means please tell know find say says said state stated state give given
	exactly normally usually currently actually people person someone anyone thing things way ways different document
	documents content concentration near nearby beside close next step steps manual policy report according case want wants people soon quickly big old work used use
	somebody anybody nobody everybody everyone noone something anything nothing everything somewhere anywhere everywhere whoever whatever
	really just let lets keep back again once still instead together lot lots bit stuff okay ok fine try tries trying tried able
	folk folks guys reckon
	possible supposed quite rather simply maybe perhaps probably else already yet ever wonder wondering think thought believe suppose
	guess says told tells wanted explain describe details info question answer yourself myself oneself
	come came go went going gets got makes made bring get put make venir aller faire kommen gehen machen
	take takes took done whom now around along away lose help
	among amongst upon toward towards whole entire
	combien quel quelle quels quelles l d j qu n`)

// What a soft word counts for, and beside a single other one: "where do people
// gather" is not about whatever gathers.
const (
	softWeight = 0.25
	halfSoft   = 0.5
)

// owners are words by which people speak of the organisation whose documents these
// are: "how many volunteers does the Trust have".
var owners = regexp.MustCompile(`\b(?:the|our|this|your) (trust|company|organi[sz]ation|firm|institution|institute)\b`)

var firstOfAll = regexp.MustCompile(`\b(?:do|done|begin|start|comes?|happens?) (?:\w+ )?first\b`)

// recently matches a time that is told by when the question is asked: reports say which
// year it was.
var recently = regexp.MustCompile(`\b(?:last|past|previous|this|current) (?:year|season|month|spring|summer|autumn|winter|week)\b`)

// weighCarried has phrases of words that were all taken over from an earlier
// question, which widening made terms of, weigh no more than those words.
func weighCarried(terms, coined []index.Term) {
	for i := range coined {
		weight := 0.0
		for _, word := range strings.Fields(coined[i].Word) {
			if at := slices.IndexFunc(terms, func(t index.Term) bool { return t.Word == word }); at >= 0 && !softWords[word] {
				weight = max(weight, terms[at].Weight)
			}
		}
		if weight > 0 {
			coined[i].Weight = min(coined[i].Weight, max(weight, softWeight))
		}
	}
}

// soften has soft words count for little, unless there are no others.
func soften(q *index.Query, folded string) {
	owner := ""
	if m := owners.FindStringSubmatch(folded); m != nil {
		owner = m[1]
	}
	when := words(strings.Join(recently.FindAllString(folded, -1), " "))
	if firstOfAll.MatchString(folded) {
		when["first"] = true // of all that is done, and of nothing
	}
	soft := func(word string) bool { return softWords[word] || word == owner || when[word] }
	hard := 0
	for _, t := range q.Terms {
		if !soft(t.Word) && t.Weight > softWeight {
			hard++
		}
	}
	weight := softWeight
	switch hard {
	case 0:
		return
	case 1:
		weight = halfSoft
	}
	for i := range q.Terms {
		switch t := &q.Terms[i]; {
		case t.Word == owner:
			t.Weight = softWeight // whatever is said is said of it
		case soft(t.Word):
			t.Weight = weight
		}
	}
}

func words(s string) map[string]bool {
	out := map[string]bool{}
	for _, w := range strings.Fields(s) {
		out[w] = true
	}
	return out
}

// analyse works out what is asked. A follow-up takes over the words of the
// questions before it that it does not replace.
func (a *Asker) analyse(asked string, after []string) *question {
	whole, leans := a.written(asked, a.history(after))
	q := &question{follows: leans, names: len(after) > 0 && onlyNames(foldedQuestion(asked)), eitherWay: whole == "" && len(after) > 0 && mayStandAlone(asked)}
	if whole != "" {
		q.said, asked = wordSet(asked), whole
	}
	q.standalone = strings.TrimSpace(asked)
	q.query = a.Index.Parse(asked)                        // the index makes good what is misspelt
	if q.amounts = amountsOf(asked); len(q.amounts) > 0 { // "2,000 pounds" is £2,000, and about no pounds
		q.query.Terms = slices.DeleteFunc(q.query.Terms, func(t index.Term) bool { return currencies[t.Word] != "" })
	}
	q.measureAlone(foldedQuestion(asked))
	languages := a.Index.Languages()
	if len(languages) > 0 {
		q.language = text.Detect(asked, languages[0])
	}
	asked = respelt(asked, func(word string) bool { return a.Wording.Model.Find(word, q.language) >= 0 })
	folded := foldedQuestion(asked)
	q.wants(asked)
	q.lighten(asked, after)
	switch {
	case len(after) == 0 || whole != "" && !leans:
	case leans:
		a.carry(q, folded, after)
	default:
		a.carryOver(q, folded, after)
	}
	stemmer := text.NewStemmer(q.language)
	q.attribute, q.byVerb = attributeOf(folded)
	q.oppositions, q.stays = oppositionsOf(folded), staysOtherwise(folded)
	q.subject, q.howTo = subjectOf(folded, stemmer, q.language), howTo.MatchString(folded) && q.want != wantQuantity
	q.leave = asksLeave.MatchString(folded)
	q.identity = asksIdentity.MatchString(folded)
	q.denied = deniedOf(folded, stemmer, q.language)
	q.steps = asksSteps.MatchString(folded)
	q.superlative = superlativeOf(folded)
	q.numbers = namingNumbers(q.standalone, q.language)
	if to := receives.FindStringSubmatch(q.standalone); to != nil {
		q.recipient = to[1]
	}
	standalone := foldedQuestion(q.standalone)
	q.kind = kindOf(standalone)
	q.whatIs = len(q.subject) > 0 && asksWhatIs.MatchString(standalone)
	q.inYear = yearsIn(standalone)
	if q.superlative != nil && len(q.query.Terms) > 1 {
		for i := range q.query.Terms {
			if t := &q.query.Terms[i]; t.Word == q.superlative.word {
				t.Weight = softWeight // a heaviest one need not be called so
			}
		}
	}
	q.occasion = q.want == wantDate && asksOccasion.MatchString(folded)
	if q.occasion {
		q.condition = conditionOf(folded, q.language)
	}
	if asksPurpose.MatchString(folded) {
		q.condition = purpose
	}
	q.frequency = asksFrequency.MatchString(folded)
	q.code = asksCode.MatchString(folded)
	if q.want == wantQuantity {
		q.bounded = asksBound.MatchString(folded)
		if m := howAdjective.FindStringSubmatch(folded); m != nil {
			q.measure = measured[m[1]]
		}
	}
	if counted := countedOf(foldedQuestion(belonging.ReplaceAllString(asked, "$1")), q.language); counted != "" && q.units == nil {
		q.counted = stemmer.Stem(counted)
	}
	q.tally = q.units == nil && q.counted == "" && howManyPeople.MatchString(folded)
	q.parts = strings.Contains(folded, " and ") || strings.Contains(folded, " et ") || strings.Contains(folded, " und ")
	q.compare = strings.Contains(folded, "differ") || strings.Contains(folded, "compare") || strings.Contains(folded, "change") || strings.Contains(folded, "between")
	return q
}

var pointsAt = regexp.MustCompile(`\b(?:that|this|these|those) (\w+)`)

// lighten has what was put into a follow-up weigh as what is taken over, but for names,
// and what it only points at, "that post", little.
func (q *question) lighten(asked string, after []string) {
	if own := func(t index.Term) bool { return t.Weight == 1 && q.says(t.Word) && tells(t.Word) }; len(after) == 0 || !slices.ContainsFunc(q.query.Terms, own) {
		return
	}
	names := strings.ToLower(strings.Join(append(properNames(asked, q.language), rank.Literals(asked)...), " "))
	pointed := map[string]bool{}
	for _, m := range pointsAt.FindAllStringSubmatch(foldedQuestion(asked), -1) {
		pointed[m[1]] = true
	}
	for i := range q.query.Terms {
		switch t := &q.query.Terms[i]; {
		case pointed[t.Word] && len(q.query.Terms) > 1:
			t.Weight = min(t.Weight, softWeight)
		case !q.says(t.Word) && !strings.Contains(names, t.Word):
			t.Weight = min(t.Weight, carried)
		}
	}
}

// measureAlone has the adjective of "how long is it" stand for what the lexicon says
// of it, and not for itself: a long train does not tell how long it takes.
func (q *question) measureAlone(folded string) {
	m := howAdjective.FindStringSubmatch(folded)
	if m == nil || measured[m[1]] == nil || len(q.query.Terms) < 2 {
		return
	}
	for i := range q.query.Terms {
		if t := &q.query.Terms[i]; t.Word == m[1] {
			t.Word, t.Weight = "how "+m[1], softWeight
			t.Forms = []string{t.Word}
			return
		}
	}
}

// foldedQuestion returns the words of a question joined by single spaces.
func foldedQuestion(s string) string {
	var out []string
	for _, t := range text.Tokens(s) {
		out = append(out, t.Word)
	}
	return strings.Join(out, " ")
}

// wants sets what kind of answer a question asks for.
func (q *question) wants(asked string) {
	folded := foldedQuestion(asked)
	q.want, q.value = wantOf(asked), valueOf(folded)
	q.units, q.named = dimensionOf(folded)
	if q.value != nil && q.want != wantYesNo {
		q.want = wantValue
	}
}

// certain tells whether a sentence without the kind of thing that is wanted
// cannot be a whole answer.
func (w want) certain() bool {
	return w == wantQuantity || w == wantDate || w == wantPerson || w == wantValue
}

// several tells whether the items of a list are wanted together.
func (w want) several() bool { return w == wantSteps || w == wantList }

// specific tells whether more is known of what is wanted than its kind: the unit of
// a quantity, what is counted, or how a value looks.
func (q *question) specific() bool {
	return q.want == wantValue || q.picks() || q.want == wantQuantity && (q.units != nil || q.counted != "")
}

// clauseEnd is where a clause of a question may end.
var clauseEnd = regexp.MustCompile(`[,;:.?!–—]+(?:\s|$)`)

// wantOf returns the kind of answer that a question asks for, in the first of its
// clauses that asks at all.
func wantOf(question string) want {
	var clauses []string
	for _, clause := range clauseEnd.Split(question, -1) {
		if clause = foldedQuestion(clause); clause != "" {
			clauses = append(clauses, clause)
		}
	}
	for _, w := range wants {
		if slices.ContainsFunc(clauses, w.pattern.MatchString) {
			if w.want == wantYesNo && slices.ContainsFunc(clauses, func(c string) bool { return strings.Contains(c, " or ") }) {
				return wantSentence // it asks which of two
			}
			return w.want
		}
	}
	return wantSentence
}

// howMany matches what is counted, after adjectives at most.
var howMany = regexp.MustCompile(`^(?:and |but |so )?(?:(?:on|in|for|at|from|by|to|with|of|within|after|during|before|until|per) )?how many (?:(?:new|different|other|live|open|paying|school) )?(\w+)\b((?: \w+){0,3})`)

// belonging matches whose something is that is counted: "how many kids' classes".
var belonging = regexp.MustCompile(`\pL+s['’] (\pL+)`)

// countedOf returns the word for what "how many …" asks the number of, "bottles" in
// "how many gas bottles may"; "" if there is none.
func countedOf(folded string, language text.Language) string {
	m := howMany.FindStringSubmatch(folded)
	if m == nil {
		return ""
	}
	counted, rest := m[1], strings.Fields(m[2])
	if !several(counted) && len(rest) > 0 && several(rest[0]) && tells(rest[0]) {
		return rest[0] // "germination tests passed in"
	}
	for i, word := range rest {
		if text.IsFunctionWord(word, language) || tiesClauses.MatchString(word) {
			if i > 0 && !relations[word] {
				counted = rest[i-1]
			}
			break
		}
	}
	if uncounted[counted] {
		return ""
	}
	return counted
}

// several tells whether a word is written as more than one.
func several(word string) bool {
	return len(word) > 3 && strings.HasSuffix(word, "s") && !strings.HasSuffix(word, "ss") && !strings.HasSuffix(word, "us") && !strings.HasSuffix(word, "is")
}

// howManyPeople matches what asks for a number of somebody, who may be called anything.
var howManyPeople = regexp.MustCompile(`^(?:and |but |so )?how many (?:people|persons|folks?|of us|men|souls)\b`)

// uncounted are words that whatever is counted need not be called by: "each coach
// seats 16".
var uncounted = words("people persons folk folks things times of more others ones")

var attributes = []*regexp.Regexp{
	regexp.MustCompile(`^(?:what|which) (\w+) (?:is|are|was|were|does|do|did|has|have)\b`),
	regexp.MustCompile(`^what (?:is|are|was|were) the (?:\w+ )*?(\w+) (?:of|for|in|on|at|to)\b`),
	// What somebody does or did, and what is done.
	regexp.MustCompile(`^who (\w{4,}(?:s|ed|t))\b`),
	regexp.MustCompile(`^how (?:many|much) (?:\w+ ){1,3}?(?:was|were|is|are|has been|have been|had been|got|get) ` + done + `\b`),
	regexp.MustCompile(`^how (?:many|much) \w+ (\w{2,}[^e\W]ed)(?: (?:in|at|on|by|from|during|last|this|since) |$)`),
	regexp.MustCompile(`^(?:when|where) (?:was|were) (?:\w+ ){1,4}?` + done + `\b`),
}

// done matches participles.
const done = `(\w{2,}[^e\W]ed|\w+ilt|\w+ught|broken|written|drawn|shown|grown|sown|thrown|known|given|driven|taken|stolen|made|done|kept|held|told|sold|paid|lost|left|sent|hurt|born|worn|eaten|read|run|met|fed|shut|begun)`

var isDone = regexp.MustCompile(`^` + done + `$`)

// nouns are how many of the attributes are what something has, and not what is done.
const nouns = 2

// attributeOf returns the word for what is asked of something. Evidence that
// speaks of the thing and not of this is no answer.
func attributeOf(folded string) (word string, verb bool) {
	for i, pattern := range attributes {
		if m := pattern.FindStringSubmatch(folded); m != nil && !(i >= nouns && softWords[m[1]]) {
			return m[1], i >= nouns
		}
	}
	return "", false
}
