package table

import (
	"errors"
	"fmt"
	"strings"
	"testing"

	"jardinet/layout"
	"jardinet/pdf"
	"jardinet/text"
)

// block makes a table of rows of cells between bars; rows that begin with # are heads.
func block(rows ...string) layout.Block {
	b := layout.Block{Kind: layout.Table}
	for _, row := range rows {
		line, header := strings.CutPrefix(row, "#")
		r := layout.Row{Header: header}
		for column, c := range strings.Split(line, "|") {
			if c == "" {
				continue
			}
			start := len(b.Text)
			b.Text += c + " "
			r.Cells = append(r.Cells, layout.Cell{Column: column, Start: start, End: len(b.Text) - 1})
			for _, t := range text.Tokens(c) {
				b.Words = append(b.Words, layout.Word{Start: start + t.Start, End: start + t.End, Box: pdf.Rect{X0: float32(column), X1: float32(column) + 1, Y1: 1}})
			}
		}
		b.Rows = append(b.Rows, r)
	}
	return b
}

func page(number int, blocks ...layout.Block) layout.Page {
	return layout.Page{Number: number, Blocks: blocks}
}

func caption(s string) layout.Block   { return layout.Block{Kind: layout.Caption, Text: s} }
func heading(s string) layout.Block   { return layout.Block{Kind: layout.Heading, Level: 1, Text: s} }
func paragraph(s string) layout.Block { return layout.Block{Kind: layout.Paragraph, Text: s} }

// fares is a table that goes on over the page, under the same heads, and another.
func fares() *layout.Document {
	return &layout.Document{Pages: []layout.Page{
		page(1, heading("5 Fares"), caption("Table 1. Fares"), block("#Ticket|Single £|Return £", "Adult|3.50|5.50", "Child|2.00|3.00")),
		page(2, layout.Block{Kind: layout.Furniture, Text: "2"}, block("#Ticket|Single £|Return £", "Member|2.50|4.00", "Under 3|free|free", "Total|8.00|12.50"), paragraph("Fares change."),
			block("#Year|Visitors, in thousands|Rain", "2019|397.2|812 mm", "2020|188.0|700 mm", "2021|310.5|905 mm"), block("#Note", "only one column")),
	}}
}

func TestTables(t *testing.T) {
	all := Of(fares())
	if len(all) != 2 {
		t.Fatalf("there are %d tables", len(all))
	}
	a, b := all[0], all[1]
	if a.Title != "Table 1. Fares" || a.Page != 1 || len(a.Rows) != 5 || a.Rows[2][0].Page != 2 {
		t.Errorf("the first is %+v", a)
	}
	if got := fmt.Sprint(a.Columns); got != "[{Ticket  words} {Single £ £ number} {Return £ £ number}]" {
		t.Errorf("its columns are %s", got)
	}
	if got := fmt.Sprint(b.Columns); b.Title != "5 Fares" || got != "[{Year  year} {Visitors, in thousands thousands number} {Rain mm number}]" {
		t.Errorf("the second is %q with the columns %s", b.Title, got)
	}
	if c := a.Rows[0][1]; c.Number != 3.5 || c.Box != (pdf.Rect{X0: 1, X1: 2, Y1: 1}) {
		t.Errorf("a cell is %+v", c)
	}
}

func TestHeadsOfTwoRows(t *testing.T) {
	all := Of(&layout.Document{Pages: []layout.Page{page(1, block("#House|Temperature||Plants", "#|Day|Night|", "Palm|24|18|310", "Fern|18|12|95"))}})
	if len(all) != 1 || fmt.Sprint(all[0].names()) != "[House Temperature · Day Temperature · Night Plants]" {
		t.Errorf("the columns are %q", all[0].names())
	}
}

func TestReckon(t *testing.T) {
	all := Of(fares())
	fares, years := &all[0], &all[1]
	for _, test := range []struct {
		table  *Table
		op     Operation
		column int
		rows   []int
		want   string
	}{
		{fares, Sum, 1, nil, "8 £ 8 = 3.50 + 2.00 + 2.50"},
		{fares, Mean, 2, []int{0, 1}, "4.25 £ 4.25 = (5.50 + 3.00) / 2"},
		{fares, Largest, 1, nil, "3.5 £ Adult, 3.50, the largest of 3"},
		{fares, Smallest, 1, nil, "2 £ Child, 2.00, the smallest of 3"},
		{fares, Count, 0, nil, "4  4 rows: Adult, Child, Member, Under 3"},
		{fares, Difference, 2, []int{0, 1}, "2.5 £ 2.5 = 5.50 − 3.00"},
		{years, Change, 1, nil, "-21.8278 % −21.83 % = (310.5 − 397.2) / 397.2"},
		{years, Sum, 1, nil, "895.7 thousands 895.7 = 397.2 + 188.0 + 310.5"},
	} {
		r, err := test.table.Reckon(test.op, test.column, test.rows...)
		if err != nil {
			t.Errorf("%s: %v", test.op, err)
		} else if got := fmt.Sprintf("%.6g %s %s", r.Value, r.Unit, r.Words); got != test.want {
			t.Errorf("%s is %q, want %q", test.op, got, test.want)
		}
	}
	if _, err := fares.Reckon(Difference, 1, 3, 0); !errors.Is(err, ErrNothing) {
		t.Errorf("a difference with a word gives %v", err)
	}
	for n, want := range map[float64]string{0.1 + 0.2: "0.3", 486000: "486,000", -12.5: "−12.5", 1234567.891: "1,234,567.89", 2.0 / 3: "0.6667"} {
		if got := Written(n); got != want {
			t.Errorf("%v is written %q, want %q", n, got, want)
		}
	}
}

func TestWritten(t *testing.T) {
	all := Of(fares())
	if got := string(all[0].CSV()); !strings.HasPrefix(got, "Ticket,Single £,Return £\nAdult,3.50,5.50\n") {
		t.Errorf("as CSV it is %q", got)
	}
	formula := Table{Columns: make([]Column, 1), Rows: [][]Cell{{{Text: "=1+1"}}, {{Text: "-5", IsNumber: true}}}}
	if got := string(formula.CSV()); got != "Column 1\n'=1+1\n-5\n" {
		t.Errorf("a formula comes out as %q", got)
	}
	book, err := all[0].XLSX()
	if err != nil || !strings.HasPrefix(string(book), "PK") {
		t.Errorf("as a workbook it is %.10q: %v", book, err)
	}
}
