// Command confidence measures how well answers know whether they are right, and
// fits that knowledge.
//
//	go run ./bench/quality            # fills bench/cache/quality
//	go run ./bench/confidence [-fit]  # measures; with -fit writes answer/confidence.json
//
// Every question is answered, however little speaks for it. What is known of the
// evidence is mapped to the probability that the answer is right by logistic
// regression, fitted on the training halves of the questions on real manuals and
// on the demo's documents. The curve on the other halves tells which share of the
// questions is answered at each confidence, and which share of those wrongly.
package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io/fs"
	"log"
	"math"
	"os"
	"slices"
	"text/tabwriter"

	"jardinet/answer"
	"jardinet/bench/manuals"
	"jardinet/demo"
	"jardinet/measure"
	"jardinet/pdf"
	"jardinet/service"
)

func main() {
	pdf.ServeReader()
	log.SetFlags(0)
	write := flag.Bool("fit", false, "fit the weights and write them to answer/confidence.json")
	data := flag.String("data", "bench/cache/quality", "where bench/quality keeps the manuals")
	flag.Parse()
	if err := run(context.Background(), *data, *write); err != nil {
		log.Fatal("confidence: ", err)
	}
}

// A sample is what is known of one answer and whether it was right.
type sample struct {
	signals    []float64
	right      bool
	answerable bool
	confidence float64
}

func run(ctx context.Context, data string, write bool) error {
	onManuals, err := service.Open(ctx, service.Options{Data: data, Scripts: []string{"none"}})
	if err != nil {
		return err
	}
	defer onManuals.Close()
	dir, err := os.MkdirTemp("", "confidence")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	onDemo, err := service.Open(ctx, service.Options{Data: dir, Scripts: []string{"none"}})
	if err != nil {
		return err
	}
	defer onDemo.Close()
	if err := fill(ctx, onDemo); err != nil {
		return err
	}
	train, err := both(ctx, onManuals, onDemo, "train")
	if err != nil {
		return err
	}
	test, err := both(ctx, onManuals, onDemo, "test")
	if err != nil {
		return err
	}
	if write {
		if err := writeWeights(train, test); err != nil {
			return err
		}
	}
	curve("Training halves", train)
	curve("Test halves", test)
	return nil
}

// fill takes the demo's documents in.
func fill(ctx context.Context, s *service.Service) error {
	if _, err := s.CreateCollection(ctx, demo.Collection, nil); err != nil {
		return err
	}
	files, err := fs.Glob(demo.Documents(), "*.pdf")
	if err != nil {
		return err
	}
	for _, name := range files {
		f, err := demo.Documents().Open(name)
		if err != nil {
			return err
		}
		_, err = s.Add(ctx, demo.Collection, name, f)
		f.Close()
		if err != nil {
			return err
		}
	}
	_, err = s.Settle(ctx, demo.Collection)
	return err
}

// both answers one half of the questions on the manuals and on the demo.
func both(ctx context.Context, onManuals, onDemo *service.Service, half string) ([]sample, error) {
	set, err := manuals.Questions("bench/questions", half)
	if err != nil {
		return nil, err
	}
	out, err := answers(ctx, onManuals, "manuals", set)
	if err != nil {
		return nil, err
	}
	asked, err := os.ReadFile("demo/questions.jsonl")
	if err != nil {
		return nil, err
	}
	all, err := measure.ReadSet("questions.jsonl", asked)
	if err != nil {
		return nil, err
	}
	all.Questions = slices.DeleteFunc(all.Questions, func(q measure.Question) bool { return !slices.Contains(q.Tags, "half:"+half) })
	more, err := answers(ctx, onDemo, demo.Collection, all)
	return append(out, more...), err
}

func answers(ctx context.Context, s *service.Service, collection string, set *measure.Set) ([]sample, error) {
	asker, err := s.Asker(collection)
	if err != nil {
		return nil, err
	}
	asker.From = new(float64)
	m, err := measure.Run(ctx, asker, set, nil)
	if err != nil {
		return nil, err
	}
	var out []sample
	for i, r := range m.Records {
		if r.State == answer.NotFound {
			continue // no evidence at all
		}
		out = append(out, sample{r.Signals.Vector(), r.Outcome == measure.Right && r.Cited, set.Questions[i].CanBeAnswered(), r.Confidence})
	}
	return out, nil
}

// Settings of the fit.
const (
	rounds = 6000
	rate   = 0.5
	folds  = 10
)

