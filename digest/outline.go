package digest

import (
	"regexp"
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

// fromContents reads the contents pages. The page that is printed there is looked for among the
// printed page numbers, and held to where the title stands as a heading.
func fromContents(doc *layout.Document) []Entry {
	var all []listed
	for i := range doc.Pages {
		for _, b := range doc.Pages[i].Blocks {
			if b.Kind != layout.Contents {
				continue
			}
			if m := contentsLine.FindStringSubmatch(oneLine(b.Text)); m != nil {
				all = append(all, listed{strings.TrimRight(m[1], " .·…_"), m[2], b.Box.X0})
			}
		}
	}
	if len(all) < leastEntries {
		return nil
	}
	places, labels := headingPlaces(doc), map[string]int{}
	for i := range doc.Pages {
		if label := doc.Pages[i].Label; label != "" && labels[label] == 0 {
			labels[label] = doc.Pages[i].Number
		}
	}
	var out []Entry
	last := 0
	for _, l := range all {
		page := labels[l.label]
		for _, at := range places[titleKey(l.title)] {
			if at >= last && (page == 0 || at-page >= -1 && at-page <= 1) {
				page = at
				break
			}
		}
		if page == 0 {
			continue
		}
		last = page
		out = append(out, Entry{Title: l.title, Level: levelOf(l, all), Page: page})
	}
	return out
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
