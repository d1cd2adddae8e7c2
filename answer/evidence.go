package answer

import (
	"cmp"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"unicode"
	"unicode/utf8"

	"jardinet/index"
	"jardinet/layout"
	"jardinet/passage"
	"jardinet/rank"
	"jardinet/text"
	"jardinet/wording"
)

// Evidence is a sentence that may answer.
type evidence struct {
	candidate int // in the order of retrieval
	sentence  int
	text      string
	features  Features
	score     float64 // better compares two
	coverage  float64 // share of what was asked about that stands here or around
	fits      bool    // holds the kind of thing that was asked for
	step      bool    // is an item of a list, where a list is asked for
	row       bool    // is a row that has all that was asked, where a list is asked for
	label     string  // the name of such a row, where that is what was asked for: "C1", of stores
	defines   bool    // is the definition, the recipe or the procedure that is asked for
	missing   []string
	gap       float64 // worth of the weightiest term that is missing, of all
	literal   float64 // share of the question's literals that stand here or close by
	apart     bool    // lacks the attribute that was asked about
	bits      uint64  // terms that stand in the sentence or its section
	outdated  bool    // stands in an edition that is not the one that counts
	astray    bool    // has only what a follow-up took over, and nothing that it says itself
	said      string  // the short answer in it, for the best ones alone
	nobody    float64 // 1 if a person is asked for and none is said
	exact     float64 // share of what was asked about that stands here or around word for word
	named     uint64  // terms that stand word for word in it, beside it, in its section or its title
	near      float64 // share of what was asked about that stands in it, beside it, in its section or its title
	missed    float64 // share of what was asked about that the documents call so, but nothing near
	swapped   float64 // the same of what stands near by words of like meaning alone
	few       float64 // reciprocal of how many words the question has to be found by
	taught    float64 // how likely lessons make it
	passage   rank.Features
}

// listed tells whether two pieces of evidence are rows of a table that each have all that
// was asked: "which products are used against mildew" is answered by both.
func listed(a, b *evidence) bool { return a.row && b.row && a.features.Inside == b.features.Inside }

// oneOf tells whether a row is named for the kind of thing that is asked for, or has a cell
// of it, and has something else that was asked for in a cell, "Against: mildew"; and by
// which name it goes, if that answers.
func (m *matcher) oneOf(q *question, row, of string, language text.Language) (ok bool, label string) {
	cells := strings.Split(row, " · ")
	named, holds := m.isOf(q.kind, of, language), false
	if named && !asked(m, cells[0], language) {
		label = cells[0]
	}
	for _, cell := range cells[1:] {
		name, value, _ := strings.Cut(cell, ": ")
		named = named || m.isOf(q.kind, name, language)
		holds = holds || m.in(value, language)&m.own != 0
	}
	return named && holds, label
}

// outOfDate is how much evidence has to be better that stands in an older edition,
// or in another than the one that was asked for.
const outOfDate = 2

// offTheTrack is how much evidence has to be better that has nothing of what a
// follow-up says itself: "how long may I stay in there" after a question about an
// alarm is not about the alarm.
const offTheTrack = 2

// shown is how much better evidence is that somebody has shown for the very question.
const shown = 20

// How much better evidence is that is the definition of what is asked about, and that is an
// instruction under the heading of what is asked how to do.
const (
	defining    = 3
	instructing = 2
)

// numberedItem matches a step of a procedure.
var numberedItem = regexp.MustCompile(`^\d+[.)]\s`)

// alike is what a word of like meaning counts for.
const alike = 0.65

// What a word of the question counts for when it stands not in the sentence
// but near it.
const (
	inNeighbour = 0.75
	inSection   = 0.8
	inPassage   = 0.5
	inTitle     = 0.8
)

// hopeless is the coverage below which nothing makes a sentence an answer; it
// spares looking into it.
const hopeless = 0.2

