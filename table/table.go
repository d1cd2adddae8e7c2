// Package table takes the tables out of a document, so that they can be sorted, drawn and reckoned
// with: each column knows what it holds and in which unit, and each cell where it stands on which page.
//
// A table that goes on over pages is one table. Totals, means, extremes and differences are worked out
// by arithmetic over named cells, which are told with the result.
package table

import (
	"cmp"
	"regexp"
	"slices"
	"strings"

	"jardinet/layout"
	"jardinet/passage"
	"jardinet/pdf"
	"jardinet/text"
)

// A Table is one table of a document.
type Table struct {
	Title   string // its caption, else the heading that it stands under
	Section []string
	Page    int // physical; that it begins on
	Columns []Column
	Rows    [][]Cell // as many cells as columns
}

// A Kind says what a column holds.
type Kind string

// Kinds of columns.
const (
	Words  Kind = "words"
	Number Kind = "number"
	Year   Kind = "year"
)

// A Column is one of a table.
type Column struct {
	Name string
	Unit string // that its numbers are in, empty for none
	Kind Kind
}

// A Cell is one of a table.
type Cell struct {
	Text     string
	Number   float64 // if IsNumber
	IsNumber bool
	Page     int // 0 for a cell that is empty
	Box      pdf.Rect
	Document string // of a table that is joined from several
}

// Of returns the tables of a document in their order, those with one row and one column left out.
func Of(doc *layout.Document) []Table {
	r := reader{}
	for i := range doc.Pages {
		r.page(&doc.Pages[i])
	}
	r.end()
	return r.out
}

// A reader goes through a document's blocks.
type reader struct {
	out     []Table
	section []layout.Block // headings, the outermost first
	caption string         // of the table to come
	last    *raw           // that may go on
}

// A raw table is as it stands: rows of heads, and rows.
type raw struct {
	table   Table
	heads   [][]Cell
	columns int
	page    int  // that it ends on
	plain   int  // blocks of text since
	drawn   bool // it is a chart
}

func (r *reader) page(p *layout.Page) {
	for i := range p.Blocks {
		b := &p.Blocks[i]
		switch b.Kind {
		case layout.Furniture, layout.Contents:
		case layout.Heading:
			r.heading(b)
		case layout.Caption:
			r.captioned(b.Text)
		case layout.Table:
			r.table(b, p.Number)
		case layout.Figure:
			if len(b.Rows) > 1 {
				r.table(b, p.Number)
			}
		default:
			r.caption = ""
			if r.last != nil {
				r.last.plain++
			}
		}
	}
}

func (r *reader) heading(b *layout.Block) {
	r.end()
	level := max(b.Level, 1)
	r.section = slices.DeleteFunc(r.section, func(h layout.Block) bool { return max(h.Level, 1) >= level })
	r.section = append(r.section, *b)
	r.caption = ""
}

// captioned gives a caption to the table before it, if that has none and nothing stands between
// them, or else to the one that comes.
func (r *reader) captioned(s string) {
	if r.last != nil && r.last.plain == 0 && r.last.table.Title == "" && r.caption == "" {
		r.last.table.Title = strings.TrimSuffix(oneLine(s), ".")
		return
	}
	r.caption = strings.TrimSuffix(oneLine(s), ".")
}

func oneLine(s string) string { return strings.Join(strings.Fields(s), " ") }

func (r *reader) table(b *layout.Block, page int) {
	t := rawOf(b, page)
	if l := r.last; l != nil && page-l.page <= 1 && l.plain == 0 && l.columns == t.columns && (len(t.heads) == 0 || page > l.page && sameHeads(l.heads, t.heads)) {
		l.table.Rows, l.page = append(l.table.Rows, t.table.Rows...), page
		return
	}
	r.end()
	t.table.Title, r.caption = r.caption, ""
	for _, h := range r.section {
		t.table.Section = append(t.table.Section, oneLine(h.Text))
	}
	r.last = t
}

// end finishes the table that went on.
func (r *reader) end() {
	if r.last == nil {
		return
	}
	t := &r.last.table
	if r.last.columns > 1 && len(t.Rows) > 0 {
		if t.Title == "" && len(t.Section) > 0 {
			t.Title = t.Section[len(t.Section)-1]
		}
		t.name(r.last.heads, r.last.columns)
		if r.last.drawn && t.Columns[1].Name == "" {
			t.Columns[1].Name = passage.Shown(t.Title)
			t.kind(1)
		}
		r.out = append(r.out, *t)
	}
	r.last = nil
}

