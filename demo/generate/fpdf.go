package main

import (
	"bytes"
	"fmt"
	"os"
	"strings"
	"time"

	"github.com/go-pdf/fpdf"
	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/ast"
	"github.com/yuin/goldmark/extension"
	tables "github.com/yuin/goldmark/extension/ast"
	source "github.com/yuin/goldmark/text"
)

// fonts is where Debian's fonts-dejavu-core and fonts-liberation put theirs.
const fonts = "/usr/share/fonts/truetype/"

// A setter places a text line by line.
type setter struct {
	*fpdf.Fpdf
	text    *text
	source  []byte
	chapter string
	front   int // pages with roman numbers
	body    bool
	entries []entry // of the table of contents, as they are met
	toc     []entry // as they were met in the pass before
	size    float64 // of body text
}

// An entry is a heading with its printed page.
type entry struct {
	level int
	title string
	page  string
}

// set makes the PDF in two passes, since the table of contents stands before
// the pages that it names.
func set(t *text) ([]byte, error) {
	var toc []entry
	for pass := range 2 {
		s := newSetter(t, toc)
		if err := s.run(); err != nil {
			return nil, err
		}
		toc = s.entries
		if pass == 1 {
			var out bytes.Buffer
			err := s.Output(&out)
			return out.Bytes(), err
		}
	}
	return nil, nil
}

func newSetter(t *text, toc []entry) *setter {
	s := &setter{Fpdf: fpdf.New("P", "mm", t.Size, ""), text: t, source: []byte(t.Body), toc: toc, size: 12}
	if t.Size == "A5" {
		s.size = 11.5
	}
	if t.Points > 0 {
		s.size = t.Points
	}
	s.SetCreationDate(time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC))
	s.SetModificationDate(time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC))
	s.SetCatalogSort(true)
	s.SetTitle(t.Title, true)
	for _, f := range []struct{ family, style, file string }{
		{"body", "", "liberation/LiberationSerif-Regular.ttf"}, {"body", "B", "liberation/LiberationSerif-Bold.ttf"},
		{"body", "I", "liberation/LiberationSerif-Italic.ttf"}, {"head", "", "dejavu/DejaVuSans.ttf"}, {"head", "B", "dejavu/DejaVuSans-Bold.ttf"},
	} {
		data, err := os.ReadFile(fonts + f.file)
		if err != nil {
			s.SetError(fmt.Errorf("%w; install fonts-liberation and fonts-dejavu-core", err))
			return s
		}
		s.AddUTF8FontFromBytes(f.family, f.style, data)
	}
	s.SetMargins(20, 24, 20)
	s.SetAutoPageBreak(true, 22)
	s.SetHeaderFunc(s.header)
	s.SetFooterFunc(s.footer)
	return s
}

func (s *setter) run() error {
	if s.Error() != nil {
		return s.Error()
	}
	md := goldmark.New(goldmark.WithExtensions(extension.Table))
	doc := md.Parser().Parse(source.NewReader(s.source))
	s.AddPage()
	for n := doc.FirstChild(); n != nil; n = n.NextSibling() {
		s.block(n)
	}
	return s.Error()
}

func (s *setter) header() {
	if s.PageNo() == 1 || s.text.Header == "" {
		return
	}
	w, _ := s.GetPageSize()
	s.SetFont("head", "", 7.5)
	s.SetXY(20, 12)
	if s.PageNo()%2 == 1 && s.text.Section && s.chapter != "" {
		s.CellFormat(w-40, 5, s.chapter, "B", 0, "R", false, 0, "")
	} else {
		s.CellFormat(w-40, 5, s.text.Header, "B", 0, "L", false, 0, "")
	}
	s.SetXY(20, 24)
}

func (s *setter) footer() {
	if s.PageNo() == 1 || s.text.Header == "" {
		return
	}
	w, h := s.GetPageSize()
	s.SetFont("head", "", 7.5)
	s.SetXY(20, h-14)
	s.CellFormat(w/2-20, 5, s.text.Footer, "", 0, "L", false, 0, "")
	s.CellFormat(w/2-20, 5, s.printed(), "", 0, "R", false, 0, "")
}

