package layout

import (
	"math"
	"regexp"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"unicode"
	"unicode/utf8"

	"jardinet/pdf"
	"jardinet/text"
)

// Assemble makes a document out of its sheets, in order of their pages, and
// what the file says of itself.
func Assemble(info *pdf.Info, sheets []*Sheet) *Document {
	ignoreCommonBold(sheets)
	a := &assembler{
		furniture: furniture(sheets),
		body:      bodySize(sheets),
		outline:   outlineByPage(info),
		compounds: compounds(sheets),
	}
	a.tags = a.trusted(sheets)
	doc := &Document{Title: info.Title, Pages: make([]Page, len(sheets))}
	headings := make([][]heading, len(sheets))
	inParallel(len(sheets), func(i int) {
		sheet, page := sheets[i], &doc.Pages[i]
		*page = Page{Number: sheet.number, Width: sheet.width, Height: sheet.height, Problem: sheet.problem, Key: sheet.key, Confidence: sheet.confidence, Links: sheet.links}
		if i < len(info.Labels) {
			page.Label = info.Labels[i]
		}
		headings[i] = a.page(sheet, page)
	})
	a.headings = slices.Concat(headings...)
	labelFromFurniture(doc)
	a.levels(doc)
	nameLanguages(doc)
	inParallel(len(doc.Pages), func(i int) { doc.Pages[i].Inspect() })
	if doc.Title == "" || !presentable(doc.Title) {
		doc.Title = firstHeading(doc)
	}
	return doc
}

// inParallel calls do for 0 to n-1 on all cores.
func inParallel(n int, do func(i int)) {
	var next atomic.Int64
	var wg sync.WaitGroup
	for range min(n, runtime.GOMAXPROCS(0)) {
		wg.Go(func() {
			for i := int(next.Add(1)) - 1; i < n; i = int(next.Add(1)) - 1 {
				do(i)
			}
		})
	}
	wg.Wait()
}

// An assembler holds what is known of the whole document.
type assembler struct {
	furniture map[*line]bool
	body      float32
	outline   map[int][]pdf.Bookmark
	compounds map[string]bool
	headings  []heading
	tags      trust
}

// longestHeading is how many bytes a heading has at most.
const longestHeading = 160

// A heading is remembered until all are known and levels can be given.
type heading struct {
	page, block int
	size        float32
	bold        bool
	outlined    int // level in the outline, 0 if not there
	tagged      int // level that the author gave it, 0 for none
}

func outlineByPage(info *pdf.Info) map[int][]pdf.Bookmark {
	out := map[int][]pdf.Bookmark{}
	for _, b := range info.Outline {
		out[b.Page] = append(out[b.Page], b)
	}
	return out
}

// ignoreCommonBold takes bold for nothing where most text is: the file's fonts
// do not tell how heavy they are.
func ignoreCommonBold(sheets []*Sheet) {
	bold, all := 0, 0
	for _, sheet := range sheets {
		for i := range sheet.lines {
			all += len(sheet.lines[i].text)
			if sheet.lines[i].style.bold {
				bold += len(sheet.lines[i].text)
			}
		}
	}
	if bold*2 < all {
		return
	}
	for _, sheet := range sheets {
		for i := range sheet.lines {
			sheet.lines[i].style.bold = false
		}
	}
}

// bodySize returns the size in which most letters of running text are set. The
// cells of tables do not count while there is any such text: they may be set
// smaller and hold more letters.
func bodySize(sheets []*Sheet) float32 {
	running, all := map[int]int{}, map[int]int{}
	for _, sheet := range sheets {
		for _, l := range sheet.lines {
			size := int(math.Round(float64(l.size * 4)))
			all[size] += len(l.text)
			if len(l.segments) == 1 && l.words > 5 {
				running[size] += len(l.text)
			}
		}
	}
	if len(running) == 0 {
		running = all
	}
	best := 40
	for size, n := range running {
		if n > running[best] || n == running[best] && size < best {
			best = size
		}
	}
	return float32(best) / 4
}

