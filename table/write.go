package table

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"strings"

	"github.com/xuri/excelize/v2"
)

// names are the columns' names, made up for those without one.
func (t *Table) names() []string {
	var out []string
	for i, c := range t.Columns {
		name := c.Name
		if name == "" {
			name = fmt.Sprintf("Column %d", i+1)
		}
		out = append(out, name)
	}
	return out
}

// CSV writes a table with a line of heads. What a spreadsheet would take for a formula is marked as
// text.
func (t *Table) CSV() []byte {
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	w.Write(t.names())
	for _, row := range t.Rows {
		line := make([]string, len(row))
		for i, c := range row {
			if line[i] = c.Text; !c.IsNumber && strings.ContainsAny(c.Text[:min(1, len(c.Text))], "=+-@\t") {
				line[i] = "'" + c.Text
			}
		}
		w.Write(line)
	}
	w.Flush()
	return out.Bytes()
}

// XLSX writes a table as a workbook of one sheet, its numbers as numbers.
func (t *Table) XLSX() ([]byte, error) {
	f := excelize.NewFile()
	defer f.Close()
	sheet := f.GetSheetName(0)
	for i, name := range t.names() {
		if err := set(f, sheet, i, 0, name); err != nil {
			return nil, err
		}
	}
	for i, row := range t.Rows {
		for j, c := range row {
			var value any = c.Text
			if c.IsNumber {
				value = c.Number
			}
			if err := set(f, sheet, j, i+1, value); err != nil {
				return nil, err
			}
		}
	}
	var out bytes.Buffer
	if err := f.Write(&out); err != nil {
		return nil, fmt.Errorf("table: %w", err)
	}
	return out.Bytes(), nil
}

func set(f *excelize.File, sheet string, column, row int, value any) error {
	at, err := excelize.CoordinatesToCellName(column+1, row+1)
	if err == nil {
		err = f.SetCellValue(sheet, at, value)
	}
	if err != nil {
		return fmt.Errorf("table: %w", err)
	}
	return nil
}
