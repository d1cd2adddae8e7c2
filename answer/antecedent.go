package answer

import (
	"regexp"
	"slices"
	"strings"

	"jardinet/rank"
	"jardinet/text"
)

// A pronoun of a follow-up points at what an earlier question was about, or at the last
// thing that it names.

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

// pronouns are words that point at a thing, at several, at somebody or at a place.
var pronouns = map[string]string{
	"each": "things", "it": "thing", "its": "thing", "they": "things", "them": "things", "their": "things",
	"he": "person", "him": "person", "his": "person", "she": "person", "her": "person", "there": "place",
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
	choice := p.len() > 3 && (p.folded[0] == "which" || p.folded[0] == "what") && helper.MatchString(p.folded[2]) && personal[p.folded[3]]
	if choice {
		from, to, ok = 1, 2, tells(p.folded[1]) // "which form do I fill in": the form
	}
	if ok && (kind == "things") != plural(p.slice(from, to)) {
		ok = false
	}
	if kind == "place" {
		ok = false
		if at, end, in := lastAfter(p, "in"); in {
			from, to, ok = at+1, end, true
		}
	}
	if !ok && kind == "thing" {
		from, to, ok = handled(p)
	}
	if !ok {
		from, to, ok = lastThing(p, kind == "things")
	}
	if !ok || from >= to {
		return phrase{}, false, false
	}
	thing = p.slice(from, to)
	switch {
	case choice && from == 1 && to == 2:
		thing = phraseOf("the " + thing.String())
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

// handled returns what somebody does something to: "a table" in "how do I read a table from
// a file in R".
func handled(p phrase) (from, to int, ok bool) {
	if p.len() < 6 || p.folded[0] != "how" || !modal[p.folded[1]] || !personal[p.folded[2]] || !articles[p.folded[4]] {
		return 0, 0, false
	}
	to = p.nameEnd(5)
	return 4, to, to > 5 && to < p.len() && !plural(p.slice(4, to))
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

// deeds are verbs that follow what a question is about: "what does a ticket cost for a
// child".
var deeds = words("cost mean weigh take hold need last open close start begin leave arrive go run get give pay keep use have work stand live grow do happen measure carry pull stop say end contain cover come apply serve stay reach look")

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
	if modal[p.folded[at]] && (to == p.len() || owned[p.folded[to]]) && to-first > 1 && !capitalised(p.written[to-1]) {
		to-- // its verb
	}
	if modal[p.folded[at]] && to+1 == p.len() && edges[p.folded[to]] && to-first > 1 {
		to-- // its verb, "which port does upsd listen on"
	}
	return from, to, to > first && to-first <= mostWordsOfAThing
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
