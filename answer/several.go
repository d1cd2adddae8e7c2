package answer

import (
	"context"
	"regexp"
	"slices"
	"strings"

	"jardinet/rank"
	"jardinet/text"
)

// A Part is one of several questions that were asked in one: a question by
// itself, a side of a comparison, or something that the question takes for granted.
type Part struct {
	Question   string `json:"question"`
	Premise    bool   `json:"premise,omitempty"` // taken for granted, and not asked
	State      State  `json:"state"`
	Short      string `json:"short"`
	Statements []int  `json:"statements"` // places among the answer's, from 0
	Trace      *Trace `json:"trace,omitempty"`

	after []string
}

const (
	questionWord = `(?:what|which|who|whom|whose|when|where|why|how|quels?|quelles?|qui|quand|où|pourquoi|comment|combien|was|welche[rsn]?|wer|wann|wo|warum|wie)`
	yearPattern  = `(?:19|20)\d{2}`
)

var (
	anotherQuestion = regexp.MustCompile(`(?i)(?:[,;]\s*|\s+)(?:and|but|or|et|und)\s+(?:also\s+|then\s+)?((?:(?:since|until|from|by|for|to|with|within|at|in|on|of|under|after|before)\s+)?` + questionWord + `\s+.*|(?:since\s+)?(?:when|why|where)$|(?:is|are|does|do|did|can|may|must|should|will)\s+(?:it|they|i|we|you|there|the|he|she|one|people|any\pL*|some\pL*)\s.*)$`)
	asksFirst       = regexp.MustCompile(`(?i)^(?:[\pL\s,]{0,30}[:,]\s+)?(?:(?:and|but|in|at|on|for|from|to|by|with|under|until|since)\s+)*` + questionWord + `\b|^(?:is|are|was|were|does|do|did|can|may|must|should|will|has|have)\b`)
	twoThings       = regexp.MustCompile(`(?i)^(?:what|which) (is|was|are|were) (the [^,;]+?) and ((?:of )?the [^,;]+|\p{Lu}[^,;]*)$`)
	samePlace       = regexp.MustCompile(`(?i)^(.*?)\b(in|at|on|for|during|under|from|after|before|with|without|to)\s+((?:the\s+|an?\s+)?[^,;?]+?)\s+(?:and|et|und)\s+(in|at|on|for|during|under|from|after|before|with|without|to)\s+([^,;?]+)$`)
	twoMeasures     = regexp.MustCompile(`(?i)^(how \w+(?: \pL+){0,2}?) and (how \w+(?: \pL+){0,2}?) (` + auxiliary + ` .+)$`)
	twoQualities    = regexp.MustCompile(`(?i)^(how) (\pL+) and (\pL+) ((?:is|are|was|were) .+)$`)
	commaAnother    = regexp.MustCompile(`(?i), (?:and|but) (?:(?:in|at|on|for|from|to|by|with|within|since) )?` + questionWord + `\b.* ` + auxiliary + `\b`)
	holdsAuxiliary  = regexp.MustCompile(`(?i)\b` + auxiliary + `\b`)
	twoYears        = regexp.MustCompile(`(?i)^(.*?)\b(?:in|from)\s+(?:the\s+)?(` + yearPattern + `)\s+(?:and|to)\s+(?:in\s+)?(?:the\s+)?(` + yearPattern + `)\b(.*)$`)
	betweenTwo      = regexp.MustCompile(`(?i)^(.*?)\bbetween\s+(?:the\s+)?(.+?)\s+and\s+(?:the\s+)?([^,;?]+)$`)
	comparing       = regexp.MustCompile(`(?i)\b(?:what (?:is|are|was|were) the differences?(?: (?:in|of))?|what differs|how (?:do|does|did|has|have)|differs?|differed|compares?d?|changed?|the differences?|compare)\b`)
	sentenceOf      = regexp.MustCompile(`[^.?!]+(?:[.?!]+|$)`)
	premised        = regexp.MustCompile(`(?i)^(?:(?:since|as|because)\s+(.+?\s` + auxiliary + `\s.+?)|(?:given|now|considering|assuming) that\s+(.+?)),\s+(.+)$`)
	yearAlone       = regexp.MustCompile(`^` + yearPattern + `$`)
)

