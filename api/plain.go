package api

import (
	"fmt"
	"strings"

	"jardinet/plain"
)

// A Plain is pages of a document in plain words, beside what they say.
type Plain struct {
	From      int             `json:"from"` // physical pages
	To        int             `json:"to"`
	Before    plain.Measure   `json:"before"` // of the sentences as they stand
	After     plain.Measure   `json:"after"`
	Sentences []PlainSentence `json:"sentences"`
}

// A PlainSentence is a sentence and what stands for it: shorter ones, with what was written short
// written out. It is its own only part if nothing could be made plainer.
type PlainSentence struct {
	Quote Quote    `json:"quote"`
	Parts []string `json:"parts"`
	Terms []Term   `json:"terms"` // that the sentence has, with what the document says they are
}

// Markdown sets the plain sentences, with headings, and the explained terms as notes.
func (p *Plain) Markdown(title string) string {
	var b strings.Builder
	fmt.Fprintf(&b, "# %s, in plain words\n\nReading ease %.0f (%.1f words a sentence) before, %.0f (%.1f) after.\n", title, p.Before.Ease, p.Before.Words, p.After.Ease, p.After.Words)
	under := ""
	for i := range p.Sentences {
		s := &p.Sentences[i]
		if n := len(s.Quote.Section); n > 0 && s.Quote.Section[n-1] != under {
			under = s.Quote.Section[n-1]
			fmt.Fprintf(&b, "\n## %s\n\n", under)
		}
		fmt.Fprintf(&b, "%s (%s)\n", strings.Join(s.Parts, " "), s.Quote.place())
		for _, t := range s.Terms {
			fmt.Fprintf(&b, "  > **%s**: %s (%s)\n", t.Term, t.Means, t.Quote.place())
		}
	}
	return b.String()
}
