// Command confidence fits how sure an answer is (answer/confidence.json) to the questions
// on documents that the reader was not trained on, and prints what that comes to: how
// many of the answers given are wrong, by how many questions are answered.
//
//	go run ./bench/confidence [-write] [-words 0.8]
//
// The documents are in bench/cache/train, where `go run ./train/candidates` puts them; one
// in six of them is kept for development, by the hash of its name, here as in
// train/examples.py.
package main

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"log"
	"os"

	"jardinet/answer"
	"jardinet/bench/shelf"
	"jardinet/measure"
	"jardinet/pdfium"
	"jardinet/service"
)

// sets are the question sets by the collections that their documents are in.
var sets = []struct{ collection, path string }{
	{"made", "train/questions/made.jsonl"},
	{"manuals", "train/questions/manuals.jsonl"},
	{"known", "bench/questions/train.jsonl"},
	{"known", "bench/questions/test.jsonl"},
	{"known", "train/questions/known.jsonl"},
}

func main() {
	pdfium.ServeReader()
	log.SetFlags(0)
	write := flag.Bool("write", false, "write what was fitted to answer/confidence.json")
	from := flag.Float64("words", 0.8, "probability of a span from which it is the short answer")
	missed := flag.String("misses", "", "write the questions that would be answered wrong to this file")
	flag.Parse()
	if *missed != "" {
		f, err := os.Create(*missed)
		if err != nil {
			log.Fatal("confidence: ", err)
		}
		defer f.Close()
		misses = f
	}
	if err := run(context.Background(), *write, *from); err != nil {
		log.Fatal("confidence: ", err)
	}
}

func run(ctx context.Context, write bool, from float64) error {
	s, err := service.Open(ctx, service.Options{Data: "bench/cache/train", Scripts: []string{"eng"}})
	if err != nil {
		return err
	}
	defer s.Close()
	var all []asked
	for _, set := range sets {
		some, err := ask(ctx, s, set.collection, set.path)
		if err != nil {
			return fmt.Errorf("%s: %w", set.path, err)
		}
		all = append(all, some...)
	}
	spans(all)
	for i := range all {
		all[i].right = all[i].proven && all[i].accepted(from)
	}
	weights := fit(all)
	for i, w := range weights {
		fmt.Printf("%-10s %+.2f\n", answer.SignalNames[i], w)
	}
	curve(all, weights)
	if !write {
		return nil
	}
	return save(weights, from)
}

// Asked is a question with the signals of its best finding, and what that comes to.
type asked struct {
	signals    answer.Signals
	answerable bool
	proven     bool // the page cited proves
	said       bool // the statements, as far as they are a short answer, hold an accepted wording
	words      bool // the words that answer hold one
	whole      bool // these are never shown by themselves: a yes, a no, a list
	right      bool
}

// accepted tells whether the short answer holds an accepted wording, if the words that
// answer are given from some probability on.
func (a *asked) accepted(from float64) bool {
	if a.signals.Span >= from && !a.whole {
		return a.words
	}
	return a.said
}

// misses is where questions that are answered wrong are written.
var misses io.Writer = io.Discard

// heldOut tells whether a document is kept for development.
func heldOut(name string) bool { return sha256.Sum256([]byte(name))[0]%6 == 0 }

func ask(ctx context.Context, s *service.Service, collection, path string) ([]asked, error) {
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	set, err := measure.ReadSet(path, data)
	if err != nil {
		return nil, err
	}
	a, err := s.Answerer(collection)
	if err != nil {
		return nil, err
	}
	a.Style.Certain, a.Trace = 1e-9, true // whatever is found is given
	var out []asked
	for i := range set.Questions {
		q := &set.Questions[i]
		held := false
		for _, e := range q.Places() {
			held = held || heldOut(e.Document)
		}
		if !held {
			continue
		}
		a.Only = shelf.Among(a, q)
		given, err := a.Ask(ctx, q.Question, q.After)
		if err != nil {
			return nil, err
		}
		if len(given.Parts) > 0 {
			continue
		}
		one := asked{signals: given.Signals, answerable: q.CanBeAnswered(), whole: given.Verdict != "" || given.List}
		if one.answerable && given.State != answer.NotFound {
			one.proven = q.Proven(given.Citations)
			one.words = q.Accepts(given.Trace.Findings[0].Words)
			if !one.whole {
				given.Short = ""
			}
			one.said = q.Accepts(given.Headline())
			if !one.proven || !one.said {
				fmt.Fprintf(misses, "%s\t%s\t%.2f\t%t\t%q\t%q\t%d\n", q.ID, q.Question, given.Confidence, one.proven, q.Accept, given.Headline(), rankOf(q, given))
			}
		}
		out = append(out, one)
	}
	byReader := map[bool][]asked{}
	for _, a := range out {
		byReader[a.signals.Foreign == 0] = append(byReader[a.signals.Foreign == 0], a)
	}
	report(collection, byReader[true])
	report(collection+", read by meaning", byReader[false])
	return out, nil
}

// rankOf is the place in retrieval of the first passage on a page that proves, 0 for none.
func rankOf(q *measure.Question, given *answer.Answer) int {
	for i, c := range given.Trace.Candidates {
		if q.Proven([]answer.Citation{{Document: c.Document, Boxes: []answer.Box{{Page: c.Page}}}}) {
			return i + 1
		}
	}
	return 0
}

func report(name string, all []asked) {
	if len(all) == 0 {
		return
	}
	answerable, proven, said := 0, 0, 0
	for _, a := range all {
		if a.answerable {
			answerable++
		}
		if a.proven {
			proven++
		}
		if a.said && a.proven {
			said++
		}
	}
	fmt.Printf("%s: %d questions, %d with an answer; if all were answered, the page proves %.3f, and the statements say it %.3f\n",
		name, len(all), answerable, float64(proven)/float64(answerable), float64(said)/float64(answerable))
}

func save(weights []float64, from float64) error {
	const path = "answer/confidence.json"
	data, err := os.ReadFile(path)
	if err != nil {
		return err
	}
	kept := map[string]any{}
	if err := json.Unmarshal(data, &kept); err != nil {
		return err
	}
	named := map[string]float64{}
	for i, w := range weights {
		named[answer.SignalNames[i]] = w
	}
	kept["weights"], kept["words_from"] = named, from
	if data, err = json.MarshalIndent(kept, "", "  "); err != nil {
		return err
	}
	return os.WriteFile(path, append(data, '\n'), 0o644)
}
