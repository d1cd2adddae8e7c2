package answer

import (
	"regexp"
	"slices"
	"strings"

	"jardinet/text"
)

// How a question is put often tells how its answer will be worded: "how long may
// it be" is answered by a bound, "how do I" by an instruction, "what is a …" by a
// sentence with that for its subject.

var (
	howTo     = regexp.MustCompile(`^(?:and |but |so |then )?(?:how (?:do|does|can|could|should|must|may|is|are|to)|what (?:do|must|should|can) (?:i|we|you|one)|(?:which|what) (?:command|option|key|button|menu|function|setting|switch|keyword|parameter))\b`)
	orders    = regexp.MustCompile(`(?i)^(?:\W|\d+[.)]\s)*(?:to \w+[^,]{0,80}, |(?:first|then|next|finally|simply|just|please|always|never|now),? )?(?:click|select|choose|press|use|type|run|set|open|enter|add|remove|delete|create|make|call|go|specify|put|take|turn|check|start|stop|change|copy|edit|install|write|give|pass|telephone|tell|ask|report|send|wear|wash|rinse|keep|close|apply|pull|push|hold|move|place|fill|read|drop|sign|do|don't)\b`)
	instructs = regexp.MustCompile(orders.String() + `|\byou (?:can|could|may|must|should|need to|have to|will)\b|\b(?:click|press|select|choose|type|enter|run|use) (?:on )?(?:the|this|an?)\b|→|\bby \w+ing\b|\busing\b|\bcommand\b`)

	asksBound = regexp.MustCompile(`\b(?:at most|at least|at the (?:most|least|latest)|maximum|minimum|most|least|limit|longest|shortest|highest|lowest|may|must|can|allowed|latest|earliest|within)\b`)
	bounds    = regexp.MustCompile(`(?i)\b(?:at (?:most|least|the latest)|(?:more|less|fewer|longer|shorter|later|earlier|higher|lower|older|younger|larger|smaller) than|up to|no (?:later|earlier)|maximum|minimum|limit(?:ed|s)?|between|within|exceed|or (?:more|less|fewer|older|younger)|until|must|has to|have to|max\.?|min\.?|höchstens|mindestens|au (?:plus|moins))\b|[≤≥]`)

	asksSteps = regexp.MustCompile(`\b(?:steps?|procedures?|sequence|what order)\b|^how (?:is|are) .+ (?:made|done|changed|tested|examined|carried out|performed|set up|installed|built|created)\b`)

	asksOccasion = regexp.MustCompile(`\bwhen (?:is|are|must|may|can|could|should|shall|do|does|will|would|has|have)\b`)
	occasions    = regexp.MustCompile(`(?i)\b(?:if|when|whenever|after|before|as soon as|once|until|unless|while|during|within|at the (?:beginning|start|end)|si|lorsque|quand|après|avant|wenn|sobald|nach|bevor)\b`)

	asksLeave = regexp.MustCompile(`^(?:and |but |so |then )?(?:may|can|could|am i (?:allowed|permitted|entitled)|are (?:we|they|you|visitors|staff) allowed|is (?:it|there) (?:ok|okay|all right|allowed|permitted|possible|any problem)|is \w+ allowed|do (?:i|we) (?:have|need) to|must i|must we|have i got to|will (?:i|they|you|we)|do i (?:get|lose|have))\b|\b(?:may|can) (?:i|we|one|they|you|she|he|it|anyone|anybody|somebody|someone|people|visitors|staff)\b`)
	rules     = regexp.MustCompile(`(?i)\b(?:never|not|no|nobody|none|nothing|may|must|only|allowed|permitted|permission|prohibited|forbidden|free|required|refused|entitled|unless|except|without|are (?:to be )?(?:taken|kept|worn|given|handed|switched|refused|paid))\b`)
)

// "Who is the press officer" is answered by a name, or by another office that is said
// to be the same.
var (
	asksIdentity = regexp.MustCompile(`^(?:and |but |so )?who (?:is|are|was|were) (?:the|our|your|its|their)\b`)
	identifies   = regexp.MustCompile(`(?i)\b(?:is|are|was|were|acts as|serves as|as)\b|:|·`)
)

