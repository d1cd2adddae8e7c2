package main

import (
	"context"
	"os/exec"
	"regexp"
	"strings"

	"jardinet/bench/pages"
	"jardinet/layout"
	"jardinet/pdfium"
)

// readOurs reads a file with our own layout analysis.
func readOurs(ctx context.Context, engine *pdfium.Engine, path string) ([]reading, error) {
	doc, err := pages.Read(ctx, engine, path)
	if err != nil {
		return nil, err
	}
	var out []reading
	for i := range doc.Pages {
		out = append(out, ofPage(&doc.Pages[i]))
	}
	return out, nil
}

func ofPage(page *layout.Page) reading {
	var r reading
	var body, furniture []string
	for _, b := range page.Blocks {
		switch b.Kind {
		case layout.Furniture:
			furniture = append(furniture, b.Text)
		case layout.Figure: // its labels are no running text
		case layout.Table:
			var rows [][]cell
			for _, row := range b.Rows {
				var cells []cell
				for _, c := range row.Cells {
					cells = append(cells, cell{c.Column, b.Text[c.Start:c.End]})
				}
				rows = append(rows, cells)
			}
			r.tables = append(r.tables, rows)
			body = append(body, b.Text)
		default:
			body = append(body, b.Text)
		}
	}
	r.body, r.furniture = strings.Join(body, "\n"), strings.Join(furniture, "\n")
	return r
}

// readText reads a file with pdftotext. Its tables, with -layout, are lines
// with wide gaps.
func readText(ctx context.Context, path string, flags ...string) ([]reading, error) {
	out, err := exec.CommandContext(ctx, "pdftotext", append(flags, path, "-")...).Output()
	if err != nil {
		return nil, err
	}
	var readings []reading
	for _, page := range strings.Split(strings.TrimSuffix(string(out), "\f"), "\f") {
		r := reading{body: mended(page)}
		if len(flags) > 0 {
			r.tables = gapped(page)
		}
		readings = append(readings, r)
	}
	return readings, nil
}

var broken = regexp.MustCompile(`(\pL)-\n\s*(\p{Ll})`)

// mended joins words that were hyphenated at a line's end, to be fair.
func mended(s string) string { return broken.ReplaceAllString(s, "$1$2") }

var gap = regexp.MustCompile(`\s{2,}`)

// gapped takes runs of lines with gaps of two spaces for tables.
func gapped(page string) (tables [][][]cell) {
	var rows [][]cell
	flush := func() {
		if len(rows) > 1 {
			tables = append(tables, rows)
		}
		rows = nil
	}
	for _, line := range strings.Split(page, "\n") {
		parts := gap.Split(strings.TrimSpace(line), -1)
		if len(parts) < 2 {
			flush()
			continue
		}
		var cells []cell
		for i, part := range parts {
			cells = append(cells, cell{i, part})
		}
		rows = append(rows, cells)
	}
	flush()
	return tables
}
