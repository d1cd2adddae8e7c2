package passage

import (
	"math"
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"jardinet/layout"
	"jardinet/text"
)

// A piece is a sentence before it belongs to a passage.
type piece struct {
	text  string
	words int
	kind  layout.Kind
	first bool
	row   string // what a row of a table is one of
	marks []Mark
	path  []string // of the section that it stands in
}

// longestPiece is the most words of a piece; what has no sentence ends, such
// as a listing of code, is cut there.
const longestPiece = 120

// Split cuts a document by a recipe.
func Split(doc *layout.Document, recipe Recipe) []Passage {
	s := &splitter{recipe: recipe, language: doc.Language}
	for i := range doc.Pages {
		page := &doc.Pages[i]
		s.language = page.Language
		if recipe.Cut == ByPage && i > 0 {
			s.endSection()
		}
		for j := range page.Blocks {
			b := &page.Blocks[j]
			if b.Kind == layout.Figure && len(b.Rows) > 0 {
				s.chart(b, captionOf(page.Blocks, j), page.Number)
				continue
			}
			s.block(b, page.Number)
		}
	}
	s.endSection()
	if s.bare != nil {
		s.add(*s.bare)
		s.endSection()
	}
	return s.out
}

type splitter struct {
	recipe   Recipe
	language text.Language
	path     []section
	pieces   []piece
	bare     *piece        // a heading under which nothing has come yet
	pending  *layout.Block // a paragraph that may go on on the next page
	page     int           // of pending
	last     lastTable
	out      []Passage
}

type section struct {
	level int
	title string
}

func (s *splitter) block(b *layout.Block, page int) {
	switch b.Kind {
	case layout.Furniture, layout.Contents, layout.Figure:
		return // a figure's labels are no text; its caption is
	case layout.Heading:
		s.flush()
		s.heading(b, page)
		return
	}
	s.bare = nil
	if s.pending != nil && (page == s.page+1 || nextColumn(s.pending, b)) && goesOn(s.pending, b) {
		s.joinPending(b, page)
		return
	}
	s.flush()
	if b.Kind == layout.Table {
		s.table(b, page)
		return
	}
	s.pending, s.page = b, page
}

// nextColumn tells whether b stands in the column to the right of a.
func nextColumn(a, b *layout.Block) bool { return b.Box.X0 > a.Box.X1 && b.Box.Y0 < a.Box.Y0 }

// goesOn tells whether b is the rest of a paragraph begun on the page or in the
// column before.
func goesOn(a, b *layout.Block) bool {
	if a.Kind != layout.Paragraph && a.Kind != layout.ListItem || b.Kind != layout.Paragraph {
		return false
	}
	last, _ := utf8.DecodeLastRuneInString(a.Text)
	first, _ := utf8.DecodeRuneInString(b.Text)
	return !strings.ContainsRune(".!?:;", last) && unicode.IsLower(first)
}

// joinPending ends the pending paragraph with its rest on the next page.
func (s *splitter) joinPending(b *layout.Block, page int) {
	a := s.pending
	start, broken := strings.CutSuffix(a.Text, "-")
	if !broken {
		start += " "
	}
	whole, joint := start+b.Text, len(start)
	s.pending = nil
	s.sentences(whole, a.Kind, func(start, end int) []Mark {
		marks := marksOf(a, start, min(end, len(a.Text)), s.page)
		if end > joint {
			marks = append(marks, marksOf(b, max(0, start-joint), end-joint, page)...)
		}
		return marks
	})
}

func marksOf(b *layout.Block, start, end, page int) []Mark {
	var out []Mark
	for _, box := range b.Boxes(start, end) {
		out = append(out, Mark{page, box})
	}
	return out
}

// flush turns the pending block into pieces.
func (s *splitter) flush() {
	if b := s.pending; b != nil {
		s.pending = nil
		s.sentences(b.Text, b.Kind, func(start, end int) []Mark { return marksOf(b, start, end, s.page) })
	}
}

func (s *splitter) sentences(whole string, kind layout.Kind, marks func(start, end int) []Mark) {
	for i, span := range text.Sentences(whole) {
		for j, part := range chop(whole, span) {
			s.add(piece{text: whole[part.Start:part.End], kind: kind, first: i == 0 && j == 0, marks: marks(part.Start, part.End)})
		}
	}
}

