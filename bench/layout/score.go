package main

import (
	"slices"
	"strings"

	"jardinet/bench/layout/truth"
)

// A reading is what a reader made of one page.
type reading struct {
	body      string     // in reading order, without what it took for furniture or figures
	tables    [][][]cell // rows of cells
	furniture string
}

// A cell of a table is its text in the column of that number.
type cell struct {
	column int
	text   string
}

// A score sums up how well pages were read. Each pair is what was right and
// what of.
type score struct {
	concordant, pairs      int // for Kendall's τ
	edits, characters      int
	cells, ours, theirs    int // adjacent cells: right, found, true
	kept, flagged, furnish int // words of furniture: right, flagged, true
	shifted, shiftedAll    int // words with raised or lowered characters
	labelsOut, labels      int // labels of figures that stayed out of the text
}

func (s *score) add(t *score) {
	s.concordant += t.concordant
	s.pairs += t.pairs
	s.edits += t.edits
	s.characters += t.characters
	s.cells += t.cells
	s.ours += t.ours
	s.theirs += t.theirs
	s.kept += t.kept
	s.flagged += t.flagged
	s.furnish += t.furnish
	s.shifted += t.shifted
	s.shiftedAll += t.shiftedAll
	s.labelsOut += t.labelsOut
	s.labels += t.labels
}

func share(part, of int) float64 {
	if of == 0 {
		return 1
	}
	return float64(part) / float64(of)
}

// order is Kendall's τ of the runs of three words that both sides have once.
func (s *score) order() float64 { return 2*share(s.concordant, s.pairs) - 1 }

// text is the share of characters that are right: one less the edit distance.
func (s *score) text() float64 { return max(0, 1-share(s.edits, max(s.characters, 1))) }

func f1(right, found, wanted int) float64 {
	if found+wanted == 0 {
		return 1
	}
	return 2 * float64(right) / float64(found+wanted)
}

// cell1 is the F1 of adjacent cells (Göbel et al. 2012).
func (s *score) cell1() float64      { return f1(s.cells, s.ours, s.theirs) }
func (s *score) furniture1() float64 { return f1(s.kept, s.flagged, s.furnish) }

// judge compares a reading with what stands on the page. whole says that the
// reader does not tell furniture and figures apart, so that its text is
// compared with all that the page holds.
func judge(page *truth.Page, r *reading, whole bool) *score {
	s := &score{}
	want := page.Body()
	if whole {
		want = wholeText(page)
	}
	a, b := strings.Fields(plain(want)), strings.Fields(plain(r.body))
	s.concordant, s.pairs = concordance(a, b)
	s.edits, s.characters = distance([]rune(strings.Join(a, " ")), []rune(strings.Join(b, " "))), len([]rune(strings.Join(a, " ")))
	s.tables(page, r)
	s.furniture(page, r)
	s.shifts(page, r)
	if !whole {
		s.figures(page, r)
	}
	return s
}

// wholeText is all text of a page: its header first, its footer last.
func wholeText(page *truth.Page) string {
	var head, foot []string
	for _, f := range page.Furniture {
		if strings.Trim(f, "0123456789") == "" {
			foot = append(foot, f)
		} else {
			head = append(head, f)
		}
	}
	var out []string
	out = append(out, head...)
	out = append(out, page.Body())
	out = append(out, page.Labels()...)
	return strings.Join(append(out, foot...), "\n")
}

// plain makes spellings alike that readers may differ in.
func plain(s string) string {
	return strings.NewReplacer("−", "-", "’", "'", "ﬁ", "fi", "ﬂ", "fl", "ﬀ", "ff", "ﬃ", "ffi", "|", " ", "μ", "µ").Replace(s)
}

// concordance counts the pairs of word triples that stand in the same order.
func concordance(a, b []string) (concordant, pairs int) {
	at := once(b)
	var seq []int
	for _, t := range triples(a) {
		if i, ok := at[t]; ok {
			seq = append(seq, i)
			delete(at, t) // a triple counts once
		}
	}
	for i := range seq {
		for j := i + 1; j < len(seq); j++ {
			pairs++
			if seq[i] < seq[j] {
				concordant++
			}
		}
	}
	return concordant, pairs
}