// "What is it used for" is answered by what it is for.
var (
	asksPurpose = regexp.MustCompile(`^(?:and |but |so )?what (?:is|are|was|were|may|can|do|does|should|must) .+ (?:for|good)$`)
	purpose     = regexp.MustCompile(`(?i)\b(?:is|are|was|were|be|serves?|used|meant|there) (?:only |mainly |mostly )?(?:for|to)\b`)
)

// agent matches by whom something is done.
var agent = regexp.MustCompile(`\bby (?:(?:the|an?) )?\p{L}`)

// posted matches an office in a table's cell, which has no article.
var posted = regexp.MustCompile(`(?i)[:·] (?:\pL+ ){0,3}(?:manager|officer|director|keeper|driver|guard|supervisor|head|curator|staff|warden|signaller|trustees?|engineer|gardener|technician|chair|foreman|grower|secretary|treasurer|patrol|examiner|contractor|volunteers|administrator|estates)(?:$| (?:·|or|and|with|of) ?)`)

// persons are words for whoever is something, where no name and no office is said.
var persons = regexp.MustCompile(`(?i)\b(?:no ?one|nobody|every(?:one|body)|any(?:one|body)|some(?:one|body)|those|people|persons?|holders?|staff|members?|volunteers?|visitors?|children|users?|women|men) (?:who|whose|with|without|under|over|of|holding|that|aged)\b`)

// measured are words that say what a figure is the measure of, by the adjective
// that asks for it.
var measured = patterns(map[string]string{
	"long": `long|length|lasts?|takes?|within|for|duration|time`, "high": `high|height|tall|altitude|level`, "wide": `wide|width|across|diameter|gauge`,
	"deep": `deep|depth`, "tall": `tall|high|height`, "thick": `thick|thickness`, "heavy": `weigh(?:s|t|ing)?|heavy|mass`, "old": `old|age|aged|built|since`,
	"far": `far|distance|away|within|from`, "fast": `speed|fast|limit`, "hot": `temperature|hot|°C`, "cold": `temperature|cold|°C|fell`, "warm": `temperature|warm|°C`,
	"big": `area|size|big|large|covers?`, "large": `area|size|large|covers?|holds?`, "steep": `gradient|slope|steep`, "often": `every|times|a (?:day|week|month|year)|daily|weekly|monthly|yearly|annually|once|twice`,
	"soon": `within|after|before|immediately|at once`, "close": `within|from|distance|metres`, "loud": `dB|decibels?|noise`, "bright": `lux|magnitude|light`,
})

// patterns makes of each alternative of words what matches them whole.
func patterns(words map[string]string) map[string]*regexp.Regexp {
	out := map[string]*regexp.Regexp{}
	for key, alternatives := range words {
		out[key] = regexp.MustCompile(`(?i)(?:^|[^\pL])(?:` + alternatives + `)(?:$|[^\pL])`)
	}
	return out
}

// asksCode matches questions that a line of code or a formula may answer.
var asksCode = regexp.MustCompile(`^(?:and )?(?:(?:in |with |from |by |to )?(?:which|what) (?:\w+ ){0,2}?(?:commands?|syntax|options?|functions?|code|files?|variables?|settings?|parameters?|keywords?|lines?|formula|expression|keys?|directory)|what is the (?:\w+ ){0,2}?(?:syntax|form|format|command|path|formula|equation|address|url|call)|how (?:do|does|can|is|are|to))\b|\bexamples?\b`)

var howAdjective = regexp.MustCompile(`^(?:and |but |so )?how (\w+)`)

