package layout

import (
	"cmp"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"jardinet/pdf"
)

// Furniture is looked for in the outermost lines of each page.
const (
	edgeLines  = 3
	minRepeats = 3
	slotHeight = 3 // points within which a header stands on each page
)

// A slot is a height on the page, from the top or, negative, from the bottom.
type slot int

// furniture tells for each line of each sheet whether it is a running header,
// footer or page number. A line is if its text, with numbers blanked, stands at
// its height on a quarter of the pages, or if it stands where most lines come
// back. Lines that come back now and then are the text of similar sections.
func furniture(sheets []*Sheet) map[*line]bool {
	type entry struct {
		line *line
		slot slot
		text string
	}
	var entries []entry
	repeats := map[string]int{}
	slots := map[slot]int{}
	for _, sheet := range sheets {
		for _, l := range edges(sheet) {
			if namesColumns(l, sheet) {
				continue
			}
			e := entry{l, slotOf(l, sheet), blank(l.text)}
			entries = append(entries, e)
			repeats[e.text+"\x00"+strconv.Itoa(int(e.slot))]++
			slots[e.slot]++
		}
	}
	recurring := map[slot]int{}
	for _, e := range entries {
		if repeats[e.text+"\x00"+strconv.Itoa(int(e.slot))] >= minRepeats {
			recurring[e.slot]++
		}
	}
	out := map[*line]bool{}
	for _, e := range entries {
		again := repeats[e.text+"\x00"+strconv.Itoa(int(e.slot))]
		everywhere := again >= minRepeats && again*4 >= len(sheets)
		place := slots[e.slot] >= minRepeats && recurring[e.slot]*2 >= slots[e.slot] && slots[e.slot]*3 > len(sheets)
		if everywhere || place {
			out[e.line] = true
		}
	}
	for _, sheet := range sheets {
		for _, l := range edges(sheet) {
			if isPageNumber(l.text) || besideFurniture(l, sheet, out) {
				out[l] = true
			}
		}
		for i := range sheet.lines {
			if l := &sheet.lines[i]; l.turn == pdf.Slanted || l.aside {
				out[l] = true
			}
		}
	}
	return out
}

// besideFurniture tells whether a line stands on the same height as a running
// header or footer, of which it is the other half.
func besideFurniture(l *line, sheet *Sheet, furniture map[*line]bool) bool {
	for i := range sheet.lines {
		if other := &sheet.lines[i]; furniture[other] && abs(other.baseline-l.baseline) < 1.5 && other.turn == l.turn && !isPageNumber(other.text) {
			return true
		}
	}
	return false
}

// namesColumns tells whether a line is the header of a table, which long tables
// repeat on each page: the next line below it has as many cells.
func namesColumns(l *line, sheet *Sheet) bool {
	if len(l.segments) < 3 {
		return false
	}
	for i := range sheet.lines {
		next := &sheet.lines[i]
		if gap := next.baseline - l.baseline; gap > 0 && gap < 4*l.size && next.region == l.region && len(next.segments) >= len(l.segments) {
			return true
		}
	}
	return false
}

// numbering takes the numbers beside the lines of a page out of its segments:
// five or more that count up, above each other and left or right of all text.
func numbering(in []segment) (rest, numbers []segment) {
	columns := map[int][]int{}
	for i, s := range in {
		if len(s.words) == 1 && numeral(s.words[0].text) > 0 {
			edge := int(s.box.X1 / 3)
			columns[edge] = append(columns[edge], i)
		}
	}
	taken := map[int]bool{}
	for edge := range columns {
		var all []int
		for _, near := range []int{edge - 1, edge, edge + 1} { // numbers may be centred
			all = append(all, columns[near]...)
		}
		if countsUp(in, all) && outside(in, all) {
			for _, i := range all {
				taken[i] = true
			}
		}
	}
	if len(taken) == 0 {
		return in, nil
	}
	for i, s := range in {
		if taken[i] {
			numbers = append(numbers, s)
		} else {
			rest = append(rest, s)
		}
	}
	return rest, numbers
}

// countsUp tells whether segments are numbers that rise down the page by the
// same step.
func countsUp(in []segment, at []int) bool {
	if len(at) < 5 {
		return false
	}
	slices.SortFunc(at, func(a, b int) int { return cmp.Compare(in[a].baseline, in[b].baseline) })
	step := 0
	for k := 1; k < len(at); k++ {
		d := numeral(in[at[k]].words[0].text) - numeral(in[at[k-1]].words[0].text)
		if d <= 0 || step != 0 && d != step {
			return false
		}
		step = d
	}
	return true
}

// outside tells whether all other text of the page, but for its edges, lies on
// one side of some segments. The numbers in the first column of a table do not:
// they stand where paragraphs begin.
func outside(in []segment, at []int) bool {
	mine := map[int]bool{}
	var box, page pdf.Rect
	for _, i := range at {
		mine[i] = true
		box = box.Union(in[i].box)
	}
	for _, s := range in {
		page = page.Union(s.box)
	}
	before, after := true, true
	for i, s := range in {
		edge := s.box.Y1 < page.Y0+0.08*page.Height() || s.box.Y0 > page.Y1-0.08*page.Height()
		if mine[i] || edge && (s.box.Y1 < box.Y0 || s.box.Y0 > box.Y1) {
			continue
		}
		before = before && s.box.X0 > box.X1+4
		after = after && s.box.X1 < box.X0-4
	}
	return before || after
}

// edges returns the first and last lines of a page by height.
func edges(sheet *Sheet) []*line {
	var top, bottom []*line
	for i := range sheet.lines {
		l := &sheet.lines[i]
		if l.turn != 0 || l.area != nil || l.aside {
			continue
		}
		if l.box.Y1 < 0.14*sheet.height {
			top = append(top, l)
		} else if l.box.Y0 > 0.86*sheet.height {
			bottom = append(bottom, l)
		}
	}
	byHeight := func(a, b *line) int { return cmp.Compare(a.baseline, b.baseline) }
	slices.SortStableFunc(top, byHeight)
	slices.SortStableFunc(bottom, byHeight)
	top = top[:min(len(top), edgeLines)]
	return append(top, bottom[max(0, len(bottom)-edgeLines):]...)
}

func slotOf(l *line, sheet *Sheet) slot {
	if l.box.Y1 < sheet.height/2 {
		return slot(l.baseline/slotHeight) + 1
	}
	return -slot((sheet.height-l.baseline)/slotHeight) - 1
}

// blank replaces numbers, so that page numbers do not make lines differ.
func blank(s string) string {
	var b strings.Builder
	for _, field := range strings.Fields(s) {
		if b.Len() > 0 {
			b.WriteByte(' ')
		}
		if isPageNumber(field) {
			b.WriteByte('#')
			continue
		}
		b.WriteString(strings.Map(func(r rune) rune {
			if unicode.IsDigit(r) {
				return '#'
			}
			return r
		}, field))
	}
	return b.String()
}

// isPageNumber tells whether a line is nothing but a page number: "12", "xii",
// "– 12 –", "3-4".
func isPageNumber(s string) bool {
	s = strings.Trim(s, "-–—|. \u00a0")
	if s == "" || len(s) > 7 {
		return false
	}
	return strings.Trim(s, "0123456789-–") == "" || strings.Trim(s, "ivxlc") == ""
}
