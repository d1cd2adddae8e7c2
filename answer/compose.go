package answer

import (
	"cmp"
	"math"
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"jardinet/layout"
	"jardinet/passage"
	"jardinet/text"
)

// Limits of what is shown.
const (
	maxStatements = 3
	maxSteps      = 14
	maxNearest    = 3
	restatement   = 2 // words beyond the question's that make no statement yet
)

// How likely, against the best, evidence has to be to be said too: by itself, close
// to the best where no figure is asked for, as a side of a comparison, and if it
// has what the best lacks.
const (
	asGood     = 0.55
	besides    = 0.4
	compared   = 0.3
	completing = 0.05
)

// formless is how much less sure an answer is that lacks what can be told by its
// form: a colour, a telephone number, somebody, a number of what was to be counted, the
// part number or the year that was asked about. Where a lesson vouches for the sentence,
// somebody has found its form good enough.
const formless = 0.5

// defined is how sure at least an answer is that is a definition by its form, wherever
// else the term stands.
const defined = 0.8

// wantsForm tells whether that evidence is not of the kind that is asked for matters. What
// lessons tell of may count something by another name, but not by no number.
func (m *matcher) wantsForm(q *question, e *evidence, at Place) bool {
	switch {
	case e.taught == 0:
		return q.want == wantValue || q.want == wantPerson || q.counted != ""
	case q.counted != "":
		return !m.recalled.vouches(at) && !tallies(e.text)
	}
	return false
}

// placeOf returns where evidence stands.
func placeOf(e *evidence, candidates []Candidate) Place {
	c := candidates[e.candidate]
	return Place{c.DocumentID, c.Ordinal, e.sentence}
}

// faint is the coverage below which evidence that shares no word with the question is
// as much less sure, even where nothing better is there: in a collection, or under a
// tag, that does not speak of the matter.
const faint = 0.4

// faint tells whether evidence shares no word with what is asked about, and has little
// else of it. That it holds a figure of the right kind tells nothing.
func (e *evidence) faint(m *matcher) bool {
	return e.taught == 0 && e.named&^m.measured == 0 && e.coverage-m.share(m.measured) < faint
}

// compose fills in the answer from the evidence, best first.
func compose(out *Answer, q *question, m *matcher, found []evidence, candidates []Candidate, most int) {
	if len(found) > 0 {
		for i := range found[:min(len(found), agreeing)] {
			e := &found[i]
			e.said = gist(q, m, e, candidates[e.candidate].Passage)
		}
		out.Signals = signals(found)
		out.Confidence = out.Signals.confidence(m.calibration())
		if !found[0].fits && m.wantsForm(q, &found[0], placeOf(&found[0], candidates)) {
			out.Confidence *= formless
		}
		if found[0].literal == 0 || found[0].features.Misnumber == 1 {
			out.Confidence *= formless
		}
		if found[0].faint(m) || found[0].astray {
			out.Confidence *= formless
		}
		if found[0].defines {
			out.Confidence = max(out.Confidence, defined)
		}
		if found[0].taught == 1 {
			out.Confidence = 1 // somebody has said so
		}
	}
	if len(found) == 0 || out.Confidence < out.from {
		out.Text = refusal(q, candidates, len(found) > 0 && found[0].exact >= allSpoken)
		nearest := byEvidence(candidates, found)
		out.Nearest = nearestPassages(nearest)
		out.Missing = append(out.Missing, absent(m, nearest)...)
		return
	}
	out.State = Answered
	if out.Confidence < m.calibration().Whole && len(found[0].missing) > 0 {
		out.State = Partial
		out.Missing = append(out.Missing, found[0].missing...)
	}
	chosen := choose(q, m, found, candidates, most)
	for _, e := range chosen {
		cite(out, e, candidates[e.candidate])
	}
	top := candidates[found[0].candidate]
	from := found[0]
	if i := slices.IndexFunc(chosen, func(e evidence) bool { return e.fits }); i >= 0 && !from.fits {
		from = chosen[i]
	}
	if from.fits || q.want != wantQuantity {
		out.Short = capital(cmp.Or(short(q, m, from.text, top.Passage.Language), q.headed(headingOf(top.Passage)), pointsTo(q, from.text, top.Passage, top.Document.Title), from.label))
	}
	if torn(q, m, out.Short, found[0], chosen, candidates) {
		out.Short = "" // either might be meant, so neither is said first
	}
	if q.want == wantYesNo && out.State == Answered && !conditional.MatchString(from.text) && !measuring.MatchString(q.standalone) && affirms(&found[0]) && !confines(q, m, found[0].text, top.Passage.Language) && !(q.follows && m.own&^found[0].bits != 0) {
		out.Short = yesOrNo(q, found[0].text)
	}
	if other, ok := contrary(q, m, from, found, candidates); ok {
		c := candidates[other.candidate]
		cite(out, other, c)
		out.Statements[len(out.Statements)-1].Contrary = dated(c.Document)
	}
	out.Text = joinStatements(out)
}

