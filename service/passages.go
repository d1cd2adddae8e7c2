package service

import (
	"context"
	"encoding/json"
	"fmt"
	"io"

	"github.com/parquet-go/parquet-go"

	"jardinet/passage"
	"jardinet/store"
)

// A PassageRow is a passage as it is taken out, with the vector of what it means.
type PassageRow struct {
	Document string    `json:"document" parquet:"document,dict"`
	Title    string    `json:"title" parquet:"title,dict"`
	Ordinal  int32     `json:"ordinal" parquet:"ordinal"` // within its document, from 0
	Page     int32     `json:"page" parquet:"page"`       // on which it begins
	LastPage int32     `json:"last_page" parquet:"last_page"`
	Section  []string  `json:"section" parquet:"section,list"`
	Language string    `json:"language" parquet:"language,dict"`
	Text     string    `json:"text" parquet:"text"`
	Vector   []float32 `json:"vector" parquet:"vector,list"` // empty as long as it has not been made
}

// ExportPassages writes the passages of a collection's ready documents, in the documents' order, as
// "jsonl" or "parquet".
func (s *Service) ExportPassages(ctx context.Context, collection, format string, w io.Writer) error {
	switch format {
	case "", "jsonl":
		e := json.NewEncoder(w)
		e.SetEscapeHTML(false)
		return s.passages(ctx, collection, func(rows []PassageRow) error {
			for i := range rows {
				if err := e.Encode(&rows[i]); err != nil {
					return err
				}
			}
			return nil
		})
	case "parquet":
		p := parquet.NewGenericWriter[PassageRow](w, parquet.Compression(&parquet.Zstd))
		err := s.passages(ctx, collection, func(rows []PassageRow) error {
			_, err := p.Write(rows)
			return err
		})
		if err != nil {
			return err
		}
		return p.Close()
	}
	return fmt.Errorf("passages are exported as jsonl or parquet, and not as %q: %w", format, ErrInvalid)
}

// passages gives out the passages of one document after the other.
func (s *Service) passages(ctx context.Context, collection string, give func([]PassageRow) error) error {
	c, err := s.named(collection)
	if err != nil {
		return err
	}
	docs, err := s.store.Documents(ctx, c.ID)
	if err != nil {
		return err
	}
	recipe := c.recipe.Load()
	for i := range docs {
		d := &docs[i]
		if d.State != store.Ready {
			continue
		}
		doc, err := s.kept(ctx, *d)
		if err != nil {
			return err
		}
		all := passage.Split(doc, recipe.Passage)
		texts := make([]embedded, len(all))
		for j := range all {
			texts[j] = embeddedOf(doc.Title, &all[j])
		}
		vectors, err := s.keptVectors(ctx, recipe, texts)
		if err != nil {
			return err
		}
		rows := make([]PassageRow, len(all))
		for j, p := range all {
			pages := p.Pages()
			rows[j] = PassageRow{Document: d.Name, Title: d.Title, Ordinal: int32(p.Ordinal), Section: p.Section, Language: string(p.Language), Text: p.Text, Vector: vectors[j]}
			if len(pages) > 0 {
				rows[j].Page, rows[j].LastPage = int32(pages[0]), int32(pages[len(pages)-1])
			}
		}
		if err := give(rows); err != nil {
			return err
		}
	}
	return nil
}
