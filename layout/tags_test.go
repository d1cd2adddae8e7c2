package layout

import (
	"testing"

	"jardinet/pdf"
)

// plain sets lines that all look alike, and tags some of them as headings.
func plain(number int, headings map[string]int, lines ...string) *sheetBuilder {
	b := newSheet(number)
	for i, s := range lines {
		y := float32(100 + 30*i)
		b.line(50, y, 10, 0, s)
		if level := headings[s]; level > 0 {
			b.page.Tags = append(b.page.Tags, pdf.Tag{Heading: level, Box: pdf.Rect{X0: 50, Y0: y - 8, X1: 60 + float32(5*len(s)), Y1: y + 2}})
		}
	}
	return b
}

func TestTaggedHeadings(t *testing.T) {
	s := plain(1, map[string]int{"The potting shed": 1, "Tools;": 3}, "The potting shed", "Seedlings are potted on Mondays and on no other day of the week.", "Tools;", "Knives are sharpened every Friday by the foreman of the shed.").sheet()
	page := &assembled(t, s).Pages[0]
	wantBlocks(t, page, "heading: The potting shed", "paragraph: Seedlings are potted on Mondays and on no other day of the week.", "heading: Tools;", "paragraph: Knives are sharpened every Friday by the foreman of the shed.")
	if page.Blocks[0].Level != 1 || page.Blocks[2].Level != 3 {
		t.Errorf("the levels are %d and %d", page.Blocks[0].Level, page.Blocks[2].Level)
	}
}

// TestTagsThatSayNothing has an author's program that tagged all text as headings.
func TestTagsThatSayNothing(t *testing.T) {
	long := "The foreman sees to it that the knives are sharp, that the benches are swept and that the sink is clean before the end of the day."
	headings := map[string]int{}
	lines := []string{}
	for range 20 {
		lines = append(lines, long)
		headings[long] = 1
	}
	for _, b := range assembled(t, plain(1, headings, lines...).sheet()).Pages[0].Blocks {
		if b.Kind == Heading {
			t.Fatalf("running text is a heading: %q", b.Text)
		}
	}
}

// TestTagsRule has lines in bold that the author does not call headings, beside more that they do.
func TestTagsRule(t *testing.T) {
	b := newSheet(1)
	for i, s := range []string{"The potting shed", "Tools", "Soils", "Keep this door shut"} {
		y := float32(100 + 60*i)
		b.line(50, y, 10, 1, s).line(50, y+24, 10, 0, "What is said here is said in a sentence of its own, for each of them.")
		if i < 3 {
			b.page.Tags = append(b.page.Tags, pdf.Tag{Heading: 2, Box: pdf.Rect{X0: 50, Y0: y - 8, X1: 200, Y1: y + 2}})
		}
	}
	got := 0
	for _, b := range assembled(t, b.sheet()).Pages[0].Blocks {
		if b.Kind == Heading {
			got++
		}
	}
	if got != 3 {
		t.Errorf("%d headings", got)
	}
}

func TestWhatPicturesShow(t *testing.T) {
	b := newSheet(1).line(50, 60, 10, 0, "The shed is drawn below.")
	at := pdf.Rect{X0: 50, Y0: 100, X1: 250, Y1: 200}
	b.page.Marks = []pdf.Mark{{Kind: pdf.Picture, Box: at}}
	b.page.Tags = []pdf.Tag{{Box: at, Text: "A plan of the potting shed: benches along the north wall"}, {Box: at, Text: "image1.png"}}
	page := &assembled(t, b.sheet()).Pages[0]
	wantBlocks(t, page, "paragraph: The shed is drawn below.", "figure: ", "caption: A plan of the potting shed: benches along the north wall")
	if boxes := page.Blocks[2].Boxes(0, 6); len(boxes) != 1 || boxes[0] != at {
		t.Errorf("the words stand at %v", boxes)
	}
}
