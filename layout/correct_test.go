package layout

import (
	"strings"
	"testing"

	"jardinet/pdf"
)

func somePage() *Page {
	return &Page{Number: 1, Width: 600, Height: 800, Blocks: []Block{
		{Kind: Paragraph, Text: "First"}, {Kind: Paragraph, Text: "Second"},
		{Kind: Table, Text: "a | b\n1 | 2", Rows: []Row{{true, []Cell{{0, 0, 1}, {1, 4, 5}}}, {false, []Cell{{0, 6, 7}, {1, 10, 11}}}}},
	}}
}

func TestCorrect(t *testing.T) {
	p := somePage()
	p.Correct(&Corrections{Edits: []Edit{
		{Was: "First", Kind: Heading, To: 2}, {Was: "Second", Text: "10⁸ seeds"}, {Was: "a | b\n1 | 2", Text: "a | b\n1 | 3\n4 | 5"}, {Was: "gone", Drop: true},
	}})
	wantBlocks(t, p, "paragraph: 10⁸ seeds", "heading: First", "table: a | b\n1 | 3\n4 | 5")
	if rows := p.Blocks[2].Rows; len(rows) != 3 || !rows[0].Header || p.Blocks[2].Text[rows[2].Cells[1].Start:rows[2].Cells[1].End] != "5" {
		t.Errorf("the table's rows are %+v", rows)
	}
	if p.Blocks[0].Was() != "Second" || len(p.Blocks[0].Words) != 2 {
		t.Errorf("the corrected block is %+v", p.Blocks[0])
	}
	if len(p.Findings) != 1 || p.Findings[0].Code != "lost correction" {
		t.Errorf("findings are %+v", p.Findings)
	}
}

func TestDrop(t *testing.T) {
	p := somePage()
	p.Correct(&Corrections{Edits: []Edit{{Was: "First", Drop: true}}})
	if len(p.Blocks) != 2 || p.Blocks[0].Text != "Second" {
		t.Errorf("blocks are %v", kinds(p))
	}
}

func TestKeyIsThatOfTheContent(t *testing.T) {
	a, b := newSheet(1).line(50, 100, 10, 0, "words").sheet(), newSheet(7).line(50, 100, 10, 0, "words").sheet()
	if a.Key() == "" || a.Key() != b.Key() {
		t.Errorf("the same content has the keys %q and %q", a.Key(), b.Key())
	}
	if c := newSheet(1).line(50, 100, 10, 0, "other words").sheet(); c.Key() == a.Key() {
		t.Error("other content has the same key")
	}
}

func TestFindings(t *testing.T) {
	words := func(s string) (out Words) {
		for range strings.Fields(s) {
			out = append(out, Word{})
		}
		return out
	}
	broken := strings.Repeat("Zkh qxpeh wklv vhqwhqfh lv zulwwhq lq jleehulvk kxqgzhun ", 6)
	tests := []struct {
		name string
		page Page
		code string
		low  int
	}{
		{"clean", Page{Blocks: []Block{{Kind: Paragraph, Text: "All is well here."}}}, "", 100},
		{"picture", Page{Problem: pictureOnly}, "no text", 50},
		{"font", Page{Blocks: []Block{{Kind: Paragraph, Text: broken}}}, "unreadable font", 50},
		{"bullets", Page{Blocks: []Block{{Kind: Paragraph, Text: strings.Repeat("••• ", 60)}}}, "unreadable font", 50},
		{"recognised badly", Page{Confidence: 40, Blocks: []Block{{Kind: Paragraph, Text: "x"}}}, "text recognition", 50},
		{"recognised well", Page{Confidence: 95, Blocks: []Block{{Kind: Paragraph, Text: "x"}}}, "text recognition", 98},
		{"power", Page{Blocks: []Block{{Kind: Paragraph, Text: "It holds 40 m3 of water."}}}, "lost power or index", 98},
		{"figure", Page{Blocks: []Block{{Kind: Figure}}}, "figure", 98},
		{"wordy figure", Page{Blocks: []Block{{Kind: Figure, Words: words(strings.Repeat("word ", 80))}}}, "text in a figure", 88},
	}
	for _, test := range tests {
		test.page.Inspect()
		if got := test.page.Score(); got != test.low {
			t.Errorf("%s scores %d, want %d: %+v", test.name, got, test.low, test.page.Findings)
		}
		if test.code != "" && (len(test.page.Findings) == 0 || test.page.Findings[0].Code != test.code) {
			t.Errorf("%s: findings are %+v", test.name, test.page.Findings)
		}
	}
	ragged := Page{Blocks: []Block{{Kind: Table, Box: pdf.Rect{X1: 9}, Rows: []Row{{Cells: make([]Cell, 1)}, {Cells: make([]Cell, 2)}, {Cells: make([]Cell, 3)}, {Cells: make([]Cell, 4)}}}}}
	if ragged.Inspect(); len(ragged.Findings) != 1 || ragged.Findings[0].Severity != Doubt {
		t.Errorf("a ragged table gives %+v", ragged.Findings)
	}
}