// printed returns the page number as it is printed.
func (s *setter) printed() string {
	if !s.body {
		return [...]string{"", "i", "ii", "iii", "iv", "v", "vi", "vii", "viii", "ix", "x"}[min(s.PageNo(), 10)]
	}
	return fmt.Sprint(s.PageNo() - s.front)
}

func (s *setter) plain(n ast.Node) string {
	var b strings.Builder
	ast.Walk(n, func(n ast.Node, entering bool) (ast.WalkStatus, error) {
		if t, ok := n.(*ast.Text); ok && entering {
			b.Write(t.Segment.Value(s.source))
			if t.SoftLineBreak() || t.HardLineBreak() {
				b.WriteByte(' ')
			}
		}
		return ast.WalkContinue, nil
	})
	return b.String()
}

func (s *setter) block(n ast.Node) {
	switch n := n.(type) {
	case *ast.Heading:
		s.heading(n)
	case *ast.Paragraph:
		s.paragraph(n, "")
	case *ast.List:
		s.list(n, 0)
	case *ast.Blockquote:
		s.box(n)
	case *tables.Table:
		s.table(n)
	case *ast.HTMLBlock:
		s.mark(strings.TrimSpace(string(n.Lines().Value(s.source))))
	}
}

// mark obeys the comments in a text.
func (s *setter) mark(comment string) {
	switch comment {
	case "<!-- break -->":
		s.AddPage()
	case "<!-- body -->":
		s.front, s.body = s.PageNo(), false
		s.AddPage()
		s.body = true
	case "<!-- contents -->":
		s.contents()
	case "<!-- space -->":
		s.Ln(40)
	}
}

func (s *setter) heading(n *ast.Heading) {
	title := s.plain(n)
	size := [...]float64{0, 18, 13.5, 11}[min(n.Level, 3)]
	_, h := s.GetPageSize()
	if n.Level == 1 {
		s.chapter = title
	}
	s.Ln([...]float64{0, 0, 5, 3}[min(n.Level, 3)])
	if s.GetY() > h-50 {
		s.AddPage()
	}
	s.SetFont("head", "B", size)
	if s.PageNo() > 1 {
		s.Bookmark(title, n.Level-1, -1)
		s.entries = append(s.entries, entry{n.Level, title, s.printed()})
	}
	s.MultiCell(0, size*0.5, title, "", "L", false)
	s.Ln([...]float64{0, 5, 2, 1}[min(n.Level, 3)])
}

// paragraph writes running text with bold and italic parts.
func (s *setter) paragraph(n ast.Node, lead string) {
	height := s.size * 0.54
	s.SetFont("body", "", s.size)
	if lead != "" {
		s.Write(height, lead)
	}
	s.inline(n, "", height)
	s.Ln(height)
	s.Ln(height * 0.45)
}

func (s *setter) inline(n ast.Node, style string, height float64) {
	for c := n.FirstChild(); c != nil; c = c.NextSibling() {
		switch c := c.(type) {
		case *ast.Text:
			s.SetFont("body", style, s.size)
			text := string(c.Segment.Value(s.source))
			if c.SoftLineBreak() {
				text += " "
			}
			s.Write(height, text)
			if c.HardLineBreak() {
				s.Ln(height)
			}
		case *ast.Emphasis:
			s.inline(c, [...]string{"", "I", "B"}[c.Level], height)
		default:
			s.inline(c, style, height)
		}
	}
}

func (s *setter) list(n *ast.List, depth int) {
	left, _, _, _ := s.GetMargins()
	indent := left + 7
	number := n.Start
	for item := n.FirstChild(); item != nil; item = item.NextSibling() {
		lead := "•"
		if n.IsOrdered() {
			lead = fmt.Sprintf("%d.", number)
			number++
		}
		_, h := s.GetPageSize()
		if s.GetY() > h-32 {
			s.AddPage()
		}
		s.SetFont("body", "", s.size)
		s.SetX(left)
		s.CellFormat(7, s.size*0.5, lead, "", 0, "L", false, 0, "")
		s.SetLeftMargin(indent)
		s.SetX(indent)
		for c := item.FirstChild(); c != nil; c = c.NextSibling() {
			if l, ok := c.(*ast.List); ok {
				s.list(l, depth+1)
				continue
			}
			height := s.size * 0.54
			s.inline(c, "", height)
			s.Ln(height + 0.8)
		}
		s.SetLeftMargin(left)
	}
	s.Ln(s.size * 0.2)
}

