// Command candidates writes what the reader learns from: for each question the passages
// that our own retrieval brings, with their sentences and which of them hold the evidence.
//
//	go run ./train/candidates OUT.jsonl [GROUP…]
//
// The groups are made, manuals, known and demo, all if none is named. Each is a collection of
// its own, kept in bench/cache/train.
package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"jardinet/answer"
	"jardinet/bench/manuals"
	"jardinet/bench/shelf"
	"jardinet/measure"
	"jardinet/passage"
	"jardinet/pdfium"
	"jardinet/service"
	"jardinet/text"
)

// A group is documents with the question sets on them.
type group struct {
	name string
	pdfs []string // patterns
	sets []string
}

var groups = []group{
	{"made", []string{"bench/cache/made/*.pdf"}, []string{"train/questions/made.jsonl"}},
	{"manuals", []string{"bench/cache/training/*.pdf"}, []string{"train/questions/manuals.jsonl"}},
	{"known", nil, []string{"bench/questions/train.jsonl", "bench/questions/test.jsonl", "train/questions/known.jsonl"}},
	{"demo", []string{"demo/documents/*.pdf"}, []string{"bench/questions/demo.jsonl", "train/questions/lessons.jsonl"}},
}

// perQuestion is how many passages are written for a question.
const perQuestion = 12

func main() {
	pdfium.ServeReader()
	log.SetFlags(0)
	if len(os.Args) < 2 {
		log.Fatal("usage: candidates OUT.jsonl [GROUP…]")
	}
	if err := run(context.Background(), os.Args[1], os.Args[2:]); err != nil {
		log.Fatal("candidates: ", err)
	}
}

func run(ctx context.Context, out string, only []string) error {
	s, err := service.Open(ctx, service.Options{Data: "bench/cache/train", Scripts: []string{"eng"}})
	if err != nil {
		return err
	}
	defer s.Close()
	f, err := os.Create(out)
	if err != nil {
		return err
	}
	defer f.Close()
	write := json.NewEncoder(f)
	for _, g := range groups {
		if len(only) > 0 && !slices.Contains(only, g.name) {
			continue
		}
		if err := g.fill(ctx, s); err != nil {
			return fmt.Errorf("%s: %w", g.name, err)
		}
		answerer, err := s.Answerer(g.name)
		if err != nil {
			return err
		}
		for _, path := range g.sets {
			data, err := os.ReadFile(path)
			if err != nil {
				return err
			}
			set, err := measure.ReadSet(path, data)
			if err != nil {
				return err
			}
			for i := range set.Questions {
				e, err := exampleOf(ctx, answerer, g.name, &set.Questions[i])
				if err != nil {
					return err
				}
				if err := write.Encode(e); err != nil {
					return err
				}
			}
			log.Printf("%s: %d questions", path, len(set.Questions))
		}
	}
	return f.Close()
}

func (g *group) fill(ctx context.Context, s *service.Service) error {
	if _, err := s.CreateCollection(ctx, g.name, nil); err != nil && !errors.Is(err, service.ErrExists) {
		return err
	}
	var paths []string
	for _, pattern := range g.pdfs {
		found, err := filepath.Glob(pattern)
		if err != nil {
			return err
		}
		paths = append(paths, found...)
	}
	if g.pdfs == nil {
		for _, m := range manuals.Known() {
			paths = append(paths, filepath.Join("bench/cache/manuals", m.Name))
		}
	}
	for _, path := range paths {
		f, err := os.Open(path)
		if err != nil {
			return err
		}
		_, err = s.Add(ctx, g.name, filepath.Base(path), f)
		f.Close()
		if err != nil {
			return err
		}
	}
	_, err := s.Settle(ctx, g.name)
	return err
}

// An example is a question with its candidates.
type example struct {
	Group      string      `json:"group"`
	ID         string      `json:"id"`
	Question   string      `json:"question"`
	After      []string    `json:"after,omitempty"`
	Answerable bool        `json:"answerable"`
	Answer     string      `json:"answer"`
	Accept     []string    `json:"accept"`
	Tags       []string    `json:"tags"`
	Candidates []candidate `json:"candidates"`
}

type candidate struct {
	Document  string             `json:"document"`
	Pages     []int              `json:"pages"`
	Heading   string             `json:"heading"`
	Text      string             `json:"text"`
	Sentences [][2]int           `json:"sentences"` // byte ranges
	Features  map[string]float64 `json:"features"`
	Score     float64            `json:"score"`
	Right     bool               `json:"right"`    // stands on a page of the evidence, and holds the quotation if there is one
	Evidence  []int              `json:"evidence"` // sentences that hold the quotation
}

func exampleOf(ctx context.Context, answerer *answer.Answerer, name string, q *measure.Question) (*example, error) {
	e := &example{Group: name, ID: q.ID, Question: q.Question, After: q.After, Answerable: q.CanBeAnswered(), Answer: q.Answer, Accept: q.Accept, Tags: q.Tags}
	query := q.Question
	if len(q.After) > 0 {
		query = q.After[len(q.After)-1] + " " + query
	}
	if name != "demo" { // the demo's are those of one organisation already
		answerer.Only = shelf.Among(answerer, q)
	}
	found, err := answerer.Find(ctx, query, 200)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", q.ID, err)
	}
	for i, c := range found.Candidates {
		one := candidateOf(&c, q)
		if i < perQuestion || one.Right {
			e.Candidates = append(e.Candidates, one)
		}
	}
	return e, nil
}

func candidateOf(c *answer.Candidate, q *measure.Question) candidate {
	out := candidate{Document: c.Document.Name, Pages: c.Passage.Pages(), Heading: c.Passage.SectionPath(), Text: c.Passage.Text, Score: c.Score, Features: map[string]float64{}, Sentences: [][2]int{}, Evidence: []int{}}
	if c.Document.Title != "" {
		out.Heading = c.Document.Title + " › " + out.Heading
	}
	values, _ := json.Marshal(c.Features)
	json.Unmarshal(values, &out.Features)
	for _, s := range c.Passage.Sentences {
		out.Sentences = append(out.Sentences, [2]int{s.Start, s.End})
	}
	for _, place := range q.Places() {
		if place.Document != out.Document || !slices.Contains(out.Pages, place.Page) {
			continue
		}
		holding := holding(c.Passage, place.Quote)
		if place.Quote == "" || len(holding) > 0 {
			out.Right = true
			out.Evidence = append(out.Evidence, holding...)
		}
	}
	return out
}

// holding returns the sentences that hold part of a quotation, if the passage holds at
// least half of its words.
func holding(p *passage.Passage, quote string) []int {
	if quote == "" {
		return nil
	}
	wanted := text.Normal(quote)
	var out []int
	for i, s := range p.Sentences {
		if said := text.Normal(p.Text[s.Start:s.End]); said != "" && (strings.Contains(said, wanted) || len(said) > 12 && strings.Contains(wanted, said)) {
			out = append(out, i)
		}
	}
	return out
}
