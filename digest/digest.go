// Package digest says what a document holds at a glance, in the document's own words: its outline,
// the sentences that say most, what it defines, its dates, figures and duties, and its tables. All of
// it is taken from what was read, nothing is worded anew, and each line has its page.
//
// What can be stated exactly is found by the grammar of dates, numbers and modal verbs; which
// sentences say most is decided by the vectors of the encoder (Lin and Bilmes, 2011).
package digest

import (
	"context"
	"strings"

	"jardinet/draft"
	"jardinet/layout"
	"jardinet/pdf"
	"jardinet/rank"
	"jardinet/text"
)

// A Digest is what a document holds at a glance.
type Digest struct {
	Outline  []Entry
	Summary  []Quote   // the sentences that say most of all, in their order
	Page     []Quote   // about a page of them
	Chapters []Chapter // the same of each chapter
	Terms    []Term
	Dates    []Date
	Figures  []Figure
	Duties   []Duty
	Offices  []Office
}

// A Chapter is a part of the first level of the outline.
type Chapter struct {
	Title   string
	Page    int
	Summary []Quote
}

// A Term is what a document defines or writes short.
type Term struct {
	Term  string
	Means string
	Short bool // an abbreviation
	Quote Quote
}

// An Encode gives each text a vector of length one.
type Encode func(ctx context.Context, texts []string, language text.Language) ([][]float32, error)

// Of makes the digest of a document. Bookmarks are the file's. Its error is that of the encoder.
func Of(ctx context.Context, doc *layout.Document, bookmarks []pdf.Bookmark, encode Encode) (*Digest, error) {
	all := lines(doc)
	numbers := quantities(all)
	d := &Digest{
		Outline: Outline(doc, bookmarks), Terms: terms(all), Dates: dates(all, numbers), Figures: figures(all, numbers),
	}
	if err := d.findDuties(ctx, all, encode); err != nil {
		return nil, err
	}
	return d, d.summarise(ctx, all, encode)
}

// findDuties finds the duties, and who has them.
func (d *Digest) findDuties(ctx context.Context, all []Quote, encode Encode) error {
	names := map[string]text.Language{}
	for i := range all {
		if who := custom(&all[i]); who != "" {
			names[who] = all[i].language
		}
	}
	known, err := people(ctx, names, encode)
	if err != nil {
		return err
	}
	var tasks []Quote
	clear(names)
	for i := range all {
		if duty, ok := dutyIn(&all[i], func(name string) bool { return known[name] }); ok {
			d.Duties = append(d.Duties, duty)
		} else if who := doer(&all[i]); who != "" {
			tasks = append(tasks, all[i])
			names[who] = all[i].language
		}
	}
	for _, duty := range d.Duties {
		if name := withoutArticle(duty.Who); name != "" {
			names[name] = duty.Quote.language
		}
	}
	if known, err = people(ctx, names, encode); err != nil {
		return err
	}
	d.Offices = offices(d.Duties, tasks, known)
	return nil
}

// terms are what the lines define, each once.
func terms(all []Quote) []Term {
	var out []Term
	seen := map[string]bool{}
	add := func(t Term) {
		if key := text.Normal(t.Term); !seen[key] {
			seen[key] = true
			out = append(out, t)
		}
	}
	for _, q := range all {
		for _, e := range rank.Abbreviations(q.Text) {
			add(Term{Term: e.Term, Means: e.Means, Short: true, Quote: q})
		}
		if !q.isProse() {
			continue
		}
		if term, says := draft.Defined(q.Text, q.language); term != "" {
			add(Term{Term: withoutArticle(term), Means: says, Quote: q})
		}
	}
	return out
}

var articles = map[string]bool{"the": true, "a": true, "an": true, "le": true, "la": true, "les": true, "un": true, "une": true, "der": true, "die": true, "das": true, "ein": true, "eine": true}

func withoutArticle(s string) string {
	if first, rest, ok := strings.Cut(s, " "); ok && articles[strings.ToLower(first)] {
		return rest
	}
	return s
}
