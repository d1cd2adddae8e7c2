package answer

import (
	"cmp"
	"maps"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"jardinet/layout"
	"jardinet/passage"
	"jardinet/reader"
	"jardinet/text"
)

// Bounds on what is said.
const (
	mostSaid    = 3  // statements, if the style says nothing
	mostItems   = 30 // of a list
	mostNearest = 3
	surely      = 0.7 // probability from which a yes, a no or a list is meant
)

// compose fills in the answer from what was found, the best first.
func (a *Answerer) compose(out *Answer, s *Search, found []finding) {
	c := calibrated()
	from := cmp.Or(a.Style.Certain, c.From)
	found = slices.DeleteFunc(slices.Clone(found), func(f finding) bool {
		candidate := &s.Candidates[f.candidate]
		return a.Style.omits(sentence(candidate.Passage, f.best), candidate.Passage.Section)
	})
	if len(found) > 0 {
		out.Signals = signals(s, found)
		out.Confidence = out.Signals.confidence(c)
		if out.Taught = found[0].taught; out.Taught {
			out.Confidence = 1 // somebody has said so
		}
	}
	if len(found) == 0 || out.Confidence < from {
		out.Maybe = out.Confidence >= min(c.Maybe, from) && len(found) > 0
		out.Nearest = nearest(s, found)
		out.Missing = append(out.Missing, absent(s, found)...)
		out.Text = refusal(s.Language, out.Maybe)
		return
	}
	out.State = Answered
	best := &found[0]
	p := s.Candidates[best.candidate].Passage
	sentences, list := a.shown(p, best)
	out.List = list
	for _, i := range sentences {
		cite(out, s, best.candidate, i)
	}
	out.Short, out.Verdict = short(s.Language, p, best, len(sentences), list, c.Words)
	if other, ok := contrary(s, found); ok {
		cite(out, s, other.candidate, other.best)
		out.Statements[len(out.Statements)-1].Contrary = dated(s.Candidates[other.candidate].Document)
	}
	out.Text = joined(out)
}

func sentence(p *passage.Passage, i int) string {
	return p.Text[p.Sentences[i].Start:p.Sentences[i].End]
}

// shown returns the sentences that make the answer: the run around the one that proves, or
// the whole list that it stands in or leads to, if a list is asked for.
func (a *Answerer) shown(p *passage.Passage, f *finding) (sentences []int, list bool) {
	if f.reading.Shape[reader.List] >= surely || strings.HasSuffix(sentence(p, f.best), ":") {
		if first, last := listAround(p, f.best); last > first {
			return between(first, min(last, first+mostItems-1)), true
		}
	}
	first, last := f.first, f.last
	most := mostSaid
	if a.Style.Statements > 0 {
		most = a.Style.Statements
	}
	for last-first+1 > most {
		if f.reading.Evidence[first] < f.reading.Evidence[last] && first < f.best || last == f.best {
			first++
		} else {
			last--
		}
	}
	return between(first, last), false
}

func between(first, last int) []int {
	var out []int
	for i := first; i <= last; i++ {
		out = append(out, i)
	}
	return out
}

// listAround returns the first and last sentence of the list that a sentence stands in or
// leads to, with what leads to it.
func listAround(p *passage.Passage, at int) (first, last int) {
	isItem := func(i int) bool { return i >= 0 && i < len(p.Sentences) && p.Sentences[i].Kind == layout.ListItem }
	if !isItem(at) {
		if !isItem(at + 1) {
			return at, at
		}
		at++
	}
	first, last = at, at
	for isItem(first - 1) {
		first--
	}
	for isItem(last + 1) {
		last++
	}
	if first > 0 && strings.HasSuffix(sentence(p, first-1), ":") {
		first--
	}
	return first, last
}

// short returns the words that answer, and whether they are a yes or a no. They are empty
// where the statements say it best themselves.
func short(language text.Language, p *passage.Passage, f *finding, statements int, list bool, from float64) (words, verdict string) {
	switch {
	case list:
		return "", ""
	case f.reading.Polarity[reader.Yes] >= surely:
		return phrasesIn(language).yes, "yes"
	case f.reading.Polarity[reader.No] >= surely:
		return phrasesIn(language).no, "no"
	case f.from == f.to || f.sure < from && countWords(sentence(p, f.best)) <= MostHeadline:
		return "", ""
	}
	words = p.Text[f.from:f.to]
	if statements == 1 && words == strings.TrimRight(sentence(p, f.best), ".") {
		return "", "" // the statement says no more
	}
	return capital(words), ""
}

