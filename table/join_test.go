package table

import "testing"

func TestJoin(t *testing.T) {
	house := func(name string, rows ...[]Cell) Part {
		return Part{
			Table: &Table{Title: "Set points", Columns: []Column{{Name: "What", Kind: Words}, {Name: "Value", Unit: "°C", Kind: Number}}, Rows: rows}, Document: "manual.pdf", From: name,
		}
	}
	palms := house("Palm House", []Cell{{Text: "Day"}, {Text: "24", Number: 24, IsNumber: true, Page: 3}})
	orchids := house("Orchid House", []Cell{{Text: "Day"}, {Text: "20", Number: 20, IsNumber: true, Page: 9}}, []Cell{{Text: "Total"}, {Text: "20", Number: 20, IsNumber: true, Page: 9}})
	got := Join([]Part{palms, orchids})
	if len(got.Rows) != 2 || len(got.Columns) != 3 || got.Columns[2].Unit != "°C" || got.Columns[2].Kind != Number {
		t.Fatalf("joined they have the columns %+v and the rows %+v", got.Columns, got.Rows)
	}
	if row := got.Rows[1]; row[0].Text != "Orchid House" || row[2].Number != 20 || row[2].Page != 9 || row[2].Document != "manual.pdf" {
		t.Errorf("the second row is %+v", row)
	}
	if palms.Rows[0][1].Document != "" {
		t.Error("the table that was joined has changed")
	}
}

func TestAlike(t *testing.T) {
	one := &Table{Columns: []Column{{Name: "What"}, {Name: "Value", Unit: "°C"}}}
	for name, c := range map[string]struct {
		with []Column
		want bool
	}{
		"the same":         {[]Column{{Name: "what"}, {Name: "Value", Unit: "°C"}}, true},
		"another unit":     {[]Column{{Name: "What"}, {Name: "Value", Unit: "%"}}, false},
		"another name":     {[]Column{{Name: "What"}, {Name: "Limit", Unit: "°C"}}, false},
		"one column fewer": {[]Column{{Name: "What"}}, false},
	} {
		if got := one.Alike(&Table{Columns: c.with}); got != c.want {
			t.Errorf("%s: %v", name, got)
		}
	}
	if bare := (&Table{Columns: []Column{{}, {}}}); bare.Alike(bare) {
		t.Error("columns without names are taken for the same")
	}
}
