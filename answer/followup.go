package answer

import (
	"maps"
	"regexp"
	"slices"
	"strings"

	"jardinet/index"
	"jardinet/rank"
	"jardinet/text"
)

// "And in the Orchid House?" is only understood by what was asked before: a follow-up
// takes over the words of the questions before it, but for those in whose place it puts
// others.

// pointing words refer to what was spoken of before.
var pointing = words(`neither either both former latter otherwise it its they them their theirs this that these those there he she his her one ones same such
	il elle ils elles cela ca celui celle ceux y en leur er es sie dies das dort`)

var followUp = regexp.MustCompile(`^(?:and|or|but|so|then|what about|how about|what if|et|und|mais|aber|pour)\b`)

// barely matches follow-ups that only name something: "and for volunteers?".
var barely = regexp.MustCompile(`^(?:(?:and|or|but|so|then) )?(?:(?:what|how) about )?(?:(?:for|in|at|on|of|to|from|by|with|the|an?|my|our) )*((?:\S+ ?){1,3})$`)

var asksItself = regexp.MustCompile(`\b(?:` + auxiliary + `|who|whom|whose|what|which|when|where|why|how)\b`)

// onlyNames tells whether a follow-up names something and asks nothing of it by itself.
// A time is said in many words, "and in winter".
func onlyNames(folded string) bool {
	m := barely.FindStringSubmatch(folded)
	return m != nil && !asksItself.MatchString(m[1]) && !slices.ContainsFunc(strings.Fields(m[1]), func(w string) bool {
		return opposites[w] != nil || strings.ContainsAny(w, "0123456789")
	})
}

// carried is the weight of a word taken over from the question before; those of
// the ones before that count fading times as much with each.
const (
	carried = 0.55
	fading  = 0.6
)

// refersBack tells whether a question leans on those before it.
func refersBack(folded string, terms []index.Term, language text.Language) bool {
	if followUp.MatchString(folded) || len(contentOf(terms, language)) < fewWords {
		return true
	}
	words := strings.Fields(folded)
	for i, word := range words {
		relative := word == "that" && i > 0 && i+1 < len(words) && tiesClauses.MatchString(words[i+1])
		if pointing[word] && !relative {
			return true
		}
	}
	return false
}

// fewWords is how many words of its own a question has at least that stands by itself.
const fewWords = 2

// tiesClauses matches what follows a "that" which points at nothing before the
// question: "a packet that was out for longer".
var tiesClauses = regexp.MustCompile(`^` + auxiliary + `$`)

// carryOver takes over what a question leans on, if it does. One that has nothing
// but grammar, "until when must I take them", is about what was spoken of.
func (a *Asker) carryOver(q *question, folded string, after []string) {
	own := slices.ContainsFunc(q.query.Terms, func(t index.Term) bool { return !text.IsFunctionWord(t.Word, q.language) })
	if own && !refersBack(folded, q.query.Terms, q.language) {
		return
	}
	before := q.query.Terms
	if !own {
		q.query.Terms = nil
	}
	a.carry(q, folded, after)
	switch {
	case len(q.query.Terms) == 0:
		q.query.Terms = before
	case !own:
		for i := range q.query.Terms {
			q.query.Terms[i].Weight /= carried
		}
	}
}

// carry adds what the conversation was about. The nearest earlier question
// that stands on its own gives the subject; those between add to it. What the
// question puts in the place of something is not carried over.
func (a *Asker) carry(q *question, folded string, after []string) {
	var added []string
	weight := carried
	later := [][]string{strings.Fields(folded)}
	own, goesOn := contentOf(q.query.Terms, q.language), followUp.MatchString(folded)
	for i := len(after) - 1; i >= 0; i-- {
		earlier := a.Index.Parse(after[i])
		before := foldedQuestion(after[i])
		gone := map[string]bool{}
		literals := rank.Literals(after[i])
		whole := strings.ToLower(strings.Join(literals, " ")) // "C2" is two terms, and one thing
		for _, words := range later {
			maps.Copy(gone, replaced(strings.Fields(before), words))
		}
		if goesOn && len(own) <= mostWordsOfAThing {
			if word := a.ofAKind(own, contentOf(earlier.Terms, q.language), q.language); word != "" {
				gone[word] = true
			}
		}
		later = append(later, strings.Fields(before))
		for _, term := range earlier.Terms {
			term.Weight = weight
			if !hasTerm(q.query.Terms, term) && !gone[term.Word] && !softWords[term.Word] && !text.IsFunctionWord(term.Word, q.language) {
				q.query.Terms = append(q.query.Terms, term)
				if !strings.Contains(whole, term.Word) {
					added = append(added, term.Word)
				}
			}
		}
		added = append(added, literals...)
		if goesOn && !strings.HasPrefix(folded, "what if") && q.want == wantSentence {
			q.wants(after[i]) // "and in the orchid house?"
		}
		if !refersBack(before, earlier.Terms, q.language) {
			break
		}
		weight *= fading
	}
	if len(added) > 0 {
		q.follows = true
		q.standalone += " (" + strings.Join(added, " ") + ")"
	}
}

