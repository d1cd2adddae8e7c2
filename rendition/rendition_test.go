package rendition

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/xuri/excelize/v2"
)

// packedFile packs parts, in turn a name and what it holds.
func packedFile(t *testing.T, parts ...string) []byte {
	t.Helper()
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for i := 0; i < len(parts); i += 2 {
		w, err := z.Create(parts[i])
		if err != nil {
			t.Fatal(err)
		}
		w.Write([]byte(parts[i+1]))
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

const wordDocument = `<w:document xmlns:w="w"><w:body>
<w:p><w:pPr><w:pStyle w:val="Kop1"/></w:pPr><w:r><w:t>Watering the palm house</w:t></w:r></w:p>
<w:p><w:r><w:t>Water </w:t></w:r><w:del><w:r><w:delText>never</w:delText></w:r></w:del><w:ins><w:r><w:t>twice a day</w:t></w:r></w:ins><w:r><w:t>, at most 3 m</w:t></w:r><w:r><w:rPr><w:vertAlign w:val="superscript"/></w:rPr><w:t>3</w:t></w:r><w:r><w:t>.</w:t></w:r></w:p>
<w:p><w:pPr><w:numPr><w:ilvl w:val="0"/><w:numId w:val="7"/></w:numPr></w:pPr><w:r><w:t>Open the valve.</w:t></w:r></w:p>
<w:p><w:pPr><w:numPr><w:ilvl w:val="0"/><w:numId w:val="7"/></w:numPr></w:pPr><w:r><w:t>Read the meter.</w:t></w:r></w:p>
<w:tbl><w:tr><w:tc><w:p><w:r><w:t>House</w:t></w:r></w:p></w:tc><w:tc><w:p><w:r><w:t>Litres</w:t></w:r></w:p></w:tc></w:tr>
<w:tr><w:tc><w:p><w:r><w:t>Palm</w:t></w:r></w:p></w:tc><w:tc><w:p><w:r><w:t>2,400</w:t></w:r></w:p></w:tc></w:tr></w:tbl>
</w:body></w:document>`

func wordFile(t *testing.T) []byte {
	return packedFile(t,
		"word/document.xml", wordDocument,
		"word/styles.xml", `<w:styles xmlns:w="w"><w:style w:styleId="Kop1"><w:name w:val="heading 1"/></w:style></w:styles>`,
		"word/numbering.xml", `<w:numbering xmlns:w="w"><w:abstractNum w:abstractNumId="1"><w:lvl w:ilvl="0"><w:numFmt w:val="decimal"/></w:lvl></w:abstractNum><w:num w:numId="7"><w:abstractNumId w:val="1"/></w:num></w:numbering>`)
}

func workbookFile(t *testing.T) []byte {
	t.Helper()
	f := excelize.NewFile()
	defer f.Close()
	f.SetSheetName("Sheet1", "Tickets")
	for cell, value := range map[string]any{"A1": "Prices of 2025", "A3": "Ticket", "C3": "Price", "A4": "Adult", "C4": 12.5, "A5": "Child", "C5": 4} {
		if err := f.SetCellValue("Tickets", cell, value); err != nil {
			t.Fatal(err)
		}
	}
	var out bytes.Buffer
	if err := f.Write(&out); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

// TestRangesOfCells cuts a long sheet into ranges, each under the heads of its columns.
func TestRangesOfCells(t *testing.T) {
	var rows [][]string
	var numbers []int
	for i := range 80 {
		rows, numbers = append(rows, []string{"", fmt.Sprint("bed ", i), fmt.Sprint(i)}), append(numbers, i+2)
	}
	text := new(Text)
	text.sheet("Beds", rows, numbers)
	var ranges []string
	for _, b := range text.Blocks {
		if b.Kind == Heading {
			ranges = append(ranges, b.Text)
		} else if b.Rows[0][0] != "bed 0" {
			t.Errorf("a range begins with %q", b.Rows[0])
		}
	}
	if !slices.Equal(ranges, []string{"Beds", "B2:C31", "B32:C61", "B62:C81"}) {
		t.Errorf("the ranges are %q", ranges)
	}
}

func TestFilesAreReadIntoBlocks(t *testing.T) {
	houses := Block{Kind: Table, Rows: [][]string{{"House", "Litres"}, {"Palm", "2,400"}}}
	tests := []struct {
		name, kind string
		data       []byte
		want       Text
	}{
		{"watering.docx", "a Word document", wordFile(t), Text{Title: "Watering the palm house", Blocks: []Block{
			{Kind: Heading, Level: 1, Text: "Watering the palm house"},
			{Text: "Water twice a day, at most 3 m³."},
			{Kind: Item, Level: 1, Mark: "1.", Text: "Open the valve."},
			{Kind: Item, Level: 1, Mark: "2.", Text: "Read the meter."},
			houses,
		}}},
		{"notes.odt", "an OpenDocument text", packedFile(t, "mimetype", "application/vnd.oasis.opendocument.text", "content.xml",
			`<o:d xmlns:o="o"><o:text><o:h o:outline-level="2">Frost</o:h><o:p>Close the<o:s/>vents.</o:p><o:list><o:list-item><o:p>Doors too</o:p></o:list-item></o:list></o:text></o:d>`), Text{Title: "Frost", Blocks: []Block{
			{Kind: Heading, Level: 2, Text: "Frost"},
			{Text: "Close the vents."},
			{Kind: Item, Level: 1, Mark: "•", Text: "Doors too"},
		}}},
		{"prices.xlsx", "a workbook", workbookFile(t), Text{Title: "Tickets", Blocks: []Block{
			{Kind: Heading, Level: 1, Text: "Tickets"},
			{Text: "Prices of 2025"},
			{Kind: Heading, Level: 2, Text: "A3:C5"},
			{Kind: Table, Rows: [][]string{{"Ticket", "Price"}, {"Adult", "12.5"}, {"Child", "4"}}},
		}}},
		{"prices.ods", "an OpenDocument workbook", packedFile(t, "mimetype", "application/vnd.oasis.opendocument.spreadsheet", "content.xml",
			`<o:d xmlns:o="o"><o:spreadsheet><o:table o:name="Water"><o:table-row><o:table-cell><o:p>House</o:p></o:table-cell><o:table-cell><o:p>Litres</o:p></o:table-cell><o:table-cell o:number-columns-repeated="16382"/></o:table-row><o:table-row><o:table-cell><o:p>Palm</o:p></o:table-cell><o:table-cell><o:p>2,400</o:p></o:table-cell></o:table-row></o:table></o:spreadsheet></o:d>`), Text{Title: "Water", Blocks: []Block{
			{Kind: Heading, Level: 1, Text: "Water"}, {Kind: Heading, Level: 2, Text: "A1:B2"}, houses,
		}}},
		{"talk.pptx", "a presentation", packedFile(t,
			"ppt/presentation.xml", `<p:presentation xmlns:p="p" xmlns:r="r"><p:sldIdLst><p:sldId id="256" r:id="rId2"/><p:sldId id="257" r:id="rId1"/></p:sldIdLst></p:presentation>`,
			"ppt/_rels/presentation.xml.rels", `<Relationships><Relationship Id="rId1" Target="slides/slide1.xml"/><Relationship Id="rId2" Target="/ppt/slides/slide2.xml"/></Relationships>`,
			"ppt/slides/slide2.xml", `<p:sld xmlns:p="p" xmlns:a="a"><p:sp><p:nvPr><p:ph idx="1"/></p:nvPr><a:p><a:r><a:t>Fill the tanks</a:t></a:r></a:p><a:p><a:pPr lvl="1"/><a:r><a:t>slowly</a:t></a:r></a:p></p:sp><p:sp><p:ph type="title"/><a:p><a:r><a:t>Before frost</a:t></a:r></a:p></p:sp></p:sld>`,
			"ppt/slides/_rels/slide2.xml.rels", `<Relationships><Relationship Id="rId1" Type="http://x/notesSlide" Target="../notesSlides/notesSlide1.xml"/></Relationships>`,
			"ppt/notesSlides/notesSlide1.xml", `<p:notes xmlns:p="p" xmlns:a="a"><p:sp><p:ph type="body"/><a:p><a:r><a:t>Say why.</a:t></a:r></a:p></p:sp></p:notes>`,
			"ppt/slides/slide1.xml", `<p:sld xmlns:p="p" xmlns:a="a"><a:tbl><a:tr><a:tc><a:p><a:r><a:t>House</a:t></a:r></a:p></a:tc><a:tc><a:p><a:r><a:t>Litres</a:t></a:r></a:p></a:tc></a:tr><a:tr><a:tc><a:p><a:r><a:t>Palm</a:t></a:r></a:p></a:tc><a:tc><a:p><a:r><a:t>2,400</a:t></a:r></a:p></a:tc></a:tr></a:tbl></p:sld>`,
		), Text{Title: "Before frost", Blocks: []Block{
			{Kind: Heading, Apart: true, Level: 1, Text: "Before frost"},
			{Kind: Item, Level: 1, Mark: "•", Text: "Fill the tanks"},
			{Kind: Item, Level: 2, Mark: "•", Text: "slowly"},
			{Text: "Notes: Say why."},
			{Kind: Heading, Apart: true, Level: 1, Text: "Slide 2"},
			houses,
		}}},
		{"book.epub", "an EPUB book", packedFile(t, "mimetype", "application/epub+zip",
			"META-INF/container.xml", `<container><rootfiles><rootfile full-path="in/book.opf"/></rootfiles></container>`,
			"in/book.opf", `<package><metadata><title>Ferns</title></metadata><manifest><item id="a" href="a%201.xhtml"/><item id="b" href="b.xhtml"/></manifest><spine><itemref idref="b"/><itemref idref="a"/></spine></package>`,
			"in/a 1.xhtml", `<html><body><p>Last.</p></body></html>`, "in/b.xhtml", `<html><body><h1>Spores</h1><p>First.</p></body></html>`), Text{Title: "Ferns", Blocks: []Block{
			{Kind: Heading, Apart: true, Level: 1, Text: "Spores"}, {Text: "First."}, {Apart: true, Text: "Last."},
		}}},
		{"page", "a web page", []byte(`<!DOCTYPE html><title>Water</title><nav>Home</nav><h2>Ponds</h2><p>About 10<sup>3</sup>
			litres.<script>alert(1)</script><ol><li>Fill<li>Wait</ol><table><tr><th>House<th>Litres<tr><td>Palm<td>2,400</table>`), Text{Title: "Water", Blocks: []Block{
			{Kind: Heading, Level: 2, Text: "Ponds"},
			{Text: "About 10³ litres."},
			{Kind: Item, Level: 1, Mark: "1.", Text: "Fill"},
			{Kind: Item, Level: 1, Mark: "2.", Text: "Wait"},
			houses,
		}}},
		{"page.md", "a Markdown text", []byte("---\nlang: en\ntags:\n  - water\n---\n# Ponds\n\nFill *slowly*.\n\n| House | Litres |\n|---|---|\n| Palm | 2,400 |\n"), Text{Title: "Ponds", Blocks: []Block{
			{Kind: Heading, Level: 1, Text: "Ponds"}, {Text: "Fill slowly."}, houses,
		}}},
		{"rules.txt", "a text file", []byte("Closing time\n\nThe gates close at dusk.\nBe out by then.\n\n- No dogs\n- No bicycles\n"), Text{Title: "Closing time", Blocks: []Block{
			{Kind: Heading, Level: 1, Text: "Closing time"},
			{Text: "The gates close at dusk.\nBe out by then."},
			{Kind: Item, Level: 1, Mark: "•", Text: "No dogs"},
			{Kind: Item, Level: 1, Mark: "•", Text: "No bicycles"},
		}}},
		{"old.txt", "a text file", []byte("Gr\xfc\xdfe\x85\n"), Text{Title: "Grüße…", Blocks: []Block{{Kind: Heading, Level: 1, Text: "Grüße…"}}}},
		{"wide.txt", "a text file", []byte("\xff\xfeD\x00u\x00s\x00k\x00.\x00"), Text{Title: "wide", Blocks: []Block{{Text: "Dusk."}}}},
		{"old", "an e-mail", []byte("From: a\nSubject: Water\nContent-Type: text/plain; charset=iso-8859-1\n\nSch\xf6n.\n"), Text{Title: "Water", Blocks: []Block{
			{Kind: Heading, Level: 1, Text: "Water"}, {Text: "From: a"}, {Text: "Schön."},
		}}},
		{"houses.csv", "a table of separated values", []byte("House;Litres\nPalm;2,400\n"), Text{Title: "houses", Blocks: []Block{houses}}},
		{"letter", "an e-mail", []byte("From: Mara <mara@halvern.example>\r\nSubject: =?utf-8?q?Fr=C3=BCh?=\r\nContent-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\nOpen at 8=2E\r\n"), Text{Title: "Früh", Blocks: []Block{
			{Kind: Heading, Level: 1, Text: "Früh"},
			{Text: "From: Mara <mara@halvern.example>"},
			{Text: "Open at 8."},
		}}},
	}
	for _, test := range tests {
		if kind := Named(test.name, test.data); kind != test.kind {
			t.Errorf("%s is %q", test.name, kind)
		}
		got, err := Read(test.name, test.data)
		if err != nil {
			t.Errorf("%s: %v", test.name, err)
		} else if !reflect.DeepEqual(*got, test.want) {
			t.Errorf("%s is read as\n%+v\nnot\n%+v", test.name, *got, test.want)
		}
	}
}

func TestWhatCannotBeReadIsRefused(t *testing.T) {
	deep := []byte(strings.Repeat("<w:p>", 2*mostDepth))
	tests := []struct {
		name string
		data []byte
		want error
	}{
		{"empty.txt", nil, ErrUnknown},
		{"picture.txt", []byte("\x89PNG\x00\x01"), ErrUnknown},
		{"other.zip", packedFile(t, "readme", "hello"), ErrUnknown},
		{"cut.docx", wordFile(t)[:300], ErrUnknown},
		{"broken.docx", packedFile(t, "word/document.xml", "<w:p><w:r>"), ErrDamaged},
		{"deep.docx", packedFile(t, "word/document.xml", string(deep)), ErrDamaged},
		{"bomb.docx", packedFile(t, "word/document.xml", strings.Repeat(" ", mostUnpacked+1)), ErrTooLarge},
		{"long.txt", bytes.Repeat([]byte("word "), mostLetters/4), ErrTooLarge},
		{"elements.docx", packedFile(t, "word/document.xml", "<w:d>"+strings.Repeat("<w:p/>", mostElements)+"</w:d>"), ErrTooLarge},
		{"wide.csv", []byte(strings.Repeat(",", 2000) + strings.Repeat("\nx", 300)), ErrTooLarge},
		{"again.epub", packedFile(t, "mimetype", "application/epub+zip", "META-INF/container.xml", `<rootfile full-path="b"/>`,
			"b", `<p><item id="a" href="a"/>`+strings.Repeat(`<itemref idref="a"/>`, 20)+`</p>`, "a", "<p>"+strings.Repeat(" ", 4<<20)), ErrTooLarge},
		{"large.html", []byte("<html>" + strings.Repeat("<b></b>", mostMarked/7)), ErrTooLarge},
	}
	for _, test := range tests {
		if _, err := Read(test.name, test.data); !errors.Is(err, test.want) {
			t.Errorf("%s: %v", test.name, err)
		}
	}
}

func TestMarksThatTakeLongAreLeft(t *testing.T) {
	for name, text := range map[string]string{
		"links":      strings.Repeat("[a](", 500_000),
		"quotations": strings.Repeat("> ", 500_000),
		"lists":      strings.Repeat("* + ", 500_000),
	} {
		got, err := Read("a.md", []byte(text))
		if err != nil || len(got.Blocks) == 0 {
			t.Errorf("%s: %v", name, err)
		}
	}
	rows := "| House | Litres |\n|---|---|\n" + strings.Repeat("| Palm | 2,400 |\n", 3000)
	if got, err := Read("a.md", []byte(rows)); err != nil || len(got.Blocks) != 1 || len(got.Blocks[0].Rows) != 3001 {
		t.Errorf("a long table is no table: %v", err)
	}
}

func FuzzRead(f *testing.F) {
	f.Add("a.md", []byte("# Head\n\n| a | b |\n|--|--|\n| c | d |\n"))
	f.Add("a.html", []byte("<html><table><tr><td colspan=9>x</table><ul><li>"))
	f.Add("a.csv", []byte("a,\"b\nc\",d\n\n,,,\n"))
	f.Add("a.eml", []byte("From: a\nSubject: b\nContent-Type: multipart/mixed; boundary=x\n\n--x\n\nhello\n--x--\n"))
	f.Fuzz(func(t *testing.T, name string, data []byte) {
		text, err := Read(name, data)
		if err != nil {
			return
		}
		if _, err := PDF(text); err != nil {
			t.Errorf("its pages: %v", err)
		}
	})
}
