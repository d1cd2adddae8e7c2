package answer

import (
	"regexp"
	"slices"
	"strings"

	"jardinet/text"
)

// A follow-up that only names a thing, "and E2?", asks of it what was asked of another: of
// the one of its kind.

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
		return inNumber(before, from, to, other).with(from, to, other).question()
	}
	if relation != "" && nearest {
		return before.with(before.len(), before.len(), phraseOf(relation+" "+thing.String())).question()
	}
	return ""
}

// otherNumber has verbs of one thing, and of several.
var otherNumber = map[string]string{"is": "are", "was": "were", "has": "have", "does": "do", "are": "is", "were": "was", "have": "has", "do": "does"}

// inNumber returns a question with its verb as the thing has it that takes another's place:
// "how long is woody material kept", then "are bulbs kept".
func inNumber(before phrase, from, to int, other phrase) phrase {
	at := from
	if at > 1 && owned[before.folded[at-1]] {
		at--
	}
	verb := ""
	if at > 0 {
		verb = otherNumber[before.folded[at-1]]
	}
	whole := to == before.len() || edges[before.folded[to]] || isDone.MatchString(before.folded[to]) // and not "woody" of "woody plants"
	if verb == "" || !whole || plural(before.slice(from, to)) == plural(other) {
		return before
	}
	return before.with(at-1, at, phraseOf(verb))
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

// counterpart returns which words of a question a thing takes the place of, and by which
// words; any thing may take the place of what the question is about.
func (a *Asker) counterpart(before, thing phrase, any bool) (from, to int, by phrase, ok bool) {
	finders := []func(before, thing phrase) (int, int, phrase, bool){sameLetter, sameCode, otherDeed, otherMeasure, sameOpposite, sameName, a.otherAttribute}
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

// otherAttribute finds what is asked of something with a name, if the thing has none and is
// of another kind: "what is the night minimum of the Arid House?", then "and the vents?".
func (a *Asker) otherAttribute(before, thing phrase) (int, int, phrase, bool) {
	from, to, ok := ofIt(before)
	head := thing.folded[thing.len()-1]
	if !ok || from < 4 || !owned[thing.folded[0]] || thing.len() < 2 || slices.ContainsFunc(thing.written, capitalised) || !capitalised(before.written[to-1]) || !tells(head) {
		return 0, 0, phrase{}, false
	}
	return 2, from - 1, thing, a.ofAKind([]string{head}, before.folded[from:to], text.English) == ""
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

// sameLetter finds a letter by which something goes: "what does the letter a mean?", then
// "and c?".
func sameLetter(before, thing phrase) (int, int, phrase, bool) {
	at := slices.IndexFunc(before.folded, func(w string) bool { return lettered[w] })
	last := thing.len() - 1
	if at < 0 || at+1 >= before.len() || len(before.written[at+1]) != 1 || len(thing.written[last]) != 1 {
		return 0, 0, phrase{}, false
	}
	return at + 1, at + 2, thing.slice(last, last+1), true
}

var lettered = words("letter option flag key type class grade column")

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
		if _, end, asked := ofIt(before); asked && owned[before.folded[2]] && capitalised(before.written[end-1]) {
			return 3, 3, bare.slice(0, bare.len()-1), true // "the alarm of the Palm House", then "the high one"
		}
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
