// Command layout measures how well pages are read, on the labelled set in
// bench/layout/set, beside pdftotext with and without -layout.
//
//	go run ./bench/layout [-set DIR] [-pages]
package main

import (
	"context"
	"flag"
	"fmt"
	"log"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"text/tabwriter"

	"jardinet/bench/layout/truth"
	"jardinet/pdfium"
)

// A reader is one way to read a file.
type reader struct {
	name  string
	read  func(ctx context.Context, path string) ([]reading, error)
	whole bool // it does not tell furniture and figures apart
}

func readers(engine *pdfium.Engine) []reader {
	return []reader{
		{"jardinet", func(ctx context.Context, path string) ([]reading, error) { return readOurs(ctx, engine, path) }, false},
		{"pdftotext", func(ctx context.Context, path string) ([]reading, error) { return readText(ctx, path) }, true},
		{"pdftotext -layout", func(ctx context.Context, path string) ([]reading, error) { return readText(ctx, path, "-layout") }, true},
	}
}

func main() {
	pdfium.ServeReader()
	log.SetFlags(0)
	pages := flag.Bool("pages", false, "list the pages that are not read perfectly")
	set := flag.String("set", "bench/layout/set", "where the labelled pages are")
	flag.Parse()
	if err := run(context.Background(), *set, *pages); err != nil {
		log.Fatal("layout: ", err)
	}
}

func run(ctx context.Context, set string, each bool) error {
	all, err := truth.Read(filepath.Join(set, "truth.json"))
	if err != nil {
		return err
	}
	engine := pdfium.NewEngine(pdfium.Options{})
	defer engine.Close()
	w := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', 0)
	fmt.Fprintln(w, "READER\tPAGES\tORDER τ\tCHARACTERS\tCELL F1\tFURNITURE F1\tSHIFTED\tLABELS OUT")
	for _, r := range readers(engine) {
		byType, err := r.measure(ctx, set, all)
		if err != nil {
			return fmt.Errorf("%s: %w", r.name, err)
		}
		total := &score{}
		for _, s := range byType {
			total.add(s)
		}
		row(w, r.name, len(all), total)
		if each {
			for _, kind := range slices.Sorted(maps.Keys(byType)) {
				row(w, "  "+kind, 0, byType[kind])
			}
		}
	}
	return w.Flush()
}

func row(w *tabwriter.Writer, name string, pages int, s *score) {
	fmt.Fprintf(w, "%s\t%d\t%.4f\t%.4f\t%.4f\t%.4f\t%.4f\t%.4f\n", name, pages, s.order(), s.text(), s.cell1(), s.furniture1(), share(s.shifted, s.shiftedAll), share(s.labelsOut, s.labels))
}

// measure reads all files of the set and scores their pages, by type and
// producer.
func (r reader) measure(ctx context.Context, dir string, all []truth.Page) (map[string]*score, error) {
	byType := map[string]*score{}
	files := map[string][]reading{}
	for i := range all {
		page := &all[i]
		if files[page.File] == nil {
			readings, err := r.read(ctx, filepath.Join(dir, page.File))
			if err != nil {
				return nil, fmt.Errorf("%s: %w", page.File, err)
			}
			files[page.File] = readings
		}
		key := page.Type + ", " + page.Producer
		if byType[key] == nil {
			byType[key] = &score{}
		}
		byType[key].add(judge(page, &files[page.File][page.Number-1], r.whole))
	}
	return byType, nil
}
