package layout

import (
	"strings"
	"testing"

	"jardinet/pdf"
)

func (b *sheetBuilder) mark(kind pdf.MarkKind, x0, y0, x1, y1 float32) *sheetBuilder {
	b.page.Marks = append(b.page.Marks, pdf.Mark{Kind: kind, Box: pdf.Rect{X0: x0, Y0: y0, X1: x1, Y1: y1}})
	return b
}

// ruled draws a table's lines at the given positions.
func (b *sheetBuilder) ruled(xs, ys []float32) *sheetBuilder {
	for _, y := range ys {
		b.mark(pdf.Rule, xs[0], y-0.4, xs[len(xs)-1], y+0.4)
	}
	for _, x := range xs {
		b.mark(pdf.Rule, x-0.4, ys[0], x+0.4, ys[len(ys)-1])
	}
	return b
}

func TestTextThatRunsOverItsCell(t *testing.T) {
	b := newSheet(1)
	for _, y := range []float32{90, 120, 150, 180} {
		b.mark(pdf.Rule, 50, y, 400, y+0.6)
	}
	for _, x := range []float32{50, 120, 330, 400} {
		b.mark(pdf.Rule, x, 90, x+0.6, 180)
	}
	b.line(55, 108, 10, 1, "File").line(125, 108, 10, 1, "Default").line(335, 108, 10, 1, "Variable").
		line(55, 138, 10, 0, "keytab_definition").line(125, 138, 10, 0, "/etc/keytab").line(335, 138, 10, 0, "KRB5_KTNAME_OF_THE_SERVER").
		line(55, 168, 10, 0, "Realm").line(125, 168, 10, 0, "none").line(335, 168, 10, 0, "none")
	wantBlocks(t, &assembled(t, b.sheet()).Pages[0], "table: File | Default | Variable\nkeytab_definition | /etc/keytab | KRB5_KTNAME_OF_THE_SERVER\nRealm | none | none")
}

func TestRuledTableKeepsCellsOfSeveralLines(t *testing.T) {
	s := newSheet(1).ruled([]float32{50, 150, 300, 450}, []float32{100, 120, 160, 180}).
		line(55, 114, 10, 1, "House").line(155, 114, 10, 1, "Remark").line(305, 114, 10, 1, "Limit").
		line(55, 134, 10, 0, "Dew").line(155, 134, 10, 0, "mist before").line(305, 134, 10, 0, "14 °C").
		line(55, 148, 10, 0, "house").line(155, 148, 10, 0, "ten o'clock").
		line(55, 174, 10, 0, "Fern").line(155, 174, 10, 0, "shade").line(305, 174, 10, 0, "9 °C").sheet()
	page := &assembled(t, s).Pages[0]
	wantBlocks(t, page, "table: House | Remark | Limit\nDew house | mist before ten o'clock | 14 °C\nFern | shade | 9 °C")
	if rows := page.Blocks[0].Rows; !rows[0].Header || rows[1].Header {
		t.Errorf("rows are %+v", rows)
	}
}

func TestSpannedHeader(t *testing.T) {
	b := newSheet(1)
	for _, y := range []float32{100, 140, 160, 180} {
		b.mark(pdf.Rule, 50, y, 350, y+0.5)
	}
	b.mark(pdf.Rule, 150, 120, 350, 120.5)
	for _, x := range []float32{50, 150, 350} {
		b.mark(pdf.Rule, x, 100, x+0.5, 180)
	}
	b.mark(pdf.Rule, 250, 120, 250.5, 180)
	s := b.line(55, 114, 10, 1, "Stop").line(155, 114, 10, 1, "Summer").
		line(155, 134, 10, 1, "First").line(255, 134, 10, 1, "Last").
		line(55, 154, 10, 0, "Halt").line(155, 154, 10, 0, "08:10").line(255, 154, 10, 0, "18:40").
		line(55, 174, 10, 0, "Lake").line(155, 174, 10, 0, "08:20").line(255, 174, 10, 0, "18:50").sheet()
	page := &assembled(t, s).Pages[0]
	wantBlocks(t, page, "table: Stop | Summer\nFirst | Last\nHalt | 08:10 | 18:40\nLake | 08:20 | 18:50")
	if rows := page.Blocks[0].Rows; !rows[0].Header || !rows[1].Header || rows[2].Header || rows[1].Cells[0].Column != 1 {
		t.Errorf("rows are %+v", rows)
	}
}

