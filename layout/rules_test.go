package layout

import (
	"encoding/json"
	"reflect"
	"strings"
	"testing"

	"jardinet/pdf"
)

func TestIsPageNumber(t *testing.T) {
	for s, want := range map[string]bool{
		"12": true, "xii": true, "– 12 –": true, "3-4": true, "| 7 |": true, "": false, "page": false, "12a": false, "civil": true,
		"1234567890": false, "Chapter 3": false,
	} {
		if got := isPageNumber(s); got != want {
			t.Errorf("isPageNumber(%q) = %v", s, got)
		}
	}
}

func TestBlank(t *testing.T) {
	for s, want := range map[string]string{
		"Manual 12": "Manual #", "xiv Preface": "# Preface", "12 / 123 – draft 3b": "# / # – draft #b",
	} {
		if got := blank(s); got != want {
			t.Errorf("blank(%q) = %q, want %q", s, got, want)
		}
	}
}

func TestNumeral(t *testing.T) {
	for s, want := range map[string]int{"12": 12, "iv": 4, "xix": 19, "xl": 40, "c": 100, "": 0, "abc": 0, "1234567": 0} {
		if got := numeral(s); got != want {
			t.Errorf("numeral(%q) = %d, want %d", s, got, want)
		}
	}
}

func TestNumberDepth(t *testing.T) {
	for s, want := range map[string]int{
		"3 Water": 1, "3.1 Sources": 2, "3.1.2 Tanks": 3, "Chapter 4 Storm": 1, "Rule 7.1 Derailment": 1, "Water": 0,
		"A.2 Codes": 2, "2024 was wet": 1, "12": 0,
	} {
		if got := numberDepth(s); got != want {
			t.Errorf("numberDepth(%q) = %d, want %d", s, got, want)
		}
	}
}

func TestBullets(t *testing.T) {
	for s, want := range map[string]bool{
		"• Close the valve": true, "1. Close": true, "(a) Close": true, "iv) Close": true, "– Close": true, "Close the valve": false,
		"1.2 Title": false, "2024 was wet": false, "a boat": false,
	} {
		if got := bulleted.MatchString(s); got != want {
			t.Errorf("bulleted(%q) = %v", s, got)
		}
	}
}

func TestContentsLines(t *testing.T) {
	for s, want := range map[string]bool{
		"3 Water ............ 12": true, "3 Water . . . . . . . 12": true, "and so on ... 12": false, "3 Water 12": false, "Preface ...... iv": true,
	} {
		if got := isContentsLine(&line{text: s}, false); got != want {
			t.Errorf("isContentsLine(%q) = %v", s, got)
		}
	}
}

// TestYearsAreNoPages has a table whose rows end in years, and a sentence that does.
func TestYearsAreNoPages(t *testing.T) {
	b := newSheet(1).line(50, 60, 16, 1, "Officers")
	for i, s := range []string{"Chair 2019", "Trustee 2025", "Deputy 2025", "Treasurer 2021", "Clerk 2022", "Director 2020", "Keeper 2018", "Grower 2008", "Doctor 2016", "Driver 2011", "Guard 2014", "Porter 1996", "Cook 2020"} {
		b.line(50, float32(100+16*i), 10, 0, s)
	}
	b.line(50, 340, 10, 0, "The garden was opened to the public on 3 May 1897.")
	for _, block := range assembled(t, b.sheet()).Pages[0].Blocks {
		if block.Kind == Contents {
			t.Errorf("%q is a line of a table of contents", block.Text)
		}
	}
}

func TestContentsPageWithoutLeaders(t *testing.T) {
	b := newSheet(1).line(50, 60, 16, 1, "Contents")
	for i, s := range []string{"Preface iii", "Water 4", "Storm 9", "Frost 12", "Hygiene 15"} {
		b.line(50, float32(100+16*i), 10, 0, s)
	}
	for _, block := range assembled(t, b.sheet()).Pages[0].Blocks[1:] {
		if block.Kind != Contents {
			t.Errorf("%q is a %s", block.Text, block.Kind)
		}
	}
}

func TestThreeColumns(t *testing.T) {
	b := newSheet(1)
	for i := range 4 {
		y := float32(100 + 14*i)
		b.line(40, y, 9, 0, "left words of the column here").line(230, y, 9, 0, "middle words of the column").line(420, y, 9, 0, "right words of the column")
	}
	var firsts []string
	for _, block := range assembled(t, b.sheet()).Pages[0].Blocks {
		firsts = append(firsts, strings.Fields(block.Text)[0])
	}
	if !reflect.DeepEqual(firsts, []string{"left", "middle", "right"}) {
		t.Errorf("columns come as %v", firsts)
	}
}

