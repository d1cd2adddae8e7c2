package service

import (
	"context"
	"fmt"

	"jardinet/api"
	"jardinet/store"
	"jardinet/table"
	"jardinet/table/draw"
)

// tablesOf are the tables of a document.
func (s *Service) tablesOf(ctx context.Context, collection, name string) (*store.Document, []table.Table, error) {
	_, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, nil, err
	}
	all, err := s.keptTables(ctx, d)
	return d, all, err
}

// Tables lists the tables of a document, without their rows.
func (s *Service) Tables(ctx context.Context, collection, name string) ([]api.Table, error) {
	d, all, err := s.tablesOf(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	out := []api.Table{}
	for i := range all {
		out = append(out, describeTable(d, &all[i], i+1))
	}
	return out, nil
}

// A WhichTable names a table of a document, counted from 1, or all tables of the collection that have
// the same columns, joined.
type WhichTable struct {
	Collection, Document string
	Number               int
	Joined               bool
}

// Table returns one table with its rows.
func (s *Service) Table(ctx context.Context, w WhichTable) (*api.Table, error) {
	d, t, err := s.oneTable(ctx, w)
	if err != nil {
		return nil, err
	}
	out := describeTable(d, t, w.Number)
	for _, row := range t.Rows {
		cells := []api.TableCell{}
		for _, c := range row {
			cell := api.TableCell{Text: c.Text, Page: c.Page, Document: c.Document}
			if c.IsNumber {
				cell.Number = &c.Number
			}
			if c.Page > 0 {
				box := boxOn(c.Page, c.Box)
				cell.Box = &box
			}
			cells = append(cells, cell)
		}
		out.Rows = append(out.Rows, cells)
	}
	return &out, nil
}

func (s *Service) oneTable(ctx context.Context, w WhichTable) (*store.Document, *table.Table, error) {
	d, all, err := s.tablesOf(ctx, w.Collection, w.Document)
	if err != nil {
		return nil, nil, err
	}
	if w.Number < 1 || w.Number > len(all) {
		return nil, nil, fmt.Errorf("table %d of %s, which has %d: %w", w.Number, d.Name, len(all), ErrNotFound)
	}
	t := &all[w.Number-1]
	if w.Joined {
		t, err = s.joined(ctx, w.Collection, t)
	}
	return d, t, err
}

// TableFile returns a table as a file: csv or xlsx.
func (s *Service) TableFile(ctx context.Context, w WhichTable, format string) ([]byte, error) {
	_, t, err := s.oneTable(ctx, w)
	if err != nil {
		return nil, err
	}
	if format == "csv" {
		return t.CSV(), nil
	}
	return t.XLSX()
}

// A Chart says what of a table is drawn, and how. Columns are counted from 1; 0 is the first that
// will do.
type Chart struct {
	Kind         string // bars, line or points; empty for what suits the table
	Over, Column int
	Format       string // svg or png
}

// DrawTable draws a table's numbers.
func (s *Service) DrawTable(ctx context.Context, w WhichTable, c Chart) ([]byte, error) {
	_, t, err := s.oneTable(ctx, w)
	if err != nil {
		return nil, err
	}
	out, err := draw.Chart(t, c.Kind, c.Over-1, c.Column-1, c.Format)
	if err != nil {
		return nil, fmt.Errorf("%w: %w", err, ErrInvalid)
	}
	return out, nil
}

func describeTable(d *store.Document, t *table.Table, number int) api.Table {
	out := api.Table{
		Number: number, Title: t.Title, Section: append([]string{}, t.Section...), Page: t.Page, Label: labelOf(d, t.Page),
		Columns: []api.TableColumn{}, Count: len(t.Rows),
	}
	for _, c := range t.Columns {
		out.Columns = append(out.Columns, api.TableColumn{Name: c.Name, Unit: c.Unit, Kind: string(c.Kind)})
	}
	return out
}

// labelOf is the printed number of a page, empty where it is unknown.
func labelOf(d *store.Document, page int) string {
	if page < 1 || page > len(d.Labels) {
		return ""
	}
	return d.Labels[page-1]
}
