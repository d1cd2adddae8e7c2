package passage

import (
	"fmt"
	"reflect"
	"strings"
	"testing"

	"jardinet/layout"
	"jardinet/pdf"
)

// block makes a block whose words stand on one line each ten points wide.
func block(kind layout.Kind, s string) layout.Block {
	b := layout.Block{Kind: kind, Text: s}
	at := 0
	for i, w := range strings.Fields(s) {
		start := strings.Index(s[at:], w) + at
		at = start + len(w)
		b.Words = append(b.Words, layout.Word{Start: start, End: at, Box: pdf.Rect{X0: float32(10 * i), Y0: 100, X1: float32(10*i + 9), Y1: 110}})
	}
	return b
}

func heading(level int, s string) layout.Block {
	b := block(layout.Heading, s)
	b.Level = level
	return b
}

func document(pages ...[]layout.Block) *layout.Document {
	doc := &layout.Document{Title: "Manual", Language: "en"}
	for i, blocks := range pages {
		doc.Pages = append(doc.Pages, layout.Page{Number: i + 1, Blocks: blocks, Language: "en"})
	}
	return doc
}

func TestSectionsAreNotMixed(t *testing.T) {
	got := Split(document([]layout.Block{
		heading(1, "3 Water"), block(layout.Paragraph, "Use rain water. Never use the mains."),
		heading(2, "3.1 Tanks"), block(layout.Paragraph, "Four tanks lie under the lawn."),
		heading(1, "4 Storm"), block(layout.Paragraph, "Close the vents."),
	}), DefaultRecipe)
	want := []string{"3 Water|Use rain water. Never use the mains.", "3 Water › 3.1 Tanks|Four tanks lie under the lawn.", "4 Storm|Close the vents."}
	if len(got) != len(want) {
		t.Fatalf("%d passages, want %d", len(got), len(want))
	}
	for i, p := range got {
		if s := p.SectionPath() + "|" + p.Text; s != want[i] || p.Ordinal != i {
			t.Errorf("passage %d is %q, want %q", p.Ordinal, s, want[i])
		}
	}
}

func TestHeadingWithNothingUnderIt(t *testing.T) {
	got := Split(document([]layout.Block{heading(1, "Only a title"), heading(1, "And an end")}), DefaultRecipe)
	if len(got) != 2 || got[0].Text != "Only a title" || got[1].Text != "And an end" || got[0].Sentences[0].Kind != layout.Heading {
		t.Errorf("passages are %+v", got)
	}
}

func TestFurnitureStaysOut(t *testing.T) {
	got := Split(document([]layout.Block{block(layout.Furniture, "Page 3"), block(layout.Contents, "1 Start 3"), block(layout.Paragraph, "Text.")}), DefaultRecipe)
	if len(got) != 1 || got[0].Text != "Text." {
		t.Errorf("passages are %+v", got)
	}
}

func TestLengthAndOverlap(t *testing.T) {
	var sentences []string
	for i := range 60 {
		sentences = append(sentences, fmt.Sprintf("This is sentence number %d of ten words in all here.", i))
	}
	recipe := Recipe{Target: 100, Overlap: 22}
	got := Split(document([]layout.Block{block(layout.Paragraph, strings.Join(sentences, " "))}), recipe)
	if len(got) < 6 {
		t.Fatalf("only %d passages", len(got))
	}
	for i, p := range got {
		if n := len(strings.Fields(p.Text)); n > recipe.Target+recipe.Target/4 {
			t.Errorf("passage %d has %d words", i, n)
		}
		if i == 0 {
			continue
		}
		last := got[i-1].Sentences[len(got[i-1].Sentences)-1]
		if tail := got[i-1].Text[last.Start:last.End]; !strings.Contains(p.Text, tail) {
			t.Errorf("passage %d does not repeat %q", i, tail)
		}
	}
	all := ""
	for _, p := range got {
		all += p.Text + " "
	}
	for _, s := range sentences {
		if !strings.Contains(all, s) {
			t.Errorf("%q is lost", s)
		}
	}
}