func TestColumnsThenFullWidth(t *testing.T) {
	b := newSheet(1)
	for i := range 4 {
		y := float32(100 + 14*i)
		b.line(50, y, 10, 0, "left words of this column go on").line(320, y, 10, 0, "right words of this column go on")
	}
	b.line(50, 200, 10, 0, "Below the columns one paragraph runs over the whole width of the page without any gap in it at all.")
	blocks := assembled(t, b.sheet()).Pages[0].Blocks
	if len(blocks) != 3 || !strings.HasPrefix(blocks[2].Text, "Below") || !strings.HasPrefix(blocks[1].Text, "right") {
		t.Errorf("blocks are %q", kinds(&Page{Blocks: blocks}))
	}
}

func TestCellsOfSeveralLines(t *testing.T) {
	b := newSheet(1).
		line(50, 100, 10, 1, "What").line(200, 100, 10, 1, "How often").line(350, 100, 10, 1, "By whom").
		line(50, 116, 10, 0, "Glass").line(200, 116, 10, 0, "twice a year, in").line(350, 116, 10, 0, "Estates").
		line(200, 128, 10, 0, "May and October").
		line(50, 148, 10, 0, "Sensors").line(200, 148, 10, 0, "every 3 months").line(350, 148, 10, 0, "grower")
	wantBlocks(t, &assembled(t, b.sheet()).Pages[0],
		"table: What | How often | By whom\nGlass | twice a year, in May and October | Estates\nSensors | every 3 months | grower")
}

func TestWideSpacesAreNoTable(t *testing.T) {
	b := newSheet(1)
	for i, words := range [][]string{{"Justified", "lines", "have wide"}, {"spaces that do", "not line", "up at all"}, {"and so they", "stay one text", "here."}} {
		x := float32(50)
		for _, w := range words {
			b.line(x, float32(100+14*i), 10, 0, w)
			x += float32(len(w))*5 + 7
		}
	}
	blocks := assembled(t, b.sheet()).Pages[0].Blocks
	if len(blocks) != 1 || blocks[0].Kind != Paragraph {
		t.Errorf("blocks are %q", kinds(&Page{Blocks: blocks}))
	}
}

func TestAlternatingHeaders(t *testing.T) {
	var sheets []*Sheet
	for i := range 12 {
		header := "Seed Vault Manual"
		if i%2 == 1 {
			header = [...]string{"1 Drying", "2 Packing", "3 Testing"}[i/4]
		}
		sheets = append(sheets, newSheet(i+1).line(50, 40, 8, 0, header).line(50, 120, 10, 0, "The text of this page is about something.").sheet())
	}
	for _, p := range assembled(t, sheets...).Pages {
		if p.Blocks[0].Kind != Furniture {
			t.Errorf("page %d: the header %q is a %s", p.Number, p.Blocks[0].Text, p.Blocks[0].Kind)
		}
		if p.Blocks[1].Kind != Paragraph {
			t.Errorf("page %d: the text is a %s", p.Number, p.Blocks[1].Kind)
		}
	}
}

func TestFirstLineOfTheTextIsNoHeader(t *testing.T) {
	var sheets []*Sheet
	for _, s := range []string{"Palms need much water.", "Ferns need moist air.", "Cacti need neither.", "Lilies need a tank."} {
		sheets = append(sheets, newSheet(len(sheets)+1).line(50, 60, 10, 0, s).line(50, 74, 10, 0, strings.ToUpper(s)).sheet())
	}
	for _, p := range assembled(t, sheets...).Pages {
		for _, b := range p.Blocks {
			if b.Kind == Furniture {
				t.Errorf("page %d: %q is taken for furniture", p.Number, b.Text)
			}
		}
	}
}

func TestBoldWordsStartAParagraph(t *testing.T) {
	s := newSheet(1).
		line(50, 100, 10, 1, "First aim:").line(102.5, 100, 10, 0, "no plant is lost for want").
		line(50, 114, 10, 0, "of a copy in another place.").sheet()
	wantBlocks(t, &assembled(t, s).Pages[0], "paragraph: First aim: no plant is lost for want of a copy in another place.")
}

func TestSmallTableTextDoesNotMakeHeadings(t *testing.T) {
	b := newSheet(1).line(50, 60, 12, 0, "The survey lists all of the trees that have").line(50, 76, 12, 0, "a number plate on their trunks today.")
	for i := range 30 {
		y := float32(110 + 14*i)
		b.line(50, y, 8, 0, "P0").line(120, y, 8, 0, "Halvern pine of the ride").line(300, y, 8, 0, "good condition in the autumn")
	}
	blocks := assembled(t, b.sheet()).Pages[0].Blocks
	if blocks[0].Kind != Paragraph || blocks[1].Kind != Table {
		t.Errorf("blocks are a %s and a %s", blocks[0].Kind, blocks[1].Kind)
	}
}

