// Package truth says what stands on the pages of the labelled layout set: their
// text in the order in which a person reads it, the cells of their tables, the
// labels inside their figures and their furniture.
package truth

import (
	"encoding/json"
	"fmt"
	"os"
	"strings"
)

// A Kind tells what a block is.
type Kind string

// Kinds of block.
const (
	Heading   Kind = "heading"
	Paragraph Kind = "paragraph"
	Item      Kind = "item"
	Table     Kind = "table"
	Caption   Kind = "caption"
	Figure    Kind = "figure"
	Note      Kind = "note" // footnote or side note
)

// A Block is one thing on a page. Superscripts and subscripts are written with
// Unicode's raised and lowered characters.
type Block struct {
	Kind   Kind       `json:"kind"`
	Text   string     `json:"text,omitempty"`
	Rows   [][]string `json:"rows,omitempty"`   // of a table; "" for a cell that another one spans
	Labels []string   `json:"labels,omitempty"` // inside a figure, which are no running text
}

// A Page is one page of a file of the set.
type Page struct {
	File      string   `json:"file"`
	Number    int      `json:"number"`
	Producer  string   `json:"producer"`
	Type      string   `json:"type"` // what it puts to the test
	Blocks    []Block  `json:"blocks"`
	Furniture []string `json:"furniture,omitempty"` // headers, footers, page numbers, watermarks
	Numbered  bool     `json:"numbered,omitempty"`  // its lines are, which is furniture as well
}

// Body returns the running text of a page, in reading order: all but labels of
// figures and furniture.
func (p *Page) Body() string {
	var out []string
	for _, b := range p.Blocks {
		if b.Kind == Table {
			for _, row := range b.Rows {
				out = append(out, strings.Join(strings.Fields(strings.Join(row, " ")), " "))
			}
		} else if b.Kind != Figure {
			out = append(out, b.Text)
		}
	}
	return strings.Join(out, "\n")
}

// Shifted returns the words of a page that hold a raised or lowered digit.
func (p *Page) Shifted() (out []string) {
	for _, word := range strings.Fields(p.Body()) {
		if strings.ContainsAny(word, "⁰¹²³⁴⁵⁶⁷⁸⁹⁻⁺₀₁₂₃₄₅₆₇₈₉") {
			out = append(out, strings.Trim(word, ".,;:()"))
		}
	}
	return out
}

// Labels returns the words inside the figures of a page.
func (p *Page) Labels() (out []string) {
	for _, b := range p.Blocks {
		for _, label := range b.Labels {
			out = append(out, strings.Fields(label)...)
		}
	}
	return out
}

// Read reads the list of all pages of the set.
func Read(path string) ([]Page, error) {
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	var pages []Page
	if err := json.Unmarshal(data, &pages); err != nil {
		return nil, fmt.Errorf("%s: %w", path, err)
	}
	return pages, nil
}
