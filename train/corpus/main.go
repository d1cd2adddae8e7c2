// Command corpus makes what the reader is trained on of what lies in train: it prints the
// documents in train/documents to PDF, fetches the manuals of train/manuals.tsv out of
// Debian's packages, and makes question sets of the lists in train/questions, finding the
// page of each quotation.
//
//	go run ./train/corpus
package main

import (
	"bytes"
	"context"
	"fmt"
	"log"
	"os"
	"path/filepath"
	"strings"

	"jardinet/measure/questionset"
	"jardinet/tools/chromium"
)

const (
	printed = "bench/cache/made"
	fetched = "bench/cache/training"
)

func main() {
	log.SetFlags(0)
	if err := run(); err != nil {
		log.Fatal("corpus: ", err)
	}
}

func run() error {
	for _, dir := range []string{printed, fetched} {
		if err := os.MkdirAll(dir, 0o755); err != nil {
			return err
		}
	}
	browser, stop := chromium.Start()
	defer stop()
	if err := made(browser); err != nil {
		return err
	}
	if err := fromPackages(browser); err != nil {
		return err
	}
	return known()
}

// told prints a line of a list that is left out because what it quotes does not stand on
// one page as it is quoted, such as words that are hyphenated there.
func told(err error) { log.Print("left out: ", err) }

// made prints our own documents and makes their set.
func made(browser context.Context) error {
	paths, err := filepath.Glob("train/documents/*.md")
	if err != nil {
		return err
	}
	var all bytes.Buffer
	for _, path := range paths {
		name := strings.TrimSuffix(filepath.Base(path), ".md")
		pdf := filepath.Join(printed, name+".pdf")
		if older(pdf, path) {
			if err := printMarkdown(browser, path, pdf); err != nil {
				return fmt.Errorf("%s: %w", path, err)
			}
		}
		set, err := questions("train/questions/made", name, pdf)
		if err != nil {
			return fmt.Errorf("%s: %w", name, err)
		}
		all.Write(set)
	}
	log.Printf("%d documents, %d questions", len(paths), bytes.Count(all.Bytes(), []byte("\n")))
	return os.WriteFile("train/questions/made.jsonl", all.Bytes(), 0o644)
}

// older tells whether a file is not there, or older than what it is made of.
func older(made, of string) bool {
	m, err := os.Stat(made)
	if err != nil {
		return true
	}
	o, err := os.Stat(of)
	return err == nil && m.ModTime().Before(o.ModTime())
}

// fromPackages fetches the manuals and makes their set.
func fromPackages(browser context.Context) error {
	all, err := listed()
	if err != nil {
		return err
	}
	var sets bytes.Buffer
	for i := range all {
		m := &all[i]
		if err := m.fetch(browser, fetched); err != nil {
			return fmt.Errorf("%s: %w", m.name, err)
		}
		set, err := questions("train/questions/manuals", m.name, filepath.Join(fetched, m.name+".pdf"))
		if err != nil {
			return fmt.Errorf("%s: %w", m.name, err)
		}
		sets.Write(set)
	}
	log.Printf("%d manuals, %d questions", len(all), bytes.Count(sets.Bytes(), []byte("\n")))
	return os.WriteFile("train/questions/manuals.jsonl", sets.Bytes(), 0o644)
}

// known makes a further set on the manuals of bench/manuals.
func known() error {
	paths, err := filepath.Glob("train/questions/known/*.txt")
	if err != nil {
		return err
	}
	var sets bytes.Buffer
	for _, path := range paths {
		name := strings.TrimSuffix(filepath.Base(path), ".txt")
		set, err := questions("train/questions/known", name, filepath.Join("bench/cache/manuals", name+".pdf"))
		if err != nil {
			return fmt.Errorf("%s: %w", name, err)
		}
		sets.Write(set)
	}
	log.Printf("%d known manuals, %d questions", len(paths), bytes.Count(sets.Bytes(), []byte("\n")))
	return os.WriteFile("train/questions/known.jsonl", sets.Bytes(), 0o644)
}

// questions makes the set of one document, whose lines leave its name out of the evidence.
func questions(dir, name, pdf string) ([]byte, error) {
	data, err := os.ReadFile(filepath.Join(dir, name+".txt"))
	if err != nil {
		return nil, err
	}
	var named strings.Builder
	for line := range strings.Lines(string(data)) {
		if fields := questionset.Fields(strings.TrimRight(line, "\n")); fields[4] != "" {
			fields[4] = name + " " + fields[4]
			line = strings.Join(fields, " | ") + "\n"
		}
		named.WriteString(line)
	}
	list := questionset.List{Prefix: name + "-", Documents: map[string]string{name: pdf}, Closest: true, Skip: told}
	return list.Set([]byte(named.String()))
}