// rawOf takes a block apart.
func rawOf(b *layout.Block, page int) *raw {
	t := &raw{page: page, table: Table{Page: page}, drawn: b.Kind == layout.Figure}
	for _, row := range b.Rows {
		for _, c := range row.Cells {
			t.columns = max(t.columns, c.Column+1)
		}
	}
	heads := true
	for _, row := range b.Rows {
		cells := make([]Cell, t.columns)
		for _, c := range row.Cells {
			if words := oneLine(b.Text[c.Start:c.End]); cells[c.Column].Text == "" {
				cells[c.Column] = Cell{Text: words, Page: page, Box: around(b.Boxes(c.Start, c.End))}
			} else {
				cells[c.Column].Text += " " + words
			}
		}
		if heads = heads && row.Header; heads {
			t.heads = append(t.heads, cells)
		} else {
			t.table.Rows = append(t.table.Rows, cells)
		}
	}
	return t
}

func around(boxes []pdf.Rect) (out pdf.Rect) {
	for _, b := range boxes {
		out = out.Union(b)
	}
	return out
}

func sameHeads(a, b [][]Cell) bool {
	return slices.EqualFunc(a, b, func(a, b []Cell) bool {
		return slices.EqualFunc(a, b, func(a, b Cell) bool { return a.Text == b.Text })
	})
}

// name names the columns by their heads and finds out what they hold.
func (t *Table) name(heads [][]Cell, columns int) {
	t.Columns = make([]Column, columns)
	for i := range t.Columns {
		var parts []string
		for _, row := range heads {
			for j := i; j >= 0; j-- { // a head over several columns stands in the first of them
				if row[j].Text == "" && len(heads) > 1 && &row[0] != &heads[len(heads)-1][0] {
					continue
				}
				if row[j].Text != "" && (len(parts) == 0 || parts[len(parts)-1] != row[j].Text) {
					parts = append(parts, row[j].Text)
				}
				break
			}
		}
		t.Columns[i].Name = strings.Join(parts, " · ")
	}
	for i := range t.Columns {
		t.kind(i)
	}
}

// mostlyNumbers is the share of a column's cells that have to be numbers for it to hold numbers.
const mostlyNumbers = 0.6

// kind finds out what a column holds, and reads its numbers.
func (t *Table) kind(column int) {
	c := &t.Columns[column]
	c.Kind = Words
	numbers, years, filled := 0, 0, 0
	units := map[string]int{}
	for i := range t.Rows {
		cell := &t.Rows[i][column]
		if cell.Text == "" {
			continue
		}
		filled++
		n, unit, ok := read(cell.Text)
		if !ok {
			continue
		}
		cell.Number, cell.IsNumber = n, true
		numbers++
		units[unit]++
		if unit == "" && n == float64(int(n)) && n >= 1500 && n <= 2100 && len(cell.Text) == 4 {
			years++
		}
	}
	_, c.Unit = text.HeadUnit(c.Name)
	switch {
	case numbers == 0 || float64(numbers) < mostlyNumbers*float64(filled):
		c.Unit = ""
	case years == numbers && c.Unit == "":
		c.Kind = Year
	case column == 0 && c.Unit == "" && t.isCount(numbers): // the rows' own numbers are names
	default:
		c.Kind = Number
		for unit, n := range units {
			if c.Unit == "" && unit != "" && n == numbers {
				c.Unit = unit
			}
		}
	}
}

// isCount tells whether the first column counts the rows: whole numbers that rise.
func (t *Table) isCount(numbers int) bool {
	for i, row := range t.Rows {
		n := row[0].Number
		if !row[0].IsNumber || n != float64(int(n)) || i > 0 && n <= t.Rows[i-1][0].Number {
			return false
		}
	}
	return numbers > 1
}

// number matches a cell that is a number, with a sign, a currency or a unit at most.
var number = regexp.MustCompile(`^(£|€|\$|EUR|GBP|USD|CHF)?\s?([-−–+±]?\d[\d.,’\x{a0}\x{202f} ]*(?:\s?[×x]\s?10[⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+)?[½¼¾]?)\s?(%|°C?|[\pLµ°][\pL°µ²³/]{0,11}|per cent)?$`)

// read reads a cell as a number.
func read(s string) (n float64, unit string, ok bool) {
	m := number.FindStringSubmatch(strings.TrimSpace(s))
	if m == nil || m[3] != "" && !text.IsUnit(m[3]) && m[3] != "per cent" {
		return 0, "", false
	}
	n, ok = text.Number(strings.TrimPrefix(strings.TrimSpace(m[2]), "+"))
	return n, cmp.Or(m[1], m[3]), ok
}