func TestFigureLabelsAreNoText(t *testing.T) {
	s := newSheet(1).mark(pdf.Drawing, 60, 100, 300, 200).mark(pdf.Frame, 80, 120, 160, 150).
		line(50, 80, 10, 0, "The water runs from the tank through the pump to the beds.").
		line(90, 138, 7, 0, "Pump 2").line(200, 170, 7, 0, "140 kPa").line(120, 212, 7, 0, "Valve 3").
		line(60, 240, 8, 0, "Figure 1. The flow of water.").
		line(50, 280, 10, 0, "Close the valve before you open the pump and write it down.").sheet()
	wantBlocks(t, &assembled(t, s).Pages[0],
		"paragraph: The water runs from the tank through the pump to the beds.",
		"figure: Pump 2 140 kPa Valve 3",
		"caption: Figure 1. The flow of water.",
		"paragraph: Close the valve before you open the pump and write it down.")
}

func TestPictureBehindTextIsNoFigure(t *testing.T) {
	b := newSheet(1).mark(pdf.Picture, 40, 60, 500, 400)
	for i := range 8 {
		b.line(50, 100+14*float32(i), 10, 0, "These words are set over a picture and are text all the same, as one sees")
	}
	for _, block := range assembled(t, b.sheet()).Pages[0].Blocks {
		if block.Kind == Figure && len(block.Text) > 0 {
			t.Errorf("text over a picture is a %s: %q", block.Kind, block.Text)
		}
	}
}

func TestBoxIsReadAsOnePlaceOfTheColumn(t *testing.T) {
	b := newSheet(1).mark(pdf.Frame, 50, 95, 280, 150)
	for i, s := range []string{"Danger: never open the door alone at", "night, and never without a lamp.", "Call the officer first of all and wait."} {
		b.line(60, 112+14*float32(i), 10, 0, s)
	}
	for i := range 6 {
		b.line(320, 100+14*float32(i), 10, 0, "The other column goes on beside the box")
	}
	s := b.line(50, 80, 10, 0, "Read this before you begin with work here.").line(50, 175, 10, 0, "After the box the left column goes on.").sheet()
	var text []string
	for _, block := range assembled(t, s).Pages[0].Blocks {
		text = append(text, block.Text)
	}
	all := strings.Join(text, " ")
	for _, order := range [][2]string{{"Read this", "Danger"}, {"Danger", "After the box"}, {"After the box", "The other column"}} {
		if strings.Index(all, order[0]) > strings.Index(all, order[1]) {
			t.Errorf("%q comes after %q: %s", order[0], order[1], all)
		}
	}
}

func TestLineNumbersAreFurniture(t *testing.T) {
	b := newSheet(1)
	for i := range 8 {
		y := 100 + 14*float32(i)
		b.line(30, y, 7, 0, string(rune('1'+i))).line(60, y, 10, 0, "Nobody enters the house alone and the lamp stays lit")
	}
	page := &assembled(t, b.sheet()).Pages[0]
	for _, block := range page.Blocks {
		if block.Kind != Furniture && strings.ContainsAny(block.Text, "12345678") {
			t.Errorf("a line number is in %q", block.Text)
		}
	}
}

func TestSpacedHeading(t *testing.T) {
	b := newSheet(1)
	x := float32(50)
	for _, r := range "Keeping the Vault" {
		if r == ' ' {
			x += 8
			continue
		}
		b.line(x, 80, 16, 1, string(r))
		x += 8 + 3.5
	}
	s := b.line(50, 120, 10, 0, "The vault keeps the seed of all the plants that grow here.").sheet()
	if got := assembled(t, s).Pages[0].Blocks[0]; got.Text != "Keeping the Vault" {
		t.Errorf("the heading is %q", got.Text)
	}
}

func TestRaisedAndLowered(t *testing.T) {
	s := newSheet(1).line(50, 100, 10, 0, "CO").line(60, 102, 6, 0, "2").line(66, 100, 10, 0, "rises to 10").line(111.5, 96, 6, 0, "8").sheet()
	if got := assembled(t, s).Pages[0].Blocks[0].Text; got != "CO₂ rises to 10⁸" {
		t.Errorf("read %q", got)
	}
}