// contentOf returns the words of a question that are not mere grammar or soft.
func contentOf(terms []index.Term, language text.Language) (out []string) {
	for _, t := range terms {
		if !softWords[t.Word] && !text.IsFunctionWord(t.Word, language) {
			out = append(out, t.Word)
		}
	}
	return out
}

// kindred is how near the vectors of two things are that are of a kind: dinner and
// lunch, and not a ticket and a child.
const kindred = 0.45

// ofAKind returns the word of an earlier question that is of a kind with one of the
// words of a follow-up that only names something: "what may lunch cost", then "and
// dinner?". It returns none if they share a word, since then that is what they have in
// common.
func (a *Asker) ofAKind(own, earlier []string, language text.Language) string {
	best, out := kindred, ""
	embedder := a.Wording.Model.NewEmbedder()
	for _, x := range own {
		if slices.Contains(earlier, x) {
			return ""
		}
		for _, y := range earlier {
			s := a.Wording.Model.Nearest(embedder.Rows(text.Token{Word: x}, language), embedder.Rows(text.Token{Word: y}, language))
			if s > best {
				best, out = s, y
			}
		}
	}
	return out
}

// relations are the words that tie a thing to the rest of a question.
var relations = words("in into onto for of at on to with by from under dans pour au aux en im am fur")

// moments are relations that say when or where, and of which one takes the place of
// another: "on a public holiday", then "and at a weekend?".
var moments = words("in on at")

// replaced returns the words of an earlier question in whose place a later one
// puts others: those that follow the same relation ("in the Dew House", then
// "and in the Orchid House?").
func replaced(earlier, later []string) map[string]bool {
	out := map[string]bool{}
	for i, relation := range later {
		if !relations[relation] || i+1 == len(later) || pointing[later[i+1]] {
			continue
		}
		for j, same := range earlier {
			if same != relation && !(moments[same] && moments[relation]) {
				continue
			}
			for k, word := range earlier[j+1:] {
				if relations[word] || j+2+k == len(earlier) && isDone.MatchString(word) {
					break // what is done "on a public holiday" stays
				}
				out[word] = true
			}
		}
	}
	for _, word := range insteadOf(earlier, later) {
		out[word] = true
	}
	now := strings.Join(later, " ")
	if m := askedOf.FindStringSubmatch(strings.Join(earlier, " ")); m != nil && !followUp.MatchString(now) && asksFirst.MatchString(now) {
		for _, word := range strings.Fields(m[1]) {
			out[word] = true // "what is the gauge of the railway", then "how long is it?"
		}
	}
	for _, number := range renumbered(earlier, later) {
		out[number] = true
	}
	// "How do I add one", then "and how do I delete it": one deed for another.
	if how, did := deed(earlier); did != "" {
		if same, does := deed(later); does != did && same == how {
			out[did] = true
		}
	}
	for _, word := range later {
		for _, opposite := range opposites[word] {
			out[opposite] = true
		}
	}
	return out
}

// whichYear matches what asks for a year, so that one named before is not meant.
var whichYear = regexp.MustCompile(`\b(?:which|what) years?\b`)

