package digest

import (
	"regexp"
	"strconv"
	"strings"

	"jardinet/layout"
	"jardinet/pdf"
	"jardinet/text"
)

// An Entry is one line of an outline.
type Entry struct {
	Title string
	Level int // from 1
	Page  int // physical
	About *Quote
}

// leastEntries is how many bookmarks or lines of a contents page make an outline.
const leastEntries = 3

// Outline returns the chapters of a document in their order, the highest level counted as the
// first: from its bookmarks, else from its contents pages, else from its headings.
func Outline(doc *layout.Document, bookmarks []pdf.Bookmark) []Entry {
	for _, out := range [][]Entry{fromBookmarks(doc, bookmarks), fromContents(doc)} {
		if len(out) >= leastEntries {
			return tidied(doc, out)
		}
	}
	return tidied(doc, fromHeadings(doc))
}

// tidied takes the title of the document off the front, and gives the entries the titles that stand
// on their pages: those of bookmarks lose line breaks.
func tidied(doc *layout.Document, all []Entry) []Entry {
	if len(all) > leastEntries && all[0].Page <= 2 && titleKey(all[0].Title) == titleKey(doc.Title) {
		all = all[1:]
	}
	titles := map[string]string{}
	for _, e := range fromHeadings(doc) {
		titles[titleKey(e.Title)] = e.Title
	}
	for i := range all {
		if as := titles[titleKey(all[i].Title)]; as != "" && len(as) > len(all[i].Title) {
			all[i].Title = as
		}
	}
	return levelled(all)
}

// levelled counts the levels from the highest that there is.
func levelled(all []Entry) []Entry {
	top := 0
	for _, e := range all {
		if top == 0 || e.Level < top {
			top = e.Level
		}
	}
	for i := range all {
		all[i].Level -= top - 1
	}
	return all
}

func oneLine(s string) string { return strings.Join(strings.Fields(s), " ") }

func fromBookmarks(doc *layout.Document, bookmarks []pdf.Bookmark) []Entry {
	var out []Entry
	for _, b := range bookmarks {
		if title := oneLine(b.Title); title != "" && b.Page >= 1 && b.Page <= len(doc.Pages) {
			out = append(out, Entry{Title: title, Level: max(1, b.Level), Page: b.Page})
		}
	}
	return out
}

func fromHeadings(doc *layout.Document) []Entry {
	var out []Entry
	for i := range doc.Pages {
		for _, b := range doc.Pages[i].Blocks {
			if b.Kind == layout.Heading && strings.TrimSpace(b.Text) != "" {
				out = append(out, Entry{Title: oneLine(b.Text), Level: max(1, b.Level), Page: doc.Pages[i].Number})
			}
		}
	}
	return out
}

// contentsLine is a title, leaders or white space, and a page.
var contentsLine = regexp.MustCompile(`^(.*?\pL.*?)[\s.·…_]*\s([ivxlc]+|\d{1,4}(?:-\d{1,3})?)$`)

// A listed is a line of a contents page.
type listed struct {
	title, label string
	indent       float32
}

// fromContents reads the contents pages. Where the chapters stand follows from the printed page
// numbers, and is held to where their titles stand as headings.
func fromContents(doc *layout.Document) []Entry {
	all := contentsLines(doc)
	if len(all) < leastEntries {
		return nil
	}
	places, first := headingPlaces(doc), firstPage(doc, all)
	var out []Entry
	last := 0
	for _, l := range all {
		page := l.page(doc, first)
		for _, at := range places[titleKey(l.title)] {
			if at >= last && (page == 0 || at-page >= -1 && at-page <= 1) {
				page = at
				break
			}
		}
		if page < 1 || page > len(doc.Pages) {
			continue
		}
		last = page
		out = append(out, Entry{Title: l.title, Level: levelOf(l, all), Page: page})
	}
	return out
}

// contentsLines are the lines of the first pages of contents that follow each other. An index at the
// end looks much the same, and so does a list of figures, which begins again with a low page.
func contentsLines(doc *layout.Document) []listed {
	var all []listed
	last := 0
	for i := range doc.Pages {
		if last > 0 && i > last+1 {
			break
		}
		for _, b := range doc.Pages[i].Blocks {
			if b.Kind != layout.Contents {
				continue
			}
			m := contentsLine.FindStringSubmatch(oneLine(b.Text))
			if m == nil {
				continue
			}
			last = i
			all = append(all, listed{strings.TrimRight(m[1], " .·…_"), m[2], b.Box.X0})
		}
	}
	return all[:firstList(all)]
}

// firstList is how many lines come before the page numbers begin again: three in a row are less
// than half of what came before.
func firstList(all []listed) int {
	before, low := 0, 0
	for i, l := range all {
		n, _ := strconv.Atoi(l.label)
		switch {
		case n == 0:
		case 2*n < before:
			if low++; low == 3 {
				return i - 2
			}
		default:
			before, low = max(n, before), 0
		}
	}
	return len(all)
}

// page is the physical page of a line: by the page on which the printed 1 stands if that is known,
// else by the printed page numbers; 0 if neither tells.
func (l *listed) page(doc *layout.Document, first int) int {
	if n, err := strconv.Atoi(l.label); err == nil && first != 0 {
		return n + first - 1
	}
	for i := range doc.Pages {
		if doc.Pages[i].Label == l.label {
			return doc.Pages[i].Number
		}
	}
	return 0
}

// leastAgreeing is how many titles have to stand as headings by the same count, for that to be right.
const leastAgreeing = 3

// firstPage returns the physical page of the printed page 1, as most titles have it that stand as
// headings somewhere; 0 if too few agree.
func firstPage(doc *layout.Document, all []listed) int {
	places, votes := headingPlaces(doc), map[int]int{}
	for _, l := range all {
		n, err := strconv.Atoi(l.label)
		if at := places[titleKey(l.title)]; err == nil && len(at) == 1 {
			votes[at[0]-n+1]++
		}
	}
	best := 0
	for first, n := range votes {
		if n > votes[best] || n == votes[best] && first < best {
			best = first
		}
	}
	if votes[best] < leastAgreeing {
		return 0
	}
	return best
}

// headingPlaces are the pages on which headings stand, by their titles.
func headingPlaces(doc *layout.Document) map[string][]int {
	out := map[string][]int{}
	for _, e := range fromHeadings(doc) {
		out[titleKey(e.Title)] = append(out[titleKey(e.Title)], e.Page)
	}
	return out
}

// titleKey reduces a title to its folded letters and digits.
func titleKey(s string) string {
	var b strings.Builder
	for _, t := range text.Tokens(s) {
		b.WriteString(strings.ReplaceAll(t.Word, " ", ""))
	}
	return b.String()
}

// levelOf counts how many indents are smaller than that of a line.
func levelOf(l listed, all []listed) int {
	const same = 4 // points between two that are meant to be one
	level := 1
	for edge := l.indent - same; ; level++ {
		next := float32(-1)
		for _, o := range all {
			if o.indent < edge && o.indent > next {
				next = o.indent
			}
		}
		if next < 0 || level > 6 {
			return level
		}
		edge = next - same
	}
}
