package service

import (
	"context"
	"errors"
	"fmt"

	"jardinet/answer"
	"jardinet/layout"
	"jardinet/structured"
)

// AskStructured answers a question in the form that a JSON Schema gives.
func (s *Service) AskStructured(ctx context.Context, collection string, ask Ask) (*structured.Filled, error) {
	if err := CheckQuestion(ask.Question); err != nil {
		return nil, err
	}
	out, err := structured.Fill(ctx, ask.Question, ask.Schema, structured.Source{
		Ask: func(ctx context.Context, question string) (*answer.Answer, error) {
			return s.Ask(ctx, collection, Ask{Question: question, After: ask.After, Scope: ask.Scope}, Listener{})
		},
		Tables: func(ctx context.Context, documentID string, page int) ([][][]string, error) {
			return s.tables(ctx, collection, documentID, page)
		},
	})
	if errors.Is(err, structured.ErrSchema) {
		err = fmt.Errorf("%w: %w", err, ErrInvalid)
	}
	return out, err
}

// tables are those of a page as they were read and corrected.
func (s *Service) tables(ctx context.Context, collection, document string, page int) ([][][]string, error) {
	_, d, err := s.document(ctx, collection, document)
	if err != nil {
		return nil, err
	}
	doc, err := s.corrected(ctx, d, page, page)
	if err != nil {
		return nil, err
	}
	var out [][][]string
	for i := range doc.Pages[0].Blocks {
		if b := &doc.Pages[0].Blocks[i]; b.Kind == layout.Table && len(b.Rows) > 0 {
			out = append(out, cells(b))
		}
	}
	return out, nil
}

// cells are those of a table, each row as wide as the widest; rows of heads are one.
func cells(b *layout.Block) [][]string {
	columns := 0
	for _, r := range b.Rows {
		for _, c := range r.Cells {
			columns = max(columns, c.Column+1)
		}
	}
	out := [][]string{make([]string, columns)}
	heads := true
	for i, r := range b.Rows {
		heads = heads && (r.Header || i == 0)
		if !heads {
			out = append(out, make([]string, columns))
		}
		row := out[len(out)-1]
		for _, c := range r.Cells {
			if row[c.Column] != "" {
				row[c.Column] += " "
			}
			row[c.Column] += b.Text[c.Start:c.End]
		}
	}
	return out
}
