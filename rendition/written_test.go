package rendition

import (
	"bytes"
	"strings"
	"testing"
)

const letter = "## How deep is the pond?\n\n**1.4 m**\n\n> It is 1.4 m deep. [1]\n\n1. [ponds.pdf, page 2](/c/garden/pages/ponds.pdf/2)\n\n<script>alert(1)</script>\n"

func TestMarkdownHTML(t *testing.T) {
	page, err := MarkdownHTML("A <talk>", letter)
	if err != nil {
		t.Fatal(err)
	}
	for _, part := range []string{"<title>A &lt;talk&gt;</title>", "<h2>How deep is the pond?</h2>", `<a href="/c/garden/pages/ponds.pdf/2">ponds.pdf, page 2</a>`, "<strong>1.4 m</strong>"} {
		if !strings.Contains(string(page), part) {
			t.Errorf("the page lacks %s", part)
		}
	}
	if bytes.Contains(page, []byte("<script")) {
		t.Error("a script came through")
	}
}

func TestMarkdownPDF(t *testing.T) {
	pages, err := MarkdownPDF("A talk", letter)
	if err != nil || !bytes.HasPrefix(pages, []byte("%PDF-")) {
		t.Fatalf("%.20q: %v", pages, err)
	}
	again, err := MarkdownPDF("A talk", letter)
	if err != nil || !bytes.Equal(pages, again) {
		t.Errorf("the same text gives other bytes: %v", err)
	}
}