// compounds returns the hyphenated words that stand inside lines, folded: a
// hyphen at a line's end is kept where it would make one of them.
func compounds(sheets []*Sheet) map[string]bool {
	out := map[string]bool{}
	for _, sheet := range sheets {
		for i := range sheet.lines {
			for _, s := range sheet.lines[i].segments {
				for j, w := range s.words {
					if k := strings.IndexByte(w.text, '-'); k > 0 && k < len(w.text)-1 && j < len(s.words)-1 {
						out[compoundKey(w.text)] = true
					}
				}
			}
		}
	}
	return out
}

func compoundKey(s string) string {
	return strings.Trim(text.Fold(s), `.,;:()"'“”‘’`)
}

// page makes the blocks of one page and returns the headings among them.
func (a *assembler) page(sheet *Sheet, page *Page) (headings []heading) {
	var lines []*line
	for i := range sheet.lines {
		l := &sheet.lines[i]
		if a.furniture[l] {
			page.Blocks = append(page.Blocks, a.block(Furniture, []*line{l}, sheet))
			continue
		}
		lines = append(lines, l)
	}
	pitch, shown := leading(lines), slices.Clone(sheet.shown)
	markSolid(lines, pitch)
	contents := isContentsPage(lines)
	for start := 0; start < len(lines); {
		l := lines[start]
		end := start + 1
		if l.area != nil {
			page.Blocks = append(page.Blocks, a.areaBlock(l.area, sheet))
			if l.area.kind == figureArea {
				var captions []Block
				captions, shown = shownBy(shown, l.area)
				page.Blocks = append(page.Blocks, captions...)
			}
			start = end
			continue
		}
		var b Block
		switch rows := tableRun(lines[start:]); {
		case isContentsLine(l, contents):
			b = a.block(Contents, lines[start:end], sheet)
		case rows > 0:
			end = start + rows
			b = a.table(lines[start:end], sheet)
		default:
			kind := a.kind(l, page)
			for end < len(lines) && !isContentsLine(lines[end], contents) && tableRun(lines[end:]) == 0 &&
				a.joins(kind, lines[start:end], lines[end], pitch, page) {
				end++
			}
			b = a.block(kind, lines[start:end], sheet)
		}
		if b.Kind == Heading {
			headings = append(headings, heading{
				page: page.Number, block: len(page.Blocks), size: l.size, bold: l.style.bold,
				outlined: a.outlined(b.Text, page.Number), tagged: l.tagged,
			})
		}
		page.Blocks = append(page.Blocks, b)
		start = end
	}
	for _, t := range shown {
		page.Blocks = append(page.Blocks, caption(t))
	}
	return headings
}

// solidLines is how many lines alike, one under the other, are running text and
// no heading, however they are set.
const solidLines = 4

// markSolid marks the lines of paragraphs that are all in bold or large type.
func markSolid(lines []*line, pitch float32) {
	for start := 0; start < len(lines); {
		end := start + 1
		for end < len(lines) && continuesSolid(lines[end-1], lines[end], pitch) {
			end++
		}
		for _, l := range lines[start:end] {
			l.solid = end-start >= solidLines
		}
		start = end
	}
}

func continuesSolid(a, b *line, pitch float32) bool {
	gap := b.baseline - a.baseline
	return a.area == nil && b.area == nil && a.region == b.region && a.turn == b.turn && a.style.bold == b.style.bold && alike(a, b) &&
		len(a.segments) == 1 && len(b.segments) == 1 && gap > 0 && gap < 1.35*max(pitch, a.size) && abs(a.box.X0-b.box.X0) < 3*a.size
}

