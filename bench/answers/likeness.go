package main

import (
	"context"
	"encoding/json"
	"fmt"
	"log"
	"math"
	"os"
	"slices"

	"jardinet/answer"
	"jardinet/measure"
	"jardinet/passage"
	"jardinet/service"
)

// A pupil answers from one collection that was taught a set of questions.
type pupil struct {
	*answer.Asker
	untaught func(q *measure.Question) *answer.Asker
	says     map[answer.Place]said // what stands in the places that lessons tell of
}

// What stands in a place, and on which page.
type said struct {
	text     string
	citation answer.Citation
}

// taught returns what answers from a collection that was taught some questions.
func taught(s *service.Service, collection string, questions []measure.Question) (*pupil, error) {
	asker, err := s.Asker(collection)
	if err != nil {
		return nil, err
	}
	all, problems, err := measure.Lessons(asker, questions)
	if err != nil {
		return nil, err
	}
	var lessons []answer.Lesson
	for i, l := range all {
		if problems[i] == nil {
			lessons = append(lessons, l)
		} else if questions[i].CanBeAnswered() {
			log.Printf("no lesson: %s: %v", questions[i].ID, problems[i])
		}
	}
	asker.Alternatives = true
	if asker.Lessons, err = asker.Learn(lessons); err != nil {
		return nil, err
	}
	p := &pupil{asker, measure.Untaught(asker), map[answer.Place]said{}}
	for _, l := range lessons {
		for _, at := range l.At {
			if p.says[at], err = read(asker, at); err != nil {
				return nil, err
			}
		}
	}
	log.Printf("%s: %d lessons", collection, len(lessons))
	return p, nil
}

// read returns what stands in a place.
func read(a *answer.Asker, at answer.Place) (out said, err error) {
	d, _ := a.Document(at.Key)
	err = a.Index.Document(at.Key, func(ordinal int, stored []byte) error {
		if ordinal != at.Ordinal {
			return nil
		}
		p, err := passage.Decode(stored)
		if err != nil {
			return err
		}
		s := p.Sentences[at.Sentence]
		out.text = p.Text[s.Start:s.End]
		out.citation = answer.Citation{DocumentID: at.Key, Document: d.Name}
		for _, m := range s.Marks {
			out.citation.Boxes = append(out.citation.Boxes, answer.Box{Page: m.Page})
		}
		return nil
	})
	return out, err
}

// ask asks a question as if it had not been taught itself.
func (p *pupil) ask(ctx context.Context, q *measure.Question) (*answer.Answer, error) {
	return p.untaught(q).Ask(ctx, q.Question, q.After)
}

// mostCompared are the lessons that a question is compared with to fit; the others are
// not like it.
const mostCompared = 20

// fitLikeness fits by which of what is known of a question and a lesson the lesson's
// evidence answers the question.
func fitLikeness(ctx context.Context, p *pupil, set []measure.Question) error {
	var samples []sample
	for i := range set {
		q := &set[i]
		given, err := p.ask(ctx, q)
		if err != nil {
			return err
		}
		for _, r := range given.Recalled[:min(len(given.Recalled), mostCompared)] {
			right := slices.ContainsFunc(r.At, func(at answer.Place) bool {
				s := p.says[at]
				return q.Accepts(s.text) && q.Proven([]answer.Citation{s.citation})
			})
			samples = append(samples, sample{q.Tags[0], r.Likeness.Vector(), right, q.CanBeAnswered()})
		}
	}
	w := fitConfidence(samples, chooseShrinkage(samples))
	reliability(samples, w)
	return writeSchooling("likeness", byName(answer.LikenessNames, w))
}

// reliability prints how many of the pairs are right by how likely they are said to be.
func reliability(samples []sample, w []float64) {
	for from := 0.1; from < 0.95; from += 0.1 {
		n, right := 0.0, 0.0
		for _, s := range samples {
			if p := likely(w, s.signals); p >= from && p < from+0.1 {
				n++
				if s.right {
					right++
				}
			}
		}
		fmt.Printf("likely %.1f: %5.0f pairs, right %.3f\n", from, n, right/max(1, n))
	}
}

// fitTaught fits what lessons count for beside the evidence itself, and how sure
// answers are that need them: those to questions that are refused without.
func fitTaught(questions []question, given *fit) error {
	taught := slices.DeleteFunc(slices.Clone(questions), func(q question) bool { return q.untaught < 0 })
	penalty := evidencePenalties[0]
	w := fitMore(taught, given.evidence, ofLessons, penalty)
	var samples []sample
	for fold := range folds {
		in, left := split(taught, fold)
		left = slices.DeleteFunc(left, func(q question) bool { return q.untaught >= given.from })
		samples = append(samples, weighed(left, fitMore(in, given.evidence, ofLessons, penalty))...)
	}
	confidence := fitConfidence(samples, chooseShrinkage(samples))
	curve("Training questions that are refused without lessons", samples, confidence)
	more := map[string]float64{}
	for _, name := range ofLessons {
		more[name] = round(w[slices.Index(everything, name)])
	}
	if err := writeSchooling("evidence", more); err != nil {
		return err
	}
	return writeSchooling("confidence", map[string]any{
		"weights": byName(answer.SignalNames, confidence), "answer_from": taughtFrom(samples, confidence, questions), "whole_from": 0.6,
	})
}

// taughtFrom returns from which confidence on an answer that needs a lesson is worth
// giving, by what wrong and invented ones cost.
func taughtFrom(samples []sample, w []float64, questions []question) float64 {
	answerable, others := 0.0, 0.0
	for _, q := range questions {
		if q.answerable {
			answerable++
		} else {
			others++
		}
	}
	return answerFrom(samples, w, costOfEach(answerable, others))
}

func round(x float64) float64 { return math.Round(1000*x) / 1000 }

// byName names weights.
func byName(names []string, w []float64) map[string]float64 {
	out := map[string]float64{}
	for i, name := range names {
		out[name] = round(w[i])
	}
	return out
}

// writeSchooling replaces one part of answer/lessons.json.
func writeSchooling(part string, value any) error {
	const path = "answer/lessons.json"
	data, err := os.ReadFile(path)
	if err != nil {
		return err
	}
	all := map[string]any{}
	if err := json.Unmarshal(data, &all); err != nil {
		return fmt.Errorf("%s: %w", path, err)
	}
	all[part] = value
	if data, err = json.MarshalIndent(all, "", "  "); err != nil {
		return err
	}
	return os.WriteFile(path, append(data, '\n'), 0o644)
}
