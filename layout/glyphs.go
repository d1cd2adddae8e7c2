package layout

import (
	"cmp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"jardinet/pdf"
)

// A word is a run of glyphs without white space.
type word struct {
	text string
	box  pdf.Rect
}

// A segment is a run of words on one baseline without a wide gap: a line of a
// column, or a cell of a table.
type segment struct {
	words    []word
	box      pdf.Rect
	baseline float32
	size     float32
	style    style
	area     *area // instead of words: all that this area holds
	rule     bool  // a line drawn across, which no gutter crosses
}

// text returns the words, joined by spaces.
func (s segment) text() string {
	var words []string
	for _, w := range s.words {
		words = append(words, w.text)
	}
	return strings.Join(words, " ")
}

// A style is what most glyphs of a segment look like.
type style struct {
	bold, italic, fixed bool
}

// Gaps in units of the font size.
const (
	wordGap    = 0.17 // TeX sets spaces from 0.22 up and kerns by less than 0.1
	segmentGap = 1.0

	kernedSpace = 0.05
)

// A builder makes segments out of glyphs in the order of the file, which
// nearly always runs along the lines.
type builder struct {
	fonts    []pdf.Font
	segments []segment

	text                []byte
	box                 pdf.Rect // of the word being built
	open                bool     // a word is being built
	spaced              bool     // a space came after the last glyph
	current             segment
	last                pdf.Rect // box of the last glyph drawn
	right               float32  // where it ended
	bold, italic, fixed int      // glyphs in the current segment
	count               int
}

func (b *builder) add(g pdf.Glyph) {
	if !b.continues(g) {
		b.endSegment()
	}
	if b.count == 0 {
		b.current.baseline, b.current.size = g.Baseline, g.Size
		b.right = g.Box.X0
	}
	if g.Rune == ' ' || g.Rune == '\t' {
		b.spaced = true
		return
	}
	// A space that takes no room is one that kerning took back.
	gap := g.Box.X0 - b.right
	if b.open && (gap > wordGap*b.current.size || b.spaced && gap > kernedSpace*b.current.size) {
		b.endWord()
	}
	b.spaced = false
	b.put(g)
}

// put adds the glyph to the current word.
func (b *builder) put(g pdf.Glyph) {
	r := symbol(g.Rune)
	switch {
	case raised(g, b.current):
		r = superscript(r)
	case lowered(g, b.current):
		r = subscript(r)
	case g.Size > b.current.size*1.2:
		// What came before was raised or small; the line is this glyph's.
		if before := (pdf.Glyph{Size: b.current.size, Baseline: b.current.baseline}); raised(before, segment{size: g.Size, baseline: g.Baseline}) {
			b.text = []byte(strings.Map(superscript, string(b.text)))
			for i := range b.current.words {
				b.current.words[i].text = strings.Map(superscript, b.current.words[i].text)
			}
		}
		b.current.baseline, b.current.size = g.Baseline, g.Size
	}
	b.text = appendRune(b.text, r)
	b.box = b.box.Union(g.Box)
	b.open = true
	b.last, b.right = g.Box, g.Box.X1
	b.count++
	font := pdf.Font{}
	if int(g.Font) < len(b.fonts) {
		font = b.fonts[g.Font]
	}
	if font.Bold {
		b.bold++
	}
	if font.Italic {
		b.italic++
	}
	if font.Fixed {
		b.fixed++
	}
}

// continues tells whether the glyph goes on in the current segment.
func (b *builder) continues(g pdf.Glyph) bool {
	if b.count == 0 {
		return true
	}
	size := max(b.current.size, g.Size)
	if shift := g.Baseline - b.current.baseline; shift > 0.5*size || shift < -0.6*size {
		return false
	}
	gap := g.Box.X0 - b.right
	return gap < segmentGap*size && gap > -0.7*size || g.Box == b.last // a letter of a ligature
}

func (b *builder) endWord() {
	if b.open {
		b.current.words = append(b.current.words, word{string(b.text), b.box})
		b.current.box = b.current.box.Union(b.box)
	}
	b.text, b.box, b.open = b.text[:0], pdf.Rect{}, false
}

