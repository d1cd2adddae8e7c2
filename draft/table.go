package draft

import (
	"strings"

	"jardinet/layout"
)

// How many rows of a table are asked about, and how many words the name of a row or a column
// has at the most.
const (
	mostRows = 6
	mostName = 4
)

// table asks for cells by their row and their column. A table without column heads, or with
// rows that cannot be told from each other, is left alone.
func (d *drafter) table(b *layout.Block, page int) {
	heads := map[int]string{}
	at := 0
	for at < len(b.Rows) && b.Rows[at].Header {
		for _, c := range b.Rows[at].Cells {
			heads[c.Column] = strings.TrimSpace(heads[c.Column] + " " + cell(b, c))
		}
		at++
	}
	rows := b.Rows[at:]
	if len(heads) < 2 || len(rows) < 2 {
		return
	}
	seen := map[string]int{}
	for _, r := range rows {
		if len(r.Cells) > 0 && r.Cells[0].Column == 0 {
			seen[cell(b, r.Cells[0])]++
		}
	}
	every := max(1, len(rows)/mostRows)
	for i := 0; i < len(rows); i += every {
		r := rows[i]
		if len(r.Cells) < 2 || r.Cells[0].Column != 0 {
			continue
		}
		name := cell(b, r.Cells[0])
		// Which of the other cells is asked for goes round from row to row.
		c := r.Cells[1+i/every%(len(r.Cells)-1)]
		value, head := cell(b, c), heads[c.Column]
		if name == "" || seen[name] > 1 || head == "" || value == "" || strings.Trim(value, "-–— ") == "" || len(strings.Fields(value)) > mostAnswer || len(strings.Fields(name)) > mostName || len(strings.Fields(head)) > mostName {
			continue
		}
		d.propose(Proposal{
			Question: phrase(d.language).cell(head, name), Answer: value, Quote: strings.TrimSpace(b.Text[r.Cells[0].Start:r.Cells[len(r.Cells)-1].End]), Page: page, Kind: Cell,
		})
	}
}

func cell(b *layout.Block, c layout.Cell) string {
	return strings.Join(strings.Fields(b.Text[c.Start:c.End]), " ")
}
