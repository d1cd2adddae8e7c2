// Command answers measures how well answers are chosen and how well they know
// whether they are right, and fits both.
//
//	go run ./bench/quality         # fills bench/cache/quality
//	go run ./bench/answers [-fit]  # measures; with -fit writes answer/evidence.json and confidence.json
//
// Every question is answered by each sentence that might do, on the real manuals
// and on the demo's documents. Weights of what is known of a sentence are fitted so
// that the right ones of the training halves become the likeliest. What is then
// known of the best is mapped to the probability that it is right by logistic
// regression; for that, each training question is answered by weights fitted on the
// other documents' questions, since its own would flatter it. Measured are both
// halves, with each group of features left out in turn, and which share of
// the questions is answered at each confidence, and which share of those wrongly.
package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"hash/fnv"
	"io/fs"
	"log"
	"os"
	"slices"

	"jardinet/answer"
	"jardinet/bench/manuals"
	"jardinet/demo"
	"jardinet/measure"
	"jardinet/pdfium"
	"jardinet/rank"
	"jardinet/service"
)

// brief leaves the ablation on the training halves out.
var brief bool

func main() {
	pdfium.ServeReader()
	log.SetFlags(0)
	write := flag.Bool("fit", false, "fit the weights and write them to answer/evidence.json and answer/confidence.json")
	data := flag.String("data", "bench/cache/quality", "where bench/quality keeps the manuals")
	worst := flag.Int("failures", 0, "list so many of the worst failures on the training halves, and no more")
	blind := flag.Bool("train", false, "measure the training halves alone")
	flag.BoolVar(&brief, "brief", false, "leave no group of features out in turn on the training halves, which takes longest")
	lessons := flag.String("lessons", "", "fit, write to answer/lessons.json, and no more: \"likeness\", when a lesson answers a question, and then \"taught\", what that is worth")
	flag.Parse()
	if err := run(context.Background(), *data, *lessons, *write, *blind, *worst); err != nil {
		log.Fatal("answers: ", err)
	}
}

// A question is one of a set with what might be said to it.
type question struct {
	kind       string
	text       string
	expected   string
	fold       int // questions on one document are in the same
	answerable bool
	all        []answer.Alternative
	right      []bool  // by alternative
	unclear    []bool  // accepted wordings from pages that are not known to prove
	untaught   float64 // the confidence without lessons, where these had a say; −1 where they had none
}

// folds are what the training questions are split into.
const folds = 10

func run(ctx context.Context, data, lessons string, write, blind bool, worst int) error {
	onManuals, err := service.Open(ctx, service.Options{Data: data, Scripts: []string{"none"}})
	if err != nil {
		return err
	}
	defer onManuals.Close()
	dir, err := os.MkdirTemp("", "answers")
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
	p, err := school(onManuals, onDemo)
	if err != nil {
		return err
	}
	if lessons == "likeness" {
		return fitLikeness(ctx, p.pupils[1], p.train[1])
	}
	if lessons == "taught" {
		questions, err := answers(ctx, p.pupils[1], p.train[1])
		if err != nil {
			return err
		}
		f, err := fitted()
		if err != nil {
			return err
		}
		return fitTaught(questions, f)
	}
	for _, pupil := range p.pupils {
		pupil.Lessons = nil // what is fitted here holds without any
	}
	train, err := p.both(ctx, "train")
	if err != nil {
		return err
	}
	chosen := choosePenalty(train)
	if worst > 0 {
		failures(train, chosen, worst)
		return nil
	}
	if write {
		if err := writeEvidence(train, chosen); err != nil {
			return err
		}
	}
	ablate("Training halves, each by weights fitted on other documents", chosen, train, train)
	samples := crossed(train, everything, chosen)
	calibration := fitConfidence(samples, chooseShrinkage(samples))
	if write {
		if err := writeConfidence(samples, calibration); err != nil {
			return err
		}
	}
	curve("Training halves", samples, calibration)
	if blind {
		return nil
	}
	test, err := p.both(ctx, "test")
	if err != nil {
		return err
	}
	ablate("Test halves", chosen, train, test)
	curve("Test halves", weighed(test, fitEvidence(train, everything, chosen)), calibration)
	return nil
}

// A class is what answers on the manuals and on the demo, with the questions of both
// halves for each.
type class struct {
	pupils      []*pupil
	train, test [][]measure.Question
}