// leading returns the usual distance between baselines, at least 1 em.
func leading(lines []*line) float32 {
	count := map[int]int{}
	for i := 1; i < len(lines); i++ {
		if lines[i].region != lines[i-1].region {
			continue
		}
		if d := lines[i].baseline - lines[i-1].baseline; d > 0 && d < 3*lines[i].size {
			count[int(math.Round(float64(d*2)))]++
		}
	}
	best, n := 0, 0
	for d, c := range count {
		if c > n || c == n && d < best {
			best, n = d, c
		}
	}
	return float32(best) / 2
}

var (
	numbered  = regexp.MustCompile(`^(?:(?:chapter|part|section|appendix|annex|chapitre|kapitel|teil|abschnitt|annexe|anhang)\s+)?(?:\d+(?:\.\d+){0,4}|[A-Z](?:\.\d+){1,4}|[A-Z]\.)\.?\s+\pL`)
	worded    = regexp.MustCompile(`(?i)^(?:chapter|part|section|appendix|annex|chapitre|kapitel|teil|annexe|anhang|rule)\s+[\dA-Z]+`)
	bulleted  = regexp.MustCompile(`^(?:[•‣▪■□●○◦–—*·✓☐-]|\(?(?:\d{1,2}|[a-z]|[ivx]{1,4})[.)])(?:\s+\S|$)`)
	marker    = regexp.MustCompile(`^(?:[•‣▪■□●○◦–—*·✓☐-]|\(?(?:\d{1,2}|[a-z]|[ivx]{1,4})[.)])$`)
	captioned = regexp.MustCompile(`(?i)^(?:figure|fig\.|table|tableau|abbildung|tabelle|plate|chart|map)\s+[A-Z]?\d+(?:[.-]\d+)*\b`)
	noted     = regexp.MustCompile(`^(?:[¹²³⁴⁵⁶⁷⁸⁹⁰]+|[*†‡]+)\s*\pL`)
	leaders   = regexp.MustCompile(`(?:\.\s?){4,}\s*\S{0,7}$`)
)

// isContentsPage tells whether most lines of a page end in page numbers under
// a heading that says contents, or nearly all do in numbers that hardly ever fall, as
// the years of a table would.
func isContentsPage(lines []*line) bool {
	named, ending, falling, before := false, 0, 0, 0
	for i, l := range lines {
		s := l.text
		if i < 4 {
			switch text.Fold(s) {
			case "contents", "table of contents", "sommaire", "table des matieres", "inhalt", "inhaltsverzeichnis", "index", "contenu":
				named = true
			}
		}
		if page, ok := pageAtEnd(s); ok {
			ending++
			n, _ := strconv.Atoi(page) // 0 for a roman one
			if n < before {
				falling++
			}
			before = n
		}
	}
	return named && ending*2 > len(lines) || len(lines) > 12 && ending*10 > len(lines)*8 && falling*10 < ending
}

// pageAtEnd returns the last word of a line, and whether it is a page number and no
// sentence ends there.
func pageAtEnd(s string) (string, bool) {
	last := strings.LastIndexByte(s, ' ')
	word := s[last+1:]
	return word, last > 0 && isPageNumber(word) && !strings.HasSuffix(s, ".")
}

func isContentsLine(l *line, contents bool) bool {
	s := l.text
	_, page := pageAtEnd(s)
	return strings.Contains(s, ". .") && leaders.MatchString(s) || strings.Contains(s, "....") && leaders.MatchString(s) || contents && page
}

// kind tells what a block that begins with l is.
func (a *assembler) kind(l *line, page *Page) Kind {
	s := l.text
	switch {
	case captioned.MatchString(s):
		return Caption
	case noted.MatchString(s) && l.size < 0.95*a.body && l.box.Y0 > page.Height/2:
		return Footnote
	case a.isHeading(l, s, page):
		return Heading
	case bulleted.MatchString(s):
		return ListItem
	}
	return Paragraph
}

