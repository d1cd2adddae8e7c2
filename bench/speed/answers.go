package main

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"sync"
	"text/tabwriter"
	"time"

	"jardinet/api"
	"jardinet/bench/manuals"
	"jardinet/measure"
	"jardinet/service"
)

// An answering is the time that answers take over a number of pages.
type answering struct {
	Pages     int             `json:"pages"`
	Questions int             `json:"questions"`
	Stages    []measure.Stage `json:"stages_ms"`
	Crowd     crowd           `json:"crowd"`
}

// A crowd is how long people who ask at the same time wait for their answers.
type crowd struct {
	People int     `json:"people"`
	First  float64 `json:"passages_p50_ms"` // until the first passages are there
	P50    float64 `json:"p50_ms"`
	P99    float64 `json:"p99_ms"`
	Worst  float64 `json:"worst_off"` // mean wait of who waits longest, by the mean of all
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
	out.Crowd, err = measureCrowd(ctx, s, collection, all.Questions)
	return out, err
}

// people ask at the same time, each turns questions one after the other.
const (
	people = 20
	turns  = 5
)

// measureCrowd has people ask at the same time, each other questions.
func measureCrowd(ctx context.Context, s *service.Service, collection string, questions []measure.Question) (crowd, error) {
	var waits, firsts [people][turns]time.Duration
	var failed [people]error
	var all sync.WaitGroup
	for p := range people {
		all.Go(func() {
			for t := range turns {
				start := time.Now()
				found := func([]api.Found) { firsts[p][t] = time.Since(start) }
				ask := api.Ask{Question: questions[(p*turns+t)*7%len(questions)].Question + " Please."} // not asked before
				_, failed[p] = s.Ask(ctx, collection, ask, service.Listener{Found: found})
				waits[p][t] = time.Since(start)
			}
		})
	}
	all.Wait()
	each, first := slices.Concat(rows(&waits)...), slices.Concat(rows(&firsts)...)
	out := crowd{People: people, First: percentile(first, 0.5), P50: percentile(each, 0.5), P99: percentile(each, 0.99)}
	for p := range people {
		out.Worst = max(out.Worst, float64(sum(waits[p][:]))/turns*float64(len(each))/float64(sum(each)))
	}
	return out, errors.Join(failed[:]...)
}

func rows(times *[people][turns]time.Duration) [][]time.Duration {
	var out [][]time.Duration
	for p := range times {
		out = append(out, times[p][:])
	}
	return out
}

func sum(times []time.Duration) (all time.Duration) {
	for _, t := range times {
		all += t
	}
	return all
}

func (a *answering) print() {
	fmt.Printf("\nanswers over %d pages, %d questions\n", a.Pages, a.Questions)
	w := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', 0)
	fmt.Fprintln(w, "STAGE\tP50 MS\tP95 MS\tP99 MS")
	for _, s := range a.Stages {
		fmt.Fprintf(w, "%s\t%.1f\t%.1f\t%.1f\n", s.Name, s.P50, s.P95, s.P99)
	}
	w.Flush()
	c := &a.Crowd
	fmt.Printf("%d people at once, %d questions each: first passages p50 %.0f ms, answers p50 %.0f ms, p99 %.0f ms; who waited longest waited %.2f times the mean\n",
		c.People, turns, c.First, c.P50, c.P99, c.Worst)
}
