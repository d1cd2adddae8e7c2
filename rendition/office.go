package rendition

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"maps"
	"slices"
	"strconv"
	"strings"

	"github.com/xuri/excelize/v2"
)

// A node is an element of a part in XML, or text within one.
type node struct {
	name     string // without its namespace; empty for text
	text     string
	attrs    []xml.Attr
	children []*node
}

// parse reads a part as a tree. Namespaces are left out: what is looked for has a name of its own.
func parse(data []byte) (*node, error) {
	d := xml.NewDecoder(bytes.NewReader(data))
	root := &node{}
	path := []*node{root}
	elements := 0
	for {
		token, err := d.Token()
		if errors.Is(err, io.EOF) {
			return root, nil
		}
		if err != nil {
			return nil, err
		}
		at := path[len(path)-1]
		switch t := token.(type) {
		case xml.StartElement:
			if elements++; elements > mostElements {
				return nil, fmt.Errorf("%w: it has more than %d million elements", ErrTooLarge, mostElements/1_000_000)
			}
			if len(path) > mostDepth {
				return nil, fmt.Errorf("its elements stand more than %d deep", mostDepth)
			}
			n := &node{name: t.Name.Local, attrs: t.Attr}
			at.children = append(at.children, n)
			path = append(path, n)
		case xml.EndElement:
			path = path[:len(path)-1]
		case xml.CharData:
			at.children = append(at.children, &node{text: string(t)})
		}
	}
}

func (n *node) attr(name string) string {
	for _, a := range n.attrs {
		if a.Name.Local == name {
			return a.Value
		}
	}
	return ""
}

// first returns the first element of a name within, at any depth; nil if there is none.
func (n *node) first(name string) *node {
	for _, c := range n.children {
		if c.name == name {
			return c
		}
		if found := c.first(name); found != nil {
			return found
		}
	}
	return nil
}

// each calls visit for the nearest elements of a name within.
func (n *node) each(name string, visit func(*node)) {
	for _, c := range n.children {
		if c.name == name {
			visit(c)
		} else {
			c.each(name, visit)
		}
	}
}

// readWord reads a Word document (Office Open XML).
func readWord(data []byte) (*Text, error) {
	z, err := unpack(data)
	if err != nil {
		return nil, err
	}
	w := wordReader{text: new(Text), levels: map[string]int{}, counts: map[string]int{}}
	w.styles(z)
	w.formats = numbering(z)
	body, err := z.tree("word/document.xml")
	if err != nil {
		return nil, err
	}
	w.blocks(body)
	if notes, err := z.tree("word/footnotes.xml"); err == nil {
		notes.each("footnote", func(n *node) {
			if kind := n.attr("type"); kind == "" || kind == "normal" {
				w.text.paragraph(n.attr("id") + " " + wordText(n))
			}
		})
	}
	return w.text, nil
}

type wordReader struct {
	text    *Text
	levels  map[string]int    // of headings, by style
	formats map[string]string // of lists, by number and level: "bullet", "decimal"
	counts  map[string]int    // of items so far
}

// styles finds out which styles are headings; their ids may be in any language, their names
// are English.
func (w *wordReader) styles(z *archive) {
	root, err := z.tree("word/styles.xml")
	if err != nil {
		return
	}
	root.each("style", func(s *node) {
		name := ""
		if n := s.first("name"); n != nil {
			name = strings.ToLower(n.attr("val"))
		}
		if level, err := strconv.Atoi(strings.TrimPrefix(name, "heading ")); err == nil && strings.HasPrefix(name, "heading ") {
			w.levels[s.attr("styleId")] = level
		} else if name == "title" {
			w.levels[s.attr("styleId")] = 1
		}
	})
}

// numbering returns the format of each list's levels, by the list's number and the level.
func numbering(z *archive) map[string]string {
	out := map[string]string{}
	root, err := z.tree("word/numbering.xml")
	if err != nil {
		return out
	}
	abstract := map[string]map[string]string{}
	root.each("abstractNum", func(a *node) {
		levels := map[string]string{}
		a.each("lvl", func(l *node) {
			if f := l.first("numFmt"); f != nil {
				levels[l.attr("ilvl")] = f.attr("val")
			}
		})
		abstract[a.attr("abstractNumId")] = levels
	})
	root.each("num", func(n *node) {
		if a := n.first("abstractNumId"); a != nil {
			for level, format := range abstract[a.attr("val")] {
				out[n.attr("numId")+" "+level] = format
			}
		}
	})
	return out
}

func (w *wordReader) blocks(n *node) {
	for _, c := range n.children {
		switch c.name {
		case "p":
			w.paragraph(c)
		case "tbl":
			w.text.table(wordRows(c))
		case "del", "moveFrom": // taken out, and still kept in the file
		default:
			w.blocks(c)
		}
	}
}