var (
	isWhat = regexp.MustCompile(`^(?:and )?what (?:is|are|was|were) (?:an? |the )?(.+?)(?: (?:of|in|for|on|at|to|from|with|by|called|used|that|which|when|if|made)\b.*)?$`)
	// "What is drawn if …" asks for what, not what that is.
	participle = regexp.MustCompile(`(?:ed|\b(?:drawn|shown|given|made|done|kept|held|written|taken|put|sent|sold|paid|meant|known|seen|left|lost|found|built|worn|eaten|said|told))$`)
	isWhatElse = regexp.MustCompile(`^(?:qu est ce (?:que|qu) (?:(?:le|la|les|l|un|une) )?|c est quoi (?:(?:le|la|les|l|un|une) )?|was (?:ist|sind|bedeutet|heißt) (?:(?:der|die|das|ein|eine) )?)(.+)$`)
	isHow      = regexp.MustCompile(`^(?:and )?how \w+ (?:is|are|was|were) (?:an? |the )?(.+?)(?: (?:of|in|for|on|at|to|from|with|by|when|if)\b.*)?$`)
	doWhat     = regexp.MustCompile(`^(?:and )?what (?:does|do|did) (?:an? |the )?(.+?)(?: (?:of|in|for|on|at|to|from|with|by)\b.*)? \w+$`)
	names      = regexp.MustCompile(`\b(?:called|known as|referred to as|termed|named)\b`)
	calls      = regexp.MustCompile(`\b(?:called|known as|referred to as|termed|named) (?:an? |the )?["'“‘(]?(?:[\pL\d-]+ )?$`)
	equates    = regexp.MustCompile(`^\W{0,3}(?:(?:also |often |usually |normally |simply )?(?:is|are|was|were|means?|refers?|denotes?|stands?|consists?|specif(?:y|ies)|sets?|defines?|describes?|est|sont|ist|sind)\b|[:–=·(]|- )`)
)

// What follows a subject that is defined, and one that does something.
var (
	defines = regexp.MustCompile(`^\W{0,3}(?:(?:also |often |usually |normally |simply )?(?:is|are|was|were) (?:simply |just |usually |often |also )?(?:an?|the|one|any|some|what|how|defined|used (?:to|for|by)|short for|made (?:up )?of)\b|means?\b|refers?\b|denotes?\b|stands? for\b|consists?\b|describes?\b|[:–—=]|- |est (?:un|une|le|la)\b|ist (?:ein|eine|der|die|das)\b)`)
	does    = regexp.MustCompile(`^\W{0,3}(?:(?:command|option|function|setting|button|parameter|keyword|variable|directive|flag|module|program) )?(?:also |then |simply )?(?:[a-z]{2,}s|can|will|may|lets) (?:an?|the|all|any|each|every|whether|how|to|it|its|this|that|which|you|if|no|only|two|one)\b`)
)

// circumstance matches what surrounds the thing that is asked for: "after the
// storm". A date beside it is not the one that is wanted.
var circumstance = regexp.MustCompile(`^(?:and )?(?:when|where|who) .+ (?:after|before|during|since|following) (.+)$`)

// asksWhatIs matches questions for what something is, and for nothing of it.
var asksWhatIs = regexp.MustCompile(`^(?:and |but |so )?(?:what (?:is|are) (?:an? )?(?:[\pL\d._-]+ ?){1,3}(?:in [\pL\d._-]+)?|what does (?:the )?(?:[\pL\d._-]+ ){1,3}do(?: in [\pL\d._-]+)?|qu est ce (?:que|qu) .+|was (?:ist|sind) .+)$`)

// saysWhatIs matches what follows a term in a sentence that is its definition and can be
// nothing else.
var saysWhatIs = regexp.MustCompile(`(?i)^\W{0,3}(?:\([^)]*\) )?(?:(?:is|are) (?:simply |just |basically |usually |essentially )?(?:an?|the|any|one of|defined as|short for)\b|stands? for\b|(?:est|sont) (?:un|une|le|la|les|des)\b|(?:ist|sind) (?:ein|eine|der|die|das)\b)`)

