package main

import (
	"bytes"
	"context"
	"fmt"
	"html"
	"os"
	"strings"

	"github.com/chromedp/chromedp"
	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/extension"

	"jardinet/tools/chromium"
)

const style = `@page { size: A4; margin: 24mm 22mm } body { font: 11.5pt/1.5 "Liberation Serif", serif; margin: 0 }
h1, h2, th { font-family: "Liberation Sans", sans-serif } table { border-collapse: collapse; width: 100%; margin: 4mm 0 }
th, td { border-bottom: .5pt solid #888; padding: 1.5mm 2mm; text-align: left; vertical-align: top } td:first-child { white-space: nowrap }
pre { font: 9pt/1.3 "Liberation Mono", monospace; white-space: pre-wrap }`

// printMarkdown prints a text of ours.
func printMarkdown(browser context.Context, path, pdf string) error {
	source, err := os.ReadFile(path)
	if err != nil {
		return err
	}
	var body bytes.Buffer
	if err := goldmark.New(goldmark.WithExtensions(extension.Table)).Convert(source, &body); err != nil {
		return err
	}
	title, _, _ := strings.Cut(strings.TrimPrefix(string(source), "# "), "\n")
	return printHTML(browser, title, body.String(), pdf)
}

// printHTML prints a page's body.
func printHTML(browser context.Context, title, body, pdf string) error {
	document := fmt.Sprintf("<!doctype html><meta charset=utf-8><title>%s</title><style>%s</style>%s", html.EscapeString(title), style, body)
	data, err := chromium.Show(browser, document, chromedp.PrintToPDF(chromedp.PDFPreferCSSPageSize()))
	if err != nil {
		return err
	}
	return os.WriteFile(pdf, data, 0o644)
}