// gather scores every sentence of the candidates, the best first.
func gather(q *question, m *matcher, candidates []Candidate) []evidence {
	if len(candidates) == 0 || m.total == 0 {
		return nil
	}
	outdated, named := superseded(q, candidates), m.named(candidates)
	found := make([][]evidence, len(candidates))
	readers := m.asked.Readers()
	if q.superlative != nil {
		m.extremes = m.with(readers[0]).greatest(q.superlative, candidates)
		m.weighSuperlative(q.superlative)
	}
	var group sync.WaitGroup
	for w, reader := range readers {
		group.Go(func() {
			m := m.with(reader)
			for i := w; i < len(candidates); i += len(readers) {
				c := candidates[i]
				found[i] = m.sentences(q, i, c, c.Score-candidates[0].Score, named, outdated[c.DocumentID])
			}
		})
	}
	group.Wait()
	out := slices.Concat(found...)
	byScore := func(a, b evidence) int { return cmp.Compare(b.score, a.score) }
	slices.SortStableFunc(out, byScore)
	out = once(out, candidates)
	slices.SortStableFunc(out, byScore)
	return out
}

// once leaves of what stands word for word in several places the best; it is as likely as
// all of them together. Rows say the same under the same headings alone.
func once(found []evidence, candidates []Candidate) []evidence {
	first := map[string]int{}
	out := found[:0]
	for _, e := range found {
		key := e.text
		if strings.Contains(e.text, " · ") {
			key += "\n" + candidates[e.candidate].Passage.SectionPath()
		}
		at, known := first[key]
		if !known {
			first[key] = len(out)
			out = append(out, e)
			continue
		}
		out[at].score += math.Log1p(better(e.score, out[at].score))
	}
	return out
}

// named returns the terms of the question that stand in the titles of some of the
// documents found, but of no more than half of them.
func (m *matcher) named(candidates []Candidate) uint64 {
	in := make([]int, len(m.terms))
	seen := map[string]bool{}
	for _, c := range candidates {
		if seen[c.DocumentID] {
			continue
		}
		seen[c.DocumentID] = true
		bits := m.in(c.Document.called(), c.Passage.Language)
		for t := range in {
			if bits&(1<<min(t, 63)) != 0 {
				in[t]++
			}
		}
	}
	var out uint64
	for t, n := range in {
		if n > 0 && n*2 <= len(seen) && !softWords[m.terms[t].Word] {
			out |= 1 << min(t, 63)
		}
	}
	return out
}

// weights are those of the features.
func (m *matcher) weights() []float64 {
	if m.recalled != nil {
		return taughtWeights()
	}
	return evidenceWeights()
}

// calibration is how the confidence is worked out.
func (m *matcher) calibration() *calibration {
	if m.recalled != nil {
		return &schooled().Calibration
	}
	return calibrated()
}

// surround looks at what the sentences of a passage share.
func (m *matcher) surround(q *question, number int, c Candidate, standing float64, named uint64) surroundings {
	p, title := c.Passage, c.Document.called()
	around := surroundings{
		section: m.marks(p.SectionPath(), p.Language), title: m.titled(title, p.Language), named: named,
		own: headingOf(p), scope: p.SectionPath() + " " + title, spans: make([]wording.Span, len(p.Sentences)), standing: standing,
	}
	if q.want == wantSteps && q.steps {
		own := m.marks(around.own, p.Language)
		around.heading = m.share(own.exact) + alike*m.share(own.like)
	}
	around.dated = q.headed(around.own) != ""
	around.told = m.headedBy(q, around.own, around.title.exact, p.Language)
	switch {
	case q.superlative != nil:
		around.bands = m.extremes[number]
	case q.identity, q.want == wantDate && len(q.amounts) == 0:
		around.bands = m.holders(p)
	default:
		around.bands = bands(p, q.amounts)
	}
	reading := m.reader.Read(p.Text, p.Language)
	for i, s := range p.Sentences {
		around.spans[i] = reading.Span(s.Start, s.End)
		around.whole = around.whole.or(marks{around.spans[i].Exact, around.spans[i].Alike})
	}
	return around
}

