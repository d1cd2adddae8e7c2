package structured

import (
	"context"
	"slices"
	"strings"

	"jardinet/answer"
)

// rows reads the table near what answers whose columns the properties name best; nil if none has
// at least half of them.
func (f *filler) rows(ctx context.Context, a *answer.Answer, item *schema) ([]any, error) {
	var best [][]string
	columns, most := map[string]int{}, 0
	for _, p := range placesOf(a) {
		tables, err := f.Tables(ctx, p.document, p.page)
		if err != nil {
			return nil, err
		}
		for _, t := range tables {
			if len(t) < 2 {
				continue
			}
			if fits := match(t[0], item); len(fits) > most {
				best, columns, most = t, fits, len(fits)
			}
		}
	}
	if most*2 < len(item.Properties) || most == 0 {
		return nil, nil
	}
	var out []any
	for _, row := range best[1:] {
		one := map[string]any{}
		for name, p := range item.Properties {
			cell := ""
			if at, ok := columns[name]; ok && at < len(row) {
				cell = strings.TrimSpace(row[at])
			}
			value, reason := readWords(cell, cell, p)
			if reason != "" {
				value = nil
			}
			if value != nil || mayBeNull(p) || slices.Contains(item.Required, name) {
				one[name] = value
			}
		}
		out = append(out, one)
	}
	return out, nil
}

// A place is a page that may have the table.
type place struct {
	document string
	page     int
}

// mostRead is how many of the passages that were read are looked around.
const mostRead = 12

// placesOf are the pages that an answer comes from, then those that come nearest, then those of
// the passages that were read for it.
func placesOf(a *answer.Answer) []place {
	var out []place
	add := func(p place) {
		if !slices.Contains(out, p) {
			out = append(out, p)
		}
	}
	for _, c := range a.Citations {
		add(place{c.DocumentID, c.Page})
	}
	for _, n := range a.Nearest {
		add(place{n.DocumentID, n.Page})
	}
	for _, c := range a.Passages[:min(len(a.Passages), mostRead)] {
		for _, page := range c.Passage.Pages() {
			add(place{c.DocumentID, page})
		}
	}
	return out
}

// match finds the column of each property: the one whose head has most of the words that the
// property is called by. Each column is given once.
func match(heads []string, item *schema) map[string]int {
	out := map[string]int{}
	taken := map[int]bool{}
	for _, name := range item.order {
		p := item.Properties[name]
		called := words(name + " " + p.Title + " " + p.Description)
		at, most := -1, 0.0
		for i, head := range heads {
			h := words(head)
			if taken[i] || len(h) == 0 {
				continue
			}
			same := 0
			for w := range h {
				if called[w] {
					same++
				}
			}
			if share := float64(same) / float64(len(h)); share > most {
				at, most = i, share
			}
		}
		if at >= 0 && most >= 0.5 {
			out[name], taken[at] = at, true
		}
	}
	return out
}

// words are those of a name, without their endings for many.
func words(s string) map[string]bool {
	out := map[string]bool{}
	for _, w := range strings.FieldsFunc(strings.ToLower(s), func(r rune) bool {
		return !strings.ContainsRune("abcdefghijklmnopqrstuvwxyzäöüßéèêàçôîûâ°%0123456789", r)
	}) {
		if len(w) > 3 {
			w = strings.TrimSuffix(w, "s")
		}
		out[w] = true
	}
	return out
}