// unmarked returns a question without the marks at its end.
func unmarked(question string) string { return strings.TrimRight(strings.TrimSpace(question), "?. ") }

// parts takes a question apart; nil if it is one.
func parts(question string) []Part {
	whole := unmarked(question)
	if m := premised.FindStringSubmatch(whole); m != nil && asksFirst.MatchString(m[3]) {
		return []Part{{Question: m[1] + m[2], Premise: true}, {Question: capital(m[3]) + "?", after: []string{m[1] + m[2]}}}
	}
	if c := contestOf(whole); c != nil {
		return c.parts()
	}
	if !commaAnother.MatchString(whole) {
		if sides := sidesOf(whole); sides != nil {
			return sides
		}
	}
	var out []Part
	sentences := sentenceOf.FindAllString(question, -1)
	if slices.ContainsFunc(sentences, func(s string) bool { return !strings.HasSuffix(strings.TrimSpace(s), "?") }) {
		sentences = []string{whole} // what is said beside the questions may be needed for them
	}
	for _, sentence := range sentences {
		out = append(out, clauses(strings.Trim(sentence, "? "), questionsOf(out))...)
	}
	if len(out) < 2 {
		return nil
	}
	return eachSide(out)
}

// eachSide takes apart those of several questions that ask the same of two things.
func eachSide(parts []Part) []Part {
	var out []Part
	for _, p := range parts {
		sides := sidesOf(strings.TrimRight(p.Question, "?"))
		for i := range sides {
			sides[i].after = p.after
		}
		if sides == nil {
			sides = []Part{p}
		}
		out = append(out, sides...)
	}
	return out
}

func questionsOf(parts []Part) []string {
	var out []string
	for _, p := range parts {
		out = append(out, p.Question)
	}
	return out
}

// clauses parts one sentence where a second question begins.
func clauses(sentence string, after []string) []Part {
	if !asksFirst.MatchString(sentence) {
		return []Part{{Question: capital(sentence) + "?", after: after}}
	}
	at := anotherQuestion.FindStringSubmatchIndex(sentence)
	if at != nil && opensPair.MatchString(sentence[:at[0]]) { // "between what was paid and what was owed"
		from := at[2]
		if at = anotherQuestion.FindStringSubmatchIndex(sentence[from:]); at != nil {
			for i := range at {
				at[i] += from
			}
		}
	}
	if at == nil || len(text.Tokens(sentence[:at[0]])) < 3 && !bareWord.MatchString(strings.ToLower(sentence[:at[0]])) {
		return []Part{{Question: capital(sentence) + "?", after: after}}
	}
	rest := likewise(sentence[:at[0]], sentence[at[2]:at[3]])
	opening := sentence[:at[0]]
	if verb := holdsAuxiliary.FindStringIndex(rest); verb != nil && withoutAny.MatchString(opening) {
		opening += " " + rest[verb[0]:] // "from which height and for how long may a ladder be used"
	}
	first := Part{Question: capital(opening) + "?", after: after}
	return append([]Part{first}, clauses(rest, append(slices.Clone(after), first.Question))...)
}

var opensPair = regexp.MustCompile(`(?i)\bbetween\b[^,;]*$`)

// withoutVerb matches a second question that leaves out what it shares with the first.
var withoutVerb = regexp.MustCompile(`(?i)^(?:` + questionWord + `) (for|against|in|on|at|from|with|under|to|about|of|into|as|after|before) ([^?]+)$`)

// withoutAny matches a question that has no verb.
var withoutAny = regexp.MustCompile(`(?i)^(?:(?:in|at|on|for|from|to|by|with|under|within) )?(?:(?:which|what|how many|how much) \pL+|how (?:long|far|often))$`)