// isHeading tells whether a line begins a heading: the outline names it, or it
// is larger than body text, or it is bold and stands alone like a title.
func (a *assembler) isHeading(l *line, s string, page *Page) bool {
	if len(s) > longestHeading || !strings.ContainsFunc(s, unicode.IsLetter) || len(l.segments) > 2 || l.style.fixed {
		return false
	}
	if a.outlined(s, page.Number) > 0 {
		return true
	}
	if a.tags != noTags && l.tagged > 0 {
		return true
	}
	if a.tags == allTags {
		return false
	}
	last, _ := utf8.DecodeLastRuneInString(s)
	if strings.ContainsRune(".;,:", last) && !worded.MatchString(s) {
		return false
	}
	if l.solid {
		return false
	}
	if l.size >= 1.12*a.body && letters(s) >= 3 {
		return true
	}
	if !l.style.bold || l.boxed || l.size < 0.95*a.body || l.words > 14 {
		return false
	}
	first, _ := utf8.DecodeRuneInString(s)
	return numbered.MatchString(s) || unicode.IsUpper(first)
}

func letters(s string) int {
	n := 0
	for _, r := range s {
		if unicode.IsLetter(r) {
			n++
		}
	}
	return n
}

// outlined returns the outline's level of a heading on a page, 0 if the
// outline does not have it. The first line of a longer title counts.
func (a *assembler) outlined(s string, page int) int {
	key := titleKey(s)
	if len(key) < 3 {
		return 0
	}
	for _, b := range a.outline[page] {
		title := titleKey(b.Title)
		if title == key || len(key) >= 12 && strings.HasPrefix(title, key) || len(title) >= 4 && strings.HasSuffix(key, title) && len(key)-len(title) <= 14 && unnumbered(key) == title {
			return b.Level
		}
	}
	return 0
}

// titleKey reduces a title to its folded letters and digits.
func titleKey(s string) string {
	var b strings.Builder
	for _, t := range text.Tokens(s) {
		b.WriteString(t.Word)
	}
	return b.String()
}

// unnumbered strips the number in front of a title's key.
func unnumbered(key string) string {
	for _, prefix := range []string{"chapter", "appendix", "part", "section"} {
		key = strings.TrimPrefix(key, prefix)
	}
	return strings.TrimLeft(key, "0123456789.")
}

// joins tells whether next goes on with the block made of lines so far.
func (a *assembler) joins(kind Kind, lines []*line, next *line, pitch float32, page *Page) bool {
	prev := lines[len(lines)-1]
	if next.area != nil {
		return false
	}
	s := next.text
	gap := next.baseline - prev.baseline
	limit := 1.35 * max(pitch, prev.size)
	if kind == Heading {
		limit = 1.6 * prev.size
	}
	sameColumn := next.region == prev.region && gap > 0 && gap < limit
	if next.turn != prev.turn || !sameColumn || !alike(prev, next) || a.tags != noTags && prev.tagged != next.tagged {
		return false
	}
	switch kind {
	case Heading:
		return prev.style.bold == next.style.bold && len(lines) < 3 && !numbered.MatchString(s) && !worded.MatchString(s) &&
			prev.box.Width() > 0.4*page.Width && (a.outlined(lines[0].text, page.Number) == 0 || a.outlinedLonger(lines, next, page))
	case Paragraph:
		if bulleted.MatchString(s) && !goesOnWithNumber(prev.text, s) && next.box.X0 >= prev.box.X0-2 && !strings.HasPrefix(s, "–") {
			return false
		}
	case ListItem:
		if bulleted.MatchString(s) || next.box.X0 < lines[0].box.X0-2 {
			return false
		}
		if len(lines) == 1 && next.box.X0 < lines[0].box.X0+2 && endsSentence(prev.text) {
			return false
		}
	}
	return a.kind(next, page) != Heading && !captioned.MatchString(s) && !opens(lines, next)
}

// dangling matches a line that no sentence ends with, and withNumber one that begins with a
// number rather than with the mark of an item.
var (
	dangling   = regexp.MustCompile(`(?i)\b(?:of|to|from|than|at|by|for|and|or|is|are|was|in|on|the|an?|about|with|under|over|until|after|before|between|least|most|page|section|rule|chapter|table|figure|no)$`)
	withNumber = regexp.MustCompile(`^\d{1,2}\.(?:\s|$)`)
)

