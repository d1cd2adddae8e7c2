package layout

import (
	"fmt"
	"regexp"
	"strings"
	"unicode"
	"unicode/utf8"

	"jardinet/pdf"
	"jardinet/text"
)

// A Severity tells how much a finding may harm answers.
type Severity string

// Severities.
const (
	Fault  Severity = "fault"  // text is missing or wrong
	Doubt  Severity = "doubt"  // text may be wrong: look at the page
	Remark Severity = "remark" // worth knowing
)

// A Finding is something about a page that its reader should know of.
type Finding struct {
	Severity Severity
	Code     string // what, in a word or two, the same for all of its kind
	Text     string // what, for a person
	Advice   string // what to do about it
	Box      pdf.Rect
}

// worth is what a finding takes off a page's score of 100.
var worth = map[Severity]int{Fault: 50, Doubt: 12, Remark: 2}

// Score sums a page's findings up: 100 where there are none, 0 for a page that
// cannot be used.
func (p *Page) Score() int {
	score := 100
	for _, f := range p.Findings {
		score -= worth[f.Severity]
	}
	return max(0, score)
}

// Inspect looks at what was read from a page for signs that it is not what
// stands there, and keeps the findings with the page.
func (p *Page) Inspect() {
	p.Findings = nil
	if p.Problem != "" {
		p.Findings = append(p.Findings, Finding{Fault, "no text", capital(p.Problem), "Run text recognition over the page, or add a better copy of the document.", pdf.Rect{X1: p.Width, Y1: p.Height}})
		return
	}
	p.inspectRecognition()
	p.inspectLetters()
	furniture, words := 0, 0
	for i := range p.Blocks {
		b := &p.Blocks[i]
		words += len(b.Words)
		switch b.Kind {
		case Furniture:
			furniture += len(b.Words)
		case Table:
			p.inspectTable(b)
		case Figure:
			p.inspectFigure(b)
		default:
			p.inspectShifted(b)
		}
	}
	p.inspectOrder()
	if words > 60 && furniture*3 > words {
		p.find(Remark, "much furniture", fmt.Sprintf("%d of %d words are taken for running headers and footers", furniture, words), "Look whether text was left out; if so, give those blocks another kind.", pdf.Rect{})
	}
}

func capital(s string) string {
	first, n := utf8.DecodeRuneInString(s)
	return string(unicode.ToUpper(first)) + s[n:]
}

func (p *Page) find(severity Severity, code, what, advice string, box pdf.Rect) {
	p.Findings = append(p.Findings, Finding{severity, code, what, advice, box})
}

// Recognised text below these confidences, in percent, is doubtful or useless.
const (
	lowConfidence  = 80
	poorConfidence = 55
)

func (p *Page) inspectRecognition() {
	switch {
	case p.Confidence == 0:
	case p.Confidence < poorConfidence:
		p.find(Fault, "text recognition", fmt.Sprintf("Text was recognised from the picture with %d %% confidence", p.Confidence), "Scan the page again, straight and at 300 dpi, or correct the blocks.", pdf.Rect{})
	case p.Confidence < lowConfidence:
		p.find(Doubt, "text recognition", fmt.Sprintf("Text was recognised from the picture with %d %% confidence", p.Confidence), "Compare it with the page and correct the blocks that are wrong.", pdf.Rect{})
	default:
		p.find(Remark, "text recognition", fmt.Sprintf("Text was recognised from the picture with %d %% confidence", p.Confidence), "Compare figures and names with the page.", pdf.Rect{})
	}
}

// enoughText is how many bytes of a page tell whether they are words.
const enoughText = 2000

// garbledShare is the share of implausible words from which a page's font map
// is suspected.
const garbledShare = 0.3

// Unreadable tells whether a page has text whose font does not say what its
// characters are.
func (p *Page) Unreadable() bool {
	var all strings.Builder
	bullets := 0
	for _, b := range p.Blocks {
		if b.Kind != Furniture && all.Len() < enoughText {
			all.WriteString(b.Text + "\n")
			bullets += strings.Count(b.Text, "•")
		}
	}
	s := all.String()
	runes := utf8.RuneCountInString(s)
	if runes < 80 {
		return false
	}
	return bullets*3 > runes || text.Garbled(s) > garbledShare
}

