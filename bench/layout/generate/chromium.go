package main

import (
	"context"
	"fmt"
	"html"
	"strings"

	"github.com/chromedp/chromedp"

	"jardinet/bench/layout/truth"
	"jardinet/tools/chromium"
)

const css = `
@page { size: A4; margin: 0 } @page wide { size: A4 landscape; margin: 0 }
body { margin: 0; font: 10.5pt/1.4 "Liberation Serif" } .page { position: relative; box-sizing: border-box; height: 296.5mm; padding: 26mm 24mm; break-after: page; overflow: hidden }
.wide { page: wide; height: 209.5mm } .top { position: absolute; top: 12mm; left: 24mm; right: 24mm; font: 8pt "Liberation Sans"; display: flex; justify-content: space-between } .foot { position: absolute; bottom: 11mm; left: 0; right: 0; text-align: center; font: 8pt "Liberation Sans" }
h1 { font: bold 18pt "Liberation Sans"; margin: 0 0 5mm } h2 { font: bold 12pt "Liberation Sans"; margin: 4mm 0 2mm } .spaced { letter-spacing: .22em }
p { margin: 0 0 2.4mm; text-align: justify } .columns { display: grid; gap: 8mm; margin-bottom: 3mm } .flow { column-count: 2; column-gap: 8mm; column-fill: balance }
.item { display: flex; gap: 2mm; margin-bottom: 1.4mm } .item b { font-weight: normal; min-width: 5mm } table { border-collapse: collapse; margin: 3mm 0; width: 100%%; font-size: 9.5pt } td, th { padding: 1mm 2mm; text-align: left; vertical-align: top } .ruled td, .ruled th { border: .6pt solid #333 }
.columns table { font-size: 8.5pt } .box { border: .8pt solid #333; padding: 2mm 3mm; margin: 2mm 0; background: #f4f1e8 } .note { font-size: 8pt; border-top: .5pt solid #999; padding-top: 1mm; margin-top: 6mm } .beside { position: absolute; left: 158mm; top: 60mm; width: 38mm; font: italic 8pt/1.3 "Liberation Sans" } .besided { padding-right: 62mm }
figure { margin: 2mm 0 1mm } svg { display: block; width: 100%%; height: 46mm; font: 8pt "Liberation Sans" } .caption { font: 8.5pt "Liberation Sans"; margin: 0 0 3mm } sup, sub { font-size: 68%%; line-height: 0 }
.mark { position: absolute; top: 120mm; left: 30mm; font: bold 90pt "Liberation Sans"; color: #e4e0d8; transform: rotate(-45deg); z-index: -1 } .lines { position: absolute; left: 14mm; font: 7pt/1 "Liberation Sans"; color: #666 }`

func (p *paper) print(browser context.Context) ([]byte, error) {
	var b strings.Builder
	fmt.Fprintf(&b, "<!doctype html><html lang=en><meta charset=utf-8><title>%s</title><style>%s</style>", p.title, strings.ReplaceAll(css, "%%", "%"))
	for i, s := range p.sheets {
		left, right, foot := p.running(i)
		class := "page"
		if s.landscape {
			class += " wide"
		}
		if s.kind == "side notes" {
			class += " besided"
		}
		fmt.Fprintf(&b, `<div class="%s"><div class=top><span>%s</span><span>%s</span></div>`, class, html.EscapeString(left), html.EscapeString(right))
		if s.watermark != "" {
			fmt.Fprintf(&b, `<div class=mark>%s</div>`, s.watermark)
		}
		for _, band := range s.bands {
			writeBand(&b, band, s.numbered)
		}
		fmt.Fprintf(&b, `<div class=foot>%s</div></div>`, foot)
	}
	// Lines are numbered once the browser has broken them.
	b.WriteString(`<script>for (const p of document.querySelectorAll("[data-numbered]")) { const range = document.createRange(); range.selectNodeContents(p); const tops = [...new Set([...range.getClientRects()].map(r => Math.round(r.top)))].sort((a, b) => a - b); const page = p.closest(".page"), top = page.getBoundingClientRect().top; for (const t of tops) { page.lines = (page.lines || 0) + 1; const n = document.createElement("span"); n.className = "lines"; n.style.top = (t - top + 5) + "px"; n.textContent = page.lines; page.append(n) } }</script>`)
	return chromium.Show(browser, b.String(), chromedp.PrintToPDF(chromedp.PDFPreferCSSPageSize(), chromedp.PDFPrintBackground()))
}