// penalties on the weights that are tried.
var penalties = []float64{0.0003, 0.001, 0.003, 0.01, 0.03}

// choosePenalty returns the penalty whose weights make samples likeliest that
// were left out of the fit.
func choosePenalty(samples []sample) float64 {
	best, chosen := math.Inf(-1), 0.0
	for _, penalty := range penalties {
		sum := 0.0
		for fold := range folds {
			var in []sample
			for i, s := range samples {
				if i%folds != fold {
					in = append(in, s)
				}
			}
			w := fit(in, penalty)
			for i := fold; i < len(samples); i += folds {
				p := likely(w, samples[i].signals)
				if !samples[i].right {
					p = 1 - p
				}
				sum += math.Log(p)
			}
		}
		log.Printf("penalty %g: log likelihood %.4f", penalty, sum/float64(len(samples)))
		if sum > best {
			best, chosen = sum, penalty
		}
	}
	return chosen
}

// fit returns the weights of a logistic regression, by gradient ascent.
func fit(samples []sample, penalty float64) []float64 {
	w := make([]float64, len(answer.SignalNames))
	for range rounds {
		g := make([]float64, len(w))
		for _, s := range samples {
			miss := -likely(w, s.signals)
			if s.right {
				miss++
			}
			for k, v := range s.signals {
				g[k] += miss * v
			}
		}
		for k := range w {
			step := g[k] / float64(len(samples))
			if k > 0 {
				step -= penalty * w[k]
			}
			w[k] += rate * step
		}
	}
	return w
}

func likely(w, signals []float64) float64 {
	sum := 0.0
	for k, v := range signals {
		sum += w[k] * v
	}
	return 1 / (1 + math.Exp(-sum))
}

// What a wrong answer costs against what a right one is worth, for choosing
// from when on to answer: one to a question that the documents answer, and one
// that is invented.
const (
	costWrong    = 0.25
	costInvented = 0.75
)

// writeWeights fits and writes the weights, and gives all samples the
// confidence that they then have.
func writeWeights(train, test []sample) error {
	w := fit(train, choosePenalty(train))
	for _, samples := range [][]sample{train, test} {
		for i := range samples {
			samples[i].confidence = likely(w, samples[i].signals)
		}
	}
	best, from := math.Inf(-1), 0.0
	for at := 0.05; at < 0.8; at += 0.01 {
		worth := 0.0
		for _, s := range train {
			switch {
			case s.confidence < at:
			case s.right:
				worth++
			case s.answerable:
				worth -= costWrong
			default:
				worth -= costInvented
			}
		}
		if worth > best {
			best, from = worth, at
		}
	}
	named := map[string]float64{}
	for k, name := range answer.SignalNames {
		named[name] = math.Round(1000*w[k]) / 1000
	}
	file, err := json.MarshalIndent(map[string]any{
		"weights": named, "answer_from": math.Round(100*from) / 100, "whole_from": 0.6,
		"provenance": map[string]any{"program": "bench/confidence -fit", "questions": "training halves of bench/questions and demo/questions.jsonl", "answers": len(train)},
	}, "", "  ")
	if err != nil {
		return err
	}
	fmt.Printf("%s\n", file)
	return os.WriteFile("answer/confidence.json", append(file, '\n'), 0o644)
}

// curve prints risk against coverage.
func curve(title string, samples []sample) {
	fmt.Printf("\n%s, %d answers\n", title, len(samples))
	w := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', 0)
	fmt.Fprintln(w, "FROM CONFIDENCE\tANSWERED\tWRONG OF THOSE\tANSWERABLE REFUSED\tUNANSWERABLE REFUSED")
	for _, from := range []float64{0, 0.2, 0.3, 0.35, 0.4, 0.45, 0.5, 0.6, 0.7, 0.8} {
		var given, wrong, can, refused, cannot, silent float64
		for _, s := range samples {
			if s.answerable {
				can++
			} else {
				cannot++
			}
			switch {
			case s.confidence >= from && !s.right:
				wrong++
				given++
			case s.confidence >= from:
				given++
			case s.answerable:
				refused++
			default:
				silent++
			}
		}
		fmt.Fprintf(w, "%.2f\t%.3f\t%.3f\t%.3f\t%.3f\n", from, given/float64(len(samples)), wrong/max(1, given), refused/max(1, can), silent/max(1, cannot))
	}
	w.Flush()
}
