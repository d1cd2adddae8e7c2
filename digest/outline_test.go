package digest

import (
	"slices"
	"testing"

	"jardinet/layout"
)

func TestOutline(t *testing.T) {
	heading := func(level int, text string) layout.Block {
		return layout.Block{Kind: layout.Heading, Level: level, Text: text}
	}
	doc := &layout.Document{Pages: []layout.Page{
		{Number: 1, Blocks: []layout.Block{{Kind: layout.Paragraph, Text: "Foreword"}, heading(2, "1 The vault\nand what it is for")}},
		{Number: 2, Blocks: []layout.Block{heading(3, "1.1 People"), heading(3, " "), heading(2, "2 Conditions")}},
	}}
	want := []Entry{{"1 The vault and what it is for", 1, 1}, {"1.1 People", 2, 2}, {"2 Conditions", 1, 2}}
	if got := Outline(doc); !slices.Equal(got, want) {
		t.Errorf("the outline is %+v", got)
	}
	if got := Outline(&layout.Document{}); len(got) != 0 {
		t.Errorf("nothing has the outline %+v", got)
	}
}