// box sets a warning in a frame.
func (s *setter) box(n ast.Node) {
	text := strings.TrimSpace(s.plain(n))
	s.SetFont("body", "B", s.size)
	w, h := s.GetPageSize()
	lines := s.SplitText(text, w-50)
	if s.GetY()+float64(len(lines))*s.size*0.5 > h-30 {
		s.AddPage()
	}
	s.Ln(1)
	s.MultiCell(0, s.size*0.5, text, "1", "L", false)
	s.Ln(3)
}

// table sets rows with a ruled header; columns are as wide as their longest
// cell asks for.
func (s *setter) table(n *tables.Table) {
	var rows [][]string
	for row := n.FirstChild(); row != nil; row = row.NextSibling() {
		var cells []string
		for cell := row.FirstChild(); cell != nil; cell = cell.NextSibling() {
			cells = append(cells, s.plain(cell))
		}
		rows = append(rows, cells)
	}
	size := s.size - 1.2
	widths := s.columnWidths(rows, size)
	height := size * 0.48
	_, h := s.GetPageSize()
	if s.GetY() > h-60 {
		s.AddPage()
	}
	for i, row := range rows {
		style := ""
		if i == 0 {
			style = "B"
		}
		s.SetFont("body", style, size)
		tall := 1
		for j, cell := range row {
			tall = max(tall, len(s.SplitText(cell, widths[j]-3)))
		}
		if s.GetY()+float64(tall)*height+2 > h-24 {
			s.AddPage()
			s.SetFont("body", style, size)
		}
		s.row(row, widths, height, float64(tall)*height+2, i == 0)
	}
	s.Ln(4)
}

func (s *setter) row(cells []string, widths []float64, height, tall float64, header bool) {
	left, _, _, _ := s.GetMargins()
	y, x := s.GetY(), left
	for j, cell := range cells {
		s.SetXY(x, y+1)
		s.MultiCell(widths[j], height, cell, "", "L", false)
		x += widths[j]
	}
	s.SetLineWidth(0.1)
	if header {
		s.SetLineWidth(0.4)
	}
	s.Line(left, y+tall, x, y+tall)
	s.SetXY(left, y+tall)
}

func (s *setter) columnWidths(rows [][]string, size float64) []float64 {
	w, _ := s.GetPageSize()
	want, sum := make([]float64, len(rows[0])), 0.0
	s.SetFont("body", "B", size)
	for j := range want {
		for _, row := range rows {
			want[j] = max(want[j], min(s.GetStringWidth(row[j])+5, 52))
		}
		sum += want[j]
	}
	for j := range want {
		want[j] *= min(1.35, (w-40)/sum)
	}
	return want
}

// contents sets the table of contents with leaders.
func (s *setter) contents() {
	w, _ := s.GetPageSize()
	s.SetFont("head", "B", 15)
	s.MultiCell(0, 9, "Contents", "", "L", false)
	s.Ln(3)
	for _, e := range s.toc {
		if e.level > 2 || e.title == "Contents" {
			continue
		}
		s.SetFont("body", [...]string{"", "B", ""}[e.level], s.size)
		indent := float64(e.level-1) * 5
		title := e.title
		width := w - 40 - indent - s.GetStringWidth(title) - s.GetStringWidth(e.page) - 4
		dots := strings.Repeat(".", max(3, int(width/s.GetStringWidth("."))))
		s.SetX(20 + indent)
		s.CellFormat(w-40-indent-14, 5.4, title+" "+dots, "", 0, "L", false, 0, "")
		s.CellFormat(14, 5.4, e.page, "", 1, "R", false, 0, "")
	}
}
