package layout

import (
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"jardinet/pdf"
)

// A table here is a run of lines with wide gaps that line up. Ruled tables,
// spanning cells and tables over several pages ask for more than that.

// tableRun returns how many of the lines, from the first, make a table; 0 when
// they do not.
func tableRun(lines []*line) int {
	if len(lines[0].segments) < 2 {
		return 0
	}
	rows, multi := 0, 0
	for i, l := range lines {
		if i > 0 && !rowFollows(lines, i) {
			break
		}
		if len(l.segments) > 1 {
			multi++
		}
		if len(l.segments) > 1 || i > 0 && rows == i && goesOn(lines[:i], l) {
			rows = i + 1
		}
	}
	if multi < 2 || !linedUp(lines[:rows]) {
		return 0
	}
	return rows
}

// linedUp tells whether the gaps of the rows lie above each other. In a long
// table some cells may cross them.
func linedUp(rows []*line) bool {
	return len(gutters(rows)) > 1 || len(rows) > 3 && len(tableColumns(rows)) > 1
}

// How far, in sizes of their letters, a row stands under the one above it, and if
// its cells begin where those above do.
const (
	usualGap  = 3.2
	widestGap = 6
)

// startsWith tells whether each of three or more cells of a line begins where one
// of the rows above it does.
func startsWith(rows []*line, l *line) bool {
	for _, s := range l.segments {
		if !slices.ContainsFunc(rows, func(r *line) bool {
			return slices.ContainsFunc(r.segments, func(above segment) bool { return abs(above.box.X0-s.box.X0) < l.size/4 })
		}) {
			return false
		}
	}
	return len(l.segments) > 2
}

// rowFollows tells whether line i may be part of the table above it.
func rowFollows(lines []*line, i int) bool {
	prev, l := lines[i-1], lines[i]
	gap := (l.baseline - prev.baseline) / max(l.size, prev.size)
	if l.area != nil || l.region != prev.region || l.turn != prev.turn || gap > widestGap || gap > usualGap && !startsWith(lines[:i], l) {
		return false
	}
	if len(l.segments) > 1 {
		return true
	}
	// One segment goes on with a cell if it stands close under the row, is
	// narrow, and another full row follows soon.
	narrow := l.box.Width() < 0.6*lines[0].box.Width() || l.box.X0 > lines[0].box.X0+5
	if !narrow || l.baseline-prev.baseline > 1.7*l.size || l.style.bold && !prev.style.bold {
		return false
	}
	for _, next := range lines[i+1 : min(len(lines), i+4)] {
		if len(next.segments) > 1 {
			return true
		}
	}
	return len(prev.segments) > 1 && l.box.X0 > lines[0].box.X0+5 || goesOn(lines[:i], l)
}

// goesOn tells whether a line goes on with the last cell of the rows above: it
// begins where the cells of that column do.
func goesOn(rows []*line, l *line) bool {
	if len(l.segments) != 1 || l.style.bold {
		return false
	}
	for i := len(rows) - 1; i >= 0; i-- {
		if cells := rows[i].segments; len(cells) > 1 {
			return abs(cells[len(cells)-1].box.X0-l.box.X0) < l.size/4
		}
	}
	return false
}

// A band is a range of X that a column takes.
type band struct{ x0, x1 float32 }

// tableColumns returns the columns that the segments of all rows fall into. A
// segment that spans what other rows keep apart does not widen a column.
func tableColumns(rows []*line) []band {
	most := 0
	for _, r := range rows {
		most = max(most, len(r.segments))
	}
	var out []band
	for want := most; want > 1; want-- {
		for _, r := range rows {
			if len(r.segments) != want {
				continue
			}
			for _, s := range r.segments {
				out = place(out, band{s.box.X0, s.box.X1}, want == most)
			}
		}
	}
	return out
}

// place adds a cell to the columns: it widens the one that it overlaps, and
// makes a new one if it overlaps none.
func place(columns []band, cell band, widen bool) []band {
	hit := -1
	for i, c := range columns {
		if cell.x0 < c.x1 && cell.x1 > c.x0 {
			if hit >= 0 {
				return columns // it spans several
			}
			hit = i
		}
	}
	if hit >= 0 {
		if widen || fits(columns, hit, cell) {
			columns[hit] = band{min(columns[hit].x0, cell.x0), max(columns[hit].x1, cell.x1)}
		}
		return columns
	}
	at := len(columns)
	for i, c := range columns {
		if cell.x1 <= c.x0 {
			at = i
			break
		}
	}
	columns = append(columns, band{})
	copy(columns[at+1:], columns[at:])
	columns[at] = cell
	return columns
}

