package main

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"html"
	"regexp"
	"strings"

	"github.com/chromedp/chromedp"
	"github.com/go-pdf/fpdf"
	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/extension"
	"github.com/yuin/goldmark/parser"
	markup "github.com/yuin/goldmark/renderer/html"

	"jardinet/tools/chromium"
)

const style = `
@page { size: %s; margin: 24mm 20mm 24mm 20mm }
@page wide { size: A4 landscape }
body { font: %gpt/1.6 "Liberation Serif", serif; color: #111; margin: 0 }
h1, h2, h3, th, caption, figcaption { font-family: "Liberation Sans", sans-serif }
h1 { font-size: 21pt; line-height: 1.2; margin: 0 0 10mm } h2 { font-size: 15pt; margin: 8mm 0 3mm } h3 { font-size: 12pt; margin: 6mm 0 2mm }
h1, h2, h3 { break-after: avoid } p { margin: 0 0 3mm; text-align: justify; hyphens: auto } li { margin-bottom: 1.5mm }
table { border-collapse: collapse; width: 100%%; font-size: 10pt; margin: 4mm 0 } tr { break-inside: avoid }
th, td { border-bottom: .5pt solid #888; padding: 1.5mm 2mm; text-align: left; vertical-align: top } th { border-bottom: 1pt solid #222 }
blockquote { border: 1pt solid #222; margin: 4mm 0; padding: 2mm 4mm; break-inside: avoid } blockquote p { margin: 0 }
sup { font-size: 65%%; vertical-align: super; line-height: 0 } sub { font-size: 65%%; vertical-align: sub; line-height: 0 }
.break { break-after: page } .wide { page: wide; break-before: page; break-after: page } .columns { column-count: 2; column-gap: 9mm }
.columns p { font-size: 11pt; line-height: 1.5 } figure { margin: 4mm 0; break-inside: avoid } figcaption { font-size: 9pt; margin-top: 2mm }
.cover { height: 200mm; padding-top: 60mm }`

// print sets a text with Chromium.
func print(browser context.Context, t *text) ([]byte, error) {
	document, err := toHTML(t)
	if err != nil {
		return nil, err
	}
	return onPaper(browser, document, chromedp.PrintToPDF(chromedp.PDFPreferCSSPageSize(), chromedp.PDFPrintBackground(),
		chromedp.PDFHeaderTemplate(running(t.Header, "")), chromedp.PDFFooterTemplate(running(t.Footer, `<span class="pageNumber"></span>`)),
		chromedp.PDFOutlineAndTagged()))
}

// onPaper shows a document as wide as a sheet of A4 and runs an action on it.
func onPaper(browser context.Context, document string, action chromedp.Action[[]byte]) ([]byte, error) {
	return chromium.Show(browser, document, action, chromedp.EmulateViewport(840, 1188, chromedp.EmulateScale(1.6)))
}

func running(left, right string) string {
	return fmt.Sprintf(`<div style="font: 8pt 'Liberation Sans'; width: 100%%; padding: 0 20mm; display: flex; justify-content: space-between"><span>%s</span><span>%s</span></div>`, html.EscapeString(left), right)
}

func toHTML(t *text) (string, error) {
	md := goldmark.New(goldmark.WithExtensions(extension.Table), goldmark.WithParserOptions(parser.WithAutoHeadingID()), goldmark.WithRendererOptions(markup.WithUnsafe()))
	var b bytes.Buffer
	if err := md.Convert([]byte(strings.ReplaceAll(t.Body, "<!-- break -->", `<div class="break"></div>`)), &b); err != nil {
		return "", err
	}
	return fmt.Sprintf("<!doctype html><html lang=%s><meta charset=utf-8><title>%s</title><style>%s</style>%s", t.Language, html.EscapeString(t.Title), fmt.Sprintf(style, t.Size, cmp.Or(t.Points, 12)), raise(b.String())), nil
}

var raised = regexp.MustCompile(`[⁰¹²³⁴⁵⁶⁷⁸⁹⁻]+`)
var lowered = regexp.MustCompile(`[₀-₉]+`)

// raise sets superscript characters as raised digits, as a word processor does.
func raise(s string) string {
	plain := strings.NewReplacer("⁰", "0", "¹", "1", "²", "2", "³", "3", "⁴", "4", "⁵", "5", "⁶", "6", "⁷", "7", "⁸", "8", "⁹", "9", "⁻", "−",
		"₀", "0", "₁", "1", "₂", "2", "₃", "3", "₄", "4", "₅", "5", "₆", "6", "₇", "7", "₈", "8", "₉", "9")
	s = raised.ReplaceAllStringFunc(s, func(m string) string { return "<sup>" + plain.Replace(m) + "</sup>" })
	return lowered.ReplaceAllStringFunc(s, func(m string) string { return "<sub>" + plain.Replace(m) + "</sub>" })
}

const typed = `body { font: 13pt/1.6 "Liberation Mono"; margin: 90px 100px; width: 640px; transform: rotate(-.6deg); filter: contrast(.9) blur(.3px); background: #f4f2ec } h1 { font-size: 18pt } p { text-align: left }`

// scan makes a PDF that holds nothing but a picture of the text.
func scan(browser context.Context, t *text) ([]byte, error) {
	document, err := toHTML(t)
	if err != nil {
		return nil, err
	}
	picture, err := onPaper(browser, strings.Replace(document, "</style>", typed+"</style>", 1), chromedp.FullScreenshot(60))
	if err != nil {
		return nil, err
	}
	pdf := fpdf.New("P", "mm", "A4", "")
	pdf.AddPage()
	pdf.RegisterImageOptionsReader("page", fpdf.ImageOptions{ImageType: "JPEG"}, bytes.NewReader(picture))
	pdf.ImageOptions("page", 0, 0, 210, 297, false, fpdf.ImageOptions{ImageType: "JPEG"}, 0, "")
	var out bytes.Buffer
	err = pdf.Output(&out)
	return out.Bytes(), err
}
