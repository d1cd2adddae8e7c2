// Package digest says what a document holds at a glance, in the document's own words: all of it
// is taken from what was read, and each line has its page.
package digest

import (
	"strings"

	"jardinet/layout"
)

// An Entry is one line of an outline.
type Entry struct {
	Title string
	Level int // from 1
	Page  int // physical
}

// Outline returns the headings of a document in their order. The level that is the
// highest in a document counts as the first.
func Outline(doc *layout.Document) []Entry {
	var out []Entry
	top := 0
	for i := range doc.Pages {
		for _, b := range doc.Pages[i].Blocks {
			if b.Kind != layout.Heading || strings.TrimSpace(b.Text) == "" {
				continue
			}
			level := max(1, b.Level)
			if top == 0 || level < top {
				top = level
			}
			out = append(out, Entry{Title: strings.Join(strings.Fields(b.Text), " "), Level: level, Page: doc.Pages[i].Number})
		}
	}
	for i := range out {
		out[i].Level -= top - 1
	}
	return out
}
