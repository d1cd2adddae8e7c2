package service

import (
	"context"
	"errors"
	"slices"
	"strings"
	"sync"
	"time"

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
		d, all, err := s.tablesOf(ctx, collection, name)
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

// keptTables are the tables of a document.
func (s *Service) keptTables(ctx context.Context, d *store.Document) ([]table.Table, error) {
	key := d.ID + " " + d.Changed.String()
	s.remembered.mu.Lock()
	all, known := s.remembered.kept[key]
	s.remembered.mu.Unlock()
	if known {
		return all, nil
	}
	doc, err := s.corrected(ctx, d, 1, d.Pages)
	if err != nil {
		return nil, err
	}
	all = table.Of(doc)
	s.remembered.mu.Lock()
	defer s.remembered.mu.Unlock()
	if s.remembered.kept == nil || len(s.remembered.kept) >= mostRemembered {
		s.remembered.kept = map[string][]table.Table{}
	}
	s.remembered.kept[key] = all
	return all, nil
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
	if len(columns) == 0 {
		return nil, nil
	}
	if op == table.Count {
		if len(rows) < 2 || namesNumbers(c.Table, question, rows, language) {
			return nil, nil // a number that stands in a cell is no count of rows
		}
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
		alike := encoder.Cosine(asked[0], vectors[i]) + sharedName*name + sharedRows*of
		if best < 0 || alike > c.Likeness {
			best, c.Likeness = i, alike
		}
	}
	if len(rows) == 1 && op != table.Difference && op != table.Change {
		return nil, nil // one row is looked up, and nothing worked out
	}
	whole, err := embed.Texts(ctx, encoder.Query, embed.Text{Body: question, Language: language})
	if err != nil {
		return nil, err
	}
	c.Likeness = max(c.Likeness, c.Likeness-encoder.Cosine(asked[0], vectors[best])+encoder.Cosine(whole[0], vectors[best]))
	if c.Result, err = c.Table.Reckon(op, columns[best], rows...); errors.Is(err, table.ErrNothing) {
		return nil, nil
	}
	return &c, err
}

// namesNumbers tells whether a question has a word of the name of a column of numbers.
func namesNumbers(t *table.Table, question string, rows []int, language text.Language) bool {
	for i, c := range t.Columns {
		if name, _ := t.Shared(i, question, rows, language); c.Kind == table.Number && name > 0 {
			return true
		}
	}
	return false
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

// How like the question a table's column has to be for what is worked out over it to be the answer:
// where the documents do not say otherwise, and in the place of a sentence from the same table. On
// the demo's questions what was worked out wrongly lay below the first.
const (
	leastLikeness = 0.45
	overSentence  = 0.6
)

// workedOut makes what a question asks to be worked out over a table the answer to it.
func (s *Service) workedOut(ctx context.Context, c *collection, scope Scope, out *answer.Answer) error {
	if table.Asked(out.Standalone) == "" || len(out.Parts) > 0 || out.Taught {
		return nil
	}
	began := time.Now()
	r, err := s.Reckon(ctx, c.Name, out.Standalone, scope)
	if err != nil || r == nil || r.Likeness < leastLikeness {
		return err
	}
	if out.State != answer.NotFound && (r.Likeness < overSentence || !r.holds(out)) {
		return nil
	}
	d, err := s.store.DocumentNamed(ctx, c.ID, r.Document)
	if err != nil {
		return err
	}
	r.answer(out, d)
	out.Timing.Composing += float64(time.Since(began).Microseconds()) / 1000
	out.Timing.Total += float64(time.Since(began).Microseconds()) / 1000
	return nil
}

// holds tells whether an answer already comes from the table.
func (r *Reckoning) holds(a *answer.Answer) bool {
	return len(a.Citations) > 0 && a.Citations[0].Document == r.Document && on(r.Table, []int{a.Citations[0].Page})
}

// answer words what was worked out, with each cell that went in marked on its page.
func (r *Reckoning) answer(out *answer.Answer, d *store.Document) {
	short := strings.TrimSpace(table.Written(r.Result.Value) + " " + r.Result.Unit)
	if slices.Contains([]string{"£", "€", "$"}, r.Result.Unit) {
		short = r.Result.Unit + table.Written(r.Result.Value)
	}
	if r.Result.Operation == table.Largest || r.Result.Operation == table.Smallest {
		short = r.Table.Label(r.Result.Rows[0])
	}
	statement := r.Result.Words
	if column := r.Table.Columns[r.Result.Column].Name; column != "" && r.Result.Operation != table.Count {
		statement = column + ": " + statement
	}
	out.State, out.Short, out.Text, out.Verdict, out.Maybe = answer.Answered, short, statement, "", false
	out.Statements = []answer.Statement{{Text: statement, Citations: []int{1}}}
	out.Citations = []answer.Citation{r.cited(d)}
	out.Nearest, out.Missing, out.List = []answer.Nearest{}, []string{}, false
	out.Confidence = min(r.Likeness, 1)
	out.Note = "Worked out over the cells of the table “" + r.Table.Title + "” that are marked; check that they are the right ones."
}

// cited is how an answer that was worked out cites its cells.
func (r *Reckoning) cited(d *store.Document) answer.Citation {
	c := answer.Citation{Number: 1, DocumentID: d.ID, Document: d.Name, Title: d.Title, Section: r.Table.Section, Quote: r.Result.Words, Boxes: []answer.Box{}}
	for _, cell := range r.Cells() {
		if cell.Page == 0 {
			continue
		}
		if c.Page == 0 {
			c.Page, c.Label = cell.Page, labelOf(d, cell.Page)
		}
		c.Boxes = append(c.Boxes, boxOn(cell.Page, cell.Box))
	}
	return c
}
