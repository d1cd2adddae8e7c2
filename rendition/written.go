package rendition

import (
	"bytes"
	"fmt"
	"html"

	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/extension"
)

// style is how a text looks that is handed on as a page of the web.
const style = "body{font:1rem/1.5 Georgia,serif;max-width:42rem;margin:2rem auto;padding:0 1rem;color:#222}blockquote{margin:0;padding-left:1rem;border-left:3px solid #aaa}table{border-collapse:collapse}td,th{border:1px solid #aaa;padding:.2rem .5rem}"

// gfm reads Markdown with tables; HTML within it is left out.
var gfm = goldmark.New(goldmark.WithExtensions(extension.GFM))

// MarkdownHTML makes a page of the web of a text in Markdown.
func MarkdownHTML(title, text string) ([]byte, error) {
	var out bytes.Buffer
	fmt.Fprintf(&out, "<!doctype html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n<title>%s</title>\n<style>%s</style>\n</head>\n<body>\n", html.EscapeString(title), style)
	if err := gfm.Convert([]byte(text), &out); err != nil {
		return nil, fmt.Errorf("rendition: %w", err)
	}
	out.WriteString("</body>\n</html>\n")
	return out.Bytes(), nil
}

// MarkdownPDF sets a text in Markdown on A4 pages.
func MarkdownPDF(title, text string) ([]byte, error) {
	t, err := readMarkdown([]byte(text))
	if err != nil {
		return nil, err
	}
	t.Title = title
	return PDF(t)
}
