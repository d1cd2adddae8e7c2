package layout

import (
	"strings"
	"testing"

	"jardinet/pdf"
)

// order joins the texts of a page's blocks.
func order(t *testing.T, b *sheetBuilder) string {
	t.Helper()
	var out []string
	for _, block := range assembled(t, b.sheet()).Pages[0].Blocks {
		out = append(out, block.Text)
	}
	return strings.Join(out, " ")
}

// follows fails unless the parts stand in s one after another.
func follows(t *testing.T, s string, parts ...string) {
	t.Helper()
	at := 0
	for _, p := range parts {
		i := strings.Index(s[at:], p)
		if i < 0 {
			t.Fatalf("%q does not come next in %q", p, s[at:])
		}
		at += i
	}
}

func TestBulletsDoNotMakeAColumn(t *testing.T) {
	b := newSheet(1)
	for i, s := range []string{"left begins with these words here", "left goes on with more of them", "left ends with the last of them"} {
		b.line(50, 100+14*float32(i), 10, 0, s)
	}
	for i, s := range []string{"water the ferns in the morning", "close the vents before the frost", "write down what you have read"} {
		y := 160 + 14*float32(i)
		b.line(50, y, 10, 0, "•").line(68, y, 10, 0, s)
	}
	for i := range 9 {
		b.line(320, 100+14*float32(i), 10, 0, "right column words stand in lines")
	}
	s := order(t, b)
	follows(t, s, "left begins", "left ends", "• water the ferns", "• close the vents", "• write down", "right column")
}

func TestTableIsNoColumns(t *testing.T) {
	b := newSheet(1)
	for i, row := range [][2]string{{"Dew house", "is shaded and misted every hour of the day"}, {"Fern house", "is shaded and misted in the early morning"}, {"Palm house", "is never shaded and seldom misted at all"}, {"Cactus house", "is neither shaded nor misted by anybody"}} {
		y := 100 + 20*float32(i)
		b.line(50, y, 10, 0, row[0]).line(200, y, 10, 0, row[1])
	}
	follows(t, order(t, b), "Dew house | is shaded", "Fern house | is shaded", "Palm house | is never", "Cactus house | is neither")
}

func TestColumnsThatDoNotLineUpArePartedThoughShort(t *testing.T) {
	b := newSheet(1)
	for i := range 10 {
		b.line(50, 100+14*float32(i), 10, 0, "cat file").line(330, 103.5+17*float32(i), 10, 0, "apt list")
	}
	s := order(t, b)
	if last := strings.LastIndex(s, "cat file"); last > strings.Index(s, "apt list") {
		t.Errorf("columns are mixed: %s", s)
	}
}

func TestDrawnLineHoldsATableTogether(t *testing.T) {
	b := newSheet(1)
	for i := range 5 {
		y := 100 + 30*float32(i)
		b.line(50, y+7, 10, 0, "the name of the thing that is meant").line(330, y, 10, 0, "what it is said to do in one line").line(330, y+12, 10, 0, "and again in a second line of it")
		b.mark(pdf.Rule, 40, y+18, 560, y+18.6)
	}
	s := order(t, b)
	if strings.Count(s[:strings.Index(s, "said to do")], "name of the thing") > 1 {
		t.Errorf("the names are read before what they do: %s", s)
	}
}

func TestRowsBetweenRules(t *testing.T) {
	b := newSheet(1)
	for i, y := range []float32{90, 130, 170, 210} {
		b.mark(pdf.Rule, 50, y, 400, y+0.6)
		_ = i
	}
	b.line(55, 104, 10, 1, "Room").line(250, 104, 10, 1, "Relative").line(250, 118, 10, 1, "humidity %").
		line(55, 144, 10, 0, "Drying").line(250, 144, 10, 0, "15").line(55, 158, 10, 0, "room").
		line(55, 184, 10, 0, "Cold").line(250, 184, 10, 0, "not").line(55, 198, 10, 0, "store").line(250, 198, 10, 0, "controlled")
	wantBlocks(t, &assembled(t, b.sheet()).Pages[0], "table: Room | Relative humidity %\nDrying room | 15\nCold store | not controlled")
}

func TestBoldThroughoutIsNoHeading(t *testing.T) {
	b := newSheet(1)
	for i := range 6 {
		b.line(50, 100+14*float32(i), 10, 1, "Everything on this page is set in bold type")
	}
	for _, block := range assembled(t, b.sheet()).Pages[0].Blocks {
		if block.Kind == Heading {
			t.Errorf("a line of running text is a heading: %q", block.Text)
		}
	}
}