// fits tells whether a column can grow to hold cell without meeting the next.
func fits(columns []band, i int, cell band) bool {
	return (i == 0 || cell.x0 > columns[i-1].x1) && (i == len(columns)-1 || cell.x1 < columns[i+1].x0)
}

// columnOf returns the column that a box overlaps most.
func columnOf(columns []band, box pdf.Rect) int {
	best, most := 0, float32(-1e9)
	for i, c := range columns {
		if overlap := min(c.x1, box.X1) - max(c.x0, box.X0); overlap > most {
			best, most = i, overlap
		}
	}
	return best
}

// cellGap, in units of the font size, is the least white space between columns.
// The space between words is about a quarter.
const cellGap = 0.4

// gutters returns the columns that white space running through all the rows
// separates, which finds cells that stand closer than a segment's gap. Rows
// that span the table do not count.
func gutters(rows []*line) []band {
	var columns []band
	for _, r := range rows {
		parts := clusters(r)
		if len(parts) == 1 && len(rows) > 1 {
			continue
		}
		for _, part := range parts {
			// Half a gutter on each side joins what only just does not meet.
			half := cellGap * r.size / 2
			columns = unite(columns, band{part.x0 - half, part.x1 + half})
		}
	}
	return columns
}

// clusters returns the ranges of X that a row's words take, near ones joined.
func clusters(r *line) []band {
	var out []band
	for _, s := range r.segments {
		for _, w := range s.words {
			if n := len(out) - 1; n >= 0 && w.box.X0-out[n].x1 < cellGap*r.size {
				out[n].x1 = max(out[n].x1, w.box.X1)
			} else {
				out = append(out, band{w.box.X0, w.box.X1})
			}
		}
	}
	return out
}

// unite adds a range to sorted ranges, joining those that it overlaps.
func unite(columns []band, part band) []band {
	out := make([]band, 0, len(columns)+1)
	for _, c := range columns {
		switch {
		case c.x1 <= part.x0:
			out = append(out, c)
		case c.x0 >= part.x1:
			out = append(out, part)
			part = c
		default:
			part = band{min(c.x0, part.x0), max(c.x1, part.x1)}
		}
	}
	return append(out, part)
}

// table makes a table block: one line of text a row, cells apart by " | ".
func (a *assembler) table(lines []*line, sheet *Sheet) Block {
	columns := tableColumns(lines)
	if finer := gutters(lines); len(finer) >= len(columns) {
		columns = finer
	}
	return tableBlock(tableRows(lines, columns, sheet.parts(lines)), lines[0].turn, sheet)
}

// areaBlock makes the block of a ruled table or a figure.
func (a *assembler) areaBlock(found *area, sheet *Sheet) Block {
	if found.kind == gridArea {
		return tableBlock(found.rows(), found.turn, sheet)
	}
	var b Block
	if found.chart != nil {
		b = tableBlock(found.bars(), found.turn, sheet)
		b.Kind = Figure
	} else {
		lines := gather(slices.Clone(found.inner))
		var parts []*line
		for i := range lines {
			lines[i].turn = found.turn
			parts = append(parts, &lines[i])
		}
		b = a.block(Figure, parts, sheet)
	}
	b.Box = b.Box.Union(unrotate(found.box, found.turn, pdf.Rect{X1: sheet.width, Y1: sheet.height}))
	return b
}

// tableBlock writes rows, with their words' boxes.
func tableBlock(rows []gathered, turn pdf.Turn, sheet *Sheet) Block {
	b := Block{Kind: Table}
	bounds := pdf.Rect{X1: sheet.width, Y1: sheet.height}
	var out []byte
	for _, row := range rows {
		if len(out) > 0 {
			out = append(out, '\n')
		}
		r := Row{Header: row.header}
		for column, words := range row.cells {
			if len(words) == 0 {
				continue
			}
			if len(r.Cells) > 0 {
				out = append(out, " | "...)
			}
			start := len(out)
			for i, w := range words {
				if i > 0 {
					if brokenAt(words[i-1], w) {
						out = out[:len(out)-1]
						b.Words[len(b.Words)-1].End--
					} else {
						out = append(out, ' ')
					}
				}
				box := unrotate(w.box, turn, bounds)
				b.Words = append(b.Words, Word{len(out), len(out) + len(w.text), box})
				b.Box = b.Box.Union(box)
				out = append(out, w.text...)
			}
			r.Cells = append(r.Cells, Cell{column, start, len(out)})
		}
		b.Rows = append(b.Rows, r)
	}
	b.Text = string(out)
	return b
}