func triples(words []string) []string {
	var out []string
	for i := 0; i+3 <= len(words); i++ {
		out = append(out, strings.Join(words[i:i+3], " "))
	}
	return out
}

// once returns the places of the triples that occur a single time.
func once(words []string) map[string]int {
	out, again := map[string]int{}, map[string]bool{}
	for i, t := range triples(words) {
		if _, seen := out[t]; seen {
			again[t] = true
		}
		out[t] = i
	}
	for t := range again {
		delete(out, t)
	}
	return out
}

// distance is Levenshtein's.
func distance(a, b []rune) int {
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i := range a {
		diagonal := row[0]
		row[0] = i + 1
		for j := range b {
			above := row[j+1]
			cost := diagonal
			if a[i] != b[j] {
				cost++
			}
			row[j+1] = min(cost, above+1, row[j]+1)
			diagonal = above
		}
	}
	return row[len(b)]
}

// adjacent returns the pairs of neighbouring cells, to the right and below.
func adjacent(rows [][]cell) []string {
	var out []string
	for i, row := range rows {
		for j, c := range row {
			if j+1 < len(row) {
				out = append(out, squeeze(c.text)+" → "+squeeze(row[j+1].text))
			}
			if i+1 < len(rows) {
				for _, below := range rows[i+1] {
					if below.column == c.column {
						out = append(out, squeeze(c.text)+" ↓ "+squeeze(below.text))
					}
				}
			}
		}
	}
	return out
}

func squeeze(s string) string { return strings.Join(strings.Fields(plain(s)), "") }

func (s *score) tables(page *truth.Page, r *reading) {
	var want, got []string
	for _, b := range page.Blocks {
		if b.Kind != truth.Table {
			continue
		}
		var rows [][]cell
		for _, row := range b.Rows {
			var cells []cell
			for column, text := range row {
				if text != "" {
					cells = append(cells, cell{column, text})
				}
			}
			rows = append(rows, cells)
		}
		want = append(want, adjacent(rows)...)
	}
	for _, rows := range r.tables {
		got = append(got, adjacent(rows)...)
	}
	s.theirs, s.ours = len(want), len(got)
	s.cells = common(want, got)
}

// common counts what two lists share, each entry as often as both have it.
func common(a, b []string) (n int) {
	count := map[string]int{}
	for _, x := range a {
		count[x]++
	}
	for _, x := range b {
		if count[x] > 0 {
			count[x]--
			n++
		}
	}
	return n
}

func (s *score) furniture(page *truth.Page, r *reading) {
	want := strings.Fields(strings.Join(page.Furniture, " "))
	got := strings.Fields(r.furniture)
	if page.Numbered {
		number := func(w string) bool { return strings.Trim(w, "0123456789") == "" }
		want, got = slices.DeleteFunc(want, number), slices.DeleteFunc(got, number)
	}
	s.furnish, s.flagged, s.kept = len(want), len(got), common(want, got)
}

func (s *score) shifts(page *truth.Page, r *reading) {
	words := strings.Fields(plain(r.body))
	for i := range words {
		words[i] = strings.Trim(words[i], ".,;:()")
	}
	for _, word := range page.Shifted() {
		s.shiftedAll++
		if slices.Contains(words, plain(word)) {
			s.shifted++
		}
	}
}

// figures counts the labels that the running text does not have.
func (s *score) figures(page *truth.Page, r *reading) {
	text := " " + strings.Join(strings.Fields(r.body), " ") + " "
	for _, b := range page.Blocks {
		for _, label := range b.Labels {
			s.labels++
			if !strings.Contains(text, " "+label+" ") || strings.Contains(page.Body(), label) {
				s.labelsOut++
			}
		}
	}
}
