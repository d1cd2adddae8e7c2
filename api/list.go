package api

import (
	"bytes"
	"encoding/csv"
	"strconv"
	"strings"
)

// A List is what some documents have of a kind.
type List struct {
	Of        string     `json:"of"`
	Items     []ListItem `json:"items"`
	Documents int        `json:"documents"` // that were looked through
	Lines     int        `json:"lines"`     // sentences and rows, all of them
}

// A ListItem is one entry of a list.
type ListItem struct {
	Text  string `json:"text"`
	Way   string `json:"way"`   // how it was found: column, table, enumeration or name
	Quote Quote  `json:"quote"` // where it stands first
}

// CSV writes a list with where each entry stands. What a spreadsheet would take for a formula is marked
// as text.
func (l *List) CSV() []byte {
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	w.Write([]string{l.Of, "document", "page"})
	for _, i := range l.Items {
		words := i.Text
		if strings.ContainsAny(words[:min(1, len(words))], "=+-@") {
			words = "'" + words
		}
		w.Write([]string{words, i.Quote.Document, strconv.Itoa(i.Quote.Page)})
	}
	w.Flush()
	return out.Bytes()
}
