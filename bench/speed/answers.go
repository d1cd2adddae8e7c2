package main

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"text/tabwriter"

	"jardinet/bench/manuals"
	"jardinet/measure"
	"jardinet/service"
)

// An answering is the time that answers take over a number of pages.
type answering struct {
	Pages     int             `json:"pages"`
	Questions int             `json:"questions"`
	Stages    []measure.Stage `json:"stages_ms"`
}

// editions is how often the manuals are taken in, to have more than 10,000
// pages; a comment behind the end of each file makes it another document.
const editions = 3

// measureAnswers asks all questions on the manuals of a collection of more than
// 10,000 pages.
func measureAnswers(ctx context.Context) (*answering, error) {
	s, err := service.Open(ctx, service.Options{Data: filepath.Join(cache, "answers")})
	if err != nil {
		return nil, err
	}
	defer s.Close()
	const collection = "manuals"
	if _, err := s.Collection(ctx, collection); err != nil {
		if _, err := s.CreateCollection(ctx, collection, nil); err != nil {
			return nil, err
		}
	}
	for edition := range editions {
		for _, m := range manuals.Known() {
			data, err := os.ReadFile(filepath.Join(cache, "manuals", m.Name))
			if err != nil {
				return nil, err
			}
			file := io.MultiReader(bytes.NewReader(data), bytes.NewReader([]byte("\n% edition "+string(rune('1'+edition))+"\n")))
			if _, err := s.Add(ctx, collection, fmt.Sprintf("%d-%s", edition+1, m.Name), file); err != nil {
				return nil, err
			}
		}
	}
	docs, err := s.Settle(ctx, collection)
	if err != nil {
		return nil, err
	}
	out := &answering{}
	for _, d := range docs {
		out.Pages += d.Pages
	}
	all := &measure.Set{Name: "all"}
	for _, half := range []string{"train", "test"} {
		set, err := manuals.Questions("bench/questions", half)
		if err != nil {
			return nil, err
		}
		all.Questions = append(all.Questions, set.Questions...)
	}
	m, err := s.Measure(ctx, collection, all)
	if err != nil {
		return nil, err
	}
	out.Questions, out.Stages = len(all.Questions), m.Stages
	return out, nil
}

func (a *answering) print() {
	fmt.Printf("\nanswers over %d pages, %d questions\n", a.Pages, a.Questions)
	w := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', 0)
	fmt.Fprintln(w, "STAGE\tP50 MS\tP95 MS\tP99 MS")
	for _, s := range a.Stages {
		fmt.Fprintf(w, "%s\t%.1f\t%.1f\t%.1f\n", s.Name, s.P50, s.P95, s.P99)
	}
	w.Flush()
}