func TestParagraphOverAPageBreak(t *testing.T) {
	got := Split(document(
		[]layout.Block{block(layout.Paragraph, "The tank is emptied in Novem-")},
		[]layout.Block{block(layout.Paragraph, "ber and scrubbed. Then it is filled.")},
	), DefaultRecipe)
	if len(got) != 1 || got[0].Text != "The tank is emptied in November and scrubbed. Then it is filled." {
		t.Fatalf("passages are %+v", got)
	}
	first, second := got[0].Sentences[0].Marks, got[0].Sentences[1].Marks
	if len(first) != 2 || first[0].Page != 1 || first[1].Page != 2 || len(second) != 1 || second[0].Page != 2 {
		t.Errorf("marks are %v and %v", first, second)
	}
	if pages := got[0].Pages(); !reflect.DeepEqual(pages, []int{1, 2}) {
		t.Errorf("pages are %v", pages)
	}
}

func TestTableRowsCarryTheirHeaders(t *testing.T) {
	b := block(layout.Table, "House | Night\nDew House | 12 °C")
	cell := func(column int, s string) layout.Cell {
		at := strings.Index(b.Text, s)
		return layout.Cell{Column: column, Start: at, End: at + len(s)}
	}
	b.Rows = []layout.Row{
		{Header: true, Cells: []layout.Cell{cell(0, "House"), cell(1, "Night")}},
		{Cells: []layout.Cell{cell(0, "Dew House"), cell(1, "12 °C")}},
	}
	got := Split(document([]layout.Block{b}), DefaultRecipe)
	if len(got) != 1 || got[0].Text != "Dew House · Night: 12 °C" {
		t.Fatalf("passages are %+v", got)
	}
	if got[0].Sentences[0].Row != "House" || got[0].Rows() != "House" {
		t.Errorf("its row is a %q, its rows are %q", got[0].Sentences[0].Row, got[0].Rows())
	}
}

func TestLongListingIsCut(t *testing.T) {
	got := Split(document([]layout.Block{block(layout.Paragraph, strings.Repeat("x = y + z; ", 200))}), DefaultRecipe)
	for _, p := range got {
		for _, s := range p.Sentences {
			if n := len(strings.Fields(p.Text[s.Start:s.End])); n > longestPiece {
				t.Errorf("a sentence has %d words", n)
			}
		}
	}
}

func TestEncode(t *testing.T) {
	p := &Passage{Ordinal: 3, Section: []string{"3 Water"}, Text: "Use rain water.", Language: "en", Sentences: []Sentence{
		{Start: 0, End: 15, First: true, Kind: layout.ListItem, Row: "House", Marks: Marks{{4, pdf.Rect{X0: 1.5, Y0: 2, X1: 30, Y1: 12.5}}}},
	}}
	data, err := Encode(p)
	if err != nil {
		t.Fatal(err)
	}
	back, err := Decode(data)
	if err != nil || !reflect.DeepEqual(back, p) {
		t.Errorf("came back as %+v, error %v", back, err)
	}
	if _, err := Decode(data[:len(data)/2]); err == nil {
		t.Error("half a passage was decoded")
	}
}

func TestValidate(t *testing.T) {
	for _, r := range []Recipe{{Target: 5}, {Target: 5000}, {Target: 100, Overlap: 60}, {Target: 100, Overlap: -1}} {
		if r.Validate() == nil {
			t.Errorf("%+v is accepted", r)
		}
	}
	if err := DefaultRecipe.Validate(); err != nil {
		t.Error(err)
	}
}

// FuzzSplit checks that sentences lie within their passages, in order.
func FuzzSplit(f *testing.F) {
	f.Add("One. Two? Three\nfour", uint8(30), uint8(5))
	f.Fuzz(func(t *testing.T, s string, target, overlap uint8) {
		recipe := Recipe{Target: 20 + int(target), Overlap: int(overlap) % 10}
		for _, p := range Split(document([]layout.Block{block(layout.Paragraph, strings.ToValidUTF8(s, "?"))}), recipe) {
			end := 0
			for _, sentence := range p.Sentences {
				if sentence.Start < end || sentence.End <= sentence.Start || sentence.End > len(p.Text) {
					t.Fatalf("sentence %+v of %q", sentence, p.Text)
				}
				end = sentence.End
			}
		}
	})
}

func BenchmarkSplit(b *testing.B) {
	blocks := []layout.Block{heading(1, "3 Water")}
	for range 40 {
		blocks = append(blocks, block(layout.Paragraph, strings.Repeat("Use rain water for the ferns and never the mains. ", 12)))
	}
	doc := document(blocks)
	b.ReportAllocs()
	for b.Loop() {
		Split(doc, DefaultRecipe)
	}
}

