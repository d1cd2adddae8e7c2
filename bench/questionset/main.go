// Command questionset makes the question sets in bench/questions of the lists beside
// them, finding the page of each quotation: train, test and unseen on the manuals, demo
// on the demo's documents. A document is named by its file name without ".pdf".
package main

import (
	"context"
	"log"
	"os"
	"path/filepath"
	"strings"

	"jardinet/bench/manuals"
	"jardinet/measure/questionset"
)

func main() {
	log.SetFlags(0)
	if err := run(); err != nil {
		log.Fatal("questionset: ", err)
	}
}

func run() error {
	const cache = "bench/cache/manuals"
	if err := manuals.Fetch(context.Background(), cache, log.Printf); err != nil {
		return err
	}
	onKnown, onUnseen, onDemo := map[string]string{}, map[string]string{}, map[string]string{}
	for _, m := range manuals.Known() {
		onKnown[strings.TrimSuffix(m.Name, ".pdf")] = filepath.Join(cache, m.Name)
	}
	for _, m := range manuals.Unseen() {
		onUnseen[strings.TrimSuffix(m.Name, ".pdf")] = filepath.Join(cache, m.Name)
	}
	files, err := filepath.Glob("demo/documents/*.pdf")
	if err != nil {
		return err
	}
	for _, path := range files {
		onDemo[strings.TrimSuffix(filepath.Base(path), ".pdf")] = path
	}
	for _, list := range []questionset.List{
		{Prefix: "train-", Documents: onKnown, Everywhere: true},
		{Prefix: "test-", Documents: onKnown, Everywhere: true},
		{Prefix: "unseen-", Documents: onUnseen, Everywhere: true},
		{Prefix: "demo-", Documents: onDemo},
	} {
		list.Warn = func(s string) { log.Print(s) }
		name := strings.TrimSuffix(list.Prefix, "-")
		base := filepath.Join("bench/questions", name)
		data, err := os.ReadFile(base + ".txt")
		if err != nil {
			return err
		}
		set, err := list.Set(data)
		if err != nil {
			return err
		}
		if err := os.WriteFile(base+".jsonl", set, 0o644); err != nil {
			return err
		}
		log.Printf("%s.jsonl: %d questions", base, strings.Count(string(set), "\n"))
	}
	return nil
}