// inside returns which terms of the question a sentence has, and whether it holds the kind
// of thing asked for. The greatest of a column need not be called so, nor a rule for an
// amount name it; "up to £200" is not about more, and "extension 200" about no money.
func (m *matcher) inside(q *question, p *passage.Passage, i int, around *surroundings) (there marks, fits bool) {
	span, band, s := &around.spans[i], around.bands[i], p.Sentences[i]
	said := p.Text[s.Start:s.End]
	there = marks{span.Exact, span.Alike}
	if q.superlative != nil && band > 0 {
		there = there.or(marks{exact: m.superlative})
	}
	switch {
	case m.amount == 0:
	case band > 0:
		there = there.or(marks{exact: m.amount})
	case band < 0, !strings.ContainsAny(said, "£€$"):
		there.exact &^= m.amount
	}
	fits = m.fits(q, said, s, p.Language) || around.dated || q.picks() && (band > 0 || there.exact&m.superlative != 0)
	fits = fits && !q.denies(said) && (q.named == nil || q.named.MatchString(said+" "+around.own))
	// 104 m³ is a volume, and 2.4 kilometres long is how long something is.
	if fits && (q.measure == nil || q.measure.MatchString(said)) {
		there = there.or(marks{exact: m.measured})
	}
	span.Exact = there.exact
	return there, fits
}

// sentences scores the sentences of one passage.
func (m *matcher) sentences(q *question, number int, c Candidate, standing float64, named uint64, outdated bool) []evidence {
	p, title := c.Passage, c.Document.called()
	if isContents(p) {
		return nil
	}
	around := m.surround(q, number, c, standing, named)
	var out []evidence
	var label marks
	entry := "" // the line with that label
	for i, s := range p.Sentences {
		if s.Kind == layout.Table && m.superlative != 0 && q.picks() && around.bands[i] == 0 {
			continue // what is compared with nothing is not the greatest, where something else is
		}
		e := evidence{candidate: number, sentence: i, text: p.Text[s.Start:s.End], passage: c.Features, few: m.few, outdated: outdated}
		var inside marks
		inside, e.fits = m.inside(q, p, i, &around)
		together := []wording.Span{around.spans[i]}
		under := label
		if s.Row != "" {
			under = under.or(m.titled(s.Row, p.Language)) // a row is an entry under the name of its first column
		}
		near := beside(p, around.spans, i, func(s wording.Span) { together = append(together, s) })
		place := Place{c.DocumentID, c.Ordinal, i}
		told, taught := m.recalled.of(place)
		m.cover(&e, inside, near, around.section.or(under).or(told), around.title, around.whole)
		close := inside.or(near).or(around.section).or(under).or(around.title).or(told)
		e.named, e.exact = close.exact, m.share(close.exact)
		e.near = e.exact + alike*m.share(close.like)
		e.missed, e.swapped = m.share(m.current&^close.any()), m.share(m.current&close.like)
		if isLabel(e.text, s.Kind, around.spans[i].Words) {
			label, entry = inside, e.text
		}
		e.taught = taught
		if e.coverage < hopeless && e.taught == 0 {
			continue
		}
		e.bits = inside.any() | around.section.any() | under.any()
		e.nobody = one(q.want == wantPerson && !e.fits)
		e.step = s.Kind == layout.ListItem && q.want.several()
		if s.Kind == layout.Table && q.want.several() && q.superlative == nil && m.own&^inside.or(around.section).or(under).exact == 0 {
			e.row, e.label = m.oneOf(q, e.text, s.Row, p.Language)
		}
		// A quantity of the right dimension needs no name: 14 °C is a temperature.
		// What was done has to be said of it, and not of something beside it.
		found := e.bits
		if !q.byVerb {
			found |= near.any()
		}
		e.apart = m.lacks(q, found) && !(e.fits && q.want == wantQuantity && q.units != nil)
		e.literal = m.literals(p, i, entry, title)
		e.defines = m.answersByForm(q, e.text, s.Kind, &around, title, p.Language)
		e.features = m.features(q, &e, p, &around, under, told, wording.Cosine(together...))
		e.features.follow(m.thread, place)
		e.astray = m.astray(q, &e, s.Kind, inside.or(near).or(around.section).or(under))
		e.score = e.features.score(m.weights(), e.outdated, e.astray) + e.worthOfForm(s.Kind, &around)
		out = append(out, e)
	}
	return out
}

