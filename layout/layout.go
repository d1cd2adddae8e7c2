// Package layout reads pages: it turns the glyphs that stand anywhere on a
// page into blocks of text in the order in which a person would read them.
//
// It works in two steps. Read looks at one page alone and can run on all cores:
// glyphs become words, words become segments without wide gaps, and a recursive
// cut along white space (the XY-cut of Nagy and Seth, 1984) puts the segments
// into reading order. Assemble then looks at the whole document, which alone
// can tell what repeats on each page, what size body text has and where the
// outline says that sections begin: it takes running headers and footers out,
// finds headings, lists, tables and captions, and joins lines into paragraphs,
// mending words that were hyphenated at a line's end.
//
// Each word of a block keeps its box, so that whatever is later quoted from the
// text can be marked on the page.
package layout

import (
	"jardinet/pdf"
	"jardinet/text"
)

// A Kind tells what a block is.
type Kind string

// Kinds of block.
const (
	Heading   Kind = "heading"
	Paragraph Kind = "paragraph"
	ListItem  Kind = "list"
	Table     Kind = "table"
	Caption   Kind = "caption"
	Footnote  Kind = "footnote"
	Figure    Kind = "figure"    // a drawing or picture; its text is its labels
	Contents  Kind = "contents"  // a line of a table of contents
	Furniture Kind = "furniture" // running header, footer or page number
)

// A Word is a range of a block's text and where it stands. A word broken over
// two lines has an entry for each part.
type Word struct {
	Start, End int // bytes in Block.Text
	Box        pdf.Rect
}

// A Row is a row of a table: its cells as ranges of Block.Text.
type Row struct {
	Header bool
	Cells  []Cell
}

// A Cell belongs to the column of that number, from 0.
type Cell struct {
	Column     int
	Start, End int
}

// A Block is one thing on a page.
type Block struct {
	Kind  Kind
	Level int `json:",omitempty"` // of a heading, from 1
	Text  string
	Box   pdf.Rect
	Words Words
	Rows  []Row `json:",omitempty"` // of a table, or of a chart: its bars

	Corrected bool   `json:"-"` // by a person
	was       string // its text before that
	dropped   bool
}

// A Page is what was read from one page.
type Page struct {
	Number   int    // physical, from 1
	Label    string // as printed, empty where nothing is known of it
	Width    float32
	Height   float32
	Blocks   []Block // in reading order
	Language text.Language
	Problem  string `json:",omitempty"` // why the page has no text, for a person

	Key        string    // of its content; corrections are kept by it
	Confidence int       `json:",omitempty"` // of recognised text, in percent; 0 if the file has the text itself
	Findings   []Finding `json:",omitempty"`

	Links []pdf.Link `json:",omitempty"`
}

// A Document is what was read from one file.
type Document struct {
	Title    string
	Language text.Language
	Pages    []Page
}

// Lines returns the block's words joined into lines, each with the range of the text that it
// holds.
func (b *Block) Lines() []Word {
	var out []Word
	for _, w := range b.Words {
		if n := len(out) - 1; n >= 0 && w.Start >= out[n].End && sameLine(out[n].Box, w.Box) {
			out[n].End, out[n].Box = w.End, out[n].Box.Union(w.Box)
		} else {
			out = append(out, w)
		}
	}
	return out
}

// Boxes returns the boxes that cover bytes start to end of the block's text,
// one a line.
func (b *Block) Boxes(start, end int) []pdf.Rect {
	var out []pdf.Rect
	for _, w := range b.Words {
		if w.End <= start || w.Start >= end {
			continue
		}
		if n := len(out) - 1; n >= 0 && sameLine(out[n], w.Box) {
			out[n] = out[n].Union(w.Box)
		} else {
			out = append(out, w.Box)
		}
	}
	return out
}

func sameLine(a, b pdf.Rect) bool {
	overlap := min(a.Y1, b.Y1) - max(a.Y0, b.Y0)
	return overlap > 0.5*min(a.Height(), b.Height()) && b.X1 > a.X0 && b.X0 > a.X0-1
}