func (w *wordReader) paragraph(p *node) {
	words := wordText(p)
	if strings.TrimSpace(words) == "" {
		return
	}
	style, number, level := "", "", "0"
	if pr := p.first("pPr"); pr != nil {
		if s := pr.first("pStyle"); s != nil {
			style = s.attr("val")
		}
		if id := pr.first("numId"); id != nil {
			number = id.attr("val")
		}
		if l := pr.first("ilvl"); l != nil {
			level = l.attr("val")
		}
	}
	switch key := number + " " + level; {
	case w.levels[style] > 0:
		w.text.heading(w.levels[style], words)
	case number != "" && number != "0":
		mark := "•"
		if f := w.formats[key]; f != "" && f != "bullet" && f != "none" {
			w.counts[key]++
			mark = strconv.Itoa(w.counts[key]) + "."
		}
		depth, _ := strconv.Atoi(level)
		w.text.item(depth+1, mark, words)
	default:
		w.text.paragraph(words)
	}
}

// wordText is the text of an element of a Word document; of what was changed, as it is now.
func wordText(n *node) string {
	var out strings.Builder
	var walk func(*node, bool)
	walk = func(n *node, up bool) {
		switch n.name {
		case "t":
			for _, c := range n.children {
				if up {
					out.WriteString(raised(c.text))
				} else {
					out.WriteString(c.text)
				}
			}
			return
		case "tab":
			out.WriteString("\t")
		case "br", "cr":
			out.WriteString("\n")
		case "noBreakHyphen":
			out.WriteString("-")
		case "del", "moveFrom", "instrText", "pPr", "tbl":
			return
		case "r":
			if v := n.first("vertAlign"); v != nil {
				up = v.attr("val") == "superscript"
			}
		}
		for _, c := range n.children {
			walk(c, up)
		}
	}
	walk(n, false)
	return out.String()
}

func wordRows(table *node) [][]string {
	var rows [][]string
	table.each("tr", func(tr *node) {
		var row []string
		tr.each("tc", func(tc *node) {
			var cell []string
			tc.each("p", func(p *node) { cell = append(cell, wordText(p)) })
			row = append(row, oneLine(strings.Join(cell, " ")))
			if span := tc.first("gridSpan"); span != nil {
				n, _ := strconv.Atoi(span.attr("val"))
				for range min(max(n, 1), 20) - 1 {
					row = append(row, "")
				}
			}
		})
		rows = append(rows, row)
	})
	return rows
}

// readOpenDocument reads a text or a workbook in the OpenDocument format.
func readOpenDocument(data []byte) (*Text, error) {
	z, err := unpack(data)
	if err != nil {
		return nil, err
	}
	root, err := z.tree("content.xml")
	if err != nil {
		return nil, err
	}
	t := new(Text)
	if meta, err := z.tree("meta.xml"); err == nil {
		if title := meta.first("title"); title != nil {
			t.Title = oneLine(openText(title))
		}
	}
	if body := root.first("text"); body != nil {
		t.openBlocks(body, 0)
	}
	if body := root.first("spreadsheet"); body != nil {
		body.each("table", func(n *node) {
			if rows, numbers := t.openRows(n); len(rows) > 0 {
				t.sheet(n.attr("name"), rows, numbers)
			}
		})
	}
	return t, nil
}

// openRows are the rows of a sheet that hold something, and their numbers.
func (t *Text) openRows(table *node) (rows [][]string, numbers []int) {
	cells, number := 0, 1
	table.each("table-row", func(tr *node) {
		again, _ := strconv.Atoi(tr.attr("number-rows-repeated"))
		defer func() { number = min(number+max(again, 1), mostRows) }()
		var row []string
		for _, c := range tr.children {
			if c.name != "table-cell" && c.name != "covered-table-cell" {
				continue
			}
			times, _ := strconv.Atoi(c.attr("number-columns-repeated"))
			words := oneLine(openText(c))
			if words == "" && c == tr.children[len(tr.children)-1] {
				break // what is empty to the right of all
			}
			for range min(max(times, 1), mostRepeated) {
				row = append(row, words)
			}
		}
		if cells += len(row); count(row) > 0 && cells <= mostCells {
			rows, numbers = append(rows, row), append(numbers, number)
		}
	})
	if cells > mostCells {
		t.tooLarge = fmt.Errorf("a sheet has more than %d cells", mostCells)
	}
	return rows, numbers
}

// mostRows is how many rows a sheet can have.
const mostRows = 1 << 20

// mostRepeated is how often a cell that is said to stand several times is taken.
const mostRepeated = 1000

