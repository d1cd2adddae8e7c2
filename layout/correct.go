package layout

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"
	"strings"

	"jardinet/pdf"
)

// An Edit is a person's correction of one block. The block is named by its text
// as it was read, so that the correction still fits when the page is read anew.
type Edit struct {
	Was  string `json:"was"`            // the block's text as read
	Kind Kind   `json:"kind,omitempty"` // what it is
	Text string `json:"text,omitempty"` // what it says; rows of a table a line each, cells apart by |
	Drop bool   `json:"drop,omitempty"` // it is no part of the text
	To   int    `json:"to,omitempty"`   // its place in the reading order, from 1
}

// Corrections are all that people changed on one page.
type Corrections struct {
	Edits     []Edit `json:"edits"`
	Recognise bool   `json:"recognise,omitempty"` // read the page's text from its picture
}

// kinds that a person may give a block.
var correctable = []Kind{Heading, Paragraph, ListItem, Table, Caption, Footnote, Figure, Contents, Furniture}

// Validate tells what is wrong with an edit.
func (e Edit) Validate() error {
	switch {
	case e.Was == "":
		return fmt.Errorf("it does not say which block: give its text as read in \"was\"")
	case e.Kind != "" && !slices.Contains(correctable, e.Kind):
		return fmt.Errorf("there is no kind %q of block; choose one of %v", e.Kind, correctable)
	case e.To < 0:
		return fmt.Errorf("a block cannot stand at place %d; places count from 1", e.To)
	case e.Kind == "" && e.Text == "" && !e.Drop && e.To == 0:
		return fmt.Errorf("it changes nothing: give kind, text, drop or to")
	}
	return nil
}

// Correct applies corrections to a page as it was read. Edits whose block is no
// longer there are told of in a finding.
func (p *Page) Correct(c *Corrections) {
	lost := 0
	for _, e := range c.Edits {
		i := slices.IndexFunc(p.Blocks, func(b Block) bool { return !b.Corrected && b.Text == e.Was })
		if i < 0 {
			lost++
			continue
		}
		p.Blocks[i].edit(e)
	}
	for _, e := range c.Edits {
		p.move(e)
	}
	p.Blocks = slices.DeleteFunc(p.Blocks, func(b Block) bool { return b.dropped })
	p.Inspect()
	if lost > 0 {
		p.find(Doubt, "lost correction", fmt.Sprintf("%d corrections name a block that is no longer read so", lost), "Look at the page and correct it again.", pdf.Rect{})
	}
}

// Was returns a block's text before it was corrected.
func (b *Block) Was() string {
	if b.Corrected {
		return b.was
	}
	return b.Text
}

func (b *Block) edit(e Edit) {
	b.Corrected, b.was, b.dropped = true, b.Text, e.Drop
	if e.Kind != "" {
		b.Kind, b.Level = e.Kind, 0
		if e.Kind == Heading {
			b.Level = max(numberDepth(b.Text), 1)
		}
	}
	switch {
	case e.Text != "" && b.Kind == Table:
		b.retable(e.Text)
	case e.Text != "":
		b.Rows = nil
		b.reword(e.Text)
	case b.Kind != Table:
		b.Rows = nil
	}
}

// reword gives a block another text. Where words were is not known any more, so
// that all of them stand in the block's box.
func (b *Block) reword(s string) {
	b.Text, b.Words = s, nil
	at := 0
	for _, word := range strings.Fields(s) {
		start := at + strings.Index(s[at:], word)
		at = start + len(word)
		b.Words = append(b.Words, Word{start, at, b.Box})
	}
}

// retable makes a table of lines with cells apart by |. The first row is a
// header if the table had one.
func (b *Block) retable(s string) {
	header := len(b.Rows) > 0 && b.Rows[0].Header
	b.Rows = nil
	var out strings.Builder
	for i, line := range strings.Split(strings.TrimSpace(s), "\n") {
		if i > 0 {
			out.WriteByte('\n')
		}
		row := Row{Header: header && i == 0}
		for column, cell := range strings.Split(line, "|") {
			if cell = strings.TrimSpace(cell); cell == "" {
				continue
			}
			if len(row.Cells) > 0 {
				out.WriteString(" | ")
			}
			row.Cells = append(row.Cells, Cell{column, out.Len(), out.Len() + len(cell)})
			out.WriteString(cell)
		}
		if len(row.Cells) > 0 {
			b.Rows = append(b.Rows, row)
		}
	}
	b.reword(out.String())
}

// move puts an edited block at its place.
func (p *Page) move(e Edit) {
	if e.To == 0 {
		return
	}
	i := slices.IndexFunc(p.Blocks, func(b Block) bool { return b.Corrected && b.was == e.Was })
	if i < 0 {
		return
	}
	b := p.Blocks[i]
	p.Blocks = slices.Delete(p.Blocks, i, i+1)
	p.Blocks = slices.Insert(p.Blocks, min(e.To-1, len(p.Blocks)), b)
}

// key names a page by its content: its size and all that is drawn on it, so
// that corrections find it again in another copy or version of the file.
func key(page *pdf.Page) string {
	h := sha256.New()
	fmt.Fprintf(h, "%.0f %.0f %d\n", page.Width, page.Height, len(page.Marks))
	var text []byte
	for _, g := range page.Glyphs {
		text = appendRune(text, g.Rune)
	}
	h.Write(text)
	return hex.EncodeToString(h.Sum(nil)[:12])
}
