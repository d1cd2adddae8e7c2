package layout

import (
	"testing"

	"jardinet/pdf"
)

func TestBarsThatLieAreReadWithTheirNumbers(t *testing.T) {
	b := newSheet(1)
	for i, bar := range []struct {
		label, value string
		end          float32
	}{{"Admissions", "3.21", 400}, {"Restaurant, shop", "2.02", 300}, {"Railway", "0.41", 140}} {
		y := 100 + 40*float32(i)
		b.mark(pdf.Frame, 120, y-14, bar.end, y+4)
		b.line(30, y, 8, 0, bar.label).line(bar.end+6, y, 8, 0, bar.value)
	}
	page := &assembled(t, b.line(30, 230, 9, 0, "Figure 2. Income by source.").sheet()).Pages[0]
	wantBlocks(t, page, "figure: Admissions | 3.21\nRestaurant, shop | 2.02\nRailway | 0.41", "caption: Figure 2. Income by source.")
	if rows := page.Blocks[0].Rows; len(rows) != 3 || len(rows[1].Cells) != 2 {
		t.Errorf("rows are %+v", rows)
	}
}

func TestBarsThatStand(t *testing.T) {
	b := newSheet(1)
	b.mark(pdf.Rule, 90, 300, 400, 300.6) // the line that they stand on
	for i, bar := range []struct {
		label, value string
		top          float32
	}{{"2019", "397.2", 120}, {"2020", "104.8", 260}, {"2021", "228.0", 200}} {
		x := 100 + 90*float32(i)
		b.mark(pdf.Frame, x, bar.top, x+40, 300)
		b.line(x+8, 314, 8, 0, bar.label).line(x+8, bar.top-4, 8, 0, bar.value)
	}
	wantBlocks(t, &assembled(t, b.sheet()).Pages[0], "figure: 2019 | 397.2\n2020 | 104.8\n2021 | 228.0")
}

// TestNoBars has what looks like bars and is none: rows with a shade behind, bars
// without numbers, and bars that overlap.
func TestNoBars(t *testing.T) {
	for name, test := range map[string]struct {
		bars   []pdf.Rect
		number string
	}{
		"shaded rows":     {[]pdf.Rect{{X0: 120, Y0: 86, X1: 400, Y1: 104}, {X0: 120, Y0: 126, X1: 400, Y1: 144}, {X0: 120, Y0: 166, X1: 400, Y1: 184}}, "7"},
		"without numbers": {[]pdf.Rect{{X0: 120, Y0: 86, X1: 400, Y1: 104}, {X0: 120, Y0: 126, X1: 300, Y1: 144}, {X0: 120, Y0: 166, X1: 200, Y1: 184}}, "many"},
		"overlapping":     {[]pdf.Rect{{X0: 120, Y0: 86, X1: 400, Y1: 130}, {X0: 120, Y0: 126, X1: 300, Y1: 170}, {X0: 120, Y0: 166, X1: 200, Y1: 204}}, "7"},
		"two":             {[]pdf.Rect{{X0: 120, Y0: 86, X1: 400, Y1: 104}, {X0: 120, Y0: 126, X1: 300, Y1: 144}}, "7"},
	} {
		b := newSheet(1)
		for i, bar := range test.bars {
			b.mark(pdf.Frame, bar.X0, bar.Y0, bar.X1, bar.Y1)
			b.line(30, 100+40*float32(i), 8, 0, "Label").line(bar.X1+6, 100+40*float32(i), 8, 0, test.number)
		}
		for _, block := range assembled(t, b.sheet()).Pages[0].Blocks {
			if block.Kind == Figure && len(block.Rows) > 0 {
				t.Errorf("%s are read as %+v", name, block)
			}
		}
	}
}

func TestOtherTextOfAChart(t *testing.T) {
	b := newSheet(1)
	for i, end := range []float32{400, 300, 140} {
		y := 100 + 40*float32(i)
		b.mark(pdf.Frame, 120, y-14, end, y+4)
		b.line(30, y, 8, 0, "Source").line(end+6, y, 8, 0, "2.02")
	}
	b.line(300, 182, 8, 0, "in millions")
	block := assembled(t, b.sheet()).Pages[0].Blocks[0]
	if block.Text != "Source | 2.02\nSource | 2.02\nSource | 2.02\nin millions" {
		t.Errorf("the chart reads %q", block.Text)
	}
}