func TestDoubledGlyphsAreReadOnce(t *testing.T) {
	s := newSheet(1).line(50, 100, 10, 0, "Fake bold").line(50.3, 100, 10, 0, "Fake bold").sheet()
	wantBlocks(t, &assembled(t, s).Pages[0], "paragraph: Fake bold")
}

func TestMend(t *testing.T) {
	a := &assembler{compounds: map[string]bool{"rain-water": true}}
	next := func(s string) *line { return &line{segments: []segment{{words: []word{{text: s}}}}} }
	for _, test := range []struct {
		before, after, want string
		mended              bool
	}{
		{"a com-", "pany", "a com", true}, {"the rain-", "water", "the rain-", true}, {"a well-known half-", "truth", "a well-known half", true},
		{"mid-air-", "ways", "mid-air-", true}, {"in 2024-", "25", "in 2024-", false}, {"no", "hyphen", "no", false}, {"Smith-", "Jones", "Smith-", false},
	} {
		got, mended := a.mend([]byte(test.before), next(test.after))
		if string(got) != test.want || mended != test.mended {
			t.Errorf("mend(%q, %q) = %q, %v; want %q, %v", test.before, test.after, got, mended, test.want, test.mended)
		}
	}
}

func TestTitles(t *testing.T) {
	s := newSheet(1).line(50, 100, 20, 1, "Operating the Boilers").line(50, 150, 10, 0, "Text of the manual goes here and goes on.").sheet()
	for _, test := range []struct{ property, want string }{
		{"Boiler Manual", "Boiler Manual"}, {"", "Operating the Boilers"}, {"Microsoft Word - boiler.doc", "Operating the Boilers"},
		{"about:blank", "Operating the Boilers"}, {"x", "Operating the Boilers"},
	} {
		if doc := Assemble(&pdf.Info{Pages: 1, Title: test.property}, []*Sheet{s}); doc.Title != test.want {
			t.Errorf("with the property %q the title is %q, want %q", test.property, doc.Title, test.want)
		}
	}
}

func TestLabelsOfTheFileWin(t *testing.T) {
	sheets := []*Sheet{newSheet(1).line(500, 780, 8, 0, "7").sheet(), newSheet(2).line(500, 780, 8, 0, "8").sheet()}
	doc := Assemble(&pdf.Info{Pages: 2, Labels: []string{"A-1", "A-2"}}, sheets)
	if doc.Pages[1].Label != "A-2" {
		t.Errorf("the label is %q", doc.Pages[1].Label)
	}
	doc = Assemble(&pdf.Info{Pages: 2, Labels: []string{"", ""}}, sheets)
	if doc.Pages[1].Label != "8" {
		t.Errorf("the printed label is %q", doc.Pages[1].Label)
	}
}

func TestWordsAreKeptCompactly(t *testing.T) {
	words := Words{
		{Start: 0, End: 5, Box: pdf.Rect{X0: 50.1, Y0: 100, X1: 80.2, Y1: 112.5}},
		{Start: 6, End: 9, Box: pdf.Rect{X0: 84, Y0: 100, X1: 99.9, Y1: 112.5}},
		{Start: 9, End: 14, Box: pdf.Rect{X0: 50, Y0: 114.3, X1: 70, Y1: 126}},
	}
	data, err := json.Marshal(words)
	if err != nil {
		t.Fatal(err)
	}
	var back Words
	if err := json.Unmarshal(data, &back); err != nil || !reflect.DeepEqual(back, words) {
		t.Errorf("came back as %+v, error %v", back, err)
	}
	if err := json.Unmarshal(append(data[:9:9], 34), &back); err == nil {
		t.Error("half of the words were read")
	}
	if err := json.Unmarshal([]byte(`"AQ=="`), &back); err == nil {
		t.Error("a cut word was read")
	}
}

func TestRotationRoundTrip(t *testing.T) {
	page := pdf.Rect{X1: 600, Y1: 800}
	box := pdf.Rect{X0: 10, Y0: 20, X1: 110, Y1: 40}
	for _, turn := range []pdf.Turn{pdf.Upright, pdf.Down, pdf.UpsideDown, pdf.Up} {
		if got := unrotate(rotate(box, turn, page), turn, page); got != box {
			t.Errorf("turn %d: the box comes back as %v", turn, got)
		}
	}
}
