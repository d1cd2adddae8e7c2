package main

import (
	"math"
	"slices"

	"jardinet/bench/listwise"
	"jardinet/rank"
)

// A list is the candidates for one question.
type list struct {
	Document string
	Kind     string
	listwise.List
}

// A variant is a ranking by some of the features.
type variant struct {
	name     string
	features []string
}

var everything = rank.Names

// variants are words alone, meaning alone, both without more, and all.
var variants = []variant{
	{"words", []string{"words"}},
	{"meaning", []string{"meaning"}},
	{"words + nearest", []string{"words", "nearest"}},
	{"+ clear", []string{"words", "nearest", "clear"}},
	{"+ coverage, heading", []string{"words", "nearest", "clear", "coverage", "heading"}},
	{"+ pairs, literal", []string{"words", "nearest", "clear", "coverage", "heading", "pairs", "literal"}},
	{"all", everything},
}

// Settings of the fit.
const (
	rounds  = 400
	rate    = 0.5
	penalty = 0.002
)

// fit returns the weights, zero but for some features, that make the right
// passages likeliest: the probability of a passage is taken as the softmax of
// the scores of all candidates (listwise: Cao et al. 2007), and gone up along
// its gradient, with a small penalty on the weights.
func fit(lists []list, features []string) []float64 {
	w := make([]float64, len(rank.Names))
	for _, name := range features {
		w[slices.Index(rank.Names, name)] = 1
	}
	if len(features) == 1 {
		return w
	}
	square := make([]float64, len(w))
	for range rounds {
		g, n := make([]float64, len(w)), 0.0
		for _, l := range lists {
			if !slices.Contains(l.Right, true) {
				continue
			}
			n++
			l.Uphill(w, g)
		}
		for k, name := range rank.Names {
			if !slices.Contains(features, name) {
				continue
			}
			g[k] = g[k]/n - penalty*w[k]
			square[k] += g[k] * g[k]
			w[k] += rate * g[k] / (math.Sqrt(square[k]) + 1e-9)
		}
	}
	return w
}

// place returns the rank of the best right passage, 0 if none is found. By words
// alone, a passage without any of them is not.
func (l *list) place(w []float64) int {
	best, at := math.Inf(-1), -1
	for i, f := range l.Features {
		if s := listwise.Score(w, f); l.Right[i] && s > best && s != 0 {
			best, at = s, i
		}
	}
	if at < 0 {
		return 0
	}
	place := 1
	for i, f := range l.Features {
		if s := listwise.Score(w, f); s > best || s == best && i < at {
			place++
		}
	}
	return place
}
