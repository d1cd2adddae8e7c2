package digest

import (
	"fmt"
	"testing"

	"jardinet/layout"
	"jardinet/pdf"
)

func heading(level int, text string) layout.Block {
	return layout.Block{Kind: layout.Heading, Level: level, Text: text}
}

// listing lists an outline as "title, level, page".
func listing(all []Entry) string {
	out := ""
	for _, e := range all {
		out += fmt.Sprintf("%s, %d, %d; ", e.Title, e.Level, e.Page)
	}
	return out
}

func TestOutline(t *testing.T) {
	doc := &layout.Document{Pages: []layout.Page{
		{Number: 1, Blocks: []layout.Block{{Kind: layout.Paragraph, Text: "Foreword"}, heading(2, "1 The vault\nand what it is for")}},
		{Number: 2, Blocks: []layout.Block{heading(3, "1.1 People"), heading(3, " "), heading(2, "2 Conditions")}},
	}}
	if got := listing(Outline(doc, nil)); got != "1 The vault and what it is for, 1, 1; 1.1 People, 2, 2; 2 Conditions, 1, 2; " {
		t.Errorf("from headings it is %s", got)
	}
	marks := []pdf.Bookmark{{Title: "The  vault", Level: 2, Page: 1}, {Title: "People", Level: 3, Page: 2}, {Title: "Nowhere", Level: 2}, {Title: "Conditions", Level: 2, Page: 2}}
	if got := listing(Outline(doc, marks)); got != "The vault, 1, 1; People, 2, 2; Conditions, 1, 2; " {
		t.Errorf("from bookmarks it is %s", got)
	}
	if got := Outline(&layout.Document{}, nil); len(got) != 0 {
		t.Errorf("nothing has the outline %+v", got)
	}
}

// TestOutlineFromContents has printed page numbers that are not the physical ones, and a title on
// the page after the one that is printed.
func TestOutlineFromContents(t *testing.T) {
	line := func(x float32, s string) layout.Block {
		return layout.Block{Kind: layout.Contents, Text: s, Box: pdf.Rect{X0: x, X1: 500}}
	}
	doc := &layout.Document{Pages: []layout.Page{
		{Number: 1, Label: "i", Blocks: []layout.Block{line(60, "Welcome ........ ii"), line(60, "1 Hours . . . . 1"), line(74, "1.1 The week 1"), line(60, "2 Leave ..... 2")}},
		{Number: 2, Label: "ii"},
		{Number: 3, Label: "1", Blocks: []layout.Block{heading(1, "1 Hours"), heading(2, "1.1 The week")}},
		{Number: 4, Label: "2"},
		{Number: 5, Label: "3", Blocks: []layout.Block{heading(1, "2 Leave")}},
	}}
	if got := listing(Outline(doc, nil)); got != "Welcome, 1, 2; 1 Hours, 1, 3; 1.1 The week, 2, 3; 2 Leave, 1, 5; " {
		t.Errorf("the outline is %s", got)
	}
}
