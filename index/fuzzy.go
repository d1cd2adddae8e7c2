package index

import (
	"context"
	"sort"
	"strings"
	"unicode/utf8"

	"jardinet/text"
)

// A Correction is a word of a query that was taken for a misspelling.
type Correction struct {
	Word string `json:"word"` // as asked
	Form string `json:"form"` // the stem of the collection that it was taken for
}

// Correct looks for words of the query that no passage has, and puts beside each
// the stem of the collection that differs from it the least, by one letter or, in
// a long word, by two (Damerau 1964: a letter more, less, other, or two swapped).
// Of several the most frequent is taken. Words with digits are left alone: what
// differs from a part number in one digit is another part; and so are words that
// are known to be spelt right, though the collection does not have them.
func (x *Index) Correct(_ context.Context, q *Query, known func(word string) bool) error {
	s := x.current.Load()
	doubtful := q.Doubtful(s.frequencies(q, s.find(q)), known)
	near := make([]Near, len(doubtful))
	for i, t := range doubtful {
		near[i] = s.near(q.Terms[t].Forms[0])
	}
	q.Take(doubtful, near)
	return nil
}

// Doubtful returns the terms of a query, by number, that may be misspelt.
func (q *Query) Doubtful(f Frequencies, known func(word string) bool) (terms []int) {
	for i := range q.Terms {
		t := &q.Terms[i]
		if len(t.Expansions) > 0 || t.Not || strings.ContainsAny(t.Word, "0123456789") || f.Terms[i] > 0 || known(t.Word) {
			continue
		}
		terms = append(terms, i)
	}
	return terms
}

// Near are the terms of an index, or a part of one, that are near to a stem: in how few edits, and
// how many passages have each.
type Near struct {
	Edits     int            `json:"edits"`
	Frequency map[string]int `json:"frequency,omitempty"` // of those alone that differ the least
}

// Add adds those of another part.
func (n *Near) Add(o Near) {
	switch {
	case len(o.Frequency) == 0 || len(n.Frequency) > 0 && o.Edits > n.Edits:
		return
	case len(n.Frequency) == 0 || o.Edits < n.Edits:
		*n = Near{Edits: o.Edits, Frequency: map[string]int{}}
	}
	for term, count := range o.Frequency {
		n.Frequency[term] += count
	}
}

// best returns the most frequent of the nearest, empty if none is near.
func (n *Near) best() (best string) {
	for term, count := range n.Frequency {
		if best == "" || byCount(count, n.Frequency[best], term, best) < 0 {
			best = term
		}
	}
	return best
}

// Take puts beside doubtful terms what they were taken for.
func (q *Query) Take(doubtful []int, near []Near) {
	for i, at := range doubtful {
		if form := near[i].best(); form != "" {
			t := &q.Terms[at]
			t.Forms = append(t.Forms, form)
			q.Corrected = append(q.Corrected, Correction{t.Word, form})
		}
	}
}

// Near returns the terms of the index that are near to a stem.
func (x *Index) Near(stem string) Near { return x.current.Load().near(stem) }

func (s *snapshot) near(stem string) (out Near) {
	most := text.EditsAllowed(utf8.RuneCountInString(stem))
	if most == 0 {
		return out
	}
	for _, seg := range s.segments {
		seg.fuzzy([]rune(stem), most, func(at, distance int) {
			if len(out.Frequency) == 0 || distance <= out.Edits {
				out.Add(Near{distance, map[string]int{strings.Clone(seg.term(at)): seg.termFrequency(at)}})
			}
		})
	}
	return out
}

// fuzzy visits the terms that differ from a word by at most so many edits. Terms
// are sorted, so those that follow one another share beginnings: the rows of the
// table of distances that belong to a shared beginning are kept, and where no
// entry of a row is small enough, all terms that begin so are passed over.
func (d *segmentData) fuzzy(word []rune, most int, visit func(term, distance int)) {
	rows := [][]int{text.FirstEditRow(len(word))}
	var before []rune
	for i := 0; i < d.termCount(); {
		term := []rune(d.term(i))
		shared := 0
		for shared < len(before) && shared < len(term) && before[shared] == term[shared] {
			shared++
		}
		rows = rows[:min(shared+1, len(rows))]
		depth, dead := len(rows)-1, false
		for ; depth < len(term) && !dead; depth++ {
			row := text.EditRow(rows, word, term, depth)
			rows = append(rows, row)
			dead = least(row) > most && least(rows[depth]) >= most // two letters may yet be swapped
		}
		if dead {
			i = d.after(i, string(term[:depth]))
			before = term[:depth]
			continue
		}
		if distance := rows[len(term)][len(word)]; distance <= most {
			visit(i, distance)
		}
		before = term
		i++
	}
}

func least(row []int) int {
	out := row[0]
	for _, v := range row {
		out = min(out, v)
	}
	return out
}

// after returns the first term from i on that does not begin with a prefix.
func (d *segmentData) after(i int, prefix string) int {
	n := d.termCount()
	return i + sort.Search(n-i, func(k int) bool {
		term := d.term(i + k)
		return term > prefix && !strings.HasPrefix(term, prefix)
	})
}
