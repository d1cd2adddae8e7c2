package draw

import (
	"bytes"
	"errors"
	"testing"

	"jardinet/table"
)

func visitors() *table.Table {
	number := func(n float64, s string) table.Cell { return table.Cell{Text: s, Number: n, IsNumber: true} }
	return &table.Table{
		Title: "Visitors", Columns: []table.Column{{Name: "Year", Kind: table.Year}, {Name: "Visitors", Kind: table.Number}, {Name: "Note", Kind: table.Words}},
		Rows: [][]table.Cell{{number(2019, "2019"), number(397, "397"), {Text: "a long note about the year"}}, {number(2020, "2020"), number(188, "188"), {}}},
	}
}

func TestChart(t *testing.T) {
	for _, kind := range []string{"", Bars, Line, Points} {
		svg, err := Chart(visitors(), kind, -1, -1, "svg")
		if err != nil || !bytes.Contains(svg, []byte("<svg")) || !bytes.Contains(svg, []byte("Visitors")) {
			t.Errorf("%q: %.80q, error %v", kind, svg, err)
		}
	}
	if png, err := Chart(visitors(), Bars, 2, 1, "png"); err != nil || !bytes.HasPrefix(png, []byte("\x89PNG")) {
		t.Errorf("the picture is %.10q: %v", png, err)
	}
	if _, err := Chart(visitors(), Bars, 0, 2, "svg"); !errors.Is(err, ErrNoNumbers) {
		t.Errorf("a column of words gives %v", err)
	}
	for _, bad := range []func() ([]byte, error){
		func() ([]byte, error) { return Chart(visitors(), "pie", 0, 1, "svg") },
		func() ([]byte, error) { return Chart(visitors(), Bars, 0, 9, "svg") },
		func() ([]byte, error) { return Chart(visitors(), Bars, 0, 1, "bmp") },
	} {
		if _, err := bad(); err == nil {
			t.Error("what cannot be drawn was drawn")
		}
	}
}