// gist is what an answer comes to: its short answer, or how the list begins that any of
// its items brings. Empty where it is the sentence alone.
func gist(q *question, m *matcher, e *evidence, p *passage.Passage) string {
	if e.step {
		if list := listAround(*e, p); len(list) > 1 {
			return list[0].text
		}
	}
	return short(q, m, e.text, p.Language)
}

// torn tells whether something else that is said, and as good, gives another short
// answer.
func torn(q *question, m *matcher, said string, best evidence, chosen []evidence, candidates []Candidate) bool {
	return said != "" && !q.parts && !q.compare && slices.ContainsFunc(chosen, func(e evidence) bool {
		if !e.fits || e.score == 0 || e.candidate == best.candidate || better(e.score, best.score) < asGood {
			return false
		}
		return saysOtherwise(short(q, m, e.text, candidates[e.candidate].Passage.Language), said, best.text)
	})
}

// capital returns s with its first letter in upper case.
func capital(s string) string {
	if s == "" {
		return ""
	}
	first, n := utf8.DecodeRuneInString(s)
	return string(unicode.ToUpper(first)) + s[n:]
}

// choose takes the best evidence and what belongs with it: the other steps of
// a procedure, the other side of a comparison, sentences nearly as good that
// say something else.
func choose(q *question, m *matcher, found []evidence, candidates []Candidate, most int) []evidence {
	best := found[0]
	if q.want.several() || strings.HasSuffix(best.text, ":") {
		if steps := listAround(best, candidates[best.candidate].Passage); len(steps) > 1 {
			return steps
		}
	}
	if q.want == wantSteps {
		if steps := listAfter(best, candidates[best.candidate].Passage); len(steps) > 1 {
			return append([]evidence{best}, steps...)
		}
	}
	chosen := []evidence{best}
	if best.row {
		for _, e := range found[1:] {
			if len(chosen) < maxSteps && listed(&best, &e) && !repeats(chosen, e) {
				chosen = append(chosen, e)
			}
		}
		return chosen
	}
	if q.parts || q.compare {
		if other, ok := complement(m, found); ok {
			chosen = append(chosen, other)
		}
	}
	if before, ok := leansOn(best, candidates[best.candidate].Passage); ok {
		chosen = append([]evidence{before}, chosen...)
	}
	if next, ok := following(q, m, best, candidates[best.candidate]); ok {
		chosen = append(chosen, next)
	}
	least := asGood
	if q.compare {
		least = compared
	}
	for _, e := range found[1:] {
		likelihood := better(e.score, best.score)
		if len(chosen) >= most || likelihood < min(least, besides) {
			break
		}
		if likelihood < least && (q.want.certain() || !nearby(best, e)) {
			continue
		}
		// Beside a figure that was asked for, what has none says nothing more.
		if !repeats(chosen, e) && (e.fits || !best.fits || !q.want.certain()) {
			chosen = append(chosen, e)
		}
	}
	return chosen
}

// nearby tells whether two sentences stand in one passage, next to each other or
// with one between them.
func nearby(a, b evidence) bool {
	apart := a.sentence - b.sentence
	return a.candidate == b.candidate && apart >= -2 && apart <= 2
}

// absent returns the words asked about that the nearest passages lack.
func absent(m *matcher, candidates []Candidate) []string {
	var there uint64
	for _, c := range candidates[:min(len(candidates), maxNearest)] {
		there |= m.in(c.Document.Title+" "+c.Passage.SectionPath()+" "+c.Passage.Text, c.Passage.Language)
	}
	var out []string
	for t, term := range m.terms {
		if there&(1<<min(t, 63)) == 0 && term.Weight == 1 && !softWords[term.Word] {
			out = append(out, term.Word)
		}
	}
	return out
}

// following returns the sentence after one that says little more than the
// question did: "Sets the default lifetime of tickets. The default is 1 day."
func following(q *question, m *matcher, e evidence, c Candidate) (evidence, bool) {
	p := c.Passage
	next := e.sentence + 1
	leads := strings.HasSuffix(e.text, ":")
	if next >= len(p.Sentences) || p.Sentences[next].First && !leads || p.Sentences[e.sentence].Kind == layout.Table {
		return evidence{}, false
	}
	added := m.added(e.text, p.Language)
	wanting := !e.fits && q.want.certain() && q.want != wantPerson
	if added > restatement && !wanting && !leads {
		return evidence{}, false
	}
	s := p.Sentences[next]
	return evidence{candidate: e.candidate, sentence: next, text: p.Text[s.Start:s.End], fits: m.fits(q, p.Text[s.Start:s.End], s, p.Language)}, true
}

