package main

import (
	"bytes"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

func TestRaise(t *testing.T) {
	for s, want := range map[string]string{
		"2.4 × 10⁶ cells": "2.4 × 10<sup>6</sup> cells", "m³ and CO₂": "m<sup>3</sup> and CO<sub>2</sub>", "10⁻³": "10<sup>−3</sup>", "plain": "plain",
	} {
		if got := raise(s); got != want {
			t.Errorf("%q becomes %q, want %q", s, got, want)
		}
	}
}

// written makes a text file and reads it with facts.
func written(t *testing.T, content string) (*text, error) {
	t.Helper()
	path := filepath.Join(t.TempDir(), "x.md")
	if err := os.WriteFile(path, []byte(content), 0o644); err != nil {
		t.Fatal(err)
	}
	return readText(path, map[string]any{"keeper": "Dr Ilse Brandvold"})
}

func TestReadText(t *testing.T) {
	got, err := written(t, "---\nfile: a.pdf\nproducer: fpdf\npoints: 14\n---\n# One\n\nKept by {{.keeper}}, {{add 1 2}} times.\n")
	if err != nil {
		t.Fatal(err)
	}
	if got.File != "a.pdf" || got.Points != 14 || got.Size != "A4" || !strings.Contains(got.Body, "Kept by Dr Ilse Brandvold, 3 times.") {
		t.Errorf("the text is %+v", got)
	}
	for _, bad := range []string{"no head", "---\nfile: [\n---\nx", "---\nfile: a\n---\n{{.keeper"} {
		if _, err := written(t, bad); err == nil {
			t.Errorf("%q is read", bad)
		}
	}
}

const everything = `# Title

<!-- break -->

<!-- contents -->

<!-- body -->

# 1 First

Some **bold** and *slanted* text with a
second line.

## 1.1 List

1. One
2. Two

- Bullet

> WARNING. Nobody works alone.

| Place | Limit |
| --- | --- |
| Line | 15 |
| Yard, which has a long name that needs to be broken over more than one line of its cell | 3 |
`

func TestSetIsAPDFAndTheSameEveryTime(t *testing.T) {
	one, err := set(&text{Size: "A5", Title: "Test", Header: "Header", Footer: "Footer", Section: true, Body: everything})
	if err != nil {
		t.Fatal(err)
	}
	if !bytes.HasPrefix(one, []byte("%PDF-")) || len(one) < 10_000 {
		t.Errorf("%d bytes, beginning with %.8q", len(one), one)
	}
	two, err := set(&text{Size: "A5", Title: "Test", Header: "Header", Footer: "Footer", Section: true, Body: everything})
	if err != nil || !bytes.Equal(one, two) {
		t.Errorf("the second time it differs, error %v", err)
	}
}

func TestToHTML(t *testing.T) {
	got, err := toHTML(&text{Size: "A4", Title: "A & B", Language: "fr", Body: everything})
	if err != nil {
		t.Fatal(err)
	}
	for _, part := range []string{"<html lang=fr>", "<title>A &amp; B</title>", `<div class="break"></div>`, "<td>15</td>", "<blockquote>", "size: A4"} {
		if !strings.Contains(got, part) {
			t.Errorf("%q is missing", part)
		}
	}
}
