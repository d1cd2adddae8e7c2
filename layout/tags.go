package layout

import (
	"slices"
	"strings"

	"jardinet/pdf"
)

// What the author of a tagged file says of a page is believed as far as the page bears it out:
// tags may be made by a program that knew no better.
const (
	tagShare    = 0.25 // of a document's letters at most in headings
	tagStanding = 0.5  // of the lines tagged as headings stand out from the text
	tagCover    = 0.6  // of the lines that stand out are tagged, so that the others are none
	leastTagged = 3    // lines, for the tags to say what is no heading
)

// mark gives the lines of a sheet the levels of the headings that they are tagged as.
func (s *Sheet) mark(tags []pdf.Tag) {
	for _, tag := range tags {
		if tag.Text != "" && len(strings.Fields(tag.Text)) >= 3 {
			s.shown = append(s.shown, tag)
		}
	}
	tags = slices.DeleteFunc(slices.Clone(tags), func(t pdf.Tag) bool { return t.Heading == 0 })
	if len(tags) == 0 {
		return
	}
	for i := range s.lines {
		if l := &s.lines[i]; l.area == nil && l.turn == pdf.Upright {
			l.tagged = l.headingOf(tags)
		}
	}
}

// headingOf returns the level of the heading that covers most of a line, 0 if none does.
func (l *line) headingOf(tags []pdf.Tag) int {
	covered, level := float32(0), 0
	middle := (l.box.Y0 + l.box.Y1) / 2
	for _, t := range tags {
		if middle < t.Box.Y0-2 || middle > t.Box.Y1+2 {
			continue
		}
		if wide := min(t.Box.X1, l.box.X1) - max(t.Box.X0, l.box.X0); wide > 0 {
			covered += wide
			level = t.Heading
		}
	}
	if covered < 0.6*l.box.Width() {
		return 0
	}
	return level
}

// A trust is how far the tags of a document are believed.
type trust int

const (
	noTags   trust = iota
	someTags       // what is tagged as a heading is one
	allTags        // and nothing else is
)

// trusted compares the tags of a document's lines with how these look.
func (a *assembler) trusted(sheets []*Sheet) trust {
	letters, inTags, tagged, tooLong, both, standing := 0, 0, 0, 0, 0, 0
	page := &Page{}
	for _, sheet := range sheets {
		page.Number = sheet.number
		for i := range sheet.lines {
			l := &sheet.lines[i]
			if l.area != nil || a.furniture[l] {
				continue
			}
			letters += len(l.text)
			stands := a.isHeading(l, l.text, page)
			if stands {
				standing++
			}
			if l.tagged == 0 {
				continue
			}
			tagged++
			inTags += len(l.text)
			if len(l.text) > longestHeading {
				tooLong++
			}
			if stands {
				both++
			}
		}
	}
	switch {
	case tagged == 0 || float64(inTags) > tagShare*float64(letters) && letters > 2000 || 5*tooLong > tagged:
		return noTags
	case tagged >= leastTagged && float64(both) >= tagStanding*float64(tagged) && float64(both) >= tagCover*float64(standing):
		return allTags
	}
	return someTags
}

// shownBy makes captions of what the author says that a figure shows, and returns what is said of
// other pictures.
func shownBy(shown []pdf.Tag, figure *area) (captions []Block, others []pdf.Tag) {
	b := figure.box
	for _, t := range shown {
		x, y := (t.Box.X0+t.Box.X1)/2, (t.Box.Y0+t.Box.Y1)/2
		if x > b.X0-near && x < b.X1+near && y > b.Y0-near && y < b.Y1+near {
			captions = append(captions, caption(t))
		} else {
			others = append(others, t)
		}
	}
	return captions, others
}

// caption makes a block of what a picture shows; each of its words stands where the picture does.
func caption(t pdf.Tag) Block {
	b := Block{Kind: Caption, Text: t.Text, Box: t.Box}
	at := 0
	for word := range strings.FieldsSeq(t.Text) {
		at += strings.Index(t.Text[at:], word)
		b.Words = append(b.Words, Word{at, at + len(word), t.Box})
		at += len(word)
	}
	return b
}