func (t *Text) openBlocks(n *node, depth int) {
	for _, c := range n.children {
		switch c.name {
		case "h":
			level, _ := strconv.Atoi(c.attr("outline-level"))
			t.heading(level, openText(c))
		case "p":
			if depth > 0 {
				t.item(depth, "•", openText(c))
			} else {
				t.paragraph(openText(c))
			}
		case "list":
			t.openBlocks(c, depth+1)
		case "table":
			var rows [][]string
			c.each("table-row", func(tr *node) {
				var row []string
				tr.each("table-cell", func(tc *node) { row = append(row, oneLine(openText(tc))) })
				rows = append(rows, row)
			})
			t.table(rows)
		case "tracked-changes":
		default:
			t.openBlocks(c, depth)
		}
	}
}

func openText(n *node) string {
	var out strings.Builder
	var walk func(*node)
	walk = func(n *node) {
		switch n.name {
		case "":
			out.WriteString(n.text)
		case "tab":
			out.WriteString("\t")
		case "line-break":
			out.WriteString("\n")
		case "s":
			out.WriteString(" ")
		case "annotation":
			return
		}
		for _, c := range n.children {
			walk(c)
		}
		if n.name == "p" {
			out.WriteString(" ")
		}
	}
	walk(n)
	return out.String()
}

// readWorkbook reads a workbook (Office Open XML): a heading and a table for each sheet, with the
// values as they are shown.
func readWorkbook(data []byte) (*Text, error) {
	f, err := excelize.OpenReader(bytes.NewReader(data), excelize.Options{UnzipSizeLimit: mostUnpacked, UnzipXMLSizeLimit: 16 << 20})
	if err != nil {
		return nil, err
	}
	defer f.Close()
	t := new(Text)
	if about, err := f.GetDocProps(); err == nil {
		t.Title = about.Title
	}
	for _, sheet := range f.GetSheetList() {
		rows, numbers, err := rowsOfSheet(f, sheet)
		if err != nil {
			return nil, fmt.Errorf("its sheet %s: %w", sheet, err)
		}
		if len(rows) > 0 {
			t.sheet(sheet, rows, numbers)
		}
	}
	return t, nil
}

// rowsOfSheet reads the rows of a sheet that hold something, and their numbers. A cell far to the right makes a row
// long, so they are counted while they are read.
func rowsOfSheet(f *excelize.File, sheet string) (out [][]string, numbers []int, err error) {
	rows, err := f.Rows(sheet)
	if err != nil {
		return nil, nil, err
	}
	defer rows.Close()
	cells := 0
	for number := 1; rows.Next(); number++ {
		row, err := rows.Columns()
		if err != nil {
			return nil, nil, err
		}
		if count(row) == 0 {
			continue
		}
		if cells += len(row); cells > mostCells {
			return nil, nil, fmt.Errorf("%w: it has more than %d cells", ErrTooLarge, mostCells)
		}
		out, numbers = append(out, row), append(numbers, number)
	}
	return out, numbers, rows.Error()
}

// rangeRows is how many rows of a sheet stand under one range of cells.
const rangeRows = 30

// sheet adds the sheet of a workbook. What stands alone in its row above the table is text. The
// table is cut into ranges of cells, such as A1:F31, by which its rows can be cited.
func (t *Text) sheet(name string, rows [][]string, numbers []int) {
	used := map[int]bool{}
	for _, row := range rows {
		for i, cell := range row {
			if strings.TrimSpace(cell) != "" {
				used[i] = true
			}
		}
	}
	t.heading(1, name)
	for len(rows) > 1 && len(used) > 1 && count(rows[0]) == 1 {
		t.paragraph(strings.Join(rows[0], ""))
		rows, numbers = rows[1:], numbers[1:]
	}
	for i, row := range rows {
		var kept []string
		for j, cell := range row {
			if used[j] {
				kept = append(kept, oneLine(cell))
			}
		}
		rows[i] = kept
	}
	columns := slices.Sorted(maps.Keys(used))
	for first := 0; first < len(rows); {
		last := min(first+rangeRows, len(rows)) - 1
		if len(rows)-1-last < rangeRows/2 {
			last = len(rows) - 1 // no range of a few rows at the end
		}
		t.heading(2, cellRange(columns[0], numbers[first], columns[len(columns)-1], numbers[last]))
		part := rows[first : last+1]
		if first > 0 {
			part = append([][]string{rows[0]}, part...)
		}
		t.table(part)
		first = last + 1
	}
}

// cellRange names a range of cells by columns from 0 and rows from 1.
func cellRange(fromColumn, fromRow, toColumn, toRow int) string {
	from, err := excelize.CoordinatesToCellName(fromColumn+1, fromRow)
	if err != nil {
		return ""
	}
	to, err := excelize.CoordinatesToCellName(toColumn+1, toRow)
	if err != nil {
		return from
	}
	return from + ":" + to
}

// count is how many cells of a row hold something.
func count(row []string) (n int) {
	for _, cell := range row {
		if strings.TrimSpace(cell) != "" {
			n++
		}
	}
	return n
}
