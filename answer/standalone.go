package answer

import (
	"context"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"jardinet/text"
)

// Most follow-ups can be written out, so that they say by themselves what they mean:
// "and E2?" after "what does fault code E4 mean?" is "what does fault code E2 mean?",
// "what is her extension?" after "who is Ada Lane?" is "what is the extension of Ada
// Lane?".
// Where that cannot be told in plain words, the follow-up takes the words over (see
// followup.go).

var (
	connectives = regexp.MustCompile(`(?i)^(?:(?:and|but|or|so|then|also)[ ,]+)*(?:what about|how about)?\s*`)
	bareWord    = regexp.MustCompile(`^(?:(?:for|by|from|to|with|at|in|since|until|under|on) )?(?:what|which|who|whom|when|where|why|how(?: (?:often|long|soon|far|high|big|fast|deep|wide|heavy|old|hot|cold))?)$`)
	asksWord    = regexp.MustCompile(`^(?:what|which|who|whom|whose|when|where|why|how)$`)
	helper      = regexp.MustCompile(`^` + auxiliary + `$`)
	articles    = words("the a an")
	owned       = words("the a an my our your this that")
	personal    = words("i we you one somebody someone people")
	expletive   = regexp.MustCompile(`\bit (?:rains?|snows?|freezes)\b|\b(?:does|did|will|would) it take\b|\b(?:is|was) it (?:\w+ )?(?:allowed|possible|permitted|forbidden|ok|true|necessary|worth|safe|better|best)\b`)
	thereIs     = regexp.MustCompile(`\b(?:is|are|was|were|will|may|can|must|should) there\b|\bthere (?:is|are|was|were|be)\b`)
	relatively  = words("in into on at inside under")
)

// tiesIn are words that begin a condition, and not what something is done to.
var tiesIn = words("if when while because unless until since that which who as than")

// longestMemory is how many questions back a follow-up reaches at most.
const longestMemory = 8

// history returns a conversation with each question written out.
func (a *Asker) history(after []string) []earlier {
	var said []earlier
	for _, q := range after[max(0, len(after)-longestMemory):] {
		whole, leans := a.written(q, said)
		if whole == "" {
			whole, leans = q, len(said) > 0 && a.refersBackAt(q) && !mayStandAlone(q)
		}
		said = append(said, earlier{phraseOf(whole), leans})
	}
	return said
}

// written returns what a question says after others that are written out, and whether it
// may lean on them beyond the words that were put in; "" if it cannot be told.
func (a *Asker) written(asked string, said []earlier) (question string, leans bool) {
	if len(said) == 0 {
		return "", false
	}
	asked, relative := inYear(asked, said)
	lead := connectives.FindString(asked)
	now, last := phraseOf(asked[len(lead):]), said[len(said)-1]
	if n := now.len(); n > 1 && (now.folded[n-1] == "too" || now.folded[n-1] == "also") {
		now = now.slice(0, n-1)
	}
	if now.len() == 0 {
		return "", false
	}
	if whole := a.sameOf(last.phrase, now); whole != "" {
		return whole, last.leans
	}
	asks := slices.ContainsFunc(now.folded, asksWord.MatchString)
	helps := slices.ContainsFunc(now.folded, helper.MatchString)
	switch {
	case countsDone.MatchString(strings.Join(now.folded, " ")) && countsWhat.MatchString(last.String()):
		return countedDone(last.phrase, now), last.leans
	case bareWord.MatchString(strings.Join(now.folded, " ")):
		return insteadOfWord(last.phrase, now), last.leans
	case whichOnes.MatchString(strings.Join(now.folded, " ")):
		return asWhich(last.phrase), last.leans
	case !asks && !helps:
		if lead == "" && !edges[now.folded[0]] || tiesIn[now.folded[0]] {
			return "", false
		}
		for i := len(said) - 1; i >= 0; i-- {
			if whole := a.elliptic(said[i].phrase, now, i == len(said)-1); whole != "" {
				return whole, said[i].leans
			}
		}
		return "", false
	case countedAgain.MatchString(now.String()) && countsWhat.MatchString(last.String()):
		return likewise(last.String(), now.String()) + "?", true
	case !helps:
		if at := sameQuestionWord(last.phrase, now); at > 0 {
			if whole := a.elliptic(last.phrase, now.slice(at, now.len()), true); whole != "" {
				return whole, last.leans
			}
		}
		if question, leans = fragment(now, said); question == "" && relative {
			return now.question(), true
		}
		return question, leans
	}
	if question := sameDeed(last.phrase, now); question != "" {
		return question, last.leans
	}
	question, leans = resolved(now, said)
	if question == "" && relative {
		return now.question(), true
	}
	return question, leans
}