// school teaches the demo's collection its lessons, and the manuals none.
func school(onManuals, onDemo *service.Service) (*class, error) {
	out := &class{}
	for _, half := range []struct {
		name string
		sets *[][]measure.Question
	}{{"train", &out.train}, {"test", &out.test}} {
		of, err := manuals.Questions("bench/questions", half.name)
		if err != nil {
			return nil, err
		}
		ofDemo, err := demoQuestions(half.name)
		if err != nil {
			return nil, err
		}
		*half.sets = [][]measure.Question{of.Questions, ofDemo}
	}
	lessons, err := measure.ReadSet("lessons.jsonl", demo.Lessons())
	if err != nil {
		return nil, err
	}
	untaught, err := taught(onManuals, "manuals", nil)
	if err != nil {
		return nil, err
	}
	pupil, err := taught(onDemo, demo.Collection, lessons.Questions)
	if err != nil {
		return nil, err
	}
	out.pupils = append(out.pupils, untaught, pupil)
	return out, nil
}

// demoQuestions returns one half of those on the demo's documents.
func demoQuestions(half string) ([]measure.Question, error) {
	asked, err := os.ReadFile("demo/questions.jsonl")
	if err != nil {
		return nil, err
	}
	all, err := measure.ReadSet("questions.jsonl", asked)
	if err != nil {
		return nil, err
	}
	out := slices.DeleteFunc(all.Questions, func(q measure.Question) bool { return !slices.Contains(q.Tags, "half:"+half) })
	if half == "train" {
		more, err := manuals.Questions("bench/questions", "demo")
		if err != nil {
			return nil, err
		}
		out = append(out, more.Questions...)
	}
	return out, nil
}

// both answers one half of the questions on the manuals and on the demo.
func (c *class) both(ctx context.Context, half string) ([]question, error) {
	sets := c.train
	if half == "test" {
		sets = c.test
	}
	var out []question
	for k, p := range c.pupils {
		more, err := answers(ctx, p, sets[k])
		if err != nil {
			return nil, err
		}
		out = append(out, more...)
	}
	return out, nil
}

func answers(ctx context.Context, p *pupil, set []measure.Question) ([]question, error) {
	var out []question
	for i := range set {
		q := &set[i]
		given, err := p.ask(ctx, q)
		if err != nil {
			return nil, err
		}
		if len(given.Alternatives) == 0 {
			continue // nothing to choose from
		}
		asked := question{text: q.Question, expected: q.Answer, kind: q.Tags[0], answerable: q.CanBeAnswered(), all: given.Alternatives, fold: i % folds, untaught: given.Untaught}
		if !given.Taught {
			asked.untaught = -1
		}
		if places := q.Places(); len(places) > 0 {
			h := fnv.New32()
			h.Write([]byte(places[0].Document))
			asked.fold = int(h.Sum32() % folds)
		}
		for _, a := range given.Alternatives {
			asked.right = append(asked.right, q.Accepts(a.Text) && q.Proven(a.Citations))
			asked.unclear = append(asked.unclear, q.Accepts(a.Text) && !q.Proven(a.Citations))
		}
		out = append(out, asked)
	}
	return out, nil
}

// A fit is what answers are made by where lessons have no say.
type fit struct {
	evidence []float64
	from     float64 // confidence from which an answer is given
}

// fitted returns what was fitted without lessons.
func fitted() (*fit, error) {
	var files [2]struct {
		Weights map[string]float64
		From    float64 `json:"answer_from"`
	}
	for i, path := range []string{"answer/evidence.json", "answer/confidence.json"} {
		data, err := os.ReadFile(path)
		if err != nil {
			return nil, err
		}
		if err := json.Unmarshal(data, &files[i]); err != nil {
			return nil, fmt.Errorf("%s: %w", path, err)
		}
	}
	out := &fit{from: files[1].From}
	for _, name := range everything {
		out.evidence = append(out.evidence, files[0].Weights[name])
	}
	return out, nil
}

// fill takes the demo's documents in, with the glossary that its readers have.
func fill(ctx context.Context, s *service.Service) error {
	if _, err := s.CreateCollection(ctx, demo.Collection, nil); err != nil {
		return err
	}
	entries, err := rank.ReadGlossary(demo.Glossary())
	if err != nil {
		return err
	}
	if _, err := s.SetGlossary(ctx, demo.Collection, entries); err != nil {
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
