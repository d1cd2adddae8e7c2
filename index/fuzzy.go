package index

import (
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
func (x *Index) Correct(q *Query, known func(word string) bool) {
	s := x.current.Load()
	for i := range q.Terms {
		t := &q.Terms[i]
		if len(t.Expansions) > 0 || t.Not || strings.ContainsAny(t.Word, "0123456789") || s.frequency(t.Forms) > 0 || known(t.Word) {
			continue
		}
		if form := s.nearestTerm(t.Forms[0]); form != "" {
			t.Forms = append(t.Forms, form)
			q.Corrected = append(q.Corrected, Correction{t.Word, form})
		}
	}
}

// frequency returns how many passages have one of the forms, at most.
func (s *snapshot) frequency(forms []string) int {
	n := 0
	for _, seg := range s.segments {
		for _, form := range forms {
			if at := seg.find(form); at >= 0 {
				n += seg.termFrequency(at)
			}
		}
	}
	return n
}

// nearestTerm returns the term that is nearest to a stem, empty if none is near.
func (s *snapshot) nearestTerm(stem string) string {
	most := text.EditsAllowed(utf8.RuneCountInString(stem))
	if most == 0 {
		return ""
	}
	best, least, often := "", most+1, 0
	for _, seg := range s.segments {
		seg.fuzzy([]rune(stem), most, func(at, distance int) {
			n := seg.termFrequency(at)
			if distance < least || distance == least && (n > often || n == often && seg.term(at) < best) {
				best, least, often = strings.Clone(seg.term(at)), distance, n
			}
		})
	}
	return best
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
