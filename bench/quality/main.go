// Command quality measures answers and retrieval on real manuals, beside plain
// ways to find a page.
//
//	go run ./bench/quality [-results bench/results/quality.json] [-cut structure|words|page] [-target 160]
//
// The question sets lie in bench/questions, train and test. They are split by
// document: thresholds and weights may be fitted on the first alone. The
// baselines are SQLite's FTS5 with bm25() over one row a page and over one row a
// passage of ours, and pages in random order.
package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"log"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"text/tabwriter"

	"jardinet/bench/manuals"
	"jardinet/measure"
	"jardinet/passage"
	"jardinet/pdf"
	"jardinet/service"
)

const cache = "bench/cache"

// A half is what was measured with one question set.
type half struct {
	Set       string                      `json:"set"`
	Questions int                         `json:"questions"`
	Figures   []measure.Figure            `json:"figures"`
	ByTag     map[string][]measure.Figure `json:"by_tag"`
	Stages    []measure.Stage             `json:"stages_ms"`
	Baselines map[string]baselined        `json:"baselines"`
}

// A baselined is what a baseline reaches.
type baselined struct {
	Figures []measure.Figure            `json:"figures"`
	ByTag   map[string][]measure.Figure `json:"by_tag"`
}

func main() {
	pdf.ServeReader()
	log.SetFlags(0)
	results := flag.String("results", "bench/results/quality.json", "where to write the figures")
	cut := flag.String("cut", "", "cut passages by structure, words or page")
	target := flag.Int("target", passage.DefaultRecipe.Target, "words of a passage")
	flag.Parse()
	recipe := service.DefaultRecipe
	recipe.Passage.Cut, recipe.Passage.Target = passage.Cut(*cut), *target
	if err := run(context.Background(), *results, &recipe); err != nil {
		log.Fatal("quality: ", err)
	}
}

func run(ctx context.Context, results string, recipe *service.Recipe) error {
	if err := manuals.Fetch(ctx, cache+"/manuals", log.Printf); err != nil {
		return err
	}
	// What was read by an older program would not tell how this one does.
	if err := os.RemoveAll(cache + "/quality"); err != nil {
		return err
	}
	s, err := service.Open(ctx, service.Options{Data: cache + "/quality", Scripts: []string{"none"}})
	if err != nil {
		return err
	}
	defer s.Close()
	if err := fill(ctx, s, recipe); err != nil {
		return err
	}
	pages, err := pageTexts(ctx)
	if err != nil {
		return err
	}
	var out []half
	for _, name := range []string{"train", "test"} {
		h, err := measureHalf(ctx, s, name, pages)
		if err != nil {
			return err
		}
		out = append(out, *h)
		h.print()
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

const collection = "manuals"

// fill takes the manuals in.
func fill(ctx context.Context, s *service.Service, recipe *service.Recipe) error {
	if _, err := s.CreateCollection(ctx, collection, recipe); err != nil {
		return err
	}
	for _, m := range manuals.All() {
		f, err := os.Open(filepath.Join(cache, "manuals", m.Name))
		if err != nil {
			return err
		}
		_, err = s.Add(ctx, collection, m.Name, f)
		f.Close()
		if err != nil {
			return err
		}
	}
	docs, err := s.Settle(ctx, collection)
	if err != nil {
		return err
	}
	for _, d := range docs {
		if d.State == "failed" {
			return fmt.Errorf("%s: %s", d.Name, d.Reason)
		}
	}
	return nil
}

func measureHalf(ctx context.Context, s *service.Service, name string, pages *pageStore) (*half, error) {
	set, err := manuals.Questions("bench/questions", name)
	if err != nil {
		return nil, err
	}
	m, err := s.Measure(ctx, collection, set)
	if err != nil {
		return nil, err
	}
	h := &half{Set: name + ".jsonl", Questions: len(set.Questions), Figures: m.Figures, ByTag: m.ByTag, Stages: m.Stages, Baselines: map[string]baselined{}}
	for _, b := range baselines {
		m, err := b.measure(ctx, s, set, pages)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", b.name, err)
		}
		h.Baselines[b.name] = baselined{m.Figures, m.ByTag}
	}
	return h, nil
}

// print shows the figures and, for retrieval, the baselines beside them.
func (h *half) print() {
	fmt.Printf("\n%s, %d questions\n", h.Set, h.Questions)
	w := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', 0)
	fmt.Fprint(w, "FIGURE\tJARDINET\t95 %")
	for _, b := range baselines {
		fmt.Fprint(w, "\t", b.name)
	}
	fmt.Fprintln(w)
	for _, f := range h.Figures {
		fmt.Fprintf(w, "%s\t%.3f\t%.3f – %.3f", f.Name, f.Value, f.Low, f.High)
		for _, b := range baselines {
			fmt.Fprint(w, "\t", value(named(h.Baselines[b.name].Figures, f.Name)))
		}
		fmt.Fprintln(w)
	}
	w.Flush()
	h.printKinds()
}

// printKinds shows the figures that matter most for each kind of question.
func (h *half) printKinds() {
	fmt.Println()
	w := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', 0)
	fmt.Fprintln(w, "KIND\tQUESTIONS\tRECALL@5\t95 %\tFTS5 PASSAGES\tMRR@10\tFTS5 PASSAGES\tACCEPTED\tWITH PAGE\tREFUSED")
	for _, kind := range slices.Sorted(maps.Keys(h.ByTag)) {
		ours, theirs := h.ByTag[kind], h.Baselines["FTS5 passages"].ByTag[kind]
		refused := named(ours, "refusals wrong")
		if kind == "unanswerable" {
			refused = named(ours, "refusals right")
		}
		questions := refused.Questions
		recall := named(ours, "page recall@5")
		fmt.Fprintf(w, "%s\t%d\t%s\t%s\t%s\t%s\t%s\t%s\t%s\t%s\n", kind, questions, value(recall), interval(recall),
			value(named(theirs, "page recall@5")), value(named(ours, "MRR@10")), value(named(theirs, "MRR@10")),
			value(named(ours, "answers accepted")), value(named(ours, "accepted, page cited")), value(refused))
	}
	w.Flush()
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
