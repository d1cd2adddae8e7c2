package table

import (
	"slices"

	"jardinet/text"
)

// A Part is a table that is joined with others, and where it is from.
type Part struct {
	*Table
	Document string
	From     string // what its rows are told apart by
}

// Alike tells whether two tables have the same columns: as many, called the same, in the same units.
func (t *Table) Alike(o *Table) bool {
	named := false
	for _, c := range t.Columns {
		named = named || text.Normal(c.Name) != ""
	}
	return named && slices.EqualFunc(t.Columns, o.Columns, func(a, b Column) bool {
		return text.Normal(a.Name) == text.Normal(b.Name) && a.Unit == b.Unit
	})
}

// Join puts tables that are alike under each other, behind a column that says where each row is from.
// The rows of totals are left out, since they would count twice.
func Join(parts []Part) *Table {
	first := parts[0].Table
	out := &Table{Title: first.Title, Columns: append([]Column{{Name: "From", Kind: Words}}, first.Columns...)}
	for _, p := range parts {
		for i, row := range p.Rows {
			if p.IsTotal(i) {
				continue
			}
			joined := []Cell{{Text: p.From, Document: p.Document}}
			for _, c := range row {
				c.Document = p.Document
				joined = append(joined, c)
			}
			out.Rows = append(out.Rows, joined)
		}
		for i, c := range p.Columns {
			if is := &out.Columns[i+1].Kind; *is != c.Kind && *is != Words && c.Kind != Words {
				*is = Number // years in one
			} else if *is != c.Kind {
				*is = Words
			}
		}
	}
	return out
}
