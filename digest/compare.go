package digest

import (
	"cmp"
	"slices"

	"jardinet/layout"
	"jardinet/text"
)

// A Difference is a line that one edition of a document has and another has otherwise or not.
type Difference struct {
	Before  *Quote // nil for what was added
	After   *Quote // nil for what was dropped
	Figures []Swap // numbers that are others, of a line that was changed
}

// A Swap is a number in the place of another.
type Swap struct{ Before, After string }

// alike is the share of words that two lines have in common from which on one is the other, changed.
const alike = 0.5

// Compare tells what a later edition of a document says otherwise than an earlier one: lines that were
// changed, added and dropped, in the order of the later one, with what was dropped at its place in the
// earlier. Lines that only moved are the same.
func Compare(before, after *layout.Document) []Difference {
	a, b := compared(before), compared(after)
	a, b = withoutCommon(a, b)
	pairs := matched(a, b)
	var out []Difference
	taken := map[int]bool{}
	for j := range b {
		i, changed := pairs[j]
		if !changed {
			out = append(out, Difference{After: &b[j].quote})
			continue
		}
		taken[i] = true
		out = append(out, Difference{Before: &a[i].quote, After: &b[j].quote, Figures: swaps(a[i].quote.Text, b[j].quote.Text)})
	}
	for i := range a {
		if !taken[i] {
			out = append(out, Difference{Before: &a[i].quote})
		}
	}
	return out
}

// A comparedLine is a line with what it is compared by.
type comparedLine struct {
	quote Quote
	key   string
	words map[string]bool
}

func compared(doc *layout.Document) []comparedLine {
	var out []comparedLine
	for _, q := range lines(doc) {
		if q.Kind == layout.Heading {
			continue
		}
		l := comparedLine{quote: q, key: text.Normal(q.Text), words: map[string]bool{}}
		for _, t := range text.Tokens(q.Text) {
			l.words[t.Word] = true
		}
		out = append(out, l)
	}
	return out
}

// withoutCommon leaves out the lines that both have, each as often as the other has it.
func withoutCommon(a, b []comparedLine) (onlyA, onlyB []comparedLine) {
	count := map[string]int{}
	for _, l := range b {
		count[l.key]++
	}
	common := map[string]int{}
	for _, l := range a {
		if count[l.key] > 0 {
			count[l.key]--
			common[l.key]++
		} else {
			onlyA = append(onlyA, l)
		}
	}
	for _, l := range b {
		if common[l.key] > 0 {
			common[l.key]--
		} else {
			onlyB = append(onlyB, l)
		}
	}
	return onlyA, onlyB
}

// matched pairs lines of b with those of a that they come from, the likest first, each once.
func matched(a, b []comparedLine) map[int]int {
	type pair struct {
		i, j int
		like float64
	}
	var all []pair
	for j := range b {
		for i := range a {
			if like := overlap(a[i].words, b[j].words); like >= alike {
				all = append(all, pair{i, j, like})
			}
		}
	}
	slices.SortStableFunc(all, func(x, y pair) int { return cmp.Compare(y.like, x.like) })
	out, taken := map[int]int{}, map[int]bool{}
	for _, p := range all {
		if _, done := out[p.j]; !done && !taken[p.i] {
			out[p.j], taken[p.i] = p.i, true
		}
	}
	return out
}

// overlap is how many words two lines have in common, of all that they have (Jaccard, 1901).
func overlap(a, b map[string]bool) float64 {
	common := 0
	for w := range a {
		if b[w] {
			common++
		}
	}
	return float64(common) / float64(max(len(a)+len(b)-common, 1))
}

// swaps pairs the numbers of two lines that are not the same, in their order.
func swaps(before, after string) []Swap {
	a, b := numbers(before), numbers(after)
	if len(a) != len(b) {
		return nil
	}
	var out []Swap
	for i := range a {
		if text.Normal(a[i]) != text.Normal(b[i]) {
			out = append(out, Swap{a[i], b[i]})
		}
	}
	return out
}

func numbers(s string) (out []string) {
	for _, q := range text.Quantities(s) {
		out = append(out, s[q.Start:q.End])
	}
	return out
}