// answersByForm tells whether a sentence is the definition, the recipe or a step of the
// procedure that is asked for.
func (m *matcher) answersByForm(q *question, s string, kind layout.Kind, around *surroundings, title string, language text.Language) bool {
	return m.isDefinition(q, s, title, language) || m.isRecipe(q, s, around.section.exact|around.title.exact, language) ||
		around.told && kind == layout.ListItem && numberedItem.MatchString(s)
}

// worthOfForm is how much better evidence is for what it is by its form, or because
// somebody has shown it.
func (e *evidence) worthOfForm(kind layout.Kind, around *surroundings) (worth float64) {
	switch {
	case e.defines:
		worth = defining
	case around.told && (kind == layout.ListItem || orders.MatchString(e.text)):
		worth = instructing
	}
	if e.taught == 1 {
		worth += shown
	}
	return worth
}

// astray tells whether evidence is about something else than what is asked, by what
// follow-ups say themselves, by its contrary, or since it was told already.
func (m *matcher) astray(q *question, e *evidence, kind layout.Kind, there marks) bool {
	return (q.follows || q.names) && m.strays(q, there) || q.staysElsewhere(e.text) || q.turnsRound(e.text) ||
		e.features.Again == 1 && kind != layout.Table && asksOn.MatchString(foldedQuestion(q.standalone)) && !asksOn.MatchString(e.text)
}

// strays tells whether nothing of what a follow-up says itself is among the marks of some
// evidence. What is only named goes by its own name, where the documents have that.
func (m *matcher) strays(q *question, there marks) bool {
	like := there.like
	if q.names {
		like &^= m.current
	}
	return m.own != 0 && (there.exact|like)&m.own == 0
}

// leads matches a line of a table of contents or of an index: a heading and a page.
var leads = regexp.MustCompile(`^(.{3,}?)(?: · |\s*\.{2,}\s*|\s)([ivxlc]{1,6}|\d{1,4})$`)

// pageSigns are what a page's number may end in.
const pageSigns = "0123456789ivxlc"

// contentsLines are how many lines a table of contents has at least.
const contentsLines = 5

// isContents tells whether a passage is a table of contents: most of its lines end in
// a page, and the pages grow. What stands in it says where and not what.
func isContents(p *passage.Passage) bool {
	if len(p.Sentences) < contentsLines {
		return false
	}
	lines, last := 0, 0
	for _, s := range p.Sentences {
		line := p.Text[s.Start:s.End]
		if line == "" || strings.IndexByte(pageSigns, line[len(line)-1]) < 0 {
			continue // spares most sentences the pattern
		}
		m := leads.FindStringSubmatch(line)
		if m == nil || strings.Contains(m[1], ": ") || strings.Contains(m[1], " · ") {
			continue
		}
		page, err := strconv.Atoi(m[2])
		if err == nil && page < last {
			return false
		}
		lines, last = lines+1, max(last, page)
	}
	return lines >= contentsLines && lines*4 >= len(p.Sentences)*3
}

// labelWords are how many words a line has at most that others are entries under.
const labelWords = 5

