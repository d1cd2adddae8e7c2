// Command quality measures retrieval and answers on real manuals, beside plain ways to
// find a page.
//
//	go run ./bench/quality [-results bench/results/quality.json] [-cut structure|words|page] [-target 160] [-only unseen]
//
// First come the questions of bench/questions/unseen, on manuals that nothing is fitted
// on; then those on the known manuals, test and train, which are split by document; then
// the demo's own, bare of glossary and lessons. The baselines are SQLite's FTS5 with
// bm25() over one row a page and over one row a passage of ours, and pages in random order.
package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"log"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"text/tabwriter"

	"jardinet/api"
	"jardinet/bench/manuals"
	"jardinet/measure"
	"jardinet/passage"
	"jardinet/pdfium"
	"jardinet/service"
)

const cache = "bench/cache"

// A corpus is documents with the question sets on them.
type corpus struct {
	name string
	sets []string // in bench/questions, or "demo"
}

var corpora = []corpus{{"unseen", []string{"unseen"}}, {"known", []string{"test", "train"}}, {"demo", []string{"demo"}}}

// A half is what was measured with one question set.
type half struct {
	Set       string                      `json:"set"`
	Questions int                         `json:"questions"`
	Figures   []measure.Figure            `json:"figures"`
	ByTag     map[string][]measure.Figure `json:"by_tag"`
	Stages    []measure.Stage             `json:"stages_ms"`
	Found     map[string]found            `json:"found"` // by what passages were found by, and by baselines
}

// A found is how well one way finds pages.
type found struct {
	Figures []measure.Figure            `json:"figures"`
	ByTag   map[string][]measure.Figure `json:"by_tag"`
}

func main() {
	pdfium.ServeReader()
	log.SetFlags(0)
	results := flag.String("results", "bench/results/quality.json", "where to write the figures")
	cut := flag.String("cut", "", "cut passages by structure, words or page")
	target := flag.Int("target", passage.DefaultRecipe.Target, "words of a passage")
	only := flag.String("only", "", "measure this corpus alone: unseen, known or demo")
	flag.Parse()
	recipe := api.DefaultRecipe
	recipe.Passage.Cut, recipe.Passage.Target = passage.Cut(*cut), *target
	if err := run(context.Background(), *results, *only, &recipe); err != nil {
		log.Fatal("quality: ", err)
	}
}

func run(ctx context.Context, results, only string, recipe *api.Recipe) error {
	if err := manuals.Fetch(ctx, cache+"/manuals", log.Printf); err != nil {
		return err
	}
	// What was read by an older program would not tell how this one does.
	if err := os.RemoveAll(cache + "/quality"); err != nil {
		return err
	}
	var out []half
	for _, c := range corpora {
		if only != "" && c.name != only {
			continue
		}
		halves, err := c.measure(ctx, recipe)
		if err != nil {
			return fmt.Errorf("%s: %w", c.name, err)
		}
		out = append(out, halves...)
	}
	data, err := json.MarshalIndent(out, "", "  ")
	if err != nil {
		return err
	}
	if err := os.MkdirAll(filepath.Dir(results), 0o755); err != nil {
		return err
	}
	return os.WriteFile(results, append(data, '\n'), 0o644)
}

// measure takes a corpus in and asks its questions. Scanned pages are read in the demo
// alone, which has a document that is one; the manuals' figures hold without Tesseract.
func (c *corpus) measure(ctx context.Context, recipe *api.Recipe) ([]half, error) {
	options := service.Options{Data: cache + "/quality", Scripts: []string{"none"}}
	if c.name == "demo" {
		options.Scripts = nil
	}
	s, err := service.Open(ctx, options)
	if err != nil {
		return nil, err
	}
	defer s.Close()
	files := c.files()
	if err := manuals.Fill(ctx, s, c.name, files, recipe); err != nil {
		return nil, err
	}
	pages, err := pageTexts(ctx, files)
	if err != nil {
		return nil, err
	}
	var out []half
	for _, name := range c.sets {
		h, err := measureHalf(ctx, s, c.name, name, pages)
		if err != nil {
			return nil, err
		}
		out = append(out, *h)
		h.print()
	}
	return out, nil
}

