package layout

import (
	"strings"
	"testing"

	"jardinet/pdf"
	"jardinet/text"
)

// A sheetBuilder sets glyphs as a simple typesetter would: each character is
// half as wide as the size of the type.
type sheetBuilder struct{ page pdf.Page }

func newSheet(number int) *sheetBuilder {
	return &sheetBuilder{pdf.Page{Number: number, Width: 600, Height: 800, Fonts: []pdf.Font{{Name: "Body"}, {Name: "Bold", Bold: true}}}}
}

func (b *sheetBuilder) line(x, baseline, size float32, font int32, s string) *sheetBuilder {
	for _, r := range s {
		g := pdf.Glyph{Rune: r, Baseline: baseline, Size: size, Font: font}
		g.Box = pdf.Rect{X0: x, Y0: baseline - 0.8*size, X1: x + 0.5*size, Y1: baseline + 0.2*size}
		b.page.Glyphs = append(b.page.Glyphs, g)
		if r == ' ' {
			x -= 0.25 * size
		}
		x += 0.5 * size
	}
	return b
}

func (b *sheetBuilder) sheet() *Sheet { return Read(&b.page, nil) }

func assembled(t *testing.T, sheets ...*Sheet) *Document {
	t.Helper()
	return Assemble(&pdf.Info{Pages: len(sheets)}, sheets)
}

// kinds lists a page's blocks as "kind: text".
func kinds(p *Page) []string {
	var out []string
	for _, b := range p.Blocks {
		out = append(out, string(b.Kind)+": "+b.Text)
	}
	return out
}

func wantBlocks(t *testing.T, p *Page, want ...string) {
	t.Helper()
	got := kinds(p)
	if strings.Join(got, "\n") != strings.Join(want, "\n") {
		t.Errorf("blocks are\n%s\nwant\n%s", strings.Join(got, "\n"), strings.Join(want, "\n"))
	}
}

func TestParagraphsAndHeading(t *testing.T) {
	s := newSheet(1).
		line(50, 100, 16, 1, "2.1 Watering").
		line(50, 130, 10, 0, "The house is watered every morning and, in sum-").
		line(50, 144, 10, 0, "mer, every evening. Use rain water at all times.").
		line(50, 172, 10, 0, "A second paragraph stands here by itself.").sheet()
	doc := assembled(t, s)
	wantBlocks(t, &doc.Pages[0],
		"heading: 2.1 Watering",
		"paragraph: The house is watered every morning and, in summer, every evening. Use rain water at all times.",
		"paragraph: A second paragraph stands here by itself.")
	if level := doc.Pages[0].Blocks[0].Level; level != 2 {
		t.Errorf("the level of 2.1 is %d", level)
	}
}

func TestCompoundKeepsHyphen(t *testing.T) {
	s := newSheet(1).
		line(50, 100, 10, 0, "The rain-water tank is full and so the rain-").
		line(50, 114, 10, 0, "water pump may run.").sheet()
	wantBlocks(t, &assembled(t, s).Pages[0], "paragraph: The rain-water tank is full and so the rain-water pump may run.")
}

func TestTwoColumnsUnderAHeading(t *testing.T) {
	b := newSheet(1).line(50, 60, 18, 1, "A heading across both of the columns")
	for i, words := range [][2]string{
		{"left one is here with words", "right one is here with words"},
		{"left two goes on in the column", "right two goes on in the column"},
		{"left three ends the left text.", "right three ends the right text."},
	} {
		y := float32(100 + 14*i)
		b.line(50, y, 10, 0, words[0]).line(320, y, 10, 0, words[1])
	}
	wantBlocks(t, &assembled(t, b.sheet()).Pages[0],
		"heading: A heading across both of the columns",
		"paragraph: left one is here with words left two goes on in the column left three ends the left text.",
		"paragraph: right one is here with words right two goes on in the column right three ends the right text.")
}

func TestTableRows(t *testing.T) {
	b := newSheet(1).
		line(50, 100, 10, 1, "House").line(140, 100, 10, 1, "Day").line(170, 100, 10, 1, "Night").
		line(50, 116, 10, 0, "Dew House").line(140, 116, 10, 0, "15").line(170, 116, 10, 0, "12").
		line(50, 132, 10, 0, "Palm House").line(140, 132, 10, 0, "22").line(170, 132, 10, 0, "17")
	page := assembled(t, b.sheet()).Pages[0]
	wantBlocks(t, &page, "table: House | Day | Night\nDew House | 15 | 12\nPalm House | 22 | 17")
	rows := page.Blocks[0].Rows
	if len(rows) != 3 || !rows[0].Header || rows[1].Header || len(rows[1].Cells) != 3 || rows[1].Cells[2].Column != 2 {
		t.Errorf("rows are %+v", rows)
	}
}

