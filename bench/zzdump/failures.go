package main

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"jardinet/answer"
)

// A failure is a question whose right alternative was not the likeliest.
type failure struct {
	question
	said, right *answer.Alternative // right is nil if none was found
	place       int                 // of the right one, from 1
	lead        float64             // of what was said over it, in score
	why         string              // the features that made the difference
}

// failures prints the answers that were the surest to be wrong, each beside the
// right one and what made the difference. Each question is answered by weights
// fitted on the other documents'.
func failures(questions []question, penalty float64, most int) {
	var all []failure
	for fold := range folds {
		in, left := split(questions, fold)
		w := fitEvidence(in, everything, penalty)
		for _, q := range left {
			if f, failed := failing(q, w); failed {
				all = append(all, f)
			}
		}
	}
	slices.SortStableFunc(all, func(a, b failure) int { return cmp.Compare(b.lead, a.lead) })
	for i, f := range all[:min(most, len(all))] {
		fmt.Printf("%d. %s (%s)\n   said:  %s\n", i+1, f.text, f.kind, oneLine(f.said))
		if f.right == nil {
			fmt.Printf("   right: %s, which no sentence looked at says\n", f.expected)
			continue
		}
		fmt.Printf("   right: %s\n   at place %d; %s\n", oneLine(f.right), f.place, f.why)
	}
}

func failing(q question, w []float64) (failure, bool) {
	if !q.answerable {
		return failure{}, false
	}
	right := map[string]bool{}
	for i, a := range q.all {
		right[key(a)] = q.right[i] || q.unclear[i]
	}
	all := slices.Clone(q.all)
	answer.Weigh(all, w)
	f := failure{question: q, said: &all[0], lead: math.Inf(1)}
	at := slices.IndexFunc(all, func(a answer.Alternative) bool { return right[key(a)] })
	if at > 0 {
		f.right, f.place = &all[at], at+1
		f.lead, f.why = difference(w, all[0].Features, all[at].Features)
	}
	return f, at != 0
}

// difference returns by how much one score is above another, and the features
// that matter most in that.
func difference(w []float64, a, b answer.Features) (float64, string) {
	x, y := a.Vector(), b.Vector()
	places := make([]int, len(w))
	sum := 0.0
	for k := range w {
		places[k] = k
		sum += w[k] * (x[k] - y[k])
	}
	slices.SortStableFunc(places, func(i, j int) int { return cmp.Compare(w[j]*(x[j]-y[j]), w[i]*(x[i]-y[i])) })
	var out []string
	for _, k := range places[:3] {
		out = append(out, fmt.Sprintf("%s %.2f against %.2f", everything[k], x[k], y[k]))
	}
	return sum, strings.Join(out, ", ")
}

func oneLine(a *answer.Alternative) string {
	s := strings.ReplaceAll(a.Text, "\n", " / ")
	if len(s) > 200 {
		s = s[:200] + "…"
	}
	return fmt.Sprintf("%s [%s, page %d]", s, a.Citations[0].Document, a.Citations[0].Page)
}