// files returns the paths of a corpus's documents.
func (c *corpus) files() []string {
	list := manuals.Known()
	switch c.name {
	case "unseen":
		list = manuals.Unseen()
	case "demo":
		files, err := filepath.Glob("demo/documents/*.pdf")
		if err != nil {
			panic(err) // the pattern is a constant
		}
		return files
	}
	var out []string
	for _, m := range list {
		out = append(out, filepath.Join(cache, "manuals", m.Name))
	}
	return out
}

// questions reads a set.
func questions(name string) (*measure.Set, error) {
	if name != "demo" {
		return manuals.Questions("bench/questions", name)
	}
	data, err := os.ReadFile("demo/questions.jsonl")
	if err != nil {
		return nil, err
	}
	return measure.ReadSet("demo", data)
}

func measureHalf(ctx context.Context, s *service.Service, collection, name string, pages *pageStore) (*half, error) {
	set, err := questions(name)
	if err != nil {
		return nil, err
	}
	m, err := s.Measure(ctx, collection, set)
	if err != nil {
		return nil, err
	}
	h := &half{Set: name, Questions: len(set.Questions), Figures: m.Figures, ByTag: m.ByTag, Stages: m.Stages, Found: map[string]found{}}
	for _, w := range ways {
		find, err := w.open(ctx, s, collection, pages)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", w.name, err)
		}
		m, err := measure.Retrieval(set, func(q *measure.Question) ([]measure.Retrieved, error) { return find(q.Question) })
		if err != nil {
			return nil, fmt.Errorf("%s: %w", w.name, err)
		}
		h.Found[w.name] = found{m.Figures, m.ByTag}
	}
	return h, nil
}

// print shows how well each way finds pages, by kind of question, and the figures of
// answers.
func (h *half) print() {
	fmt.Printf("\n%s, %d questions\n\n", h.Set, h.Questions)
	w := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', 0)
	fmt.Fprintln(w, "FOUND BY\tKIND\tQUESTIONS\tRECALL@1\tRECALL@5\t95 %\tMRR@10")
	for _, way := range ways {
		f := h.Found[way.name]
		row(w, way.name, "all", f.Figures)
		for _, kind := range slices.Sorted(maps.Keys(f.ByTag)) {
			if named(f.ByTag[kind], "page recall@5") != nil {
				row(w, "", kind, f.ByTag[kind])
			}
		}
	}
	w.Flush()
	fmt.Println()
	fmt.Fprintln(w, "ANSWERS\tVALUE\t95 %\tQUESTIONS")
	for _, f := range h.Figures {
		fmt.Fprintf(w, "%s\t%.3f\t%.3f – %.3f\t%d\n", f.Name, f.Value, f.Low, f.High, f.Questions)
	}
	w.Flush()
}

func row(w io.Writer, way, kind string, figures []measure.Figure) {
	five := named(figures, "page recall@5")
	fmt.Fprintf(w, "%s\t%s\t%d\t%s\t%s\t%s\t%s\n", way, kind, five.Questions, value(named(figures, "page recall@1")), value(five), interval(five), value(named(figures, "MRR@10")))
}

func named(figures []measure.Figure, name string) *measure.Figure {
	for i := range figures {
		if figures[i].Name == name {
			return &figures[i]
		}
	}
	return nil
}

func value(f *measure.Figure) string {
	if f == nil {
		return "–"
	}
	return fmt.Sprintf("%.3f", f.Value)
}

func interval(f *measure.Figure) string {
	if f == nil {
		return "–"
	}
	return fmt.Sprintf("%.2f – %.2f", f.Low, f.High)
}