// A follow-up may ask the same of something else, "what is it for the Alpine House?", or of
// another sum, "what if it is over £25,000?".
var (
	asksSame  = regexp.MustCompile(`^(?:what|how \w+) (?:is|are|was|were) (?:it|that|they|those) (?:like )?(?:for|in|at|of|with|on) `)
	ifItIsSum = regexp.MustCompile(`^(?:what )?if (?:it|that|they) (?:is|are|was|were|costs?|comes? to|amounts? to) `)
)

// sameOf asks in full what such a follow-up does; "" for others.
func (a *Asker) sameOf(before, now phrase) string {
	whole := strings.Join(now.folded, " ") + " "
	if lead := asksSame.FindString(whole); lead != "" {
		return a.elliptic(before, now.slice(len(strings.Fields(lead))-1, now.len()), true)
	}
	if lead := ifItIsSum.FindString(whole); lead != "" {
		if from, to, by, ok := sameAmount(before, now.slice(len(strings.Fields(lead)), now.len())); ok {
			return before.with(from, to, by).question()
		}
	}
	return ""
}

var (
	yearBefore = regexp.MustCompile(`(?i)\b(?:in )?(?:the (?:year before|previous year)|a year earlier)\b`)
	yearAfter  = regexp.MustCompile(`(?i)\b(?:in )?(?:the (?:year after|following year|next year)|a year later)\b`)
)

// inYear says of "the year before" which one that is, after the last year spoken of.
func inYear(asked string, said []earlier) (string, bool) {
	by, pattern := -1, yearBefore
	if yearAfter.MatchString(asked) {
		by, pattern = 1, yearAfter
	}
	if !pattern.MatchString(asked) || anyYear.MatchString(asked) {
		return asked, false
	}
	for i := len(said) - 1; i >= 0; i-- {
		if at := slices.IndexFunc(said[i].folded, yearAlone.MatchString); at >= 0 {
			year, _ := strconv.Atoi(said[i].folded[at])
			return pattern.ReplaceAllString(asked, "in "+strconv.Itoa(year+by)), true
		}
	}
	return asked, false
}

// countsDone matches a question for how many of what was counted something was done to.
var countsDone = regexp.MustCompile(`^how many ` + done + `$`)

// countedDone asks it in full: "how many tests were made in 2025", then "how many failed".
func countedDone(before, now phrase) string {
	at := slices.IndexFunc(before.folded, helper.MatchString)
	if at < 3 {
		return ""
	}
	end := at + 1
	if end < before.len() && isDone.MatchString(before.folded[end]) {
		end++
	}
	return before.with(at, end, now.slice(2, 3)).question()
}

// sameQuestionWord returns where a question goes on that begins as the one before it does,
// "how long" or "what share"; 0 if it does not.
func sameQuestionWord(before, now phrase) int {
	at := 0
	for at < now.len() && at < before.len() && now.folded[at] == before.folded[at] {
		at++
	}
	first := now.folded[0]
	if at == now.len() || !asksWord.MatchString(first) || at == 1 && (first == "how" || first == "what" || first == "which") {
		return 0
	}
	return at
}

// An earlier question is one written out; leans tells that it could not be, or not whole.
type earlier struct {
	phrase
	leans bool
}

// refersBackAt tells whether an earlier question leaned on those before it.
func (a *Asker) refersBackAt(question string) bool {
	return refersBack(foldedQuestion(question), a.Index.Parse(question).Terms, text.English)
}

var whichOnes = regexp.MustCompile(`^(?:which(?: ones)?|(?:which|what) are (?:they|these|those))$`)

// asWhich asks for the things that a question asks the number of.
func asWhich(before phrase) string {
	if before.len() < 4 || before.folded[0] != "how" || before.folded[1] != "many" {
		return ""
	}
	return before.with(0, 2, phraseOf("which")).question()
}

// fragment returns a question without a verb, "how much at most?", with the thing that
// was spoken of.
func fragment(now phrase, said []earlier) (string, bool) {
	switch first := now.folded[0]; {
	case slices.ContainsFunc(now.folded, func(w string) bool { return pointing[w] }):
		return resolved(now, said)
	case first != "how" && !edges[first], slices.Contains(now.folded, "else"), now.len() > mostWordsOfAThing+1, slices.Contains(now.folded, "then"):
		return "", false // there may be a verb
	}
	for i := len(said) - 1; i >= 0; i-- {
		if thing, named, ok := antecedent(said[i].phrase, "thing"); ok && named {
			return now.String() + " of " + thing.String() + "?", said[i].leans
		}
	}
	return "", false
}