func (p *Page) inspectLetters() {
	if p.Unreadable() {
		p.find(Fault, "unreadable font", "Most of its words are no words: the file does not say which characters its font's glyphs stand for", "Have the page's text recognised from its picture, or export the document anew with embedded fonts.", pdf.Rect{})
	}
}

// lostPower finds what most likely was a power or an index: units with a plain
// digit, and tens with a plain exponent before a unit of count.
var lostPower = regexp.MustCompile(`(?:\b\d+ ?(?:k|c|m|d)?m[23]\b|\b(?:CO2|H2O|NH3|SO2|NO3)\b|[×x·] ?10-?\d{1,2}\b)`)

func (p *Page) inspectShifted(b *Block) {
	if at := lostPower.FindStringIndex(b.Text); at != nil {
		box := b.Box
		if boxes := b.Boxes(at[0], at[1]); len(boxes) > 0 {
			box = boxes[0]
		}
		p.find(Remark, "lost power or index", fmt.Sprintf("%q may have had a raised or lowered digit", b.Text[at[0]:at[1]]), "Compare with the page; correct the block if a digit should be raised or lowered.", box)
	}
}

// inspectTable looks for columns that do not line up: many rows with a number
// of cells that differs from most.
func (p *Page) inspectTable(b *Block) {
	count := map[int]int{}
	rows := 0
	for _, row := range b.Rows {
		if !row.Header {
			count[len(row.Cells)]++
			rows++
		}
	}
	usual := 0
	for n, c := range count {
		if c > count[usual] || c == count[usual] && n > usual {
			usual = n
		}
	}
	if rows >= 3 && count[usual]*5 < rows*3 {
		p.find(Doubt, "table columns", fmt.Sprintf("Of %d rows of a table only %d have the usual %d cells", rows, count[usual], usual), "Compare the cells with the page; a correction of the block's text may set one row a line, cells apart by |.", b.Box)
	}
}

// figureWords is how many words a figure's labels have at the most.
const figureWords = 60

func (p *Page) inspectFigure(b *Block) {
	switch {
	case len(b.Rows) > 0:
		p.find(Remark, "chart", fmt.Sprintf("A chart was read as %d lines, a bar and its number each", len(b.Rows)), "Compare them with the page.", b.Box)
	case len(b.Words) > figureWords:
		p.find(Doubt, "text in a figure", fmt.Sprintf("%d words stand inside a figure and are not answered from", len(b.Words)), "If they are running text, give the block the kind paragraph.", b.Box)
	case len(b.Words) > 0:
		p.find(Remark, "figure", "What the figure shows cannot be read, only its labels and caption", "Say in the text what the figure shows.", b.Box)
	default:
		p.find(Remark, "figure", "What the picture shows cannot be read", "Say in the text what the figure shows.", b.Box)
	}
}

// inspectOrder looks for paragraphs that break off while the next block begins
// like a new one, which reading across columns does.
func (p *Page) inspectOrder() {
	breaks, paragraphs := 0, 0
	var at pdf.Rect
	for i := 0; i+1 < len(p.Blocks); i++ {
		a, b := &p.Blocks[i], &p.Blocks[i+1]
		if a.Kind != Paragraph || len(a.Words) < 8 {
			continue
		}
		paragraphs++
		last, _ := utf8.DecodeLastRuneInString(a.Text)
		first, _ := utf8.DecodeRuneInString(b.Text)
		if b.Kind == Paragraph && (unicode.IsLower(last) || last == ',') && unicode.IsUpper(first) {
			breaks++
			at = a.Box
		}
	}
	if breaks >= 2 && breaks*3 >= paragraphs {
		p.find(Doubt, "reading order", fmt.Sprintf("%d paragraphs break off before their sentence ends", breaks), "Compare the order with the page; blocks can be moved.", at)
	}
}