// leaning matches sentences that cannot be understood without the one before.
var (
	leaning = regexp.MustCompile(`^(?:This|These|That|Those|It|They|Such|He|She|Its|Their|Both)\b`)
	standby = regexp.MustCompile(`^It (?:is|was|may be|can be) (?:\w+ )?(?:that|to|not|possible|recommended|safe|good|best|a good)\b`)
)

// leansOn returns the sentence before one that speaks of "this" or "it", unless that does so
// too: then the section tells of what.
func leansOn(e evidence, p *passage.Passage) (evidence, bool) {
	s := p.Sentences[e.sentence]
	if s.First || e.sentence == 0 || s.Kind == layout.Table || !leaning.MatchString(e.text) || standby.MatchString(e.text) {
		return evidence{}, false
	}
	before := p.Sentences[e.sentence-1]
	if text := p.Text[before.Start:before.End]; leaning.MatchString(text) && !standby.MatchString(text) {
		return evidence{}, false
	}
	return evidence{candidate: e.candidate, sentence: e.sentence - 1, text: p.Text[before.Start:before.End]}, true
}

// substantial is how many bytes a word has at least that adds something.
const substantial = 3

// added counts the words of a sentence that the question has not.
func (m *matcher) added(s string, language text.Language) int {
	n := 0
	for _, t := range text.Tokens(s) {
		if t.End-t.Start >= substantial && m.in(s[t.Start:t.End], language) == 0 && !text.IsFunctionWord(t.Word, language) {
			n++
		}
	}
	return n
}

// complement returns the evidence that adds most of what the best one leaves
// open, if it is a good part of the question.
func complement(m *matcher, found []evidence) (evidence, bool) {
	best, most := evidence{}, 0.2
	for _, e := range found[1:] {
		likelihood := better(e.score, found[0].score)
		if likelihood < completing || repeats(found[:1], e) {
			continue
		}
		if gain := m.share(e.bits&^found[0].bits) * math.Sqrt(likelihood); gain > most {
			best, most = e, gain
		}
	}
	return best, best.text != ""
}

// repeats tells whether e says what one of the chosen says: most of its words
// and all of its numbers are theirs.
func repeats(chosen []evidence, e evidence) bool {
	for _, c := range chosen {
		a, b := wordSet(c.text), wordSet(e.text)
		shared, figures := 0, true
		for w := range b {
			if a[w] {
				shared++
			} else if w[0] >= '0' && w[0] <= '9' {
				figures = false
			}
		}
		if figures && shared*10 >= 7*min(len(a), len(b)) {
			return true
		}
	}
	return false
}

func wordSet(s string) map[string]bool {
	out := map[string]bool{}
	for _, t := range text.Tokens(s) {
		out[t.Word] = true
	}
	return out
}

// listAround returns the list that a sentence stands in or leads into, whole,
// with the sentence before it.
func listAround(e evidence, p *passage.Passage) []evidence {
	at := e.sentence
	if !isList(p, at) {
		if at+1 >= len(p.Sentences) || !isList(p, at+1) {
			return nil
		}
		at++
	}
	start, end := at, at+1
	for start > 0 && isList(p, start-1) {
		start--
	}
	for end < len(p.Sentences) && isList(p, end) {
		end++
	}
	if start > 0 && strings.HasSuffix(p.Text[:p.Sentences[start-1].End], ":") {
		start--
	}
	var out []evidence
	for i := start; i < min(end, start+maxSteps); i++ {
		s := p.Sentences[i]
		out = append(out, evidence{candidate: e.candidate, sentence: i, text: p.Text[s.Start:s.End]})
	}
	return out
}

// listAfter returns the list that the text a sentence stands in comes to.
func listAfter(e evidence, p *passage.Passage) []evidence {
	for i := e.sentence + 1; i < len(p.Sentences) && p.Sentences[i].Kind != layout.Table; i++ {
		if isList(p, i) {
			return listAround(evidence{candidate: e.candidate, sentence: i}, p)
		}
	}
	return nil
}

func isList(p *passage.Passage, i int) bool { return p.Sentences[i].Kind == "list" }

// cite adds a statement with its citation. Statements of one passage that
// stand next to each other share none: each is marked by itself.
func cite(out *Answer, e evidence, c Candidate) {
	citation := citation(e, c)
	citation.Number = len(out.Citations) + 1
	out.Citations = append(out.Citations, citation)
	out.Statements = append(out.Statements, Statement{Text: e.text, Citations: []int{citation.Number}})
}