// A second question may leave out what is counted, or of what one is chosen, or say "that
// of 2021" of something of another year.
var (
	countedAgain  = regexp.MustCompile(`(?i)^(how (?:many|much)) ((?:` + auxiliary + `)\b.*)$`)
	countsWhat    = regexp.MustCompile(`(?i)^(?:\pL+ )?how (?:many|much) (\pL+(?: \pL+)??) (?:` + auxiliary + `|of|in|at|on|came|\pL+ed)\b`)
	choosesAgain  = regexp.MustCompile(`(?i)^which ((?:is|are|was|were|has|have) .*)$`)
	choosesWhat   = regexp.MustCompile(`(?i)^which (\pL+(?: \pL+)??) (?:` + auxiliary + `)\b`)
	thatOf        = regexp.MustCompile(`(?i)^(?:` + questionWord + `)\b.*\b(?:that|the one|those) (?:of|in|from) (?:the )?(` + yearPattern + `)(?: \pL+)?$`)
	yearPatternOf = regexp.MustCompile(`\b` + yearPattern + `\b`)
)

// likewise completes a question by what the one before it says up to the same relation:
// "which product is used against slugs" and "which against mites".
func likewise(before, rest string) string {
	if m := thatOf.FindStringSubmatch(rest); m != nil && yearPatternOf.MatchString(before) {
		return yearPatternOf.ReplaceAllString(before, m[1]) // "and how many did that of 2021"
	}
	if m := countedAgain.FindStringSubmatch(rest); m != nil {
		if noun := countsWhat.FindStringSubmatch(before); noun != nil {
			return m[1] + " " + noun[1] + " " + m[2] // "and how many were lost"
		}
	}
	if m := choosesAgain.FindStringSubmatch(rest); m != nil {
		if noun := choosesWhat.FindStringSubmatch(before); noun != nil {
			return "which " + noun[1] + " " + m[1]
		}
	}
	m := withoutVerb.FindStringSubmatch(rest)
	if m == nil || holdsAuxiliary.MatchString(m[2]) {
		return rest
	}
	if at := strings.LastIndex(before, " "+m[1]+" "); at > 0 {
		return before[:at] + " " + m[1] + " " + m[2]
	}
	return rest
}

// sidesOf parts a question that asks the same of two things.
func sidesOf(whole string) []Part {
	if m := betweenTwo.FindStringSubmatch(whole); m != nil && comparing.MatchString(m[1]) {
		return comparison(m[1], m[2], m[3], "")
	}
	if m := twoYears.FindStringSubmatch(whole); m != nil {
		if comparing.MatchString(m[1]) {
			return comparison(m[1], m[2], m[3], m[4])
		}
		return []Part{{Question: m[1] + "in " + m[2] + m[4] + "?"}, {Question: m[1] + "in " + m[3] + m[4] + "?"}}
	}
	if m := twoMeasures.FindStringSubmatch(whole); m != nil && !holdsAuxiliary.MatchString(m[1]) {
		return []Part{{Question: m[1] + " " + m[3] + "?"}, {Question: capital(m[2]) + " " + m[3] + "?"}}
	}
	if m := twoQualities.FindStringSubmatch(whole); m != nil {
		return []Part{{Question: capital(m[1]) + " " + m[2] + " " + m[4] + "?"}, {Question: capital(m[1]) + " " + m[3] + " " + m[4] + "?"}}
	}
	if sides := thingsOf(whole); sides != nil {
		return sides
	}
	if sides := subjectsOf(whole); sides != nil {
		return sides
	}
	m := samePlace.FindStringSubmatch(whole)
	if m == nil || beginsAnother.MatchString(m[5]) || setPhrases[strings.ToLower(m[2]+" "+m[3])] || strings.EqualFold(m[2], "from") != strings.EqualFold(m[4], "from") || !asksFirst.MatchString(m[1]) || wantOf(whole) == wantSteps || wantOf(whole) == wantYesNo {
		return nil
	}
	first, second := m[3], m[5]
	// "in the first and in the second quarter"
	if words := strings.Fields(first); inOrder[strings.ToLower(words[len(words)-1])] {
		if of := strings.Fields(second); len(of) > 1 && inOrder[strings.ToLower(of[len(of)-2])] {
			first += " " + of[len(of)-1]
		}
	}
	// "at the end of September and at the end of December 2025"
	if y := years.FindString(second); y != "" && !years.MatchString(first) {
		first += " " + y
	}
	return []Part{{Question: m[1] + m[2] + " " + first + "?"}, {Question: m[1] + m[4] + " " + second + "?"}}
}

