package rendition

import (
	"math"
	"slices"
	"strings"
)

// How many columns of a table stand beside each other on a page, upright and across.
const (
	columnsUpright = 8
	columnsAcross  = 14
)

// wideColumns is from how many columns on a table is better read on pages laid across.
const wideColumns = 7

// isWide tells whether most of a text stands in wide tables.
func (t *Text) isWide() bool {
	wide, all := 0, 0
	for _, b := range t.Blocks {
		all += len(b.Text)
		for _, row := range b.Rows {
			for _, cell := range row {
				all += len(cell)
				if len(row) >= wideColumns {
					wide += len(cell)
				}
			}
		}
	}
	return 2*wide > all
}

// columnsThatFit cuts a table of many columns into several, each with the first column.
func columnsThatFit(rows [][]string, most int) [][][]string {
	columns := len(rows[0])
	if columns <= most {
		return [][][]string{rows}
	}
	var out [][][]string
	for first := 1; first < columns; first += most - 1 {
		last := min(first+most-1, columns)
		part := make([][]string, len(rows))
		for i, row := range rows {
			part[i] = append([]string{row[0]}, row[first:last]...)
		}
		out = append(out, part)
	}
	return out
}

// table sets a table whose first row is its head, unless that is too tall to stand again on
// each page.
func (s *setter) table(rows [][]string) {
	width, _ := s.GetPageSize()
	widths := s.widths(rows, width-2*margin)
	head := s.wrap(rows[0], widths, "B")
	if s.height(head) > s.bottom()/3 {
		head = nil
	} else {
		rows = rows[1:]
		s.keep(s.height(head) + 2*s.line())
		s.row(head, widths, "B")
	}
	for _, cells := range rows {
		for lines := s.wrap(cells, widths, ""); lines != nil; {
			if s.GetY()+s.height(firstLines(lines, 3)) > s.bottom() {
				s.AddPage()
				s.row(head, widths, "B")
			}
			fits := max(1, int((s.bottom()-s.GetY()-2*padding)/s.line()))
			s.row(firstLines(lines, fits), widths, "")
			lines = lastLines(lines, fits)
		}
	}
	s.Ln(s.line())
}

// padding is what is left free within a cell, in millimetres.
const padding = 1.2

// widths gives each column room by what its cells hold, and room for its longest word.
func (s *setter) widths(rows [][]string, room float64) []float64 {
	columns := len(rows[0])
	least, wanted := make([]float64, columns), make([]float64, columns)
	s.SetFont(font, "B", tableSize)
	for _, row := range rows[:min(len(rows), 400)] {
		for i, cell := range row {
			cell = shown(cell)
			wanted[i] = max(wanted[i], min(s.GetStringWidth(cell), room))
			for word := range strings.FieldsSeq(cell) {
				least[i] = max(least[i], min(s.GetStringWidth(word), room/float64(columns)))
			}
		}
	}
	for i := range least {
		least[i] += 2*padding + .5
		wanted[i] = max(math.Sqrt(wanted[i])*6, least[i]) + 2*padding
	}
	spare, ask := room, 0.0
	for i := range least {
		spare -= least[i]
		ask += wanted[i] - least[i]
	}
	if spare <= 0 || ask == 0 {
		return slices.Repeat([]float64{room / float64(columns)}, columns)
	}
	for i := range least {
		least[i] += (wanted[i] - least[i]) * min(1, spare/ask)
	}
	return least
}

// wrap breaks the cells of a row into lines.
func (s *setter) wrap(cells []string, widths []float64, style string) [][]string {
	s.letters(style, tableSize)
	out := make([][]string, len(cells))
	for i, cell := range cells {
		if cell = shown(cell); cell != "" {
			out[i] = s.SplitText(cell, widths[i]-2*padding+2*s.GetCellMargin())
		}
	}
	return out
}

// height is that of a row of broken cells.
func (s *setter) height(cells [][]string) float64 {
	most := 1
	for _, lines := range cells {
		most = max(most, len(lines))
	}
	return float64(most)*s.line() + 2*padding
}

// row draws a row whose cells are broken into lines.
func (s *setter) row(cells [][]string, widths []float64, style string) {
	if cells == nil {
		return
	}
	s.letters(style, tableSize)
	x, y, height := margin, s.GetY(), s.height(cells)
	for i, lines := range cells {
		s.Rect(x, y, widths[i], height, "D")
		for j, line := range lines {
			s.SetXY(x+padding-s.GetCellMargin(), y+padding+float64(j)*s.line())
			s.CellFormat(widths[i], s.line(), line, "", 0, "L", false, 0, "")
		}
		x += widths[i]
	}
	s.SetXY(margin, y+height)
}

func firstLines(cells [][]string, n int) [][]string {
	out := make([][]string, len(cells))
	for i, lines := range cells {
		out[i] = lines[:min(n, len(lines))]
	}
	return out
}

// lastLines are those after the first n; nil if there are none.
func lastLines(cells [][]string, n int) [][]string {
	out, any := make([][]string, len(cells)), false
	for i, lines := range cells {
		out[i] = lines[min(n, len(lines)):]
		any = any || len(out[i]) > 0
	}
	if !any {
		return nil
	}
	return out
}
