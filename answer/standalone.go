package answer

import (
	"context"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"jardinet/rank"
	"jardinet/text"
)

// Most follow-ups can be written out, so that they say by themselves what they mean:
// "and E2?" after "what does fault code E4 mean?" is "what does fault code E2 mean?",
// "what is her extension?" after "who is Ada Lane?" is "what is the extension of Ada
// Lane?".
// Where that cannot be told in plain words, the follow-up takes the words over (see
// followup.go).

// A phrase is some words of a question, as they are written and folded.
type phrase struct{ written, folded []string }

// phraseOf splits a question into words, without the marks around them.
func phraseOf(s string) phrase {
	var p phrase
	for _, word := range strings.Fields(strings.ReplaceAll(s, "’", "'")) {
		if word = strings.Trim(word, `?!.,;:"“”`); word != "" {
			p.written, p.folded = append(p.written, word), append(p.folded, strings.ToLower(word))
		}
	}
	return p
}

func (p phrase) len() int                  { return len(p.written) }
func (p phrase) slice(from, to int) phrase { return phrase{p.written[from:to], p.folded[from:to]} }
func (p phrase) String() string            { return strings.Join(p.written, " ") }

// with returns the phrase with others in the place of some of its words.
func (p phrase) with(from, to int, other phrase) phrase {
	return phrase{slices.Concat(p.written[:from], other.written, p.written[to:]), slices.Concat(p.folded[:from], other.folded, p.folded[to:])}
}

// question writes a phrase as a question.
func (p phrase) question() string { return capital(p.String()) + "?" }

var (
	connectives = regexp.MustCompile(`(?i)^(?:(?:and|but|or|so|then|also)[ ,]+)*(?:what about|how about)?\s*`)
	bareWord    = regexp.MustCompile(`^(?:(?:for|by|from|to|with|at|in|since|until|under|on) )?(?:what|which|who|whom|when|where|why|how(?: (?:often|long|soon|far|high|big|fast|deep|wide|heavy|old|hot|cold))?)$`)
	asksWord    = regexp.MustCompile(`^(?:what|which|who|whom|whose|when|where|why|how)$`)
	helper      = regexp.MustCompile(`^` + auxiliary + `$`)
	articles    = words("the a an")
	owned       = words("the a an my our your this that")
	personal    = words("i we you one somebody someone people")
	expletive   = regexp.MustCompile(`\bit (?:rains?|snows?|freezes)\b|\b(?:does|did|will|would) it take\b|\b(?:is|was) it (?:\w+ )?(?:allowed|possible|permitted|forbidden|ok|true|necessary|worth|safe|better|best)\b`)
	thereIs     = regexp.MustCompile(`\b(?:is|are|was|were|be) there\b|\bthere (?:is|are|was|were)\b`)
	relatively  = words("in into on at inside under")
)

// edges are words before which the name of a thing ends.
var edges = words("in into for of at on to with by from under after before during when if while and or than as who that which because until since per about without between above below over behind beside near up down")

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
			whole, leans = q, len(said) > 0 && a.refersBackAt(q) && !a.standsEitherWay(q, said)
		}
		said = append(said, earlier{phraseOf(whole), leans})
	}
	return said
}

// writtenOut returns what a question says in its conversation, and whether it may lean on
// that beyond the words that were put in; "" if it cannot be told.
func (a *Asker) writtenOut(asked string, after []string) (question string, leans bool) {
	return a.written(asked, a.history(after))
}

