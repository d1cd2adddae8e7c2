package layout

import (
	"cmp"
	"slices"
	"strings"

	"jardinet/pdf"
)

// A Sheet is one page read by itself: lines in reading order, not yet blocks.
type Sheet struct {
	number        int
	width, height float32
	lines         []line
	problem       string
	key           string
	rules         []pdf.Rect // horizontal lines, which may part the rows of tables
	shown         []pdf.Tag  // pictures of which the author says what they show
	links         []pdf.Link
	confidence    int
	regions       int
}

// A line is the segments on one baseline of one region of the page. More than
// one means wide gaps: most likely the cells of a table row.
type line struct {
	segments []segment
	box      pdf.Rect
	baseline float32
	size     float32
	style    style
	region   int // lines of one column or band share it
	turn     pdf.Turn
	text     string // words joined by spaces
	words    int
	area     *area // instead of text
	boxed    bool  // stands in a box
	solid    bool  // one of many lines alike, which are no heading
	aside    bool  // the number of a line, which is furniture
	tagged   int   // the level of the heading that the author says it is
}

// Read puts the text of one page into reading order. err is what reading the
// page met with, if anything; the sheet then says so.
func Read(page *pdf.Page, err error) *Sheet {
	sheet := &Sheet{number: page.Number, width: page.Width, height: page.Height}
	if err != nil {
		sheet.problem = err.Error()
		return sheet
	}
	sheet.key = key(page)
	for _, m := range page.Marks {
		if m.Kind == pdf.Rule && m.Box.Width() > 4*m.Box.Height() {
			sheet.rules = append(sheet.rules, m.Box)
		}
	}
	bounds := pdf.Rect{X1: page.Width, Y1: page.Height}
	var turns [5]int
	for _, g := range page.Glyphs {
		turns[g.Turn]++
	}
	for _, turn := range []pdf.Turn{pdf.Upright, pdf.Down, pdf.UpsideDown, pdf.Up} {
		if turns[turn] == 0 {
			continue
		}
		text := segments(page.Glyphs, page.Fonts, turn, bounds)
		if turn == pdf.Upright {
			var found []area
			text, found = splitCharts(text, areas(page.Marks, page.Width, page.Height), charts(page.Marks), turn)
			text = split(text, found, turn)
		}
		text, numbers := numbering(text)
		if turn == pdf.Upright {
			text = append(text, sheet.drawnAcross(text)...)
		}
		sheet.add(text, turn)
		for _, n := range numbers {
			sheet.lines = append(sheet.lines, line{segments: []segment{n}, turn: turn, aside: true})
			sheet.lines[len(sheet.lines)-1].finish()
		}
	}
	if turns[pdf.Slanted] > 0 {
		sheet.lines = append(sheet.lines, slanted(page.Glyphs))
	}
	sheet.mark(page.Tags)
	sheet.links = page.Links
	if len(sheet.lines) == 0 && slices.ContainsFunc(page.Marks, func(m pdf.Mark) bool { return m.Kind == pdf.Picture }) {
		sheet.problem = pictureOnly
	}
	return sheet
}

// Recognised marks a sheet as read from a picture of the page whose key is
// given, with so much confidence in percent.
func (s *Sheet) Recognised(key string, confidence int) *Sheet {
	s.key, s.confidence = key, max(confidence, 1)
	return s
}

// Key names the page by its content.
func (s *Sheet) Key() string { return s.key }

// NeedsRecognition tells whether a page is a picture without text, or has text
// that no font explains.
func (p *Page) NeedsRecognition() bool {
	return p.Problem == pictureOnly || p.Confidence == 0 && p.Unreadable()
}

const pictureOnly = "no text: the page is a picture"

// add puts the segments of one direction into order, and what stands in boxes
// in the place of the box.
func (s *Sheet) add(text []segment, turn pdf.Turn) {
	for _, part := range cut(text, 0) {
		s.regions++
		for _, l := range gather(part) {
			if l.area != nil && l.area.kind == boxArea {
				from := len(s.lines)
				s.add(l.area.inner, turn)
				for i := range s.lines[from:] {
					s.lines[from+i].boxed = true
				}
				s.regions++
				continue
			}
			l.region, l.turn = s.regions, turn
			s.lines = append(s.lines, l)
		}
	}
}

// slanted makes one line of the text that runs neither along nor up the page,
// such as a watermark's.
func slanted(glyphs []pdf.Glyph) line {
	var text []byte
	var box pdf.Rect
	for _, g := range glyphs {
		if g.Turn == pdf.Slanted {
			text = appendRune(text, g.Rune)
			box = box.Union(g.Box)
		}
	}
	l := line{segments: []segment{{words: []word{{strings.TrimSpace(string(text)), box}}, box: box}}, turn: pdf.Slanted}
	l.finish()
	return l
}

// drawnAcross returns the horizontal lines of the page that do not belong to an
// area or underline words.
func (s *Sheet) drawnAcross(text []segment) (out []segment) {
	const least = 40
	for _, r := range s.rules {
		if r.Width() < least || slices.ContainsFunc(text, func(t segment) bool { return t.area != nil && contains(t.box, r) }) {
			continue
		}
		out = append(out, segment{box: r, baseline: r.Y1, size: 1, rule: true})
	}
	return out
}

// gather makes lines out of the segments of one region, from top to bottom.
func gather(part []segment) []line {
	part = slices.DeleteFunc(part, func(s segment) bool { return s.rule })
	slices.SortStableFunc(part, func(a, b segment) int { return cmp.Compare(a.baseline, b.baseline) })
	var out []line
	for _, s := range part {
		if s.area != nil {
			out = append(out, line{area: s.area, box: s.box, baseline: s.baseline, size: s.size})
			continue
		}
		if n := len(out) - 1; n >= 0 && out[n].area == nil && s.baseline-out[n].baseline < 0.35*min(s.size, out[n].size) {
			out[n].segments = append(out[n].segments, s)
			continue
		}
		out = append(out, line{segments: []segment{s}, baseline: s.baseline, size: s.size})
	}
	for i := range out {
		if out[i].area == nil {
			out[i].finish()
		}
	}
	return out
}

// finish derives what a line gets from its segments.
func (l *line) finish() {
	slices.SortStableFunc(l.segments, func(a, b segment) int { return cmp.Compare(a.box.X0, b.box.X0) })
	widest := 0
	for i, s := range l.segments {
		l.box = l.box.Union(s.box)
		if s.box.Width() > l.segments[widest].box.Width() {
			widest = i
		}
	}
	l.size, l.baseline = l.segments[widest].size, l.segments[widest].baseline
	l.style = style{true, true, true}
	var out []byte
	for _, s := range l.segments {
		for _, w := range s.words {
			if len(out) > 0 {
				out = append(out, ' ')
			}
			out = append(out, w.text...)
		}
		l.words += len(s.words)
		l.style.bold = l.style.bold && s.style.bold
		l.style.italic = l.style.italic && s.style.italic
		l.style.fixed = l.style.fixed && s.style.fixed
	}
	l.text = string(out)
}
