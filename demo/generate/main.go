// Command generate makes the demo's PDF documents from demo/texts.
//
//	go run ./demo/generate          # documents, questions and lessons
//	go run ./demo/generate -lists   # questions and lessons alone
//
// Each text is Markdown behind a head of settings, and a template over the
// facts in facts.yaml, so that people, places and figures agree between
// documents. Two producers are used, since they write quite different PDF: a Go
// library that places each line itself, and Chromium's print-to-PDF, which
// makes tagged files with subset fonts. One document is a picture alone, as a
// scanner would make it.
package main

import (
	"bytes"
	"flag"
	"fmt"
	"log"
	"os"
	"path/filepath"
	"strings"
	"text/template"

	"gopkg.in/yaml.v3"

	"jardinet/tools/chromium"
)

// A text is one document before it is set.
type text struct {
	File     string
	Producer string  // fpdf, chromium or scan
	Size     string  // A4 or A5
	Points   float64 // size of the type, where it is not the usual one
	Title    string
	Header   string // of left pages, and of right pages unless Section is set
	Section  bool   // right pages carry the chapter's title
	Footer   string
	Language string
	Body     string `yaml:"-"`
}

func main() {
	log.SetFlags(0)
	lists := flag.Bool("lists", false, "make the lists of questions and lessons alone, of the documents as they are")
	flag.Parse()
	if !*lists {
		if err := run("demo/texts", "demo/documents"); err != nil {
			log.Fatal("generate: ", err)
		}
	}
	if err := questions("demo/texts/questions.txt", "demo/documents", "demo/questions.jsonl"); err != nil {
		log.Fatal("generate questions: ", err)
	}
	if err := lessons("demo/texts/lessons.txt", "demo/documents", "demo/lessons.jsonl"); err != nil {
		log.Fatal("generate lessons: ", err)
	}
}

func run(from, to string) error {
	facts, err := readFacts(filepath.Join(from, "facts.yaml"))
	if err != nil {
		return err
	}
	paths, err := filepath.Glob(filepath.Join(from, "*.md"))
	if err != nil {
		return err
	}
	browser, stop := chromium.Start()
	defer stop()
	for _, path := range paths {
		t, err := readText(path, facts)
		if err != nil {
			return fmt.Errorf("%s: %w", path, err)
		}
		var data []byte
		switch t.Producer {
		case "fpdf":
			data, err = set(t)
		case "chromium":
			data, err = print(browser, t)
		case "scan":
			data, err = scan(browser, t)
		default:
			err = fmt.Errorf("unknown producer %q", t.Producer)
		}
		if err != nil {
			return fmt.Errorf("%s: %w", path, err)
		}
		if err := os.WriteFile(filepath.Join(to, t.File), data, 0o644); err != nil {
			return err
		}
		log.Printf("%-34s %7d bytes", t.File, len(data))
	}
	return nil
}

func readFacts(path string) (map[string]any, error) {
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	var facts map[string]any
	return facts, yaml.Unmarshal(data, &facts)
}

// readText splits head and body and fills in the facts.
func readText(path string, facts map[string]any) (*text, error) {
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	head, body, ok := strings.Cut(strings.TrimPrefix(string(data), "---\n"), "\n---\n")
	if !ok {
		return nil, fmt.Errorf("no head between lines of ---")
	}
	t := &text{Size: "A4", Language: "en"}
	if err := yaml.Unmarshal([]byte(head), t); err != nil {
		return nil, err
	}
	tmpl, err := template.New(path).Funcs(template.FuncMap{"add": func(a, b int) int { return a + b }}).Parse(body)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	if err := tmpl.Execute(&out, facts); err != nil {
		return nil, err
	}
	t.Body = out.String()
	return t, nil
}
