package rendition

import (
	"bytes"
	"fmt"
	"strings"
	"time"
	"unicode"

	"codeberg.org/go-fonts/liberation/liberationsansbold"
	"codeberg.org/go-fonts/liberation/liberationsansregular"
	"github.com/go-pdf/fpdf"
)

// Measures of a page, in millimetres, and of its letters, in points.
const (
	margin     = 20.0
	foot       = 18.0
	bodySize   = 10.5
	tableSize  = 9.0
	lineHeight = 1.35 // of the size of the letters
	millimetre = 25.4 / 72
)

const font = "body"

// PDF sets a text on A4 pages. Headings have bookmarks; tables are ruled, and their heads stand
// again on each page.
func PDF(t *Text) (data []byte, err error) {
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("%w: its pages cannot be set: %v", ErrDamaged, p)
		}
	}()
	if t.picture != nil {
		return pagePicture(t)
	}
	s := newSetter(t)
	for _, b := range t.Blocks {
		s.block(&b)
	}
	if s.PageNo() == 0 {
		s.AddPage()
	}
	var out bytes.Buffer
	if err := s.Output(&out); err != nil {
		return nil, fmt.Errorf("rendition: %w", err)
	}
	return out.Bytes(), nil
}

// A setter puts blocks on pages.
type setter struct {
	*fpdf.Fpdf
	columns int // of a table that fit on a page
	size    float64
	depth   int // of the bookmark before, from 1
}

func newSetter(t *Text) *setter {
	s := &setter{Fpdf: fpdf.New("P", "mm", "A4", ""), columns: columnsUpright}
	if t.isWide() {
		s = &setter{Fpdf: fpdf.New("L", "mm", "A4", ""), columns: columnsAcross}
	}
	s.AddUTF8FontFromBytes(font, "", liberationsansregular.TTF)
	s.AddUTF8FontFromBytes(font, "B", liberationsansbold.TTF)
	s.SetTitle(shown(oneLine(t.Title)), true)
	sameAlways(s.Fpdf)
	s.SetLineWidth(.15)
	s.SetMargins(margin, margin, margin)
	s.SetAutoPageBreak(true, foot)
	s.SetFooterFunc(func() {
		s.SetY(-foot + 6)
		s.letters("", 8)
		s.CellFormat(0, 4, fmt.Sprint(s.PageNo()), "", 0, "C", false, 0, "")
	})
	return s
}

// sameAlways has the same file always give the same bytes.
func sameAlways(s *fpdf.Fpdf) {
	s.SetCatalogSort(true)
	s.SetCreationDate(time.Unix(0, 0).UTC())
	s.SetModificationDate(time.Unix(0, 0).UTC())
}

func (s *setter) block(b *Block) {
	if s.PageNo() == 0 || b.Apart {
		s.AddPage()
	}
	switch b.Kind {
	case Heading:
		s.heading(b)
	case Item:
		s.item(b)
	case Table:
		for _, rows := range columnsThatFit(b.Rows, s.columns) {
			s.table(rows)
		}
	default:
		s.letters("", bodySize)
		s.MultiCell(0, s.line(), shown(b.Text), "", "L", false)
		s.Ln(s.line() * .5)
	}
}

// headingSizes are the sizes of headings by level.
var headingSizes = [...]float64{17, 14, 12, 11, 10.5, 10.5}

func (s *setter) heading(b *Block) {
	s.letters("B", headingSizes[b.Level-1])
	s.Ln(s.line() * .5)
	s.keep(3 * s.line())
	// Each bookmark stands at most one deeper than the one before.
	s.depth = min(b.Level, s.depth+1)
	s.Bookmark(shown(b.Text), s.depth-1, -1)
	s.MultiCell(0, s.line(), shown(b.Text), "", "L", false)
	s.Ln(s.line() * .3)
}

func (s *setter) item(b *Block) {
	s.letters("", bodySize)
	left := margin + 5*float64(min(b.Level, 8)-1)
	s.keep(s.line())
	s.SetX(left)
	s.CellFormat(7, s.line(), shown(b.Mark), "", 0, "L", false, 0, "")
	s.SetLeftMargin(left + 7)
	s.SetX(left + 7)
	s.MultiCell(0, s.line(), shown(b.Text), "", "L", false)
	s.SetLeftMargin(margin)
	s.SetX(margin)
	s.Ln(s.line() * .25)
}

func (s *setter) letters(style string, size float64) {
	s.SetFont(font, style, size)
	s.size = size
}

func (s *setter) line() float64 { return s.size * millimetre * lineHeight }

// keep begins a page if there is not so much room on this one.
func (s *setter) keep(height float64) {
	if s.GetY()+height > s.bottom() {
		s.AddPage()
	}
}

func (s *setter) bottom() float64 {
	_, height := s.GetPageSize()
	return height - foot
}

// shown leaves out what cannot be set: characters of control, and those past the first plane,
// for which a mark stands.
func shown(text string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r == '\n':
			return r
		case r == '\t' || r == '\u00a0' || r == '\u202f':
			return ' '
		case unicode.IsControl(r) || unicode.Is(unicode.Cf, r):
			return -1
		case r > 0xFFFF:
			return '\uFFFD'
		}
		return r
	}, text)
}