func (b *builder) endSegment() {
	b.endWord()
	if len(b.current.words) > 0 {
		// Bold must hold throughout: bold words at the start of a paragraph make
		// no heading.
		half := b.count / 2
		b.current.style = style{b.bold == b.count, b.italic > half, b.fixed > half}
		b.segments = append(b.segments, b.current)
	}
	b.current, b.spaced = segment{}, false
	b.count, b.bold, b.italic, b.fixed = 0, 0, 0, 0
}

// raised tells whether a glyph stands above the line as a superscript does.
func raised(g pdf.Glyph, line segment) bool {
	return g.Size < 0.88*line.size && line.baseline-g.Baseline > 0.15*line.size
}

// lowered tells whether a glyph hangs below the line as a subscript does.
func lowered(g pdf.Glyph, line segment) bool {
	return g.Size < 0.88*line.size && g.Baseline-line.baseline > 0.06*line.size
}

// subscript returns the lowered form of a digit, others as they are.
func subscript(r rune) rune {
	if r >= '0' && r <= '9' {
		return '₀' + (r - '0')
	}
	return r
}

// superscript returns the raised form of a digit or sign, others as they are.
func superscript(r rune) rune {
	switch r {
	case '1':
		return '¹'
	case '2':
		return '²'
	case '3':
		return '³'
	case '0', '4', '5', '6', '7', '8', '9':
		return '⁰' + (r - '0')
	case '-', '−', '–':
		return '⁻'
	case '+':
		return '⁺'
	}
	return r
}

// symbol maps what symbol fonts keep in the private use area to a bullet,
// which is nearly always what it is.
func symbol(r rune) rune {
	if r >= 0xe000 && r <= 0xf8ff {
		return '•'
	}
	return r
}

func appendRune(to []byte, r rune) []byte {
	switch {
	case r >= 'ﬀ' && r <= 'ﬆ':
		return append(to, [...]string{"ff", "fi", "fl", "ffi", "ffl", "st", "st"}[r-'ﬀ']...)
	case r == '\u00ad':
		return append(to, '-') // drawn, so it is a hyphen at a line's end
	case !unicode.IsPrint(r):
		return to
	}
	return append(to, string(r)...)
}

// segments returns the segments of the glyphs that run in one direction.
func segments(glyphs []pdf.Glyph, fonts []pdf.Font, turn pdf.Turn, page pdf.Rect) []segment {
	b := builder{fonts: fonts}
	for _, g := range glyphs {
		if g.Turn != turn {
			continue
		}
		if turn != pdf.Upright {
			g.Box = rotate(g.Box, turn, page)
			g.Baseline = g.Box.Y1 - 0.2*g.Box.Height()
		}
		b.add(g)
	}
	b.endSegment()
	out := merge(b.segments)
	for i := range out {
		out[i] = unspaced(out[i])
	}
	return attach(out)
}

// attach joins the marker of a list item with the text that it stands before,
// which may be set too far from it to be one segment.
func attach(in []segment) []segment {
	out := in[:0]
	for i := 0; i < len(in); i++ {
		s := in[i]
		if i+1 < len(in) && isMarker(s) {
			next := in[i+1]
			gap := next.box.X0 - s.box.X1
			if abs(next.baseline-s.baseline) < 0.3*next.size && gap > 0 && gap < markerGap*next.size && len(next.words) > 1 {
				next.words = append(slices.Clone(s.words), next.words...)
				next.box = next.box.Union(s.box)
				out = append(out, next)
				i++
				continue
			}
		}
		out = append(out, s)
	}
	return out
}

// markerGap is how far, in units of the font size, a list's text may stand from
// its marker.
const markerGap = 3.2

// isMarker tells whether a segment is nothing but a bullet or a number.
func isMarker(s segment) bool {
	return len(s.words) == 1 && len(s.words[0].text) <= 6 && marker.MatchString(s.words[0].text)
}

