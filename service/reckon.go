package service

import (
	"context"
	"errors"
	"slices"
	"strings"
	"sync"

	"jardinet/answer"
	"jardinet/embed"
	"jardinet/encoder"
	"jardinet/store"
	"jardinet/table"
	"jardinet/text"
)

// A Reckoning is what was worked out over a table to answer a question.
type Reckoning struct {
	Document string
	Table    *table.Table
	Number   int // of the table in the document
	Result   *table.Result
	Likeness float64 // of the question to the table's column

	title string // of the document
}

// How much it counts beside the meaning that a column, and the rows, are called what the question says.
const (
	sharedName = 0.15
	sharedRows = 0.1
)

// Cells are those that went in.
func (r *Reckoning) Cells() []table.Cell {
	var out []table.Cell
	for _, i := range r.Result.Rows {
		out = append(out, r.Table.Rows[i][r.Result.Column])
	}
	return out
}

// tablesFrom is how many passages are looked up to find the tables that a question may be about.
const tablesFrom = 24

// Reckon works out what a question asks for over the tables of the passages that are found for it:
// a total, a mean, an extreme, a count, a difference or a change. It returns nil where nothing of
// the kind is asked, or no table has it.
func (s *Service) Reckon(ctx context.Context, collection, question string, scope Scope) (*Reckoning, error) {
	op := table.Asked(question)
	if op == "" {
		return nil, nil
	}
	found, err := s.Find(ctx, collection, question, tablesFrom, scope)
	if err != nil {
		return nil, err
	}
	candidates, err := s.tablesFound(ctx, collection, found)
	if err != nil || len(candidates) == 0 {
		return nil, err
	}
	language := text.Guess(question, text.English)
	var best *Reckoning
	for _, c := range candidates {
		r, err := reckonOver(ctx, c, op, question, language)
		if err != nil {
			return nil, err
		}
		if r != nil && (best == nil || r.Likeness > best.Likeness) {
			best = r
		}
	}
	return best, nil
}

// tablesFound are the tables that stand on the pages of passages.
func (s *Service) tablesFound(ctx context.Context, collection string, found []Found) ([]Reckoning, error) {
	pages := map[string][]int{}
	var names []string
	for _, f := range found {
		if pages[f.DocumentID] == nil {
			names = append(names, f.DocumentID)
		}
		pages[f.DocumentID] = append(pages[f.DocumentID], f.Pages...)
	}
	var out []Reckoning
	for _, name := range names {
		d, all, err := s.keptTables(ctx, collection, name)
		if errors.Is(err, ErrNotFound) {
			continue // removed meanwhile
		}
		if err != nil {
			return nil, err
		}
		for i := range all {
			if on(&all[i], pages[name]) {
				out = append(out, Reckoning{Document: d.Name, Table: &all[i], Number: i + 1, title: d.Title})
			}
		}
	}
	return out, nil
}

// on tells whether a table stands on one of some pages.
func on(t *table.Table, pages []int) bool {
	return slices.ContainsFunc(t.Rows, func(row []table.Cell) bool {
		return slices.ContainsFunc(row, func(c table.Cell) bool { return slices.Contains(pages, c.Page) })
	})
}

// tableCache remembers the tables of documents, as they are.
type tableCache struct {
	mu   sync.Mutex
	kept map[string][]table.Table // by the document and when it changed
}

// mostRemembered is how many documents' tables are remembered.
const mostRemembered = 64

func (s *Service) keptTables(ctx context.Context, collection, name string) (*store.Document, []table.Table, error) {
	_, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, nil, err
	}
	key := d.ID + " " + d.Changed.String()
	s.remembered.mu.Lock()
	all, known := s.remembered.kept[key]
	s.remembered.mu.Unlock()
	if known {
		return d, all, nil
	}
	doc, err := s.corrected(ctx, d, 1, d.Pages)
	if err != nil {
		return nil, nil, err
	}
	all = table.Of(doc)
	s.remembered.mu.Lock()
	defer s.remembered.mu.Unlock()
	if s.remembered.kept == nil || len(s.remembered.kept) >= mostRemembered {
		s.remembered.kept = map[string][]table.Table{}
	}
	s.remembered.kept[key] = all
	return d, all, nil
}

// reckonOver works an operation out over the column of a table that the question is most like; nil
// if the table has nothing for it.
func reckonOver(ctx context.Context, c Reckoning, op table.Operation, question string, language text.Language) (*Reckoning, error) {
	rows := c.Table.Named(question, language)
	if op == table.Difference || op == table.Change {
		rows = inOrder(c.Table, rows, question)
		if op == table.Difference && len(rows) != 2 {
			return nil, nil
		}
	}
	var columns []int
	var says []embed.Text
	for i, column := range c.Table.Columns {
		if column.Kind == table.Number || op == table.Count && i == 0 || column.Kind == table.Year && (op == table.Largest || op == table.Smallest) {
			columns = append(columns, i)
			says = append(says, embed.Text{Body: c.title + " › " + c.Table.Says(i), Language: text.English})
		}
	}
	if len(columns) == 0 || op == table.Count && len(rows) == 0 {
		return nil, nil
	}
	if op == table.Count {
		columns, says = columns[:1], says[:1]
	}
	vectors, err := embed.Texts(ctx, encoder.Passage, says...)
	if err != nil {
		return nil, err
	}
	asked, err := embed.Texts(ctx, encoder.Query, embed.Text{Body: c.Table.Without(question, rows), Language: language})
	if err != nil {
		return nil, err
	}
	best := -1
	for i := range vectors {
		name, of := c.Table.Shared(columns[i], question, rows, language)
		alike := dot(asked[0], vectors[i]) + sharedName*name + sharedRows*of
		if best < 0 || alike > c.Likeness {
			best, c.Likeness = i, alike
		}
	}
	if op == table.Largest || op == table.Smallest {
		if len(rows) == 1 {
			rows = nil // the one that is named is not all that it is compared with
		}
	}
	if c.Result, err = c.Table.Reckon(op, columns[best], rows...); errors.Is(err, table.ErrNothing) {
		return nil, nil
	}
	return &c, err
}

func dot(a, b []float32) float64 {
	sum := 0.0
	for i := range min(len(a), len(b)) {
		sum += float64(a[i]) * float64(b[i])
	}
	return sum
}

// inOrder puts rows into the order in which a question names them.
func inOrder(t *table.Table, rows []int, question string) []int {
	low := strings.ToLower(question)
	at := func(i int) int {
		for _, c := range t.Rows[i] {
			if p := strings.Index(low, strings.ToLower(strings.TrimSuffix(c.Text, "s"))); c.Text != "" && p >= 0 && !c.IsNumber {
				return p
			}
		}
		return len(low)
	}
	rows = slices.Clone(rows)
	slices.SortStableFunc(rows, func(a, b int) int { return at(a) - at(b) })
	return rows
}

// cited is how an answer that was worked out cites its cells.
func (r *Reckoning) cited(d *store.Document) answer.Citation {
	c := answer.Citation{Number: 1, DocumentID: d.ID, Document: d.Name, Title: d.Title, Section: r.Table.Section, Quote: r.Result.Words}
	for _, cell := range r.Cells() {
		if cell.Page == 0 {
			continue
		}
		if c.Page == 0 {
			c.Page = cell.Page
		}
		c.Boxes = append(c.Boxes, boxOn(cell.Page, cell.Box))
	}
	return c
}
