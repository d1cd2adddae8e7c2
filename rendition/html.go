package rendition

import (
	"bytes"
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// readMarkdown reads Markdown by way of HTML. What programs keep about it between two lines of
// hyphens at its top is left out.
func readMarkdown(data []byte) (*Text, error) {
	if matter := frontMatter.Find(data); matter != nil {
		data = data[len(matter):]
	}
	if len(data) > mostLetters {
		return nil, tooLong(data)
	}
	if !isOrdinary(data) {
		return readPlain(data)
	}
	var out bytes.Buffer
	if err := gfm.Convert(data, &out); err != nil {
		return nil, err
	}
	return readHTML(out.Bytes())
}

// Limits of Markdown. The time that marks take grows with the square of what stands in one piece,
// and of how deep it stands; such a text is read without its marks.
const (
	longestPiece = 16 << 10 // bytes between two empty lines, unless they are a table
	deepestMarks = 50       // of quotations and lists at the beginning of a line
)

func isOrdinary(markdown []byte) bool {
	for piece := range bytes.SplitSeq(markdown, []byte("\n\n")) {
		if len(piece) > longestPiece && !isTable(piece) {
			return false
		}
		for line := range bytes.Lines(piece) {
			begin := line[:len(line)-len(bytes.TrimLeft(line, " \t>*+-"))]
			ruled := len(bytes.Trim(begin, " \t-")) == 0 || len(bytes.Trim(begin, " \t*")) == 0
			if marks := len(begin) - bytes.Count(begin, []byte(" ")) - bytes.Count(begin, []byte("\t")); marks > deepestMarks && !ruled {
				return false
			}
		}
	}
	return true
}

// isTable tells whether the second line rules off the head of a table.
func isTable(piece []byte) bool {
	_, rest, _ := bytes.Cut(piece, []byte("\n"))
	second, _, _ := bytes.Cut(rest, []byte("\n"))
	return bytes.ContainsRune(second, '|') && len(bytes.Trim(second, " :|-\r")) == 0
}

var frontMatter = regexp.MustCompile(`^(?:\x{FEFF})?---\r?\n(?:[A-Za-z_-]+:.*\r?\n|[ \t-].*\r?\n)*---\r?\n`)

// readHTML reads a web page: what people read of it, without menus, scripts and forms.
func readHTML(data []byte) (*Text, error) {
	if len(data) > mostMarked {
		return nil, fmt.Errorf("%w: a web page of %d MiB, and %d are read at most", ErrTooLarge, len(data)>>20, mostMarked>>20)
	}
	root, err := html.Parse(bytes.NewReader(data))
	if err != nil {
		return nil, err
	}
	r := htmlReader{text: new(Text)}
	r.walk(root)
	r.flush()
	return r.text, nil
}

// An htmlReader gathers words until something begins that stands by itself.
type htmlReader struct {
	text  *Text
	words strings.Builder
	lists []list
	item  string // mark of the item that the words are of; empty for a paragraph
	depth int    // of elements, so that no page is too deep
	kept  bool   // white space matters
}

type list struct {
	ordered bool
	n       int
}

// mostDepth is how deep elements may stand in each other.
const mostDepth = 500

func (r *htmlReader) walk(n *html.Node) {
	if r.depth++; r.depth > mostDepth {
		r.depth--
		return
	}
	defer func() { r.depth-- }()
	if n.Type == html.TextNode {
		if r.kept {
			r.words.WriteString(n.Data)
		} else {
			r.words.WriteString(spaced(n.Data))
		}
		return
	}
	switch n.DataAtom {
	case atom.Script, atom.Style, atom.Noscript, atom.Template, atom.Nav, atom.Form, atom.Svg, atom.Iframe, atom.Button:
		return
	case atom.Title:
		if n.Parent != nil && n.Parent.DataAtom == atom.Head {
			r.text.Title = oneLine(inside(n))
		}
		return
	case atom.Head:
		r.children(n)
		r.words.Reset()
		return
	case atom.H1, atom.H2, atom.H3, atom.H4, atom.H5, atom.H6:
		r.flush()
		r.text.heading(int(n.Data[1]-'0'), inside(n))
		return
	case atom.Table:
		r.flush()
		r.text.table(rowsOf(n))
		return
	case atom.Br:
		r.words.WriteString("\n")
		return
	case atom.Img:
		r.words.WriteString(attribute(n, "alt"))
		return
	case atom.Sup:
		r.words.WriteString(raised(inside(n)))
		return
	case atom.Ul, atom.Ol:
		r.flush()
		r.lists = append(r.lists, list{ordered: n.DataAtom == atom.Ol})
		r.children(n)
		r.flush()
		r.lists = r.lists[:len(r.lists)-1]
		return
	case atom.Li:
		r.flush()
		r.item = "•"
		if at := len(r.lists) - 1; at >= 0 && r.lists[at].ordered {
			r.lists[at].n++
			r.item = strconv.Itoa(r.lists[at].n) + "."
		}
		r.children(n)
		r.flush()
		r.item = ""
		return
	case atom.Pre:
		r.flush()
		r.kept = true
		r.children(n)
		r.flush()
		r.kept = false
		return
	case atom.P, atom.Div, atom.Section, atom.Article, atom.Blockquote, atom.Dt, atom.Dd, atom.Figure, atom.Figcaption, atom.Header, atom.Footer, atom.Main, atom.Address, atom.Hr:
		r.flush()
		r.children(n)
		r.flush()
		return
	}
	r.children(n)
}

func (r *htmlReader) children(n *html.Node) {
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		r.walk(c)
	}
}