// goesOnWithNumber tells whether a sentence goes on over the end of a line with a number
// that ends it: "from the age of / 65."
func goesOnWithNumber(prev, s string) bool {
	return withNumber.MatchString(s) && dangling.MatchString(prev)
}

// outlinedLonger tells whether the outline's title goes on with the next line.
func (a *assembler) outlinedLonger(lines []*line, next *line, page *Page) bool {
	so := ""
	for _, l := range lines {
		so += l.text + " "
	}
	longer := titleKey(so + next.text)
	for _, b := range a.outline[page.Number] {
		if strings.HasPrefix(titleKey(b.Title), longer) || unnumbered(longer) == titleKey(b.Title) {
			return true
		}
	}
	return false
}

func alike(a, b *line) bool {
	return b.size > 0.88*a.size && b.size < 1.13*a.size && a.style.fixed == b.style.fixed
}

// opens tells whether next begins a paragraph of its own although it stands as
// close as any other line: indented, after a line that ended early or a
// sentence that ended.
func opens(lines []*line, next *line) bool {
	prev := lines[len(lines)-1]
	indent := next.box.X0 - prev.box.X0
	em := next.size
	if len(lines) > 1 && indent > 0.9*em && indent < 4*em && endsSentence(prev.text) {
		return true
	}
	short := prev.box.X1 < lines[0].box.X0+0.7*max(next.box.X1-lines[0].box.X0, 1)
	return short && endsSentence(prev.text) && indent >= -1 && len(lines) > 1
}

func endsSentence(s string) bool {
	s = strings.TrimRight(s, `)"”’»`)
	last, _ := utf8.DecodeLastRuneInString(s)
	return strings.ContainsRune(".!?:", last)
}

// block joins lines into a block of running text.
func (a *assembler) block(kind Kind, lines []*line, sheet *Sheet) Block {
	b := Block{Kind: kind}
	var out []byte
	for i, l := range lines {
		if i > 0 {
			if mended, ok := a.mend(out, l); ok {
				out = mended
				b.Words[len(b.Words)-1].End = len(out)
			} else {
				out = append(out, ' ')
			}
		}
		out = b.appendLine(out, l, sheet)
	}
	b.Text = string(out)
	return b
}

// appendLine adds a line's words to the block.
func (b *Block) appendLine(out []byte, l *line, sheet *Sheet) []byte {
	bounds := pdf.Rect{X1: sheet.width, Y1: sheet.height}
	first := true
	for _, s := range l.segments {
		for _, w := range s.words {
			if !first {
				out = append(out, ' ')
			}
			first = false
			box := w.box
			if l.turn != pdf.Upright {
				box = unrotate(box, l.turn, bounds)
			}
			b.Words = append(b.Words, Word{len(out), len(out) + len(w.text), box})
			out = append(out, w.text...)
			b.Box = b.Box.Union(box)
		}
	}
	return out
}

// mend takes the hyphen off the end of out if the line l goes on with the word.
func (a *assembler) mend(out []byte, l *line) ([]byte, bool) {
	n := len(out)
	if n < 2 || out[n-1] != '-' || l.style.fixed {
		return out, false
	}
	before, _ := utf8.DecodeLastRune(out[:n-1])
	next := l.segments[0].words[0].text
	after, _ := utf8.DecodeRuneInString(next)
	if !unicode.IsLetter(before) || !unicode.IsLower(after) {
		return out, false
	}
	start := strings.LastIndexByte(string(out), ' ') + 1
	if strings.IndexByte(string(out[start:n-1]), '-') >= 0 || a.compounds[compoundKey(string(out[start:])+next)] {
		return out, true // a compound keeps its hyphen
	}
	return out[:n-1], true
}
