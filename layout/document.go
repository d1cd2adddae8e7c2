package layout

import (
	"cmp"
	"slices"
	"strings"

	"jardinet/text"
)

// levels gives each heading its level: the outline's where it has one; else the author's tag; else by
// the depth of its number; else by its size among the document's headings.
func (a *assembler) levels(doc *Document) {
	ranks := map[int]int{}
	var sizes []int
	for _, h := range a.headings {
		if _, known := ranks[rank(h)]; !known {
			ranks[rank(h)] = 0
			sizes = append(sizes, rank(h))
		}
	}
	slices.SortFunc(sizes, func(x, y int) int { return cmp.Compare(y, x) })
	for i, size := range sizes {
		ranks[size] = min(i+1, 6)
	}
	byRank := a.outlineRanks(ranks)
	for _, h := range a.headings {
		b := &doc.Pages[h.page-doc.Pages[0].Number].Blocks[h.block]
		switch depth := numberDepth(b.Text); {
		case h.outlined > 0:
			b.Level = h.outlined
		case a.tags != noTags && h.tagged > 0:
			b.Level = h.tagged
		case depth > 0:
			b.Level = depth
		case byRank[rank(h)] > 0:
			b.Level = byRank[rank(h)]
		default:
			b.Level = ranks[rank(h)]
		}
	}
}

// outlineRanks learns from the headings that the outline has which level each
// size stands for, and puts unseen smaller sizes below all of them.
func (a *assembler) outlineRanks(ranks map[int]int) map[int]int {
	out, deepest := map[int]int{}, 0
	for _, h := range a.headings {
		if h.outlined > 0 {
			out[rank(h)] = max(out[rank(h)], h.outlined)
			deepest = max(deepest, h.outlined)
		}
	}
	if deepest == 0 {
		return out
	}
	for r := range ranks {
		if out[r] == 0 {
			out[r] = min(deepest+1, 7)
		}
	}
	return out
}

// rank orders headings by size, bold ones before others of the same size.
func rank(h heading) int {
	r := int(h.size*2+0.5) * 2
	if h.bold {
		r++
	}
	return r
}

// numberDepth returns 2 for "3.1 Title", 1 for "3 Title" or "Chapter 3", 0 for
// none.
func numberDepth(s string) int {
	if worded.MatchString(s) {
		return 1
	}
	if !numbered.MatchString(s) {
		return 0
	}
	number, _, _ := strings.Cut(s, " ")
	return strings.Count(strings.Trim(number, "."), ".") + 1
}

// labelFromFurniture fills in the printed page numbers of files that do not
// name their labels, where the numbers printed run along with the pages.
func labelFromFurniture(doc *Document) {
	for i := range doc.Pages {
		if doc.Pages[i].Label != "" {
			return
		}
	}
	printed := make([][]string, len(doc.Pages))
	for i := range doc.Pages {
		for _, b := range doc.Pages[i].Blocks {
			if fields := strings.Fields(strings.Trim(b.Text, "-–—|. ")); b.Kind == Furniture && len(fields) > 0 {
				printed[i] = append(printed[i], fields[len(fields)-1], fields[0])
			}
		}
	}
	for i := range printed {
		for _, label := range printed[i] {
			if i > 0 && anyFollows(printed[i-1], label, 1) || i+1 < len(printed) && anyFollows(printed[i+1], label, -1) {
				doc.Pages[i].Label = label
				break
			}
		}
	}
}

// anyFollows tells whether label is the number step after one of the others.
func anyFollows(others []string, label string, step int) bool {
	n := numeral(label)
	for _, other := range others {
		if m := numeral(other); m > 0 && n == m+step {
			return n > 0
		}
	}
	return false
}

// numeral reads an arabic or roman number, 0 if it is neither.
func numeral(s string) int {
	n := 0
	if strings.Trim(s, "0123456789") == "" && len(s) < 6 {
		for _, r := range s {
			n = 10*n + int(r-'0')
		}
		return n
	}
	values := map[byte]int{'i': 1, 'v': 5, 'x': 10, 'l': 50, 'c': 100}
	for i := 0; i < len(s); i++ {
		v := values[s[i]]
		if v == 0 {
			return 0
		}
		if i+1 < len(s) && values[s[i+1]] > v {
			n -= v
		} else {
			n += v
		}
	}
	return n
}

// nameLanguages finds the language of the document and of pages that differ.
func nameLanguages(doc *Document) {
	const enough = 1500 // bytes of a page that tell its language
	samples := make([]string, len(doc.Pages))
	found := make([]text.Language, len(doc.Pages))
	inParallel(len(doc.Pages), func(i int) {
		var b strings.Builder
		for _, block := range doc.Pages[i].Blocks {
			if block.Kind != Furniture && b.Len() < enough {
				b.WriteString(block.Text[:min(len(block.Text), enough)])
				b.WriteByte('\n')
			}
		}
		samples[i] = b.String()
		found[i] = text.Detect(samples[i], "")
	})
	count := map[text.Language]int{}
	for i, language := range found {
		count[language] += len(samples[i])
	}
	delete(count, "")
	doc.Language = text.English
	for language, n := range count {
		if n > count[doc.Language] || n == count[doc.Language] && language < doc.Language {
			doc.Language = language
		}
	}
	for i, language := range found {
		doc.Pages[i].Language = cmp.Or(language, doc.Language)
	}
}

// presentable tells whether a title from the file's properties is one: many
// are file names or names of the program that made them.
func presentable(title string) bool {
	low := strings.ToLower(title)
	for _, mark := range []string{"microsoft word", "untitled", ".doc", ".tex", ".dvi", ".indd", ".html", ".xml", "about:blank", "file://", "http://", "https://"} {
		if strings.Contains(low, mark) {
			return false
		}
	}
	return len(title) > 3
}

// firstHeading returns the largest heading of the first pages, the title most
// likely.
func firstHeading(doc *Document) string {
	best, size := "", float32(0)
	for i := range doc.Pages[:min(len(doc.Pages), 3)] {
		for _, b := range doc.Pages[i].Blocks {
			if b.Kind != Heading || len(b.Words) == 0 {
				continue
			}
			if h := b.Words[0].Box.Height(); h > size {
				best, size = b.Text, h
			}
		}
		if best != "" {
			break
		}
	}
	return best
}