// thingsOf parts a question for two things: "the interest and the principal of the
// loan" are the interest of the loan, and its principal.
func thingsOf(whole string) []Part {
	m := twoThings.FindStringSubmatch(whole)
	if m == nil || wantOf(whole) == wantSteps || strings.Contains(strings.ToLower(m[2]), "difference") || beginsAnother.MatchString(m[3]) {
		return nil
	}
	is, first, second := "is", m[2], m[3]
	verb := strings.ToLower(m[1])
	if verb == "were" || verb == "was" {
		is = "was"
	}
	switch of, in := strings.Index(first, " of "), strings.Index(second, " of "); {
	case of > 0 && strings.HasPrefix(second, "of "):
		second = first[:of] + " " + second
	case in > 0 && of < 0:
		first += second[in:]
	case of > 0 && in < 0 && (strings.HasPrefix(second, "the ") || capitalised(second)):
		measure := first[:of]
		if verb == "are" || verb == "were" {
			measure = strings.TrimSuffix(measure, "s")
			first = measure + first[of:]
		}
		second = measure + " of " + second // "the heights of the Palm House and the Alpine House"
	}
	return []Part{{Question: "What " + is + " " + first + "?"}, {Question: "What " + is + " " + second + "?"}}
}

// twoSubjects matches "what do fault codes E2 and E5 mean" and "how fast may Tansy and
// Old Marchbank go".
var twoSubjects = regexp.MustCompile(`^((?i:(?:(?:in|at|on|for|from|to|by|with|under) )*` + questionWord + ` (?:\w+ ){0,4}?(?:do|does|did|is|are|was|were|may|can|must|should|has|have)) )((?:(?:the|an?) )?[\pL\d. -]+?) and ((?:(?:the|an?) )?(?:\pL+ \d[\d.]*|\p{Lu}[\pL\d.-]*(?: \p{Lu}[\pL\d.-]*)*|[\pL\d.-]+)) (.+)$`)

// beginsAnother matches what is no subject, but begins another question or says for what:
// "and what does it hold", "and for a child".
var beginsAnother = regexp.MustCompile(`^(?i:` + questionWord + `|` + auxiliary + `|since|for|in|at|on|from|to|by|with|under|until|after|then|also)\b`)

// mostWordsOfASubject is how many words one of two subjects has at most.
const mostWordsOfASubject = 4

// subjectsOf parts a question that asks the same of two subjects.
func subjectsOf(whole string) []Part {
	m := twoSubjects.FindStringSubmatch(whole)
	if m == nil || wantOf(whole) == wantSteps || wantOf(whole) == wantYesNo || strings.Contains(strings.ToLower(whole), "differ") {
		return nil
	}
	first, second, rest := strings.Fields(m[2]), strings.Fields(m[3]), strings.Fields(m[4])
	if len(first) > mostWordsOfASubject || relations[strings.ToLower(rest[0])] || beginsAnother.MatchString(m[3]) {
		return nil
	}
	last := first[len(first)-1]
	switch {
	case len(rest) > 1 && strings.EqualFold(rest[0], last):
		second, rest = append(second, rest[0]), rest[1:] // "woody plants and herbaceous plants"
	case len(second) == 1 && (rank.IsLiteral(second[0]) && rank.IsLiteral(last) || allDigits(second[0]) && allDigits(last)):
		second = append(slices.Clone(first[:len(first)-1]), second...) // "fault codes E2 and E5"
	}
	question := func(subject []string) Part {
		return Part{Question: m[1] + strings.Join(subject, " ") + " " + strings.Join(rest, " ") + "?"}
	}
	return []Part{question(first), question(second)}
}

