// Command corpus makes what the reader is trained on of what lies in train: it prints the
// documents in train/documents to PDF, and makes question sets of the lists in
// train/questions, finding the page of each quotation.
//
//	go run ./train/corpus
package main

import (
	"bytes"
	"context"
	"fmt"
	"html"
	"log"
	"os"
	"path/filepath"
	"strings"

	"github.com/chromedp/chromedp"
	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/extension"

	"jardinet/measure/questionset"
)

const (
	texts   = "train/documents"
	lists   = "train/questions/made"
	printed = "bench/cache/made"
)

func main() {
	log.SetFlags(0)
	if err := run(); err != nil {
		log.Fatal("corpus: ", err)
	}
}

func run() error {
	if err := os.MkdirAll(printed, 0o755); err != nil {
		return err
	}
	paths, err := filepath.Glob(texts + "/*.md")
	if err != nil {
		return err
	}
	options := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.NoSandbox, chromedp.DisableGPU)
	allocator, stopAllocator := chromedp.NewExecAllocator(context.Background(), options...)
	defer stopAllocator()
	browser, stop := chromedp.NewContext(allocator)
	defer stop()
	var all bytes.Buffer
	for _, path := range paths {
		name := strings.TrimSuffix(filepath.Base(path), ".md")
		pdf := filepath.Join(printed, name+".pdf")
		if err := printTo(browser, path, pdf); err != nil {
			return fmt.Errorf("%s: %w", path, err)
		}
		set, err := questions(name, pdf)
		if err != nil {
			return fmt.Errorf("%s: %w", name, err)
		}
		all.Write(set)
	}
	log.Printf("%d documents, %d questions", len(paths), bytes.Count(all.Bytes(), []byte("\n")))
	return os.WriteFile("train/questions/made.jsonl", all.Bytes(), 0o644)
}

// questions makes the set of one document, whose lines leave its name out of the evidence.
func questions(name, pdf string) ([]byte, error) {
	data, err := os.ReadFile(filepath.Join(lists, name+".txt"))
	if err != nil {
		return nil, err
	}
	var named strings.Builder
	for line := range strings.Lines(string(data)) {
		fields := strings.Split(strings.TrimRight(line, "\n"), " | ")
		if len(fields) > 4 && strings.TrimSpace(fields[4]) != "" {
			fields[4] = name + " " + strings.TrimSpace(fields[4])
		}
		named.WriteString(strings.Join(fields, " | ") + "\n")
	}
	list := questionset.List{Prefix: name + "-", Documents: map[string]string{name: pdf}, Closest: true}
	return list.Set([]byte(named.String()))
}

const style = `@page { size: A4; margin: 24mm 22mm } body { font: 11.5pt/1.5 "Liberation Serif", serif; margin: 0 }
h1, h2, th { font-family: "Liberation Sans", sans-serif } table { border-collapse: collapse; width: 100%; margin: 4mm 0 }
th, td { border-bottom: .5pt solid #888; padding: 1.5mm 2mm; text-align: left; vertical-align: top } td:first-child { white-space: nowrap }`

func printTo(browser context.Context, path, pdf string) error {
	source, err := os.ReadFile(path)
	if err != nil {
		return err
	}
	var body bytes.Buffer
	if err := goldmark.New(goldmark.WithExtensions(extension.Table)).Convert(source, &body); err != nil {
		return err
	}
	title, _, _ := strings.Cut(strings.TrimPrefix(string(source), "# "), "\n")
	file, err := os.CreateTemp("", "*.html")
	if err != nil {
		return err
	}
	defer os.Remove(file.Name())
	fmt.Fprintf(file, "<!doctype html><meta charset=utf-8><title>%s</title><style>%s</style>%s", html.EscapeString(title), style, body.String())
	if err := file.Close(); err != nil {
		return err
	}
	tab, closeTab := chromedp.NewContext(browser)
	defer closeTab()
	if err := chromedp.Do(tab, chromedp.Navigate("file://"+file.Name())); err != nil {
		return err
	}
	data, err := chromedp.Run(tab, chromedp.PrintToPDF(chromedp.PDFPreferCSSPageSize()))
	if err != nil {
		return err
	}
	return os.WriteFile(pdf, data, 0o644)
}