func TestOtherCuts(t *testing.T) {
	doc := &layout.Document{Language: "en"}
	for n := 1; n <= 3; n++ {
		page := layout.Page{Number: n, Language: "en"}
		for _, b := range []layout.Block{
			{Kind: layout.Heading, Level: 1, Text: fmt.Sprintf("Section %d", n)},
			{Kind: layout.Paragraph, Text: strings.Repeat("Water the ferns in the morning. ", 10)},
		} {
			b.Words = layout.Words{{Start: 0, End: len(b.Text), Box: pdf.Rect{X1: 9, Y1: 9}}}
			page.Blocks = append(page.Blocks, b)
		}
		doc.Pages = append(doc.Pages, page)
	}
	byPage := Split(doc, Recipe{Cut: ByPage, Target: 20})
	if len(byPage) != 3 {
		t.Fatalf("%d passages of 3 pages", len(byPage))
	}
	for i, p := range byPage {
		if got := p.Pages(); len(got) != 1 || got[0] != i+1 || p.Section[0] != fmt.Sprintf("Section %d", i+1) {
			t.Errorf("passage %d is of pages %v, section %v", i, got, p.Section)
		}
	}
	byWords := Split(doc, Recipe{Cut: ByWords, Target: 90, Overlap: 12})
	if len(byWords) < 2 || len(byWords) > 4 || !strings.Contains(byWords[0].Text, "Section 2") {
		t.Errorf("by words: %d passages, the first %q", len(byWords), byWords[0].Text)
	}
	if err := (Recipe{Cut: "chapter", Target: 100}).Validate(); err == nil {
		t.Error("an unknown cut is accepted")
	}
}

func TestParagraphGoesOnInTheNextColumn(t *testing.T) {
	block := func(text string, x, y float32) layout.Block {
		box := pdf.Rect{X0: x, Y0: y, X1: x + 200, Y1: y + 40}
		return layout.Block{Kind: layout.Paragraph, Text: text, Box: box, Words: layout.Words{{Start: 0, End: len(text), Box: box}}}
	}
	doc := &layout.Document{Language: "en", Pages: []layout.Page{{Number: 1, Language: "en", Blocks: []layout.Block{
		block("The register is being transcribed; most of it was done", 50, 600), block("by volunteers at home.", 300, 100), block("another thing below.", 300, 200),
	}}}}
	got := Split(doc, DefaultRecipe)[0].Text
	if !strings.HasPrefix(got, "The register is being transcribed; most of it was done by volunteers at home.") || !strings.Contains(got, "\n") {
		t.Errorf("cut into %q", got)
	}
}

func TestBarsSayWhatTheirCaptionSays(t *testing.T) {
	b := block(layout.Figure, "2019 | 397.2\n2020 | 104.8\nin red: estimates")
	cell := func(column int, s string) layout.Cell {
		at := strings.Index(b.Text, s)
		return layout.Cell{Column: column, Start: at, End: at + len(s)}
	}
	b.Rows = []layout.Row{{Cells: []layout.Cell{cell(0, "2019"), cell(1, "397.2")}}, {Cells: []layout.Cell{cell(0, "2020"), cell(1, "104.8")}}, {Cells: []layout.Cell{cell(0, "in red: estimates")}}}
	for caption, want := range map[string]string{
		"Figure 1. Visitors a year, in thousands, from 2019 to 2020.": "Visitors a year, in thousands",
		"Fig. 2: Income by source: millions. Gifts are left out.":     "Income by source, millions",
		"Abbildung 3 – Besucher im Jahr":                              "Besucher im Jahr",
	} {
		got := Split(document([]layout.Block{block(layout.Paragraph, "More came."), b, block(layout.Caption, caption)}), DefaultRecipe)
		if len(got) != 1 {
			t.Fatalf("%d passages", len(got))
		}
		if whole := "More came.\n2019 · " + want + ": 397.2\n2020 · " + want + ": 104.8\n" + caption; got[0].Text != whole {
			t.Errorf("passage is %q, want %q", got[0].Text, whole)
		}
	}
	b.Rows = nil
	if got := Split(document([]layout.Block{block(layout.Paragraph, "More came."), b}), DefaultRecipe); got[0].Text != "More came." {
		t.Errorf("labels of a drawing are in the text: %q", got[0].Text)
	}
}