func allDigits(s string) bool { return strings.Trim(s, "0123456789") == "" }

// editionFor matches an edition with what it is asked about: "2024 policy for exceptions".
var editionFor = regexp.MustCompile(`^(` + yearPattern + `) ((?:\pL+ )*?\pL+) (?:for|on|about|regarding|concerning|in) (.+)$`)

// comparison asks of each side what is asked of both.
func comparison(stem, a, b, tail string) []Part {
	subject := strings.Join(strings.Fields(comparing.ReplaceAllString(stem, " ")), " ")
	for _, lead := range []string{"What ", "what ", "in ", "of "} { // "what changed in the inspection"
		subject = strings.TrimPrefix(subject, lead)
	}
	about := func(t text.Token) bool { return !text.IsFunctionWord(t.Word, text.English) }
	if !slices.ContainsFunc(text.Tokens(subject), about) {
		if m := editionFor.FindStringSubmatch(b); m != nil && yearAlone.MatchString(a) {
			return []Part{{Question: capital(m[3]) + " in the " + a + " " + m[2] + "?"}, {Question: capital(m[3]) + " in the " + m[1] + " " + m[2] + "?"}}
		}
		return nil // "what changed between 2021 and 2024" is not about anything
	}
	if yearAlone.MatchString(a) { // "between the 2021 and the 2024 edition"
		a += strings.TrimPrefix(b, years.FindString(b))
	}
	question := func(side string) Part {
		return Part{Question: "What is " + subject + " in " + side + tail + "?"}
	}
	return []Part{question(a), question(b)}
}

// several answers a question part by part.
func (a *Asker) several(ctx context.Context, question string, all []Part, after []string) (*Answer, error) {
	out := blank(question)
	var passages [][]Candidate
	found := 0
	denied := false // what the question takes for granted
	for _, p := range all {
		if denied && leansOnPremise(p.Question) {
			found++
			out.unproven = true
			out.Parts = append(out.Parts, Part{Question: p.Question, State: NotFound, Statements: []int{}})
			continue // what follows from something that is not said is not said either
		}
		one, err := a.one(ctx, p.Question, append(slices.Clone(after), p.after...))
		if err != nil {
			return nil, err
		}
		if p.Premise {
			if p.State = Answered; one.State != NotFound && borne(p.Question, one) {
				continue // nobody needs to be told
			}
			if one.State = NotFound; contradicted(p.Question, one) {
				one.State = Partial
			}
			denied = true
			passages = append(passages, one.Passages)
		}
		out.take(&p, one)
		if !p.Premise {
			found++
			passages = append(passages, one.Passages)
		}
	}
	out.settle(found)
	out.Passages = interleave(passages)
	return out, nil
}

// leansOnPremise tells whether a question speaks of what was taken for granted: "how
// much does it take then".
func leansOnPremise(question string) bool {
	return slices.ContainsFunc(strings.Fields(foldedQuestion(question)), func(w string) bool { return pointing[w] || w == "then" })
}

// borne tells whether an answer says what a question takes for granted.
func borne(premise string, a *Answer) bool {
	return slices.ContainsFunc(a.Statements, func(s Statement) bool {
		ok, _ := grounded(premise, s.Text+" "+strings.Join(sectionOf(a, s), " "), text.Detect(premise, text.English), 1)
		return ok
	})
}

// contradicted tells whether an answer denies a premise that it speaks of.
func contradicted(premise string, a *Answer) bool {
	return slices.ContainsFunc(a.Statements, func(s Statement) bool {
		_, why := grounded(premise, s.Text+" "+strings.Join(sectionOf(a, s), " "), text.Detect(premise, text.English), 1)
		return why == polarity
	})
}