// flush ends what was being gathered.
func (r *htmlReader) flush() {
	words := r.words.String()
	r.words.Reset()
	if !r.kept {
		lines := strings.Split(words, "\n")
		for i := range lines {
			lines[i] = oneLine(lines[i])
		}
		words = strings.Join(lines, "\n")
	}
	if r.item == "" {
		r.text.paragraph(words)
		return
	}
	if strings.TrimSpace(words) != "" {
		r.text.item(len(r.lists), r.item, words)
		r.item = ""
	}
}

// spaced makes white space a blank, as a browser does.
func spaced(s string) string {
	out := oneLine(s)
	if out == "" {
		return " "
	}
	if strings.TrimLeft(s, " \t\r\n") != s {
		out = " " + out
	}
	if strings.TrimRight(s, " \t\r\n") != s {
		out += " "
	}
	return out
}

// inside is the text of an element.
func inside(n *html.Node) string {
	var out strings.Builder
	var walk func(n *html.Node, depth int)
	walk = func(n *html.Node, depth int) {
		if n.Type == html.TextNode {
			out.WriteString(n.Data)
		}
		if n.DataAtom == atom.Br {
			out.WriteString(" ")
		}
		for c := n.FirstChild; c != nil && depth < mostDepth; c = c.NextSibling {
			walk(c, depth+1)
		}
	}
	walk(n, 0)
	return out.String()
}

// rowsOf are the cells of a table, without those of tables within.
func rowsOf(table *html.Node) [][]string {
	var rows [][]string
	var walk func(n *html.Node, depth int)
	walk = func(n *html.Node, depth int) {
		if n != table && n.DataAtom == atom.Table || depth > mostDepth {
			return
		}
		switch n.DataAtom {
		case atom.Tr:
			rows = append(rows, nil)
		case atom.Td, atom.Th:
			if len(rows) > 0 {
				last := len(rows) - 1
				rows[last] = append(rows[last], oneLine(inside(n)))
				span, _ := strconv.Atoi(attribute(n, "colspan"))
				for range min(max(span, 1), 20) - 1 {
					rows[last] = append(rows[last], "")
				}
			}
			return
		}
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			walk(c, depth+1)
		}
	}
	walk(table, 0)
	return rows
}

func attribute(n *html.Node, name string) string {
	for _, a := range n.Attr {
		if a.Key == name {
			return a.Val
		}
	}
	return ""
}

var raisedDigits = strings.NewReplacer("0", "⁰", "1", "¹", "2", "²", "3", "³", "4", "⁴", "5", "⁵", "6", "⁶", "7", "⁷", "8", "⁸", "9", "⁹", "-", "⁻", "−", "⁻", "+", "⁺")

// raised writes digits as raised ones, so that 10³ is not 103.
func raised(s string) string {
	if strings.Trim(s, "0123456789-−+") == "" {
		return raisedDigits.Replace(s)
	}
	return s
}