// renumbered returns the numbers of an earlier question in whose place a later one puts
// others, "product 7" and then "and product 13?", or asks for any.
func renumbered(earlier, later []string) (out []string) {
	for i, word := range earlier {
		switch {
		case !allDigits(word):
		case yearAlone.MatchString(word) && whichYear.MatchString(strings.Join(later, " ")):
			out = append(out, word)
		case i > 0:
			at := slices.Index(later, earlier[i-1])
			if at >= 0 && at+1 < len(later) && later[at+1] != word && allDigits(later[at+1]) {
				out = append(out, word)
			}
		}
	}
	return out
}

// askedOf matches what is asked of a thing.
var askedOf = regexp.MustCompile(`^what (?:is|was|are|were) the ((?:\w+ ){1,2}?)of `)

// leadsIn matches how a follow-up begins that names another thing.
var leadsIn = regexp.MustCompile(`^(?:(?:and|but|or|so|then) )?(?:what about |how about )?(?:(?:in|at|on|for|of|with|by) )?(?:the |an? )?`)

// aboutWhat matches what a question is about: "woody plants" in "how long are woody
// plants kept", "tansy" in "when was tansy built".
var aboutWhat = regexp.MustCompile(`\b(?:is|are|was|were|does|do|did|must|may|can|should) (?:the |an? )?((?:\w+ ){1,2}?)(?:be |` + done + `\b)`)

// whoIs matches what office somebody is asked for.
var whoIs = regexp.MustCompile(`^who (?:is|was) (?:the )?(.+)$`)

// mostWordsOfAThing is how many words a follow-up has that only names another thing.
const mostWordsOfAThing = 3

// insteadOf returns the words of an earlier question that a thing takes the place of
// which a follow-up only names: "and the Arid House?", "what about cuttings?".
func insteadOf(earlier, later []string) []string {
	folded := strings.Join(later, " ")
	lead := leadsIn.FindString(folded)
	thing := strings.Fields(folded[len(lead):])
	bare := func(w string) bool { return relations[w] || pointing[w] || text.IsFunctionWord(w, text.English) }
	if !followUp.MatchString(folded) || len(thing) == 0 || len(thing) > mostWordsOfAThing || slices.ContainsFunc(thing, bare) {
		return nil
	}
	// Another of the same kind: what tells the two apart changes.
	if at := slices.Index(earlier, thing[len(thing)-1]); at > 0 {
		var out []string
		for i := at - 1; i >= 0 && at-i < mostWordsOfAThing && !bare(earlier[i]); i-- {
			if !slices.Contains(thing, earlier[i]) {
				out = append(out, earlier[i])
			}
		}
		return out
	}
	for _, thing := range []*regexp.Regexp{aboutWhat, whoIs} {
		if m := thing.FindStringSubmatch(strings.Join(earlier, " ")); m != nil {
			return strings.Fields(m[1])
		}
	}
	return nil
}

// deed returns what somebody does in a question, the word after "do I" and the
// like, and which of these it is.
func deed(question []string) (how, what string) {
	for i, word := range question {
		if doers[word] && i > 0 && i+1 < len(question) && helpers[question[i-1]] {
			return question[i-1], question[i+1]
		}
	}
	return "", ""
}

var (
	doers   = words("i we you they one")
	helpers = words("do does did can may must should shall will could would")
)

// opposites are words that take the place of each other: "and by day?".
var opposites = pairs(`night day|nights days|minimum maximum|lowest highest|low high|least most|summer winter|été hiver|sommer winter
	adult child|adults children|adulte enfant|single return|opens closes|open close|opening closing|ouvrent ferment|first last|oldest newest
	smallest largest|shortest longest|upper lower|indoor outdoor|weekday weekend|weekdays weekends|male female|before after|start end
	arrival departure|north south|east west|left right|old new|buy sell|import export`)

// pairs reads pairs of words, each of which leads to the other.
func pairs(s string) map[string][]string {
	out := map[string][]string{}
	for _, pair := range strings.FieldsFunc(s, func(r rune) bool { return r == '|' || r == '\n' }) {
		words := strings.Fields(pair)
		for i, word := range words {
			out[foldedQuestion(word)] = append(out[foldedQuestion(word)], foldedQuestion(words[1-i]))
		}
	}
	return out
}

func hasTerm(terms []index.Term, t index.Term) bool {
	return slices.ContainsFunc(terms, func(o index.Term) bool { return o.Forms[0] == t.Forms[0] })
}
