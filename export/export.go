// Package export writes what was read of a document in open formats: text, Markdown, HTML and JSON. Each
// says where its parts stand: the pages, and in HTML and JSON the box of each block, in points from the
// top left.
package export

import (
	"bytes"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"jardinet/layout"
	"jardinet/pdf"
)

// About is what is said of a document.
type About struct {
	Name, Title, Language string
	SHA256                string // of the original
}

// A Format is an open format in which a document can be taken out.
type Format struct {
	MediaType string
	Suffix    string // of a file's name
	Write     func(about *About, doc *layout.Document) ([]byte, error)
}

// Formats are all of them by name.
var Formats = map[string]Format{
	"markdown": {"text/markdown; charset=utf-8", ".md", writeMarkdown},
	"html":     {"text/html; charset=utf-8", ".html", writeHTML},
	"json":     {"application/json", ".json", writeJSON},
	"text":     {"text/plain; charset=utf-8", ".txt", writeText},
}

// pageMark says where a page begins.
func pageMark(p *layout.Page) string {
	if p.Label != "" && p.Label != fmt.Sprint(p.Number) {
		return fmt.Sprintf("page %d, printed %s", p.Number, p.Label)
	}
	return fmt.Sprintf("page %d", p.Number)
}

// isRunning tells whether a block is part of the running text.
func isRunning(b *layout.Block) bool { return b.Kind != layout.Furniture && b.Text != "" }

func writeText(_ *About, doc *layout.Document) ([]byte, error) {
	var out bytes.Buffer
	for i := range doc.Pages {
		p := &doc.Pages[i]
		fmt.Fprintf(&out, "[%s]\n\n", pageMark(p))
		for j := range p.Blocks {
			if isRunning(&p.Blocks[j]) {
				out.WriteString(p.Blocks[j].Text + "\n\n")
			}
		}
	}
	return out.Bytes(), nil
}

var escapeMarkdown = strings.NewReplacer(`\`, `\\`, "*", `\*`, "_", `\_`, "`", "\\`", "<", "&lt;", "[", `\[`, "#", `\#`)

// writeMarkdown writes CommonMark with GitHub's tables; pages begin at comments.
func writeMarkdown(d *About, doc *layout.Document) ([]byte, error) {
	var out bytes.Buffer
	fmt.Fprintf(&out, "<!-- %s, SHA-256 %s -->\n\n", d.Name, d.SHA256)
	for i := range doc.Pages {
		p := &doc.Pages[i]
		fmt.Fprintf(&out, "<!-- %s -->\n\n", pageMark(p))
		for j := range p.Blocks {
			if b := &p.Blocks[j]; isRunning(b) {
				out.WriteString(markdown(b) + "\n\n")
			}
		}
	}
	return out.Bytes(), nil
}

func markdown(b *layout.Block) string {
	s := escapeMarkdown.Replace(b.Text)
	switch b.Kind {
	case layout.Heading:
		return strings.Repeat("#", min(max(b.Level, 1), 6)) + " " + s
	case layout.ListItem:
		if rest, ok := strings.CutPrefix(s, "• "); ok {
			return "- " + rest
		}
		return s
	case layout.Caption, layout.Footnote:
		return "*" + s + "*"
	case layout.Figure:
		return "> Figure: " + strings.ReplaceAll(s, "\n", " ")
	case layout.Table:
		return markdownTable(b)
	}
	return s
}

func markdownTable(b *layout.Block) string {
	columns := 0
	for _, row := range b.Rows {
		for _, c := range row.Cells {
			columns = max(columns, c.Column+1)
		}
	}
	line := func(cells []string) string { return "| " + strings.Join(cells, " | ") + " |" }
	rule := line(slices.Repeat([]string{"---"}, columns))
	var out []string
	for i, row := range b.Rows {
		cells := make([]string, columns)
		for _, c := range row.Cells {
			cells[c.Column] = strings.ReplaceAll(escapeMarkdown.Replace(b.Text[c.Start:c.End]), "|", `\|`)
		}
		if i == 0 && !row.Header {
			out = append(out, line(make([]string, columns)), rule)
		}
		out = append(out, line(cells))
		if i == 0 && row.Header {
			out = append(out, rule)
		}
	}
	return strings.Join(out, "\n")
}

// writeJSON writes pages and blocks with their boxes, in points from the top
// left; a table has rows of cells.
func writeJSON(d *About, doc *layout.Document) ([]byte, error) {
	type block struct {
		Kind  layout.Kind `json:"kind"`
		Level int         `json:"level,omitempty"`
		Text  string      `json:"text"`
		Box   [4]float32  `json:"box"`
		Rows  [][]string  `json:"rows,omitempty"`
	}
	type link struct {
		Target string     `json:"target"`
		Box    [4]float32 `json:"box"`
	}
	type page struct {
		Number     int     `json:"number"`
		Label      string  `json:"label,omitempty"`
		Width      float32 `json:"width"`
		Height     float32 `json:"height"`
		Language   string  `json:"language"`
		Problem    string  `json:"problem,omitempty"`
		Recognised int     `json:"recognised,omitempty"`
		Score      int     `json:"score"`
		Blocks     []block `json:"blocks"`
		Links      []link  `json:"links,omitempty"`
	}
	out := struct {
		Document string `json:"document"`
		SHA256   string `json:"sha256"`
		Title    string `json:"title"`
		Language string `json:"language"`
		Pages    []page `json:"pages"`
	}{d.Name, d.SHA256, d.Title, d.Language, []page{}}
	for i := range doc.Pages {
		p := &doc.Pages[i]
		one := page{p.Number, p.Label, p.Width, p.Height, string(p.Language), p.Problem, p.Confidence, p.Score(), []block{}, nil}
		for _, l := range p.Links {
			one.Links = append(one.Links, link{l.Target, corners(l.Box)})
		}
		for _, b := range p.Blocks {
			entry := block{Kind: b.Kind, Level: b.Level, Text: b.Text, Box: corners(b.Box)}
			for _, row := range b.Rows {
				cells := []string{}
				for _, c := range row.Cells {
					for len(cells) < c.Column {
						cells = append(cells, "")
					}
					cells = append(cells, b.Text[c.Start:c.End])
				}
				entry.Rows = append(entry.Rows, cells)
			}
			one.Blocks = append(one.Blocks, entry)
		}
		out.Pages = append(out.Pages, one)
	}
	data, err := json.MarshalIndent(out, "", "  ")
	return append(data, '\n'), err
}

// corners are the sides of a box as they are written: left, top, right, bottom.
func corners(r pdf.Rect) [4]float32 { return [4]float32{r.X0, r.Y0, r.X1, r.Y1} }
