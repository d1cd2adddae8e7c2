// Package draft proposes questions that a document answers, for a person to accept, edit or
// drop.
//
// A question is made of what can be asked without understanding: a sentence that defines
// something, a sentence with one quantity, a table's cell, steps under a heading. Each comes with
// the words that answer and the page and the quotation that prove them. A sentence becomes a
// question in its own words, so drafts are easier than what readers ask: they show what is
// covered and what is broken, and say nothing about accuracy until a person has made them his
// own.
package draft

import (
	"strings"

	"jardinet/layout"
	"jardinet/text"
)

// A Proposal is one question with its answer.
type Proposal struct {
	Question string
	Answer   string
	Quote    string // the words on the page that prove it
	Page     int
	Section  string
	Kind     Kind
	Natural  bool // worded as people ask
}

// A Kind is what a question was made of.
type Kind string

// Kinds of proposals.
const (
	Definition Kind = "definition"
	Quantity   Kind = "figure"
	Cell       Kind = "cell"
	Steps      Kind = "steps"
)

// A Section is a part of a document under one heading, with what can be asked about it.
type Section struct {
	Heading   string
	Page      int // where it begins
	Pages     int // that it is on
	Proposals []Proposal
}

// Sections takes a document apart and proposes questions for each section.
func Sections(doc *layout.Document) []Section {
	d := drafter{language: doc.Language, asked: map[string]bool{}, common: commonWords(doc)}
	for i := range doc.Pages {
		d.page(&doc.Pages[i])
	}
	d.endSteps()
	return d.sections
}

// Choose picks up to n proposals: from each section in turn, and in each from the kinds in
// turn, so that they are spread over the whole.
func Choose(sections []Section, n int) []Proposal {
	left := make([][]Proposal, len(sections))
	for i := range sections {
		left[i] = byTurns(sections[i].Proposals)
	}
	var out []Proposal
	for round := 0; len(out) < n; round++ {
		some := false
		for i := range left {
			if round < len(left[i]) && len(out) < n {
				out, some = append(out, left[i][round]), true
			}
		}
		if !some {
			break
		}
	}
	return out
}

// byTurns orders proposals so that their kinds alternate.
func byTurns(all []Proposal) []Proposal {
	of := map[Kind][]Proposal{}
	for _, p := range all {
		of[p.Kind] = append(of[p.Kind], p)
	}
	var out []Proposal
	for len(out) < len(all) {
		for _, k := range []Kind{Definition, Quantity, Cell, Steps} {
			if len(of[k]) > 0 {
				out, of[k] = append(out, of[k][0]), of[k][1:]
			}
		}
	}
	return out
}

type drafter struct {
	language text.Language
	sections []Section
	asked    map[string]bool // questions, so that none comes twice
	common   map[string]bool // words that are written small
	steps    []string        // list items since the last heading
	stepsOn  int             // page where they begin
}

// commonWords are the words that stand in small letters somewhere in a document: one that begins
// with a capital elsewhere is no name.
func commonWords(doc *layout.Document) map[string]bool {
	out := map[string]bool{}
	for i := range doc.Pages {
		for _, b := range doc.Pages[i].Blocks {
			for _, w := range strings.Fields(b.Text) {
				if w = strings.Trim(w, ".,;:()"); w != "" && w == strings.ToLower(w) {
					out[w] = true
				}
			}
		}
	}
	return out
}

func (d *drafter) page(p *layout.Page) {
	if p.Language != "" {
		d.language = p.Language
	}
	for i := range p.Blocks {
		b := &p.Blocks[i]
		if b.Kind == layout.Heading {
			d.endSteps()
			d.sections = append(d.sections, Section{Heading: strings.TrimSpace(b.Text), Page: p.Number})
			continue
		}
		if b.Kind == layout.Furniture || b.Kind == layout.Contents || len(d.sections) == 0 {
			continue
		}
		s := &d.sections[len(d.sections)-1]
		s.Pages = p.Number - s.Page + 1
		switch b.Kind {
		case layout.Paragraph:
			d.endSteps()
			d.sentences(b.Text, p.Number)
		case layout.ListItem:
			if len(d.steps) == 0 {
				d.stepsOn = p.Number
			}
			d.steps = append(d.steps, b.Text)
			d.sentences(withoutNumber(b.Text), p.Number)
		case layout.Table:
			d.table(b, p.Number)
		}
	}
}

func (d *drafter) sentences(s string, page int) {
	for _, at := range text.Sentences(s) {
		sentence := strings.TrimSpace(s[at.Start:at.End])
		if term, says := Defined(sentence, d.language); term != "" {
			d.propose(Proposal{Question: phrase(d.language).what(term), Answer: says, Quote: sentence, Page: page, Kind: Definition, Natural: true})
		} else if q, answer, natural := quantity(sentence, d.language, func(w string) bool { return d.common[w] }); q != "" {
			d.propose(Proposal{Question: q, Answer: answer, Quote: sentence, Page: page, Kind: Quantity, Natural: natural})
		}
	}
}

// propose adds a proposal to the last section, unless it has been made before.
func (d *drafter) propose(p Proposal) {
	key := text.Normal(p.Question)
	if d.asked[key] || p.Answer == "" {
		return
	}
	d.asked[key] = true
	s := &d.sections[len(d.sections)-1]
	p.Section = s.Heading
	s.Proposals = append(s.Proposals, p)
}

// Steps are worth asking for where there are so many of them.
const leastSteps = 3

// endSteps asks for the steps that have been gathered, if they are numbered.
func (d *drafter) endSteps() {
	steps := d.steps
	d.steps = nil
	if len(steps) < leastSteps || len(d.sections) == 0 {
		return
	}
	for _, s := range steps {
		if withoutNumber(s) == s {
			return
		}
	}
	heading := withoutNumber(d.sections[len(d.sections)-1].Heading)
	first := withoutNumber(steps[0])
	d.propose(Proposal{Question: phrase(d.language).steps(heading), Answer: clause(first, mostAnswer), Quote: first, Page: d.stepsOn, Kind: Steps})
}

// withoutNumber takes a number or a letter off the front of a step or a heading.
func withoutNumber(s string) string {
	word, rest, ok := strings.Cut(strings.TrimSpace(s), " ")
	bare := strings.TrimRight(word, ".)")
	if !ok || bare == "" || len(bare) > 8 || strings.Trim(bare, "0123456789.") != "" && (bare == word || len(bare) > 1) {
		return s
	}
	return strings.TrimSpace(rest)
}

// mostAnswer is how many words of a sentence are taken for an answer.
const mostAnswer = 12

// clause returns the beginning of a sentence, up to its first break after some words, or so
// many of them.
func clause(s string, most int) string {
	words := strings.Fields(s)
	for i, w := range words {
		if i >= most {
			return strings.Join(words[:most], " ")
		}
		if i >= 2 && strings.ContainsAny(w[len(w)-1:], ",;:") {
			words = words[:i+1]
			break
		}
	}
	return strings.TrimRight(strings.Join(words, " "), ".,;: ")
}
