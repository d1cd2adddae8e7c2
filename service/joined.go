package service

import (
	"context"
	"fmt"
	"strings"

	"jardinet/table"
	"jardinet/text"
)

// joined are the tables of a collection that have the same columns as one, as one table.
func (s *Service) joined(ctx context.Context, collection string, like *table.Table) (*table.Table, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	docs, err := s.ready(ctx, c, Scope{})
	if err != nil {
		return nil, err
	}
	if len(docs) > mostListed {
		return nil, fmt.Errorf("more than %d documents are too many to be looked through for tables at once: %w", mostListed, ErrInvalid)
	}
	var parts []table.Part
	for i := range docs {
		all, err := s.keptTables(ctx, &docs[i])
		if err != nil {
			return nil, err
		}
		for j := range all {
			if all[j].Alike(like) {
				parts = append(parts, table.Part{Table: &all[j], Document: docs[i].Name})
			}
		}
	}
	if len(parts) < 2 {
		return nil, fmt.Errorf("no other table of %s has the same columns: %w", collection, ErrNotFound)
	}
	tellApart(parts)
	out := table.Join(parts)
	out.Title, out.Section, out.Page = like.Title, like.Section, like.Page
	return out, nil
}

// tellApart says of each part where it is from: its document, if they are of several, and the headings
// that not all of them stand under.
func tellApart(parts []table.Part) {
	several := false
	shared := map[string]int{} // headings, without their numbers
	for _, p := range parts {
		several = several || p.Document != parts[0].Document
		for _, h := range p.Section {
			shared[unnumbered(h)]++
		}
	}
	for i := range parts {
		var from []string
		if several {
			from = append(from, parts[i].Document)
		}
		for _, h := range parts[i].Section {
			if shared[unnumbered(h)] < len(parts) {
				from = append(from, h)
			}
		}
		parts[i].From = strings.Join(from, " › ")
		if parts[i].From == "" {
			parts[i].From = fmt.Sprintf("page %d", parts[i].Page)
		}
	}
}

// unnumbered is a heading in its normal form, without the number that it begins with.
func unnumbered(heading string) string {
	return strings.TrimLeft(text.Normal(heading), "0123456789. ")
}