// unspaced joins the letters of headings that are set apart: words of one
// letter whose gaps are alike. The dots that lead to a page number are no letters.
func unspaced(s segment) segment {
	single := 0
	for _, w := range s.words {
		if r, n := utf8.DecodeRuneInString(w.text); n == len(w.text) && unicode.IsLetter(r) {
			single++
		}
	}
	if len(s.words) < 6 || single*10 < len(s.words)*9 {
		return s
	}
	var gaps []float32
	for i := 1; i < len(s.words); i++ {
		gaps = append(gaps, s.words[i].box.X0-s.words[i-1].box.X1)
	}
	usual := slices.Sorted(slices.Values(gaps))[len(gaps)/2]
	words := s.words[:1]
	for i, w := range s.words[1:] {
		last := &words[len(words)-1]
		if gaps[i] < 1.6*usual+0.05*s.size {
			last.text += w.text
			last.box = last.box.Union(w.box)
		} else {
			words = append(words, w)
		}
	}
	s.words = words
	return s
}

// merge joins segments that stand next to each other on one baseline though
// the file has them apart.
func merge(in []segment) []segment {
	slices.SortStableFunc(in, func(a, b segment) int {
		if d := a.baseline - b.baseline; d > 0.3*min(a.size, b.size) || d < -0.3*min(a.size, b.size) {
			return cmp.Compare(a.baseline, b.baseline)
		}
		return cmp.Compare(a.box.X0, b.box.X0)
	})
	out := in[:0]
	for _, s := range in {
		if n := len(out) - 1; n >= 0 && adjoins(out[n], s) {
			out[n] = joined(out[n], s)
			continue
		}
		out = append(out, s)
	}
	return out
}

// overlap is how far, in sizes, a segment begins before the end of another that it
// does not go on with: that of a cell whose text runs over into the next.
const overlap = -0.3

// adjoins tells whether b goes on where a ends. Bold faces drawn twice, a
// hair apart, overlap wholly; those are left to be dropped by joined.
func adjoins(a, b segment) bool {
	size := max(a.size, b.size)
	shift := b.baseline - a.baseline
	gap := b.box.X0 - a.box.X1
	return shift < 0.5*size && shift > -0.6*size && gap < segmentGap*size && gap >= overlap*size || doubled(a, b)
}

func doubled(a, b segment) bool {
	near := func(x, y float32) bool { return x-y < 1.5 && y-x < 1.5 }
	return len(a.words) == len(b.words) && near(a.box.X0, b.box.X0) && near(a.box.X1, b.box.X1) &&
		near(a.baseline, b.baseline) && a.words[0].text == b.words[0].text
}

func joined(a, b segment) segment {
	if doubled(a, b) {
		return a
	}
	gap := b.box.X0 - a.box.X1
	if last := len(a.words) - 1; gap <= wordGap*max(a.size, b.size) {
		a.words[last].text += b.words[0].text
		a.words[last].box = a.words[last].box.Union(b.words[0].box)
		a.words = append(a.words, b.words[1:]...)
	} else {
		a.words = append(a.words, b.words...)
	}
	a.box = a.box.Union(b.box)
	if b.box.Width() > a.box.Width()/2 {
		a.size, a.baseline, a.style = b.size, b.baseline, b.style
	}
	return a
}

// rotate turns a box so that text running in the given direction runs to the
// right; unrotate turns it back.
func rotate(r pdf.Rect, turn pdf.Turn, page pdf.Rect) pdf.Rect {
	switch turn {
	case pdf.Up:
		return pdf.Rect{X0: page.Y1 - r.Y1, Y0: r.X0, X1: page.Y1 - r.Y0, Y1: r.X1}
	case pdf.Down:
		return pdf.Rect{X0: r.Y0, Y0: page.X1 - r.X1, X1: r.Y1, Y1: page.X1 - r.X0}
	case pdf.UpsideDown:
		return pdf.Rect{X0: page.X1 - r.X1, Y0: page.Y1 - r.Y1, X1: page.X1 - r.X0, Y1: page.Y1 - r.Y0}
	}
	return r
}

func unrotate(r pdf.Rect, turn pdf.Turn, page pdf.Rect) pdf.Rect {
	switch turn {
	case pdf.Up:
		return pdf.Rect{X0: r.Y0, Y0: page.Y1 - r.X1, X1: r.Y1, Y1: page.Y1 - r.X0}
	case pdf.Down:
		return pdf.Rect{X0: page.X1 - r.Y1, Y0: r.X0, X1: page.X1 - r.Y0, Y1: r.X1}
	}
	return rotate(r, turn, page)
}