// chop cuts a span that is too long at spaces.
func chop(whole string, span text.Span) []text.Span {
	var out []text.Span
	start, words := span.Start, 0
	for i := span.Start; i < span.End; i++ {
		if whole[i] != ' ' {
			continue
		}
		if words++; words == longestPiece {
			out = append(out, text.Span{Start: start, End: i})
			start, words = i+1, 0
		}
	}
	return append(out, text.Span{Start: start, End: span.End})
}

func (s *splitter) add(p piece) {
	if strings.TrimSpace(p.text) == "" {
		return
	}
	p.words = strings.Count(p.text, " ") + 1
	p.path = s.titles()
	s.pieces = append(s.pieces, p)
}

// table adds a row a piece, each with the names of its columns. A table that
// goes on from the page before without a header of its own takes the names from
// there.
func (s *splitter) table(b *layout.Block, page int) {
	names := columnNames(b)
	if len(names) == 0 && s.last.page == page-1 && s.last.columns == columnsOf(b) {
		names = s.last.names
	}
	s.last = lastTable{names, columnsOf(b), page}
	for i, row := range b.Rows {
		if row.Header && len(b.Rows) > 1 {
			continue
		}
		s.row(b, row, names, i == 0, page)
	}
}

// row adds a row of a table or a chart, each cell with the name of its column.
func (s *splitter) row(b *layout.Block, row layout.Row, names map[int]string, first bool, page int) {
	start, end := row.Cells[0].Start, row.Cells[len(row.Cells)-1].End
	s.add(piece{text: rowText(b, row, names), kind: layout.Table, first: first, row: names[row.Cells[0].Column], marks: marksOf(b, start, end, page)})
}

// chart adds a bar a piece: its label, what the caption says is shown, and its
// number.
func (s *splitter) chart(b *layout.Block, shown string, page int) {
	s.flush()
	s.bare = nil
	for i, row := range b.Rows {
		if len(row.Cells) > 1 {
			s.row(b, row, map[int]string{1: shown}, i == 0, page)
		}
	}
}

var (
	figureNumber = regexp.MustCompile(`(?i)^(?:fig(?:ure|\.)?|abb(?:ildung|\.)?|chart|diagramm?e?)\s*[\dIVX.-]*\s*[.:–—-]*\s*`)
	figureSpan   = regexp.MustCompile(`(?i),?\s+(?:from|between|de|von|zwischen|entre)\s+\S*\d.*$`)
)

// captionOf returns what the caption beside a chart says is shown: "Figure 1.
// Visitors a year, in thousands, from 2019 to 2025." shows visitors a year, in
// thousands. The span would make every bar one of 2019.
func captionOf(blocks []layout.Block, chart int) string {
	for _, i := range []int{chart + 1, chart - 1} {
		if i < 0 || i >= len(blocks) || blocks[i].Kind != layout.Caption {
			continue
		}
		return Shown(blocks[i].Text)
	}
	return ""
}

// Shown returns what the caption of a chart says that its bars are, without its number and span.
func Shown(caption string) string {
	said := figureNumber.ReplaceAllString(caption, "")
	said, _, _ = strings.Cut(said, ". ")
	said = figureSpan.ReplaceAllString(strings.TrimRight(said, ". "), "")
	return strings.ReplaceAll(said, ": ", ", ")
}

// A lastTable is what the next page may go on with.
type lastTable struct {
	names   map[int]string
	columns int
	page    int
}

func columnsOf(b *layout.Block) (n int) {
	for _, row := range b.Rows {
		for _, c := range row.Cells {
			n = max(n, c.Column+1)
		}
	}
	return n
}

// columnNames returns the names of a table's columns. Under a header of two
// rows, a cell of the first names all columns up to the next one.
func columnNames(b *layout.Block) map[int]string {
	names := map[int]string{}
	for i, row := range b.Rows {
		if !row.Header {
			continue
		}
		for _, c := range row.Cells {
			name := b.Text[c.Start:c.End]
			if i > 0 {
				name = strings.TrimSpace(above(b, b.Rows[i-1], c.Column) + " " + name)
			}
			names[c.Column] = name
		}
	}
	return names
}