// isDefinition tells whether a sentence begins with all that a question asks the nature of,
// after an article at most, and goes on to say what that is.
func (m *matcher) isDefinition(q *question, s, title string, language text.Language) bool {
	if !q.whatIs {
		return false
	}
	if label, cells, row := strings.Cut(s, " · "); row {
		return m.defines(q, cells, title, language) || explains.MatchString(cells) && m.isSubject(q, label, language)
	}
	return m.defines(q, leadIn.ReplaceAllString(s, ""), title, language)
}

// leadIn matches what may stand before a definition, and explains a column of them.
var (
	leadIn   = regexp.MustCompile(`^(?:In (?:essence|short|general|other words|\p{Lu}\pL*),? |Basically,? |Note that )`)
	explains = regexp.MustCompile(`^(?:(?i:meaning|definition|explanation|what it (?:is|means)): |(?i:description): (?:An?|The|Any) )`)
)

// isSubject tells whether a text is what the question asks the nature of, and no more.
func (m *matcher) isSubject(q *question, s string, language text.Language) bool {
	stemmer := m.stemmerOf(language)
	return slices.EqualFunc(text.Tokens(s), q.subject, func(t text.Token, stem string) bool { return stemmer.Stem(t.Word) == stem })
}

// defines tells whether a sentence is a definition from its first word on; what the title
// of its document names may stand before the term, "a Kerberos principal is".
func (m *matcher) defines(q *question, s, title string, language text.Language) bool {
	stemmer := m.stemmerOf(language)
	tokens := text.Tokens(s)
	if len(tokens) > 0 && determiners[tokens[0].Word] {
		tokens = tokens[1:]
	}
	if len(tokens) > 1 && stemmer.Stem(tokens[0].Word) != q.subject[0] && slices.ContainsFunc(text.Tokens(title), func(t text.Token) bool { return t.Word == tokens[0].Word }) {
		tokens = tokens[1:]
	}
	for i, stem := range q.subject {
		if i >= len(tokens) || stemmer.Stem(tokens[i].Word) != stem {
			return false
		}
	}
	rest := s[tokens[len(q.subject)-1].End:]
	if tool[tokens[len(q.subject)-1].Word] && saysWhatDoes.MatchString(rest) {
		return true
	}
	return saysWhatIs.MatchString(rest) && !saysWhichOne.MatchString(rest)
}

// toDo matches how a sentence begins that tells how something is done: "To delete a policy,".
var toDo = regexp.MustCompile(`(?i)^(?:\W|\d+[.)]\s)*(?:(?:in order|if you (?:want|wish|need)) )?to (\pL[^,;:.]{2,80}), `)

// isRecipe tells whether a sentence begins by saying that it tells how to do all that a
// question asks, and nothing else; known are terms that stand in the headings.
func (m *matcher) isRecipe(q *question, s string, known uint64, language text.Language) bool {
	if !q.howTo || m.own == 0 {
		return false
	}
	clause := toDo.FindStringSubmatch(s)
	return clause != nil && m.saysJust(clause[1], known, language) != 0
}

// saysJust returns the terms of its own that a question has in a text, if these are all but
// known ones and the text says nothing else; 0 if not.
func (m *matcher) saysJust(s string, known uint64, language text.Language) uint64 {
	there := m.own & m.in(s, language)
	if m.own&^(there|known) != 0 || m.added(s, language) > 0 {
		return 0
	}
	return there
}

// headedBy tells whether a heading says what a question asks how to do, and no more:
// "Recording a Stock Split".
func (m *matcher) headedBy(q *question, heading string, known uint64, language text.Language) bool {
	if !q.howTo && q.want != wantSteps {
		return false
	}
	return m.saysJust(strings.TrimLeft(heading, "0123456789. "), known, language)&^known != 0
}

// tool has words for what does something, and saysWhatDoes matches what says so.
var (
	tool         = words("command option function button report tool driver program field key menu")
	saysWhatDoes = regexp.MustCompile(`^ (?:also |will )?[a-z]{3,}s? (?:or [a-z]{3,}s? |and [a-z]{3,}s? )?(?:an?|the|all|any|each|every|whether|how|to|you|previous|only) `)
)