// parts tells before which of a table's lines a drawn line runs, if such lines
// part its rows; nil if they do not.
func (s *Sheet) parts(lines []*line) []bool {
	var box pdf.Rect
	for _, l := range lines {
		box = box.Union(l.box)
	}
	parted := make([]bool, len(lines))
	inside, longest, run := 0, 0, 0
	for i := 1; i < len(lines); i++ {
		var across []pdf.Rect
		for _, r := range s.rules {
			if y := (r.Y0 + r.Y1) / 2; y > lines[i-1].baseline-1 && y < lines[i].baseline-0.5*lines[i].size {
				across = append(across, r)
			}
		}
		if run++; covered(across, levels(across, func(r pdf.Rect) float32 { return (r.Y0 + r.Y1) / 2 }), box.Width(), false) > 0.6 {
			parted[i] = true
			inside++
			run = 0
		}
		longest = max(longest, run)
	}
	// A line under the header and one at the end part no rows.
	if inside < 2 || longest > 4 {
		return nil
	}
	return parted
}

// linePitch returns the distance between baselines up to which lines belong to
// one row, where rows stand clearly further apart than the lines in them; else
// 0.
func linePitch(lines []*line) float32 {
	least, most := float32(1e9), float32(0)
	for i := 1; i < len(lines); i++ {
		gap := lines[i].baseline - lines[i-1].baseline
		least, most = min(least, gap), max(most, gap)
	}
	if most < 1.2*least {
		return 0
	}
	return 1.1 * least
}

// brokenAt tells whether a word was hyphenated at the end of a cell's line.
func brokenAt(a, b word) bool {
	n := len(a.text)
	if n < 3 || a.text[n-1] != '-' || b.box.Y0 < a.box.Y0+0.5*a.box.Height() {
		return false
	}
	before, _ := utf8.DecodeLastRuneInString(a.text[:n-1])
	after, _ := utf8.DecodeRuneInString(b.text)
	return unicode.IsLetter(before) && unicode.IsLower(after)
}

// A gathered row has the words of each column.
type gathered struct {
	header bool
	cells  [][]word
}

// tableRows sorts the lines' segments into rows and columns. A line that does
// not fill the first column, close under the row before, goes on with its cells.
func tableRows(lines []*line, columns []band, parted []bool) []gathered {
	var rows []gathered
	near := linePitch(lines)
	for i, l := range lines {
		first := columnOf(columns, l.segments[0].words[0].box)
		goesOn := i > 0 && l.baseline-lines[i-1].baseline < 1.5*l.size && len(l.segments) < len(columns) &&
			(first > 0 || len(l.segments) == 1 || l.baseline-lines[i-1].baseline < near && len(l.segments) < filled(rows[len(rows)-1]))
		if parted != nil {
			goesOn = i > 0 && !parted[i]
		}
		if !goesOn {
			rows = append(rows, gathered{cells: make([][]word, len(columns))})
		}
		row := &rows[len(rows)-1]
		for _, s := range l.segments {
			for _, w := range s.words {
				c := columnOf(columns, w.box)
				row.cells[c] = append(row.cells[c], w)
			}
		}
	}
	rows[0].header = isHeader(rows, lines[0].style.bold, lines[len(lines)-1].style.bold)
	return rows
}

// isHeader tells whether the first row names the columns: it is set in bold
// where the others are not, or holds no number where the others do.
func isHeader(rows []gathered, firstBold, lastBold bool) bool {
	if len(rows) < 2 {
		return false
	}
	if firstBold && !lastBold {
		return true
	}
	return !hasNumber(rows[0]) && hasNumber(rows[1])
}

func hasNumber(row gathered) bool {
	for _, cell := range row.cells {
		for _, w := range cell {
			if strings.ContainsAny(w.text, "0123456789") {
				return true
			}
		}
	}
	return false
}