// citation says where a piece of evidence stands; it has no number yet.
func citation(e evidence, c Candidate) Citation {
	s := c.Passage.Sentences[e.sentence]
	citation := Citation{
		DocumentID: c.DocumentID, Document: c.Document.Name, Title: c.Document.Title,
		Section: append([]string{}, c.Passage.Section...), Quote: e.text, Boxes: []Box{},
	}
	for _, m := range s.Marks {
		citation.Boxes = append(citation.Boxes, Box{m.Page, m.Box.X0, m.Box.Y0, m.Box.X1, m.Box.Y1})
	}
	if len(s.Marks) > 0 {
		citation.Page = s.Marks[0].Page
		citation.Label = label(c.Document, citation.Page)
	}
	return citation
}

func label(d Document, page int) string {
	if page >= 1 && page <= len(d.Labels) {
		return d.Labels[page-1]
	}
	return ""
}

// A sentence that begins with a condition says neither yes nor no; and one that has
// little of the question does not say it of what was asked.
var conditional = regexp.MustCompile(`(?i)^\W*(?:if|unless|when|whether|where|should|si|lorsque|wenn|falls|ob)\b`)

const affirming = 0.4

// covering is how much of what was asked has to stand in a sentence or around it for
// it to affirm anything.
const covering = 0.7

// measuring matches questions that set one thing against another, which takes two
// figures and a sum.
var measuring = regexp.MustCompile(`(?i)\b(?:more|less|\pL{3,}er) than \pL`)

func affirms(e *evidence) bool {
	return e.features.Inside+alike*e.features.Like >= affirming && e.features.Covered >= covering*covering
}

// confining matches words that leave everything else out.
var confining = regexp.MustCompile(`(?i)\b(?:only|alone|solely|exclusively|seulement|uniquement|nur|ausschließlich)\b`)

// confines tells whether a sentence speaks of some things alone, and the question of more
// than these: that flowers may be brought into the restaurant only says no yes to the
// Palm House.
func confines(q *question, m *matcher, s string, language text.Language) bool {
	return confining.MatchString(s) && !confining.MatchString(q.standalone) && m.own&^m.in(s, language) != 0
}

// What is optional is not required.
var (
	needs    = regexp.MustCompile(`\b(?:required|requires?|needed|necessary|mandatory|compulsory|obligatory|must|need|have to|has to)\b`)
	optional = regexp.MustCompile(`(?i)\b(?:optional|optionally|voluntary|voluntarily|unnecessary)\b`)
)

// yesOrNo reads the sentence's polarity, and says it in the question's language.
func yesOrNo(q *question, s string) string {
	denied := denial.MatchString(s) || needs.MatchString(foldedQuestion(q.standalone)) && optional.MatchString(s)
	switch {
	case q.language == "fr" && denied:
		return "Non"
	case q.language == "fr":
		return "Oui"
	case q.language == "de" && denied:
		return "Nein"
	case q.language == "de":
		return "Ja"
	case denied:
		return "No"
	}
	return "Yes"
}

// joinStatements words the whole answer as one text.
func joinStatements(out *Answer) string {
	var parts []string
	if out.Short != "" && (len(out.Statements) == 0 || out.Short != out.Statements[0].Text) {
		parts = append(parts, out.Short+".")
	}
	for _, s := range out.Statements {
		if s.Contrary != "" {
			parts = append(parts, "Otherwise in "+s.Contrary+":")
		}
		parts = append(parts, s.Text)
	}
	return strings.Join(parts, "\n")
}

// allSpoken is which share of what was asked about has to stand together, word for word, for
// the documents to speak of it, though no sentence surely answers.
const allSpoken = 0.99

// refusal says that nothing answers, or nothing surely where the documents speak of it all.
func refusal(q *question, candidates []Candidate, spoken bool) string {
	switch {
	case spoken && q.language == "fr":
		return "Les documents en parlent, mais ne le disent pas clairement."
	case spoken && q.language == "de":
		return "Die Dokumente sprechen davon, sagen es aber nicht klar."
	case spoken:
		return "The documents speak of it, but do not plainly say."
	case q.language == "fr":
		return "Les documents ne le disent pas."
	case q.language == "de":
		return "Die Dokumente sagen es nicht."
	case len(candidates) == 0:
		return "The documents do not say: no passage mentions what was asked."
	}
	return "The documents do not say."
}

func nearestPassages(candidates []Candidate) []Nearest {
	out := []Nearest{}
	for _, c := range candidates[:min(len(candidates), maxNearest)] {
		n := Nearest{
			DocumentID: c.DocumentID, Document: c.Document.Name, Title: c.Document.Title,
			Section: append([]string{}, c.Passage.Section...), Text: c.Passage.Text,
		}
		for i, s := range c.Passage.Sentences {
			n.Sentences = append(n.Sentences, Line{pageOf(c, i), c.Passage.Text[s.Start:s.End]})
		}
		if pages := c.Passage.Pages(); len(pages) > 0 {
			n.Page = pages[0]
			n.Label = label(c.Document, n.Page)
		}
		out = append(out, n)
	}
	return out
}