// above returns the cell of a row that stands over a column.
func above(b *layout.Block, row layout.Row, column int) string {
	over := ""
	for _, c := range row.Cells {
		if c.Column <= column {
			over = b.Text[c.Start:c.End]
		}
	}
	return over
}

// rowText words a row: "Dew house · Night minimum: 14 °C".
func rowText(b *layout.Block, row layout.Row, names map[int]string) string {
	var parts []string
	for i, c := range row.Cells {
		cell := b.Text[c.Start:c.End]
		if name := names[c.Column]; name != "" && i > 0 {
			cell = name + ": " + cell
		}
		parts = append(parts, cell)
	}
	return strings.Join(parts, " · ")
}

// heading ends the section before and opens one.
func (s *splitter) heading(b *layout.Block, page int) {
	level := max(b.Level, 1)
	if s.recipe.Cut == ByWords || s.recipe.Cut == ByPage {
		s.open(level, b.Text)
		s.add(piece{text: b.Text, kind: layout.Heading, first: true, marks: marksOf(b, 0, len(b.Text), page)})
		return
	}
	s.endSection()
	if s.bare != nil && len(s.path) > 0 && level <= s.path[len(s.path)-1].level {
		// A heading with nothing under it is all there is to find.
		s.add(*s.bare)
		s.endSection()
	}
	s.open(level, b.Text)
	s.bare = &piece{text: b.Text, kind: layout.Heading, first: true, marks: marksOf(b, 0, len(b.Text), page)}
}

// open enters a section.
func (s *splitter) open(level int, title string) {
	for len(s.path) > 0 && s.path[len(s.path)-1].level >= level {
		s.path = s.path[:len(s.path)-1]
	}
	s.path = append(s.path, section{level, title})
}

func (s *splitter) titles() (titles []string) {
	for _, p := range s.path {
		titles = append(titles, p.title)
	}
	return titles
}

// endSection makes passages of the pieces gathered so far.
func (s *splitter) endSection() {
	s.flush()
	target := s.recipe.Target
	if s.recipe.Cut == ByPage {
		target = math.MaxInt
	}
	for start := 0; start < len(s.pieces); {
		end, words := start, 0
		for end < len(s.pieces) && (end == start || words+s.pieces[end].words <= target) {
			words += s.pieces[end].words
			end++
		}
		if rest := wordsOf(s.pieces[end:]); rest > 0 && rest < target/4 {
			end = len(s.pieces) // too little for a passage of its own
		}
		s.out = append(s.out, s.passage(s.pieces[start].path, s.pieces[start:end]))
		if end == len(s.pieces) {
			break
		}
		start = s.back(start, end)
	}
	s.pieces = s.pieces[:0]
}

// back returns where the passage after end begins, for the overlap.
func (s *splitter) back(start, end int) int {
	at, words := end, 0
	for at-1 > start && words+s.pieces[at-1].words <= s.recipe.Overlap {
		at--
		words += s.pieces[at].words
	}
	return at
}

func wordsOf(pieces []piece) int {
	n := 0
	for _, p := range pieces {
		n += p.words
	}
	return n
}

// passage joins pieces: sentences of a block by spaces, blocks by line breaks.
func (s *splitter) passage(section []string, pieces []piece) Passage {
	p := Passage{Ordinal: len(s.out), Section: slices.Clone(section), Language: s.language}
	var b strings.Builder
	for i, piece := range pieces {
		if i > 0 {
			if piece.first || piece.kind == layout.Table {
				b.WriteByte('\n')
			} else {
				b.WriteByte(' ')
			}
		}
		sentence := Sentence{Start: b.Len(), Kind: piece.kind, First: piece.first, Row: piece.row, Marks: piece.marks}
		if sentence.Kind == layout.Paragraph {
			sentence.Kind = ""
		}
		b.WriteString(piece.text)
		sentence.End = b.Len()
		p.Sentences = append(p.Sentences, sentence)
	}
	p.Text = b.String()
	return p
}