// written is writtenOut after questions that are written out.
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
	asks := slices.ContainsFunc(now.folded, asksWord.MatchString)
	helps := slices.ContainsFunc(now.folded, helper.MatchString)
	switch {
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

// tells tells whether a word is one of substance.
func tells(word string) bool { return !softWords[word] && !text.IsFunctionWord(word, text.English) }

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

// readsEitherWay tells whether a question may be meant by itself or lean on those before
// it: "what was the surplus?" has a word of its own and points at nothing.
func (a *Asker) readsEitherWay(asked string, after []string) bool {
	return a.standsEitherWay(asked, a.history(after))
}

// standsEitherWay is readsEitherWay after questions that are written out.
func (a *Asker) standsEitherWay(asked string, said []earlier) bool {
	if len(said) == 0 {
		return false
	}
	if whole, _ := a.written(asked, said); whole != "" {
		return false
	}
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
	if at < 0 || now.len() < 3 || expletive.MatchString(strings.Join(now.folded, " ")) {
		return "", nil
	}
	before, err := a.reading(ctx, after[last], after[:last])
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

// elliptic returns a question with the thing that is named in place of the one of its
// kind; or, after the nearest question, with what the follow-up adds.
func (a *Asker) elliptic(before, thing phrase, nearest bool) string {
	if before.len() < 3 || slices.ContainsFunc(thing.folded, func(w string) bool { return pointing[w] && w != "ones" && w != "one" }) || slices.ContainsFunc(thing.folded[:thing.len()-1], func(w string) bool { return w == "one" }) {
		return ""
	}
	if year := thing.folded[thing.len()-1]; yearAlone.MatchString(year) && thing.len() <= 3 {
		if at := slices.IndexFunc(before.folded, yearAlone.MatchString); at >= 0 {
			return before.with(at, at+1, thing.slice(thing.len()-1, thing.len())).question()
		}
		if thing.len() == 1 {
			thing = phraseOf("in " + thing.written[0])
		}
		if !nearest {
			return ""
		}
		return before.with(before.len(), before.len(), thing).question()
	}
	if from, to, by, ok := sameAmount(before, thing); ok {
		return before.with(from, to, by).question()
	}
	relation := ""
	if edges[thing.folded[0]] && thing.len() > 1 {
		relation, thing = thing.folded[0], thing.slice(1, thing.len())
		if from, to, ok := lastAfter(before, relation); ok {
			if inOrder[thing.folded[thing.len()-1]] && to-from > 2 {
				to-- // "in the first quarter", then "in the third"
			}
			return before.with(from, to, phraseOf(relation+" "+thing.String())).question()
		}
		if from, to, ok := ofIt(before); ok && (relatively[relation] || relation == "for" || relation == "of") {
			return before.with(from-1, to, phraseOf(relation+" "+thing.String())).question()
		}
	}
	if thing.len() > mostWordsOfAThing+1 {
		return ""
	}
	if from, to, other, ok := a.counterpart(before, thing, relation == "" || relation == "for" || relation == "of"); ok {
		return before.with(from, to, other).question()
	}
	if relation != "" && nearest {
		return before.with(before.len(), before.len(), phraseOf(relation+" "+thing.String())).question()
	}
	return ""
}

// lastAfter returns where a question says of what, in the same relation, and where that
// ends.
func lastAfter(p phrase, relation string) (from, to int, ok bool) {
	for _, loosely := range []bool{false, true} {
		for i := p.len() - 2; i > 0; i-- {
			word := p.folded[i]
			if p.nameEnd(i+1) == i+1 || setPhrases[word+" "+p.folded[i+1]] || word != relation && !(loosely && relatively[word] && relatively[relation]) {
				continue
			}
			return i, p.nameEnd(i + 1), true
		}
	}
	return 0, 0, false
}

// setPhrases name no place and no thing.
var setPhrases = map[string]bool{"at once": true, "at most": true, "at least": true, "at all": true, "at first": true, "at last": true, "in all": true, "in time": true, "in advance": true, "on average": true}

// nameEnd is where the name of a thing ends that begins at a word of a question.
func (p phrase) nameEnd(from int) int {
	to := from
	for to < p.len() && !edges[p.folded[to]] && !helper.MatchString(p.folded[to]) {
		to++
	}
	if to == p.len() && to > from+1 && isDone.MatchString(p.folded[to-1]) {
		to-- // what is done there stays
	}
	return to
}

// nameStart is where the name of a thing begins that ends with a word of a question.
func (p phrase) nameStart(last int) int {
	from, least := last, 1
	switch {
	case p.folded[0] != "who" || last < 2:
	case modal[p.folded[1]]:
		least = 3 // after what somebody may do
	case !helper.MatchString(p.folded[1]):
		least = 2 // after what somebody does
	}
	for from > least && last-from < mostWordsOfAThing && !edges[p.folded[from-1]] && !owned[p.folded[from-1]] && !softWords[p.folded[from-1]] && !helper.MatchString(p.folded[from-1]) && !asksWord.MatchString(p.folded[from-1]) {
		from--
	}
	return from
}

// counterpart returns which words of a question a thing takes the place of, and by which
// words; any thing may take the place of what the question is about.
func (a *Asker) counterpart(before, thing phrase, any bool) (from, to int, by phrase, ok bool) {
	finders := []func(before, thing phrase) (int, int, phrase, bool){sameCode, otherDeed, otherMeasure, sameOpposite, sameName}
	if any {
		finders = append(finders, sameHead, sameOffice, a.sameKind, sameBeneficiary, sameSubject)
	}
	for _, find := range finders {
		if from, to, by, ok = find(before, thing); ok {
			return from, to, by, true
		}
	}
	return 0, 0, phrase{}, false
}

var sum = regexp.MustCompile(`^[£€$]\d|^\d[\d,.]*[£€$]$`)

// sameAmount finds the sum of money that another takes the place of, with the words that
// say on which side of it.
func sameAmount(before, thing phrase) (int, int, phrase, bool) {
	at := slices.IndexFunc(before.folded, sum.MatchString)
	if at < 1 || !slices.ContainsFunc(thing.folded, sum.MatchString) {
		return 0, 0, phrase{}, false
	}
	from := at
	for from > 1 && sides[before.folded[from-1]] {
		from--
	}
	return from, at + 1, thing, true
}

var sides = words("up to at most least above over under below more less than for of")

// otherDeed finds what is done, if the thing is something else that is: "and fed?".
func otherDeed(before, thing phrase) (int, int, phrase, bool) {
	last := before.len() - 1
	return last, last + 1, thing, thing.len() == 1 && isDone.MatchString(thing.folded[0]) && isDone.MatchString(before.folded[last])
}

var extremes = words("highest lowest maximum minimum mean average total largest smallest greatest least most")

// otherMeasure finds what is asked of something, if the thing is another measure of it:
// "what is the mean of chlorine?", then "and the highest?".
func otherMeasure(before, thing phrase) (int, int, phrase, bool) {
	from, _, ok := ofIt(before)
	if !ok || !extremes[thing.folded[thing.len()-1]] {
		return 0, 0, phrase{}, false
	}
	return 2, from - 1, thing, before.len() > 3
}

var inOrder = words("first second third fourth fifth sixth seventh eighth ninth tenth last next other")

// sameBeneficiary finds for whom a question asks.
func sameBeneficiary(before, thing phrase) (int, int, phrase, bool) {
	at := slices.Index(before.folded, "for")
	if at < 1 || at+1 == before.len() || before.nameEnd(at+1) != before.len() {
		return 0, 0, phrase{}, false
	}
	return at + 1, before.len(), thing, true
}

var shape = regexp.MustCompile(`^(\pL*)[-./]?(\d+)(\pL*)$`)

// sameCode finds a part number, or the number of something, of the same form.
func sameCode(before, thing phrase) (int, int, phrase, bool) {
	last := thing.len() - 1
	m := shape.FindStringSubmatch(thing.folded[last])
	if m == nil {
		return 0, 0, phrase{}, false
	}
	for i := before.len() - 1; i > 0; i-- {
		o := shape.FindStringSubmatch(before.folded[i])
		if o == nil || o[1] != m[1] || yearAlone.MatchString(o[0]) != yearAlone.MatchString(m[0]) {
			continue
		}
		if m[1] == "" && last > 0 && thing.folded[last-1] != before.folded[i-1] {
			continue // "product 13" is not in place of "train 7"
		}
		return i, i + 1, thing.slice(last, last+1), true
	}
	return 0, 0, phrase{}, false
}

// sameOpposite finds a word of which the thing is the opposite.
func sameOpposite(before, thing phrase) (int, int, phrase, bool) {
	if thing.len() > 3 || thing.len() == 3 && !owned[thing.folded[0]] {
		return 0, 0, phrase{}, false // there is more to it
	}
	for i, word := range thing.folded {
		for _, o := range opposites[word] {
			if at := slices.Index(before.folded, o); at >= 0 {
				return at, at + 1, thing.slice(i, i+1), true
			}
		}
	}
	return 0, 0, phrase{}, false
}

// sameHead finds another thing that is called the same: "woody plants" for "herbaceous
// plants", and for "herbaceous ones".
func sameHead(before, thing phrase) (int, int, phrase, bool) {
	last := thing.len() - 1
	bare := thing
	if owned[thing.folded[0]] {
		bare = thing.slice(1, thing.len())
	}
	if bare.len() < 2 {
		return 0, 0, phrase{}, false
	}
	if head := thing.folded[last]; head == "ones" || head == "one" {
		from, to, ok := subject(before)
		if !ok || to-from < 2 {
			return 0, 0, phrase{}, false
		}
		return from, to - 1, bare.slice(0, bare.len()-1), true
	}
	for at := before.len() - 1; at > 0; at-- {
		if singular(before.folded[at]) != singular(thing.folded[last]) {
			continue
		}
		from := before.nameStart(at)
		return from, at + 1, bare, from < at
	}
	return 0, 0, phrase{}, false
}

func singular(word string) string { return strings.TrimSuffix(word, "s") }

// capitalised tells whether a word is written as a name.
func capitalised(word string) bool {
	r, _ := utf8.DecodeRuneInString(word)
	return unicode.IsUpper(r) && word != "I"
}

// sameName finds the last name, if the thing is one.
func sameName(before, thing phrase) (int, int, phrase, bool) {
	article := owned[thing.folded[0]]
	if article {
		thing = thing.slice(1, thing.len())
	}
	if thing.len() == 0 || !capitalised(thing.written[0]) {
		return 0, 0, phrase{}, false
	}
	to := before.len()
	for to > 1 && !capitalised(before.written[to-1]) {
		to--
	}
	from := to
	for from > 1 && capitalised(before.written[from-1]) {
		from--
	}
	if from > 1 && articles[before.folded[from-1]] && !article {
		from--
	}
	return from, to, thing, from < to && from > 0
}

// sameOffice finds the office that somebody is asked for.
func sameOffice(before, thing phrase) (int, int, phrase, bool) {
	if before.folded[0] != "who" || before.folded[1] != "is" && before.folded[1] != "was" {
		return 0, 0, phrase{}, false
	}
	return sameSubject(before, thing)
}

// sameKind finds the word that is nearest to the thing in meaning.
func (a *Asker) sameKind(before, thing phrase) (int, int, phrase, bool) {
	content := slices.DeleteFunc(slices.Clone(before.folded), func(w string) bool { return !tells(w) })
	head := thing.folded[thing.len()-1]
	if !tells(head) {
		return 0, 0, phrase{}, false
	}
	word := a.ofAKind([]string{head}, content, text.English)
	at := slices.Index(before.folded, word)
	if word == "" || at < 1 {
		return 0, 0, phrase{}, false
	}
	from, to := before.nameStart(at), at+1
	if owned[thing.folded[0]] {
		if owned[before.folded[from-1]] {
			from--
		} else {
			thing = thing.slice(1, thing.len())
		}
	}
	return from, to, thing, true
}

// sameSubject finds what a question is about.
func sameSubject(before, thing phrase) (int, int, phrase, bool) {
	from, to, ok := subject(before)
	if ok && from > 0 && !owned[thing.folded[0]] && owned[before.folded[from]] && thing.len() > 0 {
		from++
	}
	return from, to, thing, ok
}

var attributeOfIt = regexp.MustCompile(`^what (?:is|was|are|were) (?:the|an?) (?:\w+ ){1,3}?(?:of|in|at|for|on) `)

// ofIt returns of what a question asks something: "the railway" in "what is the gauge of
// the railway".
func ofIt(p phrase) (from, to int, ok bool) {
	m := attributeOfIt.FindString(strings.Join(p.folded, " "))
	if m == "" {
		return 0, 0, false
	}
	from = len(strings.Fields(m))
	return from, p.nameEnd(from), from < p.len()
}

// subject returns what a question is about, and where that ends: of what it asks
// something, or what follows its auxiliary.
func subject(p phrase) (from, to int, ok bool) {
	if from, to, ok = ofIt(p); ok {
		return from, to, ok
	}
	at := slices.IndexFunc(p.folded, helper.MatchString)
	if at > 2 && at+1 < p.len() && p.folded[0] == "how" && p.folded[1] == "many" && !personal[p.folded[at+1]] && !owned[p.folded[at+1]] && !capitalised(p.written[at+1]) {
		return 2, at, true // what is counted does it itself
	}
	if at < 0 || at+1 >= p.len() || personal[p.folded[at+1]] || pointing[p.folded[at+1]] {
		return 0, 0, false
	}
	if p.folded[0] == "who" && modal[p.folded[at]] {
		return 0, 0, false // somebody does what follows
	}
	from = at + 1
	to = from
	if owned[p.folded[to]] {
		to++
	}
	first := to
	ends := func(i int) bool {
		return edges[p.folded[i]] || helper.MatchString(p.folded[i]) || isDone.MatchString(p.folded[i]) || p.folded[i] == "be" || p.folded[i] == "not" || p.folded[i] == "never" || i > first && (modal[p.folded[at]] && deeds[p.folded[i]] || owned[p.folded[i]])
	}
	for to < p.len() && !ends(to) && !(to > first && capitalised(p.written[to-1]) && !capitalised(p.written[to]) && !shape.MatchString(p.folded[to])) {
		to++
	}
	if modal[p.folded[at]] && to == p.len() && to-first > 1 {
		to-- // its verb
	}
	return from, to, to > first && to-first <= mostWordsOfAThing
}

// deeds are verbs that follow what a question is about: "what does a ticket cost for a
// child".
var deeds = words("cost mean weigh take hold need last open close start begin leave arrive go run get give pay keep use have work stand live grow do happen measure carry pull stop say end contain cover come apply serve stay reach look")

// resolved returns a question with what it points at in place of the words that do, and
// whether more than a name was put in, of which there may be several.
func resolved(now phrase, said []earlier) (string, bool) {
	whole := strings.Join(now.folded, " ")
	at := slices.IndexFunc(now.folded, func(w string) bool { return pronouns[w] != "" })
	if at < 0 || thereIs.MatchString(whole) || expletive.MatchString(whole) {
		return "", false
	}
	leans := false
	for at >= 0 {
		thing, leaning, ok := pointedAt(now, at, said)
		if !ok {
			break
		}
		leans = leans || leaning
		if thing.folded[0] == "of" && possessive(now, at) { // "its extension": "the extension of …"
			end := now.nameEnd(at + 1)
			thing = phraseOf("the " + now.slice(at+1, end).String() + " " + thing.String())
			now = now.with(at+1, end, phrase{})
		}
		rest := now.slice(at+1, now.len())
		now = now.with(at, at+1, thing)
		next := slices.IndexFunc(rest.folded, func(w string) bool { return pronouns[w] != "" })
		if at += thing.len() + next; next < 0 {
			return now.question(), leans
		}
	}
	return "", false
}

// pointedAt returns what one of a question's words points at, and whether more than that
// may be meant.
func pointedAt(now phrase, at int, said []earlier) (thing phrase, leans, ok bool) {
	kind := pronouns[now.folded[at]]
	for i := len(said) - 1; i >= 0; i-- {
		thing, named, ok := antecedent(said[i].phrase, kind)
		if !ok {
			continue
		}
		switch {
		case now.folded[at] == "each":
			thing = phraseOf("each of " + thing.String())
		case kind == "place":
			thing = phraseOf("in " + thing.String())
		case possessive(now, at):
			thing = phraseOf("of " + thing.String())
		}
		_, _, attribute := ofIt(said[i].phrase) // which may be meant as well, as "product" in "which product is number 6"
		attribute = attribute || said[i].len() > 2 && asksWord.MatchString(said[i].folded[0]) && said[i].folded[0] != "how" && helper.MatchString(said[i].folded[2]) && !slices.ContainsFunc(thing.written, capitalised)
		return thing, !named || attribute || said[i].leans, true
	}
	return phrase{}, false, false
}

// pronouns are words that point at a thing, at several, at somebody or at a place.
var pronouns = map[string]string{
	"each": "things", "it": "thing", "its": "thing", "they": "things", "them": "things", "their": "things",
	"he": "person", "him": "person", "his": "person", "she": "person", "her": "person", "there": "place",
}

// possessive tells whether a pronoun says whose something is.
func possessive(p phrase, at int) bool {
	switch p.folded[at] {
	case "its", "their", "his":
		return true
	case "her":
		return at+1 < p.len() && !edges[p.folded[at+1]] && !helper.MatchString(p.folded[at+1])
	}
	return false
}

// antecedent returns what a pronoun points at in a question, and whether that is a name
// or a part number.
func antecedent(p phrase, kind string) (thing phrase, named, ok bool) {
	from, to, ok := subject(p)
	if ok && (kind == "things") != plural(p.slice(from, to)) {
		ok = false
	}
	if kind == "place" {
		ok = false
		if at, end, in := lastAfter(p, "in"); in {
			from, to, ok = at+1, end, true
		}
	}
	if !ok {
		from, to, ok = lastThing(p, kind == "things")
	}
	if !ok || from >= to {
		return phrase{}, false, false
	}
	thing = p.slice(from, to)
	switch {
	case articles[thing.folded[0]] && thing.len() == 1:
		return phrase{}, false, false
	case articles[thing.folded[0]]:
		if thing = thing.with(0, 1, phraseOf("the")); kind == "person" && !(p.folded[0] == "who" && (p.folded[1] == "is" || p.folded[1] == "was") && to == p.len()) {
			return phrase{}, false, false
		}
	case kind == "things" && !owned[thing.folded[0]]:
		thing = phraseOf("the " + thing.String())
	}
	named = !owners.MatchString(strings.Join(thing.folded, " ")) && slices.ContainsFunc(thing.written, func(w string) bool { return capitalised(w) || rank.IsLiteral(w) || shape.MatchString(w) })
	return thing, named, true
}

// plural tells whether a thing is several.
func plural(p phrase) bool {
	at := p.len() - 1
	if of := slices.Index(p.folded, "of"); of > 0 {
		at = of - 1 // "bottles of gas"
	}
	if at < 0 {
		return false
	}
	last := p.folded[at]
	return strings.HasSuffix(last, "s") && !strings.HasSuffix(last, "ss") && !capitalised(p.written[at]) || last == "people" || last == "children" || last == "staff"
}

// lastThing returns the last thing that a question names: a part number with what it is
// one of, a name, or what follows an article.
func lastThing(p phrase, several bool) (from, to int, ok bool) {
	for i := p.len() - 1; i > 0; i-- {
		switch {
		case shape.MatchString(p.folded[i]) && !yearAlone.MatchString(p.folded[i]):
			return p.nameStart(i), i + 1, true
		case capitalised(p.written[i]):
			from = i
			for from > 1 && capitalised(p.written[from-1]) {
				from--
			}
			if articles[p.folded[from-1]] {
				from--
			}
			return from, i + 1, true
		case owned[p.folded[i]] && i+1 < p.len():
			if to = p.nameEnd(i + 1); to > i+1 && (!several || plural(p.slice(i, to))) {
				return i, to, true
			}
		case several && plural(p.slice(i, i+1)) && !text.IsFunctionWord(p.folded[i], text.English) && !isDone.MatchString(p.folded[i]):
			return p.nameStart(i), i + 1, true
		}
	}
	return 0, 0, false
}
