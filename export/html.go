package export

import (
	"bytes"
	"fmt"
	"html"
	"strings"

	"jardinet/layout"
)

// writeHTML writes a page of the web with a section a page; each block says where it stands on the
// page as "left top right bottom", in points from the top left.
func writeHTML(d *About, doc *layout.Document) ([]byte, error) {
	var out bytes.Buffer
	fmt.Fprintf(&out, "<!doctype html>\n<html lang=%q>\n<head>\n<meta charset=\"utf-8\">\n<title>%s</title>\n", html.EscapeString(d.Language), html.EscapeString(d.Title))
	fmt.Fprintf(&out, "<meta name=\"document\" content=\"%s\">\n<meta name=\"sha256\" content=%q>\n</head>\n<body>\n", html.EscapeString(d.Name), d.SHA256)
	for i := range doc.Pages {
		p := &doc.Pages[i]
		fmt.Fprintf(&out, "<section id=\"page-%d\" data-page=\"%d\" aria-label=\"%s\">\n", p.Number, p.Number, html.EscapeString(pageMark(p)))
		for j := range p.Blocks {
			if b := &p.Blocks[j]; isRunning(b) {
				out.WriteString(elementOf(p, b) + "\n")
			}
		}
		out.WriteString("</section>\n")
	}
	out.WriteString("</body>\n</html>\n")
	return out.Bytes(), nil
}

// elementOf writes one block.
func elementOf(p *layout.Page, b *layout.Block) string {
	name := map[layout.Kind]string{layout.ListItem: "li", layout.Figure: "figure", layout.Caption: "figcaption", layout.Footnote: "aside", layout.Table: "table"}[b.Kind]
	inner := ""
	switch {
	case b.Kind == layout.Heading:
		name = fmt.Sprintf("h%d", min(max(b.Level, 1), 6))
	case b.Kind == layout.Table:
		inner = rowsOf(b)
	case name == "":
		name = "p"
	}
	if inner == "" {
		inner = linkedText(p, b)
	}
	box := b.Box
	return fmt.Sprintf("<%s data-box=\"%.1f %.1f %.1f %.1f\">%s</%s>", name, box.X0, box.Y0, box.X1, box.Y1, inner, name)
}

func rowsOf(b *layout.Block) string {
	var out strings.Builder
	for _, row := range b.Rows {
		cell := "td"
		if row.Header {
			cell = "th"
		}
		out.WriteString("<tr>")
		column := 0
		for _, c := range row.Cells {
			for ; column < c.Column; column++ {
				fmt.Fprintf(&out, "<%s></%s>", cell, cell)
			}
			fmt.Fprintf(&out, "<%s>%s</%s>", cell, html.EscapeString(b.Text[c.Start:c.End]), cell)
			column++
		}
		out.WriteString("</tr>")
	}
	return out.String()
}

// linkedText is a block's text with the links that lie on its words.
func linkedText(p *layout.Page, b *layout.Block) string {
	var out strings.Builder
	at, open := 0, ""
	for _, w := range b.Words {
		target := targetOf(p, w)
		if target != open && open != "" {
			out.WriteString("</a>")
		}
		out.WriteString(html.EscapeString(b.Text[at:w.Start]))
		if target != open && target != "" {
			fmt.Fprintf(&out, "<a href=\"%s\">", html.EscapeString(target))
		}
		open = target
		out.WriteString(html.EscapeString(b.Text[w.Start:w.End]))
		at = w.End
	}
	if open != "" {
		out.WriteString("</a>")
	}
	out.WriteString(html.EscapeString(b.Text[at:]))
	return out.String()
}

// targetOf is the address that a word leads to, empty for none.
func targetOf(p *layout.Page, w layout.Word) string {
	x, y := (w.Box.X0+w.Box.X1)/2, (w.Box.Y0+w.Box.Y1)/2
	for _, l := range p.Links {
		if x >= l.Box.X0 && x <= l.Box.X1 && y >= l.Box.Y0 && y <= l.Box.Y1 {
			return l.Target
		}
	}
	return ""
}
