package service

import (
	"context"
	"fmt"
	"strings"

	"jardinet/store"
	"jardinet/table"
	"jardinet/text"
)

// joined are the tables of a collection that have the same columns as one, as one table.
func (s *Service) joined(ctx context.Context, collection string, like *table.Table) (*table.Table, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	docs, err := s.store.Documents(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	var parts []table.Part
	ready := 0
	for i := range docs {
		if docs[i].State != store.Ready {
			continue
		}
		if ready++; ready > mostListed {
			return nil, fmt.Errorf("more than %d documents are too many to be looked through for tables at once: %w", mostListed, ErrInvalid)
		}
		d, all, err := s.keptTables(ctx, collection, docs[i].ID)
		if err != nil {
			return nil, err
		}
		for j := range all {
			if all[j].Alike(like) {
				parts = append(parts, table.Part{Table: &all[j], Document: d.Name})
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