// saysWhichOne matches what only sets a thing among others: "is the second of them".
var saysWhichOne = regexp.MustCompile(`(?i)^\W{0,3}(?:is|are) (?:simply |just |usually )?(?:an?|the) (?:first|second|third|next|last|same|only|most|main|best|important|common|good|bad|following)\b`)

var determiners = words("a an the le la les un une der die das ein eine")

// subjectOf returns the stems of what a question asks the nature of: "trading
// accounts" in "what are trading accounts".
func subjectOf(folded string, stemmer *text.Stemmer, language text.Language) []string {
	m := isWhat.FindStringSubmatch(folded)
	if m == nil || participle.MatchString(m[1]) {
		m = doWhat.FindStringSubmatch(folded)
	}
	for _, pattern := range []*regexp.Regexp{isHow, isWhatElse} {
		if m == nil {
			m = pattern.FindStringSubmatch(folded)
		}
	}
	if m == nil || participle.MatchString(m[1]) {
		return nil
	}
	var out []string
	for _, word := range strings.Fields(m[1]) {
		if !text.IsFunctionWord(word, language) {
			out = append(out, stemmer.Stem(word))
		}
	}
	return out
}

// denials are the words that deny what follows.
var denials = words("not never nobody cannot don doesn didn isn aren can't pas jamais nicht nie")

// deniedOf returns the stem of the first word of substance after a "not": "carry" in
// "what does the generator not carry".
func deniedOf(folded string, stemmer *text.Stemmer, language text.Language) string {
	after := false
	for _, word := range strings.Fields(folded) {
		switch {
		case denials[word]:
			after = true
		case after && !text.IsFunctionWord(word, language):
			return stemmer.Stem(word)
		}
	}
	return ""
}

// deniedWithin is within how many words a "not" denies something.
const deniedWithin = 4

// deniesIt tells whether a sentence denies the same.
func (m *matcher) deniesIt(stem, s string, language text.Language) bool {
	stemmer, since := m.stemmerOf(language), deniedWithin+1
	for _, t := range text.Tokens(s) {
		switch {
		case denials[t.Word] || t.Word == "no":
			since = 0
		case since <= deniedWithin && stemmer.Stem(t.Word) == stem:
			return true
		default:
			since++
		}
	}
	return false
}

// early is within how many words a sentence names its subject.
const early = 8

// conditionOf returns what a sentence says that answers "when is a sample dry":
// "dry when", "dry as soon as".
func conditionOf(folded string, language text.Language) *regexp.Regexp {
	words := strings.Fields(folded)
	last := words[len(words)-1]
	if len(words) < 3 || len(last) < 3 || text.IsFunctionWord(last, language) {
		return nil
	}
	return regexp.MustCompile(`(?i)\b` + regexp.QuoteMeta(last[:min(len(last), 5)]) + `\pL*\s+(?:only\s+)?(?:when|whenever|if|once|as soon as|unless|until|after|before)\b`)
}

// hasSubject tells whether the words that are asked about open a sentence, and
// what they are follows; and whether that says what they are, or do, by its form.
func (m *matcher) hasSubject(subject []string, s string, language text.Language) (says, defined bool) {
	if len(subject) == 0 {
		return false, false
	}
	stemmer := m.stemmerOf(language)
	var stems []string
	naming := names.MatchString(s)
	for i, t := range text.Tokens(s) {
		if i >= early && !naming {
			return false, false
		}
		stems = append(stems, stemmer.Stem(t.Word))
		if stems[i] != subject[len(subject)-1] {
			continue
		}
		if calls.MatchString(s[:t.Start]) {
			return true, true
		}
		rest := strings.TrimLeft(s[t.End:], `"'”’) `)
		defined := defines.MatchString(rest) || does.MatchString(rest) && !equates.MatchString(rest)
		if i >= early || !defined && !equates.MatchString(rest) {
			continue
		}
		if !slices.ContainsFunc(subject, func(word string) bool { return !slices.Contains(stems, word) }) {
			return true, defined
		}
	}
	return false, false
}
