package main

import (
	"bytes"
	"context"
	"fmt"
	"html"
	"os"
	"path/filepath"
	"strings"

	"github.com/chromedp/chromedp"
	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/extension"
)

const style = `@page { size: A4; margin: 24mm 22mm } body { font: 11.5pt/1.5 "Liberation Serif", serif; margin: 0 }
h1, h2, th { font-family: "Liberation Sans", sans-serif } table { border-collapse: collapse; width: 100%; margin: 4mm 0 }
th, td { border-bottom: .5pt solid #888; padding: 1.5mm 2mm; text-align: left; vertical-align: top } td:first-child { white-space: nowrap }
pre { font: 9pt/1.3 "Liberation Mono", monospace; white-space: pre-wrap }`

// newBrowser starts a browser without a window.
func newBrowser() (browser context.Context, stop func()) {
	options := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.NoSandbox, chromedp.DisableGPU)
	allocator, stopAllocator := chromedp.NewExecAllocator(context.Background(), options...)
	browser, stopBrowser := chromedp.NewContext(allocator)
	return browser, func() { stopBrowser(); stopAllocator() }
}

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
	file, err := os.CreateTemp("", "*.html")
	if err != nil {
		return err
	}
	defer os.Remove(file.Name())
	fmt.Fprintf(file, "<!doctype html><meta charset=utf-8><title>%s</title><style>%s</style>%s", html.EscapeString(title), style, body)
	if err := file.Close(); err != nil {
		return err
	}
	tab, closeTab := chromedp.NewContext(browser)
	defer closeTab()
	if err := chromedp.Do(tab, chromedp.Navigate("file://"+filepath.ToSlash(file.Name()))); err != nil {
		return err
	}
	data, err := chromedp.Run(tab, chromedp.PrintToPDF(chromedp.PDFPreferCSSPageSize()))
	if err != nil {
		return err
	}
	return os.WriteFile(pdf, data, 0o644)
}
