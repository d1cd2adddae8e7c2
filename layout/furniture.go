package layout

import (
	"strconv"
	"strings"
	"unicode"
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
			if isPageNumber(l.text) {
				out[l] = true
			}
		}
	}
	return out
}

// edges returns the first and last lines of a page by height.
func edges(sheet *Sheet) []*line {
	var top, bottom []*line
	for i := range sheet.lines {
		l := &sheet.lines[i]
		if l.turn != 0 {
			continue
		}
		if l.box.Y1 < 0.14*sheet.height {
			top = append(top, l)
		} else if l.box.Y0 > 0.86*sheet.height {
			bottom = append(bottom, l)
		}
	}
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