func TestRowsFarApart(t *testing.T) {
	b := newSheet(1)
	for i, row := range [][3]string{{"Name", "Kind", "Built"}, {"Bryony", "diesel", "1967"}, {"Tansy", "battery", "2022"}} {
		y := 100 + float32(i*i*11)
		b.line(50, y, 10, 0, row[0]).line(140, y, 10, 0, row[1]).line(200, y, 10, 0, row[2])
	}
	b.line(50, 190, 10, 0, "Closed").line(150, 190, 10, 0, "by").line(260, 190, 10, 0, "whom")
	blocks := assembled(t, b.sheet()).Pages[0].Blocks
	if len(blocks) < 2 || blocks[0].Kind != Table || len(blocks[0].Rows) != 3 {
		t.Errorf("a row whose cells begin where those above do is not in the table, or one that is elsewhere is: %+v", blocks)
	}
}

func TestLastCellGoesOnForSeveralLines(t *testing.T) {
	b := newSheet(1).
		line(50, 100, 10, 0, "column(-2)").line(140, 100, 10, 0, "Starts at 0 and counts").
		line(140, 112, 10, 0, "the sets of data").
		line(50, 124, 10, 0, "column($#)").line(140, 124, 10, 0, "The last field, so that").
		line(140, 136, 10, 0, "what comes before it").
		line(140, 148, 10, 0, "is the last but one").
		line(50, 184, 10, 0, "Running text begins at the margin.")
	page := assembled(t, b.sheet()).Pages[0]
	wantBlocks(t, &page, "table: column(-2) | Starts at 0 and counts the sets of data\ncolumn($#) | The last field, so that what comes before it is the last but one", "paragraph: Running text begins at the margin.")
}

func TestCellsCloserThanAnEm(t *testing.T) {
	b := newSheet(1)
	for i, row := range [][3]string{{"Kind", "Day", "Night"}, {"Palm", "22 to 27", "17"}, {"Fern", "15 to 19", "12"}} {
		y := float32(100 + 16*i)
		b.line(50, y, 10, 0, row[0]).line(140, y, 10, 0, row[1]).line(186, y, 10, 0, row[2])
	}
	wantBlocks(t, &assembled(t, b.sheet()).Pages[0], "table: Kind | Day | Night\nPalm | 22 to 27 | 17\nFern | 15 to 19 | 12")
}

func TestSuperscript(t *testing.T) {
	s := newSheet(1).line(50, 100, 10, 0, "at most 2.4 × 10").line(120, 96, 6.5, 0, "6").line(123.25, 100, 10, 0, " cells").sheet()
	wantBlocks(t, &assembled(t, s).Pages[0], "paragraph: at most 2.4 × 10⁶ cells")
}

func TestLigatureLettersShareABox(t *testing.T) {
	b := newSheet(1).line(50, 100, 10, 0, "su")
	box := pdf.Rect{X0: 60, Y0: 92, X1: 68, Y1: 102}
	for _, r := range "ffi" {
		b.page.Glyphs = append(b.page.Glyphs, pdf.Glyph{Rune: r, Box: box, Baseline: 100, Size: 10})
	}
	wantBlocks(t, &assembled(t, b.line(68, 100, 10, 0, "cient").sheet()).Pages[0], "paragraph: sufficient")
}

func TestFurnitureAndLabels(t *testing.T) {
	var sheets []*Sheet
	for i := range 5 {
		n := string(rune('1' + i))
		sheets = append(sheets, newSheet(i+1).
			line(50, 40, 8, 0, "Rule Book of the Railway").
			line(50, 200, 10, 0, "Body text number "+n+" is only here.").
			line(500, 780, 8, 0, n).sheet())
	}
	doc := assembled(t, sheets...)
	for i, p := range doc.Pages {
		n := string(rune('1' + i))
		wantBlocks(t, &p, "furniture: Rule Book of the Railway", "furniture: "+n, "paragraph: Body text number "+n+" is only here.")
		if p.Label != n {
			t.Errorf("page %d has label %q", p.Number, p.Label)
		}
	}
}

func TestListAndCaptionAndContents(t *testing.T) {
	s := newSheet(1).
		line(50, 100, 10, 0, "1. Close the valve").
		line(50, 114, 10, 0, "2. Open the drain").
		line(50, 150, 10, 0, "Figure 3. The drain of the tank").
		line(50, 190, 10, 0, "3 Water ........................ 12").sheet()
	wantBlocks(t, &assembled(t, s).Pages[0],
		"list: 1. Close the valve", "list: 2. Open the drain", "caption: Figure 3. The drain of the tank",
		"contents: 3 Water ........................ 12")
}

// A sentence may go on with a number at the beginning of a line, which is no item then.
func TestANumberThatEndsASentence(t *testing.T) {
	s := newSheet(1).
		line(50, 100, 10, 0, "Drivers are examined every year from the age of").
		line(50, 114, 10, 0, "65. Guards are not.").
		line(50, 150, 10, 0, "Before the train leaves the shed:").
		line(50, 164, 10, 0, "1. Walk round.").sheet()
	wantBlocks(t, &assembled(t, s).Pages[0],
		"paragraph: Drivers are examined every year from the age of 65. Guards are not.", "paragraph: Before the train leaves the shed:", "list: 1. Walk round.")
}