func sectionOf(a *Answer, s Statement) []string {
	for _, c := range a.Citations {
		if len(s.Citations) > 0 && c.Number == s.Citations[0] {
			return c.Section
		}
	}
	return nil
}

// take adds the answer to a part.
func (a *Answer) take(p *Part, one *Answer) {
	p.State, p.Short, p.Trace, p.Statements = one.State, one.Short, one.Trace, []int{}
	if p.Premise {
		p.Short = ""
	}
	if one.State != NotFound {
		for _, s := range one.Statements {
			p.Statements = append(p.Statements, a.add(s, one.Citations))
		}
	} else {
		a.Nearest = append(a.Nearest, one.Nearest...)
		if !p.Premise {
			a.Missing = append(a.Missing, one.Missing...)
		}
	}
	if a.Note == "" {
		a.Note = one.Note
	}
	if !p.Premise {
		a.Confidence += one.Confidence
	}
	a.Unknown = append(a.Unknown, one.Unknown...)
	a.Usage.Prompt += one.Usage.Prompt
	a.Usage.Completion += one.Usage.Completion
	a.Timing.add(one.Timing)
	a.Parts = append(a.Parts, *p)
}

// add adds a statement, unless it was said before, and returns its place.
func (a *Answer) add(s Statement, citations []Citation) int {
	if at := slices.IndexFunc(a.Statements, func(o Statement) bool { return o.Text == s.Text }); at >= 0 {
		return at
	}
	var numbers []int
	for _, n := range s.Citations {
		c := citations[n-1]
		c.Number = len(a.Citations) + 1
		a.Citations = append(a.Citations, c)
		numbers = append(numbers, c.Number)
	}
	s.Citations = numbers
	a.Statements = append(a.Statements, s)
	return len(a.Statements) - 1
}

// settle words the whole and says what became of it.
func (a *Answer) settle(questions int) {
	a.Confidence /= float64(max(1, questions))
	open := 0
	var lines, shorts []string
	said := map[int]bool{} // a row that answers two parts need not be read twice
	for _, p := range a.Parts {
		switch {
		case p.Premise && p.State == NotFound:
			lines = append(lines, "The documents do not say that "+p.Question+".")
		case p.Premise:
			lines = append(lines, "The documents do not say that "+p.Question+", but:")
		case p.State == NotFound:
			open++
			lines = append(lines, "The documents do not say: "+p.Question)
		case p.Short != "":
			shorts = append(shorts, p.Short)
			lines = append(lines, p.Question+" "+p.Short+".")
		}
		for _, i := range p.Statements {
			if !said[i] {
				lines = append(lines, a.Statements[i].Text)
			}
			said[i] = true
		}
	}
	a.Text = strings.Join(lines, "\n")
	switch {
	case open == questions:
		a.State = NotFound
	case open > 0 || slices.ContainsFunc(a.Parts, func(p Part) bool { return !p.Premise && p.State == Partial }):
		a.State = Partial
	default:
		a.State = Answered
	}
	if len(shorts) == questions {
		a.Short = strings.Join(shorts, "; ")
	}
	a.Nearest = a.Nearest[:min(len(a.Nearest), maxNearest)]
	if len(a.Parts) == 1 && a.State == Answered && a.Short != "" {
		a.Text = strings.Replace(a.Text, a.Parts[0].Question+" ", "", 1)
		a.Parts = nil // the premise holds: it was one question after all
	}
}

// interleave joins lists of passages, the best of each first, without naming one
// twice.
func interleave(lists [][]Candidate) []Candidate {
	type place struct {
		document string
		ordinal  int
	}
	seen := map[place]bool{}
	var out []Candidate
	for i := range depth {
		for _, l := range lists {
			if i < len(l) && !seen[place{l[i].DocumentID, l[i].Passage.Ordinal}] {
				seen[place{l[i].DocumentID, l[i].Passage.Ordinal}] = true
				out = append(out, l[i])
			}
		}
	}
	return out
}
