package main

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"slices"

	"jardinet/digest"
	"jardinet/layout"
	"jardinet/pdfium"
	"jardinet/text"
)

// onKinds lists things of a kind over the demo's documents, and compares each list with the one that
// was made by hand.
func onKinds(ctx context.Context, e *pdfium.Engine) error {
	data, err := os.ReadFile("bench/digest/kinds.json")
	if err != nil {
		return err
	}
	var lists map[string][]string
	if err := json.Unmarshal(data, &lists); err != nil {
		return fmt.Errorf("kinds.json: %w", err)
	}
	paths, err := filepath.Glob("demo/documents/*.pdf")
	if err != nil {
		return err
	}
	var docs []*layout.Document
	for _, path := range paths {
		doc, _, err := open(ctx, e, path)
		if err != nil {
			return err
		}
		docs = append(docs, doc)
	}
	fmt.Println("recall · precision")
	var all count
	complete := 0
	for _, kind := range slices.Sorted(maps.Keys(lists)) {
		c := compare(kind, named(lists[kind]), listed(docs, kind), equal)
		fmt.Printf("  %-24s %s\n", kind, c)
		if c.right == c.listed {
			complete++
		}
		all.add(c)
	}
	fmt.Printf("all %s, complete %d of %d\n", all, complete, len(lists))
	return nil
}

// listed is what documents have of a kind, each once.
func listed(docs []*layout.Document, kind string) []item {
	var names []string
	for _, doc := range docs {
		items, _ := digest.List(doc, kind)
		for _, i := range items {
			if !slices.Contains(names, text.Normal(i.Text)) {
				names = append(names, text.Normal(i.Text))
			}
		}
	}
	return named(names)
}

func named(names []string) (out []item) {
	for _, n := range names {
		out = append(out, item{Is: text.Normal(n)})
	}
	return out
}
