package digest

import (
	"strings"

	"jardinet/layout"
	"jardinet/passage"
	"jardinet/text"
)

// A Quote is words of a document and where they stand.
type Quote struct {
	Text    string
	Page    int      // physical; the first, if they stand on two
	Section []string // headings from the outermost to the innermost
	Marks   passage.Marks
	Kind    layout.Kind // paragraph if empty
	Row     string      // of a row: the name of its table's first column
	First   bool        // begins its block

	language text.Language
	number   int // of all lines of the document
	passage  int // that it is in
}

// lines cuts a document into its sentences and rows, in their order.
func lines(doc *layout.Document) []Quote {
	var out []Quote
	for i, p := range passage.Split(doc, passage.Recipe{Target: 100}) {
		for _, s := range p.Sentences {
			q := Quote{
				Text: strings.TrimSpace(p.Text[s.Start:s.End]), Section: p.Section, Marks: s.Marks, Kind: s.Kind, Row: s.Row, First: s.First,
				language: p.Language, number: len(out), passage: i,
			}
			if len(s.Marks) > 0 {
				q.Page = s.Marks[0].Page
			}
			if q.Text != "" {
				out = append(out, q)
			}
		}
	}
	return out
}

// isProse tells whether a line is a sentence of running text or an item.
func (q *Quote) isProse() bool {
	return q.Kind == "" || q.Kind == layout.Paragraph || q.Kind == layout.ListItem
}

// heading is the innermost heading that a line stands under.
func (q *Quote) heading() string {
	if len(q.Section) == 0 {
		return ""
	}
	return q.Section[len(q.Section)-1]
}