func TestOutlineGivesLevels(t *testing.T) {
	s := newSheet(1).line(50, 100, 10, 1, "Fitness for duty").line(50, 130, 10, 0, "Nobody goes on duty tired.").sheet()
	info := &pdf.Info{Pages: 1, Outline: []pdf.Bookmark{{Title: "Fitness for duty", Level: 3, Page: 1}}}
	b := Assemble(info, []*Sheet{s}).Pages[0].Blocks[0]
	if b.Kind != Heading || b.Level != 3 {
		t.Errorf("block is a %s of level %d", b.Kind, b.Level)
	}
}

func TestTurnedText(t *testing.T) {
	b := newSheet(1)
	// A line that runs upwards along x = 100, from y = 500.
	y := float32(500)
	for _, r := range "upwards" {
		b.page.Glyphs = append(b.page.Glyphs, pdf.Glyph{
			Rune: r, Turn: pdf.Up, Size: 10, Box: pdf.Rect{X0: 92, X1: 102, Y0: y - 5, Y1: y}, Baseline: y,
		})
		y -= 5
	}
	page := assembled(t, b.sheet()).Pages[0]
	wantBlocks(t, &page, "paragraph: upwards")
	if got, want := page.Blocks[0].Box, (pdf.Rect{X0: 92, Y0: 465, X1: 102, Y1: 500}); got != want {
		t.Errorf("the box is %v, want %v", got, want)
	}
}

func TestBoxesOfAQuotation(t *testing.T) {
	s := newSheet(1).
		line(50, 100, 10, 0, "One two three four five six seven").
		line(50, 114, 10, 0, "eight nine ten.").sheet()
	b := assembled(t, s).Pages[0].Blocks[0]
	start := strings.Index(b.Text, "seven")
	boxes := b.Boxes(start, start+len("seven eight"))
	if len(boxes) != 2 || boxes[0].X0 != 175 || boxes[1].X0 != 50 || boxes[1].X1 != 75 {
		t.Errorf("boxes of “seven eight” are %v", boxes)
	}
}

func TestProblems(t *testing.T) {
	broken := Read(&pdf.Page{Number: 1}, &pdf.PageError{Page: 1, Err: pdf.ErrPageBroke})
	picture := Read(&pdf.Page{Number: 2, Width: 600, Height: 800, Marks: []pdf.Mark{{Kind: pdf.Picture, Box: pdf.Rect{X1: 600, Y1: 800}}}}, nil)
	blank := Read(&pdf.Page{Number: 3, Width: 600, Height: 800}, nil)
	doc := assembled(t, broken, picture, blank)
	if p := doc.Pages[0].Problem; !strings.Contains(p, "cannot be read") {
		t.Errorf("the broken page says %q", p)
	}
	if p := doc.Pages[1].Problem; !strings.HasPrefix(p, "no text") {
		t.Errorf("the picture says %q", p)
	}
	if p := doc.Pages[2].Problem; p != "" {
		t.Errorf("the blank page says %q", p)
	}
}

func TestLanguageOfPages(t *testing.T) {
	english := newSheet(1).line(50, 100, 10, 0, "The pump is in the cellar and it must not be left on at night.").sheet()
	french := newSheet(2).line(50, 100, 10, 0, "La pompe est dans la cave et elle ne doit pas rester en marche.").sheet()
	also := newSheet(3).line(50, 100, 10, 0, "This is what the others of the house will do when they are here.").sheet()
	doc := assembled(t, english, french, also)
	if doc.Language != text.English || doc.Pages[1].Language != "fr" {
		t.Errorf("document is %s, its second page %s", doc.Language, doc.Pages[1].Language)
	}
}

// FuzzRead looks for glyphs that break the reading of a page.
func FuzzRead(f *testing.F) {
	f.Add([]byte("some text\x00\x01\x7f on a page"), float32(10), float32(14))
	f.Fuzz(func(t *testing.T, data []byte, size, step float32) {
		b := newSheet(1)
		for i, s := range strings.Split(string(data), "\n") {
			b.line(float32(len(s)%7)*40, float32(i)*step, size, int32(i%2), s)
		}
		doc := Assemble(&pdf.Info{Pages: 1}, []*Sheet{b.sheet()})
		for _, block := range doc.Pages[0].Blocks {
			for _, w := range block.Words {
				if w.Start < 0 || w.End < w.Start || w.End > len(block.Text) {
					t.Fatalf("word %+v lies outside a text of %d bytes", w, len(block.Text))
				}
			}
		}
	})
}

// BenchmarkRead measures a page of 40 lines with 70 characters each.
func BenchmarkRead(b *testing.B) {
	s := newSheet(1)
	for i := range 40 {
		s.line(50, float32(60+16*i), 11, 0, strings.Repeat("glasshouse ", 7)[:70])
	}
	b.ReportAllocs()
	for b.Loop() {
		Read(&s.page, nil)
	}
}