// isLabel tells whether a sentence is a line that what follows is an entry under:
// the synopsis of a command, a term, "For example:".
func isLabel(s string, kind layout.Kind, words int) bool {
	return kind != layout.Table && s != "" && (strings.HasSuffix(s, ":") || words <= labelWords && !strings.ContainsAny(s[len(s)-1:], ".!?") || isListing(s))
}

// cover sums what the sentence and its surroundings hold of the question.
func (m *matcher) cover(e *evidence, inside, near, section, title, whole marks) {
	for t, worth := range m.worth {
		bit := uint64(1) << min(t, 63)
		share := 0.0
		for _, at := range []struct {
			marks
			share float64
		}{{inside, 1}, {section, inSection}, {title, inTitle}, {near, inNeighbour}, {whole, inPassage}} {
			if at.exact&bit != 0 {
				share = max(share, at.share)
			} else if at.like&bit != 0 {
				share = max(share, alike*at.share)
			}
		}
		if share == 0 {
			e.gap = max(e.gap, worth/m.total)
			if m.terms[t].Weight == 1 && worth > 0.6*m.total/float64(len(m.worth)) {
				e.missing = append(e.missing, m.terms[t].Word)
			}
		}
		e.coverage += share * worth
	}
	e.coverage /= m.total
}

// literals returns the share of the question's literals, by their IDF, that stand
// in a sentence or, for less, around it; 1 if it has none.
func (m *matcher) literals(p *passage.Passage, i int, entry, title string) float64 {
	if len(m.asked.Literals) == 0 {
		return 1
	}
	sum, all := 0.0, 0.0
	for k, l := range m.asked.Literals {
		worth := m.literalWorth[k]
		all += worth
		switch {
		case rank.Holds(p.Text[p.Sentences[i].Start:p.Sentences[i].End], l):
			sum += worth
		case rank.Holds(entry, l), rank.Holds(p.SectionPath(), l), rank.Holds(title, l):
			sum += inSection * worth
		case rank.Holds(p.Text, l):
			sum += inPassage * worth
		}
	}
	return sum / all
}

// worthOfLiteral is the IDF of a literal's rarest word: a name that stands on every
// page tells little.
func worthOfLiteral(literal string, terms []index.Term) float64 {
	worth := 0.1
	for _, token := range text.Tokens(literal) {
		for _, term := range terms {
			if term.Word == token.Word {
				worth = max(worth, term.IDF)
			}
		}
	}
	return worth
}

// lacks tells whether the attribute asked about is not among the terms found.
func (m *matcher) lacks(q *question, found uint64) bool {
	for t, term := range m.terms {
		if term.Word == q.attribute && term.Weight == 1 {
			return found&(1<<min(t, 63)) == 0
		}
	}
	return false
}

// isListing tells whether a text is code, a synopsis or a formula rather than
// language: less than two thirds of it are letters and spaces, or signs that
// language hardly uses make up a twentieth.
func isListing(s string) bool {
	plain, signs := 0, 0
	for _, r := range s {
		switch {
		case unicode.IsLetter(r) || r == ' ':
			plain++
		case strings.ContainsRune("{}[]<>|=$\\#_", r):
			signs++
		}
	}
	n := utf8.RuneCountInString(s)
	return n > 20 && (plain*3 < n*2 || signs*20 > n)
}

// totals are the names of rows that speak of all rows.
var totals = words("together total totals all sum overall ensemble gesamt")

// isTotal tells whether a row sums the others up.
func isTotal(row string) bool {
	name, _, _ := strings.Cut(row, " · ")
	return slices.ContainsFunc(text.Tokens(name), func(t text.Token) bool { return totals[t.Word] })
}

// otherRow tells whether a table's row is named for something that the
// question does not speak of.
func (m *matcher) otherRow(s string, language text.Language) bool {
	name, _, _ := strings.Cut(s, " · ")
	return !isTotal(s) && m.in(name, language) == 0
}
