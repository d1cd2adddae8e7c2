// Command author makes bench/questions/train.jsonl and test.jsonl of the lists
// beside them, finding the page of each quotation. A document is named by its
// file name without ".pdf".
package main

import (
	"context"
	"log"
	"os"
	"path/filepath"
	"strings"

	"jardinet/bench/manuals"
	"jardinet/measure/author"
)

func main() {
	log.SetFlags(0)
	if err := run(); err != nil {
		log.Fatal("author: ", err)
	}
}

func run() error {
	const cache = "bench/cache/manuals"
	if err := manuals.Fetch(context.Background(), cache, log.Printf); err != nil {
		return err
	}
	for _, half := range []string{"train", "test"} {
		list := author.List{Prefix: half + "-", Documents: map[string]string{}, Warn: func(s string) { log.Print(s) }, Everywhere: true}
		for _, m := range manuals.All() {
			list.Documents[strings.TrimSuffix(m.Name, ".pdf")] = filepath.Join(cache, m.Name)
		}
		base := filepath.Join("bench/questions", half)
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