// Phrases are what answers say in their own words.
type phrases struct{ yes, no, unsaid, unclear string }

var phrasesOf = map[text.Language]phrases{
	text.English: {"Yes", "No", "The documents do not say.", "The documents do not plainly say."},
	"fr":         {"Oui", "Non", "Les documents ne le disent pas.", "Les documents ne le disent pas clairement."},
	"de":         {"Ja", "Nein", "Die Dokumente sagen es nicht.", "Die Dokumente sagen es nicht klar."},
}

// phrasesIn returns the phrases of a language, English for one that has none.
func phrasesIn(language text.Language) phrases {
	if p, ok := phrasesOf[language]; ok {
		return p
	}
	return phrasesOf[text.English]
}

// capital returns words with a great first letter, if the first is of small letters alone.
func capital(s string) string {
	first, _, _ := strings.Cut(s, " ")
	if first == "" || strings.ContainsFunc(first, func(r rune) bool { return !unicode.IsLower(r) }) {
		return s
	}
	r, n := utf8.DecodeRuneInString(s)
	return string(unicode.ToUpper(r)) + s[n:]
}

// cite adds a statement with its citation.
func cite(out *Answer, s *Search, candidate, i int) {
	c := citation(&s.Candidates[candidate], i)
	c.Number = len(out.Citations) + 1
	out.Citations = append(out.Citations, c)
	out.Statements = append(out.Statements, Statement{Text: c.Quote, Citations: []int{c.Number}})
}

// citation says where a sentence of a candidate stands; it has no number yet.
func citation(c *Candidate, i int) Citation {
	out := Citation{
		DocumentID: c.DocumentID, Document: c.Document.Name, Title: c.Document.Title,
		Section: append([]string{}, c.Passage.Section...), Quote: sentence(c.Passage, i), Boxes: []Box{},
	}
	for _, m := range c.Passage.Sentences[i].Marks {
		out.Boxes = append(out.Boxes, Box{m.Page, m.Box.X0, m.Box.Y0, m.Box.X1, m.Box.Y1})
	}
	if len(out.Boxes) > 0 {
		out.Page = out.Boxes[0].Page
		out.Label = label(c.Document, out.Page)
	}
	return out
}

func label(d Document, page int) string {
	if page >= 1 && page <= len(d.Labels) {
		return d.Labels[page-1]
	}
	return ""
}

// joined words the whole answer as one text.
func joined(out *Answer) string {
	var parts []string
	if out.Short != "" {
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

// refusal says that nothing answers, or nothing surely.
func refusal(language text.Language, maybe bool) string {
	if maybe {
		return phrasesIn(language).unclear
	}
	return phrasesIn(language).unsaid
}

// nearest returns the passages that come closest to answering.
func nearest(s *Search, found []finding) []Nearest {
	out := []Nearest{}
	for _, f := range found[:min(len(found), mostNearest)] {
		c := &s.Candidates[f.candidate]
		n := Nearest{
			DocumentID: c.DocumentID, Document: c.Document.Name, Title: c.Document.Title,
			Section: append([]string{}, c.Passage.Section...), Text: c.Passage.Text,
		}
		for i := range c.Passage.Sentences {
			at := citation(c, i)
			line := Line{Page: at.Page, Text: at.Quote, Closest: i >= f.first && i <= f.last}
			if line.Closest {
				line.Boxes = at.Boxes
			}
			n.Sentences = append(n.Sentences, line)
		}
		if pages := c.Passage.Pages(); len(pages) > 0 {
			n.Page = pages[0]
			n.Label = label(c.Document, n.Page)
		}
		out = append(out, n)
	}
	return out
}

// absent returns the words asked about that the nearest passages lack.
func absent(s *Search, found []finding) []string {
	there := map[string]bool{}
	for _, f := range found[:min(len(found), mostNearest)] {
		c := &s.Candidates[f.candidate]
		maps.Copy(there, forms(heading(c)+"\n"+c.Passage.Text, text.NewStemmer(c.Passage.Language)))
	}
	stemmer := text.NewStemmer(s.Language)
	var out []string
	for _, t := range s.Query.Terms {
		if t.Weight == 1 && !there[t.Word] && !there[stemmer.Stem(t.Word)] && !slices.Contains(out, t.Word) {
			out = append(out, t.Word)
		}
	}
	return out
}
