package service

import (
	"encoding/json"
	"fmt"
	"slices"

	"jardinet/api"
)

// edited applies what editors made of a digest's lines.
func edited(d *api.Digest, kept map[string]json.RawMessage) error {
	edits := map[string]api.DigestEdit{}
	for line, data := range kept {
		var e api.DigestEdit
		if err := json.Unmarshal(data, &e); err != nil {
			return fmt.Errorf("service: the edit of line %s: %w", line, err)
		}
		edits[line] = e
	}
	for line, e := range edits {
		if e.Drop && hasLine(d, line) {
			d.Dropped++
		}
	}
	editSentences(d, edits)
	d.Terms = applied(d.Terms, edits, func(l *api.Term) (string, *string, *bool) { return l.ID, &l.Means, &l.Quote.Corrected })
	d.Dates = applied(d.Dates, edits, func(l *api.Date) (string, *string, *bool) { return l.ID, &l.Quote.Text, &l.Quote.Corrected })
	d.Figures = applied(d.Figures, edits, func(l *api.Figure) (string, *string, *bool) { return l.ID, &l.Of, &l.Quote.Corrected })
	d.Duties = applied(d.Duties, edits, func(l *api.Duty) (string, *string, *bool) { return l.ID, &l.Quote.Text, &l.Quote.Corrected })
	left := map[string]bool{}
	for _, l := range d.Duties {
		left[l.ID] = true
	}
	for i := range d.Offices {
		d.Offices[i].Duties = slices.DeleteFunc(d.Offices[i].Duties, func(id string) bool { return !left[id] })
	}
	d.Offices = slices.DeleteFunc(d.Offices, func(o api.Office) bool { return len(o.Duties)+len(o.Tasks) == 0 })
	return nil
}

// editSentences applies edits to the sentences that stand for a document, a chapter or an office.
func editSentences(d *api.Digest, edits map[string]api.DigestEdit) {
	quote := func(q *api.Quote) (string, *string, *bool) { return q.ID, &q.Text, &q.Corrected }
	d.Summary, d.OnePage = applied(d.Summary, edits, quote), applied(d.OnePage, edits, quote)
	for i := range d.Chapters {
		d.Chapters[i].Summary = applied(d.Chapters[i].Summary, edits, quote)
	}
	for i := range d.Offices {
		d.Offices[i].Tasks = applied(d.Offices[i].Tasks, edits, quote)
	}
	for i := range d.Outline {
		if about := d.Outline[i].About; about == nil {
			continue
		} else if left := applied([]api.Quote{*about}, edits, quote); len(left) > 0 {
			*about = left[0]
		} else {
			d.Outline[i].About = nil
		}
	}
}

// applied drops and rewords lines; of tells a line's id, what of it is reworded, and that it is.
func applied[T any](lines []T, edits map[string]api.DigestEdit, of func(*T) (id string, words *string, corrected *bool)) []T {
	lines = slices.DeleteFunc(lines, func(l T) bool {
		id, _, _ := of(&l)
		return edits[id].Drop
	})
	for i := range lines {
		id, words, corrected := of(&lines[i])
		if e, ok := edits[id]; ok {
			*words, *corrected = e.Text, true
		}
	}
	return lines
}

// hasLine tells whether a digest has a line.
func hasLine(d *api.Digest, id string) bool {
	quote := func(q api.Quote) bool { return q.ID == id }
	return slices.ContainsFunc(d.Summary, quote) || slices.ContainsFunc(d.OnePage, quote) ||
		slices.ContainsFunc(d.Outline, func(h api.Heading) bool { return h.About != nil && quote(*h.About) }) ||
		slices.ContainsFunc(d.Chapters, func(c api.Chapter) bool { return slices.ContainsFunc(c.Summary, quote) }) ||
		slices.ContainsFunc(d.Offices, func(o api.Office) bool { return slices.ContainsFunc(o.Tasks, quote) }) ||
		slices.ContainsFunc(d.Terms, func(l api.Term) bool { return l.ID == id }) ||
		slices.ContainsFunc(d.Dates, func(l api.Date) bool { return l.ID == id }) ||
		slices.ContainsFunc(d.Figures, func(l api.Figure) bool { return l.ID == id }) ||
		slices.ContainsFunc(d.Duties, func(l api.Duty) bool { return l.ID == id })
}
