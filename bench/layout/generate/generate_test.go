package main

import (
	"math/rand/v2"
	"strings"
	"testing"

	"jardinet/bench/layout/truth"
)

func TestShifts(t *testing.T) {
	got := shifts("4×10⁻³ CO₂")
	want := []shift{{"4×10", 0}, {"−3", 1}, {" CO", 0}, {"2", -1}}
	if len(got) != len(want) {
		t.Fatalf("shifts are %+v", got)
	}
	for i := range want {
		if got[i] != want[i] {
			t.Errorf("shift %d is %+v, want %+v", i, got[i], want[i])
		}
	}
}

// TestTruthTellsAllThatIsSet wants every producer to set every word of the
// truth, and nothing else but furniture.
func TestTruthTellsAllThatIsSet(t *testing.T) {
	for producer, kinds := range types {
		p := write(producer, 3)
		pages := p.truth()
		if len(pages) != len(kinds) {
			t.Fatalf("%s: %d pages of %d types", producer, len(pages), len(kinds))
		}
		seen := map[string]bool{}
		for i, page := range pages {
			seen[page.Type] = true
			if page.Number != i+1 || page.File != p.file || len(page.Blocks) < 3 || len(page.Furniture) < 2 {
				t.Errorf("%s: page %d is %+v", producer, i+1, page)
			}
			if page.Numbered != (page.Type == "line numbers") {
				t.Errorf("%s: a page of type %s is numbered: %v", producer, page.Type, page.Numbered)
			}
			if shifted := page.Shifted(); page.Type == "formulas" && len(shifted) < 3 {
				t.Errorf("%s: the formulas have only %v", producer, shifted)
			}
			if page.Type == "figure" && len(page.Labels()) < 5 {
				t.Errorf("%s: the figure's labels are %v", producer, page.Labels())
			}
		}
		for _, kind := range kinds {
			if !seen[kind] {
				t.Errorf("%s sets no page of type %s", producer, kind)
			}
		}
	}
}

func TestSameSeedSamePaper(t *testing.T) {
	a, b, c := write("fpdf", 1).truth(), write("fpdf", 1).truth(), write("fpdf", 2).truth()
	for i := range a {
		if a[i].Body() != b[i].Body() {
			t.Fatalf("page %d differs", i+1)
		}
	}
	if a[0].Body() == c[0].Body() {
		t.Error("another seed makes the same page")
	}
}

func TestPlacedPaperIsAPDF(t *testing.T) {
	data, err := write("fpdf", 5).place()
	if err != nil {
		t.Skip(err)
	}
	if !strings.HasPrefix(string(data), "%PDF-") || len(data) < 50_000 {
		t.Errorf("placed %d bytes", len(data))
	}
}

func TestTblLeavesSpannedCellsOut(t *testing.T) {
	w := writer{rand.New(rand.NewPCG(1, 1))}
	got := tbl(w.spanned(2), 1)
	if !strings.Contains(got, "lB lB s lB s\nlB lB lB lB lB\n") || !strings.Contains(got, "\nStation|Summer|Winter\n|First train|Last train|First train|Last train\n") {
		t.Errorf("tbl is given\n%s", got)
	}
}

func TestInlineMarkup(t *testing.T) {
	if got := inline("x² < H₂O"); got != "x<sup>2</sup> &lt; H<sub>2</sub>O" {
		t.Errorf("inline is %s", got)
	}
	var b strings.Builder
	writePiece(&b, piece{Block: truth.Block{Kind: truth.Item, Text: "1. Close the door."}, number: "1."}, false)
	if got := b.String(); got != "<div class=item><b>1.</b><span>Close the door.</span></div>" {
		t.Errorf("an item is %s", got)
	}
	if got := rough("10⁴ °C"); got != `10\*{4\*} \(deC` {
		t.Errorf("rough is %s", got)
	}
}
