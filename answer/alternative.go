package answer

import (
	"cmp"
	"slices"
)

// An Alternative is what would be said if some evidence were the best. Programs
// that fit weights compare it with what is right.
type Alternative struct {
	Text      string
	Citations []Citation
	Features  Features

	evidence evidence
}

// mostAlternatives are told of.
const mostAlternatives = 150

func alternatives(q *question, m *matcher, found []evidence, candidates []Candidate) []Alternative {
	var out []Alternative
	for _, e := range found[:min(len(found), mostAlternatives)] {
		var said Answer
		alone := []evidence{e}
		compose(&said, q, m, alone, candidates, 1) // which notes what it comes to
		out = append(out, Alternative{said.Text, said.Citations, e.features, alone[0]})
	}
	return out
}

// Weigh puts alternatives into order by other weights, those of the features in
// the order of FeatureNames, and tells what is then known of the best.
func Weigh(all []Alternative, weights []float64) Signals {
	for i := range all {
		all[i].evidence.score = all[i].Features.score(weights, all[i].evidence.outdated, all[i].evidence.astray)
	}
	slices.SortStableFunc(all, func(a, b Alternative) int { return cmp.Compare(b.evidence.score, a.evidence.score) })
	found := make([]evidence, len(all))
	for i, a := range all {
		found[i] = a.evidence
	}
	return signals(found)
}
