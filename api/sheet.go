package api

import (
	"fmt"
	"strings"
)

// A SheetQuestion is a question that a document answers, with the words that answer it.
type SheetQuestion struct {
	Document string `json:"document"`
	Question string `json:"question"`
	Answer   string `json:"answer"`
	Quote    Quote  `json:"quote"` // the sentence that proves it
}

// A Sheet is questions that a document answers, spread over it.
type Sheet struct {
	Questions []SheetQuestion `json:"questions"`
}

// Markdown sets the questions for printing, and the answers behind them as a key.
func (s *Sheet) Markdown(title string) string {
	var b strings.Builder
	fmt.Fprintf(&b, "# Questions on %s\n\n", title)
	for i, q := range s.Questions {
		fmt.Fprintf(&b, "%d. %s\n", i+1, q.Question)
	}
	b.WriteString("\n## Key\n\n")
	for i, q := range s.Questions {
		fmt.Fprintf(&b, "%d. **%s** %s (%s)\n", i+1, q.Answer, q.Quote.Text, q.Quote.place())
	}
	return b.String()
}
