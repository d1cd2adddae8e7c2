// Command ranking measures how passages are ranked, part by part, and fits the
// weights of the parts.
//
//	go run ./bench/quality         # fills bench/cache/quality
//	go run ./bench/ranking [-fit]  # measures; with -fit writes rank/weights.json
//
// Weights are fitted on the training questions on real manuals alone. Measured
// are those questions, each ranked by weights fitted on the other documents'; the
// test questions; and two sets about made-up policies: a layperson's questions, and
// questions in another language than the text.
package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"log"
	"math"
	"os"
	"slices"

	"jardinet/bench/manuals"
	"jardinet/measure"
	"jardinet/pdfium"
	"jardinet/rank"
	"jardinet/service"
)

func main() {
	pdfium.ServeReader()
	log.SetFlags(0)
	write := flag.Bool("fit", false, "fit the weights and write them to rank/weights.json")
	blind := flag.Bool("train", false, "measure the training questions alone")
	data := flag.String("data", "bench/cache/quality", "where bench/quality keeps the manuals")
	flag.Parse()
	if err := run(context.Background(), *data, *write, *blind); err != nil {
		log.Fatal("ranking: ", err)
	}
}

func run(ctx context.Context, data string, write, blind bool) error {
	s, err := service.Open(ctx, service.Options{Data: data, Scripts: []string{"none"}})
	if err != nil {
		return err
	}
	defer s.Close()
	set, train, err := half(ctx, s, "train")
	if err != nil {
		return err
	}
	if write {
		if err := writeWeights(set, fit(train, everything)); err != nil {
			return err
		}
	}
	crossed("Training questions, each ranked by weights fitted on the other documents'", train)
	if blind {
		return nil
	}
	_, test, err := half(ctx, s, "test")
	if err != nil {
		return err
	}
	weights := map[string][]float64{}
	for _, v := range variants {
		weights[v.name] = fit(train, v.features)
	}
	compare("Test questions", test, weights)
	for _, p := range policySets {
		lists, err := p.lists(ctx)
		if err != nil {
			return err
		}
		compare(p.title, lists, weights)
	}
	return nil
}

// half gathers the candidates for one half of the questions on the manuals.
func half(ctx context.Context, s *service.Service, name string) (*measure.Set, []list, error) {
	set, err := manuals.Questions("bench/questions", name)
	if err != nil {
		return nil, nil, err
	}
	answerer, err := s.Answerer("known")
	if err != nil {
		return nil, nil, err
	}
	var out []list
	for _, q := range set.Questions {
		if !q.CanBeAnswered() || len(q.After) > 0 {
			continue
		}
		found, err := answerer.Find(ctx, q.Question, 1000)
		if err != nil {
			return nil, nil, err
		}
		l := list{Document: q.Places()[0].Document, Kind: "other kinds"}
		if slices.Contains(q.Tags, "paraphrase") {
			l.Kind = "paraphrased"
		}
		for _, c := range found.Candidates {
			l.Features = append(l.Features, c.Features.Vector())
			l.Right = append(l.Right, slices.ContainsFunc(q.Places(), func(e measure.Evidence) bool {
				return e.Document == c.Document.Name && slices.Contains(c.Passage.Pages(), e.Page)
			}))
		}
		out = append(out, l)
	}
	return set, out, nil
}

func writeWeights(set *measure.Set, w []float64) error {
	named := map[string]float64{}
	for i, name := range rank.Names {
		named[name] = math.Round(w[i]*1000) / 1000
	}
	file, err := json.MarshalIndent(map[string]any{
		"weights":    named,
		"provenance": map[string]any{"program": "bench/ranking -fit", "questions": set.Name, "sha256": set.SHA256},
	}, "", "  ")
	if err != nil {
		return err
	}
	fmt.Printf("%s\n", file)
	return os.WriteFile("rank/weights.json", append(file, '\n'), 0o644)
}