// mayStandAlone tells whether a follow-up that cannot be written out may be meant by itself
// as well: "what was the surplus?" has a word of its own and points at nothing.
func mayStandAlone(asked string) bool {
	now := phraseOf(asked[len(connectives.FindString(asked)):])
	if now.len() < 3 || !slices.ContainsFunc(now.folded, helper.MatchString) || strings.HasPrefix(strings.Join(now.folded, " "), "what if") {
		return false
	}
	points := func(w string) bool { return pointing[w] || w == "then" }
	return slices.ContainsFunc(now.folded, tells) && !slices.ContainsFunc(now.folded, points)
}

// modal are auxiliaries that need a verb, which a follow-up may leave out: "until when must
// it?".
var modal = words("may must can could shall should will would do does did")

// atPresent matches what asks for how something is now, whatever year was spoken of.
var atPresent = words("now today currently nowadays presently")

// sameDeed returns what a question asks that leaves the verb out: "how long are they now"
// after "how long were cuttings quarantined in 2021".
func sameDeed(before, now phrase) string {
	at := slices.IndexFunc(now.folded, helper.MatchString)
	if at < 1 || at+1 >= now.len() || !pointing[now.folded[at+1]] || slices.ContainsFunc(now.folded[at+2:], tells) {
		return ""
	}
	same := at <= before.len() && slices.Equal(before.folded[:at], now.folded[:at])
	present := slices.ContainsFunc(now.folded, func(w string) bool { return atPresent[w] })
	switch {
	case present && same:
		if i := slices.IndexFunc(before.folded, yearAlone.MatchString); i > 0 && edges[before.folded[i-1]] {
			before = before.with(i-1, i+1, phrase{})
		}
		if was := slices.IndexFunc(before.folded, helper.MatchString); was > 0 {
			before = before.with(was, was+1, now.slice(at, at+1))
		}
		return before.question()
	case modal[now.folded[at]] && at+2 == now.len():
		return insteadOfWord(before, now.slice(0, at))
	}
	return ""
}

// asksForOne matches a question for somebody or for one of several things, which a
// follow-up may speak of by a pronoun: "who keeps the vault?", then "since when?".
var asksForOne = regexp.MustCompile(`(?i)^(?:in |at |on |by |from )?(?:who|which) `)

var asksForSomebody = regexp.MustCompile(`(?i)^(?:by |from |with )?who`)

// spokenOf returns a follow-up with the answer to the question before it in place of a
// pronoun: "when was it built?" after "which engine drew most trains?", which was Tansy. It
// is empty where there is none.
func (a *Asker) spokenOf(ctx context.Context, question string, after []string) (string, error) {
	points := func(w string) bool { return pronouns[w] != "" && w != "there" && w != "each" }
	last := len(after) - 1
	for last >= 0 && !asksForOne.MatchString(after[last]) {
		if !slices.ContainsFunc(phraseOf(after[last]).folded, points) {
			return "", nil // it is about something else
		}
		last--
	}
	if last < 0 {
		return "", nil
	}
	now := phraseOf(question[len(connectives.FindString(question)):])
	at := slices.IndexFunc(now.folded, points)
	if at >= 0 && pronouns[now.folded[at]] == "thing" && asksForSomebody.MatchString(after[last]) {
		return "", nil // "it" is nobody
	}
	if at < 0 || now.len() < 3 || expletive.MatchString(strings.Join(now.folded, " ")) {
		return "", nil
	}
	before, err := a.answered(ctx, after, last)
	if err != nil || before.State == NotFound || before.Short == "" {
		return "", err
	}
	thing := before.Short
	if first, rest, _ := strings.Cut(thing, " "); articles[strings.ToLower(first)] {
		thing = "the " + rest
	}
	if possessive(now, at) {
		return now.with(at, at+1, phraseOf(thing+"'s")).question(), nil
	}
	return now.with(at, at+1, phraseOf(thing)).question(), nil
}

// insteadOfWord returns a question with another question word: "by whom" in place of
// "when was the Trust founded".
func insteadOfWord(before, word phrase) string {
	at := slices.IndexFunc(before.folded, helper.MatchString)
	if at >= 0 && word.len() == 1 && word.folded[0] == "who" && isDone.MatchString(before.folded[before.len()-1]) {
		word = phraseOf("by whom")
	}
	switch {
	case at < 0 || at+1 == before.len():
		return ""
	case at == 0 || at == 1 && asksWord.MatchString(before.folded[0]):
		return before.with(0, at, word).question()
	case before.folded[0] == "how" && at == 2:
		return before.with(0, at, word).question()
	}
	return "" // what was counted or chosen would be lost
}