func writeBand(b *strings.Builder, band band, numbered bool) {
	if band.flow {
		b.WriteString("<div class=flow>")
	} else if n := len(band.columns); n > 1 {
		fmt.Fprintf(b, `<div class=columns style="grid-template-columns: repeat(%d, 1fr)">`, n)
	}
	for _, column := range band.columns {
		if len(band.columns) > 1 && !band.flow {
			b.WriteString("<div>")
		}
		for _, piece := range column {
			writePiece(b, piece, numbered)
		}
		if len(band.columns) > 1 && !band.flow {
			b.WriteString("</div>")
		}
	}
	if len(band.columns) > 1 {
		b.WriteString("</div>")
	}
}

func inline(s string) string {
	var b strings.Builder
	for _, part := range shifts(s) {
		open, end := "", ""
		switch part.by {
		case 1:
			open, end = "<sup>", "</sup>"
		case -1:
			open, end = "<sub>", "</sub>"
		}
		b.WriteString(open + html.EscapeString(part.text) + end)
	}
	return b.String()
}

func writePiece(b *strings.Builder, p piece, numbered bool) {
	text := inline(p.Text)
	switch {
	case p.Kind == truth.Heading && p.spaced:
		fmt.Fprintf(b, "<h1 class=spaced>%s</h1>", text)
	case p.Kind == truth.Heading:
		fmt.Fprintf(b, "<h%d>%s</h%d>", p.level, text, p.level)
	case p.Kind == truth.Item:
		fmt.Fprintf(b, "<div class=item><b>%s</b><span>%s</span></div>", p.number, strings.TrimPrefix(text, p.number+" "))
	case p.Kind == truth.Table:
		writeTable(b, p)
	case p.Kind == truth.Figure:
		l := p.Labels
		fmt.Fprintf(b, `<figure><svg viewBox="0 0 300 130" preserveAspectRatio="xMinYMid"><g fill="none" stroke="#444"><rect x="4" y="30" width="70" height="40"/><rect x="115" y="10" width="70" height="40"/><rect x="225" y="60" width="70" height="40"/><path d="M74 50 L115 30 M185 30 L225 80 M20 70 V110 H225"/></g><text x="12" y="54">%s</text><text x="122" y="34">%s</text><text x="232" y="84">%s</text><text x="196" y="44">%s</text><text x="90" y="124">%s</text></svg></figure>`, l[0], l[1], l[2], l[3], l[4])
	case p.beside:
		fmt.Fprintf(b, "<div class=beside>%s</div>", text)
	default:
		class := map[truth.Kind]string{truth.Caption: "caption", truth.Note: "note"}[p.Kind]
		if p.boxed {
			class = "box"
		}
		attribute := ""
		if numbered {
			attribute = " data-numbered"
		}
		fmt.Fprintf(b, `<p class="%s"%s>%s</p>`, class, attribute, text)
	}
}

func writeTable(b *strings.Builder, p piece) {
	class := ""
	if p.ruled {
		class = "ruled"
	}
	fmt.Fprintf(b, `<table class="%s">`, class)
	for i, row := range p.Rows {
		b.WriteString("<tr>")
		for j := 0; j < len(row); j++ {
			if row[j] == "" {
				if j == 0 {
					b.WriteString("<th></th>")
				}
				continue
			}
			span := 1
			for j+span < len(row) && row[j+span] == "" {
				span++
			}
			cell := "td"
			if i == 0 || p.Rows[i][0] == "" {
				cell = "th"
			}
			fmt.Fprintf(b, "<%s colspan=%d>%s</%s>", cell, span, inline(row[j]), cell)
		}
		b.WriteString("</tr>")
	}
	b.WriteString("</table>")
}
